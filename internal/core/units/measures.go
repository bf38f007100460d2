package units

// Measure is a unit of something that is measured beside pressure, as it is typed: what one of it is in the unit that logs hold, and what
// stands at nought of it. Also are other ways to write it, in one word: blanks and hyphens are read over.
type Measure struct {
	Unit   string   `json:"unit"`
	Also   []string `json:"also"`
	Factor float64  `json:"factor"`
	Offset float64  `json:"offset"`
}

// Measures are the units in which things are typed, the logs' own first of each; what stands in one list measures one thing. Inch, foot,
// pound-force and litre are exact by definition; the inch of mercury is that at 0 °C (ISO 80000).
var Measures = [][]Measure{
	{
		{"mm", []string{"millimetre", "millimetres"}, 1, 0}, {"cm", nil, 10, 0},
		{"in", []string{"inch", "inches", "\"", "″"}, 25.4, 0}, {"thou", []string{"mil", "mils"}, 0.0254, 0},
	},
	{{"m", []string{"metre", "metres"}, 1, 0}, {"ft", []string{"feet", "foot", "'", "′"}, 0.3048, 0}},
	{{"°C", []string{"C", "celsius"}, 1, 0}, {"°F", []string{"F", "fahrenheit"}, 5.0 / 9, -160.0 / 9}},
	{
		{"kPa", nil, 1, 0}, {"mbar", []string{"hPa", "millibar"}, 0.1, 0}, {"inHg", []string{"\"Hg", "in.Hg"}, 3.386389, 0},
		{"bar", nil, 100, 0}, {"psi", []string{"lb", "lbs", "psig"}, float64(All[0].KPa), 0},
		{"kgf/cm2", []string{"kg/cm2", "kg", "kgf/cm²"}, 98.0665, 0},
	},
	{
		{"cc", []string{"cm³", "cm3", "ml"}, 1, 0}, {"l", []string{"litre", "litres", "liter", "liters"}, 1000, 0},
		{"ci", []string{"cid", "cuin", "in³", "in3"}, 16.387064, 0},
	},
	{{"km", []string{"kilometres"}, 1, 0}, {"mi", []string{"mile", "miles"}, 1.609344, 0}},
	{{"Nm", []string{"N·m"}, 1, 0}, {"lbf·ft", []string{"lbfft", "ftlb", "lbft"}, 1.3558179483314004, 0}},
}
