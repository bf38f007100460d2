package trace

import (
	"math"
	"slices"

	"braxel/internal/core/say"
)

// Read says what a recording holds.
func Read(r Recording, k Known) Answer {
	a := read(r, k)
	figures := []float64{a.RPM, a.FirstShare, a.SpeedFellPct}
	if a.PeakKPa != nil {
		figures = append(figures, *a.PeakKPa)
	}
	for _, b := range a.Beats {
		figures = append(figures, b.Value, b.Seconds, b.RPM)
	}
	if slices.ContainsFunc(figures, func(v float64) bool { return math.IsNaN(v) || math.IsInf(v, 0) }) {
		return Answer{File: k.File, Why: say.Text("trace.rises-make-no-speed-or")}
	}
	return a
}

func read(r Recording, k Known) Answer {
	a := Answer{File: k.File}
	r.Values = plain(r.Values)
	if r.Measured == Pressure && upsideDown(r.Values) {
		for i := range r.Values {
			r.Values[i] = -r.Values[i]
		}
		r.HasTop = false
	}
	if stuck(r.Values) {
		a.Why = say.Text("trace.every-sample-has-same-value")
		return a
	}
	rate := pressureRate
	if r.Measured == Current {
		rate = currentRate
	}
	s := even(r, rate)
	s.hum()
	s.doubt()
	switch {
	case r.Measured == Current:
		readCurrent(&a, r, s, k)
	case stays(s):
		readStairs(&a, r, s, k)
	default:
		readPulses(&a, r, s, k)
	}
	return a
}

// plain returns the values without single ones that stand far from both their neighbours: a slip of the recorder, which no pressure
// and no current follows so fast.
func plain(v []float64) []float64 {
	out := slices.Clone(v)
	far := 0.4 * (quantile(v, 0.99) - quantile(v, 0.01))
	for i := 1; i+1 < len(v); i++ {
		a, b := v[i]-v[i-1], v[i]-v[i+1]
		if math.Min(math.Abs(a), math.Abs(b)) > far && a*b > 0 && math.Abs(v[i-1]-v[i+1]) < far {
			out[i] = (v[i-1] + v[i+1]) / 2
		}
	}
	return out
}

// upsideDown reports whether a pressure was recorded with its sign turned: it goes further below none than there is air to take away,
// and hardly above.
func upsideDown(v []float64) bool {
	low, high := quantile(v, 0.002), quantile(v, 0.998)
	return -low > vacuum && -low > 2*high
}

// vacuum is a little more than all that a gauge can show below the ambient, kPa.
const vacuum = 125.0

// stuck reports whether nearly all samples have one value, and the rest are next to it.
func stuck(v []float64) bool {
	low, high := slices.Min(v), slices.Max(v)
	if high > low && high-low >= 0.02*math.Abs(high) {
		return false
	}
	counts := map[float64]int{}
	most := 0
	for _, x := range v {
		counts[x]++
		most = max(most, counts[x])
	}
	return most > len(v)*95/100
}

// quantile returns the value below which the share q of all lies.
func quantile(v []float64, q float64) float64 {
	s := slices.Clone(v)
	slices.Sort(s)
	return s[int(q*float64(len(s)-1))]
}

// stays reports whether a pressure that rose stays up, as a check valve holds it: from where it first stands half-way to its
// highest on, it is hardly ever below.
func stays(s signal) bool {
	low, high := quantile(s.v, 0.002), quantile(s.v, 0.998)
	smooth := s.bell(0.004)
	if high-low < 12*s.noise {
		return false
	}
	begun := slices.IndexFunc(smooth, func(v float64) bool { return v > low+0.5*(high-low) })
	if begun < 0 || len(smooth)-begun < 20 {
		return false
	}
	below := 0
	for _, v := range smooth[begun:] {
		if v < low+0.4*(high-low) {
			below++
		}
	}
	return float64(below) < 0.1*float64(len(smooth)-begun) && rises(smooth[:begun], low, high)
}

// rises reports whether a pressure came up from the bottom and did not fall back on its way. One that was up from the first
// sample did, too.
func rises(v []float64, low, high float64) bool {
	best := low
	for _, x := range v {
		if best = max(best, x); x < best-0.15*(high-low) {
			return false
		}
	}
	return true
}

// nothing says that no engine was turning.
func nothing(a *Answer, s signal) {
	a.Readable = false
	a.Why = say.Text("trace.no-engine-turning-recording-nothing", "noise", s.noise)
}
