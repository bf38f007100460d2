package belief

import (
	"math"
	"sync"
)

// leakEvidence is what the leak-downs of a visit say of a cylinder: likelihoods where it is sound, with the part of it that is
// an innocent reading, and where it leaks, by size and place.
type leakEvidence struct {
	measured        bool
	sound, innocent float64
	leak            [sizes]float64 // of the figure and of what was heard, places weighed
	place           [places][sizes]float64
	figure          [sizes]float64
	table           *leaking
	factor          float64 // by which all leak more, a logarithm
	pct, pctSE      float64 // expected when sound
	y               float64 // the lowest
	ySE             float64
}

func (b *Believed) leakEvidence(i int, v *Visit, f factor, x *leakEvidence) {
	c := &b.Cylinders[i]
	area := c.area + f.mean
	*x = leakEvidence{sound: 1, table: b.leakingAt(area), factor: f.mean - (b.leaks - b.leaksBase)}
	x.pct = x.table.pct
	x.pctSE = x.table.slope * math.Sqrt(c.areaVar+f.variance+Wander*Wander)
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
		if over := r.Pct - soundMost; over > 0 {
			as *= math.Exp(-over * over / (2 * soundRoom * soundRoom))
		}
		clean *= as
		dirty *= by
		x.sound *= as + by
		for k := range sizes {
			base, size := x.pctSE*x.table.share[k], sizeApart*points[k]
			as, by := at(x.table.with[k], base*base+size*size)
			x.figure[k] *= as + by
			dirt[k] *= by
		}
		share = repeatShare
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
	b.listen(c, v, rows, x)
}

// No sound cylinder leaks half of what it is given, however cold it is: percent, and how far that may be off.
const (
	soundMost = 40.0
	soundRoom = 10.0
)

// What lifts a single leak-down: dirt on a seat or TDC missed, mostly by a little; the tester's own seal, mostly heard; a figure
// written down wrong. A repeat is done with more care.
const (
	dirtOften   = 0.035
	dirtScale   = 8.0
	sizeApart   = 0.04 // of a size: sizes stand a seventh apart, and what is between them counts for the nearest
	sealOften   = 0.008
	sealHeard   = 0.5
	slipOften   = 0.008
	repeatShare = 0.2
)

// innocent is how often a row is lifted by each of these.
type innocent struct{ dirt, seal, slip float64 }

func innocents(r LeakRow, share float64) innocent {
	o := innocent{dirtOften * share, sealOften * share, slipOften * share}
	if r.Seal {
		o.seal = sealHeard
	}
	return o
}

// whole is how often an innocent row is met.
func (o innocent) whole() float64 { return o.dirt + o.seal + o.slip }

// at returns the density of what an innocent row reads so many points beyond the truth.
func (o innocent) at(d float64) float64 {
	out := o.slip / 100
	if d > 0 {
		t := lifts()
		i := min(int(d/liftStep+0.5), len(t)-1)
		out += o.dirt*t[i][0] + o.seal*t[i][1]
	}
	return out
}

// lifts is the table of how far dirt and the tester's seal lift a reading: mostly by little, now and then by anything up to all. Both
// begin at some points: less is within what a reading repeats to.
var lifts = sync.OnceValue(func() *[int(100/liftStep) + 1][2]float64 {
	var t [int(100/liftStep) + 1][2]float64
	for i := range t {
		d := float64(i) * liftStep
		ramp := min(1, d/liftFrom)
		t[i][0] = ramp * (0.8*math.Exp(-d/dirtScale)/dirtScale + 0.2/100)
		t[i][1] = ramp * (0.7*math.Exp(-d/sealScale)/sealScale + 0.3/100)
	}
	return &t
})

const (
	liftStep  = 0.125 // points
	liftFrom  = 3.0
	sealScale = 20.0
)

// tailed is a normal density with a small part spread twice as wide: real readings stray now and then.
func tailed(d, sd float64) float64 {
	const strays = 0.02
	z := d / sd
	narrow := math.Exp(-z * z / 2)
	wide := math.Sqrt(math.Sqrt(narrow)) / 2 // the same with twice the spread
	return ((1-strays)*narrow + strays*wide) / (sd * math.Sqrt(2*math.Pi))
}

// How leaks scatter: from visit to visit that of each ring pack and that of all, and the reading itself, in points and as a share.
const (
	Wander      = 0.12 // of a leak's area; so much of a small leak itself
	LeakVisit   = 0.1
	leakPoint   = 0.7
	leakPerCent = 0.05
)

// areaError returns the standard deviation of the logarithm of a leak's area: of its reading, and as one wanders from visit to visit.
func (r LeakRow) areaError() float64 {
	pct := max(r.Pct, leastLeak)
	return math.Hypot(LeakError(pct, r.Step)/slope(math.Log(areaOf(pct))), Wander)
}

func lowest(rows []LeakRow) LeakRow {
	low := rows[0]
	for _, r := range rows[1:] {
		if r.Pct < low.Pct {
			low = r
		}
	}
	return low
}

// LeakError returns the standard deviation of a leak-down in points: what a careful hand repeats to, a share of the reading, and
// step, the standard deviation of its writing down.
func LeakError(pct, step float64) float64 {
	return math.Sqrt(leakPoint*leakPoint + leakPerCent*leakPerCent*pct*pct + step*step)
}
