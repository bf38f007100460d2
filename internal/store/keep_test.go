package store_test

import (
	"bytes"
	"database/sql"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/store"
)

// filled makes a data directory with a test of so many readings, and a photo, and returns what it says.
func filled(t testing.TB, readings int) (dir, says string) {
	t.Helper()
	dir = t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	begun(t, s)
	all := []book.Entry{entry("shot", book.Photo, `{"test":"s1","note":"plug 3"}`)}
	for n := range readings {
		all = append(all, entry(fmt.Sprint("p", n), book.Pull, psi("s1", 1+n%4, float64(150+n%20))))
	}
	told(t, s, all...)
	require.NoError(t, s.PutPhoto("shot", []byte("a picture")))
	says = saying(t, s)
	require.NoError(t, s.Close())
	return dir, says
}

func saying(t testing.TB, s *store.Store) string {
	t.Helper()
	l, _, err := s.Log(ctx, "heron")
	require.NoError(t, err)
	return text(t, l)
}

// reopened opens a directory, and returns what it says of its engine and what check finds.
func reopened(t testing.TB, dir string) (says string, faults []string) {
	t.Helper()
	s, err := store.Open(dir)
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	faults, err = s.Check(ctx)
	require.NoError(t, err)
	return saying(t, s), faults
}

func spoil(t testing.TB, dir string, how func(file string)) {
	t.Helper()
	how(filepath.Join(dir, store.File))
}

func TestACopyIsPutBackWhateverIsThereNow(t *testing.T) {
	for name, how := range map[string]func(file string){
		"cut short": func(f string) { require.NoError(t, os.Truncate(f, 9000)) },
		"garbage":   func(f string) { require.NoError(t, os.WriteFile(f, bytes.Repeat([]byte("no"), 9000), 0o600)) },
		"empty":     func(f string) { require.NoError(t, os.Truncate(f, 0)) },
		"gone":      func(f string) { require.NoError(t, os.Remove(f)) },
		"foreign": func(f string) {
			require.NoError(t, os.Remove(f))
			db, err := sql.Open("sqlite", f)
			require.NoError(t, err)
			_, err = db.Exec("CREATE TABLE engine (name TEXT); CREATE TABLE entry (a); CREATE TABLE session (a)")
			require.NoError(t, err)
			require.NoError(t, db.Close())
		},
		"newer": func(f string) {
			db, err := sql.Open("sqlite", f)
			require.NoError(t, err)
			_, err = db.Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)")
			require.NoError(t, err)
			require.NoError(t, db.Close())
		},
		"as it was": func(string) {},
	} {
		for _, kind := range []string{"copy.db", "copy.zip"} {
			t.Run(name+" "+kind, func(t *testing.T) {
				dir, says := filled(t, 30)
				copied := filepath.Join(t.TempDir(), kind)
				require.NoError(t, store.Copy(ctx, dir, copied))
				info, err := os.Stat(copied)
				require.NoError(t, err)
				assert.Equal(t, os.FileMode(0o600), info.Mode().Perm(), "nobody else reads it")
				spoil(t, dir, how)
				was, _ := os.ReadFile(filepath.Join(dir, store.File))
				require.NoError(t, os.RemoveAll(filepath.Join(dir, "photos")))
				aside, err := store.Restore(ctx, dir, copied)
				require.NoError(t, err)
				now, faults := reopened(t, dir)
				assert.Equal(t, says, now)
				assert.Empty(t, faults, "the photo too")
				if name != "gone" {
					kept, err := os.ReadFile(aside)
					require.NoError(t, err)
					assert.Equal(t, was, kept, "what was there is kept as it was")
				}
			})
		}
	}
}

func TestOnlyAGoodCopyIsPutBack(t *testing.T) {
	dir, says := filled(t, 30)
	other, _ := filled(t, 400)
	good := filepath.Join(t.TempDir(), "good.db")
	require.NoError(t, store.Copy(ctx, other, good))
	whole, err := os.ReadFile(good)
	require.NoError(t, err)
	bad := filepath.Join(t.TempDir(), "bad.db")
	damaged := bytes.Clone(whole)
	for i := len(damaged) / 2; i < len(damaged)/2+5000; i++ {
		damaged[i] = 0x5a
	}
	for name, text := range map[string][]byte{
		"cut short": whole[:len(whole)/2], "garbage": bytes.Repeat([]byte("x"), 10000), "empty": nil, "a page overwritten": damaged,
		"an archive of nothing": []byte("PK\x03\x04 and nothing"),
	} {
		require.NoError(t, os.WriteFile(bad, text, 0o600))
		_, err := store.Restore(ctx, dir, bad)
		require.Error(t, err, name)
		now, faults := reopened(t, dir)
		assert.Equal(t, says, now, name)
		assert.Empty(t, faults, name)
	}
	for name, sql3 := range map[string]string{
		"a database of something else": "CREATE TABLE engine (name TEXT); CREATE TABLE session (a)",
		"another program's versions":   "CREATE TABLE goose_db_version (version_id INTEGER, is_applied INTEGER); CREATE TABLE users (a)",
	} {
		foreign := filepath.Join(t.TempDir(), "foreign.db")
		db, err := sql.Open("sqlite", foreign)
		require.NoError(t, err)
		_, err = db.Exec(sql3)
		require.NoError(t, err)
		require.NoError(t, db.Close())
		_, err = store.Restore(ctx, dir, foreign)
		assert.ErrorIs(t, err, store.ErrForeign, name)
	}
	newer := filepath.Join(t.TempDir(), "newer.db")
	require.NoError(t, os.WriteFile(newer, whole, 0o600))
	db, err := sql.Open("sqlite", newer)
	require.NoError(t, err)
	_, err = db.Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)")
	require.NoError(t, err)
	require.NoError(t, db.Close())
	_, err = store.Restore(ctx, dir, newer)
	assert.ErrorIs(t, err, store.ErrNewer)
	_, err = store.Restore(ctx, dir, filepath.Join(t.TempDir(), "none.db"))
	require.Error(t, err)
	now, _ := reopened(t, dir)
	assert.Equal(t, says, now)
}

