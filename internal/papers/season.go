package papers

import (
	"fmt"

	"braxel/internal/core/say"
	"braxel/internal/core/season"
	"braxel/internal/core/units"
)

// SeasonPlan writes a season on one page: each event with who runs in what, its chance, and the work before it; then what each
// engine is good for. A long season is written smaller until it fits, as small as can be read; the longest go on overleaf.
func SeasonPlan(b season.Board, todo []season.Todo, shop string, shown units.Choice) ([]byte, error) {
	size := Sizes["a4"]
	var plan seasonPlan
	for _, scale := range []float64{1, 0.9, 0.8, 0.7, 0.62} {
		plan = seasonPlan{newPage(size[0], size[1], shop), b, todo, shown, scale}
		plan.write(shop)
		if plan.PageNo() == 1 {
			break
		}
	}
	return plan.bytes()
}

type seasonPlan struct {
	*page
	board season.Board
	todo  []season.Todo
	shown units.Choice
	scale float64 // of the letters
}

func (p seasonPlan) line(face string, size float64, text string) {
	p.paragraph(face, p.scale*size, text)
}

func (p seasonPlan) write(shop string) {
	b := p.board
	p.title(say.Text("papers.season-plan"), shop)
	p.line(words, 10.5, say.Text("papers.season-as-of", "day", p.shown.Day(b.Today), "odds", season.Odds(1-b.Terms.Chance)))
	for k := b.From; k < len(b.Meetings); k++ {
		p.event(k)
	}
	if len(b.Meetings) == 0 {
		p.line(words, 10.5, say.Text("papers.season-empty"))
	}
	p.y += 3
	for _, r := range b.Engines {
		p.line(words, 9.5, say.Text("papers.season-engine", "engine", r.Name, "words", r.Sentence))
	}
	p.line(words, 8.5, b.Record.Words)
	p.paragraph(words, 7, Caution)
}

// event writes one event.
func (p seasonPlan) event(k int) {
	m := p.board.Meetings[k]
	when := p.shown.Day(m.Date)
	if m.Until != "" {
		when = say.Text("papers.season-until", "from", when, "until", p.shown.Day(m.Until))
	}
	p.y += 2 * p.scale
	p.line(heavy, 11.5, fmt.Sprintf("%s · %s", when, m.Name))
	p.SetLineWidth(0.2)
	p.Line(margin, p.y, margin+p.w, p.y)
	for _, t := range p.todo {
		if t.Meeting == m.ID {
			p.line(words, 10, fmt.Sprintf("[   ] %s. %s %s", t.What, t.Why, t.When))
		}
	}
	for _, r := range p.board.Engines {
		c := r.Cells[k]
		if c.Car == "" {
			continue
		}
		line := say.Text("papers.season-start", "engine", r.Name, "car", p.board.CarName(c.Car))
		switch {
		case c.Ran != nil:
			line += say.Text("papers.season-ran", "ran", *c.Ran, "unit", r.Unit)
		case r.Repair != "" && c.Chance == 0:
			line += say.Text("papers.season-mend", "repair", r.Repair)
		case c.Level != "":
			line += say.Text("papers.season-chance", "odds", season.Odds(c.Chance), "running", c.Running, "unit", r.Unit)
		}
		p.line(heavy, 10, line)
	}
}
