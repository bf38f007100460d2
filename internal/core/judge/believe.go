package judge

import (
	"math"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// believe takes a session into what is believed of the build, which is nil at its first, and says what it makes of each cylinder.
func believe(
	on *subject, believed *belief.Believed, s log.Session, m mending, now map[int]figure, all []unlike,
) (*belief.Believed, change) {
	first := believed == nil
	if first {
		believed = begin(on, s)
	} else {
		believed = believed.Clone()
	}
	x := expect(all)
	v := visitOf(on, s, m, now, x)
	if first && s.Conditions.Cold() {
		v.LeakMean, v.LeakSD = math.Log1p(rules.ColdLeaks), rules.ColdLeaksSD
	}
	told, accounts := believed.Next(&v)
	out := change{
		each: make(map[int]*belief.Told, len(told)), unlike: all, expected: x, first: first,
		accounts: accounts, order: v.Order, read: len(v.Order), level: believed.Level(),
	}
	for i, c := range on.order {
		if f, read := now[c]; read {
			if f.leakSE > 0 {
				out.leaked++
			}
			out.each[c] = &told[i]
		}
	}
	if len(v.Order) > 0 && !first {
		out.common, out.commonSE = common(v.Order, told, accounts, x.mean)
		out.compared = true
	}
	out.leakCommon = leakCommon(told)
	return believed, out
}

// visitOf returns what a session says, cylinder by cylinder, as it is weighed.
func visitOf(on *subject, s log.Session, m mending, now map[int]figure, x expected) belief.Visit {
	n := len(on.order)
	v := belief.Visit{
		Rows: make([][]belief.Part, n), Pulls: make([]int, n), Leaks: make([][]belief.LeakRow, n),
		Scatter: scatterOf(s), Mean: x.mean, SD: x.sd, LeakMean: math.Log1p(x.leak), LeakSD: x.leakSD,
		Marks: [...]belief.Mark{
			{Points: rules.StopLeak, LostPct: rules.StopLoss},
			{Points: on.limit.LeakAct, LostPct: on.limit.LossAct},
			{Points: on.limit.LeakWatch, LostPct: on.limit.LossWatch, PointsAlone: true},
		},
		Teaches: s.Baseline, Repaired: m.is, Touched: touchedIn(on.order, m),
		Raw: s.Stage == "pre-install" || s.Conditions.Cold(),
	}
	for i, c := range on.order {
		f := now[c]
		v.Rows[i], v.Pulls[i], v.Leaks[i] = f.parts, f.pulls, f.rows
	}
	for _, row := range s.Compression {
		i := slices.Index(on.order, row.Number())
		if row.Mode == log.Dry && i >= 0 && len(v.Rows[i]) > 0 && !slices.Contains(v.Order, i) {
			v.Order = append(v.Order, i)
		}
	}
	if banks := on.engine.Layout.Banks; len(banks) == 2 {
		for _, i := range v.Order {
			if slices.Contains(banks[1], on.order[i]) {
				v.SecondBank = append(v.SecondBank, i)
			}
		}
	}
	v.VoltsFell, v.VoltsHeld = volts(s)
	return v
}

// common returns what all cylinders did together, a logarithm with its standard error: over all accounts of the visit.
func common(order []int, told []belief.Told, accounts []belief.Hypothesis, expected float64) (mean, se float64) {
	square, weight := 0.0, 0.0
	for _, a := range accounts {
		// Of a step nobody knows which side is the engine's own: it is the one that moved less.
		common := a.Common
		if other := common + a.Size; a.Kind == belief.Step && math.Abs(other-expected) < math.Abs(common-expected) {
			common = other
		}
		mean += a.Weight * common
		square += a.Weight * common * common
	}
	for _, i := range order {
		if t := told[i]; t.ChangeSE > 0 {
			weight += t.Sound / (t.ChangeSE * t.ChangeSE)
		}
	}
	return mean, math.Sqrt(max(square-mean*mean, 0) + 1/max(weight, 1))
}

// leakCommon returns by how many points the sound cylinders leak more together.
func leakCommon(told []belief.Told) float64 {
	rise, sound := 0.0, 0.0
	for _, t := range told {
		if t.RiseSE > 0 && !t.NoBaseLeak {
			rise += (t.Sound - t.Innocent) * t.Rise
			sound += t.Sound - t.Innocent
		}
	}
	if sound > 0 {
		return rise / sound
	}
	return 0
}

// touchedIn returns the cylinders that a repair touched, as indices; nil where that may be all.
func touchedIn(order []int, m mending) []int {
	if !m.is || m.all {
		return nil
	}
	all := []int{}
	for i, c := range order {
		if m.of(c) {
			all = append(all, i)
		}
	}
	return all
}

// volts returns how far the battery fell from the first pull to the last, and whether it held; neither where nobody wrote it.
func volts(s log.Session) (fell float64, held bool) {
	var all []float64
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			if p.BatteryV > 0 && row.Mode == log.Dry {
				all = append(all, p.BatteryV)
			}
		}
	}
	if len(all) < rules.VoltsEnough {
		return 0, s.Conditions.Charger
	}
	fell = all[0] - all[len(all)-1]
	return fell, fell < rules.VoltsHeld
}
