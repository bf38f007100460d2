package logfile_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"braxel/internal/core/table"
	"braxel/internal/logfile"
)

// An owner knows what was tested, writes it out by habits, and answers questions by what he knows. He shares no word and no rule
// with the reader: his languages, layouts and slips are his own, drawn at random. What the reader takes must be what he tested.
type owner struct {
	*rand.Rand
	habits map[string]bool // those that this sheet shows

	engine    string
	cylinders []string // as they are called
	tests     []tested

	unit    string // of pressures: psi, bar, kPa, kgf/cm2
	comma   bool
	dates   string // a layout of time, or "serial", "words"
	tongue  tongue
	saying  string // where the unit stands: title, headings, cells, below, nowhere
	supply  float64
	inUnit  string // of the supply
	leakAs  string // signed, bare, held, heldpct, fraction, of
	left    bool   // he left something out
	read    []table.Sheet
	wrote   [3]bool         // dry, wet, leak
	alone   bool            // the sheet is of leaks alone
	strange map[string]bool // readings that the owner says to leave out: by "date kind cylinder"
}

// tested is a visit.
type tested struct {
	day      time.Time
	hours    float64
	dry, wet [][]float64 // by cylinder, in the owner's unit
	leak     []float64   // percent lost
}

type tongue struct {
	name                                                                       string
	date, cylinder, dry, wet, leak, hours, note, supply, held, compression, av string
	months                                                                     [12]string
}

var tongues = []tongue{
	{"en", "Date", "Cylinder", "Dry", "Wet", "Leakage", "Hours", "Remarks", "Supply", "Held", "Compression test", "Average", [12]string{"January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"}},
	{"de", "Datum", "Zylinder", "trocken", "mit Öl", "Druckverlust", "Betriebsstunden", "Bemerkung", "Vordruck", "gehalten", "Kompressionsmessung", "Mittelwert", [12]string{"Januar", "Februar", "März", "April", "Mai", "Juni", "Juli", "August", "September", "Oktober", "November", "Dezember"}},
	{"fr", "Date", "Cylindre", "à sec", "avec huile", "Perte", "Heures", "Remarques", "Entrée", "Tenu", "Compressions", "Moyenne", [12]string{"janvier", "février", "mars", "avril", "mai", "juin", "juillet", "août", "septembre", "octobre", "novembre", "décembre"}},
	{"it", "Data", "Cilindro", "a secco", "con olio", "Perdita", "Ore", "Note", "Ingresso", "Tenuto", "Prova compressione", "Media", [12]string{"gennaio", "febbraio", "marzo", "aprile", "maggio", "giugno", "luglio", "agosto", "settembre", "ottobre", "novembre", "dicembre"}},
	{"es", "Fecha", "Cilindro", "en seco", "con aceite", "Fuga", "Horas", "Observaciones", "Entrada", "Retenido", "Compresión", "Promedio", [12]string{"enero", "febrero", "marzo", "abril", "mayo", "junio", "julio", "agosto", "septiembre", "octubre", "noviembre", "diciembre"}},
	{"pt", "Data", "Cilindro", "a seco", "com óleo", "Vazamento", "Horas", "Observações", "Entrada", "Retido", "Compressão", "Média", [12]string{"janeiro", "fevereiro", "março", "abril", "maio", "junho", "julho", "agosto", "setembro", "outubro", "novembro", "dezembro"}},
	{"nl", "Datum", "Cilinder", "droog", "met olie", "Lekverlies", "Draaiuren", "Opmerkingen", "Toevoer", "Vastgehouden", "Compressiemeting", "Gemiddelde", [12]string{"januari", "februari", "maart", "april", "mei", "juni", "juli", "augustus", "september", "oktober", "november", "december"}},
	{"sv", "Datum", "Cylinder", "torrt", "med olja", "Läckage", "Drifttimmar", "Anmärkning", "Matningstryck", "Hållet", "Kompressionsprov", "Medelvärde", [12]string{"januari", "februari", "mars", "april", "maj", "juni", "juli", "augusti", "september", "oktober", "november", "december"}},
	{"fi", "Päivämäärä", "Sylinteri", "kuivana", "öljyllä", "Vuoto", "Käyttötunnit", "Huomautukset", "Syöttöpaine", "Pidetty", "Puristuskoe", "Keskiarvo", [12]string{"tammikuu", "helmikuu", "maaliskuu", "huhtikuu", "toukokuu", "kesäkuu", "heinäkuu", "elokuu", "syyskuu", "lokakuu", "marraskuu", "joulukuu"}},
	{"pl", "Data", "Cylinder", "na sucho", "z olejem", "Nieszczelność", "Motogodziny", "Uwagi", "Zasilanie", "Utrzymane", "Pomiar kompresji", "Średnia", [12]string{"styczeń", "luty", "marzec", "kwiecień", "maj", "czerwiec", "lipiec", "sierpień", "wrzesień", "październik", "listopad", "grudzień"}},
}

