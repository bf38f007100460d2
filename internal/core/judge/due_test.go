package judge_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

func TestASteadyEngineIsDueByItsDuty(t *testing.T) {
	for duty, hours := range map[string]float64{"street": 300, "circuit": 10, "kart": 4, "marine": 50, "": 300} {
		e := with(inline(4), func(e *log.Engine) { e.Duty = duty })
		s := last(t, e, right, right)
		require.NotNil(t, s.Due, duty)
		assert.InDelta(t, 10+hours, *s.Due.ByMeter, 1e-9, "%s: the second test was at 10 h", duty)
	}
}

func TestTheDateComesFromThePaceOfTheMeter(t *testing.T) {
	// Ten hours a month: the circuit's ten hours are a month away.
	s := last(t, with(inline(4), racing), right, right, right)
	assert.Regexp(t, `^2031-04-0[89]$|^2031-04-10$`, s.Due.ByDate)
	// A meter that does not run leaves the months.
	still := situation{engine: with(inline(4), racing), tests: []test{right, right}}.log()
	zero := 0.0
	still.Sessions[1].Meter = &zero
	assert.Equal(t, "2031-08-10", judge.Log(still, rules.Shop{}).Sessions[1].Due.ByDate)
	still.Sessions[1].Meter = nil
	due := judge.Log(still, rules.Shop{}).Sessions[1].Due
	assert.Nil(t, due.ByMeter)
	assert.Equal(t, "2031-08-10", due.ByDate)
}

func TestMilesAreTakenForMiles(t *testing.T) {
	e := with(inline(4), func(e *log.Engine) { e.MeterUnit = "mi" })
	assert.InDelta(t, 9300, *last(t, e, right).Due.ByMeter, 1e-9, "15 000 km")
	e.MeterUnit = "runs"
	assert.Nil(t, last(t, e, right).Due.ByMeter, "a street engine counts no runs")
}

func TestAFreshBuildIsDueAfterItsFirstRunning(t *testing.T) {
	s := last(t, inline(4), right.made(preInstall))
	assert.Equal(t, "2031-02-10", s.Due.ByDate)
	assert.Contains(t, s.Due.Why, "first run")
	assert.Contains(t, s.Decision, "Run it in")
}

func TestWhatIsToBeMendedOrRepeatedHasNoDate(t *testing.T) {
	gasket := test{psi: []float64{180, 150, 148, 180}}
	assert.Nil(t, last(t, inline(4), rightDry, gasket).Due)
	assert.Nil(t, last(t, inline(4), right, test{psi: right.psi, leak: []float64{3, 4, 3, 18}}).Due)
}

func going(leaks ...float64) []test {
	tests := []test{right, right}
	for _, pct := range leaks {
		tests = append(tests, test{psi: []float64{180, 182, 178 - pct + 3, 180}, leak: []float64{3, 4, pct, 4}, heard: map[int][]log.Path{3: at(log.Exhaust, 1)}})
	}
	return tests
}

func TestAValveThatGoesIsProjectedToItsLimit(t *testing.T) {
	s := last(t, inline(4), going(5, 6.5, 8, 9.5)...)
	require.Equal(t, judge.Watch, s.State)
	require.NotNil(t, s.Due.Late)
	// It leaks 6.5 points more at 50 h and gains 1.5 in ten hours: 10 points at about 73 h.
	assert.Less(t, *s.Due.ByMeter, 73.0)
	assert.Greater(t, *s.Due.ByMeter, 50.0)
	assert.Greater(t, *s.Due.Late, 73.0)
	assert.Contains(t, s.Due.Why, "the leak of cylinder 3 will be up 10 points between")
	assert.Less(t, s.Due.ByDate, s.Due.LateDate)
}

func TestTwoTestsAreNotEnoughToTellThePace(t *testing.T) {
	s := last(t, inline(4), going(9)...)
	require.Equal(t, judge.Watch, s.State)
	assert.Nil(t, s.Due.Late)
	assert.Contains(t, s.Due.Why, "too few tests yet")
}

func TestAFanOpensFromWhatIsBelievedNow(t *testing.T) {
	s := last(t, inline(4), going(6, 9, 12, 15)...)
	fan := s.Of(3).Fan
	require.NotNil(t, fan)
	assert.InDelta(t, *s.Of(3).ChangePct, fan.Change, 2)
	assert.Less(t, fan.Low, fan.High)
	assert.Less(t, fan.High, fan.Change, "it is going down")
	assert.Nil(t, s.Of(1).Fan)
}
