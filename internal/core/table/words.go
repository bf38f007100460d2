package table

import (
	"regexp"
	"strconv"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Means is what a column or a heading stands for.
type Means string

// What a column may stand for.
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
)

// AllMeans are the meanings in the order in which one looks for them.
var AllMeans = []Means{
	Date, Reading, Cylinder, Kind, Meter, Note, Supply, Held, Place, Level, Unit, Attempt, Engine, Visit, Stage, Temp, Gauge, Operator, Skip,
}

// The words that people head their columns with, folded (see fold), in the tongues in which such sheets were seen or are likely.
var headings = map[Means]string{
	Date:     "date dates datum day dag tag jour fecha data giorno when tested",
	Engine:   "engine motor moteur motore car vehicle fahrzeug boat bike moto",
	Cylinder: "cyl cyls cylinder cylinders zyl zylinder cylindre cylindres cil cilindro cilindri cilinder bore no nr num number hole rotor",
	Kind:     "test type mode kind art essai prova",
	Reading: "value values reading readings result results wert valeur valore pressure druck pression pressione " +
		"compression comp kompression compressione",
	Unit: "unit units einheit unite unita",
	Meter: "meter hour hours hr hrs h std stunden betriebsstunden heures heure ore km kms kilometer kilometers " +
		"kilometres mile miles mi mileage odo odometer kilometrage kilometerstand runs passes laeufe passages",
	Stage: "event stage occasion session anlass occasione evenement meeting race",
	Note: "note notes remark remarks comment comments bemerkung bemerkungen remarque remarques notiz notizen nota " +
		"observation observations anmerkung what",
	Temp:     "temp temperature temperatur condition cond state zustand hot cold engine_temp",
	Gauge:    "gauge tester manometer manometre manometro kit geraet",
	Operator: "by operator who mechanic mecanicien mechaniker initials",
	Supply:   "supply in input set regulated inlet entree eingang vordruck zufuhr alimentation ingresso line applied",
	Held:     "held out holding hold tenu gehalten rest cylinder_pressure tenuto left_in retenue",
	Place:    "heard where place air entendu ou ort gehoert escape escapes leaks_at sentito at path noise",
	Level:    "level loudness",
	Attempt:  "attempt pull try shot pulls versuch tirage prova_n reading_no",
	Skip: "avg average mean spread diff difference max min high low highest lowest total sum mittel mittelwert schnitt " +
		"best worst peak used durchschnitt moyenne moy ecart media variance drop pct_drop range session id ok pass result_ok",
}

var meaningOf = func() map[string]Means {
	all := map[string]Means{}
	for _, m := range AllMeans {
		for _, w := range strings.Fields(headings[m]) {
			if _, taken := all[w]; !taken {
				all[w] = m
			}
		}
	}
	return all
}()

// Leak is the kind of a leak-down reading; a pull's are those of the log.
const Leak = "leak"

var kinds = wordsOf(map[string]string{
	log.Dry: "dry trocken sec seche secco seco d compression comp kompression cranking",
	log.Wet: "wet nass humide umido mouille huile oil oiled oel w",
	Leak:    "leak leakage leakdown leaks ld perte perda perdita verlust druckverlust leckage fuite fuga loss lost dichtheit",
})

var temps = wordsOf(map[string]string{
	"hot": "hot heiss chaud calda caldo betriebswarm", "warm": "warm tiede tiepido lauwarm", "cold": "cold kalt froid freddo",
})

var meterUnits = wordsOf(map[string]string{
	"h": "hour hours hr hrs h std stunden betriebsstunden heures heure ore", "km": "km kms kilometer kilometers kilometres " +
		"kilometrage kilometerstand",
	"mi": "mile miles mi mileage", "runs": "runs passes laeufe passages",
})

var places = wordsOf(map[string]string{
	log.Crankcase: "crankcase breather filler dipstick oil sump reniflard carter jauge kurbelgehaeuse entlueftung oeleinfuellung " +
		"peilstab sfiato rings ring segments kolbenringe c blowby",
	log.Intake: "intake inlet carb carburettor carburetor throttle admission carburateur ansaugung einlass vergaser " +
		"aspirazione plenum manifold i",
	log.Exhaust:   "exhaust tailpipe header headers exh echappement auspuff auslass scarico pot muffler e ex",
	log.Coolant:   "coolant radiator water rad bubbles radiateur refroidissement eau bulles kuehler kuehlwasser wasser radiatore acqua w",
	log.Neighbour: "neighbour neighbor adjacent next gasket voisin nachbar vicino n",
	log.PlugHole:  "plug plughole spark bougie kerze candela thread",
})

