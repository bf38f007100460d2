package server_test

import (
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
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

// house is a server on this machine and, through a proxy on another port, as a phone reaches it.
type house struct {
	*testing.T
	store       *store.Store
	door        *server.Door
	here, phone string
	now         time.Time
}

func openHouse(t *testing.T) *house {
	t.Helper()
	s, err := store.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	h := &house{T: t, store: s, now: time.Date(2031, 2, 14, 10, 0, 0, 0, time.UTC)}
	h.door, err = server.NewDoor(s, func() time.Time { return h.now }, false)
	require.NoError(t, err)
	p, err := store.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = p.Close() })
	a, err := server.New(server.Config{
		Store: s, Practice: p, Files: fstest.MapFS{"index.html": {Data: []byte("<p>home")}}, Now: time.Now, Door: h.door,
		Ways: func() []string { return []string{"http://192.168.1.20:8314"} },
	})
	require.NoError(t, err)
	socket, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	go func() { _ = a.Listener(socket, fiber.ListenConfig{DisableStartupMessage: true}) }()
	t.Cleanup(func() { _ = a.ShutdownWithTimeout(time.Second) })
	h.here = "http://" + socket.Addr().String()
	to, err := url.Parse(h.here)
	require.NoError(t, err)
	proxy := httptest.NewServer(httputil.NewSingleHostReverseProxy(to))
	t.Cleanup(proxy.Close)
	h.phone = proxy.URL
	return h
}

// ask asks at an address, with a cookie where one is given, and returns what is said and the cookie that is set.
func (h *house) ask(at, method, path, body, cookie string) (int, string, string) {
	h.Helper()
	r, err := http.NewRequestWithContext(context.Background(), method, at+path, strings.NewReader(body))
	require.NoError(h, err)
	if body != "" {
		r.Header.Set("Content-Type", "application/json")
	}
	if cookie != "" {
		r.AddCookie(&http.Cookie{Name: "braxel", Value: cookie})
	}
	answer, err := http.DefaultClient.Do(r)
	require.NoError(h, err)
	defer func() { _ = answer.Body.Close() }()
	text, err := io.ReadAll(answer.Body)
	require.NoError(h, err)
	for _, c := range answer.Cookies() {
		assert.True(h, c.HttpOnly && c.SameSite == http.SameSiteStrictMode && c.Path == "/")
		cookie = c.Value
	}
	return answer.StatusCode, string(text), cookie
}

func (h *house) enter(passcode, cookie string) (int, string) {
	status, _, set := h.ask(h.phone, "POST", "/api/door", fmt.Sprintf(`{"passcode":%q,"name":"phone of Ansa"}`, passcode), cookie)
	return status, set
}

func TestAPhoneIsLetInByThePasscodeAndShutOutAgain(t *testing.T) {
	h := openHouse(t)
	for _, path := range []string{"/api/rack", "/api/changes", "/api/openapi.json", "/api/engines/x", "/api/photos/x", "/api/seats", "/api/nothing", "/api/gauge", "/api/gauge/live", "/practice/api/practice", "/practice/api/rack"} {
		status, _, _ := h.ask(h.phone, "GET", path, "", "")
		assert.Equal(t, 401, status, path)
		status, _, _ = h.ask(h.phone, "GET", path, "", "made-up")
		assert.Equal(t, 401, status, path)
	}
	status, _, _ := h.ask(h.phone, "POST", "/api/entries", `{"entries":[]}`, "")
	assert.Equal(t, 401, status)
	status, page, _ := h.ask(h.phone, "GET", "/engines/x", "", "")
	assert.Equal(t, 200, status, "the page shows where to type it")
	assert.Contains(t, page, "home")
	status, _, _ = h.ask(h.here, "GET", "/api/rack", "", "")
	assert.Equal(t, 200, status, "this machine is in")

	passcode := h.door.Passcode()
	require.Regexp(t, `^\d{8}$`, passcode)
	_, text, _ := h.ask(h.phone, "GET", "/api/door", "", "")
	assert.NotContains(t, text, passcode)
	assert.Contains(t, text, `"in":false`)
	status, cookie := h.enter(passcode[:4]+" "+passcode[4:], "")
	require.Equal(t, 204, status)
	require.NotEmpty(t, cookie)
	status, _, _ = h.ask(h.phone, "GET", "/api/rack", "", cookie)
	assert.Equal(t, 200, status)
	_, text, _ = h.ask(h.phone, "GET", "/api/door", "", cookie)
	assert.Contains(t, text, "phone of Ansa")
	assert.NotContains(t, text, passcode, "it is shown on the machine alone")
	status, _, _ = h.ask(h.phone, "POST", "/api/passcode", "", cookie)
	assert.Equal(t, 403, status)

	devices := h.store.Devices()
	require.Len(t, devices, 1)
	assert.NotContains(t, string(devices[0].Token), cookie, "what the cookie holds is kept nowhere")
	assert.NotContains(t, string(h.store.Passcode()), passcode)

	// A stream that is open when it is shut out ends, and tells it nothing more.
	r, err := http.NewRequestWithContext(t.Context(), "GET", h.phone+"/api/changes", nil)
	require.NoError(t, err)
	r.AddCookie(&http.Cookie{Name: "braxel", Value: cookie})
	stream, err := http.DefaultClient.Do(r)
	require.NoError(t, err)
	defer func() { _ = stream.Body.Close() }()
	ended := make(chan error, 1)
	go func() { _, err := io.ReadAll(stream.Body); ended <- err }()
	status, _, _ = h.ask(h.here, "POST", "/api/devices/"+devices[0].ID, `{"shut":true}`, "")
	require.Equal(t, 204, status)
	select {
	case <-ended:
	case <-time.After(5 * time.Second):
		t.Fatal("its stream goes on")
	}
	status, _, _ = h.ask(h.phone, "GET", "/api/rack", "", cookie)
	assert.Equal(t, 401, status)

	status, again := h.enter(passcode, cookie)
	require.Equal(t, 204, status)
	assert.NotEqual(t, cookie, again)
	status, _, _ = h.ask(h.phone, "GET", "/api/rack", "", again)
	assert.Equal(t, 200, status)
	devices = h.store.Devices()
	assert.Len(t, devices, 1, "it is the same device")
}

