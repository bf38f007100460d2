// Package judge reads a log and says, session by session, what changed in which cylinder, and whether to run it.
package judge

import (
	"cmp"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/cause"
)

// Edition rises whenever the judge would say something else of the same log, so that what was kept of it is renewed.
const Edition = 12

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
	Partial   bool       `json:"partial,omitzero" doc:"The test is going on, and not every cylinder has been read"`
	Sentence  string     `json:"sentence" doc:"What to tell the person at the engine"`
	Decision  string     `json:"decision,omitzero" doc:"Run it or not"`
	Remark    string     `json:"remark,omitzero" doc:"What contradicts itself, to be said while the gauge is still on"`
	Cylinders []Cylinder `json:"cylinders"`
	Causes    []Cause    `json:"causes" doc:"What may be wrong, most probable first"`
	Next      *Next      `json:"next,omitempty"`
	Then      []Next     `json:"then,omitempty" doc:"What to do after the next, in the order of cost"`
	Faults    []Fault    `json:"faults,omitempty" doc:"What is wrong, worst first, each by itself"`
	Facts     []Fact     `json:"facts,omitempty" doc:"What the visit says of the engine, in figures"`
	Accounts  []Account  `json:"accounts,omitempty" doc:"What may have gone wrong with the testing, likeliest first"`
	Due       *Due       `json:"due,omitempty"`
	Caveats   []string   `json:"caveats,omitempty" doc:"What makes this test unlike the baseline that it is held against"`
	Beside    string     `json:"beside,omitzero" doc:"Why Braxel differs from the trade's two rules, where it does"`
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
	Faces        []float64 `json:"faces_kpa,omitempty" doc:"Of a rotor, in the order in which they were read"`
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
	Points   float64 `json:"points,omitzero" doc:"How many points it leaks more, if it does"`
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

// accountWords are the kinds of account, as they stand in a list.
var accountWords = map[belief.Kind]string{
	belief.Alike: "all moved alike, or not at all", belief.Sag: "a battery that sank from cylinder to cylinder",
	belief.Step: "throttle or charger changed on the way", belief.Bank: "one bank against the other",
}

// accountsOf gathers the hypotheses of a visit by their kind.
func accountsOf(all []belief.Hypothesis) []Account {
	var out []Account
	for _, kind := range []belief.Kind{belief.Alike, belief.Sag, belief.Step, belief.Bank} {
		a := Account{Kind: string(kind), Words: accountWords[kind]}
		best := 0.0
		for _, h := range all {
			if h.Kind != kind {
				continue
			}
			a.Weight += h.Weight
			if h.Weight > best {
				best, a.SizePct = h.Weight, percent(h.Size)
			}
		}
		if a.Weight > 0.001 {
			out = append(out, a)
		}
	}
	slices.SortStableFunc(out, func(a, b Account) int { return cmp.Compare(b.Weight, a.Weight) })
	return out
}

// Cause is a cause with its probability and the evidence.
type Cause = cause.Weighed

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
