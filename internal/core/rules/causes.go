package rules

import (
	"cmp"
	_ "embed"
	"maps"
	"slices"
	"strings"
	"sync"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/shipped"
)

//go:embed causes.json
var causesText []byte

// Finding is one thing that a test may show, and its chance where a cause does not name it.
type Finding struct {
	Words     string  `json:"words"`
	Rotary    string  `json:"rotary"` // its words where the engine has rotors
	TwoStroke string  `json:"two_stroke"`
	Otherwise float64 `json:"otherwise"`
	// Believed says that what is believed of the cylinder has weighed it already: it is evidence in words, and changes no chance.
	Believed bool `json:"believed"`
	// Sized says that it is weighed by its amount, and as a finding is evidence in words.
	Sized bool `json:"sized"`
	// Lasting says that it stays until it is repaired, whatever the next test reads.
	Lasting bool `json:"lasting"`
	// Shows says that it shows a cause by itself where it goes with one: a place that was heard, a part that was measured.
	Shows bool `json:"shows"`
	// Against is the finding that it takes back.
	Against string `json:"against"`
}

// Class is what the measurements of a cylinder can tell by themselves. Causes of one class are told apart by what else is found.
type Class string

// The classes: a leak at each place, a loss of compression without a leak, a reading that is innocent; of the engine as a whole its own
// doing, the testing's, a build's that has not run, and nothing at all.
const (
	LeaksRings     Class = "rings"
	LeaksIntake    Class = "intake"
	LeaksExhaust   Class = "exhaust"
	LeaksCoolant   Class = "coolant"
	LeaksNeighbour Class = "neighbour"
	IsShort        Class = "short"
	IsInnocent     Class = "innocent"
	OfEngine       Class = "engine"
	OfTesting      Class = "testing"
	OfBedding      Class = "bedding"
	Nothing        Class = "nothing"
)

var (
	cylinderClasses = []Class{LeaksRings, LeaksIntake, LeaksExhaust, LeaksCoolant, LeaksNeighbour, IsShort, IsInnocent}
	engineClasses   = []Class{OfEngine, OfTesting, OfBedding, Nothing}
)

// Size is how large a fault usually is when it is found: points of leak, or percent of compression, and the factor up and down within which
// two thirds of them lie.
type Size struct {
	Usual  float64 `json:"usual"`
	Spread float64 `json:"spread"`
}

// Growing returns what it is while it still grows.
func (s Size) Growing() Size { return Size{s.Usual / GrowingLess, s.Spread * GrowingWider} }

// InFound returns what it is in an engine that nobody has looked after: anything up to far gone.
func (s Size) InFound() Size { return Size{s.Usual * FoundMore, s.Spread * FoundWider} }

// Cause is one row of the table: how common it is, whether it is of one cylinder, a pair or the engine, and the chances of the findings
// that go with it.
type Cause struct {
	Cause    string             `json:"cause"`
	Words    string             `json:"words"`
	Was      []string           `json:"was"`    // what it was called before: logs hold what was found in those words
	Phrase   string             `json:"phrase"` // as it stands in "most likely …"
	Prior    float64            `json:"prior"`
	Often    map[string]float64 `json:"often"`     // how common it is in other engines than petrol four-strokes that have run: diesel, two-stroke, built, boosted
	Sudden   float64            `json:"sudden"`    // how often it comes at once where it came by running
	Leak     Size               `json:"leak"`      // how large it usually is when it is found, by what it leaks
	Loss     Size               `json:"loss"`      // the same of one that costs compression and doesn't leak
	OilSeals float64            `json:"oil_seals"` // how much of what it costs comes back with oil, as a share
	Scope    string             `json:"scope"`
	Class    Class              `json:"class"`
	ABank    bool               `json:"a_bank"`  // it may be of one bank of two
	NotRun   bool               `json:"not_run"` // the engine is not run before it is mended, even where it is only watched
	NoWait   bool               `json:"no_wait"` // once a test has shown it, it is mended and not watched: it gets worse at once
	NotFor   []string           `json:"not_for"` // kinds of engine that have no such part
	Rotary   string             `json:"rotary"`  // its words where the engine has rotors
	RotorFix string             `json:"rotary_mend"`
	Mend     string             `json:"mend"`  // as it stands in "not before …"
	Plain    string             `json:"plain"` // for whoever owns the engine
	Mind     string             `json:"mind"`  // what to watch while the engine is run all the same
	Snap     bool               `json:"snap"`  // dirt can look like it: the valve is snapped before it is opened for it
	Given    map[string]float64 `json:"given"`
	Note     string             `json:"note"`

	builtIn float64 // its prior in the built-in table, whatever a workshop made of it
}

