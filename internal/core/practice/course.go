// Package practice is where one learns to judge engines: simulated ones with a hidden fault, what may be done to them and what that
// takes, and what came of it when it has been decided.
package practice

import (
	_ "embed"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"sync"

	"braxel/internal/core/bench"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/shipped"
	"braxel/internal/core/units"
)

//go:embed course.json
var text []byte

// Lesson is an engine of the course.
type Lesson struct {
	ID     string        `json:"id"`
	Name   string        `json:"name"`
	Level  int           `json:"level"`
	Says   string        `json:"says"`
	Engine string        `json:"engine"`
	Cold   bool          `json:"cold"`
	Faults []bench.Fault `json:"faults"`
}

// Course is the table of it all.
type Course struct {
	About   string                `json:"about"`
	Minutes map[string]float64    `json:"minutes"`
	Lessons []Lesson              `json:"lessons"`
	Engines map[string]log.Engine `json:"engines"`
}

// Load returns the built-in course, checked.
//
// What the makers of its engines say of them is found by cranking a sound one of each, so it is not read before somebody practises.
var Load = sync.OnceValue(func() Course {
	c := shipped.Table[Course](text)
	for name, e := range c.Engines {
		c.Engines[name] = withFigure(e)
	}
	return c
})

// Word gives the lessons what their owners say, from the catalogue.
func (c *Course) Word() {
	for i := range c.Lessons {
		c.Lessons[i].Says = say.Maybe("course.lesson-" + c.Lessons[i].ID)
	}
}

// risk says what a fault does to an engine that is run with it; "" where it may be run.
func risk(f bench.Fault) string {
	return say.Maybe("course.risk-" + strings.ReplaceAll(f.Kind, "_", "-"))
}

// Check reports the first thing wrong with a course.
func (c Course) Check() error {
	for _, l := range c.Lessons {
		e, ok := c.Engines[l.Engine]
		if !ok {
			return say.Error("practice.lesson-there-no-engine", "id", l.ID, "engine", l.Engine)
		}
		if l.Says == "" {
			return say.Error("rules.row-no-words", "name", l.ID)
		}
		for _, f := range l.Faults {
			if !bench.Known(f.Kind) {
				return say.Error("practice.lesson-there-no-fault", "id", l.ID, "kind", f.Kind)
			}
			if f.Cylinder > 0 && !e.Has(e.Place(f.Cylinder)) {
				return say.Error("practice.lesson-there-no-cylinder", "id", l.ID, "cylinder", f.Cylinder)
			}
			if f.Kind == bench.GasketBeside && !slices.Contains(layout.Neighbours(e.Layout, f.Cylinder), f.Neighbour) {
				return say.Error("practice.lesson-no-neighbours",
					"id", l.ID,
					"cylinder", f.Cylinder,
					"neighbour", f.Neighbour,
				)
			}
			if runs := runsWith(f); !runs && risk(f) == "" {
				return say.Error("practice.lesson-risk-not-stated", "id", l.ID, "kind", f.Kind)
			}
		}
	}
	return nil
}

// Lesson returns the lesson of that id.
func (c Course) Lesson(id string) (Lesson, bool) {
	i := slices.IndexFunc(c.Lessons, func(l Lesson) bool { return l.ID == id })
	if i < 0 {
		return Lesson{}, false
	}
	return c.Lessons[i], true
}

// Spec returns the bench's engine of a lesson. The seed draws its scatter.
func (c Course) Spec(l Lesson, seed uint64) bench.Spec {
	e := c.Engines[l.Engine]
	e.Name = l.Name
	e.Note = l.Says
	return bench.Spec{Engine: e, Seed: seed, RingsPct: rules.SoundLeak, Faults: l.Faults}
}

// withFigure gives an engine what its maker says of it: what a sound one reads, to five psi, and three quarters of it at least.
func withFigure(e log.Engine) log.Engine {
	sound := bench.New(bench.Spec{Engine: e, RingsPct: rules.SoundLeak, Alike: true})
	s := sound.Run(sound.Begin(false), bench.Do{Crank: true, Gauge: &bench.Shop, At: sound.Place(e.Cylinders()[0])}, 4, nil)
	psi := 5 * math.Round(units.Pressure(sound.Shows(s, bench.Shop)).In(units.PSI)/5)
	e.Limits = &log.Limits{
		Source: "maker", Nominal: &units.Reading{Value: psi, Unit: units.PSI},
		Minimum: &units.Reading{Value: 5 * math.Round(0.75*psi/5), Unit: units.PSI},
	}
	return e
}

