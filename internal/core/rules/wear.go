package rules

import (
	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

// Lasts is how long an engine of one duty usually runs from a rebuild until a cylinder has worn to its limits: by hours, by the road, by
// runs and by events; 0 where such an engine has no such meter.
type Lasts struct {
	Duty   string  `json:"id"`
	Hours  float64 `json:"hours,omitzero"`
	Km     float64 `json:"km,omitzero"`
	Runs   float64 `json:"runs,omitzero"`
	Events float64 `json:"events,omitzero"`
}

// Lives are these by duty. Engines of one duty differ by more than a factor of two: LastsSD. Source: trade.
var Lives = []Lasts{
	{Duty: "street", Hours: 4000, Km: 250000},
	{Duty: "motorcycle", Hours: 1200, Km: 60000},
	{Duty: "work", Hours: 8000, Km: 400000},
	{Duty: "marine", Hours: 1500, Runs: 500, Events: 150},
	{Duty: "track-day", Hours: 400, Km: 40000, Runs: 1200, Events: 80},
	{Duty: "circuit", Hours: 120, Km: 15000, Runs: 400, Events: 40},
	{Duty: "rally", Hours: 150, Km: 12000, Runs: 300, Events: 25},
	{Duty: "drag", Hours: 20, Km: 400, Runs: 450, Events: 60},
	{Duty: "pulling", Hours: 30, Runs: 400, Events: 80},
	{Duty: "kart", Hours: 100, Km: 6000, Runs: 400, Events: 40},
}

// By returns the figure for a meter's unit, 0 where it has none.
func (l Lasts) By(unit string) float64 {
	switch unit {
	case "h":
		return l.Hours
	case "km":
		return l.Km
	case "mi":
		return l.Km / units.KmPerMile
	case "runs":
		return l.Runs
	case "events":
		return l.Events
	}
	return 0
}

// LastsOf returns how long an engine usually lasts, in its own meter's unit; 0 where nobody knows.
func LastsOf(e log.Engine) float64 {
	for _, l := range Lives {
		if l.Duty == DutyOf(e).ID {
			return l.By(e.MeterUnit)
		}
	}
	return 0
}

// How an engine wears, and what comes suddenly.
const (
	// LastsSD is how far engines of one duty differ in how long they last. [log; trade]
	LastsSD = 0.75
	// WearUnlike is how far the cylinders of one engine differ in how fast they wear. [log; trade]
	WearUnlike = 0.25
	// BedsIn is how long fresh rings take to bed in, as a share of a life: within that their extra leak falls to a third. [share; practice]
	BedsIn = 0.01
	// BedsLeak is how much more area fresh rings leak before they have run. [log; practice]
	BedsLeak = 0.4
	// BedsLeakSD is how far engines differ in that. [log; practice]
	BedsLeakSD = 0.4
	// BedsLose is what fresh rings cost compression before they have run. [log; practice]
	BedsLose = 0.02
	// BedsLoseSD is how far engines differ in that. [log; practice]
	BedsLoseSD = 0.02
	// BedsUneven is how far its cylinders differ in that, of their area; of their compression a tenth of it. [log; practice]
	BedsUneven = 0.3
	// TestsMost is how many tests of a build are weighed: its first ones, which are its baseline, and its last ones. [tests; judgement]
	TestsMost = 16
	// TestsFirst is how many of those are the first ones. [tests; judgement]
	TestsFirst = 4
	// TempUnsaid is what a test where nobody noted how warm the engine was reads beside a hot one: about one in three is cold. [log;
	// judgement]
	TempUnsaid = ColdReads / 3
	// TempUnsaidSD is how far that is off. [log; judgement]
	TempUnsaidSD = 0.035
	// TempUnsaidLeak is what it does to the area of leaks. [log; judgement]
	TempUnsaidLeak = 0.1
	// TempUnsaidLeakSD is how far that is off. [log; judgement]
	TempUnsaidLeakSD = 0.15
	// ColdVaries is how far a cold engine's leak varies from visit to visit beyond a hot one's, of its area. [log; practice]
	ColdVaries = 0.15
	// FaultsALife is how many sudden or quickly growing faults an engine gets in as long as it usually lasts. [faults; trade]
	FaultsALife = 1.1
	// FaultsLeft is how many of those that began before the last test but one were neither found nor put right. [share; judgement]
	FaultsLeft = 0.8
)

// Share is a value with its chance.
type Share struct{ Of, Chance float64 }

// How wear goes on: the power of the running by which the leaking area grows. 1 is the same each hour; more is wear that feeds itself.
// Source: practice.
var WearPowers = []Share{{0.8, 0.15}, {1.0, 0.3}, {1.3, 0.3}, {1.7, 0.25}}

// FaultShapes are the ways in which a fault goes on once it has begun. Source: trade.
var FaultShapes = struct {
	Step, Line, Double, Short float64
	StepPoints                []Share // points of leak at once
	LineLives                 []Share // until it has grown by a limit's worth, as a share of a life
	DoubleLives               []Share // until it has doubled, as a share of a life
	ShortPct                  []Share // percent of compression lost at once without a leak: a rod, a lobe
}{
	Step: 0.25, Line: 0.3, Double: 0.35, Short: 0.1,
	StepPoints:  []Share{{3, 0.15}, {6, 0.15}, {10, 0.15}, {16, 0.15}, {26, 0.15}, {40, 0.15}, {65, 0.1}},
	LineLives:   []Share{{0.015, 0.15}, {0.03, 0.2}, {0.06, 0.2}, {0.12, 0.2}, {0.25, 0.15}, {0.5, 0.1}},
	DoubleLives: []Share{{0.01, 0.25}, {0.03, 0.3}, {0.08, 0.3}, {0.2, 0.15}},
	ShortPct:    []Share{{4, 0.3}, {8, 0.4}, {18, 0.3}},
}

// WornOut returns how far a cylinder of an engine may go before the engine is worn out: points of leak over its own baseline, and
// percent of compression. That is where the workshop acts. A boat's engine is looked at from where a race engine is, since it can't
// pull over; it is worn out where the street's is.
func (s Shop) WornOut(e log.Engine) (points, pct float64) {
	l := s.LimitOf(e)
	if DutyOf(e).ID == "marine" {
		return s.own("limits.marine.leak_act", streetLimit.LeakAct), s.own("limits.marine.loss_act", streetLimit.LossAct)
	}
	return l.LeakAct, l.LossAct
}
