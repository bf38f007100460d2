package season

import (
	"braxel/internal/core/ahead"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// problems names what was typed and no plan can meet.
func (s *Shop) problems() []Problem {
	var all []Problem
	add := func(meeting, engine, id string, pairs ...any) {
		all = append(all, Problem{say.Text(id, pairs...), meeting, engine})
	}
	warned := map[string]bool{}
	here, of := map[string][]ahead.Start{}, map[string][]ahead.Start{}
	for _, x := range s.Season.Starts {
		if x.Engine != "" {
			here[x.Meeting], of[x.Engine] = append(here[x.Meeting], x), append(of[x.Engine], x)
		}
	}
	for k, m := range s.meets {
		if len(s.Season.Cars) > 0 && m.Hours == 0 && m.Km == 0 && m.Runs == 0 && !s.past(m) {
			add(m.ID, "", "season.how-long-do-engines-run", "name", m.Name)
		}
		for _, x := range here[m.ID] {
			i, known := s.number[x.Engine]
			if !known {
				add(m.ID, x.Engine, "season.engine-gone", "name", m.Name)
				continue
			}
			e := s.Engines[i]
			if !s.past(m) {
				s.misplaced(e, m, x, add)
			}
			if s.past(m) && x.Ran == nil && e.sinceTest(m) {
				add(m.ID, e.ID, "season.ran-not-entered", "engine", e.Name, "name", m.Name)
			}
			if e.Happened != "" && !s.past(m) && !warned[e.ID] {
				warned[e.ID] = true
				share := 100 * rules.HappeningHarms
				add(m.ID, e.ID, "season.happened-since", "engine", e.Name, "happened", e.Happened, "share", share)
			}
			if e.Unsettled != "" && !s.past(m) && !warned[e.ID] {
				warned[e.ID] = true
				add(m.ID, e.ID, "season.unsettled", "engine", e.Name, "what", e.Unsettled)
			}
			switch _, said := s.running(e, m, x); {
			case !e.sinceTest(m): // it doesn't matter any more
			case e.Life.Unit == "":
				add(m.ID, e.ID, "season.no-meter", "engine", e.Name)
			case !said && (m.Hours > 0 || m.Km > 0 || m.Runs > 0):
				add(m.ID, e.ID, "season.meter-of-another-unit", "engine", e.Name, "unit", e.Life.Unit, "name", m.Name)
			}
			for _, y := range of[x.Engine] {
				j, there := s.place[y.Meeting]
				if !there || y.ID <= x.ID {
					continue
				}
				if j == k && !s.past(m) {
					add(m.ID, e.ID, "season.in-two-cars", "engine", e.Name, "name", m.Name)
				} else if other := s.meets[j]; overlap(m, other) && !(s.past(m) && s.past(other)) {
					day := say.Day(max(m.Date, other.Date))
					add(m.ID, e.ID, "season.in-two-places", "engine", e.Name, "name", m.Name, "other", other.Name, "date", day)
				}
			}
		}
		for _, other := range s.meets[k+1:] {
			if other.Date > m.Last() {
				break
			}
			for _, c := range s.Season.Cars {
				if overlap(m, other) && goes(m, c.ID) && goes(other, c.ID) && !s.past(m) {
					add(m.ID, "", "season.car-in-two-places", "car", c.Name, "name", m.Name, "other", other.Name)
				}
			}
		}
	}
	const most = 50
	return all[:min(len(all), most)]
}

// misplaced names what is wrong with an engine in a car at an event to come: it is gone, or doesn't fit.
func (s *Shop) misplaced(e Engine, m ahead.Meeting, x ahead.Start, add func(meeting, engine, id string, pairs ...any)) {
	n, there := s.seats[x.Car]
	switch {
	case e.Away:
		add(m.ID, e.ID, "season.engine-away", "engine", e.Name, "name", m.Name)
	case there && !fits(s.Season.Cars[n], e.ID):
		add(m.ID, e.ID, "season.fits-not", "engine", e.Name, "car", s.Season.Cars[n].Name, "name", m.Name)
	case there && !goes(m, x.Car):
		add(m.ID, e.ID, "season.goes-not", "engine", e.Name, "car", s.Season.Cars[n].Name, "name", m.Name)
	}
}
