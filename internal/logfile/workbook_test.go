package logfile_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"braxel/internal/core/table"
	"braxel/internal/logfile"
)

// made writes a workbook by hand, as a spreadsheet would.
func made(t *testing.T, fill func(f *excelize.File)) []byte {
	f := excelize.NewFile()
	fill(f)
	out, err := f.WriteToBuffer()
	require.NoError(t, err)
	require.NoError(t, f.Close())
	return out.Bytes()
}

func set(t *testing.T, f *excelize.File, sheet string, rows ...[]any) {
	for i, row := range rows {
		at, err := excelize.CoordinatesToCellName(1, i+1)
		require.NoError(t, err)
		require.NoError(t, f.SetSheetRow(sheet, at, &row))
	}
}

func style(t *testing.T, f *excelize.File, sheet, from, to string, s excelize.Style) {
	id, err := f.NewStyle(&s)
	require.NoError(t, err)
	require.NoError(t, f.SetCellStyle(sheet, from, to, id))
}

// A day, a percent and a crossed-out figure are in a workbook what they look like, whatever number is stored.
func TestAWorkbooksCellsAreReadAsTheyLook(t *testing.T) {
	text := made(t, func(f *excelize.File) {
		set(t, f, "Sheet1", []any{"Plover 1.6"}, []any{"Date", "Cylinder", "Dry psi", "Leak", "Spread"},
			[]any{47969, 1, 171, 0.05, nil}, []any{47969, 2, 168.5, 0.12, nil}, []any{48131, 1, 170, 0.055, nil}, []any{48131, 2, 99, 0.08, nil})
		format := "dd/mm/yyyy"
		style(t, f, "Sheet1", "A3", "A6", excelize.Style{CustomNumFmt: &format})
		style(t, f, "Sheet1", "D3", "D6", excelize.Style{NumFmt: 9})
		style(t, f, "Sheet1", "C6", "C6", excelize.Style{Font: &excelize.Font{Strike: true}})
		require.NoError(t, f.SetCellFormula("Sheet1", "E3", "C3-C4"))
		require.NoError(t, f.AddComment("Sheet1", excelize.Comment{Cell: "C4", Author: "Jo", Text: "after a long crank"}))
	})
	sheets, saved, err := logfile.ReadSheets("plover.xlsx", text)
	require.NoError(t, err)
	assert.Equal(t, "xlsx", saved.Encoding)
	got := table.Read(sheets, table.Picks{})
	require.Len(t, got.Logs, 1)
	require.Nil(t, got.Must(), "%+v", got.Asked)
	assert.Equal(t, "Plover 1.6", got.Logs[0].Engine.Name)
	assert.Equal(t, []string{
		"2031-05-01 dry 1: 171 psi", "2031-05-01 dry 2: 168.5 psi", "2031-05-01 leak 1: 5.0", "2031-05-01 leak 2: 12.0",
		"2031-10-10 dry 1: 170 psi", "2031-10-10 dry 2: 99 psi struck", "2031-10-10 leak 1: 5.5", "2031-10-10 leak 2: 8.0",
	}, said(got.Logs[0]))
	assert.Equal(t, "after a long crank", got.Logs[0].Sessions[0].Compression[1].Pulls[0].Note)
}

// Some spreadsheets count days from 1904: the same number is then another day.
func TestDaysAreCountedFrom1904WhereTheWorkbookSaysSo(t *testing.T) {
	for from1904, want := range map[bool]string{false: "2031-05-01", true: "2035-05-02"} {
		text := made(t, func(f *excelize.File) {
			set(t, f, "Sheet1", []any{"Date", "psi 1", "psi 2"}, []any{47969, 171, 168})
			style(t, f, "Sheet1", "A2", "A2", excelize.Style{NumFmt: 14})
			require.NoError(t, f.SetWorkbookProps(&excelize.WorkbookPropsOptions{Date1904: &from1904}))
		})
		sheets, _, err := logfile.ReadSheets("days.xlsx", text)
		require.NoError(t, err)
		assert.Equal(t, want, sheets[0].Rows[1].Cells[0], "from 1904: %v", from1904)
	}
}

