package judge

import (
	"math"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// caveats says what makes a session unlike the baseline that it is held against, and how well it is known what that
// does. Figures are still compared where there is nothing better, but never without saying so.
func caveats(l log.Log, s log.Session, all []unlike) []string {
	var lines []string
	if s.Stage == "pre-install" {
		lines = append(
			lines,
			say.Text("judge.not-run-since-it-was-built"),
		)
	}
	for _, u := range all {
		words := u.words(l, u.now, u.then)
		switch {
		case u.effect.sd == 0:
			words += "."
		case u.effect.tests > 0:
			words += say.Text("judge.way-learned", "n", u.effect.tests, "allowance", allowance(u.effect.mean))
		case isNothing(u.effect.mean):
			words += say.Text("judge.way-not-known-nothing")
		default:
			words += say.Text("judge.way-not-known-here", "allowance", allowance(u.effect.mean))
		}
		lines = append(lines, words)
	}
	return lines
}

// isNothing reports whether a way of testing moves readings by less than is worth a word.
func isNothing(mean float64) bool { return math.Abs(percent(mean)) < 0.5 }

// allowance says by how much a way of testing moves readings.
func allowance(mean float64) string {
	switch p := percent(mean); {
	case isNothing(mean):
		return say.Text("judge.the-same")
	case p < 0:
		return say.Text("judge.less", "p", -p)
	default:
		return say.Text("judge.more", "p", p)
	}
}

// unreadWords says of which cylinders a finished test has no figure.
func unreadWords(on *subject, unread []int) string {
	return say.Text("judge.not-tested", "n", len(unread), "names", on.names(unread))
}