// Test is something that may be done next, its effort, and how far it settles findings (1: fully).
type Test struct {
	Test      string             `json:"test"`
	Words     string             `json:"words"`
	Minutes   float64            `json:"minutes"`
	Step      string             `json:"step"`
	Tells     string             `json:"tells"` // what it settles, in words
	Rotary    string             `json:"rotary_tells"`
	TwoStroke string             `json:"two_stroke_tells"`
	Settles   map[string]float64 `json:"settles"`
	NotFor    []string           `json:"not_for"` // kinds of engine on which it is not done
	NotFuel   string             `json:"not_fuel"`
	ByRule    bool               `json:"by_rule"`    // asked for by the judge alone, where a reading is doubted
	Cylinders int                `json:"cylinders"`  // of how many cylinders together it is; 0: of any number
	WholeOnly bool               `json:"whole_only"` // it is of the engine as a whole
	ColdOnly  bool               `json:"cold_only"`  // it is of an engine that was tested cold, and can be run
	DoneBy    string             `json:"done_by"`    // the observation that does it, beside one of its own name
}

// Sight is an observation, in the words that the sheet offers, and the finding that it is.
type Sight struct {
	What    string `json:"what"`
	Finding string `json:"finding"`
	Is      string `json:"is"`
}

// CauseTable is the whole of it.
type CauseTable struct {
	About    string             `json:"about"`
	Findings map[string]Finding `json:"findings"`
	Causes   []Cause            `json:"causes"`
	Tests    []Test             `json:"tests"`
	Sights   []Sight            `json:"sights"`
}

// Causes returns the built-in table, checked.
var Causes = sync.OnceValue(func() CauseTable { return shipped.Table[CauseTable](causesText) })

// Word gives the rows their words, each from the catalogue under its own name.
func (t *CauseTable) Word() {
	for name, f := range t.Findings {
		id := "causes.finding-" + name
		f.Words, f.Rotary, f.TwoStroke = say.Maybe(id), say.Maybe(id+"-rotary"), say.Maybe(id+"-two-stroke")
		t.Findings[name] = f
	}
	for i := range t.Causes {
		c := &t.Causes[i]
		c.builtIn = c.Prior
		id := "causes.cause-" + strings.ReplaceAll(c.Cause, "_", "-")
		c.Words, c.Phrase, c.Rotary = say.Maybe(id), say.Maybe(id+"-phrase"), say.Maybe(id+"-rotary")
		c.Plain = say.Maybe(id + "-plain")
		c.Mend, c.RotorFix, c.Mind = say.Maybe(id+"-mend"), say.Maybe(id+"-rotary-mend"), say.Maybe(id+"-mind")
	}
	for i := range t.Tests {
		x := &t.Tests[i]
		id := "causes.test-" + x.Test
		x.Words, x.Tells = say.Maybe(id), say.Maybe(id+"-tells")
		x.Rotary, x.TwoStroke = say.Maybe(id+"-tells-rotary"), say.Maybe(id+"-tells-two-stroke")
	}
}

// Plainly says a cause as one explains it to whoever owns the engine; "" of one that is none of the engine's.
func Plainly(cause string) string {
	i := slices.IndexFunc(Causes().Causes, func(c Cause) bool { return c.Cause == cause })
	if i < 0 {
		return ""
	}
	return Causes().Causes[i].Plain
}

// Check reports the first thing wrong with a table: a row without words, a chance that is none, a finding that is not defined, a class that its scope has not,
// a cause that no measurement and no finding tells from the others.
func (t CauseTable) Check() error {
	for name, f := range t.Findings {
		if f.Words == "" {
			return say.Error("rules.row-no-words", "name", name)
		}
		if !chance(f.Otherwise) {
			return say.Error("rules.finding-not-chance-between-0", "name", name, "otherwise", f.Otherwise)
		}
	}
	for _, c := range t.Causes {
		if err := t.checkCause(c); err != nil {
			return say.Error("rules.cause", "cause", c.Cause, "err", err)
		}
	}
	for _, s := range t.Sights {
		if _, ok := t.Findings[s.Is]; !ok {
			return say.Error("rules.sight-there-no-finding", "what", s.What, "finding", s.Finding, "is", s.Is)
		}
	}
	for _, x := range t.Tests {
		if x.Words == "" || x.Tells == "" {
			return say.Error("rules.row-no-words", "name", x.Test)
		}
		for name := range x.Settles {
			if _, ok := t.Findings[name]; !ok {
				return say.Error("rules.test-there-no-finding", "test", x.Test, "name", name)
			}
		}
	}
	return nil
}

