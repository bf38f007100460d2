package judge

import (
	"fmt"
	"math"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rotor"
	"braxel/internal/core/units"
)

// The chances from which a cylinder is looked at again, and from which something is done: a needless look costs two thirds of a
// fault that was missed, so it is worth it from (2/3)/(1 + 2/3).
const (
	worthALook = 0.4
	likely     = 0.5
	doubtful   = 0.45 // that a reading is innocent: it is to be repeated
	neither    = 0.6  // that it is innocent or a fault

	hardlyAny   = 2.0  // percent of leak that can be heard at all
	worthRepeat = 4.0  // points: less is not worth a repeat
	singleLoses = 10.0 // percent that a single is watched from, whatever made it
)

// worthKnowing is the least fault that is worth a look: the trade's 3 points over the own baseline are within a reading's doubt of it.
var worthKnowing = belief.Mark{Points: 2.2, LostPct: 3}

// limits are the points of leak and the percent of compression from which a cylinder is acted upon.
type limits struct{ leakAct, lossAct float64 }

// What is watched on the street is mended before a race: the trade's 5 points over the own baseline there, 10 on the street.
var (
	street = limits{10, 10}
	race   = limits{5, 8}
)

// What stops an engine, whatever it is for: a cylinder that makes two fifths of what it did, or leaks more than half of what it
// is given.
const (
	stopLoss  = 60.0
	stopLeak  = 55.0 // points more than it should
	stopShown = 70.0 // percent as read, whatever it should
)

// What no school calls sound, whatever the baseline: a leak that is watched, and one that is acted upon once it is confirmed.
const (
	leaksMuch = 20.0
	leaksBad  = 30.0
)

func limitsOf(e log.Engine) limits {
	if e.Raced() {
		return race
	}
	return street
}

// decide sets the state of each cylinder, here and nowhere else: by what is believed of it, by what is fixed, by what the engine
// is for. It returns the cylinders with the facts that their states are from.
func (h *history) decide(s log.Session, now map[int]figure, d change) []Cylinder {
	out := []Cylinder{}
	for _, c := range h.order {
		f, read := now[c]
		if !read {
			continue
		}
		one := h.figures(c, f, d)
		one.Facts = d.moved(c, f)
		for i := range one.Facts {
			if h.log.Engine.Kind == log.TwoStroke && one.Facts[i].At == atFiller {
				one.Facts[i].At = " into the crankcase only" // it has no oil filler
			}
		}
		h.byBelief(&one, f, d, s)
		out = append(out, one)
	}
	h.byLimits(out, s, now, d)
	for i := range out {
		if out[i].State == Steady {
			out[i].Facts = nil
		}
	}
	h.why(out)
	return out
}

// why says the facts of each cylinder in words.
func (h *history) why(all []Cylinder) {
	for i := range all {
		c := &all[i]
		c.Why = []string{}
		for _, f := range c.Facts {
			c.Why = append(c.Why, h.words(f))
		}
	}
}

