package units_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

func TestAGaugeInAnyUnitTellsTheSamePressure(t *testing.T) {
	for _, r := range []units.Reading{{Value: 150, Unit: units.PSI}, {Value: 1034.21, Unit: units.KPa}, {Value: 10.3421, Unit: units.Bar}, {Value: 10.546, Unit: units.KgfCm2}} {
		assert.InDelta(t, 1034.21, float64(r.Pressure()), 0.02, r.String())
	}
}

func TestWhatWasTypedComesBackInItsUnit(t *testing.T) {
	r := units.Reading{Value: 10.4, Unit: units.Bar}
	assert.Equal(t, "10.4 bar", r.String())
	assert.InDelta(t, 10.4, r.Pressure().In(units.Bar), 1e-12)
}

func TestReadingsThatNoEngineMakesAreRefused(t *testing.T) {
	assert.NoError(t, units.Check(units.Reading{Value: 0, Unit: units.PSI}), "a hole in the piston reads nothing")
	assert.NoError(t, units.Check(units.Reading{Value: 60, Unit: units.Bar}))
	assert.ErrorContains(t, units.Check(units.Reading{Value: 1510, Unit: units.PSI}), "must be between 0 and 870 psi")
	assert.Error(t, units.Check(units.Reading{Value: -1, Unit: units.PSI}))
	assert.Error(t, units.Check(units.Reading{Value: math.NaN(), Unit: units.PSI}))
	assert.ErrorContains(t, units.Check(units.Reading{Value: 10, Unit: "atm"}), "atm")
}

// 170 and 171 psi make 170.5, which is 171 wherever it is read; through kPa and back it came to a last digit less, and stood as 170 on papers.
func TestAReadingIsRoundedOnce(t *testing.T) {
	for _, u := range units.All {
		for half := 0.5; half < 900; half++ {
			step := 1.0
			if u.Unit != units.PSI && u.Unit != units.KPa {
				step = 10
			}
			v := units.Reading{Value: half / step, Unit: u.Unit}
			assert.Equal(t, (half+0.5)/step, v.Pressure().Shown(u.Unit).Value, v)
			assert.Equal(t, say.Rounded((half+0.5)/step, int(step/10))+" "+string(u.Unit), v.Pressure().Written(u.Unit))
		}
	}
}
