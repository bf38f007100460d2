package dial

import "slices"

// middle returns the middle one of some values; it sorts a copy.
func middle(v []float64) float64 {
	if len(v) == 0 {
		return 0
	}
	s := slices.Clone(v)
	slices.Sort(s)
	return s[len(s)/2]
}

// share returns the value below which a share of all lies.
func share(v []float64, q float64) float64 {
	s := slices.Clone(v)
	slices.Sort(s)
	return s[int(q*float64(len(s)-1))]
}
