package table

import (
	"cmp"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
)

// Column is what a column of the sheet was taken to hold; of a turned one, a row.
type Column struct {
	Sheet    int        `json:"sheet,omitzero"`
	Index    int        `json:"index"`
	Header   string     `json:"header"`
	Means    Means      `json:"means" enum:"date,reading,cylinder,kind,meter,note,supply,held,place,level,unit,attempt,engine,bank,visit,stage,temp,gauge,operator,skip"`
	Cylinder string     `json:"cylinder,omitzero" maxLength:"12" doc:"For a reading: the cylinder, if the column says it"`
	Kind     string     `json:"kind,omitzero" enum:"dry,wet,leak"`
	Unit     units.Unit `json:"unit,omitzero"`
	Percent  bool       `json:"percent,omitzero"`

	pull      int
	meter     string
	date      string
	temp      string
	supply    units.Reading
	cylinders []string // several in its cells: L/R
	second    string   // what a second figure is: dry (wet)
	foreign   bool     // headed by a unit that no gauge here has
	unitOnly  bool     // its heading says a unit, and no more
	guessed   bool     // taken for a cylinder only because figures stand under a word that is not known
	pressure  bool     // its heading says compression
	held      bool     // its heading says what was held
}

// line is a row of the sheet as it is read; of a turned one, a column.
type line struct {
	n     int // as a spreadsheet counts it
	cells []string
}

func (l line) at(i int) string {
	if i >= len(l.cells) {
		return ""
	}
	text := strings.TrimSpace(l.cells[i])
	if len(text) > 1 && text[0] == '\'' && strings.ContainsRune("=+-@0123456789", rune(text[1])) {
		return text[1:] // set in front so that no spreadsheet works it out
	}
	return text
}

// filled returns how many cells say something, and the first that does.
func (l line) filled() (n, first int) {
	first = -1
	for i := range l.cells {
		if l.at(i) == "" {
			continue
		}
		if n++; first < 0 {
			first = i
		}
	}
	return n, first
}

// turn lays a sheet on its side: its columns become lines.
func turn(lines []line) []line {
	width := 0
	for _, l := range lines {
		width = max(width, len(l.cells))
	}
	all := make([]line, width)
	for c := range all {
		all[c].n = c + 1
		for _, l := range lines {
			all[c].cells = append(all[c].cells, l.at(c))
		}
	}
	return all
}

// Headings are looked for this far down a sheet.
const titlesAtMost = 40

var aSmallNumber = regexp.MustCompile(`^\d{1,2}$`)

// withoutUnit returns the text of a cell without a unit behind a small number: 1 psi, 2 psi, 3 psi may be cylinders.
func withoutUnit(text string) string {
	if u, rest := written.UnitIn(written.Fold(text)); u != "" {
		if bare := strings.Trim(rest, trimmed); aSmallNumber.MatchString(bare) {
			return bare
		}
	}
	return text
}

// headScore says how much a line looks like headings: a point for each cell that is one, less one for each that is data.
func headScore(l line) float64 {
	score, dates := 0.0, 0
	numbered := map[int]bool{}
	for i := range l.cells {
		text := withoutUnit(l.at(i))
		if n, err := strconv.Atoi(text); err == nil && aSmallNumber.MatchString(text) {
			numbered[n] = true
		} else if written.IsDay(written.Fold(text)) {
			dates++
		}
	}
	counted := len(numbered) > 0
	for n := range len(numbered) {
		counted = counted && numbered[n+1]
	}
	first := headingOf(l.at(0))
	for i := range l.cells {
		text := withoutUnit(l.at(i))
		switch {
		case text == "":
		case isFormula(text):
			score--
		case aSmallNumber.MatchString(text):
			if counted {
				score++
			} else {
				score--
			}
		case written.IsDay(written.Fold(text)):
			if dates > 1 || first.means == Cylinder {
				score++
			} else {
				score--
			}
		default:
			score += headingPoints(text)
		}
	}
	return score
}

var dataLike = regexp.MustCompile(`^[~≈<>]?\s*[\d.,]+(?: \d{3})*(?:\s*/\s*[\d.,]+)*\s*(?:psi|bar|kpa|%|kgf?|kp|h|km)?$`)

// isData reports whether a text is a figure, or several, and no heading.
func isData(text string) bool { return dataLike.MatchString(written.PlainUnits(written.Fold(text))) }

