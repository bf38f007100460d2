package e2e

import (
	"fmt"
	"os"
	"sync"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What axe-core is asked: everything, or only what a theme changes, which is contrast.
const (
	everything = `undefined`
	contrast   = `{ runOnly: ['color-contrast'] }`
)

// axeScript is axe-core itself.
var axeScript = sync.OnceValues(func() (string, error) {
	text, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	return string(text), err
})

// axe asks axe-core of the page in front, and returns what is serious.
func axe(t *testing.T, page *rod.Page, asked string) []string {
	t.Helper()
	script, err := axeScript()
	require.NoError(t, err)
	_, err = page.Eval("() => { if (!window.axe) { " + script + "; window.axe = axe } }")
	require.NoError(t, err)
	found, err := page.Eval(`async () => (await axe.run(document, ` + asked + `)).violations.filter(v => ['serious', 'critical'].includes(v.impact))
		.map(v => v.id + ': ' + v.nodes.map(n => n.html + ' ' + n.failureSummary).join(' | ').slice(0, 900))`)
	require.NoError(t, err)
	var all []string
	for _, one := range found.Value.Arr() {
		all = append(all, one.Str())
	}
	return all
}

// byTheme shows the page in front by day or by night.
func byTheme(t *testing.T, page *rod.Page, theme string) {
	t.Helper()
	page.MustEval(`theme => { document.documentElement.dataset.theme = theme }`, theme)
	until(t, page, `() => document.getAnimations().every(a => a.effect?.getTiming().iterations === Infinity)`)
}

// Every step of a sheet and the pages around it, on a phone, a small window and a laptop, by day and by night: accessible, no wider
// than the screen.
func TestEveryStepFitsEveryScreen(t *testing.T) {
	t.Parallel()
	s := demo(t, "--lan")
	s.tell(t, map[string]any{"id": "tonight-1", "engine": "curlew", "kind": "test", "sure": true, "body": map[string]any{"id": "tonight", "date": "2033-06-01", "open": true}},
		map[string]any{"id": "tonight-2", "engine": "curlew", "kind": "pull", "body": map[string]any{"test": "tonight", "cylinder": 1, "mode": "dry", "value": 15, "unit": "psi"}})
	paths := []string{"/seat", "/units", "/devices", "/engines/curlew/old-tests", "/gauges", "/engines/curlew", "/engines/curlew/edit", "/protocols", "/", "/engines/plover",
		"/import", "/compare", "/record", "/help", "/new-engine", "/sums/leak", "/rules", "/shop",
		"/copies", "/engines/bittern/papers", "/outbox",
		"/diary", "/compare?of=heron:s3&of=heron:r1", "/compare?of=osprey&of=kestrel", "/practice/"}
	for _, step := range []string{"prepare", "dry", "wet", "leak-down", "look", "findings", "put-back"} {
		paths = append(paths, "/engines/curlew/tests/tonight/"+step)
	}
	for _, path := range paths {
		t.Run(path, func(t *testing.T) {
			t.Parallel()
			page := s.open(t, path, 390, 844)
			see(t, page, "main", ".")
			until(t, page, `() => document.fonts.status === 'loaded'`)
			for i, width := range []int{390, 640, 1280} {
				require.NoError(t, page.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: width, Height: 844, DeviceScaleFactor: 1}))
				until(t, page, fmt.Sprintf(`() => innerWidth === %d`, width))
				wide, err := page.Eval(`() => document.documentElement.scrollWidth`)
				require.NoError(t, err)
				assert.LessOrEqual(t, wide.Value.Int(), width, "at %d", width)
				// What a page has is the same by night; what is shown of it at a width may have another contrast.
				byTheme(t, page, "light")
				asked := everything
				if i == 1 {
					asked = contrast
				}
				assert.Empty(t, axe(t, page, asked), "at %d, by day", width)
				byTheme(t, page, "dark")
				assert.Empty(t, axe(t, page, contrast), "at %d, by night", width)
			}
		})
	}
}
