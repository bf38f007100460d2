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
			return say.Text("judge.remark-seal", "called", on.called(c.Cylinder))
		}
		name := on.called(c.Cylinder)
		f, doubted := named(c.Facts, PullDoubted)
		once, alone := named(c.Facts, PullOnce)
		if alone {
			f = once
		}
		if doubted || alone {
			if f.Value <= 0 {
				return say.Text("judge.remark-apart", "name", name)
			}
			return say.Text("judge.remark-low", "name", name, "value", f.Value)
		}
		if f, ok := named(c.Facts, LeakDoubted); ok {
			return say.Text("judge.remark-leak-doubted",
				"name", name,
				"value", f.Value,
				"turnThrough", say.Capital(wheel.TurnThrough(on.engine)),
			)
		}
		if f, ok := named(c.Facts, LeakOnce); ok {
			return say.Text("judge.remark-leak-once",
				"name", name,
				"value", f.Value,
				"turnThrough", say.Capital(wheel.TurnThrough(on.engine)),
			)
		}
	}
	if f, ok := named(s.Facts, TakenOff); ok {
		return say.Text("judge.remark-taken-off", "n", len(f.Cylinders), "who", on.those(f.Cylinders), "value", f.Value)
	}
	if f, ok := named(s.Facts, Sank); ok {
		return say.Text("judge.remark-sinking", "value", f.Value)
	}
	if f, ok := named(s.Facts, Stepped); ok {
		return say.Text("judge.remark-step", "names", on.names(f.Cylinders))
	}
	if f, ok := named(s.Facts, AllMoved); ok && f.Value < -rules.AllLowRemark && s.CommonPct != nil && len(s.Pressures()) > 1 {
		return say.Text("judge.remark-all-low", "value", -f.Value)
	}
	return ""
}
