package store_test

import (
	"bytes"
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/store"
)

// secret are things that let somebody in, as a store keeps them.
var secret = store.Device{ID: "phone", Name: "Ansa's phone", Token: bytes.Repeat([]byte("t"), 32), Since: time.Unix(0, 0).UTC(), Seen: time.Unix(0, 0).UTC()}

func TestWhatLetsSomebodyInIsInNoCopy(t *testing.T) {
	dir, _ := filled(t, 3)
	s, err := store.Open(dir)
	require.NoError(t, err)
	require.NoError(t, s.SetPasscode([]byte("the-hash-of-a-passcode")))
	require.NoError(t, s.SetCalendarKey("the-key-of-the-calendar"))
	require.NoError(t, s.KeepDevice(secret))
	kept, err := s.KeepCopy(ctx, store.HomePlace(dir), time.Now(), true)
	require.NoError(t, err)
	archive := filepath.Join(t.TempDir(), "all.zip")
	require.NoError(t, s.Backup(ctx, archive))
	aside := filepath.Join(t.TempDir(), "all.db")
	require.NoError(t, s.Backup(ctx, aside))
	inside, err := s.LookInside(ctx, archive)
	require.NoError(t, err)
	assert.Positive(t, inside.Entries)
	for _, file := range []string{kept.File(), archive, aside, filepath.Join(dir, store.File)} {
		text, err := os.ReadFile(file)
		require.NoError(t, err)
		for _, word := range []string{"the-hash-of", "the-key-of", "Ansa's phone", string(secret.Token)} {
			assert.NotContains(t, string(text), word, file)
		}
	}
	// Shut out, then a copy is put back in which it was in: it stays out.
	gone := secret
	gone.Shut = true
	require.NoError(t, s.KeepDevice(gone))
	require.NoError(t, s.SetPasscode([]byte("another")))
	require.NoError(t, s.Close())
	_, err = store.Restore(ctx, dir, kept.File())
	require.NoError(t, err)
	s, err = store.Open(dir)
	require.NoError(t, err)
	assert.True(t, s.Devices()[0].Shut)
	assert.Equal(t, "another", string(s.Passcode()))
	require.NoError(t, s.Close())
}

// A file of the schema before holds the secrets in tables: they come out of it once, and a copy of that time brings none back.
func TestSecretsComeOutOfAnOlderFile(t *testing.T) {
	dir, says := filled(t, 3)
	older := func(t *testing.T, file string) {
		db, err := sql.Open("sqlite", file)
		require.NoError(t, err)
		for _, statement := range []string{
			"CREATE TABLE passcode (one INTEGER PRIMARY KEY CHECK (one = 1), hash BLOB NOT NULL, made TEXT NOT NULL) STRICT",
			"CREATE TABLE device (id TEXT PRIMARY KEY, name TEXT NOT NULL, token BLOB NOT NULL UNIQUE, since TEXT NOT NULL, seen TEXT NOT NULL, shut TEXT) STRICT",
			"CREATE TABLE calendar (one INTEGER PRIMARY KEY CHECK (one = 1), key TEXT NOT NULL, made TEXT NOT NULL) STRICT",
			"INSERT INTO passcode VALUES (1, X'6f6c642d68617368', '2031-01-01T00:00:00Z')",
			"INSERT INTO calendar VALUES (1, 'old-key-of-the-calendar', '2031-01-01T00:00:00Z')",
			"INSERT INTO device VALUES ('d', 'Marit', X'" + strings.Repeat("ab", 32) + "', '2031-01-01T00:00:00Z', '2031-01-01T00:00:00Z', NULL)",
			"DELETE FROM goose_db_version WHERE version_id = 7",
		} {
			_, err := db.Exec(statement)
			require.NoError(t, err, statement)
		}
		require.NoError(t, db.Close())
	}
	spoil(t, dir, func(file string) { older(t, file) })
	copied := filepath.Join(t.TempDir(), "older.db")
	text, err := os.ReadFile(filepath.Join(dir, store.File))
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(copied, text, 0o600))
	s, err := store.Open(dir)
	require.NoError(t, err)
	assert.Equal(t, "old-hash", string(s.Passcode()))
	assert.Equal(t, "old-key-of-the-calendar", s.CalendarKey())
	require.Len(t, s.Devices(), 1)
	assert.Equal(t, says, saying(t, s))
	require.NoError(t, s.SetPasscode([]byte("new")))
	require.NoError(t, s.Close())
	baks, err := filepath.Glob(filepath.Join(dir, "*.bak"))
	require.NoError(t, err)
	require.Len(t, baks, 1)
	bak, err := os.ReadFile(baks[0])
	require.NoError(t, err)
	assert.NotContains(t, string(bak), "old-key-of", "the copy aside has none")
	_, err = store.Restore(ctx, dir, copied)
	require.NoError(t, err)
	s, err = store.Open(dir)
	require.NoError(t, err)
	assert.Equal(t, "new", string(s.Passcode()))
	require.NoError(t, s.Close())
}

