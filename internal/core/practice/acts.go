package practice

import (
	"fmt"
	"slices"

	"braxel/internal/core/bench"
	"braxel/internal/core/log"
)

// Act is something that is done to an engine beside its readings. Cylinder is 0 for what is done to all of it.
type Act struct {
	What     string  `json:"what" enum:"listen,oil,snap,warm,gauge,throttle,charger,tdc,borescope,coolant,cam-marks,piston-height,lash"`
	Cylinder int     `json:"cylinder,omitzero"`
	Where    string  `json:"where,omitzero" enum:",crankcase,intake,exhaust,coolant,neighbour,plug_hole" doc:"Where one listens"`
	At       string  `json:"at,omitzero" doc:"When, by the clock"`
	Minutes  float64 `json:"minutes,omitzero" doc:"That it took"`
	Says     string  `json:"says,omitzero" doc:"What was seen or heard"`
	Level    int     `json:"level,omitzero" doc:"How loud, of what was heard: 0 to 3"`
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
	log.Crankcase: "At the oil filler", log.Intake: "At the intake", log.Exhaust: "At the tailpipe", log.Coolant: "At the radiator's neck",
	log.Neighbour: "At the neighbour's plug hole", log.PlugHole: "At its own plug hole",
}

// how loud air is, in words; of a radiator it is bubbles.
var (
	hisses  = []string{"nothing", "a faint hiss", "a clear hiss", "a strong blow of air"}
	bubbles = []string{"nothing stirs", "a bubble now and then", "bubbles, one after the other", "it boils over with bubbles"}
)

// act does something to an engine.
func act(c Course, l Lesson, e *bench.Engine, s bench.State, air bool, a Act) (acted, error) {
	minutes, ok := c.Minutes[a.What]
	if !ok || slices.Contains([]string{"pull", "leakdown"}, a.What) {
		return acted{}, fmt.Errorf("what: nobody does %q to an engine", a.What)
	}
	out := acted{State: s}
	a.Minutes = minutes
	at := e.Place(a.Cylinder)
	one := slices.Contains([]string{"listen", "oil", "snap", "tdc", "borescope", "piston-height", "lash"}, a.What)
	if one && !e.Spec.Engine.Has(at) {
		return acted{}, fmt.Errorf("cylinder: the engine has no %d", a.Cylinder)
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
		a.Says = fmt.Sprintf("A teaspoon of oil is in %d.", a.Cylinder)
	case "snap":
		out.State = e.Snap(s, at)
		a.Says = fmt.Sprintf("The valves of %d were snapped with a mallet on their springs.", a.Cylinder)
	case "warm":
		out.State = s.Warm()
		a.Says = "It was run until the oil was hot."
		if !runs(l) {
			a.Says = "It was run until the oil was hot; it shook while it did."
		}
	case "gauge":
		out.True = true
		a.Says = "The other gauge is on: one that was checked this month."
	case "throttle":
		a.Says = "The throttle stands wide open."
		if s.Shut {
			a.Says = "The throttle was shut. It is wide open now."
		}
		out.State.Shut = false
	case "charger":
		a.Says = fmt.Sprintf("The battery stood at %.1f V. The charger is on.", s.Battery.Volts())
		out.State = s.Charge()
	case "tdc":
		out.Found = true
		a.Says = fmt.Sprintf("%d stands at its dead centre: sought with a rod, both valves shut.", a.Cylinder)
	case "borescope":
		out.Look = &log.Observation{What: "borescope", Place: at, Finding: "clean"}
		a.Says = fmt.Sprintf("%d is clean inside.", a.Cylinder)
		switch {
		case has(bench.ExhaustValve, bench.IntakeValve):
			out.Look.Finding, a.Says = "burnt valve", fmt.Sprintf("A valve of %d has a pale, eaten edge.", a.Cylinder)
		case has(bench.RingsBore):
			out.Look.Finding, a.Says = "scored wall", fmt.Sprintf("The wall of %d is scored from top to bottom.", a.Cylinder)
		case has(bench.Piston):
			out.Look.Finding, a.Says = "piston damage", fmt.Sprintf("The crown of %d is broken at its edge.", a.Cylinder)
		}
	case "coolant":
		out.Look = &log.Observation{What: "coolant", Finding: "clean"}
		a.Says = "The coolant is clear, and still while it is cranked."
		if has(bench.GasketWater) {
			out.Look.Finding, a.Says = "bubbles when cranked", "While it is cranked, bubbles come up in the neck."
		}
	case "cam-marks":
		out.Look = &log.Observation{What: "other", Finding: "cam marks in line"}
		a.Says = "The marks are in line."
		if has(bench.CamTiming) {
			out.Look.Finding, a.Says = "cam marks a tooth out", "The marks are a tooth out."
		}
	case "piston-height":
		out.Look = &log.Observation{What: "stroke-marks", Place: at, Finding: "as the others"}
		a.Says = fmt.Sprintf("%d comes up as far as the others.", a.Cylinder)
		if has(bench.BentRod) {
			out.Look.Finding = "stops short"
			a.Says = fmt.Sprintf("%d stops short of the others by %.1f mm.", a.Cylinder, sizeOf(l, bench.BentRod))
		}
	case "lash":
		out.Look = &log.Observation{What: "lash", Place: at, Finding: "right"}
		a.Says = fmt.Sprintf("The lash of %d is right, and its valves lift as they should.", a.Cylinder)
		if has(bench.CamLobe) {
			out.Look.Finding, a.Says = "lift lost", fmt.Sprintf("An intake valve of %d hardly lifts: its lobe is round.", a.Cylinder)
		}
	}
	out.Act = a
	return out, nil
}

// listen says what is heard at a place while there is air on a cylinder.
func listen(e *bench.Engine, s bench.State, air bool, a Act) (says string, level int) {
	words, ok := placeWords[a.Where]
	if !ok {
		return "Listen where?", 0
	}
	if !air {
		return words + ": nothing, there is no air on it.", 0
	}
	for _, p := range e.Heard(s, e.Place(a.Cylinder)) {
		if p.Where == a.Where {
			level = max(level, p.Level)
			if p.Where == log.Neighbour {
				words = fmt.Sprintf("At the plug hole of %d", p.Cylinder)
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
