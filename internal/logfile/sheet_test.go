package logfile_test

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"braxel/internal/core/log"
	"braxel/internal/core/table"
	"braxel/internal/core/written"
	"braxel/internal/logfile"
)

// A keeper is somebody who keeps readings in a spreadsheet, with habits of his own. Nothing of the reader's is used to write.
type keeper struct {
	*rand.Rand
	comma     bool // decimal comma, and semicolons between cells
	tab       bool
	unit      string
	unitAt    string // title, heading, cell
	dates     string // a layout of time
	cylinder  string // how cylinders are headed
	name      string
	encoding  string
	totals    bool
	inOneCell bool
}

type visit struct {
	day      time.Time
	dry, wet [][]float64
	leak     []float64
	note     string
	hours    float64
}

func newKeeper(r *rand.Rand) *keeper {
	pick := func(of ...string) string { return of[r.IntN(len(of))] }
	k := &keeper{Rand: r, comma: r.IntN(3) == 0, tab: r.IntN(4) == 0, unit: pick("psi", "bar", "kPa"), unitAt: pick("title", "heading", "cell")}
	k.dates = pick("2006-01-02", "2.1.2006", "02/01/2006", "01/02/2006", "2 Jan 2006", "January 2, 2006", "2-Jan-06", "2006/1/2")
	k.cylinder = pick("Cyl %d", "%d", "#%d", "No. %d", "Cylinder %d", "cyl%d", "C%d", "Zyl. %d")
	k.name = pick("Siskin 1.8", "Merganser 302", "Old Brambling", "Moorhen", "Linnet four", "Pipit 2000 race engine")
	k.encoding = pick("plain", "bom", "utf-16", "cp1252")
	k.totals, k.inOneCell = r.IntN(2) == 0, r.IntN(2) == 0
	return k
}

func (k *keeper) figure(v float64) string {
	text := strconv.FormatFloat(v, 'f', -1, 64)
	if k.comma {
		text = strings.Replace(text, ".", ",", 1)
	}
	return text
}

func (k *keeper) pressure(v float64) string {
	if k.unitAt == "cell" {
		return k.figure(v) + " " + k.unit
	}
	return k.figure(v)
}

func (k *keeper) pulls(all []float64) string {
	texts := make([]string, len(all))
	for i, v := range all {
		texts[i] = k.figure(v)
	}
	text := strings.Join(texts, "/")
	if k.unitAt == "cell" {
		text += " " + k.unit
	}
	return text
}

func (k *keeper) headed(text string) string {
	if k.unitAt == "heading" {
		return text + " (" + k.unit + ")"
	}
	return text
}

// visits makes up what was read of n cylinders.
func (k *keeper) visits(n int) []visit {
	scale := map[string]float64{"psi": 170, "bar": 11.7, "kPa": 1180}[k.unit]
	round := func(v float64) float64 {
		if k.unit == "bar" {
			return math.Round(v*10) / 10
		}
		return math.Round(v)
	}
	day := time.Date(2031, 1, 13+k.IntN(15), 0, 0, 0, 0, time.UTC)
	var all []visit
	hours := 10.0
	for range 2 + k.IntN(4) {
		v := visit{day: day, hours: hours}
		for range n {
			pulls := []float64{round(scale * (0.95 + 0.1*k.Float64()))}
			for k.inOneCell && len(pulls) < 1+k.IntN(3) {
				pulls = append(pulls, round(scale*(0.95+0.1*k.Float64())))
			}
			v.dry = append(v.dry, pulls)
			v.wet = append(v.wet, []float64{round(scale * (1.05 + 0.1*k.Float64()))})
			v.leak = append(v.leak, float64(3+k.IntN(20)))
		}
		if k.IntN(3) == 0 {
			v.note = "oil changed before"
		}
		all = append(all, v)
		day = day.AddDate(0, 1+k.IntN(3), k.IntN(9))
		hours += float64(2 + k.IntN(30))
	}
	return all
}