func TestTriesOfThePasscodeAreFew(t *testing.T) {
	h := openHouse(t)
	wrong := "00000000"
	if h.door.Passcode() == wrong {
		wrong = "11111111"
	}
	for range 5 {
		status, _ := h.enter(wrong, "")
		assert.Equal(t, 403, status)
	}
	status, _ := h.enter(h.door.Passcode(), "")
	assert.Equal(t, 429, status, "the right one comes too late as well")
	h.now = h.now.Add(15 * time.Second)
	status, _ = h.enter(h.door.Passcode(), "")
	assert.Equal(t, 204, status)
}

func TestANewPasscodeShutsOnlyTheOldOneOut(t *testing.T) {
	h := openHouse(t)
	old := h.door.Passcode()
	_, cookie := h.enter(old, "")
	for h.door.Passcode() == old { // the same is drawn again once in a hundred million
		status, _, _ := h.ask(h.here, "POST", "/api/passcode", "", "")
		require.Equal(t, 204, status)
	}
	status, _ := h.enter(old, "")
	assert.Equal(t, 403, status)
	status, _, _ = h.ask(h.phone, "GET", "/api/rack", "", cookie)
	assert.Equal(t, 200, status, "who is in stays in")

	again, err := server.NewDoor(h.store, time.Now, false)
	require.NoError(t, err)
	assert.Empty(t, again.Passcode(), "after a start only its hash is known")
}

func TestTheSeatHearsWhatTheSheetWants(t *testing.T) {
	h := openHouse(t)
	r, err := http.NewRequestWithContext(t.Context(), "GET", h.here+"/api/changes", nil)
	require.NoError(t, err)
	stream, err := http.DefaultClient.Do(r)
	require.NoError(t, err)
	defer func() { _ = stream.Body.Close() }()
	said := make(chan string, 64)
	go func() {
		part := make([]byte, 4096)
		for {
			n, err := stream.Body.Read(part)
			said <- string(part[:n])
			if err != nil {
				return
			}
		}
	}()
	<-said // it is open
	status, text, _ := h.ask(h.here, "PUT", "/api/engines/siskin/sessions/s1/seat", `{"name":"Siskin","do":"crank","cylinder":3,"line":"pedal to the floor","seconds":7,"for_ms":0}`, "")
	require.Equal(t, 204, status, text)
	select {
	case line := <-said:
		assert.Contains(t, line, `"do":"crank"`)
		assert.Contains(t, line, `"engine":"siskin"`)
	case <-time.After(5 * time.Second):
		t.Fatal("nothing was said")
	}
	_, text, _ = h.ask(h.here, "GET", "/api/seats", "", "")
	assert.Contains(t, text, "pedal to the floor")
	status, _, _ = h.ask(h.here, "PUT", "/api/engines/siskin/sessions/s1/seat", `{"name":"Siskin","do":"explode","for_ms":0}`, "")
	assert.Equal(t, 422, status)
}

func TestAPhoneNeitherSetsWhereCopiesGoNorPutsOneBack(t *testing.T) {
	h := openHouse(t)
	_, token := h.enter(h.door.Passcode(), "")
	for path, body := range map[string]string{"/api/copies/place": `{"place":"/tmp"}`, "/api/copies/restore": `{"place":"a","name":"b"}`} {
		code, said, _ := h.ask(h.phone, http.MethodPost, path, body, token)
		assert.Equal(t, http.StatusForbidden, code, said)
	}
	for _, path := range []string{"/api/sync/digests", "/api/copies", "/api/export"} {
		code, _, _ := h.ask(h.phone, http.MethodGet, path, "", "")
		assert.Equal(t, http.StatusUnauthorized, code, path)
	}
}
