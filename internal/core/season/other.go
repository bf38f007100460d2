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
	Work   ahead.Work `json:"work,omitzero" enum:"test,freshen,rebuild" doc:"On it before the event"`
	Chance float64    `json:"chance"`
	Level  string     `json:"level,omitzero" enum:"fine,near,over,far"`
	Hours  float64    `json:"hours" doc:"More in the shop over the season, or less"`
	Unmet  int        `json:"unmet" doc:"More starts at which the owner's chance isn't kept, or fewer"`
	Now    bool       `json:"now,omitzero" doc:"As it is planned"`
	Words  string     `json:"words"`
	cost   float64
}

// Others returns what else a car could do at an event, beside what is planned. Of the engine that is planned for it come all kinds of work,
// in their order. Then each other engine that fits, the cheapest first, with the work that makes it cheapest; one that runs in another car
// there changes places.
func (s *Shop) Others(meeting, car string) []Other {
	k, there := s.place[meeting]
	n, known := s.seats[car]
	out := []Other{}
	if !there || !known || s.past(s.meets[k]) {
		return out
	}
	x := comparing{s, s.typed(), s.Price(s.typed()), k, n}
	now := s.index(x.plan)
	planned := now.cars[at{n, k}].Engine
	if i, runs := s.number[planned]; runs {
		for _, w := range append(works[:], ahead.Rebuild) {
			o := x.other(i, w)
			o.Now = now.work[at{i, k}] == w
			o.Words = o.words()
			out = append(out, o)
		}
	}
	var rivals []Other
	for _, i := range s.fit[n] {
		if s.Engines[i].ID == planned {
			continue
		}
		best := x.other(i, works[0])
		for _, w := range works[1:] {
			if o := x.other(i, w); o.cost < best.cost {
				best = o
			}
		}
		best.Words = best.words()
		if best.Work != "" {
			best.Words = say.Sentences(say.Text("season.other-after-"+string(best.Work)), best.Words)
		}
		rivals = append(rivals, best)
	}
	slices.SortStableFunc(rivals, func(a, b Other) int { return cmp.Compare(a.cost, b.cost) })
	return append(out, rivals...)
}

// comparing is a plan beside which other things are held that a car could do at an event.
type comparing struct {
	shop   *Shop
	plan   Plan
	before Price
	k, n   int
}

// other returns what it comes to if the car runs an engine after work.
func (x comparing) other(i int, w ahead.Work) Other {
	s, e := x.shop, x.shop.Engines[i]
	p := s.with(x.plan, x.k, x.n, e.ID, w)
	price := s.Price(p)
	all, _ := s.follow(i, s.index(p), nil)
	one := all[x.k]
	return Other{
		Engine: e.ID, Name: e.Name, Work: w, Chance: one.chance, Level: s.levelAt(one),
		Hours: price.Hours - x.before.Hours, Unmet: price.Unmet - x.before.Unmet, cost: price.Cost,
	}
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
		out.Jobs = append(out.Jobs, s.jobOf(engine, w, m.ID))
	}
	return out
}

// words says what is gained and lost by it, beside its chance.
func (o Other) words() string {
	change, beyond := say.Text("season.other-same"), ""
	const shown = 0.5 // an hour is written whole
	switch {
	case o.Now:
		return say.Text("season.other-now")
	case o.Hours >= shown:
		change = say.Text("season.other-more", "hours", o.Hours)
	case o.Hours <= -shown:
		change = say.Text("season.other-less", "hours", -o.Hours)
	}
	switch {
	case o.Unmet > 0:
		beyond = say.Text("season.other-beyond", "n", o.Unmet)
	case o.Unmet < 0:
		beyond = say.Text("season.other-within", "n", -o.Unmet)
	}
	return say.Sentences(change, beyond)
}
