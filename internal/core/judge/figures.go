package judge

import (
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// Reader reads the sessions of a log one after the other, as the judge does: gauges repeat as they did so far.
type Reader struct {
	on      *subject
	repeats repeats
	steps   written
}

// NewReader returns a reader of a log's sessions, from the first on.
func NewReader(l log.Log, shop rules.Shop) *Reader { return &Reader{on: subjectOf(l, shop)} }

// Figures returns what one session of a log read of each cylinder, in the layout's order.
func Figures(l log.Log, s log.Session, shop rules.Shop) []Figure {
	r := NewReader(l, shop)
	for _, before := range l.Sessions {
		if before.ID == s.ID {
			break
		}
		r.repeats = r.repeats.with(before)
	}
	return r.Next(s)
}

// Next reads the next session.
func (r *Reader) Next(s log.Session) []Figure {
	r.repeats = r.repeats.with(s)
	now := read(r.on, r.repeats, &r.steps, s)
	var all []Figure
	for _, c := range r.on.order {
		if f, read := now[c]; read {
			all = append(all, f.laid())
		}
	}
	return all
}
