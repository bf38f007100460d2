package judge

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"braxel/internal/core/gas"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/wear"
)

// Log judges every session of a log, each from itself and those before it, against the baseline of its build.
func Log(l log.Log) Verdict {
	v := Verdict{Format: "braxel-verdict", Version: 1, Engine: l.Engine.Name, Sessions: []Session{}}
	builds := map[string]*history{}
	spread := spreads(l)
	for _, s := range l.Sessions {
		id := l.BuildOf(s)
		if builds[id] == nil {
			builds[id] = newHistory(l)
		}
		v.Sessions = append(v.Sessions, builds[id].session(s, spread))
	}
	return v
}

// history is what is known of one build so far.
type history struct {
	log      log.Log
	order    []int
	orifice  float64
	base     map[int]*level
	belief   map[int]wear.Belief
	effects  map[string]*effect
	losses   []float64     // what all lost together since the baseline beyond what was expected, test by test, in percent
	sessions []log.Session // of the baseline
	points   map[int][]point
	tests    int
}

// level is a cylinder's baseline: sums of its compression logarithms, its leak, and where it was heard.
type level struct {
	sum, variance, n float64
	leaks            []float64
	heard            map[string]bool
}

type point struct{ at, leak, loss float64 }

func newHistory(l log.Log) *history {
	return &history{log: l, order: l.Engine.Cylinders(), base: map[int]*level{}, belief: map[int]wear.Belief{}, effects: map[string]*effect{}, points: map[int][]point{}}
}

func (h *history) session(s log.Session, spread map[string]float64) Session {
	if h.orifice == 0 {
		h.orifice = firstOrifice(h.log, s)
	}
	now := figures(h.log, s, h.orifice, spread)
	unlike := h.unlike(s)
	out := Session{ID: s.ID, State: Steady, Cylinders: []Cylinder{}, Causes: []Cause{}, Caveats: caveats(h.log, unlike)}
	if len(now) == 0 {
		out.Sentence = "No reading yet."
		return out
	}
	defines := s.Baseline || len(h.base) == 0
	delta := h.compare(now, unlike)
	h.tests++
	for _, c := range h.order {
		if f, ok := now[c]; ok {
			out.Cylinders = append(out.Cylinders, h.cylinder(c, f, delta))
		}
	}
	h.settle(&out, s, now, delta)
	if out.State.Severity() < Watch.Severity() && !delta.unexplained() && delta.commonSE > 0 {
		learn(unlike, delta.common, delta.commonSE)
	}
	if defines {
		h.learn(now)
		h.sessions = append(h.sessions, s)
	}
	out.Sentence = h.sentence(out, delta, defines)
	return out
}

func firstOrifice(l log.Log, s log.Session) float64 {
	for _, row := range s.Leakdown {
		if t, ok := l.Tester(row.Tester); ok && t.OrificeMM > 0 {
			return t.OrificeMM
		}
	}
	return 0
}

// learn takes a session into the baseline.
func (h *history) learn(now map[int]figure) {
	for c, f := range now {
		b := h.base[c]
		if b == nil {
			b = &level{heard: map[string]bool{}}
			h.base[c] = b
		}
		if f.se > 0 {
			b.sum += f.log
			b.variance += f.se * f.se
			b.n++
		}
		if f.leakSE > 0 {
			b.leaks = append(b.leaks, f.leak)
		}
		for _, p := range f.paths {
			b.heard[p.Where] = true
		}
	}
}

// leak returns the baseline leak: the mean, unless two tests of it lie so far apart that the higher one was dirt on a
// seat.
func (b *level) leak() (pct float64, ok bool) {
	if len(b.leaks) == 0 {
		return 0, false
	}
	low := slices.Min(b.leaks)
	sum, n := 0.0, 0.0
	for _, v := range b.leaks {
		if v <= low+dirtApart+0.3*low {
			sum += v
			n++
		}
	}
	return sum / n, true
}

// dirtApart is how many points above its lowest reading a baseline leak must lie to be taken for dirt.
const dirtApart = 3.0

// change is a session against the baseline: what all did, what of that was to be expected from the way it was tested,
// and what each did beyond that.
type change struct {
	common, commonSE float64
	unlike           []unlike
	expected         expected
	leakCommon       float64
	each             map[int]wear.Evidence
	compared         bool
}

