package judge

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"braxel/internal/core/cause"
	"braxel/internal/core/log"
)

// words writes a fact, of a cylinder as it stands after the cylinder's name: "is down 9 %".
func (h *history) words(f Fact) string {
	who := h.names(f.Cylinders)
	several := len(f.Cylinders) > 1
	switch f.What {
	case Down:
		switch f.Against {
		case Baseline:
			return fmt.Sprintf("is down %.0f %%", f.Value)
		case Others:
			return fmt.Sprintf("stands %.0f %% below the others", f.Value)
		}
		return fmt.Sprintf("reads %.0f %% less than such an engine makes", f.Value)
	case LeakUp:
		if f.Against == Baseline {
			return fmt.Sprintf("leaks %.0f points more%s", f.Value, f.At)
		}
		return fmt.Sprintf("leaks %.0f points more than is usual%s", f.Value, f.At)
	case AirHeard:
		return "lets air out" + f.At
	case FoundBefore:
		return "was found changed at an earlier test, and nothing shows yet that it is right again"
	case MayBe:
		return fmt.Sprintf("is likelier wrong than its figures show by themselves (%.0f %%)", 100*f.Value)
	case LeaksMuch:
		return fmt.Sprintf("leaks %.0f %%, which is much by any school", f.Value)
	case BelowLeast:
		return fmt.Sprintf("reads below the least by %s, %s", f.By, f.Figure)
	case ApartTooFar:
		return fmt.Sprintf("stands %s below the highest, where %s allows %s", f.Reads, f.By, f.Figure)
	case LeaksTooMuch:
		return fmt.Sprintf("leaks %.0f %%, where %s allows %s", f.Value, f.By, f.Figure)
	case HardlyFires:
		return "reads less than the 90 to 100 psi that a petrol engine needs to fire well"
	case FaceLow:
		return fmt.Sprintf("has one face %.0f %% below the highest of its rotor", f.Value)
	case LeakDoubted:
		return fmt.Sprintf("leaks %.0f points more by one reading, which nothing bears out", f.Value)
	case LeakOnce:
		return fmt.Sprintf("leaks %.0f points more by one reading", f.Value)
	case PullOnce:
		return fmt.Sprintf("reads %.0f %% low by one reading", f.Value)
	case PullDoubted:
		if f.Value <= 0 {
			return "has pulls that do not agree, and nothing tells which is right"
		}
		return fmt.Sprintf("reads %.0f %% low, which is likelier the gauge than the cylinder", f.Value)
	case ColdUneven:
		return "cannot be told cold"
	case FellWithAll:
		return fmt.Sprintf("fell with all the others, by %.0f %%", f.Value)
	case AllMoved:
		if f.Value > 0 {
			return fmt.Sprintf("All read %.0f %% higher together.", f.Value)
		}
		return fmt.Sprintf("All moved together, down %.0f %%; no cylinder stands out.", -f.Value)
	case AllAsTested:
		return fmt.Sprintf("All read %.0f %% lower together, as the other way of testing may well make.", -f.Value)
	case AllLow:
		return fmt.Sprintf("All stand %.0f %% below the usual %s of %s: tired, or the gauge, battery, throttle or height.",
			f.Value, f.Figure, f.By)
	case Sank:
		return fmt.Sprintf(
			"Readings sank by %.0f %% from the first to the last, as a tired battery makes them; that is taken off.",
			f.Value,
		)
	case Stepped:
		more := "less"
		if f.Value > 0 {
			more = "more"
		}
		return fmt.Sprintf("From %s on all read %.0f %% %s: throttle or charger? That is taken off.", who, math.Abs(f.Value), more)
	case BankApart:
		return fmt.Sprintf("The banks stand %.0f %% apart: cam, or throttle of one bank?", math.Abs(f.Value))
	case PullLeftOut:
		return fmt.Sprintf("A pull of %s fits nothing else that is known, and is left out: a slip of the pen?", who)
	case Stands:
		return fmt.Sprintf("The lowest, %s, stands %.1f %% below the highest.", who, f.Value)
	case OthersStood:
		if several {
			return "The others have not moved."
		}
		return "The other has not moved."
	case NothingNew:
		return "Nothing has moved since the baseline beyond what the gauge can tell."
	case FirstTest:
		return "Recorded as this build's baseline."
	case FirstFound:
		return "Its first test, as it was found: later ones are held against it."
	case FirstKnown:
		return "The first test that is known of this build: later ones are held against it."
	case NoBaseline:
		return "No baseline yet: it is held against the others, and what is usual."
	case Into:
		return "Recorded into this build's baseline."
	case FirstLeaks:
		return fmt.Sprintf("It is the first leak-down of %s: held against what is usual.", who)
	case FirstPulls:
		return fmt.Sprintf("%s %s read for the first time: held against the others.", who, is(several))
	case NotCranked:
		return fmt.Sprintf("Compression of %s was not read.", who)
	case NotLeaked:
		return fmt.Sprintf("%s %s not leaked down.", who, was(several))
	case NotListened:
		return fmt.Sprintf("Nobody listened where the air of %s goes.", who)
	}
	return ""
}

