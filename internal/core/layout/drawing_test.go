package layout_test

import (
	"encoding/json"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/layout"
	"braxel/internal/core/log"
)

// drawn is kept beside plan.ts, which is held to it: paper and screen draw one plan.
const drawn = "../../../web/src/components/plan.golden.json"

func TestTheBorePlanIsTheOneThatTheScreenDraws(t *testing.T) {
	type one struct {
		Layout log.Layout     `json:"layout"`
		Drawn  layout.Drawing `json:"drawn"`
	}
	var all []one
	for _, l := range []log.Layout{
		{Banks: [][]int{{1}}}, {Banks: [][]int{{1, 2, 3, 4}}}, {Banks: [][]int{{1, 3, 5, 7}, {2, 4, 6, 8}}}, {Banks: [][]int{{1, 2, 3}, {4, 5}}},
		{Banks: [][]int{{1, 2}, {3, 4}, {5, 6}}}, {Rotors: 2},
		{Banks: [][]int{{1, 2, 3, 4, 5}}, Radial: true}, {Banks: [][]int{{1, 2, 3, 4, 5, 6, 7, 8, 9}}, Radial: true},
	} {
		all = append(all, one{l, layout.Draw(l)})
	}
	text, err := json.MarshalIndent(all, "", " ")
	require.NoError(t, err)
	if os.Getenv("BRAXEL_GOLDEN") == "write" {
		require.NoError(t, os.WriteFile(drawn, append(text, '\n'), 0o600))
	}
	want, err := os.ReadFile(drawn)
	require.NoError(t, err)
	assert.Equal(t, string(want), string(text)+"\n")
}

func TestNoTwoBoresTouchAndAllLieInTheirBlock(t *testing.T) {
	d := layout.Draw(log.Layout{Banks: [][]int{{1, 3, 5, 7, 9, 11}, {2, 4, 6, 8, 10, 12}}})
	const across = 100.0
	for i, a := range d.Bores {
		for _, b := range d.Bores[i+1:] {
			assert.Greater(t, (a.X-b.X)*(a.X-b.X)+(a.Y-b.Y)*(a.Y-b.Y), across*across)
		}
		inside := false
		for _, block := range d.Blocks {
			inside = inside || a.X-across/2 >= block.X0 && a.X+across/2 <= block.X1 && a.Y-across/2 >= block.Y0 && a.Y+across/2 <= block.Y1
		}
		assert.True(t, inside, a.Cylinder)
		assert.LessOrEqual(t, a.X+across/2, d.Width)
	}
}
