package table

import (
	"regexp"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
)

var (
	blanks    = wordsOf("- -- --- n/a na x ? . / nil none n.a. #n/a nt n/t untested #div/0! #ref! #value! #name? #null! #num!")
	struckOut = regexp.MustCompile(`~~([^~]+)~~|<s>(.+?)</s>|-\[([^\]]+)\]-`)
	about     = regexp.MustCompile(`~|≈|\bca\.?|\babout\b|\bapprox\.?|\bcirca\b|\betwa\b|\benv\.?|` +
		`\bsay\b|\bnoin\b|\bok\.|\bung\.?|\?|^[<>≤≥]|\+$`)
	badWord = regexp.MustCompile(`\b(?:struck|crossed out|void|discard(?:ed)?|ignored?|` +
		`gestrichen|ungueltig|raye|barre|annule|annullato|anulado|skreslone)\b`)
	ofWord    = regexp.MustCompile(`^(.+?)(?: of | out of | von | sur | at | su | de | van | av | z )(.+)$`)
	heldOf    = regexp.MustCompile(`^\d[\d.,]*(?: ?[a-z]+)? (?:of|out of|von|sur|su|de|van|av|z) \d`)
	letterFor = regexp.MustCompile(`\d[a-z]+\d|^[lo]\d+|\d[lo]$|[.,][a-z]`)
	brackets  = strings.NewReplacer("(", "/(", "[", "/[")
)

func wordsOf(text string) map[string]bool {
	all := map[string]bool{}
	for _, w := range strings.Fields(text) {
		all[w] = true
	}
	return all
}

func isBlank(text string) bool {
	if len(text) > len("not tested") || text != "" && text[0] >= '0' && text[0] <= '9' {
		return false
	}
	t := written.Fold(text)
	return t == "" || blanks[t] || t == "not tested"
}

// isFormula reports whether a spreadsheet would work a cell out: it is text here.
func isFormula(text string) bool { return strings.HasPrefix(strings.TrimSpace(text), "=") }

// pulled is one pull of a cell.
type pulled struct {
	value  float64
	unit   units.Unit // where the cell says
	kind   string     // where the cell says
	struck string
	note   string
	second bool // stands in brackets, or behind another
}

// leaked is one leak of a cell: a figure as it stands, or supply and held.
type leaked struct {
	figure       float64
	signed       bool // it has a sign of percent
	both         bool // supply and held stand in the cell
	unsure       bool // or two leaks do
	own          bool // the cell or its heading name a unit of pressure
	known        bool // what it was supplied with is said
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
	from  string // a range, as it stands
	words string // what was said beside the figures
}

var (
	parts = regexp.MustCompile(`\s*(?:/|;|\+|\||&|\n|→|->|>|,\s|\bthen\b|\bpuis\b|\bdann\b|\band\b|\bund\b|\bet\b)\s*`)
	dash  = regexp.MustCompile(`^(\d+(?:[.,]\d+)?)\s*(?:-|\.\.+|\bto\b|\bbis\b)\s*(\d+(?:[.,]\d+)?)`)

	manyCommas = regexp.MustCompile(`^\d{2,4}(?:,\d{2,4})+$`)
	groups     = regexp.MustCompile(`^\d \d{3}(?:\D.*)?$`) // kPa in thousands
	eachFigure = regexp.MustCompile(`\s+(~?\d)`)
)

// As much as anybody writes into one cell.
const longestCell, mostInCell = 200, 12

// readCell reads the cell of a reading: pulls, or leaks where the column, the row or the cell say so.
func readCell(f written.Figures, text, kind string) (cellRead, error) {
	var c cellRead
	if isFormula(text) {
		return c, say.Error("table.formula-not-reading-save-sheet")
	}
	if len(text) > longestCell {
		return c, say.Error("table.too-long-for-one-cell", "text", text)
	}
	if strings.Trim(text, "0123456789") == "" && text != "" { // as nearly all are
		v, err := f.Value(text)
		if kind == Leak {
			c.leaks = []leaked{{figure: v}}
		} else {
			c.pulls = []pulled{{value: v}}
		}
		return c, err
	}
	t := written.PlainUnits(written.Fold(text))
	for n := 0; struckOut.MatchString(t) && n < 20; n++ {
		m := struckOut.FindStringSubmatch(t)
		t = strings.Replace(t, m[0], " "+m[1]+m[2]+m[3]+" struck / ", 1)
	}
	t = strings.Trim(t, "/ ")
	if about.MatchString(t) {
		c.about = true
		t = strings.TrimSpace(about.ReplaceAllString(t, " "))
	}
	if strings.HasPrefix(t, "-") && len(t) > 1 && t[1] >= '0' && t[1] <= '9' {
		return c, say.Error("table.below-zero", "text", text)
	}
	if written.OtherUnit(t) && kind != Leak {
		return c, say.Error("table.has-unit-not-known-here", "text", text, "listed", units.Listed())
	}
	if kind == Leak || strings.Contains(t, "%") || heldOf.MatchString(t) {
		err := c.readLeaks(f, t, text)
		return c, err
	}
	return c, c.readPulls(f, t, text)
}

