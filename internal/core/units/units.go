// Package units holds pressure as builders write it: a number with the unit that stood on the gauge.
package units

import (
	"math"
	"strconv"

	"braxel/internal/core/say"

	"github.com/go-json-experiment/json/jsontext"
)

// Pressure is a gauge pressure in kPa, for sums. A name that ends in Abs holds an absolute one.
type Pressure float64

// Unit is the unit printed on a gauge.
type Unit string

// The units of the open log format.
const (
	PSI    Unit = "psi"
	KPa    Unit = "kPa"
	Bar    Unit = "bar"
	KgfCm2 Unit = "kgf/cm2"
)

// All are the units, in the order in which they are offered, with the kPa in one of each: the pound-force per square inch and the
// kilogram-force per square centimetre follow from the international pound, the inch and standard gravity, exactly as defined. Who adds
// one adds its row here, and its word to the log's schema.
var All = []struct {
	Unit Unit
	KPa  Pressure
}{{PSI, 6.894757293168361}, {KPa, 1}, {Bar, 100}, {KgfCm2, 98.0665}}

// Names returns the units' names, in that order.
func Names() []string {
	var all []string
	for _, u := range All {
		all = append(all, string(u.Unit))
	}
	return all
}

// Listed names them as one says them: "psi, kPa, bar or kgf/cm2".
func Listed() string {
	return say.Or(Names())
}

// inKPa returns the kPa in one of a unit, 0 where it is none.
func (u Unit) inKPa() Pressure {
	for _, one := range All {
		if one.Unit == u {
			return one.KPa
		}
	}
	return 0
}

// Reading is a pressure as it was typed: value and unit are kept, so that nothing is rounded by storing it.
type Reading struct {
	Value float64 `json:"value" minimum:"0" maximum:"10000" doc:"As read from the gauge"`
	Unit  Unit    `json:"unit"`
	// Rest is what a log from elsewhere says beside it; it is kept.
	Rest jsontext.Value `json:",embed" hidden:"true"`
}

// Pressure returns the reading in kPa.
func (r Reading) Pressure() Pressure { return Pressure(r.Value) * r.Unit.inKPa() }

// String returns the reading as one would write it on the sheet: "151 psi".
func (r Reading) String() string { return Figure(r.Value) + " " + string(r.Unit) }

// Shown rounds a pressure as a person would write it down from a gauge of that unit: whole psi and kPa, tenths of the others; half a step
// up, also where the sum through kPa has left a last digit short of it. It is the one rounding of a reading.
func (p Pressure) Shown(u Unit) Reading {
	const noise = 1e-9
	step := math.Pow10(u.decimals())
	return Reading{Value: math.Floor(p.In(u)*step+0.5+noise) / step, Unit: u}
}

// decimals is how many decimals a gauge of that unit is read to.
func (u Unit) decimals() int {
	if u == PSI || u == KPa {
		return 0
	}
	return 1
}

// Written writes a pressure as it is shown, with the unit.
func (p Pressure) Written(u Unit) string { return p.Digits(u) + " " + string(u) }

// Digits writes a pressure as it is shown, without the unit: 171, 10.4, 10.0.
func (p Pressure) Digits(u Unit) string { return say.Rounded(p.Shown(u).Value, u.decimals()) }

// In returns the pressure in the unit u.
func (p Pressure) In(u Unit) float64 { return float64(p / u.inKPa()) }

// Valid reports whether u is one of the units.
func (u Unit) Valid() bool { return u.inKPa() != 0 }

// Figure writes a number with no more decimals than it has: 151, 10.4.
func Figure(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// Beyond is the pressure past which no cranked engine goes: 60 bar.
const Beyond Pressure = 6000

// Check reports why a reading cannot be one of a cranked cylinder, as a sentence for the person who typed it.
func Check(r Reading) error {
	if !r.Unit.Valid() {
		return say.Error("units.not-unit-pressure-here-use", "unit", r.Unit, "listed", Listed())
	}
	if !(r.Value >= 0) || r.Pressure() > Beyond {
		return say.Error("units.must-between-0", "r", r, "in", Beyond.In(r.Unit), "unit", r.Unit)
	}
	return nil
}

// UsualSupply is what a leak-down test is supplied with where nobody says otherwise, in each unit: round figures on the dial.
var UsualSupply = map[Unit]float64{PSI: 100, KPa: 700, Bar: 7, KgfCm2: 7}
