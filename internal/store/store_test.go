package store_test

import (
	"context"
	"database/sql"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/units"
	"braxel/internal/store"
)

var ctx = context.Background()

func open(t testing.TB) *store.Store {
	t.Helper()
	s, err := store.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return s
}

var now = time.Date(2033, 4, 2, 12, 0, 0, 0, time.UTC)

func entry(id, kind, body string) book.Entry {
	return book.Entry{ID: id, At: "2033-04-02T09:00:00.000Z", By: "Ansa, phone", Engine: "heron", Kind: kind, Body: jsontext.Value(body)}
}

func psi(test string, cylinder int, value float64) string {
	return fmt.Sprintf(`{"test":%q,"cylinder":%d,"mode":"dry","value":%g,"unit":"psi"}`, test, cylinder, value)
}

const four = `{"name":"Heron","kind":"four-stroke","layout":{"banks":[[1,2,3,4]]},"firing_order":[1,3,4,2]}`

func told(t testing.TB, s *store.Store, entries ...book.Entry) []book.Answer {
	t.Helper()
	answers, err := s.Append(ctx, entries, now)
	require.NoError(t, err)
	return answers
}

func begun(t testing.TB, s *store.Store) {
	t.Helper()
	for _, a := range told(t, s, entry("e1", book.Engine, four), entry("t1", book.Test, `{"id":"s1","date":"2033-04-02"}`)) {
		require.Equal(t, book.IsKept, a.Result, a.Why)
	}
}

func text(t testing.TB, v any) string {
	t.Helper()
	out, err := json.Marshal(v, json.Deterministic(true))
	require.NoError(t, err)
	return string(out)
}

func TestOneBadEntryHarmsNoOther(t *testing.T) {
	s := open(t)
	begun(t, s)
	answers := told(t, s, entry("p1", book.Pull, psi("s1", 1, 170)), entry("p2", book.Pull, psi("s1", 9, 170)), entry("p1", book.Pull, psi("s1", 2, 99)),
		entry("p 4", book.Pull, psi("s1", 2, 170)), entry("p1", book.Pull, psi("s1", 1, 170)), entry("p3", book.Pull, psi("s1", 2, 171)))
	var results []string
	for _, a := range answers {
		results = append(results, a.Result)
	}
	assert.Equal(t, []string{"kept", "refused", "refused", "refused", "already", "kept"}, results)
	l, revision, err := s.Log(ctx, "heron")
	require.NoError(t, err)
	assert.Len(t, l.Sessions[0].Compression, 2)
	assert.Positive(t, revision)
	other := entry("p1", book.Note, `{"text":"of another engine"}`)
	other.Engine = "bittern"
	assert.Equal(t, "/id", told(t, s, other)[0].Field, "an id is taken in the whole file")
}

func TestUnknownThingsAreSaidToBeUnknown(t *testing.T) {
	s := open(t)
	_, _, err := s.Log(ctx, "nobody")
	assert.ErrorIs(t, err, store.ErrUnknown)
	_, err = s.Record(ctx, "nobody")
	assert.ErrorIs(t, err, store.ErrUnknown)
	_, err = s.Photo("nobody")
	assert.ErrorIs(t, err, store.ErrUnknown)
}