func (o *owner) pick(of ...string) string { return of[o.IntN(len(of))] }
func (o *owner) habit(h string) string    { o.habits[h] = true; return h }
func (o *owner) sometimes(h string, one int) bool {
	if o.IntN(one) > 0 {
		return false
	}
	o.habits[h] = true
	return true
}

var names = []string{"Whimbrel 998", "Dotterel", "Blue Heron flat", "Corncrake 350", "Old Fulmar", "Garganey R", "Red-necked Stint 2.0", "Turnstone mk II", "Wigeon"}

func newOwner(seed uint64) *owner {
	o := &owner{Rand: rand.New(rand.NewPCG(seed, 77)), habits: map[string]bool{}, strange: map[string]bool{}}
	o.engine = names[o.IntN(len(names))]
	o.tongue = tongues[o.IntN(len(tongues))]
	o.habit("tongue " + o.tongue.name)
	n := []int{1, 2, 3, 4, 4, 4, 5, 6, 6, 8, 12}[o.IntN(11)]
	for i := range n {
		o.cylinders = append(o.cylinders, strconv.Itoa(i+1))
	}
	if n == 2 && o.sometimes("left and right", 2) {
		o.cylinders = []string{"L", "R"}
	}
	o.unit = o.habit(o.pick("psi", "psi", "bar", "bar", "kPa", "kgf/cm2"))
	o.comma = o.tongue.name != "en" && o.IntN(3) > 0
	o.saying = o.pick("title", "headings", "cells", "below", "nowhere")
	o.supply, o.inUnit = []float64{100, 100, 80, 60, 90}[o.IntN(5)], "psi"
	if o.unit != "psi" && o.IntN(2) == 0 {
		o.supply, o.inUnit = []float64{6, 7, 5.5}[o.IntN(3)], "bar"
	}
	o.leakAs = o.pick("signed", "signed", "bare", "held", "of", "left", "fraction")
	o.dates = o.pick("2006-01-02", "2.1.2006", "02.01.06", "2/1/2006", "1/2/2006", "words", "2-Jan-06", "2006/01/02", "2006-01-02 15:04")
	o.make(n)
	return o
}