func headingPoints(text string) float64 {
	if isData(text) {
		return -1
	}
	h := headingOf(text)
	known := h.means != "" || h.cylinder != "" || h.kind != "" || h.pull > 0 || h.unit != ""
	switch {
	case h.supply.Value > 0:
		return 0.5 // it stands in titles as well
	case h.means == "" && h.cylinder == "" && h.kind == "" && h.pull == 0 && h.unit != "":
		return 0.5 // a unit alone stands below headings as well
	case known && len(h.strange) == 0:
		return 1
	case known && len(h.strange) < 3 && len(text) < 40:
		return 0.5
	}
	return 0
}

// heads returns the lines that may head the columns, the likeliest first, and noHead where none surely does.
func heads(lines []line, most int) []int {
	const least, sure = 1, 1.5
	type scored struct {
		at    int
		score float64
	}
	var all []scored
	for i, l := range lines[:min(len(lines), titlesAtMost)] {
		if n, _ := l.filled(); n < 1 {
			continue
		}
		if i > 0 && isUnder(l) && headScore(lines[i-1]) >= least {
			continue // units below headings
		}
		if s := headScore(l); s >= least {
			all = append(all, scored{i, s})
		}
	}
	slices.SortStableFunc(all, func(a, b scored) int { return cmp.Compare(b.score, a.score) })
	var at []int
	for _, one := range all[:min(len(all), most)] {
		at = append(at, one.at)
	}
	if len(all) == 0 || all[0].score < sure && !isWordy(lines[all[0].at]) {
		at = append(at, noHead)
	}
	return at
}

// isWordy reports whether a line is words alone: one known heading among them is enough.
func isWordy(l line) bool {
	return !slices.ContainsFunc(l.cells, func(c string) bool { return strings.ContainsAny(c, "0123456789=") })
}

// isTurned reports whether tests stand in columns under each other's labels: the first column says "Date", with days to the
// right of it, and names cylinders below.
func isTurned(lines []line) bool {
	dated, named := false, 0
	for _, l := range lines[:min(len(lines), 2*titlesAtMost)] {
		h := headingOf(l.at(0))
		if n, _ := l.filled(); h.means == Cylinder && h.cylinder == "" && n > 1 && headScore(l) == float64(n) {
			return false // cylinders stand below each other, under headings
		}
		days, cylinders := 0, 0
		for i := 1; i < len(l.cells); i++ {
			if written.IsDay(written.Fold(l.at(i))) {
				days++
			}
			if headingOf(l.at(i)).cylinder != "" && !isData(l.at(i)) {
				cylinders++
			}
		}
		if h.means == Date && days > 0 && cylinders == 0 {
			dated = true
		}
		if h.cylinder != "" {
			named++
		}
	}
	return dated && named > 0
}

// columnsOf reads the headings of a sheet's columns, with a line of headings over them where there is one.
func columnsOf(head line, over, under *line, rows []line) []Column {
	width := len(head.cells)
	for _, r := range rows {
		width = max(width, len(r.cells))
	}
	columns := make([]Column, width)
	var group heading
	for i := range columns {
		h := headingOf(head.at(i))
		text := head.at(i)
		if over != nil {
			own := over.at(i)
			if own != "" {
				group = headingOf(own)
			}
			switch {
			case text == "" && own != "":
				h, text = group, own
			case text != "":
				h = joined(h, group)
				if own != "" {
					text = own + " " + text
				}
			}
		}
		if under != nil && under.at(i) != "" {
			h = besideUnits(h, headingOf(under.at(i)))
		}
		columns[i] = Column{
			Index: i, Header: text, Means: h.means, Cylinder: h.cylinder, Kind: h.kind, Unit: h.unit, Percent: h.percent,
			pull: h.pull, meter: h.meter, date: h.date, temp: h.temp, supply: h.supply, cylinders: h.cylinders, second: h.second,
			foreign: h.foreign, pressure: h.pressure,
		}
		if c := &columns[i]; c.Means == Held && c.Cylinder == "" && h.kind == Leak {
			c.held = true
		}
		if c := &columns[i]; c.Means == "" && (c.Cylinder != "" || c.Kind != "" || c.pull > 0 || c.date != "") {
			c.Means = Reading
		}
		if columns[i].Means == Kind && (h.kind != "" || h.cylinder != "") {
			columns[i].Means = Reading // "leak test", "dry test"
		}
	}
	return columns
}

// filled gives a heading what it lacks and a line over or below it says of all that is under it.
func (h heading) filled(from heading) heading {
	h.unit, h.kind, h.temp = cmp.Or(h.unit, from.unit), cmp.Or(h.kind, from.kind), cmp.Or(h.temp, from.temp)
	h.percent, h.foreign = h.percent || from.percent, h.foreign || from.foreign
	return h
}

