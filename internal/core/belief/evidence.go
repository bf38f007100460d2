package belief

// leakEvidence is what the leak-downs of a visit say of a cylinder: likelihoods where it is sound, with the part of it that is
// an innocent reading, and where it leaks, by size and place.
type leakEvidence struct {
	measured        bool
	sound, innocent float64
	leak            [sizes]float64 // of the figure and of what was heard, places weighed
	place           [places][sizes]float64
	figure          [sizes]float64
	table           *leaking
	factor          float64 // by which all leak more, a logarithm
	pct, pctSE      float64 // expected when sound
	y               float64 // the lowest
	ySE             float64
}
