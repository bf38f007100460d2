package judge

import (
	"fmt"
	"math"
	"slices"

	"braxel/internal/core/cause"
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
		v.Sessions = append(v.Sessions, builds[id].unconfirmed(s, builds[id].session(s, spread)))
	}
	return v
}

// history is what is known of one build so far.
type history struct {
	log     log.Log
	table   cause.Table
	known   map[int]bool // cylinders that were found bad at an earlier test
	order   []int
	orifice float64
	base    map[int]*level
	belief  map[int]wear.Belief
	effects map[string]*effect
	losses  []float64           // what all lost together since the baseline beyond what was expected, test by test, in percent
	ways    [len(ways)][]string // how the sessions of the baseline were made, way by way
	points  map[int][]point
	visits  []visit
}

// level is a cylinder's baseline: sums of its compression logarithms, its leak, and where it was heard.
type level struct {
	sum, variance, n float64
	leaks            []float64
	leak             float64 // what it usually leaked
	heard            map[string]bool
}

func newHistory(l log.Log) *history {
	return &history{log: l, table: cause.Load().For(l.Engine.Kind), known: map[int]bool{}, order: l.Engine.Cylinders(), base: map[int]*level{}, belief: map[int]wear.Belief{}, effects: map[string]*effect{}, points: map[int][]point{}}
}

