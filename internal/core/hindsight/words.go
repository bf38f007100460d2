package hindsight

import (
	"fmt"
	"strings"
	"time"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// words says in a few sentences what a rule would have changed.
func (r Result) words(s rules.Setting, value float64) string {
	with := fmt.Sprintf("With %g %s", value, s.Unit)
	if value == 1 {
		with = "With one " + strings.Replace(s.Unit, "points", "point", 1)
	}
	if s.Group == "causes" {
		with = fmt.Sprintf("With a chance of %g", value)
	}
	if r.Engines == 0 {
		return "No engine here is of that kind yet."
	}
	looked := fmt.Sprintf("%s of %s", counted(r.Tests, "test"), counted(r.Engines, "engine"))
	if len(r.Sooner)+len(r.Later)+len(r.More)+len(r.Never)+len(r.Other) == 0 {
		return fmt.Sprintf("%s nothing would have been said differently, in %s.", with, looked)
	}
	var all []string
	add := func(cases []Case, one, several string) {
		if len(cases) > 0 {
			all = append(all, subject(cases)+" "+plural(len(cases), one, several)+".")
		}
	}
	switch s.Group {
	case "limits":
		said := map[judge.State]string{judge.Watch: "watched", judge.Act: "acted upon"}[levelOf(s)]
		for _, c := range r.Sooner {
			all = append(all, fmt.Sprintf("%s would have been %s %s sooner, on %s.", c.Name, said, counted(c.Tests, "test"), day(c.Date)))
		}
		for _, c := range r.Later {
			all = append(all, fmt.Sprintf("%s would have been %s %s later, on %s.", c.Name, said, counted(c.Tests, "test"), day(c.Date)))
		}
		add(r.More, "was never "+said+", and would have been", "were never "+said+", and would have been")
		add(r.Never, "was "+said+", and would never have been", "were "+said+", and would never have been")
	case "intervals":
		add(r.Sooner, "would be due sooner", "would be due sooner")
		add(r.Later, "would be due later", "would be due later")
	default:
		for i, c := range r.Other {
			if i == mostNamed {
				all = append(all, fmt.Sprintf("So would %d more.", len(r.Other)-mostNamed))
				break
			}
			all = append(all, fmt.Sprintf("%s on %s would have been called %s.", c.Name, day(c.Date), c.Words))
		}
		if r.Opened > 0 {
			all = append(all, fmt.Sprintf("Of %s, %d would be named rightly; %d are now.", counted(r.Opened, "opened fault"), r.Would, r.Right))
		}
	}
	return fmt.Sprintf("%s, in %s: %s", with, looked, strings.Join(all, " "))
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
		names = append(names, fmt.Sprintf("%d more", more))
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
		return "one " + what
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
