package e2e

import (
	"fmt"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// In every step that takes a figure the field, the pad and Keep it are in view without scrolling, on a phone and on one that is
// set to twice the size, also where the engine has a long name; no step is wider than the screen.
func TestTheFigureAndKeepItAreInViewOnAnyPhone(t *testing.T) {
	t.Parallel()
	s := demo(t)
	s.post(t, "/api/entries", map[string]any{"entries": []map[string]any{
		{"id": "long-name-entry-1", "at": "2033-06-01T09:00:00Z", "engine": "curlew", "kind": "engine", "sure": true,
			"body": map[string]any{"name": "Curlew, the lake patrol’s spare engine on the second stand behind the long door"}},
		{"id": "long-name-entry-2", "at": "2033-06-01T09:00:01Z", "engine": "curlew", "kind": "test", "sure": true,
			"body": map[string]any{"id": "tonight", "date": "2033-06-01", "open": true}},
	}}, nil)
	for _, size := range [][2]int{{390, 844}, {195, 422}} {
		page := s.open(t, "/engines/curlew/tests/tonight/dry", size[0], size[1])
		for _, step := range []string{"prepare", "dry", "wet", "leak-down", "look", "findings", "put-back"} {
			require.NoError(t, page.Navigate(s.url+"/engines/curlew/tests/tonight/"+step))
			see(t, page, "[aria-current=step]", ".")
			wide, err := page.Eval(`() => document.documentElement.scrollWidth`)
			require.NoError(t, err)
			assert.LessOrEqual(t, wide.Value.Int(), size[0], "%s at %d", step, size[0])
			if step != "dry" && step != "wet" && step != "leak-down" {
				continue
			}
			see(t, page, "[data-keep]", ".")
			out, err := page.Eval(`() => [...document.querySelectorAll('[data-figure], [data-entry] .grid button, [data-keep]')]
				.filter(e => e.offsetParent).map(e => [e.innerText || e.ariaLabel, e.getBoundingClientRect()])
				.filter(([_, r]) => r.top < 0 || r.bottom > innerHeight || r.left < 0 || r.right > innerWidth)
				.map(([w, r]) => w + ' ' + Math.round(r.top) + '-' + Math.round(r.bottom)).join(', ')`)
			require.NoError(t, err)
			assert.Empty(t, out.Value.Str(), "%s at %d×%d", step, size[0], size[1])
		}
	}
}

// The gauge stood on 2 when 1 was asked for: the pull goes to where it was read, struck ones come back, and each is on record.
func TestAPullIsMovedToTheCylinderThatItWasOf(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/engines/heron", 1280, 800)
	see(t, page, "button", "Start a test")
	begin(t, page)
	k := &keyed{page: page}
	k.pull(t, 188)
	until(t, page, kept(1))
	click(t, page, "[data-cylinder='1'] button", "188")
	see(t, page, "[role=dialog]", "It was cylinder")
	click(t, page, "[data-move] button", "^2$")
	until(t, page, `() => document.querySelector("[data-cylinder='2'] button")?.innerText === '188' && !document.querySelector("[data-cylinder='1'] button")`)
	until(t, page, `() => !document.querySelector('[role=dialog]')`)
	click(t, page, "[data-cylinder='2'] button", "188")
	see(t, page, "[role=dialog]", "Strike 188")
	press(t, page, '5')
	see(t, page, "[data-cylinder='2'] s", "188")
	click(t, page, "[data-cylinder='2'] button", "188")
	see(t, page, "[role=dialog]", "is struck: mistyped")
	click(t, page, "[role=dialog] button", "Restore")
	until(t, page, `() => !document.querySelector('s')`)

	// The same of a leak-down.
	until(t, page, `() => !document.querySelector('[role=dialog]')`)
	press(t, page, input.PageDown, input.PageDown)
	see(t, page, "h2", "Bring 1 to TDC")
	press(t, page, '9', '5', 'l', input.Enter)
	click(t, page, "[data-cylinder='1'] button", "5.0")
	click(t, page, "[data-move] button", "^3$")
	see(t, page, "[data-cylinder='3'] button", "5.0")
	until(t, page, `() => !document.querySelector("[data-cylinder='1'] button")`)
}

// Places are off again when they are switched off, and a half-typed figure goes nowhere but into its own field.
func TestNothingPressedByMistakeBecomesAReading(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/engines/curlew", 1280, 800)
	see(t, page, "button", "Start a test")
	begin(t, page)
	press(t, page, '1', '5', '1', '0', input.ArrowLeft, input.ArrowDown, input.PageDown)
	until(t, page, `() => document.querySelector('[data-current]').innerText === '1' && document.querySelector('[data-figure]').value === '1510'`)
	press(t, page, input.Escape, input.PageDown, input.PageDown)
	see(t, page, "h2", "Bring 1 to TDC")
	press(t, page, 'e', 'e', 'l', 'l', '9', '5')
	see(t, page, "[data-preview]", "5.0 %")
	press(t, page, input.Enter)
	see(t, page, "[data-asking]", "If nowhere, say so")
	press(t, page, input.Backspace, input.Backspace, '6', ',', '5', 'u')
	until(t, page, `() => [...document.querySelectorAll('[data-figure]')].map(f => f.value).join() === '7,6,5'`)
	see(t, page, "[data-preview]", "7.1 %")
	until(t, page, `() => document.querySelector('[data-kept]').innerText.includes('0 readings')`)

	// A question mark is one in a note, and a letter in the beats is no strike.
	require.NoError(t, page.Navigate(s.url+"/engines/curlew"))
	see(t, page, "button", "Continue the test|Start a test")
	for _, word := range []string{"what?", "x t n"} {
		require.NoError(t, page.Navigate(s.url+"/"))
		see(t, page, "a", "New engine")
		field, err := page.Element("input[type=search]")
		require.NoError(t, err)
		require.NoError(t, field.Focus())
		for _, r := range word {
			press(t, page, input.Key(r))
		}
		until(t, page, fmt.Sprintf(`() => document.querySelector('input[type=search]').value === %q`, word))
	}
}
