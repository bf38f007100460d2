package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"braxel/internal/core/log"
)

// Log returns an engine and its whole history, sessions in time order, and the revision it was read at. It is one
// consistent view: a test that is being typed is in it up to its last answered reading. Others read the same log: it is
// not to be changed.
func (s *Store) Log(ctx context.Context, engine string) (log.Log, int, error) {
	tx, err := s.read.BeginTx(ctx, &sql.TxOptions{ReadOnly: true})
	if err != nil {
		return log.Log{}, 0, err
	}
	defer func() { _ = tx.Rollback() }()
	var revision int
	err = tx.QueryRowContext(ctx, "SELECT revision FROM engine WHERE id = ?", engine).Scan(&revision)
	if errors.Is(err, sql.ErrNoRows) {
		return log.Log{}, 0, fmt.Errorf("engine %q: %w", engine, ErrUnknown)
	}
	if err != nil {
		return log.Log{}, 0, err
	}
	var l log.Log
	m, ok := s.recent.at(engine, revision)
	switch {
	case ok && len(m.stale) == 0:
		return m.log, revision, nil
	case ok:
		l, err = m.freshen(ctx, tx)
	default:
		l, _, err = readLog(ctx, tx, engine)
	}
	if err != nil {
		return log.Log{}, 0, err
	}
	s.recent.keep(engine, remembered{log: l, revision: revision})
	return l, revision, nil
}

// Whole returns the log with the unknown keys that an import kept, by JSON Pointer, for exporting it.
func (s *Store) Whole(ctx context.Context, engine string) (log.Log, map[string]any, error) {
	tx, err := s.read.BeginTx(ctx, &sql.TxOptions{ReadOnly: true})
	if err != nil {
		return log.Log{}, nil, err
	}
	defer func() { _ = tx.Rollback() }()
	return readLog(ctx, tx, engine)
}

func readLog(ctx context.Context, tx *sql.Tx, engine string) (log.Log, map[string]any, error) {
	l := log.Log{Format: log.Format, Version: log.Version, Sessions: []log.Session{}}
	var body []byte
	var more sql.NullString
	err := tx.QueryRowContext(ctx, "SELECT body, extra FROM engine WHERE id = ?", engine).Scan(&body, &more)
	if errors.Is(err, sql.ErrNoRows) {
		return l, nil, fmt.Errorf("engine %q: %w", engine, ErrUnknown)
	}
	if err != nil {
		return l, nil, err
	}
	if err := json.Unmarshal(body, &l.Engine); err != nil {
		return l, nil, err
	}
	var extra map[string]any
	if more.Valid {
		if err := json.Unmarshal([]byte(more.String), &extra); err != nil {
			return l, nil, err
		}
	}
	if err := readBuilds(ctx, tx, &l); err != nil {
		return l, nil, err
	}
	if err := readEvents(ctx, tx, &l); err != nil {
		return l, nil, err
	}
	if err := readSessions(ctx, tx, &l, ""); err != nil {
		return l, nil, err
	}
	return l, extra, readTesters(ctx, tx, &l)
}

func readBuilds(ctx context.Context, tx *sql.Tx, l *log.Log) (err error) {
	l.Builds, err = collect(func(r *sql.Rows) (b log.Build, err error) {
		return b, r.Scan(&b.ID, &b.Date, &b.What)
	})(tx.QueryContext(ctx, "SELECT id, date, what FROM build WHERE engine = ? ORDER BY rowid", l.Engine.ID))
	return err
}

func readEvents(ctx context.Context, tx *sql.Tx, l *log.Log) (err error) {
	l.Events, err = collect(func(r *sql.Rows) (e log.Event, err error) {
		return e, r.Scan(&e.Date, &e.Meter, &e.What)
	})(tx.QueryContext(ctx, "SELECT date, meter, what FROM event WHERE engine = ? ORDER BY date, n", l.Engine.ID))
	return err
}

