package table

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"regexp"
	"slices"
	"strings"

	"braxel/internal/core/book"
	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
)

// test is one visit to an engine as the sheet tells it.
type test struct {
	attributes
	line  line
	taken []taken
}

// taken is one reading, and where it stood.
type taken struct {
	line     line
	column   int
	cylinder string
	kind     string
	attempt  int
	pull     pulled
	leak     *leaked // of a leak-down
	open     open
}

// open is what the sheet does not say of a reading, and the way to read it does.
type open struct{ unit, kind, leak, supply, second bool }

func (t *test) has(kind string) bool {
	return slices.ContainsFunc(t.taken, func(k taken) bool { return k.kind == kind })
}

// pressure returns a pull in kPa.
func (p pulled) pressure() float64 {
	return float64(units.Reading{Value: p.value, Unit: p.unit}.Pressure())
}

// lost returns a leak in percent.
func (k leaked) lost() float64 {
	if k.pct != nil {
		return *k.pct
	}
	if k.supply <= 0 {
		return -1
	}
	return float64(gas.LeakPct(units.Pressure(k.supply), units.Pressure(k.held)))
}

// readings takes the readings of a row.
func (r *reader) readings(l line, a attributes) {
	var all []taken
	refused := false
	if one, ok := r.suppliedHeld(l, a); ok {
		all = append(all, one)
	}
	for _, c := range slices.Sorted(maps.Keys(a.each)) {
		one, own := a.each[c], a
		own.cylinder, own.supply, own.held, own.each = c, one.supply, one.held, nil
		own.paths, own.heard, own.place = one.paths, one.heard, one.place
		own.leakUnit = units.Unit(firstOf(string(one.unit), string(a.leakUnit)))
		if k, ok := r.suppliedHeld(l, own); ok {
			all = append(all, k)
		}
	}
	computed := len(all) > 0 && len(a.each) == 0
	for i, c := range r.columns {
		text := l.at(i)
		if c.Means != Reading || isBlank(text) {
			continue
		}
		if computed && !c.guessed && firstOf(c.Kind, a.kind) == Leak {
			r.compare(l, i, text, *all[0].leak)
			continue
		}
		got, why := r.reading(l, a, i, text)
		if why != "" {
			r.refuse(l, i, text, why)
			refused = true
			continue
		}
		all = append(all, got...)
	}
	if len(all) == 0 {
		r.noReading(l, a, refused)
		return
	}
	if r.took += len(all); r.took > mostReadings {
		if r.took-len(all) <= mostReadings {
			r.refuse(l, -1, "", say.Text("table.too-many-readings", "most", mostReadings))
		}
		return
	}
	for i, c := range r.columns {
		if r.weighing && c.Means != Skip && c.Means != "" && isReadingText(l.at(i)) {
			r.placed++
		}
	}
	for _, of := range r.visitsOf(all) {
		own := a
		own.temp = firstOf(of.temp, own.temp)
		var mine []taken
		for _, k := range all {
			if r.visitOf(k) == of {
				mine = append(mine, k)
			}
		}
		if of.day != "" && !r.readDay(l, of.day, &own) {
			continue
		}
		t := r.testFor(l, own, mine)
		t.taken = append(t.taken, mine...)
	}
}

// columnVisit is the test that a column's heading names: by its day, or as cold and hot ones are told apart.
type columnVisit struct{ day, temp string }

func (r *reader) visitOf(k taken) columnVisit {
	if k.column < 0 {
		return columnVisit{}
	}
	return columnVisit{r.columns[k.column].date, r.columns[k.column].temp}
}

func (r *reader) visitsOf(all []taken) []columnVisit {
	var visits []columnVisit
	for _, k := range all {
		if v := r.visitOf(k); !slices.Contains(visits, v) {
			visits = append(visits, v)
		}
	}
	return visits
}

