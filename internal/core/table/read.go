package table

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

// reader goes down a sheet.
type reader struct {
	sheet   Sheet
	picks   Picks
	turned  bool
	above   int // rows of titles over a turned sheet
	lines   []line
	columns []Column
	says    says
	figures figures
	dates   dates
	long    bool // a row a reading, or a row a cylinder
	unit    units.Unit
	percent map[int]bool // columns of percents
	tests   []*test
	out     Result
	twice   map[string]int
	carried map[Means]string
	head    line
	said    []saidOf
	inRows  *bool
	byVisit map[string][]*test
	held    map[int]bool // columns of readings that say, of a leak, what was held
}

// Read reads a sheet.
func Read(s Sheet, picks Picks) Result {
	r := &reader{sheet: s, picks: picks, twice: map[string]int{}, byVisit: map[string][]*test{}, carried: map[Means]string{}}
	r.out = Result{Logs: []log.Log{}, Refused: []Refused{}, Asked: []Asked{}, Doubts: []Doubt{}, Ignored: []Ignored{}}
	for _, row := range s.Rows {
		r.lines = append(r.lines, line{row.N, row.Cells})
	}
	r.turned = isTurned(r.lines)
	if picks.Turned != nil {
		r.turned = *picks.Turned
	}
	if r.turned {
		r.turn()
	}
	head, _ := findHead(r.lines)
	rows := r.lines[head+1:]
	r.headed(head, rows)
	r.settleFigures(rows)
	r.settleDates(rows)
	r.settleUnit(rows)
	r.settleHeld(rows)
	for _, l := range rows {
		r.row(l)
	}
	r.fromBelow()
	r.applied()
	r.slips()
	r.build()
	r.guess(head)
	return r.out
}

// fromBelow gives tests what a sheet says only under them.
func (r *reader) fromBelow() {
	ask := false
	for _, t := range r.tests {
		t.engine = firstOf(t.engine, r.says.engine)
		if t.date == "" && t.undecided == "" && r.says.date != "" {
			if date, err := r.dates.read(r.says.date); err == nil {
				t.date = date
			}
		}
		if v, err := r.figures.value(pieceOf.ReplaceAllString(fold(r.says.meter), "$2")); t.meter == nil && r.says.meter != "" && err == nil {
			t.meter, t.meterUnit = &v, headingOf(r.says.meter).meter
		}
		if t.date == "" && t.undecided == "" {
			t.date = r.picks.Date
			ask = ask || t.date == "" && len(t.taken) > 0
		}
	}
	if ask {
		r.out.Asked = append(r.out.Asked, Asked{What: AskDate, Must: true, Words: "The sheet does not say when. On which day was it tested?"})
	}
}

// turn lays the sheet on its side, without the titles over it.
func (r *reader) turn() {
	for len(r.lines) > 0 {
		l := r.lines[0]
		n, first := l.filled()
		h := headingOf(l.at(0))
		if n > 1 || n == 1 && first > 0 || n == 1 && len(h.strange) == 0 && (h.means != "" || h.cylinder != "") {
			break
		}
		why := "blank"
		if n == 1 {
			r.says.read(l)
			why = "title"
		}
		r.out.Ignored = append(r.out.Ignored, Ignored{l.n, why})
		r.lines = r.lines[1:]
		r.above++
	}
	r.lines = turn(r.lines)
}

// headed reads titles and headings.
func (r *reader) headed(head int, rows []line) {
	var over *line
	if head < 0 {
		r.columns = columnsOf(line{}, nil, rows)
		settle(r.columns, rows, &r.says)
		for i, n := 0, 0; i < len(r.columns); i++ {
			if c := &r.columns[i]; c.Means == Reading {
				n++
				c.Cylinder = strconv.Itoa(n)
			}
		}
	} else {
		above := r.lines[:head]
		if n := len(above); n > 0 && isOver(above[n-1]) {
			over, above = &r.lines[n-1], above[:n-1]
			if headingPoints(over.at(0)) < 1 {
				above = append(slices.Clone(above), line{over.n, over.cells[:1]})
			}
		}
		for _, l := range above {
			if n, _ := l.filled(); n == 0 {
				r.ignore(l, "blank")
				continue
			}
			r.says.read(l)
			r.ignore(l, "title")
		}
		r.head = r.lines[head]
		r.columns = columnsOf(r.head, over, rows)
		settle(r.columns, rows, &r.says)
	}
	r.corrected()
	r.long = r.has(Cylinder)
	r.says.engine = firstOf(r.picks.Engine, r.says.engine)
}