func TestWhyAFileCannotBeOpenedIsSaid(t *testing.T) {
	for want, how := range map[error]func(file string){
		store.ErrDamaged: func(f string) { require.NoError(t, os.Truncate(f, 5000)) },
		store.ErrForeign: func(f string) { require.NoError(t, os.WriteFile(f, []byte("Dear diary, and a few more words"), 0o600)) },
		store.ErrEmpty:   func(f string) { require.NoError(t, os.Truncate(f, 0)) },
	} {
		dir, _ := filled(t, 200)
		spoil(t, dir, how)
		_, err := store.Open(dir)
		assert.ErrorIs(t, err, want)
	}
}

func TestALogOfWritesThatWasTakenAwayIsMissed(t *testing.T) {
	dir, _ := filled(t, 5)
	s, err := store.Open(dir)
	require.NoError(t, err)
	whole := filepath.Join(t.TempDir(), "before.db")
	require.NoError(t, s.Backup(ctx, whole))
	told(t, s, entry("late", book.Note, `{"text":"answered, and on disk"}`))
	// As after a power cut: the file and its log are copied as they lie there, and the log is lost.
	lying := t.TempDir()
	for _, name := range []string{store.File, "braxel.tally"} {
		text, err := os.ReadFile(filepath.Join(dir, name))
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(filepath.Join(lying, name), text, 0o600))
	}
	require.NoError(t, s.Close())
	_, faults := reopened(t, lying)
	require.NotEmpty(t, faults)
	assert.Contains(t, strings.Join(faults, "\n"), "late")
	again, err := store.Open(lying)
	require.NoError(t, err)
	told(t, again, entry("more", book.Note, `{"text":"written since"}`))
	require.NoError(t, again.Close())
	_, faults = reopened(t, lying)
	assert.Contains(t, strings.Join(faults, "\n"), "late", "it is not forgotten by writing on")
	last, err := store.Open(lying)
	require.NoError(t, err)
	_, err = last.Merge(ctx, filepath.Join(dir, store.File))
	require.NoError(t, err)
	require.NoError(t, last.Close())
	_, faults = reopened(t, lying)
	for _, f := range faults {
		assert.NotContains(t, f, "missing: number", "it came back")
	}
}

func TestAPageThatCannotBeReadSpoilsOneEngine(t *testing.T) {
	dir := t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	const engines = 12
	for n := range engines {
		id := fmt.Sprint("engine", n)
		e := entry(fmt.Sprint("e", n), book.Engine, strings.Replace(four, "Heron", id, 1))
		e.Engine = id
		notes := []book.Entry{e}
		for k := range 40 {
			one := entry(fmt.Sprintf("n%d-%d", n, k), book.Note, `{"text":"`+strings.Repeat(id, 30)+`"}`)
			one.Engine = id
			notes = append(notes, one)
		}
		told(t, s, notes...)
	}
	require.NoError(t, s.Close())
	file := filepath.Join(dir, store.File)
	whole, err := os.ReadFile(file)
	require.NoError(t, err)
	const page = 4096
	at := bytes.Index(whole, []byte(strings.Repeat("engine7", 30))) / page * page
	for i := at; i < at+200; i++ {
		whole[i] = 0xff
	}
	require.NoError(t, os.WriteFile(file, whole, 0o600))
	s, err = store.Open(dir)
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	unread := 0
	for _, id := range s.Engines() {
		if _, _, err := s.Log(ctx, id); err != nil {
			unread++
		}
	}
	assert.Len(t, s.Engines(), engines)
	assert.Positive(t, unread)
	assert.LessOrEqual(t, unread, 2, "a page holds entries of one engine, or of two")
	faults, err := s.Check(ctx)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(faults, "\n"), "engine engine7")
}

