package e2e

import (
	"regexp"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/units"
	"braxel/internal/server"
)

// chooseUnit picks a unit on the page of units, for whom it says.
func chooseUnit(t *testing.T, page *rod.Page, what, unit string) {
	t.Helper()
	field, err := page.Element(`select[aria-label="` + what + `"]`)
	require.NoError(t, err)
	require.NoError(t, field.Select([]string{unit}, true, "text"))
}

// shows waits until the field of a label shows a figure.
func shows(t *testing.T, page *rod.Page, label, figure string) {
	t.Helper()
	see(t, page, "label", label)
	until(t, page, `() => [...document.querySelectorAll('label')].some(l => new RegExp(`+"`"+label+"`"+`).test(l.innerText)
		&& document.getElementById(l.htmlFor)?.value === '`+figure+`')`)
}

// A whole test in inches, °F, inHg and psi, in a workshop that shows bar and mm: typed so, shown so, kept so; the log has its own units.
func TestAWholeTestInSomebodysOwnUnits(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	s.siskin(t, v6)
	page := s.open(t, "/units", 1280, 800)
	see(t, page, "h1", "Units and dates")
	chooseUnit(t, page, "Compression and leak-down, workshop", "bar")
	see(t, page, "tr", "11.9 bar")
	for what, unit := range map[string]string{
		"Compression and leak-down": "psi", "Temperature": "°F", "Bore, stroke, lash": "in", "Altitude": "ft", "Air pressure": "inHg",
		"Displacement, oil": "ci", "Date": "month first", "Time of day": "12 hours, am and pm",
	} {
		chooseUnit(t, page, what+", me", unit)
	}
	see(t, page, "tr", "172 psi")
	see(t, page, "tr", "Apr 2, 2033")

	require.NoError(t, page.Navigate(s.url+"/engines/siskin/edit"))
	fill(t, page, "^Bore, in", "3.25")
	fill(t, page, "^Stroke, in", "90 mm")
	fill(t, page, "^Rod, in", "wide")
	see(t, page, "[data-fault]", "“wide” is not a number")
	fill(t, page, "^Rod, in", "5.7")
	fill(t, page, "^Altitude, ft", "689")
	press(t, page, input.Enter)
	see(t, page, "header p", "176 ci V6")

	press(t, page, 't')
	see(t, page, "h2", "Prepare and make safe")
	fill(t, page, "^Oil temperature, °F", "185")
	fill(t, page, "^Air temperature, °F", "29 C")
	fill(t, page, "^Air pressure, if measured, inHg", "29.92")
	press(t, page, input.Tab)
	see(t, page, "li, p, span", "everything saved|saved|Saved")
	require.NoError(t, page.Reload())
	shows(t, page, "^Oil temperature", "185")
	shows(t, page, "^Air temperature", "84.2")
	shows(t, page, "^Air pressure", "29.92")
	shows(t, page, "^Altitude", "689")

	see(t, page, "button", "Go on")
	click(t, page, "button", "dry test")
	see(t, page, "[data-prompt]", "Next: 1")
	until(t, page, `() => document.querySelector('main').innerText.includes('psi')`)
	n := 0
	for range 6 {
		press(t, page, '1', '7', '1', input.Enter)
		n++
		until(t, page, kept(n))
		press(t, page, '=')
		n++
		until(t, page, kept(n))
	}
	press(t, page, input.Enter)

	got := s.sheet(t, "siskin")
	assert.Equal(t, units.Reading{Value: 171, Unit: units.PSI}, got.Cells[0].Pulls[0].Reading)
	c := got.Session.Conditions
	assert.InDelta(t, 85, *c.OilC, 1e-6)
	assert.InDelta(t, 29, *c.AmbientC, 1e-6)
	assert.InDelta(t, 101.32, c.AmbientKPa, 0.01)
	assert.Equal(t, "185 °F", c.Typed["oil_temp_c"])
	assert.Empty(t, c.Typed["ambient_c"], "typed in the log's own unit")
	assert.InDelta(t, 82.55, got.Engine.BoreMM, 1e-6)
	assert.InDelta(t, 90, got.Engine.StrokeMM, 1e-6)
	assert.InDelta(t, 210, *got.Engine.AltitudeM, 0.05)

	// Without the choice the workshop's bar is shown, and what was typed stands as it was typed.
	var engine server.EnginePage
	s.get(t, "/api/engines/siskin", &engine)
	assert.Equal(t, units.Bar, engine.Unit)
	assert.Equal(t, "11.8", engine.Bores[0].Reading)
	other := s.open(t, "/engines/siskin/edit", 1280, 800)
	shows(t, other, "^Bore, mm", "3.25 in")
	shows(t, other, "^Stroke, mm", "90")

	require.NoError(t, page.Navigate(s.url+"/engines/siskin"))
	see(t, page, "header p", "176 ci V6")
	see(t, page, "p", "^psi as read")
	require.NoError(t, page.Navigate(s.url+"/engines/siskin/record"))
	see(t, page, "li, p", "bore 3.25 in")
	see(t, page, "time", "(AM|PM)")
	paper, err := page.Eval(`async () => (await fetch('/api/engines/siskin/papers/filled.pdf')).status`)
	require.NoError(t, err)
	assert.Equal(t, 200, paper.Value.Int())
}

