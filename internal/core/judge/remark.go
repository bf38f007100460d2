package judge

import (
	"fmt"

	"braxel/internal/core/rules"
	"braxel/internal/core/wheel"
)

// remark says in one line, while the gauge is still on the engine, what contradicts itself, why that may be, and what to do; "" where
// nothing does.
func remark(on *subject, s Session, now map[int]figure) string {
	for _, c := range s.Cylinders {
		if f := now[c.Cylinder]; f.hisses() && f.attempts == 1 {
			return fmt.Sprintf(
				"Air at the plug hole of %s: the tester's own seal leaks. Screw it in anew, and repeat.",
				on.called(c.Cylinder),
			)
		}
		name := on.called(c.Cylinder)
		f, doubted := named(c.Facts, PullDoubted)
		once, alone := named(c.Facts, PullOnce)
		if alone {
			f = once
		}
		if doubted || alone {
			if f.Value <= 0 {
				return fmt.Sprintf("The pulls of %s do not agree: pull it once more.", name)
			}
			return fmt.Sprintf("%s reads %.0f %% low by itself: is the gauge screwed home? Pull it once more.", name, f.Value)
		}
		if f, ok := named(c.Facts, LeakDoubted); ok {
			return fmt.Sprintf("%s leaks %.0f points more, and compression denies it: dirt on a seat, or TDC missed? "+
				"Once more: %s, and repeat.", name, f.Value, wheel.TurnThrough(on.engine))
		}
		if f, ok := named(c.Facts, LeakOnce); ok {
			return fmt.Sprintf("%s leaks %.0f points more by one reading: %s, and repeat.",
				name, f.Value, wheel.TurnThrough(on.engine))
		}
	}
	if f, ok := named(s.Facts, Sank); ok {
		return fmt.Sprintf("Readings sink in the order of reading, %.0f %% so far: the battery? "+
			"Put the charger on, and pull the first again.", f.Value)
	}
	if f, ok := named(s.Facts, Stepped); ok {
		return fmt.Sprintf("From %s on all read otherwise: throttle open? charger on? Pull one of the first again.", on.names(f.Cylinders))
	}
	if f, ok := named(s.Facts, AllMoved); ok && f.Value < -rules.AllLowRemark && s.CommonPct != nil && len(s.Pressures()) > 1 {
		return fmt.Sprintf("All read %.0f %% lower than at the baseline: throttle open? charger on? the same gauge?", -f.Value)
	}
	return ""
}
