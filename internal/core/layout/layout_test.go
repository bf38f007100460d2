package layout_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/layout"
	"braxel/internal/core/log"
)

var v8 = log.Layout{Banks: [][]int{{1, 3, 5, 7}, {2, 4, 6, 8}}, AngleDeg: 90}

func TestNeighboursShareAGasketOnlyInTheirBank(t *testing.T) {
	assert.Equal(t, []int{3, 7}, layout.Neighbours(v8, 5))
	assert.Equal(t, []int{3}, layout.Neighbours(v8, 1))
	assert.NotContains(t, layout.Neighbours(v8, 5), 6)
	assert.Empty(t, layout.Neighbours(log.Layout{Banks: [][]int{{1}, {2}}}, 1), "each of a V-twin's cylinders has a head of its own")
}

func TestAPlaceIsSaidFromTheFront(t *testing.T) {
	for c, want := range map[int]string{1: "bank 1, front", 3: "bank 1, second from front", 6: "bank 2, third from front", 8: "bank 2, rear"} {
		assert.Equal(t, want, layout.Place(v8, c))
	}
	assert.Equal(t, "the only cylinder", layout.Place(log.Layout{Banks: [][]int{{1}}}, 1))
	assert.Equal(t, "second from front", layout.Place(log.Layout{Banks: [][]int{{1, 2, 3, 4}}}, 2))
}

func TestEveryPresetIsAnEngineThatCouldBeBuilt(t *testing.T) {
	for _, p := range layout.Presets() {
		require.NotEmpty(t, p.Firings, p.Name)
		for _, f := range p.Firings {
			e := log.Engine{Name: p.Name, Kind: log.FourStroke, Layout: p.Layout, FiringOrder: f.Order, FiringIntervals: f.Intervals}
			assert.NoError(t, e.Check().Err(), "%s %v", p.Name, f.Order)
			_, err := layout.Plan(f.Order, f.Intervals, 720)
			assert.NoError(t, err, p.Name)
		}
	}
}

func TestCompanionsReachTheTopTogether(t *testing.T) {
	steps, err := layout.Plan([]int{1, 3, 4, 2}, nil, 720)
	require.NoError(t, err)
	assert.Equal(t, []int{4}, steps[0].Companions, "1 fires while 4 is on overlap")
	assert.Equal(t, 180.0, steps[1].Turn)

	steps, err = layout.Plan([]int{1, 2}, []float64{270, 450}, 720)
	require.NoError(t, err)
	assert.Empty(t, steps[0].Companions, "an uneven twin comes up alone")
}

func TestAPlanThatCannotTurnIsRefused(t *testing.T) {
	for name, in := range map[string]struct {
		order     []int
		intervals []float64
	}{
		"nothing":     {nil, nil},
		"twice":       {[]int{1, 1}, nil},
		"too few":     {[]int{1, 2}, []float64{720}},
		"no full sum": {[]int{1, 2}, []float64{180, 180}},
	} {
		_, err := layout.Plan(in.order, in.intervals, 720)
		assert.Error(t, err, name)
	}
}
