package table

import (
	"regexp"
	"strconv"
	"strings"
	"sync"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
)

// Means is what a column or a heading stands for.
type Means string

// What a column may stand for: the names that the tables of headings (rules.Headings) have for it.
const (
	Skip     Means = "skip"
	Date     Means = "date"
	Engine   Means = "engine"
	Cylinder Means = "cylinder"
	Kind     Means = "kind"
	Reading  Means = "reading" // of the column's cylinder, or of the row's
	Unit     Means = "unit"
	Meter    Means = "meter"
	Stage    Means = "stage"
	Note     Means = "note"
	Temp     Means = "temp"
	Gauge    Means = "gauge"
	Operator Means = "operator"
	Supply   Means = "supply"
	Held     Means = "held"
	Place    Means = "place"
	Level    Means = "level"
	Attempt  Means = "attempt"
	Bank     Means = "bank"  // in which cylinders are counted from one again
	Visit    Means = "visit" // tells tests of one day apart by a name that the sheet gives them
)

// AllMeans are the meanings in the order in which one looks for them.
var AllMeans = []Means{
	Date, Reading, Cylinder, Kind, Meter, Note, Supply, Held, Place, Level, Unit, Attempt, Engine, Bank, Visit, Stage, Temp, Gauge, Operator, Skip,
}

// Leak is the kind of a leak-down reading; a pull's are those of the log.
const Leak = "leak"

// heading is what a text says where it heads a column, or stands over a sheet.
type heading struct {
	means     Means
	cylinder  string
	cylinders []string // several in one column: L/R
	kind      string
	second    string // the kind of a second figure: dry (wet)
	unit      units.Unit
	foreign   bool // it names a unit that no gauge here has
	percent   bool
	pull      int
	meter     string
	temp      string
	celsius   *float64
	date      string
	supply    units.Reading
	skip      bool
	pressure  bool     // it says compression, or pressure
	strange   []string // words that say nothing here
}

var (
	aCylinder = regexp.MustCompile(`^(?:(?:cylinder|cylindre|zylinder|cilindro|cilinder|sylinteri|cyl|zyl|cil|syl|bore|rotor|no|nr|num|n|c|z|#)[ .:#°º-]*)+([a-z]?\d{1,2}[a-z]?)$`)
	bareName  = regexp.MustCompile(`^(?:\d{1,2}|[a-z]\d{1,2}|\d{1,2}[a-z])$`)
	aPull     = regexp.MustCompile(`\b(?:pull|try|shot|run|attempt|p|versuch|reading|tirage|messung|lectura|mesure) ?#?(\d{1,2})\b|` +
		`\b(\d{1,2})\.? (?:pull|try|shot|run|attempt|versuch|reading|tirage|essai|prova|messung|lectura|mesure)\b|\b(\d{1,2})(?:st|nd|rd|th)\b(?: (?:pull|try|shot|run))?`)
	aKindNumber = regexp.MustCompile(`^([a-z]{2,})(\d{1,2})$`)
	aCelsius    = regexp.MustCompile(`(-?\d{1,3}(?:[.,]\d+)?) ?(?:°|deg(?:rees?)?) ?([cf])?\b|(-?\d{1,3}) ?([cf])\b`)
	trimmed     = " .:,;()[]-_/#°*"
)

// headingOf reads a text as a heading. A sheet is read in many ways, so what a text says is remembered for a while.
func headingOf(text string) heading { return remembered.of(text) }

// memory remembers headings by their texts, up to some thousands.
type memory struct {
	sync.Mutex
	known map[string]heading
}

var remembered = memory{known: map[string]heading{}}

func (m *memory) of(text string) heading {
	m.Lock()
	defer m.Unlock()
	if h, ok := m.known[text]; ok {
		return h
	}
	const most = 5000
	if len(m.known) >= most {
		clear(m.known)
	}
	h := readHeading(text)
	m.known[strings.Clone(text)] = h
	return h
}

