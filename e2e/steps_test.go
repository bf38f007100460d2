package e2e

import (
	"os"
	"testing"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// axe asks axe-core of the page in front, and returns what is serious.
func axe(t *testing.T, page *rod.Page, script string) []string {
	t.Helper()
	_, err := page.Eval("() => {" + script + "; window.axe = window.axe || axe }")
	require.NoError(t, err)
	found, err := page.Eval(`async () => (await axe.run()).violations.filter(v => ['serious', 'critical'].includes(v.impact))
		.map(v => v.id + ': ' + v.nodes.map(n => n.html + ' ' + n.failureSummary).join(' | ').slice(0, 900))`)
	require.NoError(t, err)
	var all []string
	for _, one := range found.Value.Arr() {
		all = append(all, one.Str())
	}
	return all
}

// Every step of a sheet and the pages around it, on a phone, a small window and a laptop, by day and by night: accessible, no wider
// than the screen.
func TestEveryStepFitsEveryScreen(t *testing.T) {
	script, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(t, err)
	s := demo(t, "--lan")
	s.tell(t, map[string]any{"id": "tonight-1", "engine": "curlew", "kind": "test", "sure": true, "body": map[string]any{"id": "tonight", "date": "2033-06-01", "open": true}},
		map[string]any{"id": "tonight-2", "engine": "curlew", "kind": "pull", "body": map[string]any{"test": "tonight", "cylinder": 1, "mode": "dry", "value": 15, "unit": "psi"}})
	paths := []string{"/seat", "/devices", "/engines/curlew/old-tests", "/gauges", "/engines/curlew", "/engines/curlew/edit", "/protocols", "/", "/engines/plover",
		"/diary", "/compare?of=heron:s3&of=heron:r1", "/compare?of=osprey&of=kestrel", "/practice/"}
	for _, step := range []string{"prepare", "dry", "wet", "leak-down", "look", "findings", "put-back"} {
		paths = append(paths, "/engines/curlew/tests/tonight/"+step)
	}
	for _, width := range []int{390, 640, 1280} {
		for _, theme := range []string{"light", "dark"} {
			page := s.open(t, "/", width, 844)
			page.MustEval(`theme => localStorage.setItem('braxel.theme', theme)`, theme)
			for _, path := range paths {
				require.NoError(t, page.Navigate(s.url+path))
				see(t, page, "main", ".")
				until(t, page, `() => document.fonts.status === 'loaded'`)
				wide, err := page.Eval(`() => document.documentElement.scrollWidth`)
				require.NoError(t, err)
				assert.LessOrEqual(t, wide.Value.Int(), width, "%s at %d", path, width)
				assert.Empty(t, axe(t, page, string(script)), "%s at %d, %s", path, width, theme)
			}
		}
	}
}
