package judge

import (
	"math"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/gas"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// begin returns the belief in an engine before its first visit of a build, made with what the maker, the geometry or nothing
// lets expect of it.
func begin(on *subject, s log.Session) *belief.Believed {
	e := on.engine
	x := belief.Expect{Faulty: rules.FaultyFound}
	if s.Stage == "pre-install" || s.Stage == "after-running" || (s.Baseline && s.Stage != "as-found") {
		x.Faulty = rules.FaultyBuilt
	}
	x.Level, x.SD = expectedLevel(e)
	x.Cold = s.Conditions.Cold()
	x.LeakPct = soundLeak(e)
	for _, w := range ways {
		made := w.of(s)
		if w.Level[made] != 0 {
			x.Level += w.Level[made]
			x.SD = math.Hypot(x.SD, w.SD)
		}
	}
	engine := engineOf(e)
	engine.Vague = e.BoreMM == 0 || e.StrokeMM == 0 || len(s.Leakdown) == 0 || !OrificeKnown(on.log, s)
	var pairs [][2]int
	for i, c := range on.order {
		for _, n := range layout.Neighbours(e.Layout, c) {
			if j := slices.Index(on.order, n); j > i {
				pairs = append(pairs, [2]int{i, j})
			}
		}
	}
	return belief.New(engine, len(on.order), pairs, x)
}

// OrificeKnown reports whether somebody gave the orifices of all testers that a session's leak-downs were done with.
func OrificeKnown(l log.Log, s log.Session) bool {
	return !slices.ContainsFunc(s.Leakdown, func(row log.Leakdown) bool {
		t, _ := l.Tester(row.Tester)
		return t.OrificeMM == 0
	})
}

// engineOf returns what the physics need of an engine; what nobody gave is as usual for its kind.
func engineOf(e log.Engine) belief.Engine {
	b := gas.BleedingOf(e)
	return belief.Engine{Ratio: b.Ratio, CC: b.CC, RPM: b.RPM}
}

// expectedLevel returns what an engine should make before it was ever tested, the logarithm of kPa at sea level, with its
// doubt: by the maker's usual figure, by its geometry, or by its kind.
func expectedLevel(e log.Engine) (level, sd float64) {
	if e.Limits != nil && e.Limits.Nominal != nil && e.Limits.Nominal.Pressure() > 0 {
		return math.Log(float64(e.Limits.Nominal.Pressure())), rules.LevelByMaker
	}
	if c, known := geometry(e); known && e.Kind == log.FourStroke {
		// A starter turns slowly: the charge cools, and some of it passes the rings.
		if p, err := c.Cranking(gas.SeaLevel, gas.ExponentLow, 0, 0); err == nil && p > 0 {
			engine := engineOf(e)
			sound := gas.Bleeding{Ratio: engine.Ratio, CC: engine.CC, RPM: engine.RPM, Exponent: gas.ExponentLow}.Held(gas.Area(soundLeak(e)))
			return math.Log(float64(p) * sound), rules.LevelByGeometry
		}
	}
	usual := rules.CylinderFor(e)
	return math.Log(usual.LevelKPa), usual.LevelSD
}

// soundLeak returns what a sound cylinder of an engine leaks, percent: by its rings.
func soundLeak(e log.Engine) float64 {
	pct, gap := rules.SoundLeakOf(e)
	if gap == 1 {
		return pct
	}
	return gas.Pct(gas.Area(pct) * gap)
}
