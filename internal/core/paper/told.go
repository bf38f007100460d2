package paper

import (
	"cmp"
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/gas"
	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
)

// Told is a test of the grid with its judgement, as it would stand on record.
type Told struct {
	Key      string      `json:"key" doc:"The number of its first row"`
	Rows     []string    `json:"rows" doc:"The numbers of all its rows"`
	Test     string      `json:"test"`
	Date     string      `json:"date"`
	State    judge.State `json:"state" enum:"steady,retest,watch,act,stop"`
	Sentence string      `json:"sentence"`
}

// Result is what a grid comes to: what cannot be read, the tests with their judgement, and the entries that put them on record,
// none while a cell of the test is at fault.
type Result struct {
	Faults  []Fault `json:"faults"`
	Tests   []Told  `json:"tests"`
	Entries []Entry `json:"entries"`
}

// ErrRotary is what Of and Read answer for a rotary: its faces do not fit a column a cylinder.
var ErrRotary = say.Error("paper.enter-rotary-faces-run-sheet")

// Read reads a grid of an engine's tests, those on record and new ones. The log's testers are all that may be named.
func Read(l log.Log, rows []Row, shop rules.Shop) (Result, error) {
	if l.Engine.Kind == log.Rotary {
		return Result{}, ErrRotary
	}
	r := &reader{engine: l.Engine, testers: l.Testers}
	r.read(rows)
	for _, t := range r.tests {
		if t.id == "" && slices.ContainsFunc(l.Sessions, t.isOnRecord(l)) {
			r.faults = append(r.faults, Fault{t.key, "date", say.Text("paper.test-day-with-same-readings")})
		}
	}
	out := Result{Faults: append([]Fault{}, r.faults...), Tests: []Told{}, Entries: []Entry{}}
	for _, t := range r.tests {
		if r.isSound(t) {
			out.Entries = append(out.Entries, t.entries(l)...)
		}
		l.Sessions = put(l.Sessions, t.session(l))
	}
	verdict := judge.Log(l, shop)
	for _, t := range r.tests {
		i := slices.IndexFunc(verdict.Sessions, func(s judge.Session) bool { return s.ID == t.name() })
		if i >= 0 {
			out.Tests = append(out.Tests, Told{t.key, t.keys(), t.name(), t.head.Date, verdict.Sessions[i].State, verdict.Sessions[i].Sentence})
		}
	}
	return out, nil
}

// isOnRecord returns what tells whether a session is of the same day and says the same: then the paper was typed in before.
func (t *test) isOnRecord(l log.Log) func(log.Session) bool {
	mine := readingsOf(l, t.session(l))
	return func(s log.Session) bool { return s.Date == t.head.Date && readingsOf(l, s) == mine }
}

// readingsOf writes what was read, cylinder by cylinder, so that two tests can be told apart whatever they were read with.
func readingsOf(l log.Log, s log.Session) string {
	var all []string
	for _, row := range rowsOf(l, s) {
		all = append(all, row.What+" "+strings.Join(row.Cells, ","))
	}
	slices.Sort(all)
	return strings.Join(all, ";")
}

// isSound reports whether no cell of the test is at fault.
func (r *reader) isSound(t *test) bool {
	return t.head.Date != "" && !slices.ContainsFunc(r.faults, func(f Fault) bool {
		return f.Row == t.key || slices.ContainsFunc(t.rows, func(l line) bool { return l.Key == f.Row })
	})
}

func (t *test) keys() []string {
	keys := make([]string, len(t.rows))
	for i, l := range t.rows {
		keys[i] = l.Key
	}
	return keys
}

// put lays a session among the others, by its date; one of its id gives way to it.
func put(all []log.Session, s log.Session) []log.Session {
	if s.Date == "" {
		return all
	}
	rest := slices.DeleteFunc(slices.Clone(all), func(o log.Session) bool { return o.ID == s.ID })
	at, _ := slices.BinarySearchFunc(rest, s, func(o, s log.Session) int { return cmp.Or(cmp.Compare(o.Date, s.Date), -1) })
	return slices.Insert(rest, at, s)
}

// name is the id by which a test is, or will be, on record.
func (t *test) name() string { return cmp.Or(t.id, "paper-"+t.key) }

