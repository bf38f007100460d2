package wear

import (
	"math"

	"gonum.org/v1/gonum/stat/distuv"
)

// Evidence is what one session says of one cylinder against its baseline: its own change of compression (logarithm of a
// ratio, what all did together taken off) and of leak (points), each with its standard error. A standard error of 0
// means that there is no such reading. Repeated says that the leak was read again and stayed.
type Evidence struct {
	Compression, CompressionSE float64
	Leak, LeakSE               float64
	Repeated                   bool
	Heard                      Place
}

// Place is where air came out that did not when the engine was right.
type Place int

// Nobody listened; it was heard at the oil filler or not at all, as in every sound cylinder; at a valve; in the coolant
// or at a neighbour's plug hole, where no sound one lets it out.
const (
	Unheard Place = iota
	AtFiller
	AtValve
	AtGasket
)

// heard is the chance of each place where a cylinder is clean, has dirt on a seat, or leaks.
var heard = map[Place]struct{ clean, dirt, leaking float64 }{
	Unheard:  {1, 1, 1},
	AtFiller: {0.975, 0.15, 0.4},
	AtValve:  {0.02, 0.845, 0.35},
	AtGasket: {0.005, 0.005, 0.25},
}

// Belief is what is thought of a cylinder after a session: the chances that it is sound, that it leaks and loses
// compression by it, and that it has lost compression without leaking. The three sum to 1. Dirt is the chance that it is
// sound and a raised leak is dirt on a seat. LeakPts and LossPct are how far it has gone, if it has.
type Belief struct {
	Sound, Leaking, Short float64
	Dirt                  float64
	LeakPts, LossPct      float64
}

// Healthy is the belief in a cylinder at its baseline.
var Healthy = Belief{Sound: 1}

// Changed returns the chance that the cylinder is no longer what it was.
func (b Belief) Changed() float64 { return b.Leaking + b.Short }

// How faults come and go from one test to the next. A fault rarely begins, and does not heal; only being wrong about it
// does.
const (
	beginsLeaking = 0.02
	beginsShort   = 0.006
	wrongAboutIt  = 0.02
)

// Dirt on a valve seat: how often it lifts a single reading, how often one that was repeated, and the range in points
// within which any lift is as likely as another.
const (
	dirtOnce     = 0.05
	dirtRepeated = 0.004
	dirtLow      = 3.0
	dirtHigh     = 30.0
)

// perPoint are the losses of compression, as a share, that go with a point of leak, and how likely each is: a leak in
// the cylinder loses cranking pressure about one for one, early valve trouble less.
var perPoint = []struct{ loss, weight float64 }{{0.004, 0.15}, {0.008, 0.3}, {0.010, 0.4}, {0.014, 0.15}}

// leakScale is the mean of the leaks that a fault adds, in points; faults are met at any size, small ones more often.
const leakScale = 9.0

// Next returns the belief after one more session: a forward step of a three-state model (sound, leaking, short of
// compression) whose emissions are integrated over how far the fault has gone.
func (b Belief) Next(e Evidence) Belief {
	leaking := b.Leaking*(1-wrongAboutIt) + b.Sound*beginsLeaking
	short := b.Short*(1-wrongAboutIt) + b.Sound*beginsShort
	sound := 1 - leaking - short

	clean, dirt := e.unmoved()
	asSound := e.compressionAt(0) * (clean + dirt)
	asLeaking, pts := e.asLeaking()
	asShort, loss := e.asShort(clean + dirt)

	n := Belief{Sound: sound * asSound, Leaking: leaking * asLeaking, Short: short * asShort}
	total := n.Sound + n.Leaking + n.Short
	if !(total > 0) {
		return b
	}
	n.Sound, n.Leaking, n.Short = n.Sound/total, n.Leaking/total, n.Short/total
	if clean+dirt > 0 {
		n.Dirt = n.Sound * dirt / (clean + dirt)
	}
	n.LeakPts, n.LossPct = pts, loss
	return n
}

// compressionAt is the likelihood of the compression reading where the cylinder has really lost that share.
func (e Evidence) compressionAt(lost float64) float64 {
	if e.CompressionSE == 0 {
		return 1
	}
	return tailed(e.Compression-math.Log1p(-min(lost, 0.99)), e.CompressionSE)
}

