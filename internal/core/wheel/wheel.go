// Package wheel says how to turn an engine through its cylinders: the crank wheel.
package wheel

import (
	"slices"

	"braxel/internal/core/gas"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Wheel is the pulley as it is turned for a leak-down test.
type Wheel struct {
	Name     string        `json:"name"`
	About    string        `json:"about"`
	Rotation string        `json:"rotation" enum:"clockwise,anticlockwise" doc:"Rotation, seen from the pulley"`
	Cycle    float64       `json:"cycle_deg"`
	Even     bool          `json:"even"`
	Steps    []layout.Step `json:"steps"`
	Says     []string      `json:"says" doc:"What to do, step by step"`
	Marks    []Mark        `json:"marks" doc:"Where to paint marks, in degrees after the first cylinder's mark"`
	Check    string        `json:"check" doc:"How to tell compression TDC from overlap"`
	Push     string        `json:"push,omitzero" doc:"How hard air turns the crank a little off TDC"`
}

// Mark is one place to paint on the pulley, and the cylinders that stand at TDC there.
type Mark struct {
	Deg       float64 `json:"deg"`
	Cylinders []int   `json:"cylinders"`
}

// ErrNoOrder is what Of answers for an engine without a firing order.
var ErrNoOrder = say.Error("wheel.engine-has-no-firing-order")

// Of returns the crank wheel of an engine. An engine of one cylinder needs no firing order.
func Of(e log.Engine, shown units.Choice) (Wheel, error) {
	order := e.FiringOrder
	if all := e.Cylinders(); len(order) == 0 && len(all) == 1 {
		order = all
	}
	if len(order) == 0 || e.Kind == log.Rotary {
		return Wheel{}, ErrNoOrder
	}
	steps, err := layout.Plan(order, e.FiringIntervals, e.Cycle())
	if err != nil {
		return Wheel{}, err
	}
	w := Wheel{
		Name: e.Name, About: layout.Describe(e, shown), Rotation: e.Rotation, Cycle: e.Cycle(), Even: true, Steps: steps, Marks: []Mark{},
	}
	if w.Rotation == "" {
		w.Rotation = "clockwise"
	}
	for i, s := range steps {
		w.Even = w.Even && (i < 2 || s.Turn == steps[1].Turn)
		w.Says = append(w.Says, Say(e, s, i > 0, w.Rotation))
		at := slices.IndexFunc(w.Marks, func(m Mark) bool { return m.Deg-s.Crank < 0.5 && s.Crank-m.Deg < 0.5 })
		if at < 0 {
			w.Marks = append(w.Marks, Mark{Deg: s.Crank})
			at = len(w.Marks) - 1
		}
		w.Marks[at].Cylinders = append(w.Marks[at].Cylinders, s.Cylinder)
	}
	slices.SortFunc(w.Marks, func(a, b Mark) int { return int(a.Deg - b.Deg) })
	w.Check = say.Text("wheel.tdc-comes-twice-four-strokes")
	if e.Kind == log.TwoStroke {
		w.Check = say.Text("wheel.every-tdc-two-stroke-compression")
	}
	w.Push = Push(e, gas.ReferenceSupply, units.PSI, shown)
	return w, nil
}

// Say tells where to turn to for a step, and how to know that it is the right one of its two top dead centres.
func Say(e log.Engine, s layout.Step, turn bool, rotation string) string {
	words := say.Text("wheel.bring-tdc-compression", "called", e.Called(s.Cylinder))
	if e.Kind == log.TwoStroke {
		words = say.Text("wheel.bring-tdc", "called", e.Called(s.Cylinder))
	}
	if turn {
		words = say.Text("wheel.turn", "turn", s.Turn, "rotation", say.Maybe("wheel.rotation-"+rotation), "called", e.Called(s.Cylinder))
	}
	switch {
	case e.Kind == log.TwoStroke:
		return say.Text("wheel.two-stroke-compresses-every-turn", "words", words)
	case len(s.Companions) == 0:
		return say.Text("wheel.both-valves-shut", "words", words)
	}
	return words + say.Text("wheel.both-valves-shut-overlap", "companions", are(s.Companions))
}

// AtTop says where a cylinder has to stand for its leak-down, and how that is known.
func AtTop(e log.Engine) string {
	if e.Kind == log.TwoStroke {
		return say.Text("wheel.tdc-ports-covered")
	}
	return say.Text("wheel.tdc-compression-both-valves-shut")
}

// TurnThrough says what clears dirt from where a cylinder seals, before its leak-down is repeated.
func TurnThrough(e log.Engine) string {
	if e.Kind == log.TwoStroke {
		return say.Text("wheel.turn-over")
	}
	return say.Text("wheel.turn-over-snap-valves")
}

func are(cylinders []int) string {
	if len(cylinders) == 1 {
		return say.Text("wheel.is", "cylinders", cylinders[0])
	}
	return say.Text("wheel.are", "cylinders", log.Join(cylinders, " and "))
}

// Push says how hard a supply turns the crank 5° off TDC, or "" where the engine's bore, stroke or rod are not known.
func Push(e log.Engine, supply units.Pressure, u units.Unit, shown units.Choice) string {
	c := gas.Cylinder{Bore: e.BoreMM, Stroke: e.StrokeMM, Rod: e.RodMM, Ratio: 2}
	if !(e.BoreMM > 0 && e.StrokeMM > 0) || c.Check() != nil {
		return ""
	}
	_, torque, bar := c.Push(supply, rules.PushOffDeg, rules.PushBarMM)
	return say.Text("wheel.at-with-crank-off-n",
		"supply", supply.Written(shown.PressureOr(u)),
		"pushOffDeg", rules.PushOffDeg,
		"torque", shown.Written(units.Torque, torque),
		"bar", shown.Written(units.Force, bar),
		"length", shown.Written(units.Length, rules.PushBarMM),
	)
}
