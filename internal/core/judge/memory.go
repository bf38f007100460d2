package judge

import (
	"maps"
	"reflect"
	"slices"
	"sync"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// Memory judges one engine's logs, and remembers how far it has come, so that one more reading costs one step and no replay. What it
// says is what Log says. The zero value remembers nothing yet; it can be used by several at once.
type Memory struct {
	mu       sync.Mutex
	log      log.Log // as it was last judged
	shop     rules.Shop
	sessions []Session
	before   known // what was known before its last session
	at       int   // the number of sessions that before knows of
}

// Log is the package's Log.
func (m *Memory) Log(l log.Log, shop rules.Shop) Verdict {
	m.mu.Lock()
	defer m.mu.Unlock()
	l.Testers = used(l)
	from := 0
	if m.goesOn(l, shop) {
		from = m.at
	}
	on, all := subjectOf(l, shop), known{builds: map[string]past{}}
	if from > 0 {
		all = known{maps.Clone(m.before.builds), m.before.last}
	}
	v := Verdict{Format: verdictFormat, Version: 1, Engine: l.Engine.Name, Sessions: slices.Clone(m.sessions[:from])}
	if v.Sessions == nil {
		v.Sessions = []Session{}
	}
	for i := from; i < len(l.Sessions); i++ {
		if i == len(l.Sessions)-1 {
			m.before, m.at = known{maps.Clone(all.builds), all.last}, i
		}
		v.Sessions = append(v.Sessions, oneMore(on, &all, i))
	}
	m.log, m.shop, m.sessions = l, shop, slices.Clone(v.Sessions)
	return v
}

// goesOn reports whether a log is what was judged, but for its last sessions.
func (m *Memory) goesOn(l log.Log, shop rules.Shop) bool {
	same := func(a, b any) bool { return reflect.DeepEqual(a, b) }
	return m.at > 0 && m.at <= len(l.Sessions) && same(m.shop, shop) && same(m.log.Engine, l.Engine) &&
		same(m.log.Testers, l.Testers) && same(m.log.Builds, l.Builds) && same(m.log.Events, l.Events) &&
		same(m.log.Notes, l.Notes) && same(m.log.Sessions[:m.at], l.Sessions[:m.at])
}

// used returns the testers that a log's readings name, in their order.
func used(l log.Log) []log.Tester {
	named, last := map[string]bool{}, ""
	note := func(id string) {
		if id != last { // mostly it is the one before
			named[id], last = true, id
		}
	}
	for _, s := range l.Sessions {
		for _, row := range s.Compression {
			note(row.Tester)
		}
		for _, row := range s.Leakdown {
			note(row.Tester)
		}
	}
	return slices.DeleteFunc(slices.Clone(l.Testers), func(t log.Tester) bool { return !named[t.ID] })
}