func TestWhatIsRememberedIsWhatIsOnDisk(t *testing.T) {
	dir := t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	begun(t, s)
	told(t, s, book.Entry{ID: "g1", At: "2033-04-02T09:00:00.000Z", Kind: book.Tester, Body: jsontext.Value(`{"id":"g","name":"G","kind":"compression"}`)})
	r := rand.New(rand.NewPCG(4, 2))
	for n := range 400 {
		body := psi("s1", 1+r.IntN(5), float64(60+r.IntN(140)))
		kind := book.Pull
		switch r.IntN(6) {
		case 0:
			kind, body = book.Strike, fmt.Sprintf(`{"entry":"d%d","why":"slipped"}`, r.IntN(n+1))
		case 1:
			kind, body = book.Test, fmt.Sprintf(`{"id":"s%d","date":"2033-04-%02d","note":"n%d"}`, 1+r.IntN(4), 1+r.IntN(28), n)
		case 2:
			kind, body = book.AsRead, fmt.Sprintf(`{"entry":"d%d"}`, r.IntN(n+1))
		}
		e := entry(fmt.Sprint("d", n), kind, body)
		e.At = now.Add(time.Duration(r.IntN(5000)) * time.Second).Format(book.Clock) // some before others that came first
		if r.IntN(9) == 0 {
			e = book.Entry{ID: fmt.Sprint("d", n), At: e.At, Kind: book.Tester, Body: jsontext.Value(fmt.Sprintf(`{"id":"g","name":"G","kind":"compression","resolution":{"value":%d,"unit":"psi"}}`, 1+r.IntN(9)))}
		}
		told(t, s, e)
		if r.IntN(3) == 0 {
			_, _, err := s.Log(ctx, "heron")
			require.NoError(t, err)
		}
	}
	l, revision, err := s.Log(ctx, "heron")
	require.NoError(t, err)
	require.NoError(t, s.Close())
	s, err = store.Open(dir)
	require.NoError(t, err)
	defer func() { _ = s.Close() }()
	again, later, err := s.Log(ctx, "heron")
	require.NoError(t, err)
	assert.Equal(t, text(t, l), text(t, again))
	assert.Equal(t, revision, later)
	assert.Empty(t, again.Check())
}

func TestEightWritersLoseNothingToEachOther(t *testing.T) {
	s := open(t)
	begun(t, s)
	var each sync.WaitGroup
	var mu sync.Mutex
	kept := map[string]bool{}
	for w := range 8 {
		each.Go(func() {
			for n := range 30 {
				id := fmt.Sprintf("w%d-%d", w, n)
				bodies := map[string]string{book.Note: fmt.Sprintf(`{"text":"note %s"}`, id), book.Tick: fmt.Sprintf(`{"test":"s1","line":"l%d","done":true}`, n),
					book.Test: fmt.Sprintf(`{"id":"s1","note":%q}`, id), book.Pull: psi("s1", 1+w%4, float64(170+n%3))}
				for kind, body := range bodies {
					answers, err := s.Append(ctx, []book.Entry{entry(kind+id, kind, body)}, now)
					if err == nil && answers[0].Result == book.IsKept {
						mu.Lock()
						kept[kind+id] = true
						mu.Unlock()
					}
					_, _, _ = s.Log(ctx, "heron")
				}
			}
		})
	}
	each.Wait()
	assert.Len(t, kept, 8*30*4)
	l, _, err := s.Log(ctx, "heron")
	require.NoError(t, err)
	assert.Len(t, l.Notes, 240)
	assert.Len(t, l.Sessions[0].Ticks, 30)
	pulls := 0
	for _, row := range l.Sessions[0].Compression {
		pulls += len(row.Pulls)
	}
	assert.Equal(t, 240, pulls)
}

func TestWhatWasMadeHoldsUntilTheEngineTheShopOrTheJudgeChanges(t *testing.T) {
	s := open(t)
	begun(t, s)
	made, err := s.Rack(ctx, 7)
	require.NoError(t, err)
	require.Len(t, made, 1)
	assert.Nil(t, made[0].Rack)
	assert.False(t, made[0].Holds)
	assert.Equal(t, map[string]string{"heron": "Heron"}, s.Names())
	made[0].Rack, made[0].Spreads = []byte(`{}`), []byte(`{}`)
	require.NoError(t, s.KeepMade(ctx, made))
	holds := func(judge int) (rack, spreads bool) {
		made, err := s.Rack(ctx, judge)
		require.NoError(t, err)
		assert.NotNil(t, made[0].Rack, "what was said before stays to be shown meanwhile")
		return made[0].Holds, made[0].Spreads != nil
	}
	rack, spreads := holds(7)
	assert.True(t, rack && spreads)
	rack, spreads = holds(8)
	assert.True(t, !rack && spreads, "another judge has not spoken yet")
	told(t, s, book.Entry{ID: "g1", At: "2033-04-02T09:00:00.000Z", Kind: book.Tester, Body: jsontext.Value(`{"id":"g","name":"G","kind":"compression"}`)})
	rack, spreads = holds(7)
	assert.True(t, !rack && spreads, "a tester changed")
	told(t, s, entry("p1", book.Pull, psi("s1", 1, 170)))
	rack, spreads = holds(7)
	assert.False(t, rack || spreads)
}