// make draws what was tested: of a sound engine, a worn one, one with a bad cylinder.
func (o *owner) make(n int) {
	scale := map[string]float64{"psi": 1, "bar": 1 / 14.5038, "kPa": 6.89476, "kgf/cm2": 1 / 14.2233}[o.unit]
	write := func(psi float64) float64 {
		v := psi * scale
		if o.unit == "bar" || o.unit == "kgf/cm2" {
			return math.Round(v*10) / 10
		}
		return math.Round(v)
	}
	level := 115 + 90*o.Float64()
	if o.sometimes("diesel", 12) {
		level = 330 + 100*o.Float64()
	}
	bad := o.IntN(3 * n)
	day := time.Date(2030, time.Month(1+o.IntN(12)), 1+o.IntN(28), 0, 0, 0, 0, time.UTC)
	hours := float64(o.IntN(400))
	for range 1 + o.IntN(4) {
		t := tested{day: day, hours: hours}
		for c := range n {
			base := level * (1 + 0.03*o.NormFloat64())
			leak := math.Round(3 + 5*o.Float64() + 3*math.Abs(o.NormFloat64()))
			if c == bad {
				base, leak = base*(0.55+0.2*o.Float64()), math.Round(25+25*o.Float64())
			}
			t.dry = append(t.dry, []float64{write(base)})
			t.wet = append(t.wet, []float64{write(base * (1.07 + 0.06*o.Float64()))})
			t.leak = append(t.leak, leak)
		}
		o.tests = append(o.tests, t)
		day = day.AddDate(0, 1+o.IntN(5), o.IntN(20))
		hours += float64(1 + o.IntN(60))
	}
}

func (o *owner) figure(v float64) string {
	text := strconv.FormatFloat(v, 'f', -1, 64)
	if o.comma {
		text = strings.Replace(text, ".", ",", 1)
	}
	return text
}

func (o *owner) pressure(v float64) string {
	if o.saying == "cells" {
		return o.figure(v) + " " + o.unit
	}
	return o.figure(v)
}

func (o *owner) day(t time.Time) string {
	switch o.dates {
	case "words":
		return fmt.Sprintf("%d %s %d", t.Day(), o.tongue.months[t.Month()-1], t.Year())
	case "2-Jan-06":
		month := []rune(o.tongue.months[t.Month()-1])
		short := min(len(month), 3+btoi(o.tongue.name == "fr" || o.tongue.name == "fi"))
		return fmt.Sprintf("%d-%s-%02d", t.Day(), string(month[:short]), t.Year()%100)
	}
	return t.Format(o.dates)
}

func btoi(b bool) int {
	if b {
		return 1
	}
	return 0
}

// leakOf writes a leak by the owner's habit.
func (o *owner) leakOf(percent float64) string {
	held := math.Round(o.supply*(100-percent)/100*10) / 10
	switch o.leakAs {
	case "signed":
		return o.figure(percent) + o.pick("%", " %")
	case "held":
		return o.figure(held)
	case "left":
		return o.figure(100-percent) + "%"
	case "fraction":
		return o.figure(percent / 100)
	case "of":
		return o.figure(held) + o.pick("/", " of ") + o.figure(o.supply)
	}
	return o.figure(percent)
}

// headed writes a heading of pressures.
func (o *owner) headed(text string) string {
	if o.saying == "headings" {
		return text + o.pick(" (", " [", ", ") + o.unit
	}
	return text
}

// leakHead writes a heading of leaks, and what was supplied where the owner says it there.
func (o *owner) leakHead(text string) string {
	switch o.leakAs {
	case "bare":
		return o.pick(text, text+" %", text+" (%)")
	case "held", "left":
		return o.tongue.held + " " + o.pick("", "", strings.ToLower(text))
	}
	return text
}

func (o *owner) supplyText() string {
	n := o.figure(o.supply)
	return o.pick("@"+n+" "+o.inUnit, o.tongue.supply+" "+n+" "+o.inUnit, o.tongue.supply+": "+n+" "+o.inUnit, n+" "+o.inUnit+" in")
}

func (o *owner) title(leaks bool) [][]string {
	parts := []string{o.engine}
	if o.saying == "title" && !o.alone {
		parts = append(parts, o.pick("", "all in ")+o.unit)
	}
	if leaks && (o.leakAs == "held" || o.leakAs == "left" && o.IntN(2) == 0) {
		parts = append(parts, o.supplyText())
	}
	if o.sometimes("a word for the test in the title", 3) {
		if leaks {
			parts = append(parts, o.tongue.leak)
		} else {
			parts = append(parts, o.tongue.compression)
		}
	}
	var rows [][]string
	if o.sometimes("a line for each title", 3) {
		for _, p := range parts {
			rows = append(rows, []string{p})
		}
	} else {
		rows = append(rows, []string{strings.Join(parts, o.pick(", ", " - ", "; "))})
	}
	if o.IntN(2) == 0 {
		rows = append(rows, nil)
	}
	return rows
}

