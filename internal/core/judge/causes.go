package judge

import (
	"cmp"
	"math"
	"slices"
	"sync"

	"braxel/internal/core/cause"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
)

// faults returns what is wrong, worst first: cylinders each by themselves, neighbours that leak into each other together.
func faults(on *subject, known past, out Session, s log.Session, now map[int]figure, d change) []Fault {
	bad := slices.DeleteFunc(slices.Clone(out.Cylinders), func(c Cylinder) bool { return c.State == Steady || c.onlyTested() || c.onlyWorn() })
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
		began := beganIn(on, known, where[0], s)
		f.Causes, f.Story = causesOf(on, known, began, where, c.doubted(), now[c.Cylinder].hisses(), found(on, known, where, s, now, d), d)
		stake(on, known, began, &f)
		steps(on, known.known, &f, s, now, d)
		all = append(all, f)
	}
	return all
}

// stake raises the state of a fault to what is at stake where the engine is run with it: what a measurement has shown of a cause that wrecks
// an engine, or what happened that may have, until it is ruled out. It goes by what was found and what happened, never by the size, so that
// more is not milder.
func stake(on *subject, known past, began begun, f *Fault) {
	if f.State != Watch || on.rotary {
		return
	}
	seen := known.seen[f.Cylinders[0]]
	if slices.ContainsFunc(f.Causes, func(c Cause) bool { return c.NoWait() || (c.NotRun() && c.ShownBy(seen)) }) {
		f.State = Act
		return
	}
	for _, o := range began.origins {
		if o.part != nil && o.part.Happened.Grave && o.since && !slices.Contains(seen, rules.HeightRight) {
			f.State = Act
		}
	}
}

// howFar is how far a cylinder has gone, in points and percent together, to tell the worst.
func howFar(c int, d change) float64 {
	e := d.of(c)
	return math.Max(0, -percent(e.Change)) + math.Max(0, e.Rise)
}

// causesOf weighs what may be wrong with a cylinder, or two that share a gasket: how often each cause begins so, how well its usual size
// goes with what was read, and what else was found.
func causesOf(on *subject, known past, began begun, where []int, doubted, hisses bool, found []string, d change) ([]Cause, *Story) {
	if on.rotary {
		return cause.Weigh(on.table, found, where, func(c rules.Cause) bool { return c.Scope == "cylinder" && c.Class != rules.IsInnocent }), nil
	}
	e := d.of(where[0])
	amounts := known.believed.Amounts(slices.Index(on.order, where[0]))
	if !began.heard {
		amounts.Unheard() // what was heard while it was right is no evidence of where it leaks now
	}
	weigh := func(without bool) []Cause {
		likely, whole := chances(on, began, &amounts, known.oiled[where[0]], len(where) > 1, without), 0.0
		for _, c := range on.table.Causes { // in order, so that the sum is the same each time
			whole += likely[c.Cause]
		}
		return cause.WeighBelieved(on.table, found, where, func(c rules.Cause) float64 {
			switch {
			case doubted && c.Class == rules.IsInnocent && !hisses:
				return e.Innocent * c.Times()
			case doubted && c.Cause == rules.Misread && hisses:
				return (e.Failed + e.Innocent) * c.Times()
			case doubted && c.Cause == rules.Misread:
				return e.Failed * c.Times()
			case c.Scope == "engine" || c.Class == rules.IsInnocent || whole == 0:
				return 0
			}
			return (e.Leaking + e.Short + rules.HardlyEver) * (likely[c.Cause]/whole + rules.HardlyEver)
		})
	}
	with := weigh(false)
	return with, tell(on, began, with, func() []Cause { return weigh(true) })
}

// tell returns what of what happened made the likeliest cause likelier, if anything did by much.
func tell(on *subject, b begun, with []Cause, without func() []Cause) *Story {
	top := with[0]
	var of *origin
	most := 0.0
	for i := range b.origins {
		o := &b.origins[i]
		if o.part == nil || o.part.Guessed {
			continue
		}
		if does := o.rate * o.part.Happened.To(on.engine)[top.Cause]; does > most {
			of, most = o, does
		}
	}
	if of == nil {
		return nil
	}
	from := 0.0
	for _, w := range without() {
		if w.Cause == top.Cause {
			from = w.Probability
		}
	}
	if top.Probability < from+rules.StoryTells {
		return nil
	}
	h := of.part.Happened
	return &Story{Kind: h.Kind, Date: of.part.Date, Words: h.It, Cause: top.Cause, From: from, To: top.Probability}
}

