package table

import (
	"hash/fnv"
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/book"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
)

// reader goes down a sheet in one way to read it.
type reader struct {
	sheet Sheet
	picks Picks
	view  view

	lines   []line
	above   int // rows of titles over a turned sheet
	head    line
	headers []int // rows of headings
	columns []Column
	long    bool // a row a reading, or a row a cylinder

	usuallyTurned bool

	says    says
	figures written.Figures
	dates   written.Dates
	seen    map[units.Unit]int // units of pressure that the sheet names
	signed  map[int]bool       // columns with a sign of percent in some cell

	tests    []*test
	byVisit  map[string][]*test
	labels   []saidOf
	carried  map[Means]string
	keys     map[string]string // of names
	twice    map[uint64]int    // rows by what they say
	inRows   *bool
	inPairs  map[float64]int // cells by the larger of their two figures
	ranges   []string
	remarks  []remarked
	weighing bool // only the first lines are read, to weigh a way to read them
	placed   int  // figures that found a place
	refused  int
	took     int // readings

	isLearned bool
	titled    string // the engine that the sheet's own name names
	beyond    int    // figures that no gauge of their unit shows
	out       Result
}

// as reads the first lines of the sheet in one way.
func (r *reader) as(v view, most int) *reader {
	one := &reader{
		sheet: r.sheet, picks: r.picks, view: v, twice: map[uint64]int{}, byVisit: map[string][]*test{}, carried: map[Means]string{},
		keys:    map[string]string{},
		headers: []int{}, seen: map[units.Unit]int{}, signed: map[int]bool{}, out: noResult(),
		figures: written.Figures{Comma: v.comma, Typed: r.sheet.Typed}, weighing: most <= sampled,
	}
	one.lines, one.usuallyTurned = r.laid(most), r.usuallyTurned
	one.readTitle()
	if v.turned {
		one.passTitles()
	}
	rows := one.headed()
	one.lookForUnits(rows)
	if one.view.unit == "" {
		one.view.unit = one.usualUnit(rows)
	}
	one.settleDates(rows)
	for _, l := range rows {
		if one.row(l); one.took > mostReadings {
			break
		}
	}
	one.fromBelow()
	one.applied()
	one.slips()
	return one
}

// readTitle takes in what a sheet of a workbook is called: its engine, its day, what was tested.
func (r *reader) readTitle() {
	if r.sheet.Title == "" {
		return
	}
	r.says.read(line{cells: []string{r.sheet.Title}}, false)
	r.titled, r.says.engine, r.says.more = r.says.engine, "", nil
}

// laid returns the first lines of the sheet.
func (r *reader) laid(most int) []line {
	var lines []line
	for _, row := range r.sheet.Rows[:min(len(r.sheet.Rows), most)] {
		if r.sheet.HiddenRows[row.N] && r.picks.Hidden != TakeHidden {
			continue
		}
		cells := row.Cells
		if len(r.sheet.HiddenColumns) > 0 && r.picks.Hidden != TakeHidden {
			cells = slices.Clone(cells)
			for i := range cells {
				if r.sheet.HiddenColumns[i] {
					cells[i] = ""
				}
			}
		}
		lines = append(lines, line{row.N, r.mended(row.N, cells)})
	}
	return lines
}

// mended returns the cells of a row with what a person wrote into them.
func (r *reader) mended(n int, cells []string) []string {
	for _, m := range r.picks.Cells {
		if m.Sheet != r.sheet.N || m.Row != n {
			continue
		}
		cells = slices.Clone(cells)
		for len(cells) <= m.Column {
			cells = append(cells, "")
		}
		cells[m.Column] = m.Text
	}
	return cells
}

// passTitles takes in the titles over a sheet that lies on its side, and turns the rest.
func (r *reader) passTitles() {
	for len(r.lines) > 0 {
		l := r.lines[0]
		n, first := l.filled()
		h := headingOf(l.at(0))
		if n > 1 || n == 1 && first > 0 || n == 1 && len(h.strange) == 0 && (h.means != "" || h.cylinder != "") {
			break
		}
		why := say.Text("table.blank")
		if n == 1 {
			r.says.read(l, false)
			why = say.Text("table.title")
		}
		r.out.Ignored = append(r.out.Ignored, Ignored{Row: l.n, Why: why})
		r.lines = r.lines[1:]
		r.above++
	}
	r.lines = turn(r.lines)
}

