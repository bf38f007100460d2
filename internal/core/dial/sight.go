package dial

// Sight is what the needle showed in one picture. Sure is from 0 to 1; Sweep is half of what it swept while the lens was open.
type Sight struct {
	Seconds float64
	Value   float64
	Sure    float64
	Sweep   float64
	From    [2]float64 // the needle in that picture, in its dots: its axis
	To      [2]float64 // and some of the way to its tip
}

// How sure a sight has to be to count, and to be part of the curve, which says when something happened, not what was reached.
const (
	Believed = 0.5
	glimpsed = 0.1
)
