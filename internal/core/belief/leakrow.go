package belief

import (
	"math"
	"sync"

	"braxel/internal/core/rules"
)

// LeakRow is one leak-down of one cylinder: reference leak in percent, and the standard deviation of its writing down.
type LeakRow struct {
	Pct, Step float64
	Listened  bool
	Heard     [places]int // how strongly, 0 for not
	Seal      bool        // air was heard at the tester's own seal
}

// areaError returns the standard deviation of the logarithm of a leak's area: of its reading, and as one wanders from visit to visit.
func (r LeakRow) areaError() float64 {
	pct := max(r.Pct, rules.LeakLeast)
	return math.Hypot(LeakError(pct, r.Step)/slope(math.Log(areaOf(pct))), rules.LeakWander)
}

func lowest(rows []LeakRow) LeakRow {
	low := rows[0]
	for _, r := range rows[1:] {
		if r.Pct < low.Pct {
			low = r
		}
	}
	return low
}

// LeakError returns the standard deviation of a leak-down in points: what a careful hand repeats to, a share of the reading, and
// step, the standard deviation of its writing down.
func LeakError(pct, step float64) float64 {
	return math.Sqrt(rules.LeakPoint*rules.LeakPoint + rules.LeakShare*rules.LeakShare*pct*pct + step*step)
}

// innocent is how often a row is lifted by each of these.
type innocent struct{ dirt, seal, slip float64 }

func innocents(r LeakRow, share float64) innocent {
	o := innocent{rules.Dirt * share, rules.Seal * share, rules.LeakSlip * share}
	if r.Seal {
		o.seal = rules.SealHeard
	}
	return o
}

// whole is how often an innocent row is met.
func (o innocent) whole() float64 { return o.dirt + o.seal + o.slip }

// at returns the density of what an innocent row reads so many points beyond the truth.
func (o innocent) at(d float64) float64 {
	out := o.slip / 100
	if d > 0 {
		t := lifts()
		i := min(int(d/liftStep+0.5), len(t)-1)
		out += o.dirt*t[i][0] + o.seal*t[i][1]
	}
	return out
}

// liftStep is how finely the table of lifts is made, in points.
const liftStep = 0.125

// lifts is the table of how far dirt and the tester's seal lift a reading: mostly by little, now and then by anything up to all. Both
// begin at some points: less is within what a reading repeats to.
var lifts = sync.OnceValue(func() *[int(100/liftStep) + 1][2]float64 {
	var t [int(100/liftStep) + 1][2]float64
	for i := range t {
		d := float64(i) * liftStep
		ramp := min(1, d/rules.LiftFrom)
		t[i][0] = ramp * ((1-rules.DirtAny)*math.Exp(-d/rules.DirtPoints)/rules.DirtPoints + rules.DirtAny/100)
		t[i][1] = ramp * ((1-rules.SealAny)*math.Exp(-d/rules.SealPoints)/rules.SealPoints + rules.SealAny/100)
	}
	return &t
})

// farOut is beyond how many standard deviations no reading strays.
const farOut = 14

// tailed is a normal density with a small part spread twice as wide: real readings stray now and then.
func tailed(d, sd float64) float64 {
	z := d / sd
	if z > farOut || z < -farOut {
		return 0 // less than an innocent row by far
	}
	narrow := math.Exp(-z * z / 2)
	wide := math.Sqrt(math.Sqrt(narrow)) / 2 // the same with twice the spread
	return ((1-rules.Strays)*narrow + rules.Strays*wide) / (sd * math.Sqrt(2*math.Pi))
}
