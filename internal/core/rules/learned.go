package rules

import (
	"math"

	"braxel/internal/core/log"
)

// Opened is an engine that was opened, and the cause that was found.
type Opened struct {
	Engine log.Engine
	Cause  string
}

// FindingsWorth is how many findings the built-in table counts as. [findings; judgement]
const FindingsWorth = 40

// Learned returns how common each cause is in a workshop by what it found, as values of its settings: the mean of a Dirichlet distribution
// whose prior is the built-in table, worth FindingsWorth findings, (W·s + n)/(W + N) of share s and n of N findings. What the table says of
// another kind of engine keeps its proportion.
func Learned(all []Opened) map[string]float64 {
	shares, found, total := map[string]float64{}, map[string]float64{}, 0.0
	for _, o := range all {
		table := Causes().For(o.Engine.Kind)
		each, whole := map[string]float64{}, 0.0
		for _, c := range table.Causes {
			if c.Scope != "engine" && c.Class != IsInnocent {
				each[c.Cause] = c.In(o.Engine, HasRun)
				whole += each[c.Cause]
			}
		}
		if each[o.Cause] == 0 {
			continue // something that no cylinder of such an engine has
		}
		for cause, share := range each {
			shares[cause] += share / whole
		}
		found[o.Cause]++
		total++
	}
	out := map[string]float64{}
	for _, c := range Causes().Causes {
		if share := shares[c.Cause] / math.Max(total, 1); share > 0 {
			times := (FindingsWorth*share + found[c.Cause]) / ((FindingsWorth + total) * share)
			out[c.Cause] = math.Round(10000*min(max(c.Prior*times, CauseLeast), CauseMost)) / 10000
		}
	}
	return out
}
