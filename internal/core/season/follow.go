package season

import "braxel/internal/core/ahead"

// passage is where an engine stands after an event, and how it got through it.
type passage struct {
	state
	before state   // when the work before the event was done
	runs   bool    // it runs there, and that isn't in its last test
	chance float64 // that it is inside its limits at the end
	beyond bool    // it has then run longer than its builder wants
}

// follow takes an engine through the season by a plan, with other work than the plan's before events where that is given. It also returns
// where the engine stands today.
func (s *Shop) follow(i int, p indexed, other map[int][]ahead.Work) (all []passage, today state) {
	e := s.Engines[i]
	now := e.begin()
	today = now
	for k, m := range s.meets {
		works, replaced := other[k]
		for _, w := range works {
			now = e.after(now, w)
		}
		for _, j := range p.jobs[at{i, k}] {
			if replaced && j.Done == "" || !s.counts(e, m, j) {
				continue
			}
			now = e.after(now, j.Work)
			if j.Done != "" {
				today = now
			}
		}
		one := passage{state: now, before: now}
		if x, there := p.engines[at{i, k}]; there && e.sinceTest(m) {
			one.runs = true
			one.state, one.chance = s.through(i, k, now, x)
			one.beyond = e.beyond(one.state)
			now = one.state
			if s.past(m) || x.Ran != nil {
				today = now
			}
		}
		all = append(all, one)
	}
	return all, today
}

// levelAt says how an engine's start stands against what the owner takes, and what its builder wants.
func (s *Shop) levelAt(one passage) string {
	level := s.level(one.chance)
	if one.beyond && level != "far" {
		return "over"
	}
	return level
}

// until returns the last event at which an engine runs from k on, before the next work on it that is as much at least; -1 where it
// doesn't run.
func (s *Shop) until(i, k int, p indexed, all []passage, least ahead.Work) int {
	last := -1
	for n := k; n < len(all); n++ {
		if n > k && !heavier(least, p.work[at{i, n}]) {
			break
		}
		if all[n].runs {
			last = n
		}
	}
	return last
}
