package trace

import (
	"math"
	"slices"

	"braxel/internal/core/say"
)

// reached is the share of the held reading from which on a gauge is said to stand on its plateau.
const reached = 0.98

// tread is one step up.
type tread struct {
	at    float64 // s, where it rises fastest
	rise  float64
	level float64 // after it
}

// readStairs reads a recording behind a check valve: each compression lifts the reading a step, each less than the one before.
func readStairs(a *Answer, r Recording, s signal, k Known) {
	a.Form = Staircase
	base := s.bottom()
	held := s.held()
	peak := held - base
	steps := s.treads(peak)
	if len(steps) < 2 {
		if len(steps) == 1 {
			a.Why = say.Text("trace.there-only-one-compression-takes")
			return
		}
		nothing(a, s)
		return
	}
	a.Readable, a.Pulses = true, len(steps)
	for _, t := range steps {
		a.Beats = append(a.Beats, Beat{Seconds: t.at, Value: t.level - base})
	}
	all := gaps(a.Beats)
	usual := median(all)
	if len(all) > 2 {
		usual = quantile(all, 0.45)
	}
	a.Beats[0].Seconds += earlier / 360 / k.Turns() * usual
	a.RPM = climb(a.Beats, steps, usual, k.Turns(), max(grain(r.Values), s.noise))
	a.FirstShare = min(1, a.Beats[0].Value/peak)
	a.Clipped = flatTop(r, steps)
	if a.Clipped {
		a.Why = say.Text("trace.compressions-at-rpm-gauge-hit", "pulses", a.Pulses, "rpm", a.RPM)
		return
	}
	a.PeakKPa = &peak
	if !settled(steps, peak) {
		a.Why = say.Text("trace.compressions-at-rpm-up-kpa", "pulses", a.Pulses, "rpm", a.RPM, "peak", k.written(peak))
		return
	}
	beats := 0
	for _, b := range a.Beats {
		if beats++; b.Value >= reached*peak {
			break
		}
	}
	a.PlateauBeats = &beats
	a.Why = say.Text("trace.compressions-at-rpm-held-reading",
		"beats", beats,
		"rpm", a.RPM,
		"peak", k.written(peak),
		"firstShare", 100*a.FirstShare,
	)
}

// earlier is by how many degrees of the crank the first step rises fastest before the later ones do: it is lifted by all of the
// stroke, they by its end only. From the cranking of a cylinder with a ratio of 10 into a gauge.
const earlier = 12.0

// climb returns the mean speed while the starter drove, in 1/min. A step that is not much more than what the gauge is read to is not
// surely timed and counts for less.
func climb(beats []Beat, steps []tread, usual, turns, fine float64) float64 {
	speed(beats, usual, turns)
	var sum, weights float64
	for i, gap := range gaps(beats) {
		if beats[i+1].RPM == 0 {
			continue
		}
		w := min(1, steps[i+1].rise/(5*fine))
		sum, weights = sum+w*gap, weights+w
	}
	if weights == 0 {
		return 60 * turns / usual
	}
	return 60 * turns * weights / sum
}

// bottom returns what the gauge shows before the first rise: the middle of the samples up to where a twentieth of the whole has
// been climbed. A recording that begins in mid-air has none; there no pressure is where the gauge says.
func (s signal) bottom() float64 {
	low, high := quantile(s.v, 0.002), quantile(s.v, 0.998)
	end := slices.IndexFunc(s.v, func(v float64) bool { return v > low+0.05*(high-low)+3*s.noise })
	if float64(end)*s.step < 0.04 {
		return 0
	}
	return median(s.v[:max(1, end*9/10)])
}

// held returns the reading at the end: of the last tenth of a second of what was recorded, or of what was held before it was let off.
func (s signal) held() float64 {
	high := quantile(s.v, 0.998)
	low := quantile(s.v, 0.002)
	last := len(s.v) - 1
	for last > 0 && s.v[last] < high-0.1*(high-low) {
		last--
	}
	width := max(5, int(0.15/s.step))
	return median(s.v[max(0, last-width) : last+1])
}

