package judge

import (
	"fmt"
	"math"

	"braxel/internal/core/log"
)

// caveats says what makes a session unlike the baseline that it is held against, and how well it is known what that
// does. Figures are still compared where there is nothing better, but never without saying so.
func caveats(l log.Log, s log.Session, all []unlike) []string {
	var lines []string
	if s.Stage == "pre-install" {
		lines = append(
			lines,
			"It has not run since it was built: rings and seats are not bedded, and may leak a little. Test it again after its first running.",
		)
	}
	for _, u := range all {
		words := u.words(l, u.now, u.then)
		switch {
		case u.effect.sd == 0:
			words += "."
		case u.effect.tests == 0:
			words += fmt.Sprintf(". What that does on this engine is not known yet; %s is taken off all readings.", allowance(u.effect.mean))
		default:
			words += fmt.Sprintf(". Here that makes %s, learned from %s, and it is taken off.", allowance(u.effect.mean), count(u.effect.tests))
		}
		lines = append(lines, words)
	}
	return lines
}

func allowance(mean float64) string {
	p := percent(mean)
	if math.Abs(p) < 0.5 {
		return "nothing"
	}
	if p < 0 {
		return fmt.Sprintf("%.0f %% less", -p)
	}
	return fmt.Sprintf("%.0f %% more", p)
}

func count(tests int) string {
	if tests == 1 {
		return "one test"
	}
	return fmt.Sprintf("%d tests", tests)
}

// aloneWords says what a single's reading leaves open, and what narrows it.
const aloneWords = "A single has nothing beside it: a reading may be the gauge's or the battery's as well as its own. " +
	"A second gauge, one more pull and a leak-down tell them apart."

// unreadWords says of which cylinders a finished test has no figure.
func unreadWords(on *subject, unread []int) string {
	return fmt.Sprintf("Not tested: %s. Nothing is said of %s.", on.names(unread), pronoun(unread))
}

func pronoun(cylinders []int) string {
	if len(cylinders) == 1 {
		return "it"
	}
	return "them"
}
