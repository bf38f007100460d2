package e2e

import (
	"fmt"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/sheet"
	"braxel/internal/server"
)

// choose picks an entry of the list under that label.
func choose(t *testing.T, page *rod.Page, label, entry string) {
	t.Helper()
	list, err := see(t, page, "label", label).Next()
	require.NoError(t, err)
	require.NoError(t, list.Select([]string{entry}, true, rod.SelectorTypeText))
}

// pullsOf returns the pulls of a cylinder that count, as they stand in a sheet.
func pullsOf(s sheet.Sheet, cylinder int) []float64 {
	var all []float64
	for _, c := range s.Cells {
		for _, p := range c.Pulls {
			if c.Cylinder == cylinder && p.Counts() {
				all = append(all, p.Value)
			}
		}
	}
	return all
}

// A test that is finished takes nothing by mistake; its head, its gauge and what stood under the wrong cylinders are put right, and
// it is opened again for all to see.
func TestAFinishedTestIsPutRightAndReopened(t *testing.T) {
	t.Parallel()
	s := demo(t)
	now := func() sheet.Sheet {
		var got sheet.Sheet
		s.get(t, "/api/engines/heron/sessions/s9/sheet", &got)
		return got
	}
	before := now()
	page := s.open(t, "/engines/heron/tests/s9/dry", 1280, 800)
	see(t, page, "[data-finished]", "This test is finished")
	see(t, page, "[data-prompt]", "All cylinders read")
	press(t, page, input.Backspace, '1', '8', '0', input.Enter)
	see(t, page, "[data-fault]", "finished. Reopen it")
	until(t, page, `() => document.querySelector('input[aria-label^=Reading]').value === '180'`)
	assert.Equal(t, before.Kept, now().Kept)
	press(t, page, input.Escape)
	require.NoError(t, page.Navigate(s.url+"/engines/heron/tests/s9/leak-down"))
	see(t, page, "[data-finished]", "This test is finished")
	press(t, page, '9', '0', 'l', input.Enter)
	see(t, page, "[data-fault]", "finished. Reopen it")
	require.NoError(t, page.Navigate(s.url+"/engines/heron/tests/s9/look"))
	see(t, page, "h2", "How does plug")
	see(t, page, "button", "tan")
	press(t, page, '1')
	see(t, page, "[data-fault]", "finished. Reopen it")
	assert.Equal(t, before.Kept, now().Kept)
	assert.Len(t, now().Session.Observations, len(before.Session.Observations))
	require.NoError(t, page.Navigate(s.url+"/engines/heron/tests/s9/dry"))

	click(t, page, "button", "Two cylinders were swapped")
	click(t, page, "[data-swap] button", "^1$")
	click(t, page, "[data-swap] button", "^2$")
	click(t, page, "[data-swap] button", "Exchange 1 and 2")
	until(t, page, fmt.Sprintf(`() => document.querySelector("[data-cylinder='2'] button")?.innerText === '%g'`, pullsOf(before, 1)[0]))
	after := now()
	assert.Equal(t, pullsOf(before, 1), pullsOf(after, 2))
	assert.Equal(t, pullsOf(before, 2), pullsOf(after, 1))
	assert.Equal(t, pullsOf(before, 3), pullsOf(after, 3))
	leak := func(s sheet.Sheet, cylinder int) float64 {
		for _, c := range s.Leak {
			if c.Cylinder == cylinder && c.LeakPct != nil {
				return *c.LeakPct
			}
		}
		return -1
	}
	assert.InDelta(t, leak(before, 1), leak(after, 2), 0, "the leak-downs go along")

	// The gauge was another: of the head, and of the readings that stand with it.
	press(t, page, input.PageUp)
	see(t, page, "h2", "Prepare")
	var testers []server.TesterPage
	s.get(t, "/api/testers", &testers)
	other := ""
	for _, one := range testers {
		if one.Kind == "compression" && one.ID != before.Session.Gauge {
			other = one.Name
		}
	}
	require.NotEmpty(t, other)
	choose(t, page, "^Compression gauge", other)
	see(t, page, "[data-others]", "readings were taken with")
	click(t, page, "[data-others] button", "They were taken with “"+other)
	until(t, page, `() => !document.querySelector('[data-others]')`)
	fill(t, page, "^Battery at the end", "12,2")
	press(t, page, input.Tab)
	note, err := page.Element("textarea")
	require.NoError(t, err)
	require.NoError(t, note.Input("the stand was level"))
	press(t, page, input.Tab)
	require.Eventually(t, func() bool { return now().Session.Note != before.Session.Note }, 10e9, 5e7)
	assert.InDelta(t, 12.2, now().Session.Conditions.BatteryEnd, 0)
	assert.Empty(t, now().Others)

	click(t, page, "[data-finished] button", "reopen it")
	see(t, page, "[data-reopened]", "Finished before, reopened on")
	require.Eventually(t, func() bool { return now().Session.Open }, 10e9, 5e7)

	// Each is in the record, with who did it.
	var record server.Record
	s.get(t, "/api/engines/heron/record", &record)
	moved := 0
	for _, l := range record.Lines {
		if l.Kind == "move" {
			moved++
			assert.NotEmpty(t, l.By)
		}
	}
	assert.Greater(t, moved, 8)
}

