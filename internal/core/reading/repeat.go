package reading

import (
	"math"

	"gonum.org/v1/gonum/stat"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// Spread is what pulls say of how well a tester repeats: their number, the sum of their squares about their cylinder's
// mean, in the square of a unit, and the degrees of freedom of that.
type Spread struct {
	Pulls   int
	Squares float64
	Free    float64
}

// of returns the spread of one cylinder's pulls.
func of(pulls []float64) Spread {
	if len(pulls) < 2 {
		return Spread{Pulls: len(pulls)}
	}
	n := float64(len(pulls) - 1)
	return Spread{len(pulls), n * stat.Variance(pulls, nil), n}
}

// Plus returns both spreads together; they must be in one unit.
func (s Spread) Plus(o Spread) Spread {
	return Spread{s.Pulls + o.Pulls, s.Squares + o.Squares, s.Free + o.Free}
}

// Spreads returns the spread of each tester over the dry pulls of a log, in kPa; struck ones are left out.
func Spreads(l log.Log) map[string]Spread {
	all := map[string]Spread{}
	var kept []float64
	for _, s := range l.Sessions {
		for _, row := range s.Compression {
			if row.Mode != log.Dry || row.Tester == "" {
				continue
			}
			kept = kept[:0]
			for _, p := range row.Pulls {
				if p.Counts() {
					kept = append(kept, float64(p.Pressure()))
				}
			}
			all[row.Tester] = all[row.Tester].Plus(of(kept))
		}
	}
	return all
}

// Repeatability returns the pooled standard deviation of a pull, s_r = √(Σ(n−1)s²/Σ(n−1)), and the limit 2.8·s_r beyond
// which two pulls of one cylinder are suspicious (ISO 5725-2), in the spread's unit; 0 where no cylinder was pulled twice.
func (s Spread) Repeatability() (sd, limit float64) {
	if s.Free == 0 {
		return 0, 0
	}
	sd = math.Sqrt(s.Squares / s.Free)
	return sd, rules.RepeatLimit * sd
}

// Repeatability returns the repeatability of groups of pulls, each of one cylinder.
func Repeatability(groups [][]float64) (sd, limit float64) {
	var s Spread
	for _, g := range groups {
		s = s.Plus(of(g))
	}
	return s.Repeatability()
}
