package table

import (
	"maps"
	"math"
	"slices"
	"strings"

	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
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
	leak     leaked
}

func (t *test) has(kind string) bool {
	return slices.ContainsFunc(t.taken, func(k taken) bool { return k.kind == kind })
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
		kind := firstOf(c.Kind, a.kind)
		percent := c.Percent || a.percent || c.Unit == "" && r.percent[i] && kind == Leak || kind == Leak && c.Kind == "" && a.leakUnit == ""
		if kind == Leak && r.held[i] && !strings.Contains(text, "%") {
			if v, err := r.figures.value(text); err == nil {
				own := a
				own.held, own.cylinder = &v, firstOf(c.Cylinder, a.cylinder)
				if own.supply == nil {
					supply := c.supply
					if supply == 0 {
						supply = 100 // as all do who write no other
					}
					own.supply, own.leakUnit = &supply, units.Unit(firstOf(string(c.Unit), string(a.leakUnit), string(units.PSI)))
				}
				r.doubt(l, i, text, say.Text("table.taken-as-held", "figure", say.Number(*own.supply)))
				if one, ok := r.suppliedHeld(l, own); ok {
					one.column = i
					all = append(all, one)
				} else {
					refused = true
				}
				continue
			}
		}
		if computed && kind == Leak {
			r.compare(l, i, text, all[0].leak)
			continue
		}
		got, why := r.reading(l, a, i, text, kind, percent)
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
	date, err := r.dates.read(text)
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
func (r *reader) reading(l line, a attributes, i int, text, kind string, percent bool) (all []taken, why string) {
	c := r.columns[i]
	cylinder := firstOf(c.Cylinder, a.cylinder)
	if one, own := a.each[cylinder]; own && one.held == nil {
		a.place, a.paths, a.heard = one.place, one.paths, one.heard
		if one.supply != nil {
			a.supply, a.leakUnit = one.supply, one.unit
		}
	}
	if cylinder == "" {
		return nil, say.Text("table.no-cylinder-given")
	}
	read, err := r.figures.readCell(text, kind, percent)
	if err != nil {
		return nil, err.Error()
	}
	attempt := max(c.pull, a.attempt)
	for _, p := range read.pulls {
		p.unit = units.Unit(firstOf(string(p.unit), string(c.Unit), string(a.unit)))
		if err := units.Check(units.Reading{Value: p.value, Unit: p.unit}); err != nil {
			return nil, err.Error()
		}
		if read.about {
			p.note = join("about", p.note)
		}
		p.note = join(p.note, read.words)
		p.struck = firstOf(p.struck, a.struck)
		of := firstOf(p.kind, kind, log.Dry)
		all = append(all, taken{line: l, column: i, cylinder: cylinder, kind: of, attempt: attempt, pull: p})
	}
	if read.about {
		r.doubt(l, i, text, say.Text("table.written-as-approximate-taken-as"))
	}
	for _, k := range read.leaks {
		if k.pct == nil {
			k.unit = units.Unit(firstOf(string(k.unit), string(c.Unit), string(r.unit)))
			if k.supply <= 0 || k.held > k.supply {
				return nil, say.Text("table.held-above-supply")
			}
		} else if a.supply != nil {
			k.supply, k.unit = *a.supply, a.leakUnit
		}
		if !k.heard && a.place != "" {
			k.paths, k.heard = a.paths, a.heard
			if !a.heard {
				k.note = a.place
			}
		}
		if read.words != "" && len(k.paths) == 0 {
			k.note = join(k.note, read.words)
		}
		all = append(all, taken{line: l, column: i, cylinder: cylinder, kind: Leak, attempt: attempt, leak: k})
	}
	return all, ""
}

// suppliedHeld takes the leak of a row that says what was supplied and what was held.
func (r *reader) suppliedHeld(l line, a attributes) (taken, bool) {
	if a.held == nil {
		return taken{}, false
	}
	cylinder := a.cylinder
	if cylinder == "" && !r.has(Cylinder) {
		cylinder = "1"
	}
	unit := units.Unit(firstOf(string(a.leakUnit), string(r.unit)))
	k := leaked{held: *a.held, unit: unit, paths: a.paths, heard: a.heard}
	switch v, ok := r.figures.within(r.says.supply); {
	case a.supply != nil:
		k.supply = *a.supply
	case ok:
		k.supply = v
	default:
		k.supply = units.UsualSupply[unit]
		r.doubt(l, -1, "", say.Text("table.no-supply-pressure-given-taken", "value", units.Reading{Value: k.supply, Unit: unit}))
	}
	if a.place != "" && !a.heard {
		k.note = a.place
	}
	if k.supply <= 0 || k.held > k.supply {
		r.refuse(l, -1, say.Number(k.held), say.Text("table.held-above-supply-2",
			"figure", say.Number(k.held),
			"figure2", say.Number(k.supply),
		))
		return taken{}, false
	}
	column := slices.IndexFunc(r.columns, func(c Column) bool { return c.Means == Held })
	return taken{line: l, column: column, cylinder: cylinder, kind: Leak, attempt: a.attempt, leak: k}, true
}

// compare holds a leak that was worked out in the sheet against what was supplied and held.
func (r *reader) compare(l line, i int, text string, k leaked) {
	if isFormula(text) {
		return
	}
	read, err := r.figures.readCell(text, Leak, true)
	if err != nil || len(read.leaks) == 0 || read.leaks[0].pct == nil {
		return
	}
	const near = 1 // percent: as far as whole figures are rounded
	if pct := gas.LeakPct(units.Pressure(k.supply), units.Pressure(k.held)); math.Abs(pct-*read.leaks[0].pct) > near {
		r.doubt(l, i, text, say.Text("table.supply-held-make-which-taken", "pct", pct))
	}
}

// testFor returns the test that a row's readings belong to.
func (r *reader) testFor(l line, a attributes, all []taken) *test {
	key := strings.Join([]string{a.engine, a.date, a.undecided, a.visit}, "\x00")
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

// slips looks at figures that stand far from all others, and would not in another unit.
func (r *reader) slips() {
	r.percentSlips()
	var all []float64
	for _, t := range r.tests {
		for _, k := range t.taken {
			if k.kind != Leak {
				all = append(all, float64(units.Reading{Value: k.pull.value, Unit: k.pull.unit}.Pressure()))
			}
		}
	}
	const enough = 4
	if len(all) < enough {
		return
	}
	slices.Sort(all)
	mid := all[len(all)/2]
	for _, t := range r.tests {
		for i := range t.taken {
			if k := &t.taken[i]; k.kind != Leak {
				r.pressureSlip(k, mid)
			}
		}
	}
}

// A figure this far from the middle of its sheet is looked at as one of another unit; read so it has to come near.
const farLow, farHigh, nearLow, nearHigh = 0.2, 5, 0.6, 1.6

func (r *reader) pressureSlip(k *taken, mid float64) {
	ratio := func(u units.Unit) float64 {
		return float64(units.Reading{Value: k.pull.value, Unit: u}.Pressure()) / mid
	}
	if q := ratio(k.pull.unit); mid == 0 || k.pull.value == 0 || q > farLow && q < farHigh {
		return
	}
	text := k.line.at(k.column)
	if u, _ := unitIn(fold(text)); u == "" {
		for _, u := range []units.Unit{units.PSI, units.Bar, units.KPa} {
			if q := ratio(u); q > nearLow && q < nearHigh {
				r.doubt(k.line, k.column, text, say.Text("table.going-others-can-only", "u", u))
				k.pull.unit = u
				return
			}
		}
	}
	r.doubt(k.line, k.column, text, say.Text("table.far-from-all-others-digit"))
}

// percentSlips reads 0.04 among percents as 4.
func (r *reader) percentSlips() {
	whole, parts := 0, 0
	each := func(do func(k *taken, bare bool)) {
		for _, t := range r.tests {
			for i := range t.taken {
				if k := &t.taken[i]; k.kind == Leak && k.leak.pct != nil {
					do(k, !strings.Contains(k.line.at(k.column), "%"))
				}
			}
		}
	}
	each(func(k *taken, bare bool) {
		if bare && *k.leak.pct > 0 && *k.leak.pct < 1 {
			parts++
		} else {
			whole++
		}
	})
	if parts == 0 {
		return
	}
	each(func(k *taken, bare bool) {
		pct := *k.leak.pct
		if !bare || pct <= 0 || pct >= 1 {
			return
		}
		if pct *= 100; whole > 0 {
			r.doubt(k.line, k.column, k.line.at(k.column), say.Text("table.among-percentages", "pct", pct))
		}
		pct = math.Round(pct*1e6) / 1e6
		k.leak.pct = &pct
	})
	if whole == 0 {
		r.out.Doubts = append(r.out.Doubts, Doubt{Words: say.Text("table.leaks-written-as-fractions-0")})
	}
}