func (o *owner) cylinder(i int) string {
	name := o.cylinders[i]
	if name == "L" || name == "R" {
		return name
	}
	return fmt.Sprintf(o.pick("%s", "#%s", "No %s", o.tongue.cylinder+" %s", "Cyl. %s"), name)
}

// heads names all cylinders by one habit.
func (o *owner) heads() []string {
	form := o.pick("%s", "#%s", "Nr. %s", o.tongue.cylinder+" %s", "Cyl %s", "c%s")
	var all []string
	for _, name := range o.cylinders {
		if name == "L" || name == "R" {
			form = "%s"
		}
		all = append(all, fmt.Sprintf(form, name))
	}
	return all
}

// sheets writes everything out, and says which kinds it shows.
func (o *owner) sheets() (rows [][]string, dry, wet, leak bool) {
	switch layout := o.IntN(9); layout {
	case 0, 1: // a row a test
		o.habit("a row a test")
		rows = o.title(false)
		head := []string{o.tongue.date}
		meter := o.sometimes("a meter", 2)
		if meter {
			head = append(head, o.tongue.hours)
		}
		below := make([]string, len(head))
		for _, h := range o.heads() {
			head, below = append(head, o.headed(h)), append(below, o.unit)
		}
		extra := o.sometimes("a column of something else", 4)
		if extra {
			head = append(head, o.pick("rpm", "Volts", "oil temp", "Batt", "humidity"))
		}
		noted := o.sometimes("remarks", 2)
		if noted {
			head = append(head, o.tongue.note)
		}
		rows = append(rows, head)
		if o.saying == "below" {
			o.habit("units in a row below the headings")
			rows = append(rows, below)
		}
		for _, t := range o.tests {
			row := []string{o.day(t.day)}
			if meter {
				row = append(row, o.figure(t.hours))
			}
			for _, v := range t.dry {
				row = append(row, o.pressure(v[0]))
			}
			if extra {
				row = append(row, o.pick("250", "12", "85", "40"))
			}
			if noted {
				row = append(row, o.pick("", "after rebuild", "new plugs"))
			}
			rows = append(rows, row)
		}
		rows = o.slips(rows, len(head))
		if len(o.tests) > 1 && o.sometimes("a row of averages", 3) {
			row := make([]string, len(head))
			row[0] = o.tongue.av
			for i := range o.cylinders {
				row[1+btoi(meter)+i] = o.figure(o.tests[0].dry[i][0])
			}
			rows = append(rows, row)
		}
		return rows, true, false, false
	case 2: // a row a reading
		o.habit("a row a reading")
		rows = append(o.title(false), []string{o.tongue.date, o.tongue.cylinder, "Test", o.headed(o.pick("Value", "Result"))})
		if o.saying == "below" {
			o.saying = "cells"
		}
		for _, t := range o.tests {
			for i := range o.cylinders {
				rows = append(rows, []string{o.day(t.day), o.cylinders[i], o.tongue.dry, o.pressure(t.dry[i][0])})
				rows = append(rows, []string{o.day(t.day), o.cylinders[i], o.tongue.wet, o.pressure(t.wet[i][0])})
			}
		}
		return rows, true, true, false
	case 3, 4: // a row a cylinder, one test
		o.habit("a row a cylinder")
		o.tests = o.tests[:1]
		rows = append(o.title(true), []string{o.tongue.date + ": " + o.day(o.tests[0].day)})
		head, below := []string{o.tongue.cylinder, o.headed(o.tongue.dry), o.headed(o.tongue.wet), o.leakHead(o.tongue.leak)}, []string{"", o.unit, o.unit, "%"}
		rows = append(rows, head)
		if o.saying == "below" {
			o.habit("units in a row below the headings")
			if o.leakAs == "held" {
				below[3] = o.inUnit
			}
			rows = append(rows, below)
		}
		o.habit("leaks " + o.leakAs)
		for i := range o.cylinders {
			t := o.tests[0]
			rows = append(rows, []string{o.cylinder(i), o.pressure(t.dry[i][0]), o.pressure(t.wet[i][0]), o.leakOf(t.leak[i])})
		}
		return rows, true, true, true
	case 5: // leaks alone, a row a test
		o.habit("leaks alone")
		o.habit("leaks " + o.leakAs)
		o.alone = true // nobody writes a unit of pressure over percents
		rows = append(o.title(true), append([]string{o.tongue.date}, o.heads()...))
		if o.leakAs == "held" || o.leakAs == "left" {
			rows[0][0] += ", " + o.tongue.leak + ", " + o.tongue.held
		}
		for _, t := range o.tests {
			row := []string{o.day(t.day)}
			for _, v := range t.leak {
				row = append(row, o.leakOf(v))
			}
			rows = append(rows, row)
		}
		return rows, false, false, true
	case 6: // supply and held
		o.habit("supply and held")
		o.leakAs = "pair"
		rows = append(o.title(false), []string{o.tongue.date, o.tongue.cylinder, o.tongue.supply + " (" + o.inUnit + ")", o.tongue.held + " (" + o.inUnit + ")"})
		for _, t := range o.tests {
			for i := range o.cylinders {
				held := math.Round(o.supply*(100-t.leak[i])) / 100
				rows = append(rows, []string{o.day(t.day), o.cylinders[i], o.figure(o.supply), o.figure(held)})
			}
		}
		return rows, false, false, true
	case 7: // dry, and wet in brackets
		o.habit("two figures in a cell")
		rows = o.title(false)
		if o.sometimes("dry (wet) in the title", 2) {
			rows[0][0] += ", " + o.tongue.dry + " (" + o.tongue.wet + ")"
		}
		rows = append(rows, append([]string{o.tongue.date}, o.heads()...))
		form := o.pick("%s (%s)", "%s/%s", "%s [%s]")
		for _, t := range o.tests {
			row := []string{o.day(t.day)}
			for i := range t.dry {
				row = append(row, fmt.Sprintf(form, o.pressure(t.dry[i][0]), o.pressure(t.wet[i][0])))
			}
			rows = append(rows, row)
		}
		return rows, true, true, false
	}
	o.habit("a column a test")
	rows = o.title(false)
	head := []string{o.tongue.cylinder}
	for _, t := range o.tests {
		head = append(head, o.day(t.day))
	}
	rows = append(rows, head)
	for i := range o.cylinders {
		row := []string{o.cylinder(i)}
		for _, t := range o.tests {
			row = append(row, o.pressure(t.dry[i][0]))
		}
		rows = append(rows, row)
	}
	return rows, true, false, false
}

