package judge

import (
	"math"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// figures returns what is told of a cylinder in figures.
func figures(on *subject, c int, f figure, d change) Cylinder {
	out := Cylinder{Cylinder: c, State: Steady, Faces: f.faces}
	e := d.of(c)
	if f.se > 0 {
		out.Compression = of(shownOf(f, e))
	}
	if f.leakSE > 0 {
		out.Leak = of(f.shown)
	}
	if e.ChangeSE == 0 && e.RiseSE == 0 {
		return out
	}
	out.Belief = beliefOf(e)
	if d.first {
		return out
	}
	out.Chance = of(e.Leaking + e.Short)
	if e.ChangeSE > 0 {
		out.ChangePct, out.ChangeSEPct = of(percent(changeShown(on, e))), of(100*e.ChangeSE)
	}
	if e.RiseSE > 0 {
		out.LeakChange, out.LeakChangeSE = of(e.Rise), of(e.RiseSE)
	}
	return out
}

// changeShown returns the change of a cylinder as it is shown, a logarithm. Of two cylinders each is judged by the other alone; where
// the other is the bad one, the sound one is shown by what both tell, or it would seem to have gained half of what the other lost.
func changeShown(on *subject, e *belief.Told) float64 {
	if len(on.order) == 2 && e.Sound >= rules.Likely && math.Abs(e.Among) < math.Abs(e.Change) {
		return e.Among
	}
	return e.Change
}

// moved returns what the figures of a cylinder say of it by themselves.
func moved(on *subject, c int, f figure, d change) []Fact {
	e := d.of(c)
	var facts []Fact
	sure := rules.Surely
	if e.Leaking+e.Short >= rules.Likely {
		sure = rules.BorneOut
	}
	if lost := -percent(e.Change); e.ChangeSE > 0 && e.Change < -sure*e.ChangeSE {
		facts = append(facts, Fact{What: Down, Cylinders: []int{c}, Value: lost, SE: 100 * e.ChangeSE, Against: d.against(e)})
	}
	heard, into := at(f.paths)
	mostly := heard != "" && heard != log.Crankcase && e.Place[belief.Rings] >= rules.Likely && heardAt(f.paths, log.Crankcase)
	if mostly { // what was faint elsewhere is not where it goes
		heard, into = log.Crankcase, 0
	}
	if e.RiseSE > 0 && e.Rise > sure*e.RiseSE {
		against := Baseline
		if e.NoBaseLeak {
			against = Usual
		}
		facts = append(facts, Fact{What: LeakUp, Cylinders: []int{c}, Value: e.Rise, SE: e.RiseSE, Where: heard, Mostly: mostly, Into: into, Against: against})
	} else if heard == log.Coolant || heard == log.Neighbour {
		facts = append(facts, Fact{What: AirHeard, Cylinders: []int{c}, Where: heard, Into: into})
	}
	return facts
}

// heardAt reports whether air was heard at a place.
func heardAt(paths []log.Path, where string) bool {
	return slices.ContainsFunc(paths, func(p log.Path) bool { return p.Where == where })
}

// at returns where the air was heard that tells something, and of a neighbour which; "" where nobody listened. A sound cylinder's goes to the
// crankcase.
func at(paths []log.Path) (where string, into int) {
	loud, ok := Loudest(paths)
	switch {
	case ok && loud.Where == log.Neighbour:
		return loud.Where, loud.Cylinder
	case ok:
		return loud.Where, 0
	case len(paths) > 0:
		return log.Crankcase, 0
	}
	return "", 0
}
