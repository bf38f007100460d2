package judge

import (
	"cmp"
	"slices"
	"strings"

	"braxel/internal/core/belief"
	"braxel/internal/core/cause"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// accountWords are the kinds of account, as they stand in a list.
var accountWords = map[belief.Kind]string{
	belief.Alike: say.Text("judge.all-moved-alike-or-not"), belief.Sag: say.Text("judge.a-battery-that-sank-from"),
	belief.Step: say.Text("judge.throttle-or-charger-changed-on"),
	belief.Bank: say.Text("judge.one-bank-against-the-other"),
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

// sentence says what a session tells: each fault, what may be the testing, what did not move, what was not compared.
func sentence(on *subject, s Session, d change) string {
	var parts []string
	tell := func(what ...What) {
		for _, w := range what {
			if f, ok := named(s.Facts, w); ok {
				parts = append(parts, words(on, f))
			}
		}
	}
	tell(Into)
	alike := allAlike(s, d)
	switch {
	case alike:
		if last := s.Cylinders[0].Facts[len(s.Cylinders[0].Facts)-1]; last.What != FellWithAll {
			parts = append(parts, say.Text("judge.every", "noun", strings.ToLower(on.engine.Noun()), "words", words(on, last)))
		}
	default:
		const most = 3 // a sheet of many faults is read in the list
		for i, f := range s.Faults {
			if i == most && len(s.Faults) > most+1 {
				parts = append(parts, say.Text("judge.so-do-more", "n", len(s.Faults)-most))
				break
			}
			parts = append(parts, f.Sentence)
		}
	}
	tell(FirstTest, FirstFound, FirstKnown, NoBaseline, PullLeftOut, Sank, Stepped, BankApart, AllMoved, AllAsTested, AllLow)
	if alike || len(s.Faults) == 0 {
		parts = append(parts, suspect(s.Causes))
	}
	tell(Stands, OthersStood, NothingNew, FirstLeaks, FirstPulls, NotCranked, NotLeaked, NotListened)
	return strings.Join(strings.Fields(strings.Join(parts, " ")), " ")
}

// faultWords says what is wrong with a cylinder or two: what moved, and why, as surely as it is.
func faultWords(on *subject, f Fault, all Session) string {
	var each []string
	for i, c := range f.Cylinders {
		name := on.called(c)
		if i == 0 {
			name = on.engine.Noun() + " " + name
		}
		var said []string
		facts := all.Of(c).Facts
		_, risen := named(facts, LeakUp)
		_, fallen := named(facts, Down)
		for _, fact := range facts {
			if (fact.What == LeaksMuch && risen) || (fact.What == ApartTooFar && fallen) {
				continue // said already, by how far it moved
			}
			said = append(said, words(on, fact))
		}
		if len(said) == 0 {
			continue
		}
		each = append(each, name+" "+log.And(said))
	}
	out := strings.Join(each, "; ") + "."
	if f.State == Retest {
		return out
	}
	return out + " " + suspect(f.Causes)
}

// suspect names the most likely cause, as surely as it is.
func suspect(causes []cause.Weighed) string {
	if len(causes) == 0 || causes[0].Class() == rules.Nothing {
		return ""
	}
	top := causes[0]
	name := top.Phrase()
	switch {
	case top.Probability >= rules.MostLikely:
		return say.Text("judge.most-likely", "name", name)
	case top.Probability >= rules.Perhaps:
		return say.Text("judge.perhaps", "name", name)
	case len(causes) > 1:
		return say.Text("judge.not-settled-or", "name", name, "phrase", causes[1].Phrase())
	}
	return ""
}

// decision says whether to run it for what it is used for, and what to do first.
func decision(on *subject, out Session, s log.Session, d change) string {
	top := out.Causes[0]
	mend := top.Mend()
	if mend == "" || top.Probability < rules.MendFrom {
		mend = say.Text("judge.the-cause-is-found")
	}
	cold := s.Conditions.Cold()
	first := ""
	if out.Next != nil && out.State != Steady {
		first = say.Text("judge.first", "words", lower(out.Next.Words))
	}
	doubt := out.Next != nil && (out.Next.Test == "repeat-leakdown" || out.Next.Test == "pull-again")
	switch out.State {
	case Stop:
		return say.Text("judge.do-not-run-it-nor", "first", first)
	case Act:
		return actDecision(on, mend, first, d.first, cold, doubt)
	case Watch:
		return watchDecision(on, top, mend, first, d.first, cold, doubt)
	case Retest:
		if slices.ContainsFunc(out.Faults, func(f Fault) bool { _, cold := named(out.Of(f.Cylinders[0]).Facts, ColdUneven); return cold }) {
			return say.Text("judge.it-cannot-be-told-cold")
		}
		return say.Text("judge.repeat-the-doubted-reading-first", "first", first)
	}
	return steadyDecision(out, s)
}

// steadyDecision says what is left to do where nothing is wrong.
func steadyDecision(out Session, s log.Session) string {
	_, low := named(out.Facts, AllLow)
	_, sank := named(out.Facts, Sank)
	_, stepped := named(out.Facts, Stepped)
	top := out.Causes[0]
	switch {
	case sank || stepped:
		return say.Text("judge.run-it-charge-the-battery")
	case top.Cause == "tester":
		return say.Text("judge.run-it-check-the-gauge")
	case low:
		return say.Text("judge.nothing-stands-out-but-all")
	case top.Cause == "conditions":
		return say.Text("judge.run-it-test-again-the")
	case s.Stage == "pre-install":
		return say.Text("judge.run-it-in-and-test")
	}
	return say.Text("judge.run-it")
}

// lower writes a step as it stands in a sentence.
func lower(words string) string { return strings.ToLower(words[:1]) + words[1:] }

// say puts into words what a visit comes to.
func speak(on *subject, out *Session, s log.Session, now map[int]figure, d change) {
	for i := range out.Cylinders {
		c := &out.Cylinders[i]
		c.Why = []string{}
		for _, f := range c.Facts {
			c.Why = append(c.Why, words(on, f))
		}
	}
	for i := range out.Faults {
		out.Faults[i].Sentence = faultWords(on, out.Faults[i], *out)
	}
	out.Beside, out.Accounts, out.Remark = beside(on, *out, d), accountsOf(d.accounts), remark(on, *out, now)
	if out.Partial {
		out.Sentence = say.Text("judge.being-tested-of-read", "n", len(out.Cylinders), "n2", len(on.order))
		out.Decision = say.Text("judge.finish-the-test-first")
		return
	}
	out.Sentence, out.Decision = sentence(on, *out, d), decision(on, *out, s, d)
}

// actDecision says what comes before an engine is run of which something has to be mended. Unknown is one that has no baseline yet.
func actDecision(on *subject, mend, first string, unknown, cold, doubt bool) string {
	switch {
	case unknown && cold:
		return say.Text("judge.do-not-condemn-it-cold")
	case unknown:
		return say.Text("judge.find-the-cause-before-it", "first", first)
	case doubt && on.racing:
		return say.Text("judge.do-not-race-it-on", "first", first)
	case doubt:
		return say.Text("judge.do-not-load-it-on", "first", first)
	case on.racing:
		return say.Text("judge.do-not-run-it-again", "mend", mend, "first", first)
	}
	return say.Text("judge.do-not-load-it-before", "mend", mend, "first", first)
}

// watchDecision says how an engine is run that is watched.
func watchDecision(on *subject, top Cause, mend, first string, unknown, cold, doubt bool) string {
	switch {
	case top.NotRun():
		return say.Text("judge.do-not-run-it-before", "mend", mend, "first", first)
	case doubt && on.racing:
		return say.Text("judge.do-not-race-it-on", "first", first)
	case doubt:
		return say.Text("judge.keep-it-from-hard-work", "first", first)
	case unknown && cold:
		return say.Text("judge.do-not-condemn-it-cold-2")
	case unknown:
		return say.Text("judge.find-the-cause-before-money", "first", first)
	case on.racing:
		return strings.TrimSpace(say.Text("judge.test-it-again-before-the", "mind", top.Mind()))
	}
	return strings.TrimSpace(say.Text("judge.keep-running-it-and-test", "mind", top.Mind()))
}
