package table

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
)

// LeakAs is what the figures of a leak-down stand for.
type LeakAs string

// A leak is written as a percent that was lost or that was left, or as a pressure that was held or that was lost.
const (
	Lost    LeakAs = "lost"
	Left    LeakAs = "left"
	HeldOf  LeakAs = "held"
	Dropped LeakAs = "dropped"
)

// view is one complete way to read a sheet: what is left open by its words. Each is read to the end and weighed by what it implies.
type view struct {
	turned bool
	head   int // the line of headings, noHead where there is none
	comma  bool
	unit   units.Unit // of pressures that name none
	kind   string     // of figures of which nobody says dry, wet or leak
	leak   LeakAs     // of leaks that say no more than a figure
	second string     // of the second of two figures in one cell: a further reading, or wet
}

const noHead = -1

// sampled is how many lines of a sheet the ways to read it are weighed on.
const sampled = 250

// read finds the best way to read a sheet and reads it so. What the sheet leaves open between the best and the next is asked.
func (r *reader) read() {
	r.usuallyTurned = isTurned(r.laid(sampled))
	best, next := r.choose()
	*r = *r.as(best.view, len(r.sheet.Rows))
	if best.score < leastSense {
		if v := r.structures()[0]; v.turned != best.turned || v.head != best.head {
			*r = *r.as(v, len(r.sheet.Rows))
		}
		r.tests = nil
		r.out.Refused = append(r.out.Refused, Refused{Sheet: r.sheet.Title, Row: r.head.n, Why: say.Text("table.makes-no-sense")})
		return
	}
	r.asks(best, next)
}

// leastSense is the least score of a way to read that makes sense of most of a sheet: one of which half the figures have a place.
const leastSense = 4

// weighed is a way to read the sheet with what it comes to on the lines that were looked at.
type weighed struct {
	view
	reader *reader
	score  float64
	comes  string // what it makes of them, to tell one from another
}

func (r *reader) weighedAs(v view) weighed {
	one := r.as(v, sampled)
	return weighed{one.view, one, one.weigh(), one.comes()}
}

// choose weighs the ways to read a sheet: first where its headings are and which way it lies, then what its figures stand for.
func (r *reader) choose() (best, next weighed) {
	var found []weighed
	for _, v := range r.structures() {
		found = append(found, r.weighedAs(v))
	}
	rank(found)
	const kept = 2
	open := found[:min(len(found), kept)]
	var all []weighed
	for _, s := range open {
		for _, v := range s.reader.figuresOf(s.view) {
			all = append(all, r.weighedAs(v))
		}
	}
	rank(all)
	best = all[0]
	if best.turned != r.usuallyTurned && r.picks.Turned == nil { // never without a question
		for _, one := range found {
			if one.turned != best.turned {
				best.score = min(best.score, one.score+clearly/2)
				return best, one
			}
		}
	}
	for _, one := range all[1:] {
		if one.comes != best.comes {
			return best, one
		}
	}
	return best, weighed{}
}

func rank(all []weighed) {
	slices.SortStableFunc(all, func(a, b weighed) int { return cmp.Compare(b.score, a.score) })
}

// structures are the places where the headings of a sheet may stand, as it lies and on its side.
func (r *reader) structures() []view {
	const most = 3
	var all []view
	for _, turned := range []bool{false, true} {
		if r.picks.Turned != nil && *r.picks.Turned != turned {
			continue
		}
		one := &reader{sheet: r.sheet, picks: r.picks, view: view{turned: turned}}
		one.lines = r.laid(sampled)
		if turned {
			one.passTitles()
		}
		for _, at := range heads(one.lines, most) {
			if r.picks.Head > 0 && (at == noHead || one.lines[at].n != r.picks.Head) {
				continue
			}
			all = append(all, view{
				turned: turned, head: at, comma: r.commaUsual(), unit: r.picks.Unit, kind: firstOf(r.picks.Kind, log.Dry),
				leak: LeakAs(firstOf(string(r.picks.Leak), string(Lost))), second: r.picks.Second,
			})
		}
	}
	if len(all) == 0 { // a heading that is none after all
		r.picks.Head = 0
		return r.structures()
	}
	return all
}

func (r *reader) commaUsual() bool {
	if r.picks.Decimal != "" {
		return r.picks.Decimal == "comma"
	}
	var texts []string
	for _, row := range r.sheet.Rows[:min(len(r.sheet.Rows), 4*sampled)] {
		texts = append(texts, row.Cells...)
	}
	comma, point, _ := written.Signs(texts)
	return comma > point || comma == point && r.sheet.Semicolons
}

