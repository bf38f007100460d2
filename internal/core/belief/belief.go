package belief

import (
	"math"
	"slices"
	"sync"

	"braxel/internal/core/gas"
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

// Believed is what is believed of an engine.
type Believed struct {
	engine    Engine
	about     *about
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
	tables    map[int]*leaking
	made      float64 // what sound cylinders made at the last visit, a logarithm
	work      *workspace
}

// Clone returns a belief of its own that goes on from here.
func (b *Believed) Clone() *Believed {
	c := *b
	c.Cylinders, c.pairs = slices.Clone(b.Cylinders), slices.Clone(b.pairs)
	return &c
}

// workspace is room for the sums of one visit, to be used again for the next of any engine.
type workspace struct {
	all     []reading
	asLeak  []leakEvidence
	post    []posterior
	own     [][devs]float64
	room    []float64
	kernels map[int][]float64

	accounts          []Hypothesis // as they were listed for this:
	order, secondBank []int
	cylinders         int
	sag               float64
}

var workspaces = sync.Pool{New: func() any {
	return &workspace{room: make([]float64, 0, 4096), kernels: map[int][]float64{}}
}}

// forCylinders makes a workspace large enough.
func (w *workspace) forCylinders(n int) {
	if n <= len(w.all) {
		return
	}
	w.all, w.asLeak, w.post, w.own = make([]reading, n), make([]leakEvidence, n), make([]posterior, n), make([][devs]float64, n)
}

// Expect is what a first visit is held against: the level that the maker, the geometry or nothing at all lets expect, the
// logarithm of kPa at sea level, with its doubt, and how likely each cylinder is to be at fault.
type Expect struct {
	Level, SD float64
	Faulty    float64
	Cold      bool // a cold engine is uneven: rings and bores do not fit yet
}

// How sound cylinders of one engine differ: compression, and leaks.
const (
	unlike, unlikeCold         = 0.022, 0.05
	unlikeLeak, unlikeLeakCold = 0.33, 0.75
	leakUsual                  = 3.5  // percent, hot
	leakSD                     = 0.55 // of the logarithm of its area
)

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
		engine: e, Cylinders: make([]Cylinder, cylinders), tables: map[int]*leaking{},
		level: x.Level, levelVar: x.SD * x.SD, leaksVar: leakSD * leakSD,
	}
	b.about = &aboutKnown
	if e.Vague {
		b.about = &aboutVague
	}
	for _, p := range pairs {
		b.pairs = append(b.pairs, pair{a: p[0], b: p[1]})
	}
	dev, area := unlike, unlikeLeak
	if x.Cold {
		dev, area = unlikeCold, unlikeLeakCold
	}
	for i := range b.Cylinders {
		b.Cylinders[i] = Cylinder{devVar: dev * dev, area: math.Log(areaOf(leakUsual)), areaVar: area * area}
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
		c.place = whereOften
		for k := range c.leak {
			c.leak[k] = faulty * leakShare * fresh[k]
		}
		for k := range c.short {
			c.short[k] = faulty * (1 - leakShare) * freshLost[k]
		}
	}
	for i := range b.pairs {
		if !meant(b.pairs[i].a) && !meant(b.pairs[i].b) {
			continue
		}
		for k := range b.pairs[i].leak {
			b.pairs[i].leak[k] = faulty * pairShare * fresh[k]
		}
	}
}

// What faults are: how many of them leak, where, and how often one is between two neighbours.
const (
	leakShare = 0.75
	pairShare = 0.12
)

var whereOften = [places]float64{Rings: 0.42, Intake: 0.16, Exhaust: 0.27, Coolant: 0.1, Neighbour: 0.05}

// How faults come and go from one visit to the next: begun in one of a hundred, grown by steps of the size, hardly healed.
const (
	begins = 0.01
	heals  = 0.01
	capped = 1e4 // odds: so that belief returns when readings do
)

var grows = [...]float64{0.5, 0.17, 0.1, 0.07, 0.05, 0.03, 0.02, 0.01}

const shrinks = 0.05

func grown(from, to []float64) {
	clear(to)
	last := len(from) - 1
	for i, w := range from {
		for d, g := range grows {
			to[min(i+d, last)] += w * g
		}
		to[max(i-1, 0)] += w * shrinks
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
		back, begun, old := 0.0, c.Sound*begins, 0.0
		for k := range leak {
			back += heals * leak[k]
			old += leak[k]
			c.leak[k] = (1-heals)*leak[k] + begun*leakShare*fresh[k]
		}
		for k := range short {
			back += heals * short[k]
			c.short[k] = (1-heals)*short[k] + begun*(1-leakShare)*freshLost[k]
		}
		c.Sound += back - begun
		newly := begun * leakShare / (old + begun*leakShare)
		for p := range c.place { // where it leaks is not forgotten; one that begins may begin anywhere
			c.place[p] = (1-newly)*c.place[p] + newly*whereOften[p]
		}
		own, leaks := ownDrift, leakDrift
		if b.visits <= bedding {
			own, leaks = ownBeds, leakBeds
		}
		c.devVar += own * own
		c.areaVar += leaks * leaks
	}
	for i := range b.pairs {
		p := &b.pairs[i]
		grown(p.leak[:], leak[:])
		for k := range leak {
			p.leak[k] = (1-heals)*leak[k] + begins*pairShare*fresh[k]
		}
	}
	// What creeps in one of few is not taken for what all do.
	shared := min(1, float64(len(b.Cylinders)-1)/3)
	b.commonVar += commonDrift * commonDrift * shared
	b.leaksVar += leaksDrift * leaksDrift * shared
}

// How far a sound cylinder drifts by itself from visit to visit, more while its rings bed in, and all together: even wear.
const (
	bedding             = 3
	ownDrift, ownBeds   = 0.001, 0.004
	leakDrift, leakBeds = 0.03, 0.15
	commonDrift         = 0.006
	leaksDrift          = 0.05

	// How far one cylinder may creep from its baseline before it is no drift: compression and the area of its leak, logarithms.
	creepMost, leakCreepMost = 0.03, 0.3
)

// leastLeak is a leak in percent that every cylinder has.
const leastLeak = 0.4

// areaOf returns the area of a leak in percent.
func areaOf(pct float64) float64 { return gas.Area(max(pct, leastLeak)) }
