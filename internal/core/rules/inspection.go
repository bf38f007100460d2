package rules

// A used engine: what a claim may be off by, and what the flags come to.
const (
	// ClaimCC is how far bore and stroke may make another displacement than is claimed: a rebore makes 2. [%; trade]
	ClaimCC = 3.0
	// ClaimStroke is how far a measured stroke may differ: more than a rod and marks are wrong by. [share; trade]
	ClaimStroke = 0.02
	// LowMileage is the mileage below which rings and bores are not worn out. [km; trade]
	LowMileage = 80_000
	// CheaperFrom is the weight of the flags together from which it has to be cheaper. [weight; judgement]
	CheaperFrom = 2
	// LeaveFrom is the weight from which it is not worth having. [weight; judgement]
	LeaveFrom = 9
	// RaceFuelRatio is the compression ratio above which it wants race fuel or alcohol. [–; trade]
	RaceFuelRatio = 12.5
	// BestFuelRatio is the ratio above which it wants the best pump fuel. [–; trade]
	BestFuelRatio = 10.3
	// StrokeLeast is the shortest stroke there is, in bores. [bores; trade]
	StrokeLeast = 0.35
	// StrokeMost is the longest. [bores; trade]
	StrokeMost = 1.9
)
