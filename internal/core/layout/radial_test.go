package layout_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

func radial(t *testing.T, n int) layout.Preset {
	t.Helper()
	for _, p := range layout.Presets() {
		if p.Layout.Radial && len(p.Layout.Banks[0]) == n {
			return p
		}
	}
	require.Fail(t, "no such radial")
	return layout.Preset{}
}

// Of an odd number every other cylinder fires, so that two turns of the crank bring all of them up once.
func TestEveryOtherCylinderOfARadialFires(t *testing.T) {
	for _, n := range []int{5, 9} {
		order := radial(t, n).Firings[0].Order
		require.Len(t, order, n)
		for i, c := range order {
			next := order[(i+1)%n]
			assert.Equal(t, (c-1+2)%n+1, next, "after %d of %d", c, n)
		}
	}
}

func TestARadialIsDrawnRoundAndSharesNoGasket(t *testing.T) {
	for _, n := range []int{5, 9} {
		l := radial(t, n).Layout
		d := layout.Draw(l)
		require.Len(t, d.Bores, n)
		assert.Less(t, d.Bores[0].Y, d.Height/4, "the first stands at the top")
		assert.Greater(t, d.Bores[1].X, d.Bores[0].X, "and they go round clockwise")
		from := func(b layout.BoreAt) float64 { return math.Hypot(b.X-d.Width/2, b.Y-d.Height/2) }
		for i, b := range d.Bores {
			assert.InDelta(t, from(d.Bores[0]), from(b), 0.2)
			assert.Empty(t, layout.Neighbours(l, b.Cylinder))
			next := d.Bores[(i+1)%n]
			assert.Greater(t, math.Hypot(b.X-next.X, b.Y-next.Y), 108.0, "no two bores touch")
		}
		assert.Zero(t, d.Front)
		assert.Positive(t, d.Hub)
	}
	l := radial(t, 5).Layout
	l.Master = 1
	assert.Equal(t, "top, master rod", layout.Place(l, 1))
	assert.Equal(t, "72° clockwise from the top", layout.Place(l, 2))
	kart := log.Engine{Kind: log.TwoStroke, Layout: log.Layout{Banks: [][]int{{1}}}, BoreMM: 54, StrokeMM: 54.4}
	for volume, want := range map[string]string{"": "0.1 l", "l": "0.1 l", "cc": "125 cc", "ci": "7.6 ci"} {
		assert.Equal(t, want+" single, two-stroke", layout.Describe(kart, units.Choice{Volume: volume}))
	}
	assert.Equal(t, "radial of 5", layout.Describe(log.Engine{Kind: log.FourStroke, Layout: l}, units.Choice{}))
}

func TestWhatIsNoRadialIsRefused(t *testing.T) {
	e := log.Engine{Name: "Siskin", Kind: log.FourStroke, Layout: radial(t, 9).Layout}
	assert.Empty(t, e.Check())
	e.Layout.Master = 10
	assert.Equal(t, "/layout/master_rod", e.Check()[0].At)
	e.Layout = log.Layout{Banks: [][]int{{1, 2}, {3, 4}}, Radial: true}
	assert.Equal(t, "/layout/banks", e.Check()[0].At)
}
