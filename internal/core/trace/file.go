package trace

import (
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/say"
)

// Refused says why a file is no recording that can be read, and at which of its lines, where it is one.
type Refused struct {
	Line  int // from 1; 0 for the file as a whole
	Words string
}

func (r *Refused) Error() string {
	if r.Line == 0 {
		return r.Words
	}
	return say.Text("trace.line", "line", r.Line, "words", r.Words)
}

// Limits of a file: an hour at a thousand samples a second.
const (
	mostLines   = 4_000_000
	mostHead    = 200
	leastRows   = 20
	mostColumns = 64
)

// lines goes through a text line by line, numbered from 1, until visit returns false.
func lines(text string, visit func(n int, line string) bool) {
	for n := 1; text != ""; n++ {
		line, rest, _ := strings.Cut(text, "\n")
		if !visit(n, strings.TrimRight(line, "\r")) {
			return
		}
		text = rest
	}
}

// cut splits a line by its delimiter; a delimiter within quotes does not count. A space stands for any run of them, 0 for
// lines of one cell.
func cut(line string, by byte, into []string) []string {
	into = into[:0]
	switch {
	case by == 0:
		return append(into, strings.Trim(strings.TrimSpace(line), `"`))
	case by == ' ':
		return append(into, strings.Fields(line)...)
	}
	from, quoted := 0, false
	for i := 0; i <= len(line); i++ {
		if i < len(line) && line[i] == '"' {
			quoted = !quoted
		}
		if i == len(line) || line[i] == by && !quoted {
			into = append(into, strings.Trim(strings.TrimSpace(line[from:i]), `"`))
			from = i + 1
		}
	}
	return into
}

// missing reports whether a cell says that there is no figure.
func missing(cell string) bool {
	switch strings.ToLower(strings.TrimSpace(cell)) {
	case "", "nan", "-", "--", "---", "n/a", "na", "null", "none", "?", "#n/a", "lost", "inf", "-inf", "+inf", "nil":
		return true
	}
	return false
}

// beyond is more than any clock or gauge says, in whatever unit.
const beyond = 1e12

var clock = regexp.MustCompile(`^(?:(\d+):)?(\d{1,2}):(\d{1,2}(?:[.,]\d+)?)$`)

// parse reads a cell's number: with a point or a comma, of a clock the seconds since midnight.
func parse(cell string) (float64, bool) {
	cell = strings.TrimSpace(cell)
	if strings.IndexByte(cell, ',') >= 0 {
		if strings.IndexByte(cell, '.') >= 0 { // 1.234,5 or 1,234.5: the last is the decimal one
			if strings.LastIndexByte(cell, ',') > strings.LastIndexByte(cell, '.') {
				cell = strings.ReplaceAll(cell, ".", "")
			} else {
				cell = strings.ReplaceAll(cell, ",", "")
			}
		}
		cell = strings.Replace(cell, ",", ".", 1)
	}
	if v, err := strconv.ParseFloat(cell, 64); err == nil && math.Abs(v) < beyond { // of NaN this is false
		return v, true
	}
	if m := clock.FindStringSubmatch(cell); m != nil {
		return 3600*figure("0"+m[1]) + 60*figure(m[2]) + figure(m[3]), true
	}
	return 0, false
}

// shape is how the lines of a file are cut.
type shape struct {
	by      byte
	columns int
	body    int // the line that the figures begin on, from 1
}

// figures reports whether a line holds figures in so many columns: each a number or a mark for none, one at least a number.
func (s shape) figures(cells []string) bool {
	numbers := 0
	for _, c := range cells {
		if _, ok := parse(c); ok {
			numbers++
		} else if !missing(c) {
			return false
		}
	}
	return len(cells) == s.columns && numbers > 0
}

// findShape finds what cuts the lines: of what makes most of the lines figures, in as many columns as the line above them
// has headings, that with the most columns.
func findShape(text string) (shape, error) {
	count := strings.Count(text, "\n") + 1
	if count > mostLines {
		return shape{}, &Refused{mostLines, say.Text("trace.file-goes-after-line-cut")}
	}
	best, bestScore := shape{}, 0.0
	var cells []string
	for _, by := range []byte{'\t', ';', ',', '|', ' ', 0} {
		widths, looked := map[int]int{}, 0
		lines(text, func(n int, line string) bool {
			if n < count/3 || strings.TrimSpace(line) == "" {
				return true
			}
			looked++
			if cells = cut(line, by, cells); (shape{columns: len(cells)}).figures(cells) {
				widths[len(cells)]++
			}
			return looked < 300
		})
		s := shape{by: by}
		for w, n := range widths {
			if n > widths[s.columns] {
				s.columns = w
			}
		}
		if s.columns == 0 || s.columns > mostColumns {
			continue
		}
		if s.columns == 1 && by != 0 {
			continue
		}
		var headed float64
		headed, s.body = s.begin(text)
		score := float64(widths[s.columns])/float64(looked) + headed + 0.001*float64(s.columns)
		if score > bestScore {
			best, bestScore = s, score
		}
	}
	if best.body == 0 {
		return best, &Refused{0, say.Text("trace.there-no-rows-numbers-file")}
	}
	return best, nil
}

