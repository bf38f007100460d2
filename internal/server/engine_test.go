package server_test

import (
	"context"
	"database/sql"
	"fmt"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/core/diary"
	"braxel/internal/core/judge"
	"braxel/internal/server"
	"braxel/internal/store"
)

// typed enters a whole dry test of an engine, two pulls a cylinder, and returns its id.
func typed(t *testing.T, a *fiber.App, engine string, psi ...float64) string {
	t.Helper()
	return typedOn(t, a, engine, "2031-02-14", psi...)
}

func typedOn(t *testing.T, a *fiber.App, engine, date string, psi ...float64) string {
	t.Helper()
	page := get[server.EnginePage](t, a, "/api/engines/"+engine)
	page.Begin.Date, page.Begin.Baseline = date, page.Begin.Baseline || date > "2031-02-14"
	page.Begin.ID = fmt.Sprint("s", len(page.Tests)+1)
	entries := []any{typedEntry(engine, page.Begin.ID, book.Test, page.Begin)}
	for c, v := range psi {
		for k := range 2 {
			entries = append(entries, typedEntry(engine, fmt.Sprintf("%s-%d-%d", page.Begin.ID, c, k), book.Pull,
				map[string]any{"test": page.Begin.ID, "cylinder": c + 1, "mode": "dry", "value": v, "unit": "psi"}))
		}
	}
	text, err := json.Marshal(map[string]any{"entries": entries})
	require.NoError(t, err)
	status, _, body := ask(t, a, "POST", "/api/entries", string(text))
	require.Equal(t, 200, status, body)
	require.NotContains(t, body, "refused")
	return page.Begin.ID
}

func typedEntry(engine, id, kind string, body any) map[string]any {
	return map[string]any{"id": engine + "-" + id, "at": "2031-02-14T09:00:00Z", "engine": engine, "kind": kind, "body": body, "sure": true}
}

func get[T any](t *testing.T, a *fiber.App, path string) T {
	t.Helper()
	status, _, body := ask(t, a, "GET", path, "")
	require.Equal(t, 200, status, body)
	var out T
	require.NoError(t, json.Unmarshal([]byte(body), &out))
	return out
}

func TestTheRackPutsTheMostUrgentFirst(t *testing.T) {
	a := app(t)
	for _, name := range []string{"Avocet", "Brambling", "Crake"} {
		e := fmt.Sprintf(`{"entries":[{"id":"e-%[1]s","at":"2031-02-14T08:00:00Z","engine":%[2]q,"kind":"engine","body":{"name":%[1]q,"kind":"four-stroke","layout":{"banks":[[1,2,3,4]]},"duty":"circuit"}}]}`, name, strings.ToLower(name))
		status, _, body := ask(t, a, "POST", "/api/entries", e)
		require.Equal(t, 200, status, body)
	}
	typed(t, a, "avocet", 180, 182, 178, 180)
	typed(t, a, "brambling", 180, 182, 178, 180)
	typed(t, a, "brambling", 180, 182, 20, 180)
	for engine, test := range map[string]string{"avocet": "s1", "brambling": "s2"} {
		closed, err := json.Marshal(map[string]any{"entries": []any{typedEntry(engine, "end", book.Test, map[string]any{"id": test, "open": nil})}})
		require.NoError(t, err)
		_, _, body := ask(t, a, "POST", "/api/entries", string(closed))
		require.Contains(t, body, "kept")
	}
	var order []string
	rack := get[server.Rack](t, a, "/api/rack")
	for _, e := range rack.Engines {
		order = append(order, e.Name+" "+string(e.State))
	}
	assert.Equal(t, []string{"Brambling stop", "Avocet steady", "Crake "}, order)
	require.Len(t, rack.Engines[0].Diary, 2, "its first test was never finished")
	assert.Equal(t, diary.Mend, rack.Engines[0].Diary[1].Kind, "what is to be mended comes before any date")
	require.Len(t, rack.Engines[1].Diary, 1)
	assert.Equal(t, "2031-08-14", rack.Engines[1].Diary[0].By, "six months, without a meter")
	assert.Contains(t, rack.Engines[2].Sentence, "Not tested yet")
}

func TestATestThatIsGoingOnLeavesTheEngineAsItWas(t *testing.T) {
	a := app(t)
	kept(t, a, book.Engine, four)
	typed(t, a, "siskin", 180, 182, 178, 180)
	typed(t, a, "siskin", 90)
	page := get[server.EnginePage](t, a, "/api/engines/siskin")
	assert.Equal(t, judge.Steady, page.State)
	assert.Equal(t, "s2", page.Open)
	assert.Equal(t, "Being tested: 1 of 4 read.", page.Tests[1].Verdict.Sentence)
}

