package rules_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

func TestEverySettingCanBeSetToItsEndsAndIsSeen(t *testing.T) {
	seen := map[string]bool{}
	for _, s := range rules.Settings() {
		assert.False(t, seen[s.ID], s.ID)
		seen[s.ID] = true
		assert.NotEmpty(t, s.Why, s.ID)
		assert.NotEmpty(t, s.Source, s.ID)
		assert.Equal(t, s.BuiltIn, builtIn.Values()[s.ID], s.ID)
		for _, end := range []float64{s.Minimum, s.Maximum} {
			own := rules.Own{ID: s.ID, Value: end}
			assert.Empty(t, own.Check(), s.ID)
			// A watch above its act is held to the act: what is acted upon is watched.
			if got := builtIn.With(own).Values()[s.ID]; got != end {
				assert.Contains(t, s.ID, "_watch")
				assert.Less(t, got, end, s.ID)
			}
		}
		assert.NotEmpty(t, rules.Own{ID: s.ID, Value: s.Maximum + 1}.Check(), s.ID)
		assert.NotEmpty(t, rules.Own{ID: s.ID, Value: s.Minimum - 1}.Check(), s.ID)
	}
}

// Whatever a workshop sets, it stays on the safe side of what stops an engine.
func TestNoLimitCanBeSetBeyondWhatStopsAnEngine(t *testing.T) {
	shop := builtIn
	for _, s := range rules.Settings() {
		shop = shop.With(rules.Own{ID: s.ID, Value: s.Maximum})
	}
	for _, d := range rules.Duties {
		l := shop.LimitOf(log.Engine{Duty: d.ID})
		assert.Less(t, l.LeakAct, rules.StopLeak/2, d.ID)
		assert.Less(t, l.LossAct, rules.StopLoss/2, d.ID)
		assert.LessOrEqual(t, l.LeakWatch, l.LeakAct, d.ID)
		assert.LessOrEqual(t, l.LossWatch, l.LossAct, d.ID)
	}
}

func TestWhatIsWatchedDoesNotStandAboveWhatIsActedUpon(t *testing.T) {
	shop := builtIn.With(rules.Own{ID: "limits.circuit.leak_act", Value: 3})
	faults := shop.CheckOwn(rules.Own{ID: "limits.circuit.leak_watch", Value: 4})
	assert.Equal(t, "/value", faults[0].At)
	assert.Contains(t, faults[0].What, "watch from 4 and act from 3")
	assert.Empty(t, shop.CheckOwn(rules.Own{ID: "limits.circuit.leak_watch", Value: 3}))
	assert.Empty(t, shop.CheckOwn(rules.Own{ID: "limits.street.leak_watch", Value: 4}), "of another duty")
	assert.NotEmpty(t, rules.Own{ID: "limits.street.leak_act", Value: math.NaN()}.Check())
}
