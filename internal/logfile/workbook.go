package logfile

import (
	"archive/zip"
	"bytes"
	"cmp"
	"errors"
	"io"
	"math"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/xuri/excelize/v2"

	"braxel/internal/core/say"
	"braxel/internal/core/table"
)

// Limits of a workbook, against those made to fill the machine: it may unpack to this many bytes, and a sheet may hold this many
// rows with something in them. Longer tables come in as CSV.
const (
	mostUnpacked     = 192 << 20
	mostSheetXML     = 48 << 20
	mostWorkbookRows = 20000
	mostSheets       = 200
)

// ReadSheets reads the sheets of a file: of a workbook (.xlsx, .ods) all of them, else the one that it is (CSV).
func ReadSheets(name string, text []byte) ([]table.Sheet, Saved, error) {
	switch {
	case bytes.HasPrefix(text, []byte("PK\x03\x04")):
		return readWorkbook(name, text)
	case bytes.HasPrefix(text, []byte("\xd0\xcf\x11\xe0")), bytes.HasPrefix(bytes.TrimSpace(text), []byte("<")):
		return nil, Saved{}, say.Error("logfile.old-workbook")
	}
	s, saved, err := ReadSheet(name, text)
	return []table.Sheet{s}, saved, err
}

func readWorkbook(name string, text []byte) ([]table.Sheet, Saved, error) {
	packed, err := zip.NewReader(bytes.NewReader(text), int64(len(text)))
	if err != nil {
		return nil, Saved{}, say.Error("logfile.not-a-workbook", "err", err)
	}
	unpacked := uint64(0)
	for _, f := range packed.File {
		unpacked += f.UncompressedSize64
		if unpacked > mostUnpacked || strings.HasSuffix(f.Name, ".xml") && f.UncompressedSize64 > mostSheetXML {
			return nil, Saved{}, say.Error("logfile.workbook-too-large", "most", mostSheetXML>>20)
		}
	}
	called := strings.TrimSuffix(filepath.Base(name), filepath.Ext(name))
	var sheets []table.Sheet
	kind := "xlsx"
	if content, err := packed.Open("content.xml"); err == nil {
		kind = "ods"
		sheets, err = readODS(io.LimitReader(content, mostUnpacked))
		_ = content.Close()
		if err != nil {
			return nil, Saved{}, err
		}
	} else if sheets, err = readXLSX(text); err != nil {
		return nil, Saved{}, err
	}
	sheets = slices.DeleteFunc(sheets, func(s table.Sheet) bool { return len(s.Rows) == 0 })
	if len(sheets) == 0 {
		return nil, Saved{}, say.Error("logfile.file-empty")
	}
	for i := range sheets {
		s := &sheets[i]
		s.N, s.Typed, s.Name = i, true, called
		if len(sheets) > 1 {
			s.Title = cmp.Or(s.Title, strconv.Itoa(i+1))
		} else if plainTitle.MatchString(s.Title) {
			s.Title = ""
		}
	}
	return sheets, Saved{Encoding: kind}, nil
}

// plainTitle is what spreadsheets call a sheet that nobody has named.
var plainTitle = regexp.MustCompile(`(?i)^(?:sheet|tabelle|feuil(?:le)?|foglio|hoja|planilha|folha|blad|taulukko|arkusz)\s?\d*$`)

func readXLSX(text []byte) (sheets []table.Sheet, err error) {
	defer func() {
		if p := recover(); p != nil { // a file that the library does not expect is the file's fault
			sheets, err = nil, say.Error("logfile.not-a-workbook", "err", p)
		}
	}()
	options := excelize.Options{RawCellValue: true, UnzipSizeLimit: mostUnpacked, UnzipXMLSizeLimit: mostSheetXML}
	f, err := excelize.OpenReader(bytes.NewReader(text), options)
	if err != nil {
		return nil, say.Error("logfile.not-a-workbook", "err", err)
	}
	defer func() { err = errors.Join(err, f.Close()) }()
	book := xlsx{File: f, styles: map[int]style{}}
	if props, err := f.GetWorkbookProps(); err == nil && props.Date1904 != nil {
		book.from1904 = *props.Date1904
	}
	names := f.GetSheetList()
	for _, name := range names[:min(len(names), mostSheets)] {
		s, err := book.sheet(name)
		if err != nil {
			return nil, err
		}
		sheets = append(sheets, s)
	}
	return sheets, nil
}

