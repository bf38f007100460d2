package main

import (
	"fmt"
	"math"
	"math/rand/v2"
	"runtime"
	"slices"
	"time"

	"golang.org/x/sync/errgroup"

	"braxel/internal/core/ahead"
	"braxel/internal/core/bench"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/season"
)

// A year of a large shop, on the bench: run by hours alone, and by Braxel's plan made again before each event.
const (
	shops      = 6
	perShop    = 12 // engines
	perCars    = 6
	perYear    = 10 // events
	racePoints = 5.0
)

// waysOfYear are how it is run: an engine is freshened after so many usual lives, whatever it reads, or by the plan. The second
// freshens about as often as the plan does.
var waysOfYear = []struct {
	name  string
	hours float64 // in usual lives; 0 by the plan
}{{"by hours, half a life", 0.5}, {"by hours, a seventh", 1.0 / 7}, {"by Braxel's plan", 0}}

// year is what a way of running it came to.
type year struct{ starts, past, freshens, tests int }

// raced is an engine of the bench in a shop's year, with its log so far.
type raced struct {
	life    bench.Life
	log     log.Log
	ran     float64 // since it was built
	seed    uint64
	builds  int
	visited int
}

func seasons() {
	total := make([]year, len(waysOfYear))
	var each errgroup.Group
	each.SetLimit(runtime.NumCPU())
	results := make([][]year, shops)
	for n := range shops {
		each.Go(func() error {
			for _, way := range waysOfYear {
				results[n] = append(results[n], runYear(uint64(n+1), way.hours))
			}
			return nil
		})
	}
	_ = each.Wait()
	for _, r := range results {
		for way := range waysOfYear {
			total[way].starts += r[way].starts
			total[way].past += r[way].past
			total[way].freshens += r[way].freshens
			total[way].tests += r[way].tests
		}
	}
	fmt.Printf("\n%d shops of %d engines, %d cars, %d events\n", shops, perShop, perCars, perYear)
	for i, way := range waysOfYear {
		y := total[i]
		fmt.Printf("%-22s %d starts, %d ended past the limits, %d freshen-ups, %d tests\n", way.name, y.starts, y.past, y.freshens, y.tests)
	}
}

// worst is how far the worst cylinder has truly risen, points, its bedding left out.
func (r *raced) worst() float64 {
	l := r.life
	l.Raw = 0
	even, most := 0.0, 0.0
	for _, f := range l.Worn(r.ran).Faults {
		if f.Kind == bench.EvenWear {
			even = f.Size
		} else {
			most = max(most, f.Size)
		}
	}
	return even + most
}

func (r *raced) build(draw *rand.Rand, day time.Time) {
	r.builds++
	r.life = bench.RandomLife(r.life.Spec, rules.LastsOf(r.life.Spec.Engine)*math.Exp(rules.LastsSD*draw.NormFloat64()), draw)
	meter := r.meter()
	r.ran = 0
	r.log.Builds = append(r.log.Builds, log.Build{ID: fmt.Sprintf("b%d", r.builds), Date: day.Format(time.DateOnly)})
	r.log.Events = append(r.log.Events, log.Event{Date: day.Format(time.DateOnly), Meter: &meter, What: "freshened"})
	r.test(day, true)
}

// meter is what the engine's meter shows: it runs on through its builds.
func (r *raced) meter() float64 {
	if n := len(r.log.Events); n > 0 {
		return *r.log.Events[n-1].Meter + r.ran
	}
	return r.ran
}

func (r *raced) test(day time.Time, baseline bool) {
	on := bench.New(r.life.Worn(r.ran))
	r.visited++
	s, _ := on.Visit(on.Begin(false), bench.Usual, r.seed*1000+uint64(r.visited))
	meter := r.meter()
	s.ID, s.Date, s.Meter, s.Baseline = fmt.Sprintf("s%d", r.visited), day.Format(time.DateOnly), &meter, baseline
	s.Build = r.log.Builds[len(r.log.Builds)-1].ID
	r.log.Sessions = append(r.log.Sessions, s)
}

