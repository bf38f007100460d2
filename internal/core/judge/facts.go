package judge

import (
	"math"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/log"
)

// Fact is one thing that a visit says, in figures; every sentence is made from facts alone.
type Fact struct {
	What      What    `json:"what"`
	Cylinders []int   `json:"cylinders,omitempty"`
	Value     float64 `json:"value,omitzero" doc:"Percent of compression, points or percent of leak, as it says"`
	SE        float64 `json:"se,omitzero" doc:"Its standard error"`
	Reads     string  `json:"reads,omitzero" doc:"A figure with its unit"`
	Figure    string  `json:"figure,omitzero" doc:"The limit, with its unit"`
	By        string  `json:"by,omitzero" doc:"Whose limit it is"`
	At        string  `json:"at,omitzero" doc:"Where air was heard"`
	Against   Against `json:"against,omitzero" doc:"What it is held against"`
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
	FaceLow      What = "face-low"      // of its rotor: percent
	LeakDoubted  What = "leak-doubted"  // the leak jumped, and something else contradicts it: points
	LeakOnce     What = "leak-once"     // the leak jumped by one reading, which nothing contradicts: points
	PullOnce     What = "pull-once"     // it reads low by one reading, which nothing contradicts: percent
	PullDoubted  What = "pull-doubted"  // the gauge, likelier than the cylinder: percent
	ColdUneven   What = "cold-uneven"   // cannot be told cold
	FellWithAll  What = "fell-with-all" // and what made all fall is likelier the engine than the testing: percent
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

// How many standard errors a figure must stand off before a sentence says that it moved: by itself, and where all that is known
// together makes a fault likelier than not.
const (
	surely   = 2.0
	borneOut = 1.0
)

// moved returns what the figures of a cylinder say of it by themselves.
func (d change) moved(c int, f figure) []Fact {
	e := d.of(c)
	var facts []Fact
	sure := surely
	if e.Leaking+e.Short >= likely {
		sure = borneOut
	}
	if lost := -percent(e.Change); e.ChangeSE > 0 && e.Change < -sure*e.ChangeSE {
		facts = append(facts, Fact{What: Down, Cylinders: []int{c}, Value: lost, SE: 100 * e.ChangeSE, Against: d.against(e)})
	}
	heard, at := at(f.paths)
	if e.RiseSE > 0 && e.Rise > sure*e.RiseSE {
		against := Baseline
		if e.NoBaseLeak {
			against = Usual
		}
		facts = append(facts, Fact{What: LeakUp, Cylinders: []int{c}, Value: e.Rise, SE: e.RiseSE, At: at, Against: against})
	} else if heard == log.Coolant || heard == log.Neighbour {
		facts = append(facts, Fact{What: AirHeard, Cylinders: []int{c}, At: at})
	}
	return facts
}

// against returns what a compression is held against.
func (d change) against(e *belief.Told) Against {
	switch {
	case !d.first && !e.NoBase:
		return Baseline
	case d.read > 1:
		return Others
	}
	return Usual
}

// account returns what went wrong with the testing, where that is likelier than not.
func (h *history) account(d change) []Fact {
	weights := map[belief.Kind]float64{}
	likeliest := map[belief.Kind]belief.Hypothesis{}
	for _, a := range d.accounts {
		weights[a.Kind] += a.Weight
		if a.Weight > likeliest[a.Kind].Weight {
			likeliest[a.Kind] = a
		}
	}
	for _, kind := range []belief.Kind{belief.Sag, belief.Step, belief.Bank} {
		a := likeliest[kind]
		if weights[kind] < 0.5 {
			continue
		}
		f := Fact{What: Sank, Value: -percent(a.Size)}
		switch kind {
		case belief.Step:
			f = Fact{What: Stepped, Value: percent(a.Size), Cylinders: []int{h.order[d.order[a.From]]}}
		case belief.Bank:
			f = Fact{What: BankApart, Value: percent(a.Size)}
		}
		return []Fact{f}
	}
	return nil
}

// leftOut names the cylinders of which a pull does not fit the others of its row, nor what they should read.
func (h *history) leftOut(d change) []Fact {
	return those(PullLeftOut, h.order, func(c int) bool { return d.of(c).LeftOut && !d.of(c).Unsure })
}

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

// together returns what all did, or how all stand.
func (h *history) together(s log.Session, d change) []Fact {
	var facts []Fact
	switch {
	case d.unexplained():
		facts = append(facts, Fact{What: AllMoved, Value: percent(d.common - d.expected.mean), SE: 100 * d.commonSE})
	case d.fell():
		facts = append(facts, Fact{What: AllAsTested, Value: percent(d.common)})
	}
	nominal := h.log.Engine.Limits
	if nominal != nil && nominal.Nominal != nil && d.read > 0 {
		// Held against the maker's usual figure, whatever was learned of this engine.
		off := d.level - math.Log(float64(nominal.Nominal.Pressure()))
		if s.Conditions.Cold() {
			off -= coldReadsLess
		}
		if percent(off) < -nominalLow {
			facts = append(facts, Fact{What: AllLow, Value: -percent(off), Figure: nominal.Nominal.String(), By: nominal.By()})
		}
	}
	return facts
}

// nominalLow is the percentage below the maker's usual figure from which an engine is said to stand low: gauges differ by that much.
const nominalLow = 10.0

// notCompared returns what a finding lacks to be judged by.
func (h *history) notCompared(s log.Session, now map[int]figure, d change, bad []int) []Fact {
	facts := those(NotCranked, bad, func(c int) bool { return now[c].se == 0 })
	if h.log.Engine.Kind != log.Rotary {
		facts = append(facts, those(NotLeaked, bad, func(c int) bool { return now[c].leakSE == 0 })...)
		facts = append(facts, those(NotListened, bad, func(c int) bool { return now[c].leakSE > 0 && now[c].paths == nil })...)
	}
	if !d.first {
		facts = append(facts, those(FirstLeaks, h.order, func(c int) bool { return d.of(c).NewLeak && d.of(c).RiseSE > 0 })...)
		facts = append(facts, those(FirstPulls, h.order, func(c int) bool { return d.of(c).NewReading && d.of(c).ChangeSE > 0 })...)
	}
	return facts
}

// named returns the first fact of a kind.
func named(facts []Fact, what What) (Fact, bool) {
	i := slices.IndexFunc(facts, func(f Fact) bool { return f.What == what })
	if i < 0 {
		return Fact{}, false
	}
	return facts[i], true
}