// xlsx is a workbook that is being read.
type xlsx struct {
	*excelize.File
	from1904 bool
	styles   map[int]style
}

// style is what of a cell's style says something about its figure.
type style struct{ date, percent, struck bool }

func emptySheet(title string) table.Sheet {
	return table.Sheet{
		Title: title, Remarks: map[table.CellAt]string{}, Worked: map[table.CellAt]string{}, HiddenRows: map[int]bool{}, HiddenColumns: map[int]bool{},
	}
}

func (b xlsx) sheet(name string) (table.Sheet, error) {
	s := emptySheet(name)
	seen, err := b.GetSheetVisible(name)
	if err != nil {
		return s, nil // a sheet of charts
	}
	rows, err := b.Rows(name)
	if err != nil {
		return s, nil
	}
	defer func() { _ = rows.Close() }()
	filled := 0
	for n := 1; rows.Next(); n++ {
		cells, err := rows.Columns(excelize.Options{RawCellValue: true})
		if err != nil {
			return s, say.Error("logfile.not-a-workbook", "err", err)
		}
		if len(cells) > mostColumns {
			return s, say.Error("logfile.row-has-columns-at-most", "n", n, "n2", len(cells), "mostColumns", mostColumns)
		}
		if len(cells) == 0 {
			continue
		}
		if filled++; filled > mostWorkbookRows {
			return s, say.Error("logfile.workbook-rows", "most", mostWorkbookRows)
		}
		for len(s.Rows) > 0 && s.Rows[len(s.Rows)-1].N < n-1 && n-len(s.Rows) < mostWorkbookRows {
			s.Rows = append(s.Rows, table.Row{N: s.Rows[len(s.Rows)-1].N + 1})
		}
		if opts := rows.GetRowOpts(); opts.Hidden || !seen {
			s.HiddenRows[n] = true
		}
		for i := range cells {
			cells[i] = b.cell(&s, name, n, i, cells[i])
		}
		s.Rows = append(s.Rows, table.Row{N: n, Cells: cells})
	}
	b.beside(&s, name)
	return s, rows.Error()
}

// cell writes a cell as plain text: a day as the log does, a percent with its sign, what is crossed out between tildes.
func (b xlsx) cell(s *table.Sheet, name string, row, column int, raw string) string {
	if raw == "" {
		return ""
	}
	at, err := excelize.CoordinatesToCellName(column+1, row)
	if err != nil {
		return raw
	}
	if formula, err := b.GetCellFormula(name, at); err == nil && formula != "" {
		s.Worked[table.CellAt{Row: row, Column: column}] = "=" + formula
	}
	is := b.styleOf(name, at)
	text := strings.TrimSpace(raw)
	if v, err := strconv.ParseFloat(raw, 64); err == nil && b.isNumber(name, at) {
		switch {
		case is.date && v >= 1:
			if day, err := excelize.ExcelDateToTime(v, b.from1904); err == nil {
				text = day.Format(time.DateOnly)
			}
		case is.percent:
			text = plainNumber(v*100) + "%"
		default:
			text = plainNumber(v)
		}
	}
	if is.struck {
		return "~~" + text + "~~"
	}
	if strings.ContainsAny(text, "0123456789") && strings.ContainsAny(text, " /") {
		return b.partlyStruck(name, at, text)
	}
	return text
}

// isNumber reports whether a cell holds a number, not a text that looks like one.
func (b xlsx) isNumber(name, at string) bool {
	kind, err := b.GetCellType(name, at)
	return err == nil && (kind == excelize.CellTypeUnset || kind == excelize.CellTypeNumber || kind == excelize.CellTypeFormula)
}

// plainNumber writes a number without the noise of binary fractions.
func plainNumber(v float64) string {
	const figures = 12
	if v == 0 || math.IsInf(v, 0) || math.IsNaN(v) {
		return "0"
	}
	rounded, _ := strconv.ParseFloat(strconv.FormatFloat(v, 'g', figures, 64), 64)
	return strconv.FormatFloat(rounded, 'f', -1, 64)
}