func (t CauseTable) checkCause(c Cause) error {
	classes := cylinderClasses
	if c.Scope == "engine" {
		classes = engineClasses
	}
	switch {
	case c.Words == "" || c.Phrase == "":
		return say.Error("rules.row-no-words", "name", c.Cause)
	case !chance(c.Prior):
		return say.Error("rules.prior-not-chance-between-0", "prior", c.Prior)
	case !slices.Contains(classes, c.Class):
		return say.Error("rules.class-not-one-scope", "class", c.Class, "scope", c.Scope)
	}
	for name, p := range c.Given {
		if _, ok := t.Findings[name]; !ok || !chance(p) {
			return say.Error("rules.with-no-finding-with-chance", "name", name, "p", p)
		}
	}
	for _, other := range t.Causes {
		if other.Cause != c.Cause && other.Class == c.Class && other.Scope == c.Scope && maps.Equal(other.Given, c.Given) {
			return say.Error("rules.nothing-tells-from-name-finding", "cause", other.Cause)
		}
	}
	return nil
}

// Past is what is known of an engine before its tests.
type Past int

// One that has run, one that has hardly run since it was built, and one that was found, of which nobody here knows anything.
const (
	HasRun Past = iota
	Built
	AsFound
)

// Times returns how many times as common as the built-in table says a workshop takes a cause to be.
func (c Cause) Times() float64 { return c.Prior / c.builtIn }

// In returns how common a cause is in an engine: its share of the faults there.
func (c Cause) In(e log.Engine, past Past) float64 {
	often := c.Prior
	times := func(name string) {
		if p, ok := c.Often[name]; ok {
			often *= p / c.builtIn
		}
	}
	if e.Induction != "" && e.Induction != "natural" {
		times("boosted")
	}
	if past == AsFound {
		times("found")
	}
	switch {
	case past == Built:
		times("built")
	case diesel(e):
		times("diesel")
	case e.Kind == log.TwoStroke:
		times("two-stroke")
	}
	return often
}

func chance(p float64) bool { return p > 0 && p < 1 }

// Seen returns the finding that an observation is, "" where it tells nothing of causes.
func (t CauseTable) Seen(what, finding string) string {
	for _, s := range t.Sights {
		if s.What == what && s.Finding == finding {
			return s.Is
		}
	}
	return ""
}

// Found returns the cause that somebody noted as found when the engine was opened: by its id, its words, or words that it had before;
// "" where it was something else.
func (t CauseTable) Found(finding string) string {
	for _, c := range t.Causes {
		if finding == c.Cause || finding == c.Words || finding == c.Rotary || slices.Contains(c.Was, finding) {
			return c.Cause
		}
	}
	return ""
}

// Named returns the test of that name.
func (t CauseTable) Named(test string) Test {
	i := slices.IndexFunc(t.Tests, func(x Test) bool { return x.Test == test })
	if i < 0 {
		return Test{}
	}
	return t.Tests[i]
}

// Chance returns how likely a finding is with a cause.
func (t CauseTable) Chance(given map[string]float64, finding string) float64 {
	if p, ok := given[finding]; ok {
		return p
	}
	return t.Findings[finding].Otherwise
}

// For returns the table in the words for a kind of engine, without the causes that it cannot have.
func (t CauseTable) For(kind string) CauseTable {
	t.Causes = slices.DeleteFunc(slices.Clone(t.Causes), func(c Cause) bool { return slices.Contains(c.NotFor, kind) })
	t.Tests, t.Findings = slices.Clone(t.Tests), maps.Clone(t.Findings)
	for i, x := range t.Tests {
		switch kind {
		case log.TwoStroke:
			t.Tests[i].Tells = cmp.Or(x.TwoStroke, x.Tells)
		case log.Rotary:
			t.Tests[i].Tells = cmp.Or(x.Rotary, x.Tells)
		}
	}
	for name, f := range t.Findings {
		switch kind {
		case log.Rotary:
			f.Words = cmp.Or(f.Rotary, f.Words)
		case log.TwoStroke:
			f.Words = cmp.Or(f.TwoStroke, f.Words)
		}
		t.Findings[name] = f
	}
	if kind != log.Rotary {
		return t
	}
	for i, c := range t.Causes {
		if c.Rotary != "" {
			t.Causes[i].Words, t.Causes[i].Phrase = c.Rotary, say.Text("rules.its", "rotary", c.Rotary)
			t.Causes[i].Mend = cmp.Or(c.RotorFix, say.Text("rules.open-measure-seals"))
		}
	}
	return t
}

// Names of rows that the judge asks for.
const (
	OilLifts   = "oil-lifts"
	OilNothing = "oil-nothing"
	Misread    = "tester"
	WetTest    = "wet"
	BoresOfAll = "rings_bore"

	GaugeChanged = "gauge-changed"
	GaugeSame    = "gauge-same"
	StaysSo      = "stays"
	HeightRight  = "height-right"
)

