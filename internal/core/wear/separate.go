// Package wear tells what changed in an engine since it was right: what moved all of its cylinders, what moved one, and
// how surely.
package wear

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"
)

// Prior is what is known of a quantity before a test: how far a session moves all cylinders alike (battery, heat,
// weather, gauge), how often one cylinder has moved by itself, and how far it can have gone. Losses are negative.
type Prior struct {
	CommonSD float64 // scale of a session's common shift
	Faulty   float64 // chance that a cylinder has moved by itself
	Reach    float64 // the largest loss thought of
}

// Compression is the prior for the logarithm of a compression reading; a battery that sags or a cold engine takes some
// percent off all. Faults take up to nine tenths.
var Compression = Prior{CommonSD: 0.05, Faulty: 0.04, Reach: 0.9}

// Shift is a session's change against the baseline, separated.
type Shift struct {
	Common, CommonSE float64
	Own              []float64 // each cylinder's change beyond the common one
	SE               []float64 // its standard error, that of the common shift included
	Chance           []float64 // that the cylinder moved by itself
}

// Separate splits each cylinder's change since the baseline into the part that all share and its own. The shared part
// is the most probable one under a mixture: a cylinder stands with the others within its measuring error, or it has
// lost anything up to Prior.Reach. So two bad cylinders of four do not drag the good ones down, and a weak battery
// accuses none. delta and se are of equal length, one per cylinder.
func Separate(delta, se []float64, p Prior) Shift {
	s := Shift{Own: make([]float64, len(delta)), SE: make([]float64, len(delta)), Chance: make([]float64, len(delta))}
	if len(delta) == 0 {
		return s
	}
	s.Common = mostProbable(delta, se, p)
	weight := 1 / (p.CommonSD * p.CommonSD)
	for i := range delta {
		s.Chance[i] = p.chance(delta[i]-s.Common, se[i])
		weight += (1 - s.Chance[i]) / (se[i] * se[i])
	}
	s.CommonSE = 1 / math.Sqrt(weight)
	for i := range delta {
		s.Own[i] = delta[i] - s.Common
		s.SE[i] = math.Hypot(se[i], s.CommonSE)
	}
	return s
}

// chance returns the probability that a cylinder which stands d from the others has moved by itself.
func (p Prior) chance(d, se float64) float64 {
	moved := p.Faulty * p.lost(d, se)
	still := (1 - p.Faulty) * normal(d, se)
	if moved+still == 0 {
		return 1
	}
	return moved / (moved + still)
}

// lost is the density of a cylinder that moved by itself: any loss up to the reach as likely as another, blurred by the
// measuring; gains, which carbon and oil can make, a twentieth as likely.
func (p Prior) lost(d, se float64) float64 {
	below := func(x float64) float64 {
		switch z := x / se; {
		case z > 2*reach:
			return 1
		case z < -2*reach:
			return 0
		default:
			return math.Erfc(-z/math.Sqrt2) / 2
		}
	}
	here := below(d)
	return (0.95*(below(d+p.Reach)-here) + 0.05*(here-below(d-p.Reach))) / p.Reach
}

// mostProbable finds the common shift: it tries none at all, quarters of the cylinders' changes and the highest, takes the
// best and goes on from there to the mean of those that stand with it.
func mostProbable(delta, se []float64, p Prior) float64 {
	best, bestAt := math.Inf(-1), 0.0
	try := func(m float64) bool {
		// Student's t with four degrees of freedom, up to a constant: a session's shift is now and then large.
		score := -2.5 * math.Log1p(m*m/(4*p.CommonSD*p.CommonSD))
		for i, d := range delta {
			score += math.Log((1-p.Faulty)*normal(d-m, se[i]) + p.Faulty*p.lost(d-m, se[i]) + 1e-300)
		}
		better := score > best
		if better {
			best, bestAt = score, m
		}
		return better
	}
	try(0)
	sorted := slices.Sorted(slices.Values(delta))
	for _, q := range []float64{0.25, 0.5, 0.75, 1} {
		try(stat.Quantile(q, stat.Empirical, sorted, nil))
	}
	for range 4 {
		sum, weight := 0.0, 1/(p.CommonSD*p.CommonSD)
		for i, d := range delta {
			w := (1 - p.chance(d-bestAt, se[i])) / (se[i] * se[i])
			sum += w * d
			weight += w
		}
		if !try(sum / weight) {
			break
		}
	}
	return bestAt
}
