package judge

import (
	"fmt"
	"slices"

	"braxel/internal/core/log"
)

// caveats says what makes a session unlike every session of the baseline: plugs, heat, throttle, gauge, piston. Figures
// are still compared where there is nothing better, but never without saying so.
func caveats(s log.Session, base []log.Session, l log.Log) []string {
	if len(base) == 0 {
		return nil
	}
	var all []string
	differs := func(of func(log.Session) string) (now, then string, yes bool) {
		now = of(s)
		for _, b := range base {
			if then = of(b); now == "" || then == "" || now == then {
				return now, then, false
			}
		}
		return now, then, true
	}
	if now, then, yes := differs(func(s log.Session) string { return s.Conditions.PlugsOut }); yes {
		all = append(all, fmt.Sprintf("The plugs were out %s, in the baseline %s: readings of the two are not alike.", plugs[now], plugs[then]))
	}
	if now, then, yes := differs(func(s log.Session) string { return s.Conditions.EngineTemp }); yes {
		all = append(all, fmt.Sprintf("The engine was %s, in the baseline %s: a cold one reads lower, and leaks more.", now, then))
	}
	if now, _, yes := differs(func(s log.Session) string { return s.Conditions.Throttle }); yes {
		all = append(all, fmt.Sprintf("The throttle was %s, and was not in the baseline: closed it costs a fifth.", now))
	}
	if now, then, yes := differs(gauge); yes {
		all = append(all, fmt.Sprintf("Read on %s, the baseline on %s: gauges differ by 10 %% and more.", nameOf(l, now), nameOf(l, then)))
	}
	if now, then, yes := differs(position); yes {
		all = append(all, fmt.Sprintf("Leak-down was done %s, in the baseline %s.", positions[now], positions[then]))
	}
	return all
}

var (
	plugs     = map[string]string{"all": "all together", "one": "one at a time"}
	positions = map[string]string{"tdc": "at TDC", "bdc": "at the bottom", "swept": "swept through TDC"}
)

// gauge returns the id of the compression tester that the session was read on, "" where there were several.
func gauge(s log.Session) string {
	var ids []string
	for _, row := range s.Compression {
		if row.Mode == log.Dry && !slices.Contains(ids, row.Tester) {
			ids = append(ids, row.Tester)
		}
	}
	if len(ids) != 1 {
		return ""
	}
	return ids[0]
}

func position(s log.Session) string {
	if len(s.Leakdown) == 0 {
		return ""
	}
	return s.Leakdown[len(s.Leakdown)-1].Position
}

func nameOf(l log.Log, id string) string {
	if t, ok := l.Tester(id); ok && t.Name != "" {
		return "the " + t.Name
	}
	return "gauge " + id
}