func TestCopiesAreThinnedOutAsTheyGrowOld(t *testing.T) {
	dir, _ := filled(t, 3)
	s, err := store.Open(dir)
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	place := store.HomePlace(dir)
	day := time.Date(2033, 1, 1, 9, 0, 0, 0, time.Local)
	for range 100 {
		_, err := s.KeepCopy(ctx, place, day, false)
		require.NoError(t, err)
		day = day.AddDate(0, 0, 1)
	}
	all, err := store.Copies(ctx, place)
	require.NoError(t, err)
	names := make([]string, len(all))
	for i, k := range all {
		names[i] = k.Name
		assert.Empty(t, k.Fault)
	}
	assert.Equal(t, "braxel-2033-04-10.db", names[0])
	assert.GreaterOrEqual(t, len(names), 7+3)
	assert.LessOrEqual(t, len(names), 7+5+12)
	assert.Contains(t, names, "braxel-2033-04-04.db", "each of the last seven days")
	assert.Contains(t, strings.Join(names, " "), "braxel-2033-01-", "one of the first month")
	require.NoError(t, os.Truncate(filepath.Join(place, names[0]), 6000))
	best, ok := store.NewestGood(ctx, place)
	require.True(t, ok)
	assert.Equal(t, names[1], best.Name, "one that is damaged is passed over")
	inside, err := s.LookInside(ctx, best.File())
	require.NoError(t, err)
	assert.Equal(t, 0, inside.Lost)
	require.Len(t, inside.Engines, 1)
	assert.Equal(t, "Heron", inside.Engines[0].Name)
	assert.Equal(t, 1, inside.Photos)
}

// The victim is this test's own program, started anew to do one thing and to be killed at it.
const victim = "BRAXEL_VICTIM"

func TestMain(m *testing.M) {
	if what := os.Getenv(victim); what != "" {
		dir, from := os.Getenv("BRAXEL_DIR"), os.Getenv("BRAXEL_FROM")
		var err error
		switch what {
		case "restore":
			_, err = store.Restore(ctx, dir, from)
		case "backup":
			err = store.Copy(ctx, dir, from)
		case "merge":
			var s *store.Store
			if s, err = store.Open(dir); err == nil {
				_, err = s.Merge(ctx, from)
			}
		case "copy":
			var s *store.Store
			if s, err = store.Open(dir); err == nil {
				_, err = s.KeepCopy(ctx, from, time.Now(), false)
			}
		}
		fmt.Println("did", err)
		os.Exit(0)
	}
	os.Exit(m.Run())
}

// killed starts the victim and kills it after a while.
func killed(t *testing.T, what, dir, from string, after time.Duration) {
	t.Helper()
	c := exec.Command(os.Args[0])
	c.Env = append(os.Environ(), victim+"="+what, "BRAXEL_DIR="+dir, "BRAXEL_FROM="+from)
	require.NoError(t, c.Start())
	time.Sleep(after)
	_ = c.Process.Kill()
	_ = c.Wait()
}

func TestKilledAtAnythingItLeavesOneWholeStateOrTheOther(t *testing.T) {
	other, after := filled(t, 900)
	from := filepath.Join(t.TempDir(), "other.db")
	require.NoError(t, store.Copy(ctx, other, from))
	r := rand.New(rand.NewPCG(9, 12))
	for _, what := range []string{"restore", "backup", "merge", "copy"} {
		seen := map[string]int{}
		for range 8 {
			dir, before := filled(t, 6)
			to := from
			if what == "backup" || what == "copy" {
				to = filepath.Join(t.TempDir(), "to.db")
			}
			killed(t, what, dir, to, time.Duration(2+r.IntN(150))*time.Millisecond)
			now, faults := reopened(t, dir)
			assert.Empty(t, faults, what)
			switch {
			case now == before:
				seen["before"]++
			case what == "restore" && now == after, what == "merge" && len(now) > len(before):
				seen["after"]++
			default:
				assert.Fail(t, "neither as it was nor as it was to be", "%s\n%s", what, now)
			}
			// Whatever was left lying about, the same thing can be done again.
			killed(t, what, dir, to, 0)
			switch what {
			case "restore":
				_, err := store.Restore(ctx, dir, from)
				require.NoError(t, err)
			case "backup":
				again := filepath.Join(filepath.Dir(to), "to.db")
				if _, err := os.Stat(again); err != nil {
					require.NoError(t, store.Copy(ctx, dir, again))
				}
				fresh := t.TempDir()
				_, err := store.Restore(ctx, fresh, again)
				require.NoError(t, err, "a backup that has its name is whole")
			case "copy":
				s, err := store.Open(dir)
				require.NoError(t, err)
				_, err = s.KeepCopy(ctx, to, time.Now(), false)
				require.NoError(t, err)
				require.NoError(t, s.Close())
			}
		}
		t.Log(what, seen)
	}
}