// Drawn is a lesson that nobody has seen: an engine, and a fault, a mistake of testing, or nothing. A kind that is given is hidden
// somewhere in it.
func (c Course) Drawn(engine, kind string, seed uint64) (Lesson, error) {
	e, ok := c.Engines[engine]
	if !ok {
		return Lesson{}, say.Error("practice.engine-there-no-practise", "engine", engine)
	}
	draw := rand.New(rand.NewPCG(seed, 21))
	l := Lesson{
		ID: "drawn", Name: names[draw.IntN(len(names))], Level: 2, Engine: engine, Cold: draw.Float64() < 0.25,
		Says: say.Text("practice.nobody-knows-anything-about"),
	}
	if kind == "" {
		hidden := []string{
			bench.Healthy, bench.Healthy, bench.RingsBore, bench.ExhaustValve, bench.IntakeValve, bench.GasketBeside, bench.GasketWater,
			bench.BentRod, bench.SeatDirt,
			bench.ThrottleShut, bench.BatteryFlat, bench.GaugeOff, bench.OffTDC, bench.CamTiming, bench.EvenWear,
		}
		kind = hidden[draw.IntN(len(hidden))]
	}
	if kind == bench.Healthy {
		return l, nil
	}
	if !bench.Known(kind) || kind == bench.ApexSeal {
		return Lesson{}, say.Error("practice.fault-there-no", "kind", kind)
	}
	cylinders := e.Cylinders()
	f := bench.Fault{Kind: kind, Cylinder: cylinders[draw.IntN(len(cylinders))], Size: 8 + 30*draw.Float64()}
	switch kind {
	case bench.GasketBeside:
		beside := layout.Neighbours(e.Layout, f.Cylinder)
		f.Neighbour, f.Size = beside[draw.IntN(len(beside))], 25+40*draw.Float64()
	case bench.BentRod:
		f.Size = 0.6 + draw.Float64()
	case bench.CamTiming:
		f.Cylinder, f.Size = 0, 10+6*draw.Float64()
	case bench.CamLobe:
		f.Size = 0.998
	case bench.GaugeOff:
		f.Cylinder, f.Size = 0, 0.09+0.06*draw.Float64()
	case bench.OffTDC:
		f.Size = 25 + 30*draw.Float64()
	case bench.EvenWear, bench.NotBedded:
		f.Cylinder, f.Size = 0, 12+10*draw.Float64()
	case bench.ThrottleShut, bench.BatteryFlat:
		f.Cylinder = 0
	case bench.SeatDirt:
		f.Neighbour = draw.IntN(2)
	}
	l.Faults = []bench.Fault{f}
	return l, nil
}

// names of engines that were drawn.
var names = []string{"Knot", "Ruff", "Teal", "Gadwall", "Serin", "Hobby", "Merlin", "Dipper", "Chough", "Rail"}

// runsWith reports whether an engine may be run with a fault: one of the testing, dirt that blows off, rings that will bed.
func runsWith(f bench.Fault) bool {
	return f.Mistake() || f.Kind == bench.SeatDirt || f.Kind == bench.NotBedded
}

// Choice is something that may be decided to be wrong.
type Choice struct {
	Kind  string `json:"kind"`
	Words string `json:"words"`
	Of    int    `json:"of,omitzero" doc:"How many cylinders it is in: 0, 1, or 2 for a fault between two"`
}

// mistakes in the words of a sheet.
var mistakes = []Choice{
	{bench.ThrottleShut, say.Text("practice.nothing-throttle-was-shut"), 0},
	{bench.BatteryFlat, say.Text("practice.nothing-battery-was-flat"), 0},
	{bench.GaugeOff, say.Text("practice.nothing-gauge-reads-low"), 0},
	{bench.OffTDC, say.Text("practice.nothing-tdc-was-missed"), 1},
}

// inCylinders is how many cylinders a cause of a scope is in.
var inCylinders = map[string]int{"cylinder": 1, "pair": 2}

// Choices returns what may be decided to be wrong with an engine of a kind, the engine's own faults first.
func Choices(kind string) []Choice {
	all := []Choice{{bench.Healthy, "nothing", 0}}
	for _, c := range rules.Causes().For(kind).Causes {
		if bench.Known(c.Cause) {
			all = append(all, Choice{c.Cause, c.Words, inCylinders[c.Scope]})
		}
	}
	return append(all, mistakes...)
}

// wordsOf returns what a kind is called.
func wordsOf(engine, kind string) string {
	for _, c := range Choices(engine) {
		if c.Kind == kind {
			return c.Words
		}
	}
	return kind
}
