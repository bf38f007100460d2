package table

import (
	"math"
	"slices"
	"strconv"

	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

// What a way to read a sheet implies is weighed in points that stand for logarithms of odds: a point makes it about three times as
// likely. The figures are rough on purpose: what they leave near each other is asked.
const (
	forEachShare = 8.0 // all figures are read, against none
	againstWords = 6.0 // the sheet says otherwise beside the figures
	againstTitle = 3.0 // a title says otherwise
	unusual      = 1.0 // written by few
	rare         = 2.0 // written by hardly anybody
)

// weigh says how likely a way to read is, by what it makes of the sheet.
func (r *reader) weigh() float64 {
	return r.explained() + r.pressures() + r.leaks() + r.wetAboveDry() + r.pairs() + r.said() + r.cylindersAlike() + r.datesInOrder()
}

// explained weighs how many of the figures but those of titles and headings found a place, and how many were refused.
func (r *reader) explained() float64 {
	figures := 0
	for _, l := range r.lines {
		const few = 2 // cells of a title
		if n, _ := l.filled(); n <= few && l.n < r.head.n || slices.Contains(r.headers, l.n) {
			continue
		}
		for i := range l.cells {
			if isReadingText(l.at(i)) {
				figures++
			}
		}
	}
	if figures == 0 || !slices.ContainsFunc(r.tests, func(t *test) bool { return len(t.taken) > 0 }) {
		return -2 * forEachShare
	}
	const refusal = 0.75
	share := (float64(r.placed) - refusal*float64(r.refused) - float64(r.beyond)) / float64(figures)
	return forEachShare*max(-1, share) + r.likelyHead()
}

// likelyHead weighs where the headings were found: the line that looks most like headings, and the side it lies on.
func (r *reader) likelyHead() float64 {
	const mostAlike = 3 // the line that looks more like headings than all others
	score := mostAlike * r.view.alike
	if r.view.turned != r.usuallyTurned {
		score -= 2 * rare
	}
	return score
}

// likely weighs a cranking pressure, in psi: most engines read 90 to 260, diesels to 600, a worn two-stroke or a dead cylinder less.
func likely(psi float64) float64 {
	switch {
	case psi >= 85 && psi <= 270:
		return 0
	case psi > 270 && psi <= 480, psi >= 55 && psi < 85:
		return -0.6
	case psi > 480 && psi <= 650, psi >= 30 && psi < 55:
		return -2
	case psi == 0:
		return -1
	}
	return -5
}

// pressures weighs whether cranking pressures are such as engines have, and alike within a test.
func (r *reader) pressures() float64 {
	var all []float64
	sum, unlike, tests := 0.0, 0.0, 0
	for _, t := range r.tests {
		alike := map[string][]float64{}
		for _, k := range t.taken {
			if k.kind == Leak || k.pull.struck != "" {
				continue
			}
			psi := units.Pressure(k.pull.pressure()).In(units.PSI)
			sum += likely(psi)
			all, alike[k.kind] = append(all, psi), append(alike[k.kind], psi)
		}
		const enough = 3
		for _, mine := range alike {
			if len(mine) >= enough {
				tests++
				unlike += spreadOf(mine)
			}
		}
	}
	if len(all) == 0 {
		return 0
	}
	score := sum/float64(len(all)) + 2*likely(middle(all))
	if tests > 0 {
		score -= unlike / float64(tests)
	}
	return score
}

// spreadOf weighs how far siblings lie apart: those of a sound engine within a tenth, of a worn one within a quarter.
func spreadOf(all []float64) float64 {
	mid := middle(all)
	if mid <= 0 {
		return 0
	}
	apart := make([]float64, len(all))
	for i, v := range all {
		apart[i] = math.Abs(v-mid) / mid
	}
	const usual, most = 0.12, 2.5
	return min(most, max(0, (middle(apart)-usual)*12))
}

func middle(all []float64) float64 {
	sorted := slices.Sorted(slices.Values(all))
	return sorted[len(sorted)/2]
}

// leaks weighs whether leaks are such as engines have: most lose less than a third.
func (r *reader) leaks() float64 {
	var all []float64
	sum, alike := 0.0, 0.0
	for _, t := range r.tests {
		var mine []float64
		for _, k := range t.taken {
			if k.kind == Leak {
				lost := k.leak.lost()
				mine = append(mine, lost)
				sum += likelyLeak(lost)
			}
		}
		const siblings, near = 3, 1.08 // the largest to the least: leaks are never as alike as pressures
		enough := len(mine) >= siblings || len(mine) > 1 && len(r.tests) >= siblings
		if enough && slices.Min(mine) > 0 && slices.Max(mine) < near*slices.Min(mine) {
			alike++
		}
		all = append(all, mine...)
	}
	if len(all) == 0 {
		return 0
	}
	return sum/float64(len(all)) + 2*likelyLeak(middle(all)) - rare*alike/float64(len(r.tests))
}

func likelyLeak(percent float64) float64 {
	switch {
	case percent < 0:
		return -6
	case percent <= 30:
		return 0
	case percent <= 60:
		return -0.8
	case percent <= 90:
		return -3
	}
	return -5
}

// wetAboveDry weighs that oil never lowers a pressure.
func (r *reader) wetAboveDry() float64 {
	both, below := 0, 0
	for _, t := range r.tests {
		dry := map[string]float64{}
		for _, k := range t.taken {
			if k.kind == log.Dry {
				dry[k.cylinder] = max(dry[k.cylinder], k.pull.pressure())
			}
		}
		for _, k := range t.taken {
			if d, ok := dry[k.cylinder]; ok && k.kind == log.Wet {
				both++
				const near = 0.96
				if k.pull.pressure() < near*d {
					below++
				}
			}
		}
	}
	if both == 0 {
		return 0
	}
	const most = 4
	return -most * float64(below) / float64(both)
}

// pairs weighs what the second of two figures in a cell is: a further reading is close to the first, one with oil is above it.
func (r *reader) pairs() float64 {
	score, n, cells := 0.0, 0, 0
	for _, t := range r.tests {
		for i, k := range t.taken {
			if k.kind != Leak && (i == 0 || t.taken[i-1].line.n != k.line.n || t.taken[i-1].column != k.column) {
				cells++
			}
			if i == 0 || !k.open.second || k.pull.struck != "" || t.taken[i-1].pull.struck != "" {
				continue
			}
			first, second := t.taken[i-1].pull.pressure(), k.pull.pressure()
			if first <= 0 {
				continue
			}
			n++
			const close, near, oiled = 0.035, 0.06, 1.4
			apart := second/first - 1
			if k.kind == log.Wet {
				if apart < close || apart > oiled-1 {
					score -= 3
				}
				score -= unusual
			} else if math.Abs(apart) > near {
				score -= 3
			} else if math.Abs(apart) > close {
				score--
			}
		}
	}
	if n == 0 {
		return 0
	}
	const nearlyAll = 0.8 // of the cells hold two, where the second is another kind
	if r.view.second == log.Wet && float64(n) < nearlyAll*float64(cells) {
		return score/float64(n) - againstWords
	}
	return score / float64(n)
}

// said weighs a way to read against what the sheet says in words: whatever goes against them costs.
func (r *reader) said() float64 {
	score := 0.0
	has := func(is func(taken) bool) bool { return weighed{reader: r}.has(is) }
	if has(func(k taken) bool { return k.open.unit && k.kind != Leak }) {
		switch {
		case len(r.seen) > 0 && r.seen[r.view.unit] == 0:
			score -= againstWords
		case len(r.seen) == 0 && r.view.unit == units.KgfCm2:
			score -= rare // a gauge in bar is far more usual
		}
	}
	if has(func(k taken) bool { return k.open.kind }) {
		score -= r.againstKind()
	}
	if has(func(k taken) bool { return k.kind == Leak && k.open.leak }) {
		score -= r.againstLeaks(has)
	}
	return score
}

// againstKind is what speaks against the kind of figures without a word for dry, wet or leak.
func (r *reader) againstKind() float64 {
	leak := r.saysLeak()
	pressure := slices.Contains(r.says.kinds, log.Dry) || len(r.seen) > 0
	score := 0.0
	switch {
	case r.view.kind == Leak && pressure && !leak, r.view.kind == log.Dry && leak && !pressure, r.view.kind == log.Dry && r.has(Supply):
		score = againstTitle
	case r.view.kind == Leak && !leak:
		score = unusual
		if r.view.leak != Lost {
			score += rare // nobody says so much as that it is a leak
		}
	}
	return score
}

// saysLeak reports whether anything in the sheet speaks of a leak-down.
func (r *reader) saysLeak() bool {
	return slices.Contains(r.says.kinds, Leak) || r.says.percent || r.has(Supply) || r.says.held || len(r.says.supplies) > 0
}

// againstLeaks is what speaks against the way in which leaks were written: as a percent lost is the usual one.
func (r *reader) againstLeaks(has func(func(taken) bool) bool) float64 {
	supplied := has(func(k taken) bool { return k.kind == Leak && k.open.leak && k.leak.known })
	signed := has(func(k taken) bool { return k.open.leak && k.leak.signed }) || r.says.percent
	unit := has(func(k taken) bool { return k.kind == Leak && k.open.leak && k.leak.own })
	score := 0.0
	switch r.view.leak {
	case Lost:
		if unit && !signed {
			score += rare
		}
		if supplied && !signed {
			score += unusual
		}
		if r.says.held {
			score += againstTitle
		}
	case Left:
		if !r.says.held || !signed {
			score += unusual
		}
		if supplied {
			score += unusual
		}
	case HeldOf:
		if signed {
			score += againstWords
		}
		if !supplied && !r.says.held {
			score += rare
		}
	case Dropped:
		if signed {
			score += againstWords
		}
		if !unit || r.says.held {
			score += rare
		}
	}
	return score
}

// cylindersAlike weighs what the cylinders are called: 1, 2, 3 and so on, sides, or words that nobody knows.
func (r *reader) cylindersAlike() float64 {
	names := map[string]bool{}
	for _, t := range r.tests {
		for _, k := range t.taken {
			names[k.cylinder] = true
		}
	}
	counted := 0
	for n := range len(names) {
		if names[strconv.Itoa(n+1)] {
			counted++
		}
	}
	score := float64(counted) / float64(max(1, len(names)))
	if slices.ContainsFunc(r.columns, func(c Column) bool { return c.guessed && c.Means == Reading }) {
		score -= 1.5 * unusual // nothing says what they are
	}
	const many = 16
	if len(names) > many {
		score -= 3
	}
	if len(names) > 1 {
		score += 0.5
	}
	return score
}

// datesInOrder weighs that people write one test below the other.
func (r *reader) datesInOrder() float64 {
	up, down, all := 0, 0, 0
	last := ""
	for _, t := range r.tests {
		if t.date == "" {
			continue
		}
		if last != "" && t.date != last {
			all++
			if t.date > last {
				up++
			} else {
				down++
			}
		}
		last = t.date
	}
	if all == 0 {
		return 0
	}
	return float64(max(up, down))/float64(all) - 1
}

// contradicts reports whether the figures were read in a unit other than the one that the sheet names.
func (r *reader) contradicts() bool {
	open := weighed{reader: r}.has(func(k taken) bool { return k.open.unit && k.kind != Leak })
	return open && len(r.seen) > 0 && r.seen[r.view.unit] == 0
}