// slips makes one, in a sheet of a row a test: what is then not to be taken is told by its place.
func (o *owner) slips(rows [][]string, width int) [][]string {
	at := len(rows) - len(o.tests) + o.IntN(len(o.tests))
	first := width - 1
	for i, cell := range rows[at] { // a cell of the first cylinder
		if cell == o.pressure(o.tests[at-len(rows)+len(o.tests)].dry[0][0]) && i > 0 {
			first = i
			break
		}
	}
	t := o.tests[at-len(rows)+len(o.tests)]
	gone := fmt.Sprintf("%s dry %s", t.day.Format(time.DateOnly), o.cylinders[0])
	enough := len(o.tests)*len(o.cylinders) >= 5
	switch o.IntN(14) {
	case 0:
		if enough {
			o.habit("slip: a nought too many")
			rows[at][first] = o.pressure(t.dry[0][0] * 10)
			o.strange[gone] = true
		}
	case 1:
		o.habit("slip: a letter for a figure")
		rows[at][first] = strings.Replace(rows[at][first], "1", "l", 1)
		o.strange[gone] = strings.Contains(rows[at][first], "l")
	case 2:
		o.habit("crossed out")
		o.strange[gone] = true
		rows[at][first] = "~~" + rows[at][first] + "~~"
	case 3:
		o.habit("a row twice")
		rows = append(rows, slices.Clone(rows[at]))
	case 4:
		o.habit("a range")
		rows[at][first] = o.figure(t.dry[0][0]) + "-" + o.figure(t.dry[0][0]+1)
		o.strange[gone] = true
	case 5:
		if len(o.tests)*len(o.cylinders) >= 6 && o.unit == "psi" {
			o.habit("slip: another unit")
			rows[at][first] = o.figure(math.Round(t.dry[0][0]/14.5*10) / 10)
			o.strange[gone] = true
		}
	case 6:
		o.habit("a remark that doubts a reading")
		if o.cylinders[0] == "1" {
			rows = append(rows, nil, []string{"1st on #1 had the throttle shut"})
			last := o.tests[len(o.tests)-1]
			o.strange[fmt.Sprintf("%s dry 1", last.day.Format(time.DateOnly))] = true
		}
	}
	return rows
}

