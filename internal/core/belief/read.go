package belief

import "math"

// Part is one way in which a row of pulls may be meant: a logarithm of pressure with its standard deviation, and how
// likely that is; Whole where it is all of them.
type Part struct {
	Weight, Mean, SD float64
	Whole            bool
}

// What goes wrong with a pull: not sealed, or written down wrong. It stands anywhere in a wide range, oftener too low.
const (
	pullFails  = 0.015
	failsBelow = 0.75
	failsOver  = 0.12
	mostPulls  = 5
)

// Row returns what the pulls of a row may mean, logarithms with their standard deviations: all of them as read, or some, the
// others having failed. Two that disagree are not averaged. The weights sum to 1; what is unlikely is left out.
func Row(logs, sds []float64) []Part {
	n := len(logs)
	if n > mostPulls {
		logs, sds, n = logs[n-mostPulls:], sds[n-mostPulls:], mostPulls
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
			weight *= 1 - pullFails
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
				weight *= pullFails
				if logs[k] < mean {
					weight *= failsBelow
				} else {
					weight *= failsOver
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
		return pullFails
	case pulls == 2:
		return 0.0015
	}
	return 0.0004
}
