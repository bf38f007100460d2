package judge

import (
	"math"
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
		Leak: rules.Size{Usual: 48, Spread: 1.7}, Sudden: 0.2,
		Given: map[string]float64{"smokes": 0.7, "at-exhaust": 0.8}, Note: "A guide that lets the valve wander.",
	}
	on.table.Findings["smokes"] = rules.Finding{Words: "it smokes on the overrun", Otherwise: 0.05}
	on.table.Causes = append(on.table.Causes, guide)
	require.NoError(t, on.table.Check())

	s := log.Session{ID: "s1", Date: "2031-05-01"}
	told := belief.Told{Leaking: 0.95, Sound: 0.05, Pair: -1}
	d := change{each: map[int]*belief.Told{2: &told}}
	known := past{believed: begin(on, s)}
	chances := func(found ...string) map[string]float64 {
		all, _ := causesOf(on, known, beganIn(on, known, 2, s), []int{2}, false, false, found, d)
		by := map[string]float64{}
		for _, c := range all {
			by[c.Cause] = c.Probability
		}
		return by
	}
	alike := chances("at-exhaust")
	assert.InDelta(t, math.Pow(guide.Prior/0.26, rules.FiguresHold), alike[guide.Cause]/alike["exhaust_valve"], 0.01, "as often as its row says, and nothing found tells them apart")
	smokes := chances("at-exhaust", "smokes")
	assert.InDelta(t, math.Pow(14, rules.FiguresHold), smokes[guide.Cause]/smokes["exhaust_valve"]/(alike[guide.Cause]/alike["exhaust_valve"]), 0.01)

	same := guide
	same.Cause = "ghost"
	on.table.Causes = append(on.table.Causes, same)
	assert.ErrorContains(t, on.table.Check(), "nothing tells it from", "two that no finding tells apart are refused")
}
