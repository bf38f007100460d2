package rules

// How a season is planned, where the workshop says nothing else.
const (
	// SeasonChance is the chance of running past its limits that is taken at an event: one in twenty. [chance; judgement]
	SeasonChance = 0.05
	// TestHours is what a compression test and a leak-down of an engine in its car take in the shop. [h; trade]
	TestHours = 2.0
	// FreshenHours is what a freshen-up takes: out, rings, bearings, valves, in again. [h; trade]
	FreshenHours = 24.0
	// RebuildHours is what a whole rebuild takes. [h; trade]
	RebuildHours = 60.0
	// SwapHours is what it takes to change one engine for another. [h; trade]
	SwapHours = 8.0
	// DayHours is what is worked on an engine in a day; more is nights. [h; trade]
	DayHours = 8.0
	// NightHours is how much more can be done at night before everybody sleeps at the wheel. [h; trade]
	NightHours = 6.0
	// NightCost is how much dearer an hour at night is. [–; judgement]
	NightCost = 1.0
	// LeadDays is how long parts for a freshen-up or a rebuild take to come. [days; trade]
	LeadDays = 14
	// TestCatches is how often a test finds a cylinder that is past its limits. [chance; practice]
	TestCatches = 0.9
	// BreaksCost is how many rebuilds an engine costs that is run past its limits: its own, and the weekend. [rebuilds; judgement]
	BreaksCost = 2.0
	// UnmetCost is what a plan pays for each event at which the owner's chance isn't kept, in hours: more than any work. [h; judgement]
	UnmetCost = 1000.0
	// EmptyCost is what it pays for a car that stays at home for want of an engine. [h; judgement]
	EmptyCost = 3000.0
	// RunningSD is how far the running at an event strays from what was foreseen. [share; practice]
	RunningSD = 0.15
	// RunningWeighs is how many of a workshop's own events that is worth. [events; judgement]
	RunningWeighs = 6.0
	// HappeningHarms is how often an engine is past its limits after something that asks for a test: it ran hot, over-revved, knocked,
	// was hit. Until the test it counts against every start. [chance; judgement]
	HappeningHarms = 0.2
	// NineInTen is the chance up to which an engine is called good for so much more running. [chance; judgement]
	NineInTen = 0.9
)
