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
var perPoint = [...]struct{ loss, weight float64 }{{0.004, 0.15}, {0.008, 0.3}, {0.010, 0.4}, {0.014, 0.15}}

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

// compressionAt is the likelihood of the compression reading where the cylinder has really changed by so much (logarithm
// of a ratio).
func (e Evidence) compressionAt(change float64) float64 {
	if e.CompressionSE == 0 {
		return 1
	}
	return tailed(e.Compression-change, e.CompressionSE)
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
	if z*z > 4*reach*reach {
		return 0
	}
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

// A size is one point of a grid over which the sizes of faults are integrated, with its prior weight and what it makes of
// compression.
type leakSize struct {
	pts, weight float64
	changes     [len(perPoint)]float64 // of compression, for each of perPoint
}
type lossSize struct{ share, weight, change float64 }

// The grids: points of leak, and shares of compression. Losses beyond what can be compared count as all but nothing left.
const (
	leakFrom, leakTo, leakStep = 1.5, 60.0, 1.0
	lossFrom, lossTo, lossStep = 0.04, 0.95, 0.01
	lossScale                  = 0.15
)

var (
	leakSizes = leakGrid()
	lossSizes = lossGrid()
)

func leakGrid() []leakSize {
	var all []leakSize
	total := 0.0
	for l := leakFrom; l < leakTo; l += leakStep {
		s := leakSize{pts: l, weight: math.Exp(-l / leakScale)}
		for i, k := range perPoint {
			s.changes[i] = math.Log1p(-min(k.loss*l, 0.99))
		}
		total += s.weight
		all = append(all, s)
	}
	for i := range all {
		all[i].weight /= total
	}
	return all
}

func lossGrid() []lossSize {
	var all []lossSize
	total := 0.0
	for c := lossFrom; c < lossTo; c += lossStep {
		s := lossSize{c, math.Exp(-c / lossScale), math.Log1p(-c)}
		total += s.weight
		all = append(all, s)
	}
	for i := range all {
		all[i].weight /= total
	}
	return all
}

// near returns the part of a grid that lies within reach of a reading.
func near[T any](grid []T, at, se, from, step float64) []T {
	low := int(math.Floor((at - reach*se - from) / step))
	high := int(math.Ceil((at+reach*se-from)/step)) + 1
	low, high = min(max(low, 0), len(grid)), min(max(high, 0), len(grid))
	return grid[low:max(low, high)]
}

// asLeaking integrates over the size of a leak and what it loses, and returns the expected size in points.
func (e Evidence) asLeaking() (likelihood, pts float64) {
	sizes := leakSizes
	if e.LeakSE > 0 {
		sizes = near(leakSizes, e.Leak, e.LeakSE, leakFrom, leakStep)
	}
	for i := range sizes {
		s := &sizes[i]
		at := 0.0
		for k, change := range s.changes {
			at += perPoint[k].weight * e.compressionAt(change)
		}
		at *= e.leakAt(s.pts) * s.weight
		likelihood += at
		pts += at * s.pts
	}
	if likelihood > 0 {
		pts /= likelihood
	}
	return heard[e.Heard].leaking * likelihood, pts
}

// asShort integrates over a loss of compression that no leak goes with, and returns the expected loss in percent.
func (e Evidence) asShort(leak float64) (likelihood, loss float64) {
	if e.CompressionSE == 0 {
		return 0, 0
	}
	for _, s := range near(lossSizes, -math.Expm1(math.Min(e.Compression, 0)), e.CompressionSE, lossFrom, lossStep) {
		at := s.weight * e.compressionAt(s.change)
		likelihood += at
		loss += at * s.share
	}
	if likelihood > 0 {
		loss /= likelihood
	}
	return leak * likelihood, 100 * loss
}