func (b xlsx) styleOf(name, at string) style {
	id, err := b.GetCellStyle(name, at)
	if err != nil || id == 0 {
		return style{}
	}
	if known, ok := b.styles[id]; ok {
		return known
	}
	var is style
	if s, err := b.GetStyle(id); err == nil {
		format := ""
		if s.CustomNumFmt != nil {
			format = *s.CustomNumFmt
		}
		is = style{date: isDateFormat(s.NumFmt, format), percent: s.NumFmt == 9 || s.NumFmt == 10 || strings.Contains(format, "%")}
		is.struck = s.Font != nil && s.Font.Strike
	}
	b.styles[id] = is
	return is
}

// beforeFormat are parts of a format that are no letters of it: text in quotes, colours, escapes.
var beforeFormat = regexp.MustCompile(`"[^"]*"|\[[^\]]*\]|\\.`)

// isDateFormat reports whether a number in a format is shown as a day. The numbered formats are those of ISO/IEC 29500-1, 18.8.30.
func isDateFormat(numbered int, format string) bool {
	if format != "" {
		f := strings.ToLower(beforeFormat.ReplaceAllString(format, ""))
		return strings.Contains(f, "y") || strings.Contains(f, "d") && strings.Contains(f, "m")
	}
	within := func(least, most int) bool { return numbered >= least && numbered <= most }
	return within(14, 17) || numbered == 22 || within(27, 31) || numbered == 36 || within(50, 58)
}

// partlyStruck writes what of a cell's text is crossed out between tildes.
func (b xlsx) partlyStruck(name, at, text string) string {
	runs, err := b.GetCellRichText(name, at)
	if err != nil || !slices.ContainsFunc(runs, func(r excelize.RichTextRun) bool { return r.Font != nil && r.Font.Strike }) {
		return text
	}
	var out strings.Builder
	for _, r := range runs {
		if r.Font != nil && r.Font.Strike {
			out.WriteString("~~" + strings.TrimSpace(r.Text) + "~~ ")
		} else {
			out.WriteString(r.Text)
		}
	}
	return strings.TrimSpace(out.String())
}

// beside takes in what stands beside the cells: remarks, hidden columns, cells that were made one.
func (b xlsx) beside(s *table.Sheet, name string) {
	if all, err := b.GetComments(name); err == nil {
		for _, c := range all {
			if column, row, err := excelize.CellNameToCoordinates(c.Cell); err == nil {
				s.Remarks[table.CellAt{Row: row, Column: column - 1}] = remarkOf(c.Author, c.Text)
			}
		}
	}
	widest := 0
	for _, r := range s.Rows {
		widest = max(widest, len(r.Cells))
	}
	for i := range widest {
		if column, err := excelize.ColumnNumberToName(i + 1); err == nil {
			if seen, err := b.GetColVisible(name, column); err == nil && !seen {
				s.HiddenColumns[i] = true
			}
		}
	}
	merged, err := b.GetMergeCells(name)
	if err != nil {
		return
	}
	for _, m := range merged {
		column, from, err1 := excelize.CellNameToCoordinates(m.GetStartAxis())
		_, to, err2 := excelize.CellNameToCoordinates(m.GetEndAxis())
		if err1 == nil && err2 == nil {
			fillDown(s, column-1, from, to)
		}
	}
}

// remarkOf is a comment without the name that spreadsheets put in front of it.
func remarkOf(author, text string) string {
	const most = 300
	text = strings.TrimSpace(strings.TrimPrefix(strings.TrimSpace(text), author+":"))
	return text[:min(len(text), most)]
}

// fillDown writes what stands in one cell over several rows into each: a day, a cylinder.
func fillDown(s *table.Sheet, column, from, to int) {
	value := ""
	for i := range s.Rows {
		r := &s.Rows[i]
		switch {
		case r.N == from && column < len(r.Cells):
			value = r.Cells[column]
		case r.N > from && r.N <= to && value != "":
			for len(r.Cells) <= column {
				r.Cells = append(r.Cells, "")
			}
			r.Cells[column] = value
		}
	}
}
