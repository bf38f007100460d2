package rules

// What goes wrong with the testing, and how often.
const (
	// VisitSD is how far one visit moves all readings: battery, heat, weather, gauge. [log; practice]
	VisitSD = 0.028
	// VisitWide is how far it moves them now and then. [log; practice]
	VisitWide = 0.12
	// VisitWideOften is how often that is. [chance; practice]
	VisitWideOften = 0.1
	// VisitWideSingle is how often it is taken to be so of a single, where nobody can tell whether it was the visit or the engine. [chance; judgement]
	VisitWideSingle = 0.04

	// Sags is how often a battery sags from cylinder to cylinder where nobody wrote its volts: one visit in seventeen. [chance; practice]
	Sags = 0.06
	// SagsFell is the same where its volts fell. [chance; practice]
	SagsFell = 0.5
	// SagsHeld is the same where they held. [chance; practice]
	SagsHeld = 0.006
	// VoltsFell is by how much the battery fell from the first reading to the last, to make a sag likely. [V; practice]
	VoltsFell = 0.35
	// VoltsHeld is the fall up to which it held. [V; practice]
	VoltsHeld = 0.2
	// VoltsEnough is of how many readings the volts have to be noted to tell. [readings; judgement]
	VoltsEnough = 3
	// SagCylinder is the most that a sag takes from one cylinder to the next: more would not crank. [log; practice]
	SagCylinder = 0.055
	// Steps is how often throttle or charger is noticed on the way: one visit in thirty-three. [chance; practice]
	Steps = 0.03
	// StepOne is by what factor a step that moves one reading alone is rarer: it is oftener that cylinder's own. [share; judgement]
	StepOne = 0.1
	// BankOff is how often one bank stands against the other: a cam, or one bank's throttle. [chance; judgement]
	BankOff = 0.006

	// PullFails is how often one reading fails: the gauge not home, a figure written down wrong. [chance; practice]
	PullFails = 0.015
	// PullFailsTwice is how often two readings fail alike. [chance; practice]
	PullFailsTwice = 0.0015
	// PullFailsOften is how often three and more do. [chance; practice]
	PullFailsOften = 0.0004
	// FailsBelow is the density of a failed reading below the truth, where most of them stand. [1/log; judgement]
	FailsBelow = 0.75
	// FailsOver is the same above it. [1/log; judgement]
	FailsOver = 0.12
	// FailsReach is how far below the truth a failed reading may stand. [log; judgement]
	FailsReach = 1.5
	// Gains is how often a cylinder reads more than it should: oil, carbon, a fast crank. [chance; trade]
	Gains = 0.01
	// GainsTo is how far. [log; trade]
	GainsTo = 0.12

	// Dirt is how often a leak-down finds dirt on a seat, or TDC missed. [chance; practice]
	Dirt = 0.035
	// DirtPoints is by how many points that lifts it, mostly less. [points; practice]
	DirtPoints = 8.0
	// DirtAny is the part of them that lifts it by anything up to all. [share; judgement]
	DirtAny = 0.2
	// Seal is how often the tester's own seal leaks. [chance; practice]
	Seal = 0.008
	// SealHeard is the same where air was heard at the plug hole. [chance; practice]
	SealHeard = 0.5
	// SealPoints is by how many points that lifts it, mostly less. [points; practice]
	SealPoints = 20.0
	// SealAny is the part of them that lifts it by anything up to all. [share; judgement]
	SealAny = 0.3
	// LeakSlip is how often a leak-down is written down wrong. [chance; practice]
	LeakSlip = 0.008
	// LiftFrom is what dirt or a seal lifts a leak-down by at the least: less is within what it repeats to. [points; judgement]
	LiftFrom = 3.0
	// RepeatCare is by what factor all of these are rarer when a leak-down is repeated, since it is done with more care. [share; practice]
	RepeatCare = 0.2
	// LeakClears is by how many points a repeat has to read less for something to have been blown off. [points; trade]
	LeakClears = 5.0
)

// The sizes of mishaps that are tried, as logarithms, from what is hardly seen to what nobody goes on with. Source: judgement.
var (
	// SagSizes are how far a sag takes the last reading against the first; SagShapes how it goes with the order of reading.
	SagSizes  = [...]float64{0.035, 0.06, 0.09, 0.13, 0.18, 0.25, 0.35}
	SagShapes = [...]float64{0.6, 1, 1.8}
	// StepSizes are what throttle or charger takes or gives.
	StepSizes = [...]float64{0.04, 0.07, 0.11, 0.16, 0.22, 0.3, 0.45}
	// BankSizes are how far two banks stand apart.
	BankSizes = [...]float64{0.04, 0.07, 0.11, 0.16}
)
