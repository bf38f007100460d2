package inspect_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/inspect"
	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

// What is found is held against the last test before it that named a cause, and counts as right only if it is what was likeliest.
func TestWhatWasFoundStandsBesideWhatWasSaid(t *testing.T) {
	leak := func(pct float64, heard ...log.Path) log.Leakdown {
		return log.Leakdown{Place: log.Place{Cylinder: 3}, Supply: 100, Held: 100 - pct, Unit: units.PSI, Paths: heard}
	}
	l := candidate(even)
	for c := 1; c <= 4; c++ {
		l.Sessions[0].Leakdown = append(l.Sessions[0].Leakdown, log.Leakdown{
			Place: log.Place{Cylinder: c}, Supply: 100, Held: 97, Unit: units.PSI, Paths: []log.Path{{Where: log.Crankcase, Level: 1}}})
	}
	l.Sessions[0].Baseline = true
	second := candidate([]float64{180, 182, 158, 181}).Sessions[0]
	second.ID, second.Date = "s2", "2031-05-10"
	second.Leakdown = []log.Leakdown{leak(18, log.Path{Where: log.Exhaust, Level: 3}), leak(18, log.Path{Where: log.Exhaust, Level: 3})}
	third := log.Session{ID: "s3", Date: "2031-05-12", Observations: []log.Observation{
		{What: "other", Item: log.Found, Finding: "exhaust valve", Note: "burnt at the edge"}, {What: "other", Item: log.Found, Finding: "rings or bore"},
		{What: "other", Item: log.Found, Finding: "exhaust valve", Struck: "twice"}}}
	l.Sessions = append(l.Sessions, second, third)
	got := inspect.Pairs(l, judge.Log(l, rules.Shop{}))
	assert.Equal(t, []inspect.Pair{
		{Date: "2031-05-12", Said: "exhaust valve", Found: "exhaust valve", Note: "burnt at the edge", Right: true},
		{Date: "2031-05-12", Said: "exhaust valve", Found: "rings or bore"},
	}, got)
	l.Sessions = l.Sessions[2:]
	got = inspect.Pairs(l, judge.Log(l, rules.Shop{}))
	assert.Equal(t, "nothing yet", got[0].Said)
	assert.False(t, got[0].Right)
}
