// Package prepare holds the lists before and after a test: what to make ready, what to make safe, what to put back.
package prepare

import (
	"slices"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// Task is one line of a list. Undo is what has to be put back because of it, with its own tick.
type Task struct {
	ID    string `json:"id"`
	Words string `json:"words"`
	Safe  bool   `json:"safe" doc:"It is for safety"`
	Undo  string `json:"undo,omitzero"`
	// Unsaid is a line of the put-back list whose counterpart nobody ticked: it may have come off all the same.
	Unsaid bool `json:"unsaid,omitzero" doc:"Its removal was never ticked"`
}

// rule is a task with the engines and places that it is for; an empty field is for all.
type rule struct {
	Task
	fuels    []string
	notFuels []string
	fuelling string
	inducted []string
	places   []string
	kinds    []string
	hot      bool
	duties   []string
	notDuty  []string
}

// standing are the duties of engines in something that stands otherwise than on four braked wheels.
var standing = []string{"kart", "motorcycle"}

var noSpark = []string{"diesel"}

// before is the list before a test, in the order in which it is done. A builder may disagree: change the row.
var before = []rule{
	{
		Task: Task{
			ID:    "chocks",
			Words: say.Text("prepare.level-neutral-handbrake-wheels-chocked"),
			Safe:  true,
			Undo:  say.Text("prepare.chocks-away"),
		},
		places:  []string{"car"},
		notDuty: standing,
	},
	{
		Task:   Task{ID: "kart-stand", Words: say.Text("prepare.kart-on-stand"), Safe: true, Undo: say.Text("prepare.kart-off-stand")},
		places: []string{"car"},
		duties: []string{"kart"},
	},
	{
		Task:   Task{ID: "bike-stand", Words: say.Text("prepare.bike-on-stand"), Safe: true},
		places: []string{"car"},
		duties: []string{"motorcycle"},
	},
	{
		Task:   Task{ID: "tied", Words: say.Text("prepare.engine-tied-down-stand-starter"), Safe: true},
		places: []string{"stand"},
	},
	{
		Task: Task{
			ID:    "first-oil",
			Words: say.Text("prepare.level-oil-at-mark-if"),
		},
		places: []string{"stand"},
		kinds:  []string{log.FourStroke, log.TwoStroke},
	},
	{
		Task: Task{ID: "loose-starter", Words: say.Text("prepare.starter-bolted-up-leads-as",
			"batteryFull", rules.BatteryFull,
		), Undo: say.Text("prepare.starter-leads-off")},
		places: []string{"stand"},
	},
	{
		Task: Task{
			ID:    "released",
			Words: say.Text("prepare.dyno-brake-off-coupling-free"),
			Safe:  true,
			Undo:  say.Text("prepare.dyno-coupling-fan-back-as"),
		},
		places: []string{"dyno"},
	},
	{Task: Task{ID: "warm", Words: say.Text("prepare.run-working-temperature-then-stopped")}, hot: true},
	{Task: Task{ID: "hot", Words: say.Text("prepare.exhaust-plugs-hot-wear-gloves"), Safe: true}, hot: true},
	{Task: Task{ID: "lash", Words: say.Text("prepare.valve-lash-cam-timing-right")}, kinds: []string{log.FourStroke}},
	{Task: Task{ID: "charger", Words: say.Text("prepare.charger-or-second-battery-v",
		"batteryFull", rules.BatteryFull,
	), Undo: say.Text("prepare.charger-off")}},
	{
		Task: Task{
			ID:    "fuel-pump",
			Words: say.Text("prepare.fuel-off-pump-fuse-or"),
			Safe:  true,
			Undo:  say.Text("prepare.injectors-plugged-pump-fuse-or"),
		},
		fuelling: "injection",
		notFuels: noSpark,
	},
	{
		Task: Task{
			ID:    "fuel-line",
			Words: say.Text("prepare.fuel-off-line-off-carburettor"),
			Safe:  true,
			Undo:  say.Text("prepare.fuel-line-back-tight"),
		},
		fuelling: "carburettor",
		notFuels: noSpark,
	},
	{
		Task: Task{
			ID:    "stop-solenoid",
			Words: say.Text("prepare.fuel-off-stop-solenoid-or"),
			Safe:  true,
			Undo:  say.Text("prepare.stop-solenoid-or-pump-plugged"),
		},
		fuels: noSpark,
	},
	{
		Task: Task{
			ID:    "ignition",
			Words: say.Text("prepare.spark-off-coils-or-distributor"),
			Safe:  true,
			Undo:  say.Text("prepare.coils-leads-back-each-own"),
		},
		notFuels: noSpark,
	},
	{
		Task:  Task{ID: "glow", Words: say.Text("prepare.glow-plugs-out-kept-order"), Undo: say.Text("prepare.glow-plugs-back-order")},
		fuels: noSpark,
	},
	{
		Task: Task{
			ID:    "plugs",
			Words: say.Text("prepare.plugs-out-kept-order-wells"),
			Safe:  true,
			Undo:  say.Text("prepare.plugs-back-order-hand-first"),
		},
		notFuels: noSpark,
		kinds:    []string{log.FourStroke, log.TwoStroke},
	},
	{
		Task: Task{
			ID:    "one-plug",
			Words: say.Text("prepare.one-plug-out-each-rotor"),
			Undo:  say.Text("prepare.plugs-back-leading-trailing"),
		},
		kinds: []string{log.Rotary},
	},
	{
		Task: Task{
			ID:    "ducting",
			Words: say.Text("prepare.ducting-off-intake-nothing-loose"),
			Undo:  say.Text("prepare.ducting-back-no-rag-left"),
		},
		inducted: []string{"turbo", "supercharged"},
	},
	{
		Task: Task{
			ID: "throttle", Words: say.Text("prepare.throttle-wide-open-held-closed"), Undo: say.Text("prepare.throttle-let-go-free"),
		},
		notFuels: noSpark,
	},
	{Task: Task{ID: "clear", Words: say.Text("prepare.nothing-intake-or-exhaust-hands"), Safe: true}},
	{Task: Task{ID: "starter", Words: say.Text("prepare.starter-short-bursts-with-time"), Safe: true}},
	{Task: Task{ID: "gauge", Words: say.Text("prepare.gauge-hand-tight-o-ring"), Undo: say.Text("prepare.adapters-counted-none-left-head")}},
}

// Before returns the list that fits the engine, where it stands, and the temperature it is to be tested at.
func Before(e log.Engine, place, temp string) []Task {
	list := []Task{}
	fuelling := e.Fuelling
	if fuelling == "" {
		fuelling = usual(e)
	}
	fuel := e.Fuel
	if fuel == "" {
		fuel = "petrol"
	}
	fits := func(want []string, have string) bool { return len(want) == 0 || slices.Contains(want, have) }
	for _, r := range before {
		if fits(r.fuels, fuel) && !slices.Contains(r.notFuels, fuel) && (r.fuelling == "" || r.fuelling == fuelling) &&
			fits(r.duties, e.Duty) && !slices.Contains(r.notDuty, e.Duty) &&
			(place == "" && len(r.places) == 0 || fits(r.places, place)) && fits(r.kinds, e.Kind) && fits(r.inducted, e.Induction) && (!r.hot || temp == "hot") {
			list = append(list, r.Task)
		}
	}
	return list
}

// usual is how an engine is fuelled if nobody said it.
func usual(e log.Engine) string {
	if e.Kind == log.TwoStroke || e.Duty == "kart" {
		return "carburettor"
	}
	return "injection"
}

// undo is how a put-back tick is told from the tick of the task itself.
const undo = "back:"

// After returns the put-back list, last off first on: what was ticked before the test, and then what it takes off that nobody ticked;
// with new plugs where the old were bad.
func After(list []Task, ticks []string, badPlugs []int) []Task {
	var said, unsaid []Task
	for _, t := range slices.Backward(list) {
		if t.Undo == "" {
			continue
		}
		words := t.Undo
		if t.ID == "plugs" && len(badPlugs) > 0 {
			words = say.Text("prepare.new-plugs-were-bad-change", "badPlugs", log.Join(badPlugs, ", "))
		}
		if slices.Contains(ticks, t.ID) {
			said = append(said, Task{ID: undo + t.ID, Words: words})
		} else {
			unsaid = append(unsaid, Task{ID: undo + t.ID, Words: words, Unsaid: true})
		}
	}
	return slices.Concat([]Task{}, said, unsaid)
}

// BadPlugs returns the cylinders whose plug was found other than good.
func BadPlugs(s log.Session) []int {
	var bad []int
	for _, o := range s.Observations {
		if o.What == "plug" && o.Cylinder > 0 && o.Finding != "" && !slices.Contains(good, o.Finding) && !slices.Contains(bad, o.Cylinder) {
			bad = append(bad, o.Cylinder)
		}
	}
	slices.Sort(bad)
	return bad
}

var good = []string{"tan", "grey"}

// notOf are findings that a kind of engine cannot have: it has no such part.
var notOf = map[string][]string{
	log.Rotary: {
		"burnt valve", "hone marks seen", "piston damage", "cam marks in line", "cam marks a tooth out", "chipped reed", "grown shut",
		"crankcase leaks", "stops short", "as the others", "lift lost", "right", "tight", "loose",
	},
	log.TwoStroke:  {"burnt valve", "cam marks in line", "cam marks a tooth out", "lift lost", "right", "tight", "loose"},
	log.FourStroke: {"chipped reed", "grown shut", "crankcase leaks"},
}

// noSump are the kinds of engine whose oil goes through with the fuel: there is none to look at.
var noSump = []string{log.TwoStroke}

// WordsFor returns the usual findings on a kind of engine, by what was looked at; what it has none of is left out.
func WordsFor(kind string) map[string][]string {
	all := map[string][]string{}
	for what, words := range Words {
		fit := slices.DeleteFunc(slices.Clone(words), func(w string) bool { return slices.Contains(notOf[kind], w) })
		if len(fit) > 0 && (what != "oil" || !slices.Contains(noSump, kind)) {
			all[what] = fit
		}
	}
	return all
}

// Words are the usual findings to choose from, by what was looked at; the first is the good one.
var Words = map[string][]string{
	"plug":         {"tan", "grey", "white", "sooty", "oily", "wet with fuel", "broken", "wrong type"},
	"coil":         {"good", "cracked", "burnt"},
	"borescope":    {"clean", "hone marks seen", "scored wall", "burnt valve", "piston damage", "carbon", "something in it"},
	"oil":          {"clean", "milky", "smells of fuel", "glitter", "low"},
	"coolant":      {"clean", "oil in it", "low", "bubbles when cranked"},
	"lash":         {"right", "tight", "loose", "lift lost"},
	"stroke-marks": {"as the others", "stops short"},
	"other":        {"cam marks in line", "cam marks a tooth out"},
	"ports":        {"dry", "oily", "one wet", "chipped reed", "grown shut", "crankcase leaks"},
}
