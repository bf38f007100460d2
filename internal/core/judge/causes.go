package judge

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"sync"

	"braxel/internal/core/belief"
	"braxel/internal/core/cause"
	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
)

// Fault is what is wrong with one cylinder, or with two that share a gasket, by itself: its own causes, sentence and next step.
type Fault struct {
	Cylinders []int   `json:"cylinders"`
	State     State   `json:"state" enum:"steady,retest,watch,act,stop"`
	Sentence  string  `json:"sentence"`
	Causes    []Cause `json:"causes"`
	Next      *Next   `json:"next,omitempty"`
	Then      []Next  `json:"then,omitempty" doc:"What to do after the next, in the order of cost"`
}

// faults returns what is wrong, worst first: cylinders each by themselves, neighbours that leak into each other together.
func (h *history) faults(out Session, s log.Session, now map[int]figure, d change) []Fault {
	bad := slices.DeleteFunc(slices.Clone(out.Cylinders), func(c Cylinder) bool { return c.State == Steady })
	slices.SortStableFunc(bad, func(a, b Cylinder) int {
		return cmp.Or(cmp.Compare(b.State.Severity(), a.State.Severity()), cmp.Compare(h.gone(b.Cylinder, d), h.gone(a.Cylinder, d)))
	})
	var all []Fault
	taken := map[int]bool{}
	for _, c := range bad {
		if taken[c.Cylinder] {
			continue
		}
		where := []int{c.Cylinder}
		e := d.of(c.Cylinder)
		if e.Pair >= 0 && e.PairChance >= likely && c.State != Retest {
			if other := h.order[e.Pair]; !taken[other] {
				where = append(where, other)
			}
		}
		slices.SortFunc(where, func(a, b int) int { return cmp.Compare(slices.Index(h.order, a), slices.Index(h.order, b)) })
		f := Fault{Cylinders: where, State: c.State}
		for _, w := range where {
			taken[w] = true
		}
		f.Causes = h.causesOf(where, c.doubted(), s, now, d)
		h.steps(&f, s, now, d)
		all = append(all, f)
	}
	return all
}

// gone is how far a cylinder has gone, in points and percent together, to tell the worst.
func (h *history) gone(c int, d change) float64 {
	e := d.of(c)
	return math.Max(0, -percent(e.Change)) + math.Max(0, e.Rise)
}

// doubted reports whether it is a reading that is in doubt; of a cold cylinder it is the engine.
func (c Cylinder) doubted() bool {
	_, cold := named(c.Facts, ColdUneven)
	return c.State == Retest && !cold
}

// told are the findings that the belief has weighed already, from their figures.
var told = []string{
	"one-low", "neighbours-low", "even", "leak-up", "leak-same", "jump",
	"at-intake", "at-exhaust", "at-coolant", "at-neighbour", "at-crankcase",
}

// causesOf weighs what may be wrong with a cylinder, or two that share a gasket: what is believed of where it leaks, split
// within a place by what else was found.
func (h *history) causesOf(where []int, doubted bool, s log.Session, now map[int]figure, d change) []Cause {
	found := h.found(where, s, now, d)
	if h.log.Engine.Kind == log.Rotary {
		return h.table.Weigh(found, where, func(c cause.Cause) bool { return c.Scope == "cylinder" && c.Cause != "seat_dirt" })
	}
	e := d.of(where[0])
	class := map[string]float64{
		"rings_bore":   e.Leaking * e.Place[belief.Rings],
		"intake_valve": e.Leaking * e.Place[belief.Intake], "exhaust_valve": e.Leaking * e.Place[belief.Exhaust],
		"gasket_coolant": e.Leaking * e.Place[belief.Coolant], "gasket_neighbour": e.Leaking * e.Place[belief.Neighbour], "bent_rod": e.Short,
	}
	class["crank_seal"], class["reeds"] = class["rings_bore"], class["bent_rod"]
	class["piston_damage"], class["cam_lobe"] = class["rings_bore"], class["bent_rod"]
	if doubted {
		class["seat_dirt"] = e.Innocent + e.Failed
	}
	whole := map[string]float64{} // the priors of those that share a place
	for _, c := range h.table.Causes {
		whole[shares(c.Cause)] += c.Prior
	}
	return h.table.WeighAs(found, told, where, func(c cause.Cause) float64 {
		if c.Scope == "engine" || (c.Cause == "seat_dirt" && !doubted) {
			return 0
		}
		return (class[c.Cause] + hardlyEver) * c.Prior / whole[shares(c.Cause)]
	})
}

// hardlyEver is the weight of a cause that nothing speaks for.
const hardlyEver = 1e-9

// shares names the causes that a leak's place, or its want, cannot tell apart.
func shares(name string) string {
	switch name {
	case "piston_damage", "crank_seal":
		return "rings_bore"
	case "cam_lobe", "reeds":
		return "bent_rod"
	}
	return name
}

