package wear

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/floats"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

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

// life follows every course that is likely enough, each cylinder by itself.
func (on *engine) life(h history) Life {
	all := on.weigh(h)
	picked := pick(all, roughly(all))
	near := nearest(all, picked)
	faults := make([][]faulty, len(picked))
	for j, i := range picked {
		for k := range on.order {
			faults[j] = append(faults[j], on.faulty(h, k, all[i]))
		}
	}
	out := Life{
		Unit: on.unit, Tests: len(h.visits), Ran: h.now, Known: len(h.visits) > 1 && !on.guessed,
		ahead: on.ahead, inside: make([]float64, len(on.ahead)), sudden: make([]float64, len(on.ahead)),
	}
	limits := map[float64]bounds{}
	for _, s := range shares {
		limits[s.Of] = bounds{on, s.Of, map[int]float64{}}
	}
	weights := weightsOf(all, near, faults)
	for i, w := range all {
		if weights[i] >= negligible {
			on.follow(&out, h, w, weights[i], faults[near[i]], limits[w.share])
		}
	}
	comes := on.comes(limits[1])
	for x := range out.inside {
		out.sudden[x] = out.inside[x] * (1 - comes[x])
		out.inside[x] *= comes[x]
	}
	return out
}

// follow adds one course to a life, by its weight: the engine is inside as long as each of its cylinders is.
func (on *engine) follow(out *Life, h history, w weighed, weight float64, faults []faulty, limit bounds) {
	whole := ones(len(on.ahead))
	for k := range on.order {
		f := faults[k]
		q := math.Exp(f.log - floats.LogSumExp([]float64{w.sound[k], f.log}))
		inside := on.followSound(h, k, w, limit)
		for x := range inside {
			whole[x] *= (1-q)*inside[x] + q*f.inside[x]
		}
	}
	for x := range whole {
		out.inside[x] += weight * whole[x]
	}
}

// roughly returns the logarithms of the courses' weights before faults are weighed: a cylinder that fits none may have one.
func roughly(all []weighed) []float64 {
	best := slices.Clone(all[0].sound)
	for _, w := range all {
		for k := range best {
			best[k] = max(best[k], w.sound[k])
		}
	}
	logs := make([]float64, len(all))
	for i, w := range all {
		logs[i] = w.log
		for k := range best {
			logs[i] += floats.LogSumExp([]float64{w.sound[k], best[k] + asFault})
		}
	}
	return logs
}

// nearest returns for each course the one of those picked that is nearest to it by life, an index of picked.
func nearest(all []weighed, picked []int) []int {
	near := make([]int, len(all))
	apart := func(i, j int) float64 { return math.Abs(math.Log(all[picked[j]].lives / all[i].lives)) }
	for i := range all {
		for j := range picked {
			if apart(i, j) < apart(i, near[i]) {
				near[i] = j
			}
		}
	}
	return near
}

// weightsOf returns the weights of the courses, which sum to 1, faults among what explains each cylinder.
func weightsOf(all []weighed, near []int, faults [][]faulty) []float64 {
	logs := make([]float64, len(all))
	for i, w := range all {
		logs[i] = w.log
		for k, sound := range w.sound {
			logs[i] += floats.LogSumExp([]float64{sound, faults[near[i]][k].log})
		}
	}
	total := floats.LogSumExp(logs)
	for i := range logs {
		logs[i] = math.Exp(logs[i] - total)
	}
	return logs
}

// pick returns courses that stand for all: those in the middle of equal parts of the weight, by life.
func pick(all []weighed, logs []float64) []int {
	total := floats.LogSumExp(logs)
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
