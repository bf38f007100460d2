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
	table := cause.Load()
	retest := slices.DeleteFunc(slices.Clone(out.Cylinders), func(c Cylinder) bool { return c.State != Retest })
	fits := func(c cause.Cause) bool { return c.Fits(h.log.Engine.Kind) }
	single := func(c cause.Cause) bool { return fits(c) && c.Scope == "cylinder" && c.Cause != "seat_dirt" }
	switch {
	case len(bad) == len(out.Cylinders) && len(bad) > 1 && !h.anyChanged(bad):
		// All fall short of what is fixed, and none by itself.
		out.Causes = table.Weigh([]string{"all-low"}, nil, func(c cause.Cause) bool { return fits(c) && c.Scope == "engine" && c.Cause != "healthy" })
	case len(bad) > 0:
		where := []int{h.worst(bad, d)}
		if two := pairs(h.log.Engine.Layout, bad); len(two) >= 2 && h.alike(two) {
			where = two
		}
		out.Causes = table.Weigh(h.found(where, now, d), where, func(c cause.Cause) bool {
			return single(c) || (fits(c) && c.Scope == "pair" && len(where) > 1)
		})
	case d.fell():
		out.Causes = table.Weigh(h.foundInAll(now, d), nil, func(c cause.Cause) bool {
			return fits(c) && c.Scope == "engine" && c.Cause != "healthy" && (d.unexplained() || c.Cause == "tester" || c.Cause == "conditions")
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
		out.Causes = table.Weigh([]string{"even", "jump"}, []int{retest[0].Cylinder}, func(c cause.Cause) bool { return fits(c) && c.Scope == "cylinder" })
	default:
		out.Causes = unmoved()
		return
	}
	h.next(out, s, now, d, bad, len(retest) > 0)
}

// next picks the test that would settle most for its time, of those that can be done and have not been.
func (h *history) next(out *Session, s log.Session, now map[int]figure, d change, bad []int, doubted bool) {
	cold := s.Conditions.EngineTemp == "cold" && s.Place != "stand"
	done := map[string]bool{
		"wet":      h.log.Engine.Fuel == "diesel" || anyOf(now, func(f figure) bool { return f.wetGain != nil }),
		"leakdown": anyOf(now, func(f figure) bool { return f.leakSE > 0 }),
		// A repeat settles whether a raised leak is dirt, and nothing else; a neighbour's plug, only a pair; heat, a cold test.
		"repeat-leakdown": !doubted && !(len(bad) > 0 && now[bad[0]].attempts == 1 && h.belief[bad[0]].Leaking > h.belief[bad[0]].Short),
		"neighbour-plug":  len(pairs(h.log.Engine.Layout, bad)) < 2,
		"hot-test":        !cold,
		"lash":            h.log.Engine.Kind != log.FourStroke,
		"cam-marks":       h.log.Engine.Kind != log.FourStroke,
	}
	done["repeat-leakdown"] = done["repeat-leakdown"] || !done["leakdown"]
	for _, o := range s.Observations {
		done[o.What] = true
	}
	if next, ok := cause.Load().Next(out.Causes, done); ok {
		out.Next = &Next{Test: next.Test, Words: next.Words, Step: next.Step, Cylinders: out.Causes[0].Cylinders,
			Why: fmt.Sprintf("it tells most for its %.0f minutes: %s", next.Minutes, next.Tells)}
	}
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

// found returns the findings on the cylinders in question.
func (h *history) found(where []int, now map[int]figure, d change) []string {
	var all []string
	e, b, f := d.each[where[0]], h.belief[where[0]], now[where[0]]
	low := e.CompressionSE > 0 && e.Compression < -2.5*e.CompressionSE
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
	return append(all, h.paceOf(where[0])...)
}

// placed returns where the air of the cylinders was heard; the loudest place beside the oil filler counts, and the
// filler alone only where somebody listened.
func (h *history) placed(where []int, now map[int]figure) []string {
	loudest, level, listened := "", 0, false
	for _, c := range where {
		for _, p := range now[c].paths {
			if p.Where == log.Crankcase || p.Where == log.PlugHole {
				continue
			}
			if l := max(p.Level, 1); l > level {
				loudest, level = p.Where, l
			}
		}
		listened = listened || len(now[c].paths) > 0
	}
	switch {
	case loudest != "":
		return []string{"at-" + loudest}
	case listened:
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
	now, step := sizes[n-1], 0.0
	for i := 1; i < n; i++ {
		step = math.Max(step, sizes[i]-sizes[i-1])
	}
	switch {
	case step >= 0.7*now:
		return []string{"sudden"}
	case n > 3 && step <= 0.55*now:
		return []string{"gradual"}
	}
	return nil
}

// paceOf is the pace of a cylinder, in points of leak and percent of compression together.
func (h *history) paceOf(c int) []string {
	var sizes []float64
	for _, p := range h.points[c] {
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
func (h *history) foundInAll(now map[int]figure, d change) []string {
	all := []string{"all-low"}
	if common, _ := d.beyond(); percent(common) < -12.5 {
		all[0] = "all-very-low"
	}
	if d.leakCommon > 3 {
		all = append(all, "leak-up")
	} else if anyOf(now, func(f figure) bool { return f.leakSE > 0 }) {
		all = append(all, "leak-same")
	}
	for _, u := range d.unlike {
		all = append(all, u.finding)
	}
	if n := len(h.losses); n > 1 && h.losses[n-2] > 0.5*h.losses[n-1] {
		all = append(all, "stays")
	}
	return append(all, pace(h.losses)...)
}
