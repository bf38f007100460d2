// Package reading turns pulls of the gauge into the figure that counts, and says how even a set of them is.
package reading

import (
	"math"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

// Reading is the representative reading of a cylinder, in gauge kPa. Settled is false where the rule asks for another
// pull; Pressure is then the mean of what there is. Pulls counts those that were not struck.
type Reading struct {
	Pressure units.Pressure
	Settled  bool
	Pulls    int
}

// Of returns the representative reading of a row's pulls; struck ones count for nothing. Under UntilTwoAgree the last
// two count, once they differ by no more than a division of the gauge or 2 % of the larger, whichever is more.
func Of(pulls []log.Pull, rule rules.PullRule, division units.Pressure) Reading {
	var kept []units.Pressure
	for _, p := range pulls {
		if p.Counts() {
			kept = append(kept, p.Pressure())
		}
	}
	n := len(kept)
	if n == 0 {
		return Reading{}
	}
	switch rule {
	case rules.One:
		return Reading{kept[n-1], true, n}
	case rules.Three:
		return Reading{mean(kept[max(0, n-3):]), n >= 3, n}
	default:
		last := kept[max(0, n-2):]
		return Reading{mean(last), n >= 2 && Agree(last[0], last[1], division), n}
	}
}

// Agree reports whether two pulls are one reading: within a division of the gauge or 2 % of the larger.
func Agree(a, b, division units.Pressure) bool {
	const rounding = 1e-9
	return math.Abs(float64(a-b)) <= math.Max(float64(division), rules.PullsAgree*math.Max(float64(a), float64(b)))+rounding
}

func mean(v []units.Pressure) units.Pressure {
	sum := units.Pressure(0)
	for _, p := range v {
		sum += p
	}
	return sum / units.Pressure(len(v))
}

// Division is what to assume of a gauge whose division nobody gave: 5 psi for a dial.
var Division = units.Reading{Value: rules.GaugeDivisionPSI, Unit: units.PSI}.Pressure()

// DivisionOf returns the gauge's division, or the assumed one.
func DivisionOf(t log.Tester) units.Pressure {
	if t.Resolution != nil && t.Resolution.Value > 0 {
		return t.Resolution.Pressure()
	}
	return Division
}
