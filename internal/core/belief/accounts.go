package belief

import (
	"math"
	"slices"
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

// The sizes that are tried, logarithms, and how often each kind is met in a shop: a sagging battery in one visit of twenty where
// nobody wrote the volts, a throttle or charger that was noticed half-way through in one of forty.
var (
	sagTotals = [...]float64{0.035, 0.06, 0.09, 0.13, 0.18, 0.25, 0.35}
	sagPowers = [...]float64{0.6, 1, 1.8}
	stepSizes = [...]float64{0.04, 0.07, 0.11, 0.16, 0.22, 0.3, 0.45}
	bankSizes = [...]float64{0.04, 0.07, 0.11, 0.16}
)

const (
	sags, sagsFell, sagsHeld = 0.06, 0.5, 0.006
	steps                    = 0.03
	banks                    = 0.006
	oneSide                  = 0.1 // a step that moves one reading alone is oftener that cylinder's own
)

// hypotheses lists what may have moved the readings of a visit. The list is kept for the next that is read in the same order.
func (b *Believed) hypotheses(v *Visit) []Hypothesis {
	sag := sags
	switch {
	case v.VoltsFell > 0.35:
		sag = sagsFell
	case v.VoltsHeld:
		sag = sagsHeld
	}
	w := b.work
	if !slices.Equal(w.order, v.Order) || !slices.Equal(w.secondBank, v.SecondBank) || w.cylinders != len(b.Cylinders) || w.sag != sag {
		w.order, w.secondBank, w.cylinders, w.sag = slices.Clone(v.Order), slices.Clone(v.SecondBank), len(b.Cylinders), sag
		w.accounts = b.list(v, sag)
	}
	return w.accounts
}

func (b *Believed) list(v *Visit, sag float64) []Hypothesis {
	n := len(v.Order)
	all := []Hypothesis{{Kind: Alike, prior: 1, shape: make([]float64, len(b.Cylinders))}}
	if n < 3 {
		return all
	}
	for _, total := range sagTotals {
		if total > 0.055*float64(n) {
			break
		}
		for _, power := range sagPowers {
			h := Hypothesis{Kind: Sag, Size: -total, Power: power, shape: make([]float64, len(b.Cylinders))}
			h.prior = sag / float64(len(sagTotals)*len(sagPowers))
			for k, c := range v.Order {
				h.shape[c] = -total * math.Pow(float64(k)/float64(n-1), power)
			}
			all = append(all, h)
		}
	}
	for from := 1; from < n; from++ {
		rare := 1.0
		if from == 1 || from == n-1 {
			rare = oneSide
		}
		for _, size := range stepSizes {
			for _, sign := range [...]float64{-1, 1} {
				h := Hypothesis{Kind: Step, From: from, Size: sign * size, shape: make([]float64, len(b.Cylinders))}
				h.prior = rare * steps / float64(2*len(stepSizes)*(n-1))
				for _, c := range v.Order[from:] {
					h.shape[c] = sign * size
				}
				all = append(all, h)
			}
		}
	}
	if len(v.SecondBank) > 1 && n-len(v.SecondBank) > 1 {
		for _, size := range bankSizes {
			for _, sign := range [...]float64{-1, 1} {
				h := Hypothesis{
					Kind:  Bank,
					Size:  sign * size,
					prior: banks / float64(2*len(bankSizes)),
					shape: make([]float64, len(b.Cylinders)),
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

// parted is how far the readings of a visit stand apart, by where it is parted: the middles and the highest of the later ones
// against those of the earlier, and of the second bank against the first.
type parted struct {
	from [maxOrder][2]float64
	bank [2]float64
	half int
}

func (b *Believed) parted(v *Visit, r []reading) *parted {
	var p parted
	var first, second []float64
	apart := func() [2]float64 {
		slices.Sort(first)
		slices.Sort(second)
		return [2]float64{second[len(second)/2] - first[len(first)/2], second[len(second)-1] - first[len(first)-1]}
	}
	p.half = len(v.Order) / 2
	for from := 1; from < min(len(v.Order), maxOrder); from++ {
		first, second = first[:0], second[:0]
		for k, c := range v.Order {
			if k < from {
				first = append(first, r[c].dev)
			} else {
				second = append(second, r[c].dev)
			}
		}
		p.from[from] = apart()
	}
	if n := len(v.SecondBank); n > 0 && n < len(v.Order) {
		first, second = first[:0], second[:0]
		for _, c := range v.Order {
			if slices.Contains(v.SecondBank, c) {
				second = append(second, r[c].dev)
			} else {
				first = append(first, r[c].dev)
			}
		}
		p.bank = apart()
	}
	return &p
}

// like reports whether the readings stand apart as the hypothesis has it, by their middles or by the highest, so that it is
// worth weighing.
func (p *parted) like(y *Hypothesis) bool {
	size, apart, room := y.Size, p.from[min(y.From, maxOrder-1)], 0.35
	switch y.Kind {
	case Alike:
		return true
	case Sag:
		apart, room = p.from[min(p.half, maxOrder-1)], 0.6
		size *= math.Pow(0.75, y.Power) - math.Pow(0.25, y.Power)
	case Bank:
		apart = p.bank
	}
	reach := room*math.Abs(size) + 0.012
	return math.Abs(apart[0]-size) <= reach || math.Abs(apart[1]-size) <= reach
}
