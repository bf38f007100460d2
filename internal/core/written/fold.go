// Package written reads what people write by hand or into a spreadsheet: words in ten languages, figures, units, days, and where
// air was heard. The reader of sheets and that of old tests on paper share it.
package written

import (
	"regexp"
	"slices"
	"strings"
	"sync"

	"braxel/internal/core/rules"
)

var plain = strings.NewReplacer(
	"ä", "ae", "ö", "oe", "ü", "ue", "ß", "ss", "à", "a", "â", "a", "á", "a", "ã", "a", "å", "a", "ą", "a", "ç", "c", "ć", "c", "é", "e", "è", "e",
	"ê", "e", "ë", "e", "ę", "e", "î", "i", "ï", "i", "í", "i", "ì", "i", "ł", "l", "ń", "n", "ñ", "n", "ô", "o", "ó", "o", "ò", "o", "õ", "o",
	"ø", "o", "œ", "oe", "ś", "s", "š", "s", "û", "u", "ù", "u", "ú", "u", "ź", "z", "ż", "z", "ž", "z",
	"\u00a0", " ", "\u202f", " ", "\u2009", " ", "’", "'", "‘", "'", "`", "'", "–", "-", "—", "-", "−", "-", "½", ".5", "²", "2", "µ", "u",
)

// Fold writes text in small letters without accents, with plain dashes and spaces.
func Fold(text string) string {
	if strings.Trim(text, "0123456789.,/%") == "" {
		return text
	}
	return strings.TrimSpace(plain.Replace(strings.ToLower(text)))
}

// Word finds the words and the numbers of folded text.
var Word = regexp.MustCompile(`[a-z_]+|\d+`)

// bare drops the dots over vowels, as those do whose keyboard has none.
var bare = strings.NewReplacer("ä", "a", "ö", "o", "ü", "u", "Ä", "a", "Ö", "o", "Ü", "u")

// add gives folded words what they stand for, where an earlier language has not.
func add(to map[string]string, words, stands string) {
	for _, w := range strings.Fields(words) {
		for _, form := range []string{Fold(w), Fold(bare.Replace(w))} {
			if _, taken := to[form]; !taken {
				to[form] = stands
			}
		}
	}
}

// words are those of all languages, by what they stand for.
type words struct {
	means, kinds, temps, meters, places, levels, counts, ordinals map[string]string
	totals, sides, beside, filler, slip                           map[string]string
	without                                                       []string
	months                                                        map[string]int
}

var known = sync.OnceValue(func() words {
	w := words{months: map[string]int{}}
	for _, to := range []*map[string]string{
		&w.means, &w.kinds, &w.temps, &w.meters, &w.places, &w.levels, &w.counts, &w.ordinals, &w.totals, &w.sides, &w.beside, &w.filler, &w.slip,
	} {
		*to = map[string]string{}
	}
	for _, language := range rules.Languages {
		h := rules.HeadingsIn(language)
		for _, one := range []struct {
			to map[string]string
			of map[string]string
		}{
			{w.means, h.Means}, {w.kinds, h.Kinds}, {w.temps, h.Temps}, {w.meters, h.Meters}, {w.places, h.Places}, {w.levels, h.Levels},
			{w.counts, h.Counts}, {w.ordinals, h.Ordinals},
		} {
			for _, stands := range slices.Sorted(keysOf(one.of)) {
				add(one.to, one.of[stands], stands)
			}
		}
		add(w.totals, h.Totals, "total")
		add(w.sides, h.Sides, "")
		add(w.beside, h.Beside, "beside")
		add(w.filler, h.Filler, "filler")
		add(w.slip, h.Slip, "slip")
		for _, one := range strings.Split(h.Without, ";") {
			w.without = append(w.without, Fold(one))
		}
		for i, month := range strings.Fields(h.Months) {
			for _, form := range strings.Split(month, "/") {
				if w.months[Fold(form)] == 0 {
					w.months[Fold(form)] = i + 1
				}
			}
		}
	}
	return w
})

func keysOf(m map[string]string) func(func(string) bool) {
	return func(yield func(string) bool) {
		for k := range m {
			if !yield(k) {
				return
			}
		}
	}
}

// Means returns what a folded word stands for at the head of a column, "" where it is none that is known.
func Means(word string) string { return known().means[word] }

// Kind returns dry, wet or leak where a folded word is one of them.
func Kind(word string) string { return known().kinds[word] }

// Temp returns hot, warm or cold.
func Temp(word string) string { return known().temps[word] }

// Meter returns the unit of an engine's meter.
func Meter(word string) string { return known().meters[word] }

// Count returns how many cylinders a word such as twin stands for.
func Count(word string) string { return known().counts[word] }

// Ordinal returns which of several a word such as second stands for, -1 for the last, "" where it is none.
func Ordinal(word string) string { return known().ordinals[word] }

// IsTotal reports whether a folded word heads a row that sums up others.
func IsTotal(word string) bool { return known().totals[word] != "" }

// IsSide reports whether a folded word says where a cylinder stands: left, rear.
func IsSide(word string) bool { _, is := known().sides[word]; return is }

// IsBeside reports whether a folded word may stand beside a kind without making it a remark: with a spoon of.
func IsBeside(word string) bool { return known().beside[word] != "" }

// IsFiller reports whether a folded word of a title is no part of an engine's name.
func IsFiller(word string) bool { return known().filler[word] != "" }

// IsSlip reports whether a folded word of a remark makes a reading doubtful: shut, loose.
func IsSlip(word string) bool { return known().slip[word] != "" }

// WithoutOil reports whether folded text says that no oil was put in.
func WithoutOil(text string) bool {
	return slices.ContainsFunc(known().without, func(no string) bool { return strings.Contains(text, no) })
}