// readPulls reads pressures.
func (c *cellRead) readPulls(f written.Figures, t, text string) error {
	if m := dash.FindStringSubmatch(t); m != nil {
		c.from = m[0]
		t = strings.Replace(t, m[0], m[1]+"/"+m[2], 1)
	}
	t = brackets.Replace(t)
	pieces := parts.Split(t, -1)
	if len(pieces) == 1 && !f.Comma && manyCommas.MatchString(t) {
		pieces = strings.Split(t, ",")
	}
	if len(pieces) == 1 && !groups.MatchString(t) { // 149d 158w
		pieces = strings.Split(eachFigure.ReplaceAllString(t, "\n$1"), "\n")
	}
	for _, piece := range pieces {
		inBrackets := strings.HasPrefix(piece, "(") || strings.HasPrefix(piece, "[")
		piece = strings.Trim(piece, " ()[]")
		if piece == "" {
			continue
		}
		p, words, err := readPull(f, piece)
		if err != nil {
			return err
		}
		if p == nil {
			c.words = strings.TrimSpace(c.words + " " + words)
			continue
		}
		p.second = inBrackets && len(c.pulls) > 0
		c.pulls = append(c.pulls, *p)
	}
	if len(c.pulls) == 0 {
		return say.Error("written.not-number", "text", text)
	}
	if len(c.pulls) > mostInCell {
		return say.Error("table.too-long-for-one-cell-2", "text", text)
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
	return nil
}

// readPull reads one figure with what stands before and behind it; words alone are none.
func readPull(f written.Figures, piece string) (*pulled, string, error) {
	unit, t := written.UnitIn(piece)
	m := written.Piece.FindStringSubmatch(t)
	if m == nil {
		return nil, piece, nil
	}
	if letterFor.MatchString(t) || written.Number.MatchString(m[3]) {
		return nil, "", say.Error("table.not-number-3", "piece", piece)
	}
	v, err := f.Value(m[2])
	if err != nil {
		return nil, "", err
	}
	p := &pulled{value: v, unit: unit}
	words := strings.TrimSpace(m[1] + " " + m[3])
	if badWord.MatchString(words) {
		p.struck = say.Text("table.crossed-out")
		words = badWord.ReplaceAllString(words, " ")
	}
	var said []string
	for _, w := range strings.FieldsFunc(words, func(r rune) bool { return strings.ContainsRune(" :=.,()[]", r) }) {
		if k := written.Kind(w); k == log.Dry || k == log.Wet {
			p.kind = k
			continue
		}
		said = append(said, w)
	}
	p.note = strings.Join(said, " ")
	return p, "", nil
}

// readLeaks reads a leak's cell: figures, or held of supply.
func (c *cellRead) readLeaks(f written.Figures, t, text string) error {
	unit, t := written.UnitIn(t)
	signed := strings.Contains(t, "%")
	of := false
	if m := ofWord.FindStringSubmatch(t); m != nil {
		t, of = m[1]+"/"+m[2], true
	}
	if m := dash.FindStringSubmatch(t); m != nil {
		c.from = m[0]
		t = strings.Replace(t, m[0], m[1]+"/"+m[2], 1)
	}
	var values []float64
	var words []string
	for _, piece := range parts.Split(strings.ReplaceAll(t, "%", " "), -1) {
		m := written.Piece.FindStringSubmatch(piece)
		if m == nil {
			words = append(words, piece)
			continue
		}
		if letterFor.MatchString(strings.TrimSpace(piece)) && len(written.PlacesIn(m[3])) == 0 {
			return say.Error("written.not-number", "text", text)
		}
		if written.Number.MatchString(m[3]) {
			return say.Error("table.not-number-3", "piece", piece)
		}
		v, err := f.Value(m[2])
		if err != nil {
			return err
		}
		values = append(values, v)
		words = append(words, m[1], m[3])
	}
	c.words = strings.Trim(strings.TrimSpace(strings.Join(words, " ")), " ()")
	paths, heard := written.PathsIn(c.words)
	if len(values) == 0 {
		return say.Error("written.not-number", "text", text)
	}
	// 92 of 100: what was held and what was supplied. Two percents of one cylinder are rarely that large.
	two := len(values) == 2 && !signed && c.from == ""
	if two {
		c.leaks = []leaked{{
			unsure: !of && unit == "" && max(values[0], values[1]) < leastSupply,
			both:   true, supply: max(values[0], values[1]), held: min(values[0], values[1]), unit: unit, paths: paths, heard: heard,
		}}
		return nil
	}
	for _, v := range values {
		if signed && v > 100 {
			return say.Error("table.leak-must-between-0-100", "v", v)
		}
		c.leaks = append(c.leaks, leaked{figure: v, signed: signed, unit: unit, paths: paths, heard: heard})
	}
	return nil
}

// leastSupply is the least figure, of two in the cell of a leak, that is a supply: half of the usual hundred, and less a tenth.
const leastSupply = 40
