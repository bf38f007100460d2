package belief

import "math"

// reading makes of a row what is weighed: how far it stands from what the cylinder reads when it is sound, and the density of
// that deviation by all that is believed of the cylinder, its leak-down included.
func (b *Believed) reading(i int, v *Visit, x *leakEvidence, r *reading) {
	c := &b.Cylinders[i]
	*r = reading{parts: v.Rows[i], fail: fails(v.Pulls[i])}
	best := 0
	for k, p := range r.parts {
		if p.Weight > r.parts[best].Weight {
			best = k
		}
	}
	r.best = best
	r.dev = r.parts[best].Mean - b.level - c.dev
	for _, p := range r.parts {
		sd := math.Sqrt(p.SD*p.SD + v.Scatter*v.Scatter + c.devVar)
		r.kernels = append(r.kernels, b.kernel(sd))
	}
	r.sd = math.Sqrt(r.parts[best].SD*r.parts[best].SD + v.Scatter*v.Scatter + c.devVar)
	whole := c.Sound * x.sound
	for k, w := range c.leak {
		whole += w * x.leak[k]
	}
	for _, w := range c.short {
		whole += w * x.sound
	}
	var steps [devs + 1]float64
	add(&steps, bin{devZero, devZero}, c.Sound*x.sound)
	for k, w := range c.leak {
		if w *= x.leak[k]; w > tiny*whole {
			for i, at := range x.table.loss[k] {
				add(&steps, at, w*b.share(x, i))
			}
		}
	}
	for k, w := range c.short {
		if w *= x.sound; w > tiny*whole {
			add(&steps, lostDev[k], w)
		}
	}
	sum := 0.0
	for at := range devs {
		sum += steps[at]
		w := sum / whole
		if w <= tiny {
			continue
		}
		for k, p := range r.parts {
			to := min(max(at+indexOf(r.parts[best].Mean-p.Mean)-devZero, 0), devs-1)
			if at < devSmooth { // the sizes lie wider apart there than readings scatter
				r.expects[to] += w * p.Weight / devStep
			} else {
				spread(&r.expects, to, w*p.Weight, r.kernels[k])
			}
		}
	}
	for at, w := range oddOf(v.Pulls[i]) {
		r.expects[at] += w
	}
}

// share returns the weight of one of the shares of a hole that compression may show. Where nobody measured the leak its size is free,
// and what compression shows is the size: then only the likeliest share counts.
func (b *Believed) share(x *leakEvidence, i int) float64 {
	switch {
	case x.measured:
		return b.about[i].weight
	case i == likeliestShare:
		return 1
	}
	return 0
}

// add spreads a weight over a bin, as steps up and down that are to be summed.
func add(steps *[devs + 1]float64, in bin, w float64) {
	w /= float64(in.to - in.from + 1)
	steps[in.from] += w
	steps[in.to+1] -= w
}

// posterior is what a visit makes of a cylinder before its neighbours are looked at; weights, not chances, whose sum is whole.
type posterior struct {
	sound, failed float64
	leak          [sizes]float64
	short         [shortages]float64
	whole         float64
	emits         [sizes]float64 // of a leak of each size: its figure and its compression, places left out
	paired        float64        // the chance that it leaks into a neighbour
	pairPoints    float64
	pairs         [sizes]float64 // the same by size
	neighbour     int            // the likeliest, -1 for none
	neighbourBy   float64
}

