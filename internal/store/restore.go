package store

import (
	"archive/zip"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"time"

	"braxel/internal/core/say"
)

// Restore puts a copy back as the data file in dir: a data file with its photos beside it, or an archive of both. The copy is
// opened, brought up to date and checked first. What was there is kept aside as it is, also where it cannot be read, and its name
// returned. It refuses while another process has the data file. Broken off at any moment, it leaves the file that was there or
// the restored one, whole.
func Restore(ctx context.Context, dir, from string) (aside string, err error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return "", err
	}
	file := filepath.Join(dir, File)
	if err := errors.Join(leadsNowhere(dir), leadsNowhere(file)); err != nil {
		return "", err
	}
	if real, err := filepath.EvalSymlinks(file); err == nil {
		file = real
	}
	s := &Store{Dir: filepath.Dir(file), holder: filepath.Join(filepath.Dir(file), "braxel.holder")}
	if err := s.lock(file); err != nil {
		return "", errors.Join(err, s.Close())
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	fresh := file + ".restored"
	unpacked := filepath.Join(s.Dir, ".unpacked")
	defer func() { err = errors.Join(err, removeAll(fresh), os.RemoveAll(unpacked)) }()
	if err := errors.Join(removeAll(fresh), os.RemoveAll(unpacked)); err != nil { // left by one that was broken off
		return "", err
	}
	source, photos, err := unpack(from, unpacked)
	if err != nil {
		return "", say.Error("store.cant-restored", "from", from, "err", err)
	}
	if err := readied(ctx, source, fresh); err != nil {
		return "", say.Error("store.cant-restored", "from", from, "err", err)
	}
	if err := raiseFloor(ctx, fresh, file); err != nil {
		return "", say.Error("store.cant-restored", "from", from, "err", err)
	}
	if err := bringPhotos(photos, filepath.Join(s.Dir, "photos")); err != nil {
		return "", err
	}
	aside, err = setAside(ctx, file)
	if err != nil {
		return "", err
	}
	for _, gone := range []string{file + "-wal", file + "-shm", tallyOf(s.Dir), missingOf(s.Dir)} {
		if err := os.Remove(gone); err != nil && !errors.Is(err, os.ErrNotExist) {
			return "", err
		}
	}
	return aside, errors.Join(os.Rename(fresh, file), syncDir(s.Dir))
}

// readied makes of a copy a file that this program opens: checked to its last page, and up to date.
func readied(ctx context.Context, from, fresh string) error {
	if err := sound(ctx, from); err != nil {
		return err
	}
	if err := copyFile(ctx, from, fresh); err != nil {
		return err
	}
	db, err := sql.Open("sqlite", uri(fresh)+"?_pragma=journal_mode(DELETE)&_pragma=synchronous(FULL)")
	if err != nil {
		return err
	}
	db.SetMaxOpenConns(1)
	err = migrate(ctx, db, fresh, false)
	if err == nil {
		err = onlyOurs(ctx, db)
	}
	return errors.Join(err, db.Close(), settle(fresh))
}

// raiseFloor has the numbers of a copy that is put back go on above all that there were in the file that it replaces.
func raiseFloor(ctx context.Context, fresh, file string) error {
	highest := 0
	for _, tally := range []string{tallyOf(filepath.Dir(file)), missingOf(filepath.Dir(file))} {
		n, _ := readTally(tally)
		highest = max(highest, n)
	}
	for _, have := range []string{file, fresh} {
		if last, err := lastOf(ctx, have); err == nil {
			highest = max(highest, last.N)
		}
	}
	db, err := sql.Open("sqlite", uri(fresh)+"?_pragma=journal_mode(DELETE)&_pragma=synchronous(FULL)")
	if err != nil {
		return err
	}
	_, err = db.ExecContext(ctx, fmt.Sprintf("PRAGMA user_version = %d", highest))
	return errors.Join(err, db.Close(), settle(fresh))
}

// last is the last entry of a data file, its number as the floor has it, and how many engines it holds.
type last struct {
	N       int
	Arrived time.Time
	Engines int
}

// lastOf asks a data file for its last entry.
func lastOf(ctx context.Context, file string) (l last, err error) {
	if _, err := os.Stat(file); err != nil {
		return l, err
	}
	db, err := sql.Open("sqlite", uri(file)+"?_pragma=query_only(1)&_pragma=busy_timeout(1000)")
	if err != nil {
		return l, err
	}
	defer func() { _ = db.Close() }()
	var arrived, floor int64
	err = db.QueryRowContext(ctx, "SELECT n, arrived FROM entry ORDER BY n DESC LIMIT 1").Scan(&l.N, &arrived)
	if err != nil && !errors.Is(err, sql.ErrNoRows) {
		return l, err
	}
	if err := db.QueryRowContext(ctx, "PRAGMA user_version").Scan(&floor); err != nil {
		return l, err
	}
	l.N = max(l.N, int(floor))
	if arrived > 0 {
		l.Arrived = time.UnixMilli(arrived)
	}
	return l, db.QueryRowContext(ctx, "SELECT count(*) FROM ("+eachEngine+") WHERE engine <> ''").Scan(&l.Engines)
}