// session returns the test as it would stand.
func (t *test) session(l log.Log) log.Session {
	s := t.head
	if i := l.At(t.id); t.id != "" && i >= 0 {
		have := l.Sessions[i]
		have.Date, have.Meter, have.Note = cmp.Or(s.Date, have.Date), s.Meter, s.Note
		have.Conditions.EngineTemp = s.Conditions.EngineTemp
		s = have
		s.Compression, s.Leakdown = nil, nil
	}
	s.ID = t.name()
	for _, row := range t.rows {
		for _, c := range l.Engine.Cylinders() {
			one, typed := row.cells[c]
			if !typed {
				continue
			}
			for _, k := range one.leaks {
				s.Leakdown = append(s.Leakdown, k.row(l.Engine.Place(c), row.tester))
			}
			if len(one.pulls) > 0 {
				s.Compression = append(s.Compression, log.Compression{
					Place: l.Engine.Place(c), Mode: row.what, Tester: row.tester, Pulls: pullsOf(one.pulls, row.unit),
				})
			}
		}
	}
	return s
}

func pullsOf(values []float64, unit units.Unit) []log.Pull {
	pulls := make([]log.Pull, len(values))
	for i, v := range values {
		pulls[i] = log.Pull{Reading: units.Reading{Value: v, Unit: unit}}
	}
	return pulls
}

// Of returns the tests that are on record as the rows of a grid, the oldest first.
func Of(l log.Log) ([]Row, error) {
	if l.Engine.Kind == log.Rotary {
		return nil, ErrRotary
	}
	rows := []Row{}
	for _, s := range l.Sessions {
		if !s.Open { // it is on the sheet
			rows = append(rows, rowsOf(l, s)...)
		}
	}
	return rows, nil
}

// rowsOf returns a test as rows: one for what was read dry, wet, or leaked down with one tester.
func rowsOf(l log.Log, s log.Session) []Row {
	var rows []Row
	at := func(what, tester string, unit units.Unit) *Row {
		gauge := gaugeOf(l, tester)
		for i := range rows {
			if rows[i].What == what && rows[i].Gauge == gauge && rows[i].Unit == string(unit) {
				return &rows[i]
			}
		}
		rows = append(rows, Row{
			Key: s.ID + "-" + strconv.Itoa(len(rows)+1), Test: s.ID,
			Gauge: gauge, What: what, Unit: string(unit), Cells: make([]string, len(l.Engine.Cylinders())),
		})
		return &rows[len(rows)-1]
	}
	add := func(r *Row, cylinder int, text string) {
		i := slices.Index(l.Engine.Cylinders(), cylinder)
		if i < 0 {
			return
		}
		if r.Cells[i] != "" {
			text = r.Cells[i] + "/" + text
		}
		r.Cells[i] = text
	}
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			if p.Struck == "" {
				add(at(row.Mode, row.Tester, p.Unit), row.Cylinder, units.Figure(p.Value))
			}
		}
	}
	for _, row := range s.Leakdown {
		if row.Struck == "" {
			add(at(Leak, row.Tester, row.Unit), row.Cylinder, leakText(row))
		}
	}
	if len(rows) == 0 {
		at(Dry, s.Gauge, units.PSI)
	}
	rows[0].Date, rows[0].Temp, rows[0].Note = s.Date, s.Conditions.EngineTemp, s.Note
	if s.Meter != nil {
		rows[0].Meter = units.Figure(*s.Meter)
	}
	return rows
}

// gaugeOf returns the name of a tester, its id where it has none.
func gaugeOf(l log.Log, tester string) string {
	t, _ := l.Tester(tester)
	return cmp.Or(t.Name, tester)
}

// leakText writes a leak as it is most often written down: in percent, to the tenth.
func leakText(row log.Leakdown) string {
	pct := gas.LeakPct(row.SupplyReading().Pressure(), row.HeldReading().Pressure())
	text := strings.TrimSuffix(strconv.FormatFloat(pct, 'f', 1, 64), ".0")
	if row.Paths != nil && len(row.Paths) == 0 {
		return text + " " + nothing
	}
	for _, p := range row.Paths {
		if text += written.PlaceLetter(p.Where); p.Level > 0 {
			text += strconv.Itoa(p.Level)
		}
	}
	return text
}