// begin returns the line of the first figures, and how surely a line above it heads them: 1 where the last that holds anything has as
// many cells, 0.5 where an earlier one does.
func (s shape) begin(text string) (headed float64, body int) {
	var cells []string
	lines(text, func(n int, line string) bool {
		cells = cut(line, s.by, cells)
		if s.figures(cells) && (n > 1 || s.columns > 1) {
			body = n
			return false
		}
		switch {
		case strings.TrimSpace(line) == "":
		case len(cells) == s.columns:
			headed = 1
		default:
			headed = min(headed, 0.5)
		}
		return n < mostHead
	})
	return headed, body
}

// head is what the lines above the figures say.
type head struct {
	step     float64 // s between rows, where there is no column of times
	scale    scale
	absolute bool
	needle   bool
	top      float64
	topUnit  unit
	hasTop   bool
	marked   int
	columns  []column
}

// column is one column of the figures.
type column struct {
	name   string
	role   role
	unit   unit
	scale  scale
	text   string // the unit as it stands there
	marked int
}

var (
	perSecond = regexp.MustCompile(`(?i)(?:frames?|samples?|bilder|images)\s*(?:per|/|pro|par)\s*(?:second|sekunde|seconde|sec|s)\b\D*?` + number)
	fps       = regexp.MustCompile(`(?i)` + number + `\s*(?:fps|frames?/s|frames? per s|samples?/s|samples per s|S/s|Sa/s)`)
	fpsAfter  = regexp.MustCompile(`(?i)\bfps\b\D{0,4}` + number)
	hertz     = regexp.MustCompile(`(?i)(?:rate|frequency|frequenz|abtast\w*|sampl\w*|fréquence|hz)\D*?` + number + `\s*(k?)Hz`)
	hertzHead = regexp.MustCompile(`(?i)(?:rate|frequency)[^\d]*\(?(k?)Hz\)?\D*?` + number)
	every     = regexp.MustCompile(`(?i)(?:interval|step|schritt|period|increment|\bdt\b|Δt|intervall|spacing|every|pas)\b\D*?` + number + `\s*(ms|us|µs|μs|s)\b`)
	reaches   = regexp.MustCompile(`(?i)range\D*?` + number + `\s*(?:to|\.\.+|…|–|-|bis)\s*` + number + `\s*([\pL/²\d]+)`)
	absAbout  = regexp.MustCompile(`(?i)ref|press|abs`)
	dial      = regexp.MustCompile(`(?i)\b(needle|dial|zeiger|nadel|aiguille|naald|slow motion)\b`)
	cylinder  = regexp.MustCompile(`(?i)(?:cyl(?:inder)?|zyl(?:inder)?|#)\.?\s*(\d+)`)
)

// readHead reads the lines above the figures.
func readHead(text string, s shape) head {
	var h head
	var above [][]string
	lines(text, func(n int, line string) bool {
		if n >= s.body {
			return false
		}
		if strings.TrimSpace(line) == "" {
			return true
		}
		above = append(above, cut(line, s.by, nil))
		h.say(strings.TrimLeft(strings.ReplaceAll(line, `"`, ""), "#/%; \t"))
		return true
	})
	h.name(above, s.columns)
	return h
}

// say takes what one line of the head says.
func (h *head) say(line string) {
	positive := func(v float64) {
		if v > 0 && !math.IsInf(v, 0) && h.step == 0 {
			h.step = 1 / v
		}
	}
	switch {
	case perSecond.MatchString(line):
		positive(figure(perSecond.FindStringSubmatch(line)[1]))
	case fps.MatchString(line):
		positive(figure(fps.FindStringSubmatch(line)[1]))
	case fpsAfter.MatchString(line):
		positive(figure(fpsAfter.FindStringSubmatch(line)[1]))
	case hertz.MatchString(line):
		m := hertz.FindStringSubmatch(line)
		positive(figure(m[1]) * kilo(m[2]))
	case hertzHead.MatchString(line):
		m := hertzHead.FindStringSubmatch(line)
		positive(figure(m[2]) * kilo(m[1]))
	case every.MatchString(line):
		m := every.FindStringSubmatch(line)
		positive(1 / (figure(m[1]) * sized(m[2])))
	}
	h.needle = h.needle || dial.MatchString(line)
	if found := readScale(line); found.known && !h.scale.known {
		h.scale = found
	}
	if m := reaches.FindStringSubmatch(line); m != nil {
		if u, ok := readUnit(m[3]); ok {
			h.top, h.topUnit, h.hasTop = figure(m[2]), u, true
		}
	}
	if absWords.MatchString(line) && absAbout.MatchString(line) {
		h.absolute = true
	}
	if m := cylinder.FindStringSubmatch(line); m != nil && h.marked == 0 && strings.Contains(strings.ToLower(line), "mark") {
		h.marked, _ = strconv.Atoi(m[1])
	}
}

