package table

import (
	"fmt"
	"slices"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

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
		dry.kind, dry.unit = log.Dry, "" // the usual one
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
	a := Asked{
		What: AskUnit, Took: string(best.unit), Sheet: r.sheet.Title, Words: say.Text("table.sheet-has-no-unit-their", "unit", best.unit),
	}
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
	{Value: 100, Unit: units.PSI}, {Value: 80, Unit: units.PSI}, {Value: 60, Unit: units.PSI}, {Value: 50, Unit: units.PSI},
	{Value: 7, Unit: units.Bar}, {Value: 6, Unit: units.Bar}, {Value: 700, Unit: units.KPa}, {Value: 600, Unit: units.KPa},
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
			a.Choices = append(a.Choices, Reply{
				Name: kind, Words: say.Text("table.columns-are-" + kind), Picks: as(func(c *Column) { c.Kind = kind }),
			})
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
			a.Choices = append(a.Choices, Reply{
				Name: string(means), Words: say.Text("table.split-" + string(means)), Picks: Picks{Columns: []Column{c}},
			})
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