// found returns the findings on the cylinders in question.
func (h *history) found(where []int, s log.Session, now map[int]figure, d change) []string {
	var all []string
	e, f := d.of(where[0]), now[where[0]]
	low := e.ChangeSE > 0 && e.Change < -surely*e.ChangeSE
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
		if e.Rise > surely*e.RiseSE {
			all = append(all, "leak-up")
		} else {
			all = append(all, "leak-same")
		}
		all = append(all, h.placed(where, now)...)
	}
	if f.wetGain != nil {
		room, known := gas.OilShare(h.log.Engine, f.oil)
		if !known {
			room = oilUsual
		}
		if *f.wetGain > math.Min(room, oilMost)+oilSeals {
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
		is := h.table.Seen(o.What, o.Finding)
		if is != "" && (o.Number() == 0 || slices.Contains(where, o.Number())) && !slices.Contains(all, is) {
			all = append(all, is)
		}
	}
	return append(all, h.paceOf(where[0])...)
}

// What oil adds in percent: at most so much by its own room, since it runs off, and so much more before it is sealing (the trade
// calls 10 psi no rise; a sound cylinder's 3.5 % is that at 280 psi, and what two pulls differ by).
const (
	oilUsual = 8.0
	oilMost  = 9.0
	oilSeals = 3.5
)

