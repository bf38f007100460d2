package table

import (
	"strconv"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
)

// lookForUnits notes the units of pressure that the sheet names, and the columns whose cells have a sign of percent.
func (r *reader) lookForUnits(rows []line) {
	const enough = 1000 // lines
	if r.says.unit != "" {
		r.seen[r.says.unit]++
	}
	for _, c := range r.columns {
		if c.Unit != "" && c.Means == Reading && c.Kind != Leak {
			r.seen[c.Unit]++
		}
	}
	for _, l := range rows[:min(len(rows), enough)] {
		n, _ := l.filled()
		for i, c := range r.columns {
			text := l.at(i)
			if text == "" || strings.Trim(text, "0123456789.,-/: ") == "" {
				continue
			}
			if c.Means == Reading && strings.Contains(text, "%") {
				r.signed[i] = true
			}
			t := written.Fold(text)
			if n <= 2 || c.Means == Note {
				t = written.Fold(quantity.ReplaceAllString(text, " ")) // a title, or a remark on the testing
			}
			u, left := written.UnitIn(t)
			alone := strings.Trim(left, trimmed) == "" && c.Kind != Leak
			pressure := c.Means == Reading && c.Kind != Leak && !strings.Contains(text, "%")
			if u != "" && (alone || pressure || n <= 2 || c.Means == Unit) {
				r.seen[u]++
			}
		}
	}
}

// Magnitudes by which figures without a unit are usually read: no cranked engine reads 30 bar and none that runs as little as 30 psi.
const leastPSI, leastKPa = 30, 600

// usualUnit returns the unit that the sheet names, or the one that the size of its figures suggests.
func (r *reader) usualUnit(rows []line) units.Unit {
	if u := r.onlyUnit(); u != "" {
		return u
	}
	var all []float64
	for _, l := range rows[:min(len(rows), sampled)] {
		for i, c := range r.columns {
			if c.Means != Reading || c.Kind == Leak || c.Percent || isBlank(l.at(i)) {
				continue
			}
			if read, err := readCell(r.figures, l.at(i), log.Dry); err == nil {
				for _, p := range read.pulls {
					all = append(all, p.value)
				}
			}
		}
	}
	if len(all) == 0 {
		return units.PSI
	}
	switch mid := middle(all); {
	case mid < leastPSI:
		return units.Bar
	case mid < leastKPa:
		return units.PSI
	}
	return units.KPa
}

// withoutUnknown looks at columns of figures of which no heading says what they are, where others are known to be readings. One whose
// figures are far from theirs is left out; one whose figures are like them is asked about, as the cylinder that is missing there.
func (r *reader) withoutUnknown(rows []line) {
	known := r.figuresIn(rows, func(c Column) bool { return c.Means == Reading && !c.guessed && c.Kind != Leak && !c.Percent })
	if len(known) == 0 {
		return
	}
	const like = 3 // times as much, or as little
	for i := range r.columns {
		c := &r.columns[i]
		if !c.guessed || c.Means != Reading {
			continue
		}
		own := r.figuresIn(rows, func(o Column) bool { return o.Index == c.Index })
		if len(own) > 0 && middle(own) < like*middle(known) && like*middle(own) > middle(known) {
			if n := r.missingAt(i); n > 0 && !r.has(Cylinder) {
				c.Cylinder = strconv.Itoa(n)
			}
			continue
		}
		c.Means, c.Cylinder, c.guessed = Skip, "", false
		r.refuse(r.head, i, r.head.at(i), say.Text("table.column-unknown"))
		r.refused-- // nothing of it is a reading
	}
}

// figuresIn returns the figures of some columns, as they stand.
func (r *reader) figuresIn(rows []line, of func(Column) bool) []float64 {
	var all []float64
	for _, l := range rows[:min(len(rows), sampled)] {
		for i, c := range r.columns {
			if !of(c) || isBlank(l.at(i)) {
				continue
			}
			if read, err := readCell(r.figures, l.at(i), log.Dry); err == nil {
				for _, p := range read.pulls {
					all = append(all, p.value)
				}
			}
		}
	}
	return all
}

// missingAt returns the number that is missing between the cylinders to the left and to the right of a column, 0 where none is.
func (r *reader) missingAt(i int) int {
	number := func(at int) int {
		if at < 0 || at >= len(r.columns) || r.columns[at].guessed {
			return 0
		}
		n, _ := strconv.Atoi(r.columns[at].Cylinder)
		return n
	}
	left, right := number(i-1), number(i+1)
	switch {
	case left > 0 && (right == 0 || right == left+2):
		return left + 1
	case right > 1 && left == 0:
		return right - 1
	}
	return 0
}

// withoutWorked leaves out columns under unknown words whose figures were made of others.
func (r *reader) withoutWorked(rows []line) {
	for i := range r.columns {
		c := &r.columns[i]
		if !c.guessed || len(r.sheet.Worked) == 0 {
			continue
		}
		worked, all := 0, 0
		for _, l := range rows[:min(len(rows), sampled)] {
			if l.at(i) != "" {
				all++
			}
			if r.sheet.Worked[r.place(l, i)] != "" {
				worked++
			}
		}
		if 2*worked > all {
			c.Means, c.guessed, c.Cylinder = Skip, false, ""
		}
	}
}
