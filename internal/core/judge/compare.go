package judge

import (
	"math"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/gas"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
)

// begin returns the belief in an engine before its first visit of a build, made with what the maker, the geometry or nothing
// lets expect of it.
func (h *history) begin(s log.Session) *belief.Believed {
	e := h.log.Engine
	x := belief.Expect{Faulty: foundFaulty}
	if s.Stage == "pre-install" || s.Stage == "after-running" || (s.Baseline && s.Stage != "as-found") {
		x.Faulty = builtFaulty
	}
	x.Level, x.SD = expectedLevel(e)
	x.Cold = s.Conditions.Cold()
	for _, w := range ways {
		made := w.of(s)
		if w.level[made] != 0 {
			x.Level += w.level[made]
			x.SD = math.Hypot(x.SD, w.sd)
		}
	}
	engine := engineOf(e)
	engine.Vague = e.BoreMM == 0 || e.StrokeMM == 0 || !h.orificeKnown(s)
	var pairs [][2]int
	for i, c := range h.order {
		for _, n := range layout.Neighbours(e.Layout, c) {
			if j := slices.Index(h.order, n); j > i {
				pairs = append(pairs, [2]int{i, j})
			}
		}
	}
	return belief.New(engine, len(h.order), pairs, x)
}

// orificeKnown reports whether somebody gave the orifices of the testers that a session's leak-downs were done with.
func (h *history) orificeKnown(s log.Session) bool {
	return len(s.Leakdown) > 0 && !slices.ContainsFunc(s.Leakdown, func(row log.Leakdown) bool {
		t, _ := h.log.Tester(row.Tester)
		return t.OrificeMM == 0
	})
}

// How many cylinders are at fault when nothing is known of them: of an engine as it is found, and of a fresh build.
const (
	foundFaulty = 0.1
	builtFaulty = 0.02
)

// soundLeak is what a sound cylinder leaks, in percent.
const soundLeak = 4.0

// engineOf returns what the physics need of an engine; what nobody gave is as usual for its kind.
func engineOf(e log.Engine) belief.Engine {
	out := belief.Usual
	switch {
	case e.Fuel == "diesel":
		out = belief.Engine{Ratio: 17, CC: 900, RPM: 200}
	case e.Kind == log.TwoStroke:
		out = belief.Engine{Ratio: 9, CC: 125, RPM: 300}
	case e.Duty == "motorcycle" || e.Duty == "kart":
		out = belief.Engine{Ratio: 11, CC: 250, RPM: 250}
	}
	if e.Ratio > 1 {
		out.Ratio = e.Ratio
	}
	if e.BoreMM > 0 && e.StrokeMM > 0 {
		out.CC = math.Pi / 4 * e.BoreMM * e.BoreMM * e.StrokeMM / 1000
	}
	return out
}

// expectedLevel returns what an engine should make before it was ever tested, the logarithm of kPa at sea level, with its
// doubt: by the maker's usual figure, by its geometry, or by its kind.
func expectedLevel(e log.Engine) (level, sd float64) {
	if e.Limits != nil && e.Limits.Nominal != nil && e.Limits.Nominal.Pressure() > 0 {
		return math.Log(float64(e.Limits.Nominal.Pressure())), 0.06
	}
	if c, known := geometry(e); known && e.Kind == log.FourStroke {
		// A starter turns slowly: the charge cools, and some of it passes the rings.
		if p, err := c.Cranking(gas.SeaLevel, gas.ExponentLow, 0, 0); err == nil && p > 0 {
			engine := engineOf(e)
			sound := gas.Bleeding{Ratio: engine.Ratio, CC: engine.CC, RPM: engine.RPM, Exponent: gas.ExponentLow}.Held(gas.Area(soundLeak))
			return math.Log(float64(p) * sound), 0.13
		}
	}
	switch {
	case e.Fuel == "diesel":
		return math.Log(2600), 0.3
	case e.Kind == log.TwoStroke:
		return math.Log(850), 0.4
	case e.Kind == log.Rotary:
		return math.Log(750), 0.25
	}
	return math.Log(1200), 0.25
}

// change is a session against what is expected of the engine: what all did, what of that was to be expected from the way it was
// tested, and what each did beyond that.
type change struct {
	common, commonSE float64
	unlike           []unlike
	expected         expected
	leakCommon       float64
	each             map[int]*belief.Told
	compared         bool
	accounts         []belief.Hypothesis
	order            []int   // the cylinders read, as indices, in the order of reading
	read             int     // how many
	level            float64 // what sound cylinders made, a logarithm
	// first says that there is no baseline yet, and each cylinder was held against the others and what is usual.
	first bool
}

