package season

import (
	"braxel/internal/core/ahead"
	"braxel/internal/core/rules"
	"braxel/internal/core/wear"
)

// How many times over the owner's chance a risk may be to be called near, and over. [–; judgement]
const nearTimes, overTimes = 2, 5

// Board lays the season out as it is typed.
func (s *Shop) Board() Board {
	b := Board{
		Today: s.Today, Cars: append([]ahead.Car{}, s.Season.Cars...), Terms: s.terms, Typed: s.Season.Terms,
		Engines: []EngineRow{}, Meetings: []MeetingHead{}, Problems: append([]Problem{}, s.problems()...),
	}
	for _, m := range s.meets {
		b.Meetings = append(b.Meetings, MeetingHead{m, s.past(m), s.daysTo(m)})
	}
	p := s.index(s.typed())
	for i, e := range s.Engines {
		if !e.Away || s.planned(e.ID) {
			b.Engines = append(b.Engines, s.row(i, p))
		}
	}
	b.Price = s.Price(s.typed())
	b.Words = s.asks(b.Price)
	b.Next = s.next(b)
	return b
}

// level says how a chance stands against what the owner takes: fine within it, near within twice as much, over within five times as much,
// far beyond.
func (s *Shop) level(inside float64) string {
	switch risk := 1 - inside; {
	case risk <= s.terms.Chance:
		return "fine"
	case risk <= nearTimes*s.terms.Chance:
		return "near"
	case risk <= overTimes*s.terms.Chance:
		return "over"
	}
	return "far"
}

// row follows an engine through the season by a plan.
func (s *Shop) row(i int, p indexed) EngineRow {
	e := s.Engines[i]
	r := EngineRow{
		Engine: e.ID, Name: e.Name, Unit: e.Life.Unit, Known: e.Life.Known, Tests: e.Life.Tests, Repair: e.Repair, Cells: []Cell{},
	}
	now := e.begin()
	ran := 0.0
	for k, m := range s.meets {
		c := Cell{Meeting: m.ID}
		for _, j := range p.jobs[at{i, k}] {
			c.Jobs = append(c.Jobs, CellJob{j.ID, j.Work, j.Pinned, j.Done})
			if s.counts(e, m, j) {
				now = e.after(now, j.Work)
				if j.Work != ahead.Test {
					ran = 0
				}
			}
		}
		if x, runs := p.engines[at{i, k}]; runs {
			c.Car, c.Pinned, c.Ran, c.Stopped = x.Car, x.Pinned, x.Ran, x.Stopped
			running, known := s.running(e, m, x)
			c.Running, c.Unknown = running, !known
			if e.sinceTest(m) {
				now, c.Chance = e.runs(now, running)
				if s.past(m) {
					ran += running
				}
				c.Level = s.level(c.Chance)
				c.Words = s.cellWords(e, m, c)
			}
		}
		r.Cells = append(r.Cells, c)
	}
	r.GoodFor = e.Life.Until(rules.NineInTen)
	if r.GoodFor < wear.Most {
		r.GoodFor = max(0, r.GoodFor-ran)
	}
	r.Sentence = s.rowWords(e, r)
	return r
}
