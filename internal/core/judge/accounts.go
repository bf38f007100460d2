package judge

import (
	"cmp"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/say"
)

// accountsOf gathers the hypotheses of a visit by their kind.
func accountsOf(all []belief.Hypothesis) []Account {
	var out []Account
	for _, kind := range []belief.Kind{belief.Alike, belief.Sag, belief.Step, belief.Bank} {
		a := Account{Kind: string(kind), Words: say.Text("judge.account-" + string(kind))}
		best := 0.0
		for _, h := range all {
			if h.Kind != kind {
				continue
			}
			a.Weight += h.Weight
			if h.Weight > best {
				best, a.SizePct = h.Weight, percent(h.Size)
			}
		}
		if a.Weight > 0.001 {
			out = append(out, a)
		}
	}
	slices.SortStableFunc(out, func(a, b Account) int { return cmp.Compare(b.Weight, a.Weight) })
	return out
}