// figuresOf are the ways to read the figures of a sheet of one structure: only what it leaves open differs.
func (r *reader) figuresOf(v view) []view {
	all := []view{v}
	each := func(open bool, change func(v view) []view) {
		if !open {
			return
		}
		var more []view
		for _, one := range all {
			more = append(more, change(one)...)
		}
		all = more
	}
	var open struct{ unit, kind, leak, second bool }
	for _, t := range r.tests {
		for _, k := range t.taken {
			open.unit = open.unit || k.open.unit
			open.kind = open.kind || k.open.kind
			open.leak = open.leak || k.open.leak
			open.second = open.second || k.open.second
		}
	}
	each(r.signsOpen(), func(v view) []view { w := v; w.comma = !v.comma; return []view{v, w} })
	each(open.kind, func(v view) []view {
		if r.picks.Kind != "" {
			v.kind = r.picks.Kind
			return []view{v}
		}
		w := v
		w.kind = Leak
		return []view{v, w}
	})
	each(open.unit, func(v view) []view {
		if r.picks.Unit != "" {
			v.unit = r.picks.Unit
			return []view{v}
		}
		var all []view
		for _, v.unit = range []units.Unit{units.PSI, units.Bar, units.KPa, units.KgfCm2} {
			all = append(all, v)
		}
		return all
	})
	each(open.leak || open.kind, func(v view) []view {
		if !open.leak && v.kind != Leak {
			return []view{v}
		}
		if r.picks.Leak != "" {
			v.leak = r.picks.Leak
			return []view{v}
		}
		var all []view
		for _, v.leak = range []LeakAs{Lost, HeldOf, Left, Dropped} {
			all = append(all, v)
		}
		return all
	})
	each(open.second, func(v view) []view {
		if r.picks.Second != "" {
			v.second = r.picks.Second
			return []view{v}
		}
		w := v
		w.second = log.Wet
		return []view{v, w}
	})
	return all
}

// signsOpen reports whether figures such as 1,080 could be read with either sign, and nothing else in the sheet decides.
func (r *reader) signsOpen() bool {
	if r.picks.Decimal != "" || r.figures.Typed {
		return false
	}
	texts, _ := r.cells(r.lines, Reading, Supply, Held)
	comma, point, either := written.Signs(texts)
	return either > 0 && comma == point
}

// clearly is by how much the best way to read a sheet has to be better than the next for nobody to be asked.
const clearly = 1.5

// asks asks what decides between the best way and the next, with what either makes of the first readings; and what the best takes
// for granted that no usual sheet leaves unsaid.
func (r *reader) asks(best, next weighed) {
	unsaid := func(is func(open) bool) bool { return best.has(func(k taken) bool { return is(k.open) }) }
	switch {
	case (best.leak == Left || best.leak == Dropped) && unsaid(func(o open) bool { return o.leak }) && r.picks.Leak == "":
		r.askLeak(best, next)
	case best.second == log.Wet && unsaid(func(o open) bool { return o.second }) && r.picks.Second == "":
		r.askSecond(best)
	case best.kind == Leak && unsaid(func(o open) bool { return o.kind }) && !best.reader.saysLeak() && r.picks.Kind == "":
		dry := best.view
		dry.kind, dry.unit = log.Dry, r.as(view{turned: best.turned, head: best.head, comma: best.comma, kind: log.Dry, leak: Lost}, sampled).view.unit
		r.askKind(best, r.weighedAs(dry))
	case best.reader.contradicts() && r.picks.Unit == "":
		r.askWhichUnit(best, next)
	case next.reader != nil && best.score-next.score < clearly:
		r.askBetween(best, next)
	}
	r.askColumns()
	r.askSplit()
	r.askSupply(best)
	r.askUnit(best)
}

func (w weighed) has(is func(taken) bool) bool {
	return slices.ContainsFunc(w.reader.tests, func(t *test) bool { return slices.ContainsFunc(t.taken, is) })
}

// ask begins a question that must be answered.
func (r *reader) ask(what, id string, values ...any) *Asked {
	r.out.Asked = append(r.out.Asked, Asked{What: what, Must: true, Sheet: r.sheet.Title, Words: say.Text(id, values...)})
	return &r.out.Asked[len(r.out.Asked)-1]
}

// may adds an answer, with what is read by it.
func (a *Asked) may(of weighed, name, words string, picks Picks) {
	if !slices.ContainsFunc(a.Choices, func(c Reply) bool { return c.Name == name }) {
		a.Choices = append(a.Choices, Reply{Name: name, Words: words, Picks: picks, Reads: of.reader.firstWords()})
	}
}

