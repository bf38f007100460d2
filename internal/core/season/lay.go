package season

import (
	"slices"

	"braxel/internal/core/ahead"
	"braxel/internal/core/say"
)

// Board lays the season out as it is typed.
func (s *Shop) Board() Board {
	b := Board{
		Today: s.Today, Cars: append([]ahead.Car{}, s.Season.Cars...), Terms: s.terms, Typed: s.Season.Terms,
		Engines: []EngineRow{}, Meetings: []MeetingHead{}, Problems: append([]Problem{}, s.problems()...),
	}
	for _, m := range s.meets {
		b.Meetings = append(b.Meetings, MeetingHead{m, s.past(m), s.daysTo(m)})
	}
	b.From = s.from()
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

// from returns the place of the first event of this season: that of the next event's year, or of the last one's where none is to come.
func (s *Shop) from() int {
	const digits = len("2033")
	year := ""
	for _, m := range s.meets {
		if year = m.Date[:min(digits, len(m.Date))]; !s.past(m) {
			break
		}
	}
	return slices.IndexFunc(append(slices.Clone(s.meets), ahead.Meeting{Date: year}), func(m ahead.Meeting) bool { return m.Date >= year })
}

// row follows an engine through the season by a plan.
func (s *Shop) row(i int, p indexed) EngineRow {
	e := s.Engines[i]
	r := EngineRow{
		Engine: e.ID, Name: e.Name, Unit: e.Life.Unit, Known: e.Life.Known, Tests: e.Life.Tests, Cells: []Cell{},
	}
	all, today := s.follow(i, p, nil)
	if today.mend {
		r.Repair = e.Repair
	}
	for k, m := range s.meets {
		c := Cell{Meeting: m.ID}
		for _, j := range p.jobs[at{i, k}] {
			c.Jobs = append(c.Jobs, CellJob{j.ID, j.Work, j.Pinned, j.Done})
		}
		if x, there := p.engines[at{i, k}]; there {
			c.Car, c.Pinned, c.Ran, c.Stopped, c.Broke = x.Car, x.Pinned, x.Ran, x.Stopped, x.Broke
			c.Running, _ = s.running(e, m, x)
		}
		if one := all[k]; one.runs {
			switch {
			case c.Broke:
				c.Level, c.Words = "far", say.Capital(e.Repair)
			case one.blind > 0:
				c.Unknown, c.Words = true, s.blindWords(e, one.blind)
			default:
				c.Chance, c.Level = one.chance, s.levelAt(one)
				c.Words = say.Sentences(s.cellWords(e, m, c), s.ifItPasses(i, k, p, all))
				if one.beyond {
					c.Words = say.Sentences(s.limitWords(e, one.state), c.Words)
				}
				c.More = s.cellMore(e, c, e.sudden(one.state))
			}
		}
		r.Cells = append(r.Cells, c)
	}
	if today.blind == 0 {
		r.GoodFor = e.goodFor(today)
	}
	r.Sentence = s.rowWords(i, r, p, all, today)
	return r
}