// runYear runs a shop through its year.
func runYear(seed uint64, hours float64) (y year) {
	draw := rand.New(rand.NewPCG(seed, 9))
	begin := time.Date(2033, time.March, 1, 0, 0, 0, 0, time.UTC)
	var all []*raced
	var s ahead.Season
	for i := range perShop {
		e := four()
		e.ID, e.Name, e.Duty, e.MeterUnit = fmt.Sprintf("e%d", i), fmt.Sprintf("e%d", i), "circuit", "h"
		r := &raced{seed: seed*100 + uint64(i)}
		r.life = bench.Life{Spec: bench.Spec{Engine: e, Seed: r.seed, RingsPct: 2 + 3*draw.Float64()}}
		r.log = log.Log{Format: log.Format, Version: log.Version, Engine: e, Testers: []log.Tester{bench.Usual.Gauge, bench.Usual.Kit}}
		r.build(draw, begin.AddDate(-1, 0, 0))
		for range 2 {
			r.ran += 25 * draw.Float64()
			r.test(begin.AddDate(0, -6+len(r.log.Sessions), 0), false)
		}
		all = append(all, r)
	}
	for n := range perCars {
		c := ahead.Car{ID: fmt.Sprintf("c%d", n), Name: fmt.Sprintf("c%d", n), Sits: fmt.Sprintf("e%d", n)}
		for i := range perShop {
			c.Engines = append(c.Engines, fmt.Sprintf("e%d", i))
		}
		s.Cars = append(s.Cars, c)
	}
	for k := range perYear {
		day := begin.AddDate(0, 0, 14+21*k)
		s.Meetings = append(s.Meetings, ahead.Meeting{
			ID: fmt.Sprintf("m%d", k), Name: fmt.Sprintf("m%d", k), Date: day.Format(time.DateOnly), Hours: math.Round(4 + 5*draw.Float64()),
		})
	}
	for k, m := range s.Meetings {
		day := begin.AddDate(0, 0, 14+21*k)
		runners := planRunners
		if hours > 0 {
			runners = hoursRunners(hours)
		}
		for n, i := range runners(all, s, k, day, draw, &y) {
			if i < 0 {
				continue
			}
			r := all[i]
			r.ran += m.Hours
			y.starts++
			if r.worst() >= racePoints {
				y.past++
			}
			car := &s.Cars[n]
			car.Sits = r.log.Engine.ID
			start := ahead.Start{ID: ahead.StartOf(m.ID, car.ID), Meeting: m.ID, Car: car.ID, Engine: car.Sits, Ran: &m.Hours}
			s.Starts = append(s.Starts, start)
		}
	}
	return y
}

func four() log.Engine {
	e := log.Engine{Kind: log.FourStroke, BoreMM: 82, StrokeMM: 80, RodMM: 135, Ratio: 11, Fuel: "petrol"}
	for _, p := range layout.Presets() {
		if p.Name == "Inline 4" {
			e.Layout, e.FiringOrder = p.Layout, p.Firings[0].Order
		}
	}
	return e
}

// hoursRunners has the two engines of each car take turns, the one with fewer hours first; one that has run so many usual lives is
// freshened.
func hoursRunners(hours float64) func([]*raced, ahead.Season, int, time.Time, *rand.Rand, *year) []int {
	return func(all []*raced, _ ahead.Season, _ int, day time.Time, draw *rand.Rand, y *year) []int {
		var out []int
		for n := range perCars {
			i := n
			if all[n+perCars].ran < all[n].ran {
				i = n + perCars
			}
			if all[i].ran > hours*rules.LastsOf(all[i].log.Engine) {
				all[i].build(draw, day.AddDate(0, 0, -3))
				y.freshens++
			}
			out = append(out, i)
		}
		return out
	}
}

// planRunners plans the rest of the year again, and does what it says before the event that comes. What a test finds past its limits is
// freshened.
func planRunners(all []*raced, s ahead.Season, k int, day time.Time, draw *rand.Rand, y *year) []int {
	var engines []season.Engine
	for _, r := range all {
		engines = append(engines, season.EngineOf(r.log, rules.Shop{}))
	}
	plan, _ := season.New(s, engines, day.AddDate(0, 0, -16).Format(time.DateOnly)).Search(nil)
	meeting := s.Meetings[k].ID
	for _, j := range plan.Jobs {
		i := slices.IndexFunc(all, func(r *raced) bool { return r.log.Engine.ID == j.Engine })
		if j.Before != meeting {
			continue
		}
		r := all[i]
		if j.Work == ahead.Test {
			y.tests++
			r.test(day.AddDate(0, 0, -2), false)
			if season.EngineOf(r.log, rules.Shop{}).Life.Inside(0) > rules.Likely {
				continue
			}
		}
		r.build(draw, day.AddDate(0, 0, -1))
		y.freshens++
	}
	out := make([]int, perCars)
	for n := range out {
		out[n] = -1
		for _, x := range plan.Starts {
			if x.Meeting == meeting && x.Car == s.Cars[n].ID {
				out[n] = slices.IndexFunc(all, func(r *raced) bool { return r.log.Engine.ID == x.Engine })
			}
		}
	}
	return out
}
