package compare

import (
	"math"

	"gonum.org/v1/gonum/stat/distuv"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// shift is by how much one cylinder's compression moved between two tests, a logarithm, with its standard error.
type shift struct{ by, se float64 }

// prior is what two tests may differ by in all readings alike, before either is read: the ways they were made in, and the visits'
// own scatter, which is now and then much more.
type prior struct{ mean, sd, wide float64 }

func expected(unlike []judge.Unlike) prior {
	p := prior{sd: math.Sqrt2 * rules.VisitSD, wide: math.Sqrt2 * rules.VisitWide}
	for _, u := range unlike {
		p.mean += u.Mean
		p.sd = math.Hypot(p.sd, u.SD)
		p.wide = math.Hypot(p.wide, u.SD)
	}
	return p
}

// How often a cylinder changes by itself between two tests, and how far such changes reach, a logarithm: most cylinders of most
// pairs stand, and one that does not may have lost or come back by a tenth or more.
const (
	ownOften = 0.2
	ownReach = 0.12
)

// common returns what all did together, a logarithm, with its standard error: the posterior mean and deviation on a grid. Each
// cylinder either stood, and tells of it as well as it was read, or moved by itself, and tells little.
func (p prior) common(moved []shift) (mean, se float64) {
	const reach, step = 0.6, 0.001
	sum, first, second, top := 0.0, 0.0, 0.0, math.Inf(-1)
	weights := make([]float64, 0, int(2*reach/step)+1)
	at := func(i int) float64 { return p.mean - reach + float64(i)*step }
	for i := range cap(weights) {
		c := at(i)
		w := math.Log((1-rules.VisitWideOften)*normal(c-p.mean, p.sd) + rules.VisitWideOften*normal(c-p.mean, p.wide))
		for _, m := range moved {
			w += math.Log((1-ownOften)*normal(m.by-c, m.se) + ownOften*normal(m.by-c, math.Hypot(m.se, ownReach)))
		}
		weights = append(weights, w)
		top = max(top, w)
	}
	for i, w := range weights {
		w = math.Exp(w - top)
		c := at(i)
		sum += w
		first += w * c
		second += w * c * c
	}
	mean = first / sum
	return mean, math.Sqrt(max(second/sum-mean*mean, step*step))
}

func normal(x, sd float64) float64 { return math.Exp(-x*x/(2*sd*sd)) / sd }

// chanceOf is how likely a normal quantity of no true change is found so far off either way.
func chanceOf(by, se float64) float64 {
	if !(se > 0) {
		return 1
	}
	return 2 * distuv.UnitNormal.Survival(math.Abs(by)/se)
}

// alone is the chance that one reading which nothing confirms is a slip: a pull that failed, dirt on a seat, TDC missed, the tester's
// seal. It is more than what is called sure, so that one reading is never that, however far it stands off.
const alone = 0.015

// failed is the chance that a row of pulls reads low by the gauge's own failing: 1.5 % of single pulls, a tenth of that where two
// agree, or another test bears it out (the judge's table).
func failed(f judge.Figure, borneOut bool) float64 {
	if f.Pulls < 2 && !borneOut {
		return alone
	}
	return alone / 10
}

// lifted is the chance that a leak-down reads so many points too high: by dirt or TDC missed in 3.5 % of attempts, mostly within 8
// points, a fifth of that where it was repeated or another test bears it out; by the tester's seal in 0.8 %, half where it hissed at the
// plug hole, hardly where somebody listened and it did not (the judge's table).
func lifted(f judge.Figure, points float64, borneOut bool) float64 {
	const (
		dirty, dirtReach = 0.035, 4.0
		repeated         = 0.2
		seal, sealHeard  = 0.008, 0.5
		sealUnheard      = 0.002
	)
	dirt := dirty * math.Exp(-math.Max(points, 0)/dirtReach)
	again := f.Attempts > 1 || borneOut
	if again {
		dirt *= repeated
	}
	tester := seal
	if f.Paths != nil {
		tester = sealUnheard
	}
	for _, p := range f.Paths {
		if p.Where == log.PlugHole {
			tester = sealHeard
		}
	}
	if !again {
		return max(alone, dirt+tester)
	}
	return dirt + tester
}
