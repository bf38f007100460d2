package reading_test

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

func psi(values ...float64) []log.Pull {
	var pulls []log.Pull
	for _, v := range values {
		pulls = append(pulls, log.Pull{Reading: units.Reading{Value: v, Unit: units.PSI}})
	}
	return pulls
}

func TestARepresentativeReadingFollowsItsSchool(t *testing.T) {
	struck := psi(90, 150, 152)
	struck[0].Struck = "throttle shut"
	for name, c := range map[string]struct {
		pulls   []log.Pull
		rule    rules.PullRule
		want    float64
		settled bool
	}{
		"two that agree are averaged":           {psi(150, 152), rules.UntilTwoAgree, 151, true},
		"only the last two count":               {psi(120, 150, 152), rules.UntilTwoAgree, 151, true},
		"apart: pull again":                     {psi(140, 150), rules.UntilTwoAgree, 145, false},
		"one is not two":                        {psi(150), rules.UntilTwoAgree, 150, false},
		"a struck pull counts for nothing":      {struck, rules.UntilTwoAgree, 151, true},
		"one pull is the last":                  {psi(150, 160), rules.One, 160, true},
		"three are averaged":                    {psi(100, 150, 153, 156), rules.Three, 153, true},
		"two of three is not yet three":         {psi(150, 153), rules.Three, 151.5, false},
		"on a big reading 2 % is the allowance": {psi(400, 408), rules.UntilTwoAgree, 404, true},
	} {
		got := reading.Of(c.pulls, c.rule, units.Reading{Value: 2, Unit: units.PSI}.Pressure())
		assert.InDelta(t, c.want, got.Pressure.In(units.PSI), 1e-9, name)
		assert.Equal(t, c.settled, got.Settled, name)
	}
}

func TestTwoReadingsOneDivisionApartAgree(t *testing.T) {
	five := units.Reading{Value: 5, Unit: units.PSI}.Pressure()
	assert.True(t, reading.Of(psi(150, 155), rules.UntilTwoAgree, five).Settled)
	assert.False(t, reading.Of(psi(150, 160), rules.UntilTwoAgree, five).Settled)
}

func TestSchoolsDisagreeAboutTheSameSet(t *testing.T) {
	set := []float64{1200, 1180, 1104, 1190} // 8 % below the highest, 13.9 psi apart
	says := map[string]bool{}
	limits := &log.Limits{Source: "builder", Minimum: &units.Reading{Value: 11.5, Unit: units.Bar}, SpreadMaximumPct: 7}
	for _, j := range reading.BySchools(log.Engine{Limits: limits}, set, "10", units.PSI) {
		says[j.School] = j.Passes
	}
	assert.Equal(t, map[string]bool{"10": true, "15": true, "25": true, "7psi": false, "10psi": false, "own-pct": false, "own-minimum": false}, says)
}

func TestEveryPercentageNamesItsBase(t *testing.T) {
	for _, j := range reading.BySchools(log.Engine{Limits: &log.Limits{SpreadMaximumPct: 7}}, []float64{1000, 900}, "10", units.PSI) {
		if strings.Contains(j.Says, "%") {
			assert.Contains(t, j.Words, "of the highest")
			assert.Equal(t, "10.0 % below it", j.Says)
		}
	}
}

func TestTheWorstLeakIsHeldToEachSchool(t *testing.T) {
	passes := map[string]bool{}
	for _, j := range reading.LeaksBySchools(log.Engine{Limits: &log.Limits{LeakMaximumPct: 12}}, []float64{3, 9, 4}, way(10)) {
		passes[j.School] = j.Passes
	}
	assert.Equal(t, map[string]bool{"protocol-leak": true, "leak-15": true, "own-leak": true}, passes)
	assert.Empty(t, reading.LeaksBySchools(log.Engine{}, nil, way(10)), "nothing is said of what was not done")
}

// A limit is to be kept, not to be undercut: what stands exactly on it passes, by any school.
func TestWhatStandsOnTheLimitPasses(t *testing.T) {
	own := &log.Limits{
		Minimum: &units.Reading{Value: 900, Unit: units.KPa}, SpreadMaximumPct: 10,
		SpreadMaximum: &units.Reading{Value: 100, Unit: units.KPa}, LeakMaximumPct: 12,
	}
	passes := func(all []reading.Judgement, school string) bool {
		for _, j := range all {
			if j.School == school {
				return j.Passes
			}
		}
		t.Errorf("nothing said by %s", school)
		return false
	}
	for _, school := range []string{"10", "own-pct", "own-spread", "own-minimum"} {
		assert.True(t, passes(reading.BySchools(log.Engine{Limits: own}, []float64{1000, 900}, "10", units.Bar), school), school)
		assert.False(t, passes(reading.BySchools(log.Engine{Limits: own}, []float64{1000, 899}, "10", units.Bar), school), school)
	}
	assert.True(t, passes(reading.LeaksBySchools(log.Engine{Limits: own}, []float64{4, 12}, way(10)), "own-leak"))
	assert.False(t, passes(reading.LeaksBySchools(log.Engine{Limits: own}, []float64{4, 12.1}, way(10)), "own-leak"))
	held := 100 * (100 - 95.0) / 100.0000000001
	assert.True(t, passes(reading.LeaksBySchools(log.Engine{Duty: "drag"}, []float64{held + 1e-10}, way(5)), "protocol-leak"), "a division is no leak")
	seven := 7 * 6.894757293168361
	assert.True(t, passes(reading.BySchools(log.Engine{}, []float64{1000, 1000 - seven}, "10", units.PSI), "7psi"))
	bare := log.Engine{}
	unsaid := log.Engine{Limits: &log.Limits{}}
	assert.Equal(t, reading.BySchools(bare, []float64{1000, 990}, "10", units.PSI), reading.BySchools(unsaid, []float64{1000, 990}, "10", units.PSI))
	assert.Equal(t, reading.LeaksBySchools(bare, []float64{4}, way(10)), reading.LeaksBySchools(unsaid, []float64{4}, way(10)))
}