// headed reads titles and headings, and returns the lines below them.
func (r *reader) headed() []line {
	head := r.view.head
	if head >= len(r.lines) {
		head = noHead
	}
	if head == noHead {
		rows := r.lines
		r.columns = columnsOf(line{}, nil, nil, rows)
		settle(r.columns, rows, &r.says)
		for i, n := 0, 0; i < len(r.columns); i++ {
			if c := &r.columns[i]; c.Means == Reading {
				n++
				c.Cylinder, c.guessed = strconv.Itoa(n), true
			}
		}
		r.corrected()
		return rows
	}
	var over, under *line
	above, rows := r.lines[:head], r.lines[head+1:]
	if n := len(above); n > 0 && isOver(above[n-1]) {
		over, above = &r.lines[n-1], above[:n-1]
		r.headers = append(r.headers, over.n)
		if headingPoints(over.at(0)) < 1 {
			above = append(slices.Clone(above), line{over.n, over.cells[:1]})
		}
	}
	for _, l := range above {
		if n, _ := l.filled(); n == 0 {
			r.ignore(l, say.Text("table.blank"))
			continue
		}
		r.says.read(l, false)
		r.ignore(l, say.Text("table.title"))
	}
	r.head = r.lines[head]
	r.headers = append(r.headers, r.head.n)
	if len(rows) > 0 && isUnder(rows[0]) {
		under, rows = &rows[0], rows[1:]
		r.headers = append(r.headers, under.n)
	}
	r.columns = columnsOf(r.head, over, under, rows)
	settle(r.columns, rows, &r.says)
	r.withoutWorked(rows)
	r.withoutUnknown(rows)
	r.corrected()
	r.says.engine = firstOf(r.picks.Engine, r.says.engine)
	return rows
}

// key names the headings of a sheet, however they are spaced and whatever their letter case.
func (r *reader) key() string {
	var all []string
	for _, c := range r.columns {
		all = append(all, nameKey(c.Header))
	}
	const enough = 12
	return book.NameOf("headings", strings.Join(all, "|"))[:enough]
}

// learned takes in what was corrected in an earlier sheet with the same headings.
func (r *reader) learned() {
	if len(r.picks.Remembered) == 0 {
		return
	}
	key := r.key()
	at := slices.IndexFunc(r.picks.Remembered, func(c rules.SheetColumns) bool { return c.ID == key })
	if at < 0 {
		return
	}
	r.isLearned = true
	for _, c := range r.picks.Remembered[at].Columns {
		if c.Index < len(r.columns) {
			r.columns[c.Index].readAs(c)
		}
	}
}

// readAs takes in what a column was corrected to; what its heading says beside that stays.
func (c *Column) readAs(to rules.SheetColumn) {
	c.Means, c.Cylinder, c.Kind, c.Unit, c.Percent, c.guessed = Means(to.Means), to.Cylinder, to.Kind, to.Unit, to.Percent, false
}

