package table

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/go-json-experiment/json"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/written"
)

// build makes a log of each engine's tests. Names that differ only in letter case, spaces or signs are one engine.
func (r *reader) build() {
	var keys []string
	of := map[string][]*test{}
	for _, t := range r.tests {
		key := r.keyOf(t.engine)
		if of[key] == nil {
			keys = append(keys, key)
		}
		of[key] = append(of[key], t)
	}
	for _, key := range keys {
		mine := of[key]
		name := mine[0].engine
		called := firstOf(name, r.picks.Engine, r.titled, r.sheet.Name, "Engine")
		first := mine[0].line.n
		l, any := r.engine(called, mine)
		for _, t := range mine {
			t.taken = nil // they are in the log
		}
		if !any {
			continue
		}
		if name == "" && r.picks.Engine == "" && r.picks.Into == nil {
			r.out.Asked = append(r.out.Asked, Asked{
				What: AskEngine, Sheet: r.sheet.Title, Took: called, Words: say.Text("table.sheet-doesnt-name-engine-what"),
			})
		}
		if faults := wrong(l); len(faults) > 0 {
			// No sheet of readings comes to this; one that is read amiss may.
			r.out.Refused = append(r.out.Refused, Refused{
				Sheet: r.sheet.Title, Row: first, Text: called, Why: say.Text("table.read-like-sheet-doesnt-make",
					"at", faults[0].At,
					"what", faults[0].What,
				),
			})
			continue
		}
		matched := Matched{Name: called}
		if l.Engine.ID != "" {
			matched.ID, matched.As = l.Engine.ID, l.Engine.Name
		}
		r.out.Engines = append(r.out.Engines, matched)
		r.out.Logs = append(r.out.Logs, l)
	}
}

// wrong returns what is wrong with a log, but for days that are still asked about.
func wrong(l log.Log) log.Faults {
	l.Sessions = slices.Clone(l.Sessions)
	last := "1900-01-01"
	for i := range l.Sessions {
		if l.Sessions[i].Date == "" {
			l.Sessions[i].Date = last
		}
		last = l.Sessions[i].Date
	}
	return l.Check()
}

// engine makes the log of one engine.
func (r *reader) engine(name string, tests []*test) (log.Log, bool) {
	const mostLetters = 120
	l := log.Log{Format: log.Format, Version: log.Version, Sessions: []log.Session{}}
	l.Engine = log.Engine{Name: fmt.Sprintf("%.*s", mostLetters, name), Kind: log.FourStroke}
	for _, sign := range []string{"two-stroke", "2-stroke", "two stroke", "2 stroke", "zweitakt", "2 temps", "2-temps"} {
		if strings.Contains(written.Fold(name+" "+strings.Join(r.says.more, " ")), sign) {
			l.Engine.Kind = log.TwoStroke
		}
	}
	here := r.engineHere(name, cylindersRead(tests))
	numbers := r.cylinders(&l, name, tests, here)
	if len(numbers) == 0 {
		return l, false
	}
	if here != nil {
		l.Engine = *here
	}
	for _, t := range tests {
		if len(t.taken) == 0 {
			if text := firstOf(join(t.stage, t.note), t.note); text != "" && t.date != "" {
				l.Notes = append(l.Notes, log.Note{Date: t.date, Text: fmt.Sprintf("%.1000s", text)})
			}
			continue
		}
		r.meterUnit(&l, t)
		s := r.session(&l, t, numbers)
		if len(s.Compression)+len(s.Leakdown) > 0 {
			l.Sessions = append(l.Sessions, s)
		}
	}
	slices.SortStableFunc(l.Sessions, func(a, b log.Session) int { return cmp.Compare(a.Date, b.Date) })
	for i := range l.Sessions { // by which wrong tells them apart, until all sheets are read
		l.Sessions[i].ID = strconv.Itoa(i + 1)
	}
	return l, len(l.Sessions) > 0
}

// cylindersRead counts the cylinders that tests tell of.
func cylindersRead(tests []*test) int {
	names := map[string]bool{}
	for _, t := range tests {
		for _, k := range t.taken {
			names[k.cylinder] = true
		}
	}
	return len(names)
}

// idOf names a test by its day and by what it says, so that the same sheet brings in the same tests.
func idOf(s log.Session) string {
	text, _ := json.Marshal(s, json.Deterministic(true))
	const enough = 6
	return firstOf(s.Date, "undated") + "-" + book.NameOf("sheet", string(text))[:enough]
}

func (r *reader) meterUnit(l *log.Log, t *test) {
	if t.meter == nil || t.meterUnit == "" {
		return
	}
	if l.Engine.MeterUnit == "" {
		l.Engine.MeterUnit = t.meterUnit
		return
	}
	if l.Engine.MeterUnit != t.meterUnit {
		r.doubt(t.line, -1, say.Number(*t.meter), say.Text("table.meter-here-elsewhere-so-left",
			"meterUnit", t.meterUnit,
			"meterUnit2", l.Engine.MeterUnit,
		))
		t.meter = nil
	}
}

