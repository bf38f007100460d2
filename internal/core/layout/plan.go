package layout

import (
	"math"
	"slices"

	"braxel/internal/core/say"
)

// Step is one stop of the crank on its way through the firing order. Companions are at the top of their stroke at the
// same crank angle: on overlap in a four-stroke, so both their valves are a little open.
type Step struct {
	Cylinder   int     `json:"cylinder"`
	Turn       float64 `json:"turn_deg" doc:"Crank degrees from the step before"`
	Crank      float64 `json:"crank_deg" doc:"Where the mark stands on the pulley, from the first cylinder's"`
	Cycle      float64 `json:"cycle_deg" doc:"Crank degrees since the first cylinder's TDC"`
	Companions []int   `json:"companions,omitempty"`
}

// ErrNoOrder is what Plan answers without a firing order.
var ErrNoOrder = say.Error("layout.firing-order-enter-firing-order")

// Plan returns the stops for setting each cylinder to TDC of its compression stroke, in firing order. Intervals are
// the crank degrees from each cylinder to the next, the last one back to the first; none means even firing over the
// cycle (720° in a four-stroke, 360° in a two-stroke).
func Plan(order []int, intervals []float64, cycle float64) ([]Step, error) {
	if len(order) == 0 {
		return nil, ErrNoOrder
	}
	if len(intervals) == 0 {
		intervals = slices.Repeat([]float64{cycle / float64(len(order))}, len(order))
	}
	if len(intervals) != len(order) {
		return nil, say.Error("layout.intervals-deg-intervals-for-cylinders", "n", len(intervals), "n2", len(order))
	}
	if sum := total(intervals); math.Abs(sum-cycle) > 1 {
		return nil, say.Error("layout.intervals-deg-they-add-up", "sum", sum, "cycle", cycle)
	}
	steps := make([]Step, len(order))
	at := 0.0
	for i, c := range order {
		if slices.Contains(order[:i], c) {
			return nil, say.Error("layout.firing-order-cylinder-twice", "c", c)
		}
		steps[i] = Step{Cylinder: c, Cycle: at, Crank: math.Mod(at, 360)}
		if i > 0 {
			steps[i].Turn = intervals[i-1]
		}
		at += intervals[i]
	}
	for i := range steps {
		for j := range steps {
			apart := math.Abs(steps[i].Crank - steps[j].Crank)
			if i != j && math.Min(apart, 360-apart) < 0.5 {
				steps[i].Companions = append(steps[i].Companions, steps[j].Cylinder)
			}
		}
	}
	return steps, nil
}

func total(v []float64) float64 {
	sum := 0.0
	for _, x := range v {
		sum += x
	}
	return sum
}