func TestAFigureIsSaidAsItsGaugeShowsIt(t *testing.T) {
	says := func(u units.Unit) string {
		return reading.BySchools(log.Engine{}, []float64{1000, 862}, "10", u)[3].Says
	}
	assert.Equal(t, "138 kPa apart", says(units.KPa))
	assert.Equal(t, "20 psi apart", says(units.PSI))
	assert.Equal(t, "1.4 bar apart", says(units.Bar))
}

func TestEvennessByHand(t *testing.T) {
	e := reading.Even([]float64{160, 200, 180})
	assert.Equal(t, reading.Evenness{Highest: 200, Lowest: 160, Mean: 180, Spread: 40, SpreadPctOfHighest: 20, LowestPctOfHighest: 80}, e)
}

func TestADivisionThatNobodyGaveIsADials(t *testing.T) {
	assert.InDelta(t, 34.474, float64(reading.DivisionOf(log.Tester{})), 0.001, "5 psi")
	assert.InDelta(t, 34.474, float64(reading.DivisionOf(log.Tester{Resolution: &units.Reading{Unit: units.PSI}})), 0.001)
	assert.InDelta(t, 10, float64(reading.DivisionOf(log.Tester{Resolution: &units.Reading{Value: 0.1, Unit: units.Bar}})), 1e-9)
}

// Two pulls agree within 2 % of the larger where that is more than a division: 100 and 98 do, 100 and 97.9 do not.
func TestTheLargerOfTwoPullsSetsTheAllowance(t *testing.T) {
	assert.True(t, reading.Agree(100, 98, 1))
	assert.True(t, reading.Agree(98, 100, 1))
	assert.False(t, reading.Agree(100, 97.9, 1))
	assert.True(t, reading.Agree(100, 97, 3))
	assert.Equal(t, 3, reading.Of(psi(150, 151, 152), rules.Three, 1).Pulls)
	assert.True(t, reading.Of(psi(150, 151, 152), rules.Three, 1).Settled)
}

func TestATestersSpreadIsOfItsDryPullsAlone(t *testing.T) {
	row := func(mode, tester string, values ...float64) log.Compression {
		return log.Compression{Mode: mode, Tester: tester, Pulls: psi(values...)}
	}
	struck := row(log.Dry, "one", 100, 160, 104)
	struck.Pulls[1].Struck = "throttle shut"
	got := reading.Spreads(log.Log{Sessions: []log.Session{
		{Compression: []log.Compression{struck, row(log.Wet, "one", 90, 180), row(log.Dry, "other", 150)}},
		{Compression: []log.Compression{row(log.Dry, "one", 120, 120, 126), row(log.Dry, "", 100, 200)}},
	}})
	assert.Len(t, got, 2)
	one := got["one"]
	assert.Equal(t, 5, one.Pulls)
	assert.InDelta(t, 3, one.Free, 1e-9)
	psi2 := 6.894757293168361 * 6.894757293168361
	assert.InDelta(t, (8+24)*psi2, one.Squares, 1e-6, "2 psi to each side of 102; 2, 2 and 4 from 122")
	assert.Zero(t, got["other"].Free)
	sd, limit := got["other"].Repeatability()
	assert.Zero(t, sd)
	assert.Zero(t, limit)
}

func TestADeadEngineIsEvenAndNoNumberIsLost(t *testing.T) {
	e := reading.Even([]float64{0, 0})
	assert.False(t, math.IsNaN(e.SpreadPctOfHighest))
	assert.Zero(t, e.Spread)
}

func TestRepeatabilityPoolsOverCylinders(t *testing.T) {
	sd, limit := reading.Repeatability([][]float64{{1000, 1010}, {900, 890}, {1200}})
	assert.InDelta(t, math.Sqrt(50), sd, 1e-9, "two pairs 10 apart: each has a variance of 50")
	assert.InDelta(t, 2.8*math.Sqrt(50), limit, 1e-9)
	sd, _ = reading.Repeatability([][]float64{{1000}})
	assert.Zero(t, sd)
}