func is(several bool) string {
	if several {
		return "are"
	}
	return "is"
}

func was(several bool) string {
	if several {
		return "were"
	}
	return "was"
}

func percentWords(v float64) string { return fmt.Sprintf("%g %%", v) }

// called names a cylinder as its owner does.
func (h *history) called(cylinder int) string { return h.log.Engine.Called(cylinder) }

// names writes cylinders as one says them: 3; 5 and 7; 1, 2 and 4.
func (h *history) names(all []int) string {
	var each []string
	for _, c := range all {
		each = append(each, h.called(c))
	}
	return log.And(each)
}

// sentence says what a session tells: each fault, what may be the testing, what did not move, what was not compared.
func (h *history) sentence(s Session, d change) string {
	var parts []string
	say := func(what ...What) {
		for _, w := range what {
			if f, ok := named(s.Facts, w); ok {
				parts = append(parts, h.words(f))
			}
		}
	}
	say(Into)
	alike := h.allAlike(s, d)
	switch {
	case alike:
		if last := s.Cylinders[0].Facts[len(s.Cylinders[0].Facts)-1]; last.What != FellWithAll {
			parts = append(parts, fmt.Sprintf("Every %s %s.", strings.ToLower(h.log.Engine.Noun()), h.words(last)))
		}
	default:
		const most = 3 // a sheet of many faults is read in the list
		for i, f := range s.Faults {
			if i == most && len(s.Faults) > most+1 {
				parts = append(parts, fmt.Sprintf("So do %d more.", len(s.Faults)-most))
				break
			}
			parts = append(parts, f.Sentence)
		}
	}
	say(FirstTest, FirstFound, FirstKnown, NoBaseline, PullLeftOut, Sank, Stepped, BankApart, AllMoved, AllAsTested, AllLow)
	if alike || len(s.Faults) == 0 {
		parts = append(parts, suspect(s.Causes))
	}
	say(Stands, OthersStood, NothingNew, FirstLeaks, FirstPulls, NotCranked, NotLeaked, NotListened)
	return strings.Join(strings.Fields(strings.Join(parts, " ")), " ")
}

// faultWords says what is wrong with a cylinder or two: what moved, and why, as surely as it is.
func (h *history) faultWords(f Fault, all Session) string {
	var each []string
	for i, c := range f.Cylinders {
		name := h.called(c)
		if i == 0 {
			name = h.log.Engine.Noun() + " " + name
		}
		var words []string
		facts := all.Of(c).Facts
		_, risen := named(facts, LeakUp)
		_, fallen := named(facts, Down)
		for _, fact := range facts {
			if (fact.What == LeaksMuch && risen) || (fact.What == ApartTooFar && fallen) {
				continue // said already, by how far it moved
			}
			words = append(words, h.words(fact))
		}
		if len(words) == 0 {
			continue
		}
		each = append(each, name+" "+log.And(words))
	}
	out := strings.Join(each, "; ") + "."
	if f.State == Retest {
		return out
	}
	return out + " " + suspect(f.Causes)
}