// corrected takes in what a person says of the columns.
func (r *reader) corrected() {
	for _, p := range r.picks.Columns {
		if p.Index >= 0 && p.Index < len(r.columns) {
			was := r.columns[p.Index]
			p.Header, p.pull, p.meter, p.date, p.temp = was.Header, was.pull, was.meter, was.date, was.temp
			if p.Means == Reading && p.Cylinder == "" && !r.has(Cylinder) {
				p.Cylinder = was.Cylinder
			}
			r.columns[p.Index] = p
		}
	}
}

func firstOf(all ...string) string {
	for _, s := range all {
		if s != "" {
			return s
		}
	}
	return ""
}

func (r *reader) has(m Means) bool {
	return slices.ContainsFunc(r.columns, func(c Column) bool { return c.Means == m })
}

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
			Words: fmt.Sprintf("Which comes first in this file's dates, the day or the month? “%s” may be one of two days.", r.dates.text),
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
		What: AskUnit, Took: string(r.unit), Choices: []string{"psi", "bar", "kPa", "kgf/cm2"},
		Words: fmt.Sprintf("The sheet names no unit. By their size its figures are %s.", r.unit),
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

func (r *reader) ignore(l line, why string) {
	if !r.turned {
		r.out.Ignored = append(r.out.Ignored, Ignored{l.n, why})
	}
}

// refuse names a row that cannot be taken, or one cell of it. In a turned sheet a line is a column.
func (r *reader) refuse(l line, column int, text, why string, args ...any) {
	if len(r.out.Refused) >= mostTold {
		return
	}
	one := Refused{Row: l.n, Text: text, Why: fmt.Sprintf(why, args...)}
	if column >= 0 {
		one.Column = r.columns[column].called()
	}
	if r.turned {
		one.Column = "column " + letterOf(l.n-1)
		one.Row = r.sheet.Rows[min(r.above+max(column, 0), len(r.sheet.Rows)-1)].N
	}
	r.out.Refused = append(r.out.Refused, one)
}

func (r *reader) doubt(l line, column int, text, words string, args ...any) {
	if len(r.out.Doubts) >= mostTold {
		return
	}
	one := Doubt{Row: l.n, Text: text, Words: fmt.Sprintf(words, args...)}
	if column >= 0 {
		one.Column = r.columns[column].called()
	}
	if r.turned {
		one.Row = 0
	}
	r.out.Doubts = append(r.out.Doubts, one)
}