// leakAt is the likelihood of the leak reading where the cylinder really leaks that many points more.
func (e Evidence) leakAt(pts float64) float64 {
	if e.LeakSE == 0 {
		return 1
	}
	return tailed(e.Leak-pts, e.LeakSE)
}

// tailed is a normal density with a small part spread twice as wide: real readings stray now and then.
func tailed(d, se float64) float64 {
	const strays = 0.01
	z := d / se
	narrow := math.Exp(-z * z / 2)
	wide := math.Sqrt(math.Sqrt(narrow)) / 2 // the same with twice the spread
	return ((1-strays)*narrow + strays*wide) / (se * math.Sqrt(2*math.Pi))
}

// normal is the normal density; gonum's takes a logarithm on the way, which this inner loop cannot afford.
func normal(d, se float64) float64 {
	z := d / se
	return math.Exp(-z*z/2) / (se * math.Sqrt(2*math.Pi))
}

// reach is how many standard errors from a reading a true value is looked for; beyond it the likelihood is nothing.
const reach = 6.0

// unmoved splits the likelihood of the leak reading on a cylinder that does not leak more: clean, or lifted by dirt.
func (e Evidence) unmoved() (clean, dirt float64) {
	if e.LeakSE == 0 {
		return 1, 0
	}
	share := dirtOnce
	if e.Repeated {
		share = dirtRepeated
	}
	at := heard[e.Heard]
	n := distuv.Normal{Sigma: e.LeakSE}
	lifted := (n.CDF(e.Leak-dirtLow) - n.CDF(e.Leak-dirtHigh)) / (dirtHigh - dirtLow)
	return at.clean * (1 - share) * e.leakAt(0), at.dirt * share * lifted
}

// The grids over which the sizes of faults are integrated: points of leak, and shares of compression.
const (
	leakFrom, leakTo, leakStep = 1.5, 60.0, 1.0
	lossFrom, lossTo, lossStep = 0.04, 0.95, 0.01
	lossScale                  = 0.15
)

var (
	leakWeight = total(leakFrom, leakTo, leakStep, leakScale)
	lossWeight = total(lossFrom, lossTo, lossStep, lossScale)
)

// total sums the prior of a grid.
func total(from, to, step, scale float64) float64 {
	sum := 0.0
	for x := from; x < to; x += step {
		sum += math.Exp(-x / scale)
	}
	return sum
}

// near returns the part of a grid that lies within reach of a reading.
func near(at, se, from, to, step float64) (low, high float64) {
	low = from + step*math.Max(0, math.Floor((at-reach*se-from)/step))
	return low, math.Min(to, at+reach*se)
}

// asLeaking integrates over the size of a leak and what it loses, and returns the expected size in points.
func (e Evidence) asLeaking() (likelihood, pts float64) {
	low, high := leakFrom, leakTo
	if e.LeakSE > 0 {
		low, high = near(e.Leak, e.LeakSE, leakFrom, leakTo, leakStep)
	}
	for l := low; l < high; l += leakStep {
		at := 0.0
		for _, k := range perPoint {
			at += k.weight * e.compressionAt(k.loss*l)
		}
		at *= e.leakAt(l) * math.Exp(-l/leakScale)
		likelihood += at
		pts += at * l
	}
	if likelihood > 0 {
		pts /= likelihood
	}
	return heard[e.Heard].leaking * likelihood / leakWeight, pts
}

// asShort integrates over a loss of compression that no leak goes with, and returns the expected loss in percent.
func (e Evidence) asShort(leak float64) (likelihood, loss float64) {
	if e.CompressionSE == 0 {
		return 0, 0
	}
	low, high := near(-math.Expm1(math.Min(e.Compression, 0)), e.CompressionSE, lossFrom, lossTo, lossStep)
	for c := low; c < high; c += lossStep {
		at := math.Exp(-c/lossScale) * e.compressionAt(c)
		likelihood += at
		loss += at * c
	}
	if likelihood > 0 {
		loss /= likelihood
	}
	return leak * likelihood / lossWeight, 100 * loss
}
