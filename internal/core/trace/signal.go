package trace

import (
	"math"
	"math/bits"
	"slices"

	"gonum.org/v1/gonum/dsp/fourier"
	"gonum.org/v1/gonum/floats"
	"gonum.org/v1/gonum/mat"
)

// signal is a recording on an even grid.
type signal struct {
	from, step float64 // s
	v          []float64
	noise      float64   // standard deviation of a sample, hum taken off
	lost       []bool    // where nothing was recorded
	smooth     []float64 // of a current, what its coils and the clamp leave of noise
}

func (s signal) at(i int) float64 { return s.from + float64(i)*s.step }
func (s signal) index(t float64) int {
	return min(max(int(math.Round((t-s.from)/s.step)), 0), len(s.v)-1)
}

// The rates in 1/s that a grid needs: a compression lasts some 20 ms, and the starter's coils smooth its current over some 10 ms.
const (
	pressureRate = 2000.0
	currentRate  = 500.0
)

// even brings a recording onto an even grid of its own rate: straight lines between samples, of one that is faster than the rate
// that is enough the mean of those in each step.
func even(r Recording, enough float64) signal {
	steps := make([]float64, 0, len(r.Seconds))
	for i := 1; i < len(r.Seconds); i++ {
		if d := r.Seconds[i] - r.Seconds[i-1]; d > 0 {
			steps = append(steps, d)
		}
	}
	step := median(steps)
	// Stamps rounded to whole ms have a step that is a multiple: the mean of the usual ones is nearer.
	var usual []float64
	for _, d := range steps {
		if d < 1.75*step {
			usual = append(usual, d)
		}
	}
	step = floats.Sum(usual) / float64(len(usual))
	seconds, values := r.Seconds, r.Values
	if step < 0.9/enough {
		step = 1 / enough
		seconds, values = thin(seconds, values, step)
	}
	last := seconds[len(seconds)-1]
	n := int((last-seconds[0])/step) + 1
	s := signal{from: seconds[0], step: step, v: make([]float64, n), lost: make([]bool, n)}
	j := 0
	for i := range n {
		t := s.at(i)
		for j+1 < len(seconds)-1 && seconds[j+1] < t {
			j++
		}
		a, b := seconds[j], seconds[j+1]
		share := 0.0
		if b > a {
			share = min(max((t-a)/(b-a), 0), 1)
		}
		s.v[i] = values[j] + share*(values[j+1]-values[j])
		s.lost[i] = b-a > 3.5*step
	}
	return s
}

// thin takes the means of a fast recording in steps (s).
func thin(seconds, values []float64, step float64) (t, v []float64) {
	from := seconds[0]
	for i := 0; i < len(seconds); {
		slot := math.Floor((seconds[i] - from) / step)
		sumT, sumV, n := 0.0, 0.0, 0.0
		for ; i < len(seconds) && math.Floor((seconds[i]-from)/step) == slot; i++ {
			sumT, sumV, n = sumT+seconds[i], sumV+values[i], n+1
		}
		t, v = append(t, sumT/n), append(v, sumV/n)
	}
	return t, v
}

// The mains that a lead picks up, in Hz.
var mains = []float64{50, 60}

// hum takes mains hum off: a sine of 50 or 60 Hz fitted to what is left beside a running mean, by robust least squares, where it
// explains a good part of it.
func (s *signal) hum() {
	if 1/s.step < 2.2*mains[0] {
		return
	}
	var best []float64
	bestLeft := 0.85 // what of the spread may be left at most, for the hum to be real
	for _, hz := range mains {
		if 1/s.step < 2.2*hz {
			continue
		}
		width := max(1, int(math.Round(1/hz/s.step)))
		rest := minus(s.v, running(s.v, width))
		sine, left := s.sine(rest, hz)
		if left < bestLeft {
			best, bestLeft = sine, left
		}
	}
	for i, b := range best {
		s.v[i] -= b
	}
}

// sine returns the sine of a frequency that fits, and what share of the spread it leaves.
func (s signal) sine(rest []float64, hz float64) (sine []float64, left float64) {
	before := spread(rest)
	if before == 0 {
		return nil, 1
	}
	weight := before
	var a, b float64
	for range 8 {
		var cc, ss, cs, yc, ys float64
		for i, y := range rest {
			sin, cos := math.Sincos(2 * math.Pi * hz * float64(i) * s.step)
			e := (y - a*cos - b*sin) / (2 * weight)
			if s.lost[i] || e*e > 1 {
				continue
			}
			w := (1 - e*e) * (1 - e*e)
			cc, ss, cs = cc+w*cos*cos, ss+w*sin*sin, cs+w*cos*sin
			yc, ys = yc+w*y*cos, ys+w*y*sin
		}
		det := cc*ss - cs*cs
		if det <= 1e-9*cc*ss {
			return nil, 1
		}
		a, b = (yc*ss-ys*cs)/det, (ys*cc-yc*cs)/det
		weight = max(before*0.3, weight*0.8)
	}
	sine = make([]float64, len(rest))
	after := make([]float64, len(rest))
	for i := range rest {
		sin, cos := math.Sincos(2 * math.Pi * hz * float64(i) * s.step)
		sine[i] = a*cos + b*sin
		after[i] = rest[i] - sine[i]
	}
	return sine, spread(after) / before
}