func (r *reader) readDay(l line, text string, a *attributes) bool {
	date, err := r.dates.Read(text)
	if err != nil {
		r.refuse(l, -1, text, err.Error())
		return false
	}
	a.date, a.undecided = date, ""
	if date == "" {
		a.undecided = text
	}
	return true
}

// noReading deals with a row that has none: what it says on a day is a line of the notebook.
func (r *reader) noReading(l line, a attributes, refused bool) {
	if refused {
		return
	}
	if text := firstOf(join(a.stage, a.note), a.note); a.date != "" && a.ownDate && text != "" {
		r.tests = append(r.tests, &test{attributes: a, line: l})
		r.ignore(l, say.Text("table.no-reading-kept-as-note"))
		return
	}
	r.ignore(l, say.Text("table.no-reading"))
}

// reading takes the readings of a cell; why says why it cannot be taken.
func (r *reader) reading(l line, a attributes, i int, text string) (all []taken, why string) {
	c := r.columns[i]
	cylinder := firstOf(c.Cylinder, a.cylinder)
	if one, own := a.each[cylinder]; own && one.held == nil {
		a.place, a.paths, a.heard = one.place, one.paths, one.heard
		if one.supply != nil {
			a.supply, a.leakUnit = one.supply, one.unit
		}
	}
	if cylinder == "" && len(c.cylinders) == 0 {
		return nil, say.Text("table.no-cylinder-given")
	}
	said := firstOf(c.Kind, a.kind)
	if said == "" && c.pressure {
		said = log.Dry
	}
	openKind := said == "" && c.Unit == "" && a.unit == "" && !c.Percent && !r.signed[i]
	if said == "" && (c.Percent || a.percent || r.signed[i]) {
		said = Leak
	}
	kind := said
	if kind == "" {
		kind = log.Dry
		if openKind {
			kind = r.view.kind
		}
	}
	read, err := readCell(r.figures, text, kind)
	if err != nil {
		return nil, err.Error()
	}
	where := r.place(l, i)
	if read.from != "" {
		if r.picks.Ranges == leave {
			return nil, say.Text("table.range-left", "text", text)
		}
		r.ranges = append(r.ranges, text)
	}
	if f := r.sheet.Worked[where]; f != "" && sumsUp.MatchString(f) {
		return nil, say.Text("table.sums-up", "formula", f)
	} else if f != "" {
		r.doubt(l, i, text, say.Text("table.worked-out", "formula", f))
	}
	one := taken{line: l, column: i, cylinder: cylinder, kind: kind, attempt: max(c.pull, a.attempt)}
	one.open.kind = openKind
	all, why = r.pulls(one, c, a, read)
	if why != "" {
		return nil, why
	}
	for _, k := range read.leaks {
		k, open, why := r.leak(k, c, a, i)
		if why != "" {
			return nil, why
		}
		k.note = join(k.note, r.sheet.Remarks[where])
		mine := one
		mine.kind, mine.leak, mine.open.leak, mine.open.supply = Leak, &k, open.leak, open.supply
		if read.words != "" && len(k.paths) == 0 {
			mine.leak.note = join(mine.leak.note, read.words)
		}
		all = append(all, mine)
	}
	if read.about {
		r.doubt(l, i, text, say.Text("table.written-as-approximate-taken-as"))
	}
	return all, ""
}

const leave = "leave"

// mostReadings is as many as one sheet brings in: a workshop's life, and no more than the machine holds at once.
const mostReadings = 250000

// sumsUp finds formulas that make one figure of several readings.
var sumsUp = regexp.MustCompile(`(?i)^=\s*(?:round\()?(?:average|sum|min|max|median|stdev|` +
	`mittelwert|summe|moyenne|somme|media|promedio|suma)`)

