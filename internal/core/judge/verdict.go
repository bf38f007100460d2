package judge

import (
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/cause"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// Edition rises whenever the judge would say something else of the same log, so that what was kept of it is renewed.
const Edition = 16

// State says what to do about a cylinder or an engine, in rising order of concern.
type State string

// Steady: nothing moved beyond the measuring. Retest: a reading that is not to be believed yet. Watch: test again
// soon. Act: mend it. Stop: do not run it.
const (
	Steady State = "steady"
	Retest State = "retest"
	Watch  State = "watch"
	Act    State = "act"
	Stop   State = "stop"
)

var severity = []State{Steady, Retest, Watch, Act, Stop}

// Worse returns the more severe of two states.
func Worse(a, b State) State {
	if slices.Index(severity, b) > slices.Index(severity, a) {
		return b
	}
	return a
}

// Severity returns the state's place in the rising order, 0 for steady.
func (s State) Severity() int { return max(0, slices.Index(severity, s)) }

// Verdict is what Braxel says of one log.
type Verdict struct {
	Format   string    `json:"format"`
	Version  int       `json:"version"`
	Engine   string    `json:"engine"`
	Sessions []Session `json:"sessions"`
}

// Session is the judgement of one session, made from it and those before it only.
type Session struct {
	ID        string     `json:"id"`
	State     State      `json:"state" enum:"steady,retest,watch,act,stop"`
	Mark      State      `json:"mark,omitzero" enum:"steady,retest,watch,act,stop" doc:"The state as it is shown: none while nothing was read, or while only a part was and nothing is wrong with that"`
	Unread    []int      `json:"unread,omitempty" doc:"Cylinders that it has no reading of"`
	Partial   bool       `json:"partial,omitzero" doc:"The test isn't finished, and not every cylinder has been read"`
	Headline  string     `json:"headline" doc:"The one thing that matters, in 60 letters at most"`
	Sentence  string     `json:"sentence" doc:"What changed, how sure, and most likely why: at most three sentences"`
	Decision  string     `json:"decision,omitzero" doc:"Whether to run it, and what to do"`
	Remark    string     `json:"remark,omitzero" doc:"A contradiction worth saying while the gauge is still on"`
	Cylinders []Cylinder `json:"cylinders"`
	Causes    []Cause    `json:"causes" doc:"Possible causes, most probable first"`
	Next      *Next      `json:"next,omitempty"`
	Then      []Next     `json:"then,omitempty" doc:"Tests after the next one, cheapest first"`
	Faults    []Fault    `json:"faults,omitempty" doc:"The faults, worst first"`
	Story     *Story     `json:"story,omitempty" doc:"What happened to the engine, where it made the likeliest cause likelier"`
	Repaired  *Repaired  `json:"repaired,omitempty" doc:"What a repair before the test came to"`
	Facts     []Fact     `json:"facts,omitempty" doc:"What the test says about the engine, in figures"`
	Accounts  []Account  `json:"accounts,omitempty" doc:"Possible testing mistakes, likeliest first"`
	Due       *Due       `json:"due,omitempty"`
	Caveats   []string   `json:"caveats,omitempty" doc:"What makes this test hard to compare with the baseline"`
	Beside    string     `json:"beside,omitzero" doc:"Why Braxel disagrees with the trade's two rules, if it does"`
	// CommonPct is what all cylinders did together since the baseline.
	CommonPct   *float64 `json:"common_change_pct,omitempty"`
	CommonSEPct *float64 `json:"common_change_se_pct,omitempty"`
}

// Cylinder is the judgement of one cylinder. Changes are against the build's baseline, beyond what all cylinders did
// together; a nil one could not be told.
type Cylinder struct {
	Cylinder     int       `json:"cylinder"`
	State        State     `json:"state" enum:"steady,retest,watch,act,stop"`
	Why          []string  `json:"why"`
	Facts        []Fact    `json:"facts,omitempty" doc:"The same in figures"`
	Belief       *Belief   `json:"belief,omitempty"`
	Compression  *float64  `json:"compression_kpa,omitempty"`
	Faces        []float64 `json:"faces_kpa,omitempty" doc:"A rotor's faces, in the order they were read"`
	ChangePct    *float64  `json:"compression_change_pct,omitempty"`
	ChangeSEPct  *float64  `json:"compression_change_se_pct,omitempty"`
	Leak         *float64  `json:"leak_pct,omitempty"`
	LeakChange   *float64  `json:"leak_change_pts,omitempty"`
	LeakChangeSE *float64  `json:"leak_change_se_pts,omitempty"`
	Chance       *float64  `json:"chance_changed,omitempty"`
	Fan          *Fan      `json:"fan,omitempty"`
}

// Belief is what is believed of a cylinder after a visit, as chances: sound, leaking and short sum to 1. Innocent and failed are
// parts of sound: that a raised leak is dirt or a slip, that a low reading is the gauge's.
type Belief struct {
	Sound    float64 `json:"sound"`
	Leaking  float64 `json:"leaking"`
	Short    float64 `json:"short"`
	Innocent float64 `json:"innocent,omitzero"`
	Failed   float64 `json:"failed,omitzero"`
	Points   float64 `json:"points,omitzero" doc:"By how many points its leak is up, if it is"`
	LostPct  float64 `json:"lost_pct,omitzero" doc:"How much compression it has lost, if it has"`
}

func beliefOf(e *belief.Told) *Belief {
	return &Belief{e.Sound, e.Leaking, e.Short, e.Innocent, e.Failed, e.Points, e.LostPct}
}

// Account is one account of how the readings of a visit came about, with its weight; they sum to 1.
type Account struct {
	Kind    string  `json:"kind" enum:"alike,sag,step,bank"`
	Words   string  `json:"words"`
	Weight  float64 `json:"weight"`
	SizePct float64 `json:"size_pct,omitzero"`
}

// Cause is a cause with its probability and the evidence.
type Cause = cause.Weighed

// Story is what happened to an engine that a verdict used: what it made likelier, from which chance to which.
type Story struct {
	Kind  string  `json:"kind" doc:"The kind of event"`
	Date  string  `json:"date" format:"date"`
	Words string  `json:"words" doc:"It ran hot"`
	Cause string  `json:"cause"`
	From  float64 `json:"from" doc:"The chance of that cause without what happened"`
	To    float64 `json:"to"`
}

// Next is the test that would settle most for its time.
type Next struct {
	Test      string `json:"test"`
	Words     string `json:"words"`
	Step      string `json:"step" doc:"The step of the run sheet where it is done"`
	Cylinders []int  `json:"cylinders"`
	Why       string `json:"why"`
}

// Latest returns the last session that has a reading of every cylinder or is finished; where there is none, the last that
// has any reading.
func (v Verdict) Latest() (Session, bool) {
	var begun *Session
	for i := len(v.Sessions) - 1; i >= 0; i-- {
		s := &v.Sessions[i]
		switch {
		case len(s.Cylinders) == 0:
		case !s.Partial:
			return *s, true
		case begun == nil:
			begun = s
		}
	}
	if begun != nil {
		return *begun, true
	}
	return Session{}, false
}

// Brief returns what a list of tests shows of a session: without its facts, beliefs, faults and accounts.
func (s Session) Brief() Session {
	s.Facts, s.Faults, s.Accounts, s.Then, s.Causes = nil, nil, nil, nil, []Cause{}
	s.Cylinders = slices.Clone(s.Cylinders)
	for i := range s.Cylinders {
		s.Cylinders[i].Facts, s.Cylinders[i].Belief = nil, nil
	}
	return s
}

// atLeast returns the cylinders whose state is that, or graver.
func (s *Session) atLeast(state State) []int {
	var all []int
	for i := range s.Cylinders {
		if s.Cylinders[i].State.Severity() >= state.Severity() {
			all = append(all, s.Cylinders[i].Cylinder)
		}
	}
	return all
}

// raise gives the cylinders of each fault, and the engine, the state that the fault has.
func (s *Session) raise() {
	for _, f := range s.Faults {
		for i := range s.Cylinders {
			if c := &s.Cylinders[i]; slices.Contains(f.Cylinders, c.Cylinder) {
				c.State = Worse(c.State, f.State)
			}
		}
		s.State = Worse(s.State, f.State)
	}
}

// thatAre returns the cylinders of which a fact is told.
func (s Session) thatAre(what What) []int {
	var all []int
	for _, c := range s.Cylinders {
		if _, ok := named(c.Facts, what); ok {
			all = append(all, c.Cylinder)
		}
	}
	return all
}

// onlyTested reports whether a cylinder is to be read again for what the testing may have done, and nothing else is known against it.
func (c Cylinder) onlyTested() bool {
	_, off := named(c.Facts, TakenOff)
	_, fell := named(c.Facts, FellWithAll)
	return c.State == Retest && (off || fell)
}

// onlyWorn reports whether a cylinder leaks more as all do, and nothing is known against it by itself.
func (c Cylinder) onlyWorn() bool {
	return len(c.Facts) > 0 && !slices.ContainsFunc(c.Facts, func(f Fact) bool { return f.What != LeaksWithAll })
}

// Of returns what was said of one cylinder; one that was not read stands as steady.
func (s Session) Of(cylinder int) Cylinder {
	for _, c := range s.Cylinders {
		if c.Cylinder == cylinder {
			return c
		}
	}
	return Cylinder{Cylinder: cylinder, State: Steady, Why: []string{}}
}

// Pressures returns the gauge readings of the session in kPa, in the layout's order.
func (s Session) Pressures() []float64 {
	var all []float64
	for _, c := range s.Cylinders {
		if c.Compression != nil {
			all = append(all, *c.Compression)
		}
	}
	return all
}

// Gaskets returns the pair between which the gasket is the first suspect, if it is.
func (s Session) Gaskets() [][]int {
	if s.State.Severity() >= Watch.Severity() && len(s.Causes) > 0 && s.Causes[0].Cause == "gasket_neighbour" &&
		len(s.Causes[0].Cylinders) > 1 {
		return [][]int{s.Causes[0].Cylinders[:2]}
	}
	return [][]int{}
}

// Fault is what is wrong with one cylinder, or with two that share a gasket, by itself: its own causes, sentence and next step.
type Fault struct {
	Cylinders []int   `json:"cylinders"`
	State     State   `json:"state" enum:"steady,retest,watch,act,stop"`
	Sentence  string  `json:"sentence"`
	Causes    []Cause `json:"causes"`
	Story     *Story  `json:"story,omitempty" doc:"What happened to the engine, where it made the likeliest cause likelier"`
	Next      *Next   `json:"next,omitempty"`
	Then      []Next  `json:"then,omitempty" doc:"Tests after the next one, cheapest first"`
}

// add puts a test after those that are to be done already.
func (f *Fault) add(t rules.Test) {
	one := Next{
		Test:      t.Test,
		Words:     t.Words,
		Step:      t.Step,
		Cylinders: f.Cylinders,
		Why:       say.Text("judge.step-minutes", "minutes", t.Minutes, "tells", t.Tells),
	}
	if f.Next == nil {
		f.Next = &one
	} else {
		f.Then = append(f.Then, one)
	}
}

// doubted reports whether it is a reading that is in doubt; of a cold cylinder it is the engine.
func (c Cylinder) doubted() bool {
	_, cold := named(c.Facts, ColdUneven)
	return c.State == Retest && !cold
}

// Due is when to test again: by the meter and by the date, whichever comes first. Where a cylinder is on its way to a
// limit, it is the early end of the interval in which it will meet it, and Late the other end.
type Due struct {
	ByMeter  *float64 `json:"by_meter,omitempty"`
	Late     *float64 `json:"late_meter,omitempty"`
	ByDate   string   `json:"by_date,omitzero" format:"date"`
	LateDate string   `json:"late_date,omitzero" format:"date"`
	Why      string   `json:"why"`
}

// Fan is where a cylinder's compression is going: its change in percent now, and between which two it will be (90 %) when
// the meter has gone as far again as since the trouble began.
type Fan struct {
	Meter  float64 `json:"meter"`
	Change float64 `json:"change_pct"`
	Ahead  float64 `json:"ahead_meter"`
	Low    float64 `json:"low_pct"`
	High   float64 `json:"high_pct"`
}

// InConcern returns the cylinders that a session was judged to watch or worse.
func (s Session) InConcern() []int { return slices.Clip(s.atLeast(Watch)) }

func of(v float64) *float64 { return &v }

// cranked returns the cylinders whose compression was read.
func (s Session) cranked() []Cylinder {
	return slices.DeleteFunc(slices.Clone(s.Cylinders), func(c Cylinder) bool { return c.Compression == nil })
}

// factsOfAll returns the facts of all cylinders.
func (s Session) factsOfAll() []Fact {
	var all []Fact
	for _, c := range s.Cylinders {
		all = append(all, c.Facts...)
	}
	return all
}

// Leaks returns the leaks of the session in percent, in the layout's order.
func (s Session) Leaks() []float64 {
	var all []float64
	for _, c := range s.Cylinders {
		if c.Leak != nil {
			all = append(all, *c.Leak)
		}
	}
	return all
}

func (s Session) worstLeak() float64 {
	if all := s.Leaks(); len(all) > 0 {
		return slices.Max(all)
	}
	return 0
}
