package wear

import (
	"cmp"
	"math"
	"slices"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// paces are how fast a cylinder wears beside the others, each with its chance.
var paces = func() []rules.Share {
	var all []rules.Share
	sum := 0.0
	for z := -unlikeReach; z <= unlikeReach; z++ {
		w := math.Exp(-float64(z*z) / 2)
		all = append(all, rules.Share{Of: math.Exp(rules.WearUnlike * float64(z)), Chance: w})
		sum += w
	}
	for i := range all {
		all[i].Chance /= sum
	}
	return all
}()

// courses returns the ways in which an engine may wear, before its tests.
func (on *engine) courses() []course {
	testers := []rules.Share{{Of: 1, Chance: 1}}
	if on.vague {
		testers = orifices
	}
	var all []course
	for i := range lifeSteps {
		z := lifeReach * (2*float64(i)/(lifeSteps-1) - 1)
		for _, p := range rules.WearPowers {
			for _, o := range testers {
				for _, s := range shares {
					all = append(all, course{
						lives: math.Exp(rules.LastsSD * z), power: p.Of, orifice: o.Of, share: s.Of,
						log: -z*z/2 + math.Log(p.Chance*o.Chance*s.Chance),
					})
				}
			}
		}
	}
	return all
}

// weighed is a course with what each cylinder makes of it.
type weighed struct {
	course
	fits      [][]fit   // by cylinder, by pace
	sound     []float64 // by cylinder: the logarithm of the likelihood without a fault
	saturated float64
	leaks     offsets
	own       []float64
	levels    offsets
}

// weigh weighs all courses by the tests of a build.
func (on *engine) weigh(h history) []weighed {
	var all []weighed
	n := len(on.order)
	var worn []float64
	var leaks offsets
	var own []float64
	var fits [][]fit
	for i, c := range on.courses() {
		w := weighed{course: c, sound: make([]float64, n)}
		if i%len(shares) == 0 { // leaks don't depend on what compression shows of them
			worn = make([]float64, len(h.visits))
			for v, x := range h.visits {
				worn[v] = on.worn(c, x.at)
			}
			leaks, own = on.leakOffsets(h, worn, c.orifice)
			fits = make([][]fit, n)
			for k := range n {
				fits[k] = make([]fit, len(paces))
				for m, pace := range paces {
					fits[k][m] = on.leakFit(h, k, own[k], scaled(worn, pace.Of), leaks.of[k])
				}
			}
		}
		w.leaks, w.own = leaks, own
		w.fits = make([][]fit, n)
		held := make([][]float64, n)
		for k := range n {
			held[k] = on.heldBy(h, math.Exp(own[k]), c.share, worn, nil)
		}
		w.levels = on.levelOffsets(h, held)
		w.log += leaks.log + w.levels.log
		for k := range n {
			w.fits[k] = make([]fit, len(paces))
			logs := make([]float64, len(paces))
			for m, pace := range paces {
				f := fits[k][m]
				f.log += on.levelFit(h, k, on.heldBy(h, f.area, c.share, scaled(worn, pace.Of), nil), w.levels.of[k])
				w.fits[k][m] = f
				logs[m] = f.log + math.Log(pace.Chance)
			}
			w.sound[k] = logSum(logs)
		}
		all = append(all, w)
	}
	return all
}

func scaled(all []float64, by float64) []float64 {
	out := make([]float64, len(all))
	for i := range all {
		out[i] = by * all[i]
	}
	return out
}

func logSum(logs []float64) float64 {
	top := slices.Max(logs)
	if math.IsInf(top, -1) {
		return top
	}
	sum := 0.0
	for _, l := range logs {
		sum += math.Exp(l - top)
	}
	return top + math.Log(sum)
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

// faulty is what faults make of one cylinder by one course: the logarithm of their likelihood together, and how long it then lasts.
type faulty struct {
	log    float64
	inside []float64
}

// life follows every course that is likely enough, each cylinder by itself.
func (on *engine) life(h history) Life {
	n := len(on.order)
	all := on.weigh(h)
	best := make([]float64, n)
	for k := range n {
		best[k] = math.Inf(-1)
		for _, w := range all {
			best[k] = max(best[k], w.sound[k])
		}
	}
	rough := make([]float64, len(all))
	for i, w := range all {
		rough[i] = w.log
		for k := range n {
			rough[i] += logSum([]float64{w.sound[k], best[k] + asFault})
		}
	}
	picked := pick(all, rough)
	faults := make([][]faulty, len(picked))
	for j, i := range picked {
		for k := range n {
			faults[j] = append(faults[j], on.faulty(h, k, all[i]))
		}
	}
	// The courses again, faults among what explains a cylinder.
	near := make([]int, len(all))
	logs := make([]float64, len(all))
	for i, w := range all {
		for j := range picked {
			if math.Abs(math.Log(all[picked[j]].lives/w.lives)) < math.Abs(math.Log(all[picked[near[i]]].lives/w.lives)) {
				near[i] = j
			}
		}
		logs[i] = w.log
		for k := range n {
			logs[i] += logSum([]float64{w.sound[k], faults[near[i]][k].log})
		}
	}
	total := logSum(logs)
	out := Life{Unit: on.unit, Tests: len(h.visits), Now: h.meter, ahead: on.ahead, inside: make([]float64, len(on.ahead))}
	for _, c := range on.order {
		out.Cylinders = append(out.Cylinders, OneLife{Cylinder: c, inside: make([]float64, len(on.ahead))})
	}
	limit := map[float64]bounds{}
	for _, s := range shares {
		limit[s.Of] = bounds{on, s.Of, map[int]float64{}}
	}
	for i, w := range all {
		weight := math.Exp(logs[i] - total)
		if weight < negligible {
			continue
		}
		whole := ones(len(on.ahead))
		for k := range n {
			f := faults[near[i]][k]
			q := math.Exp(f.log - logSum([]float64{w.sound[k], f.log}))
			inside := on.followSound(h, k, w, limit[w.share])
			out.Cylinders[k].Faulty += weight * q
			for x := range inside {
				p := (1-q)*inside[x] + q*f.inside[x]
				whole[x] *= p
				out.Cylinders[k].inside[x] += weight * p
			}
		}
		for x := range whole {
			out.inside[x] += weight * whole[x]
		}
	}
	comes := on.comes(limit[1])
	out.sudden = make([]float64, len(on.ahead))
	for x := range out.inside {
		out.sudden[x] = out.inside[x] * (1 - comes[x])
		out.inside[x] *= comes[x]
	}
	out.Known = len(h.visits) > 1 && !on.guessed
	return out
}

func ones(n int) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = 1
	}
	return out
}

