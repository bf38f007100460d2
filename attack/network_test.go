package attack

import (
	"bufio"
	"bytes"
	"compress/gzip"
	"encoding/json"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// outside asks as a machine of the network does, by a plain socket, so that nothing tidies the address.
func (s *shop) outside(method, path, body string) (status int, text string) {
	s.t.Helper()
	conn, err := net.DialTimeout("tcp", s.host(), 5*time.Second)
	require.NoError(s.t, err)
	defer func() { _ = conn.Close() }()
	require.NoError(s.t, conn.SetDeadline(time.Now().Add(20*time.Second)))
	_, err = fmt.Fprintf(conn, "%s %s HTTP/1.1\r\nHost: 192.168.1.20:8314\r\nX-Forwarded-For: 192.168.1.77\r\nContent-Type: application/json\r\nContent-Length: %d\r\nConnection: close\r\n\r\n%s", method, path, len(body), body)
	require.NoError(s.t, err)
	answer, err := http.ReadResponse(bufio.NewReader(conn), &http.Request{Method: method})
	if err != nil {
		return 0, err.Error()
	}
	defer func() { _ = answer.Body.Close() }()
	part, _ := io.ReadAll(io.LimitReader(answer.Body, 4000))
	return answer.StatusCode, string(part)
}

// Every path of the API's own description, and those that it doesn't describe, in capitals and out of shape: nothing for a stranger.
func TestAStrangerGetsNothing(t *testing.T) {
	s := serve(t, "", t.TempDir(), "--lan")
	s.siskin()
	_, text := s.ask("GET", "/api/openapi.json", nil)
	var api struct{ Paths map[string]map[string]any }
	require.NoError(t, json.Unmarshal(text, &api))
	require.Greater(t, len(api.Paths), 50)
	methods := map[string][]string{"/api/copies/download": {"get"}, "/api/changes": {"get"}, "/api/gauge/live": {"get"}, "/api/diary.ics": {"get"}, "/api/export": {"get"}, "/api/openapi.json": {"get"}, "/api/photos/x": {"put"}}
	for path, of := range api.Paths {
		for method := range of {
			methods[path] = append(methods[path], method)
		}
	}
	for path, of := range methods {
		path = strings.NewReplacer("{engine}", "siskin", "{session}", "s1", "{device}", "x", "{", "", "}", "").Replace(path)
		for _, address := range []string{path, strings.ToUpper(path), "/practice" + path, "/PRACTICE" + strings.ToUpper(path), "/" + path, path + "/", strings.ReplaceAll(path, "/api/", "/api//"), strings.ReplaceAll(path, "/api", "/%61pi")} {
			for _, method := range of {
				if strings.HasSuffix(strings.ToLower(path), "/api/door") {
					continue // it says that the passcode is wanted
				}
				status, said := s.outside(strings.ToUpper(method), address, "{}")
				assert.Contains(t, []int{401, 404, 405}, status, "%s %s: %s", method, address, said)
				assert.NotContains(t, said, "Siskin")
			}
		}
	}
}

// Twenty strangers each begin to send sixty megabytes and never end: they get no memory, and everybody else is answered.
func TestUnfinishedBodiesCostNothing(t *testing.T) {
	s := serve(t, "", t.TempDir(), "--lan")
	s.siskin()
	before := s.resident()
	part := bytes.Repeat([]byte("x"), 64<<10)
	for i := range some(20, 100) {
		conn := s.dial()
		path := []string{"/api/import/take", "/api/entries", "/API/IMPORT/READ", "/api/door", "/api/photos/x", "/nothing"}[i%6]
		_, _ = fmt.Fprintf(conn, "POST %s HTTP/1.1\r\nHost: 192.168.1.20:8314\r\nX-Forwarded-For: 1.2.3.4\r\nContent-Type: multipart/form-data; boundary=x\r\nContent-Length: %d\r\n\r\n", path, 60<<20)
		_ = conn.SetWriteDeadline(time.Now().Add(300 * time.Millisecond))
		for range some(100, 900) {
			if _, err := conn.Write(part); err != nil {
				break
			}
		}
		status, _ := s.ask("GET", "/api/rack", nil)
		require.Equal(t, 200, status)
	}
	now := s.resident()
	t.Logf("%d MB before, %d MB with the bodies under way", before, now)
	assert.Less(t, now, before+60)
	assert.Len(t, s.tell(pull("p1", 1, 170)), 1)
}

// Heads that never end, bodies a byte at a time: who is in is answered all the same.
func TestSlowSendersHoldNobodyUp(t *testing.T) {
	s := serve(t, "", t.TempDir(), "--lan")
	s.siskin()
	for i := range some(60, 400) {
		conn := s.dial()
		_, _ = fmt.Fprintf(conn, "POST /api/door HTTP/1.1\r\nHost: 192.168.1.20:8314\r\n")
		if i%2 == 0 {
			_, _ = fmt.Fprintf(conn, "X-Forwarded-For: 1.2.3.4\r\nContent-Length: 100\r\n\r\n{")
		}
	}
	for i := range 10 {
		assert.Len(t, s.tell(pull(fmt.Sprint("slow", i), 1, 170)), 1)
	}
}

// What unpacks to much, nests without end or takes a core for minutes is refused, with a word.
func TestBombs(t *testing.T) {
	s := serve(t, "", t.TempDir())
	s.siskin()
	before := s.resident()
	deep := func(n int) string { return strings.Repeat(`{"a":`, n) + "1" + strings.Repeat("}", n) }
	send := func(path, kind, coding string, body []byte) int {
		r, err := http.NewRequest("POST", s.url+path, bytes.NewReader(body))
		require.NoError(t, err)
		if strings.HasPrefix(path, "/api/photos/") {
			r.Method = "PUT"
		}
		r.Header.Set("Content-Type", kind)
		if coding != "" {
			r.Header.Set("Content-Encoding", coding)
		}
		answer, err := http.DefaultClient.Do(r)
		if err != nil {
			return 0
		}
		defer func() { _ = answer.Body.Close() }()
		text, _ := io.ReadAll(answer.Body)
		assert.Less(t, len(text), 100_000)
		return answer.StatusCode
	}
	var zipped bytes.Buffer
	z := gzip.NewWriter(&zipped)
	for range 100 {
		_, _ = z.Write(make([]byte, 1<<20))
	}
	require.NoError(t, z.Close())
	assert.Equal(t, 415, send("/api/entries", "application/json", "gzip", zipped.Bytes()))
	assert.NotEqual(t, 200, send("/api/entries", "application/json", "", []byte(deep(100_000))))
	poison := map[string]any{"entries": []any{map[string]any{
		"id": "poison", "at": "2031-01-01T00:00:00Z", "engine": "siskin", "kind": "note", "body": map[string]any{"text": "x"}, "was": json.RawMessage(deep(9000)),
	}}}
	text, err := json.Marshal(poison)
	if err == nil {
		send("/api/entries", "application/json", "", text)
	}
	assert.Zero(t, s.record()["poison"])
	var picture bytes.Buffer
	require.NoError(t, jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, 4000, 4000)), nil))
	end := bytes.LastIndex(picture.Bytes(), []byte{0xff, 0xd9})
	scans := append(bytes.Clone(picture.Bytes()[:end]), append(bytes.Repeat([]byte{0xff, 0xda, 0, 8, 1, 1, 0, 1, 1, 0, 0}, 20_000), 0xff, 0xd9)...)
	assert.Equal(t, 422, send("/api/photos/bomb", "image/jpeg", "", scans))
	long := append([]byte(`{"entries":[`), bytes.Repeat([]byte("0,"), 5<<20)...)
	assert.Contains(t, []int{413, 0}, send("/api/entries", "application/json", "", long))
	t.Logf("%d MB before, %d MB after", before, s.resident())
	assert.Less(t, s.resident(), before+250)
	assert.Len(t, s.tell(pull("after", 1, 170)), 1)
}