// pulls takes the pulls of a cell.
func (r *reader) pulls(one taken, c Column, a attributes, read cellRead) (all []taken, why string) {
	if n := len(c.cylinders); n > 0 && len(read.pulls) != n {
		return nil, say.Text("table.not-one-each", "n", n)
	}
	for n, p := range read.pulls {
		mine := one
		if len(c.cylinders) > 0 {
			mine.cylinder = c.cylinders[n]
		}
		unit := firstOf(string(p.unit), string(c.Unit), string(a.unit))
		if unit == "" && (c.foreign || r.says.foreign) {
			return nil, say.Text("table.unit-not-known", "listed", units.Listed())
		}
		mine.open.unit = unit == ""
		p.unit = units.Unit(firstOf(unit, string(r.view.unit)))
		if units.Check(units.Reading{Value: p.value, Unit: p.unit}) != nil {
			r.beyond++ // refused with the likely slip, once all are known
		}
		if read.about {
			p.note = join(say.Text("table.about"), p.note)
		}
		if read.from != "" {
			p.note = join(say.Text("table.range", "range", read.from), p.note)
		}
		p.note = join(join(p.note, read.words), r.sheet.Remarks[r.place(one.line, one.column)])
		p.struck = firstOf(p.struck, a.struck)
		mine.kind = firstOf(p.kind, one.kind)
		if p.kind != "" {
			mine.open.kind = false
		}
		if n == 1 && len(read.pulls) == 2 && p.kind == "" && len(c.cylinders) == 0 && read.from == "" {
			mine.kind, mine.open.second = r.secondKind(mine.kind, c)
		}
		mine.pull = p
		all = append(all, mine)
	}
	return all, ""
}

// secondKind says what the second figure of a cell is, and whether that is open.
func (r *reader) secondKind(kind string, c Column) (string, bool) {
	switch {
	case firstOf(c.second, r.says.second) != "":
		return firstOf(c.second, r.says.second), false
	case kind != log.Dry:
		return kind, false
	case r.view.second == log.Wet:
		return log.Wet, true
	}
	return kind, true
}

// leak turns a leak's figure into a percent, or into what was held of what was supplied; open is what the sheet does not say of it.
func (r *reader) leak(k leaked, c Column, a attributes, i int) (leaked, open, string) {
	if !k.heard && a.place != "" {
		k.paths, k.heard = a.paths, a.heard
		if !a.heard {
			k.note = a.place
		}
	}
	supply, known := r.supply(c, a)
	if k.both {
		bySize := supplyOf(units.Figure(k.supply), "").Unit
		k.unit = cmp.Or(k.unit, c.Unit, a.leakUnit, bySize, r.view.unit)
		if k.held > k.supply || k.supply <= 0 {
			return k, open{}, say.Text("table.held-above-supply")
		}
		if k.unsure && !r.suppliedAlike(k.supply) {
			return k, open{}, say.Text("table.two-leaks-or-held", "held", say.Number(k.held), "supply", say.Number(k.supply))
		}
		return k, open{}, ""
	}
	signed := k.signed || c.Percent || a.percent || r.signed[i]
	as, isOpen := r.view.leak, open{leak: true}
	if c.held {
		as, isOpen.leak = HeldOf, false
	}
	if signed {
		switch as {
		case HeldOf:
			as = Left
		case Dropped:
			as = Lost
		}
		if as == HeldOf || !c.held && as != Left {
			as = Lost
		}
	}
	k.signed, k.known, k.own = signed, known, k.unit != "" || c.Unit != ""
	percent := func(v float64) (leaked, open, string) {
		if v < 0 || v > 100 {
			return k, isOpen, say.Text("table.leak-must-between-0-100", "v", k.figure)
		}
		k.pct = &v
		if known {
			k.supply, k.unit = supply.Value, supply.Unit
		}
		return k, isOpen, ""
	}
	switch as {
	case Lost:
		k.unit = ""
		return percent(k.figure)
	case Left:
		k.unit = ""
		return percent(100 - k.figure)
	}
	unit := units.Unit(firstOf(string(k.unit), string(c.Unit), string(a.leakUnit)))
	if !known {
		isOpen.supply = true
		supply = usuallySupplied(units.Unit(firstOf(string(unit), string(r.onlyUnit()))), k.figure)
	}
	k.unit, k.supply, k.held = supply.Unit, supply.Value, k.figure
	if unit != "" && unit != supply.Unit { // the figure is in its own unit
		k.unit = unit
		k.supply = supply.Pressure().Shown(unit).Value
	}
	if as == Dropped {
		k.held = k.supply - k.figure
	}
	if k.held < 0 || k.held > k.supply {
		return k, isOpen, say.Text("table.held-above-supply-2", "figure", say.Number(k.figure), "figure2", say.Number(k.supply))
	}
	return k, isOpen, ""
}

