package judge

import (
	"fmt"
	"strings"

	"braxel/internal/core/log"
)

// unconfirmed returns a judgement with the readings said that were doubted when they were typed and that nobody has confirmed
// since. They count for nothing, so what was judged without them is not to be gone by: a dead cylinder is doubted, too.
func unconfirmed(on *subject, s log.Session, out Session) Session {
	var words, at []string
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			if p.Struck == "" && p.Doubt != "" {
				at = append(at, on.called(row.Number()))
				words = append(words, fmt.Sprintf("%s read %s", on.called(row.Number()), p.Reading))
			}
		}
	}
	if len(words) == 0 {
		return out
	}
	out.Sentence += fmt.Sprintf(" %s %s, which nobody has confirmed: it counts for nothing yet.", on.engine.Noun(), strings.Join(words, ", "))
	if out.State.Severity() < Watch.Severity() {
		out.State = Retest
		out.Decision = fmt.Sprintf("Do not go by this before %s is pulled again, or confirmed as read.", strings.Join(at, ", "))
		out.Due = nil
	}
	return out
}
