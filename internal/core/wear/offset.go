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
			middle = median(near)
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

// inTurn tells what cylinders do by themselves and what the visits did to all, each with what the other came to: residuals are those of one
// cylinder, by visit, given the offsets so far.
func inTurn(n int, before []offset, residuals func(c int, off []offset) []residual) (out offsets) {
	off := slices.Clone(before)
	for range rounds {
		all := make([][]residual, n)
		for c := range all {
			all[c] = residuals(c, off)
		}
		out = tell(before, all)
		for v := range off {
			off[v] = offset{}
			for c := range n {
				off[v].mean += out.of[c][v].mean / float64(n)
			}
		}
	}
	return out
}

// median sorts what it is given.
func median(all []float64) float64 {
	slices.Sort(all)
	return (all[(len(all)-1)/2] + all[len(all)/2]) / 2
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
		before[v] = offset{x.leakShift - math.Log(orifice) + rules.BedsLeak*x.fresh, math.Hypot(x.leakShiftSD, rules.BedsLeakSD*x.fresh)}
	}
	own := make([]float64, n)
	out := inTurn(n, before, func(c int, off []offset) []residual {
		own[c] = on.ownArea(h, c, worn, off)
		all := make([]residual, len(h.visits))
		for v, x := range h.visits {
			if r := x.read[c]; r.leakSE > 0 {
				pct, slope := pctOf(math.Log(math.Exp(own[c]) + worn[v]))
				all[v] = residual{min(max((r.leak-pct)/slope, -1.5), 1.5), math.Hypot(r.leakSE/slope, rules.BedsUneven*x.fresh)}
			}
		}
		return all
	})
	return out, own
}

// ownArea returns the logarithm of the area that a cylinder leaks by itself, from all its leak-downs and what is usual: the median of what
// they imply, so that a fault that came later doesn't count.
func (on *engine) ownArea(h history, c int, worn []float64, off []offset) float64 {
	var implied []float64
	for v, x := range h.visits {
		if r := x.read[c]; r.leakSE > 0 {
			area := gas.Area(max(r.leak, rules.LeakLeast)) * math.Exp(-off[v].mean)
			implied = append(implied, math.Log(max(area-worn[v], math.Exp(on.sound-2.5))))
		}
	}
	if len(implied) == 0 {
		return on.sound
	}
	return median(implied)
}

// levelOffsets tells what the visits did to compression where the cylinders hold what held says, logarithms by cylinder and visit.
func (on *engine) levelOffsets(h history, held [][]float64) offsets {
	n := len(on.order)
	before := make([]offset, len(h.visits))
	for v, x := range h.visits {
		before[v] = offset{x.shift - rules.BedsLose*x.fresh, math.Hypot(x.shiftSD, rules.BedsLoseSD*x.fresh)}
	}
	return inTurn(n, before, func(c int, off []offset) []residual {
		level := ownLevel(h, c, held[c], off)
		all := make([]residual, len(h.visits))
		for v, x := range h.visits {
			if r := x.read[c]; r.levelSE > 0 {
				all[v] = residual{r.level - held[c][v] - level, math.Hypot(r.levelSE, rules.BedsUneven/10*x.fresh)}
			}
		}
		return all
	})
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
	return median(implied)
}
