package judge

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"braxel/internal/core/log"
	"braxel/internal/core/wear"
)

// learn takes a session into the baseline. A cylinder that was found bad at the first test is given what it should have
// read, by the others: its own reading is not what it is when it is right.
func (h *history) learn(now map[int]figure, out Session, d change) {
	for c, f := range now {
		b := h.base[c]
		if b == nil {
			b = &level{heard: map[string]bool{}}
			h.base[c] = b
		}
		if d.first && h.belief[c].Changed() >= worth && out.Of(c).State.Severity() >= Watch.Severity() {
			b.sum, b.variance, b.n, b.leaks, b.leak = d.common, unlikeness*unlikeness, 1, []float64{d.leakCommon}, d.leakCommon
			continue
		}
		if f.se > 0 {
			b.sum += f.log
			b.variance += f.se * f.se
			b.n++
		}
		if f.leakSE > 0 {
			b.leaks = append(b.leaks, f.leak)
			b.leak = usualLeak(b.leaks)
		}
		for _, p := range f.paths {
			b.heard[p.Where] = true
		}
	}
}

// usualLeak returns the leak of several tests of a baseline: the mean, unless two lie so far apart that the higher one was
// dirt on a seat.
func usualLeak(leaks []float64) float64 {
	low := slices.Min(leaks)
	sum, n := 0.0, 0.0
	for _, v := range leaks {
		if v <= low+dirtApart+0.3*low {
			sum += v
			n++
		}
	}
	return sum / n
}

// dirtApart is how many points above its lowest reading a baseline leak must lie to be taken for dirt.
const dirtApart = 3.0

// change is a session against the baseline: what all did, what of that was to be expected from the way it was tested,
// and what each did beyond that.
type change struct {
	common, commonSE float64
	unlike           []unlike
	expected         expected
	leakCommon       float64
	each             map[int]wear.Evidence
	compared         bool
	// first says that there is no baseline yet, and each cylinder was held against the others.
	first bool
}

// compare separates what all cylinders did since the baseline from what each did.
func (h *history) compare(now map[int]figure, all []unlike) change {
	if len(h.base) == 0 {
		return h.siblings(now)
	}
	x := expect(all)
	out := change{each: make(map[int]wear.Evidence, len(h.order)), unlike: all, expected: x}
	n := len(h.order)
	order, delta, se, leaks := make([]int, 0, n), make([]float64, 0, n), make([]float64, 0, n), make([]float64, 0, n)
	for _, c := range h.order {
		f, b := now[c], h.base[c]
		if b == nil {
			continue
		}
		e := wear.Evidence{Repeated: f.attempts > 1, Heard: b.heardAt(f.paths)}
		if f.se > 0 && b.n > 0 {
			order, delta, se = append(order, c), append(delta, f.log-b.sum/b.n), append(se, math.Hypot(f.se, math.Sqrt(b.variance)/b.n))
		}
		if len(b.leaks) > 0 && f.leakSE > 0 {
			e.Leak = f.leak - b.leak*(1+x.leak)
			e.LeakSE = math.Hypot(math.Hypot(f.leakSE, x.leakSD*b.leak), 0.8/math.Sqrt(float64(len(b.leaks))))
			leaks = append(leaks, e.Leak)
		}
		out.each[c] = e
	}
	switch {
	case len(h.order) == 1 && len(order) == 1:
		// A single has no siblings to take a session's own shift from: its change is told less surely.
		e := out.each[order[0]]
		out.common, out.commonSE = delta[0], se[0]
		e.Compression, e.CompressionSE = delta[0]-x.mean, math.Hypot(math.Hypot(se[0], sessionShift), x.sd)
		out.each[order[0]] = e
	case len(order) > 0:
		for i := range delta {
			delta[i] -= x.mean
		}
		prior := wear.Compression
		prior.CommonSD = math.Hypot(prior.CommonSD, x.sd)
		shift := wear.Separate(delta, se, prior)
		out.common, out.commonSE, out.compared = shift.Common+x.mean, shift.CommonSE, true
		for i, c := range order {
			e := out.each[c]
			e.Compression, e.CompressionSE = shift.Own[i], shift.SE[i]
			out.each[c] = e
		}
	}
	// A cold engine leaks more everywhere: the lower half's middle is what all share, if it is a rise at all.
	if len(leaks) > 2 {
		slices.Sort(leaks)
		out.leakCommon = math.Max(0, stat.Quantile(0.4, stat.Empirical, leaks, nil))
		for c, e := range out.each {
			if e.LeakSE > 0 {
				e.Leak -= out.leakCommon
				out.each[c] = e
			}
		}
	}
	return out
}

// How far sound cylinders of one engine differ from each other: shares of compression, and points of leak.
const (
	unlikeness     = 0.025
	leakUnlikeness = 2.0
)

// siblings holds the cylinders of a first test against each other. Its common figures are levels, not changes.
func (h *history) siblings(now map[int]figure) change {
	out := change{each: map[int]wear.Evidence{}, first: true}
	var order []int
	var levels, se, leaks []float64
	for _, c := range h.order {
		f := now[c]
		if f.se > 0 {
			order, levels, se = append(order, c), append(levels, f.log), append(se, math.Hypot(f.se, unlikeness))
		}
		if f.leakSE > 0 {
			leaks = append(leaks, f.leak)
		}
	}
	if len(order) > 1 {
		middle := stat.Quantile(0.5, stat.Empirical, slices.Sorted(slices.Values(levels)), nil)
		for i := range levels {
			levels[i] -= middle
		}
		shift := wear.Separate(levels, se, wear.Compression)
		out.common, out.commonSE = middle+shift.Common, shift.CommonSE
		for i, c := range order {
			out.each[c] = wear.Evidence{Compression: shift.Own[i], CompressionSE: shift.SE[i]}
		}
	}
	if len(leaks) > 1 {
		slices.Sort(leaks)
		out.leakCommon = stat.Quantile(0.4, stat.Empirical, leaks, nil)
		for _, c := range h.order {
			if f := now[c]; f.leakSE > 0 {
				e := out.each[c]
				e.Leak, e.LeakSE = f.leak-out.leakCommon, math.Hypot(f.leakSE, leakUnlikeness)
				e.Repeated, e.Heard = f.attempts > 1, (&level{}).heardAt(loud(f.paths))
				out.each[c] = e
			}
		}
	}
	return out
}

// loud leaves out what was heard faintly: a head that has not run lets a little by at its valves.
func loud(paths []log.Path) []log.Path {
	if paths == nil {
		return nil
	}
	return slices.DeleteFunc(slices.Clone(paths), func(p log.Path) bool { return p.Level == 1 })
}

// beyond returns what all did together beyond what was to be expected, and its standard error.
func (c change) beyond() (common, se float64) {
	return c.common - c.expected.mean, math.Hypot(c.commonSE, c.expected.sd)
}

// sessionShift is how far one visit moves all readings: battery, heat, weather, gauge.
const sessionShift = 0.03

// heardAt returns where air came out that did not at the baseline: what a fresh head lets by at its valves says nothing.
func (b *level) heardAt(paths []log.Path) wear.Place {
	if paths == nil {
		return wear.Unheard
	}
	at := wear.AtFiller
	for _, p := range paths {
		if b.heard[p.Where] {
			continue
		}
		switch p.Where {
		case log.Coolant, log.Neighbour:
			return wear.AtGasket
		case log.Intake, log.Exhaust:
			at = wear.AtValve
		}
	}
	return at
}
