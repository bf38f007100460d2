package judge_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

// four is an inline four tested once for each set of readings, in psi, front to rear; the first test is its baseline.
func four(sets ...[4]float64) log.Log {
	l := log.Log{Engine: log.Engine{Name: "Siskin", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}}},
		Testers: []log.Tester{{ID: "g", Kind: log.CompressionTester, Resolution: &units.Reading{Value: 2, Unit: units.PSI}}}}
	for i, set := range sets {
		s := log.Session{ID: fmt.Sprintf("s%d", i+1), Date: fmt.Sprintf("2031-02-%02d", i+1), Baseline: i == 0}
		for c, psi := range set {
			p := log.Pull{Reading: units.Reading{Value: psi, Unit: units.PSI}}
			s.Compression = append(s.Compression, log.Compression{Place: log.Place{Cylinder: c + 1}, Mode: log.Dry, Tester: "g", Pulls: []log.Pull{p, p}})
		}
		l.Sessions = append(l.Sessions, s)
	}
	return l
}

func TestAMovedCylinderIsTheOnlyOneAccused(t *testing.T) {
	v := judge.Log(four([4]float64{180, 182, 178, 180}, [4]float64{180, 182, 162, 180}), rules.Shop{})
	last, ok := v.Latest()
	require.True(t, ok)
	assert.GreaterOrEqual(t, last.Of(3).State.Severity(), judge.Watch.Severity())
	assert.NotEmpty(t, last.Of(3).Why)
	assert.Contains(t, last.Sentence, "Cylinder 3 is down")
	for _, c := range []int{1, 2, 4} {
		assert.Equal(t, judge.Steady, last.Of(c).State)
	}
}

func TestAHoleInThePistonStopsTheEngine(t *testing.T) {
	last, _ := judge.Log(four([4]float64{180, 182, 178, 180}, [4]float64{181, 0, 179, 180}), rules.Shop{}).Latest()
	assert.Equal(t, judge.Stop, last.State)
	assert.Equal(t, judge.Stop, last.Of(2).State)
}

func TestAltitudeIsTakenOut(t *testing.T) {
	l := four([4]float64{180, 182, 178, 180}, [4]float64{148, 150, 146.5, 148})
	mile := 1609.0
	l.Sessions[1].Conditions.AltitudeM = &mile
	last, _ := judge.Log(l, rules.Shop{}).Latest()
	assert.Equal(t, judge.Steady, last.State)
	assert.InDelta(t, 0, *last.CommonPct, 1, "a mile up costs about a sixth, and nothing is wrong")
}

func TestARebuildBeginsANewBaseline(t *testing.T) {
	l := four([4]float64{180, 182, 178, 180}, [4]float64{196, 150, 194, 196})
	l.Builds = []log.Build{{ID: "b1"}, {ID: "b2"}}
	l.Sessions[0].Build, l.Sessions[1].Build = "b1", "b2"
	last, _ := judge.Log(l, rules.Shop{}).Latest()
	assert.Nil(t, last.Of(2).ChangePct, "the other build's figures say nothing of this one")
}

func TestATestThatWasOnlyBegunSaysNothing(t *testing.T) {
	l := four([4]float64{180, 182, 178, 180})
	l.Sessions = append(l.Sessions, log.Session{ID: "s2", Date: "2031-03-01"})
	last, _ := judge.Log(l, rules.Shop{}).Latest()
	assert.Equal(t, "s1", last.ID)
}

func TestPullsOnOtherEnginesAndLaterVisitsLeaveAVerdictAlone(t *testing.T) {
	l := four([4]float64{180, 182, 178, 180}, [4]float64{180, 182, 169, 180})
	before := judge.Log(l, rules.Shop{}).Sessions[1]
	wild := l.Sessions[1]
	wild.ID, wild.Date = "s3", "2031-02-20"
	wild.Compression = nil
	for c := 1; c <= 4; c++ {
		row := log.Compression{Place: log.Place{Cylinder: c}, Mode: log.Dry, Tester: "g"}
		for _, v := range []float64{120, 180, 150} {
			row.Pulls = append(row.Pulls, log.Pull{Reading: units.Reading{Value: v, Unit: units.PSI}})
		}
		wild.Compression = append(wild.Compression, row)
	}
	l.Sessions = append(l.Sessions, wild)
	assert.Equal(t, before, judge.Log(l, rules.Shop{}).Sessions[1])
}

// What is noted of a gauge counts until its own pulls tell: one that repeats badly makes a change less sure.
func TestWhatIsNotedOfAGaugesRepeatingCounts(t *testing.T) {
	l := four([4]float64{180, 182, 178, 180}, [4]float64{180, 182, 169, 180})
	se := func(kpa float64) float64 {
		l.Testers[0].RepeatKPa = kpa
		return *judge.Log(l, rules.Shop{}).Sessions[1].Of(3).ChangeSEPct
	}
	assert.Greater(t, se(40), se(10))
	assert.InDelta(t, se(10), se(0), 1e-9, "nothing noted is a usual gauge")
}

func TestATestThatIsGoingOnDoesNotStandForTheEngine(t *testing.T) {
	l := four([4]float64{180, 182, 178, 180}, [4]float64{164, 166, 162, 164})
	l.Sessions[1].Open = true
	l.Sessions[1].Compression = l.Sessions[1].Compression[:2]
	v := judge.Log(l, rules.Shop{})
	assert.Equal(t, "Being tested: 2 of 4 read.", v.Sessions[1].Sentence)
	last, _ := v.Latest()
	assert.Equal(t, "s1", last.ID)
	l.Sessions[1].Open = false
	last, _ = judge.Log(l, rules.Shop{}).Latest()
	assert.Equal(t, "s2", last.ID, "one that was ended so is all there is")
}
