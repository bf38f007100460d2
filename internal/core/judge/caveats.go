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
			say.Text("judge.it-has-not-run-since"),
		)
	}
	for _, u := range all {
		words := u.words(l, u.now, u.then)
		switch {
		case u.effect.sd == 0:
			words += "."
		case u.effect.tests == 0:
			words += say.Text("judge.what-that-does-on-this", "allowance", allowance(u.effect.mean))
		default:
			words += say.Text("judge.here-that-makes-learned-from",
				"allowance", allowance(u.effect.mean),
				"count", count(u.effect.tests),
			)
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
		return say.Text("judge.less", "p", -p)
	}
	return say.Text("judge.more", "p", p)
}

func count(tests int) string {
	if tests == 1 {
		return say.Text("judge.one-test")
	}
	return say.Text("judge.tests", "tests", tests)
}

// unreadWords says of which cylinders a finished test has no figure.
func unreadWords(on *subject, unread []int) string {
	return say.Text("judge.not-tested-nothing-is-said", "names", on.names(unread), "pronoun", pronoun(unread))
}

func pronoun(cylinders []int) string {
	if len(cylinders) == 1 {
		return "it"
	}
	return "them"
}
