package judge

import (
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/wheel"
)

// remark says in one line, while the gauge is still on the engine, what contradicts itself, why that may be, and what to do; "" where
// nothing does.
func remark(on *subject, s Session, now map[int]figure) string {
	for _, c := range s.Cylinders {
		if f := now[c.Cylinder]; f.hisses() && f.attempts == 1 {
			return say.Text("judge.air-at-the-plug-hole", "called", on.called(c.Cylinder))
		}
		name := on.called(c.Cylinder)
		f, doubted := named(c.Facts, PullDoubted)
		once, alone := named(c.Facts, PullOnce)
		if alone {
			f = once
		}
		if doubted || alone {
			if f.Value <= 0 {
				return say.Text("judge.the-pulls-of-do-not", "name", name)
			}
			return say.Text("judge.reads-low-by-itself-is", "name", name, "value", f.Value)
		}
		if f, ok := named(c.Facts, LeakDoubted); ok {
			return say.Text("judge.leaks-points-more-and-compression",
				"name", name,
				"value", f.Value,
				"turnThrough", wheel.TurnThrough(on.engine),
			)
		}
		if f, ok := named(c.Facts, LeakOnce); ok {
			return say.Text("judge.leaks-points-more-by-one",
				"name", name,
				"value", f.Value,
				"turnThrough", wheel.TurnThrough(on.engine),
			)
		}
	}
	if f, ok := named(s.Facts, Sank); ok {
		return say.Text("judge.readings-sink-in-the-order", "value", f.Value)
	}
	if f, ok := named(s.Facts, Stepped); ok {
		return say.Text("judge.from-on-all-read-otherwise", "names", on.names(f.Cylinders))
	}
	if f, ok := named(s.Facts, AllMoved); ok && f.Value < -rules.AllLowRemark && s.CommonPct != nil && len(s.Pressures()) > 1 {
		return say.Text("judge.all-read-lower-than-at", "value", -f.Value)
	}
	return ""
}
