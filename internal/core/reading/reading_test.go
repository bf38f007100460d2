package reading_test

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/log"
	"braxel/internal/core/reading"
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
		rule    reading.Rule
		want    float64
		settled bool
	}{
		"two that agree are averaged":           {psi(150, 152), reading.UntilTwoAgree, 151, true},
		"only the last two count":               {psi(120, 150, 152), reading.UntilTwoAgree, 151, true},
		"apart: pull again":                     {psi(140, 150), reading.UntilTwoAgree, 145, false},
		"one is not two":                        {psi(150), reading.UntilTwoAgree, 150, false},
		"a struck pull counts for nothing":      {struck, reading.UntilTwoAgree, 151, true},
		"one pull is the last":                  {psi(150, 160), reading.One, 160, true},
		"three are averaged":                    {psi(100, 150, 153, 156), reading.Three, 153, true},
		"two of three is not yet three":         {psi(150, 153), reading.Three, 151.5, false},
		"on a big reading 2 % is the allowance": {psi(400, 408), reading.UntilTwoAgree, 404, true},
	} {
		got := reading.Of(c.pulls, c.rule, units.Reading{Value: 2, Unit: units.PSI}.Pressure())
		assert.InDelta(t, c.want, got.Pressure.In(units.PSI), 1e-9, name)
		assert.Equal(t, c.settled, got.Settled, name)
	}
}

func TestTwoReadingsOneDivisionApartAgree(t *testing.T) {
	five := units.Reading{Value: 5, Unit: units.PSI}.Pressure()
	assert.True(t, reading.Of(psi(150, 155), reading.UntilTwoAgree, five).Settled)
	assert.False(t, reading.Of(psi(150, 160), reading.UntilTwoAgree, five).Settled)
}

func TestSchoolsDisagreeAboutTheSameSet(t *testing.T) {
	set := []float64{1200, 1180, 1104, 1190} // 8 % below the highest, 13.9 psi apart
	says := map[string]bool{}
	limits := &log.Limits{Source: "builder", Minimum: &units.Reading{Value: 11.5, Unit: units.Bar}, SpreadMaximumPct: 7}
	for _, j := range reading.BySchools(set, limits, units.PSI) {
		says[j.School] = j.Passes
	}
	assert.Equal(t, map[string]bool{"10": true, "5": false, "15": true, "25": true, "7psi": false, "10psi": false, "50psi": true, "own-pct": false, "own-minimum": false}, says)
}

func TestEveryPercentageNamesItsBase(t *testing.T) {
	for _, j := range reading.BySchools([]float64{1000, 900}, &log.Limits{SpreadMaximumPct: 7}, units.PSI) {
		if strings.Contains(j.Says, "%") {
			assert.Contains(t, j.Words, "of the highest")
			assert.Equal(t, "10.0 % below it", j.Says)
		}
	}
}

func TestTheWorstLeakIsHeldToEachSchool(t *testing.T) {
	passes := map[string]bool{}
	for _, j := range reading.LeaksBySchools([]float64{3, 9, 4}, &log.Limits{LeakMaximumPct: 12}) {
		passes[j.School] = j.Passes
	}
	assert.Equal(t, map[string]bool{"leak-10": true, "leak-15": true, "leak-5": false, "leak-8": false, "own-leak": true}, passes)
	assert.Empty(t, reading.LeaksBySchools(nil, nil), "nothing is said of what was not done")
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
	assert.ErrorContains(t, err, "partner")
}
