package belief

import "slices"

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
	Touched    []int // by the repair, by index; nil where it is not told: all
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
	Among                 float64        // the same change, by the offset that all tell, its own reading among them
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

// Next takes a visit in, and returns what it makes of each cylinder, and what may have gone wrong with the testing.
func (b *Believed) Next(v *Visit) ([]Told, []Hypothesis) {
	if v.Repaired {
		if v.Touched != nil && b.begun {
			b.later()
		}
		b.mended(v.Touched)
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
			told[i].Among -= h.Weight * (h.Common + h.shape[i])
		}
		told[i].Among += all[i].dev
	}
	b.learn(v, told, kept, factor)
	b.made = levelOf(all, told, v)
	b.begun = true
	b.visits++
	return told, kept
}

// mended forgets the faults: what was wrong has been seen to, and is believed again only where it is seen again. What it reads
// may have changed. touched are the cylinders that it was, nil for all.
func (b *Believed) mended(touched []int) {
	b.suspect(mendedFaulty, touched)
	for i := range b.Cylinders {
		if touched != nil && !slices.Contains(touched, i) {
			continue
		}
		c := &b.Cylinders[i]
		c.devVar += unlike * unlike
		c.areaVar += unlikeLeak * unlikeLeak
		c.rebase = true
	}
}

const mendedFaulty = 0.03

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
