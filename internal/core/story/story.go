// Package story reads what happened to an engine between its tests, as people write it down: under its kind, in their own words, with
// slips of the pen, denied, or under a wrong kind.
package story

import (
	"slices"
	"strings"

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
