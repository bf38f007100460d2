// Package cause weighs what may be wrong against what was found, from a table that a builder can correct.
package cause

import (
	"cmp"
	_ "embed"
	"fmt"
	"maps"
	"math"
	"slices"
	"sync"

	"braxel/internal/core/log"
	"braxel/internal/core/shipped"
)

//go:embed table.json
var text []byte

// Finding is one thing that a test may show, and its chance where a cause does not name it.
type Finding struct {
	Words     string  `json:"words"`
	Rotary    string  `json:"rotary"` // its words where the engine has rotors
	Ported    string  `json:"two_stroke"`
	Otherwise float64 `json:"otherwise"`
}

// Cause is one row of the table: how common it is, whether it is of one cylinder, a pair or the engine, and the chances
// of the findings that go with it.
type Cause struct {
	Cause  string             `json:"cause"`
	Words  string             `json:"words"`
	Phrase string             `json:"phrase"` // as it stands in "most likely …"
	Prior  float64            `json:"prior"`
	Scope  string             `json:"scope"`
	NotFor []string           `json:"not_for"` // kinds of engine that have no such part
	Rotary string             `json:"rotary"`  // its words where the engine has rotors
	Mends  string             `json:"rotary_mend"`
	Mend   string             `json:"mend"` // as it stands in "not before …"
	Mind   string             `json:"mind"` // what to watch while the engine is run all the same
	Given  map[string]float64 `json:"given"`
	Note   string             `json:"note"`
}

// Test is something that may be done next, its effort, and how far it settles findings (1: fully).
type Test struct {
	Test    string             `json:"test"`
	Words   string             `json:"words"`
	Minutes float64            `json:"minutes"`
	Step    string             `json:"step"`
	Tells   string             `json:"tells"` // what it settles, in words
	Rotors  string             `json:"rotary_tells"`
	Ported  string             `json:"two_stroke_tells"`
	Settles map[string]float64 `json:"settles"`
}

// Sight is an observation, in the words that the sheet offers, and the finding that it is.
type Sight struct {
	What    string `json:"what"`
	Finding string `json:"finding"`
	Is      string `json:"is"`
}

// Table is the whole of it.
type Table struct {
	About    string             `json:"about"`
	Findings map[string]Finding `json:"findings"`
	Causes   []Cause            `json:"causes"`
	Tests    []Test             `json:"tests"`
	Sights   []Sight            `json:"sights"`
}

// Seen returns the finding that an observation is, "" where it tells nothing of causes.
func (t Table) Seen(what, finding string) string {
	for _, s := range t.Sights {
		if s.What == what && s.Finding == finding {
			return s.Is
		}
	}
	return ""
}

// Load returns the built-in table, checked.
var Load = sync.OnceValue(func() Table { return shipped.Table[Table](text) })

// Check reports the first thing wrong with a table: a chance that is none, a finding that is not defined.
func (t Table) Check() error {
	for name, f := range t.Findings {
		if !(f.Otherwise > 0 && f.Otherwise < 1) {
			return fmt.Errorf("finding %s: %g is no chance", name, f.Otherwise)
		}
	}
	for _, c := range t.Causes {
		if !(c.Prior > 0 && c.Prior < 1) {
			return fmt.Errorf("cause %s: prior %g is no chance", c.Cause, c.Prior)
		}
		for name, p := range c.Given {
			if _, ok := t.Findings[name]; !ok || !(p > 0 && p < 1) {
				return fmt.Errorf("cause %s: %s with %g is no finding with a chance", c.Cause, name, p)
			}
		}
	}
	for _, s := range t.Sights {
		if _, ok := t.Findings[s.Is]; !ok {
			return fmt.Errorf("sight %s %s: there is no finding %s", s.What, s.Finding, s.Is)
		}
	}
	for _, x := range t.Tests {
		for name := range x.Settles {
			if _, ok := t.Findings[name]; !ok {
				return fmt.Errorf("test %s: there is no finding %s", x.Test, name)
			}
		}
	}
	return nil
}

