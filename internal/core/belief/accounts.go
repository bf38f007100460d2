package belief

import (
	"math"
	"slices"

	"braxel/internal/core/rules"
)

// Kind is what may have gone wrong with the testing of a visit.
type Kind string

// What moves the readings of a visit, beside what moves all of them alike.
const (
	Alike Kind = "alike" // all alike: battery, gauge, heat, height
	Sag   Kind = "sag"   // ever lower, in the order of reading: the battery
	Step  Kind = "step"  // from one reading on: throttle, charger
	Bank  Kind = "bank"  // one bank against the other: a cam
)

// Hypothesis is one of them with its weight: the chance that it is how this visit was. From is the index into Visit.Order from
// which a step counts. Size is how far it moves the last reading against the first, or the banks against each other; Power is
// how the sag goes with the order. Common is how far all moved, both logarithms.
type Hypothesis struct {
	Kind   Kind
	From   int
	Size   float64
	Power  float64
	Weight float64
	Common float64

	shape []float64 // by cylinder
	prior float64   // how often it is met
	low   int       // index of the lowest common shift that was tried
	by    []float64 // how well it accounts for the readings, by common shift
	best  float64
}

// listed are the hypotheses of a visit, kept for the next that is read in the same order.
type listed struct {
	all               []Hypothesis // as they were listed for this:
	order, secondBank []int
	cylinders         int
	sag               float64
}

// of lists what may have moved the readings of a visit to an engine of so many cylinders.
func (l *listed) of(v *Visit, cylinders int) []Hypothesis {
	sag := rules.Sags
	switch {
	case v.VoltsFell > rules.VoltsFell:
		sag = rules.SagsFell
	case v.VoltsHeld:
		sag = rules.SagsHeld
	}
	if !slices.Equal(l.order, v.Order) || !slices.Equal(l.secondBank, v.SecondBank) || l.cylinders != cylinders || l.sag != sag {
		*l = listed{list(v, cylinders, sag), slices.Clone(v.Order), slices.Clone(v.SecondBank), cylinders, sag}
	}
	return l.all
}

func list(v *Visit, cylinders int, sag float64) []Hypothesis {
	n := len(v.Order)
	all := []Hypothesis{{Kind: Alike, prior: 1, shape: make([]float64, cylinders)}}
	if n < 3 {
		return all
	}
	for _, total := range rules.SagSizes {
		if total > rules.SagCylinder*float64(n) {
			break
		}
		for _, power := range rules.SagShapes {
			h := Hypothesis{Kind: Sag, Size: -total, Power: power, shape: make([]float64, cylinders)}
			h.prior = sag / float64(len(rules.SagSizes)*len(rules.SagShapes))
			for k, c := range v.Order {
				h.shape[c] = -total * math.Pow(float64(k)/float64(n-1), power)
			}
			all = append(all, h)
		}
	}
	for from := 1; from < n; from++ {
		rare := 1.0
		if from == 1 || from == n-1 {
			rare = rules.StepOne
		}
		for _, size := range rules.StepSizes {
			for _, sign := range [...]float64{-1, 1} {
				h := Hypothesis{Kind: Step, From: from, Size: sign * size, shape: make([]float64, cylinders)}
				h.prior = rare * rules.Steps / float64(2*len(rules.StepSizes)*(n-1))
				for _, c := range v.Order[from:] {
					h.shape[c] = sign * size
				}
				all = append(all, h)
			}
		}
	}
	if len(v.SecondBank) > 1 && n-len(v.SecondBank) > 1 {
		for _, size := range rules.BankSizes {
			for _, sign := range [...]float64{-1, 1} {
				h := Hypothesis{
					Kind:  Bank,
					Size:  sign * size,
					prior: rules.BankOff / float64(2*len(rules.BankSizes)),
					shape: make([]float64, cylinders),
				}
				for _, c := range v.SecondBank {
					h.shape[c] = sign * size
				}
				all = append(all, h)
			}
		}
	}
	return all
}