// worn takes something away that the sheet needs to be read by: a heading, all of them, the title, or it puts a word there that no
// dictionary has.
func (o *owner) worn(rows [][]string) [][]string {
	head := slices.IndexFunc(rows, func(r []string) bool { return len(r) > 1 })
	if head < 0 {
		return rows
	}
	switch o.IntN(16) {
	case 0:
		o.habit("worn: a heading gone")
		rows[head][o.IntN(len(rows[head]))] = ""
	case 1:
		o.habit("worn: a heading nobody knows")
		rows[head][o.IntN(len(rows[head]))] = o.pick("Zorp", "Kwij", "Bleem 2")
	case 2:
		o.habit("worn: no headings")
		rows = slices.Delete(rows, head, head+1)
	case 3:
		if o.alone {
			break // of figures alone, nobody could tell what they are
		}
		o.habit("worn: no title")
		rows = slices.DeleteFunc(rows, func(r []string) bool { return len(r) == 1 && r[0] != "" && !strings.Contains(r[0], "#") })
	}
	return rows
}

func (o *owner) save(t *testing.T, rows [][]string) []byte {
	var b bytes.Buffer
	out := csv.NewWriter(&b)
	out.Comma = []rune{',', ';', '\t'}[o.IntN(3)]
	if o.comma && out.Comma == ',' {
		out.Comma = ';'
	}
	width := 0
	for _, r := range rows {
		width = max(width, len(r))
	}
	for _, r := range rows {
		require.NoError(t, out.Write(append(slices.Clone(r), make([]string, width-len(r))...)))
	}
	out.Flush()
	switch coded := o.IntN(4); {
	case coded == 1:
		text, err := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewEncoder().Bytes(b.Bytes())
		require.NoError(t, err)
		return text
	case coded == 2 && o.tongue.name != "pl":
		if text, err := charmap.Windows1252.NewEncoder().Bytes(b.Bytes()); err == nil {
			return text
		}
	}
	return b.Bytes()
}

