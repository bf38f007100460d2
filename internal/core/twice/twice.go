// Package twice weighs one engine that was read at two tests: how far each cylinder went, and how likely chance or a slip of the testing
// makes as much. It says nothing of causes, and knows nothing of the tests before and after.
package twice

import (
	"math"

	"gonum.org/v1/gonum/stat/distuv"

	"braxel/internal/core/rules"
)

// Move is what became of one figure from the earlier test to the later.
type Move string

// Better and Worse are for sure; Same is within what would matter, for sure; Untold cannot be told from these two tests.
const (
	Better Move = "better"
	Worse  Move = "worse"
	Same   Move = "same"
	Untold Move = "untold"
)

// Moved is how far one figure went, with its doubt. Low and High hold the truth nineteen times in twenty.
type Moved struct {
	By     float64 `json:"by"`
	SE     float64 `json:"se"`
	Low    float64 `json:"low"`
	High   float64 `json:"high"`
	Move   Move    `json:"move" enum:"better,worse,same,untold"`
	Chance float64 `json:"chance" doc:"The probability that chance or a testing mistake alone makes such a change"`
}

// Read is what one test read of a cylinder. SE or LeakSE of 0 says that it was not cranked, or not leaked down.
type Read struct {
	Log, SE      float64 // the logarithm of its compression at sea level, and its standard error
	Pulls        int
	Leak, LeakSE float64 // the leak as the reference tester would show it, and its standard error, in points
	Attempts     int
	Listened     bool
	Hissed       bool // at the tester's own seal
	BorneOut     bool // its compression, by a test beside it
	LeakBorneOut bool
}

// Z95 bounds nineteen of twenty of a normal quantity.
const Z95 = 1.96

// Gain weighs by how much compression changed from one reading to another beyond what all did together, a logarithm with its standard
// error; in percent. Looks is among how many cylinders it was looked for.
func Gain(a, b Read, common, commonSE, looks float64) Moved {
	by := b.Log - a.Log - common
	slip := a.failed()
	if by < 0 {
		slip = b.failed()
	}
	m := weigh(100*math.Expm1(by), 100*math.Hypot(math.Hypot(a.SE, b.SE), commonSE), slip, looks)
	m.settle(by > 0)
	return m
}

// Leak weighs by how many points a cylinder leaks more, or less. The earlier leak is brought to the way in which the later was tested: it is
// larger by a share, which is known to sd.
func Leak(a, b Read, share, sd, looks float64) Moved {
	then := a.Leak * (1 + share)
	by := b.Leak - then
	slip := a.lifted(-by)
	if by > 0 {
		slip = b.lifted(by)
	}
	m := weigh(by, math.Hypot(math.Hypot(a.LeakSE*(1+share), b.LeakSE), sd*then), slip, looks)
	m.settle(by < 0)
	return m
}

// Together weighs what all did, in percent, against what such tests do anyway.
func Together(moved []Shift, p Prior) Moved {
	common, se := p.Common(moved)
	m := weigh(100*math.Expm1(common), 100*se, 0, 1)
	m.Chance = chanceOf(m.By-100*math.Expm1(p.Mean), math.Hypot(100*p.SD, 100*se))
	if m.Chance < rules.Sure {
		m.Move = better(m.By > 0)
	}
	return m
}

func better(is bool) Move {
	if is {
		return Better
	}
	return Worse
}

// weigh makes a change of what was found, its standard error and the chance that testing went wrong so. looks is among how many
// cylinders it was looked for: scatter has so many chances to make one, while a slip is this cylinder's own.
func weigh(by, se, slip, looks float64) Moved {
	return Moved{By: by, SE: se, Low: by - Z95*se, High: by + Z95*se, Move: Untold, Chance: min(1, looks*chanceOf(by, se)+slip)}
}

// settle says which way a change went, if it can be told.
func (m *Moved) settle(isBetter bool) {
	switch {
	case m.Chance < rules.Sure:
		m.Move = better(isBetter)
	case math.Max(math.Abs(m.Low), math.Abs(m.High)) <= rules.Matters:
		m.Move = Same
	}
}

// Join says what became of a cylinder as a whole, and by which chance that is wrong; either of the two may be nil. Compression and leak are
// measured apart from each other: two that point one way are surer together (Fisher 1925), and one that is sure by itself is enough
// (Bonferroni, of two); two that are each sure and point apart leave it untold.
func Join(comp, leak *Moved) (Move, float64) {
	switch {
	case comp == nil && leak == nil:
		return Untold, 1
	case leak == nil:
		return comp.Move, comp.Chance
	case comp == nil:
		return leak.Move, leak.Chance
	case (comp.By > 0) == (leak.By < 0):
		k := math.Max(comp.Chance*leak.Chance, math.SmallestNonzeroFloat64)
		chance := min(1, k*(1-math.Log(k)), 2*min(comp.Chance, leak.Chance))
		switch {
		case chance < rules.Sure:
			return better(comp.By > 0), chance
		case comp.Move == Same && leak.Move == Same:
			return Same, chance
		}
		return Untold, chance
	case comp.Chance < rules.Sure && leak.Chance < rules.Sure:
		return Untold, 1
	case comp.Chance < rules.Sure:
		return comp.Move, comp.Chance
	case leak.Chance < rules.Sure:
		return leak.Move, leak.Chance
	case comp.Move == Same && leak.Move == Same:
		return Same, math.Min(comp.Chance, leak.Chance)
	}
	return Untold, 1
}

// chanceOf is how likely a normal quantity of no true change is found so far off either way.
func chanceOf(by, se float64) float64 {
	if !(se > 0) {
		return 1
	}
	return 2 * distuv.UnitNormal.Survival(math.Abs(by)/se)
}

// failed is the chance that a row of pulls reads low by the gauge's own failing. Of one reading which nothing confirms it is more than what
// is called sure, so that one reading is never that, however far it stands off.
func (r Read) failed() float64 {
	if r.Pulls < 2 && !r.BorneOut {
		return rules.PullFails
	}
	return rules.PullFailsTwice
}

// lifted is the chance that a leak-down reads so many points too high: by dirt or TDC missed, less often where it was repeated or another
// test bears it out; by the tester's seal, oftener where it hissed at the plug hole, hardly where somebody listened and it did not.
func (r Read) lifted(points float64) float64 {
	lifts := (1-rules.DirtAny)*math.Exp(-math.Max(points, 0)/rules.DirtPoints) + rules.DirtAny*(1-math.Max(points, 0)/100)
	dirt := rules.Dirt * lifts
	again := r.Attempts > 1 || r.LeakBorneOut
	if again {
		dirt *= rules.RepeatCare
	}
	tester := rules.Seal
	switch {
	case r.Hissed:
		tester = rules.SealHeard
	case r.Listened:
		tester = rules.SealUnheard
	}
	if !again {
		return max(rules.PullFails, dirt+tester)
	}
	return dirt + tester
}
