package trace

import (
	"cmp"
	"math"
	"slices"

	"braxel/internal/core/say"
)

// Speeds between which a starter, or a hand on a kart's, cranks: 1/min.
const (
	slowest  = 50.0
	quickest = 900.0
)

// readPulses reads a recording without a check valve: one pulse a compression.
func readPulses(a *Answer, r Recording, s signal, k Known) {
	a.Form = Pulses
	smooth := s.bell(0.003)
	found := findPulses(s, smooth, k)
	if len(found) < 2 {
		if len(found) == 1 {
			a.Why = say.Text("trace.there-only-one-compression-somebody")
			return
		}
		nothing(a, s)
		return
	}
	usual := s.usualGap(found)
	rpm := 60 * k.Turns() / usual
	if rpm < slowest || rpm > quickest {
		a.Why = say.Text("trace.rises-would-mean-rpm-no", "rpm", rpm)
		return
	}
	degree := usual / (360 * k.Turns())
	base := func(float64) float64 { return 0 }
	if !r.Needle {
		base = s.floor(found, usual, k)
	}
	a.Clipped = clipped(r, len(found))
	for _, i := range found {
		at, value := s.parabola(s.at(i), 9*degree)
		a.Beats = append(a.Beats, Beat{Seconds: at, Value: value - base(at)})
	}
	a.Pulses = len(found)
	a.RPM = speed(a.Beats, usual, k.Turns())
	a.Readable = true
	best := math.Inf(-1)
	for _, b := range a.Beats {
		best = max(best, b.Value)
	}
	if !a.Clipped {
		a.PeakKPa = &best
	}
	a.Why = say.Text("trace.compressions-at-rpm-highest-kpa", "pulses", a.Pulses, "rpm", a.RPM, "best", k.written(best))
	if a.Clipped {
		a.Why = say.Text("trace.compressions-at-rpm-their-tops", "pulses", a.Pulses, "rpm", a.RPM)
	}
	if k.Engine == "rotary" {
		readFaces(a, usual, k)
	}
	a.SpeedFellPct = fell(a.Beats)
}

// findPulses returns where the pulses are at their highest: what stands out of the noise, by a good share of what the highest
// ones do.
func findPulses(s signal, smooth []float64, k Known) []int {
	const sure = 7 // standard deviations of the noise
	all := summits(smooth, sure*s.noise/2+1e-9)
	if len(all) == 0 {
		return nil
	}
	heights := make([]float64, len(all))
	for i, p := range all {
		heights[i] = p.above
	}
	slices.Sort(heights)
	tall := heights[len(heights)-1]
	if n := len(heights); n > 3 {
		tall = heights[n-3] // two may be slips
	}
	if tall < sure*s.noise {
		return nil
	}
	share := 0.35
	if k.Engine == "rotary" {
		share = 0.12 // one face may be far below the others
	}
	var found []int
	for _, p := range all {
		if p.above < share*tall {
			continue
		}
		// Two that stand closer than any starter turns are one with noise on its top.
		if n := len(found); n > 0 && s.step*float64(p.i-found[n-1]) < 60*k.Turns()/quickest {
			if smooth[p.i] > smooth[found[n-1]] {
				found[n-1] = p.i
			}
			continue
		}
		found = append(found, p.i)
	}
	return found
}

// usualGap returns the usual time in s between two pulses: the middle one, of those that are no pause.
func (s signal) usualGap(found []int) float64 {
	var all []float64
	for i := 1; i < len(found); i++ {
		all = append(all, s.step*float64(found[i]-found[i-1]))
	}
	middle := quantile(all, 0.4)
	return median(slices.DeleteFunc(all, func(d float64) bool { return d > slack*middle }))
}

// gaps returns the times between beats.
func gaps(beats []Beat) []float64 {
	var all []float64
	for i := 1; i < len(beats); i++ {
		all = append(all, beats[i].Seconds-beats[i-1].Seconds)
	}
	return all
}

// slack is how much longer than the usual one the time between two beats may be for the starter to have driven all of it: what a
// crank that spins up or a leaking cylinder's neighbours make.
const slack = 1.38

// runsOut is by how much longer than the one before the last gap of a run may be, before it is taken for the crank running out.
const runsOut = 1.12

// speed returns the mean speed while the starter drove, in 1/min, and marks the beats it counted.
func speed(beats []Beat, usual, turns float64) float64 {
	var sum, n float64
	all := gaps(beats)
	driven := func(i int) bool { return i >= 0 && i < len(all) && all[i] <= slack*usual && all[i] >= usual/slack }
	for i, gap := range all {
		out := driven(i-1) && !driven(i+1) && gap > runsOut*max(usual, all[i-1])
		if !driven(i) || out {
			continue
		}
		beats[i].Whole, beats[i+1].Whole = true, true
		beats[i+1].RPM = 60 * turns / gap
		sum, n = sum+gap, n+1
	}
	if n == 0 {
		return 60 * turns / usual
	}
	return 60 * turns * n / sum
}

