package table

import (
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
)

// labelled takes in a row among those of cylinders, or of kinds, that says something of the tests in its columns: "Hours", "Air at".
func (r *reader) labelled(l line) bool {
	label := -1
	for i, c := range r.columns {
		if c.Means == Cylinder || c.Means == Kind {
			label = i
			break
		}
	}
	if label < 0 || r.has(Date) || l.at(label) == "" {
		return false
	}
	h := headingOf(l.at(label))
	usual := h.means == Meter || h.means == Note || h.means == Temp || h.means == Stage || h.means == Gauge || h.means == Place
	if !usual || h.cylinder != "" || h.kind != "" || len(h.strange) > 0 {
		return false
	}
	for i, c := range r.columns {
		if text := l.at(i); c.Means == Reading && !isBlank(text) {
			r.labels = append(r.labels, saidOf{l, i, h.means, text, h.meter})
		}
	}
	return true
}

// saidOf is what a row of labels says of the tests in a column.
type saidOf struct {
	line   line
	column int
	means  Means
	text   string
	meter  string
}

// applied gives what rows of labels say to the tests in their columns.
func (r *reader) applied() {
	for _, s := range r.labels {
		for _, t := range r.tests {
			if s.means == Place {
				t.heard(s, r.columns[s.column].Cylinder)
				continue
			}
			if !slices.ContainsFunc(t.taken, func(k taken) bool { return k.column == s.column }) {
				continue
			}
			c := Column{Index: s.column, Means: s.means, meter: s.meter, Header: r.columns[s.column].Header}
			r.attribute(s.line, s.column, c, s.text, &t.attributes)
		}
	}
}

// heard gives a place to the leaks of a cylinder, or of a column.
func (t *test) heard(s saidOf, cylinder string) {
	paths, heard := written.PathsIn(s.text)
	for i := range t.taken {
		k := &t.taken[i]
		if k.kind == Leak && (k.column == s.column || cylinder != "" && k.cylinder == cylinder) && !k.leak.heard {
			k.leak.paths, k.leak.heard = paths, heard
			if !heard {
				k.leak.note = join(k.leak.note, s.text)
			}
		}
	}
}

// attributes is what a row says beside its readings.
type attributes struct {
	engine, date, dateText, cylinder, bank, kind, visit string
	stage, note, temp, gauge, operator, meterUnit       string
	unit                                                units.Unit
	percent, heldPercent                                bool
	meter                                               *float64
	supply, held                                        *float64
	leakUnit                                            units.Unit
	paths                                               []log.Path
	heard                                               bool
	place                                               string
	attempt                                             int
	struck                                              string
	celsius                                             *float64
	each                                                map[string]ofCylinder // what columns of one cylinder say
	undecided                                           string
	ownDate                                             bool
}

// ofCylinder is what a row says of one cylinder's leak, in columns of its own.
type ofCylinder struct {
	supply, held *float64
	unit         units.Unit
	paths        []log.Path
	heard        bool
	place        string
}

// attributes reads what a row says beside its readings; a row that has to be refused whole is refused.
func (r *reader) attributes(l line) (attributes, bool) {
	a := attributes{
		engine: r.says.engine, kind: r.says.kind(), temp: r.says.temp, gauge: r.says.gauge, operator: r.says.operator, celsius: r.says.celsius,
		stage: r.says.stage,
	}
	if v, ok := r.figures.Within(r.says.meter); ok {
		a.meter, a.meterUnit = &v, headingOf(r.says.meter).meter
	}
	dateColumn := -1
	for i, c := range r.columns {
		text := l.at(i)
		if c.Means == Date && dateColumn < 0 {
			dateColumn = i
		}
		if c.Means == Date || c.Means == Engine || c.Means == Visit {
			text = r.carry(c.Means, text)
		}
		if isBlank(text) && c.Means != Place {
			continue
		}
		if !r.attribute(l, i, c, text, &a) {
			return a, false
		}
	}
	if a.bank != "" && a.cylinder != "" {
		a.cylinder = a.bank + a.cylinder
	}
	if !r.dated(l, dateColumn, &a) {
		return a, false
	}
	if a.note != "" && a.cylinder != "" && a.struck == "" && a.cylinder != "1" {
		a.note = a.cylinder + ": " + a.note
	}
	return a, true
}

