package belief

import (
	"math"

	"braxel/internal/core/rules"
)

// leakEvidence weighs what the leak-downs of a visit say of a cylinder; f is what all leaks are multiplied by.
func (b *Believed) leakEvidence(i int, v *Visit, f factor, x *leakEvidence) {
	c := &b.Cylinders[i]
	area := c.area + f.mean
	*x = leakEvidence{sound: 1, table: b.holes.at(area), factor: f.mean - (b.leaks - b.leaksBase)}
	x.pct = x.table.pct
	uneven := rules.WearUneven * max(0, f.mean-v.LeakMean) // what all have come to leak more, each does by its own share
	x.pctSE = x.table.slope * math.Sqrt(c.areaVar+f.variance+rules.LeakWander*rules.LeakWander+uneven*uneven)
	for k := range x.leak {
		x.leak[k], x.figure[k] = 1, 1
		for p := range x.place {
			x.place[p][k] = 1
		}
	}
	rows := v.Leaks[i]
	if len(rows) == 0 {
		return
	}
	x.measured = true
	low := lowest(rows)
	x.y, x.ySE = low.Pct, LeakError(low.Pct, low.Step)
	clean, dirty, share := 1.0, 1.0, 1.0 // all rows innocent is left out where there are several: what stays when repeated is none
	var dirt [sizes]float64
	for k := range dirt {
		dirt[k] = 1
	}
	for _, r := range rows {
		o := innocents(r, share)
		right := 1 - o.whole()
		at := func(pct, variance float64) (as, by float64) {
			e := LeakError(pct, r.Step)
			return right * tailed(r.Pct-pct, math.Sqrt(e*e+variance)), o.at(r.Pct - pct)
		}
		as, by := at(x.pct, x.pctSE*x.pctSE)
		if over := r.Pct - rules.SoundLeakMost; over > 0 {
			as *= math.Exp(-over * over / (2 * rules.SoundLeakRoom * rules.SoundLeakRoom))
		}
		clean *= as
		dirty *= by
		x.sound *= as + by
		for k := range sizes {
			base, size := x.pctSE*x.table.share[k], rules.LeakSizeApart*points[k]
			as, by := at(x.table.with[k], base*base+size*size)
			x.figure[k] *= as + by
			dirt[k] *= by
		}
		share = rules.RepeatCare
	}
	if len(rows) > 1 {
		x.sound = max(x.sound-dirty, clean)
		for k := range dirt {
			x.figure[k] -= dirt[k]
		}
	}
	if x.sound > 0 {
		x.innocent = 1 - clean/x.sound
	}
	for k := range sizes {
		x.leak[k] = x.figure[k]
	}
	listen(c, v.Raw, rows, x)
}
