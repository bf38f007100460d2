package reading

import (
	"math"

	"gonum.org/v1/gonum/stat"
)

// Repeatability returns the pooled standard deviation of pulls about their cylinder's mean, s_r = √(Σ(n−1)s²/Σ(n−1)),
// and the limit 2.8·s_r beyond which two pulls of one cylinder are suspicious (ISO 5725-2). Both are in the readings'
// unit, and 0 where no cylinder was pulled twice.
func Repeatability(groups [][]float64) (sd, limit float64) {
	sum, free := 0.0, 0.0
	for _, g := range groups {
		if len(g) < 2 {
			continue
		}
		n := float64(len(g) - 1)
		sum += n * stat.Variance(g, nil)
		free += n
	}
	if free == 0 {
		return 0, 0
	}
	sd = math.Sqrt(sum / free)
	return sd, 2.8 * sd
}
