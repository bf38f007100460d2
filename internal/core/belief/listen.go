package belief

import "math"

// How air is heard. A true place is heard nine times in ten once it leaks a point or two; a false one seldom, coolant and
// neighbour hardly ever. A head that has not run, and a cold engine, let a little by at the valves.
const (
	hearsMost  = 0.9
	hearsFrom  = 1.5 // points
	falseValve = 0.03
	falseRaw   = 0.1
	falseOther = 0.003
)

// By size: how often a true place is heard, how often how loudly, and how far a leak past the rings is beyond breathing.
var (
	hears [sizes]float64
	louds [sizes][4]float64
	muchs [sizes]float64
)

// hearing fills them in.
func hearing() {
	for k := range sizes {
		hears[k] = hearsMost * (1 - math.Exp(-points[k]/hearsFrom))
		louds[k] = loudness(points[k])
		muchs[k] = 1 - math.Exp(-points[k]/breathesTo)
	}
}

// breathesTo is the leak in points that is told from the breathing of a sound engine two times in three.
const breathesTo = 8.0

// loudness is how often air is heard faint, clear and strong, by the points that leak there.
func loudness(pts float64) [4]float64 {
	switch {
	case pts < 5:
		return [4]float64{0, 0.6, 0.3, 0.1}
	case pts < 15:
		return [4]float64{0, 0.3, 0.45, 0.25}
	}
	return [4]float64{0, 0.1, 0.35, 0.55}
}

// Of a place that does not leak, what is heard there all the same is mostly faint; at the filler every engine breathes.
var (
	falsely = [4]float64{0, 0.65, 0.27, 0.08}
	breathe = [4]float64{0.1, 0.45, 0.37, 0.08}
	breathy = [4]float64{0.05, 0.25, 0.45, 0.25} // cold, or a head that has not run
)

// listen multiplies the evidence with that of where air was heard.
func (b *Believed) listen(c *Cylinder, v *Visit, rows []LeakRow, x *leakEvidence) {
	for _, r := range rows {
		if !r.Listened {
			continue
		}
		var not [places]float64
		all := 1.0
		for p := range places {
			not[p] = c.falsely(p, r.Heard[p], v.Raw)
			all *= not[p]
		}
		x.sound *= all
		for k := range sizes {
			for p := range places {
				at := 1 - hears[k]
				if l := r.Heard[p]; l > 0 {
					at = hears[k] * louds[k][l]
				}
				if p == Rings {
					// The filler always breathes: only how strongly tells.
					at = ringsHeard(r.Heard[p], k, v.Raw)
				}
				x.place[p][k] *= all / not[p] * at
			}
		}
	}
	for k := range sizes {
		sum := 0.0
		for p := range places {
			sum += c.place[p] * x.place[p][k]
		}
		x.leak[k] = x.figure[k] * sum
	}
}

func ringsHeard(level, size int, raw bool) float64 {
	usual := breathe[level]
	if raw {
		usual = breathy[level]
	}
	if level == 0 {
		return 0.5 * usual
	}
	return (1-muchs[size])*usual + muchs[size]*louds[size][level]
}

// falsely returns the chance of what was heard at a place that does not leak.
func (c *Cylinder) falsely(p Place, level int, raw bool) float64 {
	often := falseOther
	switch p {
	case Rings:
		if raw {
			return breathy[level]
		}
		return breathe[level]
	case Intake, Exhaust:
		often = falseValve
		if raw {
			often = falseRaw
		}
	}
	// What was heard there while it was right says little.
	often = min(0.7, (often*4+c.heard[p])/(4+c.listened))
	if level == 0 {
		return 1 - often
	}
	return often * falsely[level]
}
