package season

import (
	"math"

	"braxel/internal/core/ahead"
	"braxel/internal/core/say"
)

// next returns the next event of a board; nil where there is none.
func (s *Shop) next(b Board) *NextMeeting {
	for k, m := range b.Meetings {
		if m.Past {
			continue
		}
		out := &NextMeeting{Meeting: m, Starts: []NextStart{}, Todo: []Todo{}}
		for _, c := range s.Season.Cars {
			if !goes(m.Meeting, c.ID) {
				continue
			}
			one := NextStart{Car: c.Name, Words: say.Text("season.no-engine-planned")}
			for _, r := range b.Engines {
				if cell := r.Cells[k]; cell.Car == c.ID {
					one.Engine, one.ID, one.Chance, one.Level, one.Words = r.Name, r.Engine, cell.Chance, cell.Level, cell.Words
					if r.Repair != "" {
						one.Words = say.Text("season.mend-first", "repair", r.Repair)
					}
				}
			}
			out.Starts = append(out.Starts, one)
		}
		for _, t := range s.Todo(b) {
			switch presses := t.Begin <= m.Date || t.Order != "" && t.Order <= m.Date; {
			case t.Meeting == m.ID:
				out.Todo = append(out.Todo, t)
			case presses: // though it is for a later event
				t.What = say.Text("season.todo-for", "what", t.What, "name", b.NameOf(t.Meeting))
				out.Todo = append(out.Todo, t)
			}
		}
		id := "season.next-in"
		switch {
		case m.Days == 0:
			id = "season.next-today"
		case m.Days < 0:
			id = "season.next-now"
		}
		out.Words = say.Text(id, "n", m.Days)
		return out
	}
	return nil
}

// Todo returns the work and the swaps that are planned for the rest of the season, by event.
func (s *Shop) Todo(b Board) []Todo {
	var all []Todo
	p := s.index(s.typed())
	sits := map[string]string{}
	for _, c := range s.Season.Cars {
		sits[c.ID] = c.Sits
	}
	for k, m := range b.Meetings {
		for _, r := range b.Engines {
			cell := r.Cells[k]
			for _, j := range cell.Jobs {
				if !m.Past && j.Done == "" {
					all = append(all, s.dated(k, Todo{
						Job: j.ID, Engine: r.Engine, Name: r.Name, Meeting: m.ID, Work: j.Work,
						What: todo(r, k, j.Work), Why: s.whyWork(r, k, j.Work, p),
					}))
				}
			}
			if cell.Car == "" {
				continue
			}
			if sits[cell.Car] != r.Engine && !m.Past {
				all = append(all, s.dated(k, Todo{
					Engine: r.Engine, Name: r.Name, Meeting: m.ID,
					What: say.Text("season.todo-swap", "engine", r.Name, "car", b.CarName(cell.Car)),
					Why:  say.Text("season.why-swap", "name", m.Name),
				}))
			}
			sits[cell.Car] = r.Engine
		}
	}
	return all
}

// dated says by when work before an event is begun, and its parts are ordered, so that it is done by day alone.
func (s *Shop) dated(k int, t Todo) Todo {
	hours := s.terms.Swap
	if t.Work != "" {
		hours = s.hoursOf(t.Work)
	}
	begin := max(0, s.day[k]-int(math.Ceil(hours/s.terms.Day)))
	t.Begin = s.dayIn(begin)
	t.When = say.Text("season.begin-by", "day", say.Day(t.Begin))
	if t.Work == ahead.Freshen || t.Work == ahead.Rebuild {
		order := max(0, begin-s.terms.Lead)
		t.Order = s.dayIn(order)
		id := "season.order-by"
		if order == 0 {
			id = "season.order-now"
		}
		t.When = say.Sentences(say.Text(id, "day", say.Day(t.Order)), t.When)
	}
	return t
}

// mends reports whether work is the first that opens an engine which has to be mended before it runs.
func mends(r EngineRow, k int, w ahead.Work) bool {
	if r.Repair == "" || w == ahead.Test {
		return false
	}
	for _, c := range r.Cells[:k] {
		for _, j := range c.Jobs {
			if j.Work != ahead.Test && j.Done == "" {
				return false
			}
		}
	}
	return true
}

// todo says what work is on an engine before an event.
func todo(r EngineRow, k int, w ahead.Work) string {
	if mends(r, k, w) {
		return say.Text("season.todo-mend", "engine", r.Name)
	}
	return say.Text("season.todo-"+string(w), "engine", r.Name)
}

// whyWork says what work before an event is for: the chances with it and without it at the last event until the next work.
func (s *Shop) whyWork(r EngineRow, k int, w ahead.Work, p indexed) string {
	if mends(r, k, w) {
		return say.Text("season.why-mend", "repair", r.Repair)
	}
	i := s.number[r.Engine]
	with, _ := s.follow(i, p, nil)
	without, _ := s.follow(i, p, map[int][]ahead.Work{k: nil})
	last := s.until(i, k, p, with, ahead.Test)
	if last < 0 {
		return say.Text("season.why-nothing-runs")
	}
	if with[last].blind > 0 {
		return s.blindWords(s.Engines[i], with[last].blind)
	}
	better, worse := fine(with[last].chance), fine(without[last].chance)
	return say.Text("season.why-"+string(w), "name", s.meets[last].Name, "with", better, "without", worse)
}
