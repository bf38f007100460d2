package rules

import (
	"braxel/internal/core/log"
)

// What makes a cylinder be looked at, and what stops an engine, whatever it is for.
const (
	// WorthALook is the chance of a fault from which a cylinder is watched: a needless look costs two thirds of a miss, so (2/3)/(1+2/3). [chance; judgement]
	WorthALook = 0.4
	// Likely is the chance from which something is likelier than not. [chance; –]
	Likely = 0.5
	// Innocent is the chance of an innocent reading from which it is to be repeated. [chance; judgement]
	Innocent = 0.45
	// InnocentOrFault is the chance of the two together from which it is to be repeated. [chance; judgement]
	InnocentOrFault = 0.6
	// Surely is how many standard errors a figure must stand off before a sentence says that it moved. [SE; judgement]
	Surely = 2.0
	// BorneOut is the same where all that is known makes a fault likelier than not. [SE; judgement]
	BorneOut = 1.0
	// Settled is the chance of a cause from which no further test is worth its time. [chance; judgement]
	Settled = 0.9
	// AlmostCertain is the chance from which a cause is called almost certain. [chance; judgement]
	AlmostCertain = 0.95
	// MostLikely is the chance from which it is called most likely. [chance; judgement]
	MostLikely = 0.75
	// Probably is the chance from which it is named by itself: below, two are. [chance; judgement]
	Probably = 0.55
	// MendFrom is the chance from which a decision names what has to be mended. [chance; judgement]
	MendFrom = 0.6

	// AudibleLeak is the leak from which air can be heard at all. [%; practice]
	AudibleLeak = 2.0
	// WorthRepeat is the rise of a leak from which a repeat is worth its time. [points; trade]
	WorthRepeat = 4.0
	// SingleLoses is the loss from which a single is tested again, whatever made it: nothing beside it says that it was the battery. [%; trade]
	SingleLoses = 12.0
	// SingleLosesOwn is the same of what is believed to be its own, and not the visit's. [%; trade]
	SingleLosesOwn = 10.0
	// ShortAlone is the loss up to which a cylinder that holds air is asked for again: a bent rod takes no more. [%; trade]
	ShortAlone = 25.0

	// StopLoss is the loss that stops an engine: a cylinder that makes two fifths of what it did. [%; trade]
	StopLoss = 60.0
	// StopLeak is the rise of a leak that stops it: more than half of what it is given. [points; trade]
	StopLeak = 55.0
	// StopShown is the leak that stops it whatever it should be. [%; trade]
	StopShown = 70.0
	// RaceLeak is the leak from which a race engine is watched whose own baseline nobody knows: above 8 to 10 a builder acts. [%; trade]
	RaceLeak = 8.0
	// BelowSurely is how far below the maker's minimum a cylinder stands for that to be no matter of the gauge. [%; trade]
	BelowSurely = 3.0
	// TakenOffMost is the most that a sag in the order of reading may explain without being read again. [%; judgement]
	TakenOffMost = 18.0
	// TakenOffStep is the same of a step: bad cylinders beside each other look like one, and it is read again in a minute. [%; judgement]
	TakenOffStep = 10.0
	// AllDownMost is the most that all may lose together without being tested again. [%; judgement]
	AllDownMost = 15.0
	// LeakAlone is from how few cylinders with a leak-down on none tells what the engine's are. [cylinders; judgement]
	LeakAlone = 2
	// WornTogether is how far all leaks have to be up for one that passes a limit to be the wear of all. [points; judgement]
	WornTogether = 4.0
	// WornOut is how far all leaks have to be up together to be acted upon. [points; trade]
	WornOut = 10.0
	// LeaksMuch is the leak that no school calls sound: watched whatever the baseline. [%; trade]
	LeaksMuch = 20.0
	// LeaksBad is the leak that is acted upon once it is confirmed, whatever the baseline. [%; trade]
	LeaksBad = 30.0
	// NominalLow is how far all may stand below the maker's figure: gauges differ by that much. [%; trade]
	NominalLow = 10.0
	// AllLowRemark is how much lower all must read before it is said while the gauge is still on. [%; practice]
	AllLowRemark = 8.0
	// FellTogether is how far all have to fall together to be said to have moved. [%; trade]
	FellTogether = 4.0
	// FellSurely is how many standard errors that has to be. [SE; judgement]
	FellSurely = 3.0
	// FellVery is the fall that is more than gauges differ by. [%; trade]
	FellVery = 12.5
	// LeakAll is the rise of all leaks together that is said to be one. [points; judgement]
	LeakAll = 3.0

	// SchoolApart is the trade's first rule: the lowest within so much of the highest. [%; trade]
	SchoolApart = 10.0
	// SchoolLeak is its second: the leak that the street watches. [%; trade]
	SchoolLeak = 15.0
)

// Limit is from where a cylinder of an engine of one duty is watched, and acted upon: points of leak over its own baseline, percent of
// compression lost. A workshop may have its own.
type Limit struct {
	Duty      string  `json:"id"`
	LeakWatch float64 `json:"leak_watch_pts"`
	LossWatch float64 `json:"loss_watch_pct"`
	LeakAct   float64 `json:"leak_act_pts"`
	LossAct   float64 `json:"loss_act_pct"`
}

// What is watched on the street is mended before a race: the trade's 5 points over the own baseline there, 10 on the street. It watches
// from 3 points; 2.2 is that within a reading's doubt.
var (
	streetLimit = Limit{"street", 2.2, 3, 10, 10}
	raceLimit   = Limit{"race", 2.2, 3, 5, 8}
)

// Limits are the built-in limits by duty. Source: the trade's schools.
var Limits = func() []Limit {
	var all []Limit
	for _, d := range Duties {
		l := streetLimit
		if (log.Engine{Duty: d.ID}).Raced() {
			l = raceLimit
		}
		l.Duty = d.ID
		all = append(all, l)
	}
	return all
}()

// How far a search goes.
const (
	// SearchMost is how many tests are named where something has to be done; otherwise one. [tests; judgement]
	SearchMost = 3
)