// readSessions reads the sessions, or the one named, and spreads their entries over them. Entries are read with one query
// a table.
func readSessions(ctx context.Context, tx *sql.Tx, l *log.Log, only string) error {
	at := map[int64]int{}
	sessions, err := collect(func(r *sql.Rows) (s log.Session, err error) {
		var n int64
		var conditions, sheet []byte
		if err := r.Scan(&n, &s.ID, &s.Date, &s.Build, &s.Stage, &s.Meter, &s.Baseline, &s.Operator, &s.Note, &s.Open, &conditions, &sheet); err != nil {
			return s, err
		}
		at[n] = len(at)
		var h head
		if err := json.Unmarshal(sheet, &h); err != nil {
			return s, err
		}
		h.put(&s)
		return s, json.Unmarshal(conditions, &s.Conditions)
	})(tx.QueryContext(ctx,
		"SELECT n, id, date, build, stage, meter, baseline, operator, note, open, conditions, sheet FROM session WHERE engine = ?1 AND (?2 = '' OR id = ?2) ORDER BY date, n", l.Engine.ID, only))
	if err != nil {
		return err
	}
	l.Sessions = append(l.Sessions, sessions...)
	for _, read := range []func(context.Context, *sql.Tx, *log.Log, string, map[int64]int) error{readPulls, readLeakdowns, readObservations} {
		if err := read(ctx, tx, l, only, at); err != nil {
			return err
		}
	}
	return nil
}

const ofEngine = " WHERE session IN (SELECT n FROM session WHERE engine = ?1 AND (?2 = '' OR id = ?2)) ORDER BY session, "

func readPulls(ctx context.Context, tx *sql.Tx, l *log.Log, only string, at map[int64]int) error {
	rows, err := tx.QueryContext(ctx,
		"SELECT session, line, mode, cylinder, rotor, face, tester, oil_cc, value, unit, beats, rpm, battery_v, struck, note, key, at FROM pull"+ofEngine+"line, n", l.Engine.ID, only)
	if err != nil {
		return err
	}
	defer func() { _ = rows.Close() }()
	lastSession, lastLine := int64(-1), -1
	for rows.Next() {
		var session int64
		var line int
		var row log.Compression
		var p log.Pull
		if err := rows.Scan(&session, &line, &row.Mode, &row.Cylinder, &row.Rotor, &row.Face, &row.Tester, &row.OilCC,
			&p.Value, &p.Unit, &p.Beats, &p.RPM, &p.BatteryV, &p.Struck, &p.Note, &p.Key, &p.At); err != nil {
			return err
		}
		s := &l.Sessions[at[session]]
		if session != lastSession || line != lastLine {
			s.Compression = append(s.Compression, row)
			lastSession, lastLine = session, line
		}
		last := &s.Compression[len(s.Compression)-1]
		last.Pulls = append(last.Pulls, p)
	}
	return rows.Err()
}

func readLeakdowns(ctx context.Context, tx *sql.Tx, l *log.Log, only string, at map[int64]int) error {
	_, err := collect(func(r *sql.Rows) (none struct{}, err error) {
		var session int64
		var row log.Leakdown
		var paths sql.NullString
		if err := r.Scan(&session, &row.Cylinder, &row.Tester, &row.Supply, &row.Held, &row.Unit, &row.Position, &row.Struck, &row.Note, &paths, &row.Key); err != nil {
			return none, err
		}
		if paths.Valid {
			if err := json.Unmarshal([]byte(paths.String), &row.Paths); err != nil {
				return none, err
			}
		}
		s := &l.Sessions[at[session]]
		s.Leakdown = append(s.Leakdown, row)
		return none, nil
	})(tx.QueryContext(ctx,
		"SELECT session, cylinder, tester, supply, held, unit, position, struck, note, paths, key FROM leakdown"+ofEngine+"n", l.Engine.ID, only))
	return err
}

func readObservations(ctx context.Context, tx *sql.Tx, l *log.Log, only string, at map[int64]int) error {
	_, err := collect(func(r *sql.Rows) (none struct{}, err error) {
		var session int64
		var o log.Observation
		if err := r.Scan(&session, &o.What, &o.Cylinder, &o.Finding, &o.Value, &o.Unit, &o.Note, &o.Key); err != nil {
			return none, err
		}
		s := &l.Sessions[at[session]]
		s.Observations = append(s.Observations, o)
		return none, nil
	})(tx.QueryContext(ctx, "SELECT session, what, cylinder, finding, value, unit, note, key FROM observation"+ofEngine+"n", l.Engine.ID, only))
	return err
}

