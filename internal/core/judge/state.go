package judge

import (
	"math"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rotor"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// decide sets the state of each cylinder, here and nowhere else: by what is believed of it, by what is fixed, by what the engine
// is for. It returns the cylinders with the facts that their states are from.
func decide(on *subject, before past, known map[int]bool, s log.Session, now map[int]figure, d change) []Cylinder {
	out := []Cylinder{}
	for _, c := range on.order {
		f, read := now[c]
		if !read {
			continue
		}
		one := figures(on, c, f, d)
		one.Facts = moved(on, c, f, d)
		byBelief(on, known[c], wasLow(before.points, c, d.of(c)), &one, f, d, s)
		out = append(out, one)
	}
	byLimits(on, out, s, now, d)
	byMishap(out, now, d)
	for i := range out {
		if out[i].State == Steady {
			out[i].Facts = nil
		}
	}
	return out
}

// wasLow reports whether a cylinder had lost a good part of what it has lost now at the test before.
func wasLow(all points, c int, e *belief.Told) bool {
	last, read := all.lastOf(c)
	return read && last.loss >= -rules.Stays*percent(e.Change)
}

// byBelief sets a cylinder's state from what is believed of it.
func byBelief(on *subject, known, low bool, out *Cylinder, f figure, d change, s log.Session) {
	e := d.of(out.Cylinder)
	if e.ChangeSE == 0 && e.RiseSE == 0 {
		return
	}
	fault := e.Beyond[2]
	if on.rotary {
		fault += e.Failed // a gauge that did not seal would read all its faces low
	}
	add := func(what What, value float64) {
		out.Facts = append(out.Facts, Fact{What: what, Cylinders: []int{out.Cylinder}, Value: value})
	}
	where, _ := at(f.paths)
	escapes := where == log.Coolant || where == log.Neighbour
	switch {
	case !known && !low && d.readFirst(on, out.Cylinder) && contradictsPull(e) && -percent(e.Change) >= on.limit.LossAct:
		// It holds air, and was read before anybody noticed the throttle or the charger.
		out.State, out.Facts = Retest, nil
		add(TakenOff, -percent(e.Change))
	case fault >= rules.WorthALook && d.first && s.Conditions.Cold() && coldExplains(e, f):
		out.State = Retest
		add(ColdUneven, 0)
	case fault >= rules.WorthALook:
		out.State = howSevere(on.limit, known, e, f, fault)
		switch {
		case len(out.Facts) > 0:
		case known:
			add(FoundBefore, fault)
		default:
			add(MayBe, fault)
		}
	case escapes && f.shown >= rules.AudibleLeak:
		// No sound cylinder lets air out there.
		out.State = howSevere(on.limit, known, e, f, fault)
	case f.attempts > 1 && e.Rise >= rules.WorthRepeat && e.Rise > rules.Surely*e.RiseSE:
		// It was repeated, and stayed: whatever is believed of it, it is as bad as it reads.
		out.State = howSevere(on.limit, known, e, f, fault)
	case (e.Innocent >= rules.Innocent || fault+e.Innocent >= rules.InnocentOrFault) && e.Rise >= rules.WorthRepeat:
		what := LeakOnce
		if contradictsLeak(e, f) {
			what = LeakDoubted
		}
		out.State = unlessContradicted(on.limit, known, e, f, fault, what == LeakDoubted)
		out.Facts = slices.DeleteFunc(out.Facts, func(f Fact) bool { return f.What == LeakUp })
		add(what, e.Rise)
	case (e.Failed >= rules.Innocent || fault+e.Failed >= rules.InnocentOrFault) && e.Change < 0:
		what := PullOnce
		if contradictsPull(e) {
			what = PullDoubted
		}
		out.State, out.Facts = unlessContradicted(on.limit, known, e, f, fault, what == PullDoubted), nil
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
	lost, surely := -percent(e.Change+d.common-d.expected.mean), e.Change < -rules.Surely*e.ChangeSE
	own := surely && -percent(e.Change) >= rules.SingleLosesOwn
	if out.State == Steady && len(on.order) == 1 && !d.first && e.ChangeSE > 0 && (own || lost >= rules.SingleLoses) {
		// A single has no siblings to say that it was the battery: it is tested again, and believed if it stays.
		out.State = Retest
		if own || low || d.fellBefore {
			out.State = Watch
		}
		out.Facts = []Fact{{What: FellWithAll, Cylinders: []int{out.Cylinder}, Value: lost}}
	}
}

// byMishap sees to it that nothing that went wrong with the testing leaves at ease what no battery, throttle or gauge does: it may explain
// a small loss of many, and a large one only until it is read again.
func byMishap(all []Cylinder, now map[int]figure, d change) {
	step, top, most := 0.0, math.Inf(-1), rules.TakenOffMost
	for _, c := range all {
		if f := now[c.Cylinder]; f.se > 0 {
			top = math.Max(top, f.log)
		}
	}
	for _, a := range d.accounts {
		if a.Kind == belief.Step || a.Kind == belief.Bank {
			step += a.Weight
		}
	}
	if step >= rules.Likely {
		most = rules.TakenOffStep
	}
	common, _ := d.beyond()
	for i := range all {
		c := &all[i]
		f, off := now[c.Cylinder], takenOff(d, c.Cylinder)
		switch {
		case f.se == 0 || c.State.Severity() >= Watch.Severity():
		case off >= most && (step >= rules.Likely || off >= rules.ShortAlone || !contradictsPull(d.of(c.Cylinder))):
			// What holds air has lost a little by no leak.
			state, lost := Retest, -percent(f.log-top)
			if lost >= rules.StopLoss {
				state = Stop
			}
			c.worsen(state, Fact{What: TakenOff, Value: off})
		case d.compared && -percent(common) >= rules.AllDownMost && d.unexplained():
			state := Retest
			switch {
			case -percent(common) >= rules.StopLoss:
				state = Stop
			case d.fellBefore: // it was tested again, and stayed
				state = Watch
			}
			c.worsen(state, Fact{What: FellWithAll, Value: -percent(common)})
		}
	}
}

// takenOff returns by how many percent a cylinder's reading is taken to stand below the others' by what went wrong in the order of reading.
func takenOff(d change, c int) float64 {
	most := 0.0
	for _, e := range d.each {
		most = math.Max(most, e.Order)
	}
	return -percent(d.of(c).Order - most)
}

// howSevere is the state of a cylinder that is likelier at fault than is worth risking: by how far its readings stand off, and by how
// far it is believed to have gone. More is never milder.
func howSevere(limit rules.Limit, known bool, e *belief.Told, f figure, fault float64) State {
	lost := 0.0
	if e.ChangeSE > 0 {
		lost = -percent(e.Change)
	}
	most := rules.Likely * max(fault, rules.WorthALook) // the greater part of what is believed to be wrong at all
	if e.RiseSE == 0 && !known {
		most = math.Inf(1) // of a leak that nobody measured the size is a guess
	}
	switch {
	case lost >= rules.StopLoss || e.Rise >= rules.StopLeak || f.shown >= rules.StopShown || e.Beyond[0] >= most:
		return Stop
	case lost >= limit.LossAct || e.Rise >= limit.LeakAct || e.Beyond[1] >= most:
		return Act
	}
	return Watch
}

// unlessContradicted is the state of a reading that nothing confirms: to be repeated where something contradicts it, else as if it
// were sure.
func unlessContradicted(limit rules.Limit, known bool, e *belief.Told, f figure, fault float64, contradicted bool) State {
	if contradicted {
		return Retest
	}
	return howSevere(limit, known, e, f, fault)
}

// contradictsLeak reports whether something contradicts a leak: the tester's own seal was heard, or compression fell by less than half
// of what goes with such a leak. One that was repeated and stayed nothing contradicts.
func contradictsLeak(e *belief.Told, f figure) bool {
	if f.attempts > 1 {
		return false
	}
	return f.hisses() || (e.ChangeSE > 0 && -percent(e.Change) < e.LostPct/2)
}

// contradictsPull reports whether a leak-down contradicts a low reading: a cylinder that holds is hardly a little short. One that reads
// less by a quarter may be: a bent rod leaks nothing.
func contradictsPull(e *belief.Told) bool {
	return e.RiseSE > 0 && e.Rise < rules.Surely*e.RiseSE && -percent(e.Change) < rules.ShortAlone
}

// uneven reports whether a cold cylinder stands further off than a hot one would be passed with: in one surely, or a good part of it in
// both, which bear each other out. Of what leaks much by any school more is said than that.
func uneven(e *belief.Told, f figure, sure bool) bool {
	low, leaks := max(0, -percent(e.Change))/rules.ColdApart, max(0, e.Rise)/rules.ColdLeaksMore
	both := min(low, leaks) >= rules.ColdBoth && f.shown < rules.LeaksMuch*rules.ColdLeakForgiven
	return low+leaks > 1 && (sure || both)
}

// firesFrom says from which readings on a petrol engine fires, in the unit chosen: 90 to 100 psi.
func firesFrom(on *subject) string {
	u := on.shop.Shown.PressureOr(units.PSI)
	at := func(psi float64) units.Pressure { return units.Reading{Value: psi, Unit: units.PSI}.Pressure() }
	low, high := at(rules.FiresPSI-rules.FiresWithinPSI), at(rules.FiresPSI+rules.FiresWithinPSI)
	return say.Text("judge.from-to", "low", low.Digits(u), "high", high.Written(u))
}

// fires is the reading below which a petrol engine does not fire reliably (the trade's 90 to 100 psi).
var fires = units.Reading{Value: rules.FiresPSI, Unit: units.PSI}.Pressure()

// byLimits holds the readings against what is fixed: the maker's or the builder's own limits, which come first, and what any
// builder calls bad. A reading that is doubted is not held to anything; what a tired battery took is given back.
func byLimits(on *subject, all []Cylinder, s log.Session, now map[int]figure, d change) {
	own := on.own
	by, reads, leaks := own.By(), 1.0, 1.0
	if s.Conditions.Cold() {
		reads, leaks = rules.ColdForgiven, rules.ColdLeakForgiven
	}
	ambient := gas.AmbientOf(on.engine, s.Conditions)
	even := even(all, now, d)
	fell, together := 1.0, false // what all lost together since the baseline, as a factor, and that it took one below the least
	if d.unexplained() {
		beyond, _ := d.beyond()
		fell = math.Exp(beyond)
	}
	for i := range all {
		c := &all[i]
		f := now[c.Cylinder]
		doubted := slices.ContainsFunc(c.Facts, func(f Fact) bool { return f.What == PullDoubted || f.What == PullOnce })
		if f.se > 0 && !doubted {
			// Limits are of sea level: at a height the reading is forgiven what the air takes.
			level := heldToLimits(on, f, d.of(c.Cylinder), ambient) / units.Pressure(reads)
			lowest := evenly(f, d.of(c.Cylinder)) <= even.Lowest*(1+1e-9)
			switch {
			case own.Minimum != nil && level < own.Minimum.Pressure() && level >= own.Minimum.Pressure()*units.Pressure(fell):
				together = true
			case own.Minimum != nil && level < own.Minimum.Pressure():
				c.worsen(below(on, level, own.Minimum.Pressure()), Fact{What: BelowLeast, Figure: own.Minimum.String(), By: by})
			case own.SpreadMaximumPct > 0 && lowest && even.SpreadPctOfHighest > own.SpreadMaximumPct/reads:
				apart := say.Rounded(even.SpreadPctOfHighest, 1) + " %"
				c.worsen(Watch, Fact{What: ApartTooFar, Reads: apart, Figure: pct(own.SpreadMaximumPct), By: by})
			case own.SpreadMaximum != nil && lowest && even.Spread*reads > float64(own.SpreadMaximum.Pressure()):
				apart := units.Pressure(even.Spread).Written(on.shop.Shown.PressureOr(own.SpreadMaximum.Unit))
				c.worsen(Watch, Fact{What: ApartTooFar, Reads: apart, Figure: own.SpreadMaximum.String(), By: by})
			case own.Minimum == nil && c.State != Stop && sparks(on.engine) && level < fires:
				c.worsen(below(on, level, fires), Fact{What: HardlyFires, Figure: firesFrom(on)})
			}
		}
		if pct, off := faceOff(f); off {
			c.worsen(Act, Fact{What: FaceLow, Value: pct})
		}
		if f.leakSE > 0 && c.State != Retest {
			byLeakLimits(on, c, f, d, leaks)
		}
	}
	if together {
		fellTogether(all, d)
	}
	byWear(all, now, d)
}

// byWear holds what all have come to leak together against the limits of one: the engine is worn, and no one cylinder is named for passing a
// limit with all the others.
func byWear(all []Cylinder, now map[int]figure, d change) {
	to := Steady
	if slices.ContainsFunc(all, func(c Cylinder) bool { _, worn := named(c.Facts, LeaksWithAll); return worn }) {
		to = Watch
	}
	if d.leakCommon >= rules.WornOut && len(all) > 1 {
		to = Act
	}
	for i := range all {
		c := &all[i]
		if c.State.Severity() >= to.Severity() || now[c.Cylinder].leakSE == 0 || d.of(c.Cylinder).Beyond[2] >= rules.WorthALook {
			continue
		}
		c.Facts = slices.DeleteFunc(c.Facts, func(f Fact) bool { return f.What == LeaksWithAll || f.What == LeakUp })
		c.worsen(to, Fact{What: LeaksWithAll, Value: d.leakCommon})
	}
}

// worsen adds a fact to a cylinder, with the state that it makes at the least.
func (c *Cylinder) worsen(to State, fact Fact) {
	fact.Cylinders = []int{c.Cylinder}
	c.State = Worse(c.State, to)
	c.Facts = append(c.Facts, fact)
}

// byLeakLimits holds a cylinder's leak against what is fixed; leaks is what a cold engine is forgiven.
func byLeakLimits(on *subject, c *Cylinder, f figure, d change, leaks float64) {
	own := on.own
	switch confirmed := d.confirmed(c.Cylinder, f); {
	case own.LeakMaximumPct > 0 && f.shown > own.LeakMaximumPct*leaks:
		c.worsen(serious(on), Fact{What: LeaksTooMuch, Value: f.shown, Figure: pct(own.LeakMaximumPct), By: own.By()})
	case d.first && leaks > 1 && f.shown >= rules.LeaksMuch && d.leaked <= rules.LeakAlone:
		// Nothing beside it says that it is the cold.
		c.worsen(Retest, Fact{What: LeaksMuch, Value: f.shown})
		c.worsen(Retest, Fact{What: ColdUneven})
	case d.first && leaks > 1 && f.shown < rules.ColdWorst && ringsOnly(f) && f.shown >= rules.LeaksMuch*leaks:
		c.worsen(Retest, Fact{What: LeaksMuch, Value: f.shown})
		c.worsen(Retest, Fact{What: ColdUneven})
	case f.shown >= rules.LeaksBad*leaks && confirmed:
		c.worsen(Act, Fact{What: LeaksMuch, Value: f.shown})
	case own.LeakMaximumPct == 0 && f.shown >= rules.LeaksMuch*leaks:
		much := Fact{What: LeaksMuch, Value: f.shown}
		if d.leakCommon >= rules.WornTogether && d.of(c.Cylinder).Beyond[2] < rules.WorthALook {
			much = Fact{What: LeaksWithAll, Value: d.leakCommon}
		}
		c.worsen(Watch, much)
	case own.LeakMaximumPct == 0 && on.racing && f.shown >= rules.RaceLeak*leaks*on.gap() &&
		d.leaked <= rules.LeakAlone && d.of(c.Cylinder).NoBaseLeak:
		c.worsen(Watch, Fact{What: RaceLeak, Value: f.shown})
	}
}

// fellTogether sets all cylinders to be watched where what all lost together took one of them below the least: it is the visit's or the
// engine's, and no one cylinder is named for standing nearest to the limit.
func fellTogether(all []Cylinder, d change) {
	common, _ := d.beyond()
	for i := range all {
		c := &all[i]
		c.State = Worse(c.State, Watch)
		c.Facts = append(c.Facts, Fact{What: FellWithAll, Cylinders: []int{c.Cylinder}, Value: -percent(common)})
	}
}

// heldToLimits returns what a cylinder reads as limits mean it: its readings as they are likeliest meant, at sea level where they were taken at
// a height, what a slow starter and a tired battery took given back.
func heldToLimits(on *subject, f figure, e *belief.Told, ambient units.Pressure) units.Pressure {
	level := units.Pressure(math.Exp(e.Meant) / f.hose)
	level = max(level, level*ambient/gas.SeaLevel) * units.Pressure(math.Exp(-min(e.Order, 0)))
	return level * units.Pressure(speedForgiven(on, f))
}

// speedForgiven returns what a reading is multiplied by to be held against limits that are given for a speed of cranking: what a sound
// cylinder loses by its rings when it is cranked more slowly. A rotor's face has been brought to its usual speed already.
func speedForgiven(on *subject, f figure) float64 {
	limits := on.engine.Limits
	if limits == nil || limits.AtRPM == 0 || f.rpm == 0 {
		return 1
	}
	if on.rotary {
		toUsual, _ := rotor.Factor(limits.AtRPM, on.engine.SpeedTable)
		return 1 / toUsual
	}
	engine := engineOf(on.engine)
	held := func(rpm float64) float64 {
		return gas.Bleeding{Ratio: engine.Ratio, CC: engine.CC, RPM: rpm, Exponent: gas.ExponentMid}.Held(gas.Area(soundLeak(on.engine)))
	}
	return max(1, held(limits.AtRPM)/held(f.rpm))
}

// coldExplains reports whether a cold engine's rings may explain how far a cylinder stands off at first sight: then nobody can tell.
func coldExplains(e *belief.Told, f figure) bool {
	lost := 0.0
	if e.ChangeSE > 0 {
		lost = -percent(e.Change)
	}
	if e.RiseSE == 0 {
		return lost < rules.ColdLoses
	}
	return f.shown < rules.ColdAlone && lost < rules.ColdLeakLoses && ringsOnly(f)
}

// even returns how even the compression is, what a tired battery took given back, doubted readings left out.
func even(all []Cylinder, now map[int]figure, d change) reading.Evenness {
	var levels []float64
	for _, c := range all {
		if f := now[c.Cylinder]; f.se > 0 && c.State != Retest {
			levels = append(levels, evenly(f, d.of(c.Cylinder)))
		}
	}
	return reading.Even(levels)
}

// evenly returns a cylinder's reading for evenness: what went wrong in the order of reading is given back.
func evenly(f figure, e *belief.Told) float64 { return shownOf(f, e) * math.Exp(-e.Order) }

// below is the state of a cylinder that reads below a minimum: acted on where that is no matter of the gauge.
func below(on *subject, level, minimum units.Pressure) State {
	if level < minimum*(1-rules.BelowSurely/100) {
		return Act
	}
	return serious(on)
}

// serious is the state of what must be acted upon before a race, and is watched elsewhere.
func serious(on *subject) State {
	if on.racing {
		return Act
	}
	return Watch
}

// sparks reports whether the engine is a four-stroke that a spark must light.
func sparks(e log.Engine) bool {
	return e.Kind == log.FourStroke && (e.Fuel == "" || e.Fuel == "petrol")
}

// allAlike reports whether every cylinder is bad and none by a change of its own.
func allAlike(s Session, d change) bool {
	bad := s.atLeast(Watch)
	return len(bad) == len(s.Cylinders) && len(bad) > 1 &&
		!slices.ContainsFunc(bad, func(c int) bool { return 1-d.of(c).Sound >= rules.WorthALook })
}
