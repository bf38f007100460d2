package server_test

import (
	"bufio"
	"encoding/json"
	"fmt"
	"image/jpeg"
	"net"
	"net/http"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/gauge"
	"braxel/internal/core/practice"
	"braxel/internal/gauges"
	"braxel/internal/server"
	"braxel/internal/store"
)

// gym is a server with a part for practice, on directories of its own, and the room in which its workshop's gauges are heard.
func gym(t *testing.T, dir string) (*fiber.App, *gauges.Room, func()) {
	t.Helper()
	s, err := store.Open(dir + "/shop")
	require.NoError(t, err)
	p, err := store.Open(dir + "/practice")
	require.NoError(t, err)
	room := gauges.New()
	a, err := server.New(server.Config{
		Store: s, Practice: p, Gauges: room, Files: fstest.MapFS{"index.html": {Data: []byte("<p>home")}}, Shop: "Test",
		Now: func() time.Time { return time.Date(2031, 2, 14, 10, 0, 0, 0, time.UTC) },
	})
	require.NoError(t, err)
	closed := false
	closeAll := func() {
		if !closed {
			closed = true
			require.NoError(t, a.Shutdown())
			require.NoError(t, s.Close())
			require.NoError(t, p.Close())
		}
	}
	t.Cleanup(closeAll)
	return a, room, closeAll
}

func post[T any](t *testing.T, a *fiber.App, path, body string, want int) (out T) {
	t.Helper()
	method := "POST"
	if body == "" {
		method = "GET"
	}
	status, _, text := ask(t, a, method, path, body)
	require.Equal(t, want, status, text)
	if want < 300 {
		require.NoError(t, json.Unmarshal([]byte(text), &out))
	}
	return out
}

func TestPracticeNeverMeetsTheWorkshop(t *testing.T) {
	a, _, _ := gym(t, t.TempDir())
	begun := post[server.PracticeTry](t, a, "/practice/api/practice", `{"lesson":"burnt"}`, 201)
	assert.Equal(t, "Linnet", begun.Name)
	for _, path := range []string{"/api/rack", "/api/export?as=jsonl", "/api/testers", "/api/diary", "/api/record"} {
		status, _, text := ask(t, a, "GET", path, "")
		assert.Equal(t, 200, status, path)
		assert.NotContains(t, text, "Linnet", path)
		assert.NotContains(t, text, "bench", path)
	}
	status, _, _ := ask(t, a, "GET", "/api/engines/"+begun.Engine, "")
	assert.Equal(t, 404, status)
	status, _, text := ask(t, a, "GET", "/api/practice", "")
	assert.Equal(t, 404, status)
	assert.Contains(t, text, "/practice")
	status, _, text = ask(t, a, "GET", "/practice/api/rack", "")
	assert.Equal(t, 200, status)
	assert.Contains(t, text, "Linnet", "it has a rack of its own")
	// A page of practice is the program's own page.
	status, _, text = ask(t, a, "GET", "/practice/engines/"+begun.Engine+"/tests/"+begun.Test+"/dry", "")
	assert.Equal(t, 200, status)
	assert.Equal(t, "<p>home", text)
	status, _, _ = ask(t, a, "DELETE", "/practice/api/practice", "")
	assert.Equal(t, 405, status)
	status, _, _ = ask(t, a, "GET", "/practice/api/nothing", "")
	assert.Equal(t, 404, status)
}

