package belief

import (
	"math"

	"braxel/internal/core/rules"
)

// tell writes the posterior into the belief, and says what the visit makes of the cylinder.
func (b *Believed) tell(i int, v *Visit, x *leakEvidence, r *reading, p *posterior) Told {
	c := &b.Cylinders[i]
	t := Told{
		Pair: p.neighbour, PairChance: p.neighbourBy, Expected: x.pct,
		NewLeak: !c.tested, NewReading: !c.seen, NoBaseLeak: !c.leaked, NoBase: !c.cranked,
	}
	if p.whole > 0 {
		c.Sound = p.sound / p.whole
		for k := range c.leak {
			c.leak[k] = p.leak[k] / p.whole
		}
		for k := range c.short {
			c.short[k] = p.short[k] / p.whole
		}
		c.cap()
		c.placed(x)
		leaks, shorts, size := 0.0, 0.0, 0.0
		for k, w := range c.leak {
			leaks += w
			size += w * points[k]
			t.LostPct += w * x.table.lost[k]
		}
		for k, w := range c.short {
			shorts += w
			t.LostPct += 100 * w * lost[k]
		}
		alone := 1 - p.paired
		t.Sound = c.Sound * alone
		t.Leaking = leaks*alone + p.paired
		t.Short = shorts * alone
		if faulty := leaks + shorts; faulty > 0 {
			t.LostPct /= faulty
		}
		if t.Leaking > 0 {
			t.Points = (size*alone + p.pairPoints) / t.Leaking
		}
		t.Beyond = b.beyond(i, v, x, p)
		for q := range places {
			t.Place[q] = c.place[q] * leaks * alone
		}
		t.Place[Neighbour] += p.paired
		for q := range places {
			t.Place[q] /= max(t.Leaking, 1e-12)
		}
		t.Innocent = t.Sound * x.innocent
		t.Failed = alone * p.failed / p.whole
	}
	if x.measured {
		t.Rise, t.RiseSE = x.y-x.pct, math.Hypot(x.ySE, x.pctSE)
		if base := min(c.areaBase, c.area); c.leaked {
			t.Expected = b.holes.at(base + x.factor).pct
			t.Rise = x.y - t.Expected
		}
	}
	if len(r.parts) > 0 {
		mean, variance := r.own, r.ownVar
		likely, sure := r.likely(mean)
		t.Meant = r.parts[likely].Mean
		t.LeftOut, t.Unsure = !r.parts[likely].Whole, sure < rules.SureOfPull
		t.Change, t.ChangeSE = mean+t.Meant-r.parts[r.best].Mean, math.Sqrt(variance+r.sd*r.sd)
		if c.cranked {
			t.Change -= max(0, c.devBase-c.dev)
		}
	}
	return t
}

// beyond returns the chances that a cylinder has gone so far as each of the visit's marks.
func (b *Believed) beyond(i int, v *Visit, x *leakEvidence, p *posterior) (beyond [marks]float64) {
	c := &b.Cylinders[i]
	for m, mark := range v.Marks {
		for k, w := range c.leak {
			if points[k] >= mark.Points || (x.table.lost[k] >= mark.LostPct && !(mark.PointsAlone && x.measured)) {
				beyond[m] += w*(1-p.paired) + p.pairs[k]
			}
		}
		for k, w := range c.short {
			if 100*lost[k] >= mark.LostPct {
				beyond[m] += w * (1 - p.paired)
			}
		}
	}
	return beyond
}

// likely returns the part of a row that is most likely meant, and how surely, where the likeliest by itself deviates by dev: by
// their weights, and by how near each stands to what the cylinder reads when it is sound, which most are.
func (r *reading) likely(dev float64) (part int, sure float64) {
	best, whole := 0.0, 0.0
	for k, p := range r.parts {
		w := p.Weight * (density(dev+p.Mean-r.parts[r.best].Mean, r.sd+rules.PullNear) + rules.PullFaulty)
		whole += w
		if w > best {
			best, part = w, k
		}
	}
	return part, best / whole
}

// placed takes in where the air of the leak was heard.
func (c *Cylinder) placed(x *leakEvidence) {
	var place [places]float64
	sum := 0.0
	for k, w := range c.leak {
		if !(x.leak[k] > 0) {
			continue
		}
		for q := range places {
			share := c.place[q] * x.place[q][k] * w * x.figure[k] / x.leak[k]
			place[q] += share
			sum += share
		}
	}
	if sum > 0 {
		for q := range places {
			c.place[q] = place[q] / sum
		}
	}
}

// cap keeps the odds of a fault within bounds, so that belief can return.
func (c *Cylinder) cap() {
	sound := min(max(c.Sound, 1/rules.OddsMost), 1-1/rules.OddsMost)
	if c.Sound < 1 {
		rest := (1 - sound) / (1 - c.Sound)
		for k := range c.leak {
			c.leak[k] *= rest
		}
		for k := range c.short {
			c.short[k] *= rest
		}
	}
	c.Sound = sound
}
