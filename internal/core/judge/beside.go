package judge

import (
	"fmt"
	"math"
	"slices"

	"braxel/internal/core/reading"
)

// beside says why Braxel differs from the trade's two rules, the lowest within 10 % of the highest and a leak of 15 %,
// where it does.
func (h *history) beside(s Session, d change) string {
	const apart, leaks = 10.0, 15.0
	now, then := reading.Even(s.Pressures()), reading.Even(h.baselines())
	uneven, leaky := now.SpreadPctOfHighest > apart, s.worstLeak() >= leaks
	bad := cylinders(s.bad())
	switch {
	case d.first || len(d.each) == 0:
		return ""
	case h.anyChanged(bad) && !uneven && !leaky && len(h.order) == 1:
		return fmt.Sprintf("By the rule of a %.0f %% leak all is well. Braxel holds the cylinder against its own baseline, and it is no longer what it was.", leaks)
	case h.anyChanged(bad) && !uneven && !leaky:
		return fmt.Sprintf("By the trade's two rules all is well: the lowest stands %.1f %% below the highest, and no leak reaches %.0f %%. Braxel holds each cylinder against its own baseline, and %s is no longer what it was.", now.SpreadPctOfHighest, leaks, list(bad))
	case len(bad) == 0 && uneven && then.SpreadPctOfHighest > 0:
		return fmt.Sprintf("The 10 %% rule calls it uneven: the lowest stands %.1f %% below the highest. At the baseline it stood %.1f %% below, and it has not moved since.", now.SpreadPctOfHighest, then.SpreadPctOfHighest)
	case len(bad) == 0 && leaky && s.State == Retest:
		return fmt.Sprintf("A leak of %.0f %% fails any school. Braxel waits for a repeat: compression would have shown it.", s.worstLeak())
	case len(bad) == 0 && leaky:
		return fmt.Sprintf("A leak of %.0f %% is much by the street's school. This engine has leaked about as much since its baseline.", s.worstLeak())
	}
	return ""
}

// baselines returns what each cylinder read at the baseline, at sea level, in the layout's order.
func (h *history) baselines() []float64 {
	var all []float64
	for _, c := range h.order {
		if b := h.base[c]; b != nil && b.n > 0 {
			all = append(all, math.Exp(b.sum/b.n))
		}
	}
	return all
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