// suppliedAlike reports whether nearly all cells of two figures have one of them in common: what the tester was set to.
func (r *reader) suppliedAlike(supply float64) bool {
	if r.inPairs == nil {
		r.inPairs = map[float64]int{}
		for _, l := range r.lines[:min(len(r.lines), sampled)] {
			for i := range l.cells {
				if read, err := readCell(r.figures, l.at(i), Leak); err == nil && len(read.leaks) == 1 && read.leaks[0].both {
					r.inPairs[read.leaks[0].supply]++
				}
			}
		}
	}
	all := 0
	for _, n := range r.inPairs {
		all += n
	}
	const nearlyAll = 0.8
	return r.inPairs[supply] > 1 && float64(r.inPairs[supply]) >= nearlyAll*float64(all)
}

// supply returns what was supplied: as the row says it, its column, a person, or a title.
func (r *reader) supply(c Column, a attributes) (units.Reading, bool) {
	if a.supply != nil {
		unit := a.leakUnit
		if unit == "" {
			unit = supplyOf(units.Figure(*a.supply), "").Unit
		}
		if unit == "" {
			unit = r.view.unit
		}
		return units.Reading{Value: *a.supply, Unit: unit}, true
	}
	if c.supply.Value > 0 {
		return c.supply, true
	}
	if s, _ := supplyIn("@ " + written.Fold(r.picks.Supply)); s.Value > 0 {
		return s, true
	}
	return r.says.supply()
}

// onlyUnit is the unit of pressure that the sheet names, where it names one alone.
func (r *reader) onlyUnit() units.Unit {
	for u := range r.seen {
		if len(r.seen) == 1 {
			return u
		}
	}
	return ""
}

// usuallySupplied returns what testers are usually set to, in the unit of a figure that was held; without one, by its size.
func usuallySupplied(unit units.Unit, figure float64) units.Reading {
	const mostBar, mostPSI = 11, 150
	switch {
	case unit == "" && figure > mostPSI:
		return units.Reading{} // more than any tester is set to, but in kPa, which would be said
	case unit == "" && figure > mostBar:
		unit = units.PSI
	case unit == "":
		unit = units.Bar
	}
	return units.Reading{Value: units.UsualSupply[unit], Unit: unit}
}

// suppliedHeld takes the leak of a row that has a column for what was held.
func (r *reader) suppliedHeld(l line, a attributes) (taken, bool) {
	if a.held == nil {
		return taken{}, false
	}
	cylinder := a.cylinder
	if cylinder == "" && !r.has(Cylinder) {
		cylinder = "1"
	}
	column := slices.IndexFunc(r.columns, func(c Column) bool { return c.Means == Held })
	c := Column{held: true}
	if column >= 0 {
		c.Percent, c.supply = r.columns[column].Percent, r.columns[column].supply
	}
	if cylinder == "1" && a.cylinder == "" && slices.ContainsFunc(r.columns, func(c Column) bool { return c.guessed }) {
		r.refuse(l, -1, say.Number(*a.held), say.Text("table.no-cylinder-given"))
		return taken{}, false
	}
	own := leaked{figure: *a.held, signed: a.heldPercent, unit: a.leakUnit, paths: a.paths, heard: a.heard}
	k, open, why := r.leak(own, c, a, -1)
	if a.place != "" && !a.heard {
		k.note = a.place
	}
	if why != "" {
		r.refuse(l, -1, say.Number(*a.held), why)
		return taken{}, false
	}
	return taken{line: l, column: column, cylinder: cylinder, kind: Leak, attempt: a.attempt, leak: &k, open: open}, true
}