func TestAGaugeThatReadsHighIsToldFromScatter(t *testing.T) {
	c, err := reading.CheckGauges([]float64{150, 152, 148, 150}, []float64{156, 158, 153, 156})
	assert.NoError(t, err)
	assert.InDelta(t, 5.75, c.Difference, 1e-9)
	assert.True(t, c.Real)
	c, _ = reading.CheckGauges([]float64{150, 152, 148, 150}, []float64{152, 149, 150, 149})
	assert.False(t, c.Real)
	_, err = reading.CheckGauges([]float64{150}, []float64{150, 151})
	assert.ErrorContains(t, err, "pair on the other gauge")
}

// By hand: differences 4, 6, 5 and 5 have the mean 5 and the standard deviation √(2/3); half of that is the mean's.
func TestTheDifferenceOfTwoGaugesByHand(t *testing.T) {
	c, err := reading.CheckGauges([]float64{100, 100, 100, 100}, []float64{104, 106, 105, 105})
	assert.NoError(t, err)
	assert.Equal(t, 4, c.Pairs)
	assert.InDelta(t, 5, c.Difference, 1e-9)
	assert.InDelta(t, math.Sqrt(2.0/3)/2, c.SE, 1e-9)
	assert.InDelta(t, 5, c.RatioPct, 1e-9)
	low, _ := reading.CheckGauges([]float64{104, 106, 105, 105}, []float64{100, 100, 100, 100})
	assert.True(t, low.Real, "a gauge that reads low is as unlike as one that reads high")
	same, err := reading.CheckGauges([]float64{100, 100}, []float64{100, 100})
	assert.NoError(t, err)
	assert.False(t, same.Real)
	edge, _ := reading.CheckGauges([]float64{100, 100}, []float64{101, 103})
	assert.False(t, edge.Real, "2 on a standard error of 1 is not beyond it")
	for _, bad := range [][2][]float64{{{0, 100}, {100, 100}}, {{100, 100}, {100, 0}}} {
		_, err = reading.CheckGauges(bad[0], bad[1])
		assert.ErrorContains(t, err, "above 0")
	}
	_, err = reading.CheckGauges([]float64{100}, []float64{100})
	assert.ErrorContains(t, err, "two pairs")
}

// Only what can apply is said: no spread of a diesel for a petrol engine, no evenness of one reading; and what the engine is tested by
// is marked, whatever it is.
func TestOnlySchoolsThatCanApply(t *testing.T) {
	of := func(e log.Engine, own string, readings ...float64) (ids, marked []string) {
		for _, j := range append(reading.BySchools(e, readings, own, units.PSI), reading.LeaksBySchools(e, []float64{4}, way(8))...) {
			ids = append(ids, j.School)
			if j.Own {
				marked = append(marked, j.School)
			}
		}
		return ids, marked
	}
	minimum := &log.Limits{Minimum: &units.Reading{Value: 9, Unit: units.Bar}, SpreadMaximumPct: 7}
	ids, marked := of(log.Engine{Duty: "drag"}, "5", 1000, 990)
	assert.Equal(t, []string{"10", "5", "15", "7psi", "10psi", "leak-5", "protocol-leak"}, ids)
	assert.Equal(t, []string{"5", "protocol-leak"}, marked)
	ids, _ = of(log.Engine{Fuel: "diesel"}, "50psi", 2800, 2700)
	assert.Equal(t, []string{"10", "15", "25", "50psi", "leak-10", "leak-15", "protocol-leak"}, ids)
	ids, marked = of(log.Engine{Limits: minimum}, "10", 1000)
	assert.Equal(t, []string{"own-minimum", "leak-10", "leak-15", "protocol-leak"}, ids, "a single")
	assert.Equal(t, []string{"own-minimum", "protocol-leak"}, marked)
	ids, _ = of(log.Engine{}, "50psi", 1000, 990)
	assert.Contains(t, ids, "50psi", "by choice of whoever tests it")
}

// way is a protocol that watches a leak from so many percent.
func way(watch float64) rules.Protocol { return rules.Protocol{LeakWatch: watch, LeakAct: 2 * watch} }

func TestAProtocolsTwoLimitsOfALeakAreSaid(t *testing.T) {
	says := func(worst float64) reading.Judgement {
		for _, j := range reading.LeaksBySchools(log.Engine{}, []float64{3, worst}, rules.Protocol{LeakWatch: 12, LeakAct: 18}) {
			if j.School == "protocol-leak" {
				return j
			}
		}
		return reading.Judgement{}
	}
	assert.Equal(t, "leak to 12 %, act above 18 %, as this engine is tested", says(11).Words)
	assert.True(t, says(12).Passes)
	assert.False(t, says(13).Passes)
	assert.Equal(t, "worst 18.0 %", says(18).Says)
	assert.Equal(t, "worst 19.0 %: act", says(19).Says)
}
