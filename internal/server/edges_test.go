package server_test

import (
	"archive/zip"
	"bytes"
	"database/sql"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/server"
	"braxel/internal/store"
)

// overIt is a server on a store that a test has its hands in.
func overIt(t *testing.T, s *store.Store) *fiber.App {
	t.Helper()
	a, err := server.New(server.Config{Store: s, Files: fstest.MapFS{}, Now: time.Now})
	require.NoError(t, err)
	return a
}

// formOf makes a form with a file.
func formOf(t *testing.T, name, text string, fields map[string]string) (body, kind string) {
	t.Helper()
	var out bytes.Buffer
	w := multipart.NewWriter(&out)
	for k, v := range fields {
		require.NoError(t, w.WriteField(k, v))
	}
	part, err := w.CreateFormFile("file", name)
	require.NoError(t, err)
	_, err = io.WriteString(part, text)
	require.NoError(t, err)
	require.NoError(t, w.Close())
	return out.String(), w.FormDataContentType()
}

// One engine whose page of the file can't be read leaves the others in the export, and the archive names it.
func TestAnEngineThatCannotBeReadLeavesTheOthersInTheExport(t *testing.T) {
	dir := t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	for n := range 12 {
		id := fmt.Sprint("engine", n)
		all := []book.Entry{{ID: id, At: "2031-01-01T00:00:00Z", Engine: id, Kind: book.Engine, Body: []byte(strings.Replace(four, "Siskin", id, 1))}}
		for k := range 40 {
			all = append(all, book.Entry{ID: fmt.Sprintf("n%d-%d", n, k), At: "2031-01-01T00:00:01Z", Engine: id, Kind: book.Note, Body: []byte(`{"text":"` + strings.Repeat(id, 30) + `"}`)})
		}
		_, err := s.Append(t.Context(), all, time.Now())
		require.NoError(t, err)
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
	t.Cleanup(func() { _ = s.Close() })
	a := overIt(t, s)
	status, _, text := ask(t, a, "GET", "/api/export?as=jsonl", "")
	require.Equal(t, 200, status, text)
	assert.GreaterOrEqual(t, strings.Count(text, "\n"), 10)
	status, _, text = ask(t, a, "GET", "/api/export?as=zip", "")
	require.Equal(t, 200, status)
	z, err := zip.NewReader(strings.NewReader(text), int64(len(text)))
	require.NoError(t, err)
	note, err := z.Open("LEFT-OUT.txt")
	require.NoError(t, err)
	said, err := io.ReadAll(note)
	require.NoError(t, err)
	assert.Contains(t, string(said), "engine7")
	status, _, text = ask(t, a, "POST", "/api/check", "")
	assert.Equal(t, 200, status, text)
	left, err := filepath.Glob(filepath.Join(dir, ".passing-*"))
	require.NoError(t, err)
	assert.Empty(t, left, "what was sent leaves nothing behind")
}

func TestARecordingOfAnEngineThatIsNotHere(t *testing.T) {
	a := app(t)
	body, kind := formOf(t, "x.csv", "t,kPa\n0,0\n", map[string]string{"engine": "nobody", "number": "1"})
	status, _, text := ask(t, a, "POST", "/api/import/trace", body, func(r *http.Request) { r.Header.Set("Content-Type", kind) })
	assert.Equal(t, 404, status, text)
	assert.Contains(t, text, "There is no engine of that name")
}

// A log that begins with a mark of its encoding is a log; how far its import has come is told while it is under way, and not after.
func TestALogWithAMarkOfItsEncodingComesIn(t *testing.T) {
	a := app(t)
	log := "\xef\xbb\xbf" + `{"format":"braxel-log","version":1,"engine":{"id":"teal","name":"Teal","kind":"four-stroke","layout":{"banks":[[1,2]]}},"sessions":[]}`
	for _, name := range []string{"teal.json", "teal"} {
		body, kind := formOf(t, name, log, map[string]string{"job": "mine"})
		status, _, text := ask(t, a, "POST", "/api/import/take", body, func(r *http.Request) { r.Header.Set("Content-Type", kind) })
		require.Equal(t, 200, status, text)
		assert.Contains(t, text, `"name":"Teal"`, name)
		assert.NotContains(t, text, `"fault"`)
	}
	_, _, text := ask(t, a, "GET", "/api/import/progress?job=mine", "")
	assert.Contains(t, text, `"known":false`)
	two, kind := formOf(t, "a.json", "{}", nil)
	two = strings.Replace(two, "--\r\n", "\r\nContent-Disposition: form-data; name=\"file\"; filename=\"b\"\r\n\r\n{}\r\n", 1)
	status, _, _ := ask(t, a, "POST", "/api/import/take", two, func(r *http.Request) { r.Header.Set("Content-Type", kind) })
	assert.NotEqual(t, 500, status)
}

// While another program holds the file the rack is shown, and what is typed is not called kept.
func TestAHeldFileShowsTheRackAndKeepsNothing(t *testing.T) {
	if testing.Short() {
		return // it waits as long as Braxel does
	}
	dir := t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	a := overIt(t, s)
	answer, _ := tell(t, a, book.Engine, four)
	require.Equal(t, book.IsKept, answer.Result)
	other, err := sql.Open("sqlite", filepath.Join(dir, store.File))
	require.NoError(t, err)
	other.SetMaxOpenConns(1)
	_, err = other.Exec("BEGIN IMMEDIATE")
	require.NoError(t, err)
	status, _, text := ask(t, a, "GET", "/api/rack", "")
	assert.Equal(t, 200, status, text)
	assert.Contains(t, text, "Siskin")
	status, _, text = ask(t, a, "POST", "/api/entries", `{"entries":[{"id":"held","at":"2031-02-14T09:00:00Z","engine":"siskin","kind":"note","body":{"text":"x"}}]}`)
	assert.Equal(t, 503, status, text)
	assert.Contains(t, text, "Another program is using the data file")
	require.NoError(t, other.Close())
	status, _, text = ask(t, a, "POST", "/api/entries", `{"entries":[{"id":"held","at":"2031-02-14T09:00:00Z","engine":"siskin","kind":"note","body":{"text":"x"}}]}`)
	assert.Equal(t, 200, status, text)
	assert.Contains(t, text, `"kept"`)
}

// Each answer says the latest entry that was told of, the day, and whether anything can be kept.
func TestEachAnswerSaysWhatWasTold(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "data")
	s, err := store.Open(dir)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	a := overIt(t, s)
	tell(t, a, book.Engine, four)
	_, header, _ := ask(t, a, "GET", "/api/engines/siskin", "")
	assert.Equal(t, s.Latest(), header.Get("Braxel-Seen"))
	assert.Equal(t, time.Now().Format(time.DateOnly), header.Get("Braxel-Day"))
	assert.Empty(t, header.Get("Braxel-Trouble"))
	require.NoError(t, os.Rename(dir, dir+"-away"))
	_, header, _ = ask(t, a, "GET", "/api/engines/siskin", "")
	assert.Contains(t, header.Get("Braxel-Trouble"), "gone: its disk was unplugged")
}

// What a sum is asked beyond its limits is refused as the rest is: field, limit, and no word of the checker's.
func TestASumSaysPlainlyWhatIsWrong(t *testing.T) {
	a := app(t)
	for path, body := range map[string]string{
		"/api/sums/sea-level": `{"gauge_kpa":1e9,"altitude_m":0}`,
		"/api/sums/leak":      `{"supply_kpa":"much","held_kpa":3}`,
		"/api/sums/ratio":     `{}`,
	} {
		status, _, text := ask(t, a, http.MethodPost, path, body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, path)
		assert.NotRegexp(t, `expected|validation|property|>=|<=|e\+0`, text, path)
		assert.Regexp(t, `must be|is missing`, text, path)
	}
}
