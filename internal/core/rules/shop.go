package rules

import (
	"cmp"
	"slices"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Shop is what a workshop has of its own in the place of the built-in rules. The zero value has none.
type Shop struct {
	Protocols []Protocol
	Intervals []Interval // as older versions keep them: what Own says stands above them
	Own       []Own
	Shown     units.Choice // in which units and forms things are said
}

// With returns the shop with one value changed.
func (s Shop) With(o Own) Shop {
	s.Own = append(slices.DeleteFunc(slices.Clone(s.Own), func(have Own) bool { return have.ID == o.ID }), o)
	return s
}

// own returns the workshop's own value of a setting, else what is given.
func (s Shop) own(id string, otherwise float64) float64 {
	if i := slices.IndexFunc(s.Own, func(o Own) bool { return o.ID == id }); i >= 0 {
		return s.Own[i].Value
	}
	return otherwise
}

// CheckOwn returns what is wrong with a value beside the others of the workshop: what is watched cannot stand above what is acted upon.
func (s Shop) CheckOwn(o Own) log.Faults {
	if f := o.Check(); len(f) > 0 {
		return f
	}
	for _, d := range Duties {
		l := s.With(o).limitAsSet(d.ID)
		if strings.HasPrefix(o.ID, "limits."+d.ID+".") && (l.LeakWatch > l.LeakAct || l.LossWatch > l.LossAct) {
			if l.LossWatch > l.LossAct {
				return log.Faults{log.At("/value", "rules.watch-from-act-from-first-2", "lossWatch", l.LossWatch, "lossAct", l.LossAct)}
			}
			return log.Faults{log.At("/value", "rules.watch-from-act-from-first", "leakWatch", l.LeakWatch, "leakAct", l.LeakAct)}
		}
	}
	return nil
}

// limitAsSet returns the limits of a duty as they were set, the workshop's own before the built-in ones.
func (s Shop) limitAsSet(duty string) Limit {
	limit := builtInLimit(duty)
	for _, f := range limitFields {
		at := f.of(&limit)
		*at = s.own("limits."+duty+"."+f.id, *at)
	}
	return limit
}

// LimitOf returns the limits of an engine, the workshop's own before the built-in ones. What is acted upon is watched, whatever two machines
// that were merged have set.
func (s Shop) LimitOf(e log.Engine) Limit {
	limit := s.limitAsSet(DutyOf(e).ID)
	limit.LeakWatch, limit.LossWatch = min(limit.LeakWatch, limit.LeakAct), min(limit.LossWatch, limit.LossAct)
	return limit
}

// IntervalOf returns the interval of a duty, the workshop's own before the built-in one; the street's where the duty has none.
func (s Shop) IntervalOf(duty string) Interval {
	duty = DutyOf(log.Engine{Duty: duty}).ID
	out := builtInInterval(duty)
	if i := slices.IndexFunc(s.Intervals, func(i Interval) bool { return i.Duty == duty }); i >= 0 {
		out = s.Intervals[i]
	}
	figures := asFigures(out)
	for _, f := range intervalFields {
		at := f.of(&figures)
		*at = s.own("intervals."+duty+"."+f.id, *at)
	}
	out.Hours, out.Km, out.Events, out.Months = figures.hours, figures.km, figures.events, int(figures.months)
	return out
}

// TestedEvery returns how long an engine is left between tests, in its own meter's unit, 0 where it is not known by that, and in months;
// and whose rule that is: “a circuit engine”, “by its plan it”. The engine's own stands before the workshop's.
func (s Shop) TestedEvery(e log.Engine) (every float64, months int, who string) {
	i := s.IntervalOf(e.Duty)
	every, months, who = i.By(e.MeterUnit), i.Months, DutyOf(e).Called
	if p := e.Plan; p != nil {
		every, who = p.Every, say.Text("rules.own-rule")
		months = cmp.Or(p.Months, months)
	}
	return every, months, who
}

// CausesFor returns the table of causes for a kind of engine, with the workshop's own chances.
func (s Shop) CausesFor(kind string) CauseTable {
	t := Causes().For(kind)
	for i, c := range t.Causes {
		t.Causes[i].Prior = s.own("causes."+c.Cause, c.Prior)
	}
	return t
}

// Values returns what each setting is in the workshop, by id.
func (s Shop) Values() map[string]float64 {
	all := map[string]float64{}
	for _, d := range Duties {
		limit, every := s.LimitOf(log.Engine{Duty: d.ID}), asFigures(s.IntervalOf(d.ID))
		for _, f := range limitFields {
			all["limits."+d.ID+"."+f.id] = *f.of(&limit)
		}
		for _, f := range intervalFields {
			all["intervals."+d.ID+"."+f.id] = *f.of(&every)
		}
	}
	for _, c := range Causes().Causes {
		all["causes."+c.Cause] = s.own("causes."+c.Cause, c.Prior)
	}
	return all
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
