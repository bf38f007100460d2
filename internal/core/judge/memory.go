package judge

import (
	"maps"
	"reflect"
	"slices"
	"sync"

	"braxel/internal/core/log"
	"braxel/internal/core/protocol"
)

// Memory judges one engine's logs, and remembers how far it has come, so that one more reading costs one step and no replay. What it
// says is what Log says. The zero value remembers nothing yet; it can be used by several at once.
type Memory struct {
	mu       sync.Mutex
	log      log.Log // as it was last judged
	own      []protocol.Protocol
	sessions []Session
	before   map[string]*history // what was known before its last session, by build
	at       int                 // the number of sessions that before knows of
}

// Log is the package's Log.
func (m *Memory) Log(l log.Log, own ...protocol.Protocol) Verdict {
	m.mu.Lock()
	defer m.mu.Unlock()
	l.Testers = used(l)
	from := 0
	if m.goesOn(l, own) {
		from = m.at
	}
	builds := map[string]*history{}
	if from > 0 {
		builds = clone(m.before, l)
	}
	v := Verdict{Format: verdictFormat, Version: 1, Engine: l.Engine.Name, Sessions: slices.Clone(m.sessions[:from])}
	if v.Sessions == nil {
		v.Sessions = []Session{}
	}
	for i := from; i < len(l.Sessions); i++ {
		if i == len(l.Sessions)-1 {
			m.before, m.at = clone(builds, l), i
		}
		v.Sessions = append(v.Sessions, oneMore(builds, l, l.Sessions[i], own))
	}
	m.log, m.own, m.sessions = l, own, slices.Clone(v.Sessions)
	return v
}

// goesOn reports whether a log is what was judged, but for its last sessions.
func (m *Memory) goesOn(l log.Log, own []protocol.Protocol) bool {
	same := func(a, b any) bool { return reflect.DeepEqual(a, b) }
	return m.at > 0 && m.at <= len(l.Sessions) && same(m.own, own) && same(m.log.Engine, l.Engine) &&
		same(m.log.Testers, l.Testers) && same(m.log.Builds, l.Builds) && same(m.log.Sessions[:m.at], l.Sessions[:m.at])
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

// clone returns what is known of each build, for another log of the same engine.
func clone(builds map[string]*history, l log.Log) map[string]*history {
	out := make(map[string]*history, len(builds))
	for id, h := range builds {
		c := *h
		c.log = l
		if h.believed != nil {
			c.believed = h.believed.Clone()
		}
		c.known, c.pooled, c.points = maps.Clone(h.known), maps.Clone(h.pooled), maps.Clone(h.points)
		for k, p := range c.points {
			c.points[k] = slices.Clip(p) // what one appends the other does not see
		}
		c.effects = make(map[string]*effect, len(h.effects))
		for k, e := range h.effects {
			one := *e
			c.effects[k] = &one
		}
		c.losses, c.visits = slices.Clip(h.losses), slices.Clip(h.visits)
		for i := range c.ways {
			c.ways[i] = slices.Clip(h.ways[i])
		}
		out[id] = &c
	}
	return out
}
