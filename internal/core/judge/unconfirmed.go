package judge

import (
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// unconfirmed returns a judgement with the readings said that were doubted when they were typed and that nobody has confirmed
// since. They count for nothing, so what was judged without them is not to be gone by: a dead cylinder is doubted, too.
func unconfirmed(on *subject, s log.Session, out Session) Session {
	var words, at []string
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			if p.Struck == "" && p.Doubt != "" {
				at = append(at, on.called(row.Number()))
				words = append(words, say.Text("judge.read", "called", on.called(row.Number()), "reading", p.Reading))
			}
		}
	}
	if len(words) == 0 {
		return out
	}
	out.Sentence += say.Text("judge.which-nobody-has-confirmed-it",
		"noun", on.engine.Noun(),
		"words", strings.Join(words, ", "),
	)
	if out.State.Severity() < Watch.Severity() {
		out.State = Retest
		out.Decision = say.Text("judge.do-not-go-by-this", "at", strings.Join(at, ", "))
		out.Due = nil
	}
	return out
}