// answer says what the owner answers to a question: what he knows, or that it be left out.
func (o *owner) answer(a table.Asked, picks *table.Picks) bool {
	name := ""
	switch a.What {
	case table.AskDates:
		name = "dmy"
		if o.dates == "1/2/2006" {
			name = "mdy"
		}
	case table.AskUnit:
		name = o.unit
	case table.AskKind:
		name = "dry"
		if o.habits["leaks alone"] {
			name = "leak"
		}
	case table.AskLeak:
		name = map[string]string{"signed": "lost", "bare": "lost", "fraction": "lost", "held": "held", "left": "left"}[o.leakAs]
	case table.AskSupply:
		picks.Supply = o.figure(o.supply) + " " + o.inUnit
		return true
	case table.AskSecond:
		name = "wet"
	case table.AskFar:
		name = "take"
		if o.habits["slip: another unit"] || o.habits["slip: a nought too many"] {
			name = "leave"
		}
	case table.AskRanges:
		name = "leave"
	case table.AskRemarks:
		name = "strike"
	case table.AskDecimal:
		name = "."
		if o.comma {
			name = "comma"
		}
	case table.AskTurned:
		name = "false"
	case table.AskColumns:
		name = "no"
		if o.knows(a, *picks, "yes") {
			name = "yes"
		}
		o.left = o.left || name == "no"
	case table.AskHead:
		for _, c := range a.Choices {
			if o.knows(a, *picks, c.Name) {
				name = c.Name
			}
		}
	}
	return picks.Answer(a, name)
}

// knows reports whether he finds his own readings in what an answer comes to.
func (o *owner) knows(a table.Asked, picks table.Picks, name string) bool {
	picks.Answer(a, name)
	want := o.truth(o.wrote[0], o.wrote[1], o.wrote[2])
	for place, value := range took(table.Read(o.read, picks)) {
		if !strings.HasPrefix(place, " ") && !same(want[place], value) {
			return false
		}
	}
	return true
}

// truth is what was tested, as lines: those that may be left out are known by their place.
func (o *owner) truth(dry, wet, leak bool) map[string]string {
	all := map[string]string{}
	for _, t := range o.tests {
		day := t.day.Format(time.DateOnly)
		for i, c := range o.cylinders {
			if dry {
				all[fmt.Sprintf("%s dry %s", day, c)] = fmt.Sprintf("%g %s", t.dry[i][0], o.unit)
			}
			if wet {
				all[fmt.Sprintf("%s wet %s", day, c)] = fmt.Sprintf("%g %s", t.wet[i][0], o.unit)
			}
			if leak {
				all[fmt.Sprintf("%s leak %s", day, c)] = fmt.Sprintf("%.0f", t.leak[i])
			}
		}
	}
	for place, gone := range o.strange {
		if gone {
			delete(all, place)
		}
	}
	return all
}

// took lists what was read in the same lines.
func took(r table.Result) map[string]string {
	all := map[string]string{}
	for _, l := range r.Logs {
		called := func(n int) string {
			if own := l.Engine.Layout.Names[strconv.Itoa(n)]; own != "" {
				return own
			}
			return strconv.Itoa(n)
		}
		for _, s := range l.Sessions {
			for _, c := range s.Compression {
				var pulls []string
				for _, p := range c.Pulls {
					if p.Struck == "" {
						pulls = append(pulls, fmt.Sprintf("%g %s", p.Value, p.Unit))
					}
				}
				if len(pulls) > 0 {
					all[fmt.Sprintf("%s %s %s", s.Date, c.Mode, called(c.Cylinder))] += strings.Join(pulls, ",")
				}
			}
			for _, k := range s.Leakdown {
				all[fmt.Sprintf("%s leak %s", s.Date, called(k.Cylinder))] += fmt.Sprintf("%.0f", 100*(1-k.Held/k.Supply))
			}
		}
	}
	return all
}

// outcome is what became of a sheet.
type outcome string

const (
	right   outcome = "right"
	asked   outcome = "asked"
	refused outcome = "refused"
	wrong   outcome = "wrong"
)

