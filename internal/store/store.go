// Package store keeps the book in one SQLite file: entries, one after another, and a few things that can be made anew from
// them. It holds no rules of the job: what may be written, book.Admit says.
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
	"regexp"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/gofrs/flock"
	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver

	"braxel/internal/core/book"
	"braxel/internal/core/say"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrUnknown is what a query answers for an engine or a photo that is not there.
var ErrUnknown = say.Error("store.not-found")

// Store is an open data file: one writer, several readers. The books in use are kept in memory.
type Store struct {
	Dir    string
	write  *sql.DB
	find   *sql.Stmt // an entry's engine, by its id
	add    *sql.Stmt // writes an entry
	read   *sql.DB
	locks  []*flock.Flock
	holder string // names the process that has the file
	held   bool   // by this one
	tally  *os.File

	secrets *secrets
	file    string      // the data file, by its real name
	is      os.FileInfo // and which one it is, whatever its name leads to later
	gone    atomic.Bool
	copying sync.Mutex // held while a copy is made

	mu        sync.Mutex // held while entries are appended and while a book in memory is read
	shelf     *lru.Cache[string, *shelved]
	shop      *book.Book
	revisions map[string]int // the last entry of each engine, "" of the workshop
	ruled     int            // the last entry of the workshop that bears on how engines are judged
	names     map[string]string
	latest    string // the time of the latest entry that anybody was told of
}

// File is the name of the data file in the data directory.
const File = "braxel.db"

// Open opens the data file in dir, making it where there is none. Another process that holds it, a file that is no Braxel
// data file, and one from a newer Braxel are refused with a sentence that says so; an older file is copied aside before it is
// brought up to date.
func Open(dir string) (*Store, error) { return open(dir, true) }

// OpenExisting is Open for a data file that has to be there.
func OpenExisting(dir string) (*Store, error) { return open(dir, false) }

func open(dir string, create bool) (*Store, error) {
	file := filepath.Join(dir, File)
	if err := errors.Join(leadsNowhere(dir), leadsNowhere(file)); err != nil {
		return nil, err
	}
	_, err := os.Stat(file)
	switch {
	case errors.Is(err, os.ErrNotExist) && !create:
		return nil, say.Error("store.there-no-data-file", "dir", dir)
	case errors.Is(err, os.ErrNotExist):
		if err := os.MkdirAll(dir, 0o700); err != nil {
			return nil, say.Error("store.data-directory", "err", err)
		}
	case err != nil:
		return nil, say.Error("store.data-file", "err", err)
	default:
		// By whatever way one comes to it, it is one file, with one lock beside it.
		if file, err = filepath.EvalSymlinks(file); err != nil {
			return nil, say.Error("store.data-file", "err", err)
		}
	}
	shelf, err := lru.New[string, *shelved](booksKept)
	if err != nil {
		return nil, err
	}
	s := &Store{Dir: filepath.Dir(file), file: file, holder: filepath.Join(filepath.Dir(file), "braxel.holder"), shelf: shelf}
	if err := s.lock(file); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	if err := s.open(file); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
}

// lock keeps other processes out: by a lock on a file beside the data file and, where the system allows it, on the directory
// itself, which is still there when somebody deletes the file.
func (s *Store) lock(file string) error {
	beside := flock.New(filepath.Join(s.Dir, "braxel.lock"))
	itself := flock.New(s.Dir, flock.SetFlag(os.O_RDONLY))
	for _, l := range []*flock.Flock{beside, itself} {
		got, err := l.TryLock()
		if err != nil && l == itself {
			continue // no locks on directories here
		}
		if err != nil {
			return say.Error("store.data-directory", "err", err)
		}
		if !got {
			who, _ := os.ReadFile(s.holder)
			return say.Error("store.use-another-braxel-close-one", "file", file, "who", strings.TrimSpace(string(who)))
		}
		s.locks = append(s.locks, l)
	}
	return nil
}

func (s *Store) open(file string) error {
	who := say.Text("store.process-since",
		"getpid", os.Getpid(),
		"now", time.Now().Format("2006-01-02 15:04"),
	)
	if err := os.WriteFile(s.holder, []byte(who+"\n"), 0o600); err != nil {
		return say.Error("store.data-directory", "err", err)
	}
	s.held = true
	ctx := context.Background()
	if _, err := os.Stat(file); errors.Is(err, os.ErrNotExist) {
		if err := create(ctx, file); err != nil {
			return err
		}
	} else if err := recognise(ctx, file); err != nil {
		return err
	}
	dsn := uri(file) + pragmas
	var err error
	if s.write, err = sql.Open("sqlite", dsn+"&_txlock=immediate"); err != nil {
		return err
	}
	s.write.SetMaxOpenConns(1)
	if err := migrate(ctx, s.write, file, true); err != nil {
		return err
	}
	if err := onlyOurs(ctx, s.write); err != nil {
		return err
	}
	if s.is, err = os.Stat(file); err != nil {
		return err
	}
	if s.secrets, err = openSecrets(s.Dir); err != nil {
		return err
	}
	if err := sweep(s.Dir); err != nil {
		return err
	}
	if err := movePhotos(s.Dir); err != nil {
		return err
	}
	if s.read, err = sql.Open("sqlite", dsn+"&_pragma=query_only(1)"); err != nil {
		return err
	}
	s.read.SetMaxOpenConns(4)
	s.read.SetMaxIdleConns(4)
	if err := s.prepare(ctx); err != nil {
		return err
	}
	if err := s.begin(ctx); err != nil {
		return err
	}
	return s.counted(ctx)
}

