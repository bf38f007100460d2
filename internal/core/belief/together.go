package belief

import (
	"math"

	"braxel/internal/core/rules"
)

// factor is what all cylinders' leaks are multiplied by at a visit, of one cylinder by what the others tell.
type factor struct{ mean, variance float64 }

// risen is how far one cylinder's leak stands off what it was when it was sound, the logarithm of its area, with its standard
// deviation, 0 where it was not leaked down; and the chance that it speaks for all.
type risen struct{ by, sd, weight float64 }

// leakFactors finds the share by which all leak more or less, for each cylinder from the others. What is beyond the usual is
// not taken from the sick: a leak is what it is.
func (b *Believed) leakFactors(v *Visit) []factor {
	all := make([]risen, len(b.Cylinders))
	for i, rows := range v.Leaks {
		if len(rows) > 0 {
			c, y := &b.Cylinders[i], lowest(rows)
			all[i] = risen{by: math.Log(areaOf(y.Pct)) - c.area, sd: math.Hypot(y.areaError(), math.Sqrt(c.areaVar))}
		}
	}
	visit := v.LeakSD*v.LeakSD + rules.LeakVisit*rules.LeakVisit
	prior := factor{v.LeakMean + b.leaks, b.leaksVar + visit}
	const passes = 6 // it settles in three or four
	mean := prior
	for range passes {
		for i := range all {
			if a := &all[i]; a.sd > 0 {
				sound := b.Cylinders[i].Sound
				as, own := sound*density(a.by-mean.mean, math.Sqrt(a.sd*a.sd+mean.variance)), rules.OffBelow
				if a.by > mean.mean {
					own = (1-sound)*rules.OffBad + rules.OffSound
				}
				a.weight = as / (as + own)
			}
		}
		mean = prior.with(all, -1)
	}
	most := prior.mean + rules.LeaksTogether*math.Sqrt(visit)
	if !b.begun {
		most = prior.mean + rules.SoundLeakSD*rules.LeaksTogetherFirst
	}
	out := make([]factor, len(all))
	for i := range out {
		out[i] = prior.with(all, i)
		out[i].mean = min(out[i].mean, most)
	}
	return out
}

// with returns a factor with what all tell of it, but for one.
func (f factor) with(all []risen, but int) factor {
	sum, weight := f.mean/f.variance, 1/f.variance
	for i, a := range all {
		if i != but && a.sd > 0 {
			sum += a.weight * a.by / (a.sd * a.sd)
			weight += a.weight / (a.sd * a.sd)
		}
	}
	return factor{sum / weight, 1 / weight}
}