func readHeading(text string) heading {
	var h heading
	const longest = 160 // nobody heads a column with more
	if len(text) > longest {
		h.strange = []string{text}
		return h
	}
	if n := len(text); n > 0 && strings.Trim(text, "0123456789") == "" { // as most cells are
		if h.cylinder, _ = nameOf(text); n > 2 {
			h.cylinder, h.strange = "", []string{text}
			if written.IsDay(text) {
				h = heading{date: text}
			}
		}
		return h
	}
	t := written.Fold(text)
	if written.IsDay(t) {
		h.date = strings.TrimSpace(text)
		return h
	}
	if name, ok := nameOf(t); ok { // as most headings are
		h.cylinder = name
		return h
	}
	if h.supply, t = supplyIn(t); h.supply.Value > 0 && h.supply.Unit == "" {
		_, t = written.UnitIn(t)
	}
	h.foreign = written.HeadedByOther(t)
	h.unit, t = written.UnitIn(t)
	if strings.Contains(t, "%") || strings.Contains(t, "percent") || strings.Contains(t, "prozent") {
		h.percent = true
		t = strings.NewReplacer("%", " ", "percent", " ", "prozent", " ").Replace(t)
	}
	if h.inOne(t) {
		return h
	}
	h.celsius, t = celsiusIn(t)
	if m := aPull.FindStringSubmatchIndex(t); m != nil {
		for _, g := range []int{2, 4, 6} {
			if m[g] >= 0 {
				h.pull, _ = strconv.Atoi(t[m[g]:m[g+1]])
			}
		}
		t = t[:m[0]] + " " + t[m[1]:]
	}
	t = strings.Join(strings.Fields(strings.Trim(t, trimmed)), " ")
	t = strings.ReplaceAll(t, "leak-down", "leakdown")
	t = strings.ReplaceAll(t, "leak down", "leakdown")
	h.readWords(t)
	if h.percent && h.kind == "" && h.means == "" {
		h.kind = Leak
	}
	if h.means == Temp && h.temp != "" && (h.unit != "" || h.kind != "" || h.cylinder != "") {
		h.means = Reading // "hot psi"
	}
	return h
}

// inOne reads headings of columns whose cells hold several figures: L/R, 1/2, dry (wet).
func (h *heading) inOne(t string) bool {
	pieces := strings.FieldsFunc(t, func(r rune) bool { return strings.ContainsRune("/()[]&+", r) })
	if len(pieces) < 2 {
		return false
	}
	var names, found []string
	for _, p := range pieces {
		if p = strings.TrimSpace(p); p == "" {
			continue
		}
		if name, ok := nameOf(p); ok {
			names = append(names, name)
		} else if k, ok := kindOf(p); ok {
			found = append(found, k)
		} else if both := readHeading(p); both.cylinder != "" && both.kind != "" && len(both.strange) == 0 {
			names, found = append(names, both.cylinder), append(found, both.kind)
		} else {
			return false
		}
	}
	switch {
	case len(names) > 1 && len(found) == 0:
		h.cylinders, h.means = names, Reading
		return true
	case len(names) <= 1 && len(found) == 2 && found[0] == log.Dry && found[1] == log.Wet:
		h.kind, h.second, h.means = log.Dry, log.Wet, Reading
		if len(names) == 1 {
			h.cylinder = names[0]
		}
		return true
	}
	return false
}

// readWords goes through the words of a folded heading: the whole first, then what is left without the kind of the reading.
func (h *heading) readWords(t string) {
	if name, ok := nameOf(t); ok {
		h.cylinder = name
		return
	}
	var rest []string
	for _, w := range strings.FieldsFunc(t, func(r rune) bool { return strings.ContainsRune(" ,;:()[]/-.", r) }) {
		if m := aKindNumber.FindStringSubmatch(w); m != nil && written.Kind(m[1]) != "" {
			h.kind = written.Kind(m[1])
			rest = append(rest, m[2])
			continue
		}
		if kind := written.Kind(w); kind != "" && len(w) > 1 && h.kind == "" {
			h.kind = kind
			if written.Means(w) == string(Reading) { // compression: the pressure, not how it was taken
				h.pressure = true
				h.kind = ""
				rest = append(rest, w)
			}
			continue
		}
		rest = append(rest, w)
	}
	if name, ok := nameOf(strings.Join(rest, " ")); ok {
		h.cylinder = name
		return
	}
	weak := ""
	for i, w := range rest {
		m := Means(written.Means(w))
		if m == "" && h.kind != "" && written.IsBeside(w) {
			continue // with oil
		}
		if m == "" {
			weak = firstOf(weak, h.orName(w))
			continue
		}
		if next := i + 1; m == Cylinder && next < len(rest) {
			if name, ok := nameOf(w + " " + rest[next]); ok {
				h.cylinder = name
			}
		}
		if temp := written.Temp(w); temp != "" {
			h.temp = temp
		}
		if unit := written.Meter(w); unit != "" {
			h.meter = unit
		}
		h.skip = h.skip || m == Skip
		if h.means == "" || stronger(m, h.means) {
			h.means = m
		}
	}
	if h.cylinder == "" && len(h.strange) == 0 {
		h.cylinder = weak
	}
	if h.skip {
		h.means = Skip
	}
	if h.cylinder != "" && h.means == Cylinder {
		h.means = ""
	}
}

// orName takes a word for a temperature, for what may be a cylinder's name, or for one that says nothing here.
func (h *heading) orName(w string) string {
	if temp := written.Temp(w); temp != "" {
		h.temp = temp
		return ""
	}
	if written.IsSide(w) || bareName.MatchString(w) {
		return tidy(w)
	}
	h.strange = append(h.strange, w)
	return ""
}

// stronger reports whether one meaning of a heading's words goes before another: what is supplied before pressure.
func stronger(m, than Means) bool {
	weak := map[Means]bool{Reading: true, Cylinder: true, Engine: true, Kind: true, Meter: true}
	return weak[than] && !weak[m]
}

