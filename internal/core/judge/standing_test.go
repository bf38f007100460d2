package judge_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

func limited(limits log.Limits) log.Engine {
	return with(inline(4), func(e *log.Engine) { e.Limits = &limits })
}

func TestTheBuildersLimitsComeFirst(t *testing.T) {
	least := &units.Reading{Value: 175, Unit: units.PSI}
	for name, c := range map[string]struct {
		limits log.Limits
		test   test
		bad    []int
		why    string
	}{
		"least compression": {log.Limits{Source: "the builder", Minimum: least}, psi(180, 182, 170, 180), []int{3}, "below the builder's minimum of 175 psi"},
		"spread in percent": {log.Limits{SpreadMaximumPct: 5}, psi(180, 182, 170, 180), []int{3}, "the maker allows 5 %"},
		"spread in psi":     {log.Limits{SpreadMaximum: &units.Reading{Value: 7, Unit: units.PSI}}, psi(180, 182, 170, 180), []int{3}, "is 12 psi below the highest"},
		"most leak":         {log.Limits{LeakMaximumPct: 6}, test{psi: right.psi, leak: []float64{3, 7, 3, 4}}, []int{2}, "leaks 7 %, and the maker allows 6 %"},
		"all within":        {log.Limits{Minimum: least, SpreadMaximumPct: 5, LeakMaximumPct: 6}, right, nil, ""},
	} {
		s := last(t, limited(c.limits), c.test)
		var bad []int
		for _, one := range s.Cylinders {
			if one.State != judge.Steady {
				bad = append(bad, one.Cylinder)
				assert.Contains(t, strings.Join(one.Why, "; "), c.why, name)
			}
		}
		assert.Equal(t, c.bad, bad, name)
	}
}

func TestALimitOfSeaLevelIsForgivenWhatTheHeightTakes(t *testing.T) {
	e := limited(log.Limits{Minimum: &units.Reading{Value: 170, Unit: units.PSI}})
	low := psi(150, 152, 149, 151)
	high := func(s *log.Session) { h := 1609.0; s.Conditions.AltitudeM = &h }
	assert.NotEqual(t, judge.Steady, last(t, e, low).State)
	assert.Equal(t, judge.Steady, last(t, e, low.made(high)).State)
	assert.Equal(t, judge.Steady, last(t, e, low.made(cold)).State, "nor is a cold engine held to limits of a hot one")
}

func TestAnEngineThatHardlyFiresIsNotSteady(t *testing.T) {
	weak := psi(85, 84, 88, 86)
	s := last(t, inline(4), weak)
	assert.Equal(t, judge.Act, s.State)
	assert.Empty(t, s.Causes[0].Cylinders, "it is the engine's, no cylinder's")
	diesel := with(inline(4), func(e *log.Engine) { e.Fuel = "diesel" })
	assert.Equal(t, judge.Steady, last(t, diesel, weak).State, "what fires a diesel is another figure")
}

func TestAnEngineThatFellBelowItsLimitFellAsOne(t *testing.T) {
	e := limited(log.Limits{Minimum: &units.Reading{Value: 175, Unit: units.PSI}})
	s := last(t, e, right, right, test{psi: []float64{150, 152, 148, 150}, leak: right.leak})
	assert.Equal(t, judge.Watch, s.State)
	assert.Empty(t, s.Causes[0].Cylinders)
	cam := s.Causes[slices.IndexFunc(s.Causes, func(c judge.Cause) bool { return c.Cause == "cam_timing" })]
	assert.Contains(t, cam.For, "all cylinders read lower by far more than gauges differ")
}

