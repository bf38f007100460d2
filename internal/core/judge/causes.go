package judge

import (
	"cmp"
	"math"
	"slices"
	"sync"

	"braxel/internal/core/belief"
	"braxel/internal/core/cause"
	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
)

// faults returns what is wrong, worst first: cylinders each by themselves, neighbours that leak into each other together.
func faults(on *subject, known map[int]bool, points points, out Session, s log.Session, now map[int]figure, d change) []Fault {
	bad := slices.DeleteFunc(slices.Clone(out.Cylinders), func(c Cylinder) bool { return c.State == Steady })
	slices.SortStableFunc(bad, func(a, b Cylinder) int {
		return cmp.Or(cmp.Compare(b.State.Severity(), a.State.Severity()), cmp.Compare(howFar(b.Cylinder, d), howFar(a.Cylinder, d)))
	})
	var all []Fault
	taken := map[int]bool{}
	for _, c := range bad {
		if taken[c.Cylinder] {
			continue
		}
		where := []int{c.Cylinder}
		e := d.of(c.Cylinder)
		if e.Pair >= 0 && e.PairChance >= rules.Likely && c.State != Retest {
			if other := on.order[e.Pair]; !taken[other] {
				where = append(where, other)
			}
		}
		slices.SortFunc(where, func(a, b int) int { return cmp.Compare(slices.Index(on.order, a), slices.Index(on.order, b)) })
		f := Fault{Cylinders: where, State: c.State}
		for _, w := range where {
			taken[w] = true
		}
		f.Causes = causesOf(on, where, c.doubted(), found(on, points, where, s, now, d), d)
		steps(on, known, &f, s, now, d)
		all = append(all, f)
	}
	return all
}

// howFar is how far a cylinder has gone, in points and percent together, to tell the worst.
func howFar(c int, d change) float64 {
	e := d.of(c)
	return math.Max(0, -percent(e.Change)) + math.Max(0, e.Rise)
}

// causesOf weighs what may be wrong with a cylinder, or two that share a gasket: what is believed of where it leaks, split
// within a class by what else was found.
func causesOf(on *subject, where []int, doubted bool, found []string, d change) []Cause {
	if on.rotary {
		return cause.Weigh(on.table, found, where, func(c rules.Cause) bool { return c.Scope == "cylinder" && c.Class != rules.IsInnocent })
	}
	e := d.of(where[0])
	class := map[rules.Class]float64{
		rules.LeaksRings: e.Leaking * e.Place[belief.Rings], rules.LeaksIntake: e.Leaking * e.Place[belief.Intake],
		rules.LeaksExhaust: e.Leaking * e.Place[belief.Exhaust], rules.LeaksCoolant: e.Leaking * e.Place[belief.Coolant],
		rules.LeaksNeighbour: e.Leaking * e.Place[belief.Neighbour], rules.IsShort: e.Short,
	}
	if doubted {
		class[rules.IsInnocent] = e.Innocent + e.Failed
	}
	return cause.WeighBelieved(on.table, found, where, func(c rules.Cause) float64 {
		if c.Scope == "engine" || (c.Class == rules.IsInnocent && !doubted) {
			return 0
		}
		return (class[c.Class] + rules.HardlyEver) * c.Prior / on.usual[c.Class]
	})
}

// found returns the findings on the cylinders in question.
func found(on *subject, points points, where []int, s log.Session, now map[int]figure, d change) []string {
	var all []string
	e, f := d.of(where[0]), now[where[0]]
	low := e.ChangeSE > 0 && e.Change < -rules.Surely*e.ChangeSE
	switch {
	case low && len(where) > 1:
		all = append(all, "neighbours-low")
	case low:
		all = append(all, "one-low")
	case e.ChangeSE > 0:
		all = append(all, "even")
	}
	if _, off := faceOff(f); off {
		all = append(all, "face-off")
	} else if low && len(f.faces) > 1 {
		all = append(all, "faces-even")
	}
	if e.RiseSE > 0 {
		if e.Rise > rules.Surely*e.RiseSE {
			all = append(all, "leak-up")
		} else {
			all = append(all, "leak-same")
		}
		all = append(all, placed(where, now)...)
	}
	if f.wetGain != nil {
		room, _ := gas.OilShare(on.engine, f.oil)
		if reading.WetOf(*f.wetGain, room, wetBeside(where, now)).Seals {
			all = append(all, "oil-lifts")
		} else {
			all = append(all, "oil-nothing")
		}
	}
	for _, r := range reading.Rises(s) {
		switch {
		case !slices.Contains(where, r.Cylinder):
		case r.Slow():
			all = append(all, "slow-rise")
		case r.Sudden() && len(where) > 1 && !slices.Contains(all, "sudden-rise"):
			all = append(all, "sudden-rise")
		}
	}
	for _, o := range s.Observations {
		is := on.table.Seen(o.What, o.Finding)
		if is != "" && (o.Number() == 0 || slices.Contains(where, o.Number())) && !slices.Contains(all, is) {
			all = append(all, is)
		}
	}
	return append(all, paceOf(points.of(where[0]))...)
}

// wetBeside returns what the cylinders that are not in question gained by oil, percent.
func wetBeside(where []int, now map[int]figure) []float64 {
	var all []float64
	for c, f := range now {
		if f.wetGain != nil && !slices.Contains(where, c) {
			all = append(all, *f.wetGain)
		}
	}
	return all
}

