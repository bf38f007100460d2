package belief

import (
	"math"
	"sync"
)

// Visit is what a visit says, cylinder by cylinder, by index.
type Visit struct {
	Order      []int    // the cylinders whose compression was read, in the order of reading
	SecondBank []int    // those of Order that stand in the second bank of two
	Rows       [][]Part // of each cylinder, what its pulls may mean: logarithms of kPa at sea level; empty where there are none
	Pulls      []int    // how many
	Leaks      [][]LeakRow
	Scatter    float64 // what two visits of an unchanged cylinder differ by
	Mean, SD   float64 // what the way of testing does to all readings, a logarithm
	LeakMean   float64 // and to all leaks, of their area
	LeakSD     float64
	VoltsFell  float64
	VoltsHeld  bool
	Teaches    bool // it is one of the visits that say what the engine reads when it is right
	Repaired   bool
	Marks      [marks]Mark
	Raw        bool // the head has not run, or the engine is cold: valves let a little by
}

// LeakRow is one leak-down of one cylinder: reference leak in percent, and the standard deviation of its writing down.
type LeakRow struct {
	Pct, Step float64
	Listened  bool
	Heard     [places]int // how strongly, 0 for not
	Seal      bool        // air was heard at the tester's own seal
}

// Told is what a visit makes of one cylinder.
type Told struct {
	Sound, Leaking, Short float64 // chances; a leak into a neighbour is leaking. They sum to 1
	Innocent              float64 // the chance that it is sound and a raised leak is dirt, TDC missed, the tester's seal, a slip of the pen
	Failed                float64 // the chance that it is sound and a low reading is the gauge's
	Points, LostPct       float64 // how far it has gone, if it has: points of leak, percent of compression
	Place                 [places]float64
	Pair                  int // the index of the neighbour that it most likely leaks into, -1 for none
	PairChance            float64
	Change, ChangeSE      float64        // of compression against what is expected of it, the others' offset taken off; SE 0: not read
	Rise, RiseSE          float64        // of leak, points
	Expected              float64        // leak when sound, percent
	Order                 float64        // how far its reading was moved by what went wrong with the testing, beside what moved all
	NewLeak, NewReading   bool           // nothing of the kind was measured on it before
	NoBaseLeak, NoBase    bool           // it was never sound when that was measured: it is held against the others, or the usual
	Meant                 float64        // its compression as it is most likely meant, the logarithm of kPa at sea level
	LeftOut               bool           // some of its pulls are left out of that
	Unsure                bool           // it may as well be meant otherwise: two pulls disagree, and nothing tells which is right
	Beyond                [marks]float64 // the chances that it has gone so far as the visit's marks
}

// Mark is a size that is asked about: points of leak more than when it was sound, percent of compression lost.
type Mark struct{ Points, LostPct float64 }

const marks = 3

// reading is a row as it is weighed: its deviation from what is expected of the cylinder when it is sound.
type reading struct {
	dev     float64 // of the likeliest part
	parts   []Part
	best    int // the index of that
	kernels [][]float64
	fail    float64
	sd      float64
	expects [devs]float64
	own     float64 // its own deviation, by the others' offset, and the variance of that
	ownVar  float64
}

// Next takes a visit in, and returns what it makes of each cylinder, and what may have gone wrong with the testing.
func (b *Believed) Next(v *Visit) ([]Told, []Hypothesis) {
	if v.Repaired {
		b.mended()
	} else if b.begun {
		b.later()
	}
	n := len(b.Cylinders)
	told := make([]Told, n)
	b.work = workspaces.Get().(*workspace)
	defer func() {
		workspaces.Put(b.work)
		b.work = nil
	}()
	b.work.forCylinders(n)
	asLeak, post := b.work.asLeak, b.work.post[:n]
	factor := b.leakFactors(v)
	for i := range b.Cylinders {
		b.leakEvidence(i, v, factor[i], &asLeak[i])
	}
	all := b.work.all[:n]
	for i := range all {
		all[i].parts = nil
	}
	for _, c := range v.Order {
		b.reading(c, v, &asLeak[c], &all[c])
	}
	var kept []Hypothesis
	var own [][devs]float64
	if len(v.Order) > 0 {
		kept, own = b.weigh(v, all)
	}
	for i := range b.Cylinders {
		b.posterior(i, v, &asLeak[i], &all[i], own, &post[i])
	}
	b.pairUp(post)
	for i := range b.Cylinders {
		told[i] = b.tell(i, v, &asLeak[i], &all[i], &post[i])
		for _, h := range kept {
			told[i].Order += h.Weight * h.shape[i]
		}
	}
	b.learn(v, told, kept, factor)
	b.made = levelOf(all, told, v)
	b.begun = true
	b.visits++
	return told, kept
}