// schema is the last migration that this program knows.
const schema = 7

const pragmas = "?_pragma=busy_timeout(5000)&_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)&_pragma=foreign_keys(1)"

// create makes an empty data file: aside first, so that it is there whole or not at all.
func create(ctx context.Context, file string) error {
	fresh := file + ".new"
	if err := removeAll(fresh); err != nil {
		return err
	}
	db, err := sql.Open("sqlite", uri(fresh)+"?_pragma=journal_mode(DELETE)&_pragma=synchronous(FULL)")
	if err != nil {
		return err
	}
	db.SetMaxOpenConns(1)
	if err := errors.Join(migrate(ctx, db, fresh, false), db.Close()); err != nil {
		return err
	}
	return os.Rename(fresh, file)
}

// removeAll removes a database file and what SQLite keeps beside it.
func removeAll(file string) error {
	for _, suffix := range []string{"", "-wal", "-shm", "-journal"} {
		if err := os.Remove(file + suffix); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	return nil
}

// Why a file cannot be opened.
var (
	ErrEmpty   = say.Error("store.data-file-empty")
	ErrDamaged = say.Error("store.data-file-damaged")
	ErrForeign = say.Error("store.not-braxel-data-file")
	ErrNewer   = say.Error("store.data-file-was-written-newer")
)

// recognise refuses, by name, a file that is no data file which this program opens, before anything is written to it.
func recognise(ctx context.Context, file string) error {
	info, err := os.Stat(file)
	if err != nil {
		return err
	}
	if info.Size() == 0 {
		return say.Error("store.restore-backup-or-move-away", "problem", ErrEmpty, "file", file)
	}
	db, err := sql.Open("sqlite", uri(file)+"?_pragma=query_only(1)")
	if err != nil {
		return err
	}
	defer func() { _ = db.Close() }()
	names, err := collect(scanID)(db.QueryContext(ctx, "SELECT name FROM sqlite_master WHERE type = 'table'"))
	if err != nil && (damaged(err) || begins(file, "SQLite format 3")) {
		return say.Error("store.cant-read-2", "problem", ErrDamaged, "file", file, "err", err)
	}
	if err != nil {
		return say.Error("store.cant-read-left-as", "problem", ErrForeign, "file", file, "err", err)
	}
	triggers, err := collect(scanID)(db.QueryContext(ctx, "SELECT name FROM sqlite_master WHERE type = 'trigger'"))
	if err != nil {
		return say.Error("store.cant-read-2", "problem", ErrDamaged, "file", file, "err", err)
	}
	if len(triggers) > 0 {
		return say.Error("store.has-trigger-which-braxel-never",
			"problem", ErrForeign,
			"file", file,
			"triggers", triggers[0],
		)
	}
	has := func(name string) bool { return slices.Contains(names, name) }
	if !has("goose_db_version") || !has("entry") && !(has("session") && has("engine")) {
		return say.Error("store.some-other-database-left-as", "problem", ErrForeign, "file", file)
	}
	var version int64
	if err := db.QueryRowContext(ctx, "SELECT max(version_id) FROM goose_db_version WHERE is_applied").Scan(&version); err != nil {
		return say.Error("store.doesnt-say-which-schema-has", "problem", ErrDamaged, "file", file, "err", err)
	}
	if version > schema {
		return say.Error("store.has-schema-braxel-knows-update",
			"problem", ErrNewer,
			"file", file,
			"version", version,
			"schema", schema,
		)
	}
	return nil
}

// onlyOurs refuses a file that holds a table, a view, an index or a trigger other than those of this program's schema, or one of them
// made otherwise: it could keep something else than it is told, or nothing.
func onlyOurs(ctx context.Context, db *sql.DB) error {
	want, err := ours()
	if err != nil {
		return err
	}
	have, err := schemaOf(ctx, db)
	if err != nil {
		return fmt.Errorf("%w: %w", ErrDamaged, err)
	}
	for name, text := range have {
		if want[name] != text && !strings.HasPrefix(name, "sqlite_") && name != "goose_db_version" {
			return say.Error("store.has-which-isnt-as-braxel", "problem", ErrForeign, "name", name)
		}
	}
	return nil
}

// ours is the schema of a file that was just begun.
var ours = sync.OnceValues(func() (map[string]string, error) {
	db, err := sql.Open("sqlite", ":memory:")
	if err != nil {
		return nil, err
	}
	defer func() { _ = db.Close() }()
	db.SetMaxOpenConns(1)
	if err := migrate(context.Background(), db, ":memory:", false); err != nil {
		return nil, err
	}
	return schemaOf(context.Background(), db)
})

var comments = regexp.MustCompile(`--[^\n]*`)

func schemaOf(ctx context.Context, db *sql.DB) (map[string]string, error) {
	type thing struct{ name, text string }
	all, err := collect(func(r *sql.Rows) (t thing, err error) { return t, r.Scan(&t.name, &t.text) })(
		db.QueryContext(ctx, "SELECT name, type || ' ' || coalesce(sql, '') FROM sqlite_master"))
	out := map[string]string{}
	for _, t := range all {
		out[t.name] = strings.Join(strings.Fields(comments.ReplaceAllString(t.text, "")), " ")
	}
	return out, err
}

// sweep removes what an earlier process left half done: files that were coming in or going out.
func sweep(dir string) error {
	left, err := filepath.Glob(filepath.Join(dir, ".passing-*"))
	for _, one := range left {
		err = errors.Join(err, os.RemoveAll(one))
	}
	return err
}

func begins(file, with string) bool {
	f, err := os.Open(file)
	if err != nil {
		return false
	}
	defer func() { _ = f.Close() }()
	head := make([]byte, len(with))
	n, _ := f.Read(head)
	return string(head[:n]) == with
}

// uri writes a file's path so that SQLite reads every sign in it as it is.
func uri(file string) string {
	path := filepath.ToSlash(file)
	if filepath.VolumeName(file) != "" { // C:/… is written /C:/…
		path = "/" + path
	}
	return (&url.URL{Scheme: "file", OmitHost: true, Path: path}).String()
}

// migrate brings a file up to this program's schema, keeping a copy of one that holds data. Each step is one transaction: one
// that was broken off has not happened.
func migrate(ctx context.Context, db *sql.DB, file string, aside bool) error {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, db, sub, goose.WithSlog(slog.New(slog.DiscardHandler)),
		goose.WithGoMigrations(goose.NewGoMigration(3, &goose.GoFunc{RunTx: toBook}, nil)))
	if err != nil {
		return err
	}
	have, err := provider.GetDBVersion(ctx)
	if err != nil {
		return say.Error("store.reading", "file", file, "err", err)
	}
	if aside && have < schema {
		if err := takeSecretsOut(ctx, db, filepath.Dir(file)); err != nil {
			return say.Error("store.taking-passcode-devices-out", "file", file, "err", err)
		}
		if err := keepAside(ctx, db, fmt.Sprintf("%s.schema-%d", file, have)); err != nil {
			return say.Error("store.copying-data-file-aside-before", "err", err)
		}
	}
	if _, err := provider.Up(ctx); err != nil {
		return say.Error("store.bringing-up-date", "file", file, "err", err)
	}
	return nil
}

