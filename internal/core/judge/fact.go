package judge

import "slices"

// Fact is one thing that a visit says, in figures; every sentence is made from facts alone.
type Fact struct {
	What      What    `json:"what"`
	Cylinders []int   `json:"cylinders,omitempty"`
	Value     float64 `json:"value,omitzero" doc:"Percent of compression, or points or percent of leak, by kind"`
	SE        float64 `json:"se,omitzero" doc:"Its standard error"`
	Reads     string  `json:"reads,omitzero" doc:"A figure with its unit"`
	Figure    string  `json:"figure,omitzero" doc:"The limit, with its unit"`
	By        string  `json:"by,omitzero" doc:"Whose limit it is"`
	Where     string  `json:"where,omitzero" doc:"Where air was heard, a place of a leak-down"`
	Mostly    bool    `json:"mostly,omitzero" doc:"Air was heard elsewhere too, fainter"`
	Into      int     `json:"into,omitzero" doc:"The cylinder at whose plug hole it was heard"`
	Against   Against `json:"against,omitzero" doc:"What it is compared with"`
}

// What a fact is of.
type What string

// Facts of one cylinder.
const (
	Down         What = "down"          // its compression has fallen, or stands low: percent
	LeakUp       What = "leak-up"       // it leaks more: points
	AirHeard     What = "air-heard"     // air comes out where no sound cylinder lets it
	FoundBefore  What = "found-before"  // it was found bad before, and has not been seen to be right since
	MayBe        What = "may-be"        // something is likelier wrong than not, though no figure by itself says so
	LeaksMuch    What = "leaks-much"    // by any school: percent
	BelowLeast   What = "below-least"   // of the maker or the builder
	ApartTooFar  What = "apart-too-far" // from the highest: by whose limit
	LeaksTooMuch What = "leaks-too-much"
	HardlyFires  What = "hardly-fires"
	FaceLow      What = "face-low"       // of its rotor: percent
	LeakDoubted  What = "leak-doubted"   // the leak jumped, and something else contradicts it: points
	LeakOnce     What = "leak-once"      // the leak jumped by one reading, which nothing contradicts: points
	PullOnce     What = "pull-once"      // it reads low by one reading, which nothing contradicts: percent
	PullDoubted  What = "pull-doubted"   // the gauge, likelier than the cylinder: percent
	ColdUneven   What = "cold-uneven"    // cannot be told cold
	TakenOff     What = "taken-off"      // what a battery, a throttle or a charger would explain, and is too much to be left at that: percent
	RaceLeak     What = "race-leak"      // more than a race engine is run with: percent
	LeaksWithAll What = "leaks-with-all" // as all have come to: points
	FellWithAll  What = "fell-with-all"  // and what made all fall is likelier the engine than the testing: percent
)

// Facts of the visit.
const (
	AllMoved    What = "all-moved"     // together, beyond what the way of testing makes: percent
	AllAsTested What = "all-expected"  // together, as the way of testing may well make: percent
	AllLow      What = "all-low"       // against what the maker or the geometry lets expect: percent
	Sank        What = "sank"          // in the order of reading: percent from first to last
	Stepped     What = "stepped"       // from one cylinder on: percent
	BankApart   What = "bank-apart"    // one bank against the other: percent
	PullLeftOut What = "pull-left-out" // it fits neither the others of its row nor the cylinder
	Stands      What = "stands"        // the lowest below the highest, at a first test: percent
	OthersStood What = "others-stood"
	NothingNew  What = "nothing-new"
	FirstTest   What = "first-test"  // it becomes the baseline
	FirstFound  What = "first-found" // the same of an engine as it was found: nobody here built it
	FirstKnown  What = "first-known" // the same of one that nobody called the baseline
	NoBaseline  What = "no-baseline" // yet, and something is wrong already
	Into        What = "into-baseline"
	FirstLeaks  What = "first-leaks" // the first leak-down of these cylinders: held against what is usual
	FirstPulls  What = "first-pulls"
	NotCranked  What = "not-cranked"  // compression was not read where the leak moved
	NotLeaked   What = "not-leaked"   // no leak-down where compression moved
	NotListened What = "not-listened" // nobody said where the air comes out
)

// Against is what a figure is held against.
type Against string

// The baseline of its build; the other cylinders; what is usual of such an engine.
const (
	Baseline Against = "baseline"
	Others   Against = "others"
	Usual    Against = "usual"
)

// those returns the fact that is true of some of the cylinders, none where it is true of none.
func those(what What, among []int, is func(c int) bool) []Fact {
	var at []int
	for _, c := range among {
		if is(c) {
			at = append(at, c)
		}
	}
	if len(at) == 0 {
		return nil
	}
	return []Fact{{What: what, Cylinders: at}}
}

// named returns the first fact of a kind.
func named(facts []Fact, what What) (Fact, bool) {
	i := slices.IndexFunc(facts, func(f Fact) bool { return f.What == what })
	if i < 0 {
		return Fact{}, false
	}
	return facts[i], true
}
