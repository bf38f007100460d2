package e2e

import (
	"fmt"
	"path/filepath"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"braxel/internal/server"
)

// workbook writes a workbook of three sheets: one of two that leave the order of days open, one of leaks, one with a column that no
// dictionary has and a letter among its figures.
func workbook(t *testing.T) string {
	t.Helper()
	f := excelize.NewFile()
	for _, sheet := range []struct {
		name string
		rows [][]any
	}{
		{"Compression", [][]any{{"Teal 1600, bar"}, {"Date", "Cyl 1", "Cyl 2", "Cyl 3"}, {"3/4/2031", 12.4, 12.5, 12.3}, {"5/6/2031", 12.3, 12.4, 10.1}}},
		{"Leak-down", [][]any{{"teal 1600"}, {"Date", "Cyl 1", "Cyl 2", "Cyl 3"}, {"3/4/2031", 0.05, 0.06, 0.04}}},
		{"Tern twin", [][]any{{"Tern twin, psi"}, {"Date", "Cyl 1", "Cyl 2", "Zorp"}, {"7/8/2031", 151, "l49", 12}}},
	} {
		name, rows := sheet.name, sheet.rows
		_, err := f.NewSheet(name)
		require.NoError(t, err)
		for i, row := range rows {
			require.NoError(t, f.SetSheetRow(name, fmt.Sprintf("A%d", i+1), &row))
		}
	}
	percent, err := f.NewStyle(&excelize.Style{NumFmt: 9})
	require.NoError(t, err)
	require.NoError(t, f.SetCellStyle("Leak-down", "B3", "D3", percent))
	require.NoError(t, f.DeleteSheet("Sheet1"))
	file := filepath.Join(t.TempDir(), "workshop.xlsx")
	require.NoError(t, f.SaveAs(file))
	require.NoError(t, f.Close())
	return file
}

func chooseFile(t *testing.T, page *rod.Page, file string) {
	t.Helper()
	field, err := page.Element("input[type=file]")
	require.NoError(t, err)
	require.NoError(t, field.SetFiles([]string{file}))
}

// A workbook comes in: a question is answered, a column corrected, a refused cell put right where it stands. The correction is
// remembered, shown, and forgotten when somebody says so.
func TestAWorkbookComesInOnTheScreen(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	page := s.open(t, "/import", 1280, 800)
	file := workbook(t)
	chooseFile(t, page, file)
	see(t, page, "[data-sentence]", "tests of Teal 1600, Tern twin")
	see(t, page, "[data-question=dates]", "which comes first, day or month")
	see(t, page, "[data-question=dates] li", "3 Apr 2031") // what either answer comes to
	click(t, page, "[data-choice=dmy]", "day first")
	see(t, page, "[data-refused]", "Tern twin, Row 3, Cyl 2: “l49” is not a number")
	row, err := page.ElementR("[data-refused]", "l49")
	require.NoError(t, err)
	mend, err := row.Element("[data-mend]")
	require.NoError(t, err)
	require.NoError(t, mend.SelectAllText())
	require.NoError(t, mend.Input("149"))
	require.NoError(t, mend.Blur())
	see(t, page, "[data-test]", "2: 149 psi")
	column, err := page.Element(`[data-sheet="2"] select[aria-label="What “Zorp” is"]`)
	require.NoError(t, err)
	require.NoError(t, column.Select([]string{"meter"}, true, rod.SelectorTypeText))
	see(t, page, "[data-take]", "Import 3 tests")
	click(t, page, "[data-take]", "Import 3 tests")
	see(t, page, "[data-sentence]", "Tern twin: a new engine, one test imported")
	var rack server.Rack
	s.get(t, "/api/rack", &rack)
	assert.Len(t, rack.Engines, 2, "the leaks are of the engine whose name is written otherwise")

	again := s.open(t, "/import", 390, 844)
	see(t, again, "[data-corrected]", "Sheets headed: Date · Cyl 1 · Cyl 2 · Zorp")
	chooseFile(t, again, file)
	see(t, again, "[data-learned]", "Read as you corrected sheets with these headings before")
	click(t, again, "[data-learned] button", "Forget that")
	require.Eventually(t, func() bool {
		var left []any
		s.get(t, "/api/import/corrected", &left)
		return len(left) == 0
	}, time.Minute, 200*time.Millisecond)
}

// Cells that were copied in a spreadsheet come in where they are pasted.
func TestCellsFromTheClipboardComeIn(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	page := s.open(t, "/import", 1280, 800)
	see(t, page, "h1", "Import")
	page.MustEval(`() => {
		const data = new DataTransfer()
		data.setData('text/plain', 'Date\tCyl 1 psi\tCyl 2 psi\r\n2031-05-01\t151\t150\r\n')
		document.body.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
	}`)
	see(t, page, "[data-test]", "1: 151 psi")
}
