package e2e

import (
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/sheet"
)

// keysOf are the keys of a text of digits, points and spaces.
func keysOf(text string) []input.Key {
	var all []input.Key
	for _, r := range text {
		all = append(all, input.Key(r))
	}
	return all
}

// beginFaces starts a test of the rotary in front and goes to its first rotor.
func beginFaces(t testing.TB, page *rod.Page) {
	t.Helper()
	press(t, page, 't')
	see(t, page, "h2", "Prepare and make safe")
	page.MustElementR("nav a", "Faces").MustClick()
	see(t, page, "[data-prompt]", "rotor 1, front")
}

// film types what a film of the needle shows, field after field.
func film(t testing.TB, page *rod.Page, figures ...string) {
	t.Helper()
	for _, f := range figures {
		press(t, page, append(keysOf(f), input.Enter)...)
	}
}

// A rotary is entered like any other engine, read through a film of the needle, by keyboard, and judged rotor by rotor.
func TestARotaryGoesFromItsFlickersToItsVerdict(t *testing.T) {
	t.Parallel()
	s := serve(t, freePort(t), "serve", "--data", t.TempDir())
	page := s.open(t, "/new-engine", 1280, 900)
	see(t, page, "h1", "New engine")
	page.MustElement("input").MustInput("Siskin")
	page.MustElement(`input[type=radio][value=rotary]`).MustEval("() => this.click()")
	see(t, page, "legend", "Rotors")
	page.MustElement(`input[placeholder^="200 1.12"]`).MustInput("200 1.1, 250 1, 300 0.94")
	press(t, page, input.Enter)
	see(t, page, "main", "Not tested yet")
	beginFaces(t, page)
	// The first field has the focus; Enter goes on from field to field. Five seconds stand in their field already.
	film(t, page, "110", "25", "100", "99", "101")
	see(t, page, "[data-prompt]", "rotor 2, rear")
	until(t, page, kept(3))

	// A peak below its own pulses, and a count that no starter turns: named at the fields, and nothing typed is lost.
	film(t, page, "90", "250", "100", "64", "98")
	see(t, page, "[data-fault]", "held peak: a pulse of 100 is above the held peak of 90")
	assert.Contains(t, text(page), "250 pulses in 5 s would be 3000 rpm")
	assert.Equal(t, "64", page.MustElement("input[name=face2]").MustProperty("value").Str())
	page.MustElement("input[name=held]").MustSelectAllText()
	press(t, page, keysOf("112")...)
	page.MustElement("input[name=pulses]").MustSelectAllText()
	press(t, page, keysOf("20")...)
	page.MustElement("[data-keep]").MustClick()
	see(t, page, "[data-prompt]", "All rotors read")
	see(t, page, `[data-says="2"]`, "Face 2 is 32 % below the highest of its rotor: an apex seal")
	see(t, page, "[data-sentence]", "Rotor 2")

	// The figures by another way: what a flicker lags is put back, and 20 pulses in 5 s are 240 a minute, between 200 and 250.
	var kept sheet.Sheet
	at := strings.Split(page.MustInfo().URL, "/") // …/engines/ENGINE/tests/TEST/faces
	s.get(t, "/api/engines/"+at[4]+"/sessions/"+at[6]+"/sheet", &kept)
	require.Len(t, kept.Rotors, 2)
	two := kept.Rotors[1]
	for i, want := range []float64{112, 76, 110} {
		assert.InDelta(t, want, two.Faces[i].Reading.Value, 1e-9)
		assert.InDelta(t, want*1.02, two.Faces[i].Nominal.Value, 0.51, "between 1.1 at 200 and 1 at 250")
	}
	assert.False(t, two.Estimated)
	assert.Equal(t, &log.Flicker{Pulse: 64, Highest: 100, Held: 112}, two.Faces[1].Pulls[0].Flicker)

	page.MustElementR("nav a", "Findings").MustClick()
	see(t, page, "main", "apex seal")
	assert.False(t, strings.Contains(text(page), "valve lash"), "a rotary has no valves")
	page.MustElementR("nav a", "Put back").MustClick()
	click(t, page, "button", "Finish")
	see(t, page, "main", "Rotor 2")
}
