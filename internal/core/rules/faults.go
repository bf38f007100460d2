package rules

// How often cylinders are at fault, where, and how that goes on.
const (
	// FaultyFound is how many cylinders are at fault in an engine as it is found. [chance; trade]
	FaultyFound = 0.1
	// FaultyBuilt is the same of a fresh build. [chance; trade]
	FaultyBuilt = 0.02
	// FaultyMended is the same of what has just been repaired. [chance; trade]
	FaultyMended = 0.03
	// Begins is how often a fault begins from one visit to the next. [chance; judgement]
	Begins = 0.01
	// Heals is how often one goes without a repair. [chance; judgement]
	Heals = 0.01
	// Shrinks is how often one has become less by a size. [chance; judgement]
	Shrinks = 0.05
	// Leaks is how many faults leak; the others cost compression only. [share; trade]
	Leaks = 0.75
	// BetweenTwo is how many faults are a gasket between two neighbours. [share; trade]
	BetweenTwo = 0.12
	// SmallOftener is the power of a fault's size by which small ones are met oftener than large ones. [–; judgement]
	SmallOftener = -0.35
	// OddsMost is the most that the odds of a fault rise to, or fall below one, so that belief returns when readings do. [–; judgement]
	OddsMost = 1e4

	// Heard is how often air is heard where a leak is large. [chance; practice]
	Heard = 0.9
	// HeardFrom is the leak that is heard about two times in three of that. [points; practice]
	HeardFrom = 1.5
	// HeardFalseValve is how often air is said to be heard at a valve that holds. [chance; practice]
	HeardFalseValve = 0.03
	// HeardFalseRaw is the same of a head that has not run, or a cold engine: seats let a little by. [chance; practice]
	HeardFalseRaw = 0.1
	// HeardFalseOther is the same of coolant and of a neighbour. [chance; practice]
	HeardFalseOther = 0.003
	// HeardFalseMost is the most that what was heard while it was right makes of such a chance. [chance; judgement]
	HeardFalseMost = 0.7
	// HeardFalseWorth is how many listenings that first guess is worth. [listenings; judgement]
	HeardFalseWorth = 4
	// BreathesTo is the leak at the oil filler that is told from a sound engine's breathing two times in three. [points; practice]
	BreathesTo = 8.0
)

// Place is where a cylinder leaks.
type Place int

// The places of escape. A neighbour is one bore beside it through a burnt gasket.
const (
	Rings Place = iota
	Intake
	Exhaust
	Coolant
	Neighbour
	Places
)

// WhereOften is how often a leaking cylinder leaks at each place. Source: trade.
var WhereOften = [Places]float64{Rings: 0.42, Intake: 0.16, Exhaust: 0.27, Coolant: 0.1, Neighbour: 0.05}

// Grows is how often a fault has grown by none, one, two … sizes from one visit to the next. Source: judgement.
var Grows = [...]float64{0.5, 0.17, 0.1, 0.07, 0.05, 0.03, 0.02, 0.01}

// Loud is how often air is heard not at all, faint, clear and strong.
type Loud [4]float64

// LoudUpTo are these chances by the points that leak there; the last holds for all above. Source: practice.
var LoudUpTo = []struct {
	Points float64
	Loud   Loud
}{
	{5, Loud{0, 0.6, 0.3, 0.1}},
	{15, Loud{0, 0.3, 0.45, 0.25}},
	{100, Loud{0, 0.1, 0.35, 0.55}},
}

// What is heard where nothing leaks: at a valve, mostly faint; at the oil filler, where every engine breathes; and there of one that is
// cold or has not run. Source: practice.
var (
	LoudFalse   = Loud{0, 0.65, 0.27, 0.08}
	LoudBreath  = Loud{0.1, 0.45, 0.37, 0.08}
	LoudBreathy = Loud{0.05, 0.25, 0.45, 0.25}
)

// ListenedFiller is how often who listened and wrote nothing of the filler had heard its breathing all the same. Source: practice.
const ListenedFiller = 0.5

// Hole is how much of what the tester's figure says of a hole compression may show, and how likely that is: discharge, speed and volume
// are not known better than by a third.
type Hole struct{ Share, Chance float64 }

// Holes are these where the tester's orifice and the cylinder's volume are known, and where one of them is not. Source: physics, trade.
var (
	HoleKnown = [...]Hole{{0.65, 0.2}, {1.0, 0.35}, {1.4, 0.3}, {2.0, 0.15}}
	HoleVague = [...]Hole{{0.55, 0.2}, {1.1, 0.4}, {2.0, 0.25}, {4.0, 0.15}}
)

// How the readings of several cylinders are held together.
const (
	// LeaksTogether is how far all leaks may have risen together, beyond what a visit and its way of testing do: what is beyond is each cylinder's own, however many there are. [SD; judgement]
	LeaksTogether = 3.0
	// WearUneven is how unlike the cylinders of one engine wear, as a share of what all have come to leak more. [–; trade]
	WearUneven = 0.15
	// LeaksTogetherFirst is the same at first sight, of what engines leak. [SD; judgement]
	LeaksTogetherFirst = 1.6
	// OffBad is the density of a leak that stands above the others by a fault, of a cylinder that was thought bad. [1/log; judgement]
	OffBad = 0.3
	// OffSound is the same of one that was thought sound. [1/log; judgement]
	OffSound = 0.02
	// OffBelow is the density of one that stands below the others. [1/log; judgement]
	OffBelow = 0.002
	// Lasting is how far all may move at a visit to be taken for lasting: more is the visit's. [SD; judgement]
	Lasting = 2.5
	// SharedFrom is how many siblings a cylinder needs for what creeps in it to be taken for what all do. [cylinders; judgement]
	SharedFrom = 3
	// SureOfPull is the chance from which one meaning of a row is taken for the right one. [chance; judgement]
	SureOfPull = 0.8
	// PullFaulty is how likely any reading is that stands far from what the cylinder reads when it is sound. [density; judgement]
	PullFaulty = 0.05
	// PullNear is added to a reading's doubt where it is asked which of two is nearer. [log; judgement]
	PullNear = 0.02
	// LeakSizeApart is what a leak between two of the sizes that are tried counts for, as a share of the size: they stand a seventh apart. [share; judgement]
	LeakSizeApart = 0.04
)
