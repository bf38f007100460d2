package sheet_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/sheet"
	"braxel/internal/core/units"
)

// faced is a two-rotor's log whose one test has those faces, in psi, cranked at a speed.
func faced(rpm float64, rotors ...[3]float64) log.Log {
	l := log.Log{Engine: log.Engine{Name: "Siskin", Kind: log.Rotary, Layout: log.Layout{Rotors: 2}}, Sessions: []log.Session{{ID: "s1", Date: "2031-01-10", Open: true}}}
	for r, three := range rotors {
		for f, v := range three {
			l.Sessions[0].Compression = append(l.Sessions[0].Compression, log.Compression{
				Place: log.Place{Rotor: r + 1, Face: f + 1}, Mode: log.Dry,
				Pulls: []log.Pull{{Reading: units.Reading{Value: v, Unit: units.PSI}, RPM: rpm, Key: string(rune('a' + 3*r + f))}}})
		}
	}
	return l
}

func rotorsOf(t *testing.T, l log.Log) sheet.Sheet {
	t.Helper()
	s, err := sheet.Of(l, "s1", rules.Shop{})
	require.NoError(t, err)
	return s
}

func TestARotorSaysWhatABuilderWouldSeeFirst(t *testing.T) {
	least := func(psi float64) func(*log.Log) {
		return func(l *log.Log) {
			l.Engine.Limits = &log.Limits{Source: "maker", Minimum: &units.Reading{Value: psi, Unit: units.PSI}}
		}
	}
	for _, c := range []struct {
		name, says string
		faces      [3]float64
		with       func(*log.Log)
	}{
		{"even", "Even", [3]float64{110, 108, 111}, nil},
		{"one off", "Face 2 is 33 % below the highest of its rotor: an apex seal, or that corner", [3]float64{110, 74, 111}, nil},
		{"nothing", "Next to nothing on any face. Is the gauge seated and the other plug in? If so, stop here", [3]float64{3, 1, 2}, nil},
		{"even and low", "Even, and below the maker's minimum of 85 psi: worn all round", [3]float64{80, 81, 79}, least(85)},
		{"one just below", "One of its faces is below the maker's minimum of 85 psi", [3]float64{90, 84, 91}, least(85)},
	} {
		l := faced(250, [3]float64{112, 111, 110}, c.faces)
		if c.with != nil {
			c.with(&l)
		}
		assert.Equal(t, c.says, rotorsOf(t, l).Rotors[1].Says, c.name)
	}
}

// The maker's table is a straight line between its rows, and its ends hold beyond them: reckoned by hand here.
func TestFacesComeToTheMakersSpeed(t *testing.T) {
	for rpm, factor := range map[float64]float64{150: 1.2, 180: 1.2, 200: 1.12, 230: 1, 250: 1, 275: 0.975, 400: 0.95} {
		l := faced(rpm, [3]float64{100, 100, 100})
		l.Engine.SpeedTable = []log.SpeedFactor{{RPM: 180, Factor: 1.2}, {RPM: 230, Factor: 1}, {RPM: 250, Factor: 1}, {RPM: 300, Factor: 0.95}}
		one := rotorsOf(t, l).Rotors[0]
		assert.InDelta(t, 100*factor, one.Faces[0].Nominal.Value, 0.51, "at %g", rpm)
		assert.False(t, one.Estimated)
	}
	// Without a table it is an estimate, and says so; without a speed nothing is done.
	one := rotorsOf(t, faced(200, [3]float64{100, 100, 100})).Rotors[0]
	assert.True(t, one.Estimated)
	assert.Greater(t, one.Faces[0].Nominal.Value, 100.0)
	assert.InDelta(t, 100, rotorsOf(t, faced(0, [3]float64{100, 100, 100})).Rotors[0].Faces[0].Nominal.Value, 0.01)
	// A mile up an engine makes the same ratio of less air.
	l := faced(250, [3]float64{100, 100, 100})
	l.Sessions[0].Conditions.AmbientKPa = 84.3
	assert.InDelta(t, 100*101.325/84.3, rotorsOf(t, l).Rotors[0].Faces[0].Nominal.Value, 0.6)
}

func TestTheSheetLeadsFromRotorToRotor(t *testing.T) {
	assert.Equal(t, "Next: rotor 1, front", rotorsOf(t, faced(0)).Prompt.Say)
	one := rotorsOf(t, faced(0, [3]float64{100, 100, 100}))
	assert.Equal(t, 2, one.Prompt.Cylinder)
	assert.Equal(t, []int{2}, one.Unread)
	assert.Zero(t, rotorsOf(t, faced(0, [3]float64{100, 100, 100}, [3]float64{99, 99, 99})).Prompt.Cylinder)
}

// Whatever three faces are, the same three in another order say the same of the rotor; a lower one never sounds better.
func TestTheOrderOfTheFacesIsNobodysBusiness(t *testing.T) {
	draw := rand.New(rand.NewPCG(3, 1))
	for range 300 {
		f := [3]float64{math.Round(40 + 80*draw.Float64()), math.Round(40 + 80*draw.Float64()), math.Round(40 + 80*draw.Float64())}
		a := rotorsOf(t, faced(250, f)).Rotors[0]
		b := rotorsOf(t, faced(250, [3]float64{f[1], f[2], f[0]})).Rotors[0]
		require.InDelta(t, *a.ApartPct, *b.ApartPct, 1e-9)
		require.Equal(t, a.Says == "Even", b.Says == "Even")
	}
}