func (b *Believed) posterior(i int, v *Visit, x *leakEvidence, r *reading, own [][devs]float64, p *posterior) {
	c := &b.Cylinders[i]
	*p = posterior{neighbour: -1}
	var density [devs]float64
	wrong, read := 0.0, len(r.parts) > 0
	low, high := devs, -1 // where the density is more than nothing
	if read {
		r.own, r.ownVar = moments(&own[i])
		best := 0
		for k, q := range r.parts {
			if q.Weight > r.parts[best].Weight {
				best = k
			}
		}
		fail := 0.0
		for z, w := range own[i] {
			if w < tiny {
				continue
			}
			for k, q := range r.parts {
				at := min(max(z+indexOf(q.Mean-r.parts[best].Mean)-devZero, 0), devs-1)
				spread(&density, at, w*q.Weight, r.kernels[k])
				low, high = min(low, at-len(r.kernels[k])), max(high, at+len(r.kernels[k]))
			}
			fail += w * oddOf(v.Pulls[i])[z]
		}
		wrong = r.fail * failsOver
		p.failed = fail
	}
	var up [devs + 1]float64 // its sums, from low to high
	low, high = max(low, 0), min(high, devs-1)
	for i := low; i <= high; i++ {
		up[i+1] = up[i] + density[i]
	}
	at := func(in bin) float64 {
		switch from, to := max(in.from, low), min(in.to, high); {
		case !read:
			return 1
		case from > to:
			return never
		default:
			return (up[to+1]-up[from])/float64(in.to-in.from+1) + never
		}
	}
	p.failed *= c.Sound * x.sound
	p.sound = c.Sound*x.sound*at(bin{devZero, devZero}) + p.failed
	p.whole = p.sound
	for k, w := range c.leak {
		e := 0.0
		for i, dev := range x.table.loss[k] {
			e += b.share(x, i) * at(dev)
		}
		e += wrong
		p.emits[k] = x.figure[k] * x.place[Neighbour][k] * e
		p.leak[k] = w * x.leak[k] * e
		p.whole += p.leak[k]
	}
	for k, w := range c.short {
		p.short[k] = w * x.sound * (at(lostDev[k]) + wrong)
		p.whole += p.short[k]
	}
}

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
		alone[i] = max(1-whole, 1/capped)
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
		chance := min(odds[i]/touching, 1-1/capped)
		pts := 0.0
		for k := range p.leak {
			p.leak[k] *= chance / odds[i]
			pts += p.leak[k] * points[k]
		}
		for _, c := range [...][2]int{{p.a, p.b}, {p.b, p.a}} {
			o := &post[c[0]]
			o.paired = min(o.paired+chance, 1-1/capped)
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
		for m, mark := range v.Marks {
			for k, w := range c.leak {
				if points[k] >= mark.Points || x.table.lost[k] >= mark.LostPct {
					t.Beyond[m] += w*alone + p.pairs[k]
				}
			}
			for k, w := range c.short {
				if 100*lost[k] >= mark.LostPct {
					t.Beyond[m] += w * alone
				}
			}
		}
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
			t.Expected = b.leakingAt(base + x.factor).pct
			t.Rise = x.y - t.Expected
		}
	}
	if len(r.parts) > 0 {
		mean, variance := r.own, r.ownVar
		likely, sure := r.likely(mean)
		t.Meant = r.parts[likely].Mean
		t.LeftOut, t.Unsure = !r.parts[likely].Whole, sure < sureOfPull
		t.Change, t.ChangeSE = mean+t.Meant-r.parts[r.best].Mean, math.Sqrt(variance+r.sd*r.sd)
		if c.cranked {
			t.Change -= max(0, c.devBase-c.dev)
		}
	}
	return t
}

// sureOfPull is the chance from which one meaning of a row is taken for the right one.
const sureOfPull = 0.8

// likely returns the part of a row that is most likely meant, and how surely, where the likeliest by itself deviates by dev: by
// their weights, and by how near each stands to what the cylinder reads when it is sound, which most are.
func (r *reading) likely(dev float64) (part int, sure float64) {
	const faulty = 0.05
	best, whole := 0.0, 0.0
	for k, p := range r.parts {
		w := p.Weight * (density(dev+p.Mean-r.parts[r.best].Mean, r.sd+ownRoom) + faulty)
		whole += w
		if w > best {
			best, part = w, k
		}
	}
	return part, best / whole
}

// ownRoom is added to a reading's standard deviation where it is asked which of two is nearer.
const ownRoom = 0.02

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
	sound := min(max(c.Sound, 1/capped), 1-1/capped)
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

