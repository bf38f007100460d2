package judge_test

import (
	"regexp"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

// What a hard trial found wrong with an earlier judge, each by its name.

func TestThreeBadOfFourAreBadAndTheGoodOneIsGood(t *testing.T) {
	for _, made := range []func(*log.Session){nil, cold} {
		s := last(t, inline(4), test{psi: []float64{157, 66, 65, 63}, leak: []float64{6, 78, 80, 89}, with: made})
		assert.Equal(t, judge.Stop, s.State)
		assert.NotContains(t, s.Decision, "Run it.")
		assert.Less(t, s.Of(1).State.Severity(), judge.Watch.Severity())
		for c := 2; c <= 4; c++ {
			assert.GreaterOrEqual(t, s.Of(c).State.Severity(), judge.Act.Severity(), "cylinder %d", c)
		}
	}
}

func TestBubblesAreNeverAtEaseWhoeverElseWasTested(t *testing.T) {
	for _, leak := range [][]float64{{2, 12, 2, 3}, nil} {
		bubbles := test{psi: []float64{178, 182, 180, 181}, leak: leak, again: map[int]float64{2: 12}, heard: map[int][]log.Path{2: at(log.Coolant, 1)}}
		s := last(t, inline(4), bubbles)
		assert.GreaterOrEqual(t, s.Of(2).State.Severity(), judge.Watch.Severity())
		assert.Equal(t, "gasket_coolant", s.Causes[0].Cause)
	}
}

func TestAFirstLeakDownAfterADryBaselineIsJudged(t *testing.T) {
	bad := test{psi: []float64{180, 182, 164, 180}, leak: []float64{4, 4, 34, 5}, heard: map[int][]log.Path{3: at(log.Exhaust, 3)}}
	s := last(t, inline(4), rightDry, bad)
	assert.GreaterOrEqual(t, s.Of(3).State.Severity(), judge.Act.Severity())
	assert.Contains(t, s.Sentence, "leaking 30 points above typical")
	assert.Contains(t, strings.Join(s.Caveats, " "), "First leak-down")
}

func TestACylinderThatTheFirstTestLeftOutIsJudged(t *testing.T) {
	s := last(t, inline(4), test{psi: []float64{180, 182, 178}}, psi(180, 182, 178, 120))
	assert.GreaterOrEqual(t, s.Of(4).State.Severity(), judge.Act.Severity())
	assert.Equal(t, judge.Steady, s.Of(1).State)
}

func TestTwelvePointsAreTwelvePointsInAnyUnit(t *testing.T) {
	states := map[judge.State]bool{}
	for _, unit := range []units.Unit{units.PSI, units.Bar, units.KPa} {
		l := situation{engine: inline(4), tests: []test{right, {psi: right.psi, leak: []float64{3, 4, 15, 4}}}}.log()
		for i := range l.Sessions {
			for k := range l.Sessions[i].Leakdown {
				row := &l.Sessions[i].Leakdown[k]
				row.Supply, row.Held, row.Unit = row.SupplyReading().Pressure().In(unit), row.HeldReading().Pressure().In(unit), unit
			}
		}
		states[judge.Log(l, rules.Shop{}).Sessions[1].State] = true
	}
	assert.Len(t, states, 1)
}

func TestAGaugesKnownOffsetIsTakenOffBeforeALimitIsHeld(t *testing.T) {
	s := last(t, limited(log.Limits{Minimum: inPSI(175)}), rightDry.made(offset))
	assert.NotEqual(t, judge.Steady, s.State, "180 on a gauge that reads 10 high is 170")
	assert.Equal(t, judge.Steady, last(t, limited(log.Limits{Minimum: inPSI(165)}), rightDry.made(offset)).State)
}

func TestTheProtocolsOwnRuleOfPullsMakesTheReading(t *testing.T) {
	pulled := func(protocol string) float64 {
		l := situation{engine: inline(4), tests: []test{rightDry}}.log()
		l.Sessions[0].Protocol = protocol
		pulls(1, 174, 176, 180)(&l.Sessions[0])
		return units.Pressure(*judge.Log(l, rules.Shop{}).Sessions[0].Of(1).Compression).In(units.PSI)
	}
	assert.InDelta(t, 180, pulled("between-runs"), 0.01, "the last")
	assert.InDelta(t, 176.67, pulled("stand"), 0.01, "the mean of three")
	assert.InDelta(t, 178, pulled("street"), 0.01, "the last two, which agree")
}

func TestColdIsHeldToWhatColdCanExplainAndNoFurther(t *testing.T) {
	least := limited(log.Limits{Minimum: inPSI(170)})
	assert.Equal(t, judge.Steady, last(t, least, psi(150, 152, 149, 151).made(cold)).State, "a cold engine reads some less")
	assert.NotEqual(t, judge.Steady, last(t, least, psi(130, 132, 129, 131).made(cold)).State, "not so much less")
	uneven := last(t, inline(4), psi(160, 138, 152, 161).made(cold))
	assert.Equal(t, judge.Retest, uneven.State)
	assert.Contains(t, uneven.Decision, "Don't decide anything cold")
}

func TestEvenAndLowAgainstTheUsualFigureIsNeverWithoutAWord(t *testing.T) {
	s := last(t, limited(log.Limits{Nominal: inPSI(195), Source: "maker"}), psi(150, 152, 149, 151))
	assert.Contains(t, s.Sentence, "23 % below the maker's 195 psi")
	assert.NotContains(t, s.Decision, "Run it.")
	assert.NotContains(t, last(t, limited(log.Limits{Nominal: inPSI(185)}), rightDry).Sentence, "below the maker's")
}

func TestEachFaultHasItsOwnCauseAndStepWorstFirst(t *testing.T) {
	both := test{
		psi: []float64{180, 158, 181, 180, 150, 180}, leak: []float64{3, 3, 4, 3, 30, 4},
		heard: map[int][]log.Path{5: at(log.Exhaust, 3)}, again: map[int]float64{5: 30},
	}
	s := last(t, inline(6), test{psi: six.psi, leak: []float64{3, 3, 4, 3, 4, 4}}, both)
	if assert.Len(t, s.Faults, 2) {
		assert.Equal(t, []int{5}, s.Faults[0].Cylinders)
		assert.Equal(t, "exhaust_valve", s.Faults[0].Causes[0].Cause)
		assert.Equal(t, []int{2}, s.Faults[1].Cylinders)
		assert.Contains(t, []string{"bent_rod", "cam_lobe"}, s.Faults[1].Causes[0].Cause)
		assert.NotNil(t, s.Faults[1].Next)
	}
}

func TestTheLargerALeakThatStaysTheGraver(t *testing.T) {
	stays := func(e log.Engine, pct float64) judge.State {
		return last(t, e, right, right, test{psi: right.psi, leak: []float64{3, 4, pct, 4}, again: map[int]float64{3: pct}}).Of(3).State
	}
	assert.Equal(t, judge.Watch, stays(inline(4), 9))
	assert.Equal(t, judge.Act, stays(inline(4), 31))
	assert.Equal(t, judge.Stop, stays(inline(4), 75))
	assert.Equal(t, judge.Act, stays(with(inline(4), racing), 13))
}

func TestOnePullOfNearlyNothingStopsAndIsPulledAgain(t *testing.T) {
	s := last(t, inline(4), rightDry, test{psi: rightDry.psi, with: pulls(3, 8)})
	assert.Equal(t, judge.Stop, s.State)
	assert.Equal(t, "pull-again", s.Next.Test)
	assert.Contains(t, s.Remark, "Take one more")
}

func TestWhatContradictsItselfIsSaidWhileTheGaugeIsOn(t *testing.T) {
	sags := test{psi: []float64{180, 176, 172, 168, 163, 158}}
	assert.Contains(t, last(t, inline(6), six, sags).Remark, "battery")
	half := test{psi: []float64{145, 144, 146, 181, 180, 179}}
	assert.Contains(t, last(t, inline(6), six, half).Remark, "Throttle open? Charger on?")
	low := test{psi: []float64{145, 147, 143, 145}}
	assert.Contains(t, last(t, inline(4), rightDry, low).Remark, "All read")
	hiss := test{psi: right.psi, leak: []float64{3, 4, 22, 4}, heard: map[int][]log.Path{3: at(log.PlugHole, 3)}}
	assert.Contains(t, last(t, inline(4), right, hiss).Remark, "own seal")
	dirt := test{psi: right.psi, leak: []float64{3, 4, 22, 4}}
	assert.Contains(t, last(t, inline(4), right, dirt).Remark, "compression doesn't show it")
	assert.Empty(t, last(t, inline(4), right, right).Remark)
}

// saysItPlainly: a headline that a row has room for, three sentences at most, each ended, and no id that no text was found for.
func saysItPlainly(t *testing.T, s judge.Session) {
	t.Helper()
	assert.NotEmpty(t, s.Headline)
	assert.LessOrEqual(t, utf8.RuneCountInString(s.Headline), judge.HeadlineMost, s.Headline)
	assert.NotRegexp(t, `[.]$`, s.Headline)
	assert.LessOrEqual(t, len(sentenceEnd.FindAllString(s.Sentence+" ", -1)), 3+len(asked.FindAllString(s.Sentence, -1)), s.Sentence)
	assert.Regexp(t, `^\p{Lu}.*[.?]$`, s.Sentence)
	all := append([]string{s.Headline, s.Sentence, s.Decision, s.Remark, s.Beside}, s.Caveats...)
	for _, c := range s.Cylinders {
		all = append(all, c.Why...)
	}
	for _, f := range s.Faults {
		all = append(all, f.Sentence)
	}
	for _, words := range all {
		assert.NotContains(t, words, "judge.")
		assert.NotRegexp(t, `  |\s[,.]|[{}]|%!`, words)
	}
}

var (
	sentenceEnd = regexp.MustCompile(`[.?] `)
	asked       = regexp.MustCompile(`[?] `) // "throttle or charger?" ends no sentence of its own
)

func TestNoSentenceSaysWhatItsFiguresDoNot(t *testing.T) {
	for _, s := range situations {
		for _, one := range judge.Log(s.log(), rules.Shop{}).Sessions {
			assert.NotContains(t, one.Sentence, "down -", s.name)
			assert.NotContains(t, one.Sentence, "-0 %", s.name)
			assert.NotRegexp(t, `\d and \d leaks|\d and \d is `, one.Sentence, s.name)
			saysItPlainly(t, one)
			if one.State != judge.Steady {
				assert.False(t, strings.HasPrefix(one.Decision, "Run it."), "%s: %s", s.name, one.Decision)
			}
		}
	}
}

// Dirt on a seat takes compression, too. An engine that nobody knows is not opened before its valves were snapped; when the leak has gone
// with that, what was pulled before is pulled again; and when that is right, nothing is left of it.
func TestDirtIsBlownOffBeforeAHeadComesOff(t *testing.T) {
	first := test{psi: []float64{183, 180, 184, 163}, leak: []float64{4, 3, 4, 24}, heard: map[int][]log.Path{4: at(log.Exhaust, 2)}}
	s := last(t, inline(4), first)
	assert.GreaterOrEqual(t, s.Of(4).State.Severity(), judge.Act.Severity(), "until then it counts")
	assert.Equal(t, "repeat-leakdown", s.Next.Test)

	snapped := first
	snapped.again = map[int]float64{4: 5}
	snapped.with = func(s *log.Session) { // by the second try nothing is heard but the breath at the filler
		s.Leakdown[len(s.Leakdown)-1].Paths = at(log.Crankcase, 1)
	}
	s = last(t, inline(4), snapped)
	assert.GreaterOrEqual(t, s.Of(4).State.Severity(), judge.Watch.Severity())
	assert.Equal(t, "pull-again", s.Next.Test)

	pulled := snapped
	pulled.with = func(s *log.Session) {
		snapped.with(s)
		pulls(4, 163, 163, 183, 184)(s)
	}
	assert.Less(t, last(t, inline(4), pulled).Of(4).State.Severity(), judge.Watch.Severity())

	// A valve that is burnt leaks on, and compression stays away.
	burnt := first
	burnt.again = map[int]float64{4: 24}
	s = last(t, inline(4), burnt)
	assert.GreaterOrEqual(t, s.Of(4).State.Severity(), judge.Act.Severity())
	assert.Equal(t, "exhaust_valve", s.Causes[0].Cause)
	if s.Next != nil {
		assert.NotEqual(t, "repeat-leakdown", s.Next.Test)
	}
}

func TestWhatWasMeasuredAboutTheLikeliestIsHeard(t *testing.T) {
	low := test{psi: []float64{183, 158, 184, 182}, leak: []float64{4, 3, 4, 5}}
	before := last(t, inline(4), low)
	assert.Equal(t, "piston-height", before.Next.Test)
	for cause, seen := range map[string]log.Observation{
		"bent_rod": {What: "stroke-marks", Place: log.Place{Cylinder: 2}, Finding: "stops short"},
		"cam_lobe": {What: "lash", Place: log.Place{Cylinder: 2}, Finding: "lift lost"},
	} {
		told := low
		told.seen = []log.Observation{seen}
		s := last(t, inline(4), told)
		assert.Equal(t, cause, s.Causes[0].Cause)
		assert.Greater(t, s.Causes[0].Probability, 0.8)
	}
}
