package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/server"
)

// tested opens a run sheet of a fresh six at its dry test; script runs in the page before anything of the page's own.
func tested(t *testing.T, s *shop, script string) *rod.Page {
	t.Helper()
	s.siskin(t, benchFour)
	s.tell(t, map[string]any{"id": "begun-s1", "kind": "test", "body": map[string]any{"id": "s1", "date": "2026-01-02", "open": true}})
	page := s.open(t, "/", 1280, 900)
	if script != "" {
		page.MustEvalOnNewDocument(script)
	}
	require.NoError(t, page.Navigate(s.url+"/engines/siskin/tests/s1/dry"))
	see(t, page, "[data-prompt]", "Next: 1")
	return page
}

const reading = `document.querySelector('input[aria-label^=Reading]').value`

// A browser whose storage is full: a reading goes straight to the server; with that away, it stays in its field.
func TestAFullBrowserLosesNoReading(t *testing.T) {
	t.Parallel()
	data, port := t.TempDir(), freePort(t)
	s := serve(t, port, "serve", "--data", data)
	page := tested(t, s, `IDBObjectStore.prototype.add = () => { throw new DOMException('full', 'QuotaExceededError') }`)
	press(t, page, '1', '7', '1', input.Enter)
	until(t, page, kept(1))
	see(t, page, "[data-stores-nothing]", "This browser can't store anything")
	s.kill(t)
	press(t, page, '1', '7', '2', input.Enter)
	see(t, page, "[data-fault]", "stays in its field")
	until(t, page, `() => `+reading+` === '172'`)
	s = serve(t, port, "serve", "--data", data)
	require.Eventually(t, func() bool { // as often as one tries
		press(t, page, input.Enter)
		return len(pullsOf(s.sheet(t, "siskin"), 1)) == 2
	}, time.Minute, 20*time.Millisecond)
	assert.Equal(t, []float64{171, 172}, pullsOf(s.sheet(t, "siskin"), 1))
}

// What was handed in twice, by a double click or a second Enter, counts once.
func TestWhatIsHandedInTwiceCountsOnce(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	s.siskin(t, v6)
	page := s.open(t, "/engines/siskin", 1280, 900)
	see(t, page, "header p", "Not tested yet")
	for _, kind := range []string{"an event", "a new build", "a note"} {
		click(t, page, "button", "Add a repair")
		choose(t, page, "What happened", kind)
		fill(t, page, "In your words", kind)
		button := see(t, page, "form button", "Save")
		require.NoError(t, button.Click("left", 2))
		see(t, page, "li, section", kind)
		until(t, page, `() => ![...document.querySelectorAll('form button')].some(b => b.textContent.includes('Save'))`)
	}
	var record server.Record
	s.get(t, "/api/engines/siskin/record", &record)
	count := map[string]int{}
	for _, l := range record.Lines {
		count[l.Kind]++
	}
	assert.Equal(t, map[string]int{"engine": 1, "event": 1, "build": 1, "note": 1}, count)
}

// Two cylinders that were swapped are one thing to undo, and one to take back.
func TestASwapIsUndoneAtOnce(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	page := tested(t, s, "")
	k := &keyed{page: page}
	for i, psi := range []int{171, 171, 150, 150} {
		k.pull(t, psi)
		until(t, page, kept(i+1))
	}
	click(t, page, "button", "Two cylinders were swapped")
	click(t, page, "[data-swap] button", "^1$")
	click(t, page, "[data-swap] button", "^2$")
	click(t, page, "[data-swap] button", "Exchange 1 and 2")
	stand := func(one, two float64) {
		t.Helper()
		require.Eventually(t, func() bool {
			got := s.sheet(t, "siskin")
			return fmt.Sprint(pullsOf(got, 1), pullsOf(got, 2)) == fmt.Sprint([]float64{one, one}, []float64{two, two})
		}, time.Minute, 20*time.Millisecond)
	}
	stand(150, 171)
	page.MustEval(`() => document.activeElement.blur()`)
	require.NoError(t, page.KeyActions().Press(input.ControlLeft).Type('z').Do())
	see(t, page, "[data-undone]", "Undone")
	stand(171, 150)
	click(t, page, "[data-undone] button", "Undo that")
	stand(150, 171)
}