// cylinders numbers the cylinders of an engine, lays them out, and drops readings of those that it has not.
func (r *reader) cylinders(l *log.Log, name string, tests []*test, here *log.Engine) map[string]int {
	var names []string
	for _, c := range r.columns { // in the order of the sheet, also those without a reading
		if c.Means == Reading && c.Cylinder != "" && !slices.Contains(names, c.Cylinder) {
			names = append(names, c.Cylinder)
		}
	}
	for _, t := range tests {
		for _, k := range t.taken {
			if !slices.Contains(names, k.cylinder) {
				names = append(names, k.cylinder)
			}
		}
	}
	if here != nil {
		return r.onRecord(*here, tests)
	}
	numbered := !slices.ContainsFunc(names, func(n string) bool { _, err := strconv.Atoi(n); return err != nil })
	numbers := map[string]int{}
	if !numbered {
		if len(names) > mostCylinders {
			return nil
		}
		l.Engine.Layout.Names = map[string]string{}
		for i, n := range names {
			numbers[n] = i + 1
			if strconv.Itoa(i+1) != n {
				l.Engine.Layout.Names[strconv.Itoa(i+1)] = n
			}
		}
		l.Engine.Layout.Banks = bank(len(names))
		return numbers
	}
	has := cylindersNamed(name)
	if beyond(tests, has) {
		r.out.Doubts = append(r.out.Doubts, Doubt{Words: say.Text("table.has-cylinders-name-but-more", "name", name, "has", has)})
		has = 0
	}
	most := 0
	for _, n := range names {
		v, _ := strconv.Atoi(n)
		if v >= 1 && v <= mostCylinders && (has == 0 || v <= has) {
			most = max(most, v)
		}
	}
	if has == 0 {
		most = withoutGap(tests, most)
	}
	most = max(most, has)
	for v := 1; v <= most; v++ {
		numbers[strconv.Itoa(v)] = v
	}
	r.drop(tests, numbers, func(c string) string {
		if most == 1 {
			return say.Text("table.single-has-no-cylinder", "cylinder", c)
		}
		return say.Text("table.engine-has-cylinders-so-no", "most", most, "cylinder", c)
	})
	l.Engine.Layout.Banks = bank(most)
	if most > 1 && veeForm.MatchString(written.Fold(name)) {
		r.out.Doubts = append(r.out.Doubts, Doubt{
			Words: say.Text("table.sheet-doesnt-say-which-cylinders", "name", name),
		})
	}
	return numbers
}

// beyond reports whether readings of cylinders that an engine has not by its name are too many for all to be slips, or one such
// cylinder was read as often as the first.
func beyond(tests []*test, has int) bool {
	all, over := 0, 0
	times := map[int]map[*test]bool{}
	for _, t := range tests {
		for _, k := range t.taken {
			all++
			v, _ := strconv.Atoi(k.cylinder)
			if times[v] == nil {
				times[v] = map[*test]bool{}
			}
			times[v][t] = true
			if v > has {
				over++
			}
		}
	}
	often := false
	for v, in := range times {
		often = often || v > has && len(in) > 1 && len(in) >= len(times[1])
	}
	const slips = 0.4
	return has > 0 && (often || float64(over) > slips*float64(all))
}

// mostCylinders is as many as a log's engine may have.
const mostCylinders = 64

// bank lays n cylinders out in rows that a log may have: which stand beside which, a sheet does not say.
func bank(n int) [][]int {
	const mostInRow = 16
	var banks [][]int
	for v := 1; v <= n; v++ {
		if (v-1)%mostInRow == 0 {
			banks = append(banks, nil)
		}
		banks[len(banks)-1] = append(banks[len(banks)-1], v)
	}
	return banks
}

// withoutGap returns the last cylinder of an engine that does not say how many it has: one beyond a gap in the numbers, read
// once where the others were read more often, is a slip.
func withoutGap(tests []*test, most int) int {
	times := map[int]int{}
	for _, t := range tests {
		for _, k := range t.taken {
			v, _ := strconv.Atoi(k.cylinder)
			times[v]++
		}
	}
	last := 0
	for times[last+1] > 0 {
		last++
	}
	for v, n := range times {
		if v > last+1 && (n > 1 || last < 2 || times[1] < 2) {
			return most
		}
	}
	if last == 0 {
		return most
	}
	return min(last, mostCylinders)
}

// drop refuses the readings of cylinders that are not there.
func (r *reader) drop(tests []*test, numbers map[string]int, why func(cylinder string) string) {
	said := map[int]bool{}
	for _, t := range tests {
		t.taken = slices.DeleteFunc(t.taken, func(k taken) bool {
			if _, ok := numbers[k.cylinder]; ok {
				return false
			}
			column := k.column
			if r.long {
				column = -1
			}
			if !r.long || !said[k.line.n] {
				r.refuse(k.line, column, k.cylinder, why(k.cylinder))
			}
			said[k.line.n] = true
			return true
		})
	}
}

