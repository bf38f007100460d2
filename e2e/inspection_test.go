package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/trace"
	"braxel/internal/server"
)

// inspect begins an inspection of the siskin.
func inspect(t *testing.T, s *shop, width, height int) *rod.Page {
	t.Helper()
	page := s.open(t, "/engines/siskin", width, height)
	see(t, page, "main", "Siskin")
	page.MustElement("[data-inspect]").MustClick()
	see(t, page, "[data-heading]", "Nothing has been looked at")
	return page
}

// at waits until a line of the list is in front.
func at(t *testing.T, page *rod.Page, item string) {
	t.Helper()
	until(t, page, `() => document.querySelector('[data-item="`+item+`"]')?.getAttribute('aria-current') === 'true'`)
}

func TestAnInspectionGoesToItsPageByKeyboard(t *testing.T) {
	t.Parallel()
	s := serve(t, freePort(t), "serve", "--data", t.TempDir())
	four := map[string]any{
		"name": "Siskin", "kind": "four-stroke", "layout": map[string]any{"banks": [][]int{{1, 2, 3, 4}}}, "bore_mm": 86, "stroke_mm": 86,
		"firing_order": []int{1, 3, 4, 2},
	}
	s.siskin(t, four)
	page := inspect(t, s, 1280, 800)
	at(t, page, "outside")
	press(t, page, '2') // weeps
	at(t, page, "numbers")
	press(t, page, '1')
	at(t, page, "ports")
	press(t, page, '9') // there is no ninth answer
	press(t, page, '1')
	at(t, page, "plugs")
	press(t, page, '3') // one oily
	see(t, page, "[data-because]", "One plug is oily")
	at(t, page, "oil")
	press(t, page, '-') // it could not be checked
	at(t, page, "sump")
	press(t, page, '1')
	at(t, page, "coolant")
	see(t, page, `[data-item="coolant"]`, "only when cold")
	press(t, page, '1')
	at(t, page, "end-play")
	press(t, page, keysOf("3")...)
	press(t, page, input.Enter)
	see(t, page, `[data-item="end-play"] [data-fault]`, "must be between 0 and 2.5 mm, not 3")
	assert.Equal(t, "3", page.MustElement(`[data-item="end-play"] input`).MustProperty("value").Str(), "what was typed stays")
	press(t, page, input.Backspace)
	press(t, page, keysOf("0,15")...)
	press(t, page, input.Enter)
	at(t, page, "tdc")
	press(t, page, '1')
	at(t, page, "lash")
	press(t, page, '1')
	at(t, page, "dry")
	see(t, page, "[data-heading]", "No verdict yet: the dry compression is still missing")
	press(t, page, input.Enter)
	see(t, page, "[data-prompt]", "Next: 1")
	for _, psi := range []int{180, 180, 181, 181, 179, 179, 182, 182} {
		press(t, page, append(digits(psi), input.Enter)...)
	}
	see(t, page, "[data-prompt]", "All cylinders read")
	page.MustNavigateBack()
	see(t, page, "[data-heading]", "Buy it cheaper: one plug is oily.")
	assert.Contains(t, page.MustElement("[data-result]").MustText(), "Oil on the dipstick and in the filler", "it stays unknown")
	assert.Contains(t, page.MustElement("[data-result]").MustText(), "ratio of")
	until(t, page, `() => document.querySelector('[data-item="dry"] [data-answer]').innerText.includes('done')`)

	var engine server.EnginePage
	s.get(t, "/api/engines/siskin", &engine)
	require.NotNil(t, engine.Checked)
	assert.Equal(t, "Buy it cheaper: one plug is oily.", engine.Checked.Heading)
}

func TestAnInspectionFitsAPhone(t *testing.T) {
	t.Parallel()
	s := serve(t, freePort(t), "serve", "--data", t.TempDir())
	s.siskin(t, v8)
	page := inspect(t, s, 390, 844)
	click(t, page, `[data-item="outside"] button`, "runs with oil")
	at(t, page, "numbers")
	page.MustElement(`[data-item="numbers"] [data-unchecked]`).MustClick()
	at(t, page, "ports")
	see(t, page, "[data-because]", "Oil runs down it")
	assert.LessOrEqual(t, page.MustEval("() => document.documentElement.scrollWidth").Int(), 390)
	for _, b := range page.MustElements(`[data-item="ports"] button`) {
		assert.GreaterOrEqual(t, b.MustShape().Box().Height, 44.0, "a thumb's height")
	}
}

func TestARecordingIsReadOnTheSheet(t *testing.T) {
	t.Parallel()
	s := serve(t, freePort(t), "serve", "--data", t.TempDir())
	s.siskin(t, v8)
	page := s.open(t, "/engines/siskin", 1280, 900)
	see(t, page, "main", "Siskin")
	begin(t, page)
	folder := t.TempDir()
	file := func(name, text string) string {
		path := filepath.Join(folder, name)
		require.NoError(t, os.WriteFile(path, []byte(text), 0o600))
		return path
	}
	page.MustElement("[data-read-recording]").MustClick()
	take := page.MustElement("[role=dialog] input[type=file]")
	take.MustSetFiles(file("bare.csv", "Time [s],Pressure [V]\n0,1\n0.1,2\n"))
	see(t, page, "[data-trace-fault]", "Line 1:.*how much a volt stands for")
	take.MustSetFiles(file("pulses.csv", steadyPulses))
	see(t, page, "[data-trace-why]", "compressions at 240 rpm, the highest 145 psi")
	page.MustElement("[data-trace-chart] canvas")
	click(t, page, "[data-keep-trace]", "145 psi of cylinder 1")
	see(t, page, "[data-recordings]", "at 240 rpm")
	until(t, page, kept(1))
	// What was kept is shown again, from what is on record alone.
	page.MustElement("[data-recordings] button").MustClick()
	see(t, page, "[data-trace-why]", "the highest 145 psi")
	page.MustElement("[data-trace-chart] canvas")

	var l server.EnginePage
	s.get(t, "/api/engines/siskin", &l)
	one := s.sheet(t, "siskin").Session.Observations
	require.Len(t, one, 1)
	points, err := trace.Points(*one[0].Trace)
	require.NoError(t, err)
	high := 0.0
	for _, v := range points {
		high = max(high, v)
	}
	assert.InDelta(t, 1000, high, 2)
}