// byBelief sets a cylinder's state from what is believed of it.
func (h *history) byBelief(out *Cylinder, f figure, d change, s log.Session) {
	e := d.of(out.Cylinder)
	if e.ChangeSE == 0 && e.RiseSE == 0 {
		return
	}
	fault := e.Beyond[2]
	if h.log.Engine.Kind == log.Rotary {
		fault += e.Failed // a gauge that did not seal would read all its faces low
	}
	add := func(what What, value float64) {
		out.Facts = append(out.Facts, Fact{What: what, Cylinders: []int{out.Cylinder}, Value: value})
	}
	where, _ := at(f.paths)
	escapes := where == log.Coolant || where == log.Neighbour
	switch {
	case fault >= worthALook && d.first && s.Conditions.Cold() && coldExplains(e, f):
		out.State = Retest
		add(ColdUneven, 0)
	case fault >= worthALook:
		out.State = h.severity(e, f, fault)
		switch {
		case len(out.Facts) > 0:
		case h.known[out.Cylinder]:
			add(FoundBefore, fault)
		default:
			add(MayBe, fault)
		}
	case escapes && f.shown >= hardlyAny:
		// No sound cylinder lets air out there.
		out.State = h.severity(e, f, fault)
	case len(h.order) == 1 && !d.first && -percent(e.Change) >= singleLoses && e.Change < -surely*e.ChangeSE:
		// A single has no siblings to say that it was the battery.
		out.State = Watch
	case (e.Innocent >= doubtful || fault+e.Innocent >= neither) && e.Rise >= worthRepeat:
		what := LeakOnce
		if contradictsLeak(e, f) {
			what = LeakDoubted
		}
		out.State = h.unlessContradicted(e, f, fault, what == LeakDoubted)
		out.Facts = slices.DeleteFunc(out.Facts, func(f Fact) bool { return f.What == LeakUp })
		add(what, e.Rise)
	case (e.Failed >= doubtful || fault+e.Failed >= neither) && e.Change < 0:
		what := PullOnce
		if contradictsPull(e) {
			what = PullDoubted
		}
		out.State, out.Facts = h.unlessContradicted(e, f, fault, what == PullDoubted), nil
		add(what, -percent(e.Change))
	case e.Unsure:
		out.State, out.Facts = Retest, nil
		add(PullDoubted, 0)
	case d.first && s.Conditions.Cold() && uneven(e, f, len(out.Facts) > 0):
		out.State = Retest
		if len(out.Facts) == 0 {
			against := d.against(e)
			out.Facts = []Fact{
				{What: Down, Cylinders: []int{out.Cylinder}, Value: -percent(e.Change), SE: 100 * e.ChangeSE, Against: against},
				{What: LeakUp, Cylinders: []int{out.Cylinder}, Value: e.Rise, SE: e.RiseSE, Against: Usual},
			}
		}
		add(ColdUneven, 0)
	}
}

// severity is the state of a cylinder that is likelier at fault than is worth risking: by how far its readings stand off, and by how
// far it is believed to have gone. More is never milder.
func (h *history) severity(e *belief.Told, f figure, fault float64) State {
	limit := limitsOf(h.log.Engine)
	lost := 0.0
	if e.ChangeSE > 0 {
		lost = -percent(e.Change)
	}
	most := likely * max(fault, worthALook) // the greater part of what is believed to be wrong at all
	if e.RiseSE == 0 && !h.known[f.cylinder] {
		most = math.Inf(1) // of a leak that nobody measured the size is a guess
	}
	switch {
	case lost >= stopLoss || e.Rise >= stopLeak || f.shown >= stopShown || e.Beyond[0] >= most:
		return Stop
	case lost >= limit.lossAct || e.Rise >= limit.leakAct || e.Beyond[1] >= most:
		return Act
	}
	return Watch
}

// unlessContradicted is the state of a reading that nothing confirms: to be repeated where something contradicts it, else as if it
// were sure.
func (h *history) unlessContradicted(e *belief.Told, f figure, fault float64, contradicted bool) State {
	if contradicted {
		return Retest
	}
	return h.severity(e, f, fault)
}

// contradictsLeak reports whether something contradicts a leak: the tester's own seal was heard, or compression fell by less than half
// of what goes with such a leak. One that was repeated and stayed nothing contradicts.
func contradictsLeak(e *belief.Told, f figure) bool {
	if f.attempts > 1 {
		return false
	}
	return f.hisses() || (e.ChangeSE > 0 && -percent(e.Change) < e.LostPct/2)
}

// hisses reports whether air was heard at the tester's own seal.
func (f figure) hisses() bool {
	return slices.ContainsFunc(f.paths, func(p log.Path) bool { return p.Where == log.PlugHole })
}

// contradictsPull reports whether a leak-down contradicts a low reading: a cylinder that holds is hardly a little short. One that reads
// less by a quarter may be: a bent rod leaks nothing.
func contradictsPull(e *belief.Told) bool {
	return e.RiseSE > 0 && e.Rise < surely*e.RiseSE && -percent(e.Change) < shortAlone
}

// shortAlone is the percent of compression that a cylinder which holds air is taken to have lost by one reading.
const shortAlone = 25.0

// uneven reports whether a cold cylinder stands further off than a hot one would be passed with: in one surely, or a good part of it in
// both, which bear each other out. Of what leaks much by any school more is said than that.
func uneven(e *belief.Told, f figure, surely bool) bool {
	low, leaks := max(0, -percent(e.Change))/coldApart, max(0, e.Rise)/coldLeaks
	both := min(low, leaks) >= coldBoth && f.shown < leaksMuch*coldLeak
	return low+leaks > 1 && (surely || both)
}

// How far a cylinder of a cold engine may stand below the others, percent, and leak more than is usual, points, without a word.
// coldBoth is the part of each that counts where both stand off.
const (
	coldApart = 8.0
	coldLeaks = 12.0
	coldBoth  = 0.4
)

