package twice_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/twice"
)

// The common shift of many even cylinders is their mean, and its error their standard error, by the closed form.
func TestCommonOfManyEvenCylindersIsTheirMean(t *testing.T) {
	var moved []twice.Shift
	for i := range 12 {
		moved = append(moved, twice.Shift{By: 0.02 + 0.001*float64(i%3-1), SE: 0.01})
	}
	mean, se := twice.Alike().Common(moved)
	assert.InDelta(t, 0.02, mean, 0.001)
	assert.InDelta(t, 0.01/math.Sqrt(12), se, 0.0008)
	mean, se = twice.Alike().Common(nil)
	assert.InDelta(t, 0, mean, 1e-9)
	narrow, wide := math.Sqrt2*0.028, math.Sqrt2*0.12
	assert.InDelta(t, math.Sqrt(0.9*narrow*narrow+0.1*wide*wide), se, 0.003, "with no sibling, what two visits differ by")
}

// Nothing read once is surely better, however far it went; read twice and alike, it is.
func TestOneReadingAloneIsNeverSure(t *testing.T) {
	low, high := twice.Read{Log: math.Log(900), SE: 0.01, Pulls: 1}, twice.Read{Log: math.Log(1200), SE: 0.01, Pulls: 1}
	assert.Equal(t, twice.Untold, twice.Gain(low, high, 0, 0.01, 1).Move)
	low.Pulls = 2
	assert.Equal(t, twice.Better, twice.Gain(low, high, 0, 0.01, 1).Move)
	assert.Equal(t, twice.Worse, twice.Gain(twice.Read{Log: high.Log, SE: 0.01, Pulls: 2}, low, 0, 0.01, 1).Move)
	leaky, tight := twice.Read{Leak: 22, LeakSE: 1, Attempts: 1}, twice.Read{Leak: 4, LeakSE: 0.5, Attempts: 1}
	assert.Equal(t, twice.Untold, twice.Leak(leaky, tight, 0, 0, 1).Move, "dirt on the seat makes that, too")
	leaky.Attempts = 2
	assert.Equal(t, twice.Better, twice.Leak(leaky, tight, 0, 0, 1).Move)
}

func TestTwoThatPointOneWayAreSurerTogether(t *testing.T) {
	m := func(by, chance float64) *twice.Moved { return &twice.Moved{By: by, Chance: chance, Move: twice.Untold} }
	_, alone := twice.Join(m(8, 0.03), nil)
	move, both := twice.Join(m(8, 0.03), m(-6, 0.03))
	assert.Less(t, both, alone)
	assert.Equal(t, twice.Better, move)
	move, _ = twice.Join(m(8, 0.001), m(6, 0.001))
	assert.Equal(t, twice.Untold, move, "compression gained and leak grown contradict each other")
}