// onRecord finds the sheet's cylinders on an engine that is on record.
func (r *reader) onRecord(e log.Engine, tests []*test) map[string]int {
	numbers := map[string]int{}
	for _, c := range e.Cylinders() {
		numbers[strconv.Itoa(c)] = c
		if own := e.Layout.Names[strconv.Itoa(c)]; own != "" {
			numbers[own] = c
			numbers[tidy(written.Fold(own))] = c
		}
	}
	r.drop(tests, numbers, func(c string) string { return say.Text("table.has-no-cylinder", "name", e.Name, "cylinder", c) })
	return numbers
}

var stages = map[string]string{
	"as found": "as-found", "pre install": "pre-install", "before install": "pre-install", "before installation": "pre-install",
	"after running": "after-running", "after break-in": "after-running", "break-in": "after-running", "dyno": "dyno", "pre season": "pre-season",
	"before season": "pre-season", "service": "service", "between runs": "between-runs", "post season": "post-season",
	"after season": "post-season", "end of season": "post-season", "after incident": "after-incident", "after repair": "after-repair",
}

// session makes a test of the log.
func (r *reader) session(l *log.Log, t *test, numbers map[string]int) log.Session {
	s := log.Session{Date: t.date, Meter: t.meter, Operator: fmt.Sprintf("%.120s", t.operator), Note: t.note}
	words := strings.ReplaceAll(written.Fold(t.stage), "-", " ")
	if stage := firstOf(stages[words], stages[written.Fold(t.stage)]); stage != "" {
		s.Stage = stage
	} else if t.stage != "" {
		s.Note = t.stage
		if t.note != "" {
			s.Note += "; " + t.note
		}
	}
	s.Conditions.EngineTemp = t.temp
	if t.celsius != nil {
		s.Conditions.OilC = t.celsius
		s.Conditions.EngineTemp = firstOf(t.temp, tempOf(*t.celsius))
	}
	gauge := r.tester(l, t.gauge, log.CompressionTester, t.has(log.Dry) || t.has(log.Wet))
	kit := r.tester(l, t.gauge, log.LeakdownTester, t.has(Leak))
	for _, k := range inOrder(t.taken) {
		place := l.Engine.Place(numbers[k.cylinder])
		if k.kind == Leak {
			s.Leakdown = append(s.Leakdown, k.leakdown(place, kit, r.view.unit))
			continue
		}
		row := -1
		for i, c := range s.Compression {
			if c.Place == place && c.Mode == k.kind {
				row = i
			}
		}
		if row < 0 {
			row = len(s.Compression)
			s.Compression = append(s.Compression, log.Compression{Place: place, Mode: k.kind, Tester: gauge})
		}
		pull := log.Pull{Struck: k.pull.struck, Note: k.pull.note}
		pull.Value, pull.Unit = k.pull.value, k.pull.unit
		s.Compression[row].Pulls = append(s.Compression[row].Pulls, pull)
	}
	return book.WithKeys(s)
}

// inOrder puts the pulls of a cylinder in the order that the sheet numbers them in, and leaves all else as it came.
func inOrder(all []taken) []taken {
	all = slices.Clone(all)
	slices.SortStableFunc(all, func(a, b taken) int {
		if a.cylinder != b.cylinder || a.kind != b.kind {
			return 0
		}
		return cmp.Compare(a.attempt, b.attempt)
	})
	return all
}

// tempOf says what an engine at that many degrees is called: a thermostat opens near 80 and oil follows; a hand can be held on
// 50, and no longer.
func tempOf(celsius float64) string {
	const hot, warm = 65, 40
	switch {
	case celsius >= hot:
		return "hot"
	case celsius >= warm:
		return "warm"
	}
	return "cold"
}

// tester returns the id of the tester that the sheet names.
func (r *reader) tester(l *log.Log, name, kind string, used bool) string {
	if name == "" || !used {
		return ""
	}
	id := book.Slug(name, "gauge")
	if kind == log.LeakdownTester {
		id += "-leakdown"
	}
	if _, there := l.Tester(id); !there {
		l.Testers = append(l.Testers, log.Tester{ID: id, Name: fmt.Sprintf("%.120s", name), Kind: kind})
	}
	return id
}

// guess says how the sheet was read.
func (r *reader) guess() {
	g := Guess{
		Sheet: r.sheet.Title, Engine: r.says.engine, Turned: r.view.turned, Decimal: ".", Dates: r.dates.Order, Unit: r.view.unit,
		Columns: r.columns,
		Headers: r.headers, Key: r.key(), Learned: r.isLearned,
	}
	if r.figures.Comma {
		g.Decimal = "comma"
	}
	r.out.Guesses = []Guess{g}
	slices.SortStableFunc(r.out.Refused, func(a, b Refused) int { return cmp.Compare(a.Row, b.Row) })
	slices.SortStableFunc(r.out.Ignored, func(a, b Ignored) int { return cmp.Compare(a.Row, b.Row) })
	slices.SortStableFunc(r.out.Doubts, func(a, b Doubt) int { return cmp.Compare(a.Row, b.Row) })
}
