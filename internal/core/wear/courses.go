package wear

import (
	"math"

	"gonum.org/v1/gonum/floats"

	"braxel/internal/core/rules"
)

// paces are how fast a cylinder wears beside the others, each with its chance.
var paces = func() []rules.Share {
	var all []rules.Share
	sum := 0.0
	for z := -unlikeReach; z <= unlikeReach; z++ {
		w := math.Exp(-float64(z*z) / 2)
		all = append(all, rules.Share{Of: math.Exp(rules.WearUnlike * float64(z)), Chance: w})
		sum += w
	}
	for i := range all {
		all[i].Chance /= sum
	}
	return all
}()

// courses returns the ways in which an engine may wear, before its tests.
func (on *engine) courses() []course {
	testers := []rules.Share{{Of: 1, Chance: 1}}
	if on.vague {
		testers = orifices
	}
	var all []course
	for i := range lifeSteps {
		z := lifeReach * (2*float64(i)/(lifeSteps-1) - 1)
		for _, p := range rules.WearPowers {
			for _, o := range testers {
				for _, s := range shares {
					all = append(all, course{
						lives: math.Exp(rules.LastsSD * z), power: p.Of, orifice: o.Of, share: s.Of,
						log: -z*z/2 + math.Log(p.Chance*o.Chance*s.Chance),
					})
				}
			}
		}
	}
	return all
}

// weighed is a course with what each cylinder makes of it.
type weighed struct {
	course
	fits   [][]fit   // by cylinder, by pace
	sound  []float64 // by cylinder: the logarithm of the likelihood without a fault
	leaks  offsets
	own    []float64
	levels offsets
}

// weigh weighs all courses by the tests of a build.
func (on *engine) weigh(h history) []weighed {
	var all []weighed
	n := len(on.order)
	var worn []float64
	var leaks offsets
	var own []float64
	var fits [][]fit
	for i, c := range on.courses() {
		w := weighed{course: c, sound: make([]float64, n)}
		if i%len(shares) == 0 { // leaks don't depend on what compression shows of them
			worn = on.wornBy(h, c)
			leaks, own, fits = on.weighLeaks(h, c, worn)
		}
		w.leaks, w.own = leaks, own
		w.fits = make([][]fit, n)
		held := make([][]float64, n)
		for k := range n {
			held[k] = on.heldBy(h, math.Exp(own[k]), c.share, worn, nil)
		}
		w.levels = on.levelOffsets(h, held)
		w.log += leaks.log + w.levels.log
		for k := range n {
			w.fits[k] = make([]fit, len(paces))
			logs := make([]float64, len(paces))
			for m, pace := range paces {
				f := fits[k][m]
				f.log += on.levelFit(h, k, on.heldBy(h, f.area, c.share, scaled(worn, pace.Of), nil), w.levels.of[k])
				w.fits[k][m] = f
				logs[m] = f.log + math.Log(pace.Chance)
			}
			w.sound[k] = floats.LogSumExp(logs)
		}
		all = append(all, w)
	}
	return all
}

// wornBy returns the area that wear has added to a usual cylinder, visit by visit.
func (on *engine) wornBy(h history, c course) []float64 {
	worn := make([]float64, len(h.visits))
	for v, x := range h.visits {
		worn[v] = on.worn(c, x.at)
	}
	return worn
}

// weighLeaks weighs all leak-downs by one course: what the visits did to them, what each cylinder leaks by itself, and how well each of its
// paces fits.
func (on *engine) weighLeaks(h history, c course, worn []float64) (leaks offsets, own []float64, fits [][]fit) {
	leaks, own = on.leakOffsets(h, worn, c.orifice)
	for k := range on.order {
		var each []fit
		for _, pace := range paces {
			each = append(each, on.leakFit(h, k, own[k], scaled(worn, pace.Of), nil, leaks.of[k]))
		}
		fits = append(fits, each)
	}
	return leaks, own, fits
}

func scaled(all []float64, by float64) []float64 {
	out := make([]float64, len(all))
	for i := range all {
		out[i] = by * all[i]
	}
	return out
}