// Sheets of one workbook are one notebook: one of dry, one of leaks and one of another engine come to two engines.
func TestTheSheetsOfAWorkbookAreReadTogether(t *testing.T) {
	text := made(t, func(f *excelize.File) {
		for _, name := range []string{"Compression", "Leak-down", "Notes", "Tern"} {
			_, err := f.NewSheet(name)
			require.NoError(t, err)
		}
		set(t, f, "Compression", []any{"Plover 1.6, psi"}, []any{"Date", 1, 2}, []any{"3/4/2031", 171, 168}, []any{"25/6/2031", 170, 167})
		set(t, f, "Leak-down", []any{"plover 1.6"}, []any{"Date", 1, 2}, []any{"3/4/2031", "5%", "6%"})
		set(t, f, "Notes", []any{"bought a new gauge"})
		set(t, f, "Tern", []any{"Date", "Cyl 1 bar", "Cyl 2 bar"}, []any{"3/4/2031", 11.2, 11.4})
	})
	sheets, _, err := logfile.ReadSheets("shop.xlsx", text)
	require.NoError(t, err)
	got := table.Read(sheets, table.Picks{})
	require.Nil(t, got.Must(), "the other sheet says that days come first: %+v", got.Asked)
	require.Len(t, got.Logs, 2)
	assert.Equal(t, []string{
		"2031-04-03 dry 1: 171 psi", "2031-04-03 dry 2: 168 psi", "2031-04-03 leak 1: 5.0", "2031-04-03 leak 2: 6.0",
		"2031-06-25 dry 1: 170 psi", "2031-06-25 dry 2: 167 psi",
	}, said(got.Logs[0]))
	assert.Len(t, got.Logs[0].Sessions, 2, "dry and leaks of one day are one test")
	assert.Equal(t, "Tern", got.Logs[1].Engine.Name)
}

func TestHiddenRowsAreAskedAbout(t *testing.T) {
	text := made(t, func(f *excelize.File) {
		set(t, f, "Sheet1", []any{"Plover, psi"}, []any{"Date", 1, 2}, []any{"2031-05-01", 171, 168}, []any{"2031-06-01", 99, 98})
		require.NoError(t, f.SetRowVisible("Sheet1", 4, false))
	})
	sheets, _, err := logfile.ReadSheets("hidden.xlsx", text)
	require.NoError(t, err)
	got := table.Read(sheets, table.Picks{})
	require.NotNil(t, got.Must())
	assert.Equal(t, table.AskHidden, got.Must().What)
	assert.Len(t, table.Read(sheets, table.Picks{Hidden: table.TakeHidden}).Logs[0].Sessions, 2)
	assert.Len(t, table.Read(sheets, table.Picks{Hidden: table.LeaveHidden}).Logs[0].Sessions, 1)
}

// content is a table as an office program of the other family writes it.
const content = `<?xml version="1.0"?><office:document-content xmlns:office="o" xmlns:table="t" xmlns:text="x" xmlns:dc="d"><office:body><office:spreadsheet>
<table:table table:name="Plover 1.6"><table:table-column table:number-columns-repeated="3"/>
<table:table-row><table:table-cell office:value-type="string"><text:p>Date</text:p></table:table-cell><table:table-cell office:value-type="string"><text:p>Cyl 1 psi</text:p></table:table-cell><table:table-cell office:value-type="string"><text:p>Cyl 2 psi</text:p></table:table-cell><table:table-cell table:number-columns-repeated="1020"/></table:table-row>
<table:table-row><table:table-cell office:value-type="date" office:date-value="2031-05-01"><text:p>01/05/31</text:p></table:table-cell><table:table-cell office:value-type="float" office:value="171"><office:annotation><dc:creator>Jo</dc:creator><text:p>hot</text:p></office:annotation><text:p>171,0</text:p></table:table-cell><table:table-cell office:value-type="float" office:value="168.5"><text:p>168,5</text:p></table:table-cell></table:table-row>
<table:table-row table:visibility="collapse"><table:table-cell office:value-type="date" office:date-value="2031-06-01"><text:p>01/06/31</text:p></table:table-cell><table:table-cell table:number-columns-repeated="2" office:value-type="float" office:value="160"><text:p>160</text:p></table:table-cell></table:table-row>
<table:table-row table:number-rows-repeated="1048570"><table:table-cell table:number-columns-repeated="1024"/></table:table-row>
</table:table></office:spreadsheet></office:body></office:document-content>`

