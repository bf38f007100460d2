package judge

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/belief"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// A builder adds a row to the table: a loose valve guide, which leaks at the exhaust as a burnt valve does, and smokes. No line of code knows it.
func TestANewCauseWithItsFindingIsWeighedByItsRowAlone(t *testing.T) {
	on := subjectOf(log.Log{Engine: log.Engine{Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}}}}, rules.Shop{})
	guide := rules.Cause{
		Cause: "loose_guide", Words: "loose valve guide", Phrase: "a loose valve guide", Prior: 0.05, Scope: "cylinder", Class: rules.LeaksExhaust,
		Given: map[string]float64{"smokes": 0.7, "at-exhaust": 0.8}, Note: "A guide that lets the valve wander.",
	}
	on.table.Findings["smokes"] = rules.Finding{Words: "it smokes on the overrun", Otherwise: 0.05}
	on.table.Causes = append(on.table.Causes, guide)
	on.usual[guide.Class] += guide.Prior
	require.NoError(t, on.table.Check())

	told := belief.Told{Leaking: 0.95, Sound: 0.05, Pair: -1}
	told.Place[belief.Exhaust] = 1
	d := change{each: map[int]*belief.Told{2: &told}}
	chance := func(found ...string) float64 {
		for _, c := range causesOf(on, []int{2}, false, found, d) {
			if c.Cause == guide.Cause {
				return c.Probability
			}
		}
		return 0
	}
	assert.InDelta(t, 1.0/3, chance("at-exhaust"), 0.01, "half as common as a burnt valve, and nothing found that tells them apart")
	assert.Greater(t, chance("at-exhaust", "smokes"), 0.8)

	same := guide
	same.Cause = "ghost"
	on.table.Causes = append(on.table.Causes, same)
	assert.ErrorContains(t, on.table.Check(), "nothing tells it from", "two that no finding tells apart are refused")
}
