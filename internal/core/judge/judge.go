package judge

import (
	"fmt"
	"maps"
	"math"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/cause"
	"braxel/internal/core/log"
	"braxel/internal/core/protocol"
	"braxel/internal/core/reading"
)

// Log judges every session of a log, each from itself and those before it, against the baseline of its build. own are the workshop's
// protocols: a reading is made of its pulls by the rule of the session's.
func Log(l log.Log, own ...protocol.Protocol) Verdict {
	v := Verdict{Format: verdictFormat, Version: 1, Engine: l.Engine.Name, Sessions: []Session{}}
	builds := map[string]*history{}
	for _, s := range l.Sessions {
		v.Sessions = append(v.Sessions, oneMore(builds, l, s, own))
	}
	return v
}

const verdictFormat = "braxel-verdict"

// oneMore judges one more session of a log by what is known of its builds.
func oneMore(builds map[string]*history, l log.Log, s log.Session, own []protocol.Protocol) Session {
	id := l.BuildOf(s)
	if builds[id] == nil {
		builds[id] = newHistory(l)
	}
	h := builds[id]
	h.own = own
	return h.unconfirmed(s, h.session(s))
}

// history is what is known of one build so far.
type history struct {
	log      log.Log
	table    cause.Table
	order    []int // its cylinders, as the layout has them
	believed *belief.Believed
	known    map[int]bool // cylinders that were found bad at an earlier test
	pooled   map[string]reading.Spread
	written  written
	own      []protocol.Protocol // the workshop's
	effects  map[string]*effect
	losses   []float64           // what all lost together since the baseline beyond what was expected, test by test, in percent
	ways     [len(ways)][]string // how the sessions of the baseline were made, way by way
	points   map[int][]point
	visits   []visit
}

func newHistory(l log.Log) *history {
	return &history{log: l, table: cause.Load().For(l.Engine.Kind), order: l.Engine.Cylinders(), known: map[int]bool{},
		pooled: map[string]reading.Spread{}, effects: map[string]*effect{}, points: map[int][]point{}}
}

// session judges one visit, in stages: its figures are read, weighed against what is believed, told as facts, each cylinder's state
// set from them, the causes weighed, and all of it put in words. No stage reaches back.
func (h *history) session(s log.Session) Session {
	now := h.read(s)
	unlike := h.unlike(s)
	out := Session{ID: s.ID, State: Steady, Cylinders: []Cylinder{}, Causes: []Cause{}, Caveats: caveats(h.log, s, unlike)}
	if len(now) == 0 {
		out.Sentence = "No reading yet."
		return out
	}
	if s.Stage == "after-repair" {
		// What was wrong has been mended; it is believed again only if it is seen again.
		maps.DeleteFunc(h.known, func(c int, _ bool) bool { return len(s.Touched) == 0 || slices.Contains(s.Touched, c) })
	}
	d := h.compare(s, now, unlike)
	out.Cylinders = h.decide(s, now, d)
	if unread := h.unread(now); len(unread) > 0 && !s.Open {
		out.Caveats = append(out.Caveats, fmt.Sprintf("Not tested: %s. Nothing is said of %s.", h.names(unread), pronoun(unread)))
	}
	if h.alone(now) {
		out.Caveats = append(out.Caveats, aloneWords)
	}
	out.Partial = s.Open && len(out.Cylinders) < len(h.order)
	if d.compared {
		common, se := percent(d.common), 100*d.commonSE
		out.CommonPct, out.CommonSEPct = &common, &se
		beyond, _ := d.beyond()
		h.losses = append(h.losses, -percent(beyond))
	}
	h.note(&out, s, now, d)
	out.Facts = h.facts(out, s, now, d)
	h.settle(&out, s, now, d)
	out.Beside = h.beside(out, d)
	out.Accounts = accountsOf(d.accounts)
	out.Remark = h.remark(out, now)
	h.remember(out, s, d)
	if out.Partial {
		out.Sentence, out.Decision = fmt.Sprintf("Being tested: %d of %d read.", len(out.Cylinders), len(h.order)), "Finish the test first."
		return out
	}
	out.Sentence, out.Decision = h.sentence(out, d), h.decision(out, s, d)
	return out
}