// fires is the reading below which a petrol engine does not fire reliably (the trade's 90 to 100 psi).
var fires = units.Reading{Value: 95, Unit: units.PSI}.Pressure()

// faceOff returns by how many percent the lowest face of a rotor stands below its highest, and whether that is too far.
func faceOff(f figure) (pct float64, off bool) {
	if len(f.faces) < 2 {
		return 0, false
	}
	return rotor.Apart(f.faces)
}

// A cold engine is held to what cold can explain, no further: so much less compression, and leaks so much larger.
const (
	coldReads = 0.85 // the usual 7 %, and as much again as engines differ
	coldLeak  = 1.5
)

// byLimits holds the readings against what is fixed: the maker's or the builder's own limits, which come first, and what any
// builder calls bad. A reading that is doubted is not held to anything; what a tired battery took is given back.
func (h *history) byLimits(all []Cylinder, s log.Session, now map[int]figure, d change) {
	own := log.Limits{}
	if h.log.Engine.Limits != nil {
		own = *h.log.Engine.Limits
	}
	by, reads, leaks := own.By(), 1.0, 1.0
	if s.Conditions.Cold() {
		reads, leaks = coldReads, coldLeak
	}
	ambient := gas.AmbientOf(h.log.Engine, s.Conditions)
	even := h.even(all, now, d)
	fell, together := 1.0, false // what all lost together since the baseline, as a factor, and that it took one below the least
	if d.unexplained() {
		beyond, _ := d.beyond()
		fell = math.Exp(beyond)
	}
	for i := range all {
		c := &all[i]
		f := now[c.Cylinder]
		add := func(to State, fact Fact) {
			fact.Cylinders = []int{c.Cylinder}
			c.State = Worse(c.State, to)
			c.Facts = append(c.Facts, fact)
		}
		doubted := slices.ContainsFunc(c.Facts, func(f Fact) bool { return f.What == PullDoubted || f.What == PullOnce })
		if f.se > 0 && !doubted {
			// Limits are of sea level: at a height the reading is forgiven what the air takes.
			level := h.heldToLimits(f, d.of(c.Cylinder), ambient) / units.Pressure(reads)
			lowest := h.evenly(f, d.of(c.Cylinder)) <= even.Lowest*(1+1e-9)
			switch {
			case own.Minimum != nil && level < own.Minimum.Pressure() && level >= own.Minimum.Pressure()*units.Pressure(fell):
				together = true
			case own.Minimum != nil && level < own.Minimum.Pressure():
				add(h.serious(), Fact{What: BelowLeast, Figure: own.Minimum.String(), By: by})
			case own.SpreadMaximumPct > 0 && lowest && even.SpreadPctOfHighest > own.SpreadMaximumPct/reads:
				apart := fmt.Sprintf("%.1f %%", even.SpreadPctOfHighest)
				add(Watch, Fact{What: ApartTooFar, Reads: apart, Figure: percentWords(own.SpreadMaximumPct), By: by})
			case own.SpreadMaximum != nil && lowest && even.Spread*reads > float64(own.SpreadMaximum.Pressure()):
				apart := reading.Show(units.Pressure(even.Spread), own.SpreadMaximum.Unit)
				add(Watch, Fact{What: ApartTooFar, Reads: apart, Figure: own.SpreadMaximum.String(), By: by})
			case own.Minimum == nil && c.State != Stop && h.sparks() && level < fires:
				add(h.serious(), Fact{What: HardlyFires})
			}
		}
		if pct, off := faceOff(f); off {
			add(Act, Fact{What: FaceLow, Value: pct})
		}
		if f.leakSE > 0 && c.State != Retest {
			switch confirmed := d.confirmed(c.Cylinder, f); {
			case own.LeakMaximumPct > 0 && f.shown > own.LeakMaximumPct*leaks:
				add(h.serious(), Fact{What: LeaksTooMuch, Value: f.shown, Figure: percentWords(own.LeakMaximumPct), By: by})
			case d.first && leaks > 1 && f.shown < coldWorst && ringsOnly(f) && f.shown >= leaksMuch*leaks:
				add(Retest, Fact{What: LeaksMuch, Value: f.shown})
				add(Retest, Fact{What: ColdUneven})
			case f.shown >= leaksBad*leaks && confirmed:
				add(Act, Fact{What: LeaksMuch, Value: f.shown})
			case own.LeakMaximumPct == 0 && f.shown >= leaksMuch*leaks:
				add(Watch, Fact{What: LeaksMuch, Value: f.shown})
			}
		}
	}
	if together {
		fellTogether(all, d)
	}
}

