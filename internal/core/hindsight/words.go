package hindsight

import (
	"fmt"
	"strings"
	"time"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// words says in a few sentences what a rule would have changed.
func (r Result) words(s rules.Setting, value float64) string {
	with := say.Text("hindsight.with", "value", value, "unit", s.Unit)
	if value == 1 {
		with = say.Text("hindsight.with-one", "unit", strings.Replace(s.Unit, "points", "point", 1))
	}
	if s.Group == "causes" {
		with = say.Text("hindsight.with-a-chance-of", "value", value)
	}
	if r.Engines == 0 {
		return say.Text("hindsight.no-engine-here-is-of")
	}
	looked := say.Text("hindsight.of",
		"counted", counted(r.Tests, "test"),
		"counted2", counted(r.Engines, "engine"),
	)
	if len(r.Sooner)+len(r.Later)+len(r.More)+len(r.Never)+len(r.Other) == 0 {
		return say.Text("hindsight.nothing-would-have-been-said", "with", with, "looked", looked)
	}
	var all []string
	add := func(cases []Case, one, several string) {
		if len(cases) > 0 {
			all = append(all, subject(cases)+" "+plural(len(cases), one, several)+".")
		}
	}
	switch s.Group {
	case "limits":
		said := map[judge.State]string{judge.Watch: "watched", judge.Act: say.Text("hindsight.acted-upon")}[levelOf(s)]
		for _, c := range r.Sooner {
			all = append(all, say.Text("hindsight.would-have-been-sooner-on",
				"name", c.Name,
				"said", said,
				"counted", counted(c.Tests, "test"),
				"date", day(c.Date),
			))
		}
		for _, c := range r.Later {
			all = append(all, say.Text("hindsight.would-have-been-later-on",
				"name", c.Name,
				"said", said,
				"counted", counted(c.Tests, "test"),
				"date", day(c.Date),
			))
		}
		add(r.More, say.Text("hindsight.was-never-and-would-have",
			"said", said,
		), say.Text("hindsight.were-never-and-would-have", "said", said))
		add(r.Never, say.Text("hindsight.was-and-would-never-have",
			"said", said,
		), say.Text("hindsight.were-and-would-never-have", "said", said))
	case "intervals":
		add(r.Sooner, say.Text("hindsight.would-be-due-sooner"), say.Text("hindsight.would-be-due-sooner"))
		add(r.Later, say.Text("hindsight.would-be-due-later"), say.Text("hindsight.would-be-due-later"))
	default:
		for i, c := range r.Other {
			if i == mostNamed {
				all = append(all, say.Text("hindsight.so-would-more", "n", len(r.Other)-mostNamed))
				break
			}
			all = append(all, say.Text("hindsight.on-would-have-been-called",
				"name", c.Name,
				"date", day(c.Date),
				"words", c.Words,
			))
		}
		if r.Opened > 0 {
			all = append(all, say.Text("hindsight.of-would-be-named-rightly",
				"counted", counted(r.Opened, say.Text("hindsight.opened-fault")),
				"would", r.Would,
				"right", r.Right,
			))
		}
	}
	return say.Text("hindsight.in", "with", with, "looked", looked, "all", strings.Join(all, " "))
}

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
	return log.And(names)
}

func plural(n int, one, several string) string {
	if n == 1 {
		return one
	}
	return several
}

func counted(n int, what string) string {
	if n == 1 {
		return say.Text("hindsight.one", "what", what)
	}
	return fmt.Sprintf("%d %ss", n, what)
}

// day writes a date as one says it; what is none as it stands.
func day(date string) string {
	d, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return date
	}
	return d.Format("2 January 2006")
}