// compare separates what all cylinders did since the baseline from what each did.
func (h *history) compare(now map[int]figure, all []unlike) change {
	x := expect(all)
	out := change{each: map[int]wear.Evidence{}, unlike: all, expected: x}
	var order []int
	var delta, se, leaks []float64
	for _, c := range h.order {
		f, b := now[c], h.base[c]
		if b == nil {
			continue
		}
		e := wear.Evidence{Repeated: f.attempts > 1, Heard: b.heardAt(f.paths)}
		if f.se > 0 && b.n > 0 {
			order, delta, se = append(order, c), append(delta, f.log-b.sum/b.n), append(se, math.Hypot(f.se, math.Sqrt(b.variance)/b.n))
		}
		if base, ok := b.leak(); ok && f.leakSE > 0 {
			e.Leak = f.leak - base*(1+x.leak)
			e.LeakSE = math.Hypot(math.Hypot(f.leakSE, x.leakSD*base), 0.8/math.Sqrt(float64(len(b.leaks))))
			leaks = append(leaks, e.Leak)
		}
		out.each[c] = e
	}
	switch {
	case len(h.order) == 1 && len(order) == 1:
		// A single has no siblings to take a session's own shift from: its change is told less surely.
		e := out.each[order[0]]
		out.common, out.commonSE = delta[0], se[0]
		e.Compression, e.CompressionSE = delta[0]-x.mean, math.Hypot(math.Hypot(se[0], sessionShift), x.sd)
		out.each[order[0]] = e
	case len(order) > 0:
		for i := range delta {
			delta[i] -= x.mean
		}
		prior := wear.Compression
		prior.CommonSD = math.Hypot(prior.CommonSD, x.sd)
		shift := wear.Separate(delta, se, prior)
		out.common, out.commonSE, out.compared = shift.Common+x.mean, shift.CommonSE, true
		for i, c := range order {
			e := out.each[c]
			e.Compression, e.CompressionSE = shift.Own[i], shift.SE[i]
			out.each[c] = e
		}
	}
	// A cold engine leaks more everywhere: the lower half's middle is what all share, if it is a rise at all.
	if len(leaks) > 2 {
		slices.Sort(leaks)
		out.leakCommon = math.Max(0, stat.Quantile(0.4, stat.Empirical, leaks, nil))
		for c, e := range out.each {
			if e.LeakSE > 0 {
				e.Leak -= out.leakCommon
				out.each[c] = e
			}
		}
	}
	return out
}

// beyond returns what all did together beyond what was to be expected, and its standard error.
func (c change) beyond() (common, se float64) {
	return c.common - c.expected.mean, math.Hypot(c.commonSE, c.expected.sd)
}

// sessionShift is how far one visit moves all readings: battery, heat, weather, gauge.
const sessionShift = 0.03

// heardAt returns where air came out that did not at the baseline: what a fresh head lets by at its valves says nothing.
func (b *level) heardAt(paths []log.Path) wear.Place {
	if paths == nil {
		return wear.Unheard
	}
	at := wear.AtFiller
	for _, p := range paths {
		if b.heard[p.Where] {
			continue
		}
		switch p.Where {
		case log.Coolant, log.Neighbour:
			return wear.AtGasket
		case log.Intake, log.Exhaust:
			at = wear.AtValve
		}
	}
	return at
}

// The chance above which a cylinder is said to have changed, and the chance of dirt above which a repeat is asked for.
const (
	sure      = 0.3
	dirtLikes = 0.5
	dirtFrom  = 4.0 // points: less is not worth a repeat
)

func (h *history) cylinder(c int, f figure, d change) Cylinder {
	out := Cylinder{Cylinder: c, State: Steady, Why: []string{}}
	if f.se > 0 {
		kpa := float64(f.gauge)
		out.Compression = &kpa
	}
	if f.leakSE > 0 {
		leak := f.shown
		out.Leak = &leak
	}
	e, ok := d.each[c]
	if !ok || (e.CompressionSE == 0 && e.LeakSE == 0) {
		return out
	}
	before, known := h.belief[c]
	if !known {
		before = wear.Healthy
	}
	b := before.Next(e)
	h.belief[c] = b
	chance := b.Changed()
	out.Chance = &chance
	if e.CompressionSE > 0 {
		change, se := percent(e.Compression), 100*e.CompressionSE
		out.ChangePct, out.ChangeSEPct = &change, &se
	}
	if e.LeakSE > 0 {
		change, se := e.Leak, e.LeakSE
		out.LeakChange, out.LeakChangeSE = &change, &se
	}
	h.decide(&out, b, e)
	return out
}

