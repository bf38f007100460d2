package season

import (
	"cmp"
	"slices"

	"braxel/internal/core/ahead"
	"braxel/internal/core/say"
)

// Other is something else that could be done at a start: what it changes of the season's price.
type Other struct {
	Engine string     `json:"engine,omitzero" doc:"The engine's id; none: the car stays at home"`
	Name   string     `json:"name"`
	Work   ahead.Work `json:"work,omitzero" enum:"test,freshen" doc:"On it before the event"`
	Chance float64    `json:"chance"`
	Level  string     `json:"level,omitzero" enum:"fine,near,over,far"`
	Hours  float64    `json:"hours" doc:"More in the shop over the season, or less"`
	Unmet  int        `json:"unmet" doc:"More starts at which the owner's chance isn't kept, or fewer"`
	Now    bool       `json:"now,omitzero" doc:"As it is planned"`
	Words  string     `json:"words"`
}

// Others returns what else a car could do at an event, the cheapest first, beside what is planned: each engine that fits, with the work that
// makes it cheapest. An engine that runs in another car there changes places.
func (s *Shop) Others(meeting, car string) []Other {
	k, there := s.place[meeting]
	n, known := s.seats[car]
	out := []Other{}
	if !there || !known || s.past(s.meets[k]) {
		return out
	}
	typed := s.typed()
	before := s.Price(typed)
	now := s.index(typed).cars[at{n, k}]
	costs := map[string]float64{}
	for _, i := range s.fit[n] {
		e := s.Engines[i]
		var best Other
		cost := 0.0
		for _, w := range works {
			p := s.with(typed, k, n, e.ID, w)
			price := s.Price(p)
			if best.Engine != "" && price.Cost >= cost {
				continue
			}
			cost = price.Cost
			cell := s.row(i, s.index(p)).Cells[k]
			best = Other{
				Engine: e.ID, Name: e.Name, Work: w, Chance: cell.Chance, Level: cell.Level,
				Hours: price.Hours - before.Hours, Unmet: price.Unmet - before.Unmet, Now: now.Engine == e.ID,
			}
		}
		best.Words = best.words()
		costs[e.ID] = cost
		out = append(out, best)
	}
	slices.SortStableFunc(out, func(a, b Other) int { return cmp.Compare(costs[a.Engine], costs[b.Engine]) })
	return out
}

// with returns a plan in which a car runs an engine at an event, after work.
func (s *Shop) with(p Plan, k, n int, engine string, w ahead.Work) Plan {
	m, car := s.meets[k], s.Season.Cars[n]
	out := Plan{}
	was := ""
	for _, x := range p.Starts {
		if x.Meeting == m.ID && x.Car == car.ID {
			was = x.Engine
		}
	}
	for _, x := range p.Starts {
		switch {
		case x.Meeting == m.ID && x.Car == car.ID:
			continue
		case x.Meeting == m.ID && x.Engine == engine: // they change places
			x.Engine = was
		}
		out.Starts = append(out.Starts, x)
	}
	out.Starts = append(out.Starts, ahead.Start{ID: ahead.StartOf(m.ID, car.ID), Meeting: m.ID, Car: car.ID, Engine: engine})
	for _, j := range p.Jobs {
		if j.Before != m.ID || j.Engine != engine || j.Pinned || j.Done != "" {
			out.Jobs = append(out.Jobs, j)
		}
	}
	if w != "" {
		out.Jobs = append(out.Jobs, jobOf(engine, w, m.ID))
	}
	return out
}

// words says what is gained and lost by it.
func (o Other) words() string {
	work := ""
	if o.Work != "" {
		work = say.Text("season.other-after-" + string(o.Work))
	}
	change := say.Text("season.other-same")
	switch {
	case o.Now:
		change = say.Text("season.other-now")
	case o.Hours > 0.05:
		change = say.Text("season.other-more", "hours", o.Hours)
	case o.Hours < -0.05:
		change = say.Text("season.other-less", "hours", -o.Hours)
	}
	return say.Sentences(say.Text("season.other", "odds", Odds(o.Chance), "work", work), change)
}