// keepAside copies the whole file to name.bak, or to the first free number behind it: a copy that is there whole has its name.
func keepAside(ctx context.Context, db *sql.DB, name string) error {
	part := name + ".part"
	if err := removeAll(part); err != nil {
		return err
	}
	if err := vacuumInto(ctx, db, part); err != nil {
		return err
	}
	return os.Rename(part, firstFree(name, ".bak"))
}

// firstFree returns name with its ending, or the first with a number that no file has.
func firstFree(name, ending string) string {
	to := name + ending
	for n := 2; ; n++ {
		if _, err := os.Stat(to); errors.Is(err, os.ErrNotExist) {
			return to
		}
		to = fmt.Sprintf("%s-%d%s", name, n, ending)
	}
}

// Close writes what is pending and lets the next process in.
func (s *Store) Close() error {
	var errs []error
	for _, db := range []*sql.DB{s.read, s.write} {
		if db != nil {
			errs = append(errs, db.Close())
		}
	}
	if s.tally != nil {
		errs = append(errs, s.tally.Close())
	}
	if s.held {
		_ = os.Remove(s.holder)
	}
	for _, l := range s.locks {
		errs = append(errs, l.Unlock())
	}
	s.locks = nil
	return errors.Join(errs...)
}

// collect reads all rows with scan; with an error it returns those before it.
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
				return all, err
			}
			all = append(all, one)
		}
		return all, rows.Err()
	}
}
