package store

import (
	"cmp"
	"context"
	"crypto/rand"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"braxel/internal/core/book"
	"braxel/internal/core/say"
	"braxel/internal/plain"
)

// A place of copies holds braxel-DAY.db, one a day or more, and photos/, in which each picture of all copies is once.

// Kept is a copy in a place.
type Kept struct {
	Name  string    `json:"name"`
	Place string    `json:"place" doc:"The directory"`
	Made  time.Time `json:"made"`
	Bytes int64     `json:"bytes"`

	Entry   int       `json:"entry" doc:"The number of its last entry; the higher of two backups is newer"`
	Last    time.Time `json:"last" doc:"When its last entry was made, by this machine's clock"`
	Engines int       `json:"engines" doc:"How many engines it holds"`
	Fault   string    `json:"fault,omitzero" doc:"Why it can't be restored"`
}

// File returns where the copy is.
func (k Kept) File() string { return filepath.Join(k.Place, k.Name) }

// HomePlace is where a data directory's own copies are.
func HomePlace(dir string) string { return filepath.Join(dir, "copies") }

// secondPlace is the file that names where copies are made too.
const secondPlace = "copies.place"

// placeMark is a file in the second place that says whose copies are kept there. On a mount point whose disk is not in, it is missing.
const placeMark = "braxel-copies.txt"

// PlacesOf returns the directories in which copies of a data directory are made: its own, and a second where one is set.
func PlacesOf(dir string) []string {
	places := []string{HomePlace(dir)}
	if second, _ := secondOf(dir); second != "" {
		places = append(places, second)
	}
	return places
}

// secondOf returns the second place of copies and what its mark says; "" where there is none.
func secondOf(dir string) (place, mark string) {
	text, err := os.ReadFile(filepath.Join(dir, secondPlace))
	if err != nil {
		return "", ""
	}
	place, mark, _ = strings.Cut(strings.TrimSpace(string(text)), "\n")
	return place, mark
}

// there reports why copies can't be made in a place: the second is known by its mark.
func (s *Store) there(place string) error {
	second, mark := secondOf(s.Dir)
	if place != second {
		return nil
	}
	have, err := os.ReadFile(filepath.Join(place, placeMark))
	switch {
	case err == nil && mark == "": // set by an older Braxel, which left no mark
		return nil
	case err != nil && mark == "":
		return s.SetSecondPlace(place)
	case err != nil:
		return say.Error("store.backup-disk-isnt-there-missing", "place", place, "placeMark", placeMark)
	case !strings.Contains(string(have), mark):
		return say.Error("store.has-another-shops-backups-or", "place", place, "placeMark", placeMark)
	}
	return nil
}

// SetSecondPlace names the directory in which copies are made too, "" for none. It has to be one that can be written to.
func (s *Store) SetSecondPlace(place string) error {
	if place == "" {
		return writeWhole(filepath.Join(s.Dir, secondPlace), nil)
	}
	if !filepath.IsAbs(place) {
		return say.Error("store.not-full-path-start-at", "place", place)
	}
	info, err := os.Stat(place)
	if err != nil || !info.IsDir() {
		return say.Error("store.there-no-directory", "place", place)
	}
	try, err := os.CreateTemp(place, "braxel-*.part")
	if err != nil {
		return say.Error("store.cant-written", "place", place)
	}
	if err := errors.Join(try.Close(), os.Remove(try.Name())); err != nil {
		return err
	}
	mark := rand.Text()
	says := say.Text("store.backups-braxel-shop-kept-here")
	if err := writeWhole(filepath.Join(place, placeMark), []byte(says+mark+"\n")); err != nil {
		return say.Error("store.cant-written-2", "place", place)
	}
	return writeWhole(filepath.Join(s.Dir, secondPlace), []byte(place+"\n"+mark+"\n"))
}

const (
	copyPrefix = "braxel-"
	copyDay    = copyPrefix + "2006-01-02.db"
	copyMinute = copyPrefix + "2006-01-02-150405.db"
)

// KeepCopy makes a copy of the day in a place; with each, one of this moment. It returns it, or the day's where there is one. Older
// ones are thinned out. One copy is made at a time: another waits.
func (s *Store) KeepCopy(ctx context.Context, place string, now time.Time, each bool) (Kept, error) {
	s.copying.Lock()
	defer s.copying.Unlock()
	if err := errors.Join(s.there(place), s.present()); err != nil {
		return Kept{}, err
	}
	if err := os.MkdirAll(filepath.Join(place, "photos"), 0o700); err != nil {
		return Kept{}, say.Error("store.place-for-backups", "err", err)
	}
	if err := removeParts(place); err != nil {
		return Kept{}, err
	}
	name := now.Format(copyDay)
	if each {
		name = now.Format(copyMinute)
	}
	if _, err := os.Stat(filepath.Join(place, name)); err != nil {
		if err := s.copyTo(ctx, place, name); err != nil {
			return Kept{}, errors.Join(err, removeParts(place))
		}
	}
	all, err := Copies(ctx, place)
	if err != nil {
		return Kept{}, err
	}
	i := slices.IndexFunc(all, func(k Kept) bool { return k.Name == name })
	if i < 0 {
		return Kept{}, say.Error("store.backup-not-there", "place", filepath.Join(place, name))
	}
	one := all[i]
	return one, thin(all, one)
}

