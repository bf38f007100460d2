package store

import (
	"context"
	"database/sql"
	"strconv"
	"strings"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// Files of schema 1 and 2 kept engines, tests and readings in tables of their own. toBook reads them once, writes them as
// entries, and lets the tables go: in one transaction, so that a file is of the one form or the other.
func toBook(ctx context.Context, tx *sql.Tx) error {
	if _, err := tx.ExecContext(ctx, bookTables); err != nil {
		return err
	}
	shop, err := oldShop(ctx, tx)
	if err != nil {
		return err
	}
	engines, err := collect(
		func(r *sql.Rows) (id string, err error) { return id, r.Scan(&id) },
	)(
		tx.QueryContext(ctx, "SELECT id FROM engine ORDER BY id"),
	)
	if err != nil {
		return err
	}
	for _, id := range engines {
		l, err := oldLog(ctx, tx, id)
		if err != nil {
			return say.Error("store.engine-2", "id", id, "err", err)
		}
		entries, _ := book.FromLog(l, book.Of(id), shop)
		for _, e := range entries {
			if _, err := insert(ctx, tx, e, time.Now()); err != nil {
				return say.Error("store.engine-2", "id", id, "err", err)
			}
		}
	}
	_, err = tx.ExecContext(
		ctx,
		"DROP TABLE observation; DROP TABLE leakdown; DROP TABLE pull; DROP TABLE session; DROP TABLE event; DROP TABLE build; DROP TABLE tester; DROP TABLE protocol; DROP TABLE engine",
	)
	return err
}

const bookTables = `
CREATE TABLE entry (
  n       INTEGER PRIMARY KEY,           -- the order of arrival; an engine's last is its revision
  id      TEXT NOT NULL UNIQUE,          -- made where it was typed
  at      TEXT NOT NULL,                 -- when it was typed, UTC
  clock   TEXT,                          -- what the device's clock said, where that ran ahead
  by      TEXT,                          -- who, on which device
  engine  TEXT NOT NULL,                 -- '' for what is the workshop's
  kind    TEXT NOT NULL,
  body    TEXT NOT NULL,                 -- JSON
  was     TEXT,                          -- JSON: what the changed fields held, as far as it was seen
  sure    INTEGER NOT NULL DEFAULT 0,    -- it was asked about, and meant
  doubt   TEXT,                          -- why the reading was doubted when it came in
  arrived INTEGER NOT NULL               -- when it was kept here, ms since 1970
) STRICT;
CREATE INDEX entry_engine ON entry(engine);

-- What can be made anew from the entries: a row that is lost or out of date costs time and nothing else.
CREATE TABLE made (
  engine   TEXT PRIMARY KEY,
  revision INTEGER NOT NULL,
  shop     INTEGER NOT NULL,
  judge    INTEGER NOT NULL,
  rack     TEXT NOT NULL,
  spreads  TEXT NOT NULL
) STRICT;

-- For reading the file with any SQLite tool; what is struck is in strikes.
CREATE VIEW pulls AS SELECT engine, body ->> 'test' AS test, body ->> 'cylinder' AS cylinder, body ->> 'mode' AS mode, body ->> 'value' AS value,
  body ->> 'unit' AS unit, body ->> 'tester' AS tester, at, by, id FROM entry WHERE kind = 'pull';
CREATE VIEW leakdowns AS SELECT engine, body ->> 'test' AS test, body ->> 'cylinder' AS cylinder, body ->> 'supply' AS supply, body ->> 'held' AS held,
  body ->> 'pct' AS pct, body ->> 'unit' AS unit, body ->> 'paths' AS paths, at, by, id FROM entry WHERE kind = 'leakdown';
CREATE VIEW tests AS SELECT engine, body ->> 'id' AS test, body ->> 'date' AS date, kind, body, at, by, id FROM entry WHERE kind IN ('test', 'whole');
CREATE VIEW strikes AS SELECT engine, kind, body ->> 'entry' AS entry, body ->> 'test' AS test, body ->> 'why' AS why, at, by, id
  FROM entry WHERE kind IN ('strike', 'unstrike');`

// oldShop turns the workshop's testers and protocols into entries, and returns their book.
func oldShop(ctx context.Context, tx *sql.Tx) (*book.Book, error) {
	shop := book.Of("")
	for _, of := range []struct{ kind, table string }{{book.Tester, "tester"}, {book.Protocol, "protocol"}} {
		bodies, err := collect(
			func(r *sql.Rows) (body []byte, err error) { return body, r.Scan(&body) },
		)(
			tx.QueryContext(ctx, "SELECT body FROM "+of.table+" ORDER BY id"),
		)
		if err != nil {
			return nil, err
		}
		for _, body := range bodies {
			e := book.Entry{
				ID:   book.NameOf(of.kind, "", string(body)),
				At:   time.UnixMilli(0).UTC().Format(book.Clock),
				By:   "import",
				Kind: of.kind,
				Body: jsontext.Value(body),
			}
			if _, err := insert(ctx, tx, e, time.Now()); err != nil {
				return nil, err
			}
			shop.Add(e)
		}
	}
	return shop, nil
}

// oldLog reads an engine and its history from the tables of schema 2.
func oldLog(ctx context.Context, tx *sql.Tx, engine string) (log.Log, error) {
	l := log.Log{Format: log.Format, Version: log.Version, Sessions: []log.Session{}}
	var body []byte
	var extra sql.NullString
	if err := tx.QueryRowContext(ctx, "SELECT body, extra FROM engine WHERE id = ?", engine).Scan(&body, &extra); err != nil {
		return l, err
	}
	if err := json.Unmarshal(body, &l.Engine); err != nil {
		return l, err
	}
	l.Engine.ID = engine
	if err := readBuilds(ctx, tx, &l); err != nil {
		return l, err
	}
	if err := readEvents(ctx, tx, &l); err != nil {
		return l, err
	}
	if err := readSessions(ctx, tx, &l); err != nil {
		return l, err
	}
	if !extra.Valid {
		return l, nil
	}
	return withExtra(l, extra.String)
}

// withExtra puts the unknown keys of an imported log, which schema 2 kept by JSON Pointer, back where they stood.
func withExtra(l log.Log, extra string) (log.Log, error) {
	var kept map[string]jsontext.Value
	if err := json.Unmarshal([]byte(extra), &kept); err != nil {
		return l, err
	}
	text, err := json.Marshal(l)
	if err != nil {
		return l, err
	}
	var doc any
	if err := json.Unmarshal(text, &doc); err != nil {
		return l, err
	}
	for at, value := range kept {
		put(doc, strings.Split(at, "/")[1:], value)
	}
	if text, err = json.Marshal(doc); err != nil {
		return l, err
	}
	var whole log.Log
	if err := json.Unmarshal(text, &whole); err != nil {
		// A stranger has since become a field of another form: it is kept beside the log as it was kept.
		l.Rest, err = json.Marshal(map[string]jsontext.Value{"from_elsewhere": jsontext.Value(extra)})
		return l, err
	}
	return whole, nil
}

func put(doc any, path []string, value any) {
	step := strings.NewReplacer("~1", "/", "~0", "~").Replace(path[0])
	switch d := doc.(type) {
	case map[string]any:
		if len(path) == 1 {
			d[step] = value
			return
		}
		if d[step] == nil {
			d[step] = map[string]any{}
		}
		put(d[step], path[1:], value)
	case []any:
		if i, err := strconv.Atoi(step); err == nil && i >= 0 && i < len(d) && len(path) > 1 {
			put(d[i], path[1:], value)
		}
	}
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

// readSessions reads the sessions and spreads their entries over them, with one query a table.
func readSessions(ctx context.Context, tx *sql.Tx, l *log.Log) error {
	at := map[int64]int{}
	sessions, err := collect(func(r *sql.Rows) (s log.Session, err error) {
		var n int64
		var conditions, sheet []byte
		if err := r.Scan(&n, &s.ID, &s.Date, &s.Build, &s.Stage, &s.Meter, &s.Baseline, &s.Operator, &s.Note, &s.Open, &conditions, &sheet); err != nil {
			return s, err
		}
		at[n] = len(at)
		// What the run sheet kept beside the head has the names of the session's own fields.
		if err := json.Unmarshal(sheet, &s); err != nil {
			return s, err
		}
		return s, json.Unmarshal(conditions, &s.Conditions)
	})(tx.QueryContext(
		ctx,
		"SELECT n, id, date, build, stage, meter, baseline, operator, note, open, conditions, sheet FROM session WHERE engine = ?1 ORDER BY date, n",
		l.Engine.ID,
	))
	if err != nil {
		return err
	}
	l.Sessions = append(l.Sessions, sessions...)
	for _, read := range []func(context.Context, *sql.Tx, *log.Log, map[int64]int) error{readPulls, readLeakdowns, readObservations} {
		if err := read(ctx, tx, l, at); err != nil {
			return err
		}
	}
	return nil
}

const ofEngine = " WHERE session IN (SELECT n FROM session WHERE engine = ?1) ORDER BY session, "

func readPulls(ctx context.Context, tx *sql.Tx, l *log.Log, at map[int64]int) error {
	rows, err := tx.QueryContext(
		ctx,
		"SELECT session, line, mode, cylinder, rotor, face, tester, oil_cc, value, unit, beats, rpm, battery_v, struck, note, key, at FROM pull"+ofEngine+"line, n",
		l.Engine.ID,
	)
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

func readLeakdowns(ctx context.Context, tx *sql.Tx, l *log.Log, at map[int64]int) error {
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
		"SELECT session, cylinder, tester, supply, held, unit, position, struck, note, paths, key FROM leakdown"+ofEngine+"n", l.Engine.ID))
	return err
}

func readObservations(ctx context.Context, tx *sql.Tx, l *log.Log, at map[int64]int) error {
	_, err := collect(func(r *sql.Rows) (none struct{}, err error) {
		var session int64
		var o log.Observation
		if err := r.Scan(&session, &o.What, &o.Cylinder, &o.Finding, &o.Value, &o.Unit, &o.Note, &o.Key); err != nil {
			return none, err
		}
		s := &l.Sessions[at[session]]
		s.Observations = append(s.Observations, o)
		return none, nil
	})(tx.QueryContext(ctx, "SELECT session, what, cylinder, finding, value, unit, note, key FROM observation"+ofEngine+"n", l.Engine.ID))
	return err
}