func (h *history) session(s log.Session, spread map[string]float64) Session {
	if h.orifice == 0 {
		h.orifice = firstOrifice(h.log, s)
	}
	now := figures(h.log, s, h.orifice, spread)
	unlike := h.unlike(s)
	out := Session{ID: s.ID, State: Steady, Cylinders: []Cylinder{}, Causes: []Cause{}, Caveats: caveats(h.log, s, unlike)}
	if len(now) == 0 {
		out.Sentence = "No reading yet."
		return out
	}
	if s.Stage == "after-repair" {
		// What was wrong has been mended; it is believed again only if it is seen again.
		h.belief, h.known = map[int]wear.Belief{}, map[int]bool{}
	}
	defines := s.Baseline || len(h.base) == 0
	delta := h.compare(now, unlike)
	for _, c := range h.order {
		if f, ok := now[c]; ok {
			out.Cylinders = append(out.Cylinders, h.cylinder(c, f, delta))
		}
	}
	h.settle(&out, s, now, delta)
	if out.State.Severity() < Watch.Severity() && !delta.unexplained() && delta.commonSE > 0 {
		learn(unlike, delta.common, delta.commonSE)
	}
	out.Beside = h.beside(out, delta)
	if defines {
		h.learn(now, out, delta)
		h.define(s)
	}
	if out.Partial = s.Open && len(out.Cylinders) < len(h.order); out.Partial {
		out.Sentence, out.Decision = fmt.Sprintf("Being tested: %d of %d read.", len(out.Cylinders), len(h.order)), "Finish the test first."
		return out
	}
	out.Sentence, out.Decision = h.sentence(out, delta, defines), h.decision(out, s, delta)
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

// The chances of change from which a cylinder is watched, and acted upon, and the chance of dirt from which a repeat is
// asked for.
const (
	worth     = 0.15
	likely    = 0.5
	dirtLikes = 0.5
	dirtFrom  = 4.0 // points: less is not worth a repeat
)

func (h *history) cylinder(c int, f figure, d change) Cylinder {
	out := Cylinder{Cylinder: c, State: Steady, Why: []string{}}
	// All that is told of a cylinder is one allocation: a judge is asked at every reading.
	told := &struct{ kpa, leak, change, changeSE, leakChange, leakChangeSE, chance float64 }{kpa: float64(f.gauge), leak: f.shown}
	if f.se > 0 {
		out.Compression = &told.kpa
	}
	if f.leakSE > 0 {
		out.Leak = &told.leak
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
	h.decide(&out, b, e, f, d)
	if d.first {
		if out.State.Severity() < Watch.Severity() {
			h.belief[c] = wear.Healthy
		}
		return out
	}
	told.chance = b.Changed()
	out.Chance = &told.chance
	if e.CompressionSE > 0 {
		told.change, told.changeSE = percent(e.Compression), 100*e.CompressionSE
		out.ChangePct, out.ChangeSEPct = &told.change, &told.changeSE
	}
	if e.LeakSE > 0 {
		told.leakChange, told.leakChangeSE = e.Leak, e.LeakSE
		out.LeakChange, out.LeakChangeSE = &told.leakChange, &told.leakChangeSE
	}
	return out
}

// decide sets the state of a cylinder from what is believed of it and what the engine is for.
func (h *history) decide(out *Cylinder, b wear.Belief, e wear.Evidence, f figure, d change) {
	limits := limitsOf(h.log.Engine, d.first)
	lost := -percent(e.Compression)
	changed, loses := b.Changed() >= worth, e.CompressionSE > 0 && e.Compression < -2*e.CompressionSE
	switch {
	case e.CompressionSE > 0 && lost > stopAt:
		out.State = Stop
		out.Why = append(out.Why, fmt.Sprintf("makes %.0f %% of what %s", 100-lost, d.against("it did", "the others do")))
	case changed && e.LeakSE > 0 && b.Leaking >= b.Short && b.LeakPts >= limits.leakWatch:
		out.State = Watch
		switch {
		case b.LeakPts >= leakStop && loses:
			out.State = Stop
		case b.LeakPts >= limits.leakAct && b.Changed() >= likely:
			out.State = Act
		}
		out.Why = append(out.Why, fmt.Sprintf("leak %s by %.1f points%s", d.against("up since baseline", "above the others"), e.Leak, at(f.paths)))
		if loses {
			out.Why = append(out.Why, fmt.Sprintf("compression %.1f %% %s", lost, d.against("down beyond what the others did", "below the others")))
		}
	case changed && e.CompressionSE > 0 && (b.Short > b.Leaking || e.LeakSE == 0) && b.LossPct >= limits.lossWatch:
		out.State = Watch
		if b.LossPct >= limits.lossAct && b.Changed() >= likely {
			out.State = Act
		}
		out.Why = append(out.Why, fmt.Sprintf("compression %.1f %% %s", lost, d.against("down beyond what the others did", "below the others")))
		if e.LeakSE > 0 {
			out.Why = append(out.Why, d.against("its leak has not risen", "it leaks no more than they do"))
		}
	case e.LeakSE > 0 && e.Leak >= dirtFrom && !e.Repeated && b.Dirt >= dirtLikes:
		out.State = Retest
		out.Why = append(out.Why, fmt.Sprintf("leak %s by %.1f points and compression does not show it: dirt on a seat, perhaps", d.against("up", "above the others"), e.Leak))
	}
}

// against picks the words for a test that is held against the baseline, or for a first one.
func (d change) against(baseline, others string) string {
	if d.first {
		return others
	}
	return baseline
}

// loudest returns where air was heard loudest beside the oil filler and the tester's own seal, which tell nothing; false
// where it was heard nowhere else.
func loudest(paths []log.Path) (loud log.Path, ok bool) {
	for _, p := range paths {
		p.Level = max(p.Level, 1)
		if p.Where != log.Crankcase && p.Where != log.PlugHole && p.Level > loud.Level {
			loud, ok = p, true
		}
	}
	return loud, ok
}

// at says where the air was heard that tells something: ", at the exhaust".
func at(paths []log.Path) string {
	loud, ok := loudest(paths)
	switch {
	case ok && loud.Where == log.Neighbour && loud.Cylinder > 0:
		return fmt.Sprintf(", at the plug hole of %d", loud.Cylinder)
	case ok:
		return ", at the " + map[string]string{log.Intake: "intake", log.Exhaust: "exhaust", log.Coolant: "coolant", log.Neighbour: "neighbour's plug hole"}[loud.Where]
	case len(paths) > 0:
		return ", at the oil filler only"
	}
	return ""
}

// What stops an engine: so many percent of compression lost, or so many points of leak with compression gone too.
const (
	stopAt   = 60.0
	leakStop = 50.0
)

// limits are the points of leak and the percent of compression from which a cylinder is watched and acted upon.
type limits struct{ leakWatch, leakAct, lossWatch, lossAct float64 }

// What is watched on the street is mended before a race. A first test has no baseline: the schools' own limits hold.
var (
	street      = limits{2.5, 10, 3, 10}
	race        = limits{2.5, 5, 3, 8}
	streetFirst = limits{10, 20, 10, 25}
	raceFirst   = limits{6, 12, 8, 20}
)

// races are the duties in which an engine is opened before it breaks.
var races = []string{"circuit", "drag", "rally", "pulling", "kart", "track-day", "marine"}

func limitsOf(e log.Engine, first bool) limits {
	racing := slices.Contains(races, e.Duty)
	switch {
	case racing && first:
		return raceFirst
	case racing:
		return race
	case first:
		return streetFirst
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
	h.note(out, s, now)
	h.standing(out, s, now)
	for _, c := range out.Cylinders {
		out.State = Worse(out.State, c.State)
	}
	bad := cylinders(out.bad())
	h.causes(out, s, now, d, bad)
	for _, c := range bad {
		h.known[c] = true
	}
	h.due(out, s, bad)
	h.fans(out, bad)
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
	c, known := geometry(e)
	if !known {
		return usual
	}
	gain, err := c.OilGainPct(5)
	if err != nil {
		return usual
	}
	return gain
}
