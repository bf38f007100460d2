package hindsight

import (
	"strings"

	"braxel/internal/core/judge"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// words says in a few sentences what a rule would have changed.
func (r Result) words(s rules.Setting, value float64, shown units.Choice) string {
	if r.Engines == 0 {
		return say.Text("hindsight.no-engine")
	}
	looked := say.Text("hindsight.looked", "tests", tests(r.Tests), "engines", say.Text("hindsight.engines", "n", r.Engines))
	var all []string
	switch s.Group {
	case "limits":
		all = r.limitWords(levelOf(s), shown)
	case "intervals":
		all = say.Some(some("hindsight.due-sooner", r.Sooner), some("hindsight.due-later", r.Later))
	default:
		all = r.causeWords(shown)
	}
	if len(r.Sooner)+len(r.Later)+len(r.More)+len(r.Never)+len(r.Other) == 0 {
		return say.Text("hindsight.nothing", "with", with(s, value), "looked", looked)
	}
	return say.Text("hindsight.in", "with", with(s, value), "looked", looked, "all", strings.Join(all, " "))
}

// with says what the rule would be.
func with(s rules.Setting, value float64) string {
	switch {
	case s.Group == "causes":
		return say.Text("hindsight.with-a-chance-of", "value", value)
	case value == 1:
		return say.Text("hindsight.with-one", "unit", strings.Replace(s.Unit, "points", "point", 1))
	}
	return say.Text("hindsight.with", "value", value, "unit", s.Unit)
}

// limitWords says which engines would have come to a state sooner, later, for the first time, or never.
func (r Result) limitWords(level judge.State, shown units.Choice) []string {
	id := "hindsight.watched-"
	if level == judge.Act {
		id = "hindsight.acted-"
	}
	var all []string
	for _, c := range r.Sooner {
		all = append(all, say.Text(id+"sooner", "name", c.Name, "tests", tests(c.Tests), "date", shown.Day(c.Date)))
	}
	for _, c := range r.Later {
		all = append(all, say.Text(id+"later", "name", c.Name, "tests", tests(c.Tests), "date", shown.Day(c.Date)))
	}
	return append(all, say.Some(some(id+"for-once", r.More), some(id+"no-more", r.Never))...)
}

// causeWords says which faults would have been called otherwise, and how many that were opened would be named right.
func (r Result) causeWords(shown units.Choice) []string {
	var all []string
	for i, c := range r.Other {
		if i == mostNamed {
			all = append(all, say.Text("hindsight.so-would-more", "n", len(r.Other)-mostNamed))
			break
		}
		all = append(all, say.Text("hindsight.called-otherwise", "name", c.Name, "date", shown.Day(c.Date), "words", c.Words))
	}
	if r.Opened > 0 {
		all = append(all, say.Text("hindsight.named-right", "n", r.Opened, "would", r.Would, "right", r.Right))
	}
	return all
}

// some says a text of the engines of some cases; "" of none.
func some(id string, cases []Case) string {
	if len(cases) == 0 {
		return ""
	}
	return say.Text(id, "n", len(cases), "who", subject(cases))
}

func tests(n int) string { return say.Text("hindsight.tests", "n", n) }

// mostNamed is how many cases are named one by one.
const mostNamed = 4

// subject names the engines of some cases: “Heron and Wren”, “Heron, Wren, Kestrel, Osprey and 3 more”.
func subject(cases []Case) string {
	var names []string
	for _, c := range cases[:min(mostNamed, len(cases))] {
		names = append(names, c.Name)
	}
	if more := len(cases) - mostNamed; more > 0 {
		names = append(names, say.Text("hindsight.more", "more", more))
	}
	return say.And(names)
}
