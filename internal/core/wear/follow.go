package wear

import (
	"math"
	"slices"
	"sort"

	"gonum.org/v1/gonum/floats"
)

// faulty is what faults make of one cylinder by one course: the logarithm of their likelihood together, and how long it then lasts.
type faulty struct {
	log    float64
	inside []float64
}

// followSound follows a cylinder that only wears, at each of its paces, until it meets a limit.
func (on *engine) followSound(h history, c int, w weighed, limit bounds) []float64 {
	drops := make([]float64, len(on.ahead))
	since := 0.0
	if len(h.visits) > 0 {
		since = h.visits[h.since[c]].at
	}
	for m, pace := range paces {
		f := w.fits[c][m]
		weight := math.Exp(f.log + math.Log(pace.Chance) - w.sound[c])
		base := f.area + pace.Of*on.worn(w.course, since)
		room := limit.of(base, 0) - f.area
		at := on.lasts * w.lives * math.Pow(max(room, 0)/(on.grown*on.pace*pace.Of), 1/w.power)
		drop(drops, on.ahead, at-h.now, weight)
	}
	return falling(drops)
}

// drop takes a weight off a curve from where it is met.
func drop(drops, ahead []float64, at, weight float64) {
	i, _ := slices.BinarySearch(ahead, at)
	if i < len(drops) {
		drops[i] += weight
	}
}

// falling returns what is left of 1 after each drop.
func falling(drops []float64) []float64 {
	out := make([]float64, len(drops))
	left := 1.0
	for i, d := range drops {
		left -= d
		out[i] = max(left, 0)
	}
	return out
}

// faulty weighs all faults that may have begun on a cylinder by one course, and follows them.
func (on *engine) faulty(h history, c int, w weighed) faulty {
	all := on.begun(h, c)
	out := faulty{log: math.Inf(-1), inside: ones(len(on.ahead))}
	if len(all) == 0 {
		return out
	}
	worn := on.wornBy(h, w.course)
	logs := make([]float64, len(all))
	areas := make([]float64, len(all))
	extra, added := make([]float64, len(h.visits)), make([]float64, len(h.visits))
	for i := range all {
		f := &all[i]
		for v, x := range h.visits {
			added[v] = on.area(*f, x.at)
			extra[v] = worn[v] + added[v]
		}
		leak := on.leakFit(h, c, w.own[c], extra, added, w.leaks.of[c])
		areas[i] = leak.area
		logs[i] = math.Log(f.chance) + leak.log + h.heardLog(c, leak.area, extra, worn)
		logs[i] += on.levelFit(h, c, on.heldBy(h, leak.area, w.share, extra, f), w.levels.of[c])
	}
	out.log = floats.LogSumExp(logs)
	limit := bounds{on, w.share, map[int]float64{}}
	drops := make([]float64, len(on.ahead))
	since := h.visits[h.since[c]].at
	for i, f := range all {
		weight := math.Exp(logs[i] - out.log)
		if weight < negligible {
			continue
		}
		base := areas[i] + on.worn(w.course, since)
		most := limit.of(base, f.lost(h.now))
		past := func(x int) bool {
			t := h.now + on.ahead[x]
			return areas[i]+on.worn(w.course, t)+on.area(f, t) >= most
		}
		x := 0
		if -math.Expm1(-f.lost(h.now)) < on.loss {
			x = sort.Search(len(on.ahead), past)
		}
		if x < len(drops) {
			drops[x] += weight
		}
	}
	out.inside = falling(drops)
	return out
}

func ones(n int) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = 1
	}
	return out
}

// Robustness and pruning.
const (
	// asFault is what a cylinder that doesn't fit a course costs it at the most, since it may have a fault: the logarithm of its odds.
	asFault = -9.0
	// representatives is for how many courses faults are weighed, spread over all by their weight.
	representatives = 4
	// negligible is the weight of a course that isn't followed.
	negligible = 1e-4
)
