package papers

import (
	"fmt"

	"braxel/internal/core/say"
	"braxel/internal/core/season"
	"braxel/internal/core/units"
)

// SeasonPlan writes a season on one page: each event with who runs in what, its chance, and the work before it.
func SeasonPlan(b season.Board, todo []season.Todo, shop string, shown units.Choice) ([]byte, error) {
	size := Sizes["a4"]
	p := newPage(size[0], size[1], shop)
	p.title(say.Text("papers.season-plan"), shop)
	p.paragraph(words, 10.5, say.Text("papers.season-as-of", "day", shown.Day(b.Today), "odds", season.Odds(1-b.Terms.Chance)))
	for k, m := range b.Meetings {
		when := shown.Day(m.Date)
		if m.Until != "" {
			when = say.Text("papers.season-until", "from", when, "until", shown.Day(m.Until))
		}
		p.heading(fmt.Sprintf("%s · %s", when, m.Name))
		for _, t := range todo {
			if t.Meeting == m.ID {
				p.paragraph(words, 10, fmt.Sprintf("[   ] %s. %s", t.What, t.Why))
			}
		}
		for _, r := range b.Engines {
			c := r.Cells[k]
			if c.Car == "" {
				continue
			}
			line := say.Text("papers.season-start", "engine", r.Name, "car", b.CarName(c.Car))
			switch {
			case c.Ran != nil:
				line += say.Text("papers.season-ran", "ran", *c.Ran, "unit", r.Unit)
			case c.Level != "":
				line += say.Text("papers.season-chance", "odds", season.Odds(c.Chance), "running", c.Running, "unit", r.Unit)
			}
			p.paragraph(heavy, 10.5, line)
		}
	}
	if len(b.Meetings) == 0 {
		p.paragraph(words, 10.5, say.Text("papers.season-empty"))
	}
	p.y += 3
	p.paragraph(words, 8.5, b.Record.Words)
	p.paragraph(words, 8, Caution)
	return p.bytes()
}