// besideUnits joins a heading with the unit, or the kind, below it.
func besideUnits(h, below heading) heading {
	h = h.filled(below)
	h.meter = cmp.Or(h.meter, below.meter)
	return h
}

// isUnder reports whether a line below headings only says in which units, or of which kind, the figures under it are.
func isUnder(l line) bool {
	n, _ := l.filled()
	units := 0
	for i := range l.cells {
		text := l.at(i)
		if text == "" {
			continue
		}
		h := headingOf(text)
		if strings.ContainsAny(written.PlainUnits(written.Fold(text)), "0123456789") || h.date != "" || h.cylinder != "" || len(h.strange) > 0 {
			return false
		}
		if h.unit != "" || h.percent || h.foreign || h.kind != "" || h.temp != "" || h.meter != "" {
			units++
		}
	}
	return n > 0 && units == n
}

// joined joins a heading with the one over it.
func joined(h, over heading) heading {
	if h.means != "" && h.means != Reading && h.means != Supply && h.means != Held && h.means != Place {
		return h
	}
	h = h.filled(over)
	h.date, h.cylinder = cmp.Or(h.date, over.date), cmp.Or(h.cylinder, over.cylinder)
	if h.supply.Value == 0 {
		h.supply = over.supply
	}
	return h
}

// isOver reports whether a line stands over the headings: its cells are days, kinds or cylinders, not a title.
func isOver(l line) bool {
	n, first := l.filled()
	if n == 0 || first == 0 && n == 1 {
		return false
	}
	good := 0
	if first == 0 && n > 1 && nameIn(l.at(0)) != "" && headingPoints(l.at(0)) < 1 {
		good++ // a title in the corner
	}
	for i := range l.cells {
		text := l.at(i)
		if m := keyed.FindStringSubmatch(text); m != nil && headingOf(m[1]).means != "" {
			return false
		}
		if text == "" || i == 0 && good == 1 {
			continue
		}
		h := headingOf(text)
		if h.supply.Value > 0 {
			return false // how it was tested: a title
		}
		says := h.date != "" || h.kind != "" || h.cylinder != "" || h.means != ""
		if says && len(h.strange) == 0 && (h.date != "" || !isData(text)) {
			good++
		}
	}
	return good == n
}

// enoughRows are as many as tell what a column holds.
const enoughRows = 1000

// settle gives a meaning to the columns whose headings say none, by what stands in them, and mends those that cannot be.
func settle(columns []Column, rows []line, s *says) {
	has := func(m Means) bool { return slices.ContainsFunc(columns, func(c Column) bool { return c.Means == m }) }
	column := func(i int) []string {
		var all []string
		for _, r := range rows[:min(len(rows), enoughRows)] {
			if text := r.at(i); !isBlank(text) {
				all = append(all, text)
			}
		}
		return all
	}
	for i := range columns {
		c := &columns[i]
		cells := column(i)
		if len(cells) == 0 {
			takeEmpty(c, s)
			continue
		}
		switch {
		case c.Means == Kind && share(cells, isKind) < 0.5:
			c.Means = Stage
			if share(cells, isReadingText) > 0.5 {
				c.Means, c.Cylinder = Reading, ""
			}
		case (c.Means == Stage || c.Means == Note) && share(cells, isKind) > 0.8:
			c.Means = Kind
		case written.Fold(c.Header) == "session" && slices.ContainsFunc(columns, func(o Column) bool { return o.Index != i && o.Means == Stage }):
			c.Means = Visit
		case c.Means == Reading && c.Cylinder == "" && share(cells, isReadingText) < 0.3:
			c.Means = Note
		case c.Means == Temp && c.temp != "" && share(cells, isReadingText) > 0.5 && share(cells, isTemp) == 0:
			c.Means = Reading // "cold", over figures
		case c.Means == Temp && share(cells, isReadingText) > 0.8 && share(cells, isTemp) == 0:
			c.Means = Skip
		case c.Means == Cylinder && (share(cells, isKindAlone) >= 0.5 || share(cells, isUnitAlone) >= 0.5):
			c.Means = Kind // it names the headings beside it, which are the cylinders
		}
	}
	oneCylinderColumn(columns)
	byLetters(columns)
	for i := range columns {
		c := &columns[i]
		cells := column(i)
		if c.Means != "" || len(cells) == 0 {
			continue
		}
		c.Means = byContent(cells, has, c)
		if c.Means == Date && s.engine == "" && c.Header != "" {
			s.engine = nameIn(c.Header)
		}
	}
	all := 0
	for _, c := range columns {
		if c.Means == Reading || c.Means == Held {
			all++
		}
	}
	for i := range columns {
		if c := &columns[i]; c.unitOnly && all > 1 { // a unit is enough of the only readings, of one of several it says too little
			c.guessed = true
		}
	}
	if has(Cylinder) {
		for i := range columns {
			c := &columns[i]
			if n, err := strconv.Atoi(c.Cylinder); err == nil && c.Means == Reading {
				c.pull, c.Cylinder = n, ""
			}
			if c.guessed {
				c.Cylinder = ""
			}
		}
		return
	}
	named := slices.ContainsFunc(columns, func(c Column) bool {
		return c.Means == Reading && !c.guessed && (c.Cylinder != "" || len(c.cylinders) > 0)
	})
	last := Column{}
	for i := range columns {
		c := &columns[i]
		switch {
		case c.Means != Reading:
		case c.guessed:
			c.Cylinder = firstOf(c.Cylinder, strconv.Itoa(i)) // a name to ask about
		case c.Cylinder != "" || len(c.cylinders) > 0:
			last = *c
		case named: // wet, beside the column of its cylinder
			c.Cylinder, c.cylinders = last.Cylinder, last.cylinders
		default: // a sheet of readings that names no cylinder is of an engine with one
			c.Cylinder = "1"
		}
	}
}