func TestAnOpenDocumentIsReadToo(t *testing.T) {
	var b bytes.Buffer
	packed := zip.NewWriter(&b)
	w, err := packed.Create("content.xml")
	require.NoError(t, err)
	_, err = w.Write([]byte(content))
	require.NoError(t, err)
	require.NoError(t, packed.Close())
	sheets, saved, err := logfile.ReadSheets("plover.ods", b.Bytes())
	require.NoError(t, err)
	assert.Equal(t, "ods", saved.Encoding)
	require.Len(t, sheets[0].Rows, 3, "a million empty rows are none")
	got := table.Read(sheets, table.Picks{Hidden: table.TakeHidden})
	require.Len(t, got.Logs, 1)
	assert.Equal(t, "hot", got.Logs[0].Sessions[0].Compression[0].Pulls[0].Note)
	assert.Equal(t, []string{"2031-05-01 dry 1: 171 psi", "2031-05-01 dry 2: 168.5 psi", "2031-06-01 dry 1: 160 psi", "2031-06-01 dry 2: 160 psi"}, said(got.Logs[0]))
}

// A file made to fill the machine is refused before it is unpacked, and one of an old kind with a word on what to do.
func TestWorkbooksHaveLimits(t *testing.T) {
	var b bytes.Buffer
	packed := zip.NewWriter(&b)
	w, err := packed.Create("xl/worksheets/sheet1.xml")
	require.NoError(t, err)
	for range 60 {
		_, err = w.Write(bytes.Repeat([]byte(" "), 1<<20))
		require.NoError(t, err)
	}
	require.NoError(t, packed.Close())
	began := time.Now()
	_, _, err = logfile.ReadSheets("bomb.xlsx", b.Bytes())
	require.ErrorContains(t, err, "larger than")
	assert.Less(t, time.Since(began), time.Minute)
	for _, text := range []string{"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1", "<html><table></table></html>"} {
		_, _, err = logfile.ReadSheets("old.xls", []byte(text))
		require.ErrorContains(t, err, ".xlsx")
	}
	long := made(t, func(f *excelize.File) {
		out, err := f.NewStreamWriter("Sheet1")
		require.NoError(t, err)
		for i := range 20001 {
			require.NoError(t, out.SetRow(fmt.Sprintf("A%d", i+1), []any{1}))
		}
		require.NoError(t, out.Flush())
	})
	_, _, err = logfile.ReadSheets("long.xlsx", long)
	require.ErrorContains(t, err, "rows")
}

// FuzzWorkbook looks for a workbook, or a text from the clipboard, that stops the reader.
func FuzzWorkbook(f *testing.F) {
	book := excelize.NewFile()
	_ = book.SetCellValue("Sheet1", "A1", "Date")
	_ = book.SetCellValue("Sheet1", "B1", "Cyl 1")
	_ = book.SetCellValue("Sheet1", "A2", "2031-05-01")
	_ = book.SetCellValue("Sheet1", "B2", 151)
	out, err := book.WriteToBuffer()
	require.NoError(f, err)
	f.Add(out.Bytes())
	f.Add([]byte("Date\tCyl 1\tCyl 2\r\n2031-05-01\t151\t150\r\n"))
	f.Add([]byte("\"a\nb\"\tc\r\n"))
	f.Fuzz(func(t *testing.T, text []byte) {
		sheets, _, err := logfile.ReadSheets("fuzzed", text)
		if err != nil {
			return
		}
		for _, l := range table.Read(sheets, table.Picks{Date: "2033-01-01"}).Logs {
			if strings.TrimSpace(l.Engine.Name) == "" {
				t.Fatal("an engine without a name")
			}
		}
	})
}
