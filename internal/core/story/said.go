package story

import (
	"slices"
	"strings"
	"sync"

	"braxel/internal/core/rules"
)

// kindOf returns what a text says has happened; "" where it says nothing known, or denies it. denied is what it says has not happened.
func kindOf(text string) (kind, denied string) {
	said := readingOf(text)
	return said.kind, said.denied
}

// reading is what a text says: what happened, what has not, and what was repaired.
type reading struct{ kind, denied, work string }

// readingOf reads a text, once.
func readingOf(text string) reading {
	known.RLock()
	said, ok := known.texts[text]
	known.RUnlock()
	if ok {
		return said
	}
	said.kind, said.denied = readKind(text)
	said.work = readWork(text)
	known.Lock()
	defer known.Unlock()
	if len(known.texts) >= knownMost {
		clear(known.texts)
	}
	known.texts[text] = said
	return said
}

// knownMost is how many texts are remembered: they are read at every judgement, and matching a few hundred patterns takes its time.
const knownMost = 4096

var known = struct {
	sync.RWMutex
	texts map[string]reading
}{texts: map[string]reading{}}

// readKind is kindOf of a text that was not read before.
func readKind(text string) (kind, denied string) {
	most := 0
	for _, s := range sentences(text) {
		all := s.matches()
		taken := map[string]map[int]bool{} // by kind, the words that say so
		for _, m := range all {
			switch {
			case m.denied:
				denied = m.kind
			case slices.ContainsFunc(all, m.deniedBy):
			default:
				if taken[m.kind] == nil {
					taken[m.kind] = map[int]bool{}
				}
				for _, i := range m.at {
					taken[m.kind][i] = true
				}
			}
		}
		for _, w := range phrases() { // in the table's order, so that the same is said each time
			letters := 0
			for i := range taken[w.kind] {
				letters += len(s.words[i])
			}
			if letters > most {
				kind, most = w.kind, letters
			}
		}
	}
	return kind, denied
}

// match is a pattern that was found in a sentence: what it says, how much of it, in which words, and that the sentence denies it.
type match struct {
	kind    string
	letters int
	at      []int
	denied  bool
}

// matches returns all patterns that are in a sentence.
func (s sentence) matches() []match {
	var all []match
	for _, w := range phrases() {
		for _, p := range w.patterns {
			if letters, at := p.in(s); letters > 0 {
				t := rules.Happened()
				all = append(all, match{w.kind, letters, at, s.denies(at, t.DeniedBefore, t.DeniedAfter)})
			}
		}
	}
	return all
}

// deniedBy reports whether another match, which is denied, takes some of the same words and more: “took no water” has not lost it.
func (m match) deniedBy(other match) bool {
	shares := slices.ContainsFunc(other.at, func(i int) bool { return slices.Contains(m.at, i) })
	return other.denied && shares && other.letters >= m.letters
}

// near is how many words before a pattern a denial of it may stand.
const near = 3

// denies reports whether a sentence denies what some of its words say: by a word just before or among them, or a phrase after.
func (s sentence) denies(at []int, wordsBefore, phrasesAfter []string) bool {
	from, to := at[0], at[len(at)-1]
	for i := max(0, from-near); i < to; i++ {
		if s.part[i] == s.part[from] && !slices.Contains(at, i) && slices.Contains(wordsBefore, s.words[i]) {
			return true
		}
	}
	after := strings.Join(s.words[to+1:], " ")
	return slices.ContainsFunc(phrasesAfter, func(phrase string) bool { return strings.Contains(" "+after+" ", " "+phrase+" ") })
}

// worked returns which repair a text says was done; "" where it says none.
func worked(text string) string { return readingOf(text).work }

// readWork is worked of a text that was not read before: the repair that most of its words are of.
func readWork(text string) string {
	t, work, most := rules.Repairs(), "", 0
	for _, s := range sentences(text) {
		for _, w := range works() {
			taken, notOf := map[int]bool{}, w.notOf
			for _, p := range w.patterns {
				_, at := p.in(s)
				if len(at) == 0 || s.isOf(at, notOf) || s.denies(at, t.NotYet, t.NotYetAfter) || s.denies(at, rules.Happened().DeniedBefore, nil) {
					continue
				}
				for _, i := range at {
					taken[i] = true
				}
			}
			letters := 0
			for i := range taken {
				letters += len(s.words[i])
			}
			if letters > most {
				work, most = w.kind, letters
			}
		}
	}
	return work
}

// isOf reports whether one of some words stands among those of a sentence, or just beside them.
func (s sentence) isOf(at []int, words []string) bool {
	const beside = 2
	for i := max(0, at[0]-beside); i <= min(at[len(at)-1]+beside, len(s.words)-1); i++ {
		begins := func(word string) bool {
			return s.words[i] == word || len(word) > 3 && strings.HasPrefix(s.words[i], word)
		}
		if s.part[i] == s.part[at[0]] && slices.ContainsFunc(words, begins) {
			return true
		}
	}
	return false
}