// HasCopyOf reports whether a place has the copy of a day.
func HasCopyOf(place string, day time.Time) bool {
	_, err := os.Stat(filepath.Join(place, day.Format(copyDay)))
	return err == nil
}

func (s *Store) copyTo(ctx context.Context, place, name string) error {
	to := filepath.Join(place, name)
	part := to + ".part"
	if err := bringPhotos(filepath.Join(s.Dir, "photos"), filepath.Join(place, "photos")); err != nil {
		return err
	}
	if err := copyFile(ctx, s.file, part); err != nil {
		return err
	}
	if err := sound(ctx, part); err != nil {
		return say.Error("store.backup-not-sound-was-not", "err", err)
	}
	return errors.Join(os.Rename(part, to), syncDir(place))
}

// removeParts removes what copies that were broken off or failed left in a place.
func removeParts(place string) error {
	var errs []error
	for _, dir := range []string{place, filepath.Join(place, "photos")} {
		left, err := filepath.Glob(filepath.Join(dir, "*.part*"))
		errs = append(errs, err)
		for _, one := range left {
			if err := os.Remove(one); !errors.Is(err, os.ErrNotExist) {
				errs = append(errs, err)
			}
		}
	}
	return errors.Join(errs...)
}

// Copies returns the copies in a place, the newest first. Each is recognised, not read to its last page.
func Copies(ctx context.Context, place string) ([]Kept, error) {
	files, err := os.ReadDir(place)
	if errors.Is(err, os.ErrNotExist) {
		return nil, nil
	}
	var all []Kept
	for _, f := range files {
		made, ok := madeOn(f.Name())
		if !ok {
			continue
		}
		k := Kept{Name: f.Name(), Place: place, Made: made}
		if info, err := f.Info(); err == nil {
			k.Bytes = info.Size()
			if f.Name() == made.Format(copyDay) {
				k.Made = info.ModTime()
			}
		}
		l, err := lastOf(ctx, k.File())
		k.Entry, k.Last, k.Engines = l.N, l.Arrived, l.Engines
		if err = cmp.Or(recognise(ctx, k.File()), err); err != nil {
			k.Fault = plain.Words(err)
		}
		all = append(all, k)
	}
	slices.SortFunc(all, Newer)
	return all, err
}

// Newer sorts the copy with the later last entry first, by its number and not by what the copy is called: a clock that was wrong on the
// day names a copy for ever. Where nothing was entered between two copies, the later name is first.
func Newer(a, b Kept) int {
	return cmp.Or(cmp.Compare(b.Entry, a.Entry), strings.Compare(b.Name, a.Name))
}

func madeOn(name string) (time.Time, bool) {
	for _, form := range []string{copyDay, copyMinute} {
		if t, err := time.ParseInLocation(form, name, time.Local); err == nil {
			return t, true
		}
	}
	return time.Time{}, false
}

// How many copies are kept: of the last days, then one a week, then one a month.
const (
	daysKept   = 7
	weeksKept  = 5
	monthsKept = 12
)

// thin removes the copies, newest first, that no rule keeps; never the one that was just made.
func thin(all []Kept, made Kept) error {
	days, weeks, months := map[string]bool{}, map[string]bool{}, map[string]bool{}
	take := func(seen map[string]bool, key string, most int) bool {
		if seen[key] || len(seen) >= most {
			return false
		}
		seen[key] = true
		return true
	}
	var errs []error
	for i, k := range all {
		day, _ := madeOn(k.Name)
		y, w := day.ISOWeek()
		kept := take(days, day.Format(time.DateOnly), daysKept)
		kept = take(weeks, fmt.Sprint(y, w), weeksKept) || kept
		kept = take(months, day.Format("2006-01"), monthsKept) || kept
		const byHand = 3 // of one day, the last ones
		if !kept && i >= byHand && k.Name != made.Name {
			errs = append(errs, removeAll(k.File()))
		}
	}
	return errors.Join(errs...)
}

