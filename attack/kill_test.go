package attack

import (
	"bytes"
	"database/sql"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "modernc.org/sqlite" // the driver, to make an old file

	"braxel/internal/store"
)

// everyKind is what four devices might enter, all of it admitted.
func everyKind(id string, n int) map[string]any {
	c := 1 + n%4
	switch n % 9 {
	case 0:
		return entry(id, "note", map[string]any{"text": id})
	case 1:
		return entry(id, "tick", map[string]any{"test": "s1", "line": fmt.Sprint("l", n%50), "done": n%2 == 0})
	case 2:
		return entry(id, "test", map[string]any{"id": "s1", "meter": n})
	case 3:
		return entry(id, "leakdown", map[string]any{"test": "s1", "cylinder": c, "supply": 100, "held": 97, "unit": "psi"})
	case 4:
		return entry(id, "look", map[string]any{"test": "s1", "what": "plug", "cylinder": c, "finding": "tan"})
	case 5:
		return entry(id, "event", map[string]any{"what": id})
	case 6:
		return entry(id, "engine", map[string]any{"bore_mm": 80 + n%9})
	case 7:
		return entry(id, "build", map[string]any{"id": id, "date": "2031-01-01"})
	}
	return pull(id, c, 170+n%3)
}

// Killed under load, again and again: what was answered is there, once.
func TestKillsUnderLoad(t *testing.T) {
	data := t.TempDir()
	s := serve(t, "", data)
	s.siskin()
	draw := rand.New(rand.NewPCG(3, 3))
	answered := map[string]bool{}
	var mu sync.Mutex
	kills := some(12, 300)
	for kill := range kills {
		stop := make(chan struct{})
		var each sync.WaitGroup
		for w := range 4 {
			each.Go(func() {
				for i := 0; ; i++ {
					select {
					case <-stop:
						return
					default:
					}
					id := fmt.Sprintf("k%d-%d-%d", kill, w, i)
					kept := s.tell(everyKind(id, i), everyKind(id+"b", i+4))
					mu.Lock()
					for _, id := range kept {
						answered[id] = true
					}
					mu.Unlock()
				}
			})
		}
		time.Sleep(time.Duration(30+draw.IntN(150)) * time.Millisecond)
		_ = s.cmd.Process.Kill()
		close(stop)
		each.Wait()
		_ = s.cmd.Wait()
		s = serve(t, "", data)
	}
	found := s.record()
	lost := 0
	for id := range answered {
		if found[id] == 0 {
			lost++
		}
		require.LessOrEqual(t, found[id], 1, "doubled")
	}
	assert.Zero(t, lost)
	t.Logf("%d kills, %d entries answered, %d lost", kills, len(answered), lost)
	s.kill()
	sound(t, data)
}

func TestAStartThatIsKilledIsNoHindranceToTheNext(t *testing.T) {
	draw := rand.New(rand.NewPCG(1, 1))
	for range some(3, 40) {
		data := filepath.Join(t.TempDir(), "data")
		for range 3 {
			killed(time.Duration(draw.IntN(60))*time.Millisecond, "serve", "--no-browser", "--port", "0", "--data", data)
		}
		s := serve(t, "", data)
		s.siskin()
		s.kill()
		sound(t, data)
	}
}

// oldShop makes a data file of the schema before the book, with some hundred tests.
func oldShop(t *testing.T, data string) {
	t.Helper()
	db, err := sql.Open("sqlite", filepath.Join(data, store.File))
	require.NoError(t, err)
	db.SetMaxOpenConns(1)
	do := func(statement string, args ...any) {
		_, err := db.Exec(statement, args...)
		require.NoError(t, err, statement)
	}
	for _, name := range []string{"00001_first.sql", "00002_sheet.sql"} {
		statements, err := os.ReadFile(filepath.Join("..", "internal", "store", "migrations", name))
		require.NoError(t, err)
		do(string(statements))
	}
	do("CREATE TABLE goose_db_version (id INTEGER PRIMARY KEY AUTOINCREMENT, version_id INTEGER NOT NULL, is_applied INTEGER NOT NULL, tstamp TIMESTAMP DEFAULT (datetime('now')))")
	do("INSERT INTO goose_db_version (version_id, is_applied) VALUES (0, 1), (1, 1), (2, 1)")
	do("BEGIN")
	for e := range 20 {
		id := fmt.Sprint("engine-", e)
		do("INSERT INTO engine (id, body) VALUES (?, ?)", id, fmt.Sprintf(`{"id":%q,"name":"Engine","kind":"four-stroke","layout":{"banks":[[1,2,3,4]]}}`, id))
		for n := range 20 {
			session := e*100 + n
			do("INSERT INTO session (n, engine, id, date, build, stage, baseline, operator, note, open, conditions) VALUES (?, ?, ?, '2031-02-14', '', '', 0, '', '', 0, '{}')", session, id, fmt.Sprint("s", n))
			for c := range 4 {
				do("INSERT INTO pull (session, line, mode, cylinder, rotor, face, tester, oil_cc, value, unit, beats, rpm, battery_v, struck, note, key, at) VALUES (?, ?, 'dry', ?, 0, 0, '', 0, 170, 'psi', 0, 0, 0, '', '', ?, '')", session, c, c+1, fmt.Sprint("k", c))
			}
		}
	}
	do("COMMIT")
	require.NoError(t, db.Close())
}

func TestAMigrationThatIsKilledGoesOnByItself(t *testing.T) {
	draw := rand.New(rand.NewPCG(2, 2))
	for range some(3, 40) {
		data := t.TempDir()
		oldShop(t, data)
		for range 3 {
			killed(time.Duration(10+draw.IntN(250))*time.Millisecond, "serve", "--no-browser", "--port", "0", "--data", data)
		}
		out, err := braxel("export", "--data", data)
		require.NoError(t, err, out)
		assert.Equal(t, 20, bytes.Count([]byte(out), []byte("\n")))
		assert.Equal(t, 20*20*4, bytes.Count([]byte(out), []byte(`"value":170`)), "every reading, once")
	}
}
