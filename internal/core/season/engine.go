package season

import (
	"math"
	"slices"

	"braxel/internal/core/ahead"
	"braxel/internal/core/rules"
	"braxel/internal/core/wear"
)

// Engine is an engine as a season sees it.
type Engine struct {
	ID, Name string
	Life     wear.Life // from its last test
	Fresh    wear.Life // from a freshen-up
	Tested   string    // the day of its last test; "" if it never was
	After    bool      // that test was made after what was run on that day
	Repair   string    // what its last test says has to be mended before it runs; "" if nothing
	Away     bool      // sold or archived
}

// terms are those of a workshop, with the built-in figure for each that it left open.
func terms(t ahead.Terms) ahead.Terms {
	or := func(v *float64, built float64) {
		if *v == 0 {
			*v = built
		}
	}
	or(&t.Chance, rules.SeasonChance)
	or(&t.Test, rules.TestHours)
	or(&t.Freshen, rules.FreshenHours)
	or(&t.Rebuild, rules.RebuildHours)
	or(&t.Swap, rules.SwapHours)
	or(&t.Day, rules.DayHours)
	if t.Lead == 0 {
		t.Lead = rules.LeadDays
	}
	return t
}

// Shop is a workshop with a season: what it typed, its engines and the day.
type Shop struct {
	Season  ahead.Season
	Engines []Engine
	Today   string
	terms   ahead.Terms
	meets   []ahead.Meeting // by date
	place   map[string]int  // of a meeting among them
	number  map[string]int  // of an engine
	seats   map[string]int  // of a car
	day     []int           // by event: the days from today until it
	ends    []int           // and until its last day
	ran     map[at]ahead.Start
	fit     [][]int // by car: the engines that fit it
}

// at is an engine or a car at an event.
type at struct{ one, meeting int }

// New returns a workshop's season, its events in order.
func New(s ahead.Season, engines []Engine, today string) *Shop {
	out := &Shop{Season: s, Engines: engines, Today: today, terms: terms(s.Terms), place: map[string]int{}, number: map[string]int{}, seats: map[string]int{}}
	out.meets = slices.Clone(s.Meetings)
	slices.SortStableFunc(out.meets, func(a, b ahead.Meeting) int {
		if a.Date != b.Date {
			return compare(a.Date, b.Date)
		}
		return compare(a.ID, b.ID)
	})
	for i, m := range out.meets {
		out.place[m.ID] = i
		out.day = append(out.day, days(today, m.Date))
		out.ends = append(out.ends, days(today, m.Last()))
	}
	for i, c := range s.Cars {
		out.seats[c.ID] = i
	}
	for i, e := range engines {
		out.number[e.ID] = i
	}
	for _, c := range s.Cars {
		var fit []int
		for i, e := range engines {
			if fits(c, e.ID) && !e.Away {
				fit = append(fit, i)
			}
		}
		out.fit = append(out.fit, fit)
	}
	out.ran = out.index(Plan{Starts: s.Starts}).engines
	return out
}

// Terms returns what the season is planned by, the built-in figures included.
func (s *Shop) Terms() ahead.Terms { return s.terms }

// goes reports whether a car goes to an event.
func goes(m ahead.Meeting, car string) bool { return len(m.Cars) == 0 || slices.Contains(m.Cars, car) }

// fits reports whether an engine fits a car. One that nobody said anything of takes the engine that sits in it.
func fits(c ahead.Car, engine string) bool {
	return c.Sits == engine || slices.Contains(c.Engines, engine)
}

// past reports whether an event is over.
func (s *Shop) past(m ahead.Meeting) bool { return m.Last() < s.Today }

// sinceTest reports whether what an engine ran at an event isn't in its last test.
func (e Engine) sinceTest(m ahead.Meeting) bool {
	switch {
	case e.Tested == "" || m.Last() > e.Tested:
		return true
	case m.Last() == e.Tested:
		return !e.After
	}
	return false
}

// state is where an engine stands on its way through a season.
type state struct {
	fresh bool    // it goes by the life of a freshened engine
	ran   float64 // since the test, or the freshen-up
	found float64 // the chance to have been inside when it was tested on the way; 1 if it wasn't
	mend  bool    // it may not run before it is mended
}

// begin is where an engine stands after its last test.
func (e Engine) begin() state { return state{found: 1, mend: e.Repair != ""} }

// after returns it when work was done.
func (e Engine) after(s state, w ahead.Work) state {
	switch w {
	case ahead.Test:
		s.found = e.inside(s)
	case ahead.Freshen, ahead.Rebuild:
		s = state{fresh: true, found: 1}
	}
	return s
}

// inside returns the chance to be inside the limits, as far as is known beforehand.
func (e Engine) inside(s state) float64 {
	if s.mend {
		return 0
	}
	if s.fresh {
		return e.Fresh.Inside(s.ran)
	}
	return e.Life.Inside(s.ran)
}

// runs returns it after running, and the chance that it is inside at the end of it. An engine that failed a test on the way didn't run; a
// test finds TestCatches of those that are past.
func (e Engine) runs(s state, running float64) (state, float64) {
	s.ran += running
	p := e.inside(s)
	if s.found < 1 {
		p /= s.found + (1-rules.TestCatches)*(1-s.found)
	}
	return s, math.Min(p, 1)
}