// Everything that calls the gauge's port: a page, a flood, a clock that stands, lines without end. None is heard, none costs more than a word.
func TestGaugesThatLie(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	port := l.Addr().(*net.TCPAddr).Port
	require.NoError(t, l.Close())
	s := serve(t, "", t.TempDir(), "--gauge-port", fmt.Sprint(port))
	s.siskin()
	at := fmt.Sprintf("127.0.0.1:%d", port)
	head := "# braxel-gauge 1\n# name: page\nt_ms,kPa\n"
	answer, err := http.Post("http://"+at+"/", "text/plain", strings.NewReader(head+"0,0\n100,900\n"))
	if err == nil {
		_ = answer.Body.Close()
	}
	for _, text := range []string{
		head + "0,0\n100,900\n", "GET / HTTP/1.1\r\n\r\n" + head, strings.Repeat("x", 1<<20), head + strings.Repeat("1,5\n", 200_000),
		"# braxel-gauge 1 WRONGWORD\n# name: liar\nt_ms,kPa\n1,1\n", "\x16\x03\x01\x02\x00" + head, "",
	} {
		for range some(3, 40) {
			conn, err := net.Dial("tcp", at)
			if err != nil {
				continue
			}
			_ = conn.SetDeadline(time.Now().Add(500 * time.Millisecond))
			go func() { _, _ = io.Copy(io.Discard, conn) }()
			_, _ = io.WriteString(conn, text)
			_ = conn.Close()
		}
	}
	status, text := s.ask("GET", "/api/gauge", nil)
	require.Equal(t, 200, status)
	var now struct{ Gauges, Asking []any }
	require.NoError(t, json.Unmarshal(text, &now))
	assert.Empty(t, now.Gauges)
	assert.Empty(t, now.Asking, "what is no gauge is not even asked about")
	assert.Less(t, s.resident(), 150)
	assert.Len(t, s.tell(pull("after", 1, 170)), 1)
}

// Another machine that sends Braxel on, to Braxel itself.
func TestSyncIsLedNowhere(t *testing.T) {
	s := serve(t, "", t.TempDir(), "--lan")
	s.siskin()
	_, text := s.ask("GET", "/api/door", nil)
	var door struct{ Passcode string }
	require.NoError(t, json.Unmarshal(text, &door))
	for _, status := range []int{301, 302, 303, 307, 308} {
		led := &http.Server{Handler: http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) { http.Redirect(w, r, s.url+"/api/passcode", status) })}
		l, err := net.Listen("tcp", "127.0.0.1:0")
		require.NoError(t, err)
		go func() { _ = led.Serve(l) }()
		got, said := s.ask("POST", "/api/sync", map[string]any{"address": l.Addr().String(), "passcode": "12345678"})
		assert.Equal(t, 422, got, string(said))
		assert.Contains(t, string(said), "doesn't follow")
		_ = led.Close()
	}
	_, text = s.ask("GET", "/api/door", nil)
	assert.Contains(t, string(text), door.Passcode, "nobody has drawn another")
	got, _ := s.outside("POST", "/api/sync", `{"address":"127.0.0.1:1"}`)
	assert.Equal(t, 401, got)
}
