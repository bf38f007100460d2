package rules

import (
	"cmp"
	"slices"

	"braxel/internal/core/log"
)

// Shop is what a workshop has of its own in the place of the built-in rules. The zero value has none.
type Shop struct {
	Protocols []Protocol
	Intervals []Interval
}

// AllIntervals returns the interval of every duty, the workshop's own in the place of the built-in one.
func (s Shop) AllIntervals() []Interval {
	all := make([]Interval, len(Intervals))
	for i, built := range Intervals {
		all[i] = s.IntervalOf(built.Duty)
	}
	return all
}

// IntervalOf returns the interval of a duty, the workshop's own before the built-in one; the street's where the duty has none.
func (s Shop) IntervalOf(duty string) Interval {
	duty = cmp.Or(duty, Duties[0].ID)
	for _, all := range [][]Interval{s.Intervals, Intervals} {
		if i := slices.IndexFunc(all, func(i Interval) bool { return i.Duty == duty }); i >= 0 {
			return all[i]
		}
	}
	return s.IntervalOf(Duties[0].ID)
}

// TestedEvery returns how long an engine is left between tests, in its own meter's unit, 0 where it is not known by that, and in months;
// and whose rule that is: “a circuit engine”, “by its plan it”. The engine's own stands before the workshop's.
func (s Shop) TestedEvery(e log.Engine) (every float64, months int, who string) {
	i := s.IntervalOf(e.Duty)
	every, months, who = i.By(e.MeterUnit), i.Months, DutyOf(e).Called
	if p := e.Plan; p != nil {
		every, who = p.Every, "by its plan it"
		if p.Months > 0 {
			months = p.Months
		}
	}
	return every, months, who
}

// ProtocolOf returns the protocol of that id, the workshop's own before the built-in one; the street's where there is none.
func (s Shop) ProtocolOf(id string) Protocol {
	for _, all := range [][]Protocol{s.Protocols, Protocols} {
		if i := slices.IndexFunc(all, func(p Protocol) bool { return p.ID == id }); i >= 0 {
			return all[i]
		}
	}
	return Protocols[0]
}

// AllProtocols returns every protocol, a workshop's own in the place of the built-in one of its id.
func (s Shop) AllProtocols() []Protocol {
	var all []Protocol
	for _, p := range Protocols {
		all = append(all, s.ProtocolOf(p.ID))
	}
	for _, p := range s.Protocols {
		if !slices.ContainsFunc(Protocols, func(b Protocol) bool { return b.ID == p.ID }) {
			all = append(all, p)
		}
	}
	return all
}

// TestedBy returns the protocol that a session of a log was made by.
func (s Shop) TestedBy(l log.Log, session log.Session) Protocol {
	if session.Protocol != "" {
		return s.ProtocolOf(session.Protocol)
	}
	return s.ProtocolOf(ProtocolFor(l.Engine))
}

// LimitOf returns the limits of an engine, the workshop's own before the built-in ones.
func (s Shop) LimitOf(e log.Engine) Limit {
	duty := DutyOf(e).ID
	i := slices.IndexFunc(Limits, func(l Limit) bool { return l.Duty == duty })
	return Limits[i]
}
