package rules

// Two tests beside each other.
const (
	// MovesOften is how often a cylinder changes by itself between two tests: most of most pairs stand. [chance; judgement]
	MovesOften = 0.2
	// MovesBy is how far such changes reach: one that does not stand may have lost or come back by a tenth or more. [log; judgement]
	MovesBy = 0.12
	// SealUnheard is how often the tester's own seal leaks where somebody listened and it did not hiss. [chance; practice]
	SealUnheard = 0.002
	// Matters is how much of a change is worth knowing: the trade watches a leak from 3 points on, and two gauges' divisions make a percent or two. [% and points; trade]
	Matters = 3.0
	// Sure is how seldom chance may make a change that is called sure. [chance; judgement]
	Sure = 0.01
	// Nearly is how little one used engine may be better than the next, in cylinders at fault, to be called nearly as good. [cylinders; judgement]
	Nearly = 0.15
	// OutsideBand is how far off a point lies that is beyond what the measuring makes. [SE; judgement]
	OutsideBand = 2
	// BandUsual is the band of a strip whose tests say nothing of their doubt. [%; judgement]
	BandUsual = 2.4
	// SoonDays is how near a day has to be to be called soon. [days; judgement]
	SoonDays = 30
)

// A crank that air turns.
const (
	// PushOffDeg is how far off TDC a crank stands that was set by eye. [°; practice]
	PushOffDeg = 5.0
	// PushBarMM is the length of a bar on its bolt. [mm; practice]
	PushBarMM = 300.0
)
