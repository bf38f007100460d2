package table

import (
	"slices"
	"strings"

	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// cells returns what stands in the columns of some meanings, with its rows.
func (r *reader) cells(rows []line, of ...Means) (texts []string, at []int) {
	for _, l := range rows {
		for i, c := range r.columns {
			if text := l.at(i); slices.Contains(of, c.Means) && !isBlank(text) {
				texts, at = append(texts, text), append(at, l.n)
			}
		}
	}
	return texts, at
}

func (r *reader) settleFigures(rows []line) {
	texts, _ := r.cells(rows, Reading, Supply, Held, Meter)
	r.figures.settle(texts, r.sheet.Semicolons)
	if r.picks.Decimal != "" {
		r.figures.comma = r.picks.Decimal == "comma"
	}
}

func (r *reader) settleDates(rows []line) {
	texts, at := r.cells(rows, Date)
	for i, text := range texts {
		if d := dateIn(text); d != "" && !isDateText(fold(text)) {
			texts[i] = d
		}
	}
	for _, c := range r.columns {
		if c.date != "" {
			texts, at = append(texts, c.date), append(at, 0)
		}
	}
	for _, l := range rows { // days that stand over parts of the sheet
		if n, first := l.filled(); n == 1 {
			if d := dateIn(l.at(first)); d != "" {
				texts, at = append(texts, d), append(at, l.n)
			}
		}
	}
	if r.says.date != "" {
		texts, at = append(texts, r.says.date), append(at, 0)
	}
	r.dates.settle(texts, at, r.picks.Dates)
	if r.dates.order == Undecidable {
		r.out.Asked = append(r.out.Asked, Asked{
			What: AskDates, Row: r.dates.row, Text: r.dates.text, Must: true, Choices: []string{string(DayFirst), string(MonthFirst)},
			Words: say.Text("table.files-dates-which-comes-first", "text", r.dates.text),
		})
	}
}

// Magnitudes by which a sheet that names no unit is read: no cranked engine reads 30 bar and none that runs as little as 30 psi.
const leastPSI, leastKPa = 30, 400

// settleUnit finds the unit of readings that stand without one.
func (r *reader) settleUnit(rows []line) {
	r.percent = map[int]bool{}
	var bare []float64
	const enough = 1000 // rows, to know of what size figures are
	for i, c := range r.columns {
		if c.Means != Reading {
			continue
		}
		for _, l := range rows[:min(len(rows), enough)] {
			text := l.at(i)
			if strings.Contains(text, "%") {
				r.percent[i] = true
			}
			if u, _ := unitIn(fold(text)); u != "" || c.Unit != "" || c.Kind == Leak || c.Percent || isBlank(text) || isTotal(l, r.columns) {
				continue
			}
			if read, err := r.figures.readCell(text, "", false); err == nil {
				for _, p := range read.pulls {
					bare = append(bare, p.value)
				}
			}
		}
	}
	r.unit = r.says.unit
	if r.picks.Unit != "" {
		r.unit = r.picks.Unit
	}
	if r.unit != "" || r.has(Unit) && len(bare) == 0 {
		return
	}
	for _, c := range r.columns {
		if c.Unit != "" && c.Means == Reading {
			r.unit = c.Unit
			return
		}
	}
	if texts, _ := r.cells(rows, Unit); len(texts) > 0 {
		if u, _ := unitIn(fold(texts[0])); u != "" {
			r.unit = u
			return
		}
	}
	for _, l := range rows { // a unit in one cell is that of the others
		for i, c := range r.columns {
			if u, _ := unitIn(fold(l.at(i))); u != "" && c.Means == Reading {
				r.unit = u
				return
			}
		}
	}
	if len(bare) == 0 {
		r.unit = units.PSI
		return
	}
	slices.Sort(bare)
	switch mid := bare[len(bare)/2]; {
	case mid < leastPSI:
		r.unit = units.Bar
	case mid < leastKPa:
		r.unit = units.PSI
	default:
		r.unit = units.KPa
	}
	r.out.Asked = append(r.out.Asked, Asked{
		What: AskUnit, Took: string(r.unit), Choices: units.Names(),
		Words: say.Text("table.sheet-has-no-unit-their", "unit", r.unit),
	})
}

// mostlyHeld reports whether a column of leaks says what was held: nearly all of what is supplied. No shop writes down leaks of
// more than half for most cylinders.
func (r *reader) mostlyHeld(rows []line, column int) bool {
	const half, most = 50, 100
	above, all := 0, 0
	for _, l := range rows {
		if v, err := r.figures.value(l.at(column)); err == nil && l.at(column) != "" {
			all++
			if v > half && v <= max(most, r.columns[column].supply) {
				above++
			}
		}
	}
	return all > 0 && above*2 > all
}

// settleHeld finds columns of readings that, beside what was supplied, say of a leak what was held: most of it.
func (r *reader) settleHeld(rows []line) {
	r.held = map[int]bool{}
	supply := slices.IndexFunc(r.columns, func(c Column) bool { return c.Means == Supply })
	for i, c := range r.columns {
		if c.Means == Reading && c.Kind == Leak && !c.Percent && !r.percent[i] && supply < 0 {
			r.held[i] = r.mostlyHeld(rows, i)
		}
	}
	if supply < 0 || r.has(Held) {
		return
	}
	for i, c := range r.columns {
		if c.Means != Reading || c.Kind != "" || c.Percent {
			continue
		}
		most, all := 0, 0
		for _, l := range rows {
			given, err := r.figures.value(l.at(supply))
			if v, wrong := r.figures.value(l.at(i)); err == nil && wrong == nil && given > 0 {
				all++
				if v/given > 0.5 {
					most++
				}
			}
		}
		r.held[i] = all > 0 && most*2 > all
	}
}
