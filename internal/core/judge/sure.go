package judge

import "braxel/internal/core/rules"

// unclearCause is how a cause is named that is no likelier than all others together.
const unclearCause = "unclear"

// SurenessWords are the words for chances, the surest first.
var SurenessWords = []string{"certain", "likely", "probable", unclearCause}

// Sureness is the word for a chance, the same on every line: of all causes that a word is said of, as many are right.
func Sureness(chance float64) string {
	switch {
	case chance >= rules.AlmostCertain:
		return "certain"
	case chance >= rules.MostLikely:
		return "likely"
	case chance >= rules.Probably:
		return "probable"
	}
	return unclearCause
}
