package judge

import (
	"slices"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// decision says whether to run it for what it is used for, and what to do first.
func decision(on *subject, out Session, s log.Session, d change) string {
	next := out.Next != nil && out.State != Steady
	doubt := next && (out.Next.Test == "repeat-leakdown" || out.Next.Test == "pull-again")
	cold := s.Conditions.Cold()
	switch out.State {
	case Stop:
		return say.Sentences(say.Text("judge.stop"), first(out.Next))
	case Act:
		return actDecision(on, out, d.first, cold, doubt)
	case Watch:
		return watchDecision(on, out, d.first, cold, doubt)
	case Retest:
		if off := out.thatAre(TakenOff); len(out.Faults) == 0 && len(off) > 0 {
			return say.Text("judge.charge-and-repeat", "who", lower(on.those(off)))
		}
		if len(out.Faults) == 0 {
			return say.Text("judge.all-down-repeat")
		}
		if slices.ContainsFunc(out.Faults, func(f Fault) bool { _, cold := named(out.Of(f.Cylinders[0]).Facts, ColdUneven); return cold }) {
			return say.Text("judge.warm-it-first")
		}
		return say.Sentences(say.Text("judge.not-to-be-believed-yet"), first(out.Next))
	}
	return steadyDecision(out, s)
}

// first says what to do before anything else; "" where there is nothing.
func first(next *Next) string {
	if next == nil {
		return ""
	}
	return say.Text("judge.first", "step", lower(next.Words))
}

// mend says how the cause is put right: at once where nothing is left to be tested, else once a test bears it out; "" where the cause
// is not known well enough.
func mend(on *subject, out Session) string {
	top := out.Causes[0]
	switch {
	case top.Mend() == "" || top.Probability < rules.MendFrom:
		return ""
	case out.Next == nil:
		return say.Text("judge.mend", "mend", say.Capital(top.Mend()))
	case top.ShownByTest(on.table.Named(out.Next.Test)):
		return say.Text("judge.mend-if-so", "mend", top.Mend())
	}
	return ""
}

// actDecision says what comes before an engine is run of which something has to be mended. Unknown is one that has no baseline yet.
func actDecision(on *subject, out Session, unknown, cold, doubt bool) string {
	step, mended := first(out.Next), mend(on, out)
	switch {
	case unknown && cold:
		return say.Text("judge.do-not-condemn-it-cold-nor-load-it")
	case unknown:
		return say.Sentences(say.Text("judge.find-the-cause-before-you-buy"), step)
	case doubt && on.racing:
		return say.Sentences(say.Text("judge.do-not-race-it-on-this"), step)
	case doubt:
		return say.Sentences(say.Text("judge.do-not-load-it-on-this"), step)
	case wrecks(out.Causes):
		return say.Sentences(notRun(out.Causes), step, mended)
	case on.racing && mended == "":
		return say.Sentences(say.Text("judge.do-not-run-it-until-found"), step)
	case on.racing:
		return say.Sentences(say.Text("judge.do-not-run-it-again"), step, mended)
	case mended == "":
		return say.Sentences(say.Text("judge.do-not-load-it-until-found"), step)
	}
	return say.Sentences(say.Text("judge.do-not-load-it"), step, mended)
}

// wrecks reports whether the engine may be wrecked if it is run: by all causes that it is not to be run with, together.
func wrecks(causes []Cause) bool {
	chance := 0.0
	for _, c := range causes {
		if c.NotRun() {
			chance += c.Probability
		}
	}
	return chance >= rules.WorthALook
}

// notRun says not to run it, as surely as the cause is known.
func notRun(causes []Cause) string {
	if Sureness(causes[0].Probability) == unclearCause {
		return say.Text("judge.do-not-run-it-until-found")
	}
	return say.Text("judge.do-not-run-it")
}

// watchDecision says how an engine is run that is watched.
func watchDecision(on *subject, out Session, unknown, cold, doubt bool) string {
	top, step := out.Causes[0], first(out.Next)
	switch {
	case wrecks(out.Causes):
		return say.Sentences(notRun(out.Causes), step, mend(on, out))
	case doubt && on.racing:
		return say.Sentences(say.Text("judge.do-not-race-it-on-this"), step)
	case doubt:
		return say.Sentences(say.Text("judge.keep-it-from-hard-work"), step)
	case unknown && cold:
		return say.Text("judge.do-not-condemn-it-cold")
	case unknown:
		return say.Sentences(say.Text("judge.find-the-cause-before-money"), step)
	case on.racing:
		return say.Sentences(say.Text("judge.retest-before-the-next-event"), top.Mind())
	}
	return say.Sentences(say.Text("judge.keep-running-it"), top.Mind())
}

// steadyDecision says what is left to do where nothing is wrong.
func steadyDecision(out Session, s log.Session) string {
	_, low := named(out.Facts, AllLow)
	_, sank := named(out.Facts, Sank)
	_, stepped := named(out.Facts, Stepped)
	switch top := out.Causes[0]; {
	case sank || stepped:
		return say.Text("judge.run-it-charge-and-open")
	case top.Cause == "tester":
		return say.Text("judge.run-it-check-the-gauge")
	case low:
		return say.Text("judge.even-but-low")
	case top.Cause == "conditions":
		return say.Text("judge.run-it-same-way")
	case s.Stage == "pre-install":
		return say.Text("judge.run-it-in")
	}
	return say.Text("judge.run-it")
}

// lower writes a step as it stands within a sentence.
func lower(words string) string { return strings.ToLower(words[:1]) + words[1:] }
