package judge

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"braxel/internal/core/gas"
	"braxel/internal/core/rules"
)

// oiled is what oil did to a cylinder: what it gained, what oil adds there by its room alone, and what the cylinder had lost; percent.
type oiled struct{ gain, room, sd, lost float64 }

// oilIn returns what oil did to a cylinder in a session; false where nobody oiled it.
func oilIn(on *subject, c int, now map[int]figure, lost float64) (oiled, bool) {
	f := now[c]
	if f.wetGain == nil {
		return oiled{}, false
	}
	o := oiled{gain: *f.wetGain, lost: lost}
	half := rules.Ordinary.CC / engineOf(on.engine).CC // a smaller chamber gains more
	o.room, o.sd = rules.OilUnknown*half, rules.OilUnknownSD*half
	if room, known := gas.OilShare(on.engine, f.oil); known {
		o.room, o.sd = rules.OilRunsOff*room, rules.OilRunsOffSD*room
	}
	if beside := wetBeside(c, now); len(beside) > 0 {
		slices.Sort(beside)
		o.room, o.sd = stat.Quantile(0.5, stat.Empirical, beside, nil), rules.OilBesideSD
	}
	return o, true
}

// likely returns how likely such a gain is where oil brings back a share of what was lost.
func (o oiled) likely(seals float64) float64 {
	if o == (oiled{}) {
		return 1
	}
	back := math.Max(0, o.lost) / (100 - math.Min(o.lost, rules.OilLostMost)) * 100
	sd := math.Hypot(math.Hypot(o.sd, rules.OilReads), back*rules.OilSealsSD*math.Min(1, seals*2))
	z := (o.gain - o.room - seals*back) / sd
	return math.Exp(-z*z/2)/sd + rules.OilOdd
}

// wetBeside returns what the cylinders beside one gained by oil, percent.
func wetBeside(but int, now map[int]figure) []float64 {
	var all []float64
	for c, f := range now {
		if f.wetGain != nil && c != but {
			all = append(all, *f.wetGain)
		}
	}
	return all
}