// spread returns a robust standard deviation: 1.4826 times the median distance from the median.
func spread(v []float64) float64 {
	m := median(v)
	d := make([]float64, len(v))
	for i, x := range v {
		d[i] = math.Abs(x - m)
	}
	return 1.4826 * median(d)
}

func minus(a, b []float64) []float64 {
	out := slices.Clone(a)
	floats.Sub(out, b)
	return out
}

// running returns the mean of so many samples about each.
func running(v []float64, width int) []float64 {
	sums := make([]float64, len(v)+1)
	for i, x := range v {
		sums[i+1] = sums[i] + x
	}
	out := make([]float64, len(v))
	for i := range v {
		a, b := max(0, i-width/2), min(len(v), i+width-width/2)
		out[i] = (sums[b] - sums[a]) / float64(b-a)
	}
	return out
}

// doubt sets the noise from second differences, in which anything slow is gone; at the ends of the range there is none.
func (s *signal) doubt() {
	var d []float64
	low, high := slices.Min(s.v), slices.Max(s.v)
	for i := 2; i < len(s.v); i++ {
		atEnd := s.v[i] == s.v[i-1] && (s.v[i] == low || s.v[i] == high)
		if !s.lost[i] && !s.lost[i-1] && !s.lost[i-2] && !atEnd {
			d = append(d, s.v[i]-2*s.v[i-1]+s.v[i-2])
		}
	}
	if len(d) > 0 {
		s.noise = spread(d) / math.Sqrt(6)
	}
}

// bell smooths with a bell curve of a standard deviation in s.
func (s signal) bell(sigma float64) []float64 {
	half := int(math.Ceil(3 * sigma / s.step))
	if half < 1 {
		return slices.Clone(s.v)
	}
	kernel := make([]float64, 2*half+1)
	for i := range kernel {
		z := float64(i-half) * s.step / sigma
		kernel[i] = math.Exp(-z * z / 2)
	}
	return convolve(s.v, kernel)
}

// convolve returns v weighted by a kernel about each sample, the weights of what lies within v made to sum to one.
func convolve(v, kernel []float64) []float64 {
	half := len(kernel) / 2
	n := 1 << bits.Len(uint(len(v)+len(kernel))) // the transform is quick for powers of two
	fft := fourier.NewFFT(n)
	padded := func(x []float64) []float64 { return append(slices.Clone(x), make([]float64, n-len(x))...) }
	bell := fft.Coefficients(nil, padded(kernel))
	filter := func(x []float64) []float64 {
		a := fft.Coefficients(nil, padded(x))
		for i := range a {
			a[i] *= bell[i]
		}
		out := fft.Sequence(nil, a)
		floats.Scale(1/float64(n), out)
		return out[half : half+len(v)]
	}
	ones := make([]float64, len(v))
	for i := range ones {
		ones[i] = 1
	}
	out := filter(v)
	floats.Div(out, filter(ones))
	return out
}

// parabola fits one to the samples within reach (s) of t, the next to it on either side at least, and returns its highest point.
func (s signal) parabola(t, reach float64) (at, value float64) {
	i := s.index(t)
	half := max(1, int(reach/s.step))
	a, b := max(0, i-half), min(len(s.v)-1, i+half)
	if b-a < 2 {
		return s.at(i), s.v[i]
	}
	design, y := mat.NewDense(b-a+1, 3, nil), mat.NewVecDense(b-a+1, nil)
	for k := a; k <= b; k++ {
		x := float64(k-i) / float64(half)
		design.SetRow(k-a, []float64{1, x, x * x})
		y.SetVec(k-a, s.v[k])
	}
	var c mat.VecDense
	if err := c.SolveVec(design, y); err != nil || c.AtVec(2) >= 0 {
		return s.at(i), s.v[i]
	}
	x := -c.AtVec(1) / (2 * c.AtVec(2))
	if math.Abs(x) > 1 {
		return s.at(i), s.v[i]
	}
	return s.at(i) + x*float64(half)*s.step, c.AtVec(0) - c.AtVec(1)*c.AtVec(1)/(4*c.AtVec(2))
}

// summit is a local maximum and by how much it stands above the higher of the valleys beside it.
type summit struct {
	i     int
	above float64
}

// summits returns the local maxima that stand out by at least least.
func summits(v []float64, least float64) []summit {
	left := valleys(v)
	back := slices.Clone(v)
	slices.Reverse(back)
	right := valleys(back)
	slices.Reverse(right)
	var all []summit
	for i := 1; i < len(v)-1; i++ {
		if !(v[i] > v[i-1] && v[i] >= v[i+1]) {
			continue
		}
		if above := v[i] - max(left[i], right[i]); above >= least {
			all = append(all, summit{i, above})
		}
	}
	return all
}

// valleys returns for each value the lowest of those before it, back to the last that is higher than it, itself among them.
func valleys(v []float64) []float64 {
	low := make([]float64, len(v))
	var higher []int // whose values fall
	for i, x := range v {
		low[i] = x
		for n := len(higher); n > 0 && v[higher[n-1]] <= x; n = len(higher) {
			low[i] = min(low[i], low[higher[n-1]])
			higher = higher[:n-1]
		}
		higher = append(higher, i)
	}
	return low
}