// aloneWords says what a single's reading leaves open, and what narrows it.
const aloneWords = "A single has nothing beside it: a reading may be the gauge's or the battery's as well as its own. " +
	"A second gauge, one more pull and a leak-down tell them apart."

// alone reports whether a visit read an engine of one cylinder by compression only.
func (h *history) alone(now map[int]figure) bool {
	if len(h.order) != 1 || h.log.Engine.Kind == log.Rotary {
		return false
	}
	f := now[h.order[0]]
	return f.se > 0 && f.leakSE == 0
}

// unread returns the cylinders of which a visit has no figure.
func (h *history) unread(now map[int]figure) []int {
	return slices.DeleteFunc(slices.Clone(h.order), func(c int) bool { _, read := now[c]; return read })
}

func pronoun(cylinders []int) string {
	if len(cylinders) == 1 {
		return "it"
	}
	return "them"
}

// figures returns what is told of a cylinder in figures.
func (h *history) figures(c int, f figure, d change) Cylinder {
	out := Cylinder{Cylinder: c, State: Steady, Faces: f.faces}
	e := d.of(c)
	if f.se > 0 {
		out.Compression = of(h.shown(f, e))
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
		out.ChangePct, out.ChangeSEPct = of(percent(h.changeShown(e))), of(100*e.ChangeSE)
	}
	if e.RiseSE > 0 {
		out.LeakChange, out.LeakChangeSE = of(e.Rise), of(e.RiseSE)
	}
	return out
}

// changeShown returns the change of a cylinder as it is shown, a logarithm. Of two cylinders each is judged by the other alone; where
// the other is the bad one, the sound one is shown by what both tell, or it would seem to have gained half of what the other lost.
func (h *history) changeShown(e *belief.Told) float64 {
	if len(h.order) == 2 && e.Sound >= likely && math.Abs(e.Among) < math.Abs(e.Change) {
		return e.Among
	}
	return e.Change
}

// facts returns what the visit says of the engine as a whole, once its cylinders' states are known.
func (h *history) facts(out Session, s log.Session, now map[int]figure, d change) []Fact {
	var all []Fact
	bad := out.atLeast(Retest)
	switch {
	case d.first && len(bad) > 0:
		all = append(all, Fact{What: NoBaseline})
	case d.first && s.Stage == "as-found" && len(h.log.Builds) == 0:
		all = append(all, Fact{What: FirstFound})
	case d.first && !s.Baseline:
		all = append(all, Fact{What: FirstKnown})
	case d.first:
		all = append(all, Fact{What: FirstTest})
	case s.Baseline:
		all = append(all, Fact{What: Into})
	}
	account := h.account(d)
	all = append(all, h.leftOut(d)...)
	together := h.together(s, d)
	all = append(append(all, account...), together...)
	var stood []int
	for _, c := range out.Cylinders {
		if e := d.of(c.Cylinder); c.State == Steady && e.Sound >= likely {
			stood = append(stood, c.Cylinder)
		}
	}
	_, moved := named(all, AllMoved)
	switch {
	case d.first && len(bad) == 0:
		if e := reading.Even(out.Pressures()); e.Spread > 0 {
			lowest := slices.MinFunc(out.Cylinders, func(a, b Cylinder) int { return cmpMissing(a.Compression, b.Compression) })
			all = append(all, Fact{What: Stands, Cylinders: []int{lowest.Cylinder}, Value: e.SpreadPctOfHighest})
		}
	case d.first || moved || d.fell():
	case len(bad) == 0 && len(account) == 0:
		all = append(all, Fact{What: NothingNew})
	case len(bad) > 0 && len(stood) > 0 && len(stood)+len(bad) == len(out.Cylinders):
		all = append(all, Fact{What: OthersStood, Cylinders: stood})
	}
	if h.allAlike(out, d) {
		bad = nil
	}
	return append(all, h.notCompared(s, now, d, bad)...)
}

