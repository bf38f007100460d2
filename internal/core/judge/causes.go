package judge

import (
	"fmt"
	"math"
	"slices"
	"sync"

	"braxel/internal/core/cause"
	"braxel/internal/core/log"
)

// causes weighs what may be wrong. Cylinders that changed lead; else a shift of the whole engine; else nothing.
func (h *history) causes(out *Session, s log.Session, now map[int]figure, d change, bad []int) {
	retest := slices.DeleteFunc(slices.Clone(out.Cylinders), func(c Cylinder) bool { return c.State != Retest })
	fresh := s.Stage == "pre-install" || s.Stage == "after-running"
	engine := func(c cause.Cause) bool {
		return c.Scope == "engine" && c.Cause != "healthy" && (fresh || c.Cause != "not_bedded")
	}
	alike := h.allAlike(*out, bad)
	switch {
	case alike && !d.fell():
		// All fall short of what is fixed, and none by itself.
		out.Causes = h.table.Weigh([]string{"low-from-start"}, nil, engine)
	case len(bad) > 0 && !alike:
		where := []int{h.worst(bad, d)}
		if two := pairs(h.log.Engine.Layout, bad); len(two) >= 2 && h.alike(two) {
			where = two
		}
		out.Causes = h.table.Weigh(h.found(where, s, now, d), where, func(c cause.Cause) bool {
			return (c.Scope == "cylinder" && c.Cause != "seat_dirt") || (c.Scope == "pair" && len(where) > 1)
		})
	case d.fell():
		out.Causes = h.table.Weigh(h.foundInAll(s, now, d), nil, func(c cause.Cause) bool {
			return engine(c) && (d.unexplained() || c.Cause == "tester" || c.Cause == "conditions")
		})
		// What moved all is the engine's own only where the gauge and the conditions are the less likely.
		if top := out.Causes[0].Cause; top == "cam_timing" || top == "even_wear" {
			out.State = Worse(out.State, Watch)
			for i := range out.Cylinders {
				c := &out.Cylinders[i]
				c.State = Worse(c.State, Watch)
				c.Why = append(c.Why, fmt.Sprintf("it fell with all the others, by %.0f %%", -percent(d.common)))
			}
		}
	case len(retest) > 0:
		where := []int{retest[0].Cylinder}
		out.Causes = h.table.Weigh(append(h.placed(where, now), "even", "jump"), where, func(c cause.Cause) bool { return c.Scope == "cylinder" })
	default:
		out.Causes = unmoved()
		return
	}
	if next, ok := h.next(*out, s, now, d, bad, len(retest) > 0); ok {
		out.Next = &Next{Test: next.Test, Words: next.Words, Step: next.Step, Cylinders: out.Causes[0].Cylinders,
			Why: fmt.Sprintf("%.0f minutes: %s", next.Minutes, next.Tells)}
	}
}

// next picks the test that would settle most for its time, of those that can be done and have not been.
func (h *history) next(out Session, s log.Session, now map[int]figure, d change, bad []int, doubted bool) (cause.Test, bool) {
	piston, top := h.log.Engine.Kind != log.Rotary, out.Causes[0]
	fresh := false
	if len(bad) > 0 && len(top.Cylinders) > 0 {
		c := top.Cylinders[0]
		fresh = now[c].attempts == 1 && h.belief[c].Leaking > h.belief[c].Short && !h.known[c] && !d.low(c)
	}
	switch {
	case piston && (doubted || fresh):
		// Nothing is opened for one reading of a leak that compression does not bear out.
		return h.table.Named("repeat-leakdown"), true
	case len(bad) == 0 && d.fell() && !d.unexplained():
		return h.table.Named("same-way"), true
	case top.Probability >= settled && top.Mend() != "":
		return cause.Test{}, false
	}
	done := map[string]bool{
		"repeat-leakdown": true,
		"wet":             !piston || h.log.Engine.Fuel == "diesel" || anyOf(now, func(f figure) bool { return f.wetGain != nil }),
		"leakdown":        !piston || anyOf(now, func(f figure) bool { return f.leakSE > 0 }),
		"neighbour-plug":  len(pairs(h.log.Engine.Layout, bad)) < 2,
		"hot-test":        s.Conditions.EngineTemp != "cold" || s.Place == "stand",
		"lash":            h.log.Engine.Kind != log.FourStroke,
		"cam-marks":       h.log.Engine.Kind != log.FourStroke,
		"piston-height":   !piston,
	}
	for _, o := range s.Observations {
		done[o.What] = true
		done["piston-height"] = done["piston-height"] || o.What == "stroke-marks"
	}
	return h.table.Next(out.Causes, done)
}

// settled is the probability of a cause that is to be mended from which no further test is worth its time.
const settled = 0.9

// allAlike reports whether every cylinder is bad and none by a change of its own.
func (h *history) allAlike(s Session, bad []int) bool {
	return len(bad) == len(s.Cylinders) && len(bad) > 1 && !h.anyChanged(bad)
}

func (h *history) anyChanged(bad []int) bool {
	return slices.ContainsFunc(bad, func(c int) bool { return h.belief[c].Changed() >= worth })
}

// unmoved is what an engine that has not moved is weighed as; it is the same each time, and not to be changed.
var unmoved = sync.OnceValue(func() []cause.Weighed {
	return cause.Load().Weigh([]string{"even", "leak-same"}, nil, func(cause.Cause) bool { return true })
})

