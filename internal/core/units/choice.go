package units

import (
	"math"
	"reflect"

	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/say"
)

// Choice is in which units, and how, somebody wants things shown. Where nothing is chosen they are shown as they were typed, or in the
// logs' own unit. It changes nothing of what is stored.
type Choice struct {
	Pressure    Unit   `json:"pressure,omitzero" doc:"Of cylinders; if left out, in the unit last typed"`
	Temperature string `json:"temperature,omitzero" enum:"°C,°F"`
	Length      string `json:"length,omitzero" enum:"mm,in"`
	Height      string `json:"height,omitzero" enum:"m,ft"`
	Air         string `json:"air,omitzero" enum:"kPa,mbar,inHg" doc:"The atmosphere's pressure"`
	Volume      string `json:"volume,omitzero" enum:"cc,l,ci"`
	Distance    string `json:"distance,omitzero" enum:"km,mi" doc:"Of intervals, and of what a seller claims; an engine's meter keeps its own"`
	Torque      string `json:"torque,omitzero" enum:"Nm,lbf·ft"`
	Clock       string `json:"clock,omitzero" enum:"24,12" doc:"Hours in a day's time"`
	Dates       string `json:"dates,omitzero" enum:"day-month,month-day"`

	Rest jsontext.Value `json:",embed" hidden:"true"`
}

// Over returns the choice with another's laid beneath it: what somebody chose for himself stands above what the workshop did.
func (c Choice) Over(beneath Choice) Choice {
	mine, theirs := reflect.ValueOf(&c).Elem(), reflect.ValueOf(beneath)
	for i := range mine.NumField() {
		if mine.Field(i).Len() == 0 {
			mine.Field(i).Set(theirs.Field(i))
		}
	}
	return c
}

// PressureOr returns the unit for the pressure of cylinders, the given one where none is chosen.
func (c Choice) PressureOr(u Unit) Unit {
	if c.Pressure.Valid() {
		return c.Pressure
	}
	return u
}

// In returns a figure that is in the logs' unit in the chosen one, with its name.
func (c Choice) In(of Of, v float64) (float64, string) {
	m := of.measure(c.unit(of))
	return (v - m.Offset) / m.Factor, m.Unit
}

// Digits writes a figure that is in the logs' unit in the chosen one, with no more decimals than are read: 3.25.
func (c Choice) Digits(of Of, v float64) string {
	m := of.measure(c.unit(of))
	shown, _ := c.In(of, v)
	step := math.Pow10(m.Decimals)
	return say.Number(math.Round(shown*step)/step + 0)
}

// Written is Digits with the unit: 3.25 in.
func (c Choice) Written(of Of, v float64) string {
	return c.Digits(of, v) + " " + of.measure(c.unit(of)).Unit
}

// Noted writes a figure as a log has it, with its unit: digit for digit where it stays in the logs' unit, else as Written.
func (c Choice) Noted(of Of, v float64) string {
	if own := of.measure("").Unit; of.measure(c.unit(of)).Unit == own {
		return say.Number(v) + " " + own
	}
	return c.Written(of, v)
}

// Say writes a figure that is in any known unit in the one chosen for what that unit measures; as it is where nothing was chosen, or the
// unit is of something else.
func (c Choice) Say(v float64, unit string) string {
	of, m, known := measureOf(unit)
	switch u := Unit(unit); {
	case u.Valid() && c.Pressure.Valid():
		return Reading{Value: v, Unit: u}.Pressure().Written(c.Pressure)
	case u.Valid() || !known || c.unit(of) == "":
		return say.Number(v) + " " + unit
	}
	return c.Written(of, v*m.Factor+m.Offset)
}

// unit returns the unit chosen for something, "" for none.
func (c Choice) unit(of Of) string {
	force := ""
	if c.Torque == "lbf·ft" {
		force = "lbf"
	}
	return map[Of]string{
		Length: c.Length, Height: c.Height, Temperature: c.Temperature, Air: c.Air,
		Volume: c.Volume, Distance: c.Distance, Torque: c.Torque, Force: force,
	}[of]
}

// Day writes a date of the log as the reader has it: 6 Aug 2032, or Aug 6, 2032.
func (c Choice) Day(date string) string {
	if c.Dates == "month-day" {
		return say.MonthFirst(date)
	}
	return say.Day(date).String()
}