func TestWhatHappenedIsStruckFromWhereItStandsAndCountedAgain(t *testing.T) {
	t.Parallel()
	s := demo(t)
	var engine server.EnginePage
	s.get(t, "/api/engines/heron", &engine)
	s.tell(t, map[string]any{"id": "event-1", "engine": "heron", "kind": "event", "body": map[string]any{"date": "2033-04-01", "what": "ran hot on the hill"}},
		map[string]any{"id": "note-1", "engine": "heron", "kind": "note", "body": map[string]any{"date": "2033-04-01", "text": "plugs changed"}},
		map[string]any{"id": "look-1", "engine": "heron", "kind": "look", "body": map[string]any{"test": "s9", "what": "oil", "finding": "milky"}})
	page := s.open(t, "/engines/heron", 1280, 800)
	for _, words := range []string{"ran hot on the hill", "plugs changed"} {
		click(t, page, "button", `strike\s+`+words)
		see(t, page, "[role=dialog]", "why")
		press(t, page, '5')
		click(t, page, "button", `restore\s+`+words)
		see(t, page, "[role=dialog]", "is struck: mistyped")
		click(t, page, "[role=dialog] button", "Restore")
		see(t, page, "button", `strike\s+`+words)
		until(t, page, `() => !document.querySelector('[role=dialog]')`)
	}
	require.NoError(t, page.Navigate(s.url+"/engines/heron/tests/s9/look"))
	click(t, page, "button", `strike\s+Oil milky`)
	see(t, page, "[role=dialog]", "why")
	press(t, page, '5')
	see(t, page, "button", `restore\s+Oil milky`)
	s.get(t, "/api/engines/heron", &engine)
	for _, e := range engine.Events {
		assert.Empty(t, e.Struck)
	}
}

// No cylinder is low, and all eight are oiled all the same: it is never a dead end.
func TestAllEightAreTestedWetWithoutBeingAsked(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	s.siskin(t, v8)
	page := s.open(t, "/engines/siskin", 1280, 800)
	see(t, page, "button", "Start a test")
	begin(t, page)
	k := &keyed{page: page}
	n := 0
	for range 8 {
		for range 2 {
			k.pull(t, 171)
			n++
			until(t, page, kept(n))
		}
	}
	press(t, page, input.PageDown)
	see(t, page, "[data-prompt]", "no wet test is needed")
	for c := 1; c <= 8; c++ {
		click(t, page, fmt.Sprintf("[data-cylinder='%d'] th", c), ".")
		for range 2 {
			until(t, page, fmt.Sprintf(`() => document.querySelector('[data-current]').innerText === '%d'`, c))
			k.pull(t, 178+c)
			n++
			until(t, page, kept(n))
		}
	}
	for _, c := range s.sheet(t, "siskin").Wet {
		require.NotNil(t, c.Reading, "%d", c.Cylinder)
		assert.InDelta(t, 178+c.Cylinder, c.Reading.Value, 0)
	}
}

// A slip of the hand is asked about where it was made; Enter on the question keeps nothing.
func TestAMeterThatRunsBackwardsIsAskedAbout(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/engines/heron", 1280, 800)
	see(t, page, "button", "Start a test")
	press(t, page, 't')
	see(t, page, "h2", "Prepare and make safe")
	meter := func() *float64 { return s.sheet(t, "heron").Session.Meter }
	fill(t, page, "^Meter", "1")
	press(t, page, input.Tab)
	see(t, page, "[data-asked]", "[Tt]he meter read .* backwards")
	press(t, page, input.Enter)
	see(t, page, "[data-fault]", "backwards")
	assert.Nil(t, meter())
	until(t, page, `() => !document.querySelector('[data-asked]')`)
	fill(t, page, "^Meter", "2")
	press(t, page, input.Tab)
	click(t, page, "[data-so]", "Yes, save it")
	require.Eventually(t, func() bool { return meter() != nil && *meter() == 2 }, 10e9, 5e7)
}

func TestAnEngineWithoutANameOrOfAnothersNameIsMarked(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/new-engine", 1280, 800)
	see(t, page, "h1", "New engine")
	see(t, page, "button", "^1-3-4-2, even")
	press(t, page, input.Enter)
	see(t, page, "[data-fault]", "can't be left empty")
	require.NoError(t, page.MustElement("input").Input("heron"))
	press(t, page, input.Enter)
	see(t, page, "[data-asked]", "already an engine called “heron”")
	press(t, page, input.Escape)
	see(t, page, "[data-fault]", "already an engine called “heron”")

	// Figures have a comma or a point; what is none is marked, and nothing is kept without it.
	until(t, page, `() => !document.querySelector('[role=dialog]')`)
	require.NoError(t, page.MustElement("input").SelectAllText())
	require.NoError(t, page.MustElement("input").Input("Siskin"))
	fill(t, page, "^Bore, mm", "87,5")
	fill(t, page, "^Stroke, mm", "8x")
	fill(t, page, "^Compression, minimum", "15o")
	press(t, page, input.Enter)
	see(t, page, "[data-fault]", "“8x” is not a number")
	see(t, page, "[data-fault]", "“15o” is not a number")
	fill(t, page, "^Stroke, mm", "91.0")
	fill(t, page, "^Compression, minimum", "150")
	press(t, page, input.Enter)
	see(t, page, "header p", "Not tested yet")
	var engine server.EnginePage
	where, err := page.Eval(`() => location.pathname`)
	require.NoError(t, err)
	s.get(t, "/api"+where.Value.Str(), &engine)
	assert.InDelta(t, 87.5, engine.Engine.BoreMM, 0)
	assert.InDelta(t, 91, engine.Engine.StrokeMM, 0)
	assert.InDelta(t, 150, engine.Engine.Limits.Minimum.Value, 0)
}
