package belief

import (
	"math"

	"braxel/internal/core/rules"
)

// Part is one way in which a row of pulls may be meant: a logarithm of pressure with its standard deviation, and how
// likely that is; Whole where it is all of them.
type Part struct {
	Weight, Mean, SD float64
	Whole            bool
}

// Row returns what the pulls of a row may mean, logarithms with their standard deviations: all of them as read, or some, the
// others having failed. Two that disagree are not averaged. The weights sum to 1; what is unlikely is left out.
func Row(logs, sds []float64) []Part {
	n := len(logs)
	if n > rules.PullsMost {
		logs, sds, n = logs[n-rules.PullsMost:], sds[n-rules.PullsMost:], rules.PullsMost
	}
	if n == 0 {
		return nil
	}
	var parts []Part
	whole := 0.0
	for set := 1; set < 1<<n; set++ {
		weight, mean, variance := 1.0, 0.0, math.Inf(1)
		for k := range n {
			if set&(1<<k) == 0 {
				continue
			}
			weight *= 1 - rules.PullFails
			v := sds[k] * sds[k]
			if math.IsInf(variance, 1) {
				mean, variance = logs[k], v
				continue
			}
			weight *= density(logs[k]-mean, math.Sqrt(variance+v))
			gain := variance / (variance + v)
			mean += gain * (logs[k] - mean)
			variance *= 1 - gain
		}
		for k := range n {
			if set&(1<<k) == 0 {
				weight *= rules.PullFails
				if logs[k] < mean {
					weight *= rules.FailsBelow
				} else {
					weight *= rules.FailsOver
				}
			}
		}
		parts = append(parts, Part{weight, mean, math.Sqrt(variance), set == 1<<n-1})
		whole += weight
	}
	kept, sum := parts[:0], 0.0
	for _, p := range parts {
		if p.Weight /= whole; p.Weight > 1e-4 {
			kept = append(kept, p)
			sum += p.Weight
		}
	}
	for i := range kept {
		kept[i].Weight /= sum
	}
	return kept
}

// fails returns the chance that a row's reading is none of its pulls: a gauge that did not seal twice alike is rare.
func fails(pulls int) float64 {
	switch {
	case pulls < 2:
		return rules.PullFails
	case pulls == 2:
		return rules.PullFailsTwice
	}
	return rules.PullFailsOften
}
