package judge

import (
	"slices"

	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// beside says why Braxel differs from the trade's two rules, the lowest within 10 % of the highest and a leak of 15 %,
// where it does.
func beside(on *subject, s Session, d change) string {
	const apart, leaks = rules.SchoolApart, rules.SchoolLeak
	now := reading.Even(s.Pressures())
	uneven, leaky := now.SpreadPctOfHighest > apart, s.worstLeak() >= leaks
	bad, moved := s.atLeast(Watch), d.changed(s.atLeast(Watch))
	_, doubted := named(s.factsOfAll(), LeakDoubted)
	switch {
	case d.first || len(d.each) == 0 || len(account(on, s, d)) > 0:
		return ""
	case len(moved) > 0 && !uneven && !leaky && len(on.order) == 1:
		return say.Text("judge.beside-single", "leaks", leaks)
	case len(moved) > 0 && !uneven && !leaky:
		return say.Text("judge.beside-two-rules",
			"n", len(moved), "spread", now.SpreadPctOfHighest, "leaks", leaks, "who", on.engine.Nouns(len(moved))+" "+on.names(moved),
		)
	case len(bad) == 0 && leaky && doubted:
		return say.Text("judge.beside-doubted", "leak", s.worstLeak())
	case len(bad) == 0 && leaky && always(s, d, leaks):
		return say.Text("judge.beside-always", "leak", s.worstLeak())
	}
	return ""
}

// always reports whether every cylinder that leaks so much has leaked about as much since its baseline.
func always(s Session, d change, leaks float64) bool {
	return !slices.ContainsFunc(s.Cylinders, func(c Cylinder) bool {
		e := d.of(c.Cylinder)
		return c.Leak != nil && *c.Leak >= leaks && (e.NoBaseLeak || e.Rise >= rules.WorthRepeat)
	})
}