// decide sets the state of a cylinder from what is believed of it and what the engine is for.
func (h *history) decide(out *Cylinder, b wear.Belief, e wear.Evidence) {
	duty := dutyOf(h.log.Engine)
	switch {
	case e.CompressionSE > 0 && percent(e.Compression) < -stopAt:
		out.State = Stop
		out.Why = append(out.Why, fmt.Sprintf("it makes %.0f %% of what it did", 100+percent(e.Compression)))
	case b.Changed() >= sure && e.LeakSE > 0 && b.Leaking >= b.Short && b.LeakPts >= duty.leakWatch:
		out.State = Watch
		if b.LeakPts >= duty.leakAct {
			out.State = Act
		}
		if e.LeakSE > 0 {
			out.Why = append(out.Why, fmt.Sprintf("leak up %.1f points since baseline", e.Leak))
		}
		if e.CompressionSE > 0 && e.Compression < -2*e.CompressionSE {
			out.Why = append(out.Why, fmt.Sprintf("compression down %.1f %% beyond what the others did", -percent(e.Compression)))
		}
	case b.Changed() >= sure && e.CompressionSE > 0 && (b.Short > b.Leaking || e.LeakSE == 0) && b.LossPct >= lossWatch:
		out.State = Watch
		if b.LossPct >= duty.lossAct {
			out.State = Act
		}
		out.Why = append(out.Why, fmt.Sprintf("compression down %.1f %% beyond what the others did", -percent(e.Compression)))
		if e.LeakSE > 0 {
			out.Why = append(out.Why, "its leak has not risen")
		}
	case e.LeakSE > 0 && e.Leak >= dirtFrom && !e.Repeated && b.Dirt >= dirtLikes:
		out.State = Retest
		out.Why = append(out.Why, fmt.Sprintf("leak up %.1f points while compression did not move: dirt on a seat, perhaps", e.Leak))
	}
}

// lossWatch is the loss of compression in percent from which a cylinder is watched.
const lossWatch = 3.0

// stopAt is the loss in percent beyond which an engine is not run.
const stopAt = 60.0

// duty is what an engine is for, as far as it moves the limits: what is watched on the street is mended before a race.
type duty struct{ leakWatch, leakAct, lossAct float64 }

var (
	street = duty{2.5, 10, 10}
	race   = duty{2.5, 5, 8}
)

func dutyOf(e log.Engine) duty {
	if slices.Contains([]string{"circuit", "drag", "rally", "pulling", "kart", "track-day", "marine"}, e.Duty) {
		return race
	}
	return street
}

// settle finds the causes, the engine's state, the next test and the date to look again.
func (h *history) settle(out *Session, s log.Session, now map[int]figure, d change) {
	if d.compared {
		common, se := percent(d.common), 100*d.commonSE
		out.CommonPct, out.CommonSEPct = &common, &se
		beyond, _ := d.beyond()
		h.losses = append(h.losses, -percent(beyond))
	}
	var bad []int
	for _, c := range out.Cylinders {
		out.State = Worse(out.State, c.State)
		if c.State.Severity() >= Watch.Severity() {
			bad = append(bad, c.Cylinder)
		}
	}
	h.causes(out, s, now, d, bad)
	h.due(out, s, bad)
}

// pairs returns the cylinders of bad that stand beside another of them in one bank.
func pairs(l log.Layout, bad []int) []int {
	var beside []int
	for _, c := range bad {
		if slices.ContainsFunc(layout.Neighbours(l, c), func(n int) bool { return slices.Contains(bad, n) }) {
			beside = append(beside, c)
		}
	}
	return beside
}

func percent(logRatio float64) float64 { return 100 * (math.Exp(logRatio) - 1) }

// oilRoom returns what oil adds by its own room in this engine, in percent; a usual figure where it is not known.
func oilRoom(e log.Engine) float64 {
	const usual = 8.0
	if e.BoreMM == 0 || e.StrokeMM == 0 || e.RodMM == 0 || e.Ratio == 0 || e.IntakeCloses == nil {
		return usual
	}
	c := gas.Cylinder{Bore: e.BoreMM, Stroke: e.StrokeMM, Rod: e.RodMM, Ratio: e.Ratio, IntakeCloses: *e.IntakeCloses}
	gain, err := c.OilGainPct(5)
	if err != nil {
		return usual
	}
	return gain
}