// suspect names the most likely cause, as surely as it is.
func suspect(causes []cause.Weighed) string {
	if len(causes) == 0 || causes[0].Cause == "healthy" {
		return ""
	}
	top := causes[0]
	name := top.Phrase()
	switch {
	case top.Probability >= 0.75:
		return "Most likely " + name + "."
	case top.Probability >= 0.45:
		return "Perhaps " + name + "."
	case len(causes) > 1:
		return fmt.Sprintf("Not settled: %s, or %s.", name, causes[1].Phrase())
	}
	return ""
}

// decision says whether to run it for what it is used for, and what to do first.
func (h *history) decision(out Session, s log.Session, d change) string {
	top := out.Causes[0]
	mend := top.Mend()
	if mend == "" || top.Probability < 0.6 {
		mend = "the cause is found"
	}
	racing := limitsOf(h.log.Engine) == race
	cold := s.Conditions.Cold()
	first := ""
	if out.Next != nil && out.State != Steady {
		first = fmt.Sprintf(" First: %s.", lower(out.Next.Words))
	}
	doubt := out.Next != nil && (out.Next.Test == "repeat-leakdown" || out.Next.Test == "pull-again")
	switch out.State {
	case Stop:
		return "Do not run it, nor crank it more than the search needs." + first
	case Act:
		switch {
		case d.first && cold:
			return "Do not condemn it cold, and do not load it: soak the rings, run it warm if it is safe to, change the oil, and test it hot."
		case d.first:
			return "Find the cause before it is bought, built on or loaded." + first
		case doubt && racing:
			return "Do not race it on this reading." + first
		case doubt:
			return "Do not load it on this reading." + first
		case racing:
			return "Do not run it again before " + mend + "." + first
		}
		return "Do not load it before " + mend + "." + first
	case Watch:
		switch {
		case top.Cause == "cam_timing":
			return "Do not run it before " + mend + "." + first
		case doubt && racing:
			return "Do not race it on this reading." + first
		case doubt:
			return "Keep it from hard work until that reading is sure." + first
		case d.first && cold:
			return "Do not condemn it cold: run it warm, and test it hot."
		case d.first:
			return "Find the cause before money goes into it." + first
		case racing:
			return strings.TrimSpace("Test it again before the next event; buy no parts yet. " + top.Mind())
		}
		return strings.TrimSpace("Keep running it, and test it again in good time; buy no parts yet. " + top.Mind())
	case Retest:
		if slices.ContainsFunc(out.Faults, func(f Fault) bool { _, cold := named(out.Of(f.Cylinders[0]).Facts, ColdUneven); return cold }) {
			return "It cannot be told cold: warm it, and test it again before anything is decided."
		}
		return "Repeat the doubted reading first; it says nothing yet." + first
	}
	_, low := named(out.Facts, AllLow)
	_, sank := named(out.Facts, Sank)
	_, stepped := named(out.Facts, Stepped)
	switch {
	case sank || stepped:
		return "Run it. Charge the battery, open the throttle, and test again where it has to be sure."
	case top.Cause == "tester":
		return "Run it. Check the gauge before the next test."
	case low:
		return "Nothing stands out, but all is low: check gauge, throttle and battery, and test it hot, before it is trusted."
	case top.Cause == "conditions":
		return "Run it. Test again the way the baseline was made."
	case s.Stage == "pre-install":
		return "Run it in, and test it again after its first running."
	}
	return "Run it."
}

// lower writes a step as it stands in a sentence.
func lower(words string) string { return strings.ToLower(words[:1]) + words[1:] }
