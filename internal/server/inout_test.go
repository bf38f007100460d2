package server_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"mime/multipart"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/go-json-experiment/json/jsontext"
	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/server"
	"braxel/internal/store"
)

// hand sends a file as the page of imports does.
func hand(t *testing.T, a *fiber.App, path, name, text string, fields map[string]string) (int, server.ImportPage, string) {
	t.Helper()
	var body bytes.Buffer
	form := multipart.NewWriter(&body)
	part, err := form.CreateFormFile("file", name)
	require.NoError(t, err)
	_, err = part.Write([]byte(text))
	require.NoError(t, err)
	for field, value := range fields {
		require.NoError(t, form.WriteField(field, value))
	}
	require.NoError(t, form.Close())
	code, _, said := ask(t, a, http.MethodPost, path, body.String(), func(r *http.Request) {
		r.Header.Set("Content-Type", form.FormDataContentType())
	})
	var page server.ImportPage
	if code == http.StatusOK {
		require.NoError(t, json.Unmarshal([]byte(said), &page))
	}
	return code, page, said
}

func TestAFileIsLookedAtBeforeItComesIn(t *testing.T) {
	a := app(t)
	heron, err := os.ReadFile("../logfile/testdata/heron.json")
	require.NoError(t, err)
	code, page, said := hand(t, a, "/api/import/read", "heron.json", string(heron), nil)
	require.Equal(t, 200, code, said)
	require.Len(t, page.Logs, 1)
	assert.True(t, page.Logs[0].Would.Begun)
	_, _, rack := ask(t, a, http.MethodGet, "/api/rack", "")
	assert.NotContains(t, rack, "Heron", "a look leaves nothing behind")
	for range 2 {
		code, page, said = hand(t, a, "/api/import/take", "heron.json", string(heron), nil)
		require.Equal(t, 200, code, said)
	}
	assert.Zero(t, page.Logs[0].Would.New, "the same again is here already")
	_, _, rack = ask(t, a, http.MethodGet, "/api/rack", "")
	assert.Contains(t, rack, "Heron")
}

func TestWhatCannotComeInIsSaidAndHarmsNothing(t *testing.T) {
	a := app(t)
	for name, c := range map[string]struct {
		file, text string
		fields     map[string]string
		code       int
		says       string
	}{
		"no order of dates":    {"a.csv", "Date,1\n3/4/31,150\n", map[string]string{"picks": `{"dates":"xyz"}`}, 422, "/picks/dates"},
		"picks that are none":  {"a.csv", "Date,1\n3/4/31,150\n", map[string]string{"picks": `[`}, 422, "picks"},
		"an engine not here":   {"a.csv", "Date,1\n3/4/31,150\n", map[string]string{"picks": `{"engines":{"a":"nobody"}}`}, 200, "not here"},
		"an empty file":        {"a.csv", "", nil, 200, "empty"},
		"no text":              {"a.csv", "\x00\x01\x02\x03abc", nil, 200, "not a text|UTF"},
		"an archive of none":   {"a.zip", "PK\x03\x04", nil, 200, "archive"},
		"a log of another":     {"a.json", `{"format":"other"}`, nil, 200, "format"},
		"a log cut short":      {"a.json", `{"format":"braxel-log"`, nil, 200, "log 1"},
		"a figure for a state": {"a.json", `7`, nil, 200, "must be an object|got number"},
	} {
		code, _, said := hand(t, a, "/api/import/take", c.file, c.text, c.fields)
		assert.Equal(t, c.code, code, "%s: %s", name, said)
		assert.Regexp(t, c.says, said, name)
	}
	_, _, rack := ask(t, a, http.MethodGet, "/api/rack", "")
	assert.Contains(t, rack, `"engines":[]`)
}

func TestCopiesAreReachedOnlyByTheirNames(t *testing.T) {
	a := app(t)
	hand(t, a, "/api/import/take", "a.csv", "Teal\nDate,1,2,psi\n2031-04-03,150,151,\n", nil)
	code, _, said := ask(t, a, http.MethodPost, "/api/copies", "{}")
	require.Equal(t, 204, code, said)
	_, _, said = ask(t, a, http.MethodGet, "/api/copies", "")
	var page server.CopiesPage
	require.NoError(t, json.Unmarshal([]byte(said), &page))
	require.Len(t, page.Copies, 1)
	assert.False(t, page.Restore, "nobody would start it again here")
	code, _, said = ask(t, a, http.MethodGet, "/api/copies/inside?place="+page.Copies[0].Place+"&name="+page.Copies[0].Name, "")
	require.Equal(t, 200, code, said)
	assert.Contains(t, said, "Teal")
	for _, other := range []string{"place=/etc&name=passwd", "place=" + page.Copies[0].Place + "&name=../braxel.db", "place=" + page.Data + "&name=braxel.db"} {
		code, _, _ = ask(t, a, http.MethodGet, "/api/copies/inside?"+other, "")
		assert.Equal(t, 404, code, other)
	}
	code, _, _ = ask(t, a, http.MethodPost, "/api/copies/restore", `{"place":"`+page.Copies[0].Place+`","name":"`+page.Copies[0].Name+`"}`)
	assert.Equal(t, 403, code)
	code, head, said := ask(t, a, http.MethodGet, "/api/copies/download", "")
	require.Equal(t, 200, code)
	assert.Equal(t, "application/zip", head.Get("Content-Type"))
	assert.Contains(t, said, "braxel.db")
}

func TestAnEngineThatCannotBeReadIsNamedAmongTheOthers(t *testing.T) {
	dir := t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	now := time.Date(2031, 2, 14, 10, 0, 0, 0, time.UTC)
	const engines = 8
	for n := range engines {
		id := fmt.Sprint("engine", n)
		all := []book.Entry{{
			ID: id, At: "2031-01-01T00:00:00.000Z", Engine: id, Kind: book.Engine,
			Body: jsontext.Value(`{"name":"` + id + `","kind":"four-stroke","layout":{"banks":[[1,2]]}}`),
		}}
		for k := range 40 {
			all = append(all, book.Entry{
				ID: fmt.Sprintf("%s-%d", id, k), At: "2031-01-01T00:00:01.000Z", Engine: id, Kind: book.Note,
				Body: jsontext.Value(`{"text":"` + strings.Repeat(id, 40) + `"}`),
			})
		}
		_, err := s.Append(t.Context(), all, now)
		require.NoError(t, err)
	}
	require.NoError(t, s.Close())
	file := filepath.Join(dir, store.File)
	text, err := os.ReadFile(file)
	require.NoError(t, err)
	const page = 4096
	at := bytes.Index(text, []byte(strings.Repeat("engine5", 40))) / page * page
	copy(text[at:at+300], bytes.Repeat([]byte{0xff}, 300))
	require.NoError(t, os.WriteFile(file, text, 0o600))
	s, err = store.Open(dir)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	a, err := server.New(server.Config{Store: s, Files: fstest.MapFS{}, Now: func() time.Time { return now }})
	require.NoError(t, err)
	code, _, said := ask(t, a, http.MethodGet, "/api/rack", "")
	require.Equal(t, 200, code, said)
	assert.Contains(t, said, "engine can't be read")
	var rack server.Rack
	require.NoError(t, json.Unmarshal([]byte(said), &rack))
	assert.Len(t, rack.Engines, engines)
	sound := 0
	for _, e := range rack.Engines {
		if !strings.Contains(e.Sentence, "cannot be read") {
			sound++
		}
	}
	assert.GreaterOrEqual(t, sound, engines-2)
}
