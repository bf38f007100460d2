package server_test

import (
	"fmt"
	"net"
	"net/http"
	"net/http/httptest"
	"slices"
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

// open are the routes that answer devices that aren't let in, and what they may answer them with. Whoever adds one says so here.
var open = map[string]string{
	"GET /api/door":           "says that the passcode is wanted",
	"POST /api/door":          "takes the passcode",
	"GET /practice/api/door":  "the same",
	"POST /practice/api/door": "the same",
	"GET /calendar/:key":      "its key is its secret: 404 without",
	"GET /*":                  "the pages, which hold nothing of the shop",
}

// walked is a server with a door, and its application, for asking which routes there are.
func walked(t testing.TB) *fiber.App {
	t.Helper()
	var both [2]*store.Store
	for i := range both {
		s, err := store.Open(t.TempDir())
		require.NoError(t, err)
		t.Cleanup(func() { _ = s.Close() })
		both[i] = s
	}
	door, err := server.NewDoor(both[0], time.Now, false)
	require.NoError(t, err)
	a, err := server.New(server.Config{
		Store: both[0], Practice: both[1], Files: fstest.MapFS{"index.html": {Data: []byte("<p>home")}}, Now: time.Now, Door: door, Ways: func() []string { return nil },
	})
	require.NoError(t, err)
	return a
}

// stranger asks as a device of the network does that isn't let in, with an address that is written as it stands.
func stranger(t testing.TB, a *fiber.App, method, path string) (int, string) {
	t.Helper()
	r := httptest.NewRequest(method, "/", strings.NewReader(`{"entries":[]}`))
	r.Host, r.RemoteAddr = "192.168.1.20:8314", "192.168.1.77:5000"
	r.URL.Opaque, r.RequestURI = path, path
	r.Header.Set("Content-Type", "application/json")
	answer, err := a.Test(r, fiber.TestConfig{Timeout: time.Minute})
	require.NoError(t, err, "%s %s", method, path)
	defer func() { _ = answer.Body.Close() }()
	text := make([]byte, 200)
	n, _ := answer.Body.Read(text)
	return answer.StatusCode, string(text[:n])
}

// filled gives the parameters of a route's path something.
func filled(path string) string {
	parts := strings.Split(path, "/")
	for i, p := range parts {
		if strings.HasPrefix(p, ":") {
			parts[i] = "x1"
		}
		if p == "*" {
			parts[i] = "anything"
		}
	}
	return strings.Join(parts, "/")
}

// written are ways in which somebody writes an address so that it says the same to a careless reader and not to a careful one.
func written(path string) []string {
	upper := strings.ToUpper(path)
	mixed := []byte(path)
	for i := range mixed {
		if i%2 == 0 {
			mixed[i] = strings.ToUpper(string(mixed[i]))[0]
		}
	}
	return []string{
		path, upper, string(mixed), path + "/", path + "//", "/" + path, "//" + upper, "/." + path, "/x/.." + path, path + "/.", path + "?a=b", path + "%00",
		strings.ReplaceAll(path, "/api/", "/api//"), strings.ReplaceAll(path, "/api/", "/%61pi/"), strings.ReplaceAll(path, "/api/", "/%41PI/"),
		strings.ReplaceAll(path, "/api/", "/api%2f"), strings.ReplaceAll(path, "/api/", "%2fapi%2F"), strings.ReplaceAll(path, "/api/", "/api/%2e/"),
		strings.ReplaceAll(path, "/api/", "/api/./"), strings.ReplaceAll(path, "/api/", "/api/x/../"), strings.ReplaceAll(path, "/api/", "\\api\\"),
		strings.ReplaceAll(path, "/api/", "/api;x=1/"), "http://localhost:8314" + path,
	}
}

// Every route that there is, with every method and however its address is written: nobody gets an answer without the passcode but to what
// is listed as open.
func TestNoRouteAnswersAStranger(t *testing.T) {
	a := walked(t)
	methods := append([]string{}, fiber.DefaultMethods...)
	registered := map[string]bool{}
	for _, r := range a.GetRoutes(true) {
		registered[r.Method+" "+r.Path] = true
	}
	require.Greater(t, len(registered), 150, "the API is walked, and practice's")
	for route := range open {
		assert.True(t, registered[route], "%s is listed as open and isn't there", route)
	}
	paths := map[string]bool{}
	for route := range registered {
		_, path, _ := strings.Cut(route, " ")
		paths[path] = true
	}
	asked := 0
	for path := range paths {
		for i, address := range written(filled(path)) {
			some := methods
			if i > 0 { // another spelling leads to the same route or to none, whatever is asked of it
				some = []string{http.MethodGet, http.MethodPost, http.MethodPut, http.MethodDelete}
			}
			for _, method := range some {
				status, said := stranger(t, a, method, address)
				asked++
				_, isOpen := open[method+" "+path]
				isHead := method == http.MethodHead && status < 300
				switch {
				case status == http.StatusUnauthorized, status == http.StatusNotFound, status == http.StatusForbidden, status == http.StatusBadRequest,
					status == http.StatusNotImplemented, status == http.StatusMethodNotAllowed:
				case status == http.StatusOK && (strings.Contains(said, "<p>home") || isHead):
					// The page, at whatever address: it is the same for everyone.
				case isOpen && slices.Contains([]int{200, 204, 422, 429, 413}, status):
				default:
					assert.Fail(t, "answered", "%s %s (%s): %d %s", method, address, path, status, said)
				}
				if path != "/*" && !isOpen && address == filled(path) && registered[method+" "+path] {
					assert.Equal(t, http.StatusUnauthorized, status, "%s %s", method, address)
				}
			}
		}
	}
	t.Logf("%d routes, %d addresses asked for", len(registered), asked)
}

// What stands behind the door is said to nobody, in whatever letter case.
func TestTheWaysOfTheLastTrialAreClosed(t *testing.T) {
	a := walked(t)
	for _, path := range []string{"/API/export", "/Api/Export", "/api/copies/download", "/API/COPIES/DOWNLOAD", "/PRACTICE/api/rack", "/practice/API/rack", "/API/rack", "/api/openapi.json", "/API/openapi.json"} {
		status, _ := stranger(t, a, "GET", path)
		assert.Equal(t, 401, status, path)
	}
	for _, path := range []string{"/API/entries", "/PRACTICE/API/entries", "/API/import/take", "/api/SYNC/take"} {
		status, _ := stranger(t, a, "POST", path)
		assert.Equal(t, 401, status, path)
	}
}

// FuzzDoor asks for anything: a stranger gets the page, the door's own word, or nothing.
func FuzzDoor(f *testing.F) {
	for _, path := range written("/api/export") {
		f.Add("GET", path)
	}
	f.Add("POST", "/API/entries")
	f.Add("GET", "/calendar/x.ics")
	a := walked(f)
	f.Fuzz(func(t *testing.T, method, path string) {
		if !strings.HasPrefix(path, "/") || strings.ContainsAny(path, " \r\n\t\x00#") || strings.ContainsAny(method, " \r\n\t\x00") || method == "" || len(path) > 2000 {
			return
		}
		for _, c := range method + path {
			if c < 0x21 || c > 0x7e {
				return
			}
		}
		status, said := stranger(t, a, method, path)
		if status < 300 && !strings.Contains(said, "<p>home") && !strings.Contains(said, `"in":false`) && said != "" {
			t.Fatalf("%s %s: %d %s", method, path, status, said)
		}
	})
}

// A device that is let in may hand in what a test needs; nobody else may hand in much, and not many at a time.
func TestAStrangerCanSendLittle(t *testing.T) {
	h := openHouse(t)
	long := fmt.Sprintf(`{"passcode":"1","name":%q}`, strings.Repeat("x", 60<<10))
	status, text, _ := h.ask(h.phone, "POST", "/api/door", long, "")
	assert.Equal(t, 413, status, text)
	_, cookie := h.enter(h.door.Passcode(), "")
	status, _, _ = h.ask(h.phone, "POST", "/api/entries", `{"entries":[`+strings.Repeat(" ", 5<<20)+`]}`, cookie)
	assert.Equal(t, 200, status)
	status, _, _ = h.ask(h.phone, "POST", "/api/entries", `{"entries":[`+strings.Repeat(" ", 9<<20)+`]}`, cookie)
	assert.Equal(t, 413, status)
}

// A phone that types the passcode for the first time is let in while others guess.
func TestWhoGuessesShutsNobodyElseOut(t *testing.T) {
	h := openHouse(t)
	passcode := h.door.Passcode()
	wrong := "00000000"
	if passcode == wrong {
		wrong = "11111111"
	}
	for i := range 24 {
		_ = h.door.Hears(fmt.Sprintf("192.168.1.%d", 100+i%4), wrong)
	}
	require.ErrorContains(t, h.door.Hears("192.168.1.100", wrong), "too many")
	assert.NoError(t, h.door.Hears("192.168.1.20", passcode), "an honest phone")
	for range 8 { // the right one is no guess
		require.NoError(t, h.door.Hears("192.168.1.21", passcode))
	}
	// A machine with a whole network of IPv6 to itself is one machine.
	for i := range 12 {
		_ = h.door.Hears(fmt.Sprintf("2001:db8:1:2::%x", i+1), wrong)
	}
	require.ErrorContains(t, h.door.Hears("2001:db8:1:2:ffff::1", passcode), "too many")
	assert.NoError(t, h.door.Hears("2001:db8:1:3::1", passcode))
}

// With --proxy everything comes from this machine, and nobody is in for that.
func TestBehindAProxyThisMachineIsAskedToo(t *testing.T) {
	h := openHouse(t)
	status, _, _ := h.ask(h.here, "GET", "/api/rack", "", "")
	require.Equal(t, 200, status)
	for _, header := range []string{"X-Forwarded-For", "X-Forwarded-Host", "X-Forwarded-Proto", "X-Real-IP", "Forwarded", "Via", "X-Client-IP"} {
		r, err := http.NewRequest("GET", h.here+"/api/rack", nil)
		require.NoError(t, err)
		r.Header.Set(header, "10.0.0.1")
		answer, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		_ = answer.Body.Close()
		assert.Equal(t, 401, answer.StatusCode, header)
	}
	conn, err := net.Dial("tcp", strings.TrimPrefix(h.here, "http://"))
	require.NoError(t, err)
	defer func() { _ = conn.Close() }()
	_, err = fmt.Fprintf(conn, "GET /api/rack HTTP/1.0\r\nHost: %s\r\n\r\n", strings.TrimPrefix(h.here, "http://"))
	require.NoError(t, err)
	line := make([]byte, 40)
	_, err = conn.Read(line)
	require.NoError(t, err)
	assert.Contains(t, string(line), "401", "as a plain proxy speaks")
	h.door.NobodyLocal()
	status, _, _ = h.ask(h.here, "GET", "/api/rack", "", "")
	assert.Equal(t, 401, status)
}

// Practice's streams end, too, when a device is shut out; and the calendar's address that it may have written down.
func TestAShutOutDeviceHearsNothingMoreAnywhere(t *testing.T) {
	h := openHouse(t)
	require.NoError(t, h.store.SetCalendarKey("secret"))
	_, cookie := h.enter(h.door.Passcode(), "")
	ended := make(chan string, 4)
	for _, path := range []string{"/practice/api/changes", "/api/changes", "/api/gauge/live?unit=psi", "/practice/api/gauge/live?unit=psi"} {
		r, err := http.NewRequest("GET", h.phone+path, nil)
		require.NoError(t, err)
		r.AddCookie(&http.Cookie{Name: "braxel", Value: cookie})
		stream, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		require.Equal(t, 200, stream.StatusCode, path)
		go func() {
			defer func() { _ = stream.Body.Close() }()
			part := make([]byte, 4096)
			for {
				if _, err := stream.Body.Read(part); err != nil {
					ended <- path
					return
				}
			}
		}()
	}
	status, _, _ := h.ask(h.here, "POST", "/api/devices/"+h.store.Devices()[0].ID, `{"shut":true}`, "")
	require.Equal(t, 204, status)
	for range 4 {
		select {
		case <-ended:
		case <-time.After(10 * time.Second):
			t.Fatal("a stream goes on")
		}
	}
	status, _, _ = h.ask(h.phone, "GET", "/calendar/secret.ics", "", "")
	assert.Equal(t, 404, status)
}
