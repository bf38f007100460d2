// Package belief follows what is believed of each cylinder of an engine from visit to visit: that it is sound, that it leaks
// somewhere by so much, that it falls short without leaking. It knows no words and no limits. Its figures are those of rules.
package belief

import (
	"cmp"
	"math"
	"slices"

	"braxel/internal/core/rules"
)

// Cylinder is what is believed of one cylinder. Sound, the leaks, the shortages and the leaks into a neighbour sum to 1.
type Cylinder struct {
	Sound float64
	leak  [sizes]float64
	place [places]float64 // where it leaks, if it does
	short [shortages]float64

	// What it reads when it is sound: its own deviation from what all make, a logarithm, and the logarithm of its leak's area.
	dev, devVar   float64
	area, areaVar float64
	// The same as the visits that define the baseline left them: what moved is told against these, so that what creeps is not
	// lost in its own baseline.
	devBase, areaBase float64
	rebase            bool            // the next readings are what it is held against from then on
	heard             [places]float64 // how often air was heard there while it was sound
	listened          float64
	leaked            bool // its sound leak has been measured
	cranked           bool
	seen, tested      bool // it was cranked before, and leaked down, sound or not
}

// pair is the belief in a burnt gasket between two neighbours, by size.
type pair struct {
	a, b int
	leak [sizes]float64
}

// touches reports whether two pairs have a cylinder in common; each has with itself.
func (p *pair) touches(q *pair) bool { return p.a == q.a || p.a == q.b || p.b == q.a || p.b == q.b }

// Believed is what is believed of an engine.
type Believed struct {
	holes     leaks
	Cylinders []Cylinder
	pairs     []pair
	begun     bool
	common    float64 // how far all have moved for good, a logarithm
	commonVar float64
	level     float64 // the logarithm of what all make
	levelVar  float64
	leaks     float64 // the logarithm of the share by which all have come to leak more
	leaksVar  float64
	leaksBase float64 // the same as the visits that define the baseline left it
	visits    int
	made      float64 // what sound cylinders made at the last visit, a logarithm
}

// Clone returns a belief of its own that goes on from here.
func (b *Believed) Clone() *Believed {
	c := *b
	c.Cylinders, c.pairs = slices.Clone(b.Cylinders), slices.Clone(b.pairs)
	return &c
}

// Expect is what a first visit is held against: the level that the maker, the geometry or nothing at all lets expect, the
// logarithm of kPa at sea level, with its doubt, and how likely each cylinder is to be at fault.
type Expect struct {
	Level, SD float64
	Faulty    float64
	LeakPct   float64 // what a sound cylinder leaks, percent; 0 is as usual
	Cold      bool    // a cold engine is uneven: rings and bores do not fit yet
}

// New returns the belief in an engine before its first visit. pairs are the cylinders that stand beside each other.
func New(e Engine, cylinders int, pairs [][2]int, x Expect) *Believed {
	if e.Ratio <= 1 {
		e.Ratio = Usual.Ratio
	}
	if e.CC <= 0 {
		e.CC = Usual.CC
	}
	if e.RPM <= 0 {
		e.RPM = Usual.RPM
	}
	b := &Believed{
		holes: leaksOf(e), Cylinders: make([]Cylinder, cylinders),
		level: x.Level, levelVar: x.SD * x.SD, leaksVar: rules.SoundLeakSD * rules.SoundLeakSD,
	}
	for _, p := range pairs {
		b.pairs = append(b.pairs, pair{a: p[0], b: p[1]})
	}
	dev, area := rules.Siblings, rules.SiblingsLeak
	if x.Cold {
		dev, area = rules.SiblingsCold, rules.SiblingsLeakCold
	}
	for i := range b.Cylinders {
		b.Cylinders[i] = Cylinder{devVar: dev * dev, area: math.Log(areaOf(cmp.Or(x.LeakPct, rules.SoundLeak))), areaVar: area * area}
	}
	if cylinders == 1 { // what is its own and what is the engine's is one
		b.Cylinders[0].areaVar += b.leaksVar
		b.leaksVar = 0
	}
	b.suspect(x.Faulty, nil)
	return b
}