// fell returns by how many percent the last third of the turns was slower than the fastest before it.
func fell(beats []Beat) float64 {
	var rpm []float64
	for _, b := range beats {
		if b.RPM > 0 {
			rpm = append(rpm, b.RPM)
		}
	}
	if len(rpm) < 4 {
		return 0
	}
	third := len(rpm) / 3
	early, late := slices.Max(rpm[:len(rpm)-third]), median(rpm[len(rpm)-third:])
	return max(0, 100*(1-late/early))
}

// floor returns what the gauge shows at no pressure, by time: what it showed while nothing moved. Where no such stretch was
// recorded, a piston engine's cylinder is open to the air between its pulses.
func (s signal) floor(found []int, usual float64, k Known) func(float64) float64 {
	times, levels := s.quiet()
	// A chamber that has stopped short of the ambient comes back to it slowly: of what follows the cranking, the end.
	if n := len(times); n > 1 && times[0] > s.at(found[len(found)-1]) {
		times, levels = times[n-1:], levels[n-1:]
	}
	var openTimes, openLevels []float64
	from, to := 0.3, 0.7
	if k.Engine == "two-stroke" {
		from, to = 0.42, 0.58
	}
	for i := range found {
		next := s.at(found[i]) + usual
		if i+1 < len(found) {
			next = s.at(found[i+1])
		}
		if k.Engine == "rotary" || next-s.at(found[i]) > slack*usual {
			continue
		}
		a, b := s.index(s.at(found[i])+from*usual), s.index(s.at(found[i])+to*usual)
		if b-a < 2 || b == len(s.v)-1 {
			continue
		}
		openTimes = append(openTimes, (s.at(a)+s.at(b))/2)
		openLevels = append(openLevels, median(s.v[a:b+1]))
	}
	drift := 0.0
	if len(openTimes) >= 4 {
		drift = drifts(openTimes, openLevels)
	}
	switch {
	case len(times) > 0:
		if len(times) > 3 && times[len(times)-1]-times[0] > float64(len(s.v))*s.step/2 {
			drift = drifts(times, levels)
		}
		return line(times, levels, drift)
	case len(openTimes) > 0:
		return line(openTimes, openLevels, drift)
	}
	return func(float64) float64 { return 0 }
}

// drifts returns the middle one of the slopes between all pairs of points.
func drifts(times, levels []float64) float64 {
	var all []float64
	for i := range times {
		for j := range i {
			if d := times[i] - times[j]; d > 0 {
				all = append(all, (levels[i]-levels[j])/d)
			}
		}
	}
	return median(all)
}

// line returns the straight line of a slope through the middle of some points.
func line(times, levels []float64, slope float64) func(float64) float64 {
	flat := make([]float64, len(times))
	for i := range times {
		flat[i] = levels[i] - slope*(times[i]-times[0])
	}
	level := median(flat)
	return func(t float64) float64 { return level + slope*(t-times[0]) }
}

// quiet returns the middles and the levels of the stretches in which nothing moves.
func (s signal) quiet() (times, levels []float64) {
	const lasts = 0.1 // s: a chamber that turns is nowhere as even for so long
	width := max(8, int(lasts/s.step))
	smooth := s.bell(0.006)
	span := quantile(s.v, 0.99) - quantile(s.v, 0.01)
	type stretch struct{ at, level, moves float64 }
	var all []stretch
	for i := 0; i+width <= len(smooth); i += max(1, width/2) {
		part := smooth[i : i+width]
		moves := slices.Max(part) - slices.Min(part)
		if moves < 0.006*span+1.5*s.noise {
			all = append(all, stretch{s.at(i + width/2), median(s.v[i : i+width]), moves})
		}
	}
	if len(all) == 0 {
		return nil, nil
	}
	least := slices.MinFunc(all, func(a, b stretch) int { return cmp.Compare(a.moves, b.moves) }).moves
	for _, one := range all {
		if one.moves <= 2*least+0.001*span {
			times, levels = append(times, one.at), append(levels, one.level)
		}
	}
	return times, levels
}

// clipped reports whether the tops of the pulses are cut off by the end of the range: they stand at one value for a while and
// fall away from it steeply, which no pressure does by itself.
func clipped(r Recording, pulses int) bool {
	high := slices.Max(r.Values)
	low := quantile(r.Values, 0.05)
	if r.HasTop && high < r.Top-0.02*math.Abs(r.Top) {
		return false
	}
	cut, fine := 0, grain(r.Values)
	for i := 0; i < len(r.Values); {
		j := i
		for j < len(r.Values) && high-r.Values[j] <= 1e-9*math.Abs(high) {
			j++
		}
		n := j - i
		if n >= 3 && i-n >= 0 && j+n < len(r.Values) {
			// A rounded top falls away as a parabola: as far beyond its flat as that is long, by eight of the steps that it is
			// flat to within.
			fall := high - max(r.Values[i-n], r.Values[j+n])
			if fall > 0.12*(high-low) && fall > 25*fine {
				cut++
			}
		}
		i = max(j, i+1)
	}
	return cut >= max(1, pulses/3)
}

// grain returns the smallest step between two values.
func grain(v []float64) float64 {
	least := math.Inf(1)
	for i := 1; i < len(v); i++ {
		if d := math.Abs(v[i] - v[i-1]); d > 1e-9 {
			least = min(least, d)
		}
	}
	return least
}
