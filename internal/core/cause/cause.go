// Package cause weighs what may be wrong against what was found, from a table that a builder can correct.
package cause

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"sync"
)

//go:embed table.json
var text []byte

// Finding is one thing that a test may show, and its chance where a cause does not name it.
type Finding struct {
	Words     string  `json:"words"`
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
	Mend   string             `json:"mend"`    // as it stands in "not before …"
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
	Settles map[string]float64 `json:"settles"`
}

// Table is the whole of it.
type Table struct {
	About    string             `json:"about"`
	Findings map[string]Finding `json:"findings"`
	Causes   []Cause            `json:"causes"`
	Tests    []Test             `json:"tests"`
}

// Load returns the built-in table, checked.
var Load = sync.OnceValue(func() Table {
	var t Table
	if err := json.Unmarshal(text, &t); err != nil {
		panic(err)
	}
	if err := t.Check(); err != nil {
		panic(err)
	}
	return t
})

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

	phrase, mend string
	given        map[string]float64
}

// Mend returns what has to be done before the engine is right, as it stands in "not before …"; "" where nothing has.
func (w Weighed) Mend() string { return w.mend }

// Fits reports whether a kind of engine has the part.
func (c Cause) Fits(kind string) bool { return !slices.Contains(c.NotFor, kind) }

// Phrase returns the cause as it stands in a sentence: "its exhaust valve".
func (w Weighed) Phrase() string { return w.phrase }

func (t Table) chance(given map[string]float64, finding string) float64 {
	if p, ok := given[finding]; ok {
		return p
	}
	return t.Findings[finding].Otherwise
}

// Weigh returns every cause that is allowed with its posterior probability, most probable first; together they make 1.
// A finding speaks for a cause when it is at least twice as likely there as elsewhere, against it when half.
func (t Table) Weigh(found []string, cylinders []int, allowed func(Cause) bool) []Weighed {
	var all []Weighed
	total := 0.0
	for _, c := range t.Causes {
		if !allowed(c) {
			continue
		}
		w := Weighed{Cause: c.Cause, Words: c.Words, Cylinders: []int{}, Probability: c.Prior, For: []string{}, Against: []string{}, phrase: c.Phrase, mend: c.Mend, given: c.Given}
		if c.Scope != "engine" {
			w.Cylinders = append(w.Cylinders, cylinders...)
		}
		for _, f := range found {
			p, otherwise := t.chance(c.Given, f), t.Findings[f].Otherwise
			w.Probability *= p
			switch {
			case p >= 2*otherwise:
				w.For = append(w.For, t.Findings[f].Words)
			case p <= otherwise/2:
				w.Against = append(w.Against, t.Findings[f].Words)
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

func cmpFloat(a, b float64) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

// Next returns the test that is expected to take away most doubt for its effort: the expected drop in entropy of the
// causes over its findings, per minute; false where no test is worth its time. Tests done already are left out.
func (t Table) Next(causes []Weighed, done map[string]bool) (Test, bool) {
	best, found := 0.0, Test{}
	for _, x := range t.Tests {
		if done[x.Test] {
			continue
		}
		if gain := t.gain(causes, x) / x.Minutes; gain > best {
			best, found = gain, x
		}
	}
	const worth = 0.004 // bits a minute
	return found, best > worth
}

// gain is the expected drop in entropy, in bits, from looking for each finding that the test settles: the best single
// one, since a test's findings largely exclude each other.
func (t Table) gain(causes []Weighed, x Test) float64 {
	now, with, without := make([]float64, len(causes)), make([]float64, len(causes)), make([]float64, len(causes))
	best := 0.0
	for name, share := range x.Settles {
		yes := 0.0
		for i, w := range causes {
			p := t.chance(w.given, name)
			now[i], with[i], without[i] = w.Probability, w.Probability*p, w.Probability*(1-p)
			yes += with[i]
		}
		best = math.Max(best, share*(entropy(now)-yes*entropy(with)-(1-yes)*entropy(without)))
	}
	return best
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
