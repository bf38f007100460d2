package units_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/units"
)

// Figures that anybody can look up: water freezes and boils, an inch is 25.4 mm, standard air is 29.92 inches of mercury.
func TestMeasuresAsTheyAreTyped(t *testing.T) {
	in := func(value float64, unit string) float64 {
		for _, list := range units.Measures {
			for _, m := range list.Units {
				if m.Unit == unit {
					return value*m.Factor + m.Offset
				}
			}
		}
		t.Fatal(unit)
		return 0
	}
	assert.InDelta(t, 0, in(32, "°F"), 1e-9)
	assert.InDelta(t, 100, in(212, "°F"), 1e-9)
	assert.InDelta(t, 82.55, in(3.25, "in"), 1e-9)
	assert.InDelta(t, 101.325, in(29.921, "inHg"), 0.01)
	assert.InDelta(t, 101.325, in(14.696, "psi"), 0.001)
	assert.InDelta(t, 5735, in(350, "ci"), 1)
	assert.InDelta(t, 1609.344, in(5280, "ft"), 1e-9)
	for _, quantity := range units.Measures {
		list := quantity.Units
		assert.Equal(t, units.Measure{Unit: list[0].Unit, Also: list[0].Also, Factor: 1, Decimals: list[0].Decimals}, list[0], "the logs' own comes first")
		seen := map[string]bool{}
		for _, m := range list {
			for _, name := range append([]string{m.Unit}, m.Also...) {
				assert.False(t, seen[strings.ToLower(name)], name)
				seen[strings.ToLower(name)] = true
			}
		}
	}
}
