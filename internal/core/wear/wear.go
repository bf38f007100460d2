// Package wear tells how long an engine lasts: from its tests, the chance that it is still inside its limits after so much more running.
//
// Each cylinder has a leaking area that grows with running, A(t) = A₀ + G·m·(t/L)^p: L is the engine's life, m how fast this cylinder
// wears beside the others, G the area that takes a sound cylinder to its limit. On top of that a fault may have begun between two tests,
// and may begin in the running to come: at once, steadily, or doubling. Compression follows from the area by the physics of gas. Every
// combination on a grid is weighed by how well it fits what was read (Bayes), and followed until it meets a limit; the chance is the
// weight of those that have not met it. What one test can't tell stays as wide as what is known of such engines.
package wear

import (
	"math"
	"sort"
)

// Life is how long an engine lasts, as far as its tests tell.
type Life struct {
	Unit   string    // of its meter
	Tests  int       // of the present build
	Ran    float64   // since that began, at its last test
	Known  bool      // its own tests tell more than what is known of all such engines
	ahead  []float64 // running from the last test, rising from 0
	inside []float64 // the chance to be inside then, falling
	sudden []float64 // the part of what is lost that a fault which has not begun takes
}

// Inside returns the chance that no cylinder is past its limits after so much more running than at the last test.
func (l Life) Inside(running float64) float64 { return at(l.ahead, l.inside, running) }

// Sudden returns the chance that a fault which has not begun takes it past its limits by then.
func (l Life) Sudden(running float64) float64 { return at(l.ahead, l.sudden, running) }

// Most is what Until returns where an engine lasts longer than is looked ahead.
const Most = 1e9

// Until returns the running after which the chance to be inside falls to what is given; Most where it does not within what is looked at, 0
// where it is not even there now.
func (l Life) Until(chance float64) float64 {
	i := sort.Search(len(l.inside), func(i int) bool { return l.inside[i] < chance })
	switch {
	case i == len(l.inside):
		return Most
	case i == 0:
		return 0
	}
	fall := l.inside[i-1] - l.inside[i]
	return l.ahead[i-1] + (l.inside[i-1]-chance)/fall*(l.ahead[i]-l.ahead[i-1])
}

// at interpolates a curve; beyond its end it stays as it is there.
func at(xs, ys []float64, x float64) float64 {
	i := sort.SearchFloat64s(xs, x)
	switch {
	case len(xs) == 0:
		return math.NaN()
	case i == 0:
		return ys[0]
	case i == len(xs):
		return ys[len(ys)-1]
	}
	return ys[i-1] + (x-xs[i-1])/(xs[i]-xs[i-1])*(ys[i]-ys[i-1])
}

// Given returns a life whose chances are known: inside after so much running ahead, which rises from 0.
func Given(unit string, ahead, inside []float64) Life {
	return Life{Unit: unit, Known: true, Tests: 2, ahead: ahead, inside: inside, sudden: make([]float64, len(ahead))}
}