// A file with what isn't ours in it may keep something else than it is told.
func TestAFileWithATriggerIsRefused(t *testing.T) {
	for name, statement := range map[string]string{
		"a trigger":          "CREATE TRIGGER gone AFTER INSERT ON entry BEGIN DELETE FROM entry WHERE n = NEW.n; END",
		"a table":            "CREATE TABLE other (a)",
		"a view":             "CREATE VIEW other AS SELECT 1",
		"an index":           "CREATE INDEX other ON entry(kind)",
		"a view of our name": "DROP VIEW pulls; CREATE VIEW pulls AS SELECT 1",
	} {
		t.Run(name, func(t *testing.T) {
			dir, _ := filled(t, 2)
			good, says := filled(t, 2)
			spoil(t, dir, func(file string) {
				db, err := sql.Open("sqlite", file)
				require.NoError(t, err)
				_, err = db.Exec(statement)
				require.NoError(t, err)
				require.NoError(t, db.Close())
			})
			_, err := store.Open(dir)
			require.ErrorIs(t, err, store.ErrForeign)
			_, err = store.Restore(ctx, good, filepath.Join(dir, store.File))
			require.ErrorIs(t, err, store.ErrForeign)
			again, faults := reopened(t, good)
			assert.Equal(t, says, again)
			assert.Empty(t, faults)
		})
	}
}

func TestNothingIsCalledKeptWhenTheFileIsGone(t *testing.T) {
	for name, how := range map[string]func(t *testing.T, dir string){
		"deleted": func(t *testing.T, dir string) { require.NoError(t, os.Remove(filepath.Join(dir, store.File))) },
		"moved": func(t *testing.T, dir string) {
			require.NoError(t, os.Rename(filepath.Join(dir, store.File), filepath.Join(dir, "x")))
		},
		"directory deleted": func(t *testing.T, dir string) { require.NoError(t, os.RemoveAll(dir)) },
		"directory moved":   func(t *testing.T, dir string) { require.NoError(t, os.Rename(dir, dir+"-moved")) },
		"replaced": func(t *testing.T, dir string) {
			text, err := os.ReadFile(filepath.Join(dir, store.File))
			require.NoError(t, err)
			require.NoError(t, os.Remove(filepath.Join(dir, store.File)))
			require.NoError(t, os.WriteFile(filepath.Join(dir, store.File), text, 0o600))
		},
		"an empty directory in its place": func(t *testing.T, dir string) {
			require.NoError(t, os.Rename(dir, dir+"-disk"))
			require.NoError(t, os.Mkdir(dir, 0o700))
		},
	} {
		t.Run(name, func(t *testing.T) {
			dir := filepath.Join(t.TempDir(), "data")
			s, err := store.Open(dir)
			require.NoError(t, err)
			begun(t, s)
			assert.Empty(t, s.Gone())
			how(t, dir)
			_, err = s.Append(ctx, []book.Entry{entry("late", book.Note, `{"text":"x"}`)}, time.Now())
			require.ErrorIs(t, err, store.ErrGone)
			assert.NotEmpty(t, s.Gone())
			assert.Contains(t, store.Trouble(err), "gone: its disk was unplugged")
			_, _, _, err = s.Union(ctx, []book.Entry{entry("late2", book.Note, `{"text":"x"}`)})
			require.ErrorIs(t, err, store.ErrGone)
			require.ErrorIs(t, s.PutPhoto("late3", []byte("x")), store.ErrGone)
			_, err = s.KeepCopy(ctx, store.HomePlace(dir), time.Now(), true)
			require.ErrorIs(t, err, store.ErrGone)
			_, err = s.Import(ctx, log.Log{Engine: log.Engine{Name: "x", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1}}}}}, time.Now())
			require.ErrorIs(t, err, store.ErrGone)
			_ = s.Close()
		})
	}
}

