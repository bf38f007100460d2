package server_test

import (
	"bytes"
	"compress/gzip"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"slices"
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
	answer, err := a.Test(r, fiber.TestConfig{Timeout: 2 * time.Minute})
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

var sent int

// tell hands one entry in and returns what became of it, and the whole answer.
func tell(t testing.TB, a *fiber.App, kind, body string, more ...string) (book.Answer, string) {
	t.Helper()
	sent++
	id := fmt.Sprintf("entry-%d", sent)
	if len(more) > 0 {
		id = more[0]
	}
	beside := ""
	if len(more) > 1 {
		beside = more[1]
	}
	engine := `"engine":"siskin",`
	if kind == book.Tester || kind == book.Protocol || kind == book.Plan || kind == book.Rule || kind == book.Units || slices.Contains(book.AheadKinds, kind) {
		engine = ""
	}
	status, _, text := ask(t, a, "POST", "/api/entries", fmt.Sprintf(`{"entries":[{"id":%q,"at":"2031-02-14T09:%02d:%02dZ",%s"kind":%q,"body":%s%s}],"sheet":{"engine":"siskin","test":"s1"}}`,
		id, sent/60%60, sent%60, engine, kind, body, beside))
	require.Equal(t, 200, status, text)
	var out struct{ Answers []book.Answer }
	require.NoError(t, json.Unmarshal([]byte(text), &out))
	require.Len(t, out.Answers, 1)
	return out.Answers[0], text
}

// kept is tell for what has to be kept.
func kept(t testing.TB, a *fiber.App, kind, body string, more ...string) string {
	t.Helper()
	answer, text := tell(t, a, kind, body, more...)
	require.Equal(t, book.IsKept, answer.Result, "%s %s", answer.Field, answer.Why)
	return text
}

func TestEachEntryIsAnsweredByItself(t *testing.T) {
	a := begun(t)
	pull := `{"test":"s1","cylinder":1,"mode":"dry","value":150,"unit":"psi"}`
	assert.Contains(t, kept(t, a, book.Pull, pull, "samesame1"), `"kept":1`, "the sheet comes along")
	answer, _ := tell(t, a, book.Pull, pull, "samesame1")
	assert.Equal(t, book.IsAlready, answer.Result)
	answer, _ = tell(t, a, book.Pull, `{"test":"s1","cylinder":3,"mode":"dry","value":99,"unit":"psi"}`, "samesame1")
	assert.Equal(t, book.IsRefused, answer.Result)
	answer, text := tell(t, a, book.Pull, `{"test":"s1","cylinder":1,"mode":"dry","value":15,"unit":"psi"}`)
	assert.Equal(t, book.IsKept, answer.Result)
	assert.Contains(t, answer.Doubt, "As read?")
	assert.Contains(t, text, `"kept":2`)

	status, _, body := ask(t, a, "POST", "/api/entries", `{"entries":[5,{"id":"x","at":"now","kind":"note","body":{}},{"ID":"y"},null,{"id":"n1","at":"2031-02-14T09:00:00Z","engine":"siskin","kind":"note","body":{"text":"rain"}}]}`)
	assert.Equal(t, 200, status, body)
	var out struct{ Answers []book.Answer }
	require.NoError(t, json.Unmarshal([]byte(body), &out))
	var results []string
	for _, one := range out.Answers {
		results = append(results, one.Result)
	}
	assert.Equal(t, []string{"refused", "refused", "refused", "refused", "kept"}, results)
}

func TestWhatWasLetInBeforeIsRefused(t *testing.T) {
	a := begun(t)
	for name, c := range map[string]struct{ kind, body string }{
		"capitals past every check":     {book.Engine, `{"KIND":"steam","BORE_MM":-5}`},
		"three million rotors":          {book.Engine, `{"layout":{"ROTORS":3000000}}`},
		"a name of 200 kB":              {book.Engine, `{"NAME":"` + strings.Repeat("x", 200_000) + `"}`},
		"a moist test":                  {book.Pull, `{"test":"s1","cylinder":1,"mode":"dry","MODE":"moist","value":150,"unit":"psi"}`},
		"a date of garbage":             {book.Test, `{"id":"s1","DATE":"garbage"}`},
		"an observation of 99999":       {book.Look, `{"test":"s1","what":"plug","cylinder":99999}`},
		"1e308 V":                       {book.Test, `{"id":"s1","conditions":{"battery_v":1e308}}`},
		"1e999":                         {book.Note, `{"text":"x","big":1e999}`},
		"a key of a log from elsewhere": {book.Kept, `{"colour":"red"}`},
	} {
		answer, _ := tell(t, a, c.kind, c.body)
		assert.Equal(t, book.IsRefused, answer.Result, name)
	}
	// Nearly nothing held is a hole beyond number: the sheet leaves it out, and goes on.
	text := kept(t, a, book.Leakdown, `{"test":"s1","cylinder":1,"supply":100,"held":1e-30,"unit":"psi"}`)
	assert.Contains(t, text, `"leak_pct":100`)
	status, _, body := ask(t, a, "POST", sheetPath+"/preview", `{"test":"s1","cylinder":1,"supply":100,"held":1e-30,"unit":"psi"}`)
	assert.Equal(t, 200, status, body)
	status, _, body = ask(t, a, "POST", "/api/gauge-checks", `{"one":[1e308,1e308],"other":[-1e308,1]}`)
	assert.Equal(t, 422, status, body)
}

func TestNoRequestIsTooMuch(t *testing.T) {
	a := begun(t)
	status, _, body := ask(t, a, "POST", "/api/entries", `{"entries":[`+strings.Repeat(`{"kind":"pull"},`, 40_000)+`{}]}`)
	assert.Equal(t, 422, status)
	assert.Less(t, len(body), 1000)
	status, _, body = ask(t, a, "POST", "/api/entries", `{"entries":[{"id":"x","at":"2031-02-14T09:00:00Z","engine":"siskin","kind":"note","body":{"text":"x",`+manyKeys(6000)+`}}]}`)
	assert.Equal(t, 200, status)
	assert.Less(t, len(body), 10_000, "what was sent is not sent back")
	status, _, body = ask(t, a, "POST", "/api/sums/leak", `{"supply_kpa":500,`+manyKeys(6000)+`}`)
	assert.Equal(t, 422, status)
	assert.Less(t, len(body), 50_000)
	var zipped bytes.Buffer
	z := gzip.NewWriter(&zipped)
	_, _ = z.Write(bytes.Repeat([]byte(" "), 50<<20))
	require.NoError(t, z.Close())
	status, _, _ = ask(t, a, "POST", "/api/entries", zipped.String(), func(r *http.Request) { r.Header.Set("Content-Encoding", "gzip") })
	assert.Equal(t, 415, status)
}

func manyKeys(n int) string {
	var all []string
	for i := range n {
		all = append(all, fmt.Sprintf(`"key%d":1`, i))
	}
	return strings.Join(all, ",")
}

func TestWhatIsNotThereIsAProblemToo(t *testing.T) {
	a := app(t)
	for path, want := range map[string]int{"/api/engines/nobody": 404, "/api/zip": 404, "/api/engines/nobody/sessions/s1/sheet": 404, "/api/engines/nobody/record": 404, "/assets/gone.js": 404} {
		status, header, _ := ask(t, a, "GET", path, "")
		assert.Equal(t, want, status, path)
		assert.Contains(t, header.Get("Content-Type"), "problem+json", path)
	}
	for path, method := range map[string]string{"/api/rack": "DELETE", "/api/entries": "GET", "/api/engines/siskin": "PUT", "/api/photos/p1": "POST"} {
		status, header, _ := ask(t, a, method, path, "")
		assert.Equal(t, 405, status, path)
		assert.NotEmpty(t, header.Get("Allow"), path)
	}
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

func FuzzNoEntryBreaksTheServer(f *testing.F) {
	f.Add(`{"entries":[{"id":"a","at":"2031-02-14T09:00:00Z","engine":"siskin","kind":"pull","body":{"test":"s1","cylinder":1,"mode":"dry","value":150,"unit":"psi"}}]}`)
	f.Add(`{"entries":[{"id":"b","at":"2031-02-14T09:00:00Z","engine":"b","kind":"engine","body":{"name":"B","kind":"rotary","layout":{"rotors":2}}}],"sheet":{"engine":"siskin","test":"s1"}}`)
	f.Add(`{"entries":[{"id":"c","at":"2031-02-14T09:00:00Z","engine":"siskin","kind":"whole","body":{"id":"w","date":"1999-01-01","leakdown":[{"cylinder":1,"supply":100,"held":1e-30,"unit":"psi","key":"l"}]}}]}`)
	f.Add(`[`)
	f.Fuzz(func(t *testing.T, body string) {
		a := begun(t)
		status, _, text := ask(t, a, "POST", "/api/entries", body)
		require.Less(t, status, 500, text)
		for _, e := range get[server.Rack](t, a, "/api/rack").Engines {
			for _, path := range []string{"", "/record"} {
				status, _, text := ask(t, a, "GET", "/api/engines/"+url.PathEscape(e.ID)+path, "")
				require.Equal(t, 200, status, text)
			}
		}
	})
}

func tempDir() (string, error) { return os.MkdirTemp("", "braxel-bench-") }
