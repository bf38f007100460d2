package story

import (
	"regexp"
	"slices"
	"strings"
	"sync"
	"unicode"

	"braxel/internal/core/rules"
)

// pattern is one way in which people write that something happened: words in their order, each in one of several beginnings, or figures.
type pattern struct {
	words   [][]string
	figures *regexp.Regexp
}

// written is how one kind of event is written.
type written struct {
	kind     string
	patterns []pattern
	notOf    []string // of a repair: words beside it that make it another thing
}

// phrases are the patterns of the table, made once.
var phrases = sync.OnceValue(func() []written {
	var all []written
	for _, h := range rules.Happened().Happenings {
		w := written{kind: h.Kind}
		for _, told := range h.Told {
			w.patterns = append(w.patterns, patternOf(told))
		}
		all = append(all, w)
	}
	return all
})

// works are the patterns of the repairs, made once.
var works = sync.OnceValue(func() []written {
	var all []written
	for _, r := range rules.Repairs().Repairs {
		w := written{kind: r.Work.Work, notOf: r.NotOf}
		for _, told := range r.Told {
			w.patterns = append(w.patterns, patternOf(told))
		}
		all = append(all, w)
	}
	return all
})

// patternOf reads one row of words: # begins a pattern of figures.
func patternOf(told string) pattern {
	if figures, ok := strings.CutPrefix(told, "#"); ok {
		return pattern{figures: regexp.MustCompile(figures)}
	}
	var p pattern
	for _, word := range strings.Fields(told) {
		p.words = append(p.words, strings.Split(word, "|"))
	}
	return p
}

// sentence is a part of what somebody wrote between full stops, as words, with the parts that commas make of it.
type sentence struct {
	text   string
	words  []string
	begins []map[string]int // by word, the stems of the table that it begins with
	part   []int            // by word, which part it stands in
}

// sentences cuts a text where a new thought begins.
func sentences(text string) []sentence {
	var all []sentence
	for _, one := range ends.Split(strings.ToLower(strings.ReplaceAll(text, "'", "")), -1) {
		s := sentence{text: one}
		for i, part := range strings.Split(one, ",") {
			for _, word := range strings.FieldsFunc(part, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }) {
				s.words, s.part, s.begins = append(s.words, word), append(s.part, i), append(s.begins, beginnings(word))
			}
		}
		if len(s.words) > 0 {
			all = append(all, s)
		}
	}
	return all
}

// ends are where a sentence ends; a full stop between figures is none.
var ends = regexp.MustCompile(`[!?;:\n]|\.(?:\s|$|\D)|\bbut\b|\s-\s`)

// gap is how many other words may stand between two words of a pattern.
const gap = 4

// in returns how much of a sentence a pattern takes, in letters, and which words; 0 where it is not in it.
func (p pattern) in(s sentence) (letters int, at []int) {
	if p.figures != nil {
		if found := p.figures.FindStringIndex(s.text); found != nil {
			before := len(strings.Fields(s.text[:found[0]]))
			return found[1] - found[0], []int{min(before, len(s.words)-1)}
		}
		return 0, nil
	}
	for start := range s.words {
		if n, at := p.from(s, start); n > 0 {
			return n, at
		}
	}
	return 0, nil
}

// from matches a pattern whose first word is at start; 0 where it doesn't.
func (p pattern) from(s sentence, start int) (letters int, taken []int) {
	last := start
	for i, alternatives := range p.words {
		found, reach := -1, last+1+gap
		if i == 0 {
			reach = start
		}
		for at := last + min(i, 1); at <= min(reach, len(s.words)-1) && found < 0; at++ {
			for _, stem := range alternatives {
				if n := s.begins[at][stem]; n > 0 {
					letters, found = letters+n, at
					break
				}
			}
		}
		if found < 0 {
			return 0, nil
		}
		last, taken = found, append(taken, found)
	}
	return letters, taken
}

// stems are all beginnings of words in the table, by their first letter; figures under #.
var stems = sync.OnceValue(func() map[byte][]string {
	all := map[byte][]string{}
	for _, w := range slices.Concat(phrases(), works()) {
		for _, p := range w.patterns {
			for _, stem := range slices.Concat(p.words...) {
				if !slices.Contains(all[stem[0]], stem) {
					all[stem[0]] = append(all[stem[0]], stem)
				}
			}
		}
	}
	return all
})

// figures are the patterns of figures that stand for a word, made once.
var figures = sync.OnceValue(func() map[string]*regexp.Regexp {
	all := map[string]*regexp.Regexp{}
	for _, stem := range stems()['#'] {
		all[stem] = regexp.MustCompile("^" + stem[1:])
	}
	return all
})

// beginnings returns the stems that a word begins with, each with how many letters it takes. Of a long word one letter may be wrong,
// missing, too many or in the wrong place, though never the first: without it another word would do.
func beginnings(word string) map[string]int {
	all := map[string]int{}
	for _, stem := range stems()[word[0]] {
		switch {
		case len(stem) <= 3 && word == stem, len(stem) > 3 && strings.HasPrefix(word, stem):
			all[stem] = len(stem)
		case len(stem) >= slipFrom && nearly(word, stem):
			all[stem] = len(stem) - 1
		}
	}
	for stem, pattern := range figures() {
		if pattern.MatchString(word) {
			all[stem] = len(word)
		}
	}
	return all
}

// slipFrom is from how many letters on a word is still known with one of them wrong.
const slipFrom = 5

// nearly reports whether a word begins with a stem but for one slip of the pen: a letter exchanged, missing, too many, or two the wrong
// way round.
func nearly(word, stem string) bool {
	for _, n := range []int{len(stem) - 1, len(stem), len(stem) + 1} {
		if n <= len(word) && oneSlip(word[:n], stem) {
			return true
		}
	}
	return false
}

func oneSlip(a, b string) bool {
	if len(a) > len(b) {
		a, b = b, a
	}
	i := 0
	for i < len(a) && a[i] == b[i] {
		i++
	}
	switch {
	case len(b)-len(a) > 1:
		return false
	case len(a) < len(b):
		return a[i:] == b[i+1:]
	case i == len(a):
		return true
	}
	exchanged := i+1 < len(a) && a[i] == b[i+1] && a[i+1] == b[i] && a[i+2:] == b[i+2:]
	return exchanged || a[i+1:] == b[i+1:]
}
