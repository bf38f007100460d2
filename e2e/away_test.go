package e2e

import (
	"fmt"
	"os"
	"sync/atomic"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/server"
)

// beside opens another tab of the same browser.
func beside(t *testing.T, page *rod.Page, url string) *rod.Page {
	t.Helper()
	other, err := page.Browser().Page(proto.TargetCreateTarget{URL: url, BrowserContextID: page.Browser().BrowserContextID})
	require.NoError(t, err)
	other = other.Timeout(2 * time.Minute)
	require.NoError(t, other.WaitLoad())
	return other
}

func TestAWholeNewEngineAndItsTestAreEnteredWhileTheServerIsAway(t *testing.T) {
	t.Parallel()
	port, data := freePort(t), t.TempDir()
	s := serve(t, port, "serve", "--data", data)
	page := s.open(t, "/", 1280, 800)
	see(t, page, "p", "No engines yet")
	until(t, page, `() => !!navigator.serviceWorker.controller`)
	s.kill(t)
	press(t, page, 'n')
	see(t, page, "h1", "New engine")
	require.NoError(t, page.MustElement("input").Input("Siskin"))
	press(t, page, input.Enter)
	see(t, page, "[data-entered] p", "one entry waiting")
	press(t, page, 't')
	see(t, page, "[data-draft]", "Fuel off, spark off")
	fill(t, page, "^Meter", "12,5")
	press(t, page, input.Tab)
	press(t, page, input.PageDown)
	until(t, page, `() => document.querySelector('[data-current]')?.innerText === '1'`)
	k := &keyed{page: page}
	typed := []int{172, 171, 170, 170}
	for i, psi := range typed {
		k.pull(t, psi)
		see(t, page, "[data-kept]", fmt.Sprintf("%d waiting to be sent", i+3))
	}
	// A reload between, and another tab that sees what waits and adds to it.
	require.NoError(t, page.Reload())
	until(t, page, `() => document.querySelector('[data-current]')?.innerText === '3'`)
	other := beside(t, page, s.url+"/")
	see(t, other, "[data-entered]", "Siskin")
	click(t, other, "a", "^\\d+ waiting$")
	until(t, other, `() => document.querySelectorAll('[data-entry]').length === 7`)
	for _, psi := range []int{169, 168, 171, 172} {
		k.pull(t, psi)
	}
	until(t, other, `() => document.querySelectorAll('[data-entry]').length === 11`)

	s = serve(t, port, "serve", "--data", data)
	until(t, page, kept(8))
	see(t, page, "[data-prompt]", "All cylinders read")
	until(t, other, `() => document.querySelectorAll('[data-entry]').length === 0`)
	var rack server.Rack
	s.get(t, "/api/rack", &rack)
	require.Len(t, rack.Engines, 1)
	got := s.sheet(t, rack.Engines[0].ID)
	var landed []int
	for _, cell := range got.Cells {
		for _, p := range cell.Pulls {
			landed = append(landed, int(p.Value))
		}
	}
	assert.Equal(t, append(typed, 169, 168, 171, 172), landed, "each once, in its row")
	assert.InDelta(t, 12.5, *got.Session.Meter, 0)
	var record server.Record
	s.get(t, "/api/engines/"+rack.Engines[0].ID+"/record", &record)
	assert.Len(t, record.Lines, 11)
	for i, l := range record.Lines[1:] {
		assert.LessOrEqual(t, l.At, record.Lines[i].At, "in order, with the times at which they were typed")
	}
}

