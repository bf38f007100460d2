package belief

import (
	"math"
	"slices"
)

// maxOrder is more cylinders than engines have.
const maxOrder = 64

// parted is how far the readings of a visit stand apart, by where it is parted: the middles and the highest of the later ones
// against those of the earlier, and of the second bank against the first.
type parted struct {
	from [maxOrder][2]float64
	bank [2]float64
	half int
}

func partedBy(v *Visit, r []reading) *parted {
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
