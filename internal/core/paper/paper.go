// Package paper reads years of paper: a grid as it is typed or pasted, a row a test and a column a cylinder. It says what of it
// cannot be read, what the rest comes to, and which entries would put it on record.
package paper

import (
	"cmp"
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// What a row of the grid holds.
const (
	Dry  = "dry"
	Wet  = "wet"
	Leak = "leak"
)

// Row is a line of the grid, its cells as they were typed. One without a date, or of the date of the row above and of another kind,
// belongs to the test above.
type Row struct {
	Key   string   `json:"key" minLength:"1" maxLength:"60" doc:"Names the row on the screen"`
	Test  string   `json:"test,omitzero" maxLength:"120" doc:"The test that is here already"`
	Date  string   `json:"date,omitzero" maxLength:"40"`
	Meter string   `json:"meter,omitzero" maxLength:"40"`
	Temp  string   `json:"temp,omitzero" maxLength:"20"`
	Gauge string   `json:"gauge,omitzero" maxLength:"120"`
	What  string   `json:"what,omitzero" maxLength:"20" doc:"dry, wet or leak; dry if left out"`
	Unit  string   `json:"unit,omitzero" maxLength:"10" doc:"psi if left out"`
	Cells []string `json:"cells" maxItems:"64" doc:"In the order of the engine's cylinders"`
	Note  string   `json:"note,omitzero" maxLength:"10000"`
	Was   *Was     `json:"was,omitempty" doc:"What the saved row held before it was typed over; fields that are unchanged are left alone"`
}

// Was is what stood in a row on record when somebody began to type over it.
type Was struct {
	Date  string   `json:"date,omitzero" maxLength:"40"`
	Meter string   `json:"meter,omitzero" maxLength:"40"`
	Temp  string   `json:"temp,omitzero" maxLength:"20"`
	Gauge string   `json:"gauge,omitzero" maxLength:"120"`
	Note  string   `json:"note,omitzero" maxLength:"10000"`
	Cells []string `json:"cells,omitempty" maxItems:"64"`
}

// Empty reports whether nothing was typed into the row.
func (r Row) Empty() bool {
	blank := func(s string) bool { return strings.TrimSpace(s) == "" }
	all := slices.Concat([]string{r.Date, r.Meter, r.Temp, r.Gauge, r.Note}, r.Cells)
	return !slices.ContainsFunc(all, func(c string) bool { return !blank(c) })
}

// Fault is one cell that cannot be read, and why. Column is a name of Row, or a cylinder's number.
type Fault struct {
	Row    string `json:"row"`
	Column string `json:"column"`
	What   string `json:"what"`
}

// test is what the rows of one test come to.
type test struct {
	key  string // of its first row
	id   string // where it is on record already
	head log.Session
	rows []line
}

// line is one row, read.
type line struct {
	Row
	what   string
	unit   units.Unit
	tester string
	cells  map[int]cell
}

// cell is what was typed of one cylinder.
type cell struct {
	pulls []float64
	leaks []leak
}

// reader goes down the grid.
type reader struct {
	engine  log.Engine
	testers []log.Tester
	faults  []Fault
	tests   []*test
}

func (r *reader) fault(row Row, column, what string) {
	r.faults = append(r.faults, Fault{row.Key, column, what})
}

// read takes the rows apart into tests.
func (r *reader) read(rows []Row) {
	for _, row := range rows {
		if row.Empty() {
			continue
		}
		l := r.line(row)
		head, dated := r.head(row)
		t := r.testFor(row, l, head, dated)
		if t == nil {
			continue
		}
		if slices.ContainsFunc(t.rows, func(o line) bool { return o.what == l.what && o.tester == l.tester }) {
			r.fault(row, "what", say.Text("paper.test-already-has-row", "what", l.what))
		}
		t.rows = append(t.rows, l)
	}
	for _, t := range r.tests {
		said := slices.ContainsFunc(r.faults, func(f Fault) bool { return f.Row == t.key && f.Column == "date" })
		if t.head.Date == "" && !said {
			r.faults = append(r.faults, Fault{t.key, "date", noDate})
		}
		if !slices.ContainsFunc(t.rows, func(l line) bool { return len(l.cells) > 0 }) && t.id == "" {
			r.faults = append(r.faults, Fault{t.key, "cells", say.Text("paper.type-at-least-one-reading")})
		}
	}
}

var noDate = say.Text("paper.add-date-such-as-2033")

// testFor returns the test that a row belongs to, a new one where it begins one, nil where it cannot be told.
func (r *reader) testFor(row Row, l line, head log.Session, dated bool) *test {
	var above *test
	if n := len(r.tests); n > 0 {
		above = r.tests[n-1]
	}
	has := func(t *test) bool { return slices.ContainsFunc(t.rows, func(o line) bool { return o.what == l.what }) }
	switch {
	case row.Test != "":
		if i := slices.IndexFunc(r.tests, func(t *test) bool { return t.id == row.Test }); i >= 0 {
			r.tests[i].add(head)
			return r.tests[i]
		}
	case strings.TrimSpace(row.Date) == "" && above != nil:
		above.add(head)
		return above
	case strings.TrimSpace(row.Date) == "":
		r.fault(row, "date", noDate)
		return nil
	case above != nil && dated && above.head.Date == head.Date && !has(above) && sameMeter(above.head, head):
		above.add(head)
		return above
	}
	t := &test{key: row.Key, id: row.Test, head: head}
	r.tests = append(r.tests, t)
	return t
}

// add takes in what a further row says of the test's head.
func (t *test) add(head log.Session) {
	t.head.Meter = cmp.Or(t.head.Meter, head.Meter)
	t.head.Conditions.EngineTemp = cmp.Or(t.head.Conditions.EngineTemp, head.Conditions.EngineTemp)
	t.head.Note = cmp.Or(t.head.Note, head.Note)
}

func sameMeter(a, b log.Session) bool {
	return a.Meter == nil || b.Meter == nil || *a.Meter == *b.Meter
}

// head reads what a row says of its test.
func (r *reader) head(row Row) (s log.Session, dated bool) {
	if text := strings.TrimSpace(row.Date); text != "" {
		day, err := dateOf(text)
		if err != nil {
			r.fault(row, "date", err.Error())
		}
		s.Date, dated = day, err == nil
	}
	if text := strings.TrimSpace(row.Meter); text != "" {
		if v, ok := figureOf(text); ok {
			s.Meter = &v
		} else {
			r.fault(row, "meter", say.Text("paper.not-meter-reading-type-number", "text", text))
		}
	}
	if text := strings.ToLower(strings.TrimSpace(row.Temp)); text != "" {
		i := slices.IndexFunc(temps, func(t string) bool { return strings.HasPrefix(t, text) })
		if i < 0 {
			r.fault(row, "temp", say.Text("paper.must-hot-warm-or-cold", "temp", row.Temp))
		} else {
			s.Conditions.EngineTemp = temps[i]
		}
	}
	s.Note = strings.TrimSpace(row.Note)
	return s, dated
}

var temps = []string{"hot", "warm", "cold"}

// line reads a row's own cells.
func (r *reader) line(row Row) line {
	l := line{Row: row, what: r.what(row), unit: r.unit(row), cells: map[int]cell{}}
	l.tester = r.tester(row, l.what)
	cylinders := r.engine.Cylinders()
	for i, text := range row.Cells {
		text = strings.TrimSpace(text)
		if text == "" || text == "-" || text == "–" {
			continue
		}
		if i >= len(cylinders) {
			r.fault(row, "note", say.Text("paper.there-no-cylinder-for-engine", "text", text, "n", len(cylinders)))
			break
		}
		c, err := r.cell(l, cylinders[i], text)
		if err != nil {
			r.fault(row, strconv.Itoa(cylinders[i]), err.Error())
			continue
		}
		l.cells[cylinders[i]] = c
	}
	return l
}

func (r *reader) what(row Row) string {
	text := strings.ToLower(strings.TrimSpace(row.What))
	for _, what := range []string{Dry, Wet, Leak} {
		if strings.HasPrefix(what, text) || strings.HasPrefix(text, what) && text != "" {
			return what
		}
	}
	r.fault(row, "what", say.Text("paper.must-dry-wet-or-leak", "what", row.What))
	return Dry
}

func (r *reader) unit(row Row) units.Unit {
	text := units.Unit(strings.TrimSpace(row.Unit))
	if text == "" {
		return units.PSI
	}
	if !text.Valid() {
		r.fault(row, "unit", say.Text("paper.not-unit-pressure-here-use", "unit", row.Unit, "listed", units.Listed()))
		return units.PSI
	}
	return text
}

// tester returns the id of the tester that a row names, by its name, the beginning of it, or its id.
func (r *reader) tester(row Row, what string) string {
	text := strings.ToLower(strings.TrimSpace(row.Gauge))
	if text == "" {
		return ""
	}
	kind := log.CompressionTester
	if what == Leak {
		kind = log.LeakdownTester
	}
	var begins []string
	for _, t := range r.testers {
		name := strings.ToLower(t.Name)
		switch {
		case t.ID == strings.TrimSpace(row.Gauge) || name == text:
			return t.ID
		case strings.HasPrefix(name, text) && t.Kind == kind:
			begins = append(begins, t.ID)
		}
	}
	switch len(begins) {
	case 1:
		return begins[0]
	case 0:
		r.fault(row, "gauge", say.Text("paper.there-no-tester-add-under", "gauge", strings.TrimSpace(row.Gauge)))
	default:
		r.fault(row, "gauge", say.Text("paper.testers-start-with-type-more",
			"n", len(begins),
			"gauge", strings.TrimSpace(row.Gauge),
		))
	}
	return ""
}