// placed returns where the air of the cylinders was heard; the loudest place beside the oil filler counts, and the
// filler alone only where somebody listened.
func placed(where []int, now map[int]figure) []string {
	var paths []log.Path
	for _, c := range where {
		paths = append(paths, now[c].paths...)
	}
	if loud, ok := Loudest(paths); ok {
		return []string{"at-" + loud.Where}
	}
	if len(paths) > 0 {
		return []string{"at-crankcase"}
	}
	return nil
}

// steps puts the next tests into a fault: what confirms it first, then what settles most for its time.
func steps(on *subject, known map[int]bool, f *Fault, s log.Session, now map[int]figure, d change) {
	used := done(on, f.Cylinders, s, now)
	add := func(test string) {
		used[test] = true
		f.add(on.table.Named(test))
	}
	c := f.Cylinders[0]
	e := d.of(c)
	alone := e.RiseSE > 0 && e.Rise > rules.Surely*e.RiseSE && now[c].attempts == 1 && !known[c] && !d.borneOut(c, now[c])
	switch cold := s.Conditions.Cold() && s.Place != "stand"; {
	case on.rotary:
	case e.Failed >= rules.Innocent && e.ChangeSE > 0:
		add("pull-again")
	case alone || e.Innocent >= rules.Innocent:
		// Nothing is opened for one reading of a leak that nothing bears out.
		add("repeat-leakdown")
	case now[c].cleared() && e.ChangeSE > 0 && e.Change < -rules.Surely*e.ChangeSE:
		// What lay on the seat while it was cranked has been blown off since.
		add("pull-again")
	case d.first && now[c].attempts == 1 && f.Causes[0].Snap():
		// Dirt on a seat takes compression, too, and one that nobody knows may have stood: no head comes off before the valve was snapped.
		add("repeat-leakdown")
	case d.first && cold && f.State != Stop:
		add("hot-test")
	}
	if f.State == Retest || (f.Next == nil && f.Causes[0].Probability >= rules.Settled && f.Causes[0].Mend() != "") {
		return
	}
	search(on.table, f, used)
}

// search adds the tests that settle most for their time: one, or up to three where something must be done.
func search(table rules.CauseTable, f *Fault, done map[string]bool) {
	most := 1
	if f.State.Severity() >= Act.Severity() {
		most = rules.SearchMost
	}
	for _, next := range cause.Next(table, f.Causes, done, most) {
		f.add(next)
	}
}

// done are the tests that there is no use in: done already, or not for this engine.
func done(on *subject, where []int, s log.Session, now map[int]figure) map[string]bool {
	of := func(is func(figure) bool) bool {
		return slices.ContainsFunc(where, func(c int) bool { return is(now[c]) }) || (len(where) == 0 && anyOf(now, is))
	}
	// What the run sheet's own steps have done already.
	used := map[string]bool{
		"wet":      of(func(f figure) bool { return f.wetGain != nil }),
		"leakdown": of(func(f figure) bool { return f.leakSE > 0 && f.paths != nil }),
	}
	for _, o := range s.Observations {
		used[o.What] = true
	}
	canBeWarmed := s.Conditions.Cold() && s.Place != "stand"
	for _, x := range on.table.Tests {
		useless := x.ByRule || slices.Contains(x.NotFor, on.engine.Kind) || (x.NotFuel != "" && x.NotFuel == on.engine.Fuel) ||
			(x.WholeOnly && len(where) > 0) || (x.Cylinders > 0 && len(where) != x.Cylinders) || (x.ColdOnly && !canBeWarmed)
		used[x.Test] = used[x.Test] || used[x.DoneBy] || useless
	}
	return used
}

// whole returns the causes of what the engine did as one, where it did.
func whole(on *subject, losses []float64, out Session, s log.Session, now map[int]figure, d change) []Cause {
	fresh := s.Stage == "pre-install" || s.Stage == "after-running"
	engine := func(c rules.Cause) bool {
		return c.Scope == "engine" && c.Class != rules.Nothing && (fresh || c.Class != rules.OfBedding)
	}
	_, low := named(out.Facts, AllLow)
	_, bank := named(out.Facts, BankApart)
	switch {
	case d.fell():
		return cause.Weigh(on.table, foundInAll(losses, s, now, d), nil, func(c rules.Cause) bool {
			return engine(c) && (d.unexplained() || c.Class == rules.OfTesting)
		})
	case bank:
		return cause.Weigh(on.table, []string{"low-from-start", "leak-same"}, nil, func(c rules.Cause) bool { return c.ABank })
	case low || allAlike(out, d):
		return cause.Weigh(on.table, []string{"low-from-start"}, nil, engine)
	}
	return unmoved()
}

// unmoved is what an engine that has not moved is weighed as; it is the same each time, and not to be changed.
var unmoved = sync.OnceValue(func() []cause.Weighed {
	return cause.Weigh(rules.Causes(), []string{"even", "leak-same"}, nil, func(rules.Cause) bool { return true })
})

// foundInAll returns the findings on an engine that moved as one.
func foundInAll(losses []float64, s log.Session, now map[int]figure, d change) []string {
	all := []string{"all-low"}
	if common, _ := d.beyond(); percent(common) < -rules.FellVery {
		all[0] = "all-very-low"
	}
	if d.leakCommon > rules.LeakAll {
		all = append(all, "leak-up")
	} else if anyOf(now, func(f figure) bool { return f.leakSE > 0 }) {
		all = append(all, "leak-same")
	}
	if s.Stage == "pre-install" {
		all = append(all, "not-bedded")
	}
	for _, u := range d.unlike {
		all = append(all, u.Finding)
	}
	if n := len(losses); n > 1 && losses[n-2] > rules.Stays*losses[n-1] {
		all = append(all, "stays")
	}
	return append(all, pace(losses[max(0, len(losses)-rules.PaceTests):])...)
}
