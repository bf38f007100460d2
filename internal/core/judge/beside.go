package judge

import (
	"fmt"
	"slices"

	"braxel/internal/core/reading"
)

// beside says why Braxel differs from the trade's two rules, the lowest within 10 % of the highest and a leak of 15 %,
// where it does.
func (h *history) beside(s Session, d change) string {
	const apart, leaks = 10.0, 15.0
	now := reading.Even(s.Pressures())
	uneven, leaky := now.SpreadPctOfHighest > apart, s.worstLeak() >= leaks
	bad := s.atLeast(Watch)
	switch {
	case d.first || len(d.each) == 0 || len(h.account(d)) > 0:
		return ""
	case d.changed(bad) && !uneven && !leaky && len(h.order) == 1:
		return fmt.Sprintf("By the rule of a %.0f %% leak all is well. Braxel holds the cylinder against its own baseline, and it is no longer what it was.", leaks)
	case d.changed(bad) && !uneven && !leaky:
		return fmt.Sprintf("By the trade's two rules all is well: the lowest stands %.1f %% below the highest, and no leak reaches %.0f %%. Braxel holds each cylinder against its own baseline, and %s is no longer what it was.", now.SpreadPctOfHighest, leaks, h.names(bad))
	case len(bad) == 0 && leaky && s.State == Retest:
		return fmt.Sprintf("A leak of %.0f %% fails any school. Braxel waits for a repeat: compression would have shown it.", s.worstLeak())
	case len(bad) == 0 && leaky:
		return fmt.Sprintf("A leak of %.0f %% is much by the street's school. This engine has leaked about as much since its baseline.", s.worstLeak())
	}
	return ""
}

// changed reports whether any of the cylinders is believed to have changed.
func (d change) changed(bad []int) bool {
	return slices.ContainsFunc(bad, func(c int) bool { return 1-d.of(c).Sound >= worthALook })
}

// Leaks returns the leaks of the session in percent, in the layout's order.
func (s Session) Leaks() []float64 {
	var all []float64
	for _, c := range s.Cylinders {
		if c.Leak != nil {
			all = append(all, *c.Leak)
		}
	}
	return all
}

func (s Session) worstLeak() float64 {
	if all := s.Leaks(); len(all) > 0 {
		return slices.Max(all)
	}
	return 0
}
