package units_test

import (
	"reflect"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/units"
)

var american = units.Choice{
	Pressure: units.PSI, Temperature: "°F", Length: "in", Height: "ft", Air: "inHg", Volume: "ci", Distance: "mi", Torque: "lbf·ft",
	Clock: "12", Dates: "month-day",
}

// Figures from any table of conversions.
func TestFiguresInTheUnitsChosen(t *testing.T) {
	for _, c := range []struct {
		of     units.Of
		v      float64
		shown  string
		metric string
	}{
		{units.Length, 82.55, "3.25 in", "82.55 mm"},
		{units.Temperature, 85, "185 °F", "85 °C"},
		{units.Temperature, -40, "-40 °F", "-40 °C"},
		{units.Temperature, 29.44444, "85 °F", "29.4 °C"},
		{units.Height, 1609.344, "5280 ft", "1609 m"},
		{units.Air, 101.325, "29.92 inHg", "101.3 kPa"},
		{units.Volume, 5735.472, "350 ci", "5735.5 cc"},
		{units.Distance, 160.9344, "100 mi", "161 km"},
		{units.Torque, 135.58179, "100 lbf·ft", "136 Nm"},
		{units.Force, 444.82216, "100 lbf", "445 N"},
	} {
		assert.Equal(t, c.shown, american.Written(c.of, c.v))
		assert.Equal(t, c.metric, units.Choice{}.Written(c.of, c.v))
	}
	assert.Equal(t, "101.325 kPa", units.Choice{}.Noted(units.Air, 101.325), "as it was typed")
	assert.Equal(t, "101.325 kPa", units.Choice{Air: "kPa"}.Noted(units.Air, 101.325))
	assert.Equal(t, "29.92 inHg", american.Noted(units.Air, 101.325))
	assert.Equal(t, "60 psi", american.Say(60, "psi"))
	assert.Equal(t, "4.1 bar", units.Choice{Pressure: units.Bar}.Say(60, "psi"))
	assert.Equal(t, "12,427 mi", american.Say(20000, "km"))
	assert.Equal(t, "40 ppm", american.Say(40, "ppm"), "of nothing that can be chosen")
	assert.Equal(t, "0.25 mm", units.Choice{}.Say(0.25, "mm"))
	assert.Equal(t, "0.0098 in", american.Say(0.25, "mm"))
	assert.Equal(t, "122.05 ci", american.Say(2000, "cm³"))
}

func TestADayAsTheReaderHasIt(t *testing.T) {
	assert.Equal(t, "Apr 2, 2033", american.Day("2033-04-02"))
	assert.Equal(t, "2 Apr 2033", units.Choice{}.Day("2033-04-02"))
	assert.Equal(t, "soon", american.Day("soon"))
}

// Whoever chose nothing has what the workshop chose, field by field.
func TestOnesOwnChoiceStandsAboveTheWorkshops(t *testing.T) {
	assert.Equal(t, american, units.Choice{}.Over(american))
	assert.Equal(t, american, american.Over(units.Choice{Pressure: units.Bar, Length: "mm", Clock: "24"}))
	both := units.Choice{Pressure: units.Bar}.Over(american)
	assert.Equal(t, units.Bar, both.Pressure)
	assert.Equal(t, "°F", both.Temperature)
}

// Every unit that can be chosen is one that is known, so that nothing chosen is shown in another.
func TestEveryChoiceIsAUnit(t *testing.T) {
	of := map[string]units.Of{
		"Temperature": units.Temperature, "Length": units.Length, "Height": units.Height, "Air": units.Air, "Volume": units.Volume,
		"Distance": units.Distance, "Torque": units.Torque,
	}
	kind := reflect.TypeFor[units.Choice]()
	for name, quantity := range of {
		field, there := kind.FieldByName(name)
		assert.True(t, there, name)
		for unit := range strings.SplitSeq(field.Tag.Get("enum"), ",") {
			var c units.Choice
			reflect.ValueOf(&c).Elem().FieldByName(name).SetString(unit)
			_, shown := c.In(quantity, 1)
			assert.Equal(t, unit, shown)
		}
	}
}
