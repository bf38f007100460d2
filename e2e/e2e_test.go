// Package e2e drives the real program through a real browser.
package e2e

import (
	"bufio"
	"context"
	"flag"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/go-json-experiment/json"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/proto"
	"github.com/go-rod/rod/lib/utils"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/sheet"
	"braxel/internal/server"
)

var (
	binary  string
	chrome  *rod.Browser
	shotDir = flag.String("shots", "", "directory to take the README's pictures into")
)

func TestMain(m *testing.M) {
	flag.Parse()
	code, err := run(m)
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		code = 1
	}
	os.Exit(code)
}

func run(m *testing.M) (int, error) {
	dir, err := os.MkdirTemp("", "braxel-e2e-")
	if err != nil {
		return 1, err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	binary = filepath.Join(dir, "braxel")
	if out, err := exec.Command("go", "build", "-o", binary, "../cmd/braxel").CombinedOutput(); err != nil {
		return 1, fmt.Errorf("building: %w\n%s", err, out)
	}
	// Chromium without its windows: a page takes a third of the time that it takes with the browser's own furniture round it.
	bin, err := exec.LookPath("chromium-headless-shell")
	if err != nil {
		return 1, fmt.Errorf("no headless Chromium: run make browser (%w)", err)
	}
	l := launcher.New().Bin(bin).NoSandbox(true).Headless(true).UserDataDir(filepath.Join(dir, "profile")).
		Set("disable-gpu").Set("disable-quic").Set("no-first-run").Set("disable-background-networking").Set("disable-component-update").Set("disable-sync")
	// Its camera is the stand-in's: a film of a gauge, over and over.
	if err := filmTo(filepath.Join(dir, "camera.mjpeg")); err != nil {
		return 1, err
	}
	l.Set("use-fake-device-for-media-stream").Set("use-fake-ui-for-media-stream").
		Set("use-file-for-fake-video-capture", filepath.Join(dir, "camera.mjpeg"))
	if *shotDir != "" {
		l.Set("hide-scrollbars")
	}
	address, err := l.Launch()
	if err != nil {
		return 1, fmt.Errorf("starting Chromium: %w", err)
	}
	defer l.Kill()
	// What is waited for is looked for often: a page is mostly there in some hundredths of a second.
	rod.DefaultSleeper = func() utils.Sleeper { return utils.BackoffSleeper(5*time.Millisecond, 60*time.Millisecond, nil) }
	chrome = rod.New().ControlURL(address)
	if err := chrome.Connect(); err != nil {
		return 1, err
	}
	return m.Run(), nil
}

// shop is the real program, running.
type shop struct {
	url  string
	port int
	cmd  *exec.Cmd
	away bool // it will be: its pages are kept in the browser
}

// freePort returns a port that a server may be started on again after it was killed.
func freePort(t testing.TB) int {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer func() { _ = l.Close() }()
	return l.Addr().(*net.TCPAddr).Port
}

// serve starts the program and waits until it says where it is.
func serve(t testing.TB, port int, args ...string) *shop {
	t.Helper()
	cmd := exec.Command(binary, append(args, "--port", fmt.Sprint(port))...)
	cmd.Stderr = os.Stderr
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	s := &shop{cmd: cmd, port: port, away: port != 0}
	t.Cleanup(func() { _ = cmd.Process.Signal(syscall.SIGTERM); _ = cmd.Wait() })
	line, err := bufio.NewReader(out).ReadString('\n')
	require.NoError(t, err)
	go func() { _, _ = io.Copy(io.Discard, out) }()
	s.url = strings.TrimSpace(strings.TrimPrefix(line, "Braxel is at "))
	return s
}

func demo(t testing.TB, more ...string) *shop {
	t.Helper()
	return serve(t, 0, append([]string{"demo"}, more...)...)
}

// kill ends the program as a power cut would.
func (s *shop) kill(t testing.TB) {
	t.Helper()
	require.NoError(t, s.cmd.Process.Kill())
	_ = s.cmd.Wait()
}

// open opens a page of the server in a browser context of its own.
func (s *shop) open(t testing.TB, path string, width, height int) *rod.Page {
	t.Helper()
	return s.openFor(t, 90*time.Second, path, width, height)
}

// openFor opens a page on which things may take so long.
func (s *shop) openFor(t testing.TB, long time.Duration, path string, width, height int) *rod.Page {
	t.Helper()
	own, err := chrome.Incognito()
	require.NoError(t, err)
	page, err := own.Timeout(long).Page(proto.TargetCreateTarget{})
	require.NoError(t, err)
	t.Cleanup(func() { _ = own.Close() })
	if !s.away { // every test has a browser of its own, which would fetch the whole program once more to keep it
		page.MustEvalOnNewDocument(`delete Navigator.prototype.serviceWorker`)
	}
	require.NoError(t, page.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: width, Height: height, DeviceScaleFactor: 1}))
	require.NoError(t, page.Navigate(s.url+path))
	require.NoError(t, page.WaitLoad())
	return page
}

