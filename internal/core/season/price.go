package season

import (
	"braxel/internal/core/ahead"
	"braxel/internal/core/rules"
)

// Price is what the rest of a season comes to by a plan.
type Price struct {
	Hours   float64 `json:"hours" doc:"In the shop: tests, freshen-ups, rebuilds and swaps"`
	Nights  float64 `json:"nights" doc:"Hours of work beyond those of the days"`
	Tests   int     `json:"tests"`
	Freshen int     `json:"freshens" doc:"Freshen-ups and rebuilds"`
	Swaps   int     `json:"swaps"`
	Spent   float64 `json:"spent" doc:"On parts and machining, in the workshop's money"`
	Unmet   int     `json:"unmet" doc:"Starts at which the owner's chance isn't kept"`
	Empty   int     `json:"empty" doc:"Cars without an engine"`
	Past    float64 `json:"past" doc:"How many engines are run past their limits, as expected"`
	Cost    float64 `json:"cost" doc:"All of it in hours, by which plans are compared"`
}

// step is one start of one car: its engine (-1: none) and the work before it.
type step struct {
	meeting, car, engine int
	work                 ahead.Work // "" for none
}

// course is where all engines and cars stand on the way through a season, and what it has cost.
type course struct {
	engines []state
	free    []int // by engine: the last day on which it ran, from today
	sits    []int // by car: the engine in it, -1 for none
	price   Price
	gap     float64 // hours of work before the meeting that is being planned
}

// Price returns what the rest of the season costs by a plan: each start in the order of its event and its car.
func (s *Shop) Price(p Plan) Price {
	c := s.begin()
	x := s.index(p)
	for k := range s.meets {
		for n := range s.Season.Cars {
			if st, starts := s.stepOf(x, k, n); starts {
				s.take(&c, st)
			}
		}
		s.idle(&c, x, k)
		s.closeGap(&c, k)
	}
	c.price.Cost += c.price.Hours
	return c.price
}

// begin is where everything stands before the first event.
func (s *Shop) begin() course {
	c := course{engines: make([]state, len(s.Engines)), free: make([]int, len(s.Engines)), sits: make([]int, len(s.Season.Cars))}
	for i, e := range s.Engines {
		c.engines[i], c.free[i] = e.begin(), never
	}
	for n, car := range s.Season.Cars {
		c.sits[n] = -1
		if i, ok := s.number[car.Sits]; ok && car.Sits != "" {
			c.sits[n] = i
		}
	}
	return c
}

// never is the last day of an engine that hasn't run yet.
const never = -1 << 20

// stepOf returns what a plan has a car do at an event; false where it does nothing there.
func (s *Shop) stepOf(x indexed, k, n int) (step, bool) {
	start, planned := x.cars[at{n, k}]
	st := step{meeting: k, car: n, engine: -1}
	switch {
	case !planned && (!goes(s.meets[k], s.Season.Cars[n].ID) || s.past(s.meets[k])):
		return st, false
	case planned && start.Engine == "":
		return st, false
	case planned:
		if i, ok := s.number[start.Engine]; ok {
			st.engine, st.work = i, x.work[at{i, k}]
		}
	}
	return st, true
}

// idle does the work on engines that don't run at an event.
func (s *Shop) idle(c *course, x indexed, k int) {
	for i := range s.Engines {
		if w := x.work[at{i, k}]; w != "" {
			if _, runs := x.engines[at{i, k}]; !runs {
				s.work(c, i, w, s.past(s.meets[k]))
			}
		}
	}
}

// hoursOf returns what work takes. After a freshen-up or a rebuild comes the test that is its baseline.
func (s *Shop) hoursOf(w ahead.Work) float64 {
	switch w {
	case ahead.Test:
		return s.terms.Test
	case ahead.Freshen:
		return s.terms.Freshen + s.terms.Test
	case ahead.Rebuild:
		return s.terms.Rebuild + s.terms.Test
	}
	return 0
}

// costsOf returns what the parts of work cost, in the workshop's money.
func (s *Shop) costsOf(w ahead.Work) float64 {
	switch w {
	case ahead.Freshen:
		return s.terms.FreshenCosts
	case ahead.Rebuild:
		return s.terms.RebuildCosts
	}
	return 0
}

