package season

import (
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
			if t.Meeting == m.ID {
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
	sits := map[string]string{}
	for _, c := range s.Season.Cars {
		sits[c.ID] = c.Sits
	}
	for k, m := range b.Meetings {
		by := m.Date
		for _, r := range b.Engines {
			cell := r.Cells[k]
			for _, j := range cell.Jobs {
				if !m.Past && j.Done == "" {
					all = append(all, Todo{
						Job: j.ID, Engine: r.Engine, Name: r.Name, Meeting: m.ID, By: by, Work: j.Work,
						What: todo(r, k, j.Work), Why: s.whyWork(r, k, j.Work),
					})
				}
			}
			if cell.Car == "" {
				continue
			}
			if sits[cell.Car] != r.Engine && !m.Past {
				all = append(all, Todo{
					Engine: r.Engine, Name: r.Name, Meeting: m.ID, By: by,
					What: say.Text("season.todo-swap", "engine", r.Name, "car", b.CarName(cell.Car)),
					Why:  say.Text("season.why-swap", "name", m.Name),
				})
			}
			sits[cell.Car] = r.Engine
		}
	}
	return all
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

// whyWork says what work before an event is for: the chances with it and without it at the events until the next work.
func (s *Shop) whyWork(r EngineRow, k int, w ahead.Work) string {
	if mends(r, k, w) {
		return say.Text("season.why-mend", "repair", r.Repair)
	}
	with, name := 1.0, s.meets[k].Name
	for i := k; i < len(r.Cells); i++ {
		c := r.Cells[i]
		if i > k && len(c.Jobs) > 0 {
			break
		}
		if c.Car != "" {
			with, name = c.Chance, s.meets[i].Name
		}
	}
	without := s.without(r, k)
	if w == ahead.Test {
		return say.Text("season.why-test", "name", name, "with", fine(with), "without", fine(without))
	}
	return say.Text("season.why-freshen", "name", name, "with", fine(with), "without", fine(without))
}

// without returns the chance at the last event before the next work, if the work before an event isn't done.
func (s *Shop) without(r EngineRow, k int) float64 {
	i, ok := s.number[r.Engine]
	if !ok {
		return 1
	}
	e := s.Engines[i]
	now := e.begin()
	chance := 1.0
	for n, m := range s.meets {
		c := r.Cells[n]
		if n > k && len(c.Jobs) > 0 {
			break
		}
		for _, j := range c.Jobs {
			if n != k && s.counts(e, m, ahead.Job{Work: j.Work, Done: j.Done}) {
				now = e.after(now, j.Work)
			}
		}
		if x, runs := s.ran[at{i, n}]; runs && e.sinceTest(m) {
			running, _ := s.running(e, m, x)
			now, chance = e.runs(now, running, x.Ran == nil)
		}
	}
	return chance
}
