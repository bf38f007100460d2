package season

import (
	"braxel/internal/core/ahead"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// problems names what was typed and no plan can meet.
func (s *Shop) problems() []Problem {
	f := finding{Shop: s, warned: map[string]bool{}, of: map[string][]ahead.Start{}}
	here := map[string][]ahead.Start{}
	for _, x := range s.Season.Starts {
		if x.Engine != "" {
			here[x.Meeting], f.of[x.Engine] = append(here[x.Meeting], x), append(f.of[x.Engine], x)
		}
	}
	for k, m := range s.meets {
		if len(s.Season.Cars) > 0 && m.Hours == 0 && m.Km == 0 && m.Runs == 0 && !s.past(m) {
			f.add(m, "", "season.how-long-do-engines-run", "name", m.Name)
		}
		for _, x := range here[m.ID] {
			i, known := s.number[x.Engine]
			if !known {
				f.add(m, x.Engine, "season.engine-gone", "name", m.Name)
				continue
			}
			e := s.Engines[i]
			if s.past(m) {
				f.ran(e, m, x)
			} else {
				f.stands(e, m)
				f.fits(e, m, x)
			}
			f.counts(e, m, x)
			f.elsewhere(e, k, x)
		}
		f.cars(k)
	}
	const most = 50
	return f.all[:min(len(f.all), most)]
}

// finding is the problems found so far.
type finding struct {
	*Shop
	all    []Problem
	warned map[string]bool          // engines of which something was said that is said once
	of     map[string][]ahead.Start // by engine
}

func (f *finding) add(m ahead.Meeting, engine, id string, pairs ...any) {
	f.all = append(f.all, Problem{say.Text(id, pairs...), m.ID, engine})
}

// ran asks how long an engine ran at an event that is over.
func (f *finding) ran(e Engine, m ahead.Meeting, x ahead.Start) {
	if x.Ran == nil && e.sinceTest(m) {
		f.add(m, e.ID, "season.ran-not-entered", "engine", e.Name, "name", m.Name)
	}
}

// stands says what its chances don't know of an engine.
func (f *finding) stands(e Engine, m ahead.Meeting) {
	switch {
	case f.warned[e.ID]:
		return
	case e.Happened != "":
		share := 100 * rules.HappeningHarms
		f.add(m, e.ID, "season.happened-since", "engine", e.Name, "happened", e.Happened, "share", share)
	case e.Unsettled != "":
		f.add(m, e.ID, "season.unsettled", "engine", e.Name, "what", e.Unsettled)
	default:
		return
	}
	f.warned[e.ID] = true
}

// fits says that an engine is gone, or doesn't fit the car that it is planned in, or that the car doesn't go there.
func (f *finding) fits(e Engine, m ahead.Meeting, x ahead.Start) {
	n, there := f.seats[x.Car]
	switch {
	case e.Away:
		f.add(m, e.ID, "season.engine-away", "engine", e.Name, "name", m.Name)
	case there && !fits(f.Season.Cars[n], e.ID):
		f.add(m, e.ID, "season.fits-not", "engine", e.Name, "car", f.Season.Cars[n].Name, "name", m.Name)
	case there && !goes(m, x.Car):
		f.add(m, e.ID, "season.goes-not", "engine", e.Name, "car", f.Season.Cars[n].Name, "name", m.Name)
	}
}

// counts says that an engine's meter doesn't count what is known of an event.
func (f *finding) counts(e Engine, m ahead.Meeting, x ahead.Start) {
	switch _, said := f.running(e, m, x); {
	case !e.sinceTest(m): // it doesn't matter any more
	case e.Life.Unit == "":
		f.add(m, e.ID, "season.no-meter", "engine", e.Name)
	case !said && (m.Hours > 0 || m.Km > 0 || m.Runs > 0):
		f.add(m, e.ID, "season.meter-of-another-unit", "engine", e.Name, "unit", e.Life.Unit, "name", m.Name)
	}
}

// elsewhere says that an engine runs in two cars, or at two events that share a day.
func (f *finding) elsewhere(e Engine, k int, x ahead.Start) {
	m := f.meets[k]
	for _, y := range f.of[x.Engine] {
		j, there := f.place[y.Meeting]
		if !there || y.ID <= x.ID || f.past(m) && f.past(f.meets[j]) {
			continue
		}
		switch other := f.meets[j]; {
		case j == k:
			f.add(m, e.ID, "season.in-two-cars", "engine", e.Name, "name", m.Name)
		case overlap(m, other):
			day := say.Day(max(m.Date, other.Date))
			f.add(m, e.ID, "season.in-two-places", "engine", e.Name, "name", m.Name, "other", other.Name, "date", day)
		}
	}
}

// cars says which cars go to two events that share a day.
func (f *finding) cars(k int) {
	m := f.meets[k]
	for _, other := range f.meets[k+1:] {
		if other.Date > m.Last() {
			return
		}
		for _, c := range f.Season.Cars {
			if overlap(m, other) && goes(m, c.ID) && goes(other, c.ID) && !f.past(m) {
				f.add(m, "", "season.car-in-two-places", "car", c.Name, "name", m.Name, "other", other.Name)
			}
		}
	}
}
