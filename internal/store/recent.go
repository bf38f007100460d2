package store

import (
	"context"
	"database/sql"
	"slices"
	"sync"

	lru "github.com/hashicorp/golang-lru/v2"

	"braxel/internal/core/log"
)

// recentLogs is how many engines' logs are kept in memory: the ones under test, not the whole rack.
const recentLogs = 64

// recent keeps the logs that were read last, so that a reading does not read the whole history of its engine again.
type recent struct {
	mu   sync.Mutex
	logs *lru.Cache[string, remembered]
}

// remembered is a log at a revision; the sessions in stale have changed since it was read, and nothing else has.
type remembered struct {
	log      log.Log
	revision int
	stale    []string
}

func newRecent() *recent {
	logs, err := lru.New[string, remembered](recentLogs)
	if err != nil {
		panic(err) // only a size below one is refused
	}
	return &recent{logs: logs}
}

// at returns what is remembered of an engine at that revision.
func (r *recent) at(engine string, revision int) (remembered, bool) {
	r.mu.Lock()
	defer r.mu.Unlock()
	m, ok := r.logs.Get(engine)
	return m, ok && m.revision == revision
}

// keep remembers a log, unless a later one is remembered already.
func (r *recent) keep(engine string, m remembered) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if have, ok := r.logs.Peek(engine); !ok || have.revision <= m.revision {
		r.logs.Add(engine, m)
	}
}

// changed takes note that a transaction made this revision, by a change to one session or, where session is "", to
// anything.
func (r *recent) changed(engine, session string, revision int) {
	r.mu.Lock()
	defer r.mu.Unlock()
	m, ok := r.logs.Peek(engine)
	switch {
	case !ok || m.revision >= revision:
	case session == "" || m.revision != revision-1:
		r.logs.Remove(engine)
	default:
		m.revision = revision
		if !slices.Contains(m.stale, session) {
			m.stale = append(slices.Clone(m.stale), session)
		}
		r.logs.Add(engine, m)
	}
}

// freshen returns the log with its stale sessions read again. The log it was made from is left as it is: others may be
// reading it.
func (m remembered) freshen(ctx context.Context, tx *sql.Tx) (log.Log, error) {
	l := m.log
	l.Sessions = slices.Clone(l.Sessions)
	for _, id := range m.stale {
		fresh := log.Log{Engine: l.Engine}
		if err := readSessions(ctx, tx, &fresh, id); err != nil {
			return l, err
		}
		for _, s := range fresh.Sessions {
			l.Sessions[slices.IndexFunc(l.Sessions, func(old log.Session) bool { return old.ID == s.ID })] = s
		}
	}
	return l, readTesters(ctx, tx, &l)
}