// An engine of a layout that one knows by name takes twelve keys.
func TestAnEngineOfAKnownLayoutTakesTwelveKeys(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	page := s.open(t, "/", 1280, 800)
	see(t, page, "a, button", "New engine|Add")
	k := &keyed{page: page}
	k.press(t, 'n')
	see(t, page, "button", "^1-3-4-2, even")
	for _, r := range "siskin" {
		k.press(t, input.Key(r))
	}
	k.press(t, input.Tab, 'v', '9')
	see(t, page, "[data-fault]", "none of the layouts below")
	k.press(t, input.Enter)
	see(t, page, "[role=alert]", "none of the layouts below")
	k.count -= 2 // the slip
	press(t, page, input.Backspace)
	k.press(t, '6')
	until(t, page, `() => [...document.querySelectorAll('input')].some(i => i.value === '2 4 6')`)
	k.press(t, input.Enter)
	see(t, page, "header p", "Not tested yet")
	assert.Equal(t, 11, k.count)
	var engine server.EnginePage
	var rack server.Rack
	s.get(t, "/api/rack", &rack)
	s.get(t, "/api/engines/"+rack.Engines[0].ID, &engine)
	assert.Equal(t, "V6", strings.TrimSpace(engine.About))
}

// Each kind of engine reads only of what it has: no neighbour beside a cylinder that stands alone, no oil filler on a two-stroke, no
// cylinder on a rotary.
func TestEachKindOfEngineReadsOfWhatItHas(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	for _, one := range []struct {
		id     string
		engine map[string]any
		never  string
		says   map[string]string
	}{
		{
			"single",
			map[string]any{"kind": "four-stroke", "duty": "motorcycle", "layout": map[string]any{"banks": [][]int{{1}}}, "firing_order": []int{1}},
			`(?i)neighbour|cylinders were swapped|\bbank\b|handbrake|the other cylinders`,
			map[string]string{"dry": "the only cylinder", "leak-down": "oil filler"},
		},
		{
			"two-stroke",
			map[string]any{"kind": "two-stroke", "duty": "kart", "layout": map[string]any{"banks": [][]int{{1, 2}}}, "firing_order": []int{1, 2}},
			`(?i)oil filler|valve lash|dipstick|\bsump\b|burnt valve|overlap|both its valves|oil pressure|oil temperature|injectors|handbrake|diesel`,
			map[string]string{"leak-down": "crankcase"},
		},
		{
			"rotary",
			map[string]any{"kind": "rotary", "duty": "street", "layout": map[string]any{"rotors": 2}},
			`(?i)cylinder|valve lash|burnt valve|piston|\brings\b|leak-down|until the needle stops`,
			map[string]string{"dry": "rotor 1", "prepare": "Go on to the faces"},
		},
		{
			"twelve",
			map[string]any{
				"kind": "four-stroke", "duty": "circuit", "layout": map[string]any{"banks": [][]int{{1, 3, 5, 7, 9, 11}, {2, 4, 6, 8, 10, 12}}, "bank_angle_deg": 60},
				"firing_order": []int{1, 12, 5, 8, 3, 10, 6, 7, 2, 11, 4, 9},
			},
			`(?i)rotor|crankcase leaks|chipped reed|glow plug|undefined|NaN|\{\w+\}`,
			map[string]string{"leak-down": "6 is on overlap", "look": "plug 1 look"},
		},
	} {
		one.engine["name"] = one.id
		s.tell(t, map[string]any{"id": one.id + "-begun", "engine": one.id, "kind": "engine", "body": one.engine},
			map[string]any{"id": one.id + "-test", "engine": one.id, "kind": "test", "sure": true, "body": map[string]any{"id": "t1", "date": "2033-06-01", "open": true}})
		never := regexp.MustCompile(one.never)
		t.Run(one.id, func(t *testing.T) {
			t.Parallel()
			page := s.open(t, "/", 1280, 800)
			for _, step := range []string{"prepare", "dry", "wet", "leak-down", "look", "findings", "put-back", "inspection"} {
				if one.id == "rotary" && (step == "wet" || step == "leak-down") {
					continue // it has neither
				}
				require.NoError(t, page.Navigate(s.url+"/engines/"+one.id+"/tests/t1/"+step))
				see(t, page, "h1, h2", ".")
				if words := one.says[step]; words != "" {
					see(t, page, "main, body", words)
				}
				read, err := page.Eval(`() => document.body.innerText + ' ' + [...document.querySelectorAll('option')].map(o => o.innerText).join(' ')`)
				require.NoError(t, err)
				assert.Empty(t, never.FindString(read.Value.Str()), "%s of the %s", step, one.id)
			}
		})
	}
}