// pick returns courses that stand for all: those in the middle of equal parts of the weight, by life.
func pick(all []weighed, logs []float64) []int {
	total := logSum(logs)
	order := make([]int, len(all))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(all[a].lives, all[b].lives) })
	var out []int
	sum := 0.0
	for _, i := range order {
		sum += math.Exp(logs[i] - total)
		for len(out) < representatives && sum >= (float64(len(out))+0.5)/representatives {
			out = append(out, i)
		}
	}
	if len(out) == 0 {
		out = append(out, order[len(order)/2])
	}
	return slices.Compact(out)
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
	worn := make([]float64, len(h.visits))
	for v, x := range h.visits {
		worn[v] = on.worn(w.course, x.at)
	}
	logs := make([]float64, len(all))
	areas := make([]float64, len(all))
	extra := make([]float64, len(h.visits))
	for i := range all {
		f := &all[i]
		for v, x := range h.visits {
			extra[v] = worn[v] + on.area(*f, x.at)
		}
		leak := on.leakFit(h, c, w.own[c], extra, w.leaks.of[c])
		areas[i] = leak.area
		logs[i] = math.Log(f.chance) + leak.log + h.heardLog(c, leak.area, extra, worn) + on.levelFit(h, c, on.heldBy(h, leak.area, w.share, extra, f), w.levels.of[c])
	}
	out.log = logSum(logs)
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
		x := len(on.ahead)
		if -math.Expm1(-f.lost(h.now)) >= on.loss {
			x = 0
		} else {
			low, high := 0, len(on.ahead)
			for low < high {
				middle := (low + high) / 2
				t := h.now + on.ahead[middle]
				if areas[i]+on.worn(w.course, t)+on.area(f, t) >= most {
					high = middle
				} else {
					low = middle + 1
				}
			}
			x = low
		}
		if x < len(drops) {
			drops[x] += weight
		}
	}
	out.inside = falling(drops)
	return out
}

// Of returns how long an engine lasts.
func Of(l log.Log, shop rules.Shop) Life {
	on := engineOf(l, shop)
	h := historyOf(l, shop, on.lasts)
	return on.life(h)
}

// Fresh returns how long an engine like this lasts from a rebuild, before it was ever tested.
func Fresh(l log.Log, shop rules.Shop) Life {
	on := engineOf(l, shop)
	return on.life(history{since: make([]int, len(on.order))})
}
