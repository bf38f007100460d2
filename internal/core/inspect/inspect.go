// Package inspect is the buyer's half hour: the list of what is looked at on a used engine, answered, and the one page that results.
package inspect

import (
	"math"
	"slices"
	"strings"

	"braxel/internal/core/gas"
	"braxel/internal/core/judge"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Report is an inspection as it stands.
type Report struct {
	Lines   []Line   `json:"lines" doc:"In the order of the work"`
	Done    int      `json:"done"`
	Open    int      `json:"open" doc:"How many lines are still unanswered"`
	Next    string   `json:"next,omitzero" doc:"The first unanswered line"`
	Advice  string   `json:"advice" enum:"buy,cheaper,leave,open"`
	Heading string   `json:"heading" doc:"The advice in words"`
	Because []Red    `json:"because" doc:"What speaks against the engine, worst first"`
	Fine    []string `json:"fine" doc:"What is as it should be"`
	Work    []string `json:"work" doc:"The work it needs"`
	Ask     []string `json:"ask" doc:"What to ask the seller"`
	Unknown []string `json:"unknown" doc:"What could not be checked"`
	Window  string   `json:"window,omitzero" doc:"What its cranking pressure says about compression ratio and fuel"`
}

// Red is a red flag.
type Red struct {
	Item   string `json:"item"`
	Weight int    `json:"weight" minimum:"1" maximum:"4"`
	Says   string `json:"says"`
	Note   string `json:"note,omitzero"`
}

// Line is one item with its answer.
type Line struct {
	Item      string   `json:"item"`
	Section   string   `json:"section"`
	Words     string   `json:"words"`
	Caution   string   `json:"caution,omitzero"`
	Answers   []string `json:"answers" doc:"Answers to choose from; empty for a figure or a step of the run sheet"`
	Unit      string   `json:"unit,omitzero"`
	Step      string   `json:"step,omitzero" doc:"The step of the run sheet that answers it"`
	Answer    string   `json:"answer,omitzero"`
	Key       string   `json:"key,omitzero" doc:"The entry that answered it"`
	Unchecked bool     `json:"unchecked,omitzero" doc:"It could not be checked"`
	Weight    int      `json:"weight,omitzero"`
	Note      string   `json:"note,omitzero" doc:"What the finding means"`
}

// Answered reports whether somebody came to it, also to say that it could not be checked.
func (l Line) Answered() bool { return l.Answer != "" || l.Unchecked }

// Inspected reports whether a test has any line of an inspection.
func Inspected(s log.Session) bool {
	return slices.ContainsFunc(s.Observations, func(o log.Observation) bool { return o.Inspected() && o.Struck == "" })
}

// Latest returns the last session of a log that has an inspection, by its index, and what it came to; false where none has.
func Latest(l log.Log, verdict judge.Verdict, shown units.Choice) (int, Report, bool) {
	for i := len(l.Sessions) - 1; i >= 0; i-- {
		if Inspected(l.Sessions[i]) {
			return i, Of(l, l.Sessions[i], verdict.Sessions[i], false, shown), true
		}
	}
	return -1, Report{}, false
}

// Pair is what was said of an engine before it was opened, and what was found when it was.
type Pair struct {
	Date  string `json:"date"`
	Said  string `json:"said" doc:"The likeliest cause, from the last test that named one"`
	Found string `json:"found"`
	Note  string `json:"note,omitzero"`
	Right bool   `json:"right,omitzero"`
}

// Pairs returns what was found on an engine beside what had been said of it, in order.
func Pairs(l log.Log, verdict judge.Verdict) []Pair {
	all := []Pair{}
	said, table := judge.Cause{}, rules.Causes()
	for i, s := range l.Sessions {
		if causes := verdict.Sessions[i].Causes; len(causes) > 0 && !onlyFound(s) {
			said = causes[0]
		}
		for _, o := range s.Observations {
			if o.Item != log.Found || o.Struck != "" {
				continue
			}
			p := Pair{Date: s.Date, Said: said.Words, Found: o.Finding, Note: o.Note, Right: said.Cause != "" && said.Cause == table.Found(o.Finding)}
			if p.Said == "" {
				p.Said = say.Text("inspect.nothing-yet")
			}
			all = append(all, p)
		}
	}
	return all
}

// Found returns what was found on an engine when it was opened, of what the table of causes knows.
func Found(l log.Log) []rules.Opened {
	var all []rules.Opened
	for _, s := range l.Sessions {
		for _, o := range s.Observations {
			if cause := rules.Causes().Found(o.Finding); o.Item == log.Found && o.Struck == "" && cause != "" {
				all = append(all, rules.Opened{Engine: l.Engine, Cause: cause})
			}
		}
	}
	return all
}

// onlyFound reports whether a session has no reading: then what was said before stands.
func onlyFound(s log.Session) bool { return len(s.Compression)+len(s.Leakdown) == 0 }

// Of returns the inspection of a session, judged as given. after is the list after a failure.
func Of(l log.Log, s log.Session, verdict judge.Session, after bool, shown units.Choice) Report {
	t := rules.Inspected()
	r := reporting{log: l, session: s, verdict: verdict, shown: shown, answers: map[string]log.Observation{}}
	for _, o := range s.Observations {
		if o.Inspected() && o.Struck == "" {
			r.answers[o.Item] = o // the last one stands
		}
	}
	for _, it := range t.For(l.Engine.Kind, after) {
		r.line(it)
	}
	r.claims()
	r.out.Window = r.window()
	r.conclude()
	return r.out
}

type reporting struct {
	log     log.Log
	session log.Session
	verdict judge.Session
	shown   units.Choice
	answers map[string]log.Observation
	out     Report
	needed  []string // lines without which nobody buys, that are not known
}

// flag takes a red flag in.
func (r *reporting) flag(item string, f rules.Flag, says string) {
	r.out.Because = append(r.out.Because, Red{Item: item, Weight: f.Weight, Says: says, Note: f.Note})
	if f.Work != "" && !slices.Contains(r.out.Work, f.Work) {
		r.out.Work = append(r.out.Work, f.Work)
	}
	if f.Ask != "" {
		r.out.Ask = append(r.out.Ask, f.Ask)
	}
}

// line answers one item.
func (r *reporting) line(it rules.Item) {
	line := Line{Item: it.Item, Section: it.Section, Words: it.Words, Caution: it.Caution, Unit: it.Unit, Step: it.Step, Answers: []string{}}
	for _, a := range it.Answers {
		line.Answers = append(line.Answers, a.Answer)
	}
	o, answered := r.answers[it.Item]
	line.Key = o.Key
	switch {
	case it.Step != "" && r.tested(it.Step):
		line.Answer = "done"
		if it.Step == "dry" {
			r.judged()
		}
	case answered && o.Finding == "" && o.Value == nil:
		line.Unchecked = true
		r.out.Unknown = append(r.out.Unknown, lower(it.Words))
	case answered && o.Value != nil:
		line.Answer = r.shown.Say(*o.Value, it.Unit)
		if f := it.Of(*o.Value); f.Weight > 0 {
			line.Weight, line.Note = f.Weight, f.Note
			r.flag(it.Item, f, say.Text(f.ID+"-says", "value", line.Answer))
		} else if len(it.Bands) > 0 {
			r.out.Fine = append(r.out.Fine, lower(it.Words)+": "+line.Answer)
		}
	case answered:
		line.Answer = o.Finding
		i := slices.IndexFunc(it.Answers, func(a rules.Answer) bool { return a.Answer == o.Finding })
		if i >= 0 && it.Answers[i].Weight > 0 {
			line.Weight, line.Note = it.Answers[i].Weight, it.Answers[i].Note
			r.flag(it.Item, it.Answers[i].Flag, it.Answers[i].Says)
		} else if i >= 0 {
			r.out.Fine = append(r.out.Fine, lower(it.Words)+": "+o.Finding)
		}
	}
	if line.Answered() {
		r.out.Done++
	} else {
		r.out.Open++
		if r.out.Next == "" {
			r.out.Next = it.Item
		}
	}
	if it.Needed && line.Answer == "" {
		r.needed = append(r.needed, say.Text("inspect.dry-compression"))
	}
	r.out.Lines = append(r.out.Lines, line)
}

// lower begins a line of the list in the middle of a sentence.
func lower(words string) string {
	first, rest, _ := strings.Cut(words, " ")
	if strings.ToUpper(first) == first {
		return words // TDC
	}
	return strings.TrimSpace(strings.ToLower(first[:1]) + first[1:] + " " + rest)
}

// tested reports whether a step of the run sheet has readings.
func (r *reporting) tested(step string) bool {
	if step == "leak-down" {
		return len(r.session.Leakdown) > 0
	}
	return slices.ContainsFunc(r.session.Compression, func(c log.Compression) bool {
		return c.Mode == step && slices.ContainsFunc(c.Pulls, log.Pull.Counts)
	})
}

// judged takes in what the test says.
func (r *reporting) judged() {
	weight := map[judge.State]int{judge.Watch: 2, judge.Retest: 1, judge.Act: 3, judge.Stop: 4}[r.verdict.State]
	if weight == 0 {
		r.out.Fine = append(r.out.Fine, say.Text("inspect.compression", "sentence", r.verdict.Sentence))
		return
	}
	work := ""
	for _, f := range r.verdict.Faults {
		if r.verdict.State != judge.Retest && len(f.Causes) > 0 && f.Causes[0].Mend() != "" {
			work = f.Causes[0].Mend()
			break
		}
	}
	f := rules.Flag{Weight: weight, Work: work, Note: r.verdict.Decision}
	if r.verdict.State == judge.Retest && r.session.Conditions.Cold() {
		f.Ask = say.Text("inspect.may-run-warm-tested-again")
	}
	r.flag("dry", f, say.Text("inspect.test-says", "headline", r.verdict.Headline))
}

// claims holds what is claimed against what was found.
func (r *reporting) claims() {
	stroke, cc := r.value("stroke"), r.value("claimed-cc")
	e := r.log.Engine
	if stroke > 0 && e.StrokeMM > 0 && math.Abs(stroke-e.StrokeMM) > rules.ClaimStroke*e.StrokeMM {
		f := rules.Flag{
			Weight: 3,
			Ask:    say.Text("inspect.which-crank-where-bill"),
			Note:   say.Text("inspect.two-per-cent-more-than"),
		}
		r.flag("stroke", f, say.Text("inspect.stroke-measures-mm-mm-claimed",
			"figure", r.shown.Noted(units.Length, stroke),
			"figure2", r.shown.Noted(units.Length, e.StrokeMM),
		))
	}
	if n := len(e.Cylinders()); stroke > 0 && cc > 0 && e.BoreMM > 0 {
		found := layout.Displacement(e.BoreMM, stroke, n)
		makes := r.shown.Written(units.Volume, math.Round(found))
		if off := 100 * (found/cc - 1); math.Abs(off) > rules.ClaimCC {
			f := rules.Flag{
				Weight: 3, Ask: say.Text("inspect.what-really-what-was-sold"),
				Note: say.Text("inspect.bore-stroke-make-displacement-rebore"),
			}
			r.flag("claimed-cc", f, say.Text("inspect.bore-stroke-make-cm-claimed",
				"found", makes,
				"figure", r.shown.Noted(units.Volume, cc),
			))
		} else {
			r.out.Fine = append(r.out.Fine, say.Text("inspect.displacement-bore-stroke-make-cm", "found", makes))
		}
	}
	worn := r.tested("dry") && r.verdict.State.Severity() >= judge.Watch.Severity()
	if said := r.answers["claimed-meter"].Value; said != nil && *said < rules.LowMileage && worn {
		f := rules.Flag{
			Weight: 1, Ask: say.Text("inspect.what-shows-has-run-no"),
			Note: say.Text("inspect.good-engines-even-at-mileage"),
		}
		r.flag("claimed-meter", f, say.Text("inspect.reads-like-more-than-km", "figure", r.shown.Noted(units.Distance, *said)))
	}
}

// value returns the figure of a line, 0 where there is none.
func (r *reporting) value(item string) float64 {
	if v := r.answers[item].Value; v != nil {
		return *v
	}
	return 0
}

// window says which ratio the cranking pressure goes with, and the fuel that it will want: the highest reading, since a cylinder
// that leaks says less than its ratio.
func (r *reporting) window() string {
	e := r.log.Engine
	if e.BoreMM == 0 || e.StrokeMM == 0 || e.Kind != log.FourStroke || e.Fuel == "diesel" {
		return ""
	}
	high := 0.0
	for _, c := range r.verdict.Cylinders {
		if c.Compression != nil {
			high = max(high, *c.Compression)
		}
	}
	if high == 0 {
		return ""
	}
	c, guessed := gas.Likely(e)
	said := ""
	if guessed {
		said = say.Text("inspect.intake-closing-assumed-after-bdc", "intakeCloses", c.IntakeCloses)
	}
	ambient := gas.AmbientOf(e, r.session.Conditions)
	low, err := c.RatioFor(units.Pressure(high), ambient, gas.ExponentHigh, 0)
	top, err2 := c.RatioFor(units.Pressure(high), ambient, gas.ExponentLow, 0)
	if err != nil || err2 != nil {
		return ""
	}
	fuel := say.Text("inspect.ordinary-fuel")
	switch middle := (low + top) / 2; {
	case middle > rules.RaceFuelRatio:
		fuel = say.Text("inspect.race-fuel-or-alcohol")
	case middle > rules.BestFuelRatio:
		fuel = say.Text("inspect.best-pump-fuel")
	}
	if r.session.Conditions.Cold() {
		said += say.Text("inspect.or-little-more-since-was")
	}
	return say.Text("inspect.cranking-pressure-suggests-ratio-will",
		"low", low,
		"top", top,
		"said", said,
		"fuel", fuel,
	)
}

// conclude weighs the flags.
func (r *reporting) conclude() {
	o := &r.out
	slices.SortStableFunc(o.Because, func(a, b Red) int { return b.Weight - a.Weight })
	sum, worst := 0, 0
	for _, f := range o.Because {
		sum += f.Weight
		worst = max(worst, f.Weight)
	}
	first := ""
	if len(o.Because) > 0 {
		first = o.Because[0].Says
	}
	switch {
	case worst >= 4 || sum >= rules.LeaveFrom:
		o.Advice, o.Heading = "leave", say.Text("inspect.leave", "first", first)
	case o.Done == 0:
		o.Advice, o.Heading = "open", say.Text("inspect.nothing-has-been-looked-at")
	case len(r.needed) > 0 && o.Open > 0:
		o.Advice, o.Heading = "open", say.Text("inspect.no-verdict-yet-still-missing", "needed", r.needed[0])
	case len(r.needed) > 0:
		o.Advice, o.Heading = "cheaper", say.Text("inspect.buy-only-as-unknown-couldnt", "needed", r.needed[0])
	case sum >= rules.CheaperFrom:
		o.Advice, o.Heading = "cheaper", say.Text("inspect.buy-cheaper", "first", first)
	default:
		o.Advice, o.Heading = "buy", say.Text("inspect.buy-nothing-found-speaks-against")
	}
	if o.Advice == "buy" && len(o.Unknown) > 0 {
		o.Heading = say.Text("inspect.buy-bearing-mind-what-still")
	}
	o.Because, o.Fine, o.Work = whole(o.Because), whole(o.Fine), whole(o.Work)
	o.Ask, o.Unknown = whole(append(o.Ask, say.Text("inspect.why-for-sale-may-i"))), whole(o.Unknown)
}

// whole returns a list that is written as one even when it is empty.
func whole[T any](all []T) []T { return append([]T{}, all...) }

// CheckAnswer names what is wrong with an answer on an engine: no such line, no such answer, a figure that no engine has.
func CheckAnswer(e log.Engine, o log.Observation) log.Faults {
	it, ok := rules.Inspected().Named(o.Item)
	switch {
	case !ok:
		return log.Faults{log.At("/item", "inspect.list-has-no-line", "item", o.Item)}
	case it.Step != "" && (o.Finding != "" || o.Value != nil):
		return log.Faults{log.At("/item", "inspect.enter-run-sheet")}
	case o.Finding != "" && !slices.ContainsFunc(it.Answers, func(a rules.Answer) bool { return a.Answer == o.Finding }):
		return log.Faults{log.At("/finding", "inspect.not-one-answers", "finding", o.Finding)}
	case o.Value != nil && it.Unit == "":
		return log.Faults{log.At("/value", "inspect.pick-one-answers-not-number")}
	case o.Value != nil && (*o.Value < it.Least || *o.Value > it.Most):
		return log.Faults{log.At("/value", "inspect.must-between-not-measure-again",
			"figure", say.Number(*o.Value),
			"unit", it.Unit,
			"figure2", say.Number(it.Least),
			"figure3", say.Number(it.Most))}
	case o.Value != nil && o.Item == "stroke" && e.BoreMM > 0 && (*o.Value > rules.StrokeMost*e.BoreMM || *o.Value < rules.StrokeLeast*e.BoreMM):
		return log.Faults{log.At("/value", "inspect.stroke-mm-bore-mm-not",
			"figure", say.Number(*o.Value),
			"figure2", say.Number(e.BoreMM))}
	}
	return nil
}