// How causes are weighed, and the pace at which a fault came.
const (
	// HardlyEver is the weight of a cause that no measurement speaks for. [chance; judgement]
	HardlyEver = 1e-9
	// Clearly is the ratio of chances from which a finding is evidence for or against a cause. [–; judgement]
	Clearly = 1.5
	// TwiceOtherwise is how much likelier than elsewhere a finding has to be with a cause to be evidence for it. [–; judgement]
	TwiceOtherwise = 2.0
	// ShownFrom is how many times likelier with a cause than elsewhere a finding has to be to show it. [–; judgement]
	ShownFrom = 8.0
	// BearsOutFrom is the same for a test to be worth doing before something is opened for that cause. [–; judgement]
	BearsOutFrom = 3.0
	// WorthTelling is how likely the second cause has to be for a test to tell it from the first. [chance; judgement]
	WorthTelling = 0.1
	// WorthAMinute is the drop of doubt from which a test is worth its time. [bit/min; judgement]
	WorthAMinute = 0.004

	// GrowingLess is how much smaller what still grows is than what is found. [–; judgement]
	GrowingLess = 2.2
	// GrowingWider is how much more unlike its sizes are. [–; judgement]
	GrowingWider = 1.35
	// FoundMore is how much larger a fault is in an engine as it is found, which nobody has looked after. [–; judgement]
	FoundMore = 1.3
	// FoundWider is how much more unlike its sizes are there. [–; judgement]
	FoundWider = 1.25
	// FiguresHold is the power that chances of causes are taken to, since the figures that they come from are doubtful themselves. [–; judgement]
	FiguresHold = 0.9
	// SizesOdd is how many faults are of a size that is not usual for their cause. [share; judgement]
	SizesOdd = 0.2
	// HarmElsewhere is how much of the harm of a happening is of the causes that come by running, too. [share; judgement]
	HarmElsewhere = 0.08
	// FoundLate is how much less likely it is that a happening before the last good test shows only now, for each test since. [share; judgement]
	FoundLate = 0.25

	// PaceSmall is how far a cylinder must have gone for its pace to be told: scatter makes steps of its own. [points and %; judgement]
	PaceSmall = 5.0
	// PaceLarge is how far one has gone that did not just begin. [points and %; judgement]
	PaceLarge = 12.0
	// PaceLargeAll is the same of all cylinders together. [%; judgement]
	PaceLargeAll = 8.0
	// PaceTests is how many tests back the pace is looked for. [tests; judgement]
	PaceTests = 12
	// PaceFew is how many tests at the least can tell it. [tests; judgement]
	PaceFew = 3
	// PaceBegun is the part of what it is now from which it had begun. [share; judgement]
	PaceBegun = 1.0 / 6
	// PaceSudden is the part that came in one step where it was sudden. [share; judgement]
	PaceSudden = 0.7
	// PaceGradual is the largest step where it was gradual. [share; judgement]
	PaceGradual = 0.55
	// RunsSeveral is how often another cylinder of an engine has the same fault by running as one that was found. [chance; judgement]
	RunsSeveral = 0.15
	// OneSided is how often a gasket between two lets air out of one and not of the other. [share; judgement]
	OneSided = 0.1
	// StoryTells is by how much what happened has to raise a cause to be told. [chance; judgement]
	StoryTells = 0.1
	// PathGrowsMost is the most that what grows is likely to have come between two tests. [chance; judgement]
	PathGrowsMost = 0.5
	// PathUseLeast is the least use that counts for that: a fault may be seen just as it begins. [intervals between tests; judgement]
	PathUseLeast = 0.3
	// UseLeast is the least that an engine is taken to be used between two tests. [intervals between tests; judgement]
	UseLeast = 0.1
	// UseMost is the most. [intervals between tests; judgement]
	UseMost = 5.0
	// BuiltTests is after how many tests an engine is no fresh build. [tests; judgement]
	BuiltTests = 3
	// StoodDays is how far apart two tests lie of an engine that stood between them. [days; practice]
	StoodDays = 150
	// StoodUnwritten is how likely it then stood without being run. [chance; judgement]
	StoodUnwritten = 0.5
	// Stays is the part of what all lost that was lost at the test before, to say that it stays. [share; judgement]
	Stays = 0.5
)

// How likely what comes at once, and what grows, is seen on each path: unclear, at once, small as yet, grown test by test. Source: judgement.
var (
	PathSudden = [...]float64{0.1, 0.7, 0.1, 0.1}
	PathGrows  = [...]float64{0.15, 0.15, 0.35, 0.35}
)

// How a trend is told.
const (
	// TrendFew is how many tests since it began a trend needs. [tests; judgement]
	TrendFew = 3
	// TrendBegun is how far a cylinder has gone when it is said to have begun. [SE; judgement]
	TrendBegun = 1.5
)