// What is hidden stays so until it has been decided, on whatever page.
func TestTheTruthIsHiddenUntilItIsDecided(t *testing.T) {
	a, _, _ := gym(t, t.TempDir())
	begun := post[server.PracticeTry](t, a, "/practice/api/practice", `{"lesson":"burnt","seed":4}`, 201)
	at := "/practice/api/practice/" + begun.Engine
	for _, path := range []string{"/practice/api/practice", at, "/practice/api/engines/" + begun.Engine, "/practice/api/rack", "/practice/api/engines/" + begun.Engine + "/record"} {
		status, _, text := ask(t, a, "GET", path, "")
		require.Equal(t, 200, status, path)
		assert.NotContains(t, text, `"size"`, path)
		assert.NotContains(t, text, `"faults":[{"kind"`, path)
		assert.NotContains(t, text, "dirty", path)
	}
	status, _, _ := ask(t, a, "GET", at+"/debrief", "")
	assert.Equal(t, 409, status)
	// What would take it out of practice, or bring something in, isn't there.
	for path, method := range map[string]string{
		"export": "GET", "copies": "GET", "copies/download": "GET", "copies/inside": "GET", "check": "POST", "sync": "POST", "sync/digests": "GET",
		"sync/take": "POST", "sync/give": "POST", "import/take": "POST", "devices/x": "POST", "passcode": "POST", "diary.ics": "GET", "calendar-key": "POST",
	} {
		status, _, _ := ask(t, a, method, "/practice/api/"+path, "{}")
		assert.Equal(t, 404, status, path)
	}
	for body, want := range map[string]string{
		`{"kind":"gremlin","run":true}`:                                     "kind: say what the fault is",
		`{"kind":"exhaust_valve","run":false}`:                              "cylinders: say which one it is in",
		`{"kind":"exhaust_valve","cylinders":[7],"run":false}`:              "cylinders: the engine has no 7",
		`{"kind":"healthy","cylinders":[1],"run":true}`:                     "cylinders: it is in none of them",
		`{"kind":"gasket_neighbour","cylinders":[1],"run":false}`:           "cylinders: say which two it is between",
		`{"kind":"exhaust_valve","cylinders":[3],"run":false,"sure":"yes"}`: "sure",
	} {
		status, _, text := ask(t, a, "POST", at+"/decide", body)
		assert.Equal(t, 422, status, body)
		assert.Contains(t, text, want)
	}
	d := post[practice.Debrief](t, a, at+"/decide", `{"kind":"exhaust_valve","cylinders":[3],"run":false}`, 200)
	assert.Equal(t, "Cylinder 3: exhaust valve, 24 points of leak.", d.Truth)
	assert.True(t, d.Kind && d.Where && d.Run)
	assert.NotEmpty(t, d.Shortest)
	status, _, _ = ask(t, a, "POST", at+"/decide", `{"kind":"healthy","run":true}`)
	assert.Equal(t, 422, status, "it is decided once")
	status, _, _ = ask(t, a, "POST", at+"/do", `{"what":"throttle"}`)
	assert.Equal(t, 422, status)
}