// fellTogether sets all cylinders to be watched where what all lost together took one of them below the least: it is the visit's or the
// engine's, and no one cylinder is named for standing nearest to the limit.
func fellTogether(all []Cylinder, d change) {
	for i := range all {
		c := &all[i]
		c.State = Worse(c.State, Watch)
		c.Facts = append(c.Facts, Fact{What: FellWithAll, Cylinders: []int{c.Cylinder}, Value: -percent(d.common)})
	}
}

// heldToLimits returns what a cylinder reads as limits mean it: its pulls as they are likeliest meant, at sea level where it was read
// at a height, a tired battery's share given back.
func (h *history) heldToLimits(f figure, e *belief.Told, ambient units.Pressure) units.Pressure {
	level := units.Pressure(math.Exp(e.Meant) / f.hose)
	return max(level, level*ambient/gas.SeaLevel) * units.Pressure(math.Exp(-min(e.Order, 0)))
}

// coldWorst is what rings of a cold engine may leak, percent, that are fine when it is hot; coldLeakLoses and coldLoses how far its
// compression may stand below the others, percent, with such a leak and where nobody did a leak-down.
const (
	coldWorst     = 60.0 // where the others leak much, too
	coldAlone     = 40.0 // by itself
	coldLeakLoses = 25.0
	coldLoses     = 15.0
)

// coldExplains reports whether a cold engine's rings may explain how far a cylinder stands off at first sight: then nobody can tell.
func coldExplains(e *belief.Told, f figure) bool {
	lost := 0.0
	if e.ChangeSE > 0 {
		lost = -percent(e.Change)
	}
	if e.RiseSE == 0 {
		return lost < coldLoses
	}
	return f.shown < coldAlone && lost < coldLeakLoses && ringsOnly(f)
}

// ringsOnly reports whether air was heard nowhere but at the oil filler, or nobody listened.
func ringsOnly(f figure) bool {
	loud, heard := Loudest(f.paths)
	return !heard || loud.Level == 1 && loud.Where != log.Coolant && loud.Where != log.Neighbour
}

// even returns how even the compression is, what a tired battery took given back, doubted readings left out.
func (h *history) even(all []Cylinder, now map[int]figure, d change) reading.Evenness {
	var levels []float64
	for _, c := range all {
		if f := now[c.Cylinder]; f.se > 0 && c.State != Retest {
			levels = append(levels, h.evenly(f, d.of(c.Cylinder)))
		}
	}
	return reading.Even(levels)
}

// shown returns a cylinder's reading in kPa: by the protocol's rule of pulls, or, where some are left out, what the others say.
func (h *history) shown(f figure, e *belief.Told) float64 {
	if e.LeftOut && !e.Unsure {
		return float64(f.gauge) * math.Exp(e.Meant-f.log)
	}
	return float64(f.gauge)
}

// evenly returns a cylinder's reading for evenness: what went wrong in the order of reading is given back.
func (h *history) evenly(f figure, e *belief.Told) float64 { return h.shown(f, e) * math.Exp(-e.Order) }

// confirmed reports whether a leak is borne out: it was repeated and stayed, its place was heard, or compression shows it.
func (d change) confirmed(c int, f figure) bool {
	return f.attempts > 1 || d.borneOut(c, f) || d.of(c).Leaking >= likely
}

// borneOut reports whether something else than its figure says that a cylinder leaks: its place was heard, or compression shows it.
func (d change) borneOut(c int, f figure) bool {
	e := d.of(c)
	_, heard := Loudest(f.paths)
	return heard || (e.ChangeSE > 0 && e.Change < -surely*e.ChangeSE)
}

// serious is the state of what must be acted upon before a race, and is watched elsewhere.
func (h *history) serious() State {
	if limitsOf(h.log.Engine) == race {
		return Act
	}
	return Watch
}

// sparks reports whether the engine is a four-stroke that a spark must light.
func (h *history) sparks() bool {
	return h.log.Engine.Kind == log.FourStroke && (h.log.Engine.Fuel == "" || h.log.Engine.Fuel == "petrol")
}