// askBetween asks the one question that decides between two ways to read.
func (r *reader) askBetween(best, next weighed) {
	switch {
	case best.turned != next.turned:
		a := r.ask(AskTurned, "table.ask-turned")
		for _, w := range []weighed{best, next} {
			id := "table.tests-in-rows"
			if w.turned {
				id = "table.tests-in-columns"
			}
			turned := w.turned
			a.may(w, fmt.Sprint(w.turned), say.Text(id), Picks{Turned: &turned})
		}
	case best.head != next.head:
		a := r.ask(AskHead, "table.ask-head")
		for _, w := range []weighed{best, next} {
			n := w.reader.head.n
			a.may(w, fmt.Sprint(n), say.Text("table.head-row", "n", n), Picks{Head: n})
		}
	case best.kind != next.kind:
		r.askKind(best, next)
	case best.second != next.second:
		r.askSecond(best)
	case best.leak != next.leak:
		r.askLeak(best, next)
	case best.comma != next.comma:
		a := r.ask(AskDecimal, "table.ask-decimal")
		for _, w := range []weighed{best, next} {
			name, id := ".", "table.decimal-point"
			if w.comma {
				name, id = "comma", "table.decimal-comma"
			}
			a.may(w, name, say.Text(id), Picks{Decimal: name})
		}
	case best.unit != next.unit:
		r.askWhichUnit(best, next)
	}
}

func (r *reader) askKind(ways ...weighed) {
	a := r.ask(AskKind, "table.ask-kind")
	for _, w := range ways {
		a.may(w, w.kind, say.Text("table.kind-"+w.kind), Picks{Kind: w.kind})
	}
}

func (r *reader) askSecond(best weighed) {
	a := r.ask(AskSecond, "table.ask-second")
	for _, second := range []string{"", log.Wet} {
		v := best.view
		v.second = second
		name := firstOf(second, log.Dry)
		a.may(r.weighedAs(v), name, say.Text("table.second-"+name), Picks{Second: name})
	}
}

func (r *reader) askLeak(best, next weighed) {
	a := r.ask(AskLeak, "table.ask-leak")
	for _, as := range []LeakAs{best.leak, next.leak, Lost, HeldOf} {
		v := best.view
		if v.leak = as; as != "" {
			a.may(r.weighedAs(v), string(as), say.Text("table.leak-"+string(as)), Picks{Leak: as})
		}
	}
}

func (r *reader) askWhichUnit(best, next weighed) {
	a := r.ask(AskUnit, "table.ask-unit")
	a.Took = string(best.unit)
	for _, u := range []units.Unit{best.unit, next.unit, units.PSI, units.Bar, units.KPa, units.KgfCm2} {
		v := best.view
		if v.unit = u; u != "" {
			a.may(r.weighedAs(v), string(u), string(u), Picks{Unit: u})
		}
	}
}

// askUnit says by which unit figures were read that name none, where their size leaves no other.
func (r *reader) askUnit(best weighed) {
	already := slices.ContainsFunc(r.out.Asked, func(a Asked) bool { return a.What == AskUnit || a.What == AskKind })
	open := best.has(func(k taken) bool { return k.open.unit && k.kind != Leak })
	if already || !open || r.picks.Unit != "" || len(best.reader.seen) > 0 {
		return
	}
	a := Asked{What: AskUnit, Took: string(best.unit), Sheet: r.sheet.Title, Words: say.Text("table.sheet-has-no-unit-their", "unit", best.unit)}
	for _, u := range units.All {
		a.Choices = append(a.Choices, Reply{Name: string(u.Unit), Words: string(u.Unit), Picks: Picks{Unit: u.Unit}})
	}
	r.out.Asked = append(r.out.Asked, a)
}

// askSupply asks what the tester was supplied with, where leaks are counted from that and nobody says it.
func (r *reader) askSupply(best weighed) {
	if r.picks.Supply != "" || !best.has(func(k taken) bool { return k.kind == Leak && k.open.supply }) {
		return
	}
	a := Asked{What: AskSupply, Must: true, Sheet: r.sheet.Title, Words: say.Text("table.ask-supply")}
	for _, s := range usualSupplies {
		a.Choices = append(a.Choices, Reply{Name: s.String(), Words: s.String(), Picks: Picks{Supply: s.String()}})
	}
	r.out.Asked = append(r.out.Asked, a)
}

// usualSupplies are what testers are set to, the usual first.
var usualSupplies = []units.Reading{
	{Value: 100, Unit: units.PSI}, {Value: 80, Unit: units.PSI}, {Value: 60, Unit: units.PSI}, {Value: 50, Unit: units.PSI}, {Value: 7, Unit: units.Bar},
	{Value: 6, Unit: units.Bar}, {Value: 700, Unit: units.KPa}, {Value: 600, Unit: units.KPa},
}

