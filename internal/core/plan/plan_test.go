package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/log"
	"braxel/internal/core/plan"
)

func TestEachDutyHasOneRuleThatCanBeKept(t *testing.T) {
	seen := map[string]bool{}
	for _, r := range plan.BuiltIn {
		assert.False(t, seen[r.ID], r.ID)
		seen[r.ID] = true
		assert.Positive(t, r.Hours, "%s: every meter of hours has an end", r.ID)
		assert.Positive(t, r.Months, "%s: an engine that stands is tested, too", r.ID)
		assert.Empty(t, log.CheckFields("", r), r.ID)
	}
	// A race engine is never left longer than a street engine, whatever its meter.
	street := plan.Of("street", nil)
	for _, duty := range []string{"track-day", "circuit", "rally", "drag", "pulling", "kart"} {
		r := plan.Of(duty, nil)
		assert.Less(t, r.Hours, street.Hours, duty)
		assert.LessOrEqual(t, r.Months, street.Months, duty)
	}
}

func TestAMeterInMilesIsTheSameRoad(t *testing.T) {
	every, _, who := plan.For(log.Engine{Duty: "street", MeterUnit: "mi"})
	assert.InDelta(t, 15000/1.609344, every, 50, "to the hundred")
	assert.Equal(t, "a street engine", who)
	every, months, _ := plan.For(log.Engine{Duty: "drag", MeterUnit: "km"})
	assert.Zero(t, every, "no figure by that meter: the months count")
	assert.Equal(t, 6, months)
	every, _, _ = plan.For(log.Engine{Duty: "drag", MeterUnit: "runs"})
	assert.InDelta(t, 10, every, 0)
	_, _, who = plan.For(log.Engine{})
	assert.Equal(t, "a street engine", who, "an engine that nobody gave a duty")
}

// The engine's own plan stands before the workshop's, the workshop's before the built-in one.
func TestWhosePlanCounts(t *testing.T) {
	ours := []plan.Rule{{ID: "circuit", Hours: 4, Events: 1, Months: 3}}
	e := log.Engine{Duty: "circuit", MeterUnit: "h"}
	every, months, _ := plan.For(e)
	assert.InDelta(t, 10, every, 0)
	assert.Equal(t, 6, months)
	every, months, _ = plan.For(plan.Applied(log.Log{Engine: e}, ours).Engine)
	assert.InDelta(t, 4, every, 0)
	assert.Equal(t, 3, months)
	e.Plan = &log.Plan{Every: 7}
	every, months, who := plan.For(plan.Applied(log.Log{Engine: e}, ours).Engine)
	assert.InDelta(t, 7, every, 0)
	assert.Equal(t, 6, months, "it says nothing of months")
	assert.Equal(t, "by its plan it", who)
	other := log.Engine{Duty: "kart", MeterUnit: "h"}
	assert.Nil(t, plan.Applied(log.Log{Engine: other}, ours).Engine.Plan, "of another duty")
	all := plan.All(ours)
	assert.Len(t, all, len(plan.BuiltIn))
	for _, r := range all {
		assert.Equal(t, plan.Of(r.ID, ours), r)
	}
}
