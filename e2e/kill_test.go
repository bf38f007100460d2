package e2e

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"flag"
	"fmt"
	"math/rand/v2"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "modernc.org/sqlite" // the driver, to make an old file

	"braxel/internal/server"
	"braxel/internal/store"
)

var kills = flag.Int("kills", 15, "how often the program is killed under load; a fifth as often while it starts and while it migrates")

// everyKind is what eight devices might enter, all of it admitted.
func everyKind(id string, n int) map[string]any {
	of := func(kind string, body map[string]any) map[string]any {
		return map[string]any{"id": id, "engine": "siskin", "kind": kind, "body": body}
	}
	c := 1 + n%8
	switch n % 9 {
	case 0:
		return of("note", map[string]any{"text": id})
	case 1:
		return of("tick", map[string]any{"test": "s1", "line": fmt.Sprint("l", n%50), "done": n%2 == 0})
	case 2:
		return of("test", map[string]any{"id": "s1", "meter": n})
	case 3:
		return of("leakdown", map[string]any{"test": "s1", "cylinder": c, "supply": 100, "held": 97, "unit": "psi"})
	case 4:
		return of("look", map[string]any{"test": "s1", "what": "plug", "cylinder": c, "finding": "tan"})
	case 5:
		return of("event", map[string]any{"what": id})
	case 6:
		return of("engine", map[string]any{"bore_mm": 80 + n%9})
	case 7:
		return of("build", map[string]any{"id": id, "date": "2031-01-01"})
	}
	return of("pull", map[string]any{"test": "s1", "cylinder": c, "mode": "dry", "value": 170 + n%3, "unit": "psi"})
}

// hand posts entries and returns the ids that were answered as kept or there already.
func hand(url string, entries []map[string]any) []string {
	text, _ := json.Marshal(map[string]any{"entries": entries})
	ctx, cancel := context.WithTimeout(context.Background(), 3*time.Second)
	defer cancel()
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, url+"/api/entries", bytes.NewReader(text))
	if err != nil {
		return nil
	}
	request.Header.Set("Content-Type", "application/json")
	answer, err := http.DefaultClient.Do(request)
	if err != nil {
		return nil
	}
	defer func() { _ = answer.Body.Close() }()
	var out struct{ Answers []struct{ ID, Result string } }
	if json.NewDecoder(answer.Body).Decode(&out) != nil {
		return nil
	}
	var kept []string
	for _, a := range out.Answers {
		if a.Result != "refused" {
			kept = append(kept, a.ID)
		}
	}
	return kept
}

func TestNothingAnsweredIsLostToAKill(t *testing.T) {
	t.Parallel()
	data, port := t.TempDir(), freePort(t)
	s := serve(t, port, "serve", "--data", data)
	s.siskin(t, v8)
	s.tell(t, map[string]any{"id": "begun-s1", "kind": "test", "body": map[string]any{"id": "s1", "date": "2031-02-14"}})
	r := rand.New(rand.NewPCG(7, 7))
	answered := map[string]bool{}
	var mu sync.Mutex
	n := 0
	for kill := range *kills {
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
					at := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC).Format(time.RFC3339)
					one, two := everyKind(id, i), everyKind(id+"b", i+4)
					one["at"], two["at"] = at, at
					kept := hand(s.url, []map[string]any{one, two})
					mu.Lock()
					for _, id := range kept {
						answered[id] = true
					}
					n++
					mu.Unlock()
				}
			})
		}
		time.Sleep(time.Duration(20+r.IntN(120)) * time.Millisecond)
		require.NoError(t, s.cmd.Process.Kill())
		close(stop)
		each.Wait()
		_ = s.cmd.Wait()
		s = serve(t, port, "serve", "--data", data)
	}
	require.Greater(t, len(answered), *kills)
	var record server.Record
	s.get(t, "/api/engines/siskin/record", &record)
	found := map[string]int{}
	for _, l := range record.Lines {
		found[l.ID]++
		assert.Empty(t, l.Apart)
	}
	lost := 0
	for id := range answered {
		if found[id] == 0 {
			lost++
		}
		require.LessOrEqual(t, found[id], 1, "doubled")
	}
	assert.Zero(t, lost)
	t.Logf("%d kills, %d requests, %d entries answered, %d on record, %d lost", *kills, n, len(answered), len(record.Lines), lost)
	require.NoError(t, s.cmd.Process.Signal(os.Interrupt))
	_ = s.cmd.Wait()
	out, complaint, exit := braxel(t, "", "check", "--data", data)
	assert.Equal(t, 0, exit, complaint+out)
}

// startAndKill starts the program on data and kills it after a while; it tells whether it had got as far as its address.
func startAndKill(t *testing.T, data string, after time.Duration) {
	t.Helper()
	cmd := exec.Command(binary, "serve", "--data", data, "--port", "0")
	require.NoError(t, cmd.Start())
	time.Sleep(after)
	_ = cmd.Process.Kill()
	_ = cmd.Wait()
}

func TestAStartThatIsKilledIsNoHindranceToTheNext(t *testing.T) {
	t.Parallel()
	r := rand.New(rand.NewPCG(1, 1))
	for range max(1, *kills/5) {
		data := filepath.Join(t.TempDir(), "data")
		for range 3 {
			startAndKill(t, data, time.Duration(r.IntN(60))*time.Millisecond)
		}
		s := serve(t, 0, "serve", "--data", data)
		s.siskin(t, v8)
		s.kill(t)
		out, complaint, exit := braxel(t, "", "check", "--data", data)
		require.Equal(t, 0, exit, complaint+out)
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
	t.Parallel()
	r := rand.New(rand.NewPCG(2, 2))
	for range max(1, *kills/5) {
		data := t.TempDir()
		oldShop(t, data)
		for range 3 {
			startAndKill(t, data, time.Duration(10+r.IntN(250))*time.Millisecond)
		}
		out, complaint, exit := braxel(t, "", "export", "--data", data)
		require.Equal(t, 0, exit, complaint)
		assert.Equal(t, 20, bytes.Count([]byte(out), []byte("\n")))
		assert.Equal(t, 20*20*4, bytes.Count([]byte(out), []byte(`"value":170`)), "every reading, once")
	}
}
