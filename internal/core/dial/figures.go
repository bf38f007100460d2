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

// standsOut returns by how much a place, half to each side, is darker (or brighter) than both its neighbours a gap away; sums are those
// of all values before each place.
func standsOut(sums []float64, at, half, gap int, dark bool) float64 {
	mean := func(c int) float64 { return (sums[c+half+1] - sums[c-half]) / float64(2*half+1) }
	here, left, right := mean(at), mean(at-gap), mean(at+gap)
	if dark {
		return min(left, right) - here
	}
	return here - max(left, right)
}