// askColumns asks what columns of figures are of which no heading says it.
func (r *reader) askColumns() {
	var names []string
	as := func(change func(c *Column)) Picks {
		var picks Picks
		for _, c := range r.columns {
			if c.guessed && c.Means == Reading {
				c.guessed, c.Sheet = false, r.sheet.N
				change(&c)
				picks.Columns = append(picks.Columns, c)
			}
		}
		return picks
	}
	for _, c := range as(func(*Column) {}).Columns {
		name := c.called()
		if c.Cylinder != "" && c.Cylinder != tidyHeader(c.Header) {
			name = say.Text("table.column-as-cylinder", "column", name, "cylinder", c.Cylinder)
		}
		names = append(names, name)
	}
	if len(names) == 0 {
		return
	}
	a := r.ask(AskColumns, "table.ask-columns", "names", strings.Join(names, ", "))
	a.Text = strings.Join(names, ", ")
	yes := Reply{Name: "yes", Words: say.Text("table.columns-are-cylinders"), Picks: as(func(*Column) {}), Reads: r.firstWords()}
	if r.long {
		yes.Words, yes.Picks = say.Text("table.columns-are-dry"), as(func(c *Column) { c.Kind = log.Dry })
	}
	a.Choices = append(a.Choices, yes)
	if r.long {
		for _, kind := range []string{log.Wet, Leak} {
			a.Choices = append(a.Choices, Reply{Name: kind, Words: say.Text("table.columns-are-" + kind), Picks: as(func(c *Column) { c.Kind = kind })})
		}
	}
	a.Choices = append(a.Choices, Reply{
		Name: "no", Words: say.Text("table.columns-are-not"), Picks: as(func(c *Column) { c.Means, c.Cylinder = Skip, "" }),
	})
}

// askSplit asks what a column of a few short words tells apart, where rows of one cylinder differ in it: cylinders of another bank, or
// another test, would else be taken for further readings.
func (r *reader) askSplit() {
	if !r.long || r.has(Attempt) {
		return
	}
	for i, c := range r.columns {
		picked := slices.ContainsFunc(r.picks.Columns, func(p Column) bool { return p.Sheet == r.sheet.N && p.Index == i })
		if c.Means != Note && c.Means != Stage || picked || r.isLearned {
			continue
		}
		values := r.splitBy(i)
		if len(values) < 2 {
			continue
		}
		a := r.ask(AskColumns, "table.ask-split", "column", c.called(), "values", strings.Join(values, ", "))
		a.Text = c.called()
		for _, means := range []Means{Bank, Visit, Note} {
			c.Sheet, c.Means = r.sheet.N, means
			a.Choices = append(a.Choices, Reply{Name: string(means), Words: say.Text("table.split-" + string(means)), Picks: Picks{Columns: []Column{c}}})
		}
		return
	}
}

// splitBy returns the words of a column, where they differ in all rows that say something of one cylinder and kind in one test.
func (r *reader) splitBy(i int) []string {
	const mostWords, longest = 4, 16
	var values []string
	for _, t := range r.tests[:min(len(r.tests), sampled)] {
		of := map[string]map[int]string{} // the column's word, by row, of a cylinder's kind
		for _, k := range t.taken {
			word := k.line.at(i)
			if word == "" || len(word) > longest {
				return nil
			}
			if !slices.Contains(values, word) {
				values = append(values, word)
			}
			key := k.cylinder + " " + k.kind
			if of[key] == nil {
				of[key] = map[int]string{}
			}
			of[key][k.line.n] = word
		}
		for _, rows := range of {
			words := map[string]bool{}
			for _, w := range rows {
				words[w] = true
			}
			if len(rows) < 2 || len(words) < len(rows) || len(values) > mostWords {
				return nil
			}
		}
	}
	return values
}

// comes writes down what a reading makes of a sheet, to tell one way from another.
func (r *reader) comes() string {
	var b strings.Builder
	for _, t := range r.tests {
		for _, k := range t.taken {
			fmt.Fprintf(&b, "%s|%s|%s|%s\n", t.date, k.cylinder, k.kind, k.worth())
		}
	}
	return b.String()
}

// worth is a reading in words that do not depend on how it was written.
func (k taken) worth() string {
	if k.kind == Leak {
		return fmt.Sprintf("%.1f %%", k.leak.lost())
	}
	return fmt.Sprintf("%g %s", k.pull.value, k.pull.unit)
}

// firstWords tells the first readings as a person would: they show what a way to read comes to.
func (r *reader) firstWords() []string {
	const most = 6
	var all []string
	for _, t := range r.tests {
		for _, k := range t.taken {
			if len(all) == most {
				return all
			}
			all = append(all, say.Text("table.first-reading", "cylinder", k.cylinder, "kind", k.kind, "worth", k.worth()))
		}
	}
	return all
}