// found returns the findings on the cylinders in question.
func found(on *subject, known past, where []int, s log.Session, now map[int]figure, d change) []string {
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
	for _, r := range reading.Rises(s) {
		switch {
		case !slices.Contains(where, r.Cylinder):
		case r.Slow():
			all = append(all, "slow-rise")
		case r.Sudden() && len(where) > 1 && !slices.Contains(all, "sudden-rise"):
			all = append(all, "sudden-rise")
		}
	}
	for _, is := range known.seenOn(where) {
		if !slices.Contains(all, is) {
			all = append(all, is)
		}
	}
	return append(all, paceOf(known.points.of(where[0]))...)
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
	case d.first && cold && f.State.Severity() < Act.Severity():
		add("hot-test")
	}
	top := f.Causes[0]
	if f.State == Retest || (f.Next == nil && top.Probability >= rules.Settled && top.Mend() != "" && top.Measured()) {
		return
	}
	search(on.table, f, used)
	if f.Next == nil && !top.Measured() {
		// Nothing is opened for a cause that no test has shown.
		if x, ok := cause.Confirming(on.table, top, used); ok {
			f.add(x)
		}
	}
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
func whole(on *subject, known past, out Session, s log.Session, now map[int]figure, d change) ([]Cause, *Story) {
	fresh := s.Stage == "pre-install" || s.Stage == "after-running"
	engine := func(c rules.Cause) bool {
		return c.Scope == "engine" && c.Class != rules.Nothing && (fresh || c.Class != rules.OfBedding)
	}
	_, low := named(out.Facts, AllLow)
	_, bank := named(out.Facts, BankApart)
	switch {
	case d.fell():
		return ofAll(on, known, s, d.unexplained(), -percent(d.common), foundInAll(on, known, s, now, d), func(c rules.Cause) bool {
			return engine(c) && (d.unexplained() || c.Class == rules.OfTesting)
		})
	case bank:
		f, _ := named(out.Facts, BankApart)
		return ofAll(on, known, s, true, math.Abs(f.Value), []string{"low-from-start", "leak-same"}, func(c rules.Cause) bool { return c.ABank })
	case low || allAlike(out, d):
		f, _ := named(out.Facts, AllLow)
		found := append([]string{"low-from-start"}, known.seenOn(on.order)...)
		if d.leakCommon > rules.LeakAll {
			found = append(found, "leak-up")
		}
		return ofAll(on, known, s, true, f.Value, found, engine)
	}
	return unmoved(), nil
}

// ofAll weighs what made all cylinders, or a bank, lose so many percent.
func ofAll(on *subject, known past, s log.Session, moved bool, lost float64, found []string, allowed func(rules.Cause) bool) ([]Cause, *Story) {
	began := beganAll(on, known, s)
	if slices.Contains(found, "leak-up") {
		began.came = unclear // leaks show wear long before compression does
	}
	if !moved {
		began.stays = 0 // it is as it should be, and stays so while it is tested in that way
	}
	weigh := func(without bool) []Cause {
		return cause.WeighSized(on.table, found, func(c rules.Cause) float64 {
			if !allowed(c) {
				return 0
			}
			return chanceOfAll(on, began, c, lost, without)
		})
	}
	with := weigh(false)
	return with, tell(on, began, with, func() []Cause { return weigh(true) })
}

// unmoved is what an engine that has not moved is weighed as; it is the same each time, and not to be changed.
var unmoved = sync.OnceValue(func() []cause.Weighed {
	return cause.Weigh(rules.Causes(), []string{"even", "leak-same"}, nil, func(c rules.Cause) bool { return c.Scope == "engine" })
})

// foundInAll returns the findings on an engine that moved as one.
func foundInAll(on *subject, known past, s log.Session, now map[int]figure, d change) []string {
	all, losses := append([]string{"all-low"}, known.seenOn(on.order)...), known.losses
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
	same := true
	for _, u := range d.unlike {
		all = append(all, u.Finding)
		same = same && u.Finding != rules.GaugeChanged
	}
	if same && gauge(s) != "" {
		all = append(all, rules.GaugeSame)
	}
	if n := len(losses); d.unexplained() && n > 1 && losses[n-2] > rules.Stays*losses[n-1] {
		all = append(all, "stays")
	}
	return append(all, pace(losses[max(0, len(losses)-rules.PaceTests):])...)
}