// placed returns where the air of the cylinders was heard; the loudest place beside the oil filler counts, and the
// filler alone only where somebody listened.
func (h *history) placed(where []int, now map[int]figure) []string {
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
func (h *history) steps(f *Fault, s log.Session, now map[int]figure, d change) {
	done := h.done(f.Cylinders, s, now)
	add := func(test string) {
		done[test] = true
		f.add(h.table.Named(test))
	}
	c := f.Cylinders[0]
	e := d.of(c)
	alone := e.RiseSE > 0 && e.Rise > surely*e.RiseSE && now[c].attempts == 1 && !h.known[c] && !d.borneOut(c, now[c])
	switch cold := s.Conditions.Cold() && s.Place != "stand"; {
	case h.log.Engine.Kind == log.Rotary:
	case e.Failed >= doubtful && e.ChangeSE > 0:
		add("pull-again")
	case alone || e.Innocent >= doubtful:
		// Nothing is opened for one reading of a leak that nothing bears out.
		add("repeat-leakdown")
	case now[c].cleared() && e.ChangeSE > 0 && e.Change < -surely*e.ChangeSE:
		// What lay on the seat while it was cranked has been blown off since.
		add("pull-again")
	case d.first && now[c].attempts == 1 && slices.Contains([]string{"intake_valve", "exhaust_valve"}, f.Causes[0].Cause):
		// Dirt on a seat takes compression, too, and one that nobody knows may have stood: no head comes off before the valve was snapped.
		add("repeat-leakdown")
	case d.first && cold && f.State != Stop:
		add("hot-test")
	}
	if f.State == Retest || (f.Next == nil && f.Causes[0].Probability >= settled && f.Causes[0].Mend() != "") {
		return
	}
	h.search(f, done)
}

// cleared reports whether a leak was gone when it was tried again.
func (f figure) cleared() bool {
	if len(f.rows) < 2 {
		return false
	}
	most := 0.0
	for _, r := range f.rows[:len(f.rows)-1] {
		most = max(most, r.Pct)
	}
	return most > f.rows[len(f.rows)-1].Pct+clears
}

// clears is by how many points a leak has to fall for something to have been blown off.
const clears = 5.0

// search adds the tests that settle most for their time: one, or up to three where something must be done.
func (h *history) search(f *Fault, done map[string]bool) {
	most := 1
	if f.State.Severity() >= Act.Severity() {
		most = 3
	}
	for _, next := range h.table.Next(f.Causes, done, most) {
		f.add(next)
	}
}

// add puts a test after those that are to be done already.
func (f *Fault) add(t cause.Test) {
	one := Next{
		Test:      t.Test,
		Words:     t.Words,
		Step:      t.Step,
		Cylinders: f.Cylinders,
		Why:       fmt.Sprintf("%.0f minutes: %s", t.Minutes, t.Tells),
	}
	if f.Next == nil {
		f.Next = &one
	} else {
		f.Then = append(f.Then, one)
	}
}

// done are the tests that there is no use in: done already, or not for this engine.
func (h *history) done(where []int, s log.Session, now map[int]figure) map[string]bool {
	piston := h.log.Engine.Kind != log.Rotary
	of := func(is func(figure) bool) bool {
		return slices.ContainsFunc(where, func(c int) bool { return is(now[c]) }) || (len(where) == 0 && anyOf(now, is))
	}
	done := map[string]bool{
		"repeat-leakdown": true, "pull-again": true, "second-gauge": len(where) > 0,
		"wet":            !piston || h.log.Engine.Fuel == "diesel" || of(func(f figure) bool { return f.wetGain != nil }),
		"leakdown":       !piston || of(func(f figure) bool { return f.leakSE > 0 && f.paths != nil }),
		"neighbour-plug": len(where) != 2,
		"hot-test":       !s.Conditions.Cold() || s.Place == "stand",
		"lash":           h.log.Engine.Kind != log.FourStroke,
		"cam-marks":      h.log.Engine.Kind != log.FourStroke,
		"piston-height":  !piston,
		"case-pressure":  h.log.Engine.Kind != log.TwoStroke,
		"reeds":          h.log.Engine.Kind != log.TwoStroke,
	}
	for _, o := range s.Observations {
		done[o.What] = true
		done["piston-height"] = done["piston-height"] || o.What == "stroke-marks"
	}
	return done
}

// settled is the probability of a cause that is to be mended from which no further test is worth its time.
const settled = 0.9

func anyOf(now map[int]figure, is func(figure) bool) bool {
	for _, f := range now {
		if is(f) {
			return true
		}
	}
	return false
}

// whole returns the causes of what the engine did as one, where it did.
func (h *history) whole(out Session, s log.Session, now map[int]figure, d change) []Cause {
	fresh := s.Stage == "pre-install" || s.Stage == "after-running"
	engine := func(c cause.Cause) bool {
		return c.Scope == "engine" && c.Cause != "healthy" && (fresh || c.Cause != "not_bedded")
	}
	_, low := named(out.Facts, AllLow)
	_, bank := named(out.Facts, BankApart)
	switch {
	case d.fell():
		return h.table.Weigh(h.foundInAll(s, now, d), nil, func(c cause.Cause) bool {
			return engine(c) && (d.unexplained() || c.Cause == "tester" || c.Cause == "conditions")
		})
	case bank:
		return h.table.Weigh([]string{"low-from-start", "leak-same"}, nil, func(c cause.Cause) bool {
			return c.Cause == "cam_timing" || c.Cause == "conditions"
		})
	case low || h.allAlike(out, d):
		return h.table.Weigh([]string{"low-from-start"}, nil, engine)
	}
	return unmoved()
}

// allAlike reports whether every cylinder is bad and none by a change of its own.
func (h *history) allAlike(s Session, d change) bool {
	bad := s.atLeast(Watch)
	return len(bad) == len(s.Cylinders) && len(bad) > 1 &&
		!slices.ContainsFunc(bad, func(c int) bool { return 1-d.of(c).Sound >= worthALook })
}

// unmoved is what an engine that has not moved is weighed as; it is the same each time, and not to be changed.
var unmoved = sync.OnceValue(func() []cause.Weighed {
	return cause.Load().Weigh([]string{"even", "leak-same"}, nil, func(cause.Cause) bool { return true })
})

// pace says whether a loss came at once or little by little, from its sizes test by test, where three tests can tell.
func pace(sizes []float64) []string {
	n := len(sizes)
	if n < 3 {
		return nil
	}
	now, step, begun := sizes[n-1], 0.0, 0
	for i, size := range sizes {
		if i > 0 {
			step = math.Max(step, size-sizes[i-1])
		}
		if size > now/6 {
			begun++
		}
	}
	switch {
	case step >= 0.7*now:
		return []string{"sudden"}
	case begun > 2 && step <= 0.55*now:
		return []string{"gradual"}
	}
	return nil
}

// paceOf is the pace of a cylinder, in points of leak and percent of compression together.
func (h *history) paceOf(c int) []string {
	const last = 12
	var sizes []float64
	for _, p := range h.points[c][max(0, len(h.points[c])-last):] {
		sizes = append(sizes, math.Max(0, p.leak)+math.Max(0, p.loss))
	}
	const small = 5.0 // scatter makes steps of its own
	if len(sizes) == 0 || sizes[len(sizes)-1] < small {
		return nil
	}
	return pace(sizes)
}

// fell reports whether all cylinders read lower by one ratio, whatever made it.
func (d change) fell() bool { return d.compared && percent(d.common) < -4 && d.common < -3*d.commonSE }

// unexplained reports whether they read lower than what the way of testing makes.
func (d change) unexplained() bool {
	common, se := d.beyond()
	return d.compared && percent(common) < -4 && common < -3*se
}

// foundInAll returns the findings on an engine that moved as one.
func (h *history) foundInAll(s log.Session, now map[int]figure, d change) []string {
	all := []string{"all-low"}
	if common, _ := d.beyond(); percent(common) < -12.5 {
		all[0] = "all-very-low"
	}
	if d.leakCommon > 3 {
		all = append(all, "leak-up")
	} else if anyOf(now, func(f figure) bool { return f.leakSE > 0 }) {
		all = append(all, "leak-same")
	}
	if s.Stage == "pre-install" {
		all = append(all, "not-bedded")
	}
	for _, u := range d.unlike {
		all = append(all, u.finding)
	}
	if n := len(h.losses); n > 1 && h.losses[n-2] > 0.5*h.losses[n-1] {
		all = append(all, "stays")
	}
	return append(all, pace(h.losses[max(0, len(h.losses)-12):])...)
}