var levels = wordsOf(map[string]string{
	"1": "faint slight slightly little leger legerement leicht leise lieve", "2": "clear clearly klar deutlich nettement",
	"3": "strong loud lots heavy fort stark laut forte",
})

// totals head a row that sums up the others.
var totals = wordsOf(map[string]string{"total": "average avg mean total totals sum spread diff difference max min " +
	"maximum minimum highest lowest " +
	"mittel mittelwert schnitt durchschnitt moyenne moy ecart summe somme media median range best worst deviation stdev tolerance"})

// sides are names of cylinders that stand beside or behind each other.
var sides = wordsOf(map[string]string{"": "left right front rear middle centre center links rechts vorn hinten mitte " +
	"gauche droite avant " +
	"arriere sinistra destra mag pto l r f"})

var counts = wordsOf(map[string]string{
	"1": "single mono monocylindre einzylinder one", "2": "twin two zweizylinder vtwin bicylindre", "3": "triple three " +
		"three-cylinder dreizylinder",
	"4": "four vierzylinder quatre", "5": "five", "6": "six sechszylinder", "8": "eight", "10": "ten", "12": "twelve",
})

// months by the first three letters of their folded names, with those that three letters do not tell.
var months = map[string]int{
	"jan": 1, "gen": 1, "ene": 1, "feb": 2, "fev": 2, "mar": 3, "mae": 3, "mrz": 3, "maa": 3, "apr": 4, "avr": 4, "abr": 4, "may": 5,
	"mai": 5, "mag": 5, "mei": 5, "jun": 6, "juin": 6, "giu": 6, "jul": 7, "juil": 7, "lug": 7, "aug": 8, "aou": 8, "ago": 8,
	"sep": 9, "set": 9, "oct": 10, "okt": 10, "ott": 10, "out": 10, "nov": 11, "dec": 12, "dez": 12, "dic": 12, "des": 12,
}

func wordsOf(groups map[string]string) map[string]string {
	all := map[string]string{}
	for to, words := range groups {
		for _, w := range strings.Fields(words) {
			all[w] = to
		}
	}
	return all
}

var plain = strings.NewReplacer(
	"ä", "ae", "ö", "oe", "ü", "ue", "ß", "ss", "à", "a", "â", "a", "á", "a", "ã", "a", "å", "a", "ç", "c", "é", "e", "è", "e", "ê", "e",
	"ë", "e", "î", "i", "ï", "i", "í", "i", "ì", "i", "ô", "o", "ó", "o", "ò", "o", "õ", "o", "ø", "o", "û", "u", "ù", "u", "ú", "u", "ñ", "n",
	"\u00a0", " ", "\u202f", " ", "’", "'", "–", "-", "—", "-", "−", "-", "½", ".5", "²", "2", "µ", "u",
)

// fold writes text in small letters without accents, with plain dashes and spaces.
func fold(text string) string {
	if strings.Trim(text, "0123456789.,/%") == "" {
		return text
	}
	return strings.TrimSpace(plain.Replace(strings.ToLower(text)))
}

var aWord = regexp.MustCompile(`[a-z_]+|\d+`)

var unitForms = []struct {
	form *regexp.Regexp
	unit units.Unit
}{
	{regexp.MustCompile(`(?:^|[^a-z])(k(?:g|gf|p)? ?(?:/|per) ?(?:cm ?2|sq ?cm))(?:[^a-z]|$)`), units.KgfCm2},
	{regexp.MustCompile(`(?:^|[^a-z])(psig?|lbs?(?:/ ?(?:in2|sq ?in))?|#/in2)(?:[^a-z]|$)`), units.PSI},
	{regexp.MustCompile(`(?:^|[^a-z])(kpa)(?:[^a-z]|$)`), units.KPa},
	{regexp.MustCompile(`(?:^|[^a-z])(bars?)(?:[^a-z]|$)`), units.Bar},
}

// otherUnit is a unit of pressure that no gauge of the log's has.
var otherUnit = regexp.MustCompile(`(?:^|[^a-z])(mpa|atm|at|torr|mmhg|inhg|pa|mbar|hpa)(?:[^a-z]|$)`)

