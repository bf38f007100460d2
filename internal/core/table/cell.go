package table

import (
	"regexp"
	"strconv"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

var (
	blanks    = wordsOf(map[string]string{"x": "- -- --- n/a na x ? . / nil none n.a. #n/a nt n/t untested"})
	struckOut = regexp.MustCompile(`~~([^~]+)~~|<s>(.+?)</s>|-\[([^\]]+)\]-`)
	about     = regexp.MustCompile(`~|≈|\bca\.?|\babout\b|\bapprox\.?|\bcirca\b|\betwa\b|\benv\.?|\bsay\b|\?`)
	aNumber   = regexp.MustCompile(`\d+(?:[ ']\d{3})*(?:[.,]\d+)*`)
	badWord   = regexp.MustCompile(`\b(?:struck|crossed out|void|discard(?:ed)?|ignored?|gestrichen|ungueltig|raye|barre|annule)\b`)
	ofWord    = regexp.MustCompile(`^(.+?)(?: of | out of | von | sur | at )(.+)$`)
	letterFor = regexp.MustCompile(`\d[a-z]+\d|^[lo]\d+|\d[lo]$`)
)

var spaces, brackets = strings.NewReplacer(" ", "", "'", ""), strings.NewReplacer("(", "/(", "[", "/[")

func isBlank(text string) bool {
	t := fold(text)
	_, blank := blanks[t]
	return t == "" || blank || t == "not tested"
}

// isFormula reports whether a spreadsheet would work a cell out: it is text here.
func isFormula(text string) bool { return strings.HasPrefix(strings.TrimSpace(text), "=") }

// figures reads numbers by the file's decimal sign.
type figures struct{ comma bool }

// value reads one number.
func (f figures) value(text string) (float64, error) {
	t := spaces.Replace(text)
	point, group := ".", ","
	if f.comma {
		point, group = ",", "."
	}
	// Of two signs in one number, the last is the decimal one; one that stands twice parts thousands.
	last, first := strings.LastIndexAny(t, ".,"), strings.IndexAny(t, ".,")
	switch {
	case last > first && t[last] != t[first]:
		point, group = t[last:last+1], t[first:first+1]
	case last > first:
		point, group = "", t[last:last+1]
	case last >= 0 && t[last:last+1] == group && !(len(t)-last == 4 && last >= 1 && last <= 3 && t[0] != '0'):
		point, group = group, "" // 9,8 in a file with points: no thousands have one figure
	}
	if group != "" {
		t = strings.ReplaceAll(t, group, "")
	}
	if point != "" {
		t = strings.Replace(t, point, ".", 1)
	}
	v, err := strconv.ParseFloat(t, 64)
	if err != nil {
		return 0, say.Error("table.not-number-2", "text", text)
	}
	return v, nil
}

// within reads the number in a text such as "12,5 h"; ok is false where there is none.
func (f figures) within(text string) (v float64, ok bool) {
	if text == "" {
		return 0, false
	}
	v, err := f.value(pieceOf.ReplaceAllString(fold(text), "$2"))
	return v, err == nil
}

// settle decides on the decimal sign: by numbers that can be read in one way alone.
func (f *figures) settle(texts []string, semicolons bool) {
	comma, point := 0, 0
	for _, text := range texts {
		if isFormula(text) || isDateText(text) {
			continue
		}
		for _, m := range aNumber.FindAllString(text, -1) {
			last := strings.LastIndexAny(m, ".,")
			if last < 0 {
				continue
			}
			twice := strings.IndexAny(m, ".,") != last
			if decimals := len(m) - last - 1; decimals == 3 && !twice && m[0] != '0' {
				continue
			}
			if twice && strings.Count(m, m[last:last+1]) > 1 {
				continue
			}
			if m[last] == ',' {
				comma++
			} else {
				point++
			}
		}
	}
	f.comma = comma > point || comma == point && semicolons
}

// pulled is one pull of a cell.
type pulled struct {
	value  float64
	unit   units.Unit // where the cell says
	kind   string     // where the cell says
	struck string
	note   string
}

// leaked is one leak of a cell: a percent, or supply and held.
type leaked struct {
	pct          *float64
	supply, held float64
	unit         units.Unit
	paths        []log.Path
	heard        bool
	note         string
}

// cellRead is what a cell says.
type cellRead struct {
	pulls []pulled
	leaks []leaked
	about bool
	words string // what was said beside the figures
}

var parts = regexp.MustCompile(`\s*(?:/|;|\+|\||&|\n|→|->|>|\bthen\b|\bpuis\b|\bdann\b)\s*`)
var rangeDash = regexp.MustCompile(`(\d)\s*-\s*(\d)`)

// readCell reads the cell of a reading: pulls, or leaks where the column, the row or the cell say so.
func (f figures) readCell(text, kind string, percent bool) (cellRead, error) {
	var c cellRead
	if isFormula(text) {
		return c, say.Error("table.formula-not-reading-save-sheet")
	}
	const longest = 200
	if len(text) > longest {
		return c, say.Error("table.too-long-for-one-cell", "text", text)
	}
	if kind != Leak && strings.Trim(text, "0123456789") == "" && text != "" {
		v, err := f.value(text) // as nearly all are
		c.pulls = []pulled{{value: v}}
		return c, err
	}
	t := fold(text)
	for n := 0; struckOut.MatchString(t) && n < 20; n++ {
		m := struckOut.FindStringSubmatch(t)
		t = strings.Replace(t, m[0], " "+m[1]+m[2]+m[3]+" struck / ", 1)
	}
	t = strings.Trim(t, "/ ")
	if about.MatchString(t) {
		c.about = true
		t = about.ReplaceAllString(t, " ")
	}
	if strings.HasPrefix(t, "-") && len(t) > 1 && t[1] >= '0' && t[1] <= '9' {
		return c, say.Error("table.below-zero", "text", text)
	}
	if otherUnit.MatchString(t) && kind != Leak {
		return c, say.Error("table.has-unit-not-known-here", "text", text, "listed", units.Listed())
	}
	leak := kind == Leak || strings.Contains(t, "%")
	if !leak {
		t = rangeDash.ReplaceAllString(t, "$1/$2")
		t = rangeDash.ReplaceAllString(t, "$1/$2")
		t = brackets.Replace(t)
	}
	t = strings.ReplaceAll(t, ", ", " / ")
	if leak {
		return f.readLeaks(c, t, text, percent)
	}
	pieces := parts.Split(t, -1)
	if len(pieces) == 1 && !f.comma && manyCommas.MatchString(t) {
		pieces = strings.Split(t, ",")
	}
	if len(pieces) == 1 && !groups.MatchString(t) { // 149d 158w
		pieces = strings.Split(eachFigure.ReplaceAllString(t, "\n$1"), "\n")
	}
	for _, piece := range pieces {
		piece = strings.Trim(piece, " ()[]")
		if piece == "" {
			continue
		}
		p, words, err := f.readPull(piece)
		if err != nil {
			return c, err
		}
		if p == nil {
			c.words = strings.TrimSpace(c.words + " " + words)
			continue
		}
		c.pulls = append(c.pulls, *p)
	}
	if len(c.pulls) == 0 {
		return c, say.Error("table.not-number-2", "text", text)
	}
	const mostInCell = 12
	if len(c.pulls) > mostInCell {
		return c, say.Error("table.too-long-for-one-cell-2", "text", text)
	}
	// What the last pull says of its kind holds for those before it, up to one that says otherwise: 150/152 dry.
	for i := len(c.pulls) - 2; i >= 0; i-- {
		if c.pulls[i].kind == "" && c.pulls[i+1].kind == log.Dry {
			c.pulls[i].kind = log.Dry
		}
		if c.pulls[i].unit == "" {
			c.pulls[i].unit = c.pulls[i+1].unit
		}
	}
	for i := 1; i < len(c.pulls); i++ {
		if c.pulls[i].kind == "" {
			c.pulls[i].kind = c.pulls[i-1].kind
		}
	}
	return c, nil
}

var (
	manyCommas = regexp.MustCompile(`^\d{2,4}(?:,\d{2,4})+$`)
	groups     = regexp.MustCompile(`^\d \d{3}(?:\D.*)?$`) // kPa in thousands
	eachFigure = regexp.MustCompile(`\s+(~?\d)`)
)

var pieceOf = regexp.MustCompile(`^(.*?)(\d+(?:[ ']\d{3})*(?:[.,]\d+)*|[.,]\d+)(.*)$`)

// readPull reads one figure with what stands before and behind it; words alone are none.
func (f figures) readPull(piece string) (*pulled, string, error) {
	unit, t := unitIn(piece)
	m := pieceOf.FindStringSubmatch(t)
	if m == nil {
		return nil, piece, nil
	}
	if letterFor.MatchString(t) || aNumber.MatchString(m[3]) {
		return nil, "", say.Error("table.not-number-3", "piece", piece)
	}
	v, err := f.value(m[2])
	if err != nil {
		return nil, "", err
	}
	p := &pulled{value: v, unit: unit}
	words := strings.TrimSpace(m[1] + " " + m[3])
	if badWord.MatchString(words) {
		p.struck = "crossed out in the sheet"
		words = badWord.ReplaceAllString(words, " ")
	}
	var said []string
	for _, w := range strings.FieldsFunc(words, func(r rune) bool { return strings.ContainsRune(" :=.,()[]", r) }) {
		if k := kinds[w]; k == log.Dry || k == log.Wet {
			p.kind = k
			continue
		}
		said = append(said, w)
	}
	p.note = strings.Join(said, " ")
	return p, "", nil
}

// readLeaks reads a leak's cell: percents, or held of supply.
func (f figures) readLeaks(c cellRead, t, text string, percent bool) (cellRead, error) {
	unit, t := unitIn(t)
	if m := ofWord.FindStringSubmatch(t); m != nil {
		t = m[1] + "/" + m[2]
	}
	percent = percent || strings.Contains(t, "%")
	pieces := parts.Split(strings.ReplaceAll(t, "%", " "), -1)
	var values []float64
	var words []string
	for _, piece := range pieces {
		m := pieceOf.FindStringSubmatch(piece)
		if m == nil {
			words = append(words, piece)
			continue
		}
		if letterFor.MatchString(strings.TrimSpace(piece)) && len(placesIn(m[3])) == 0 {
			return c, say.Error("table.not-number-2", "text", text)
		}
		v, err := f.value(m[2])
		if err != nil {
			return c, err
		}
		values = append(values, v)
		words = append(words, m[1], m[3])
	}
	c.words = strings.TrimSpace(strings.Join(words, " "))
	paths, heard := pathsIn(c.words)
	if len(values) == 0 {
		return c, say.Error("table.not-number-2", "text", text)
	}
	// 92 of 100: what was held and what was supplied. Two percents of one cylinder are rarely that large.
	const leastSupply = 40
	if len(values) == 2 && !percent && max(values[0], values[1]) >= leastSupply || len(values) == 2 && unit != "" {
		one := leaked{supply: max(values[0], values[1]), held: min(values[0], values[1]), unit: unit, paths: paths, heard: heard}
		c.leaks = []leaked{one}
		return c, nil
	}
	for _, v := range values {
		if v > 100 {
			return c, say.Error("table.leak-must-between-0-100", "v", v)
		}
		c.leaks = append(c.leaks, leaked{pct: &v, paths: paths, heard: heard})
	}
	return c, nil
}

func placesIn(words string) []string {
	var all []string
	for _, w := range aWord.FindAllString(words, -1) {
		if p, ok := places[w]; ok {
			all = append(all, p)
		}
	}
	return all
}

var nothingHeard = regexp.MustCompile(`^(?:none|nothing|silent|quiet|no air|nowhere|rien|nichts|niente|0)$`)

// pathsIn reads where air was heard; heard reports whether somebody listened.
func pathsIn(text string) (paths []log.Path, heard bool) {
	t := fold(text)
	if nothingHeard.MatchString(t) {
		return []log.Path{}, true
	}
	level := 0
	seen := map[string]bool{}
	for _, w := range aWord.FindAllString(t, -1) {
		if l, ok := levels[w]; ok {
			level, _ = strconv.Atoi(l)
		}
		where, ok := places[w]
		if !ok || seen[where] {
			continue
		}
		seen[where] = true
		paths = append(paths, log.Path{Where: where, Level: level})
		level = 0
	}
	if level > 0 && len(paths) == 1 {
		paths[0].Level = level
	}
	return paths, len(paths) > 0
}
