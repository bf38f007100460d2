package season

import (
	"math"

	"braxel/internal/core/ahead"
	"braxel/internal/core/rules"
	"braxel/internal/core/wear"
)

// Engine is an engine as a season sees it.
type Engine struct {
	ID, Name  string
	Life      wear.Life // from its last test
	Fresh     wear.Life // from a freshen-up
	Tested    string    // the day of its last test; "" if it never was
	Built     string    // the day on which its present build began; "" if nobody said
	After     bool      // that test was made after what was run on that day
	Repair    string    // what its last test says has to be mended before it runs; "" if nothing
	Broken    bool      // it broke at an event, and Repair says so
	Happened  string    // what has happened since that test and asks for another; "" if nothing
	Unsettled string    // what its last test left open; "" if nothing
	Away      bool      // sold or archived
	Limit     float64   // running from a rebuild after which its builder or maker wants it freshened; 0 for none
	LimitBy   string    // who wants that
}

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
	doubt float64 // of that, a variance
	found float64 // the chance to have been inside when it was tested on the way; 1 if it wasn't
	hurt  float64 // the chance that what has happened since the last test harmed it
	mend  bool    // it may not run before it is mended
	blind int     // nobody said how long it ran at the event with this place, counted from 1; so no chance is known; 0 for none
}

// begin is where an engine stands after its last test.
func (e Engine) begin() state {
	s := state{found: 1, mend: e.Repair != "" && !e.Broken}
	if e.Happened != "" {
		s.hurt = rules.HappeningHarms
	}
	return s
}

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

// life returns the life that an engine goes by.
func (e Engine) life(s state) wear.Life {
	if s.fresh {
		return e.Fresh
	}
	return e.Life
}

// ranSince returns how long it has run since it was built or freshened.
func (e Engine) ranSince(s state) float64 {
	if s.fresh {
		return s.ran
	}
	return e.Life.Ran + s.ran
}

// beyond reports whether it has run longer than its builder or maker wants, whatever it reads.
func (e Engine) beyond(s state) bool { return e.Limit > 0 && e.ranSince(s) > e.Limit+1e-9 }

// goodFor returns how much more running it is good for, nine times in ten and as long as its builder or maker wants; wear.Most where
// that is longer than is looked ahead.
func (e Engine) goodFor(s state) float64 {
	much := e.life(s).Until(rules.NineInTen / (1 - s.hurt))
	if much < wear.Most {
		much = max(0, much-s.ran)
	}
	if e.Limit > 0 {
		much = min(much, max(0, e.Limit-e.ranSince(s)))
	}
	return much
}

// inside returns the chance to be inside the limits, as far as is known beforehand, over the running that may come: a normal
// quantity by its three-point quadrature (Gauss and Hermite).
func (e Engine) inside(s state) float64 {
	if s.mend {
		return 0
	}
	return (1 - s.hurt) * spread(e.life(s).Inside, s)
}

// sudden returns the part of the chance to be past them that a fault takes which hasn't begun.
func (e Engine) sudden(s state) float64 { return spread(e.life(s).Sudden, s) }

func spread(of func(float64) float64, s state) float64 {
	if s.doubt == 0 {
		return of(s.ran)
	}
	off := math.Sqrt(3 * s.doubt)
	return of(max(0, s.ran-off))/6 + of(s.ran)*2/3 + of(s.ran+off)/6
}

// runs returns it after running, and the chance that it is inside at the end of it. The running strays by a share of it. An engine
// that failed a test on the way didn't run; a test finds TestCatches of those that are past.
func (e Engine) runs(s state, running, strays float64) (state, float64) {
	s.ran += running
	s.doubt += (strays * running) * (strays * running)
	p := e.inside(s)
	if s.found < 1 {
		p /= s.found + (1-rules.TestCatches)*(1-s.found)
	}
	return s, math.Min(p, 1)
}
