package rules_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

var builtIn rules.Shop

func TestEachDutyHasOneIntervalThatCanBeKept(t *testing.T) {
	seen := map[string]bool{}
	for _, i := range rules.Intervals {
		assert.False(t, seen[i.Duty], i.Duty)
		seen[i.Duty] = true
		assert.Positive(t, i.Hours, "%s: every meter of hours has an end", i.Duty)
		assert.Positive(t, i.Months, "%s: an engine that stands is tested, too", i.Duty)
		assert.Empty(t, log.CheckFields("", i), i.Duty)
	}
	for _, d := range rules.Duties {
		assert.True(t, seen[d.ID], "%s has an interval", d.ID)
	}
	// A race engine is never left longer than a street engine, whatever its meter.
	street := builtIn.IntervalOf("street")
	for _, duty := range []string{"track-day", "circuit", "rally", "drag", "pulling", "kart"} {
		i := builtIn.IntervalOf(duty)
		assert.Less(t, i.Hours, street.Hours, duty)
		assert.LessOrEqual(t, i.Months, street.Months, duty)
	}
}

func TestAMeterInMilesIsTheSameRoad(t *testing.T) {
	every, _, who := builtIn.TestedEvery(log.Engine{Duty: "street", MeterUnit: "mi"})
	assert.InDelta(t, 15000/1.609344, every, 50, "to the hundred")
	assert.Equal(t, "a street engine", who)
	every, months, _ := builtIn.TestedEvery(log.Engine{Duty: "drag", MeterUnit: "km"})
	assert.Zero(t, every, "no figure by that meter: the months count")
	assert.Equal(t, 6, months)
	every, _, _ = builtIn.TestedEvery(log.Engine{Duty: "drag", MeterUnit: "runs"})
	assert.InDelta(t, 10, every, 0)
	_, _, who = builtIn.TestedEvery(log.Engine{})
	assert.Equal(t, "a street engine", who, "an engine that nobody gave a duty")
}

// The engine's own interval stands before the workshop's, the workshop's before the built-in one.
func TestWhoseIntervalCounts(t *testing.T) {
	ours := rules.Shop{Intervals: []rules.Interval{{Duty: "circuit", Hours: 4, Events: 1, Months: 3}}}
	e := log.Engine{Duty: "circuit", MeterUnit: "h"}
	every, months, _ := builtIn.TestedEvery(e)
	assert.InDelta(t, 10, every, 0)
	assert.Equal(t, 6, months)
	every, months, _ = ours.TestedEvery(e)
	assert.InDelta(t, 4, every, 0)
	assert.Equal(t, 3, months)
	e.Plan = &log.Plan{Every: 7}
	every, months, who := ours.TestedEvery(e)
	assert.InDelta(t, 7, every, 0)
	assert.Equal(t, 3, months, "it says nothing of months")
	assert.Equal(t, "by its own rule it", who)
	every, _, _ = ours.TestedEvery(log.Engine{Duty: "kart", MeterUnit: "h"})
	assert.InDelta(t, 4, every, 0, "of another duty")
}
