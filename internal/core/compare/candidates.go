package compare

import (
	"cmp"
	"slices"

	"braxel/internal/core/inspect"
	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// Candidate is one engine among several, as its last test shows it.
type Candidate struct {
	Engine    string      `json:"engine"`
	Name      string      `json:"name"`
	Place     int         `json:"place" doc:"1 is the best by what is known; 0 if nothing is known"`
	State     judge.State `json:"state" enum:"steady,retest,watch,act,stop"`
	Sentence  string      `json:"sentence"`
	SpreadPct *float64    `json:"spread_pct,omitempty" doc:"How far the lowest is below the highest, in percent of the highest"`
	LeakPct   *float64    `json:"leak_pct,omitempty" doc:"The worst leak, as the reference tester would show it"`
	Faulty    float64     `json:"faulty" doc:"How many cylinders are likely at fault"`
	Lacks     []string    `json:"lacks" doc:"What is still needed to judge it"`
	Inspected string      `json:"inspected,omitzero" doc:"The advice of its last inspection"`
	advice    string
}

// One is an engine with what was judged of it.
type One struct {
	Log     log.Log
	Verdict judge.Verdict
}

// Rank orders engines as a buyer would: by what they were judged, then by how many cylinders are likely at fault, then by how even
// they are. One that was never tested has no place.
func Rank(all []One, shop rules.Shop) []Candidate {
	out := []Candidate{}
	for _, one := range all {
		out = append(out, candidate(one, shop))
	}
	slices.SortStableFunc(out, func(a, b Candidate) int {
		return cmp.Or(
			cmp.Compare(untested(a), untested(b)),
			cmp.Compare(a.State.Severity(), b.State.Severity()),
			cmp.Compare(advised[a.advice], advised[b.advice]),
			cmp.Compare(a.Faulty, b.Faulty),
			cmp.Compare(value(a.SpreadPct), value(b.SpreadPct)),
		)
	})
	for i := range out {
		if untested(out[i]) == 0 {
			out[i].Place = i + 1
		}
	}
	return out
}

// advised orders engines of one state by what was found on them beside the test.
var advised = map[string]int{"leave": 1}

func untested(c Candidate) int {
	if c.SpreadPct == nil && c.LeakPct == nil {
		return 1
	}
	return 0
}

func value(v *float64) float64 {
	if v == nil {
		return 0
	}
	return *v
}

func candidate(one One, shop rules.Shop) Candidate {
	l := one.Log
	c := Candidate{
		Engine:   l.Engine.ID,
		Name:     l.Engine.Name,
		State:    judge.Steady,
		Sentence: say.Text("compare.not-tested-yet"),
		Lacks:    []string{},
	}
	last, ok := one.Verdict.Latest()
	i := l.At(last.ID)
	if !ok || i < 0 {
		c.Lacks = append(c.Lacks, say.Text("compare.any-test"))
		return c
	}
	c.State, c.Sentence = last.State, last.Sentence
	for _, cylinder := range last.Cylinders {
		if b := cylinder.Belief; b != nil {
			c.Faulty += b.Leaking + b.Short
		}
	}
	if _, r, ok := inspect.Latest(l, one.Verdict, shop.Shown); ok {
		c.Inspected, c.advice = r.Heading, r.Advice
	}
	s := l.Sessions[i]
	figures := judge.Figures(l, s, shop)
	if read := last.Pressures(); len(read) > 0 {
		spread := reading.Even(read).SpreadPctOfHighest
		c.SpreadPct = &spread
	}
	for _, f := range figures {
		if f.LeakSE > 0 && (c.LeakPct == nil || f.Leak > *c.LeakPct) {
			c.LeakPct = &f.Leak
		}
	}
	c.Lacks = append(c.Lacks, lacks(l, s, figures)...)
	return c
}

// lacks says what a test leaves open that another buyer's would not.
func lacks(l log.Log, s log.Session, figures []judge.Figure) []string {
	var all []string
	need := func(missing bool, words string) {
		if missing {
			all = append(all, words)
		}
	}
	cylinders := len(l.Engine.Cylinders())
	cranked, leaked, listened, agreed := 0, 0, 0, 0
	for _, f := range figures {
		if f.SE > 0 {
			cranked++
		}
		if f.Pulls > 1 {
			agreed++
		}
		if f.LeakSE > 0 {
			leaked++
		}
		if f.Paths != nil {
			listened++
		}
	}
	hot := slices.ContainsFunc(l.Sessions, func(s log.Session) bool { return s.Conditions.EngineTemp == "hot" })
	need(!hot, say.Text("compare.hot-test-cold-engine-reads"))
	need(cranked < cylinders, say.Text("compare.compression", "cylinders", cylinders-cranked, "cylinders2", cylinders))
	need(cranked > 0 && agreed < cranked, say.Text("compare.second-reading", "cranked", cranked-agreed))
	need(leaked < cylinders, say.Text("compare.leak-down", "ofAll", ofAll(cylinders-leaked, cylinders)))
	need(leaked > 0 && listened < leaked, say.Text("compare.where-air-goes", "leaked", leaked-listened))
	need(l.Engine.Limits == nil || l.Engine.Limits.Minimum == nil, say.Text("compare.makers-minimum-without-only-evenness"))
	need(s.Conditions.Throttle != "open" && l.Engine.Fuel != "diesel", say.Text("compare.note-throttle-was-open"))
	return all
}

func ofAll(n, all int) string {
	if n == all {
		return say.Text("compare.any-cylinder")
	}
	return say.Text("compare.of", "n", n, "all", all)
}

// Best says in a sentence which of several engines is the best by what is known, and how surely.
func Best(all []Candidate) string {
	var judged []Candidate
	for _, c := range all {
		if c.Place > 0 {
			judged = append(judged, c)
		}
	}
	switch {
	case len(judged) == 0:
		return say.Text("compare.none-them-has-been-tested")
	case len(judged) == 1:
		return say.Text("compare.only-has-been-tested-so", "name", judged[0].Name)
	}
	best, next := judged[0], judged[1]
	words := say.Text("compare.looks-best-so-far", "name", best.Name)
	if best.State.Severity() >= judge.Act.Severity() {
		words = say.Text("compare.none-good-as-least-bad", "name", best.Name)
	}
	if best.State == next.State && next.Faulty-best.Faulty < rules.Nearly {
		words = say.Text("compare.cant-told-apart-yet", "name", best.Name, "name2", next.Name)
	}
	if len(best.Lacks) > 0 {
		words += say.Text("compare.surer-you-need", "name", best.Name, "lacks", best.Lacks[0])
	}
	return words
}