func TestALinkThatLeadsNowhereIsNoNewFile(t *testing.T) {
	dir := t.TempDir()
	disk := filepath.Join(dir, "disk", "braxel.db")
	data := filepath.Join(dir, "data")
	require.NoError(t, os.Mkdir(data, 0o700))
	require.NoError(t, os.Symlink(disk, filepath.Join(data, store.File)))
	_, err := store.Open(data)
	require.ErrorContains(t, err, "is a link to "+disk)
	_, err = store.OpenExisting(data)
	require.Error(t, err)
	info, err := os.Lstat(filepath.Join(data, store.File))
	require.NoError(t, err)
	assert.NotZero(t, info.Mode()&os.ModeSymlink, "it is left as it is")
	whole := filepath.Join(dir, "whole")
	require.NoError(t, os.Symlink(filepath.Join(dir, "absent"), whole))
	_, err = store.Open(whole)
	require.ErrorContains(t, err, "is a link to")
	_, err = store.Restore(ctx, data, disk)
	require.Error(t, err)
	// With the disk in, it opens.
	require.NoError(t, os.Mkdir(filepath.Dir(disk), 0o700))
	s, err := store.Open(filepath.Dir(disk))
	require.NoError(t, err)
	require.NoError(t, s.Close())
	s, err = store.Open(data)
	require.NoError(t, err)
	require.NoError(t, s.Close())
}

func TestTheSecondPlaceIsKnownByItsMark(t *testing.T) {
	dir, _ := filled(t, 1)
	s, err := store.Open(dir)
	require.NoError(t, err)
	defer func() { _ = s.Close() }()
	stick := t.TempDir()
	require.NoError(t, s.SetSecondPlace(stick))
	require.Equal(t, []string{store.HomePlace(dir), stick}, store.PlacesOf(dir))
	_, err = s.KeepCopy(ctx, stick, time.Now(), true)
	require.NoError(t, err)
	mark := filepath.Join(stick, "braxel-copies.txt")
	text, err := os.ReadFile(mark)
	require.NoError(t, err)
	// The stick is out: the bare mount point is there, and empty.
	require.NoError(t, os.Remove(mark))
	_, err = s.KeepCopy(ctx, stick, time.Now().Add(time.Second), true)
	require.ErrorContains(t, err, "the backup disk isn't there")
	// Another stick.
	require.NoError(t, os.WriteFile(mark, []byte("somebody else's\n"), 0o600))
	_, err = s.KeepCopy(ctx, stick, time.Now().Add(time.Second), true)
	require.ErrorContains(t, err, "isn't ours")
	require.NoError(t, os.WriteFile(mark, text, 0o600))
	_, err = s.KeepCopy(ctx, stick, time.Now().Add(time.Second), true)
	require.NoError(t, err)
}

// Of several copies the newest is the one with the last entry, whatever a clock made it be called.
func TestTheNewestCopyIsTheOneWithTheLastEntry(t *testing.T) {
	dir, _ := filled(t, 3)
	s, err := store.Open(dir)
	require.NoError(t, err)
	place := store.HomePlace(dir)
	_, err = s.KeepCopy(ctx, place, time.Date(2066, 1, 1, 0, 0, 0, 0, time.Local), false)
	require.NoError(t, err)
	told(t, s, entry("later", book.Note, `{"text":"later"}`))
	_, err = s.KeepCopy(ctx, place, time.Date(2031, 2, 14, 0, 0, 0, 0, time.Local), false)
	require.NoError(t, err)
	best, ok := store.NewestGood(ctx, place)
	require.True(t, ok)
	assert.Equal(t, "braxel-2031-02-14.db", best.Name)
	assert.Equal(t, 1, best.Engines)
	// An older one is put back, and something is entered: that is newer than all that was before.
	older, err := store.Copies(ctx, place)
	require.NoError(t, err)
	require.Equal(t, "braxel-2066-01-01.db", older[1].Name)
	assert.Greater(t, older[0].Entry, older[1].Entry)
	require.NoError(t, s.Close())
	_, err = store.Restore(ctx, dir, older[1].File())
	require.NoError(t, err)
	s, err = store.Open(dir)
	require.NoError(t, err)
	told(t, s, entry("anew", book.Note, `{"text":"anew"}`))
	_, err = s.KeepCopy(ctx, place, time.Date(2030, 1, 1, 0, 0, 0, 0, time.Local), false)
	require.NoError(t, err)
	best, ok = store.NewestGood(ctx, place)
	require.True(t, ok)
	assert.Equal(t, "braxel-2030-01-01.db", best.Name)
	require.NoError(t, s.Close())
}

