package server_test

import (
	"encoding/json"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/server"
	"braxel/internal/store"
)

func app(t testing.TB) *fiber.App {
	t.Helper()
	s, err := store.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	files := fstest.MapFS{"index.html": {Data: []byte("<p>home")}, "index.html.gz": {Data: []byte("zipped")}, "assets/a-1.js": {Data: []byte("1")}, "site.webmanifest": {Data: []byte("{}")}}
	a, err := server.New(server.Config{Store: s, Files: files, Hosts: []string{"garage"}, Shop: "Test", Now: func() time.Time { return time.Date(2031, 2, 14, 10, 0, 0, 0, time.UTC) }})
	require.NoError(t, err)
	return a
}

// ask sends a request as a browser on this machine would, unless change says otherwise.
func ask(t testing.TB, a *fiber.App, method, path, body string, change ...func(*http.Request)) (int, http.Header, string) {
	t.Helper()
	r := httptest.NewRequest(method, path, strings.NewReader(body))
	r.Host = "localhost:8314"
	if body != "" {
		r.Header.Set("Content-Type", "application/json")
	}
	for _, c := range change {
		c(r)
	}
	answer, err := a.Test(r, fiber.TestConfig{Timeout: 10 * time.Second})
	require.NoError(t, err)
	defer func() { _ = answer.Body.Close() }()
	text, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	return answer.StatusCode, answer.Header, string(text)
}

const four = `{"name":"Siskin","kind":"four-stroke","layout":{"banks":[[1,2,3,4]]}}`

func TestForeignPagesAreRefused(t *testing.T) {
	a := app(t)
	for name, c := range map[string]struct {
		host, origin string
		want         int
	}{
		"ourselves":          {"localhost:8314", "http://localhost:8314", 200},
		"a bare address":     {"192.168.1.20:8314", "", 200},
		"a name it was told": {"garage:8314", "http://garage:8314", 200},
		"a rebound name":     {"evil.example", "", 403},
		"another site":       {"localhost:8314", "http://evil.example", 403},
		"another port":       {"localhost:8314", "http://localhost:9000", 403},
		"no origin at all":   {"localhost:8314", "null", 403},
	} {
		status, header, body := ask(t, a, "GET", "/api/rack", "", func(r *http.Request) {
			r.Host = c.host
			if c.origin != "" {
				r.Header.Set("Origin", c.origin)
			}
		})
		assert.Equal(t, c.want, status, "%s: %s", name, body)
		assert.NotContains(t, header.Get("Content-Security-Policy"), "unsafe", name)
	}
}

func TestFaultsAreNamedByField(t *testing.T) {
	a := app(t)
	for name, c := range map[string]struct {
		body, location string
		status         int
	}{
		"twice":       {`{"name":"x","kind":"four-stroke","layout":{"banks":[[1,1]]}}`, "body.layout.banks.0.1", 422},
		"no order":    {`{"name":"x","kind":"four-stroke","layout":{"banks":[[1,2]]},"firing_order":[1,3]}`, "body.firing_order", 422},
		"no name":     {`{"name":" ","kind":"four-stroke","layout":{"banks":[[1]]}}`, "body.name", 422},
		"long name":   {`{"name":"` + strings.Repeat("x", 121) + `","kind":"four-stroke","layout":{"banks":[[1]]}}`, "body.name", 422},
		"short rod":   {`{"name":"x","kind":"four-stroke","layout":{"banks":[[1]]},"stroke_mm":100,"rod_mm":45}`, "body.rod_mm", 422},
		"unknown key": {`{"name":"x","kind":"four-stroke","layout":{"banks":[[1]]},"colour":"red"}`, "body.colour", 422},
		"cut off":     {`{"name":"x","ki`, "body", 400},
	} {
		status, header, body := ask(t, a, "POST", "/api/engines", c.body)
		assert.Equal(t, c.status, status, name)
		assert.Contains(t, header.Get("Content-Type"), "application/problem+json", name)
		var problem struct{ Errors []struct{ Location string } }
		require.NoError(t, json.Unmarshal([]byte(body), &problem), name)
		require.NotEmpty(t, problem.Errors, "%s: %s", name, body)
		assert.Equal(t, c.location, problem.Errors[0].Location, name)
	}
}