// compare takes the session into what is believed of the build.
func (h *history) compare(s log.Session, now map[int]figure, all []unlike) change {
	first := h.believed == nil
	if first {
		h.believed = h.begin(s)
	}
	x := expect(all)
	limit, n := limitsOf(h.log.Engine), len(h.order)
	v := belief.Visit{
		Rows: make([][]belief.Part, n), Pulls: make([]int, n), Leaks: make([][]belief.LeakRow, n),
		Scatter: scatterOf(s), Mean: x.mean, SD: x.sd, LeakMean: math.Log1p(x.leak), LeakSD: x.leakSD,
		Marks:   [...]belief.Mark{{Points: stopLeak, LostPct: stopLoss}, {Points: limit.leakAct, LostPct: limit.lossAct}, worthKnowing},
		Teaches: s.Baseline, Repaired: s.Stage == "after-repair", Touched: h.touched(s),
		Raw: s.Stage == "pre-install" || s.Conditions.Cold()}
	if first && s.Conditions.Cold() {
		v.LeakMean, v.LeakSD = math.Log(1.33), 0.35
	}
	for i, c := range h.order {
		f := now[c]
		v.Rows[i], v.Pulls[i], v.Leaks[i] = f.parts, f.pulls, f.rows
	}
	for _, row := range s.Compression {
		i := slices.Index(h.order, row.Number())
		if row.Mode == log.Dry && i >= 0 && len(v.Rows[i]) > 0 && !slices.Contains(v.Order, i) {
			v.Order = append(v.Order, i)
		}
	}
	if banks := h.log.Engine.Layout.Banks; len(banks) == 2 {
		for _, i := range v.Order {
			if slices.Contains(banks[1], h.order[i]) {
				v.SecondBank = append(v.SecondBank, i)
			}
		}
	}
	v.VoltsFell, v.VoltsHeld = volts(s)
	told, accounts := h.believed.Next(&v)
	out := change{
		each: make(map[int]*belief.Told, len(told)), unlike: all, expected: x, first: first,
		accounts: accounts, order: v.Order, read: len(v.Order), level: h.believed.Level(),
	}
	for i, c := range h.order {
		if _, read := now[c]; read {
			out.each[c] = &told[i]
		}
	}
	if len(v.Order) > 0 && !first {
		mean, square, weight := 0.0, 0.0, 0.0
		for _, a := range accounts {
			// Of a step nobody knows which side is the engine's own: it is the one that moved less.
			common := a.Common
			if other := common + a.Size; a.Kind == belief.Step && math.Abs(other-x.mean) < math.Abs(common-x.mean) {
				common = other
			}
			mean += a.Weight * common
			square += a.Weight * common * common
		}
		for _, i := range v.Order {
			if t := told[i]; t.ChangeSE > 0 {
				weight += t.Sound / (t.ChangeSE * t.ChangeSE)
			}
		}
		out.common, out.commonSE = mean, math.Sqrt(max(square-mean*mean, 0)+1/max(weight, 1))
		out.compared = true
	}
	rise, sound := 0.0, 0.0
	for _, t := range told {
		if t.RiseSE > 0 && !t.NoBaseLeak {
			rise += (t.Sound - t.Innocent) * t.Rise
			sound += t.Sound - t.Innocent
		}
	}
	if sound > 0 {
		out.leakCommon = rise / sound
	}
	return out
}

// touched returns the cylinders that a repair touched, as indices; nil where that is not told.
func (h *history) touched(s log.Session) []int {
	var all []int
	for _, c := range s.Touched {
		if i := slices.Index(h.order, c); i >= 0 {
			all = append(all, i)
		}
	}
	return all
}

// of returns what the visit makes of a cylinder; of one that was not read, nothing.
func (d change) of(c int) *belief.Told {
	if t := d.each[c]; t != nil {
		return t
	}
	return &belief.Told{Sound: 1, Pair: -1}
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
	if len(all) < 3 {
		return 0, s.Conditions.Charger
	}
	fell = all[0] - all[len(all)-1]
	return fell, fell < 0.2
}

// beyond returns what all did together beyond what was to be expected, and its standard error.
func (c change) beyond() (common, se float64) {
	return c.common - c.expected.mean, math.Hypot(c.commonSE, c.expected.sd)
}

// sessionShift is how far one visit moves all readings: battery, heat, weather, gauge.
const sessionShift = 0.03
