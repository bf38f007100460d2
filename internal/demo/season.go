package demo

import (
	"fmt"
	"sync"
	"time"

	"github.com/go-json-experiment/json"

	"braxel/internal/core/ahead"
	"braxel/internal/core/bench"
	"braxel/internal/core/book"
	"braxel/internal/core/log"
)

// ran is an engine of the season: how it wears on the bench, and when it was tested.
type ran struct {
	life   bench.Life
	build  log.Build
	visits []visit
}

// hillClimber is one of the two fours that take turns in the hill-climb car.
func hillClimber(name string, seed uint64) log.Engine {
	return log.Engine{
		Name: name, Owner: "Tarn Hollow hill-climb", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}},
		FiringOrder: []int{1, 3, 4, 2}, FiringIntervals: []float64{180, 180, 180, 180}, Rotation: "clockwise",
		BoreMM: 81, StrokeMM: 77.5, RodMM: 133, Ratio: 11.8, IntakeCloses: of(64.0), Fuel: "petrol", Induction: "natural",
		Duty: "circuit", MeterUnit: "h", AltitudeM: of(210.0), Stands: "stand",
		Identity: &log.Identity{Serial: fmt.Sprintf("TH-02%02d", seed), Builder: Shop},
	}
}

// Redpoll wears evenly, and faster than most; Whinchat was built in winter, and an exhaust valve of its third cylinder has begun to go.
func seasonEngines() []ran {
	redpoll, whinchat := hillClimber("Redpoll", 31), hillClimber("Whinchat", 44)
	redpoll.Stands = "car"
	return []ran{
		{
			life: bench.Life{
				Spec: bench.Spec{Engine: redpoll, Seed: 31, RingsPct: 3, AltitudeM: 210}, BedsIn: 1, Raw: 1.5, Wears: 5.6, Feeds: 70,
			},
			build: log.Build{ID: "b1", Date: "2032-02-20", What: "new rings, valves ground"},
			visits: []visit{
				{date: "2032-03-12", stage: "after-running", temp: "hot", meter: 2, baseline: true},
				{date: "2032-05-22", stage: "service", temp: "hot", meter: 11},
				{date: "2032-07-17", stage: "service", temp: "hot", meter: 20},
				{date: "2032-09-25", stage: "post-season", temp: "hot", meter: 29},
				{date: "2033-03-12", stage: "pre-season", temp: "hot", meter: 29.5},
				{date: "2033-05-07", stage: "post-season", temp: "hot", meter: 35.2},
			},
		},
		{
			life: bench.Life{
				Spec: bench.Spec{Engine: whinchat, Seed: 44, RingsPct: 3.4, AltitudeM: 210}, BedsIn: 1, Raw: 2, Wears: 3, Feeds: 90,
				Goes: []bench.Going{{
					Fault: bench.Fault{Kind: bench.ExhaustValve, Cylinder: 3, Size: 9}, Begins: 6, Takes: 16, Doubles: true,
				}},
			},
			build: log.Build{ID: "b1", Date: "2032-12-03", What: "rebuilt"},
			visits: []visit{
				{date: "2032-12-10", stage: "pre-install", temp: "hot", meter: 0, baseline: true},
				{date: "2033-03-05", stage: "after-running", temp: "hot", meter: 3, baseline: true},
				{date: "2033-04-16", stage: "service", temp: "hot", meter: 9.5},
			},
		},
	}
}

// SeasonLogs returns the engines of the season, worn on the bench and tested as they went.
var SeasonLogs = sync.OnceValue(func() []log.Log {
	var all []log.Log
	for _, r := range seasonEngines() {
		all = append(all, r.log())
	}
	return all
})

func (r ran) log() log.Log {
	e := r.life.Spec.Engine
	e.ID = book.Slug(e.Name, "engine")
	l := log.Log{
		Format: log.Format, Version: log.Version, Engine: e, Testers: []log.Tester{longHose, twoDial}, Builds: []log.Build{r.build},
	}
	way := bench.Usual
	way.Gauge, way.Kit = longHose, twoDial
	for i, v := range r.visits {
		on := bench.New(r.life.Worn(v.meter))
		s, _ := on.Visit(on.Begin(v.temp == "cold"), way, uint64(i))
		s.ID, s.Date, s.Stage = fmt.Sprintf("s%d", i+1), v.date, v.stage
		s.Meter, s.Baseline, s.Build = &r.visits[i].meter, v.baseline, r.build.ID
		s.Operator, s.Conditions.Charger = "Ansa", true
		l.Sessions = append(l.Sessions, s)
	}
	return l
}

// seasonMeets are the events of 2033: two are over, the third is a fortnight ahead of the demo's day.
var seasonMeets = []ahead.Meeting{
	{ID: "spring", Name: "Spring Sprint", Date: "2033-04-02", Hours: 2.5, Cars: []string{"climb"}},
	{ID: "ridge", Name: "Ridge Climb", Date: "2033-04-30", Until: "2033-05-01", Hours: 3, Cars: []string{"climb"}},
	{ID: "quarry", Name: "Quarry Hill", Date: "2033-05-28", Hours: 3, Cars: []string{"climb"}},
	{ID: "tarn", Name: "Tarn Cup", Date: "2033-06-11", Until: "2033-06-12", Hours: 4, Sort: "sprint on the lake and the hill"},
	{ID: "pass", Name: "Long Pass", Date: "2033-07-16", Until: "2033-07-17", Hours: 4, Times: 1.5, Cars: []string{"climb"}},
	{ID: "lakeside", Name: "Lakeside", Date: "2033-08-13", Hours: 3},
	{ID: "last", Name: "Last Climb", Date: "2033-09-10", Hours: 3, Cars: []string{"climb"}},
}

// Season returns what the workshop has typed of its season.
func Season() []book.Entry {
	at := time.Date(2033, time.January, 8, 10, 0, 0, 0, time.UTC)
	var all []book.Entry
	add := func(kind string, body any) {
		text, err := json.Marshal(body)
		if err != nil {
			panic(err)
		}
		at = at.Add(time.Second)
		all = append(all, book.Entry{ID: fmt.Sprintf("season-%d", len(all)), At: at.Format(book.Clock), By: "Ansa", Kind: kind, Body: text})
	}
	for _, m := range seasonMeets {
		add(book.Meeting, m)
	}
	add(book.Car, ahead.Car{ID: "climb", Name: "hill-climb car", Engines: []string{"redpoll", "whinchat", "heron"}, Sits: "redpoll"})
	add(book.Car, ahead.Car{ID: "boat", Name: "sprint boat", Engines: []string{"bittern"}, Sits: "bittern"})
	start := func(meeting, car, engine string, ran float64) {
		s := ahead.Start{ID: ahead.StartOf(meeting, car), Meeting: meeting, Car: car, Engine: engine}
		if ran > 0 {
			s.Ran = &ran
		}
		add(book.Start, s)
	}
	start("spring", "climb", "redpoll", 2.3)
	start("ridge", "climb", "redpoll", 3.4)
	for _, m := range []string{"quarry", "tarn", "pass", "lakeside", "last"} {
		start(m, "climb", "redpoll", 0)
	}
	start("tarn", "boat", "bittern", 0)
	start("lakeside", "boat", "bittern", 0)
	add(book.Job, ahead.Job{ID: "redpoll.test.pass", Engine: "redpoll", Work: ahead.Test, Before: "pass"})
	add(book.Job, ahead.Job{ID: "bittern.freshen.tarn", Engine: "bittern", Work: ahead.Freshen, Before: "tarn"})
	return all
}
