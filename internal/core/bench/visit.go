package bench

import (
	"math"
	"math/rand/v2"
	"slices"

	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

// Way is how somebody tests an engine: with what, in which order, and how well.
type Way struct {
	Gauge    log.Tester // its resolution is what is read to
	Kit      log.Tester
	Seconds  float64 // of cranking a pull
	Rest     float64 // s from pull to pull
	Scatter  float64 // standard deviation of a pull, as a share: how it is screwed in and read
	PlugsIn  bool
	Leakdown bool
	Again    bool // a leak that stands out is done once more, with the valves snapped
}

// Usual is a careful shop's way.
var Usual = Way{
	Gauge: log.Tester{
		ID: "bench-gauge", Name: "bench gauge", Kind: log.CompressionTester, Resolution: &units.Reading{Value: 1, Unit: units.PSI},
	},
	Kit:     log.Tester{ID: "bench-kit", Name: "bench kit", Kind: log.LeakdownTester, OrificeMM: 1},
	Seconds: 4, Rest: 25, Scatter: 0.006, Leakdown: true, Again: true,
}

// Visit tests an engine by the way: dry, two pulls a cylinder, then leak-down in firing order. It returns what a person would
// have written down, without date and id, and what became of the engine.
func (e *Engine) Visit(s State, way Way, seed uint64) (log.Session, State) {
	draw := rand.New(rand.NewPCG(seed, 11))
	one := log.Session{Conditions: log.Conditions{
		EngineTemp: temper(s), Throttle: "open", PlugsOut: "all", Cranking: log.Cranking{Rule: "plateau"},
		BatteryV: math.Round(10*s.Battery.Volts()) / 10,
	}}
	if way.PlugsIn {
		one.Conditions.PlugsOut = "one"
	}
	if e.AltitudeM != 0 {
		height := e.AltitudeM
		one.Conditions.AltitudeM = &height
	}
	g := Shop
	g.Scale = e.Scale()
	for _, c := range e.Spec.Engine.Cylinders() {
		row, after := e.Press(s, way, g, c, 2, draw)
		one.Compression, s = append(one.Compression, row), after
	}
	if way.Leakdown {
		one.Leakdown, s = e.leakdowns(s, way, draw)
	}
	return one, s
}

// Press pulls a cylinder so many times.
func (e *Engine) Press(s State, way Way, g Gauge, c, times int, draw *rand.Rand) (log.Compression, State) {
	row := log.Compression{Place: e.Place(c), Mode: log.Dry, Tester: way.Gauge.ID}
	for range times {
		s = e.Vent(s)
		s = e.Run(s, Do{Crank: true, Gauge: &g, At: row.Place, PlugsIn: way.PlugsIn}, way.Seconds, nil)
		kpa := e.Shows(s, g) * (1 + way.Scatter*draw.NormFloat64())
		row.Pulls = append(row.Pulls, log.Pull{Reading: written(kpa, *way.Gauge.Resolution)})
		s = e.Rest(s, way.Rest)
	}
	return row, s
}

// Scale is the share that the gauge shows.
func (e *Engine) Scale() float64 {
	for _, f := range e.Faults {
		if f.Kind == GaugeOff {
			return 1 - f.Size
		}
	}
	return 1
}

// Missed returns by how many degrees the dead centre of a cylinder is missed at the first try.
func (e *Engine) Missed(c int) float64 {
	for _, f := range e.Faults {
		if f.Kind == OffTDC && f.Cylinder == c {
			return f.Size
		}
	}
	return 0
}

// What air a person uses, and when a leak is not believed at once, in points.
const (
	supplyPSI = 100.0
	standsOut = 6.0
)

func (e *Engine) leakdowns(s State, way Way, draw *rand.Rand) ([]log.Leakdown, State) {
	var all []log.Leakdown
	var pcts []float64
	for _, c := range e.Order() {
		row, after := e.Blow(s, way, c, e.Missed(c), draw)
		s = after
		all, pcts = append(all, row), append(pcts, 100*(1-row.Held/row.Supply))
	}
	if !way.Again {
		return all, s
	}
	usual := slices.Sorted(slices.Values(pcts))[(len(pcts)-1)/2]
	for i, c := range e.Order() {
		if pcts[i] > usual+standsOut {
			s = e.Snap(s, e.Place(c))
			row, after := e.Blow(s, way, c, 0, draw)
			all, s = append(all, row), after
		}
	}
	return all, s
}

// Blow does a leak-down of a cylinder that stands so many degrees past its dead centre.
func (e *Engine) Blow(s State, way Way, c int, past float64, draw *rand.Rand) (log.Leakdown, State) {
	p := e.Place(c)
	kpa := units.Reading{Value: supplyPSI, Unit: units.PSI}.Pressure()
	s = e.TurnTo(s, p, past)
	s = e.Run(s, Do{At: p, Air: &Air{SupplyKPa: float64(kpa), OrificeMM: way.Kit.OrificeMM, SagsKPa: 20, Hold: past == 0}}, 3, nil)
	one := units.Reading{Value: 1, Unit: units.PSI}
	supply := (s.Supply - e.ambient) / pascs
	held := (s.Hose-e.ambient)/pascs + 0.004*supply*draw.NormFloat64()
	row := log.Leakdown{
		Place: p, Tester: way.Kit.ID, Supply: written(supply, one).Value, Held: written(held, one).Value, Unit: units.PSI,
		Position: "tdc", Paths: e.Heard(s, p),
	}
	row.Held = min(row.Held, row.Supply)
	return row, s
}

// written is what a person reads off a dial.
func written(kpa float64, division units.Reading) units.Reading {
	v := units.Pressure(max(kpa, 0)).In(division.Unit)
	return units.Reading{Value: math.Round(v/division.Value) * division.Value, Unit: division.Unit}
}

// temper says how warm an engine is, as a sheet does.
func temper(s State) string {
	switch {
	case s.Warmth > 0.8:
		return "hot"
	case s.Warmth > 0.3:
		return "warm"
	}
	return "cold"
}