func TestWhatIsNotThereIsAProblemToo(t *testing.T) {
	a := app(t)
	for path, want := range map[string]int{"/api/engines/nobody": 404, "/api/zip": 404, "/api/engines/nobody/sessions/s1/sheet": 404, "/assets/gone.js": 404} {
		status, header, _ := ask(t, a, "GET", path, "")
		assert.Equal(t, want, status, path)
		assert.Contains(t, header.Get("Content-Type"), "problem+json", path)
	}
	status, _, _ := ask(t, a, "POST", "/api/engines", four, func(r *http.Request) { r.Header.Set("Content-Type", "text/plain") })
	assert.Equal(t, 415, status)
	status, _, _ = ask(t, a, "DELETE", "/api/rack", "")
	assert.Contains(t, []int{404, 405}, status)
}

func TestAPullIsKeptOnceAndADoubtedOneOnlyWhenConfirmed(t *testing.T) {
	a := app(t)
	status, _, _ := ask(t, a, "POST", "/api/engines", four)
	require.Equal(t, 201, status)
	status, _, body := ask(t, a, "POST", "/api/engines/siskin/sessions", "{}")
	require.Equal(t, 201, status, body)
	assert.Contains(t, body, `"date":"2031-02-14"`)
	pull := func(key, value, more string) (int, string) {
		status, _, body := ask(t, a, "POST", "/api/engines/siskin/sessions/s1/pulls", `{"key":"`+key+`","cylinder":1,"mode":"dry","value":`+value+`,"unit":"psi"`+more+`}`)
		return status, body
	}
	for range 2 {
		status, body := pull("first-key", "160", "")
		assert.Equal(t, 201, status, body)
		assert.Contains(t, body, `"kept":1`)
	}
	status, body = pull("second-key", "16", "")
	assert.Equal(t, 409, status)
	assert.Contains(t, body, "As read?")
	status, body = pull("second-key", "16", `,"confirmed":true`)
	assert.Equal(t, 201, status)
	assert.Contains(t, body, `"kept":2`)
	status, body = pull("third-key", "-4", "")
	assert.Equal(t, 422, status)
	assert.Contains(t, body, `"location":"body.value"`)

	status, _, body = ask(t, a, "POST", "/api/engines/siskin/sessions/s1/pulls/second-key/strike", `{"why":"mistyped"}`)
	assert.Equal(t, 200, status, body)
	assert.Contains(t, body, `"struck":"mistyped"`)
	status, _, _ = ask(t, a, "POST", "/api/engines/siskin/sessions/s1/pulls/no-such-key/strike", `{"why":"mistyped"}`)
	assert.Equal(t, 404, status)
}

func TestFilesAreServedForTheBrowserToKeepOrAsk(t *testing.T) {
	a := app(t)
	_, header, body := ask(t, a, "GET", "/engines/siskin", "")
	assert.Equal(t, "<p>home", body)
	assert.Equal(t, "no-cache", header.Get("Cache-Control"))
	_, header, body = ask(t, a, "GET", "/", "", func(r *http.Request) { r.Header.Set("Accept-Encoding", "gzip") })
	assert.Equal(t, "zipped", body)
	assert.Equal(t, "gzip", header.Get("Content-Encoding"))
	_, header, _ = ask(t, a, "GET", "/assets/a-1.js", "")
	assert.Contains(t, header.Get("Cache-Control"), "immutable")
	_, header, _ = ask(t, a, "GET", "/site.webmanifest", "")
	assert.Equal(t, "application/manifest+json", header.Get("Content-Type"))
}

func TestTheKeptDescriptionIsThatOfTheTypes(t *testing.T) {
	kept, err := os.ReadFile("../../web/openapi.json")
	require.NoError(t, err)
	now, err := server.OpenAPI()
	require.NoError(t, err)
	assert.True(t, strings.TrimSpace(string(kept)) == string(now), "the types have moved on: run make api")
}

func FuzzNoBodyBreaksTheServer(f *testing.F) {
	f.Add(four)
	f.Add(`{"name":null,"layout":[]}`)
	f.Add(`[`)
	a := app(f)
	f.Fuzz(func(t *testing.T, body string) {
		status, _, text := ask(t, a, "POST", "/api/engines", body)
		assert.Less(t, status, 500, text)
	})
}

func tempDir() (string, error) { return os.MkdirTemp("", "braxel-bench-") }
