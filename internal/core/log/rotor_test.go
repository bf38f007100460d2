package log_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/log"
)

func TestAFlickerGetsBackWhatTheNeedleLagsBy(t *testing.T) {
	// Held 112, flickers 100, 64 and 98: the needle lags by 12.
	for pulse, face := range map[float64]float64{100: 112, 64: 76, 98: 110} {
		assert.InDelta(t, face, log.Flicker{Pulse: pulse, Highest: 100, Held: 112}.Reading(), 1e-12)
	}
	assert.Empty(t, log.Flicker{Pulse: 64, Highest: 100, Held: 112}.Check("/flicker"))
	assert.Equal(t, "/flicker/held", log.Flicker{Pulse: 64, Highest: 100, Held: 99}.Check("/flicker")[0].At)
	assert.Equal(t, "/flicker/pulse", log.Flicker{Pulse: 101, Highest: 100, Held: 112}.Check("/flicker")[0].At)
}

func TestASpeedTableRisesAndIsOfARotary(t *testing.T) {
	e := log.Engine{Name: "Siskin", Kind: log.Rotary, Layout: log.Layout{Rotors: 2}, SpeedTable: []log.SpeedFactor{{RPM: 250, Factor: 1}, {RPM: 200, Factor: 1.1}}}
	assert.Equal(t, "/speed_table/1/rpm", e.Check()[0].At)
	e.SpeedTable = e.SpeedTable[:1]
	assert.Empty(t, e.Check())
	piston := log.Engine{Name: "Siskin", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1}}}, SpeedTable: e.SpeedTable}
	assert.Equal(t, "/speed_table", piston.Check()[0].At)
}
