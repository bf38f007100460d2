package reading

import (
	"slices"

	"gonum.org/v1/gonum/stat"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// Rise is how many beats a cylinder took to its plateau, beside the middle one of the others.
type Rise struct {
	Cylinder int
	Beats    float64
	Usual    float64
}

// Slow reports whether it rose slowly: a cylinder that leaks is filled beat by beat.
func (r Rise) Slow() bool {
	return r.Beats >= rules.RiseSlow*r.Usual && r.Beats >= r.Usual+rules.RiseSlowBeats
}

// Sudden reports whether it was up at once, as one is that shares its pressure with a neighbour.
func (r Rise) Sudden() bool { return r.Beats <= rules.RiseSudden && r.Usual >= rules.RiseOften }

// Rises returns the cylinders of a test whose beats were counted to the plateau, of which three at least are needed. Where cranking is
// stopped by a count or a time, beats say nothing.
func Rises(s log.Session) []Rise {
	if rule := s.Conditions.Cranking.Rule; rule == "count" || rule == "time" {
		return nil
	}
	counted := map[int][]float64{}
	var order []int
	for _, row := range s.Compression {
		if row.Mode != log.Dry || row.Cylinder == 0 {
			continue
		}
		for _, p := range row.Pulls {
			if !p.Counts() || p.Beats == 0 {
				continue
			}
			if counted[row.Cylinder] == nil {
				order = append(order, row.Cylinder)
			}
			counted[row.Cylinder] = append(counted[row.Cylinder], float64(p.Beats))
		}
	}
	const enough = 3
	if len(order) < enough {
		return nil
	}
	var all []Rise
	for _, c := range order {
		var others []float64
		for _, other := range order {
			if other != c {
				others = append(others, stat.Mean(counted[other], nil))
			}
		}
		slices.Sort(others)
		all = append(all, Rise{c, stat.Mean(counted[c], nil), stat.Quantile(0.5, stat.Empirical, others, nil)})
	}
	return all
}

// Words says of a rise that stands out what it may be; "" where it does not.
func (r Rise) Words() string {
	switch {
	case r.Slow():
		return say.Text("reading.took-compressions-stop-rising-others",
			"cylinder", r.Cylinder,
			"beats", r.Beats,
			"usual", r.Usual,
		)
	case r.Sudden():
		return say.Text("reading.was-up-others-took-compressions",
			"cylinder", r.Cylinder,
			"beats", r.Beats,
			"usual", r.Usual,
		)
	}
	return ""
}
