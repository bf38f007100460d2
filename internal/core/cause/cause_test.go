package cause_test

import (
	"os"
	"slices"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/cause"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

func weigh(found ...string) []cause.Weighed {
	return cause.Weigh(rules.Causes().For(log.FourStroke), found, []int{3}, func(c rules.Cause) bool { return c.Cause != "healthy" })
}

func TestTheTableKnowsTheBuildersPictures(t *testing.T) {
	for want, found := range map[string][]string{
		"exhaust_valve":    {"one-low", "leak-up", "at-exhaust", "oil-nothing"},
		"intake_valve":     {"one-low", "leak-up", "at-intake"},
		"rings_bore":       {"one-low", "leak-up", "at-crankcase", "oil-lifts"},
		"gasket_neighbour": {"neighbours-low", "leak-up", "at-neighbour", "oil-nothing"},
		"gasket_coolant":   {"one-low", "leak-up", "at-coolant"},
		"bent_rod":         {"one-low", "leak-same", "sudden"},
		"cam_lobe":         {"one-low", "leak-same", "gradual"},
		"cam_timing":       {"all-very-low", "leak-same", "sudden"},
		"tester":           {"all-low", "leak-same", "gradual"},
		"even_wear":        {"all-low", "leak-up", "at-crankcase", "gradual"},
		"seat_dirt":        {"even", "jump", "at-exhaust"},
	} {
		got := weigh(found...)
		assert.Equal(t, want, got[0].Cause, "%v", found)
		sum := 0.0
		for _, w := range got {
			sum += w.Probability
		}
		assert.InDelta(t, 1, sum, 1e-12)
	}
}

func TestEvidenceIsSaidForAndAgainst(t *testing.T) {
	all := weigh("one-low", "leak-same", "at-exhaust")
	i := slices.IndexFunc(all, func(w cause.Weighed) bool { return w.Cause == "exhaust_valve" })
	assert.Contains(t, all[i].For, "air at the exhaust")
	assert.Contains(t, all[i].Against, "its leak is not up")
}

func TestTheNextTestIsTheOneThatTellsMost(t *testing.T) {
	low := weigh("one-low")
	next := cause.Next(rules.Causes().For(log.FourStroke), low, nil, 3)
	require.Len(t, next, 3)
	assert.Contains(t, []string{"leakdown", "repeat-leakdown", "wet"}, next[0].Test)
	done := map[string]bool{next[0].Test: true}
	other := cause.Next(rules.Causes().For(log.FourStroke), low, done, 1)
	require.Len(t, other, 1)
	assert.NotEqual(t, next[0].Test, other[0].Test, "what is done is not asked for again")
	sure := []cause.Weighed{{Cause: "rings_bore", Probability: 1}}
	assert.Empty(t, cause.Next(rules.Causes(), sure, nil, 3), "where nothing is in doubt nothing is worth its time")
}

func TestABadTableIsRefused(t *testing.T) {
	table := rules.Causes()
	table.Causes = append([]rules.Cause{{Cause: "ghosts", Words: "ghosts", Phrase: "ghosts", Prior: 0.1, Scope: "cylinder", Class: rules.IsShort, Given: map[string]float64{"chains": 0.5}}}, table.Causes...)
	assert.ErrorContains(t, table.Check(), "ghosts: chains")
}

func TestTheTableKeepsToItsSchema(t *testing.T) {
	c := jsonschema.NewCompiler()
	schema, err := c.Compile("../rules/causes.schema.json")
	require.NoError(t, err)
	text, err := os.Open("../rules/causes.json")
	require.NoError(t, err)
	table, err := jsonschema.UnmarshalJSON(text)
	require.NoError(t, err)
	assert.NoError(t, schema.Validate(table))
}

func TestEvidenceSpeaksForAndAgainst(t *testing.T) {
	all := weigh("one-low", "leak-up", "at-exhaust", "oil-nothing")
	assert.Equal(t, "exhaust_valve", all[0].Cause)
	assert.Contains(t, all[0].For, "air at the exhaust")
	rings := all[slices.IndexFunc(all, func(w cause.Weighed) bool { return w.Cause == "rings_bore" })]
	assert.Contains(t, rings.Against, "air at the exhaust")
	assert.Contains(t, rings.Against, "oil does no more than take up room")
}

func TestWhatIsSeenCounts(t *testing.T) {
	table := rules.Causes()
	assert.Equal(t, "valve-burnt", table.Seen("borescope", "burnt valve"))
	assert.Empty(t, table.Seen("plug", "tan"))
	chance := func(found ...string) float64 {
		for _, w := range weigh(found...) {
			if w.Cause == "exhaust_valve" {
				return w.Probability
			}
		}
		return 0
	}
	assert.Greater(t, chance("one-low", "leak-up", "valve-burnt"), chance("one-low", "leak-up"))
}

func TestATwoStrokeHasNoValvesAndARotorNoRings(t *testing.T) {
	for _, c := range rules.Causes().For(log.TwoStroke).Causes {
		assert.NotContains(t, []string{"intake_valve", "exhaust_valve", "cam_lobe", "cam_timing"}, c.Cause)
	}
	rotary := rules.Causes().For(log.Rotary).Causes
	rings := rotary[slices.IndexFunc(rotary, func(c rules.Cause) bool { return c.Cause == "rings_bore" })]
	assert.Contains(t, rings.Words, "apex")
	assert.Equal(t, "rings or bore", rules.Causes().Causes[1].Words, "the table itself is left as it is")
}
