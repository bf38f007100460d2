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
	x := change{s, planned, s.index(s.typed()), planned.index(planned.typed()), planned.Board()}
	for k, m := range s.meets {
		if s.past(m) {
			continue
		}
		for n := range s.Season.Cars {
			if one, is := x.start(k, n); is {
				all = append(all, one)
			}
		}
		for i := range s.Engines {
			all = append(all, x.jobs(k, i)...)
		}
	}
	return all
}

// change is a plan beside the one before it.
type change struct {
	shop, planned *Shop
	was, is       indexed
	board         Board
}

// start returns what changes of a car's start at an event; false where nothing does.
func (x change) start(k, n int) (Moved, bool) {
	m, car := x.shop.meets[k], x.shop.Season.Cars[n].Name
	a, b := x.was.cars[at{n, k}].Engine, x.is.cars[at{n, k}].Engine
	if a == b {
		return Moved{}, false
	}
	one, other := x.shop.engineName(b), x.shop.engineName(a)
	out := Moved{Meeting: m.ID}
	switch {
	case b == "":
		out.What = say.Text("season.moved-out", "engine", other, "name", m.Name)
		return out, true
	case a == "":
		out.What = say.Text("season.moved-in", "engine", one, "car", car, "name", m.Name)
	default:
		out.What = say.Text("season.moved", "engine", one, "other", other, "car", car, "name", m.Name)
	}
	if row := rowOf(x.board, b); row >= 0 {
		out.Why = x.board.Engines[row].Cells[k].Words
	}
	return out, true
}

// jobs returns the work on an engine before an event that is new, and that is gone.
func (x change) jobs(k, i int) []Moved {
	m, e := x.shop.meets[k], x.shop.Engines[i]
	was, is := x.was.jobs[at{i, k}], x.is.jobs[at{i, k}]
	var all []Moved
	for _, j := range is {
		if !has(was, j.Work) {
			row := x.board.Engines[rowOf(x.board, e.ID)]
			what := say.Text("season.job-new", "what", todo(row, k, j.Work), "name", m.Name)
			all = append(all, Moved{m.ID, what, x.planned.whyWork(row, k, j.Work, x.is)})
		}
	}
	for _, j := range was {
		if !has(is, j.Work) {
			what := say.Text("season.todo-"+string(j.Work), "engine", e.Name)
			all = append(all, Moved{Meeting: m.ID, What: say.Text("season.job-gone", "what", what, "name", m.Name)})
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
				if words := s.beyond(board, x.Engine, k); words != "" {
					out = append(out, words)
				}
			}
		}
	}
	if s.terms.Budget > 0 && board.Price.Freshen > s.terms.Budget {
		out = append(out, say.Text("season.give-budget", "n", s.terms.Budget))
	}
	if s.terms.Money > 0 && board.Price.Spent > s.terms.Money {
		out = append(out, say.Text("season.give-money", "spent", board.Price.Spent, "money", s.terms.Money))
	}
	return out
}

// beyond says of a start that it is beyond the owner's chance, and what would have to give; "" where it isn't.
func (s *Shop) beyond(b Board, engine string, k int) string {
	row := rowOf(b, engine)
	if row < 0 {
		return ""
	}
	c := b.Engines[row].Cells[k]
	if c.Level == "" || c.Level == "fine" {
		return ""
	}
	id := "season.give-chance"
	if e := s.Engines[s.number[engine]]; s.level(c.Chance) == "fine" {
		return say.Text("season.give-limit", "engine", e.Name, "name", s.meets[k].Name, "by", e.LimitBy, "limit", amount(e.Limit, e.Life.Unit))
	}
	if s.day[k] < s.terms.Lead {
		id = "season.give-lead"
	}
	return say.Text(id, "engine", s.engineName(engine), "name", s.meets[k].Name, "odds", Odds(c.Chance), "days", s.terms.Lead)
}