// work does work on an engine. What a test finds past its limits is freshened: that is paid by its chance.
func (s *Shop) work(c *course, i int, w ahead.Work, done bool) {
	e := s.Engines[i]
	before := c.engines[i]
	c.engines[i] = e.after(before, w)
	if done {
		return
	}
	c.gap += s.hoursOf(w)
	c.price.Hours += s.hoursOf(w)
	switch w {
	case ahead.Test:
		c.price.Tests++
		c.price.Cost += s.failing(e, before)
	default:
		c.price.Freshen++
		c.price.Spent += s.costsOf(w)
		tooMany := s.terms.Budget > 0 && c.price.Freshen > s.terms.Budget
		tooDear := s.terms.Money > 0 && c.price.Spent > s.terms.Money
		if tooMany || tooDear {
			c.price.Unmet++
			c.price.Cost += rules.UnmetCost
		}
	}
}

// failing returns what a test costs beyond itself, hours: the freshen-up of an engine that fails it, by its chance.
func (s *Shop) failing(e Engine, before state) float64 {
	return rules.TestCatches * (before.found - min(before.found, e.inside(before))) * s.hoursOf(ahead.Freshen)
}

// riskCost returns what a start costs by its chance to be past the limits, hours, and whether that is beyond the owner's, or the
// engine beyond the running that its builder wants.
func (s *Shop) riskCost(inside float64, beyond bool) (cost float64, unmet bool) {
	risk := 1 - inside
	cost, unmet = risk*rules.BreaksCost*s.terms.Rebuild, beyond || risk > s.terms.Chance+1e-9
	if unmet {
		cost += rules.UnmetCost * (1 + risk)
	}
	return cost, unmet
}

// take runs one start.
func (s *Shop) take(c *course, st step) {
	m := s.meets[st.meeting]
	over := s.past(m)
	if st.engine < 0 {
		if !over {
			c.price.Empty++
			c.price.Cost += rules.EmptyCost
		}
		return
	}
	e := s.Engines[st.engine]
	if !e.sinceTest(m) {
		c.sits[st.car] = st.engine
		return
	}
	if st.work != "" {
		s.work(c, st.engine, st.work, over)
	}
	if c.sits[st.car] != st.engine {
		if !over {
			c.price.Swaps++
			c.price.Hours += s.terms.Swap
			c.gap += s.terms.Swap
		}
		for n, in := range c.sits {
			if in == st.engine {
				c.sits[n] = -1
			}
		}
		c.sits[st.car] = st.engine
	}
	var inside float64
	c.engines[st.engine], inside = s.through(st.engine, st.meeting, c.engines[st.engine], s.ran[at{st.engine, st.meeting}])
	c.free[st.engine] = max(c.free[st.engine], s.ends[st.meeting])
	if over {
		return
	}
	cost, unmet := s.riskCost(inside, e.beyond(c.engines[st.engine]))
	c.price.Past += 1 - inside
	c.price.Cost += cost
	if unmet {
		c.price.Unmet++
	}
}

// closeGap counts the hours before an event that don't fit into the days since the event before it.
func (s *Shop) closeGap(c *course, k int) {
	if over := c.gap - s.gapHours(k); over > 0 {
		c.price.Nights += over
		c.price.Cost += rules.NightCost * over
	}
	c.gap = 0
}

// gapHours returns how many hours the shop has by day before an event, since the event before it, or today.
func (s *Shop) gapHours(k int) float64 {
	from := 0
	if k > 0 {
		from = max(from, s.ends[k-1])
	}
	return float64(max(0, s.day[k]-from)) * s.terms.Day
}

// room reports whether work fits between the last day on which an engine ran and an event: its hours by day and night, and the parts' time
// to come.
func (s *Shop) room(free, k int, w ahead.Work) bool {
	if (w == ahead.Freshen || w == ahead.Rebuild) && s.day[k] < s.terms.Lead {
		return false
	}
	have := float64(max(0, s.day[k]-max(free, 0))) * (s.terms.Day + rules.NightHours)
	return s.hoursOf(w) <= have
}
