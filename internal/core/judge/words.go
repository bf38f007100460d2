package judge

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"braxel/internal/core/cause"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
)

// sentence says what a session tells, no more surely than the numbers do.
func (h *history) sentence(s Session, d change, defines bool) string {
	bad := s.bad()
	doubt := slices.DeleteFunc(slices.Clone(s.Cylinders), func(c Cylinder) bool { return c.State != Retest })
	alike := h.allAlike(s, cylinders(bad))
	var parts []string
	switch {
	case d.unexplained() && (alike || len(bad) == 0):
		parts = append(parts, fmt.Sprintf("All moved together, down %.0f %%; no cylinder stands out.", -percent(d.common)), suspect(s.Causes))
	case alike:
		parts = append(parts, "Every cylinder "+bad[0].Why[len(bad[0].Why)-1]+".", suspect(s.Causes))
	case len(bad) > 0 && d.first:
		parts = append(parts, h.apart(bad), suspect(s.Causes), "No baseline yet: the cylinders are held against each other.")
	case d.first:
		parts = append(parts, first(s, doubt))
	case len(bad) > 0:
		parts = append(parts, h.moved(bad), rest(s, bad, d), suspect(s.Causes))
	case len(doubt) > 0:
		parts = append(parts, fmt.Sprintf("The leak of %s jumped by itself; compression did not follow. Repeat it before you believe it.", numbers(doubt)))
	case d.fell():
		parts = append(parts, fmt.Sprintf("All read %.0f %% lower together, as the other way of testing may well make; no cylinder stands out.", -percent(d.common)))
	case !d.compared && len(d.each) == 0:
		parts = append(parts, "Nothing to hold it against yet.")
	default:
		parts = append(parts, "Nothing has moved since the baseline beyond what the gauge can tell.")
	}
	if defines && !d.first {
		parts = append([]string{"Recorded into this build's baseline."}, parts...)
	}
	return strings.Join(strings.Fields(strings.Join(parts, " ")), " ")
}

// first says what the first test of a build tells where no cylinder is bad: how even it is.
func first(s Session, doubt []Cylinder) string {
	words := "Recorded as this build's baseline."
	if readings := s.Pressures(); len(readings) > 1 {
		lowest := 0
		for _, c := range s.Cylinders {
			if c.Compression != nil && (lowest == 0 || *c.Compression < *s.Of(lowest).Compression) {
				lowest = c.Cylinder
			}
		}
		words += fmt.Sprintf(" The lowest, %d, stands %.1f %% below the highest.", lowest, reading.Even(readings).SpreadPctOfHighest)
	}
	if len(doubt) > 0 {
		words += fmt.Sprintf(" %s leaks more than compression shows: repeat it before it stands as a baseline.", numbers(doubt))
	}
	return words
}

// apart says what is bad at a first test, each cylinder with its reasons.
func (h *history) apart(bad []Cylinder) string {
	var each []string
	for _, c := range bad {
		each = append(each, fmt.Sprintf("%s %s: %s.", h.noun(), h.called(c.Cylinder), strings.Join(c.Why, ", ")))
	}
	return strings.Join(each, " ")
}

// called names a cylinder as its owner does.
func (h *history) called(cylinder int) string { return h.log.Engine.Called(cylinder) }

// noun is what the engine's numbers count.
func (h *history) noun() string {
	if h.log.Engine.Kind == log.Rotary {
		return "Rotor"
	}
	return "Cylinder"
}

func cylinders(all []Cylinder) []int {
	var n []int
	for _, c := range all {
		n = append(n, c.Cylinder)
	}
	return n
}

func numbers(all []Cylinder) string { return list(cylinders(all)) }

// list writes cylinder numbers as one says them: 3; 5 and 7; 1, 2 and 4.
func list(n []int) string {
	if len(n) < 2 {
		return log.Join(n, "")
	}
	return log.Join(n[:len(n)-1], ", ") + " and " + fmt.Sprint(n[len(n)-1])
}

