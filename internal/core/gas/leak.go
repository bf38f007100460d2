package gas

import (
	"math"

	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// What a leak-down tester's figures can be refused for. Each names the field that is wrong.
var (
	ErrNoSupply        = say.Error("gas.supply-must-above-0")
	ErrHeldAboveSupply = say.Error("gas.held-must-not-above-supply")
	ErrNothingHeld     = say.Error("gas.held-nothing-held-so-leak")
)

// The tester that every leak is brought to, so that tests at other pressures, heights and orifices compare: a 1.0 mm
// orifice fed with 100 psi at sea level. OrificeMM is also what to assume of a tester whose orifice nobody gave.
const (
	OrificeMM                      = 1.0
	ReferenceSupply units.Pressure = 689.476
)

// LeakPct returns the leak as testers count it: 100·(supply − held)/supply, gauge pressures.
func LeakPct(supply, held units.Pressure) float64 { return 100 * float64((supply-held)/supply) }

// heat is the ratio of specific heats of air.
const heat = 1.4

// critical is the pressure ratio below which a nozzle's flow chokes: (2/(γ+1))^(γ/(γ−1)).
var critical = math.Pow(2/(heat+1), heat/(heat-1))

// Flow returns ψ(r) = √(2γ/(γ−1)·(r^(2/γ) − r^((γ+1)/γ))), the isentropic nozzle flow at the pressure ratio r ≤ 1,
// choked below the critical ratio (ISO 6358).
func Flow(r float64) float64 {
	r = max(r, critical)
	return math.Sqrt(2 * heat / (heat - 1) * max(0, math.Pow(r, 2/heat)-math.Pow(r, (heat+1)/heat)))
}

// Hole returns the diameter in mm of the hole that would lose what the cylinder loses, from what a leak-down tester
// with the given orifice (mm) reads at the ambient pressure. Both flows are isentropic with equal temperature and
// discharge coefficient, and choke where they must (ISO 6358). Supply and held are gauge pressures. Errors:
// ErrNoSupply, ErrHeldAboveSupply, ErrNothingHeld.
func Hole(supply, held, ambient units.Pressure, orifice float64) (float64, error) {
	switch {
	case !(supply > 0):
		return 0, ErrNoSupply
	case held > supply:
		return 0, ErrHeldAboveSupply
	case !(held > 0):
		return 0, ErrNothingHeld
	}
	ps, pc := float64(supply+ambient), float64(held+ambient)
	area := ps / pc * Flow(pc/ps) / Flow(float64(ambient)/pc)
	return orifice * math.Sqrt(area), nil
}

// Held returns the gauge pressure that a cylinder with the given hole (mm) would hold on a tester: the inverse of Hole,
// found by halving, since the hole falls steadily as the held pressure rises.
func Held(hole float64, supply, ambient units.Pressure, orifice float64) units.Pressure {
	low, high := units.Pressure(0), supply
	for range 60 {
		middle := (low + high) / 2
		if d, err := Hole(supply, middle, ambient, orifice); err == nil && d < hole {
			high = middle
		} else {
			low = middle
		}
	}
	return (low + high) / 2
}

// ReferenceLeakPct returns what the reference tester would show for the hole, in percent.
func ReferenceLeakPct(hole float64) float64 {
	return LeakPct(ReferenceSupply, Held(hole, ReferenceSupply, SeaLevel, OrificeMM))
}