func anyOf(now map[int]figure, is func(figure) bool) bool {
	for _, f := range now {
		if is(f) {
			return true
		}
	}
	return false
}

// alike reports whether the pair lost about as much.
func (h *history) alike(two []int) bool {
	a, b := h.belief[two[0]], h.belief[two[1]]
	return math.Abs(a.LeakPts-b.LeakPts) < 0.5*math.Max(a.LeakPts, b.LeakPts)+2
}

// worst returns the cylinder that has gone furthest.
func (h *history) worst(bad []int, d change) int {
	return slices.MaxFunc(bad, func(a, b int) int {
		if h.gone(a, d) < h.gone(b, d) {
			return -1
		}
		return 1
	})
}

func (h *history) gone(c int, d change) float64 {
	e := d.each[c]
	return math.Max(0, -percent(e.Compression)) + math.Max(0, e.Leak)
}

// low reports whether a cylinder has clearly lost compression.
func (d change) low(c int) bool {
	e := d.each[c]
	return e.CompressionSE > 0 && e.Compression < -2.5*e.CompressionSE
}

// found returns the findings on the cylinders in question.
func (h *history) found(where []int, s log.Session, now map[int]figure, d change) []string {
	var all []string
	e, b, f := d.each[where[0]], h.belief[where[0]], now[where[0]]
	low := d.low(where[0])
	switch {
	case low && len(where) > 1:
		all = append(all, "neighbours-low")
	case low:
		all = append(all, "one-low")
	case e.CompressionSE > 0:
		all = append(all, "even")
	}
	if e.LeakSE > 0 {
		if b.Leaking > b.Short {
			all = append(all, "leak-up")
		} else {
			all = append(all, "leak-same")
		}
	}
	if e.LeakSE > 0 && b.Leaking > b.Short {
		all = append(all, h.placed(where, now)...)
	}
	if f.wetGain != nil {
		if *f.wetGain > math.Min(oilRoom(h.log.Engine), 9)+3.5 {
			all = append(all, "oil-lifts")
		} else {
			all = append(all, "oil-nothing")
		}
	}
	for _, o := range s.Observations {
		if is := h.table.Seen(o.What, o.Finding); is != "" && (o.Cylinder == 0 || slices.Contains(where, o.Cylinder)) && !slices.Contains(all, is) {
			all = append(all, is)
		}
	}
	return append(all, h.paceOf(where[0])...)
}

// placed returns where the air of the cylinders was heard; the loudest place beside the oil filler counts, and the
// filler alone only where somebody listened.
func (h *history) placed(where []int, now map[int]figure) []string {
	var paths []log.Path
	for _, c := range where {
		paths = append(paths, now[c].paths...)
	}
	if loud, ok := loudest(paths); ok {
		return []string{"at-" + loud.Where}
	}
	if len(paths) > 0 {
		return []string{"at-crankcase"}
	}
	return nil
}

// pace says whether a loss came at once or little by little, from its sizes test by test, where three tests can tell.
func pace(sizes []float64) []string {
	n := len(sizes)
	if n < 3 {
		return nil
	}
	now, step, begun := sizes[n-1], 0.0, 0
	for i, size := range sizes {
		if i > 0 {
			step = math.Max(step, size-sizes[i-1])
		}
		if size > now/6 {
			begun++
		}
	}
	switch {
	case step >= 0.7*now:
		return []string{"sudden"}
	case begun > 2 && step <= 0.55*now:
		return []string{"gradual"}
	}
	return nil
}

// paceOf is the pace of a cylinder, in points of leak and percent of compression together.
func (h *history) paceOf(c int) []string {
	const last = 12
	var sizes []float64
	for _, p := range h.points[c][max(0, len(h.points[c])-last):] {
		sizes = append(sizes, math.Max(0, p.leak)+math.Max(0, p.loss))
	}
	const small = 5.0 // scatter makes steps of its own
	if len(sizes) == 0 || sizes[len(sizes)-1] < small {
		return nil
	}
	return pace(sizes)
}

// fell reports whether all cylinders read lower by one ratio, whatever made it.
func (d change) fell() bool { return d.compared && percent(d.common) < -4 && d.common < -3*d.commonSE }

// unexplained reports whether they read lower than what the way of testing makes.
func (d change) unexplained() bool {
	common, se := d.beyond()
	return d.compared && percent(common) < -4 && common < -3*se
}

// foundInAll returns the findings on an engine that moved as one.
func (h *history) foundInAll(s log.Session, now map[int]figure, d change) []string {
	all := []string{"all-low"}
	if common, _ := d.beyond(); percent(common) < -12.5 {
		all[0] = "all-very-low"
	}
	if d.leakCommon > 3 {
		all = append(all, "leak-up")
	} else if anyOf(now, func(f figure) bool { return f.leakSE > 0 }) {
		all = append(all, "leak-same")
	}
	if s.Stage == "pre-install" {
		all = append(all, "not-bedded")
	}
	for _, u := range d.unlike {
		all = append(all, u.finding)
	}
	if n := len(h.losses); n > 1 && h.losses[n-2] > 0.5*h.losses[n-1] {
		all = append(all, "stays")
	}
	return append(all, pace(h.losses[max(0, len(h.losses)-12):])...)
}