func kilo(k string) float64 {
	if k != "" {
		return 1000
	}
	return 1
}

// name gives the columns their names and units, from the last line above the figures, or the last two where the lower one
// holds nothing but units.
func (h *head) name(above [][]string, columns int) {
	h.columns = make([]column, columns)
	for len(above) > 0 && len(above[len(above)-1]) != columns { // a remark between
		above = above[:len(above)-1]
	}
	if len(above) == 0 {
		return
	}
	names, units := above[len(above)-1], []string(nil)
	if len(above) > 1 && len(above[len(above)-2]) == columns && onlyUnits(names) {
		names, units = above[len(above)-2], names
	}
	for i, text := range names {
		c := &h.columns[i]
		c.name, c.text = heading(strings.TrimLeft(text, "# "))
		if units != nil && strings.Trim(units[i], "[]() ") != "" {
			c.text = strings.Trim(units[i], "[]() ")
		}
		c.role = roleOf(c.name)
		first, _, _ := strings.Cut(c.text, ",")
		if u, ok := readUnit(first); ok {
			c.unit = u
		} else if u, ok := readUnit(strings.Fields(c.text + " ?")[0]); ok {
			c.unit = u
		}
		c.scale = readScale(c.text)
		switch {
		case c.unit.role == isTime && c.role != isMark:
			c.role = isTime
		case c.unit.role == isPressure, c.unit.role == isCurrent:
			c.role = c.unit.role
		}
		if m := cylinder.FindStringSubmatch(text); m != nil && c.role == isMark {
			c.marked, _ = strconv.Atoi(m[1])
		}
	}
}

func onlyUnits(cells []string) bool {
	some := false
	for _, c := range cells {
		c = strings.Trim(c, "[]() ")
		if _, ok := readUnit(c); ok {
			some = true
		} else if c != "" && !strings.HasPrefix(c, "V,") {
			return false
		}
	}
	return some
}

// Parse reads the text of a recording. It is refused, with the line, where its head does not say what the figures are, where its
// clock runs back, or where there is hardly a row.
func Parse(text string, k Known) (Recording, error) {
	r := Recording{Measured: k.Measured}
	s, err := findShape(text)
	if err != nil {
		return r, err
	}
	h := readHead(text, s)
	if s.body == 1 || strings.Join(names(h.columns), "") == "" {
		return r, &Refused{s.body, say.Text("trace.no-heading-says-what-columns")}
	}
	time, mark, value := h.pick(&r)
	if value < 0 {
		return r, &Refused{
			s.body - 1,
			say.Text("trace.none-columns-pressure-or-current", "names", strings.Join(names(h.columns), ", ")),
		}
	}
	c := h.columns[value]
	if time < 0 && h.step == 0 {
		return r, &Refused{s.body - 1, say.Text("trace.there-no-time-column-head")}
	}
	sc, err := h.scaleOf(c, r.Measured, s.body-1)
	if err != nil {
		return r, err
	}
	r.Unit, r.Absolute, r.Needle = c.text, sc.absolute, h.needle
	if h.hasTop {
		top := scale{per: h.topUnit.size, known: true}
		if h.topUnit.volts {
			top = sc
		}
		r.Top, r.HasTop = (h.top-top.zero)*top.per, true
	}
	r.Marked = h.marked
	timeSize := 1.0
	if time >= 0 && h.columns[time].unit.role == isTime {
		timeSize = h.columns[time].unit.size
	}
	if mark >= 0 && h.columns[mark].marked > 0 {
		r.Marked = h.columns[mark].marked
	}
	var at []int // lines
	var marks []float64
	var cells []string
	row := 0
	lines(text, func(n int, line string) bool {
		r.Lines = n
		if n < s.body || (strings.TrimSpace(line) == "" && s.columns > 1) {
			return true
		}
		cells = cut(line, s.by, cells)
		if len(cells) != s.columns {
			r.Lost++
			return true
		}
		seconds, okT := float64(row)*h.step, true
		if time >= 0 {
			seconds, okT = parse(cells[time])
			seconds *= timeSize
		}
		row++
		v, ok := parse(cells[value])
		if !ok || !okT {
			r.Lost++
			return true
		}
		r.Seconds, r.Values, at = append(r.Seconds, seconds), append(r.Values, (v-sc.zero)*sc.per), append(at, n)
		if mark >= 0 {
			m, _ := parse(cells[mark])
			marks = append(marks, m)
		}
		return true
	})
	if len(r.Values) < leastRows {
		return r, &Refused{s.body, say.Text("trace.only-rows-have-numbers-too", "n", len(r.Values))}
	}
	r.Marks = edges(r.Seconds, marks)
	if err := r.sort(at); err != nil {
		return r, err
	}
	return r, nil
}