func TestASecondProcessIsKeptOutByWhateverWayItComes(t *testing.T) {
	dir := t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	link := filepath.Join(t.TempDir(), "link")
	require.NoError(t, os.Symlink(dir, link))
	beside := t.TempDir()
	require.NoError(t, os.Symlink(filepath.Join(dir, store.File), filepath.Join(beside, store.File)))
	for name, way := range map[string]string{"the same directory": dir, "a link to it": link, "a link to the file": beside} {
		_, err = store.Open(way)
		assert.ErrorContains(t, err, "in use by another Braxel (process ", name)
	}
	require.NoError(t, os.Remove(filepath.Join(dir, "braxel.lock")))
	_, err = store.Open(dir)
	assert.ErrorContains(t, err, "in use by another Braxel", "somebody tidied the lock away")
	require.NoError(t, s.Close())
	again, err := store.Open(link)
	require.NoError(t, err)
	require.NoError(t, again.Close())
}

func TestAFileThatIsNotOursIsNamedAndLeftAlone(t *testing.T) {
	foreign := func(dir string) {
		db, err := sql.Open("sqlite", filepath.Join(dir, store.File))
		require.NoError(t, err)
		_, err = db.Exec("CREATE TABLE recipes (cake TEXT)")
		require.NoError(t, err)
		require.NoError(t, db.Close())
	}
	for name, c := range map[string]struct {
		make func(dir string)
		says string
	}{
		"nothing in it": {func(dir string) { require.NoError(t, os.WriteFile(filepath.Join(dir, store.File), nil, 0o600)) }, "is empty"},
		"words": {func(dir string) {
			require.NoError(t, os.WriteFile(filepath.Join(dir, store.File), []byte(strings.Repeat("no database ", 900)), 0o600))
		}, "not a Braxel data file"},
		"somebody's recipes": {foreign, "some other database"},
	} {
		dir := t.TempDir()
		c.make(dir)
		before, err := os.ReadFile(filepath.Join(dir, store.File))
		require.NoError(t, err)
		_, err = store.Open(dir)
		assert.ErrorContains(t, err, c.says, name)
		after, err := os.ReadFile(filepath.Join(dir, store.File))
		require.NoError(t, err)
		assert.Equal(t, before, after, name)
	}
	_, err := store.OpenExisting(filepath.Join(t.TempDir(), "typo"))
	assert.ErrorContains(t, err, "there is no data file")
}

func TestANewerFileIsRefused(t *testing.T) {
	dir := t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	require.NoError(t, s.Close())
	db, err := sql.Open("sqlite", filepath.Join(dir, store.File))
	require.NoError(t, err)
	_, err = db.Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)")
	require.NoError(t, err)
	require.NoError(t, db.Close())
	_, err = store.Open(dir)
	assert.ErrorContains(t, err, "schema 9999")
}

