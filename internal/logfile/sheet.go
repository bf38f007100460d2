package logfile

import (
	"bytes"
	"encoding/csv"
	"errors"
	"io"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"braxel/internal/core/say"
	"braxel/internal/core/table"
)

// Saved is how a sheet was saved.
type Saved struct {
	Encoding  string `json:"encoding" enum:"utf-8,utf-8-bom,utf-16,cp1252,xlsx,ods"`
	Delimiter string `json:"delimiter"`
}

// Limits of a sheet: more than anybody keeps of engines, less than what would hold the machine up.
const (
	MostSheet   = 32 << 20
	mostRows    = 250000
	mostColumns = 400
)

// ReadSheet reads a CSV file, however it was saved, into rows numbered as a spreadsheet numbers them. An error says why it is none.
func ReadSheet(name string, text []byte) (table.Sheet, Saved, error) {
	s := table.Sheet{Name: strings.TrimSuffix(filepath.Base(name), filepath.Ext(name))}
	if len(text) > MostSheet {
		return s, Saved{}, say.Error("logfile.file-larger-than-mb-more", "most", MostSheet>>20)
	}
	plain, encoding, err := decode(text)
	saved := Saved{Encoding: encoding}
	if err != nil {
		return s, saved, err
	}
	if bytes.IndexByte(plain, '\r') >= 0 {
		plain = bytes.ReplaceAll(plain, []byte("\r\n"), []byte("\n"))
		plain = bytes.ReplaceAll(plain, []byte("\r"), []byte("\n"))
	}
	if len(bytes.TrimSpace(plain)) == 0 {
		return s, saved, say.Error("logfile.file-empty")
	}
	if m := said.FindSubmatch(plain); m != nil { // some spreadsheets say it in a row of its own, which they do not show
		plain, saved.Delimiter = plain[len(m[0]):], string(m[1])
		s.Rows, err = split(plain, rune(m[1][0]))
		s.Semicolons = saved.Delimiter == ";"
		return s, saved, err
	}
	begin, bestScore := beginning(plain), -1.0
	for _, d := range []rune{',', ';', '\t', '|'} {
		rows, err := split(begin, d)
		if err != nil {
			return s, saved, err
		}
		if score := regular(rows); score > bestScore {
			bestScore, saved.Delimiter = score, string(d)
		}
	}
	s.Rows, err = split(plain, rune(saved.Delimiter[0]))
	s.Semicolons = saved.Delimiter == ";"
	return s, saved, err
}

// beginning is as much of a text as shows by what its cells are parted, to the end of a line.
func beginning(text []byte) []byte {
	const enough = 256 << 10
	if len(text) <= enough {
		return text
	}
	if at := bytes.LastIndexByte(text[:enough], '\n'); at > 0 {
		return text[:at+1]
	}
	return text
}

var said = regexp.MustCompile(`^"?sep=([,;\t|])"?\n`)

// decode turns a file's bytes into UTF-8: by its mark, by the zeros that UTF-16 has between plain letters, as UTF-8 where it is
// that, else as Windows-1252, which everything is.
func decode(text []byte) ([]byte, string, error) {
	zeros := bytes.Count(text[:min(len(text), 4096)], []byte{0})
	switch {
	case bytes.HasPrefix(text, []byte("\xef\xbb\xbf")):
		if !utf8.Valid(text) {
			return nil, "utf-8-bom", say.Error("logfile.file-claims-utf-8-but")
		}
		return text[3:], "utf-8-bom", nil
	case bytes.HasPrefix(text, []byte("\xff\xfe")), bytes.HasPrefix(text, []byte("\xfe\xff")):
		out, err := unicode.UTF16(unicode.LittleEndian, unicode.ExpectBOM).NewDecoder().Bytes(text)
		return out, "utf-16", err
	case zeros > len(text[:min(len(text), 4096)])/4:
		order := unicode.LittleEndian
		if text[0] == 0 {
			order = unicode.BigEndian
		}
		out, err := unicode.UTF16(order, unicode.IgnoreBOM).NewDecoder().Bytes(text)
		return out, "utf-16", err
	case zeros > 0:
		return nil, "", say.Error("logfile.not-text-file-save-sheet")
	case utf8.Valid(text):
		return text, "utf-8", nil
	}
	out, err := charmap.Windows1252.NewDecoder().Bytes(text)
	return out, "cp1252", err
}

// split reads the rows of a text by a delimiter, blank rows too, which the reader passes over: they are counted by the lines
// that it does not tell of.
func split(text []byte, delimiter rune) ([]table.Row, error) {
	in := csv.NewReader(bytes.NewReader(text))
	in.Comma, in.LazyQuotes, in.FieldsPerRecord = delimiter, true, -1
	var rows []table.Row
	lines, from := 1, int64(0) // the line that the next row may begin on, and where in the text that is
	for {
		cells, err := in.Read()
		if errors.Is(err, io.EOF) {
			return rows, nil
		}
		if err != nil {
			return nil, say.Error("logfile.not-valid-csv", "err", err)
		}
		begins, _ := in.FieldPos(0)
		ends := lines + bytes.Count(text[from:in.InputOffset()], []byte("\n"))
		for ; lines < begins; lines++ {
			rows = append(rows, table.Row{N: len(rows) + 1})
		}
		lines, from = ends, in.InputOffset()
		if len(cells) > mostColumns {
			return nil, say.Error("logfile.row-has-columns-at-most",
				"n", len(rows)+1,
				"n2", len(cells),
				"mostColumns", mostColumns,
			)
		}
		rows = append(rows, table.Row{N: len(rows) + 1, Cells: slices.Clone(cells)})
		if len(rows) > mostRows {
			return nil, say.Error("logfile.sheet-has-more-than-rows", "mostRows", mostRows)
		}
	}
}

// regular says how much rows look like a table: how many have as many cells as most, of those that have more than one.
func regular(rows []table.Row) float64 {
	widths := map[int]int{}
	filled := 0
	for _, r := range rows {
		if len(r.Cells) == 0 {
			continue
		}
		filled++
		if len(r.Cells) > 1 {
			widths[len(r.Cells)]++
		}
	}
	if filled == 0 || len(widths) == 0 {
		return 0
	}
	most, width := 0, 0
	for w, n := range widths {
		if n > most || n == most && w > width {
			most, width = n, w
		}
	}
	const wide = 0.01 // of two that are as regular, the one with more columns
	return float64(most)/float64(filled) + wide*float64(min(width, 20))
}