// judge reads a sheet, answers what is asked, and holds what was taken against what was tested.
func (o *owner) judge(sheets []table.Sheet, dry, wet, leak bool) (outcome, string) {
	o.read, o.wrote = sheets, [3]bool{dry, wet, leak}
	picks := table.Picks{}
	got := table.Read(sheets, picks)
	came := right
	for range 8 {
		for _, a := range got.Asked { // he looks at what was taken for granted
			if a.What != table.AskUnit || a.Must {
				continue
			}
			if o.alone { // it is no compression
				picks.Kind = "leak"
			} else if a.Took == o.unit || !o.answer(a, &picks) {
				continue
			}
			came, got = asked, table.Read(sheets, picks)
			break
		}
		if slices.ContainsFunc(got.Asked, func(a table.Asked) bool { return a.What == table.AskEngine }) {
			picks.Engine = o.engine
			came, got = asked, table.Read(sheets, picks)
		}
		must := got.Must()
		if must == nil {
			break
		}
		came = asked
		if must.What == table.AskDate || !o.answer(*must, &picks) {
			return refused, "no answer to " + must.What
		}
		got = table.Read(sheets, picks)
	}
	if got.Must() != nil {
		return refused, "asks on: " + got.Must().What // nothing of it comes in
	}
	want, have := o.truth(dry, wet, leak), took(got)
	for place, value := range have {
		if !same(want[place], value) {
			return wrong, fmt.Sprintf("%s: took %q, was %q", place, value, want[place])
		}
	}
	if len(got.Logs) > 1 || len(got.Logs) == 1 && !strings.EqualFold(got.Logs[0].Engine.Name, o.engine) {
		return wrong, "engine " + got.Logs[0].Engine.Name
	}
	if len(have) < len(want) {
		if o.left {
			return refused, "left out"
		}
		if len(got.Refused) == 0 {
			return wrong, fmt.Sprintf("lost %d of %d", len(want)-len(have), len(want))
		}
		return refused, fmt.Sprintf("%d of %d, %s", len(want)-len(have), len(want), got.Refused[0].Why)
	}
	return came, ""
}

// same compares values: percents as far as they were rounded.
func same(a, b string) bool {
	x, err1 := strconv.ParseFloat(a, 64)
	y, err2 := strconv.ParseFloat(b, 64)
	if err1 == nil && err2 == nil {
		return math.Abs(x-y) <= 1
	}
	return a == b
}

// What is taken from a sheet is what its owner tested: it is read right, or asked about, or refused, whatever his habits. None is
// read wrong without a question.
func TestNoSheetIsReadWrongInSilence(t *testing.T) {
	sheets := uint64(200)
	if n, err := strconv.ParseUint(os.Getenv("BRAXEL_SHEETS"), 10, 64); err == nil {
		sheets = n
	}
	from, _ := strconv.ParseUint(os.Getenv("BRAXEL_FROM"), 10, 64)
	by := map[string]map[outcome]int{}
	failed := 0
	for seed := from; seed < from+sheets; seed++ {
		o := newOwner(seed)
		rows, dry, wet, leak := o.sheets()
		rows = o.worn(rows)
		text := o.save(t, rows)
		sheet, _, err := logfile.ReadSheet("owned.csv", text)
		require.NoError(t, err, "seed %d %q", seed, text)
		require.NoError(t, err)
		became, why := o.judge([]table.Sheet{sheet}, dry, wet, leak)
		for h := range o.habits {
			if by[h] == nil {
				by[h] = map[outcome]int{}
			}
			by[h][became]++
		}
		if by["all"] == nil {
			by["all"] = map[outcome]int{}
		}
		by["all"][became]++
		if became == wrong || os.Getenv("BRAXEL_SHOW") == string(became) {
			if failed++; failed <= 12 {
				assert.Fail(t, "wrong", "seed %d %s: %s\n%s", seed, slices.Sorted(maps.Keys(o.habits)), why, show(rows))
			}
		}
	}
	for _, h := range slices.Sorted(maps.Keys(by)) {
		t.Logf("%-40s right %4d asked %4d refused %4d wrong %4d", h, by[h][right], by[h][asked], by[h][refused], by[h][wrong])
	}
	assert.Zero(t, failed)
	assert.Greater(t, float64(by["all"][right]), 0.5*float64(sheets), "most sheets say enough to be read without a question")
}

func show(rows [][]string) string {
	var b strings.Builder
	for _, r := range rows {
		b.WriteString(strings.Join(r, " | ") + "\n")
	}
	return b.String()
}
