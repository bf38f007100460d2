package season

import (
	"slices"

	"braxel/internal/core/ahead"
	"braxel/internal/core/say"
)

// Moved is one thing in which a plan differs from the one before, and why.
type Moved struct {
	Meeting string `json:"meeting"`
	What    string `json:"what"`
	Why     string `json:"why,omitzero"`
}

// Offer is a plan that was found, beside the one that stands.
type Offer struct {
	Plan
	Price    Price    `json:"price"`
	Before   Price    `json:"before" doc:"What the rest of the season comes to as it stands"`
	Moved    []Moved  `json:"moved" doc:"What it changes, event by event"`
	Words    string   `json:"words"`
	Give     []string `json:"give" doc:"What would have to give, where no plan keeps the owner's chance"`
	Searched Searched `json:"searched"`
	Limits   string   `json:"limits" doc:"What was not searched"`
}

// Offer lays a plan that was found beside the one that stands.
func (s *Shop) Offer(p Plan, searched Searched) Offer {
	next := s.Season
	next.Starts, next.Jobs = p.Starts, p.Jobs
	planned := New(next, s.Engines, s.Today)
	o := Offer{
		Plan: p, Price: s.Price(p), Before: s.Price(s.typed()), Moved: s.moved(planned), Searched: searched,
		Limits: say.Text("season.not-searched", "kept", searched.Kept), Give: []string{},
	}
	switch {
	case len(o.Moved) == 0 && o.Price.Unmet+o.Price.Empty == 0:
		o.Words = say.Text("season.plan-stands")
	case o.Price.Unmet+o.Price.Empty > 0:
		o.Words = say.Text("season.plan-cant", "n", o.Price.Unmet+o.Price.Empty)
		o.Give = s.gives(planned)
	default:
		o.Words = say.Text("season.plan-found", "n", len(o.Moved), "work", o.Price.work())
	}
	return o
}

// work says how much of each kind of work a plan has.
func (p Price) work() string {
	var all []string
	for _, x := range []struct {
		n  int
		id string
	}{{p.Tests, "season.n-tests"}, {p.Freshen, "season.n-freshens"}, {p.Swaps, "season.n-swaps"}} {
		if x.n > 0 {
			all = append(all, say.Text(x.id, "n", x.n))
		}
	}
	if len(all) == 0 {
		return say.Text("season.no-work")
	}
	return say.And(all)
}

// moved returns what another plan changes.
func (s *Shop) moved(planned *Shop) []Moved {
	all := []Moved{}
	was, is := s.index(s.typed()), planned.index(planned.typed())
	board := planned.Board()
	for k, m := range s.meets {
		if s.past(m) {
			continue
		}
		for n, c := range s.Season.Cars {
			a, b := was.cars[at{n, k}], is.cars[at{n, k}]
			if a.Engine == b.Engine {
				continue
			}
			one := Moved{Meeting: m.ID}
			switch {
			case b.Engine == "":
				one.What = say.Text("season.moved-out", "engine", s.engineName(a.Engine), "name", m.Name)
			case a.Engine == "":
				one.What = say.Text("season.moved-in", "engine", s.engineName(b.Engine), "car", c.Name, "name", m.Name)
			default:
				one.What = say.Text("season.moved", "engine", s.engineName(b.Engine), "other", s.engineName(a.Engine), "car", c.Name, "name", m.Name)
			}
			if i, ok := s.number[b.Engine]; ok {
				one.Why = board.Engines[rowOf(board, s.Engines[i].ID)].Cells[k].Words
			}
			all = append(all, one)
		}
		for i, e := range s.Engines {
			for _, j := range is.jobs[at{i, k}] {
				if !has(was.jobs[at{i, k}], j.Work) {
					all = append(all, Moved{
						Meeting: m.ID, What: say.Text("season.job-new", "what", todo(board.Engines[rowOf(board, e.ID)], k, j.Work), "name", m.Name),
						Why: planned.whyWork(board.Engines[rowOf(board, e.ID)], k, j.Work),
					})
				}
			}
			for _, j := range was.jobs[at{i, k}] {
				if !has(is.jobs[at{i, k}], j.Work) {
					all = append(all, Moved{
						Meeting: m.ID, What: say.Text("season.job-gone", "what", say.Text("season.todo-"+string(j.Work), "engine", e.Name), "name", m.Name),
					})
				}
			}
		}
	}
	return all
}

func rowOf(b Board, engine string) int {
	return slices.IndexFunc(b.Engines, func(r EngineRow) bool { return r.Engine == engine })
}

func has(all []ahead.Job, w ahead.Work) bool {
	return slices.ContainsFunc(all, func(j ahead.Job) bool { return j.Work == w })
}

// gives says what would have to give where no plan was found that keeps the owner's chance: each start that can't be met, and why.
func (s *Shop) gives(planned *Shop) []string {
	const most = 12
	out := []string{}
	is := planned.index(planned.typed())
	board := planned.Board()
	for k, m := range s.meets {
		if s.past(m) {
			continue
		}
		for n, c := range s.Season.Cars {
			x, there := is.cars[at{n, k}]
			switch {
			case len(out) >= most || there && x.Engine == "" || !there && !goes(m, c.ID):
			case !there:
				out = append(out, say.Text("season.give-no-engine", "car", c.Name, "name", m.Name))
			default:
				if row := rowOf(board, x.Engine); row >= 0 && board.Engines[row].Cells[k].Level != "fine" && board.Engines[row].Cells[k].Level != "" {
					id := "season.give-chance"
					if s.day[k] < s.terms.Lead {
						id = "season.give-lead"
					}
					out = append(out, say.Text(id, "engine", s.engineName(x.Engine), "name", m.Name, "odds", Odds(board.Engines[row].Cells[k].Chance), "days", s.terms.Lead))
				}
			}
		}
	}
	if s.terms.Budget > 0 && board.Price.Freshen > s.terms.Budget {
		out = append(out, say.Text("season.give-budget", "n", s.terms.Budget))
	}
	return out
}