// setAside gives what is there a second name. What can still be written out of its log of writes is; a log that cannot be is kept
// beside it.
func setAside(ctx context.Context, file string) (string, error) {
	if _, err := os.Stat(file); errors.Is(err, os.ErrNotExist) {
		return "", nil
	}
	if db, err := sql.Open("sqlite", uri(file)+"?_pragma=busy_timeout(5000)"); err == nil {
		_, _ = db.ExecContext(ctx, "PRAGMA wal_checkpoint(TRUNCATE)") // a damaged file has none
		_ = db.Close()
	}
	to := firstFree(filepath.Join(filepath.Dir(file), time.Now().Format("before-restore-20060102-150405")), ".db")
	for _, suffix := range []string{"", "-wal"} {
		info, err := os.Stat(file + suffix)
		if errors.Is(err, os.ErrNotExist) || err == nil && suffix != "" && info.Size() == 0 {
			continue
		}
		if err := linkOrCopy(file+suffix, to+suffix); err != nil {
			return "", say.Error("store.keeping-aside-what-there", "err", err)
		}
	}
	return to, syncDir(filepath.Dir(file))
}

// syncDir makes sure that names are on disk, where the system can.
func syncDir(dir string) error {
	d, err := os.Open(dir)
	if err != nil {
		return err
	}
	_ = d.Sync() // not everywhere
	return d.Close()
}

// mostUnpacked is as much as an archive may unpack to.
const mostUnpacked = 8 << 30

// unpack returns the data file of a copy and where its photos are: of an archive unpacked into dir, of a file those beside it.
func unpack(from, dir string) (file, photos string, err error) {
	in, err := os.Open(from)
	if err != nil {
		return "", "", err
	}
	defer func() { _ = in.Close() }()
	head := make([]byte, 4)
	if n, _ := in.ReadAt(head, 0); n < len(head) || string(head) != "PK\x03\x04" {
		return from, photosBeside(from), nil
	}
	info, err := in.Stat()
	if err != nil {
		return "", "", err
	}
	z, err := zip.NewReader(in, info.Size())
	if err != nil {
		return "", "", say.Error("store.archive-cant-read", "err", err)
	}
	photos = filepath.Join(dir, "photos")
	if err := os.MkdirAll(photos, 0o700); err != nil {
		return "", "", err
	}
	file = filepath.Join(dir, File)
	left, found := int64(mostUnpacked), false
	for _, f := range z.File {
		to := file
		if name, photo := strings.CutPrefix(f.Name, "photos/"); photo && filepath.Base(name) == name && strings.HasSuffix(name, ".jpg") {
			to = filepath.Join(photos, name)
		} else if f.Name != File {
			continue
		}
		found = found || to == file
		n, err := unpackOne(f, to, left)
		if err != nil {
			return "", "", say.Error("store.archive", "name", f.Name, "err", err)
		}
		left -= n
	}
	if !found {
		return "", "", say.Error("store.there-no-archive-so-not", "file", File)
	}
	return file, photos, nil
}

func unpackOne(f *zip.File, to string, most int64) (n int64, err error) {
	in, err := f.Open()
	if err != nil {
		return 0, err
	}
	defer func() { _ = in.Close() }()
	out, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return 0, err
	}
	n, err = io.Copy(out, io.LimitReader(in, most+1))
	if n > most {
		err = say.Error("store.unpacks-more-than-any-backup")
	}
	return n, errors.Join(err, out.Close())
}

// photosBeside returns where the photos of a copy are: in a directory named by it, or in the pool of a place of copies.
func photosBeside(file string) string {
	if _, err := os.Stat(file + ".photos"); err == nil {
		return file + ".photos"
	}
	return filepath.Join(filepath.Dir(file), "photos")
}

// sound reports why a file is no data file of Braxel in good order: it reads every page.
func sound(ctx context.Context, file string) error {
	if err := recognise(ctx, file); err != nil {
		return err
	}
	db, err := sql.Open("sqlite", uri(file)+"?_pragma=query_only(1)")
	if err != nil {
		return err
	}
	defer func() { _ = db.Close() }()
	var finding string
	if err := db.QueryRowContext(ctx, "PRAGMA integrity_check").Scan(&finding); err != nil {
		return fmt.Errorf("%w: %w", ErrDamaged, err)
	}
	if finding != "ok" {
		return fmt.Errorf("%w: %s", ErrDamaged, finding)
	}
	return nil
}
