package judge

import (
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
				words = append(words, say.Text("judge.unconfirmed-reading", "called", on.called(row.Number()), "reading", p.Reading))
			}
		}
	}
	if len(words) == 0 {
		return out
	}
	open := say.Text("judge.unconfirmed", "noun", on.engine.Noun(), "words", say.And(words))
	if out.State.Severity() >= Watch.Severity() {
		out.Caveats = append(out.Caveats, open)
		return out
	}
	out.State, out.Due = Retest, nil
	out.Headline = say.Text("judge.head-confirm", "who", on.engine.Noun()+" "+say.And(at))
	out.Sentence = open
	out.Decision = say.Text("judge.unconfirmed-first", "at", say.And(at))
	return out
}
