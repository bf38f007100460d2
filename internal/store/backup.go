package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"
)

// Copy writes a whole and consistent copy of the data file in dir to the file to, whether or not another process has it
// open. It refuses to write over a file.
func Copy(ctx context.Context, dir, to string) error {
	from := filepath.Join(dir, File)
	if _, err := os.Stat(from); err != nil {
		return fmt.Errorf("there is no data file in %s", dir)
	}
	return copyFile(ctx, from, to)
}

func copyFile(ctx context.Context, from, to string) error {
	db, err := sql.Open("sqlite", uri(from)+"?_pragma=busy_timeout(5000)")
	if err != nil {
		return err
	}
	return errors.Join(vacuumInto(ctx, db, to), db.Close())
}

// Backup is Copy for an open store.
func (s *Store) Backup(ctx context.Context, to string) error { return vacuumInto(ctx, s.write, to) }

func vacuumInto(ctx context.Context, db *sql.DB, to string) error {
	if _, err := os.Stat(to); err == nil {
		return fmt.Errorf("%s is there already", to)
	}
	_, err := db.ExecContext(ctx, "VACUUM INTO ?", to)
	return err
}

// Restore puts a copy back as the data file in dir. The copy is opened and checked first; what was there before is kept
// aside, and its name returned. It refuses while another process has the data file.
func Restore(ctx context.Context, dir, from string) (aside string, err error) {
	if err := sound(ctx, from); err != nil {
		return "", fmt.Errorf("%s cannot be put back: %w", from, err)
	}
	s, err := Open(dir)
	if err != nil {
		return "", err
	}
	aside = filepath.Join(dir, time.Now().Format("before-restore-20060102-150405.db"))
	if err := errors.Join(s.Backup(ctx, aside), s.Close()); err != nil {
		return "", err
	}
	file := filepath.Join(dir, File)
	fresh := file + ".restored"
	if err := removeAll(fresh); err != nil { // left by one that was broken off
		return "", err
	}
	if err := copyFile(ctx, from, fresh); err != nil {
		return "", err
	}
	for _, suffix := range []string{"-wal", "-shm"} {
		if err := os.Remove(file + suffix); err != nil && !errors.Is(err, os.ErrNotExist) {
			return "", err
		}
	}
	return aside, os.Rename(fresh, file)
}

// sound reports why a file is no data file of Braxel in good order.
func sound(ctx context.Context, file string) error {
	if _, err := os.Stat(file); err != nil {
		return err
	}
	db, err := sql.Open("sqlite", uri(file)+"?_pragma=query_only(1)")
	if err != nil {
		return err
	}
	defer func() { _ = db.Close() }()
	var finding string
	if err := db.QueryRowContext(ctx, "PRAGMA integrity_check").Scan(&finding); err != nil {
		return err
	}
	if finding != "ok" {
		return errors.New(finding)
	}
	return recognise(ctx, file)
}