// corrected takes in what a person says of the columns.
func (r *reader) corrected() {
	r.learned()
	for _, p := range r.picks.Columns {
		if p.Sheet != r.sheet.N || p.Index < 0 || p.Index >= len(r.columns) {
			continue
		}
		own := &r.columns[p.Index]
		if p.Means == Reading && p.Cylinder == "" && !r.has(Cylinder) {
			p.Cylinder = own.Cylinder
		}
		own.readAs(rules.SheetColumn{Means: string(p.Means), Cylinder: p.Cylinder, Kind: p.Kind, Unit: p.Unit, Percent: p.Percent})
	}
	r.long = r.has(Cylinder)
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

func (r *reader) settleDates(rows []line) {
	texts, at := r.cells(rows, Date)
	for i, text := range texts {
		if d := dateIn(text); d != "" && !written.IsDay(written.Fold(text)) {
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
	r.dates.Settle(texts, at, r.picks.Dates)
	if r.dates.Order != written.Undecidable {
		return
	}
	asked := Asked{
		What: AskDates, Sheet: r.sheet.Title, Row: r.dates.Row, Text: r.dates.Text, Must: true,
		Words: say.Text("table.files-dates-which-comes-first", "text", r.dates.Text),
	}
	for _, o := range []written.Order{written.DayFirst, written.MonthFirst} {
		d := written.Dates{Order: o}
		iso, _ := d.Read(r.dates.Text)
		asked.Choices = append(asked.Choices, Reply{
			Name: string(o), Words: say.Text("table.dates-" + string(o)), Picks: Picks{Dates: o},
			Reads: []string{say.Text("table.day", "date", say.Day(iso))},
		})
	}
	r.out.Asked = append(r.out.Asked, asked)
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
	if !r.view.turned {
		r.out.Ignored = append(r.out.Ignored, Ignored{Sheet: r.sheet.Title, Row: l.n, Why: why})
	}
}

// refuse names a row that cannot be taken, or one cell of it. In a turned sheet a line is a column.
func (r *reader) refuse(l line, column int, text, why string) {
	r.refused++
	if len(r.out.Refused) >= mostTold {
		return
	}
	one := Refused{Sheet: r.sheet.Title, N: r.sheet.N, Row: l.n, Text: text, Why: why}
	if at := r.mendableAt(l, column, text); at >= 0 {
		where := r.place(l, at)
		one.Cell = &where
	}
	if column >= 0 {
		one.Column = r.columns[column].called()
	}
	if r.view.turned {
		one.Column = say.Text("table.column", "letterOf", letterOf(l.n-1))
		one.Row = r.rowOf(column)
	}
	r.out.Refused = append(r.out.Refused, one)
}

// mendableAt finds the cell for which a row was refused: it is known, or it says what the refusal tells.
func (r *reader) mendableAt(l line, column int, text string) int {
	if column >= 0 {
		return column
	}
	for i := range l.cells {
		if text != "" && l.at(i) == text {
			return i
		}
	}
	return -1
}

// rowOf returns the row of the sheet that is a column of a turned one.
func (r *reader) rowOf(column int) int {
	return r.sheet.Rows[min(r.above+max(column, 0), len(r.sheet.Rows)-1)].N
}

// place returns where in the sheet a cell of a line stands.
func (r *reader) place(l line, column int) CellAt {
	if r.view.turned {
		return CellAt{r.rowOf(column), l.n - 1}
	}
	return CellAt{l.n, column}
}

func (r *reader) doubt(l line, column int, text, words string) {
	if len(r.out.Doubts) >= mostTold {
		return
	}
	one := Doubt{Sheet: r.sheet.Title, Row: l.n, Text: text, Words: words}
	if column >= 0 {
		one.Column = r.columns[column].called()
	}
	if r.view.turned {
		one.Row = 0
	}
	r.out.Doubts = append(r.out.Doubts, one)
}

// row reads one row.
func (r *reader) row(l line) {
	n, first := l.filled()
	switch {
	case n == 0:
		r.ignore(l, say.Text("table.blank"))
		return
	case isTotal(l, r.columns) || r.isWorkedOut(l):
		r.ignore(l, say.Text("table.total-other-rows"))
		return
	case r.isHead(l):
		r.ignore(l, say.Text("table.headings-repeated"))
		return
	case n == 1 && r.columns[first].Means != Reading && !r.namesCylinder(l, first) && r.isTitle(l.at(first)):
		r.title(l, first)
		return
	case n == 2 && r.isKeyed(l):
		r.says.read(l, true)
		r.ignore(l, say.Text("table.title"))
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
	if r.repeats(l, at) {
		return
	}
	r.readings(l, at)
}

// isKeyed reports whether a line of two cells says something of the sheet: "Gauge", and which.
func (r *reader) isKeyed(l line) bool {
	key := l.at(0)
	return key != "" && l.at(1) != "" && headingOf(key).means != "" && !written.IsDay(written.Fold(key)) && !r.anyReading(l)
}

// title takes in a line of words among the rows: it stands over those below it, or is a remark on those above.
func (r *reader) title(l line, first int) {
	text := l.at(first)
	if dateIn(text) != "" {
		r.says.date = ""
		clear(r.carried)
	}
	var own says
	own.read(l, true)
	if len(own.kinds) > 0 {
		r.says.kinds = nil
	}
	before := len(r.says.more)
	r.says.read(l, true)
	if len(r.says.more) > before && len(r.tests) > 0 {
		r.says.more = r.says.more[:before]
		r.remark(l, text)
		r.ignore(l, say.Text("table.remark"))
		return
	}
	r.ignore(l, say.Text("table.title"))
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
			return digits > 0 && (c == '.' || c == ',') && !written.IsDay(text)
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
	r.head, r.columns = l, columnsOf(l, nil, nil, below)
	settle(r.columns, below, &r.says)
	r.corrected()
	return true
}

// isTitle reports whether the only cell of a row stands over those below it.
func (r *reader) isTitle(text string) bool {
	_, serial := written.SerialDay(text)
	own := says{}
	own.kindsIn(text)
	if serial || isFormula(text) {
		return false
	}
	const short = 3 // letters
	words := written.Word.FindString(written.Fold(text)) != "" && len(text) > short
	return dateIn(text) != "" && r.columns[0].Means != Date || nameIn(text) != "" || len(own.kinds) > 0 || words
}

// isWorkedOut reports whether all figures of a row were made of others by formulas.
func (r *reader) isWorkedOut(l line) bool {
	if len(r.sheet.Worked) == 0 {
		return false
	}
	worked := 0
	for i, c := range r.columns {
		text := l.at(i)
		switch {
		case c.Means != Reading || isBlank(text):
		case sumsUp.MatchString(r.sheet.Worked[r.place(l, i)]):
			worked++
		default:
			return false
		}
	}
	return worked > 0
}

// namesCylinder reports whether a cell is the name of a cylinder of which nothing more is said.
func (r *reader) namesCylinder(l line, column int) bool {
	_, ok := nameOf(written.Fold(l.at(column)))
	return ok && r.columns[column].Means == Cylinder
}

// anyReading reports whether a row has a figure where readings stand.
func (r *reader) anyReading(l line) bool {
	for i, c := range r.columns {
		if c.Means != Reading || isBlank(l.at(i)) {
			continue
		}
		if read, err := readCell(r.figures, l.at(i), c.Kind); err == nil && len(read.pulls)+len(read.leaks) > 0 {
			return true
		}
	}
	return false
}

// repeats refuses a row that says again, figure for figure, what a row above says. In a sheet of a row a reading, one that
// gives each reading twice may well mean two pulls.
func (r *reader) repeats(l line, at attributes) bool {
	sum := fnv.New64a()
	for _, text := range append(trimAll(l.cells), at.date, at.undecided, at.engine) {
		_, _ = sum.Write([]byte(text + "\x00"))
	}
	key := sum.Sum64()
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

// fromBelow gives tests what a sheet says only under them.
func (r *reader) fromBelow() {
	ask := false
	for _, t := range r.tests {
		t.engine = firstOf(t.engine, r.says.engine)
		if t.date == "" && t.undecided == "" && r.says.date != "" {
			if date, err := r.dates.Read(r.says.date); err == nil {
				t.date = date
			}
		}
		if v, ok := r.figures.Within(r.says.meter); ok && t.meter == nil {
			t.meter, t.meterUnit = &v, headingOf(r.says.meter).meter
		}
		if t.date == "" && t.undecided == "" {
			t.date = r.picks.Date
			ask = ask || t.date == "" && len(t.taken) > 0
		}
	}
	if ask {
		r.out.Asked = append(r.out.Asked, Asked{
			What: AskDate, Sheet: r.sheet.Title, Must: true, Words: say.Text("table.sheet-doesnt-say-when-what"),
		})
	}
}
