package table

import (
	"regexp"
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
)

// says are what stands over the whole sheet, or over a part of it.
type says struct {
	engine, date, temp, gauge, operator, note, meter, stage string
	kinds                                                   []string // dry, wet and leak, as titles name them
	second                                                  string   // the kind of a second figure: dry (wet)
	unit                                                    units.Unit
	foreign                                                 bool // a unit that no gauge here has
	celsius                                                 *float64
	percent, held                                           bool
	supplies                                                []units.Reading
	more                                                    []string // what else its titles say
}

// kind is what titles say of all figures: nothing where they name compression and leaks both.
func (s *says) kind() string {
	if len(s.kinds) == 1 {
		return s.kinds[0]
	}
	return ""
}

// supply is what was supplied by the titles: nothing where they name two.
func (s *says) supply() (units.Reading, bool) {
	if len(s.supplies) == 1 {
		return s.supplies[0], true
	}
	return units.Reading{}, false
}

func (s *says) supplied(r units.Reading) {
	same := func(o units.Reading) bool { return o.Value == r.Value && o.Unit == r.Unit }
	if r.Value > 0 && !slices.ContainsFunc(s.supplies, same) {
		s.supplies = append(s.supplies, r)
	}
}

var (
	segments = regexp.MustCompile(`\s*[;|\t]\s*|,\s+|\s+[-–—]+\s+|\s{2,}|\n`)
	keyed    = regexp.MustCompile(`^([^:=]{2,24})\s*[:=]\s*(.+)$`)
	wholly   = regexp.MustCompile(`^(\d{1,4}(?:[.,]\d)?) ?(psig?|bars?|kpa|kg/cm2)$`)
	metered  = regexp.MustCompile(`^(\d[\d.,' ]*) ?([a-z]+)$`)
	twoKinds = regexp.MustCompile(`([a-z]+)\s*[(/\[]\s*([a-z]+(?: [a-z]+)?)`)
	// quantity is a figure with its unit: no part of a name.
	quantity = regexp.MustCompile(`(?i)(?:@\s*)?[~≈]?\b\d+(?:[.,]\d+)?\s*(?:psig?|bars?|kpa|kgf?/cm[2²]|%|°\s*[cf]?)(?:[^a-z]|$)|@\s*\d+`)
)

// read takes in a title's line: a name, the day, units, how it was tested. Below the readings, only what is keyed names an engine.
func (s *says) read(l line, below bool) {
	for i := range l.cells {
		text := l.at(i)
		if text == "" {
			continue
		}
		if m := keyed.FindStringSubmatch(text); m != nil && s.key(m[1], m[2]) {
			continue
		}
		if next := l.at(i + 1); next != "" && s.key(text, next) {
			l.cells = slices.Clone(l.cells)
			l.cells[i+1] = ""
			continue
		}
		if day := dateIn(text); day != "" { // before commas part it
			s.date = day
			text = strings.Replace(text, day, " ", 1)
		}
		s.kindsIn(text)
		for _, one := range segments.Split(text, -1) {
			if m := keyed.FindStringSubmatch(one); m == nil || !s.key(m[1], m[2]) {
				s.segment(one, below)
			}
		}
	}
}

// kindsIn notes which kinds of readings a title names.
func (s *says) kindsIn(text string) {
	t := leakDown.Replace(written.Fold(text))
	for _, m := range twoKinds.FindAllStringSubmatch(t, -1) {
		if first, _ := kindOf(m[1]); first == log.Dry {
			if k, ok := kindOf(m[2]); ok && k == log.Wet {
				s.second = log.Wet
				s.kinds = []string{log.Dry}
				return
			}
		}
	}
	if written.WithoutOil(t) {
		s.named(log.Dry)
		return
	}
	for _, w := range written.Word.FindAllString(t, -1) {
		if k := written.Kind(w); k != "" && len(w) > 2 && !(k == log.Wet && isPlace(w)) {
			s.named(k)
		}
	}
}

func (s *says) named(kind string) {
	if !slices.Contains(s.kinds, kind) {
		s.kinds = append(s.kinds, kind)
	}
}

// isPlace reports whether a word may say where air was heard, or what was changed, as well as a wet test: oil.
func isPlace(w string) bool { return len(written.PlacesIn(w)) > 0 }

var leakDown = strings.NewReplacer("leak-down", "leakdown", "leak down", "leakdown")

// key takes in "Gauge: long hose"; it reports whether the key is one.
func (s *says) key(key, value string) bool {
	h := headingOf(key)
	value = strings.TrimSpace(value)
	if h.means == "" || len(h.strange) > 0 || h.cylinder != "" {
		return false
	}
	set := func(to *string) bool {
		if *to == "" {
			*to = value
		}
		return true
	}
	switch h.means {
	case Engine:
		return set(&s.engine)
	case Date:
		return written.IsDay(written.Fold(value)) && set(&s.date)
	case Gauge:
		return set(&s.gauge)
	case Operator:
		return set(&s.operator)
	case Note:
		return set(&s.note)
	case Meter:
		return set(&s.meter)
	case Stage:
		return set(&s.stage)
	case Supply:
		t := written.Fold(value)
		m := written.Piece.FindStringSubmatch(t)
		if m == nil {
			return false
		}
		if h.unit != "" {
			m[3] += " " + string(h.unit)
		}
		s.supplied(supplyOf(m[2], m[3]))
		return true
	case Unit, Temp, Kind, Reading:
		s.kindsIn(value)
		s.segment(value, true)
		return true
	}
	return false
}