func TestAFailedCopyLeavesNothingBehind(t *testing.T) {
	dir, _ := filled(t, 3)
	s, err := store.Open(dir)
	require.NoError(t, err)
	defer func() { _ = s.Close() }()
	place := store.HomePlace(dir)
	require.NoError(t, os.MkdirAll(filepath.Join(place, "photos"), 0o700))
	for _, left := range []string{"braxel-2031-01-01.db.part", "photos/123.part"} { // of those that were killed
		require.NoError(t, os.WriteFile(filepath.Join(place, left), []byte("x"), 0o600))
	}
	// A directory where the copy would be: it can't be made.
	now := time.Date(2031, 2, 14, 9, 0, 0, 0, time.Local)
	require.NoError(t, os.MkdirAll(filepath.Join(place, now.Format("braxel-2006-01-02.db")+".part", "x"), 0o700))
	_, err = s.KeepCopy(ctx, place, now, false)
	require.Error(t, err)
	left, err := filepath.Glob(filepath.Join(place, "*.part"))
	require.NoError(t, err)
	assert.Len(t, left, 1, "but for the directory in its way")
	require.NoError(t, os.RemoveAll(left[0]))
	to := filepath.Join(dir, "no-such", "x.zip")
	require.Error(t, s.Backup(ctx, to))
	// Two at once: both work.
	errs := make(chan error, 2)
	for range 2 {
		go func() { _, err := s.KeepCopy(ctx, place, now.Add(time.Hour), true); errs <- err }()
	}
	assert.NoError(t, <-errs)
	assert.NoError(t, <-errs)
}

func TestInACopyTheEnginesAreNamedThatWouldBeLost(t *testing.T) {
	dir, _ := filled(t, 3)
	s, err := store.Open(dir)
	require.NoError(t, err)
	defer func() { _ = s.Close() }()
	kept, err := s.KeepCopy(ctx, store.HomePlace(dir), time.Now(), true)
	require.NoError(t, err)
	e := entry("new-engine", book.Engine, `{"name":"Teal","kind":"four-stroke","layout":{"banks":[[1,2,3,4]]}}`)
	e.Engine = "teal"
	told(t, s, e)
	inside, err := s.LookInside(ctx, kept.File())
	require.NoError(t, err)
	require.Len(t, inside.Engines, 2)
	for _, one := range inside.Engines {
		assert.Equal(t, one.ID == "teal", one.Lost, one.ID)
	}
	assert.Equal(t, 1, inside.Lost)
}

// A clock that is set back makes no correction do nothing.
func TestACorrectionStandsWhateverTheClocksSay(t *testing.T) {
	s := open(t)
	begun(t, s)
	day := time.Date(2033, 4, 2, 10, 0, 0, 0, time.UTC)
	enter := func(id, kind, body, was string, at, now time.Time) {
		t.Helper()
		e := entry(id, kind, body)
		e.At = at.Format(book.Clock)
		if was != "" {
			e.Was = []byte(was)
		}
		answers, err := s.Append(ctx, []book.Entry{e}, now)
		require.NoError(t, err)
		require.Equal(t, book.IsKept, answers[0].Result, answers[0].Why)
	}
	bore := func() float64 {
		l, _, err := s.Log(ctx, "heron")
		require.NoError(t, err)
		return l.Engine.BoreMM
	}
	enter("first", book.Engine, `{"bore_mm":87}`, "", day, day)
	require.InDelta(t, 87, bore(), 0)
	// The clock of the device, and that of this machine, go back by an hour; what was seen is named.
	back := day.Add(-time.Hour)
	enter("second", book.Engine, `{"bore_mm":88}`, `{"bore_mm":87}`, back, back)
	assert.InDelta(t, 88, bore(), 0)
	// A device that was told the time of the last entry stamps after it: that isn't taken for a clock that runs ahead.
	after, err := time.Parse(book.Clock, s.Latest())
	require.NoError(t, err)
	enter("third", book.Engine, `{"bore_mm":89}`, "", after.Add(time.Millisecond), back)
	assert.InDelta(t, 89, bore(), 0)
	// A device that runs ahead by a year comes after what is there, in the order in which it entered it.
	for i := range 5 {
		enter(fmt.Sprint("ahead", 9-i), book.Engine, fmt.Sprintf(`{"bore_mm":%d}`, 90+i), "", day.AddDate(1, 0, 0).Add(time.Duration(i)*time.Millisecond), back)
	}
	assert.InDelta(t, 94, bore(), 0)
	// A strike with a slow clock comes after what it strikes, a strike of the strike after that.
	enter("n1", book.Note, `{"text":"x"}`, "", after, back)
	enter("s1x", book.Strike, `{"entry":"n1","why":"wrong"}`, "", day.AddDate(-12, 0, 0), back)
	l, _, err := s.Log(ctx, "heron")
	require.NoError(t, err)
	assert.NotEmpty(t, l.Notes[0].Struck)
	// Written twice, in whatever order, it is the same.
	record, err := s.Record(ctx, "heron")
	require.NoError(t, err)
	again := book.Replay("heron", record).Log(book.Of(""))
	assert.InDelta(t, 94, again.Engine.BoreMM, 0)
}