// oldFile makes a data file of schema 2, with every oddity that it let in.
func oldFile(t testing.TB, dir string) {
	t.Helper()
	db, err := sql.Open("sqlite", filepath.Join(dir, store.File))
	require.NoError(t, err)
	do := func(statement string, args ...any) {
		_, err := db.Exec(statement, args...)
		require.NoError(t, err, statement)
	}
	for _, name := range []string{"00001_first.sql", "00002_sheet.sql"} {
		statements, err := os.ReadFile(filepath.Join("migrations", name))
		require.NoError(t, err)
		do(string(statements))
	}
	do("CREATE TABLE goose_db_version (id INTEGER PRIMARY KEY AUTOINCREMENT, version_id INTEGER NOT NULL, is_applied INTEGER NOT NULL, tstamp TIMESTAMP DEFAULT (datetime('now')))")
	do("INSERT INTO goose_db_version (version_id, is_applied) VALUES (0, 1), (1, 1), (2, 1)")
	do(`INSERT INTO tester (id, body) VALUES ('g', '{"id":"g","name":"Long hose","kind":"compression","resolution":{"value":2,"unit":"psi"}}')`)
	do(`INSERT INTO protocol (id, body) VALUES ('ours', '{"id":"ours","name":"Ours","cranking":{"rule":"plateau"},"pulls":"agree","plugs_out":"all","temp":"hot","evenness":"10","wet":"asked","leakdown":"asked","leak_watch_pct":10,"leak_act_pct":15}')`)
	do(`INSERT INTO engine (id, body, extra) VALUES ('heron', '{"id":"heron","name":"Heron","kind":"four-stroke","layout":{"banks":[[1,2,3,4]]},"note":"new coil"}', '{"/colour":"red","/sessions/0/humidity":55}')`)
	do(`INSERT INTO engine (id, body) VALUES ('odd', '{"id":"odd","name":"Odd","kind":"steam","layout":{"banks":[[1,2]],"rotors":3},"bore_mm":-5,"fuel":"petrol"}')`)
	do("INSERT INTO build (engine, id, date, what) VALUES ('heron', 'b2', '2031-01-01', 'rings')")
	do("INSERT INTO event (engine, date, meter, what) VALUES ('heron', '2031-02-01', 3, 'missed shift'), ('heron', '2031-02-01', 3, 'missed shift')")
	session := func(n int, engine, id, date string, meter any, conditions string) {
		do("INSERT INTO session (n, engine, id, date, build, stage, meter, baseline, operator, note, open, conditions, sheet) VALUES (?, ?, ?, ?, '', 'service', ?, 1, 'Ansa', '', 1, ?, '{\"ticks\":[\"chocks\"],\"gauge\":\"g\"}')",
			n, engine, id, date, meter, conditions)
	}
	session(1, "heron", "s1", "2031-02-14", 12.5, `{"engine_temp":"hot"}`)
	session(2, "heron", "a test", "0000-01-01", 1e300, `{"battery_v":1e300,"engine_temp":"cold"}`)
	session(3, "odd", "s1", "2031-02-14", nil, `{}`)
	pull := func(session, line, cylinder int, value float64, struck, key string) {
		do("INSERT INTO pull (session, line, mode, cylinder, rotor, face, tester, oil_cc, value, unit, beats, rpm, battery_v, struck, note, key, at) VALUES (?, ?, 'dry', ?, 0, 0, 'g', 0, ?, 'psi', 0, 0, 0, ?, '', ?, '2031-02-14T10:00:00Z')",
			session, line, cylinder, value, struck, key)
	}
	pull(1, 0, 1, 170, "", "samesame1")
	pull(1, 0, 1, 171, "slipped", "0.1")
	pull(2, 0, 3, 165, " ", "k")
	pull(2, 1, 9, 150, "", "k9")
	pull(3, 0, 1, 150, "", "k")
	do("INSERT INTO leakdown (session, cylinder, tester, supply, held, unit, position, struck, note, paths, key) VALUES (1, 2, '', 100, 1e-30, 'psi', 'tdc', '', '', '[]', 'l')")
	do("INSERT INTO observation (session, what, cylinder, finding, value, unit, note, key) VALUES (2, 'plug', 99999, 'tan', NULL, '', '', 'o1'), (1, 'other', 0, 'photo', NULL, '', 'the bore', 'pic1')")
	require.NoError(t, db.Close())
	photos := filepath.Join(dir, "photos", "heron", "s1")
	require.NoError(t, os.MkdirAll(photos, 0o700))
	require.NoError(t, os.WriteFile(filepath.Join(photos, "pic1.jpg"), []byte("picture"), 0o600))
}

