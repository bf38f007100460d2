package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"strings"

	"braxel/internal/core/log"
)

// Summary is what the rack shows of an engine, kept as judged so that the rack need not judge every engine. Body is nil
// where the engine has changed since, or the judge has.
type Summary struct {
	Engine   string // its id
	Revision int
	Body     json.RawMessage
}

// Rack returns every engine with its summary, as far as it is current for the judge of that version.
func (s *Store) Rack(ctx context.Context, judge int) ([]Summary, error) {
	return collect(func(r *sql.Rows) (one Summary, err error) {
		var summary []byte
		err = r.Scan(&one.Engine, &one.Revision, &summary)
		one.Body = summary
		return one, err
	})(s.read.QueryContext(ctx, "SELECT id, revision, CASE WHEN summary_revision = revision AND summary_judge = ? THEN summary END FROM engine ORDER BY id", judge))
}

// KeepSummaries stores what a judge of that version said of engines, each at the revision it was judged at.
func (s *Store) KeepSummaries(ctx context.Context, judge int, all []Summary) error {
	tx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }()
	for _, one := range all {
		if _, err := tx.ExecContext(ctx, "UPDATE engine SET summary = ?, summary_revision = ?, summary_judge = ? WHERE id = ?", string(one.Body), one.Revision, judge, one.Engine); err != nil {
			return err
		}
	}
	return tx.Commit()
}

// AddEngine keeps a new engine and returns it with the id it was given, made from its name.
func (s *Store) AddEngine(ctx context.Context, e log.Engine) (log.Engine, error) {
	tx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return e, err
	}
	defer func() { _ = tx.Rollback() }()
	if e, err = addEngine(ctx, tx, e, nil); err != nil {
		return e, err
	}
	return e, tx.Commit()
}

func addEngine(ctx context.Context, tx *sql.Tx, e log.Engine, extra map[string]any) (log.Engine, error) {
	id, err := freeID(ctx, tx, "engine", slug(e.Name))
	if err != nil {
		return e, err
	}
	e.ID = id
	body, err := json.Marshal(e)
	if err != nil {
		return e, err
	}
	var kept any
	if len(extra) > 0 {
		more, err := json.Marshal(extra)
		if err != nil {
			return e, err
		}
		kept = string(more)
	}
	_, err = tx.ExecContext(ctx, "INSERT INTO engine (id, body, extra) VALUES (?, ?, ?)", id, string(body), kept)
	return e, err
}

// SetEngine replaces an engine's identity, geometry and limits.
func (s *Store) SetEngine(ctx context.Context, e log.Engine) error {
	body, err := json.Marshal(e)
	if err != nil {
		return err
	}
	return s.change(ctx, e.ID, "", func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE engine SET body = ? WHERE id = ?", string(body), e.ID)
		return err
	})
}

var notInID = regexp.MustCompile(`[^a-z0-9]+`)

// slug makes an id of a name: lower-case letters and digits of the Latin alphabet, hyphens between.
func slug(name string) string {
	id := strings.Trim(notInID.ReplaceAllString(strings.ToLower(name), "-"), "-")
	if id == "" {
		return "engine"
	}
	return id[:min(len(id), 60)]
}

// freeID returns want, or want with the first free number behind it. The table's name is a constant of this package.
func freeID(ctx context.Context, tx *sql.Tx, table, want string) (string, error) {
	for n := 1; ; n++ {
		id := want
		if n > 1 {
			id = fmt.Sprintf("%s-%d", want, n)
		}
		var there int
		err := tx.QueryRowContext(ctx, "SELECT 1 FROM "+table+" WHERE id = ?", id).Scan(&there)
		if errors.Is(err, sql.ErrNoRows) {
			return id, nil
		}
		if err != nil {
			return "", err
		}
	}
}

// Testers returns the shop's gauges and leak-down kits.
func (s *Store) Testers(ctx context.Context) ([]log.Tester, error) {
	return collect(func(r *sql.Rows) (log.Tester, error) {
		var body []byte
		var t log.Tester
		if err := r.Scan(&body); err != nil {
			return t, err
		}
		return t, json.Unmarshal(body, &t)
	})(s.read.QueryContext(ctx, "SELECT body FROM tester ORDER BY id"))
}

// AddTester keeps a new tester and returns it with its id.
func (s *Store) AddTester(ctx context.Context, t log.Tester) (log.Tester, error) {
	tx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return t, err
	}
	defer func() { _ = tx.Rollback() }()
	if t, err = addTester(ctx, tx, t, slug(t.Name)); err != nil {
		return t, err
	}
	return t, tx.Commit()
}

func addTester(ctx context.Context, tx *sql.Tx, t log.Tester, want string) (log.Tester, error) {
	id, err := freeID(ctx, tx, "tester", want)
	if err != nil {
		return t, err
	}
	t.ID = id
	body, err := json.Marshal(t)
	if err != nil {
		return t, err
	}
	_, err = tx.ExecContext(ctx, "INSERT INTO tester (id, body) VALUES (?, ?)", id, string(body))
	return t, err
}

// SetTester replaces what is known of a tester. Every engine that it measured is judged anew.
func (s *Store) SetTester(ctx context.Context, t log.Tester) error {
	body, err := json.Marshal(t)
	if err != nil {
		return err
	}
	tx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }()
	done, err := tx.ExecContext(ctx, "UPDATE tester SET body = ? WHERE id = ?", string(body), t.ID)
	if err != nil {
		return err
	}
	if n, _ := done.RowsAffected(); n == 0 {
		return fmt.Errorf("tester %q: %w", t.ID, ErrUnknown)
	}
	if _, err := tx.ExecContext(ctx, "UPDATE engine SET revision = revision + 1"); err != nil {
		return err
	}
	return tx.Commit()
}

// AddBuild keeps a new build of an engine: a new baseline begins.
func (s *Store) AddBuild(ctx context.Context, engine string, b log.Build) (log.Build, error) {
	err := s.change(ctx, engine, "", func(tx *sql.Tx) error {
		var n int
		if err := tx.QueryRowContext(ctx, "SELECT count(*) FROM build WHERE engine = ?", engine).Scan(&n); err != nil {
			return err
		}
		b.ID = fmt.Sprintf("b%d", n+1)
		return addBuild(ctx, tx, engine, b)
	})
	return b, err
}

func addBuild(ctx context.Context, tx *sql.Tx, engine string, b log.Build) error {
	_, err := tx.ExecContext(ctx, "INSERT INTO build (engine, id, date, what) VALUES (?, ?, ?, ?)", engine, b.ID, b.Date, b.What)
	return err
}

// AddEvent keeps what happened to an engine between tests.
func (s *Store) AddEvent(ctx context.Context, engine string, e log.Event) error {
	return s.change(ctx, engine, "", func(tx *sql.Tx) error { return addEvent(ctx, tx, engine, e) })
}

func addEvent(ctx context.Context, tx *sql.Tx, engine string, e log.Event) error {
	_, err := tx.ExecContext(ctx, "INSERT INTO event (engine, date, meter, what) VALUES (?, ?, ?, ?)", engine, e.Date, e.Meter, e.What)
	return err
}
