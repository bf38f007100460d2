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
			w += math.Log((1-rules.MovesOften)*normal(m.by-c, m.se) + rules.MovesOften*normal(m.by-c, math.Hypot(m.se, rules.MovesBy)))
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

// failed is the chance that a row of pulls reads low by the gauge's own failing. Of one reading which nothing confirms it is more than what
// is called sure, so that one reading is never that, however far it stands off.
func failed(f judge.Figure, borneOut bool) float64 {
	if f.Pulls < 2 && !borneOut {
		return rules.PullFails
	}
	return rules.PullFailsTwice
}

// lifted is the chance that a leak-down reads so many points too high: by dirt or TDC missed, less often where it was repeated or another
// test bears it out; by the tester's seal, oftener where it hissed at the plug hole, hardly where somebody listened and it did not.
func lifted(f judge.Figure, points float64, borneOut bool) float64 {
	lifts := (1-rules.DirtAny)*math.Exp(-math.Max(points, 0)/rules.DirtPoints) + rules.DirtAny*(1-math.Max(points, 0)/100)
	dirt := rules.Dirt * lifts
	again := f.Attempts > 1 || borneOut
	if again {
		dirt *= rules.RepeatCare
	}
	tester := rules.Seal
	if f.Paths != nil {
		tester = rules.SealUnheard
	}
	for _, p := range f.Paths {
		if p.Where == log.PlugHole {
			tester = rules.SealHeard
		}
	}
	if !again {
		return max(rules.PullFails, dirt+tester)
	}
	return dirt + tester
}
