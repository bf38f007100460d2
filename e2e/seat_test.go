package e2e

import (
	"fmt"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The one at the gauge starts the crank by Space; the helper's screen, another browser's, follows it word by word through a whole
// six, and stops by itself at the time of the first pull.
func TestTheSeatFollowsTheSheetThroughASix(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	s.siskin(t, v6)
	s.tell(t, map[string]any{"id": "tonight-1", "kind": "test", "body": map[string]any{
		"id": "tonight", "date": "2026-01-01", "open": true,
		"conditions": map[string]any{"cranking": map[string]any{"rule": "time", "seconds": 6}, "throttle": "open", "battery_v": 12.7}}})
	seat := s.open(t, "/seat", 390, 844)
	see(t, seat, "p", "Open an engine's run sheet")
	sheet := s.open(t, "/engines/siskin/tests/tonight/dry", 1280, 800)
	see(t, sheet, "[data-prompt]", "Next: 1")
	word := func(do, line string) {
		t.Helper()
		see(t, seat, fmt.Sprintf("[data-do=%s] [data-line]", do), line)
	}
	word("wait", "Next: cylinder 1")
	n := 0
	k := &keyed{page: sheet}
	for _, c := range []int{1, 3, 5, 2, 4, 6} {
		for range 2 {
			until(t, sheet, fmt.Sprintf(`() => document.querySelector('[data-current]').innerText === '%d'`, c))
			press(t, sheet, ' ')
			word("crank", "of 6 seconds · pedal to the floor")
			if n > 0 { // stopped by hand, before its time
				see(t, sheet, "[data-crank] button", `STOP (0\.[1-9]|[1-5]\.)`)
				press(t, sheet, ' ')
			}
			word("stop", "Let go")
			see(t, sheet, "[data-crank]", "saved with it")
			k.pull(t, 170+c)
			n++
			until(t, sheet, kept(n))
			if n < 12 {
				word("wait", fmt.Sprintf("%d saved", 170+c))
			}
		}
	}
	word("done", "All cylinders are read")
	for _, cell := range s.sheet(t, "siskin").Cells {
		require.Len(t, cell.Pulls, 2)
		for pull, p := range cell.Pulls {
			if cell.Cylinder == 1 && pull == 0 {
				assert.InDelta(t, 6, p.Seconds, 0, "ran its time")
				continue
			}
			assert.Less(t, p.Seconds, 6.0)
			assert.Positive(t, p.Seconds)
		}
	}

	press(t, sheet, input.PageDown, input.PageDown)
	see(t, sheet, "[data-prompt]", "Bring 1 to TDC")
	word("turn", "Bring 1 to TDC")
	press(t, sheet, ' ')
	word("hold", "hold the crank")
	press(t, sheet, '9', '6', 'c')
	see(t, sheet, "[data-preview]", "4.0 %")
	press(t, sheet, input.Enter)
	word("turn", "Turn 120° clockwise to 2")
	until(t, seat, `() => document.querySelector('svg[role=img]')?.textContent === '120°'`)
	press(t, sheet, '9')
	word("hold", "hold the crank")
	press(t, sheet, input.Escape, input.Escape)
	see(t, sheet, "header p", ".")
	word("wait", "Nothing to crank or turn")
}

// A seat that hears nothing more of the sheet does not let anybody crank on.
func TestASeatThatLosesTheSheetSaysStop(t *testing.T) {
	t.Parallel()
	port := freePort(t)
	s := serve(t, port, "serve", "--data", t.TempDir())
	s.siskin(t, v6)
	s.tell(t, map[string]any{"id": "tonight-1", "kind": "test", "body": map[string]any{"id": "tonight", "date": "2026-01-01", "open": true}})
	seat := s.open(t, "/seat/siskin", 844, 390)
	sheet := s.open(t, "/engines/siskin/tests/tonight/dry", 1280, 800)
	see(t, sheet, "[data-prompt]", "Next: 1")
	press(t, sheet, ' ')
	see(t, seat, "[data-do=crank] [data-word]", "CRANK")
	s.kill(t)
	see(t, seat, "[data-do=stop] [data-line]", "Nothing from the sheet")
}