// treads returns the steps: where the reading over the next stretch stands above that of the stretch before, by more than noise and
// drift would make it.
func (s signal) treads(span float64) []tread {
	smooth := s.bell(0.009)
	width := max(3, int(0.05/s.step))
	lift := make([]float64, len(smooth))
	sums := make([]float64, len(s.v)+1)
	for i, v := range s.v {
		sums[i+1] = sums[i] + v
	}
	mean := func(a, b int) float64 { return (sums[b] - sums[a]) / float64(b-a) }
	for i := width; i+width < len(s.v); i++ {
		lift[i] = mean(i, i+width) - mean(i-width, i)
	}
	least := max(0.004*span, 5*s.noise*math.Sqrt(2/float64(width)))
	var steps []tread
	for i := 1; i < len(lift)-1; i++ {
		if lift[i] < least || lift[i] != slices.Max(lift[max(0, i-3*width):min(len(lift), i+3*width)]) {
			continue
		}
		steps = append(steps, s.tread(smooth, i, width))
	}
	return climbing(counted(steps, span), span)
}

// tread measures a step about sample i: the levels before and after, and when.
func (s signal) tread(smooth []float64, i, width int) tread {
	after := median(s.v[min(i+width, len(s.v)-1):min(i+3*width, len(s.v))])
	before := median(s.v[max(0, i-3*width):max(1, i-width)])
	// Where it rises fastest: the needle's lag is the same for all, and half-way up lies early on the first, which is the longest.
	j := max(1, i-width)
	for n := j; n < min(i+width, len(smooth)-1); n++ {
		if smooth[n+1]-smooth[n-1] > smooth[j+1]-smooth[j-1] {
			j = n
		}
	}
	return tread{at: s.at(j), rise: after - before, level: after}
}

// counted leaves the steps that are compressions: none before the first that lifts a good part, none so close to another that it
// is that one's second half.
func counted(steps []tread, span float64) []tread {
	var out []tread
	for _, t := range steps {
		if len(out) == 0 && t.rise < 0.08*span {
			continue
		}
		if n := len(out); n > 0 && t.at-out[n-1].at < 0.12 {
			continue
		}
		out = append(out, t)
	}
	return out
}

// climbing leaves out what a needle's ringing makes: when it comes back from a swing it rises again, to no more than it had come to, and
// sooner than the next compression. Near the plateau a compression may lift it no higher, but that one comes in its turn.
func climbing(steps []tread, span float64) []tread {
	const higher, soon = 0.003, 0.75
	var gaps []float64
	top, at := math.Inf(-1), 0.0
	for _, t := range steps {
		if t.level <= top+higher*span {
			continue
		}
		if !math.IsInf(top, -1) {
			gaps = append(gaps, t.at-at)
		}
		top, at = t.level, t.at
	}
	if len(gaps) == 0 {
		return steps
	}
	gap := median(gaps)
	var out []tread
	top = math.Inf(-1)
	for _, t := range steps {
		if n := len(out); n > 0 && t.level <= top+higher*span && t.at-out[n-1].at < soon*gap {
			continue
		}
		out, top = append(out, t), max(top, t.level)
	}
	return out
}

// settled reports whether the reading had come to its plateau when the cranking stopped: what the steps that were left out would
// have added, each in proportion to the one before, is less than what a plateau is told by.
func settled(steps []tread, peak float64) bool {
	n := len(steps)
	if n < 3 {
		return false
	}
	last, before := steps[n-1].rise, steps[n-2].rise
	ratio := min(max(last/before, 0), 0.9)
	return last*ratio/(1-ratio) < (1-reached)*peak
}

// flatTop reports whether the gauge stood at the end of its range: on its last tread every sample is the highest, on the one before
// they differ.
func flatTop(r Recording, steps []tread) bool {
	high := slices.Max(r.Values)
	if r.HasTop && high >= r.Top*0.995 && r.Top > 0 {
		return true
	}
	if r.Needle { // which is read to whole divisions, and stands
		return false
	}
	n := len(steps)
	last, before := steps[n-1].at, steps[n-2].at
	alike := func(from, to float64) float64 {
		counts, all, most := map[float64]int{}, 0, 0
		for i, v := range r.Values {
			if t := r.Seconds[i]; t > from+0.15*(last-before) && t < to-0.1*(last-before) {
				counts[v]++
				all++
				most = max(most, counts[v])
			}
		}
		if all == 0 || counts[high] == 0 && to > last {
			return 0
		}
		return float64(most) / float64(all)
	}
	return alike(last, math.Inf(1)) > 0.97 && alike(before, last) < 0.7
}
