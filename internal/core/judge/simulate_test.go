package judge_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"

	"braxel/internal/core/gas"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

// rough is how untidily an engine is tested in its life.
type rough struct {
	divisions        []float64 // psi, of the compression gauges
	layouts          [][][]int
	cold, swap, dirt float64 // chances: of a cold test, of the other gauge, of dirt on a seat at one attempt
	repeats          float64 // chance that a leak which jumped is done again
	scatter, session float64 // of one cylinder, of all at one visit: shares of the reading
	slowest, fastest float64 // points of leak that a fault adds from test to test
	duty             string
}

var (
	inlineFour = [][]int{{1, 2, 3, 4}}
	veeSix     = [][]int{{1, 3, 5}, {2, 4, 6}}
	veeEight   = [][]int{{1, 3, 5, 7}, {2, 4, 6, 8}}
	// tidy is a careful shop, untidy a paddock: coarse gauges, singles and twins, cold tests, whatever gauge is at hand.
	tidy   = rough{[]float64{1, 2}, [][][]int{inlineFour, veeSix, veeEight}, 0.05, 0.03, 0.02, 0.7, 0.006, 0.015, 1, 5, "circuit"}
	untidy = rough{[]float64{2, 5, 5, 10}, [][][]int{{{1}}, {{1}, {2}}, {{1, 2}}, inlineFour, inlineFour, veeSix, veeEight}, 0.25, 0.2, 0.04, 0.5, 0.009, 0.025, 1, 5, "circuit"}
	// slow is a street engine that wears away over many tests.
	slow = rough{[]float64{1, 2, 5}, [][][]int{{{1}}, {{1}, {2}}, inlineFour, veeSix, veeEight}, 0.1, 0.05, 0.02, 0.7, 0.007, 0.02, 0.4, 2, "street"}
)

// life is a simulated engine: its log, what was wrong with it, and the faulty cylinder's true leak in points by the meter.
type life struct {
	log   log.Log
	truth truth
	leak  func(meter float64) float64
}

// fault is how a cause shows: points of leak and percent of compression a step of its growth adds, where it is heard.
type fault struct {
	cause      string
	leak, lost float64
	where      string
}

var faults = []fault{
	{"rings_bore", 1, 0.9, log.Crankcase}, {"exhaust_valve", 1, 1, log.Exhaust}, {"intake_valve", 1, 0.9, log.Intake},
	{"gasket_neighbour", 1, 1.1, log.Neighbour}, {"gasket_coolant", 1, 0.8, log.Coolant}, {"bent_rod", 0, 1, ""}, {"none", 0, 0, ""},
}

