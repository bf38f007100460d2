// Package belief follows what is believed of each cylinder of an engine from visit to visit: that it is sound, that it leaks
// somewhere by so much, that it falls short without leaking. It knows no words and no limits.
package belief

import (
	"math"
	"sync"

	"braxel/internal/core/gas"
)

// Where a cylinder leaks.
type Place int

// The places of escape. A neighbour is one bore beside it through a burnt gasket.
const (
	Rings Place = iota
	Intake
	Exhaust
	Coolant
	Neighbour
	places
)

// The sizes of faults, finer than the readings' error, so that a belief does not jump from one to the next: leaks as the
// points that they add to a leak of 3 % on the reference tester, shortfalls as shares of compression.
const (
	sizes     = 34
	holes     = 4 // the largest, that a tester can hardly tell apart and cranking can: each twice the one before
	leakFrom  = 1.5
	leakTo    = 92.0
	shortages = 24
	shortFrom = 0.04
	shortTo   = 0.97
)

var (
	leakStep  = math.Pow(leakTo/leakFrom, 1.0/(sizes-holes-1))
	points    [sizes]float64     // that a leak of this size adds to 3 %
	areas     [sizes]float64     // of its hole, in the reference orifice's
	fresh     [sizes]float64     // chances of its size where it has just begun; sums to 1
	lost      [shortages]float64 // share of compression
	lostDev   [shortages]bin     // the deviations that it stands for
	freshLost [shortages]float64
)

func init() {
	whole := 0.0
	base := gas.Area(3)
	for i := range sizes {
		points[i] = leakFrom * math.Pow(leakStep, float64(i))
		areas[i] = gas.Area(3+points[i]*0.97) - base
		if i >= sizes-holes {
			areas[i] = 2 * areas[i-1]
			points[i] = gas.Pct(base+areas[i]) - 3
		}
		// Small ones are met more often, in the same proportion.
		fresh[i] = math.Pow(points[i], -0.35)
		whole += fresh[i]
	}
	for i := range fresh {
		fresh[i] /= whole
	}
	hearing()
	step := math.Pow(shortTo/shortFrom, 1.0/(shortages-1))
	whole = 0
	for i := range shortages {
		lost[i] = shortFrom * math.Pow(step, float64(i))
		half := math.Sqrt(step)
		lostDev[i] = binOf(math.Log1p(-min(lost[i]*half, 0.995)), math.Log1p(-lost[i]/half))
		freshLost[i] = math.Pow(lost[i], -0.35)
		whole += freshLost[i]
	}
	for i := range freshLost {
		freshLost[i] /= whole
	}
}

// Engine is what the physics of a bleeding cylinder need. The zero value is an ordinary petrol engine.
type Engine struct {
	Ratio, CC, RPM float64
	Vague          bool // nobody gave the volume, or the orifice of the tester
}

// Usual is what is assumed of an engine whose figures nobody gave: an ordinary petrol cylinder and starter.
var Usual = Engine{Ratio: 10, CC: 500, RPM: 220}

// The table of what a bleeding cylinder holds: logarithms, by ratio and by the logarithm of the hole's area, for the usual
// volume and speed; another volume or speed is a hole as much larger or smaller.
const (
	heldFrom, heldTo, heldStep = -5.0, 5.5, 0.125
)

var (
	heldRatios = [...]float64{7, 9, 11, 14, 18, 23}
	heldTable  = sync.OnceValue(func() (t [len(heldRatios)][]float64) {
		for i, r := range heldRatios {
			for a := heldFrom; a <= heldTo; a += heldStep {
				h := gas.Bleeding{Ratio: r, CC: Usual.CC, RPM: Usual.RPM, Exponent: gas.ExponentMid}.Held(math.Exp(a))
				t[i] = append(t[i], math.Log(max(h, 0.01)))
			}
		}
		return t
	})
)

// held returns the logarithm of the share of its gauge pressure that a cylinder with a hole of that area holds when cranked.
func (e Engine) held(area float64) float64 {
	if area <= 0 {
		return 0
	}
	t := heldTable()
	i := 0
	for i < len(heldRatios)-2 && heldRatios[i+1] < e.Ratio {
		i++
	}
	f := min(max((e.Ratio-heldRatios[i])/(heldRatios[i+1]-heldRatios[i]), 0), 1)
	at := (math.Log(area*Usual.CC*Usual.RPM/(e.CC*e.RPM)) - heldFrom) / heldStep
	n := len(t[0])
	switch {
	case at <= 0:
		return (1-f)*t[i][0] + f*t[i+1][0]
	case at >= float64(n-1):
		return (1-f)*t[i][n-1] + f*t[i+1][n-1]
	}
	k := int(at)
	g := at - float64(k)
	return (1-f)*((1-g)*t[i][k]+g*t[i][k+1]) + f*((1-g)*t[i+1][k]+g*t[i+1][k+1])
}

// about is how much compression may go with a leak: its hole, as a share of what the tester's figure says, and how likely that is.
// Discharge, speed and volume are not known better than by a third; where nobody gave the tester's orifice or the cylinder's volume,
// the hole may be half as large, or some times larger.
type about [abouts]struct{ share, weight float64 }

const (
	abouts         = 4
	likeliestShare = 1
)

var (
	aboutKnown = about{{0.65, 0.2}, {1.0, 0.35}, {1.4, 0.3}, {2.0, 0.15}}
	aboutVague = about{{0.55, 0.2}, {1.1, 0.4}, {2.0, 0.25}, {4.0, 0.15}}
)

// leaking is what a sound leak of one size makes: by the size of a fault on top of it, the reading on the reference tester and
// the losses of compression that go with it.
type leaking struct {
	pct, slope float64 // when sound: percent, and points by the logarithm of the area
	with       [sizes]float64
	share      [sizes]float64     // of the whole leak that was there before
	loss       [sizes][abouts]bin // indices of deviations
	lost       [sizes]float64     // percent, as it most likely goes with it
}

// between returns the area between a size and the next.
func between(k int) float64 {
	switch {
	case k < 0:
		return areas[0] / 2
	case k >= sizes-1:
		return 2 * areas[sizes-1]
	}
	return math.Sqrt(areas[k] * areas[k+1])
}

// baseStep is how finely sound leaks are told apart, a logarithm: much finer than one wanders.
const baseStep = 0.02

// leakingAt returns what a sound leak makes, from a table made as it is asked for.
func (b *Believed) leakingAt(area float64) *leaking {
	key := int(math.Round(area / baseStep))
	if x := b.tables[key]; x != nil {
		return x
	}
	base := math.Exp(float64(key) * baseStep)
	x := &leaking{pct: gas.Pct(base), slope: slope(math.Log(base))}
	var sound [abouts]float64
	for i, a := range b.about {
		sound[i] = b.engine.held(base * a.share)
	}
	for k := range sizes {
		x.with[k] = gas.Pct(base + areas[k])
		x.share[k] = base / (base + areas[k])
		for i, a := range b.about {
			at := func(area float64) float64 { return b.engine.held((base+area)*a.share) - sound[i] }
			x.loss[k][i] = binOf(at(between(k)), at(between(k-1)))
			x.lost[k] -= 100 * a.weight * math.Expm1(at(areas[k]))
		}
	}
	b.tables[key] = x
	return x
}

// slope returns how many points a leak rises with the logarithm of its area.
func slope(area float64) float64 {
	const d = 0.05
	return (gas.Pct(math.Exp(area+d)) - gas.Pct(math.Exp(area-d))) / (2 * d)
}