// nameOf returns the cylinder that a folded text names, tidied.
func nameOf(t string) (string, bool) {
	t = strings.Trim(t, trimmed)
	if m := aCylinder.FindStringSubmatch(t); m != nil {
		return tidy(m[1]), true
	}
	if bareName.MatchString(t) {
		return tidy(t), true
	}
	for _, before := range []string{"cyl ", "cylinder ", "zyl ", "cylindre ", ""} {
		name, had := strings.CutPrefix(t, before)
		if had && written.IsSide(name) {
			return tidy(name), true
		}
	}
	return "", false
}

// tidy writes a cylinder's name as one would paint it: 4, 1L, Left.
func tidy(name string) string {
	if n, err := strconv.Atoi(name); err == nil {
		return strconv.Itoa(n)
	}
	if len(name) <= 3 {
		return strings.ToUpper(name)
	}
	return say.Capital(name)
}

// celsiusIn finds a temperature in folded text, and returns the text without it.
func celsiusIn(t string) (*float64, string) {
	m := aCelsius.FindStringSubmatchIndex(t)
	if m == nil {
		return nil, t
	}
	figure, scale := m[2:4], m[4:6]
	if figure[0] < 0 {
		figure, scale = m[6:8], m[8:10]
	}
	v, err := strconv.ParseFloat(strings.Replace(t[figure[0]:figure[1]], ",", ".", 1), 64)
	if err != nil {
		return nil, t
	}
	if scale[0] >= 0 && t[scale[0]:scale[1]] == "f" {
		v = (v - 32) / 1.8
	}
	return &v, t[:m[0]] + " " + t[m[1]:]
}

// supplyForms find what was supplied to a leak-down tester: @100psi, held of 80, 6 bar in, Vordruck 6 bar.
var supplyForms = []*regexp.Regexp{
	regexp.MustCompile(`(?:@|\bat\b|\bof\b|\bfrom\b|\bvon\b|\bbei\b|\bsous\b|\bsur\b|\bsu\b|\bde\b|\bz\b) ?(\d{1,4}(?:[.,]\d)?)(?: ?(psig?|bars?|kpa|kg/cm2|kg))?(?:$|[ ,;)\]])`),
	regexp.MustCompile(`\b(\d{1,4}(?:[.,]\d)?) ?(psig?|bars?|kpa|kg/cm2|kg)[ -]+([a-z]+)`),
	regexp.MustCompile(`\b([a-z]+)[ :=]+(\d{1,4}(?:[.,]\d)?)(?: ?(psig?|bars?|kpa|kg/cm2|kg))?(?:$|[ ,;)\]])`),
}

// supplyIn finds what was supplied in a folded heading or title, and returns the text without it.
func supplyIn(t string) (units.Reading, string) {
	if !strings.ContainsAny(t, "0123456789") {
		return units.Reading{}, t
	}
	for i, form := range supplyForms {
		for _, m := range form.FindAllStringSubmatchIndex(t, -1) {
			of := func(g int) string {
				if m[2*g] < 0 {
					return ""
				}
				return t[m[2*g]:m[2*g+1]]
			}
			figure, unit, from, to := of(1), of(2), m[0], m[3]
			switch i {
			case 0:
				if m[4] >= 0 {
					to = m[5]
				}
			case 1:
				to = m[5]
				if written.Means(of(3)) == string(Supply) {
					to = m[7]
				} else if written.Means(of(3)) != string(Held) && written.Kind(of(3)) != Leak {
					continue
				}
			case 2:
				if written.Means(of(1)) != string(Supply) || of(1) == "in" || of(1) == "set" && of(3) == "" {
					continue
				}
				if figure, unit, to = of(2), of(3), m[5]; m[6] >= 0 {
					to = m[7]
				}
			}
			s := supplyOf(figure, unit)
			if s.Value > 0 {
				return s, t[:from] + " " + t[to:]
			}
		}
	}
	return units.Reading{}, t
}

// supplyOf reads what a tester was set to: its unit by its size, where none is written. None is set to less than two bar, nor to
// more than ten.
func supplyOf(figure, unit string) units.Reading {
	const leastKPa, mostKPa = 200, 1100
	v, err := strconv.ParseFloat(strings.Replace(figure, ",", ".", 1), 64)
	if err != nil {
		return units.Reading{}
	}
	tried := []units.Unit{units.PSI, units.Bar, units.KPa}
	if u, _ := written.UnitIn(unit); u != "" {
		tried = []units.Unit{u}
	} else if v < leastSupply {
		return units.Reading{} // of 6, at 4: anything
	}
	for _, u := range tried {
		r := units.Reading{Value: v, Unit: u}
		if kpa := float64(r.Pressure()); kpa >= leastKPa && kpa <= mostKPa {
			return r
		}
	}
	return units.Reading{}
}