// mended forgets the faults: what was wrong has been seen to, and is believed again only where it is seen again. What it reads
// may have changed.
func (b *Believed) mended() {
	b.suspect(mendedFaulty)
	for i := range b.Cylinders {
		c := &b.Cylinders[i]
		c.devVar += unlike * unlike
		c.areaVar += unlikeLeak * unlikeLeak
		c.rebase = true
	}
}

const mendedFaulty = 0.03

// factor is what all cylinders' leaks are multiplied by at a visit, of one cylinder by what the others tell.
type factor struct{ mean, variance float64 }

// leakFactors finds the share by which all leak more or less, for each cylinder from the others. What is beyond the usual is
// not taken from the sick: a leak is what it is.
func (b *Believed) leakFactors(v *Visit) []factor {
	prior := v.LeakMean + b.leaks
	variance := b.leaksVar + v.LeakSD*v.LeakSD + LeakVisit*LeakVisit
	type seen struct{ d, s, w float64 }
	all := make([]seen, len(b.Cylinders))
	for i, rows := range v.Leaks {
		if len(rows) == 0 {
			continue
		}
		c := &b.Cylinders[i]
		y := lowest(rows)
		pct := max(y.Pct, 0.4)
		area := math.Log(areaOf(pct))
		s := math.Sqrt(LeakError(pct, y.Step)*LeakError(pct, y.Step)/(slope(area)*slope(area)) + c.areaVar + Wander*Wander)
		all[i] = seen{area - c.area, s, 0}
	}
	mean, spreadVar := prior, variance
	for range 6 {
		num, den := prior/variance, 1/variance
		for i := range all {
			a := &all[i]
			if a.s == 0 {
				continue
			}
			sound := b.Cylinders[i].Sound * density(a.d-mean, math.Hypot(a.s, math.Sqrt(spreadVar)))
			bad := 0.002
			if a.d > mean {
				bad = (1-b.Cylinders[i].Sound)*0.3 + 0.02
			}
			a.w = sound / (sound + bad)
			num += a.w * a.d / (a.s * a.s)
			den += a.w / (a.s * a.s)
		}
		mean, spreadVar = num/den, 1/den
	}
	most := prior + commonLeaks*math.Sqrt(v.LeakSD*v.LeakSD+LeakVisit*LeakVisit)
	if !b.begun {
		most = prior + leakSD*commonFirst
	}
	out := make([]factor, len(all))
	for i := range out {
		num, den := prior/variance, 1/variance
		for j, a := range all {
			if j != i && a.s > 0 {
				num += a.w * a.d / (a.s * a.s)
				den += a.w / (a.s * a.s)
			}
		}
		out[i] = factor{min(num/den, most), 1 / den}
	}
	return out
}

// How far all leaks may have risen together, in standard deviations of what a visit and its way of testing do to all, and at first sight
// of what engines leak: what is beyond is each cylinder's own, however many there are.
const (
	commonLeaks = 3.0
	commonFirst = 1.6
)

// How leaks scatter: from visit to visit that of each ring pack and that of all, and the reading itself, in points and as a share.
const (
	Wander      = 0.12 // of a leak's area; so much of a small leak itself
	LeakVisit   = 0.1
	leakPoint   = 0.7
	leakPerCent = 0.05
)

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

// Level returns what sound cylinders made at the visit that was last taken in, the logarithm of kPa at sea level; 0 where none was cranked.
func (b *Believed) Level() float64 { return b.made }

// levelOf returns that: the mean of those believed to be sound.
func levelOf(all []reading, told []Told, v *Visit) float64 {
	const some = 1e-6 // so that there is a mean where none is
	sum, weight := 0.0, 0.0
	for _, c := range v.Order {
		w := told[c].Sound + some
		sum += w * (all[c].parts[all[c].best].Mean - told[c].Order)
		weight += w
	}
	if weight == 0 {
		return 0
	}
	return sum / weight
}