// carry gives an empty cell what stands above it, where a sheet says it once for several rows.
func (r *reader) carry(m Means, text string) string {
	if text != "" {
		r.carried[m] = text
		return text
	}
	if r.long {
		return r.carried[m]
	}
	return ""
}

func (r *reader) attribute(l line, i int, c Column, text string, a *attributes) bool {
	if isFormula(text) && c.Means != Reading && c.Means != Skip && c.Means != Note {
		r.refuse(l, i, text, say.Text("table.formula-save-sheet-with-values"))
		return c.Means != Date && c.Means != Cylinder && c.Means != Supply && c.Means != Held
	}
	switch c.Means {
	case Engine:
		a.engine = text
	case Visit:
		a.visit = text
	case Bank:
		a.bank = tidy(strings.Trim(written.Fold(text), trimmed))
	case Date:
		a.dateText, a.ownDate = text, l.at(i) != ""
		if d := dateIn(text); d != "" && d != text && !written.IsDay(written.Fold(text)) {
			a.dateText = d
			a.beside(strings.TrimSpace(strings.Replace(text, d, "", 1)))
		}
	case Cylinder:
		name, ok := nameOf(written.Fold(text))
		if h := headingOf(text); !ok && len(h.strange) == 0 && h.cylinder != "" { // 1 dry
			name, a.kind = h.cylinder, firstOf(h.kind, a.kind)
		} else if !ok {
			name = tidyHeader(text)
		}
		if name == "" {
			r.refuse(l, -1, text, say.Text("table.not-cylinder", "text", text))
			return false
		}
		a.cylinder = name
	case Kind:
		kind, ok := kindOf(text)
		if isUnitAlone(text) {
			a.unit, _ = written.UnitIn(written.Fold(text))
			break
		}
		if !ok {
			r.refuse(l, -1, text, say.Text("table.must-dry-wet-or-leak", "text", text))
			return false
		}
		a.kind = kind
	case Unit:
		return r.unitCell(l, text, a)
	case Meter:
		r.meterCell(l, i, c, text, a)
	case Stage:
		a.stage = join(a.stage, text)
	case Note:
		if why, struck := strings.CutPrefix(text, "struck: "); struck {
			a.struck = why
		}
		a.note = join(a.note, text)
		const longest = 3 // words of a remark that is nothing but a place
		if strings.Count(text, " ") >= longest {
			break
		}
		words := written.Fold(text)
		onlyPlaces := len(written.PlacesIn(words)) == len(written.Word.FindAllString(words, -1))
		if paths, heard := written.PathsIn(text); heard && !a.heard && onlyPlaces {
			a.paths, a.heard, a.place = paths, true, text // a remark that is nothing but a place
		}
		if temp := written.Temp(written.Fold(text)); temp != "" {
			a.temp = temp
		}
	case Temp:
		h := headingOf(text)
		a.temp, a.kind = firstOf(h.temp, a.temp), firstOf(h.kind, a.kind)
		if h.celsius != nil {
			a.celsius = h.celsius
		} else if v, err := r.figures.Value(text); err == nil {
			a.celsius = &v
		}
	case Gauge:
		a.gauge = text
	case Operator:
		a.operator = text
	case Supply, Held:
		return r.pressureCell(l, i, c, text, a)
	case Place:
		if text == "" {
			break
		}
		paths, heard := written.PathsIn(text)
		if c.Cylinder != "" {
			one := a.each[c.Cylinder]
			one.place, one.paths, one.heard = text, paths, heard
			a.set(c.Cylinder, one)
			break
		}
		a.place, a.paths, a.heard = text, paths, heard
	case Level:
		for k, one := range strings.FieldsFunc(text, func(s rune) bool { return s == ';' || s == ' ' }) {
			if v, err := strconv.Atoi(one); err == nil && k < len(a.paths) && v >= 1 && v <= 3 {
				a.paths[k].Level = v
			}
		}
	case Attempt:
		a.attempt, _ = strconv.Atoi(strings.Trim(written.Fold(text), "pul#. "))
	}
	return true
}