// write lays visits out in one of the ways in which people do, and says which of wet and leak it shows.
func (k *keeper) write(visits []visit) (rows [][]string, wet, leak bool) {
	n := len(visits[0].dry)
	title := k.name
	if k.unitAt == "title" {
		title += ", " + k.unit
	}
	rows = append(rows, []string{title})
	if k.IntN(2) == 0 {
		rows = append(rows, nil)
	}
	head := func(i int) string { return fmt.Sprintf(k.cylinder, i+1) }
	switch layout := k.IntN(5); layout {
	case 0, 1: // a row a test; turned, a column a test
		table := [][]string{{"Date", "Hours"}}
		for i := range n {
			table[0] = append(table[0], k.headed(head(i)))
		}
		table[0] = append(table[0], "Notes")
		for _, v := range visits {
			row := []string{v.day.Format(k.dates), k.figure(v.hours)}
			for _, p := range v.dry {
				row = append(row, k.pulls(p))
			}
			table = append(table, append(row, v.note))
		}
		if layout == 1 {
			if k.cylinder == "%d" {
				k.cylinder = "Cyl %d"
			}
			turned := make([][]string, len(table[0]))
			for r, row := range table {
				for c, cell := range row {
					if r == 0 && c >= 2 && c < 2+n {
						cell = k.headed(head(c - 2))
					}
					turned[c] = append(turned[c], cell)
				}
			}
			table = turned
		} else if k.totals {
			row := []string{"Average", ""}
			for range n {
				row = append(row, k.pressure(visits[0].dry[0][0]))
			}
			table = append(table, row)
		}
		return append(rows, table...), false, false
	case 2: // a row a reading
		rows = append(rows, []string{"Date", "Hours", "Cyl", "Test", k.headed("Value")})
		for _, v := range visits {
			for i := range n {
				for _, p := range v.dry[i] {
					rows = append(rows, []string{v.day.Format(k.dates), k.figure(v.hours), strconv.Itoa(i + 1), "dry", k.pressure(p)})
				}
				rows = append(rows, []string{v.day.Format(k.dates), k.figure(v.hours), strconv.Itoa(i + 1), "wet", k.pressure(v.wet[i][0])})
			}
		}
		return rows, true, false
	case 3: // a row a cylinder, columns of tests under their days
		over, under := []string{""}, []string{"Cyl"}
		for _, v := range visits {
			over = append(over, v.day.Format(k.dates), "", "")
			under = append(under, k.headed("dry"), k.headed("wet"), "leak %")
		}
		rows = append(rows, over, under)
		for i := range n {
			row := []string{head(i)}
			for _, v := range visits {
				row = append(row, k.pulls(v.dry[i]), k.pressure(v.wet[i][0]), k.figure(v.leak[i]))
			}
			rows = append(rows, row)
		}
		return rows, true, true
	default: // a table a test, each under its day
		for _, v := range visits {
			rows = append(rows, []string{"Test of " + v.day.Format(k.dates)}, []string{"Cylinder", k.headed("Dry"), k.headed("Wet"), "Leak"})
			for i := range n {
				rows = append(rows, []string{strconv.Itoa(i + 1), k.pulls(v.dry[i]), k.pressure(v.wet[i][0]), k.figure(v.leak[i]) + " %"})
			}
			if k.totals {
				rows = append(rows, []string{"Mean", k.pressure(v.dry[0][0]), "", ""})
			}
			rows = append(rows, nil)
		}
		return rows, true, true
	}
}

