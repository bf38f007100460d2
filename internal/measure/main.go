// Command measure holds the judge against the bench: engines whose faults are known, tested as people test, beside the two rules of
// the trade. It prints a table; make bench runs it.
package main

import (
	"fmt"
	"math/rand/v2"
	"runtime"
	"slices"
	"sync"

	"braxel/internal/core/bench"
	"braxel/internal/core/gas"
	"braxel/internal/core/judge"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

// engines are as many as are tested.
const engines = 200

// What matters is a fault of so many points of leak, or one that takes so much compression, in percent.
const (
	mattersPts = 5.0
	mattersPct = 7.0
)

// outcome is what one engine's visit came to.
type outcome struct {
	fault             bench.Fault
	first             bool // it had no baseline
	matters           bool
	alarmed, caught   bool // by the judge: anything at watch or worse; the cylinder that it is in
	steadyAll, named  bool
	blamed            bool // a cylinder, whichever
	evenness, leakage bool // the trade's rules: lowest within a tenth of the highest; above 15 %
}

func main() {
	out := make([]outcome, engines)
	var wait sync.WaitGroup
	slots := make(chan struct{}, runtime.NumCPU())
	for i := range out {
		wait.Go(func() {
			slots <- struct{}{}
			out[i] = one(uint64(i + 1))
			<-slots
		})
	}
	wait.Wait()
	table(out)
	seasons()
}

// presets are the engines that are tested.
var presets = []string{"Inline 4", "V6, odd and even banks", "V8, bank by bank", "Single"}

func drawn(r *rand.Rand) log.Engine {
	name := presets[r.IntN(len(presets))]
	e := log.Engine{
		Name: name, Kind: log.FourStroke, Duty: "circuit", MeterUnit: "h",
		BoreMM: 78 + 20*r.Float64(), StrokeMM: 74 + 20*r.Float64(), Ratio: 8.8 + 2.4*r.Float64(),
	}
	for _, p := range layout.Presets() {
		if p.Name == name {
			e.Layout, e.FiringOrder = p.Layout, p.Firings[0].Order
		}
	}
	return e
}

// kinds are what happens to them: nothing a third of the time, a mistake of testing a sixth, a fault else.
var kinds = []string{
	bench.RingsBore, bench.ExhaustValve, bench.IntakeValve, bench.GasketBeside, bench.GasketWater, bench.BentRod,
}

var mishaps = []string{bench.ThrottleShut, bench.BatteryFlat, bench.GaugeOff, bench.OffTDC, bench.SeatDirt}

func faultFor(e log.Engine, r *rand.Rand) bench.Fault {
	cylinders := e.Cylinders()
	f := bench.Fault{Kind: bench.Healthy, Cylinder: cylinders[r.IntN(len(cylinders))], Size: 3 + 32*r.Float64()}
	switch x := r.Float64(); {
	case x < 1./3:
		return f
	case x < 0.5:
		f.Kind = mishaps[r.IntN(len(mishaps))]
	default:
		f.Kind = kinds[r.IntN(len(kinds))]
	}
	switch f.Kind {
	case bench.GasketBeside:
		beside := layout.Neighbours(e.Layout, f.Cylinder)
		if len(beside) == 0 {
			f.Kind = bench.RingsBore
			return f
		}
		f.Neighbour = beside[r.IntN(len(beside))]
	case bench.BentRod:
		f.Size = 0.3 + 1.2*r.Float64()
	case bench.GaugeOff:
		f.Size = 0.05 + 0.1*r.Float64()
	case bench.OffTDC:
		f.Size = 25 + 30*r.Float64()
	}
	return f
}

// one tests an engine: when it is right, three in four times, and then with what happened to it.
func one(seed uint64) outcome {
	r := rand.New(rand.NewPCG(seed, 5))
	e := drawn(r)
	f := faultFor(e, r)
	spec := bench.Spec{Engine: e, Seed: seed, RingsPct: 2 + 3*r.Float64()}
	way := bench.Usual
	way.Scatter = 0.005 + 0.005*r.Float64()
	division := []float64{1, 1, 2, 5}[r.IntN(4)]
	way.Gauge.Resolution = &units.Reading{Value: division, Unit: units.PSI}
	cold := r.Float64() < 0.15
	o := outcome{fault: f, first: r.Float64() < 0.25}
	l := log.Log{Engine: e, Testers: []log.Tester{way.Gauge, way.Kit}}
	sound := bench.New(spec)
	visit := func(e *bench.Engine, cold bool, n int) log.Session {
		s, _ := e.Visit(e.Begin(cold), way, seed*10+uint64(n))
		meter := float64(20 * n)
		s.ID, s.Date, s.Meter, s.Baseline = fmt.Sprint("s", n), fmt.Sprintf("2031-%02d-10", n), &meter, n == 1
		l.Sessions = append(l.Sessions, s)
		return s
	}
	n := 1
	if !o.first {
		visit(sound, false, n)
		n++
	}
	spec.Faults = []bench.Fault{f}
	bad := bench.New(spec)
	s := visit(bad, cold, n)
	o.matters = matters(sound, bad, f)
	all := judge.Log(l, rules.Shop{}).Sessions
	v := all[len(all)-1]
	o.alarmed = v.State.Severity() >= judge.Watch.Severity()
	o.steadyAll = v.State == judge.Steady
	standsOut := 0
	for _, c := range v.Cylinders {
		if c.State.Severity() >= judge.Watch.Severity() {
			standsOut++
		}
		its := c.Cylinder == f.Cylinder || f.Kind == bench.GasketBeside && c.Cylinder == f.Neighbour
		o.caught = o.caught || its && c.State.Severity() >= judge.Watch.Severity()
	}
	// Where all do, none is blamed.
	o.blamed = standsOut > 0 && (standsOut < len(v.Cylinders) || standsOut == 1)
	o.named = named(v, f)
	o.evenness, o.leakage = schools(s)
	return o
}

// matters reports whether a fault is one to be found: by its points, or by what the cylinder lost on a gauge that tells all.
func matters(sound, bad *bench.Engine, f bench.Fault) bool {
	if f.Kind == bench.Healthy || f.Mistake() || f.Kind == bench.SeatDirt {
		return false
	}
	if f.Kind != bench.BentRod {
		return f.Size >= mattersPts
	}
	reads := func(e *bench.Engine) float64 {
		g := bench.Shop
		s := e.Run(e.Begin(false), bench.Do{Crank: true, Gauge: &g, At: e.Place(f.Cylinder)}, 4, nil)
		return e.Shows(s, g)
	}
	return 100*(1-reads(bad)/reads(sound)) >= mattersPct
}

// named reports whether the likeliest cause of the fault's cylinder is the true one, or one that no test of the visit tells from it.
func named(v judge.Session, f bench.Fault) bool {
	alike := map[string][]string{bench.RingsBore: {bench.RingsBore, bench.Piston}, bench.BentRod: {bench.BentRod, bench.CamLobe}}
	is := alike[f.Kind]
	if is == nil {
		is = []string{f.Kind}
	}
	for _, fault := range v.Faults {
		if slices.Contains(fault.Cylinders, f.Cylinder) && len(fault.Causes) > 0 {
			return slices.Contains(is, fault.Causes[0].Cause)
		}
	}
	return false
}

// schools are the trade's two: compression within a tenth of the highest, and leak to fifteen percent, the last attempt.
func schools(s log.Session) (uneven, leaks bool) {
	low, high := 1e9, 0.0
	for _, row := range s.Compression {
		p := float64(row.Pulls[len(row.Pulls)-1].Pressure())
		low, high = min(low, p), max(high, p)
	}
	last := map[int]float64{}
	for _, row := range s.Leakdown {
		last[row.Cylinder] = gas.LeakPct(row.SupplyReading().Pressure(), row.HeldReading().Pressure())
	}
	for _, pct := range last {
		leaks = leaks || pct > 15
	}
	return low < 0.9*high, leaks
}

func not(is func(outcome) bool) func(outcome) bool { return func(o outcome) bool { return !is(o) } }

// table prints how many of each were found.
func table(all []outcome) {
	count := func(of func(outcome) bool, is func(outcome) bool) string {
		n, m := 0, 0
		for _, o := range all {
			if of(o) {
				n++
				if is(o) {
					m++
				}
			}
		}
		if n == 0 {
			return "-"
		}
		return fmt.Sprintf("%d of %d, %.0f %%", m, n, 100*float64(m)/float64(n))
	}
	quiet := func(o outcome) bool { return o.fault.Kind == bench.Healthy }
	mishap := func(o outcome) bool { return o.fault.Mistake() || o.fault.Kind == bench.SeatDirt }
	severe := func(o outcome) bool { return o.matters && o.fault.Kind != bench.BentRod && o.fault.Size >= 15 }
	uneven := func(o outcome) bool { return o.evenness }
	leaks := func(o outcome) bool { return o.leakage }
	caught := func(o outcome) bool { return o.caught }
	const format = "%-36s %-20s %-20s %s\n"
	row := func(what string, of, judged, even, leak func(outcome) bool) {
		fmt.Printf(format, what, count(of, judged), count(of, even), count(of, leak))
	}
	fmt.Printf(format, fmt.Sprintf("%d engines on the bench", len(all)), "judge", "the 10 % rule", "leak above 15 %")
	row("false alarms, nothing wrong", quiet, func(o outcome) bool { return o.alarmed }, uneven, leaks)
	row("a cylinder blamed for a mistake", mishap, func(o outcome) bool { return o.blamed }, uneven, leaks)
	row("caught, with a baseline", func(o outcome) bool { return o.matters && !o.first }, caught, uneven, leaks)
	row("caught, at first sight", func(o outcome) bool { return o.matters && o.first }, caught, uneven, leaks)
	row("plain faults called steady", severe, func(o outcome) bool { return o.steadyAll }, not(uneven), not(leaks))
	named := count(func(o outcome) bool { return o.matters && o.caught }, func(o outcome) bool { return o.named })
	fmt.Printf(format, "cause named, of those caught", named, "", "")
	for _, o := range all {
		if o.matters && !o.caught || quiet(o) && o.alarmed || mishap(o) && o.blamed {
			fmt.Printf("  missed or alarmed: %s, cylinder %d, size %.1f, first sight %v\n", o.fault.Kind, o.fault.Cylinder, o.fault.Size, o.first)
		}
	}
}