// beside takes in what stands beside a day: 14/02/2031 wet.
func (a *attributes) beside(text string) {
	h := headingOf(text)
	a.kind, a.temp = firstOf(h.kind, a.kind), firstOf(h.temp, a.temp)
	if h.kind == "" && h.temp == "" {
		a.stage = join(a.stage, strings.Trim(text, trimmed))
	}
}

func join(a, b string) string {
	switch {
	case a == "" || a == b:
		return b
	case b == "":
		return a
	}
	return a + "; " + b
}

func (a *attributes) set(cylinder string, one ofCylinder) {
	if a.each == nil {
		a.each = map[string]ofCylinder{}
	}
	a.each[cylinder] = one
}

func (r *reader) unitCell(l line, text string, a *attributes) bool {
	u, rest := written.UnitIn(written.Fold(text))
	switch {
	case u != "":
		a.unit, a.leakUnit = u, u
	case strings.Contains(rest, "%"):
		a.percent = true
		if a.kind == "" {
			a.kind = Leak
		}
	default:
		r.refuse(l, -1, text, say.Text("table.not-unit-pressure-here-use", "text", text, "listed", units.Listed()))
		return false
	}
	return true
}

func (r *reader) meterCell(l line, i int, c Column, text string, a *attributes) {
	const most = 1e8
	if strings.Trim(text, "0123456789.,") == "" { // as most are
		if v, err := r.figures.Value(text); err == nil && v <= most {
			a.meter, a.meterUnit = &v, c.meter
			return
		}
	}
	m := written.Piece.FindStringSubmatch(written.Fold(text))
	if m == nil || strings.HasPrefix(text, "-") || written.Number.MatchString(m[3]) {
		r.refuse(l, i, text, say.Text("table.not-meter-reading", "text", text))
		return
	}
	v, err := r.figures.Value(m[2])
	if err != nil || v > most {
		r.refuse(l, i, text, say.Text("table.not-meter-reading", "text", text))
		return
	}
	a.meter = &v
	a.meterUnit = firstOf(headingOf(m[3]).meter, c.meter)
}

func (r *reader) pressureCell(l line, i int, c Column, text string, a *attributes) bool {
	u, t := written.UnitIn(written.Fold(text))
	if strings.Contains(t, "%") && c.Means == Held {
		a.heldPercent = true
		t = strings.ReplaceAll(t, "%", " ")
	}
	v, err := r.figures.Value(strings.Trim(t, " ~"))
	if err != nil || v < 0 {
		r.refuse(l, -1, text, say.Text("table.not-number", "called", c.called(), "text", text))
		return false
	}
	if u == "" {
		u = c.Unit
	}
	if c.Cylinder != "" {
		one := a.each[c.Cylinder]
		one.unit = u
		if c.Means == Supply {
			one.supply = &v
		} else {
			one.held = &v
		}
		a.set(c.Cylinder, one)
		return true
	}
	if u != "" {
		a.leakUnit = u
	}
	if c.Means == Supply {
		a.supply = &v
	} else {
		a.held = &v
	}
	return true
}

// dated reads the day of a row.
func (r *reader) dated(l line, column int, a *attributes) bool {
	text := firstOf(a.dateText, r.says.date)
	if text == "" {
		for _, c := range r.columns {
			if c.date != "" {
				return true // its columns say when
			}
		}
		if r.picks.Date != "" {
			a.date = r.picks.Date
			return true
		}
		if column < 0 {
			return true // asked about once for the file
		}
		above := r.last()
		if above != nil && a.kind != "" && !above.has(a.kind) && r.anyReading(l) {
			a.date, a.undecided = above.date, above.undecided
			return true
		}
		if r.anyReading(l) {
			r.refuse(l, -1, "", say.Text("table.no-date"))
		} else {
			r.ignore(l, say.Text("table.no-reading"))
		}
		return false
	}
	date, err := r.dates.Read(text)
	if err != nil {
		if !r.anyReading(l) && !r.has(Supply) {
			r.ignore(l, say.Text("table.no-reading"))
			return false
		}
		r.refuse(l, -1, text, err.Error())
		return false
	}
	a.date = date
	if date == "" {
		a.undecided = text
	}
	return true
}

func (r *reader) last() *test {
	if len(r.tests) == 0 {
		return nil
	}
	return r.tests[len(r.tests)-1]
}
