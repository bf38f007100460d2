// Package cause weighs what may be wrong against what was found, by the table of causes in rules.
package cause

import (
	"cmp"
	"maps"
	"math"
	"slices"

	"braxel/internal/core/rules"
)

// Weighed is a cause with its probability and what speaks for and against it.
type Weighed struct {
	Cause       string   `json:"cause"`
	Words       string   `json:"words"`
	Cylinders   []int    `json:"cylinders"`
	Probability float64  `json:"probability"`
	For         []string `json:"for"`
	Against     []string `json:"against"`

	of       rules.Cause
	findings map[string]rules.Finding
	measured bool
}

// Mend returns what has to be done before the engine is right, as it stands in "not before …"; "" where nothing has.
func (w Weighed) Mend() string { return w.of.Mend }

// Mind returns what to watch while the engine is run all the same, as a sentence; "" where there is nothing special.
func (w Weighed) Mind() string { return w.of.Mind }

// ShownBy reports whether one of these findings shows it: one that lasts, and is far likelier with it than elsewhere.
func (w Weighed) ShownBy(found []string) bool {
	return slices.ContainsFunc(found, func(f string) bool {
		return w.findings[f].Lasting && w.of.Given[f] >= rules.ShownFrom*w.findings[f].Otherwise
	})
}

// Measured reports whether a test has shown it: air was heard where it lets it out, or somebody looked and measured.
func (w Weighed) Measured() bool { return w.measured }

// Class returns what the measurements can tell of it.
func (w Weighed) Class() rules.Class { return w.of.Class }

// NotRun reports whether the engine is not run before it is mended, even where it is only watched.
func (w Weighed) NotRun() bool { return w.of.NotRun }

// ShownByTest reports whether a test would bear it out.
func (w Weighed) ShownByTest(x rules.Test) bool {
	for name, share := range x.Settles {
		if f := w.findings[name]; f.Shows && share > 0 && w.of.Given[name] >= rules.BearsOutFrom*f.Otherwise {
			return true
		}
	}
	return false
}

// NoWait reports whether a test has shown what is mended and not watched, however small and however likely it still is: so that more is not
// milder.
func (w Weighed) NoWait() bool { return w.of.NoWait && w.measured }

// Snap reports whether dirt on a seat can look like it.
func (w Weighed) Snap() bool { return w.of.Snap }

// Phrase returns the cause as it stands in a sentence: "its exhaust valve".
func (w Weighed) Phrase() string { return w.of.Phrase }

// Weigh returns every cause that is allowed with its posterior probability, most probable first; together they make 1.
// A finding speaks against a cause where it is clearly less likely than among all that are allowed, else for it where it
// is likelier than it is met otherwise.
func Weigh(t rules.CauseTable, found []string, cylinders []int, allowed func(rules.Cause) bool) []Weighed {
	return weighAs(t, found, nil, cylinders, func(c rules.Cause) float64 {
		if !allowed(c) {
			return 0
		}
		return c.Prior
	})
}

// WeighBelieved is Weigh of causes of which something is believed already: each counts as often as weight says, 0 for one that cannot be,
// and what that belief has weighed is evidence in words, and changes no chance.
func WeighBelieved(t rules.CauseTable, found []string, cylinders []int, weight func(rules.Cause) float64) []Weighed {
	all := weighAs(t, found, func(f rules.Finding) bool { return f.Believed || f.Sized }, cylinders, weight)
	total := 0.0
	for i, w := range all { // the figures are doubtful themselves, and what they come to is drawn together for that
		all[i].Probability = math.Pow(w.Probability, rules.FiguresHold)
		total += all[i].Probability
	}
	for i := range all {
		all[i].Probability /= total
	}
	return all
}

// WeighSized is Weigh of causes whose weight says how often they are met of such a size.
func WeighSized(t rules.CauseTable, found []string, weight func(rules.Cause) float64) []Weighed {
	return weighAs(t, found, func(f rules.Finding) bool { return f.Sized }, nil, weight)
}