// Weighed is a cause with its probability and what speaks for and against it.
type Weighed struct {
	Cause       string   `json:"cause"`
	Words       string   `json:"words"`
	Cylinders   []int    `json:"cylinders"`
	Probability float64  `json:"probability"`
	For         []string `json:"for"`
	Against     []string `json:"against"`

	phrase, mend, mind string
	given              map[string]float64
}

// Mend returns what has to be done before the engine is right, as it stands in "not before …"; "" where nothing has.
func (w Weighed) Mend() string { return w.mend }

// Mind returns what to watch while the engine is run all the same, as a sentence; "" where there is nothing special.
func (w Weighed) Mind() string { return w.mind }

// Named returns the test of that name.
func (t Table) Named(test string) Test {
	i := slices.IndexFunc(t.Tests, func(x Test) bool { return x.Test == test })
	if i < 0 {
		return Test{}
	}
	return t.Tests[i]
}

// For returns the table in the words for a kind of engine, without the causes that it cannot have.
func (t Table) For(kind string) Table {
	t.Causes = slices.DeleteFunc(slices.Clone(t.Causes), func(c Cause) bool { return slices.Contains(c.NotFor, kind) })
	t.Tests, t.Findings = slices.Clone(t.Tests), maps.Clone(t.Findings)
	for i, x := range t.Tests {
		switch {
		case kind == log.TwoStroke && x.Ported != "":
			t.Tests[i].Tells = x.Ported
		case kind == log.Rotary && x.Rotors != "":
			t.Tests[i].Tells = x.Rotors
		}
	}
	for name, f := range t.Findings {
		switch kind {
		case log.Rotary:
			f.Words = cmp.Or(f.Rotary, f.Words)
		case log.TwoStroke:
			f.Words = cmp.Or(f.Ported, f.Words)
		}
		t.Findings[name] = f
	}
	if kind != log.Rotary {
		return t
	}
	for i, c := range t.Causes {
		if c.Rotary != "" {
			t.Causes[i].Words, t.Causes[i].Phrase = c.Rotary, "its "+c.Rotary
			t.Causes[i].Mend = cmp.Or(c.Mends, "it is opened, and its seals are measured")
		}
	}
	return t
}

// Phrase returns the cause as it stands in a sentence: "its exhaust valve".
func (w Weighed) Phrase() string { return w.phrase }

func (t Table) chance(given map[string]float64, finding string) float64 {
	if p, ok := given[finding]; ok {
		return p
	}
	return t.Findings[finding].Otherwise
}

// Weigh returns every cause that is allowed with its posterior probability, most probable first; together they make 1.
// A finding speaks against a cause where it is clearly less likely than among all that are allowed, else for it where it
// is likelier than it is met otherwise.
func (t Table) Weigh(found []string, cylinders []int, allowed func(Cause) bool) []Weighed {
	return t.WeighAs(found, nil, cylinders, func(c Cause) float64 {
		if !allowed(c) {
			return 0
		}
		return c.Prior
	})
}

// WeighAs is Weigh with each cause counted as often as weight says, 0 for one that cannot be. Findings that are told have been
// weighed already: they are evidence in words, and change no chance.
func (t Table) WeighAs(found, told []string, cylinders []int, weight func(Cause) float64) []Weighed {
	usual, counted := t.usual(found, weight)
	all := make([]Weighed, 0, len(t.Causes))
	total := 0.0
	for i, c := range t.Causes {
		if !(counted[i] > 0) {
			continue
		}
		w := Weighed{
			Cause: c.Cause, Words: c.Words, Cylinders: []int{}, Probability: counted[i], For: []string{}, Against: []string{},
			phrase: c.Phrase, mend: c.Mend, mind: c.Mind, given: c.Given,
		}
		if c.Scope != "engine" {
			w.Cylinders = append(w.Cylinders, cylinders...)
		}
		for k, f := range found {
			p, finding := t.chance(c.Given, f), t.Findings[f]
			if !slices.Contains(told, f) {
				w.Probability *= p
			}
			switch {
			case p <= usual[k]/clearly:
				w.Against = append(w.Against, finding.Words)
			case p >= 2*finding.Otherwise || p >= clearly*usual[k]:
				w.For = append(w.For, finding.Words)
			}
		}
		total += w.Probability
		all = append(all, w)
	}
	for i := range all {
		all[i].Probability /= total
	}
	slices.SortStableFunc(all, func(a, b Weighed) int { return -cmpFloat(a.Probability, b.Probability) })
	return all
}

