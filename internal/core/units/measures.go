package units

import "slices"

// Measure is a unit of something that is measured beside the pressure of cylinders: what one of it is in the unit that logs hold, what
// stands at nought of it, and to how many decimals it is read. Also are other ways to write it, in one word: blanks and hyphens are read
// over.
type Measure struct {
	Unit     string   `json:"unit"`
	Also     []string `json:"also"`
	Factor   float64  `json:"factor"`
	Offset   float64  `json:"offset"`
	Decimals int      `json:"decimals"`
}

// Of is what is measured.
type Of string

// What is measured. Air is the atmosphere's pressure, in which an instrument of its own is read.
const (
	Length      Of = "length"
	Height      Of = "height"
	Temperature Of = "temperature"
	Air         Of = "air"
	Volume      Of = "volume"
	Distance    Of = "distance"
	Torque      Of = "torque"
	Force       Of = "force"
)

// Quantity is something that is measured, with the units in which it may be typed, the logs' own first.
type Quantity struct {
	Of    Of        `json:"of" enum:"length,height,temperature,air,volume,distance,torque,force"`
	Units []Measure `json:"units"`
}

// KmPerMile is the international mile.
const KmPerMile = 1.609344

// Measures are the units in which things are typed and shown. Inch, foot, pound-force and litre are exact by definition; the inch of
// mercury is that at 0 °C (ISO 80000).
var Measures = []Quantity{
	{Length, []Measure{
		{"mm", []string{"millimetre", "millimetres"}, 1, 0, 2}, {"cm", nil, 10, 0, 3},
		{"in", []string{"inch", "inches", "\"", "″"}, 25.4, 0, 4}, {"thou", []string{"mil", "mils"}, 0.0254, 0, 1},
	}},
	{Height, []Measure{{"m", []string{"metre", "metres"}, 1, 0, 0}, {"ft", []string{"feet", "foot", "'", "′"}, 0.3048, 0, 0}}},
	{Temperature, []Measure{{"°C", []string{"C", "celsius"}, 1, 0, 1}, {"°F", []string{"F", "fahrenheit"}, 5.0 / 9, -160.0 / 9, 1}}},
	{Air, []Measure{
		{"kPa", nil, 1, 0, 1}, {"mbar", []string{"hPa", "millibar"}, 0.1, 0, 0}, {"inHg", []string{"\"Hg", "in.Hg"}, 3.386389, 0, 2},
		{"bar", nil, 100, 0, 3}, {"psi", []string{"lb", "lbs", "psig"}, float64(All[0].KPa), 0, 2},
		{"kgf/cm2", []string{"kg/cm2", "kg", "kgf/cm²"}, 98.0665, 0, 3},
	}},
	{Volume, []Measure{
		{"cc", []string{"cm³", "cm3", "ml"}, 1, 0, 1}, {"l", []string{"litre", "litres", "liter", "liters"}, 1000, 0, 3},
		{"ci", []string{"cid", "cuin", "in³", "in3"}, 16.387064, 0, 2},
	}},
	{Distance, []Measure{{"km", []string{"kilometres"}, 1, 0, 0}, {"mi", []string{"mile", "miles"}, KmPerMile, 0, 0}}},
	{Torque, []Measure{{"Nm", []string{"N·m"}, 1, 0, 0}, {"lbf·ft", []string{"lbfft", "ftlb", "lbft"}, 1.3558179483314004, 0, 0}}},
	{Force, []Measure{{"N", nil, 1, 0, 0}, {"lbf", nil, 4.4482216152605, 0, 0}}},
}

// measureOf returns what a unit measures, and the unit, by its name or another way to write it.
func measureOf(unit string) (Of, Measure, bool) {
	for _, q := range Measures {
		for _, m := range q.Units {
			if m.Unit == unit || slices.Contains(m.Also, unit) {
				return q.Of, m, true
			}
		}
	}
	return "", Measure{}, false
}

// measure returns a unit of something, the logs' own where it has none of that name.
func (of Of) measure(unit string) Measure {
	all := Measures[slices.IndexFunc(Measures, func(q Quantity) bool { return q.Of == of })].Units
	if i := slices.IndexFunc(all, func(m Measure) bool { return m.Unit == unit }); i >= 0 {
		return all[i]
	}
	return all[0]
}