// NewestGood returns the copy of the places with the last entry of all that is sound to its last page; ok is false where there is none.
func NewestGood(ctx context.Context, places ...string) (best Kept, ok bool) {
	var all []Kept
	for _, p := range places {
		some, _ := Copies(ctx, p)
		all = append(all, some...)
	}
	slices.SortStableFunc(all, Newer)
	for _, k := range all {
		if k.Fault == "" && sound(ctx, k.File()) == nil {
			return k, true
		}
	}
	return Kept{}, false
}

// Inside is what a copy holds, beside what is here.
type Inside struct {
	Engines []InsideEngine `json:"engines"`
	Entries int            `json:"entries"`
	Lost    int            `json:"lost" doc:"Entries here that it doesn't have, which would be set aside"`
	Gained  int            `json:"gained" doc:"Entries in it that are not here"`
	Photos  int            `json:"photos"`
}

// InsideEngine is an engine in a copy.
type InsideEngine struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	Tests int    `json:"tests"`
	Last  string `json:"last,omitzero" doc:"The day of its last test"`
	Here  int    `json:"here" doc:"Tests here"`
	Lost  bool   `json:"lost,omitzero" doc:"It isn't in the backup, so it would be set aside"`
}

// LookInside reads a copy, or an archive of one, to its last page, and says what it holds.
func (s *Store) LookInside(ctx context.Context, file string) (in Inside, err error) {
	dir, err := os.MkdirTemp(s.Dir, ".passing-")
	if err != nil {
		return in, err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	source, photos, err := unpack(file, filepath.Join(dir, "unpacked"))
	if err != nil {
		return in, err
	}
	fresh := filepath.Join(dir, File)
	if err := readied(ctx, source, fresh); err != nil {
		return in, err
	}
	names, err := photosIn(photos)
	if err != nil {
		return in, err
	}
	in.Photos = len(names)
	db, err := sql.Open("sqlite", uri(fresh)+"?_pragma=query_only(1)")
	if err != nil {
		return in, err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	if err := s.beside(ctx, db, &in); err != nil {
		return in, err
	}
	engines, err := collect(scanID)(db.QueryContext(ctx, "SELECT DISTINCT engine FROM entry"))
	if err != nil {
		return in, err
	}
	ofEngine := "SELECT " + columns + " FROM entry WHERE engine = ? ORDER BY n"
	shops, err := collect(scanEntry)(db.QueryContext(ctx, ofEngine, ""))
	if err != nil {
		return in, err
	}
	shop := book.Replay("", shops)
	in.Engines = []InsideEngine{}
	for _, id := range engines {
		if id == "" {
			continue
		}
		entries, err := collect(scanEntry)(db.QueryContext(ctx, ofEngine, id))
		if err != nil {
			return in, err
		}
		in.Engines = append(in.Engines, s.insideOf(ctx, id, entries, shop))
	}
	for _, id := range s.Engines() { // what would be gone is what one looks inside for
		if slices.Contains(engines, id) {
			continue
		}
		one := InsideEngine{ID: id, Name: s.Names()[id], Lost: true}
		if l, _, err := s.Log(ctx, id); err == nil {
			one.Here = len(l.Sessions)
		}
		in.Engines = append(in.Engines, one)
	}
	slices.SortFunc(in.Engines, func(a, b InsideEngine) int { return strings.Compare(a.Name, b.Name) })
	return in, nil
}

// beside counts the entries of a copy, and those that either has and the other has not.
func (s *Store) beside(ctx context.Context, copied *sql.DB, in *Inside) error {
	const ids = "SELECT id FROM entry"
	mine, err := collect(scanID)(s.read.QueryContext(ctx, ids))
	if err != nil {
		return err
	}
	theirs, err := collect(scanID)(copied.QueryContext(ctx, ids))
	if err != nil {
		return err
	}
	here := make(map[string]bool, len(mine))
	for _, id := range mine {
		here[id] = true
	}
	in.Entries = len(theirs)
	for _, id := range theirs {
		if !here[id] {
			in.Gained++
		}
	}
	in.Lost = len(mine) - (len(theirs) - in.Gained)
	return nil
}

func scanID(r *sql.Rows) (id string, err error) { return id, r.Scan(&id) }

func (s *Store) insideOf(ctx context.Context, id string, entries []book.Entry, shop *book.Book) InsideEngine {
	l := book.Replay(id, entries).Log(shop)
	one := InsideEngine{ID: id, Name: l.Engine.Name, Tests: len(l.Sessions)}
	if one.Tests > 0 {
		one.Last = l.Sessions[one.Tests-1].Date
	}
	if mine, _, err := s.Log(ctx, id); err == nil {
		one.Here = len(mine.Sessions)
	}
	return one
}
