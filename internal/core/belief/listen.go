package belief

import (
	"math"

	"braxel/internal/core/rules"
)

// By size: how often a true place is heard, how often how loudly, and how far a leak past the rings is beyond breathing.
var hears, louds, muchs = hearing()

func hearing() (hears [sizes]float64, louds [sizes]rules.Loud, muchs [sizes]float64) {
	for k := range sizes {
		hears[k] = rules.Heard * (1 - math.Exp(-points[k]/rules.HeardFrom))
		louds[k] = loudness(points[k])
		muchs[k] = 1 - math.Exp(-points[k]/rules.BreathesTo)
	}
	return hears, louds, muchs
}

// loudness is how often air is heard faint, clear and strong, by the points that leak there.
func loudness(pts float64) rules.Loud {
	for _, l := range rules.LoudUpTo {
		if pts < l.Points {
			return l.Loud
		}
	}
	return rules.LoudUpTo[len(rules.LoudUpTo)-1].Loud
}

// listen multiplies the evidence with that of where air was heard.
func listen(c *Cylinder, raw bool, rows []LeakRow, x *leakEvidence) {
	for _, r := range rows {
		if !r.Listened {
			continue
		}
		var not [places]float64
		all := 1.0
		for p := range places {
			not[p] = c.falsely(p, r.Heard[p], raw)
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
					at = ringsHeard(r.Heard[p], k, raw)
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
	usual := rules.LoudBreath[level]
	if raw {
		usual = rules.LoudBreathy[level]
	}
	if level == 0 {
		return rules.ListenedFiller * usual
	}
	return (1-muchs[size])*usual + muchs[size]*louds[size][level]
}

// falsely returns the chance of what was heard at a place that does not leak.
func (c *Cylinder) falsely(p Place, level int, raw bool) float64 {
	often := rules.HeardFalseOther
	switch p {
	case Rings:
		if raw {
			return rules.LoudBreathy[level]
		}
		return rules.LoudBreath[level]
	case Intake, Exhaust:
		often = rules.HeardFalseValve
		if raw {
			often = rules.HeardFalseRaw
		}
	}
	// What was heard there while it was right says little.
	often = min(rules.HeardFalseMost, (often*rules.HeardFalseWorth+c.heard[p])/(rules.HeardFalseWorth+c.listened))
	if level == 0 {
		return 1 - often
	}
	return often * rules.LoudFalse[level]
}
