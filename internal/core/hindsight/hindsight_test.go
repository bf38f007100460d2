package hindsight_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/hindsight"
	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

// engine is a street four whose cylinder 3 loses so many percent from test to test.
func engine(name string, lost ...float64) log.Log {
	l := log.Log{Engine: log.Engine{
		ID: name, Name: name, Kind: log.FourStroke, Duty: "street", MeterUnit: "h", Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}},
	}}
	for i, by := range lost {
		meter := float64(10 * i)
		s := log.Session{ID: fmt.Sprint(i), Date: fmt.Sprintf("2031-%02d-01", i+1), Meter: &meter, Baseline: i == 0}
		for c, v := range []float64{1240, 1250, 1230 * (1 - by/100), 1245} {
			p := log.Pull{Reading: units.Reading{Value: v, Unit: units.KPa}}
			s.Compression = append(s.Compression, log.Compression{Place: log.Place{Cylinder: c + 1}, Mode: log.Dry, Pulls: []log.Pull{p, p}})
		}
		l.Sessions = append(l.Sessions, s)
	}
	return l
}

func by(t *testing.T, id string, value float64, logs ...log.Log) hindsight.Result {
	t.Helper()
	s, ok := rules.SettingOf(id)
	require.True(t, ok)
	var all []hindsight.One
	for _, l := range logs {
		require.True(t, hindsight.Concerns(s, l.Engine))
		all = append(all, hindsight.One{
			Log: l, Now: judge.Log(l, rules.Shop{}), Would: judge.Log(l, rules.Shop{}.With(rules.Own{ID: id, Value: value})),
		})
	}
	return hindsight.Of(s, value, all, units.Choice{})
}

// Heron goes by 6, 9, 13 %: at 10 % it is acted on at the fourth test, at 5 % two tests sooner. Wren stays at 7 %.
func TestALowerLimitIsSaidSoonerAndOfMore(t *testing.T) {
	heron, wren, sound := engine("Heron", 0, 7, 7, 14), engine("Wren", 0, 7, 7), engine("Kestrel", 0, 0, 0)
	r := by(t, "limits.street.loss_act", 5, heron, wren, sound)
	require.Len(t, r.Sooner, 1)
	assert.Equal(t, hindsight.Case{Engine: "Heron", Name: "Heron", Date: "2031-02-01", Tests: 2}, r.Sooner[0])
	require.Len(t, r.More, 1)
	assert.Equal(t, "Wren", r.More[0].Name)
	assert.Equal(t, "With 5 %, in 10 tests of 3 engines: Heron would have been acted on 2 tests sooner, on 1 Feb 2031. Wren was never acted on, and would have been.", r.Sentence)
	back := by(t, "limits.street.loss_act", 20, engine("Heron", 0, 14), sound)
	require.Len(t, back.Never, 1)
	assert.Contains(t, back.Sentence, "Heron was acted on, and would never have been.")
}

// After a repair what is found begins anew: it is said again, and may be said sooner again.
func TestEachRepairBeginsAnew(t *testing.T) {
	l := engine("Heron", 0, 14, 0, 7, 14)
	l.Sessions[2].Stage = "after-repair"
	r := by(t, "limits.street.loss_act", 5, l)
	require.Len(t, r.Sooner, 1)
	assert.Equal(t, "2031-04-01", r.Sooner[0].Date)
}

func TestAnotherIntervalMovesWhatIsDue(t *testing.T) {
	r := by(t, "intervals.street.months", 3, engine("Heron", 0, 0), engine("Wren", 0, 0))
	assert.Len(t, r.Sooner, 2)
	assert.Contains(t, r.Sentence, "Heron and Wren would be due sooner.")
	assert.Empty(t, by(t, "intervals.street.km", 3, engine("Heron", 0, 0)).Sooner, "its meter counts hours")
}

func TestAnotherChanceNamesAnotherCause(t *testing.T) {
	l := engine("Heron", 0, 14)
	first := judge.Log(l, rules.Shop{}).Sessions[1].Causes[0]
	l.Sessions = append(l.Sessions, log.Session{
		ID: "opened", Date: "2031-06-01", Observations: []log.Observation{{What: "found", Item: log.Found, Finding: first.Words}},
	})
	r := by(t, "causes."+first.Cause, 0.001, l)
	require.Len(t, r.Other, 1)
	assert.Contains(t, r.Other[0].Words, "not "+first.Words)
	assert.Equal(t, 1, r.Opened)
	assert.Equal(t, 1, r.Right)
	assert.Equal(t, 0, r.Would)
	assert.Contains(t, r.Sentence, "Of one opened fault, 0 would be named right; 1 is now.")
}

func TestWhatHasNothingToDoWithARuleIsNotLookedAt(t *testing.T) {
	s, _ := rules.SettingOf("limits.circuit.loss_act")
	assert.False(t, hindsight.Concerns(s, log.Engine{Duty: "street"}))
	assert.False(t, hindsight.Concerns(s, log.Engine{}), "an engine that nobody gave a duty is a street engine")
	assert.True(t, hindsight.Concerns(s, log.Engine{Duty: "circuit"}))
	assert.Equal(t, "No engine of that kind here yet.", hindsight.Of(s, 5, nil, units.Choice{}).Sentence)
}