func TestARefusalAndAForbiddenAnswerLoseNothingAndHoldUpNothing(t *testing.T) {
	t.Parallel()
	port, data := freePort(t), t.TempDir()
	s := serve(t, port, "serve", "--data", data)
	s.siskin(t, v8)
	page := s.open(t, "/engines/siskin", 1280, 800)
	see(t, page, "button", "Start a test")
	begin(t, page)
	k := &keyed{page: page}

	// Whoever stands between says no for a while: thirteen readings wait, and are sent when it no longer does.
	var forbidden atomic.Bool
	router := page.HijackRequests()
	require.NoError(t, router.Add("*/api/entries", "", func(h *rod.Hijack) {
		if !forbidden.Load() {
			h.ContinueRequest(&proto.FetchContinueRequest{})
			return
		}
		h.Response.Payload().ResponseCode = 403
		h.Response.SetBody(`{"detail":"not from here"}`)
	}))
	go router.Run()
	defer func() { _ = router.Stop() }()
	forbidden.Store(true)
	for i := range 13 {
		k.pull(t, 170+i%2)
		see(t, page, "[data-kept]", fmt.Sprintf("%d waiting to be sent", i+1))
	}
	forbidden.Store(false)
	until(t, page, kept(13))

	// Typed while the server is away, one of three is must be between: the others are kept, it stays, and is mended.
	s.kill(t)
	k.pull(t, 1510)
	k.pull(t, 172)
	see(t, page, "[data-kept]", "2 waiting to be sent")
	s = serve(t, port, "serve", "--data", data)
	until(t, page, kept(14))
	see(t, page, "[data-refused]", "must be between 0 and 870 psi")
	click(t, page, "[data-refused] a", "Correct")
	see(t, page, "[data-why]", "must be between")
	click(t, page, "button", "^Correct$")
	fill(t, page, "^value", "151")
	press(t, page, input.Enter)
	see(t, page, "p", "Nothing is waiting")
	assert.Equal(t, 15, s.sheet(t, "siskin").Kept)
}

func TestUndoStrikesTheLastEntryOfThisDeviceOnAnyPage(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	s.siskin(t, v8)
	page := s.open(t, "/engines/siskin", 1280, 800)
	see(t, page, "button", "Start a test")
	begin(t, page)
	k := &keyed{page: page}
	k.pull(t, 171)
	until(t, page, kept(1))
	require.NoError(t, page.Navigate(s.url+"/gauges"))
	see(t, page, "h1", "Gauges")
	undo := func() {
		require.NoError(t, page.KeyActions().Press(input.ControlLeft).Type('z').Do())
	}
	undo()
	see(t, page, "[data-undone]", "171 psi of 1")
	assert.Equal(t, "undone", s.sheet(t, "siskin").Cells[0].Pulls[0].Struck)
	click(t, page, "[data-undone] button", "Undo that")
	until(t, page, `() => !document.querySelector('[data-undone]')`)
	require.Eventually(t, func() bool { return s.sheet(t, "siskin").Cells[0].Pulls[0].Struck == "" }, 10*time.Second, 50*time.Millisecond)

	// The record shows who and when; what is struck there is struck everywhere.
	require.NoError(t, page.Navigate(s.url+"/engines/siskin/record"))
	click(t, page, "button", `^Strike\s+cylinder 1 dry`)
	see(t, page, "[role=dialog]", "why")
	press(t, page, '1')
	see(t, page, "[data-line]", "struck: throttle not held open")
	assert.Equal(t, "throttle not held open", s.sheet(t, "siskin").Cells[0].Pulls[0].Struck)
}

func TestACylinderIsNotTakenFromUnderItsReadingsUnasked(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/engines/heron/edit", 1280, 800)
	see(t, page, "h1", "Heron")
	until(t, page, `() => [...document.querySelectorAll('input')].some(i => i.value === '1 2 3 4')`)
	fill(t, page, "^Cylinders, from the front", "1 2 3")
	fill(t, page, "^Firing order", "1 3 2")
	press(t, page, input.Enter)
	see(t, page, "[data-asked]", "readings in 10 tests are of cylinders that the engine would no longer have")
	click(t, page, "button", "Yes, save it")
	see(t, page, "header p", "Heron")
	require.NoError(t, page.KeyActions().Press(input.ControlLeft).Type('z').Do())
	see(t, page, "[data-undone]", "the engine")
	var engine server.EnginePage
	require.Eventually(t, func() bool {
		s.get(t, "/api/engines/heron", &engine)
		return len(engine.Bores) == 4 && engine.Bores[3].Reading != ""
	}, 10*time.Second, 50*time.Millisecond)
}

func TestStoppingWithSheetsOpenTakesLessThanASecond(t *testing.T) {
	t.Parallel()
	s := demo(t)
	for range 3 {
		page := s.open(t, "/engines/heron/tests/s9/dry", 800, 600)
		see(t, page, "[data-prompt]", ".")
	}
	time.Sleep(300 * time.Millisecond) // the streams are open
	start := time.Now()
	require.NoError(t, s.cmd.Process.Signal(os.Interrupt))
	require.NoError(t, s.cmd.Wait(), "without a complaint")
	assert.Less(t, time.Since(start), time.Second)
}
