// Package prepare holds the lists before and after a test: what to make ready, what to make safe, what to put back.
package prepare

import (
	"fmt"
	"slices"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// Task is one line of a list. Undo is what has to be put back because of it, with its own tick.
type Task struct {
	ID    string `json:"id"`
	Words string `json:"words"`
	Safe  bool   `json:"safe" doc:"It keeps somebody from harm"`
	Undo  string `json:"undo,omitzero"`
	// Unsaid is a line of the put-back list whose counterpart nobody ticked: it may have come off all the same.
	Unsaid bool `json:"unsaid,omitzero" doc:"Nobody ticked that it was taken off"`
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
}

var noSpark = []string{"diesel"}

// before is the list before a test, in the order in which it is done. A builder may disagree: change the row.
var before = []rule{
	{
		Task: Task{
			ID:    "chocks",
			Words: "Level, in neutral, handbrake on, wheels chocked; stands under a lifted car",
			Safe:  true,
			Undo:  "Chocks away",
		},
		places: []string{"car"},
	},
	{
		Task:   Task{ID: "tied", Words: "Engine tied down on its stand, starter and leads clamped, nothing loose near fuel", Safe: true},
		places: []string{"stand"},
	},
	{
		Task: Task{
			ID:    "first-oil",
			Words: "Level, oil in it and at its mark; where it has stood dry, a few drops on each wall and twice round by hand before the first reading",
		},
		places: []string{"stand"},
		kinds:  []string{log.FourStroke, log.TwoStroke},
	},
	{
		Task:   Task{ID: "loose-starter", Words: fmt.Sprintf("Starter bolted up, leads as thick as a thumb, a battery that holds %g V: a loose one cranks slowly and reads low", rules.BatteryFull), Undo: "Starter and leads off"},
		places: []string{"stand"},
	},
	{
		Task: Task{
			ID:    "released",
			Words: "Dyno brake off and the coupling free to turn by hand, its fan stopped",
			Safe:  true,
			Undo:  "Dyno coupling and fan as they were",
		},
		places: []string{"dyno"},
	},
	{Task: Task{ID: "warm", Words: "Run to working temperature, then stopped"}, hot: true},
	{Task: Task{ID: "hot", Words: "Exhaust and plugs are hot: gloves; the coolant cap stays on until it is cold", Safe: true}, hot: true},
	{Task: Task{ID: "lash", Words: "Valve lash and cam timing right first, else the numbers lie"}, kinds: []string{log.FourStroke}},
	{Task: Task{ID: "charger", Words: fmt.Sprintf("Charger or second battery on: %g V or better for every cylinder", rules.BatteryFull), Undo: "Charger off"}},
	{
		Task: Task{
			ID:    "fuel-pump",
			Words: "Fuel off: pump fuse or relay pulled, injectors unplugged",
			Safe:  true,
			Undo:  "Injectors plugged in, pump fuse or relay back",
		},
		fuelling: "injection",
		notFuels: noSpark,
	},
	{
		Task: Task{
			ID:    "fuel-line",
			Words: "Fuel off: line off the carburettor and stopped",
			Safe:  true,
			Undo:  "Fuel line back on, and tight",
		},
		fuelling: "carburettor",
		notFuels: noSpark,
	},
	{
		Task: Task{
			ID:    "stop-solenoid",
			Words: "Fuel off: stop solenoid or pump unplugged",
			Safe:  true,
			Undo:  "Stop solenoid or pump plugged in",
		},
		fuels: noSpark,
	},
	{
		Task: Task{
			ID:    "ignition",
			Words: "Spark off: coils or distributor unplugged; no flame, no lead sparking near an open hole",
			Safe:  true,
			Undo:  "Coils and leads back, each on its own cylinder",
		},
		notFuels: noSpark,
	},
	{Task: Task{ID: "glow", Words: "Glow plugs out, kept in order", Undo: "Glow plugs back in order"}, fuels: noSpark},
	{
		Task: Task{
			ID:    "plugs",
			Words: "Plugs out, kept in order; wells blown out, washers counted; eyes covered",
			Safe:  true,
			Undo:  "Plugs back in order, by hand first, then to torque",
		},
		notFuels: noSpark,
		kinds:    []string{log.FourStroke, log.TwoStroke},
	},
	{
		Task: Task{
			ID:    "one-plug",
			Words: "One plug of each rotor out, the other stays in; valve out of the gauge",
			Undo:  "Plugs back, leading and trailing",
		},
		kinds: []string{log.Rotary},
	},
	{
		Task: Task{
			ID:    "ducting",
			Words: "Ducting off the intake, and nothing loose near the compressor's wheel",
			Undo:  "Ducting back on, no rag left in it",
		},
		inducted: []string{"turbo", "supercharged"},
	},
	{
		Task:     Task{ID: "throttle", Words: "Throttle wide open and held: closed it costs a fifth", Undo: "Throttle let go, and free"},
		notFuels: noSpark,
	},
	{Task: Task{ID: "clear", Words: "Nothing in intake or exhaust; hands, sleeves and hair clear of belts and fan", Safe: true}},
	{Task: Task{ID: "starter", Words: "Starter in short bursts, with time to cool between; no loose lead near fuel", Safe: true}},
	{Task: Task{ID: "gauge", Words: "Gauge hand-tight on its ring, needle at zero", Undo: "Adapters counted: none left in the head"}},
}

// Before returns the list that fits the engine, where it stands, and the temperature it is to be tested at.
func Before(e log.Engine, place, temp string) []Task {
	list := []Task{}
	fuelling := e.Fuelling
	if fuelling == "" {
		fuelling = "injection"
	}
	fuel := e.Fuel
	if fuel == "" {
		fuel = "petrol"
	}
	fits := func(want []string, have string) bool { return len(want) == 0 || slices.Contains(want, have) }
	for _, r := range before {
		if fits(r.fuels, fuel) && !slices.Contains(r.notFuels, fuel) && (r.fuelling == "" || r.fuelling == fuelling) &&
			(place == "" && len(r.places) == 0 || fits(r.places, place)) && fits(r.kinds, e.Kind) && fits(r.inducted, e.Induction) && (!r.hot || temp == "hot") {
			list = append(list, r.Task)
		}
	}
	return list
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
			words = "New plugs in (" + log.Join(badPlugs, ", ") + " were bad; change the set), by hand first, then to torque"
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