// segment takes in a part of a title.
func (s *says) segment(text string, below bool) {
	t := written.Fold(text)
	if m := wholly.FindStringSubmatch(t); m != nil { // 80 psi, and nothing else
		s.supplied(supplyOf(m[1], m[2]))
		return
	}
	if m := metered.FindStringSubmatch(t); m != nil && written.Meter(m[2]) != "" {
		s.meter = firstOf(s.meter, t)
		return
	}
	h := headingOf(text)
	if h.date != "" {
		s.date = h.date
		return
	}
	s.supplied(h.supply)
	if h.unit != "" {
		s.unit = h.unit
	}
	s.foreign = s.foreign || h.foreign
	if h.celsius != nil {
		s.celsius = h.celsius
	}
	if h.temp != "" {
		s.temp = h.temp
	}
	s.percent = s.percent || h.percent
	for _, w := range written.Word.FindAllString(t, -1) {
		s.held = s.held || len(w) > 3 && w != "rest" && written.Means(w) == string(Held)
	}
	name := nameIn(text)
	switch {
	case name == "" || h.celsius != nil && len(strings.Fields(name)) < 3:
	case s.engine == "" && !below && isName(name):
		s.engine = name
	default:
		s.more = append(s.more, strings.TrimSpace(text))
	}
}

// isName reports whether a text may be what an engine is called: no sentence.
func isName(text string) bool {
	const mostWords, mostLetters = 7, 60
	return len(strings.Fields(text)) <= mostWords && len(text) <= mostLetters && !strings.HasSuffix(text, ".") && !strings.HasPrefix(text, "#")
}

// dateIn finds a day among the words of a text.
func dateIn(text string) string {
	const longest = 160
	if len(text) > longest || !strings.ContainsAny(text, "0123456789") {
		return ""
	}
	words := strings.Fields(text)
	for n := min(4, len(words)); n > 0; n-- {
		for i := 0; i+n <= len(words); i++ {
			part := strings.Trim(strings.Join(words[i:i+n], " "), ",;()")
			if written.IsDay(written.Fold(part)) && strings.Contains(text, part) {
				return part
			}
		}
	}
	return ""
}

// nameIn returns what of a title is no usual word: the engine's name.
func nameIn(text string) string {
	words := strings.Fields(strings.Trim(quantity.ReplaceAllString(text, " "), trimmed))
	usual := func(w string) bool {
		bare := strings.Trim(written.Fold(w), trimmed)
		unit, left := written.UnitIn(bare)
		isUnit := unit != "" && strings.TrimSpace(left) == ""
		return !strings.ContainsFunc(bare, isSaying) || written.IsFiller(bare) || written.Kind(bare) != "" || written.Temp(bare) != "" || isUnit
	}
	for len(words) > 0 && usual(words[0]) {
		words = words[1:]
	}
	for n := len(words); n > 0 && usual(words[n-1]) && written.Fold(words[n-1]) != "engine"; n-- {
		words = words[:n-1]
	}
	name := strings.Trim(strings.Join(words, " "), " ,;:-–—")
	if !strings.ContainsFunc(written.Fold(name), func(r rune) bool { return r >= 'a' && r <= 'z' }) {
		return ""
	}
	return name
}

func isSaying(r rune) bool { return r >= 'a' && r <= 'z' || r >= '0' && r <= '9' || r > 127 }

// cylindersNamed returns how many cylinders an engine's name says that it has, 0 where it says nothing.
func cylindersNamed(name string) int {
	t := written.Fold(name)
	for _, form := range cylinderCounts {
		if m := form.FindStringSubmatch(t); m != nil {
			n, _ := strconv.Atoi(m[1])
			if n >= 1 && n <= 16 {
				return n
			}
		}
	}
	for _, w := range written.Word.FindAllString(t, -1) {
		if n := written.Count(w); n != "" {
			v, _ := strconv.Atoi(n)
			return v
		}
	}
	return 0
}

var cylinderCounts = []*regexp.Regexp{
	regexp.MustCompile(`\b[viw]-?(\d{1,2})\b`), regexp.MustCompile(`\b(\d{1,2})[ -]?(?:cyl|zyl|cil|pot)`),
	regexp.MustCompile(`\b(?:flat|inline|straight|boxer)[ -](\d{1,2})\b`),
}

// veeForm finds names of engines whose cylinders stand in more than one row.
var veeForm = regexp.MustCompile(`\b(?:v|w|h|flat[ -]?|boxer[ -]?)\d{1,2}\b|\bv-?twin\b`)