// readTesters reads the testers that the log's rows name.
func readTesters(ctx context.Context, tx *sql.Tx, l *log.Log) error {
	used := map[string]bool{}
	for _, s := range l.Sessions {
		for _, row := range s.Compression {
			used[row.Tester] = true
		}
		for _, row := range s.Leakdown {
			used[row.Tester] = true
		}
	}
	all, err := collect(func(r *sql.Rows) (t log.Tester, err error) {
		var body []byte
		if err := r.Scan(&body); err != nil {
			return t, err
		}
		return t, json.Unmarshal(body, &t)
	})(tx.QueryContext(ctx, "SELECT body FROM tester ORDER BY id"))
	l.Testers = slices.DeleteFunc(all, func(t log.Tester) bool { return !used[t.ID] })
	return err
}

// Import keeps a whole log as a new engine, in one transaction, and returns the engine's id. A tester that has a name
// and is in every figure the shop's own is that one; any other comes in as a new one.
func (s *Store) Import(ctx context.Context, l log.Log, extra map[string]any) (string, error) {
	tx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return "", err
	}
	defer func() { _ = tx.Rollback() }()
	e, err := addEngine(ctx, tx, l.Engine, extra)
	if err != nil {
		return "", err
	}
	testers, err := importTesters(ctx, tx, e.ID, l.Testers)
	if err != nil {
		return "", err
	}
	for _, b := range l.Builds {
		if err := addBuild(ctx, tx, e.ID, b); err != nil {
			return "", err
		}
	}
	for _, one := range l.Events {
		if err := addEvent(ctx, tx, e.ID, one); err != nil {
			return "", err
		}
	}
	for _, one := range l.Sessions {
		if err := importSession(ctx, tx, e.ID, one, testers); err != nil {
			return "", fmt.Errorf("session %s: %w", one.ID, err)
		}
	}
	return e.ID, tx.Commit()
}

func importSession(ctx context.Context, tx *sql.Tx, engine string, one log.Session, testers map[string]string) error {
	one.Gauge, one.Kit = testers[one.Gauge], testers[one.Kit]
	n, err := addSession(ctx, tx, engine, one)
	if err != nil {
		return err
	}
	for i, row := range one.Compression {
		row.Tester = testers[row.Tester]
		if err := addPulls(ctx, tx, n, i, row); err != nil {
			return err
		}
	}
	for i, row := range one.Leakdown {
		row.Tester = testers[row.Tester]
		if row.Key == "" {
			row.Key = fmt.Sprint(i)
		}
		if err := addLeakdown(ctx, tx, n, row); err != nil {
			return err
		}
	}
	for i, o := range one.Observations {
		if o.Key == "" {
			o.Key = fmt.Sprint(i)
		}
		if err := addObservation(ctx, tx, n, o); err != nil {
			return err
		}
	}
	return nil
}

// importTesters returns the shop's id for each of the log's tester ids.
func importTesters(ctx context.Context, tx *sql.Tx, engine string, testers []log.Tester) (map[string]string, error) {
	ids := map[string]string{}
	for _, t := range testers {
		body, err := json.Marshal(t)
		if err != nil {
			return nil, err
		}
		var same int
		err = tx.QueryRowContext(ctx, "SELECT 1 FROM tester WHERE id = ? AND body = ?", t.ID, string(body)).Scan(&same)
		switch {
		case err == nil && t.Name != "":
			ids[t.ID] = t.ID
		case err == nil || errors.Is(err, sql.ErrNoRows):
			want := t.ID
			if t.Name == "" {
				want = engine + "-" + t.ID
			}
			kept, err := addTester(ctx, tx, t, want)
			if err != nil {
				return nil, err
			}
			ids[t.ID] = kept.ID
		default:
			return nil, err
		}
	}
	return ids, nil
}