func TestWhatIsDoneIsKeptThroughARestart(t *testing.T) {
	dir := t.TempDir()
	a, _, stop := gym(t, dir)
	begun := post[server.PracticeTry](t, a, "/practice/api/practice", `{"lesson":"shut"}`, 201)
	at := "/practice/api/practice/" + begun.Engine
	done := post[server.PracticeDone](t, a, at+"/do", `{"what":"throttle"}`, 200)
	assert.Equal(t, "The throttle was shut. It is wide open now.", done.Says)
	done = post[server.PracticeDone](t, a, at+"/do", `{"what":"coolant"}`, 200)
	assert.Equal(t, "clean", done.Look.Finding)
	status, _, text := ask(t, a, "POST", at+"/do", `{"what":"oil","cylinder":9}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "cylinder: the engine has no 9")
	warm := post[server.PracticeDone](t, a, at+"/do", `{"what":"warm"}`, 200)
	assert.NotEqual(t, begun.Test, warm.Test, "hot and cold are two tests")
	stop()
	b, _, _ := gym(t, dir)
	k := post[server.PracticeCase](t, b, at, "", 200)
	assert.Equal(t, warm.Test, k.Test)
	require.Len(t, k.Acts, 3)
	assert.InDelta(t, 0.5+2+25, k.Minutes, 1e-9)
	done = post[server.PracticeDone](t, b, at+"/do", `{"what":"throttle"}`, 200)
	assert.Equal(t, "The throttle is wide open.", done.Says)
	page := post[server.PracticePage](t, b, "/practice/api/practice", "", 200)
	require.Len(t, page.Lessons, 12)
	assert.Equal(t, begun.Engine, page.Lessons[4].Last.Engine)
	assert.False(t, page.Lessons[4].Last.Decided)
}

func TestOneThatNobodyHasSeenIsDrawn(t *testing.T) {
	a, _, _ := gym(t, t.TempDir())
	begun := post[server.PracticeTry](t, a, "/practice/api/practice", `{"engine":"six","hide":"bent_rod","seed":3}`, 201)
	d := post[practice.Debrief](t, a, "/practice/api/practice/"+begun.Engine+"/decide", `{"kind":"healthy","run":true}`, 200)
	assert.Contains(t, d.Truth, "bent rod")
	assert.False(t, d.Run)
	assert.NotEmpty(t, d.Risked)
	for body, want := range map[string]string{`{"engine":"boat"}`: "engine:", `{"engine":"four","hide":"gremlin"}`: "fault:", `{"lesson":"nothing"}`: "lesson:", `{}`: "engine:"} {
		status, _, text := ask(t, a, "POST", "/practice/api/practice", body)
		assert.Equal(t, 422, status, body)
		assert.Contains(t, text, want)
	}
}

// The sheet cranks the engine by what it tells its helper, and takes the pull that comes of it: all by the API, as the screen does.
func TestAPracticeEngineIsCrankedFromItsSheet(t *testing.T) {
	a, _, _ := gym(t, t.TempDir())
	begun := post[server.PracticeTry](t, a, "/practice/api/practice", `{"lesson":"burnt","seed":4}`, 201)
	seat := "/practice/api/engines/" + begun.Engine + "/sessions/" + begun.Test + "/seat"
	sit := func(body string) {
		status, _, text := ask(t, a, "PUT", seat, body)
		require.Equal(t, 204, status, text)
	}
	gaugeNow := func(air bool) server.GaugeNow {
		return post[server.GaugeNow](t, a, fmt.Sprintf("/practice/api/gauge?air=%v", air), "", 200)
	}
	sit(`{"name":"Linnet","do":"wait","cylinder":3,"for_ms":0}`)
	require.Eventually(t, func() bool { return len(gaugeNow(false).Gauges) == 2 }, 10*time.Second, 5*time.Millisecond)
	sit(`{"name":"Linnet","do":"crank","cylinder":3,"seconds":6,"for_ms":0}`)
	require.Eventually(t, func() bool { return gaugeNow(false).Phase == gauge.Settled }, 20*time.Second, 10*time.Millisecond)
	assert.Regexp(t, `^That is it: 1\d\d\.$`, gaugeNow(false).Say)
	took := post[server.TakenPull](t, a, "/practice/api/gauge/take", fmt.Sprintf(`{"engine":%q,"number":3,"unit":"psi"}`, begun.Engine), 200)
	require.Len(t, took.Pulls, 1)
	assert.Equal(t, 3, took.Pulls[0].Cylinder)
	assert.InDelta(t, 159, took.Pulls[0].Value, 6)
	assert.NotNil(t, took.Trace)
	assert.NotEmpty(t, took.Points)
	status, _, _ := ask(t, a, "POST", "/practice/api/gauge/take", `{"engine":"nobody","number":3,"unit":"psi"}`)
	assert.Equal(t, 404, status)
	status, _, text := ask(t, a, "POST", "/practice/api/gauge/take", fmt.Sprintf(`{"engine":%q,"number":3,"unit":"psi"}`, begun.Engine))
	assert.Equal(t, 409, status, text)
	sit(`{"name":"Linnet","do":"hold","cylinder":3,"for_ms":0}`)
	require.Eventually(t, func() bool { return gaugeNow(true).Phase == gauge.Settled }, 20*time.Second, 10*time.Millisecond)
	heard := post[server.PracticeDone](t, a, "/practice/api/practice/"+begun.Engine+"/do", `{"what":"listen","where":"exhaust"}`, 200)
	assert.Equal(t, 3, heard.Level)
	assert.Equal(t, 3, heard.Cylinder)
	air := post[server.TakenPull](t, a, "/practice/api/gauge/take", fmt.Sprintf(`{"engine":%q,"number":3,"unit":"psi","air":true}`, begun.Engine), 200)
	assert.InDelta(t, 27, 100*(1-air.Held/air.Supply), 5)
	sit(`{"name":"Linnet","do":"turn","cylinder":4,"for_ms":0}`)
	require.Eventually(t, func() bool { return gaugeNow(true).Phase == gauge.Open }, 10*time.Second, 5*time.Millisecond)
}

// The frames of a live needle: each point once, and what it comes to.
func TestTheNeedleIsToldAsItMoves(t *testing.T) {
	a, room, _ := gym(t, t.TempDir())
	socket, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	go func() { _ = a.Listener(socket, fiber.ListenConfig{DisableStartupMessage: true}) }()
	status, _, _ := ask(t, a, "GET", "/api/gauge/live?unit=ells", "")
	assert.Equal(t, 422, status)
	mine, theirs := net.Pipe()
	go func() { _ = room.Listen(theirs, "a lead", gauges.Lead{}) }()
	go func() { _, _ = bufio.NewReader(mine).ReadString(0) }() // what it is told
	_, err = fmt.Fprintf(mine, "%s\n# kind: bare\nt_ms,kPa\n0,0\n", gauge.First)
	require.NoError(t, err)
	answer, err := http.Get("http://" + socket.Addr().String() + "/api/gauge/live?unit=kPa&air=false")
	require.NoError(t, err)
	defer func() { _ = answer.Body.Close() }()
	assert.Equal(t, "text/event-stream", answer.Header.Get("Content-Type"))
	go func() {
		for i := 1; i <= 100; i++ {
			_, _ = fmt.Fprintf(mine, "%d,%d\n", 4*i, 10*i)
			time.Sleep(4 * time.Millisecond)
		}
	}()
	lines := bufio.NewScanner(answer.Body)
	points, frames, last := []float64{}, 0, server.GaugeNow{}
	for lines.Scan() && last.Needle < 1000 {
		text, ok := strings.CutPrefix(lines.Text(), "data: ")
		if !ok {
			continue
		}
		last = server.GaugeNow{} // a frame without points has none
		require.NoError(t, json.Unmarshal([]byte(text), &last))
		points = append(points, last.Points...)
		frames++
	}
	assert.Greater(t, frames, 5)
	assert.Less(t, frames, 60, "no more than the screen can draw")
	assert.InDelta(t, 1000, points[len(points)-1], 1e-9)
	for i := 1; i < len(points); i++ {
		assert.Greater(t, points[i], points[i-1], "each once, in their order")
	}
	require.NoError(t, mine.Close())
}

// In practice a camera stands before the engine's gauge; the workshop has none, and nothing of it can be seen from there.
func TestACameraStandsBeforeThePracticeGauge(t *testing.T) {
	a, _, _ := gym(t, t.TempDir())
	for _, query := range []string{"", "?air=true&dial=held", "?air=true&dial=supply"} {
		status, head, text := ask(t, a, "GET", "/practice/api/practice-camera"+query, "")
		require.Equal(t, 200, status)
		assert.Equal(t, "image/jpeg", head.Get("Content-Type"))
		picture, err := jpeg.Decode(strings.NewReader(text))
		require.NoError(t, err)
		assert.Equal(t, 480, picture.Bounds().Dx())
	}
	status, _, _ := ask(t, a, "GET", "/api/practice-camera", "")
	assert.Equal(t, 404, status)
}