func weighAs(
	t rules.CauseTable, found []string, believed func(rules.Finding) bool, cylinders []int, weight func(rules.Cause) float64,
) []Weighed {
	usual, counted := usually(t, found, weight)
	all := make([]Weighed, 0, len(t.Causes))
	total := 0.0
	for i, c := range t.Causes {
		if !(counted[i] > 0) {
			continue
		}
		w := Weighed{
			Cause: c.Cause, Words: c.Words, Cylinders: []int{}, Probability: counted[i], For: []string{}, Against: []string{},
			of: c, findings: t.Findings,
		}
		if c.Scope != "engine" {
			w.Cylinders = append(w.Cylinders, cylinders...)
		}
		for k, f := range found {
			p, finding := t.Chance(c.Given, f), t.Findings[f]
			if believed == nil || !believed(finding) {
				w.Probability *= p
			}
			w.measured = w.measured || p >= rules.ShownFrom*finding.Otherwise && finding.Shows
			switch {
			case p <= usual[k]/rules.Clearly:
				w.Against = append(w.Against, finding.Words)
			case p >= rules.TwiceOtherwise*finding.Otherwise || p >= rules.Clearly*usual[k]:
				w.For = append(w.For, finding.Words)
			}
		}
		total += w.Probability
		all = append(all, w)
	}
	for i := range all {
		all[i].Probability /= total
	}
	slices.SortStableFunc(all, func(a, b Weighed) int { return cmp.Compare(b.Probability, a.Probability) })
	return all
}

// usually returns how likely each finding is over the causes, each counted as often as weight says, and how often that is.
func usually(t rules.CauseTable, found []string, weight func(rules.Cause) float64) (usual, counted []float64) {
	usual, counted = make([]float64, len(found)), make([]float64, len(t.Causes))
	met := 0.0
	for i, c := range t.Causes {
		counted[i] = weight(c)
		met += counted[i]
		for k, f := range found {
			usual[k] += counted[i] * t.Chance(c.Given, f)
		}
	}
	for k := range usual {
		usual[k] /= met
	}
	return usual, counted
}

// Next returns the tests that are expected to take away most doubt for their effort, at most so many: first the one that tells the two
// likeliest causes apart, if both are likely, then by the expected drop in entropy of all causes over their findings, per minute. Tests
// done already, and those not worth their time, are left out.
func Next(t rules.CauseTable, causes []Weighed, done map[string]bool, most int) []rules.Test {
	var best []rules.Test
	if len(causes) > 1 && causes[1].Probability >= rules.WorthTelling {
		best = ranked(t, causes[:2], done)
		best = best[:min(1, len(best))]
	}
	for _, x := range ranked(t, causes, done) {
		if len(best) == 0 || x.Test != best[0].Test {
			best = append(best, x)
		}
	}
	return best[:min(most, len(best))]
}

// Confirming returns the quickest test that would show a cause, if it is at work, false where there is none left.
func Confirming(t rules.CauseTable, w Weighed, done map[string]bool) (rules.Test, bool) {
	var best rules.Test
	for _, x := range t.Tests {
		if w.ShownByTest(x) && !done[x.Test] && (best.Test == "" || x.Minutes < best.Minutes) {
			best = x
		}
	}
	return best, best.Test != ""
}

// ranked returns the tests that are worth their time among some causes, the best first.
func ranked(t rules.CauseTable, causes []Weighed, done map[string]bool) []rules.Test {
	gains := map[string]float64{}
	var all []rules.Test
	for _, x := range t.Tests {
		if done[x.Test] || len(x.Settles) == 0 {
			continue
		}
		if gains[x.Test] = gain(t, causes, x) / x.Minutes; gains[x.Test] > rules.WorthAMinute {
			all = append(all, x)
		}
	}
	slices.SortStableFunc(all, func(a, b rules.Test) int { return cmp.Compare(gains[b.Test], gains[a.Test]) })
	return all
}

// gain is the expected drop in entropy, in bits, from a test: its findings are taken to exclude each other, and what none of them
// says is an outcome, too. A finding that the test settles only in part counts for that part.
func gain(t rules.CauseTable, causes []Weighed, x rules.Test) float64 {
	names := slices.Sorted(maps.Keys(x.Settles)) // so that sums do not depend on the order of a map
	now, left := make([]float64, len(causes)), make([]float64, len(causes))
	whole := make([]float64, len(causes)) // of the chances of all findings, by cause; at least 1
	for i, w := range causes {
		now[i], left[i] = w.Probability, w.Probability
		sum := 0.0
		for _, name := range names {
			sum += x.Settles[name] * t.Chance(w.of.Given, name)
		}
		whole[i] = max(sum, 1)
	}
	gain, outcome := entropy(now), make([]float64, len(causes))
	for _, name := range names {
		share := x.Settles[name]
		met := 0.0
		for i, w := range causes {
			outcome[i] = w.Probability * share * t.Chance(w.of.Given, name) / whole[i]
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
