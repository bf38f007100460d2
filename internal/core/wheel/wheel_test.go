package wheel_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/units"
	"braxel/internal/core/wheel"
)

func engine(kind string, banks [][]int, order []int, intervals []float64) log.Engine {
	return log.Engine{Name: "x", Kind: kind, Layout: log.Layout{Banks: banks}, FiringOrder: order, FiringIntervals: intervals, BoreMM: 101, StrokeMM: 84.2, RodMM: 152}
}

func TestAnEightHasFourMarksOfTwo(t *testing.T) {
	w, err := wheel.Of(engine(log.FourStroke, [][]int{{1, 3, 5, 7}, {2, 4, 6, 8}}, []int{1, 8, 4, 3, 6, 5, 7, 2}, nil), units.Choice{})
	require.NoError(t, err)
	assert.True(t, w.Even)
	require.Len(t, w.Marks, 4)
	assert.Equal(t, []int{1, 6}, w.Marks[0].Cylinders)
	assert.Equal(t, []int{8, 5}, w.Marks[1].Cylinders)
	assert.Equal(t, "Turn 90° clockwise to 8. Both its valves are shut; 5 is on overlap.", w.Says[1])
	assert.Contains(t, w.Push, "100 psi with the crank 5° off")
}

func TestAnUnevenTwinSaysItsOwnTurns(t *testing.T) {
	e := engine(log.FourStroke, [][]int{{1}, {2}}, []int{1, 2}, []float64{270, 450})
	e.Rotation = "anticlockwise"
	w, err := wheel.Of(e, units.Choice{})
	require.NoError(t, err)
	assert.Equal(t, "Turn 270° anticlockwise to 2. Both its valves are shut.", w.Says[1])
	assert.Len(t, w.Marks, 2)
}

func TestATwoStrokeComesUpEveryTurn(t *testing.T) {
	w, err := wheel.Of(engine(log.TwoStroke, [][]int{{1}}, nil, nil), units.Choice{})
	require.NoError(t, err, "a single needs no firing order")
	assert.Contains(t, w.Says[0], "on every turn")
}

func TestWithoutAnOrderThereIsNoWheel(t *testing.T) {
	_, err := wheel.Of(engine(log.FourStroke, [][]int{{1, 2}}, nil, nil), units.Choice{})
	assert.ErrorIs(t, err, wheel.ErrNoOrder)
	e := engine(log.FourStroke, [][]int{{1}}, nil, nil)
	e.RodMM = 0
	w, _ := wheel.Of(e, units.Choice{})
	assert.Empty(t, w.Push, "without the rod nothing is said of the push")
}
