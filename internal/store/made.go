package store

import (
	"context"
	"database/sql"
	"maps"
	"strings"

	"braxel/internal/core/book"
	"braxel/internal/core/say"
	"braxel/internal/plain"
)

// Made is what was made of an engine and can be made anew: what the rack shows of it, and how its gauges repeated. It holds
// for the engine and the workshop at the revisions it was made from, and for the judge of that edition.
type Made struct {
	Engine   string
	Revision int // of the engine when it was made
	Shop     int
	Judge    int
	Rack     []byte
	Spreads  []byte
	Holds    bool // what the rack shows; else it is what was made last, nil where nothing was
}

// Rack returns every engine with what was made of it last, and whether that holds for a judge of that edition. The spreads hold as long
// as the engine is as it was; else there are none.
func (s *Store) Rack(ctx context.Context, judge int) ([]Made, error) {
	made, err := collect(func(r *sql.Rows) (m Made, err error) {
		return m, r.Scan(&m.Engine, &m.Revision, &m.Shop, &m.Judge, &m.Rack, &m.Spreads)
	})(s.read.QueryContext(ctx, "SELECT engine, revision, shop, judge, rack, spreads FROM made"))
	if err != nil {
		return nil, err
	}
	byEngine := map[string]Made{}
	for _, m := range made {
		byEngine[m.Engine] = m
	}
	ids := s.Engines()
	s.mu.Lock()
	defer s.mu.Unlock()
	all := make([]Made, len(ids))
	for i, id := range ids {
		m := byEngine[id]
		now := Made{Engine: id, Revision: s.revisions[id], Shop: s.ruled, Judge: judge, Rack: m.Rack}
		if m.Revision == now.Revision {
			now.Spreads = m.Spreads
			now.Holds = m.Shop == now.Shop && m.Judge == judge
		}
		all[i] = now
	}
	return all, nil
}

// Names returns what each engine is called, for a list that cannot wait until their books are read.
func (s *Store) Names() map[string]string {
	s.mu.Lock()
	defer s.mu.Unlock()
	return maps.Clone(s.names)
}

// Stamp returns a number that rises with every entry that is kept: what was made under one stamp holds as long as it stands.
func (s *Store) Stamp() int {
	s.mu.Lock()
	defer s.mu.Unlock()
	last := 0
	for _, n := range s.revisions {
		last = max(last, n)
	}
	return last
}

// KeepMade stores what was made of engines.
func (s *Store) KeepMade(ctx context.Context, all []Made) error {
	tx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }()
	for _, m := range all {
		if _, err := tx.ExecContext(ctx, "INSERT OR REPLACE INTO made (engine, revision, shop, judge, rack, spreads) VALUES (?, ?, ?, ?, ?, ?)",
			m.Engine, m.Revision, m.Shop, m.Judge, string(m.Rack), string(m.Spreads)); err != nil {
			return err
		}
	}
	return tx.Commit()
}

// Check returns what is wrong with the file and with the entries in it: SQLite's own findings, entries that cannot be placed,
// pictures that are missing. It is empty when all is sound.
func (s *Store) Check(ctx context.Context) ([]string, error) {
	faults, err := collect(func(r *sql.Rows) (string, error) {
		var line string
		return line, r.Scan(&line)
	})(s.read.QueryContext(ctx, "PRAGMA integrity_check"))
	if len(faults) == 1 && faults[0] == "ok" && err == nil {
		faults = nil
	}
	if err != nil {
		faults = append(faults, say.Text("store.not-all-pages-file-can", "err", err))
	}
	for _, id := range s.Engines() {
		v, err := s.View(ctx, id)
		if err != nil {
			faults = append(faults, say.Text("store.engine-2", "id", id, "err", plain.Words(err)))
			continue
		}
		for _, u := range v.Unplaced {
			faults = append(faults, say.Text("store.engine-entry-cant-placed",
				"id", id,
				"entry", u.Entry,
				"kind", u.Kind,
				"why", u.Why,
			))
		}
		for _, f := range v.Log.Check() {
			faults = append(faults, say.Text("store.engine-3", "id", id, "at", f.At, "what", f.What))
		}
	}
	more, err := s.unreadable(ctx)
	if err != nil {
		return faults, err
	}
	faults = append(faults, more...)
	if gone := s.Missing(ctx); gone != "" {
		faults = append(faults, gone)
	}
	missing, err := s.missingPhotos(ctx)
	if err != nil {
		missing = append(missing, say.Text("store.not-every-photo-can-checked", "err", err))
	}
	faults = append(faults, missing...)
	for i, f := range faults { // of a damaged page, anything may be in it
		faults[i] = strings.ToValidUTF8(f, "?")
	}
	return faults, nil
}

// unreadable names the entries whose body cannot be read, or that are of a kind that nobody knows.
func (s *Store) unreadable(ctx context.Context) ([]string, error) {
	var faults []string
	err := s.each(ctx, func(e book.Entry) {
		if f := book.CheckEnvelope(e); len(f) > 0 {
			faults = append(faults, say.Text("store.entry", "id", e.ID, "kind", e.Kind, "at", f[0].At, "what", f[0].What))
		}
	})
	if err != nil {
		faults = append(faults, say.Text("store.not-every-entry-can-read", "err", err))
	}
	return faults, nil
}