// oneCylinderColumn leaves the column that says which cylinder: one that only numbers the rows is passed over.
func oneCylinderColumn(columns []Column) {
	best := -1
	for i, c := range columns {
		if c.Means != Cylinder {
			continue
		}
		named := strings.ContainsAny(written.Fold(c.Header), "yi") // cyl, zyl, cil; not no, nr, #
		if best < 0 || named {
			best = i
		}
	}
	for i := range columns {
		if columns[i].Means == Cylinder && i != best {
			columns[i].Means = Skip
		}
	}
}

// byLetters reads c1 and l1, d1 and w1, as kinds of one cylinder, where the same numbers stand under more than one letter.
func byLetters(columns []Column) {
	of := map[string][]int{}
	plain := map[string]bool{}
	for i, c := range columns {
		if c.Means != Reading || c.Kind != "" || c.Cylinder == "" {
			continue
		}
		if _, err := strconv.Atoi(c.Cylinder); err == nil {
			plain[c.Cylinder] = true
			continue
		}
		if m := aLetterNumber.FindStringSubmatch(c.Cylinder); m != nil {
			of[m[1]] = append(of[m[1]], i)
		}
	}
	kind := map[string]string{"D": log.Dry, "W": log.Wet, "L": Leak}
	for letter, at := range of {
		if kind[letter] == "" || len(plain) == 0 && len(of) < 2 || len(of["R"]) > 0 {
			continue // banks, left and right
		}
		for _, i := range at {
			columns[i].Kind, columns[i].Cylinder = kind[letter], columns[i].Cylinder[1:]
		}
	}
}

var aLetterNumber = regexp.MustCompile(`^([DWL])(\d{1,2})$`)

// takeEmpty takes what stands over a column without data as said of the whole sheet: "psi, hot".
func takeEmpty(c *Column, s *says) {
	if s.unit == "" {
		s.unit = c.Unit
	}
	if s.temp == "" {
		s.temp = c.temp
	}
	if c.Kind != "" && c.Means != Reading {
		s.named(c.Kind)
	}
	if c.Means == "" || c.Means == Temp {
		c.Means = Skip
	}
}

func byContent(cells []string, has func(Means) bool, c *Column) Means {
	day := func(text string) bool {
		_, serial := written.SerialDay(text)
		const short = 30 // a day, and a word beside it
		return serial || written.IsDay(written.Fold(text)) || c.Header == "" && len(text) < short && dateIn(text) != ""
	}
	switch {
	case !has(Cylinder) && areCylinders(cells):
		return Cylinder
	case !has(Date) && share(cells, day) > 0.6:
		return Date
	case !has(Kind) && share(cells, isKind) > 0.8:
		return Kind
	case share(cells, isReadingText) > 0.5:
		c.guessed = tidyHeader(c.Header) != "" || c.Unit == "" && !c.Percent // nobody says what these figures are
		c.unitOnly = !c.guessed
		if !has(Cylinder) && c.Header != "" {
			if c.Cylinder = tidyHeader(c.Header); c.Cylinder == "" {
				return Skip
			}
		}
		return Reading
	case share(cells, isTemp) > 0.8:
		return Temp
	}
	return Note
}

