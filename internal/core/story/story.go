// Package story reads what happened to an engine between its tests, as people write it down: under its kind, in their own words, with
// slips of the pen, denied, or under a wrong kind.
package story

import (
	"slices"
	"strings"
	"sync"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// Part is one thing that happened.
type Part struct {
	Happened rules.Harms
	Date     string
	Meter    *float64
	Guessed  bool // nobody wrote it: the dates and the meter say so
}

// kindOf returns what a text says has happened; "" where it says nothing known, or denies it. denied is what it says has not happened.
func kindOf(text string) (kind, denied string) {
	known.RLock()
	said, ok := known.texts[text]
	known.RUnlock()
	if ok {
		return said.kind, said.denied
	}
	kind, denied = readKind(text)
	known.Lock()
	defer known.Unlock()
	if len(known.texts) >= knownMost {
		clear(known.texts)
	}
	known.texts[text] = reading{kind, denied}
	return kind, denied
}

// knownMost is how many texts are remembered: they are read at every judgement, and matching a few hundred patterns takes its time.
const knownMost = 4096

type reading struct{ kind, denied string }

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

// Of returns what an event was: what its words say, else the kind that it was given; false where it was nothing that the table knows.
// Words stand above the kind, which is picked in a hurry.
func Of(e log.Event) (rules.Harms, bool) {
	kind, denied := kindOf(e.What)
	if kind == "" && e.Kind != denied {
		kind = e.Kind
	}
	return rules.Happened().Of(kind)
}

// AsksForTest returns what an event asks for, false where it asks for nothing: by the kind that it was given, since who picks “nothing”
// wants no test, else by its words.
func AsksForTest(e log.Event) (rules.Happening, bool) {
	if e.Kind != "" {
		h, ok := rules.Happened().Of(e.Kind)
		return h.Happening, ok && h.Asks != ""
	}
	h, ok := Of(e)
	return h.Happening, ok && h.Asks != ""
}

// Read returns all that happened to an engine up to a session, in order: its events, and what the notes of its sessions tell.
func Read(l log.Log) []Part {
	var all []Part
	for _, e := range l.Events {
		if e.Struck != "" || e.Date == "" {
			continue
		}
		if h, ok := Of(e); ok {
			all = append(all, Part{Happened: h, Date: e.Date, Meter: e.Meter})
		}
	}
	for _, s := range l.Sessions {
		if kind, _ := kindOf(s.Note); kind != "" {
			h, _ := rules.Happened().Of(kind)
			all = append(all, Part{Happened: h, Date: s.Date, Meter: s.Meter})
		}
	}
	slices.SortStableFunc(all, func(a, b Part) int { return strings.Compare(a.Date, b.Date) })
	return all
}