// see waits for an element whose text matches the pattern.
func see(t testing.TB, page *rod.Page, selector, pattern string) *rod.Element {
	t.Helper()
	e, err := page.ElementR(selector, pattern)
	require.NoError(t, err, "%s showing %q; the page says:\n%s", selector, pattern, text(page))
	return e
}

// click presses what shows those words.
func click(t testing.TB, page *rod.Page, selector, words string) {
	t.Helper()
	e := see(t, page, selector, words)
	still(t, e)
	require.NoError(t, e.Click(proto.InputMouseButtonLeft, 1))
}

// still waits until an element stands where it stood: a list above it may still be growing, a face of type on its way.
func still(t testing.TB, e *rod.Element) {
	t.Helper()
	before := ""
	require.Eventually(t, func() bool {
		now, err := e.Eval(`() => JSON.stringify(this.getBoundingClientRect())`)
		if err != nil { // it was drawn anew
			return true
		}
		stands := now.Value.Str() == before
		before = now.Value.Str()
		return stands
	}, time.Minute, 20*time.Millisecond)
}

func text(page *rod.Page) string {
	words, err := page.Context(context.Background()).Timeout(5 * time.Second).Eval(`() => document.body.innerText + '\nfields: ' + [...document.querySelectorAll('input')].map(i => i.value).join(', ') + '\nfocus: ' + document.activeElement.outerHTML.slice(0, 120)`)
	if err != nil {
		return err.Error()
	}
	return words.Value.Str()
}

// until waits for the page's script to answer true.
func until(t testing.TB, page *rod.Page, js string) {
	t.Helper()
	require.NoError(t, page.Wait(rod.Eval(js)), "%s; the page says:\n%s", js, text(page))
}

func press(t testing.TB, page *rod.Page, keys ...input.Key) {
	t.Helper()
	require.NoError(t, page.Keyboard.Type(keys...))
}

// begin starts a test of the engine in front and goes past its lists to the first pull.
func begin(t testing.TB, page *rod.Page) {
	t.Helper()
	press(t, page, 't')
	see(t, page, "h2", "Prepare and make safe")
	press(t, page, input.Enter)
	see(t, page, "[data-prompt]", "Next: 1")
}

func digits(v int) []input.Key {
	var keys []input.Key
	for _, d := range fmt.Sprint(v) {
		keys = append(keys, input.Key(d))
	}
	return keys
}

// post sends JSON to the server's API and reads the answer into out.
func (s *shop) post(t testing.TB, path string, body, out any) {
	t.Helper()
	text, err := json.Marshal(body)
	require.NoError(t, err)
	request, err := http.NewRequestWithContext(context.Background(), http.MethodPost, s.url+path, strings.NewReader(string(text)))
	require.NoError(t, err)
	request.Header.Set("Content-Type", "application/json")
	s.do(t, request, out)
}

// tell hands entries in that have to be kept; each gets a time, in order.
func (s *shop) tell(t testing.TB, entries ...map[string]any) {
	t.Helper()
	for i, e := range entries {
		e["at"] = time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC).Add(time.Duration(i) * time.Millisecond).Format(time.RFC3339Nano)
		if e["engine"] == nil {
			e["engine"] = "siskin"
		}
		if e["kind"] == "test" { // in a time of its own, which nobody is asked about
			e["sure"] = true
		}
	}
	var out server.EntriesOut
	s.post(t, "/api/entries", map[string]any{"entries": entries}, &out)
	for _, a := range out.Answers {
		require.NotEqual(t, "refused", a.Result, "%s %s", a.Field, a.Why)
	}
}

// siskin enters an engine of that id.
func (s *shop) siskin(t testing.TB, engine map[string]any) {
	t.Helper()
	s.tell(t, map[string]any{"id": "siskin-begun", "kind": "engine", "body": engine})
}

// sheet returns the sheet of the engine's last test.
func (s *shop) sheet(t testing.TB, engine string) sheet.Sheet {
	t.Helper()
	var page server.EnginePage
	s.get(t, "/api/engines/"+engine, &page)
	require.NotEmpty(t, page.Tests)
	var got sheet.Sheet
	s.get(t, fmt.Sprintf("/api/engines/%s/sessions/%s/sheet", engine, page.Tests[len(page.Tests)-1].ID), &got)
	return got
}

func (s *shop) get(t testing.TB, path string, out any) {
	t.Helper()
	request, err := http.NewRequestWithContext(context.Background(), http.MethodGet, s.url+path, nil)
	require.NoError(t, err)
	s.do(t, request, out)
}

func (s *shop) do(t testing.TB, request *http.Request, out any) {
	t.Helper()
	answer, err := http.DefaultClient.Do(request)
	require.NoError(t, err)
	defer func() { _ = answer.Body.Close() }()
	text, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	require.Less(t, answer.StatusCode, 300, "%s %s: %s", request.Method, request.URL, text)
	if out != nil {
		require.NoError(t, json.Unmarshal(text, out))
	}
}
