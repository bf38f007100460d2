package bench

import (
	"math"
	"slices"

	"braxel/internal/core/gas"
	"braxel/internal/core/log"
)

// Air is a leak-down tester: what it is fed with, gauge kPa, and its orifice. A small compressor gives way by some kPa at full flow.
// Hold keeps the crank from turning.
type Air struct {
	SupplyKPa float64 `json:"supply_kpa"`
	OrificeMM float64 `json:"orifice_mm"`
	SagsKPa   float64 `json:"sags_kpa,omitzero"`
	Hold      bool    `json:"hold"`
}

// feed lets air into a chamber through the tester's orifice.
func (e *Engine) feed(s *State, w work) {
	a := w.do.Air
	if a == nil || len(w.gauged) == 0 {
		s.Supply = e.ambient
		return
	}
	c := &s.Chambers[w.gauged[0]]
	set := e.ambient + a.SupplyKPa*pascs
	if s.Supply <= c.P {
		s.Supply = set
	}
	psi := gas.Flow(min(1, c.P/s.Supply))
	// The regulator follows in a tenth of a second.
	s.Supply += (set - a.SagsKPa*pascs*psi/gas.Flow(0) - s.Supply) * Step / 0.1
	area := math.Pi / 4 * a.OrificeMM * a.OrificeMM * 1e-6
	mass := area * s.Supply / math.Sqrt(airR*airT) * psi * Step
	take(c, w.exponent, mass, airT, s.Supply)
	s.Hose = c.P
}

// TurnTo brings a cylinder to the dead centre of its compression, or so many degrees past it; 360 is the other dead centre.
func (e *Engine) TurnTo(s State, p log.Place, past float64) State {
	s.Deg, s.Omega = e.shape.wrap(e.chambers[e.at(p)].tdc+past), 0
	s.Chambers = slices.Clone(s.Chambers)
	for i := range s.Chambers {
		v, _ := e.shape.at(e.shape.wrap(s.Deg - e.chambers[i].tdc))
		v = max(v+e.chambers[i].extra-s.Oil[i]*1e-6, e.shape.clearance()/20)
		s.Chambers[i] = Charge{e.ambient, e.ambient * v / (airR * airT), v}
	}
	s.Supply = e.ambient
	return e.Vent(s)
}

// Where each way's points of leak begin to be heard faint, clear and strong.
var heardFrom = [3]float64{1, 4, 10}

// Heard returns where the air of a chamber comes out, and how strongly, as it stands: by the points that each way alone would leak.
func (e *Engine) Heard(s State, p log.Place) []log.Path {
	i := e.at(p)
	c := e.chambers[i]
	d := e.shape.wrap(s.Deg - c.tdc)
	cycle := float64(e.shape.cycle)
	w := e.work(s, Do{})
	ways := map[string]float64{
		log.Crankcase: c.rings * w.rings * (1 - oilSeals*min(s.Oil[i]/oilForSeal, 1)),
		log.Intake:    c.intake + portArea*e.shape.intake.lift(d, cycle),
		log.Exhaust:   c.exhaust + portArea*e.shape.exhaust.lift(d, cycle),
		log.Coolant:   c.coolant,
	}
	if !s.Clean[i] {
		if c.toIntake {
			ways[log.Intake] += c.dirty
		} else {
			ways[log.Exhaust] += c.dirty
		}
	}
	out := []log.Path{}
	for _, where := range []string{log.Crankcase, log.Intake, log.Exhaust, log.Coolant} {
		if level := levelOf(ways[where]); level > 0 {
			out = append(out, log.Path{Where: where, Level: level})
		}
	}
	for _, way := range c.beside {
		if level := levelOf(way.area); level > 0 {
			out = append(out, log.Path{Where: log.Neighbour, Level: level, Cylinder: e.chambers[way.to].place.Number()})
		}
	}
	return out
}

// portArea is an open valve's, m².
const portArea = 4e-4

func levelOf(area float64) int {
	pct, level := pctOf(area), 0
	for _, from := range heardFrom {
		if pct >= from {
			level++
		}
	}
	return level
}

// Snap works a valve, so that what lies on its seat is blown off.
func (e *Engine) Snap(s State, p log.Place) State {
	s.Clean = slices.Clone(s.Clean)
	s.Clean[e.at(p)] = true
	return s
}

// mostOil is the share of a chamber that oil may take: with more of it, it would lock, and it runs out of the plug hole.
const mostOil = 0.4

// PutOil puts oil into a chamber, cm³.
func (e *Engine) PutOil(s State, p log.Place, cc float64) State {
	s.Oil = slices.Clone(s.Oil)
	i := e.at(p)
	s.Oil[i] = min(s.Oil[i]+cc, mostOil*1e6*e.shape.clearance())
	return s
}

// Warm brings an engine to its heat.
func (s State) Warm() State {
	s.Warmth = 1
	return s
}

// Charge puts a charger on the battery.
func (s State) Charge() State {
	s.Weak, s.Battery = false, Battery{Charge: 0.97, Heat: s.Battery.Heat}
	return s
}

// Rest lets the starter and the battery rest, the crank standing: what they were strained by fades.
func (e *Engine) Rest(s State, seconds float64) State {
	s.Seconds += seconds
	s.Omega, s.Amps = 0, 0
	s.Battery.Strained *= math.Exp(-seconds / recovers)
	s.Battery.Heat *= math.Exp(-seconds / coolsIn)
	return s
}

// Air returns what a leak-down tester shows: supply and held pressure, gauge kPa.
func (e *Engine) Air(s State) (supply, held float64) {
	return (s.Supply - e.ambient) / pascs, (s.Hose - e.ambient) / pascs
}
