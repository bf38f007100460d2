package sheet_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/sheet"
)

// A build's baseline is its first test, before it runs, and the first hot one after that; no later one, and each build has its own.
func TestTheBaselineIsChosenByRule(t *testing.T) {
	l := log.Log{
		Engine: log.Engine{Name: "Siskin", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2}}}, Duty: "circuit"},
		Builds: []log.Build{{ID: "b1", Date: "2026-01-01"}, {ID: "b2", Date: "2027-01-01"}},
	}
	take := func(date string, change func(*log.Session)) log.Session {
		s := sheet.Begin(l, date, rules.Shop{})
		s.ID, s.Open = date, false
		if change != nil {
			change(&s)
		}
		l.Sessions = append(l.Sessions, s)
		return s
	}
	first := take("2026-02-01", func(s *log.Session) { s.Stage, s.Conditions.EngineTemp = "pre-install", "cold" })
	assert.True(t, first.Baseline)
	second := take("2026-03-01", nil)
	assert.Equal(t, "after-running", second.Stage)
	assert.Equal(t, "hot", second.Conditions.EngineTemp)
	assert.True(t, second.Baseline, "the first hot one")
	assert.False(t, take("2026-04-01", nil).Baseline)
	again := take("2026-05-01", func(s *log.Session) { s.Stage = "after-running" })
	assert.False(t, again.Baseline)

	rebuilt := take("2027-02-01", nil)
	assert.Equal(t, "b2", rebuilt.Build)
	assert.Equal(t, "pre-install", rebuilt.Stage, "it has not run since it was built")
	assert.True(t, rebuilt.Baseline)
	assert.True(t, take("2027-03-01", nil).Baseline)
}
