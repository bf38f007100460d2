package belief

import (
	"math"

	"braxel/internal/core/gas"
	"braxel/internal/core/rules"
)

// Place is where a cylinder leaks.
type Place = rules.Place

// The places of escape.
const (
	Rings     = rules.Rings
	Intake    = rules.Intake
	Exhaust   = rules.Exhaust
	Coolant   = rules.Coolant
	Neighbour = rules.Neighbour
	places    = rules.Places
)

// The sizes of faults, finer than the readings' error, so that a belief does not jump from one to the next: leaks as the
// points that they add to a leak of 3 % on the reference tester, shortfalls as shares of compression.
const (
	sizes     = 34
	holes     = 4 // the largest, that a tester can hardly tell apart and cranking can: each twice the one before
	leakBase  = 3.0
	leakFrom  = 1.5
	leakTo    = 92.0
	shortages = 24
	shortFrom = 0.04
	shortTo   = 0.97
)

var (
	leakStep      = math.Pow(leakTo/leakFrom, 1.0/(sizes-holes-1))
	shortStep     = math.Pow(shortTo/shortFrom, 1.0/(shortages-1))
	points, areas = leakSizes()                        // that a leak of this size adds to 3 %, and of its hole, in the reference orifice's
	fresh         = [sizes]float64(oftener(points[:])) // chances of its size where it has just begun; they sum to 1
	lost, lostDev = shortSizes()                       // shares of compression, and the deviations that each stands for
	freshLost     = [shortages]float64(oftener(lost[:]))
)

func leakSizes() (points, areas [sizes]float64) {
	base := gas.Area(leakBase)
	for i := range sizes {
		points[i] = leakFrom * math.Pow(leakStep, float64(i))
		areas[i] = gas.Area(leakBase+points[i]*(1-leakBase/100)) - base
		if i >= sizes-holes {
			areas[i] = 2 * areas[i-1]
			points[i] = gas.Pct(base+areas[i]) - leakBase
		}
	}
	return points, areas
}

func shortSizes() (lost [shortages]float64, at [shortages]bin) {
	half := math.Sqrt(shortStep)
	for i := range shortages {
		lost[i] = shortFrom * math.Pow(shortStep, float64(i))
		at[i] = binOf(math.Log1p(-min(lost[i]*half, 0.995)), math.Log1p(-lost[i]/half))
	}
	return lost, at
}

// oftener returns how often each of the sizes is met: small ones more often, in the same proportion.
func oftener(sizes []float64) []float64 {
	all, whole := make([]float64, len(sizes)), 0.0
	for i, size := range sizes {
		all[i] = math.Pow(size, rules.SmallOftener)
		whole += all[i]
	}
	for i := range all {
		all[i] /= whole
	}
	return all
}

// Engine is what the physics of a bleeding cylinder need. The zero value is an ordinary petrol engine.
type Engine struct {
	Ratio, CC, RPM float64
	Vague          bool // nobody gave the volume, or the orifice of the tester
}

// Usual is what is assumed of an engine whose figures nobody gave: an ordinary petrol cylinder and starter.
var Usual = Engine{Ratio: rules.Ordinary.Ratio, CC: rules.Ordinary.CC, RPM: rules.Ordinary.RPM}

// held returns the logarithm of the share of its gauge pressure that a cylinder with a hole of that area holds when cranked.
func (e Engine) held(area float64) float64 {
	return gas.Bleeding{Ratio: e.Ratio, CC: e.CC, RPM: e.RPM}.LogHeld(area)
}

// abouts is how many shares of a hole are tried, likeliestShare the index of the likeliest.
const (
	abouts         = len(rules.HoleKnown)
	likeliestShare = 1
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

// leaks is what leaks make of an engine's compression, made as it is asked for.
type leaks struct {
	engine Engine
	about  *[abouts]rules.Hole
	made   map[int]*leaking
}

func leaksOf(e Engine) leaks {
	out := leaks{engine: e, about: &rules.HoleKnown, made: map[int]*leaking{}}
	if e.Vague {
		out.about = &rules.HoleVague
	}
	return out
}

// share returns the chance of one of the shares of a hole that compression may show. Where nobody measured the leak its size is free, and
// what compression shows is the size: then only the likeliest share counts.
func (l leaks) share(measured bool, i int) float64 {
	switch {
	case measured:
		return l.about[i].Chance
	case i == likeliestShare:
		return 1
	}
	return 0
}

// at returns what a sound leak of that area, a logarithm, makes.
func (l leaks) at(area float64) *leaking {
	key := int(math.Round(area / baseStep))
	if x := l.made[key]; x != nil {
		return x
	}
	base := math.Exp(float64(key) * baseStep)
	x := &leaking{pct: gas.Pct(base), slope: slope(math.Log(base))}
	var sound [abouts]float64
	for i, a := range l.about {
		sound[i] = l.engine.held(base * a.Share)
	}
	for k := range sizes {
		x.with[k] = gas.Pct(base + areas[k])
		x.share[k] = base / (base + areas[k])
		for i, a := range l.about {
			at := func(area float64) float64 { return l.engine.held((base+area)*a.Share) - sound[i] }
			x.loss[k][i] = binOf(at(between(k)), at(between(k-1)))
			x.lost[k] -= 100 * a.Chance * math.Expm1(at(areas[k]))
		}
	}
	l.made[key] = x
	return x
}

// areaOf returns the area of a leak in percent.
func areaOf(pct float64) float64 { return gas.Area(max(pct, rules.LeakLeast)) }

// slope returns how many points a leak rises with the logarithm of its area.
func slope(area float64) float64 {
	const d = 0.05
	return (gas.Pct(math.Exp(area+d)) - gas.Pct(math.Exp(area-d))) / (2 * d)
}