func moments(weights *[devs]float64) (mean, variance float64) {
	for at, w := range weights {
		z := float64(at-devZero) * devStep
		mean += w * z
		variance += w * z * z
	}
	return mean, max(0, variance-mean*mean)
}

// learn takes the visit into what the cylinders read when they are sound, as far as they are believed to be and as far as the
// readings are clean.
func (b *Believed) learn(v *Visit, told []Told, kept []Hypothesis, f []factor) {
	common, alike := 0.0, 0.0
	for _, h := range kept {
		common += h.Weight * h.Common
		if h.Kind == Alike {
			alike += h.Weight
		}
	}
	if len(v.Order) > 0 {
		noise := commonSD*commonSD + v.SD*v.SD + v.Scatter*v.Scatter/float64(len(v.Order))
		switch off := common - v.Mean - b.common; {
		case !b.begun || v.Teaches:
			gain := b.levelVar / (b.levelVar + noise)
			b.level += gain * off
			b.levelVar *= 1 - gain
		case math.Abs(off) < 2.5*math.Sqrt(noise+b.commonVar):
			gain := alike * b.commonVar / (b.commonVar + noise)
			b.common += gain * off
			b.commonVar *= 1 - gain
		}
	}
	leaks, weight := 0.0, 0.0
	for i := range b.Cylinders {
		c, t := &b.Cylinders[i], &told[i]
		if t.ChangeSE > 0 {
			mean, variance := b.work.all[i].own, b.work.all[i].ownVar
			noise := t.ChangeSE*t.ChangeSE - c.devVar
			if len(v.Order) > 1 && noise > variance/2 {
				gain := max(0, t.Sound-t.Failed) * c.devVar / (c.devVar + noise)
				c.dev += gain * mean
				if c.cranked {
					c.dev = max(c.dev, c.devBase-creepMost)
				}
				c.devVar *= 1 - gain
			}
			if !c.cranked || v.Teaches || c.rebase {
				c.devBase = c.dev
			}
			c.cranked, c.seen = c.cranked || t.Sound-t.Failed >= believed, true
		}
		rows := v.Leaks[i]
		if len(rows) == 0 {
			continue
		}
		y := lowest(rows)
		se := math.Hypot(LeakError(y.Pct, y.Step)/slope(math.Log(areaOf(y.Pct))), Wander)
		sound := max(0, t.Sound-t.Innocent)
		off := math.Log(areaOf(y.Pct)) - c.area
		noise := se*se + f[i].variance
		gain := sound * c.areaVar / (c.areaVar + noise)
		c.area += gain * (off - f[i].mean)
		if c.leaked {
			c.area = min(c.area, c.areaBase+leakCreepMost)
		}
		leaks += sound * off / (se*se + c.areaVar)
		weight += sound / (se*se + c.areaVar)
		c.areaVar *= 1 - gain
		if !c.leaked || v.Teaches || c.rebase {
			c.areaBase = c.area
		}
		c.leaked, c.tested = c.leaked || sound >= believed, true
		for _, r := range rows {
			if r.Listened {
				c.listened += sound
				for p := range places {
					if r.Heard[p] > 0 {
						c.heard[p] += sound
					}
				}
			}
		}
	}
	rebase := false
	for i := range b.Cylinders {
		rebase = rebase || b.Cylinders[i].rebase
		b.Cylinders[i].rebase = false
	}
	if weight > 0 {
		noise := 1/weight + v.LeakSD*v.LeakSD + LeakVisit*LeakVisit
		gain := b.leaksVar / (b.leaksVar + noise)
		b.leaks += gain * (leaks/weight - v.LeakMean - b.leaks)
		b.leaksVar *= 1 - gain
		if !b.begun || v.Teaches || rebase {
			b.leaksBase = b.leaks
		}
	}
}

// believed is the chance of being sound from which a reading is one of a sound cylinder.
const believed = 0.5

// tiny is a weight that adds less to a density than a failed row does.
const tiny = 1e-5