// row reads one row.
func (r *reader) row(l line) {
	n, first := l.filled()
	switch {
	case n == 0:
		r.ignore(l, "blank")
		return
	case isTotal(l, r.columns):
		r.ignore(l, "sums up others")
		return
	case r.isHead(l):
		r.ignore(l, "headings again")
		return
	case n == 1 && r.columns[first].Means != Reading && r.isTitle(l.at(first)):
		if dateIn(l.at(first)) != "" {
			r.says.date = ""
			clear(r.carried)
		}
		r.says.read(l)
		r.ignore(l, "title")
		return
	case n == 2 && !r.anyReading(l) && l.at(0) != "" && l.at(1) != "" && headingOf(l.at(0)).means != "" && !isDateText(fold(l.at(0))):
		r.says.read(l)
		r.ignore(l, "title")
		return
	}
	if r.labelled(l) {
		r.ignore(l, "said of the tests beside it")
		return
	}
	at, ok := r.attributes(l)
	if !ok {
		return
	}
	if key := strings.Join(append(trimAll(l.cells), at.date, at.undecided, at.engine), "\x00"); r.repeats(l, at, key) {
		return
	}
	r.readings(l, at)
}

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
			r.said = append(r.said, saidOf{l, i, h.means, text, h.meter})
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
	for _, s := range r.said {
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
	paths, heard := pathsIn(s.text)
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

func trimAll(cells []string) []string {
	all := make([]string, len(cells))
	for i, c := range cells {
		all[i] = strings.TrimSpace(c)
	}
	return all
}

// plainlyData reports whether a cell is a figure that no column is numbered with.
func plainlyData(text string) bool {
	const two = 2 // figures, as in Cyl 12
	digits := 0
	for _, c := range strings.TrimSpace(text) {
		if c < '0' || c > '9' {
			return digits > 0 && (c == '.' || c == ',') && !isDateText(text)
		}
		digits++
	}
	return digits > two
}

// isHead reports whether a row heads the columns again. Where it heads others, those below are read by it.
func (r *reader) isHead(l line) bool {
	if n, _ := l.filled(); n < 2 || slices.ContainsFunc(l.cells, plainlyData) {
		return false
	}
	if slices.Equal(trimAll(l.cells), trimAll(r.head.cells)) {
		return true
	}
	n, _ := l.filled()
	if score := headScore(l); score < 2 || score < float64(n)*0.8 || r.anyReading(l) {
		return false
	}
	at := slices.IndexFunc(r.lines, func(o line) bool { return o.n == l.n })
	below := r.lines[at+1:]
	for i, o := range below {
		if next, _ := o.filled(); next > 1 && headScore(o) >= 2 && headScore(o) >= float64(next)*0.8 {
			below = below[:i]
			break
		}
	}
	r.head, r.columns = l, columnsOf(l, nil, below)
	settle(r.columns, below, &r.says)
	r.corrected()
	r.long = r.has(Cylinder)
	return true
}

// isTitle reports whether the only cell of a row stands over those below it.
func (r *reader) isTitle(text string) bool {
	_, serial := serialDay(text)
	return !serial && (dateIn(text) != "" && r.columns[0].Means != Date || nameIn(text) != "" && !isFormula(text))
}

// anyReading reports whether a row has a figure where readings stand.
func (r *reader) anyReading(l line) bool {
	for i, c := range r.columns {
		if c.Means != Reading || isBlank(l.at(i)) {
			continue
		}
		if read, err := r.figures.readCell(l.at(i), c.Kind, c.Percent); err == nil && len(read.pulls)+len(read.leaks) > 0 {
			return true
		}
	}
	return false
}

// repeats refuses a row that says again, figure for figure, what a row above says. In a sheet of a row a reading, one that
// gives each reading twice may well mean two pulls.
func (r *reader) repeats(l line, at attributes, key string) bool {
	above, seen := r.twice[key]
	r.twice[key] = l.n
	if !seen || !r.anyReading(l) && !r.has(Supply) || r.has(Cylinder) && r.pullsInRows() {
		return false
	}
	text := at.dateText
	if text == "" {
		text = l.at(0)
	}
	r.refuse(l, -1, text, "row %d again, figure for figure: it is taken once", above)
	return true
}

// pullsInRows reports whether some cylinder has two different readings of one kind in one test, each in a row of its own.
func (r *reader) pullsInRows() bool {
	if r.inRows == nil {
		found := r.has(Attempt) || r.findPullsInRows()
		r.inRows = &found
	}
	return *r.inRows
}

func (r *reader) findPullsInRows() bool {
	type place struct{ date, cylinder, kind, engine, visit string }
	seen := map[place]string{}
	for _, l := range r.lines {
		var p place
		values := ""
		for i, c := range r.columns {
			switch c.Means {
			case Date:
				p.date = l.at(i)
			case Cylinder:
				p.cylinder = l.at(i)
			case Kind:
				p.kind = l.at(i)
			case Engine:
				p.engine = l.at(i)
			case Visit:
				p.visit = l.at(i)
			case Reading:
				values += l.at(i) + "|"
			}
		}
		if was, there := seen[p]; there && was != values && p.date != "" && strings.Trim(values, "|") != "" {
			return true
		}
		seen[p] = values
	}
	return false
}

// attributes is what a row says beside its readings.
type attributes struct {
	engine, date, dateText, cylinder, kind, visit string
	stage, note, temp, gauge, operator, meterUnit string
	unit                                          units.Unit
	percent                                       bool
	meter                                         *float64
	supply, held                                  *float64
	leakUnit                                      units.Unit
	paths                                         []log.Path
	heard                                         bool
	place                                         string
	attempt                                       int
	struck                                        string
	celsius                                       *float64
	each                                          map[string]ofCylinder // what columns of one cylinder say
	undecided                                     string
	ownDate                                       bool
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
		engine: r.says.engine, kind: r.says.kind, temp: r.says.temp, gauge: r.says.gauge, operator: r.says.operator, celsius: r.says.celsius,
		unit: r.unit, stage: r.says.stage, percent: r.says.percent,
	}
	if v, err := r.figures.value(pieceOf.ReplaceAllString(fold(r.says.meter), "$2")); r.says.meter != "" && err == nil {
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
		r.refuse(l, i, text, "a formula: it is never worked out here")
		return c.Means != Date && c.Means != Cylinder && c.Means != Supply && c.Means != Held
	}
	switch c.Means {
	case Engine:
		a.engine = text
	case Visit:
		a.visit = text
	case Date:
		a.dateText, a.ownDate = text, l.at(i) != ""
		if d := dateIn(text); d != "" && d != text && !isDateText(fold(text)) {
			a.dateText = d
			a.beside(strings.TrimSpace(strings.Replace(text, d, "", 1)))
		}
	case Cylinder:
		name, ok := nameOf(fold(text))
		if h := headingOf(text); !ok && len(h.strange) == 0 && h.cylinder != "" { // 1 dry
			name, a.kind = h.cylinder, firstOf(h.kind, a.kind)
		} else if !ok {
			name = tidyHeader(text)
		}
		if name == "" {
			r.refuse(l, -1, text, "“%.40s” is no cylinder", text)
			return false
		}
		a.cylinder = name
	case Kind:
		kind, ok := kindOf(text)
		if !ok {
			r.refuse(l, -1, text, "“%.40s” is not dry, wet or leak", text)
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
		note := text
		if why, struck := strings.CutPrefix(text, "struck: "); struck {
			a.struck = why
		}
		a.note = join(a.note, note)
		if paths, heard := pathsIn(text); heard && !a.heard && len(placesIn(fold(text))) == len(aWord.FindAllString(fold(text), -1)) {
			a.paths, a.heard, a.place = paths, true, text // a remark that is nothing but a place
		}
		if temp := temps[fold(text)]; temp != "" {
			a.temp = temp
		}
	case Temp:
		h := headingOf(text)
		a.temp, a.kind = firstOf(h.temp, a.temp), firstOf(h.kind, a.kind)
		if h.celsius != nil {
			a.celsius = h.celsius
		} else if v, err := r.figures.value(text); err == nil {
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
		paths, heard := pathsIn(text)
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
		a.attempt, _ = strconv.Atoi(strings.Trim(fold(text), "pull#. "))
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
	u, rest := unitIn(fold(text))
	switch {
	case u != "":
		a.unit, a.leakUnit = u, u
	case strings.Contains(rest, "%"):
		a.percent = true
		if a.kind == "" {
			a.kind = Leak
		}
	default:
		r.refuse(l, -1, text, "“%.40s” is no unit of a gauge here: psi, bar, kPa or kgf/cm2", text)
		return false
	}
	return true
}

func (r *reader) meterCell(l line, i int, c Column, text string, a *attributes) {
	m := pieceOf.FindStringSubmatch(fold(text))
	if m == nil || strings.HasPrefix(text, "-") || aNumber.MatchString(m[3]) {
		r.refuse(l, i, text, "“%.40s” is not what a meter reads", text)
		return
	}
	v, err := r.figures.value(m[2])
	if err != nil || v > 1e8 {
		r.refuse(l, i, text, "“%.40s” is not what a meter reads", text)
		return
	}
	a.meter = &v
	a.meterUnit = firstOf(headingOf(m[3]).meter, c.meter)
}

func (r *reader) pressureCell(l line, i int, c Column, text string, a *attributes) bool {
	u, t := unitIn(fold(text))
	v, err := r.figures.value(strings.Trim(t, " ~"))
	if err != nil || v < 0 {
		r.refuse(l, -1, text, "%s: “%.40s” is not a figure", c.called(), text)
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
			r.refuse(l, -1, "", "it does not say when")
		} else {
			r.ignore(l, "no reading")
		}
		return false
	}
	date, err := r.dates.read(text)
	if err != nil {
		if !r.anyReading(l) && !r.has(Supply) {
			r.ignore(l, "no reading")
			return false
		}
		r.refuse(l, -1, text, "%v", err)
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
