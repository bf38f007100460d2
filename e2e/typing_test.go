package e2e

import (
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Somebody else's news must not take away what is being typed into the head of a test.
func TestNewsLeaveAFieldThatIsBeingTypedAlone(t *testing.T) {
	t.Parallel()
	s := serve(t, freePort(t), "serve", "--data", t.TempDir())
	s.siskin(t, v8)
	s.tell(t, map[string]any{"id": "begun-s1", "kind": "test", "body": map[string]any{"id": "s1", "date": "2026-01-02", "open": true}})
	page := s.open(t, "/engines/siskin/tests/s1/prepare", 1280, 900)
	ticked := func() int {
		return page.MustEval("() => document.querySelectorAll('main li input:checked').length").Int()
	}
	see(t, page, "h2", "Prepare")
	for field, line := range map[string]string{"Note": "clear", "Tested by": "starter", "Battery at the start": "gauge"} {
		label := page.MustElementR("label", "^"+field)
		page.MustElement("#" + *label.MustAttribute("for")).MustFocus()
		press(t, page, keysOf("12.")...)
		// A tick of another device comes in, and the sheet with it.
		before := ticked()
		s.tell(t, map[string]any{"id": "tick-" + line, "kind": "tick", "body": map[string]any{"test": "s1", "line": line, "done": true}})
		require.Eventually(t, func() bool { return ticked() > before }, 30*time.Second, 50*time.Millisecond)
		assert.Equal(t, "12.", page.MustEval("() => document.activeElement.value").Str(), field)
		press(t, page, keysOf("5")...)
		press(t, page, input.Tab)
	}
	require.Eventually(t, func() bool {
		head := s.sheet(t, "siskin").Session
		return head.Note == "12.5" && head.Operator == "12.5" && head.Conditions.BatteryV == 12.5
	}, 30*time.Second, 100*time.Millisecond)
}
