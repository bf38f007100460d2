package belief

import (
	"math"

	"braxel/internal/core/rules"
)

// learn takes the visit into what the cylinders read when they are sound, as far as they are believed to be and as far as the
// readings are clean.
func (b *Believed) learn(v *Visit, told []Told, read []reading, kept []Hypothesis, f []factor) {
	if len(v.Order) > 0 {
		b.learnLevel(v, kept)
	}
	b.learnLeaks(v, told)
	for i := range b.Cylinders {
		c, t := &b.Cylinders[i], &told[i]
		anew := v.Teaches || c.rebase
		if t.ChangeSE > 0 {
			c.learnReading(t, &read[i], len(v.Order) > 1, anew)
		}
		if len(v.Leaks[i]) > 0 {
			c.learnLeak(t, v.Leaks[i], f[i], anew)
		}
		c.rebase = false
	}
}

// learnLevel takes in what all make: the visits that define the baseline tell it, later ones whether it moves for good.
func (b *Believed) learnLevel(v *Visit, kept []Hypothesis) {
	common, alike := 0.0, 0.0
	for _, h := range kept {
		common += h.Weight * h.Common
		if h.Kind == Alike {
			alike += h.Weight
		}
	}
	noise := rules.VisitSD*rules.VisitSD + v.SD*v.SD + v.Scatter*v.Scatter/float64(len(v.Order))
	switch off := common - v.Mean - b.common; {
	case !b.begun || v.Teaches:
		gain := b.levelVar / (b.levelVar + noise)
		b.level += gain * off
		b.levelVar *= 1 - gain
	case math.Abs(off) < rules.Lasting*math.Sqrt(noise+b.commonVar):
		gain := alike * b.commonVar / (b.commonVar + noise)
		b.common += gain * off
		b.commonVar *= 1 - gain
	}
}

// learnLeaks takes in by how much all leak more, from those that are sound.
func (b *Believed) learnLeaks(v *Visit, told []Told) {
	sum, weight, anew := 0.0, 0.0, !b.begun || v.Teaches
	for i, rows := range v.Leaks {
		c := &b.Cylinders[i]
		anew = anew || c.rebase
		if len(rows) == 0 {
			continue
		}
		y := lowest(rows)
		w := told[i].clean() / (y.areaError()*y.areaError() + c.areaVar)
		sum += w * (math.Log(areaOf(y.Pct)) - c.area)
		weight += w
	}
	if !(weight > 0) {
		return
	}
	noise := 1/weight + v.LeakSD*v.LeakSD + rules.LeakVisit*rules.LeakVisit
	gain := b.leaksVar / (b.leaksVar + noise)
	b.leaks += gain * (sum/weight - v.LeakMean - b.leaks)
	b.leaksVar *= 1 - gain
	if anew {
		b.leaksBase = b.leaks
	}
}

// clean is the chance that a leak-down is one of a sound cylinder, and that nothing lifted it.
func (t *Told) clean() float64 { return max(0, t.Sound-t.Innocent) }

// learnReading takes in what a cylinder makes beside the others, where there are any; anew where it is what it is held against from now on.
func (c *Cylinder) learnReading(t *Told, r *reading, others, anew bool) {
	sound := t.Sound - t.Failed
	if others {
		noise := t.ChangeSE*t.ChangeSE - c.devVar
		gain := max(0, sound) * c.devVar / (c.devVar + noise)
		c.dev += gain * r.own
		if c.cranked {
			c.dev = max(c.dev, c.devBase-rules.CreepMost)
		}
		c.devVar *= 1 - gain
	}
	if !c.cranked || anew {
		c.devBase = c.dev
	}
	c.cranked, c.seen = c.cranked || sound >= rules.Likely, true
}

// learnLeak takes in what a cylinder leaks beyond what all do, and where air is heard in it though it is sound.
func (c *Cylinder) learnLeak(t *Told, rows []LeakRow, all factor, anew bool) {
	y, sound := lowest(rows), t.clean()
	se := y.areaError()
	gain := sound * c.areaVar / (c.areaVar + se*se + all.variance)
	c.area += gain * (math.Log(areaOf(y.Pct)) - c.area - all.mean)
	if c.leaked {
		c.area = min(c.area, c.areaBase+rules.CreepLeakMost)
	}
	c.areaVar *= 1 - gain
	if !c.leaked || anew {
		c.areaBase = c.area
	}
	c.leaked, c.tested = c.leaked || sound >= rules.Likely, true
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