// suspect sets the chance of a fault, of any place and size, of some cylinders and of the pairs that they are of; nil is all.
func (b *Believed) suspect(faulty float64, of []int) {
	meant := func(i int) bool { return of == nil || slices.Contains(of, i) }
	for i := range b.Cylinders {
		if !meant(i) {
			continue
		}
		c := &b.Cylinders[i]
		c.Sound = 1 - faulty
		c.place = rules.WhereOften
		for k := range c.leak {
			c.leak[k] = faulty * rules.Leaks * fresh[k]
		}
		for k := range c.short {
			c.short[k] = faulty * (1 - rules.Leaks) * freshLost[k]
		}
	}
	for i := range b.pairs {
		if !meant(b.pairs[i].a) && !meant(b.pairs[i].b) {
			continue
		}
		for k := range b.pairs[i].leak {
			b.pairs[i].leak[k] = faulty * rules.BetweenTwo * fresh[k]
		}
	}
}

// grown moves the chances of each size on to the next visit.
func grown(from, to []float64) {
	clear(to)
	last := len(from) - 1
	for i, w := range from {
		for d, g := range rules.Grows {
			to[min(i+d, last)] += w * g
		}
		to[max(i-1, 0)] += w * rules.Shrinks
	}
}

// later moves the belief on to the next visit.
func (b *Believed) later() {
	var leak [sizes]float64
	var short [shortages]float64
	for i := range b.Cylinders {
		c := &b.Cylinders[i]
		grown(c.leak[:], leak[:])
		grown(c.short[:], short[:])
		back, begun, old := 0.0, c.Sound*rules.Begins, 0.0
		for k := range leak {
			back += rules.Heals * leak[k]
			old += leak[k]
			c.leak[k] = (1-rules.Heals)*leak[k] + begun*rules.Leaks*fresh[k]
		}
		for k := range short {
			back += rules.Heals * short[k]
			c.short[k] = (1-rules.Heals)*short[k] + begun*(1-rules.Leaks)*freshLost[k]
		}
		c.Sound += back - begun
		newly := begun * rules.Leaks / (old + begun*rules.Leaks)
		for p := range c.place { // where it leaks is not forgotten; one that begins may begin anywhere
			c.place[p] = (1-newly)*c.place[p] + newly*rules.WhereOften[p]
		}
		own, leaks := rules.Drift, rules.DriftLeak
		if b.visits <= rules.Beds {
			own, leaks = rules.DriftBedding, rules.DriftLeakBedding
		}
		c.devVar += own * own
		c.areaVar += leaks * leaks
	}
	for i := range b.pairs {
		p := &b.pairs[i]
		grown(p.leak[:], leak[:])
		for k := range leak {
			p.leak[k] = (1-rules.Heals)*leak[k] + rules.Begins*rules.BetweenTwo*fresh[k]
		}
	}
	// What creeps in one of few is not taken for what all do.
	shared := min(1, float64(len(b.Cylinders)-1)/rules.SharedFrom)
	b.commonVar += rules.DriftAll * rules.DriftAll * shared
	b.leaksVar += rules.DriftLeakAll * rules.DriftLeakAll * shared
}

// mended forgets the faults: what was wrong has been seen to, and is believed again only where it is seen again. What it reads
// may have changed. touched are the cylinders that it was, nil for all.
func (b *Believed) mended(touched []int) {
	b.suspect(rules.FaultyMended, touched)
	for i := range b.Cylinders {
		if touched != nil && !slices.Contains(touched, i) {
			continue
		}
		c := &b.Cylinders[i]
		c.devVar += rules.Siblings * rules.Siblings
		c.areaVar += rules.SiblingsLeak * rules.SiblingsLeak
		c.rebase = true
	}
}