func names(columns []column) []string {
	var all []string
	for _, c := range columns {
		all = append(all, c.name+c.text)
	}
	return all
}

// pick chooses the columns, -1 for none: the first that is a time, the first mark, and of what is left what was measured.
func (h head) pick(r *Recording) (time, mark, value int) {
	time, mark, value = -1, -1, -1
	want := isPressure
	if r.Measured == Current {
		want = isCurrent
	}
	rest := -1
	for i, c := range h.columns {
		switch {
		case c.role == isTime && time < 0:
			time = i
		case c.role == isMark && mark < 0:
			mark = i
		case c.role == want && value < 0:
			value = i
		case r.Measured == "" && c.role == isCurrent && value < 0:
			value, r.Measured = i, Current
		case (c.role == unknown || c.unit.volts && c.scale.known) && rest < 0:
			rest = i
		}
	}
	if r.Measured == "" {
		r.Measured = Pressure
	}
	if value < 0 {
		value = rest
	}
	return time, mark, value
}

// scaleOf says how the figures of a column become kPa or A.
func (h head) scaleOf(c column, measured Measured, line int) (scale, error) {
	want := isPressure
	if measured == Current {
		want = isCurrent
	}
	switch {
	case c.scale.known:
		return c.scale, nil
	case c.unit.role == want:
		return scale{per: c.unit.size, absolute: c.unit.absolute || h.absolute}, nil
	case h.scale.known && (c.unit.volts || c.text == ""):
		sc := h.scale
		if c.unit.size == 1e-3 {
			sc.zero, sc.per = sc.zero*1000, sc.per/1000
		}
		sc.absolute = sc.absolute || h.absolute
		return sc, nil
	case c.unit.volts:
		return scale{}, &Refused{line, say.Text("trace.volts-nothing-says-how-much", "name", c.name)}
	}
	return scale{}, &Refused{line, say.Text("trace.nothing-says-which-unit", "name", c.name+c.text)}
}

// edges returns the times at which a mark rises above half of its highest.
func edges(seconds, marks []float64) []float64 {
	if len(marks) == 0 {
		return nil
	}
	low, high := slices.Min(marks), slices.Max(marks)
	if high <= low {
		return nil
	}
	var all []float64
	for i := 1; i < len(marks); i++ {
		if half := (low + high) / 2; marks[i] > half && marks[i-1] <= half {
			all = append(all, seconds[i])
		}
	}
	return all
}

// sort brings the samples into the order of time. Stamps that jitter are sorted; a clock that jumps back is refused.
func (r *Recording) sort(at []int) error {
	steps := make([]float64, 0, len(r.Seconds))
	ordered := true
	for i := 1; i < len(r.Seconds); i++ {
		d := r.Seconds[i] - r.Seconds[i-1]
		ordered = ordered && d >= 0
		if d > 0 {
			steps = append(steps, d)
		}
	}
	if len(steps) < leastRows/2 {
		return &Refused{at[0], say.Text("trace.times-dont-advance")}
	}
	if ordered {
		return nil
	}
	step := median(steps)
	const jitter = 8 // steps that a stamp may stand before its neighbour
	latest := r.Seconds[0]
	for i, t := range r.Seconds {
		if t < latest-jitter*step {
			return &Refused{at[i], say.Text("trace.time-runs-backwards-from-s", "latest", latest, "t", t)}
		}
		latest = max(latest, t)
	}
	order := make([]int, len(r.Seconds))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		switch {
		case r.Seconds[a] < r.Seconds[b]:
			return -1
		case r.Seconds[a] > r.Seconds[b]:
			return 1
		}
		return 0
	})
	seconds, values := make([]float64, len(order)), make([]float64, len(order))
	for i, o := range order {
		seconds[i], values[i] = r.Seconds[o], r.Values[o]
	}
	r.Seconds, r.Values = seconds, values
	return nil
}

// median returns the middle of some values, which it leaves as they are; NaN of none.
func median(values []float64) float64 {
	if len(values) == 0 {
		return math.NaN()
	}
	s := slices.Clone(values)
	slices.Sort(s)
	if n := len(s); n%2 == 0 {
		return (s[n/2-1] + s[n/2]) / 2
	}
	return s[len(s)/2]
}
