package judge

import (
	"slices"

	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
)

// seenAfter returns what was found on each cylinder, by looking and by oil, once a session has said it. What a fault leaves behind holds until
// the cylinder is repaired; the rest only as long as the cylinder is bad.
func seenAfter(
	on *subject, before map[int][]string, out Session, s log.Session, m mending, now map[int]figure,
) map[int][]string {
	after := map[int][]string{}
	for _, c := range on.order {
		state := out.Of(c).State
		if _, read := now[c]; !read {
			state = Watch // nothing was measured that says otherwise
		}
		var all []string
		if !m.of(c) {
			all = slices.Clone(before[c])
		}
		for _, is := range foundIn(on, c, s, now) {
			all = slices.DeleteFunc(all, func(old string) bool { return old == is || on.table.Findings[old].Against == is })
			all = append(all, is)
		}
		all = slices.DeleteFunc(all, func(is string) bool { return state == Steady && !on.table.Findings[is].Lasting })
		if len(all) > 0 {
			after[c] = all
		}
	}
	return after
}

// oiledAfter returns what oil did to each cylinder that is bad, the latest.
func oiledAfter(on *subject, before map[int]oiled, out Session, now map[int]figure, d change) map[int]oiled {
	after := map[int]oiled{}
	for _, c := range out.atLeast(Retest) {
		if o, ok := oilIn(on, c, now, -percent(d.of(c).Change)); ok {
			after[c] = o
		} else if o, ok := before[c]; ok {
			after[c] = o
		}
	}
	return after
}

// foundIn returns what a session found on a cylinder by looking and by oil.
func foundIn(on *subject, c int, s log.Session, now map[int]figure) []string {
	var all []string
	if f := now[c]; f.wetGain != nil {
		room, _ := gas.OilShare(on.engine, f.oil)
		if reading.WetOf(*f.wetGain, room, wetBeside(c, now)).Seals {
			all = append(all, rules.OilLifts)
		} else {
			all = append(all, rules.OilNothing)
		}
	}
	for _, o := range s.Observations {
		if is := on.table.Seen(o.What, o.Finding); is != "" && (o.Number() == 0 || o.Number() == c) && !slices.Contains(all, is) {
			all = append(all, is)
		}
	}
	return all
}