// cmpMissing orders figures, those that were not read last.
func cmpMissing(a, b *float64) int {
	switch {
	case a == nil && b == nil:
		return 0
	case a == nil:
		return 1
	case b == nil || *a < *b:
		return -1
	}
	return 1
}

// settle finds the faults, the engine's state, its causes, the next test and the date to look again.
func (h *history) settle(out *Session, s log.Session, now map[int]figure, d change) {
	for _, c := range out.Cylinders {
		out.State = Worse(out.State, c.State)
	}
	if !h.allAlike(*out, d) {
		out.Faults = h.faults(*out, s, now, d)
	}
	for i := range out.Faults {
		out.Faults[i].Sentence = h.faultWords(out.Faults[i], *out)
	}
	switch {
	case len(out.Faults) > 0:
		out.Causes, out.Next, out.Then = out.Faults[0].Causes, out.Faults[0].Next, out.Faults[0].Then
	default:
		out.Causes = h.whole(*out, s, now, d)
		h.engineState(out, d)
		f := Fault{Cylinders: []int{}, State: out.State, Causes: out.Causes}
		switch {
		case d.fell() && !d.unexplained():
			f.add(h.table.Named("same-way"))
		case out.Causes[0].Cause != "healthy":
			h.search(&f, h.done(nil, s, now))
		}
		out.Next, out.Then = f.Next, f.Then
	}
	bad := out.atLeast(Watch)
	for _, c := range bad {
		h.known[c] = true
	}
	h.due(out, s, d, bad)
	h.fans(out, bad)
}

// engineState raises the state where what moved all is the engine's own: only where the gauge and the conditions are less likely.
func (h *history) engineState(out *Session, d change) {
	top := out.Causes[0].Cause
	if !d.fell() || (top != "cam_timing" && top != "even_wear") {
		return
	}
	out.State = Worse(out.State, Watch)
	fellTogether(out.Cylinders, d)
	h.why(out.Cylinders)
}

// remember keeps of a visit what later ones are held against.
func (h *history) remember(out Session, s log.Session, d change) {
	if out.State.Severity() < Watch.Severity() && !d.unexplained() && d.commonSE > 0 {
		learn(d.unlike, d.common, d.commonSE)
	}
	if !s.Baseline && !d.first {
		return
	}
	h.define(s)
}

// Loudest returns where air was heard loudest beside the oil filler and the tester's own seal, which tell nothing; false
// where it was heard nowhere else.
func Loudest(paths []log.Path) (loud log.Path, ok bool) {
	for _, p := range paths {
		p.Level = max(p.Level, 1)
		if p.Where != log.Crankcase && p.Where != log.PlugHole && p.Level > loud.Level {
			loud, ok = p, true
		}
	}
	return loud, ok
}

// at says where the air was heard that tells something, as its place and in words: " at the exhaust".
func at(paths []log.Path) (where, words string) {
	loud, ok := Loudest(paths)
	switch {
	case ok && loud.Where == log.Neighbour && loud.Cylinder > 0:
		return loud.Where, fmt.Sprintf(" at the plug hole of %d", loud.Cylinder)
	case ok:
		return loud.Where, " at the " + outlets[loud.Where]
	case len(paths) > 0:
		return log.Crankcase, atFiller
	}
	return "", ""
}

const atFiller = " at the oil filler only"

// outlets are the places where air is heard that tell something, as one says them.
var outlets = map[string]string{
	log.Intake: "intake", log.Exhaust: "exhaust", log.Coolant: "coolant", log.Neighbour: "neighbour's plug hole",
}

func percent(logRatio float64) float64 { return 100 * math.Expm1(logRatio) }