// compare holds a leak that was worked out in the sheet against what was supplied and held.
func (r *reader) compare(l line, i int, text string, k leaked) {
	if isFormula(text) {
		return
	}
	read, err := readCell(r.figures, text, Leak)
	if err != nil || len(read.leaks) == 0 || read.leaks[0].both {
		return
	}
	const near = 1 // percent: as far as whole figures are rounded
	pct := read.leaks[0].figure
	if lost := k.lost(); math.Abs(lost-pct) > near && math.Abs(lost-100*pct) > near && math.Abs(100-lost-pct) > near {
		r.doubt(l, i, text, say.Text("table.supply-held-make-which-taken", "pct", lost))
	}
}

// testFor returns the test that a row's readings belong to.
func (r *reader) testFor(l line, a attributes, all []taken) *test {
	key := strings.Join([]string{r.keyOf(a.engine), a.date, a.undecided, a.visit}, "\x00")
	of := r.byVisit[key]
	for i := len(of) - 1; i >= 0; i-- {
		t := of[i]
		if !t.sameVisit(a) {
			continue
		}
		if !r.long && !r.has(Attempt) && slices.ContainsFunc(all, func(k taken) bool { return t.holds(k) }) {
			if a.visit == "" && t.stage == a.stage {
				r.doubt(l, -1, firstOf(a.dateText, a.date), say.Text("table.another-test-same-day-taken"))
			}
			break
		}
		t.add(a)
		return t
	}
	t := &test{attributes: a, line: l}
	r.tests, r.byVisit[key] = append(r.tests, t), append(of, t)
	return t
}

// keyOf is the key of an engine's name: one is asked for in every row.
func (r *reader) keyOf(name string) string {
	key, known := r.keys[name]
	if !known {
		key = nameKey(name)
		r.keys[name] = key
	}
	return key
}

func (t *test) holds(k taken) bool {
	return slices.ContainsFunc(t.taken, func(have taken) bool {
		return have.kind == k.kind && have.cylinder == k.cylinder && have.line.n != k.line.n
	})
}

// sameVisit reports whether a row of the same engine and day may be of a test.
func (t *test) sameVisit(a attributes) bool {
	if t.temp != "" && a.temp != "" && t.temp != a.temp {
		return false
	}
	if t.meter != nil && a.meter != nil && *t.meter != *a.meter {
		return false
	}
	return t.stage == a.stage || a.stage == ""
}

// add takes in what a further row says of the test.
func (t *test) add(a attributes) {
	if t.meter == nil {
		t.meter, t.meterUnit = a.meter, a.meterUnit
	}
	t.temp, t.gauge, t.operator = firstOf(t.temp, a.temp), firstOf(t.gauge, a.gauge), firstOf(t.operator, a.operator)
	if a.note != "" && !strings.Contains(t.note, a.note) {
		t.note = join(t.note, a.note)
	}
}

// leakdown writes a leak as the log does: a percent as what was held of what was supplied, or usually is.
func (k taken) leakdown(at log.Place, kit string, unit units.Unit) log.Leakdown {
	row := log.Leakdown{
		Place: at, Tester: kit, Supply: k.leak.supply, Held: k.leak.held, Unit: k.leak.unit, Note: fmt.Sprintf("%.1000s", k.leak.note),
		Paths: k.leak.paths,
	}
	if k.leak.pct == nil {
		return row
	}
	if row.Unit == "" {
		row.Unit = unit
	}
	if row.Supply == 0 {
		row.Supply = units.UsualSupply[row.Unit]
	}
	row.Held = book.HeldFrom(row.Supply, *k.leak.pct)
	return row
}