// clearly is the ratio of chances from which a finding is evidence.
const clearly = 1.5

// usual returns how likely each finding is over the causes, each counted as often as weight says, and how often that is.
func (t Table) usual(found []string, weight func(Cause) float64) (usual, counted []float64) {
	usual, counted = make([]float64, len(found)), make([]float64, len(t.Causes))
	met := 0.0
	for i, c := range t.Causes {
		counted[i] = weight(c)
		met += counted[i]
		for k, f := range found {
			usual[k] += counted[i] * t.chance(c.Given, f)
		}
	}
	for k := range usual {
		usual[k] /= met
	}
	return usual, counted
}

func cmpFloat(a, b float64) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

// worth is the drop in bits a minute from which a test is worth its time.
const worth = 0.004

// Next returns the tests that are expected to take away most doubt for their effort, at most so many, the best first: by the expected
// drop in entropy of the causes over their findings, per minute. Tests done already, and those not worth their time, are left out.
func (t Table) Next(causes []Weighed, done map[string]bool, most int) []Test {
	type ranked struct {
		test Test
		gain float64
	}
	var all []ranked
	for _, x := range t.Tests {
		if done[x.Test] || len(x.Settles) == 0 {
			continue
		}
		if gain := t.gain(causes, x) / x.Minutes; gain > worth {
			all = append(all, ranked{x, gain})
		}
	}
	slices.SortStableFunc(all, func(a, b ranked) int { return -cmpFloat(a.gain, b.gain) })
	var best []Test
	for _, r := range all[:min(most, len(all))] {
		best = append(best, r.test)
	}
	return best
}

// gain is the expected drop in entropy, in bits, from a test: its findings are taken to exclude each other, and what none of them
// says is an outcome, too. A finding that the test settles only in part counts for that part.
func (t Table) gain(causes []Weighed, x Test) float64 {
	names := slices.Sorted(maps.Keys(x.Settles)) // so that sums do not depend on the order of a map
	now, left := make([]float64, len(causes)), make([]float64, len(causes))
	whole := make([]float64, len(causes)) // of the chances of all findings, by cause; at least 1
	for i, w := range causes {
		now[i], left[i] = w.Probability, w.Probability
		sum := 0.0
		for _, name := range names {
			sum += x.Settles[name] * t.chance(w.given, name)
		}
		whole[i] = max(sum, 1)
	}
	gain, outcome := entropy(now), make([]float64, len(causes))
	for _, name := range names {
		share := x.Settles[name]
		met := 0.0
		for i, w := range causes {
			outcome[i] = w.Probability * share * t.chance(w.given, name) / whole[i]
			left[i] -= outcome[i]
			met += outcome[i]
		}
		gain -= met * entropy(outcome)
	}
	rest := 0.0
	for i := range left {
		left[i] = max(left[i], 0)
		rest += left[i]
	}
	return gain - rest*entropy(left)
}

// entropy returns the entropy in bits of weights, which need not add up to 1.
func entropy(weights []float64) float64 {
	total, h := 0.0, 0.0
	for _, w := range weights {
		total += w
		if w > 0 {
			h -= w * math.Log2(w)
		}
	}
	if total == 0 {
		return 0
	}
	return h/total + math.Log2(total)
}