func TestACandidateIsHeldAgainstItsOwnCylinders(t *testing.T) {
	s := last(t, inline(4), psi(160, 158, 122, 161))
	assert.Equal(t, judge.Act, s.Of(3).State)
	assert.Equal(t, judge.Steady, s.Of(1).State)
	assert.Nil(t, s.Of(3).ChangePct, "there is no change where there is no baseline")
	again := last(t, inline(4), psi(160, 158, 122, 161), psi(161, 159, 121, 160))
	assert.NotEqual(t, judge.Steady, again.Of(3).State, "it is no better for having been written down")
	repaired := func(s *log.Session) { s.Stage = "after-repair" }
	mended := last(t, inline(4), psi(160, 158, 122, 161), psi(161, 159, 157, 160).made(repaired))
	assert.Equal(t, judge.Steady, mended.State)
	assert.Equal(t, judge.Steady, last(t, inline(4), psi(160, 154, 150, 161)).State, "sound cylinders differ by some percent")
}

func TestWhyBraxelDiffersFromTheTradesRulesIsSaid(t *testing.T) {
	early := test{psi: []float64{180, 182, 170, 180}, leak: []float64{3, 4, 10, 4}, heard: map[int][]log.Path{3: at(log.Exhaust, 1)}}
	assert.Contains(t, last(t, inline(4), right, early).Beside, "By the usual two rules all is well")
	leaky := test{psi: right.psi, leak: []float64{16, 15, 17, 16}}
	assert.Contains(t, last(t, inline(4), leaky, leaky).Beside, "since its baseline")
	risen := test{psi: right.psi, leak: []float64{3, 4, 16, 4}}
	assert.NotContains(t, last(t, inline(4), right, right, risen).Beside, "since its baseline", "from 3 to 16 is not as much")
	assert.Empty(t, last(t, inline(4), right, right).Beside, "where all agree there is nothing to say")
}

func TestOneFaceFarOffCondemnsItsRotor(t *testing.T) {
	faces := func(s *log.Session) {
		for r := 1; r <= 2; r++ {
			for f, v := range []float64{110, 108, []float64{109, 80}[r-1]} {
				s.Compression = append(s.Compression, log.Compression{Place: log.Place{Rotor: r, Face: f + 1}, Mode: log.Dry, Tester: "g", Pulls: []log.Pull{{Reading: units.Reading{Value: v, Unit: units.PSI}}}})
			}
		}
	}
	s := last(t, log.Engine{Name: "Siskin", Kind: log.Rotary, Layout: log.Layout{Rotors: 2}}, test{}.made(faces))
	assert.Equal(t, judge.Steady, s.Of(1).State)
	assert.Equal(t, judge.Act, s.Of(2).State)
	assert.Contains(t, s.Sentence, "Rotor 2")
}

func TestADoubtedReadingThatNobodyConfirmedIsNeverRunOn(t *testing.T) {
	l := log.Log{Format: log.Format, Version: 1, Engine: log.Engine{Name: "Siskin", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}}}}
	for i, third := range []float64{180, 20} {
		s := log.Session{ID: fmt.Sprint("s", i), Date: fmt.Sprintf("2031-02-%d", 14+i)}
		for c := 1; c <= 4; c++ {
			p := log.Pull{Reading: units.Reading{Value: 180, Unit: units.PSI}}
			row := log.Compression{Place: log.Place{Cylinder: c}, Mode: log.Dry, Pulls: []log.Pull{p, p}}
			if c == 3 && third < 180 {
				p.Value, p.Doubt = third, "As read?"
				row.Pulls = []log.Pull{p}
			}
			s.Compression = append(s.Compression, row)
		}
		l.Sessions = append(l.Sessions, s)
	}
	last := judge.Log(l, rules.Shop{}).Sessions[1]
	assert.Equal(t, judge.Retest, last.State)
	assert.Contains(t, last.Sentence, "Cylinder 3 read 20 psi. Nobody has confirmed that")
	assert.NotContains(t, last.Decision, "Run it")
	l.Sessions[1].Compression[2].Pulls[0].Doubt = ""
	assert.Equal(t, judge.Stop, judge.Log(l, rules.Shop{}).Sessions[1].State, "confirmed, it is believed")
}