// tidyHeader makes a cylinder's name of a heading that is none of the usual ones.
func tidyHeader(text string) string {
	const most = 12
	_, bare := written.UnitIn(written.Fold(text))
	bare = strings.Trim(bare, trimmed)
	if _, err := strconv.Atoi(bare); bare == "" || len(bare) > most || err == nil {
		return "" // a number that no cylinder has
	}
	return tidy(bare)
}

// areCylinders reports whether the cells of a column are the names of cylinders, test by test: 1, 2, 3 and so on, each perhaps more
// than once, or sides.
func areCylinders(cells []string) bool {
	last, most := 0, 0
	for _, text := range cells {
		name, ok := nameOf(written.Fold(text))
		n, err := strconv.Atoi(name)
		switch {
		case !ok:
			return false
		case err != nil:
			continue // a side
		case n != 1 && n != last && n != last+1:
			return false
		}
		last, most = n, max(most, n)
	}
	return len(cells) > 1 && (most > 1 || last == 0) && most <= mostCylinders
}

func share(cells []string, is func(string) bool) float64 {
	n := 0
	for _, c := range cells {
		if is(c) {
			n++
		}
	}
	return float64(n) / float64(len(cells))
}

func isKind(text string) bool {
	_, ok := kindOf(text)
	return ok
}

// isKindAlone reports whether a cell names a kind, and no cylinder with it: "1 dry".
func isKindAlone(text string) bool { return isKind(text) && headingOf(text).cylinder == "" }

// kindLetters are kinds by their letter, where a cell holds nothing else.
var kindLetters = map[string]string{"c": log.Dry, "l": Leak}

// kindOf reads a cell that says whether a reading is dry, wet or a leak.
func kindOf(text string) (string, bool) {
	t := strings.ReplaceAll(leakDown.Replace(written.Fold(text)), "-", "")
	if written.WithoutOil(t) {
		return log.Dry, true
	}
	if k, ok := kindLetters[t]; ok {
		return k, true
	}
	kind := ""
	for _, w := range strings.FieldsFunc(t, func(r rune) bool { return strings.ContainsRune(" ,.()/%'", r) }) {
		if strings.Trim(w, "0123456789") == "" {
			continue // 1 tsp
		}
		k := written.Kind(w)
		if k == "" && !written.IsBeside(w) {
			return "", false
		}
		if k != "" && (kind == "" || k != log.Dry) {
			kind = k
		}
	}
	return kind, kind != ""
}

// isUnitAlone reports whether a cell is a unit, and nothing else.
func isUnitAlone(text string) bool {
	u, left := written.UnitIn(written.Fold(text))
	return u != "" && strings.Trim(left, trimmed) == ""
}

func isTemp(text string) bool { return written.Temp(written.Fold(text)) != "" }

func isReadingText(text string) bool {
	t := written.Fold(text)
	return isFormula(text) || (t != "" && strings.ContainsAny(t, "0123456789") && len(t) < 30 && !written.IsDay(t))
}

// isTotal reports whether a line sums up others: it says so, or it is formulas alone.
func isTotal(l line, columns []Column) bool {
	_, first := l.filled()
	if first < 0 {
		return false
	}
	for i := range l.cells {
		c := Means("")
		if i < len(columns) {
			c = columns[i].Means
		}
		if text := l.at(i); (i == first || c == Date || c == Cylinder) && text != "" && (text[0] < '0' || text[0] > '9') {
			words := strings.Fields(written.Fold(text))
			if len(words) > 0 && len(words) < 4 && written.IsTotal(strings.Trim(words[0], trimmed+"()")) {
				return true
			}
		}
	}
	formulas, figures, dated := 0, 0, false
	for i, c := range columns {
		text := l.at(i)
		switch {
		case text == "":
		case c.Means == Date || c.Means == Cylinder:
			dated = true
		case isFormula(text):
			formulas++
		case c.Means == Reading:
			figures++
		}
	}
	return formulas > 0 && figures == 0 && !dated
}

// letterOf is what a spreadsheet calls a column.
func letterOf(i int) string {
	name := ""
	for i++; i > 0; i = (i - 1) / 26 {
		name = string(rune('A'+(i-1)%26)) + name
	}
	return name
}

// called returns what a column is called in what is told of it.
func (c Column) called() string {
	if c.Header != "" {
		return c.Header
	}
	return say.Text("table.column", "letterOf", letterOf(c.Index))
}
