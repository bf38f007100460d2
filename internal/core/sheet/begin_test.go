package sheet_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/sheet"
	"braxel/internal/core/units"
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

// The test after a repair is begun as one, of the cylinders that it touched; what they read before is no baseline of theirs any more.
func TestTheTestAfterARepair(t *testing.T) {
	read := func(id, date string, third float64) log.Session {
		s := log.Session{ID: id, Date: date, Baseline: id == "s1", Stage: "as-found", Conditions: log.Conditions{EngineTemp: "hot"}}
		for i, psi := range []float64{172, 174, third, 173} {
			p := log.Pull{Reading: units.Reading{Value: psi, Unit: units.PSI}, Key: fmt.Sprint(id, i)}
			s.Compression = append(s.Compression, log.Compression{Place: log.Place{Cylinder: i + 1}, Mode: log.Dry, Pulls: []log.Pull{p, p}})
		}
		return s
	}
	l := log.Log{
		Engine:   log.Engine{Name: "Siskin", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}}},
		Sessions: []log.Session{read("s1", "2032-04-01", 150)},
		Events:   []log.Event{{Date: "2032-04-02", Kind: log.Repair, Work: "valve-job", What: "head off, valve job", Cylinders: []int{3}, After: "s1"}},
	}
	begin := sheet.Begin(l, "2032-04-03", rules.Shop{})
	assert.Equal(t, log.AfterRepair, begin.Stage)
	assert.Equal(t, []int{3}, begin.Touched)
	assert.False(t, begin.Baseline)
	l.Events[0].Cylinders = nil
	assert.Empty(t, sheet.Begin(l, "2032-04-03", rules.Shop{}).Touched, "all of them")
	l.Events[0] = log.Event{Date: "2032-04-02", What: "valve job planned for the winter"}
	assert.NotEqual(t, log.AfterRepair, sheet.Begin(l, "2032-04-03", rules.Shop{}).Stage)

	l.Events[0] = log.Event{Date: "2032-04-02", Kind: log.Repair, What: "valve job", Cylinders: []int{3}}
	after := read("s2", "2032-04-03", 173)
	after.Stage, after.Touched = log.AfterRepair, []int{3}
	l.Sessions = append(l.Sessions, after, read("s3", "2032-08-03", 171))
	cell := func(id string, c int) sheet.Cell {
		out, err := sheet.Of(l, id, rules.Shop{})
		require.NoError(t, err)
		return out.Cells[c-1]
	}
	assert.Nil(t, cell("s2", 3).Baseline, "150 was no baseline")
	assert.InDelta(t, 150, cell("s2", 3).Last.Value, 0)
	assert.InDelta(t, 172, cell("s2", 1).Baseline.Value, 0)
	assert.InDelta(t, 173, cell("s3", 3).Baseline.Value, 0, "what it read after the repair")
	assert.InDelta(t, 172, cell("s3", 1).Baseline.Value, 0)
}
