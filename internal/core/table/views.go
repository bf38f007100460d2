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
	head   int     // the line of headings, noHead where there is none
	alike  float64 // how much it looks like headings, against the line that does so most
	comma  bool
	unit   units.Unit // of pressures that name none
	kind   string     // of figures without a word for dry, wet or leak
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
		found := heads(one.lines, most)
		for _, at := range found {
			if r.picks.Head > 0 && (at == noHead || one.lines[at].n != r.picks.Head) {
				continue
			}
			all = append(all, view{
				turned: turned, head: at, alike: alike(one.lines, at, found[0]), comma: r.commaUsual(), unit: r.picks.Unit, kind: firstOf(r.picks.Kind, log.Dry),
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

// alike says how much a line looks like headings, as a share of the likeliest.
func alike(lines []line, at, best int) float64 {
	if at == noHead || best == noHead {
		return 0
	}
	return headScore(lines[at]) / headScore(lines[best])
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

// has reports whether some reading is such.
func (w weighed) has(is func(taken) bool) bool {
	return slices.ContainsFunc(w.reader.tests, func(t *test) bool { return slices.ContainsFunc(t.taken, is) })
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
