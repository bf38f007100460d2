package season_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/ahead"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/season"
	"braxel/internal/core/units"
	"braxel/internal/core/wear"
)

// testedOn is a circuit four that makes 180 psi, and leaks 4 % but in cylinder 1, by the days of its tests.
func testedOn(first map[string]float64, days ...string) log.Log {
	l := log.Log{Engine: log.Engine{ID: "e", Name: "Heron", Kind: log.FourStroke, Duty: "circuit", MeterUnit: "h"}}
	l.Engine.Layout = log.Layout{Banks: [][]int{{1, 2, 3, 4}}}
	for i, day := range days {
		meter := float64(10 * i)
		s := log.Session{ID: day, Date: day, Build: "b", Meter: &meter, Baseline: i == 0}
		s.Conditions.EngineTemp = "hot"
		for c := 1; c <= 4; c++ {
			leak, psi := 4.0, 180.0
			if c == 1 {
				leak, psi = 4+first[day], 180-first[day]
			}
			place := log.Place{Cylinder: c}
			pull := log.Pull{Reading: units.Reading{Value: psi, Unit: units.PSI}}
			s.Compression = append(s.Compression, log.Compression{Place: place, Mode: log.Dry, Pulls: []log.Pull{pull, pull}})
			s.Leakdown = append(s.Leakdown, log.Leakdown{Place: place, Supply: 100, Held: 100 - leak, Unit: units.PSI, Position: "tdc"})
		}
		l.Sessions = append(l.Sessions, s)
	}
	l.Builds = []log.Build{{ID: "b", Date: days[0]}}
	return l
}

func ranAt(change func(*ahead.Season)) ahead.Season {
	s := ahead.Season{Meetings: []ahead.Meeting{
		{ID: "a", Name: "round a", Date: "2033-04-10", Hours: 4}, {ID: "b", Name: "round b", Date: "2033-05-10", Hours: 6},
	}}
	for _, m := range []string{"a", "b"} {
		s.Starts = append(s.Starts, ahead.Start{ID: m + ".c", Meeting: m, Car: "c", Engine: "e"})
	}
	if change != nil {
		change(&s)
	}
	return s
}

func TestWhatWasSaidIsHeldAgainstTheTestThatFollowed(t *testing.T) {
	shop := rules.Shop{}
	told := season.TellingOf(testedOn(nil, "2033-04-01", "2033-06-01"), shop, ranAt(nil))
	require.Len(t, told, 2)
	then := wear.Of(testedOn(nil, "2033-04-01"), shop)
	assert.InDelta(t, then.Inside(4), told[0].Said, 1e-9, "by what was known then")
	assert.InDelta(t, then.Inside(10), told[1].Said, 1e-9)
	assert.True(t, told[0].Held && told[1].Held)
	worn := season.TellingOf(testedOn(map[string]float64{"2033-06-01": 30}, "2033-04-01", "2033-06-01"), shop, ranAt(nil))
	require.Len(t, worn, 2)
	assert.False(t, worn[1].Held, "30 points more of leak, and it breathes out")
	assert.Empty(t, season.TellingOf(testedOn(nil, "2033-04-01"), shop, ranAt(nil)), "nobody has tested it since")
}

// An engine that broke is mostly never tested as it was. Left out, the record would only hold those that held.
func TestAnEngineThatBrokeCountsThoughNobodyTestedIt(t *testing.T) {
	broke := ranAt(func(s *ahead.Season) { s.Starts[1].Broke = true })
	told := season.TellingOf(testedOn(nil, "2033-04-01"), rules.Shop{}, broke)
	require.Len(t, told, 1)
	assert.Equal(t, "round b", told[0].Meeting)
	assert.True(t, told[0].Broke && !told[0].Held)
	assert.InDelta(t, wear.Of(testedOn(nil, "2033-04-01"), rules.Shop{}).Inside(10), told[0].Said, 1e-9, "with what it ran before")
	r := season.Kept(told)
	assert.Contains(t, r.Told[0].Words, "it broke there")
}

// Of two last tests the one that reads worse in leak and compression never leaves a better chance, beyond what the grid of faults strays.
func TestAWorseReadingIsNeverJudgedMilder(t *testing.T) {
	for _, days := range [][]string{{"2033-04-01", "2033-06-01"}, {"2033-02-01", "2033-04-01", "2033-06-01"}} {
		best := []float64{1, 1}
		for _, worse := range []float64{0, 2, 4, 6, 8, 12, 16, 20, 30, 40, 50, 60, 80} {
			life := wear.Of(testedOn(map[string]float64{days[len(days)-1]: worse}, days...), rules.Shop{})
			for i, ahead := range []float64{0, 10} {
				assert.LessOrEqual(t, life.Inside(ahead), best[i]+0.02, "%d tests, %g more, %g h ahead", len(days), worse, ahead)
				best[i] = min(best[i], life.Inside(ahead))
			}
		}
		assert.Less(t, best[0], 0.01)
	}
}
