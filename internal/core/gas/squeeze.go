package gas

import (
	"math"
	"sync"

	"braxel/internal/core/rules"
)

// Area returns the leak of a cylinder as its hole's area in units of the reference tester's orifice, from the reference
// leak in percent (ISO 6358, as Hole): 0 for no leak.
func Area(pct float64) float64 {
	pct = min(max(pct, 0), mostPct)
	if pct == 0 {
		return 0
	}
	ps, pc := float64(ReferenceSupply+SeaLevel), float64(ReferenceSupply)*(1-pct/100)+float64(SeaLevel)
	return ps / pc * Flow(pc/ps) / Flow(float64(SeaLevel)/pc)
}

// mostPct is the largest leak that a tester can be believed to tell, in percent.
const mostPct = 99.0

// Pct returns the reference leak in percent of a hole's area, in units of the reference tester's orifice: the inverse of Area,
// from a table.
func Pct(area float64) float64 {
	t := pcts()
	if area <= 0 {
		return 0
	}
	at := (math.Log(area) - pctFrom) / pctStep
	switch {
	case at <= 0:
		return t[0] * area / math.Exp(pctFrom)
	case at >= float64(len(t)-1):
		return t[len(t)-1]
	}
	i := int(at)
	return t[i] + (at-float64(i))*(t[i+1]-t[i])
}

// The table of Pct: logarithms of areas.
const (
	pctFrom, pctTo, pctStep = -7.5, 3.2, 0.025
)

var pcts = sync.OnceValue(func() []float64 {
	var t []float64
	for a := pctFrom; a <= pctTo; a += pctStep {
		low, high, area := 0.0, mostPct, math.Exp(a)
		for range 50 {
			if middle := (low + high) / 2; Area(middle) < area {
				low = middle
			} else {
				high = middle
			}
		}
		t = append(t, (low+high)/2)
	}
	return t
})

// Bleeding is a cylinder that is squeezed by the starter while a hole bleeds it.
type Bleeding struct {
	Ratio    float64 // compression ratio
	CC       float64 // swept volume, cm³
	RPM      float64 // of the crank while it is squeezed
	Exponent float64 // polytropic
}

// gasSpeed is √(R·T) of a charge of 300 K (287 J/(kg·K)), m/s.
const gasSpeed = 293.4

// Held returns the share of the sound cylinder's gauge pressure that is left where a hole of the given area (in units of the
// reference orifice, with the same discharge) bleeds the charge: m·dm/dθ by nozzle flow over the crank angle,
// p = pa·(m·V0/V)ⁿ, the highest of one stroke, as a check valve keeps it.
func (b Bleeding) Held(area float64) float64 {
	sound := b.peak(0)
	return max(0, b.peak(area)) / sound
}

// cylinder returns the square cylinder that is squeezed, and its volume in m³ at degrees from TDC.
func (b Bleeding) cylinder() (c Cylinder, volume func(deg float64) float64) {
	swept := b.CC * 1e-6
	bore := math.Cbrt(4 * swept / math.Pi)
	c = Cylinder{Bore: 1000 * bore, Stroke: 1000 * bore, Rod: rules.RodStrokes * 1000 * bore, Ratio: b.Ratio, IntakeCloses: rules.ClosesABDC}
	return c, func(deg float64) float64 { return c.Volume(deg) * 1e-6 }
}

// HoleM2 returns the hole of an area, in units of the reference orifice, in m².
func HoleM2(area float64) float64 { return area * math.Pi / 4 * OrificeMM * OrificeMM * 1e-6 }

// peak returns the gauge pressure in units of the ambient.
func (b Bleeding) peak(area float64) float64 {
	const steps = 240
	_, volume := b.cylinder()
	from := rules.ClosesABDC - 180.0
	whole := volume(from)
	hole := HoleM2(area)
	turn := b.RPM * 2 * math.Pi / 60
	step := -1.3 * from / steps // on past the dead centre: a bleeding cylinder peaks before it
	mass, best := 1.0, 0.0
	for i := range steps {
		v := volume(from+float64(i)*step) / whole
		p := math.Pow(mass/v, b.Exponent)
		best = max(best, p)
		if p > 1 && hole > 0 {
			// √T = √(p·V/m), in units of the charge's.
			out := hole * gasSpeed / (turn * whole) * p / math.Sqrt(p*v/mass) * Flow(1/p)
			mass = max(0, mass-out*step*math.Pi/180)
		}
	}
	return best - 1
}
