package rules_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

var petrol = log.Engine{Kind: log.FourStroke, Fuel: "petrol"}

func times(n int, o rules.Opened) []rules.Opened {
	all := make([]rules.Opened, n)
	for i := range all {
		all[i] = o
	}
	return all
}

// With as many findings as the table is worth, a cause that was always found is halfway between its share and one.
func TestAsManyFindingsAsTheTableIsWorthCountAsMuch(t *testing.T) {
	const share = 0.02 / 0.96 // bent rods among all faults of the table in a petrol four-stroke
	got := rules.Learned(times(rules.FindingsWorth, rules.Opened{Engine: petrol, Cause: "bent_rod"}))
	assert.InDelta(t, 0.02*(share+1)/2/share, got["bent_rod"], 0.02)
	assert.InDelta(t, 0.26/2, got["exhaust_valve"], 1e-3, "and what was never found is half as common as it was")
}

func TestWhatWasFoundMovesItsOwnCauseAloneUpwards(t *testing.T) {
	before := rules.Shop{}.Values()
	assert.Empty(t, rules.Learned(nil))
	for _, c := range rules.Causes().For(log.FourStroke).Causes {
		if c.Scope == "engine" || c.Class == rules.IsInnocent {
			continue
		}
		for cause, value := range rules.Learned([]rules.Opened{{Engine: petrol, Cause: c.Cause}}) {
			if cause == c.Cause {
				assert.Greater(t, value, before["causes."+cause], cause)
			} else {
				assert.LessOrEqual(t, value, before["causes."+cause], cause)
			}
		}
	}
	assert.Empty(t, rules.Learned([]rules.Opened{{Engine: log.Engine{Kind: log.TwoStroke}, Cause: "exhaust_valve"}}), "a two-stroke has none")
}
