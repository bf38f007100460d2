// Package store keeps engines and their history in one SQLite file. It holds no rules of the job.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/gofrs/flock"
	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrUnknown is what a query answers for an engine, a session or an entry that is not there.
var ErrUnknown = errors.New("not found")

// Store is an open data file: one writer, several readers.
type Store struct {
	Dir    string
	write  *sql.DB
	read   *sql.DB
	lock   *flock.Flock
	holder string
	recent *recent
}

// File is the name of the data file in the data directory.
const File = "braxel.db"

// Open opens the data file in dir, making it where there is none. Another process that holds it, or a file from a newer
// Braxel, is refused with a sentence that says so; an older file is copied aside before it is brought up to date.
func Open(dir string) (*Store, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("data directory: %w", err)
	}
	s := &Store{Dir: dir, lock: flock.New(filepath.Join(dir, "braxel.lock")), holder: filepath.Join(dir, "braxel.holder"), recent: newRecent()}
	got, err := s.lock.TryLock()
	if err != nil {
		return nil, fmt.Errorf("data directory: %w", err)
	}
	if !got {
		who, _ := os.ReadFile(s.holder)
		return nil, fmt.Errorf("%s is in use by another Braxel (%s); close that one first", filepath.Join(dir, File), strings.TrimSpace(string(who)))
	}
	if err := s.open(); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
}

func (s *Store) open() error {
	who := fmt.Sprintf("process %d since %s", os.Getpid(), time.Now().Format("2006-01-02 15:04"))
	if err := os.WriteFile(s.holder, []byte(who+"\n"), 0o600); err != nil {
		return fmt.Errorf("data directory: %w", err)
	}
	file := filepath.Join(s.Dir, File)
	dsn := uri(file) + "?_pragma=busy_timeout(5000)&_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)&_pragma=foreign_keys(1)"
	var err error
	if s.write, err = sql.Open("sqlite", dsn+"&_txlock=immediate"); err != nil {
		return err
	}
	s.write.SetMaxOpenConns(1)
	if err := s.migrate(file); err != nil {
		return err
	}
	if s.read, err = sql.Open("sqlite", dsn+"&_pragma=query_only(1)"); err != nil {
		return err
	}
	s.read.SetMaxOpenConns(4)
	s.read.SetMaxIdleConns(4)
	return nil
}

// uri writes a file's path so that SQLite reads every sign in it as it is.
func uri(file string) string { return (&url.URL{Scheme: "file", OmitHost: true, Path: file}).String() }

// migrate brings the file up to this program's schema.
func (s *Store) migrate(file string) error {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, s.write, sub, goose.WithSlog(slog.New(slog.DiscardHandler)))
	if err != nil {
		return err
	}
	ctx := context.Background()
	have, err := provider.GetDBVersion(ctx)
	if err != nil {
		return fmt.Errorf("reading %s: %w", file, err)
	}
	sources := provider.ListSources()
	want := sources[len(sources)-1].Version
	switch {
	case have > want:
		return fmt.Errorf("%s was written by a newer Braxel (schema %d, this one knows %d); update Braxel to open it", file, have, want)
	case have > 0 && have < want:
		aside := fmt.Sprintf("%s.schema-%d.bak", file, have)
		if err := s.Backup(ctx, aside); err != nil {
			return fmt.Errorf("copying the data file aside before bringing it up to date: %w", err)
		}
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("bringing %s up to date: %w", file, err)
	}
	return nil
}

// Check returns SQLite's own findings about the file: empty when it is sound.
func (s *Store) Check(ctx context.Context) ([]string, error) {
	faults, err := collect(func(r *sql.Rows) (string, error) {
		var line string
		return line, r.Scan(&line)
	})(s.read.QueryContext(ctx, "PRAGMA integrity_check"))
	if err != nil || (len(faults) == 1 && faults[0] == "ok") {
		return nil, err
	}
	return faults, nil
}

// Close writes what is pending and lets the next process in.
func (s *Store) Close() error {
	var errs []error
	for _, db := range []*sql.DB{s.read, s.write} {
		if db != nil {
			errs = append(errs, db.Close())
		}
	}
	if s.lock.Locked() {
		_ = os.Remove(s.holder)
		errs = append(errs, s.lock.Unlock())
	}
	return errors.Join(errs...)
}

// collect reads all rows with scan.
func collect[T any](scan func(*sql.Rows) (T, error)) func(*sql.Rows, error) ([]T, error) {
	return func(rows *sql.Rows, err error) ([]T, error) {
		if err != nil {
			return nil, err
		}
		defer func() { _ = rows.Close() }()
		var all []T
		for rows.Next() {
			one, err := scan(rows)
			if err != nil {
				return nil, err
			}
			all = append(all, one)
		}
		return all, rows.Err()
	}
}

// change runs do in one transaction and counts it as a new revision of the engine. session names the one session that do
// changes the readings or the lists of; "" says that it may change anything.
func (s *Store) change(ctx context.Context, engine, session string, do func(*sql.Tx) error) error {
	tx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }()
	if err := do(tx); err != nil {
		return err
	}
	var revision int
	err = tx.QueryRowContext(ctx, "UPDATE engine SET revision = revision + 1 WHERE id = ? RETURNING revision", engine).Scan(&revision)
	if errors.Is(err, sql.ErrNoRows) {
		return fmt.Errorf("engine %q: %w", engine, ErrUnknown)
	}
	if err != nil {
		return err
	}
	if err := tx.Commit(); err != nil {
		return err
	}
	s.recent.changed(engine, session, revision)
	return nil
}
