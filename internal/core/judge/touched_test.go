package judge_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/judge"
	"braxel/internal/core/rules"
)

// A repair that names the cylinders that it touched begins their baseline anew, and leaves what is known of the others alone.
func TestARepairBeginsTheBaselineOfTheCylindersThatItTouched(t *testing.T) {
	right := [4]float64{180, 182, 178, 180}
	bad := [4]float64{180, 158, 150, 180}     // 2 and 3 have lost a good tenth
	mended := [4]float64{180, 158, 170, 180}  // 3 was given another valve, and makes less than it did; 2 is as bad
	later := [4]float64{180, 158, 170, 180}   // and so it stays
	fallen := [4]float64{180, 158, 153, 180.} // 3 loses a tenth of what it made after the repair
	l := four(right, right, bad, mended, later, later, fallen)
	l.Sessions[3].Stage, l.Sessions[3].Touched = "after-repair", []int{3}
	v := judge.Log(l, rules.Shop{})
	assert.GreaterOrEqual(t, v.Sessions[2].Of(2).State.Severity(), judge.Watch.Severity())
	assert.GreaterOrEqual(t, v.Sessions[2].Of(3).State.Severity(), judge.Watch.Severity())
	for i := 3; i < 7; i++ {
		assert.GreaterOrEqual(t, v.Sessions[i].Of(2).State.Severity(), judge.Watch.Severity(), "nobody mended 2")
		assert.Equal(t, judge.Steady, v.Sessions[i].Of(1).State)
	}
	for i := 4; i < 6; i++ {
		assert.Equal(t, judge.Steady, v.Sessions[i].Of(3).State, "it is held against itself after the repair: %v", v.Sessions[i].Of(3).Why)
		assert.InDelta(t, 0, *v.Sessions[i].Of(3).ChangePct, 2)
		assert.Less(t, *v.Sessions[i].Of(2).ChangePct, -10.0, "2 against what it was")
	}
	assert.GreaterOrEqual(t, v.Sessions[6].Of(3).State.Severity(), judge.Watch.Severity(), "what it loses from there is seen")

	// With no cylinder named, all were touched; one that reads as badly as before is not forgiven for that.
	l.Sessions[3].Touched = nil
	assert.GreaterOrEqual(t, judge.Log(l, rules.Shop{}).Sessions[3].Of(2).State.Severity(), judge.Watch.Severity())
	// A worse touched cylinder is never judged milder than a better one.
	l.Sessions[3].Touched = []int{3}
	for _, psi := range []float64{165, 150, 120, 60, 0} {
		l.Sessions[6] = four(right, right, bad, mended, later, later, [4]float64{180, 158, psi, 180}).Sessions[6]
		state := judge.Log(l, rules.Shop{}).Sessions[6].Of(3).State
		if psi <= 153 {
			assert.GreaterOrEqual(t, state.Severity(), judge.Watch.Severity(), psi)
		}
		if psi <= 60 {
			assert.Equal(t, judge.Stop, state, psi)
		}
	}
}
