package wear

import (
	"math"
	"slices"

	"braxel/internal/core/gas"
	"braxel/internal/core/rules"
)

// offset is what a visit did to all readings, a logarithm, as the other cylinders tell it, with its doubt.
type offset struct{ mean, sd float64 }

// offsets are these by cylinder and visit, and how likely such visits are.
type offsets struct {
	of  [][]offset // by cylinder, by visit
	log float64    // of the density of all of them
}

// rounds is how often levels and offsets are told from each other in turn.
const rounds = 3

// residual is how far one reading stands from what is expected of it without an offset, with its standard error; 0 where there is none.
type residual struct{ by, se float64 }

// tell returns the offsets of the visits from the residuals of all cylinders (by cylinder, by visit), given what is known beforehand. Of
// what one cylinder reads, its own offset is told by the others.
func tell(before []offset, all [][]residual) offsets {
	out := offsets{of: make([][]offset, len(all))}
	for c := range all {
		out.of[c] = make([]offset, len(before))
	}
	for v, prior := range before {
		var near []float64
		for c := range all {
			if all[c][v].se > 0 {
				near = append(near, all[c][v].by)
			}
		}
		middle := prior.mean
		if len(near) > 2 {
			slices.Sort(near)
			middle = (near[(len(near)-1)/2] + near[len(near)/2]) / 2
		}
		known := 1 / (prior.sd * prior.sd)
		sum, weight := prior.mean*known, known
		w := make([]float64, len(all))
		for c := range all {
			if r := all[c][v]; r.se > 0 {
				w[c] = 1 / (r.se * r.se)
				if off := math.Abs(r.by-middle) / math.Hypot(r.se, unevenSD); off > rules.Surely { // Huber: one that stands off tells less
					w[c] *= rules.Surely / off
				}
				sum += w[c] * r.by
				weight += w[c]
			}
		}
		for c := range all {
			rest := weight - w[c]
			out.of[c][v] = offset{(sum - w[c]*all[c][v].by) / rest, math.Sqrt(1 / rest)}
		}
		if n := float64(len(near)); n > 1 {
			z := (sum/weight - prior.mean) / prior.sd
			out.log += (1 - 1/n) * logMix(z)
		}
	}
	return out
}

// unevenSD keeps readings that were all written alike from being weighed as if they were exact. [log; judgement]
const unevenSD = 0.01

// logMix is the logarithm of how likely an offset is, of its standard deviations: now and then a visit is far off.
func logMix(z float64) float64 {
	far := rules.VisitWide / rules.VisitSD
	return math.Log((1-rules.VisitWideOften)*math.Exp(-z*z/2) + rules.VisitWideOften/far*math.Exp(-z*z/(2*far*far)))
}

// leakOffsets tells what the visits did to leaks where wear goes by worn, the area grown by visit, and returns the logarithm of each
// cylinder's own sound area.
func (on *engine) leakOffsets(h history, worn []float64, orifice float64) (offsets, []float64) {
	n := len(on.order)
	before := make([]offset, len(h.visits))
	for v, x := range h.visits {
		fresh := x.fresh
		before[v] = offset{x.leakShift - math.Log(orifice) + rules.BedsLeak*fresh, math.Hypot(x.leakShiftSD, rules.BedsLeakSD*fresh)}
	}
	own := make([]float64, n)
	off := make([]offset, len(h.visits))
	copy(off, before)
	residuals := make([][]residual, n)
	var out offsets
	for range rounds {
		for c := range n {
			own[c] = on.ownArea(h, c, worn, off)
			residuals[c] = make([]residual, len(h.visits))
			for v, x := range h.visits {
				if r := x.read[c]; r.leakSE > 0 {
					log := math.Log(math.Exp(own[c]) + worn[v])
					pct, slope := pctOf(log)
					residuals[c][v] = residual{
						min(max((r.leak-pct)/slope, -1.5), 1.5), math.Hypot(r.leakSE/slope, rules.BedsUneven*x.fresh),
					}
				}
			}
		}
		out = tell(before, residuals)
		for v := range off {
			off[v] = offset{}
			for c := range n {
				off[v].mean += out.of[c][v].mean / float64(n)
			}
		}
	}
	return out, own
}

// ownArea returns the logarithm of the area that a cylinder leaks by itself, from all its leak-downs and what is usual: the median of what
// they imply, so that a fault that came later doesn't count.
func (on *engine) ownArea(h history, c int, worn []float64, off []offset) float64 {
	implied := []float64{on.sound}
	for v, x := range h.visits {
		if r := x.read[c]; r.leakSE > 0 {
			area := gas.Area(max(r.leak, rules.LeakLeast)) * math.Exp(-off[v].mean)
			implied = append(implied, math.Log(max(area-worn[v], math.Exp(on.sound-2.5))))
		}
	}
	if len(implied) == 1 {
		return on.sound
	}
	implied = implied[1:]
	slices.Sort(implied)
	return (implied[(len(implied)-1)/2] + implied[len(implied)/2]) / 2
}

// levelOffsets tells what the visits did to compression where the cylinders hold what held says, logarithms by cylinder and visit.
func (on *engine) levelOffsets(h history, held [][]float64) offsets {
	n := len(on.order)
	before := make([]offset, len(h.visits))
	for v, x := range h.visits {
		fresh := x.fresh
		before[v] = offset{x.shift - rules.BedsLose*fresh, math.Hypot(x.shiftSD, rules.BedsLoseSD*fresh)}
	}
	off := slices.Clone(before)
	residuals := make([][]residual, n)
	var out offsets
	for range rounds {
		for c := range n {
			level := ownLevel(h, c, held[c], off)
			residuals[c] = make([]residual, len(h.visits))
			for v, x := range h.visits {
				if r := x.read[c]; r.levelSE > 0 {
					residuals[c][v] = residual{r.level - held[c][v] - level, math.Hypot(r.levelSE, rules.BedsUneven/10*x.fresh)}
				}
			}
		}
		out = tell(before, residuals)
		for v := range off {
			off[v] = offset{}
			for c := range n {
				off[v].mean += out.of[c][v].mean / float64(n)
			}
		}
	}
	return out
}

// ownLevel returns the logarithm of what a cylinder makes when it is sound: the median of what its readings imply.
func ownLevel(h history, c int, held []float64, off []offset) float64 {
	var implied []float64
	for v, x := range h.visits {
		if r := x.read[c]; r.levelSE > 0 {
			implied = append(implied, r.level-held[v]-off[v].mean)
		}
	}
	if len(implied) == 0 {
		return 0
	}
	slices.Sort(implied)
	return (implied[(len(implied)-1)/2] + implied[len(implied)/2]) / 2
}
