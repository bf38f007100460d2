package belief

import (
	"math"

	"braxel/internal/core/rules"
)

// Amounts says of a cylinder how much likelier what was read makes a fault of each kind and size than it was before anything was read.
// A cause that knows how large it usually is asks with its own sizes.
type Amounts struct {
	leak  [sizes]float64
	place [places]float64
	short [shortages]float64
	pair  [sizes]float64
}

// Amounts returns these of a cylinder after the last visit.
func (b *Believed) Amounts(i int) Amounts {
	c := &b.Cylinders[i]
	var a Amounts
	paired := 0.0
	for j := range b.pairs {
		p := &b.pairs[j]
		if p.a != i && p.b != i {
			continue
		}
		for k, w := range p.leak {
			a.pair[k] += w / (rules.BetweenTwo * fresh[k])
			paired += w
		}
	}
	alone := max(0, 1-paired)
	for k, w := range c.leak {
		a.leak[k] = alone * w / (rules.Leaks * fresh[k])
	}
	for k, w := range c.short {
		a.short[k] = alone * w / ((1 - rules.Leaks) * freshLost[k])
	}
	for p, w := range c.place {
		a.place[p] = w / rules.WhereOften[p]
	}
	return a
}

// OfLeak returns how much likelier a leak at a place is than it was, where it is usually of that size.
func (a *Amounts) OfLeak(at Place, size rules.Size) float64 {
	return a.place[at] * expected(a.leak[:], points[:], size)
}

// OfPair returns the same of a gasket between it and a neighbour, whose readings go together.
func (a *Amounts) OfPair(size rules.Size) float64 { return expected(a.pair[:], points[:], size) }

// OfLoss returns the same of a loss of compression without a leak, in percent.
func (a *Amounts) OfLoss(size rules.Size) float64 {
	return expected(a.short[:], lost[:], rules.Size{Usual: size.Usual / 100, Spread: size.Spread})
}

// expected returns the mean of what is given by size, each size met as often as a lognormal spread lets it, with a part of them spread
// twice as wide: nobody knows these sizes well.
func expected(by, at []float64, size rules.Size) float64 {
	sum, whole, spread := 0.0, 0.0, math.Log(size.Spread)
	for k, w := range by {
		z := math.Log(at[k]/size.Usual) / spread
		often := ((1-rules.SizesOdd)*math.Exp(-z*z/2) + rules.SizesOdd/2*math.Exp(-z*z/8)) * math.Log(at[min(k+1, len(at)-1)]/at[max(k-1, 0)])
		sum += often * w
		whole += often
	}
	return sum / whole
}

// Unheard makes every place as likely as it was before anybody listened.
func (a *Amounts) Unheard() {
	for p := range a.place {
		a.place[p] = 1
	}
}