// moved says what each cylinder lost, as surely as it did.
func (h *history) moved(bad []Cylinder) string {
	var each []string
	for _, c := range bad {
		words := h.noun() + " " + h.called(c.Cylinder)
		if len(each) > 0 {
			words = h.called(c.Cylinder)
		}
		is := " is"
		if c.Chance != nil && *c.Chance < likely {
			is = " may be"
		}
		loses := c.ChangePct != nil && *c.ChangePct < -2*deref(c.ChangeSEPct)
		leaks := c.LeakChange != nil && *c.LeakChange > 2*deref(c.LeakChangeSE)
		switch {
		case loses && leaks:
			words += fmt.Sprintf("%s down %.0f %% and leaking %.0f points more", is, -*c.ChangePct, *c.LeakChange)
		case loses:
			words += fmt.Sprintf("%s down %.0f %%", is, -*c.ChangePct)
		case leaks:
			words += fmt.Sprintf("%s leaking %.0f points more", is, *c.LeakChange)
		case c.Chance != nil && *c.Chance >= worth:
			words += " was found changed at an earlier test"
		case len(c.Why) > 0:
			words += " has not moved, but " + c.Why[len(c.Why)-1]
		}
		each = append(each, words)
	}
	return strings.Join(each, "; ") + "."
}

func deref(v *float64) float64 {
	if v == nil {
		return 0
	}
	return *v
}

func rest(s Session, bad []Cylinder, d change) string {
	others := len(s.Cylinders) - len(bad)
	beyond, se := d.beyond()
	switch {
	case others == 0:
		return ""
	case math.Abs(percent(beyond)) > math.Max(3*100*se, 4):
		return fmt.Sprintf("All have moved by %+.0f %% besides: battery, heat, throttle or gauge.", percent(beyond))
	case others == 1:
		return "The other has not moved."
	}
	return "The others have not moved."
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

// decision says whether to run it, by state, cause and duty.
func (h *history) decision(s Session, made log.Session, d change) string {
	racing := limitsOf(h.log.Engine, false) == race
	top := s.Causes[0]
	mend := top.Mend()
	if mend == "" || top.Probability < 0.6 {
		mend = "the cause is found"
	}
	cold := made.Conditions.EngineTemp == "cold"
	if s.Next != nil && s.Next.Test == "repeat-leakdown" && s.State != Retest {
		s.Next = nil
		then := h.decision(s, made, d)
		return "Repeat the leak-down first. If it stays, " + strings.ToLower(then[:1]) + then[1:]
	}
	switch s.State {
	case Stop:
		return "Do not run it, nor crank it more than the search needs. Look in first."
	case Act:
		switch {
		case d.first && cold:
			return "Do not condemn it cold: soak the rings, run it warm if it is safe to, change the oil, and test it hot."
		case d.first:
			return "Find the cause before it is bought, built on or loaded."
		case racing:
			return "Do not run it again before " + mend + "."
		}
		return "Do not load it before " + mend + "."
	case Watch:
		switch {
		case top.Cause == "cam_timing":
			return "Do not run it before " + mend + "."
		case d.first && cold:
			return "Do not condemn it cold: run it warm, and test it hot."
		case d.first:
			return "Find the cause before money goes into it."
		case racing:
			return strings.TrimSpace("Test it again before the next event; buy no parts yet. " + top.Mind())
		}
		return strings.TrimSpace("Keep running it, and test it again in good time; buy no parts yet. " + top.Mind())
	case Retest:
		return "Repeat the doubted reading first; it says nothing yet."
	}
	switch {
	case top.Cause == "tester":
		return "Run it. Check the gauge before the next test."
	case top.Cause == "conditions":
		return "Run it. Test again the way the baseline was made."
	case made.Stage == "pre-install":
		return "Run it in, and test it again after its first running."
	}
	return "Run it."
}
