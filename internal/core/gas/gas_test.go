package gas_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

var heron = gas.Cylinder{Bore: 87, Stroke: 91, Rod: 149, Ratio: 11.4, IntakeCloses: 62}

func TestAMileUpCostsAboutASixth(t *testing.T) {
	pa := gas.Ambient(1609)
	assert.InDelta(t, 1-1.0/6, float64(pa/gas.SeaLevel), 0.02)
	assert.InDelta(t, 1000, float64(gas.ToSeaLevel(1000*pa/gas.SeaLevel, pa)), 1e-9)
}

func TestAMeasuredAirPressureStandsAboveTheAltitude(t *testing.T) {
	high := 1500.0
	e := log.Engine{AltitudeM: &high}
	assert.Equal(t, gas.Ambient(1500), gas.AmbientOf(e, log.Conditions{}))
	assert.Equal(t, units.Pressure(99), gas.AmbientOf(e, log.Conditions{AmbientKPa: 99}))
	assert.Equal(t, gas.SeaLevel, gas.AmbientOf(log.Engine{}, log.Conditions{}))
}

func TestTheReferenceTesterReadsItself(t *testing.T) {
	for _, pct := range []float64{0.5, 2, 6, 20, 60, 95} {
		held := gas.ReferenceSupply * units.Pressure(1-pct/100)
		hole, err := gas.Hole(gas.ReferenceSupply, held, gas.SeaLevel, gas.OrificeMM)
		require.NoError(t, err)
		assert.InDelta(t, pct, gas.ReferenceLeakPct(hole), 1e-6)
	}
}

func TestTheDropGoesFromNothingToTheStroke(t *testing.T) {
	assert.InDelta(t, 0, heron.Drop(0), 1e-12)
	assert.InDelta(t, 91, heron.Drop(180), 1e-9)
	assert.Greater(t, heron.Drop(90), 45.5, "the rod's tilt puts the piston below half the stroke at half a turn")
}

func TestAtTDCAirPushesNoCrank(t *testing.T) {
	force, torque, _ := heron.Push(689, 0, 300)
	assert.InDelta(t, 4096, force, 1, "0.689 MPa on 5945 mm²")
	assert.InDelta(t, 0, torque, 1e-9)
	_, five, bar := heron.Push(689, 5, 300)
	assert.Greater(t, five, 10.0)
	assert.InDelta(t, five/0.3, bar, 1e-9)
}

// FuzzCranking: the ratio comes back from the pressure it makes, and the physics keep their direction.
func FuzzCranking(f *testing.F) {
	f.Add(87.0, 91.0, 149.0, 11.4, 62.0, 3.0)
	f.Fuzz(func(t *testing.T, bore, stroke, rod, ratio, closes, dead float64) {
		c := gas.Cylinder{Bore: bore, Stroke: stroke, Rod: rod, Ratio: ratio, IntakeCloses: closes}
		if !(bore >= 20 && bore <= 400 && stroke >= 15 && stroke <= 600 && rod <= 2000 && ratio >= 1.5 && ratio <= 30 && closes <= 150 && dead >= 0 && dead <= 50) || c.Check() != nil {
			return
		}
		p, err := c.Cranking(gas.SeaLevel, gas.ExponentMid, dead, 0)
		require.NoError(t, err)
		require.False(t, math.IsNaN(float64(p)) || math.IsInf(float64(p), 0))
		if p < 1 {
			return
		}
		back, err := c.RatioFor(p, gas.SeaLevel, gas.ExponentMid, dead)
		require.NoError(t, err)
		assert.InDelta(t, ratio, back, 1e-6*ratio)
		more := c
		more.Ratio++
		higher, err := more.Cranking(gas.SeaLevel, gas.ExponentMid, dead, 0)
		require.NoError(t, err)
		assert.Greater(t, higher, p, "a higher ratio makes more")
		hose, err := c.Cranking(gas.SeaLevel, gas.ExponentMid, dead+5, 0)
		require.NoError(t, err)
		assert.Less(t, hose, p, "a longer hose ahead of the check valve makes less")
	})
}

func FuzzHole(f *testing.F) {
	f.Add(689.0, 640.0, 101.0, 1.0)
	f.Fuzz(func(t *testing.T, supply, held, ambient, orifice float64) {
		if !(supply > 10 && supply < 2000 && ambient >= 40 && ambient <= 110 && orifice > 0.1 && orifice < 5 && held > 1 && held < supply*0.999) {
			return
		}
		d, err := gas.Hole(units.Pressure(supply), units.Pressure(held), units.Pressure(ambient), orifice)
		require.NoError(t, err)
		assert.InDelta(t, held, float64(gas.Held(d, units.Pressure(supply), units.Pressure(ambient), orifice)), 1e-6*supply)
		wider, err := gas.Hole(units.Pressure(supply), units.Pressure(held*0.99), units.Pressure(ambient), orifice)
		require.NoError(t, err)
		assert.Greater(t, wider, d, "less held, larger hole")
	})
}