func TestAnOlderFileIsBroughtOverWithNothingLost(t *testing.T) {
	dir := t.TempDir()
	oldFile(t, dir)
	require.NoError(t, os.WriteFile(filepath.Join(dir, store.File+".schema-2.part"), []byte("left by one that was killed"), 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(dir, store.File+".schema-2.bak"), []byte("kept by one that was killed"), 0o600))
	s, err := store.Open(dir)
	require.NoError(t, err)
	assert.FileExists(t, filepath.Join(dir, store.File+".schema-2-2.bak"))

	l, _, err := s.Log(ctx, "heron")
	require.NoError(t, err)
	assert.Empty(t, l.Check(), "what stands is sound")
	require.Len(t, l.Sessions, 2)
	odd, one := l.Sessions[0], l.Sessions[1]
	assert.Equal(t, "samesame1", one.Compression[0].Pulls[0].Key)
	assert.Equal(t, "slipped", one.Compression[0].Pulls[1].Struck)
	assert.Equal(t, []string{"chocks"}, one.Ticks)
	assert.NotNil(t, one.Leakdown[0].Paths)
	assert.Equal(t, []string{"/sessions/0/humidity", "/colour"}, log.Strangers(l))
	assert.Len(t, l.Events, 2, "two alike are two")
	assert.Equal(t, "cold", odd.Conditions.EngineTemp, "of a head with a fault the rest stands")
	assert.Zero(t, odd.Conditions.BatteryV)
	assert.InDelta(t, 165, odd.Compression[0].Pulls[0].Value, 0)
	assert.Equal(t, "the engine has no cylinder 9", odd.Compression[1].Pulls[0].Struck)
	v, err := s.View(ctx, "heron")
	require.NoError(t, err)
	assert.NotEmpty(t, v.Unplaced, "the date, the meter, the volts, the plug of cylinder 99999")
	assert.Contains(t, text(t, v.Unplaced), "99,999")

	o, _, err := s.Log(ctx, "odd")
	require.NoError(t, err)
	assert.Equal(t, "petrol", o.Engine.Fuel)
	assert.Empty(t, o.Check())
	assert.Len(t, s.Testers(), 1)
	assert.Len(t, s.Rules().Protocols, 1)
	picture, err := s.PhotoOf("heron", "s1", "pic1")
	require.NoError(t, err)
	assert.Equal(t, "picture", string(picture))
	record, err := s.Record(ctx, "heron")
	require.NoError(t, err)
	require.NoError(t, s.Close())

	// A second file of the same contents agrees, entry by entry.
	twin := t.TempDir()
	oldFile(t, twin)
	other, err := store.Open(twin)
	require.NoError(t, err)
	defer func() { _ = other.Close() }()
	again, err := other.Record(ctx, "heron")
	require.NoError(t, err)
	assert.Equal(t, record, again)
	added, err := other.Merge(ctx, filepath.Join(dir, store.File))
	require.NoError(t, err)
	assert.Zero(t, added)
}

func TestMergingTwoFilesIsTheUnionEitherWay(t *testing.T) {
	make := func(own ...book.Entry) (*store.Store, string) {
		s := open(t)
		begun(t, s)
		told(t, s, own...)
		return s, filepath.Join(s.Dir, store.File)
	}
	a, fileA := make(entry("p1", book.Pull, psi("s1", 1, 170)), entry("x", book.Note, `{"text":"said at the track"}`))
	b, fileB := make(entry("p2", book.Pull, psi("s1", 2, 171)), entry("x", book.Note, `{"text":"said in the shop"}`))
	added, err := a.Merge(ctx, fileB)
	require.NoError(t, err)
	assert.Equal(t, 2, added)
	_, err = b.Merge(ctx, fileA)
	require.NoError(t, err)
	la, _, err := a.Log(ctx, "heron")
	require.NoError(t, err)
	lb, _, err := b.Log(ctx, "heron")
	require.NoError(t, err)
	assert.Equal(t, text(t, la), text(t, lb))
	assert.Len(t, la.Notes, 2, "of one id, two that say different things: both are kept")
	added, err = a.Merge(ctx, fileB)
	require.NoError(t, err)
	assert.Zero(t, added)
}

