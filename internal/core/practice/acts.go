package practice

import (
	"slices"

	"braxel/internal/core/bench"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// Act is something that is done to an engine beside its readings. Cylinder is 0 for what is done to all of it.
type Act struct {
	What     string  `json:"what" enum:"listen,oil,snap,warm,gauge,throttle,charger,tdc,borescope,coolant,cam-marks,piston-height,lash"`
	Cylinder int     `json:"cylinder,omitzero"`
	Where    string  `json:"where,omitzero" enum:",crankcase,intake,exhaust,coolant,neighbour,plug_hole" doc:"Where to listen"`
	At       string  `json:"at,omitzero" doc:"When it was done"`
	Minutes  float64 `json:"minutes,omitzero" doc:"Minutes it took"`
	Says     string  `json:"says,omitzero" doc:"What was seen or heard"`
	Level    int     `json:"level,omitzero" doc:"How loud, 0 to 3"`
}

// acted is what an Act came to: the engine, what is on the gauge, and what is to be written on the sheet.
type acted struct {
	State bench.State
	Act   Act
	Look  *log.Observation
	True  bool // the gauge is another, and a true one
	Found bool // the dead centre was sought anew
}

// The places at which one listens, as one says them.
var placeWords = map[string]string{
	log.Crankcase: say.Text("practice.at-oil-filler"),
	log.Intake:    say.Text("practice.at-intake"),
	log.Exhaust:   say.Text("practice.at-tailpipe"),
	log.Coolant:   say.Text("practice.at-radiators-neck"),
	log.Neighbour: say.Text("practice.at-neighbours-plug-hole"),
	log.PlugHole:  say.Text("practice.at-own-plug-hole"),
}

// how loud air is, in words; of a radiator it is bubbles.
var (
	hisses = []string{
		say.Text("practice.nothing"),
		say.Text("practice.faint-hiss"),
		say.Text("practice.clear-hiss"),
		say.Text("practice.strong-blow-air"),
	}
	bubbles = []string{
		say.Text("practice.nothing-moves"),
		say.Text("practice.bubble-now-then"),
		say.Text("practice.bubbles-one-after-other"),
		say.Text("practice.boils-over-with-bubbles"),
	}
)

// act does something to an engine.
func act(c Course, l Lesson, e *bench.Engine, s bench.State, air bool, a Act) (acted, error) {
	minutes, ok := c.Minutes[a.What]
	if !ok || slices.Contains([]string{"pull", "leakdown"}, a.What) {
		return acted{}, say.Error("practice.what-not-something-you-can", "what", a.What)
	}
	out := acted{State: s}
	a.Minutes = minutes
	at := e.Place(a.Cylinder)
	one := slices.Contains([]string{"listen", "oil", "snap", "tdc", "borescope", "piston-height", "lash"}, a.What)
	if one && !e.Spec.Engine.Has(at) {
		return acted{}, say.Error("practice.cylinder-engine-has-no", "cylinder", a.Cylinder)
	}
	if !one {
		a.Cylinder = 0
	}
	has := func(kinds ...string) bool { // the cylinder that is looked at, or any where all are
		return slices.ContainsFunc(l.Faults, func(f bench.Fault) bool {
			return slices.Contains(kinds, f.Kind) && (f.Cylinder == 0 || a.Cylinder == 0 || f.Cylinder == a.Cylinder)
		})
	}
	switch a.What {
	case "listen":
		a.Says, a.Level = listen(e, s, air, a)
	case "oil":
		out.State = e.PutOil(s, at, 5)
		a.Says = say.Text("practice.teaspoon-oil", "cylinder", a.Cylinder)
	case "snap":
		out.State = e.Snap(s, at)
		a.Says = say.Text("practice.valves-were-snapped-with-mallet", "cylinder", a.Cylinder)
	case "warm":
		out.State = s.Warm()
		a.Says = say.Text("practice.ran-until-oil-was-hot")
		if !runs(l) {
			a.Says = say.Text("practice.ran-until-oil-was-hot-2")
		}
	case "gauge":
		out.True = true
		a.Says = say.Text("practice.other-gauge-was-checked-month")
	case "throttle":
		a.Says = say.Text("practice.throttle-wide-open")
		if s.Shut {
			a.Says = say.Text("practice.throttle-was-shut-wide-open")
		}
		out.State.Shut = false
	case "charger":
		a.Says = say.Text("practice.battery-was-at-v-charger", "volts", s.Battery.Volts())
		out.State = s.Charge()
	case "tdc":
		out.Found = true
		a.Says = say.Text("practice.at-tdc-found-with-rod", "cylinder", a.Cylinder)
	case "borescope":
		out.Look = &log.Observation{What: "borescope", Place: at, Finding: "clean"}
		a.Says = say.Text("practice.clean-inside", "cylinder", a.Cylinder)
		switch {
		case has(bench.ExhaustValve, bench.IntakeValve):
			out.Look.Finding, a.Says = "burnt valve", say.Text("practice.valve-has-pale-burnt-edge", "cylinder", a.Cylinder)
		case has(bench.RingsBore):
			out.Look.Finding, a.Says = "scored wall", say.Text("practice.wall-scored-from-top-bottom", "cylinder", a.Cylinder)
		case has(bench.Piston):
			out.Look.Finding, a.Says = "piston damage", say.Text("practice.crown-broken-at-edge", "cylinder", a.Cylinder)
		}
	case "coolant":
		out.Look = &log.Observation{What: "coolant", Finding: "clean"}
		a.Says = say.Text("practice.coolant-clear-still-while-cranks")
		if has(bench.GasketWater) {
			out.Look.Finding, a.Says = "bubbles when cranked", say.Text("practice.bubbles-come-up-neck-while")
		}
	case "cam-marks":
		out.Look = &log.Observation{What: "other", Finding: "cam marks in line"}
		a.Says = say.Text("practice.marks-line-up")
		if has(bench.CamTiming) {
			out.Look.Finding, a.Says = "cam marks a tooth out", say.Text("practice.marks-tooth-out")
		}
	case "piston-height":
		out.Look = &log.Observation{What: "stroke-marks", Place: at, Finding: "as the others"}
		a.Says = say.Text("practice.comes-up-as-far-as", "cylinder", a.Cylinder)
		if has(bench.BentRod) {
			out.Look.Finding = "stops short"
			a.Says = say.Text("practice.stops-short-others-mm",
				"cylinder", a.Cylinder,
				"sizeOf", sizeOf(l, bench.BentRod),
			)
		}
	case "lash":
		out.Look = &log.Observation{What: "lash", Place: at, Finding: "right"}
		a.Says = say.Text("practice.lash-right-valves-lift-as", "cylinder", a.Cylinder)
		if has(bench.CamLobe) {
			out.Look.Finding, a.Says = "lift lost", say.Text("practice.intake-valve-hardly-lifts-lobe", "cylinder", a.Cylinder)
		}
	}
	out.Act = a
	return out, nil
}

// listen says what is heard at a place while there is air on a cylinder.
func listen(e *bench.Engine, s bench.State, air bool, a Act) (says string, level int) {
	words, ok := placeWords[a.Where]
	if !ok {
		return say.Text("practice.where-do-you-want-listen"), 0
	}
	if !air {
		return say.Text("practice.nothing-no-air", "words", words), 0
	}
	for _, p := range e.Heard(s, e.Place(a.Cylinder)) {
		if p.Where == a.Where {
			level = max(level, p.Level)
			if p.Where == log.Neighbour {
				words = say.Text("practice.at-plug-hole", "cylinder", p.Cylinder)
			}
		}
	}
	told := hisses[level]
	if a.Where == log.Coolant {
		told = bubbles[level]
	}
	return words + ": " + told + ".", level
}

func sizeOf(l Lesson, kind string) float64 {
	for _, f := range l.Faults {
		if f.Kind == kind {
			return f.Size
		}
	}
	return 0
}

// runs reports whether the engine may be run.
func runs(l Lesson) bool {
	return !slices.ContainsFunc(l.Faults, func(f bench.Fault) bool { return !runsWith(f) })
}