// unitIn finds a unit of pressure in folded text, and returns the text without it.
func unitIn(text string) (units.Unit, string) {
	if strings.Trim(text, " 0123456789.,/%~-") == "" {
		return "", text
	}
	for _, u := range unitForms {
		if m := u.form.FindStringSubmatchIndex(text); m != nil {
			return u.unit, text[:m[2]] + " " + text[m[3]:]
		}
	}
	return "", text
}

// heading is what a text says where it heads a column, or stands over a sheet.
type heading struct {
	means    Means
	cylinder string
	kind     string
	unit     units.Unit
	percent  bool
	pull     int
	meter    string
	temp     string
	celsius  *float64
	date     string
	supply   float64
	skip     bool
	strange  []string // words that say nothing here
}

var (
	aCylinder = regexp.MustCompile(`^(?:(?:cylinder|cylindre|zylinder|cilindro|cilinder|cyl|zyl|cil|bore|rotor|no|nr|c|z|#)[ .:#°-]*)+([a-z]?\d{1,2}[a-z]?)$`)
	bareName  = regexp.MustCompile(`^(?:\d{1,2}|[a-z]\d{1,2}|\d{1,2}[a-z])$`)
	aPull     = regexp.MustCompile(`\b(?:pull|try|shot|run|attempt|p|versuch|reading|tirage) ?#?(\d{1,2})\b|` +
		`\b(\d{1,2})\.? (?:pull|try|shot|run|attempt|versuch|reading|tirage|essai|prova)\b|\b(\d{1,2})(?:st|nd|rd|th)\b(?: (?:pull|try|shot|run))?`)
	aKindNumber = regexp.MustCompile(`^([a-z]{2,})(\d{1,2})$`)
	aCelsius    = regexp.MustCompile(`(-?\d{1,3}(?:[.,]\d+)?) ?(?:°|deg(?:rees?)?) ?([cf])?\b|(-?\d{1,3}) ?([cf])\b`)
	aSupply     = regexp.MustCompile(`(?:@|\bat|\bof) ?(\d{2,4})\b`)
	trimmed     = " .:,;()[]-_/#°*"
)

// headingOf reads a text as a heading.
func headingOf(text string) heading {
	var h heading
	const longest = 160 // nobody heads a column with more
	if len(text) > longest {
		h.strange = []string{text}
		return h
	}
	t := fold(text)
	if isDateText(t) {
		h.date = strings.TrimSpace(text)
		return h
	}
	if m := aSupply.FindStringSubmatchIndex(t); m != nil { // leak @ 100 psi
		h.supply, _ = strconv.ParseFloat(t[m[2]:m[3]], 64)
		t = t[:m[0]] + " " + t[m[3]:]
	}
	h.unit, t = unitIn(t)
	if strings.Contains(t, "%") || strings.Contains(t, "percent") || strings.Contains(t, "prozent") {
		h.percent = true
		t = strings.NewReplacer("%", " ", "percent", " ", "prozent", " ").Replace(t)
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

// readWords goes through the words of a folded heading: the whole first, then what is left without the kind of the reading.
func (h *heading) readWords(t string) {
	if name, ok := nameOf(t); ok {
		h.cylinder = name
		return
	}
	var rest []string
	for _, w := range strings.FieldsFunc(t, func(r rune) bool { return strings.ContainsRune(" ,;:()[]/-.", r) }) {
		if m := aKindNumber.FindStringSubmatch(w); m != nil && kinds[m[1]] != "" {
			h.kind = kinds[m[1]]
			rest = append(rest, m[2])
			continue
		}
		if kind, ok := kinds[w]; ok && len(w) > 1 && h.kind == "" {
			h.kind = kind
			if w == "compression" || w == "comp" || w == "kompression" {
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
		m, known := meaningOf[w]
		if !known {
			weak = firstOf(weak, h.orName(w))
			continue
		}
		if next := i + 1; m == Cylinder && next < len(rest) {
			if name, ok := nameOf(w + " " + rest[next]); ok {
				h.cylinder = name
			}
		}
		if temp := temps[w]; temp != "" {
			h.temp = temp
		}
		if unit := meterUnits[w]; unit != "" {
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
	if temp := temps[w]; temp != "" {
		h.temp = temp
		return ""
	}
	if _, side := sides[w]; side || bareName.MatchString(w) {
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
		if _, side := sides[name]; had && side {
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