// simulate draws an engine and its tests. The engine is this test's own, not the judge's model: leaks are holes fed
// through an orifice, gauges have a ratio of their own, growth goes by running hours.
func simulate(seed uint64, how rough) life {
	r := rand.New(rand.NewPCG(seed, 77))
	pick := func(p float64) bool { return r.Float64() < p }
	banks := how.layouts[r.IntN(len(how.layouts))]
	l := log.Log{Format: log.Format, Version: 1, Engine: log.Engine{Name: fmt.Sprint("Life ", seed), Kind: log.FourStroke, Layout: log.Layout{Banks: banks}, Duty: how.duty, MeterUnit: "h"}}
	orifice := 0.8 + 0.4*r.Float64()
	division := units.Reading{Value: how.divisions[r.IntN(len(how.divisions))], Unit: units.PSI}
	l.Testers = []log.Tester{{ID: "g1", Kind: log.CompressionTester, Resolution: &division}, {ID: "g2", Kind: log.CompressionTester, Resolution: &division}, {ID: "k", Kind: log.LeakdownTester, OrificeMM: orifice}}
	gauge := map[string]float64{"g1": 1 + 0.02*r.NormFloat64(), "g2": 1 + 0.04*r.NormFloat64()}

	cylinders := l.Engine.Cylinders()
	right, leaks := map[int]float64{}, map[int]float64{}
	level := 1000 + 300*r.Float64()
	for _, c := range cylinders {
		right[c], leaks[c] = level*(1+0.02*r.NormFloat64()), 2+3*r.Float64()
	}
	f := faults[r.IntN(len(faults))]
	if pick(0.35) {
		f = faults[len(faults)-1]
	}
	where := []int{cylinders[r.IntN(len(cylinders))]}
	if f.cause == "gasket_neighbour" {
		beside := layout.Neighbours(l.Engine.Layout, where[0])
		if len(beside) == 0 {
			f = faults[1]
		} else {
			where = append(where, beside[0])
		}
	}
	tests, onset, step := 6+r.IntN(11), 2+r.IntN(4), how.slowest+(how.fastest-how.slowest)*r.Float64()
	faster := []float64{1, 1, 1.2, 1.4}[r.IntN(4)]
	sudden := 8 + 8*r.Float64()
	meters := []float64{0}
	for range tests {
		meters = append(meters, meters[len(meters)-1]+1.5+4*r.Float64())
	}
	size := func(meter float64) float64 {
		if f.cause == "none" || meter < meters[onset] {
			return 0
		}
		if f.cause == "bent_rod" {
			return sudden
		}
		return step * math.Pow((meter-meters[onset-1])/3.5, faster)
	}
	// A leak's points are those of the reference tester, as a verdict counts them.
	reference := func(pct float64) float64 {
		hole, _ := gas.Hole(gas.ReferenceSupply, gas.ReferenceSupply*units.Pressure(1-pct/100), gas.SeaLevel, orifice)
		return gas.ReferenceLeakPct(hole)
	}
	out := life{log: l, truth: truth{Cause: f.cause, Where: where}, leak: func(meter float64) float64 {
		sound := leaks[where[0]]
		return reference(sound+f.leak*size(meter)) - reference(sound)
	}}
	for i := range tests {
		meter := meters[i]
		s := log.Session{ID: fmt.Sprint("s", i+1), Date: fmt.Sprintf("2031-%02d-%02d", 1+i/28, 1+i%28), Meter: &meter, Baseline: i < 2}
		height, temp, tester := 1200*r.Float64(), "hot", "g1"
		s.Conditions = log.Conditions{AltitudeM: &height, EngineTemp: temp}
		all, coldLeak := math.Exp(how.session*r.NormFloat64()), 1.0
		if i > 1 && pick(how.cold) {
			s.Conditions.EngineTemp = "cold"
			all, coldLeak = all*(0.93+0.02*r.NormFloat64()), 1.3
		}
		if i > 1 && pick(how.swap) {
			tester = "g2"
		}
		ambient := gas.Ambient(height)
		now := struct {
			Fault map[string]struct {
				Leak float64 `json:"leak_added"`
				Lost float64 `json:"compression_lost_pct"`
			} `json:"fault"`
			Drift float64 `json:"gauge_drift_pct"`
		}{Fault: map[string]struct {
			Leak float64 `json:"leak_added"`
			Lost float64 `json:"compression_lost_pct"`
		}{}}
		for _, c := range cylinders {
			bad := 0.0
			if slices.Contains(where, c) {
				bad = size(meter)
			}
			if bad > 0 {
				one := now.Fault[strconv.Itoa(c)]
				one.Leak, one.Lost = f.leak*bad, f.lost*bad
				now.Fault[strconv.Itoa(c)] = one
			}
			p := right[c] * all * gauge[tester] * (1 - f.lost*bad/100) * (1 + how.scatter*r.NormFloat64()) * float64(ambient/gas.SeaLevel)
			row := log.Compression{Place: log.Place{Cylinder: c}, Mode: log.Dry, Tester: tester}
			for range 2 + r.IntN(2) {
				v := units.Pressure(p * (1 + 0.007*r.NormFloat64())).In(units.PSI)
				row.Pulls = append(row.Pulls, log.Pull{Reading: units.Reading{Value: math.Round(v/division.Value) * division.Value, Unit: units.PSI}})
			}
			s.Compression = append(s.Compression, row)
			paths := []log.Path{{Where: log.Crankcase, Level: 1}}
			if f.leak*bad >= 3 && f.where != log.Crankcase && pick(0.9) {
				paths = append(paths, log.Path{Where: f.where, Level: min(3, 1+int(bad/6))})
			}
			true100 := coldLeak*leaks[c] + f.leak*bad
			attempt := func(dirt float64) log.Leakdown {
				pct := max(0.3, true100+dirt+0.5*r.NormFloat64()+0.07*true100*r.NormFloat64())
				supply := units.Reading{Value: float64(70 + 10*r.IntN(4)), Unit: units.PSI}
				// The leak that this tester shows at 100 psi is a hole; at another supply and height it shows another figure.
				hole, _ := gas.Hole(gas.ReferenceSupply, gas.ReferenceSupply*units.Pressure(1-pct/100), gas.SeaLevel, orifice)
				held := gas.Held(hole, supply.Pressure(), ambient, orifice)
				return log.Leakdown{Place: log.Place{Cylinder: c}, Tester: "k", Supply: supply.Value, Held: math.Round(held.In(units.PSI)), Unit: units.PSI, Position: "tdc", Paths: paths}
			}
			if dirt := 5 + 15*r.Float64(); i > 1 && pick(how.dirt) {
				s.Leakdown = append(s.Leakdown, attempt(dirt))
				if pick(how.repeats) {
					s.Leakdown = append(s.Leakdown, attempt(0))
				}
			} else {
				s.Leakdown = append(s.Leakdown, attempt(0))
			}
		}
		out.truth.Sessions = append(out.truth.Sessions, now)
		out.log.Sessions = append(out.log.Sessions, s)
	}
	return out
}
