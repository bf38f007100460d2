package book

import (
	"slices"

	"braxel/internal/core/log"
)

// mark is an entry about another entry: a strike, its taking back, a confirmation, a move.
type mark struct {
	*Entry
	body MarkBody
}

// name is what marks go by: an entry's id, or a test and the key of a reading in it.
type name struct{ test, key string }

func (b MarkBody) target() name { return name{b.Test, b.Entry} }

// state is what the marks on something come to.
type state struct {
	struck string
	asRead bool
	place  log.Place
	toTest string
	tester string
}

// deepest is how far strikes of strikes are followed; nobody goes so far but to harm.
const deepest = 8

// state returns what the marks on a name come to, in order. The first reason of a strike stands until it is taken back. A
// mark that is struck itself counts for nothing.
func (b *Book) state(names ...name) state {
	if len(b.marks) == 0 {
		return state{}
	}
	return b.stateAt(0, names)
}

func (b *Book) stateAt(depth int, names []name) state {
	var all []mark
	for _, n := range names {
		all = append(all, b.marks[n]...)
	}
	var s state
	if len(all) == 0 || depth > deepest {
		return s
	}
	slices.SortFunc(all, func(x, y mark) int { return before(x.Entry, y.Entry) })
	for _, m := range all {
		if b.stateAt(depth+1, []name{{key: m.ID}}).struck != "" {
			continue
		}
		switch m.Kind {
		case Strike:
			if s.struck == "" {
				s.struck = m.body.Why
			}
		case Unstrike:
			s.struck = ""
		case AsRead:
			s.asRead = true
		case Move:
			s.move(m.body)
		}
	}
	return s
}

// move takes a reading to another place or test, or to the tester that it was read with: the one leaves the other as it was.
func (s *state) move(to MarkBody) {
	if to.Tester != "" {
		s.tester = to.Tester
	}
	if to.Place != (log.Place{}) || to.ToTest != "" {
		s.place, s.toTest = to.Place, to.ToTest
	}
}

func (b *Book) struck(id string) string { return b.state(name{key: id}).struck }