func TestAnEngineSaysWhatToDo(t *testing.T) {
	a := app(t)
	kept(t, a, book.Engine, four)
	typed(t, a, "siskin", 180, 182, 178, 180)
	typed(t, a, "siskin", 180, 182, 158, 180)
	page := get[server.EnginePage](t, a, "/api/engines/siskin")
	assert.Contains(t, page.Sentence, "Cylinder 3 is down")
	assert.NotEmpty(t, page.Decision)
	require.NotNil(t, page.Next)
	assert.Equal(t, "leakdown", page.Next.Test)
	assert.Equal(t, "158", page.Bores[2].Reading)
	assert.NotEmpty(t, page.Bores[2].Why)

	kept(t, a, book.Build, `{"id":"b1","date":"2031-02-15","what":"rings"}`)
	kept(t, a, book.Event, `{"date":"2031-02-15","what":"ran hot","meter":12}`)
	typedOn(t, a, "siskin", "2031-02-15", 190, 191, 189, 190)
	page = get[server.EnginePage](t, a, "/api/engines/siskin")
	assert.Contains(t, page.Sentence, "Recorded as the baseline of this build", "a new build is held against nothing older")
	assert.Equal(t, "ran hot", page.Events[0].What)
}

func TestLimitsAreChangedWithoutLosingTheRest(t *testing.T) {
	a := app(t)
	kept(t, a, book.Engine, four)
	typed(t, a, "siskin", 180, 182, 178, 180)
	kept(t, a, book.Engine, `{"limits":{"source":"the builder","compression_minimum":{"value":179,"unit":"psi"}}}`)
	page := get[server.EnginePage](t, a, "/api/engines/siskin")
	assert.Equal(t, judge.Watch, page.State, "3 reads 178")
	assert.Len(t, page.Tests, 1)
	assert.Equal(t, "Siskin", get[server.Rack](t, a, "/api/rack").Engines[0].Name)
	assert.Equal(t, judge.Watch, get[server.Rack](t, a, "/api/rack").Engines[0].State, "the rack is judged anew")
	answer, _ := tell(t, a, book.Engine, `{"layout":{"banks":[[1,2,3,3]]}}`)
	assert.Equal(t, "/layout/banks/0/3", answer.Field)
	assert.Contains(t, kept(t, a, book.Test, `{"id":"s1","note":"x"}`), "Siskin")
}

func TestOneEngineThatCannotBeReadSpoilsItsOwnLine(t *testing.T) {
	dir := t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	for _, id := range []string{"avocet", "brambling"} {
		_, err := s.Append(context.Background(), []book.Entry{{ID: "e-" + id, At: "2031-02-14T09:00:00.000Z", Engine: id, Kind: book.Engine,
			Body: jsontext.Value(`{"name":"` + id + `","kind":"four-stroke","layout":{"banks":[[1,2]]}}`)}}, time.Now())
		require.NoError(t, err)
	}
	require.NoError(t, s.Close())
	db, err := sql.Open("sqlite", filepath.Join(dir, store.File))
	require.NoError(t, err)
	_, err = db.Exec("UPDATE entry SET body = '{\"name\":' WHERE engine = 'brambling'")
	require.NoError(t, err)
	require.NoError(t, db.Close())
	s, err = store.Open(dir)
	require.NoError(t, err)
	defer func() { _ = s.Close() }()
	a, err := server.New(server.Config{Store: s, Files: fstest.MapFS{}, Now: time.Now})
	require.NoError(t, err)
	rack := get[server.Rack](t, a, "/api/rack")
	require.Len(t, rack.Engines, 2)
	assert.Contains(t, rack.Engines[0].Sentence, "can't be read")
	assert.Equal(t, "avocet", rack.Engines[1].Name)
	faults, err := s.Check(context.Background())
	require.NoError(t, err)
	assert.Contains(t, strings.Join(faults, " "), "brambling")
}

func TestTheRecordTellsWhoDidWhatAndWhatWasStruck(t *testing.T) {
	a := begun(t)
	kept(t, a, book.Pull, `{"test":"s1","cylinder":3,"mode":"dry","value":172,"unit":"psi"}`, "p1")
	kept(t, a, book.Strike, `{"entry":"p1","why":"throttle shut"}`)
	lines := get[server.Record](t, a, "/api/engines/siskin/record").Lines
	assert.Equal(t, "struck (throttle shut): cylinder 3 dry: 172 psi", lines[0].Words)
	assert.Equal(t, "throttle shut", lines[1].Struck)
	assert.Equal(t, "s1", lines[1].Test)
	assert.Len(t, lines, 4)
}
