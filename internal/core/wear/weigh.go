package wear

import (
	"math"

	"gonum.org/v1/gonum/stat"

	"braxel/internal/core/rules"
)

// course is one way in which an engine may wear.
type course struct {
	lives   float64 // how many usual lives its own is
	power   float64 // of the running, by which the leaking area grows
	orifice float64 // by how much the leaking area is more than the tester says
	share   float64 // of the hole that compression shows
	log     float64 // of its weight
}

// Grids: lives are logarithms, in standard deviations; how unlike the cylinders wear likewise.
const (
	lifeSteps, lifeReach = 15, 2.4
	unlikeReach          = 2
)

// Shares of a hole that compression shows: discharge, speed and volume are not known better. Source: physics.
var shares = []rules.Share{{Of: 0.7, Chance: 0.3}, {Of: 1, Chance: 0.4}, {Of: 1.6, Chance: 0.3}}

// Orifices that are tried where nobody gave the tester's, as areas beside the reference's: 0.8 to 1.5 mm are met. Source: trade.
var orifices = []rules.Share{{Of: 0.65, Chance: 0.25}, {Of: 1, Chance: 0.4}, {Of: 1.9, Chance: 0.35}}

// worn returns the area that wear has added to a usual cylinder after running.
func (on *engine) worn(c course, running float64) float64 {
	return on.grown * on.pace * math.Pow(max(running, 0)/(on.lasts*c.lives), c.power)
}

// fit is how well one cylinder goes by one course, wearing by one pace.
type fit struct {
	log  float64 // of the likelihood of all its readings
	area float64 // what it leaks by itself then
}

// areas are the logarithms of own areas that are tried about the likeliest.
var areaTries = [...]float64{-0.55, -0.3, -0.15, 0, 0.15, 0.3}

// faultStray is how far a fault's area strays from the size that is tried, of those on a grid: so that each reading between two of them
// has one that explains it. [log; judgement]
const faultStray = 0.18

// leakFit weighs a cylinder's leak-downs where its own area is about own and extra is added by visit, of it faults by a fault.
func (on *engine) leakFit(h history, c int, own float64, extra, faults []float64, off []offset) fit {
	top, sum, mean := math.Inf(-1), 0.0, 0.0
	sd := math.Hypot(rules.SoundLeakSD, rules.SiblingsLeak)
	for _, t := range areaTries {
		log := own + t
		area := math.Exp(log)
		z := (log - on.sound) / sd
		density := math.Exp(-z * z / 2)
		for v := range h.visits {
			if r := &h.visits[v].read[c]; r.leakSE > 0 {
				uneven := rules.BedsUneven * h.visits[v].fresh
				if faults != nil {
					uneven = math.Hypot(uneven, faultStray*faults[v]/(area+extra[v]))
				}
				density *= leakDensity(r, math.Log(area+extra[v]), off[v], uneven)
			}
		}
		l := math.Log(density)
		if l > top {
			sum, mean, top = sum*math.Exp(top-l)+1, mean*math.Exp(top-l)+log, l
		} else {
			sum += math.Exp(l - top)
			mean += log * math.Exp(l-top)
		}
	}
	return fit{top + math.Log(sum/float64(len(areaTries))), math.Exp(mean / sum)}
}

// leakDensity returns the density of a leak-down where the area is that of log: as read, or lifted by dirt or a seal, or written down
// wrong.
func leakDensity(r *reading, log float64, off offset, uneven float64) float64 {
	pct, slope := pctOf(log + off.mean)
	variance := r.leakSE*r.leakSE + slope*slope*(off.sd*off.sd+uneven*uneven)
	over := r.leak - pct
	dirt := rules.Dirt
	if r.again {
		dirt *= rules.RepeatCare
	}
	density := (1-dirt)*math.Exp(-over*over/(2*variance))/math.Sqrt(2*math.Pi*variance) + rules.LeakSlip/100
	if over > 0 {
		density += dirt / rules.DirtPoints * math.Exp(-over/rules.DirtPoints)
	}
	return density
}

// levelFit weighs a cylinder's compression where it holds what held says by visit, logarithms; its own level is free. Readings that stand
// far off count as failed.
func (on *engine) levelFit(h history, c int, held []float64, off []offset) float64 {
	const capped = 9.0 // of χ²: beyond three standard deviations a reading has failed
	by, w := make([]float64, 0, rules.TestsMost), make([]float64, 0, rules.TestsMost)
	for v := range h.visits {
		x := &h.visits[v]
		if r := &x.read[c]; r.levelSE > 0 {
			uneven := rules.BedsUneven / 10 * x.fresh
			by = append(by, r.level-held[v]-off[v].mean)
			w = append(w, 1/(r.levelSE*r.levelSE+uneven*uneven+off[v].sd*off[v].sd))
		}
	}
	if len(by) == 0 {
		return 0
	}
	soft := append(make([]float64, 0, rules.TestsMost), w...)
	mean := 0.0
	for range 3 {
		mean = stat.Mean(by, soft)
		for i := range by {
			d := by[i] - mean
			soft[i] = w[i] / (1 + w[i]*d*d/capped)
		}
	}
	density := 1.0
	for i := range by {
		d := by[i] - mean
		density *= math.Exp(-w[i]*d*d/2) + rules.PullFails*rules.FailsBelow*math.Sqrt(math.Pi/(2*w[i]))
	}
	return math.Log(density)
}

// heldBy returns by visit what a cylinder holds of its own level, logarithms, as its area grows.
func (on *engine) heldBy(h history, area, share float64, extra []float64, f *fault) []float64 {
	own, _ := on.held.at(math.Log(share * area))
	out := make([]float64, len(h.visits))
	for v, x := range h.visits {
		log, _ := on.held.at(math.Log(share * (area + extra[v])))
		out[v] = log - own
		if f != nil {
			out[v] -= f.lost(x.at)
		}
	}
	return out
}
