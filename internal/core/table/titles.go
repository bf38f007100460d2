package table

import (
	"regexp"
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/units"
)

// says are what stands over the whole sheet, or over a part of it.
type says struct {
	engine, date, kind, temp, gauge, operator, note, meter, stage string
	unit                                                          units.Unit
	celsius                                                       *float64
	percent                                                       bool
	supply                                                        string
	more                                                          []string // what else its titles say
}

var (
	segments = regexp.MustCompile(`\s*[,;|\t]\s*|\s+[-–—]+\s+|\s{2,}|\n`)
	keyed    = regexp.MustCompile(`^([^:=]{2,24})\s*[:=]\s*(.+)$`)
	filler   = wordsOf(map[string]string{"x": "all in values readings test tests compression kompression log sheet record " +
		"records results of for the engine and " +
		"numbers taken figures with cylinder cylinders motor moteur at on from date dated der des de la le les du und et notes table data " +
		"throttle wide open wot plugs out baseline kompressionstest essai mesures messung pressure pressures gauge units unit " +
		"were was is are " +
		"leakdown check checks season done psi bar kpa"})
)

// read takes in a title's line: a name, the day, units, how it was tested.
func (s *says) read(l line) {
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
		for _, one := range segments.Split(text, -1) {
			if m := keyed.FindStringSubmatch(one); m == nil || !s.key(m[1], m[2]) {
				s.segment(one)
			}
		}
	}
}

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
		return isDateText(fold(value)) && set(&s.date)
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
		return set(&s.supply)
	case Unit, Temp, Kind, Reading:
		s.segment(value)
		return true
	}
	return false
}

// segment takes in a part of a title.
func (s *says) segment(text string) {
	h := headingOf(text)
	if h.date != "" {
		s.date = h.date
		return
	}
	if h.unit != "" {
		s.unit = h.unit
	}
	if h.celsius != nil {
		s.celsius = h.celsius
	}
	if h.temp != "" {
		s.temp = h.temp
	}
	if h.kind != "" {
		s.kind = h.kind
	}
	s.percent = s.percent || h.percent && h.kind == Leak
	name := nameIn(text)
	switch {
	case name == "" || h.celsius != nil && len(strings.Fields(name)) < 3:
	case s.engine == "":
		s.engine = name
	default:
		s.more = append(s.more, strings.TrimSpace(text))
	}
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
			if isDateText(fold(part)) && strings.Contains(text, part) {
				return part
			}
		}
	}
	return ""
}

// nameIn returns what of a title is no usual word: the engine's name.
func nameIn(text string) string {
	words := strings.Fields(strings.Trim(text, trimmed))
	usual := func(w string) bool {
		bare := strings.Trim(fold(w), trimmed)
		_, common := filler[bare]
		_, what := kinds[bare]
		return common || what || temps[bare] != "" || bare == ""
	}
	for len(words) > 0 && usual(words[0]) {
		words = words[1:]
	}
	for n := len(words); n > 0 && usual(words[n-1]) && fold(words[n-1]) != "engine"; n-- {
		words = words[:n-1]
	}
	name := strings.Trim(strings.Join(words, " "), " ,;:-–—")
	if !strings.ContainsFunc(fold(name), func(r rune) bool { return r >= 'a' && r <= 'z' }) {
		return ""
	}
	return name
}

// cylindersNamed returns how many cylinders an engine's name says that it has, 0 where it says nothing.
func cylindersNamed(name string) int {
	t := fold(name)
	for _, form := range cylinderCounts {
		if m := form.FindStringSubmatch(t); m != nil {
			n, _ := strconv.Atoi(m[1])
			if n >= 1 && n <= 16 {
				return n
			}
		}
	}
	for _, w := range aWord.FindAllString(t, -1) {
		if n, ok := counts[w]; ok {
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
