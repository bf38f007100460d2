package table

import (
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
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
	headers []int // rows of headings
	said    []saidOf
	inRows  *bool
	byVisit map[string][]*test
	held    map[int]bool // columns of readings that say, of a leak, what was held
}

// Read reads a sheet.
func Read(s Sheet, picks Picks) Result {
	r := &reader{sheet: s, picks: picks, twice: map[string]int{}, byVisit: map[string][]*test{}, carried: map[Means]string{}, headers: []int{}}
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
	r.guess()
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
		if v, ok := r.figures.within(r.says.meter); ok && t.meter == nil {
			t.meter, t.meterUnit = &v, headingOf(r.says.meter).meter
		}
		if t.date == "" && t.undecided == "" {
			t.date = r.picks.Date
			ask = ask || t.date == "" && len(t.taken) > 0
		}
	}
	if ask {
		r.out.Asked = append(r.out.Asked, Asked{What: AskDate, Must: true, Words: say.Text("table.sheet-doesnt-say-when-what")})
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
			r.headers = append(r.headers, over.n)
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
		r.headers = append(r.headers, r.head.n)
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

func (r *reader) ignore(l line, why string) {
	if !r.turned {
		r.out.Ignored = append(r.out.Ignored, Ignored{l.n, why})
	}
}

// refuse names a row that cannot be taken, or one cell of it. In a turned sheet a line is a column.
func (r *reader) refuse(l line, column int, text, why string) {
	if len(r.out.Refused) >= mostTold {
		return
	}
	one := Refused{Row: l.n, Text: text, Why: why}
	if column >= 0 {
		one.Column = r.columns[column].called()
	}
	if r.turned {
		one.Column = say.Text("table.column", "letterOf", letterOf(l.n-1))
		one.Row = r.sheet.Rows[min(r.above+max(column, 0), len(r.sheet.Rows)-1)].N
	}
	r.out.Refused = append(r.out.Refused, one)
}

func (r *reader) doubt(l line, column int, text, words string) {
	if len(r.out.Doubts) >= mostTold {
		return
	}
	one := Doubt{Row: l.n, Text: text, Words: words}
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
		r.ignore(l, say.Text("table.total-other-rows"))
		return
	case r.isHead(l):
		r.ignore(l, say.Text("table.headings-repeated"))
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
		r.ignore(l, say.Text("table.note-tests-beside"))
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

// looksLikeHead reports whether nearly all cells of a row are headings.
func looksLikeHead(l line) bool {
	const least, nearlyAll = 2, 0.8
	n, _ := l.filled()
	score := headScore(l)
	return n > 1 && score >= least && score >= float64(n)*nearlyAll
}

// isHead reports whether a row heads the columns again. Where it heads others, those below are read by it.
func (r *reader) isHead(l line) bool {
	if n, _ := l.filled(); n < 2 || slices.ContainsFunc(l.cells, plainlyData) {
		return false
	}
	if slices.Equal(trimAll(l.cells), trimAll(r.head.cells)) {
		return true
	}
	if !looksLikeHead(l) || r.anyReading(l) {
		return false
	}
	at := slices.IndexFunc(r.lines, func(o line) bool { return o.n == l.n })
	below := r.lines[at+1:]
	if next := slices.IndexFunc(below, looksLikeHead); next >= 0 {
		below = below[:next]
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
	r.refuse(l, -1, text, say.Text("table.same-as-row-taken-once", "above", above))
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
