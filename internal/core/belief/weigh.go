package belief

import (
	"math"
	"slices"

	"braxel/internal/core/rules"
)

// weigh finds how likely each hypothesis is, and for each cylinder what the others tell of the offset of its reading: weights
// by deviation of its own reading, so that it is never judged by itself.
func (b *Believed) weigh(
	v *Visit, r []reading, own [][devs]float64, room []float64, accounts *listed,
) ([]Hypothesis, [][devs]float64) {
	var kept []Hypothesis
	clear(own)
	prior := commons{mean: v.Mean + b.common, sd: math.Sqrt(rules.VisitSD*rules.VisitSD + v.SD*v.SD + b.commonVar + b.levelVar)}
	prior.wide = rules.VisitWideOften
	if len(b.Cylinders) == 1 {
		prior.wide = rules.VisitWideSingle
	}
	reach := prune
	if len(v.Order) < 3 {
		reach = pruneFew
	}
	all := accounts.of(v, len(b.Cylinders))
	best := 0.0
	parts := partedBy(v, r)
	for h := range all {
		y := &all[h]
		if y.best = 0; parts.like(y) {
			room = account(v, r, y, &prior, room)
			best = max(best, y.best)
		}
	}
	whole := 0.0
	for h := range all {
		y := &all[h]
		if y.best <= best*reach {
			continue
		}
		sum, moment := 0.0, 0.0
		for k, w := range y.by {
			if w <= best*reach {
				continue
			}
			sum += w
			moment += w * float64(y.low+k) * devStep
		}
		for _, c := range v.Order {
			at := devZero + stepsOf(r[c].dev-y.shape[c]) - y.low // falls as the shift rises
			for k, w := range y.by {
				if w > best*reach {
					own[c][onGrid(at-k)] += w
				}
			}
		}
		y.Weight, y.Common = sum, moment/sum
		whole += sum
		kept = append(kept, *y)
	}
	if !(whole > 0) { // more readings than numbers reach, and none of them likely
		return nil, prior.alone(v, r, own)
	}
	for i := range kept {
		kept[i].Weight /= whole
		kept[i].by = nil
	}
	for _, c := range v.Order {
		// What the others tell: its own share in the weights is taken out again.
		sum := 0.0
		for i := range own[c] {
			own[c][i] /= r[c].expects[i]
			sum += own[c][i]
		}
		for i := range own[c] {
			own[c][i] /= sum
		}
	}
	return kept, own
}

// account tries a hypothesis with every common shift that could be, and keeps how well each accounts for the readings, in room. Less
// than the lower quarter of the readings no common shift can be: most would read too high.
func account(v *Visit, r []reading, y *Hypothesis, prior *commons, room []float64) []float64 {
	var devsOf [maxOrder]float64
	left := devsOf[:0]
	for _, c := range v.Order {
		left = append(left, r[c].dev-y.shape[c])
	}
	slices.Sort(left)
	from, to := left[len(left)/4]-commonRoom, left[len(left)-1]+commonRoom
	if len(left) < 3 {
		from, to = min(from, prior.mean-3*prior.sd), max(to, prior.mean+3*prior.sd)
	}
	to = max(to, prior.mean+commonRoom)
	y.low = int(math.Floor(from / devStep))
	count := min(int(math.Ceil(to/devStep))-y.low+1, 2*commonSteps)
	if cap(room)-len(room) < count {
		room = make([]float64, 0, max(4096, count))
	}
	y.by = room[len(room) : len(room)+count]
	for k := range y.by {
		y.by[k] = y.prior * prior.at(y.low+k)
	}
	for _, c := range v.Order {
		at := devZero + stepsOf(r[c].dev-y.shape[c]) - y.low
		row := &r[c].expects
		for k := range y.by {
			y.by[k] *= row[onGrid(at-k)]
		}
	}
	y.best = slices.Max(y.by)
	return room[:len(room)+count]
}

// commonRoom is how far beyond the readings a common shift is looked for.
const commonRoom = 0.04

// prune is the share of the best below which an account of a visit is not looked at, pruneFew where there is hardly another
// reading to go by.
const (
	prune    = 1e-7
	pruneFew = 1e-20
)

// commons is the prior of a visit's common shift, kept as it is asked for: densities by step, from the lowest on.
type commons struct {
	mean, sd float64
	wide     float64                    // how often it is much more
	by       [2*commonSteps + 1]float64 // 0 where it was not asked for yet
}

// commonSteps reaches further than any two readings of an engine lie apart.
const commonSteps = 1200

// at returns the density of a common shift of so many steps.
func (p *commons) at(step int) float64 {
	step = min(max(step, -commonSteps), commonSteps)
	kept := &p.by[step+commonSteps]
	if *kept == 0 {
		d := float64(step)*devStep - p.mean
		*kept = (1-p.wide)*density(d, p.sd) + p.wide*density(d, math.Hypot(p.sd, rules.VisitWide)) + 1e-12
	}
	return *kept
}

// alone returns what the prior alone lets expect of each reading's deviation.
func (p *commons) alone(v *Visit, r []reading, own [][devs]float64) [][devs]float64 {
	clear(own)
	for _, c := range v.Order {
		own[c][devAt(r[c].dev-p.mean)] = 1
	}
	return own
}