// save writes rows as a spreadsheet saves them.
func (k *keeper) save(t *testing.T, rows [][]string) []byte {
	var b strings.Builder
	out := csv.NewWriter(&b)
	out.UseCRLF = k.IntN(2) == 0
	switch {
	case k.tab:
		out.Comma = '\t'
	case k.comma:
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
	text := []byte(b.String())
	switch k.encoding {
	case "bom":
		return append([]byte("\xef\xbb\xbf"), text...)
	case "utf-16":
		coded, err := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewEncoder().Bytes(text)
		require.NoError(t, err)
		return coded
	case "cp1252":
		coded, err := charmap.Windows1252.NewEncoder().Bytes(text)
		require.NoError(t, err)
		return coded
	}
	return text
}

// said lists readings as "date kind cylinder: figures".
func said(l log.Log) []string {
	var all []string
	for _, s := range l.Sessions {
		for _, c := range s.Compression {
			line := fmt.Sprintf("%s %s %d:", s.Date, c.Mode, c.Cylinder)
			for _, p := range c.Pulls {
				line += fmt.Sprintf(" %g %s", p.Value, p.Unit)
				if p.Struck != "" {
					line += " struck"
				}
			}
			all = append(all, line)
		}
		for _, r := range s.Leakdown {
			all = append(all, fmt.Sprintf("%s leak %d: %.1f", s.Date, r.Cylinder, 100*(1-r.Held/r.Supply)))
		}
	}
	slices.Sort(all)
	return all
}

func TestSheetsOfEveryHabitAreReadByTheGuessAlone(t *testing.T) {
	const sheets = 250
	for seed := range uint64(sheets) {
		k := newKeeper(rand.New(rand.NewPCG(seed, 12)))
		visits := k.visits(1 + k.IntN(8))
		if len(visits[0].dry) < 2 {
			visits = k.visits(4)
		}
		rows, wet, leak := k.write(visits)
		text := k.save(t, rows)
		var want []string
		for _, v := range visits {
			for i, pulls := range v.dry {
				line := fmt.Sprintf("%s dry %d:", v.day.Format(time.DateOnly), i+1)
				for _, p := range pulls {
					line += fmt.Sprintf(" %g %s", p, k.unit)
				}
				want = append(want, line)
				if wet {
					want = append(want, fmt.Sprintf("%s wet %d: %g %s", v.day.Format(time.DateOnly), i+1, v.wet[i][0], k.unit))
				}
				if leak {
					want = append(want, fmt.Sprintf("%s leak %d: %.1f", v.day.Format(time.DateOnly), i+1, v.leak[i]))
				}
			}
		}
		slices.Sort(want)
		sheet, _, err := logfile.ReadSheet("kept.csv", text)
		require.NoError(t, err)
		got := table.Read([]table.Sheet{sheet}, table.Picks{})
		if !assert.Len(t, got.Logs, 1, "seed %d\n%s", seed, text) {
			return
		}
		if !assert.Equal(t, want, said(got.Logs[0]), "seed %d\n%s", seed, text) {
			return
		}
		assert.Equal(t, k.name, got.Logs[0].Engine.Name, "seed %d", seed)
		assert.Empty(t, got.Refused, "seed %d\n%s", seed, text)
	}
}

func TestOddHabitsAreReadToo(t *testing.T) {
	for name, c := range map[string]struct {
		sheet   string
		says    []string
		refused int
		asked   string
	}{
		"cylinders beside each other, what was tested below": {
			"Ruff straight six\nTested: 14 June 2031, engine warm\n\nCylinder,1,2\nDry,155,120\nWet (1 tsp oil),168,125\nLeak %,7,28\nAir at,,exhaust\n",
			[]string{
				"2031-06-14 dry 1: 155 psi", "2031-06-14 dry 2: 120 psi", "2031-06-14 leak 1: 7.0", "2031-06-14 leak 2: 28.0",
				"2031-06-14 wet 1: 168 psi", "2031-06-14 wet 2: 125 psi",
			}, 0, "unit",
		},
		"what was tested beside the cylinder, days over columns": {
			"Cyl;06.01.2031;06.07.2031\nMeter (h);0;25\n1 trocken;12,0;11,9\n1 Druckverlust;4%;14% (Auspuff)\n",
			[]string{"2031-01-06 dry 1: 12 bar", "2031-01-06 leak 1: 4.0", "2031-07-06 dry 1: 11.9 bar", "2031-07-06 leak 1: 14.0"}, 0, "unit engine",
		},
		"held of a supply that stands in the heading, cold and hot": {
			"Kittiwake,,,\nCyl,Cold psi,Hot psi,Leak @100psi\n1,140,155,94\n2,141,156,80\n",
			[]string{" dry 1: 140 psi", " dry 1: 155 psi", " dry 2: 141 psi", " dry 2: 156 psi", " leak 1: 6.0", " leak 2: 20.0"}, 0, "date",
		},
		"a letter for the kind": {
			"date,c1,c2,l1,l2\n3/15/31,150,151,5,6\n",
			[]string{"2031-03-15 dry 1: 150 psi", "2031-03-15 dry 2: 151 psi", "2031-03-15 leak 1: 5.0", "2031-03-15 leak 2: 6.0"}, 0, "unit engine",
		},
		"rows that are numbered, an engine that has no ninth": {
			"No,Engine,Test date,Cyl No,Test type,Reading 1,Reading 2,Unit\n1,Goldeneye V8,2031-04-02,1,C,150,151,psi\n" +
				"2,Goldeneye V8,2031-04-02,2,C,150,149,psi\n3,Goldeneye V8,2031-04-02,2,L,8,,%\n4,Goldeneye V8,2031-04-02,9,C,150,,psi\n",
			[]string{"2031-04-02 dry 1: 150 psi 151 psi", "2031-04-02 dry 2: 150 psi 149 psi", "2031-04-02 leak 2: 8.0"}, 1, "",
		},
		"pulls and kinds in one cell": {
			"date|cyl1|cyl2|cyl3|cyl4\n2031/1/5|150-155|151 152|150 (160 wet)|149d 158w\n2031/2/5|~150|~~140~~ 151|bad plug|-149\n",
			[]string{
				"2031-01-05 dry 1: 150 psi 155 psi", "2031-01-05 dry 2: 151 psi 152 psi", "2031-01-05 dry 3: 150 psi", "2031-01-05 dry 4: 149 psi",
				"2031-01-05 wet 3: 160 psi", "2031-01-05 wet 4: 158 psi", "2031-02-05 dry 1: 150 psi", "2031-02-05 dry 2: 140 psi struck 151 psi",
			}, 2, "ranges unit engine",
		},
		"a word that means a poor cylinder strikes nothing": {
			"Ruff,psi\nDate,1,2\n2031-05-01,150,96 bad\n2031-06-01,150,140 void / 97\n",
			[]string{"2031-05-01 dry 1: 150 psi", "2031-05-01 dry 2: 96 psi", "2031-06-01 dry 1: 150 psi", "2031-06-01 dry 2: 140 psi struck 97 psi"}, 0, "",
		},
		"supply and held of each cylinder": {
			"when,cyl 1 in,cyl 1 out,cyl 2 in,cyl 2 out\n05-Mar-2031,100,95,98,79\n",
			[]string{"2031-03-05 leak 1: 5.0", "2031-03-05 leak 2: 19.4"}, 0, "engine",
		},
		"no day of any year, and one that may be two": {
			"Ruff\nDate,1,2,3\n31/02/2031,150,151,152\n03/04/2031,150,151,152\n", []string{" dry 1: 150 psi", " dry 2: 151 psi", " dry 3: 152 psi"}, 1, "dates unit",
		},
		"cylinders under no heading, days over columns, thousands parted by a space": {
			"sep=;\nRuff\n;9.5.2031;30.11.2031\n1;1 160 kPa;1 150\n2;1 180 kPa;950\n",
			[]string{"2031-05-09 dry 1: 1160 kPa", "2031-05-09 dry 2: 1180 kPa", "2031-11-30 dry 1: 1150 kPa", "2031-11-30 dry 2: 950 kPa"}, 0, "",
		},
		"what was said stands below": {
			"Cylindre;Sec (bar)\n1;11,8\n2;11,9\n\nMoteur : Rossignol\nDate : 3 mars 2031\n",
			[]string{"2031-03-03 dry 1: 11.8 bar", "2031-03-03 dry 2: 11.9 bar"}, 0, "",
		},
	} {
		sheet, _, err := logfile.ReadSheet("odd.csv", []byte(c.sheet))
		require.NoError(t, err)
		got := table.Read([]table.Sheet{sheet}, table.Picks{})
		require.Len(t, got.Logs, 1, name)
		assert.Equal(t, c.says, said(got.Logs[0]), name)
		assert.Len(t, got.Refused, c.refused, name)
		var asked []string
		for _, a := range got.Asked {
			asked = append(asked, a.What)
		}
		assert.Equal(t, c.asked, strings.Join(asked, " "), name)
	}
}

func TestTheGivenSheetsAreReadAsACarefulPersonReadsThem(t *testing.T) {
	type truth struct {
		File   string
		Engine *string
		Tests  []struct {
			Date     string
			Readings []struct {
				Cylinder, Kind, Unit string
				Pulls                []float64
				Leak                 float64 `json:"leak_pct"`
			}
		}
		Refused []struct{ Row int }
	}
	var all []truth
	text, err := os.ReadFile("testdata/sheets/truth.json")
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(text, &all))
	for _, want := range all {
		text, err := os.ReadFile(filepath.Join("testdata/sheets", want.File))
		require.NoError(t, err)
		sheet, _, err := logfile.ReadSheet(want.File, text)
		require.NoError(t, err)
		got := table.Read([]table.Sheet{sheet}, table.Picks{})
		require.Len(t, got.Logs, 1, want.File)
		l := got.Logs[0]
		if want.Engine != nil {
			assert.Equal(t, *want.Engine, l.Engine.Name)
		}
		var lines []string
		for _, v := range want.Tests {
			for _, r := range v.Readings {
				number := r.Cylinder
				for n, name := range l.Engine.Layout.Names {
					if name == r.Cylinder {
						number = n
					}
				}
				if r.Kind == "leak" {
					lines = append(lines, fmt.Sprintf("%s leak %s: %.1f", v.Date, number, r.Leak))
					continue
				}
				line := fmt.Sprintf("%s %s %s:", v.Date, r.Kind, number)
				for _, p := range r.Pulls {
					line += fmt.Sprintf(" %g %s", p, r.Unit)
				}
				lines = append(lines, line)
			}
		}
		slices.Sort(lines)
		assert.Equal(t, lines, said(l), want.File)
		rows := []int{}
		for _, r := range got.Refused {
			rows = append(rows, r.Row)
		}
		refused := []int{}
		for _, r := range want.Refused {
			refused = append(refused, r.Row)
		}
		assert.Equal(t, refused, rows, want.File)
		require.NoError(t, l.Check().Err(), want.File)
	}
}