func TestAnImportTwiceChangesNothingAndReplacesNothing(t *testing.T) {
	s := open(t)
	l := log.Log{Format: log.Format, Version: log.Version, Engine: log.Engine{Name: "New", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2}}}},
		Testers: []log.Tester{{ID: "g1", Kind: log.CompressionTester}, {ID: "spare", Name: "Spare", Kind: log.LeakdownTester}},
		Builds:  []log.Build{{ID: "b2", Date: "2031-01-01"}},
		Events:  []log.Event{{What: "ran"}, {What: "ran"}},
		Sessions: []log.Session{{ID: "s 1", Date: "2031-02-14", Compression: []log.Compression{
			{Place: log.Place{Cylinder: 1}, Mode: log.Dry, Tester: "unlisted", Pulls: []log.Pull{{Reading: units.Reading{Value: 150, Unit: units.PSI}, Key: "0.1"}, {Reading: units.Reading{Value: 151, Unit: units.PSI}}}},
			{Place: log.Place{Cylinder: 2}, Mode: log.Dry, Pulls: []log.Pull{}}}}}}
	first, err := s.Import(ctx, l, now)
	require.NoError(t, err)
	assert.Positive(t, first.New)
	again, err := s.Import(ctx, l, now)
	require.NoError(t, err)
	assert.Zero(t, again.New)
	assert.Empty(t, again.Differs)
	assert.Equal(t, first.Engine, again.Engine)
	assert.NotEqual(t, "new", first.Engine, "it has no form's address")
	kept, _, err := s.Log(ctx, first.Engine)
	require.NoError(t, err)
	assert.Len(t, kept.Testers, 2, "also the one that nothing uses")
	assert.Equal(t, "unlisted", kept.Sessions[0].Compression[0].Tester)
	assert.Len(t, kept.Sessions[0].Compression, 2, "a row without pulls is a row")
	assert.Len(t, kept.Sessions[0].Compression[0].Pulls, 2)

	l.Sessions[0].Compression[0].Pulls[0].Value = 99
	l.Sessions = append(l.Sessions, log.Session{ID: "s2", Date: "2031-03-01"})
	l.Engine.ID = first.Engine
	more, err := s.Import(ctx, l, now)
	require.NoError(t, err)
	assert.Equal(t, 1, more.New)
	require.Len(t, more.Differs, 1)
	assert.Equal(t, "/sessions/0", more.Differs[0].At)
	kept, _, _ = s.Log(ctx, first.Engine)
	assert.InDelta(t, 150, kept.Sessions[0].Compression[0].Pulls[0].Value, 0)
}

func TestAPictureIsKeptOnceAndNeverOverwritten(t *testing.T) {
	s := open(t)
	require.NoError(t, s.PutPhoto("p1", []byte("one")))
	require.NoError(t, s.PutPhoto("p1", []byte("one")))
	require.ErrorIs(t, s.PutPhoto("p1", []byte("other")), store.ErrOther)
	picture, err := s.Photo("p1")
	require.NoError(t, err)
	assert.Equal(t, "one", string(picture))
	begun(t, s)
	told(t, s, entry("p2", book.Photo, `{"test":"s1"}`))
	faults, err := s.Check(ctx)
	require.NoError(t, err)
	assert.Equal(t, []string{"the picture of photo p2 is missing"}, faults)
}

func TestABackupIsAWholeCopyOfALiveFile(t *testing.T) {
	s := open(t)
	begun(t, s)
	to := filepath.Join(t.TempDir(), "copy.db")
	require.NoError(t, s.Backup(ctx, to))
	require.Error(t, s.Backup(ctx, to), "it never writes over a file")
	dir := t.TempDir()
	other, err := store.Open(dir)
	require.NoError(t, err)
	require.NoError(t, other.Close())
	require.NoError(t, os.WriteFile(filepath.Join(dir, store.File+".restored"), []byte("left by one that was killed"), 0o600))
	_, err = store.Restore(ctx, dir, to)
	require.NoError(t, err)
	other, err = store.Open(dir)
	require.NoError(t, err)
	defer func() { _ = other.Close() }()
	assert.Equal(t, []string{"heron"}, other.Engines())
}
