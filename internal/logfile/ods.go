package logfile

import (
	"encoding/xml"
	"errors"
	"io"
	"strconv"
	"strings"

	"braxel/internal/core/say"
	"braxel/internal/core/table"
)

// readODS reads content.xml of an OpenDocument spreadsheet (OASIS OpenDocument 1.3, part 3, 9.1): its tables, row by row, since no
// library for it is kept up.
func readODS(in io.Reader) ([]table.Sheet, error) {
	r := ods{Decoder: xml.NewDecoder(in)}
	for {
		token, err := r.Token()
		if errors.Is(err, io.EOF) {
			return r.sheets, nil
		}
		if err != nil {
			return nil, say.Error("logfile.not-a-workbook", "err", err)
		}
		start, ok := token.(xml.StartElement)
		if !ok {
			continue
		}
		switch start.Name.Local {
		case "table":
			if len(r.sheets) < mostSheets {
				r.sheets = append(r.sheets, emptySheet(attribute(start, "name")))
				r.row, r.column, r.down = 0, 0, nil
			}
		case "table-column":
			n := repeated(start, "number-columns-repeated")
			if hidden(start) && len(r.sheets) > 0 {
				for i := range min(n, mostColumns) {
					r.sheets[len(r.sheets)-1].HiddenColumns[r.column+i] = true
				}
			}
			r.column += n
		case "table-row":
			if err := r.readRow(start); err != nil {
				return nil, err
			}
		}
	}
}

type ods struct {
	*xml.Decoder
	sheets      []table.Sheet
	row, column int
	down        []span // cells that go on below
}

// span is a cell over several rows.
type span struct {
	column, last int
	text         string
}

func attribute(e xml.StartElement, name string) string {
	for _, a := range e.Attr {
		if a.Name.Local == name {
			return a.Value
		}
	}
	return ""
}

func hidden(e xml.StartElement) bool {
	v := attribute(e, "visibility")
	return v == "collapse" || v == "filter"
}

// repeated returns how often a row, a column or a cell stands.
func repeated(e xml.StartElement, name string) int {
	n, err := strconv.Atoi(attribute(e, name))
	if err != nil || n < 1 {
		return 1
	}
	return n
}

func (r *ods) readRow(start xml.StartElement) error {
	if len(r.sheets) == 0 {
		return r.Skip()
	}
	s := &r.sheets[len(r.sheets)-1]
	times := repeated(start, "number-rows-repeated")
	var cells []string
	n := r.row + 1
	blanks := 0
	for {
		token, err := r.Token()
		if err != nil {
			return say.Error("logfile.not-a-workbook", "err", err)
		}
		if _, end := token.(xml.EndElement); end {
			break
		}
		cell, ok := token.(xml.StartElement)
		if !ok {
			continue
		}
		if cell.Name.Local != "table-cell" && cell.Name.Local != "covered-table-cell" {
			if err := r.Skip(); err != nil {
				return err
			}
			continue
		}
		text, remark, err := r.readCell(cell)
		if err != nil {
			return err
		}
		many := repeated(cell, "number-columns-repeated")
		if text == "" {
			blanks += many // those at the end of a row are a thousand
			continue
		}
		if len(cells)+blanks+many > mostColumns {
			return say.Error("logfile.row-has-columns-at-most", "n", n, "n2", len(cells)+blanks+many, "mostColumns", mostColumns)
		}
		cells = append(cells, make([]string, blanks)...)
		blanks = 0
		at := table.CellAt{Row: n, Column: len(cells)}
		if remark != "" {
			s.Remarks[at] = remark
		}
		if f := attribute(cell, "formula"); f != "" {
			s.Worked[at] = strings.TrimPrefix(f, "of:")
		}
		if over := repeated(cell, "number-rows-spanned"); over > 1 {
			r.down = append(r.down, span{len(cells), r.row + over, text})
		}
		for range many {
			cells = append(cells, text)
		}
	}
	for _, d := range r.down {
		if n <= d.last && n > 1 && (d.column >= len(cells) || cells[d.column] == "") {
			for len(cells) <= d.column {
				cells = append(cells, "")
			}
			cells[d.column] = d.text
		}
	}
	return r.addRows(s, cells, times, hidden(start))
}

// addRows adds a row as often as it stands; blank rows at the end of a sheet are left out.
func (r *ods) addRows(s *table.Sheet, cells []string, times int, isHidden bool) error {
	if len(cells) == 0 {
		r.row += times
		return nil
	}
	for range times {
		r.row++
		if len(s.Rows) >= mostWorkbookRows || r.row-len(s.Rows) > mostWorkbookRows {
			return say.Error("logfile.workbook-rows", "most", mostWorkbookRows)
		}
		for len(s.Rows) < r.row-1 {
			s.Rows = append(s.Rows, table.Row{N: len(s.Rows) + 1})
		}
		if isHidden {
			s.HiddenRows[r.row] = true
		}
		s.Rows = append(s.Rows, table.Row{N: r.row, Cells: append([]string{}, cells...)})
	}
	return nil
}

// readCell reads a cell to its end: its value as plain text, and the remark on it.
func (r *ods) readCell(start xml.StartElement) (text, remark string, err error) {
	var shown, note strings.Builder
	depth, inNote := 1, 0
	for depth > 0 {
		token, err := r.Token()
		if err != nil {
			return "", "", say.Error("logfile.not-a-workbook", "err", err)
		}
		switch t := token.(type) {
		case xml.StartElement:
			depth++
			if t.Name.Local == "annotation" {
				inNote = depth
			}
			if t.Name.Local == "p" && shown.Len() > 0 && inNote == 0 {
				shown.WriteByte('\n')
			}
			if (t.Name.Local == "creator" || t.Name.Local == "date") && inNote > 0 {
				if err := r.Skip(); err != nil {
					return "", "", err
				}
				depth--
			}
		case xml.EndElement:
			if depth == inNote {
				inNote = 0
			}
			depth--
		case xml.CharData:
			if inNote > 0 {
				note.Write(t)
			} else {
				shown.Write(t)
			}
		}
	}
	value := attribute(start, "value")
	v, bad := strconv.ParseFloat(value, 64)
	text = strings.TrimSpace(shown.String())
	switch attribute(start, "value-type") {
	case "date":
		text, _, _ = strings.Cut(attribute(start, "date-value"), "T")
	case "percentage":
		if bad == nil {
			text = plainNumber(v*100) + "%"
		}
	case "float", "currency":
		if bad == nil {
			text = plainNumber(v)
		}
	}
	return text, remarkOf("", note.String()), nil
}