// FuzzSheet looks for a file that stops the reader, or of which it makes a log that no book would take.
func FuzzSheet(f *testing.F) {
	given, err := filepath.Glob("testdata/sheets/*.csv")
	require.NoError(f, err)
	for _, file := range given {
		text, err := os.ReadFile(file)
		require.NoError(f, err)
		f.Add(text)
	}
	for seed := range uint64(40) {
		k := newKeeper(rand.New(rand.NewPCG(seed, 1)))
		rows, _, _ := k.write(k.visits(3))
		f.Add([]byte(strings.Join(slices.Concat(rows...), ",")))
	}
	f.Fuzz(func(t *testing.T, text []byte) {
		sheet, _, err := logfile.ReadSheet("fuzzed.csv", text)
		if err != nil {
			return
		}
		got := table.Read([]table.Sheet{sheet}, table.Picks{Date: "2033-01-01", Dates: written.DayFirst})
		for _, l := range got.Logs {
			if err := l.Check().Err(); err != nil {
				t.Fatalf("%v\n%q", err, text)
			}
		}
	})
}

// What the sheet says in its titles, headings and remarks counts, however people put it; what it leaves open is asked.
func TestWhatATitleOrARemarkSaysCounts(t *testing.T) {
	for name, c := range map[string]struct {
		sheet string
		says  []string
		asked string
	}{
		"a tester set to 80": {
			"Ruff, leak-down 80 psi in\ncyl,held\n1,76\n2,72\ntested 12 May 2031\n", []string{"2031-05-12 leak 1: 5.0", "2031-05-12 leak 2: 10.0"}, "",
		},
		"held of a hundred, under no word for a leak": {
			"Ruff, held of 100\nDate,1,2,3\n12 May 2031,95,94,90\n", []string{"2031-05-12 leak 1: 5.0", "2031-05-12 leak 2: 6.0", "2031-05-12 leak 3: 10.0"}, "",
		},
		"held of nobody says what": {
			"Ruff\nDate,Cyl,Held\n12 May 2031,1,72\n12 May 2031,2,70\n", []string{"2031-05-12 leak 1: 28.0", "2031-05-12 leak 2: 30.0"}, "supply",
		},
		"percents that could be bars": {
			"Ruff\nDate,1,2,3,4\n12 May 2031,5,9,4,12\n",
			[]string{"2031-05-12 leak 1: 5.0", "2031-05-12 leak 2: 9.0", "2031-05-12 leak 3: 4.0", "2031-05-12 leak 4: 12.0"}, "kind",
		},
		"units behind the numbers of cylinders": {
			"Ruff\nDate,1 psi,2 psi\n12 May 2031,150,151\n", []string{"2031-05-12 dry 1: 150 psi", "2031-05-12 dry 2: 151 psi"}, "",
		},
		"wet in brackets, kilograms, decimal commas": {
			"Ruff;kg\nDatum;Zyl 1, trocken (mit Öl);Zyl 2, trocken (mit Öl)\n12.5.2031;11,2 (12,1);11,4 (12,3)\n",
			[]string{"2031-05-12 dry 1: 11.2 kgf/cm2", "2031-05-12 dry 2: 11.4 kgf/cm2", "2031-05-12 wet 1: 12.1 kgf/cm2", "2031-05-12 wet 2: 12.3 kgf/cm2"}, "",
		},
		"two cylinders in a column": {
			"Ruff twin, psi\nDate,L/R,huile\n12 May 2031,150/148,160/158\n",
			[]string{"2031-05-12 dry 1: 150 psi", "2031-05-12 dry 2: 148 psi", "2031-05-12 wet 1: 160 psi", "2031-05-12 wet 2: 158 psi"}, "",
		},
		"a remark on one reading": {
			"Ruff, psi\nDate,1,2\n12 May 2031,120/150,151\n1st on #1 had the throttle shut\n", []string{"2031-05-12 dry 1: 120 psi 150 psi", "2031-05-12 dry 2: 151 psi"},
			"remarks",
		},
		"a nought too many": {
			"Ruff, psi\nDate,1,2,3\n12 May 2031,150,1510,149\n1 June 2031,150,151,148\n",
			[]string{"2031-05-12 dry 1: 150 psi", "2031-05-12 dry 3: 149 psi", "2031-06-01 dry 1: 150 psi", "2031-06-01 dry 2: 151 psi", "2031-06-01 dry 3: 148 psi"}, "",
		},
		"one engine in two spellings": {
			"Engine,Date,Cyl,psi\nRuff,2031-05-12,1,150\nRUFF,2031-05-12,2,151\n", []string{"2031-05-12 dry 1: 150 psi", "2031-05-12 dry 2: 151 psi"}, "",
		},
		"cylinders counted anew in each bank": {
			"Ruff V4, psi\nDate,Bank,Cyl,Dry\n2031-05-12,L,1,150\n2031-05-12,L,2,151\n2031-05-12,R,1,148\n2031-05-12,R,2,149\n",
			[]string{"2031-05-12 dry 1: 150 psi", "2031-05-12 dry 2: 151 psi", "2031-05-12 dry 3: 148 psi", "2031-05-12 dry 4: 149 psi"}, "",
		},
	} {
		sheet, _, err := logfile.ReadSheet("kept.csv", []byte(c.sheet))
		require.NoError(t, err)
		got := table.Read([]table.Sheet{sheet}, table.Picks{})
		if !assert.Len(t, got.Logs, 1, name) {
			continue
		}
		assert.Equal(t, c.says, said(got.Logs[0]), name)
		assert.True(t, strings.HasPrefix(got.Logs[0].Engine.Name, "Ruff"), "%s: %s", name, got.Logs[0].Engine.Name)
		var asked []string
		for _, a := range got.Asked {
			if a.Must {
				asked = append(asked, a.What)
			}
		}
		assert.Equal(t, c.asked, strings.Join(asked, " "), name)
	}
}
