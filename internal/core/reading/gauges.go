package reading

import (
	"math"

	"braxel/internal/core/say"

	"gonum.org/v1/gonum/stat"
)

// GaugeCheck is one gauge held against another on the same pressures.
type GaugeCheck struct {
	Pairs      int     `json:"pairs"`
	Difference float64 `json:"difference" doc:"The other minus this one, mean, in their unit"`
	SE         float64 `json:"se" doc:"Standard error of the difference"`
	RatioPct   float64 `json:"ratio_pct" doc:"How far the other reads above this one, in percent"`
	Real       bool    `json:"real" doc:"The difference is beyond twice its standard error"`
}

// CheckGauges compares paired readings of two gauges: the mean difference, its standard error s/√n, and the ratio of
// their sums. At least two pairs are needed.
func CheckGauges(one, other []float64) (GaugeCheck, error) {
	if len(one) != len(other) {
		return GaugeCheck{}, say.Error("reading.each-reading-needs-pair-other")
	}
	if len(one) < 2 {
		return GaugeCheck{}, say.Error("reading.at-least-two-pairs-needed")
	}
	apart := make([]float64, len(one))
	sumOne, sumOther := 0.0, 0.0
	for i := range one {
		if !(one[i] > 0 && other[i] > 0) {
			return GaugeCheck{}, say.Error("reading.readings-must-above-0")
		}
		apart[i] = other[i] - one[i]
		sumOne += one[i]
		sumOther += other[i]
	}
	mean, sd := stat.MeanStdDev(apart, nil)
	se := stat.StdErr(sd, float64(len(apart)))
	return GaugeCheck{len(apart), mean, se, 100 * (sumOther/sumOne - 1), math.Abs(mean) > 2*se && mean != 0}, nil
}