// A half-typed figure is there again, and still of its cylinder, after another step and after the page was loaded anew.
func TestAHalfTypedFigureStays(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	page := tested(t, s, "")
	press(t, page, input.ArrowRight, input.ArrowRight)
	until(t, page, `() => document.querySelector('[data-current]').textContent === '3'`)
	press(t, page, '1', '6')
	page.MustElementR("nav a", "Look").MustClick()
	see(t, page, "h2", "How does plug")
	page.MustElementR("nav a", "Dry").MustClick()
	there := func() {
		t.Helper()
		until(t, page, `() => document.querySelector('[data-current]')?.textContent === '3' && `+reading+` === '16'`)
	}
	there()
	require.NoError(t, page.Reload())
	there()
	press(t, page, '8', input.Enter)
	until(t, page, kept(1))
	assert.Equal(t, []float64{168}, pullsOf(s.sheet(t, "siskin"), 3))
	// A figure that is pasted with its unit is read; what is none is said to be none.
	paste := func(text string) {
		t.Helper()
		page.MustEval(`text => { const field = document.querySelector('input[aria-label^=Reading]'); field.focus()
			const data = new DataTransfer(); data.setData('text', text)
			field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true })) }`, text)
	}
	paste("about right")
	see(t, page, "[data-fault]", "“about right” can't be read as a number")
	paste(" 11.8 bar ")
	until(t, page, `() => `+reading+` === '11.8'`)
	press(t, page, input.Enter)
	until(t, page, kept(2))
}

// A device whose clock is twelve years slow is told so; the date that it offers is the server's, and its own time stands beside.
func TestADeviceWithAWrongClock(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	page := tested(t, s, `{ const real = Date.now.bind(Date), off = -12 * 365 * 24 * 3600e3, D = Date
		globalThis.Date = class extends D { constructor(...a) { a.length ? super(...a) : super(real() + off) } static now() { return real() + off } } }`)
	see(t, page, "[data-clock]", "This device's clock is 12 years slow")
	press(t, page, '1', '7', '1', input.Enter)
	until(t, page, kept(1))
	var record server.Record
	s.get(t, "/api/engines/siskin/record", &record)
	assert.Equal(t, "pull", record.Lines[0].Kind, "it comes last")
	assert.Less(t, record.Lines[0].Clock[:4], record.Lines[0].At[:4], "both times are kept")
	s.tell(t, map[string]any{"id": "shut", "kind": "test", "body": map[string]any{"id": "s1", "open": false}})
	require.NoError(t, page.Navigate(s.url+"/engines/siskin"))
	see(t, page, "header button", "Start a test")
	press(t, page, 't')
	see(t, page, "h2", "Prepare")
	assert.Regexp(t, `^20[23]\d-`, s.sheet(t, "siskin").Session.Date)
	assert.NotContains(t, s.sheet(t, "siskin").Session.Date, "2014")
}

// The data file goes away under the program: every screen says so, and what is typed waits.
func TestADataFileThatIsGoneIsSaidOnTheScreen(t *testing.T) {
	t.Parallel()
	data := filepath.Join(t.TempDir(), "data")
	s := serve(t, 0, "serve", "--data", data)
	page := tested(t, s, "")
	rack := s.open(t, "/", 1280, 800)
	see(t, rack, "li", "Siskin")
	require.NoError(t, os.Rename(data, data+"-away"))
	press(t, page, '1', '7', '1', input.Enter)
	see(t, page, "[data-trouble]", "The data file is gone")
	see(t, page, "[data-kept]", "1 waiting to be sent")
	see(t, rack, "[data-trouble]", "The data file is gone")
}
