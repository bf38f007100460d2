package twice

import (
	"math"

	"braxel/internal/core/rules"
)

// Shift is by how much one cylinder's compression moved between two tests, a logarithm, with its standard error.
type Shift struct{ By, SE float64 }

// Prior is what two tests may differ by in all readings alike, before either is read: the ways they were made in, and the visits'
// own scatter, which is now and then much more. Logarithms.
type Prior struct{ Mean, SD, Wide float64 }

// Alike is the prior of two tests that were made in one way.
func Alike() Prior { return Prior{SD: math.Sqrt2 * rules.VisitSD, Wide: math.Sqrt2 * rules.VisitWide} }

// With adds what a different way of testing does.
func (p Prior) With(mean, sd float64) Prior {
	return Prior{Mean: p.Mean + mean, SD: math.Hypot(p.SD, sd), Wide: math.Hypot(p.Wide, sd)}
}

// Common returns what all did together, a logarithm, with its standard error: the posterior mean and deviation on a grid. Each
// cylinder either stood, and tells of it as well as it was read, or moved by itself, and tells little.
func (p Prior) Common(moved []Shift) (mean, se float64) {
	const reach, step = 0.6, 0.001
	sum, first, second, top := 0.0, 0.0, 0.0, math.Inf(-1)
	weights := make([]float64, 0, int(2*reach/step)+1)
	at := func(i int) float64 { return p.Mean - reach + float64(i)*step }
	for i := range cap(weights) {
		c := at(i)
		w := math.Log((1-rules.VisitWideOften)*normal(c-p.Mean, p.SD) + rules.VisitWideOften*normal(c-p.Mean, p.Wide))
		for _, m := range moved {
			w += math.Log((1-rules.MovesOften)*normal(m.By-c, m.SE) + rules.MovesOften*normal(m.By-c, math.Hypot(m.SE, rules.MovesBy)))
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
