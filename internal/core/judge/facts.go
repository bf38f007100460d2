package judge

import (
	"cmp"
	"math"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
)

// facts returns what the visit says of the engine as a whole, once its cylinders' states are known.
func facts(on *subject, out Session, s log.Session, now map[int]figure, d change) []Fact {
	var all []Fact
	bad := out.atLeast(Retest)
	switch {
	case d.first && len(bad) > 0:
		all = append(all, Fact{What: NoBaseline})
	case d.first && s.Stage == "as-found" && len(on.log.Builds) == 0:
		all = append(all, Fact{What: FirstFound})
	case d.first && !s.Baseline:
		all = append(all, Fact{What: FirstKnown})
	case d.first:
		all = append(all, Fact{What: FirstTest})
	case s.Baseline:
		all = append(all, Fact{What: Into})
	}
	if worn := out.thatAre(LeaksWithAll); len(worn) > 0 {
		all = append(all, Fact{What: LeaksWithAll, Value: d.leakCommon})
	}
	account := account(on, out, d)
	all = append(all, leftOut(on, d)...)
	together := together(on, s, d)
	all = append(append(all, account...), together...)
	var stood []int
	for _, c := range out.Cylinders {
		if e := d.of(c.Cylinder); c.State == Steady && e.Sound >= rules.Likely {
			stood = append(stood, c.Cylinder)
		}
	}
	_, moved := named(all, AllMoved)
	switch {
	case d.first && len(bad) == 0:
		if e := reading.Even(out.Pressures()); e.Spread > 0 {
			lowest := slices.MinFunc(out.cranked(), func(a, b Cylinder) int { return cmp.Compare(*a.Compression, *b.Compression) })
			all = append(all, Fact{What: Stands, Cylinders: []int{lowest.Cylinder}, Value: e.SpreadPctOfHighest})
		}
	case d.first || moved || d.fell():
	case len(bad) == 0 && len(account) == 0 && out.Repaired != nil:
		all = append(all, others(stood, out.Repaired.Cylinders)...)
	case len(bad) == 0 && len(account) == 0:
		all = append(all, Fact{What: NothingNew})
	case len(bad) > 0 && len(stood) > 0 && len(stood)+len(bad) == len(out.Cylinders):
		all = append(all, Fact{What: OthersStood, Cylinders: stood})
	}
	if allAlike(out, d) {
		bad = nil
	}
	return append(all, notCompared(on, s, now, d, bad)...)
}

// others says of those that stood, some cylinders aside, that they did.
func others(stood, aside []int) []Fact {
	rest := slices.DeleteFunc(slices.Clone(stood), func(c int) bool { return slices.Contains(aside, c) })
	return those(OthersStood, rest, func(int) bool { return true })
}

// account returns what went wrong with the testing, where that is likelier than not.
func account(on *subject, out Session, d change) []Fact {
	weights := map[belief.Kind]float64{}
	likeliest := map[belief.Kind]belief.Hypothesis{}
	for _, a := range d.accounts {
		weights[a.Kind] += a.Weight
		if a.Weight > likeliest[a.Kind].Weight {
			likeliest[a.Kind] = a
		}
	}
	if off := out.thatAre(TakenOff); len(off) > 0 && weights[belief.Bank] < rules.Likely {
		most := 0.0
		for _, c := range off {
			f, _ := named(out.Of(c).Facts, TakenOff)
			most = math.Max(most, f.Value)
		}
		return []Fact{{What: TakenOff, Cylinders: off, Value: most}}
	}
	for _, kind := range []belief.Kind{belief.Sag, belief.Step, belief.Bank} {
		a := likeliest[kind]
		if weights[kind] < rules.Likely {
			continue
		}
		f := Fact{What: Sank, Value: -percent(a.Size)}
		switch kind {
		case belief.Step:
			f = Fact{What: Stepped, Value: percent(a.Size), Cylinders: []int{on.order[d.order[a.From]]}}
		case belief.Bank:
			f = Fact{What: BankApart, Value: percent(a.Size)}
		}
		return []Fact{f}
	}
	return nil
}

// leftOut names the cylinders of which a pull does not fit the others of its row, nor what they should read.
func leftOut(on *subject, d change) []Fact {
	return those(PullLeftOut, on.order, func(c int) bool { return d.of(c).LeftOut && !d.of(c).Unsure })
}

// together returns what all did, or how all stand.
func together(on *subject, s log.Session, d change) []Fact {
	var facts []Fact
	switch {
	case d.unexplained():
		facts = append(facts, Fact{What: AllMoved, Value: percent(d.common - d.expected.mean), SE: 100 * d.commonSE})
	case d.fell():
		facts = append(facts, Fact{What: AllAsTested, Value: percent(d.common)})
	}
	nominal := on.engine.Limits
	if nominal != nil && nominal.Nominal != nil && d.read > 0 {
		// Held against the maker's usual figure, whatever was learned of this engine.
		off := d.level - math.Log(float64(nominal.Nominal.Pressure()))
		if s.Conditions.Cold() {
			off -= rules.ColdReads
		}
		if percent(off) < -rules.NominalLow {
			facts = append(facts, Fact{What: AllLow, Value: -percent(off), Figure: nominal.Nominal.String(), By: nominal.By()})
		}
	}
	return facts
}

// notCompared returns what a finding lacks to be judged by.
func notCompared(on *subject, s log.Session, now map[int]figure, d change, bad []int) []Fact {
	facts := those(NotCranked, bad, func(c int) bool { return now[c].se == 0 })
	if !on.rotary {
		facts = append(facts, those(NotLeaked, bad, func(c int) bool { return now[c].leakSE == 0 })...)
		facts = append(facts, those(NotListened, bad, func(c int) bool { return now[c].leakSE > 0 && now[c].paths == nil })...)
	}
	if !d.first {
		facts = append(facts, those(FirstLeaks, on.order, func(c int) bool { return d.of(c).NewLeak && d.of(c).RiseSE > 0 })...)
		facts = append(facts, those(FirstPulls, on.order, func(c int) bool { return d.of(c).NewReading && d.of(c).ChangeSE > 0 })...)
	}
	return facts
}
