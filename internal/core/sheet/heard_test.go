package sheet_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/log"
	"braxel/internal/core/sheet"
)

func TestWhereAirWasHeardIsSaidOfThatKindOfEngine(t *testing.T) {
	blown := []log.Path{{Where: log.Exhaust, Level: 2}, {Where: log.Crankcase, Level: 1}}
	assert.Equal(t, "exhaust, clear; oil filler, faint", sheet.Heard(log.FourStroke, blown))
	assert.Equal(t, "exhaust, clear; crankcase, faint", sheet.Heard(log.TwoStroke, blown), "a two-stroke has no oil filler")
	assert.Equal(t, "plug hole of 3, strong", sheet.Heard(log.FourStroke, []log.Path{{Where: log.Neighbour, Cylinder: 3, Level: 3}}))
	assert.NotEqual(t, sheet.Heard(log.FourStroke, nil), sheet.Heard(log.FourStroke, []log.Path{}), "nobody listened, and nothing was heard")
}
