package practice

import (
	"cmp"
	"slices"
	"strings"

	"github.com/go-json-experiment/json"

	"braxel/internal/core/bench"
	"braxel/internal/core/book"
	"braxel/internal/core/gas"
	"braxel/internal/core/judge"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Debrief is what came of it: the truth, what was decided, what each test told, and the shortest way.
type Debrief struct {
	Truth    string  `json:"truth"`
	Runs     bool    `json:"runs" doc:"Whether the engine may be run"`
	Decided  string  `json:"decided"`
	Kind     bool    `json:"kind_right"`
	Where    bool    `json:"where_right"`
	Run      bool    `json:"run_right"`
	Risked   string  `json:"risked,omitzero"`
	Minutes  float64 `json:"minutes"`
	Steps    []Step  `json:"steps"`
	Shortest []Step  `json:"shortest"`
	Least    float64 `json:"least_minutes"`
}

// Step is one thing that was done, what Braxel would have said after it, and how sure of the truth that made it.
type Step struct {
	Minutes float64     `json:"minutes" doc:"Minutes of work since it was started"`
	Did     string      `json:"did"`
	Says    string      `json:"says,omitzero"`
	State   judge.State `json:"state,omitzero" enum:"steady,retest,watch,act,stop"`
	SurePct float64     `json:"sure_pct" doc:"The probability Braxel gave the true fault"`
	TellPct float64     `json:"tells_pct" doc:"By how many points this raised it"`
	Told    bool        `json:"judged,omitzero" doc:"It was a reading that was judged"`
}

// Debrief weighs a case that was decided by the entries of its engine.
func (c Course) Debrief(k Case, shop *book.Book, entries []book.Entry) Debrief {
	d := *k.Decision
	truth, kind := mainFault(k.Lesson), c.Engines[k.Lesson.Engine].Kind
	out := Debrief{
		Truth: truthWords(k.Lesson, kind), Runs: runs(k.Lesson), Decided: decidedWords(d, kind),
		Kind: d.Kind == truth.Kind, Where: sameWhere(d.Cylinders, truth), Run: d.Run == runs(k.Lesson),
	}
	switch {
	case d.Run && !out.Runs:
		for _, f := range k.Lesson.Faults {
			if !runsWith(f) {
				out.Risked = risk(f)
				break
			}
		}
	case !d.Run && out.Runs:
		out.Risked = say.Text("course.for-nothing")
	}
	out.Steps, out.Minutes = c.steps(k, shop, entries)
	out.Shortest, out.Least = c.shortest(k)
	return out
}

// mainFault is the fault that is asked about: the first that may not be run, else the first, else none.
func mainFault(l Lesson) bench.Fault {
	for _, f := range l.Faults {
		if !runsWith(f) {
			return f
		}
	}
	if len(l.Faults) > 0 {
		return l.Faults[0]
	}
	return bench.Fault{Kind: bench.Healthy}
}

// cylindersOf are those that a fault is in; of two neighbours both.
func cylindersOf(f bench.Fault) []int {
	if f.Cylinder == 0 {
		return nil
	}
	if f.Kind == bench.GasketBeside {
		return []int{min(f.Cylinder, f.Neighbour), max(f.Cylinder, f.Neighbour)}
	}
	return []int{f.Cylinder}
}

func sameWhere(said []int, f bench.Fault) bool {
	is := cylindersOf(f)
	said = slices.Sorted(slices.Values(said))
	return len(is) == 0 || slices.Equal(said, is)
}

func truthWords(l Lesson, kind string) string {
	if len(l.Faults) == 0 {
		return say.Text("practice.nothing-was-wrong-with")
	}
	var all []string
	for _, f := range l.Faults {
		all = append(all, faultWords(f, kind))
	}
	return strings.Join(all, " ")
}

func faultWords(f bench.Fault, kind string) string {
	where := ""
	switch at := cylindersOf(f); len(at) {
	case 1:
		where = say.Text("practice.cylinder", "at", at[0])
	case 2:
		where = say.Text("practice.between", "at", at[0], "at2", at[1])
	}
	words := wordsOf(kind, f.Kind)
	size := ""
	switch f.Kind {
	case bench.ThrottleShut:
		return say.Text("practice.nothing-was-wrong-with-throttle")
	case bench.BatteryFlat:
		return say.Text("practice.nothing-was-wrong-with-battery")
	case bench.GaugeOff:
		return say.Text("practice.nothing-was-wrong-with-gauge", "size", 100*f.Size)
	case bench.OffTDC:
		return say.Text("practice.nothing-was-wrong-with-was", "cylinder", f.Cylinder, "size", f.Size)
	case bench.CamTiming:
		size = say.Text("practice.late", "size", f.Size)
	case bench.BentRod:
		size = say.Text("practice.mm-short", "size", f.Size)
	case bench.CamLobe:
	case bench.SeatDirt:
		size = say.Text("practice.points-leak-gone-once-valve", "size", f.Size)
	default:
		size = say.Text("practice.points-leak", "size", f.Size)
	}
	if where == "" {
		words = say.Capital(words)
	}
	return where + words + size + "."
}

func decidedWords(d Decision, kind string) string {
	words := wordsOf(kind, d.Kind)
	switch len(d.Cylinders) {
	case 1:
		words = say.Text("practice.cylinder-2", "cylinders", d.Cylinders[0], "words", words)
	case 2:
		words = say.Text("practice.between-2",
			"cylinders", d.Cylinders[0],
			"cylinders2", d.Cylinders[1],
			"words", words,
		)
	}
	run := say.Text("practice.dont-run")
	if d.Run {
		run = say.Text("practice.run")
	}
	return say.Capital(words) + "; " + run + "."
}

// sure returns the chance that a verdict gives to what is true.
func sure(s judge.Session, truth bench.Fault) float64 {
	if truth.Kind == bench.Healthy || runsWith(truth) {
		// That nothing lasting is wrong with any cylinder: by what is believed of each.
		least := 1.0
		for _, c := range s.Cylinders {
			if c.Belief != nil {
				least = min(least, c.Belief.Sound)
			}
		}
		return least
	}
	chance := 0.0
	for _, c := range s.Causes {
		is := cylindersOf(truth)
		at := !slices.ContainsFunc(c.Cylinders, func(n int) bool { return !slices.Contains(is, n) })
		if c.Cause == truth.Kind && (len(is) == 0 || at) {
			chance += c.Probability
		}
	}
	return chance
}

// steps are the readings and the acts in the order of time, each reading judged with all that came before it.
func (c Course) steps(k Case, shop *book.Book, entries []book.Entry) (steps []Step, minutes float64) {
	// Heads of tests first: a device whose clock is behind has read before the test began.
	slices.SortStableFunc(entries, func(a, b book.Entry) int { return cmp.Or(heads(a)-heads(b), cmp.Compare(a.At, b.At)) })
	truth := mainFault(k.Lesson)
	acts := k.Acts
	before := 0.0
	for i, e := range entries {
		for len(acts) > 0 && acts[0].At < e.At {
			minutes += acts[0].Minutes
			steps = append(steps, Step{Minutes: minutes, Did: acts[0].Says, SurePct: 100 * before})
			acts = acts[1:]
		}
		did, takes, last := c.reading(e, entries[i+1:])
		minutes += takes
		if !last {
			continue
		}
		s, ok := said(k, shop, entries[:i+1])
		if !ok {
			continue
		}
		now := sure(s, truth)
		steps = append(steps, toldBy(minutes, did, s, now, before))
		before = now
	}
	for _, a := range acts {
		minutes += a.Minutes
		steps = append(steps, Step{Minutes: minutes, Did: a.Says, SurePct: 100 * before})
	}
	return steps, minutes
}

// toldBy is a reading with what was said of it; how it stands is said only when every cylinder has been read.
func toldBy(minutes float64, did string, s judge.Session, now, before float64) Step {
	state := s.State
	if s.Partial {
		state = ""
	}
	return Step{minutes, did, s.Sentence, state, 100 * now, 100 * (now - before), true}
}

// heads is 0 for what begins a thing, 1 for what happened.
func heads(e book.Entry) int {
	if e.Kind == book.Engine || e.Kind == book.Test || e.Kind == book.Tester {
		return 0
	}
	return 1
}

// reading says what an entry was, in words, and how long it took; last is false for one of several pulls, and for what is no reading.
func (c Course) reading(e book.Entry, later []book.Entry) (did string, minutes float64, last bool) {
	var b struct {
		Cylinder int     `json:"cylinder"`
		Mode     string  `json:"mode"`
		Value    float64 `json:"value"`
		Unit     string  `json:"unit"`
		Supply   float64 `json:"supply"`
		Held     float64 `json:"held"`
		Pct      float64 `json:"pct"`
	}
	if json.Unmarshal(e.Body, &b) != nil {
		return "", 0, false
	}
	switch e.Kind {
	case book.Pull:
		next := slices.IndexFunc(later, func(e book.Entry) bool { return e.Kind == book.Pull })
		if next >= 0 {
			n := struct {
				Cylinder int    `json:"cylinder"`
				Mode     string `json:"mode"`
			}{}
			if json.Unmarshal(later[next].Body, &n) == nil && n.Cylinder == b.Cylinder && n.Mode == b.Mode {
				return "", c.Minutes["pull"], false
			}
		}
		return say.Text("practice.cylinder-3",
			"cylinder", b.Cylinder,
			"mode", b.Mode,
			"value", b.Value,
			"unit", b.Unit,
		), c.Minutes["pull"], true
	case book.Leakdown:
		pct := b.Pct
		if b.Supply > 0 && b.Pct == 0 {
			pct = gas.LeakPct(units.Pressure(b.Supply), units.Pressure(b.Held))
		}
		return say.Text("practice.leak-down", "cylinder", b.Cylinder, "pct", pct), c.Minutes["leakdown"], true
	}
	return "", 0, false
}

// said is what Braxel says of the case's last test by some entries.
func said(k Case, shop *book.Book, entries []book.Entry) (judge.Session, bool) {
	l := book.Replay(k.ID, entries).Log(shop)
	all := judge.Log(l, rules.Shop{}).Sessions
	if len(all) == 0 {
		return judge.Session{}, false
	}
	return all[len(all)-1], true
}

// Took returns how long a case has taken.
func (c Course) Took(k Case, entries []book.Entry) float64 {
	minutes := 0.0
	for _, a := range k.Acts {
		minutes += a.Minutes
	}
	for _, e := range entries {
		switch e.Kind {
		case book.Pull, book.Leakdown:
			minutes += c.Minutes[e.Kind]
		}
	}
	return minutes
}
