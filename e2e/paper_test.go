package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/server"
)

// paste pastes text into the field that has the focus, as a spreadsheet would give it.
func paste(t *testing.T, page *rod.Page, text string) {
	t.Helper()
	_, err := page.Eval(`text => {
		const data = new DataTransfer()
		data.setData('text/plain', text)
		document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
	}`, text)
	require.NoError(t, err)
}

// twenty are the tests of an eight as a spreadsheet holds them: 3 falls slowly, one cell is mistyped.
func twenty() string {
	lines := []string{"Date\tHours\tHot/cold\t1\t2\t3\t4\t5\t6\t7\t8\tRemarks"}
	for n := range 20 {
		line := fmt.Sprintf("%d.%d.20%02d\t%d\thot", 1+n%28, 1+n%12, 4+n, 10*n)
		for c := 1; c <= 8; c++ {
			psi := 170 + c%3
			if c == 3 {
				psi -= n * 2
			}
			line += fmt.Sprintf("\t%d/%d", psi, psi+1)
		}
		lines = append(lines, line+fmt.Sprintf("\ttest %d", n+1))
	}
	lines[7] = strings.Replace(lines[7], "171/172", "17l/172", 1)
	return strings.Join(lines, "\n")
}

func TestTwentyOldTestsArePastedAndACellIsMended(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	s.siskin(t, v8)
	page := s.open(t, "/engines/siskin", 1280, 800)
	click(t, page, "a", "Type in old tests")
	see(t, page, "h1", "old tests")
	until(t, page, `() => document.activeElement?.dataset.at === '0 0'`)
	paste(t, page, twenty())
	see(t, page, "[data-faults] li", `Row 7, 1.*“17l” is not a reading`)
	see(t, page, "button", "Save 19 tests")

	// What is typed outlives the page.
	require.NoError(t, page.Reload())
	click(t, page, "[data-faults] button", "Row 7, 1")
	until(t, page, `() => document.activeElement?.value === '17l/172'`)
	press(t, page, append(digits(171), '/', '1', '7', '2', input.Enter)...)
	until(t, page, `() => document.activeElement?.dataset.at.startsWith('7 ')`)
	until(t, page, `() => !document.querySelector('[data-faults]')`)
	click(t, page, "button", "Save 20 tests")
	see(t, page, "[data-word]", "20 tests saved")
	var engine server.EnginePage
	s.get(t, "/api/engines/siskin", &engine)
	require.Len(t, engine.Tests, 20)
	assert.Equal(t, "2004-01-01", engine.Tests[0].Date)
	assert.Contains(t, engine.Sentence, "Cylinder 3")
	for _, line := range engine.Tests {
		assert.False(t, line.Open)
	}

	// One cell of the last was written down wrongly: it is typed over, struck and read anew.
	until(t, page, `() => document.querySelectorAll('[data-row]').length === 21`)
	_, err := page.Eval(`() => document.querySelector('[data-at="19 8"]').focus()`)
	require.NoError(t, err)
	press(t, page, append(digits(160), input.Enter)...)
	click(t, page, "button", "Save this test")
	see(t, page, "[data-word]", "One test saved")
	got := s.sheet(t, "siskin")
	for _, cell := range got.Cells {
		if cell.Cylinder == 5 {
			require.Len(t, cell.Pulls, 3)
			assert.True(t, cell.Pulls[0].Struck != "" && cell.Pulls[1].Struck != "" && cell.Pulls[2].Struck == "")
			assert.InDelta(t, 160, cell.Pulls[2].Value, 0)
		} else {
			assert.Len(t, cell.Pulls, 2)
		}
	}
}

// By keys alone, as in a spreadsheet: right by Tab, down by Enter, a date that is to come is asked about.
func TestAnOldTestIsTypedByKeysAlone(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	s.siskin(t, v6)
	page := s.open(t, "/engines/siskin/old-tests", 1280, 800)
	until(t, page, `() => document.activeElement?.dataset.at === '0 0'`)
	typed := func(words string) {
		for _, r := range words {
			press(t, page, input.Key(r))
		}
	}
	for _, cell := range []string{"2.4.2190", "12,5", "h", "", "", "", "171", "170", "140", "172", "171", "170", "by hand"} {
		typed(cell)
		press(t, page, input.Tab)
	}
	until(t, page, `() => document.activeElement?.dataset.at === '1 0'`)
	see(t, page, "[data-row]", "watch|act")
	press(t, page, input.ArrowUp)
	until(t, page, `() => document.activeElement?.dataset.at === '0 0'`)
	see(t, page, "[data-said]", "Cylinder 5")
	click(t, page, "button", "Save this test")
	see(t, page, "[data-asked]", "2190-04-02 is in the future")
	press(t, page, input.Enter) // no, mend it
	see(t, page, "[role=region]", ".")
	until(t, page, `() => !document.querySelector('[data-asked]')`)
	var engine server.EnginePage
	s.get(t, "/api/engines/siskin", &engine)
	assert.Empty(t, engine.Tests)
	_, err := page.Eval(`() => document.querySelector('[data-at="0 0"]').focus()`)
	require.NoError(t, err)
	typed("2.4.2019")
	press(t, page, input.Enter)
	see(t, page, "[data-row]", "watch|act")
	click(t, page, "button", "Save this test")
	see(t, page, "[data-word]", "One test saved")
	s.get(t, "/api/engines/siskin", &engine)
	require.Len(t, engine.Tests, 1)
	assert.Equal(t, "by hand", engine.Tests[0].Note)
}
