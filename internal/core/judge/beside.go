package judge

import (
	"fmt"
	"slices"

	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
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
	case d.first || len(d.each) == 0 || len(account(on, d)) > 0:
		return ""
	case len(moved) > 0 && !uneven && !leaky && len(on.order) == 1:
		return fmt.Sprintf("By the rule of a %.0f %% leak all is well. Braxel holds the cylinder against its own baseline, "+
			"and it is no longer what it was.", leaks)
	case len(moved) > 0 && !uneven && !leaky:
		is := "is no longer what it was"
		if len(moved) > 1 {
			is = "are no longer what they were"
		}
		return fmt.Sprintf(
			"By the trade's two rules all is well: the lowest stands %.1f %% below the highest, and no leak reaches %.0f %%. "+
				"Braxel holds each cylinder against its own baseline, and %s %s.",
			now.SpreadPctOfHighest,
			leaks,
			on.names(moved),
			is,
		)
	case len(bad) == 0 && leaky && doubted:
		return fmt.Sprintf("A leak of %.0f %% fails any school. Braxel waits for a repeat: compression would have shown it.", s.worstLeak())
	case len(bad) == 0 && leaky && always(s, d, leaks):
		return fmt.Sprintf("A leak of %.0f %% is much by the street's school. This engine has leaked about as much since its baseline.",
			s.worstLeak())
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
