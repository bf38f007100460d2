package judge

import (
	"math"
	"slices"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// sentencesMost is how many sentences a verdict has before what to do: what changed, why, and how it stands beside the rest.
const sentencesMost = 3

// speak puts into words what a visit comes to.
func speak(on *subject, out *Session, s log.Session, now map[int]figure, d change) {
	for i := range out.Cylinders {
		c := &out.Cylinders[i]
		c.Why = []string{}
		for _, f := range c.Facts {
			c.Why = append(c.Why, clause(on, f, on.those([]int{c.Cylinder}), false))
		}
	}
	for i := range out.Faults {
		f := &out.Faults[i]
		f.Sentence = say.Sentences(faultWords(on, *f, *out), why(*f), told(on.shop.Shown, f.Story, f.Causes))
	}
	if out.Repaired != nil {
		out.Repaired.Sentence = out.Repaired.cameTo(on, s)
	}
	out.Beside, out.Accounts, out.Remark = beside(on, *out, d), accountsOf(d.accounts), remark(on, *out, now)
	out.Headline = headline(on, *out, d)
	if out.Partial {
		out.Sentence = say.Text("judge.being-tested", "read", len(out.Cylinders), "all", len(on.order))
		out.Decision = say.Text("judge.finish-the-test-first")
		return
	}
	said, rest := sentences(on, *out, d)
	if len(out.Unread) > 0 && out.State == Steady { // what was read says nothing of the rest
		read, all, noun := len(out.Cylinders), len(on.order), on.engine.Nouns(len(on.order))
		part := say.Text("judge.part-read", "read", read, "all", all, "noun", noun)
		out.Sentence, out.Caveats = say.Sentences(part, said[0]), append(out.Caveats, append(said[1:], rest...)...)
		out.Headline = say.Text("judge.head-part-read", "read", read, "all", all, "noun", noun)
		out.Decision = say.Text("judge.read-the-rest", "who", lower(on.those(out.Unread)))
		return
	}
	out.Sentence, out.Caveats = say.Sentences(said...), append(out.Caveats, rest...)
	out.Decision = decision(on, *out, s, d)
}

// sentences says what a visit tells, the worst first; what there is no room for is returned beside it.
func sentences(on *subject, s Session, d change) (said, rest []string) {
	var all []string
	alike := allAlike(s, d)
	_, bank := named(s.Facts, BankApart)
	tell := func(what ...What) {
		for _, w := range what {
			if f, ok := named(s.Facts, w); ok {
				all = append(all, ofVisit(on, f, len(s.Faults) > 0, bank))
			}
		}
	}
	came := ""
	if s.Repaired != nil {
		came = s.Repaired.Sentence
	}
	if s.Repaired != nil && s.Repaired.Worked != NotAtAll {
		all, came = append(all, came), ""
	}
	switch {
	case alike:
		switch last := s.Cylinders[0].Facts[len(s.Cylinders[0].Facts)-1]; last.What {
		case FellWithAll, LeaksWithAll: // told of the visit
		default:
			all = append(all, clause(on, last, say.Text("judge.every", "noun", on.engine.Nouns(1)), false)+".")
		}
	case len(s.Faults) > 0:
		f := s.Faults[0]
		all = append(all, faultWords(on, f, s), came, why(f), told(on.shop.Shown, f.Story, f.Causes))
		if more := s.Faults[1:]; len(more) > 0 {
			all = append(all, also(on, more))
		}
	}
	tell(Into, FirstTest, FirstFound, FirstKnown, LeaksWithAll, TakenOff, Sank, Stepped, BankApart, AllMoved, AllAsTested, AllLow)
	if alike || len(s.Faults) == 0 {
		all = append(all, suspect(s.Causes), told(on.shop.Shown, s.Story, s.Causes))
	}
	tell(NoBaseline, Stands, OthersStood, NothingNew, PullLeftOut, FirstLeaks, FirstPulls, NotCranked, NotLeaked, NotListened)
	all = slices.DeleteFunc(all, func(words string) bool { return words == "" })
	room := min(len(all), sentencesMost)
	return all[:room], all[room:]
}

// also says that there is more than one fault.
func also(on *subject, more []Fault) string {
	if len(more) > 1 || more[0].State == Retest {
		var who []int
		for _, f := range more {
			who = append(who, f.Cylinders...)
		}
		return say.Text("judge.also-these", "n", len(who), "who", on.those(who))
	}
	f := more[0]
	top := f.Causes[0]
	return say.Text("judge.also-"+Sureness(top.Probability), "n", len(f.Cylinders), "who", on.those(f.Cylinders), "cause", top.Phrase())
}

// why names the likeliest cause of a fault; a reading that is only to be repeated has none yet.
func why(f Fault) string {
	if f.State == Retest {
		return ""
	}
	return suspect(f.Causes)
}

// faultWords says what moved in a cylinder or two.
func faultWords(on *subject, f Fault, all Session) string {
	if len(f.Cylinders) == 2 {
		if words := pairWords(on, f.Cylinders, all); words != "" {
			return words
		}
	}
	var each []string
	for _, c := range f.Cylinders {
		if words := clauses(on, all.Of(c).Facts, on.those([]int{c})); words != "" {
			each = append(each, words)
		}
	}
	return strings.Join(each, "; ") + "."
}

// pairWords says in one breath what two neighbours did alike; "" where they did not.
func pairWords(on *subject, pair []int, all Session) string {
	a, b := all.Of(pair[0]).Facts, all.Of(pair[1]).Facts
	downA, fellA := named(a, Down)
	downB, fellB := named(b, Down)
	if !fellA || !fellB || downA.Against != downB.Against {
		return ""
	}
	id := "judge.pair-down-" + string(downA.Against)
	if math.Round(downA.Value) == math.Round(downB.Value) {
		id = "judge.pair-alike-" + string(downA.Against)
	}
	words := say.Text(id, "who", on.those(pair), "first", downA.Value, "second", downB.Value)
	upA, roseA := named(a, LeakUp)
	upB, roseB := named(b, LeakUp)
	switch {
	case roseA && roseB && upA.Into == pair[1] && upB.Into == pair[0]:
		words += say.Text("judge.pair-into-each-other")
	case roseA && roseB:
		words += say.Text("judge.pair-leaks", "first", upA.Value, "second", upB.Value)
	case roseA || roseB:
		return ""
	}
	return words + "."
}

// suspect names the most likely cause, as surely as it is.
func suspect(causes []Cause) string {
	if len(causes) == 0 || causes[0].Class() == rules.Nothing {
		return ""
	}
	top, sure := causes[0], Sureness(causes[0].Probability)
	if sure != unclearCause {
		return say.Text("judge.cause-"+sure, "cause", top.Phrase())
	}
	if len(causes) > 1 {
		return say.Text("judge.cause-"+sure, "cause", top.Phrase(), "other", causes[1].Phrase())
	}
	return ""
}

// inPercent is a chance as it is said: neither nothing nor all.
func inPercent(chance float64) float64 { return min(max(100*chance, 1), 99) }

// told says what of what happened to the engine the verdict used; "" where it used nothing.
func told(shown units.Choice, s *Story, causes []Cause) string {
	if s == nil {
		return ""
	}
	id := "judge.story"
	if Sureness(s.To) != unclearCause { // it was named just before
		id = "judge.story-that"
	}
	return say.Text(id, "it", s.Words, "day", shown.Day(s.Date), "cause", causes[0].Phrase(), "from", inPercent(s.From), "to", inPercent(s.To))
}