// A change that was made by somebody who had not seen the other, on a clock that is right, keeps its place.
func TestAnHonestClockKeepsItsPlace(t *testing.T) {
	s := open(t)
	begun(t, s)
	ten := time.Date(2033, 4, 2, 10, 0, 0, 0, time.UTC)
	e := entry("ten", book.Engine, `{"bore_mm":87}`)
	e.At = ten.Format(book.Clock)
	told(t, s, e)
	e = entry("nine", book.Engine, `{"bore_mm":60}`)
	e.At, e.Was = ten.Add(-time.Hour).Format(book.Clock), []byte(`{"bore_mm":null}`)
	told(t, s, e)
	l, _, err := s.Log(ctx, "heron")
	require.NoError(t, err)
	assert.InDelta(t, 87, l.Engine.BoreMM, 0, "typed at nine while the server was away, it is earlier")
}

// A poisoned entry is refused, and one that an older Braxel took costs nothing.
func TestAPoisonedEntryHoldsNothingUp(t *testing.T) {
	s := open(t)
	begun(t, s)
	deep := strings.Repeat(`{"a":`, 9000) + "1" + strings.Repeat("}", 9000)
	for field, e := range map[string]book.Entry{
		"/was deep":   {Was: []byte(deep)},
		"/was long":   {Was: []byte(`{"a":"` + strings.Repeat("x", 100<<10) + `"}`)},
		"/was no":     {Was: []byte(`[1]`)},
		" body":       {Body: []byte(`{"text":` + deep + `}`)},
		" body lists": {Body: []byte(`{"text":` + strings.Repeat("[", 9000) + strings.Repeat("]", 9000) + `}`)},
	} {
		p := entry("poison", book.Note, `{"text":"x"}`)
		p.Was = e.Was
		if e.Body != nil {
			p.Body = e.Body
		}
		answers, err := s.Append(ctx, []book.Entry{p, entry("good"+fmt.Sprint(len(field)), book.Note, `{"text":"x"}`)}, time.Now())
		require.NoError(t, err, field)
		assert.Equal(t, book.IsRefused, answers[0].Result, field)
		at, _, _ := strings.Cut(field, " ")
		assert.Equal(t, at, answers[0].Field, field)
		assert.NotEqual(t, book.IsRefused, answers[1].Result, answers[1].Why)
	}
}

func TestOneLogOfSeveralThatIsRefusedHarmsNoOther(t *testing.T) {
	s := open(t)
	four := func(name string) log.Log {
		return log.Log{Format: log.Format, Version: log.Version, Engine: log.Engine{ID: name, Name: name, Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}}}}
	}
	bad := four("bad")
	bad.Testers = []log.Tester{{ID: "g", Name: "gauge", Kind: "gauge"}}
	bad.Builds = []log.Build{{ID: "b", Date: "no day"}}
	results := s.ImportAll(ctx, []log.Log{four("one"), bad, four("two")}, time.Now())
	require.NoError(t, results[0].Err)
	require.Error(t, results[1].Err)
	require.NoError(t, results[2].Err)
	assert.Equal(t, []string{"one", "two"}, s.Engines())
	s.Forget()
	assert.Equal(t, []string{"one", "two"}, s.Engines())
	_, _, err := s.Log(ctx, "bad")
	require.ErrorIs(t, err, store.ErrUnknown)
	again := s.ImportAll(ctx, []log.Log{four("one"), four("two")}, time.Now())
	assert.Zero(t, again[0].New+again[1].New)
	faults, err := s.Check(ctx)
	require.NoError(t, err)
	assert.Empty(t, faults)
}
