package e2e

import (
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// view is one picture for the README: where, what must be on it, and what to do before it is taken.
type view struct {
	name, path, selector, shows string
	dark                        bool
	width, height               int
	prepare                     func(*testing.T, *shop, *rod.Page)
}

var views = []view{
	{name: "rack", path: "/", selector: "li", shows: "Bittern"},
	{name: "engine", path: "/engines/bittern", selector: "section", shows: "Compression against its baseline"},
	{name: "engine-dark", path: "/engines/heron", selector: "section", shows: "Compression against its baseline", dark: true},
	{name: "run-sheet", path: "/engines/heron", selector: "button", shows: "Start a test", prepare: beginHeron},
	{name: "sums", path: "/sums/leak", selector: "[data-answer]", shows: "like a hole of"},
	{name: "sums-cylinder", path: "/sums/piston-push", selector: "[data-answer]", shows: "end of the bar"},
	{name: "crank-wheel", path: "/engines/bittern/wheel", selector: "[data-say]", shows: "Bring 1", prepare: turnOnce},
	{name: "new-engine", path: "/engines/new", selector: "label", shows: "Bore, mm", prepare: chooseV8},
}

func beginHeron(t *testing.T, _ *shop, page *rod.Page) {
	begin(t, page)
	for _, v := range []int{188, 188, 186, 184} {
		press(t, page, append(digits(v), '\r')...)
		until(t, page, `() => document.querySelector('input[aria-label^=Reading]').value === ''`)
	}
	see(t, page, "[data-prompt]", "next: 3")
	press(t, page, digits(17)...)
}

func turnOnce(t *testing.T, _ *shop, page *rod.Page) {
	press(t, page, input.ArrowRight)
	see(t, page, "[data-say]", "Turn 90° clockwise to 8")
}

func chooseV8(t *testing.T, _ *shop, page *rod.Page) {
	require.NoError(t, see(t, page, "label", "^vee$").Click(proto.InputMouseButtonLeft, 1))
	require.NoError(t, see(t, page, "button", "^V8$").Click(proto.InputMouseButtonLeft, 1))
	require.NoError(t, page.MustElement("input").Input("Siskin"))
}

// TestShots takes the README's pictures; without -shots it looks that each view shows its main thing and fits its
// width, with nothing refused by the content policy.
func TestShots(t *testing.T) {
	for _, v := range views {
		t.Run(v.name, func(t *testing.T) {
			s := demo(t)
			if v.width == 0 {
				v.width, v.height = 1280, 800
			}
			page := s.open(t, "/", v.width, v.height)
			theme := "light"
			if v.dark {
				theme = "dark"
			}
			page.MustEval(`theme => localStorage.setItem('braxel.theme', theme)`, theme)
			complaints := []string{}
			go page.EachEvent(func(e *proto.LogEntryAdded) { complaints = append(complaints, e.Entry.Text) })()
			require.NoError(t, page.Navigate(s.url+v.path))
			see(t, page, v.selector, v.shows)
			if v.prepare != nil {
				v.prepare(t, s, page)
			}
			until(t, page, `() => document.fonts.status === 'loaded'`)
			until(t, page, `() => document.documentElement.scrollWidth <= innerWidth`)
			require.NoError(t, page.WaitStable(300*time.Millisecond))
			picture, err := page.Screenshot(false, nil)
			require.NoError(t, err)
			assert.Empty(t, complaints)
			if *shotDir != "" {
				require.NoError(t, os.WriteFile(filepath.Join(*shotDir, v.name+".png"), picture, 0o600))
			}
		})
	}
}
