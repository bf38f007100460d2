package belief

import "braxel/internal/core/rules"

// pairUp weighs each burnt gasket between two neighbours, whose readings go together, against the cylinders each by itself.
func (b *Believed) pairUp(post []posterior) {
	odds, alone := make([]float64, len(b.pairs)), make([]float64, len(b.pairs))
	for i := range b.pairs {
		// What a pair is weighed against: neither of the two shares a gasket with anybody.
		whole := 0.0
		for j := range b.pairs {
			if b.pairs[i].touches(&b.pairs[j]) {
				for _, w := range b.pairs[j].leak {
					whole += w
				}
			}
		}
		alone[i] = max(1-whole, 1/rules.OddsMost)
	}
	for i := range b.pairs {
		p := &b.pairs[i]
		one, two := &post[p.a], &post[p.b]
		if !(one.whole > 0 && two.whole > 0) {
			continue
		}
		for k := range p.leak {
			beside := 0.5*two.emits[k] + 0.25*two.emits[max(k-1, 0)] + 0.25*two.emits[min(k+1, sizes-1)]
			p.leak[k] *= one.emits[k] / one.whole * beside / two.whole / alone[i]
			odds[i] += p.leak[k]
		}
	}
	for i := range b.pairs {
		p := &b.pairs[i]
		if odds[i] == 0 {
			continue
		}
		touching := 1.0
		for j := range b.pairs {
			if p.touches(&b.pairs[j]) {
				touching += odds[j]
			}
		}
		chance := min(odds[i]/touching, 1-1/rules.OddsMost)
		pts := 0.0
		for k := range p.leak {
			p.leak[k] *= chance / odds[i]
			pts += p.leak[k] * points[k]
		}
		for _, c := range [...][2]int{{p.a, p.b}, {p.b, p.a}} {
			o := &post[c[0]]
			o.paired = min(o.paired+chance, 1-1/rules.OddsMost)
			o.pairPoints += pts
			for k, w := range p.leak {
				o.pairs[k] += w
			}
			if chance > o.neighbourBy {
				o.neighbour, o.neighbourBy = c[1], chance
			}
		}
	}
}
