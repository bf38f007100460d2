package dial

import (
	"math"

	"braxel/internal/core/say"
)

// Mark is a point of the scale that somebody tapped on the first picture, in its dots, and what stands there.
type Mark struct {
	At    [2]float64 `json:"at"`
	Value float64    `json:"value"`
}

// Marks are the axis of the needle, the beginning of the scale and one to four marks with a figure.
type Marks struct {
	Centre [2]float64 `json:"centre"`
	Points []Mark     `json:"points"`
	Unit   string     `json:"unit"`
}

// What a dial is: marks no nearer to the axis than its hub is wide, of a scale that goes most of a turn at most.
const (
	leastRadius = 12.0 // dots: below it a needle's width is a tenth of the scale
	mostRadii   = 2.2  // the farthest mark from the axis in nearest ones: of a dial seen from far aside, or tapped beside it
	mostTurn    = 350.0
	leastTurn   = 8.0 // degrees between two marks
)

// ErrMarks is why marks cannot be those of a dial.
var (
	ErrMarkCount  = say.Error("dial.marks-two-to-five")
	ErrMarkNear   = say.Error("dial.marks-too-near-axis")
	ErrMarkFar    = say.Error("dial.marks-not-on-one-circle")
	ErrMarkSame   = say.Error("dial.marks-same-value-or-place")
	ErrMarkUneven = say.Error("dial.marks-no-even-scale")
	ErrMarkOut    = say.Error("dial.marks-outside-picture")
)

// tapped is the scale as the taps have it: degrees clockwise from the right, as a picture has them, at which the first mark is, and
// degrees for each unit.
type tapped struct {
	from, slope float64
	radius      float64 // dots, of the farthest mark
	apart       float64 // degrees by which the worst mark is beside an even scale
}

// read makes a scale of taps, or says why they are none.
func (m Marks) read(w, h int) (tapped, error) {
	if len(m.Points) < 2 || len(m.Points) > 5 {
		return tapped{}, ErrMarkCount
	}
	var t tapped
	least := math.Inf(1)
	angles := make([]float64, len(m.Points))
	all := []float64{m.Centre[0], m.Centre[1]}
	for i, p := range m.Points {
		all = append(all, p.At[0], p.At[1], p.Value)
		r := math.Hypot(p.At[0]-m.Centre[0], p.At[1]-m.Centre[1])
		t.radius, least = max(t.radius, r), min(least, r)
		angles[i] = math.Atan2(p.At[1]-m.Centre[1], p.At[0]-m.Centre[0]) * 180 / math.Pi
	}
	for _, v := range all {
		if math.IsNaN(v) || math.IsInf(v, 0) {
			return tapped{}, ErrMarkUneven
		}
	}
	out := func(p [2]float64) bool { return p[0] < -1 || p[1] < -1 || p[0] > float64(w) || p[1] > float64(h) }
	for _, p := range m.Points {
		if out(p.At) || out(m.Centre) {
			return tapped{}, ErrMarkOut
		}
	}
	switch {
	case least < leastRadius:
		return tapped{}, ErrMarkNear
	case t.radius > mostRadii*least:
		return tapped{}, ErrMarkFar
	}
	for i := range m.Points {
		for j := range i {
			if m.Points[i].Value == m.Points[j].Value || math.Abs(wrap(angles[i]-angles[j])) < leastTurn {
				return tapped{}, ErrMarkSame
			}
		}
	}
	t.from, t.slope, t.apart = even(angles, m.Points)
	if t.apart > mostApart {
		return tapped{}, ErrMarkUneven
	}
	return t, nil
}

// mostApart is how far taps may be beside an even scale, degrees: a dial at 40° makes 7° of it, and a finger some.
const mostApart = 22.0

// even returns the even scale that goes through marks best. Two marks may be joined clockwise or the other way: clockwise, unless that
// would be more than the rest of a turn allows; three and more say which.
func even(angles []float64, points []Mark) (from, slope, apart float64) {
	apart = math.Inf(1)
	low, high := 0, 0
	for i, p := range points {
		if p.Value < points[low].Value {
			low = i
		}
		if p.Value > points[high].Value {
			high = i
		}
	}
	span := points[high].Value - points[low].Value
	for _, sense := range []float64{1, -1} {
		turn := math.Mod(sense*(angles[high]-angles[low])+720, 360)
		if turn > mostTurn || len(points) == 2 && sense < 0 && !math.IsInf(apart, 1) {
			continue
		}
		k := sense * turn / span
		// The middle one of what the marks say of the beginning.
		var rest []float64
		for i, p := range points {
			rest = append(rest, wrap(angles[i]-angles[low]-k*(p.Value-points[low].Value)))
		}
		mid := 0.0
		for _, r := range rest {
			mid += r / float64(len(rest))
		}
		worst := 0.0
		for _, r := range rest {
			worst = max(worst, math.Abs(r-mid))
		}
		if worst < apart {
			from, slope, apart = angles[low]+mid-k*points[low].Value, k, worst
		}
	}
	return from, slope, apart
}

// wrap brings degrees to within half a turn of none.
func wrap(d float64) float64 {
	return d - 360*math.Round(d/360)
}
