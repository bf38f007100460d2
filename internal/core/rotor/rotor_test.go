package rotor_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/rotor"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

func TestOnePulseIsOneTurn(t *testing.T) {
	assert.InDelta(t, 240, rotor.RPM(20, 5), 1e-9)
}

func TestTheNeedlesLagIsAddedToEveryFace(t *testing.T) {
	got := rotor.Faces(700, [3]units.Pressure{600, 580, 560})
	assert.Equal(t, [3]units.Pressure{700, 680, 660}, got, "the highest face is what the gauge held")
}

func TestAMakersTableIsReadBetweenItsRows(t *testing.T) {
	table := []rotor.At{{RPM: 200, Factor: 1.2}, {RPM: 250, Factor: 1}, {RPM: 300, Factor: 0.9}}
	for rpm, want := range map[float64]float64{150: 1.2, 200: 1.2, 225: 1.1, 250: 1, 275: 0.95, 400: 0.9} {
		factor, estimated := rotor.Factor(rpm, table)
		assert.InDelta(t, want, factor, 1e-9, "%g rpm", rpm)
		assert.False(t, estimated)
	}
}

func TestWithoutATableTheFactorIsAnEstimateThatFallsWithSpeed(t *testing.T) {
	at, estimated := rotor.Factor(rules.RotorNominal, nil)
	assert.True(t, estimated)
	assert.InDelta(t, 1, at, 1e-9)
	slow, _ := rotor.Factor(180, nil)
	fast, _ := rotor.Factor(320, nil)
	assert.Greater(t, slow, 1.0, "slow cranking leaks longer: the reading is raised")
	assert.Less(t, fast, 1.0)
}

func TestPulsesMustFitTheirSeconds(t *testing.T) {
	assert.Empty(t, rotor.CheckPulses(20, 5, "/beats"), "240 a minute")
	assert.Empty(t, rotor.CheckPulses(0, 5, "/beats"), "not counted")
	assert.Empty(t, rotor.CheckPulses(20, 0, "/beats"), "not timed")
	for _, pulses := range []int{2, 60} {
		assert.Equal(t, "/beats", rotor.CheckPulses(pulses, 5, "/beats")[0].At)
	}
}
