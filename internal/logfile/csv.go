package logfile

import (
	"encoding/csv"
	"io"
	"strconv"
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

var header = []string{
	"engine",
	"session",
	"date",
	"meter",
	"stage",
	"temp",
	"cylinder",
	"test",
	"attempt",
	"value",
	"unit",
	"supply",
	"held",
	"path",
	"level",
	"note",
}

// CSV writes readings as tidy CSV (RFC 4180), one row a reading, under one header. Struck ones are there with the reason in the
// note; air heard in several places is joined with semicolons.
type CSV struct{ out *csv.Writer }

// NewCSV begins with the header.
func NewCSV(w io.Writer) (*CSV, error) {
	c := &CSV{csv.NewWriter(w)}
	c.out.UseCRLF = true
	return c, c.out.Write(header)
}

// Add writes the readings of a log.
func (c *CSV) Add(l log.Log) error {
	for _, s := range l.Sessions {
		meter := ""
		if s.Meter != nil {
			meter = units.Figure(*s.Meter)
		}
		head := []string{l.Engine.Name, s.ID, s.Date, meter, s.Stage, s.Conditions.EngineTemp}
		for _, line := range readings(s) {
			row := append(head[:len(head):len(head)], line...)
			for i := range row {
				row[i] = Inert(row[i])
			}
			if err := c.out.Write(row); err != nil {
				return err
			}
		}
	}
	c.out.Flush()
	return c.out.Error()
}

// Inert returns a cell that no spreadsheet takes for a formula: one that begins as those do, also in full width or behind spaces and
// line ends, is begun with an apostrophe. A figure stays a figure.
func Inert(cell string) string {
	bare := strings.TrimLeftFunc(norm.NFKC.String(cell), func(c rune) bool { return unicode.IsSpace(c) || unicode.IsControl(c) || c == '\ufeff' })
	starts := cell != "" && strings.ContainsRune("\t\r\n", rune(cell[0]))
	if !starts && (bare == "" || !strings.ContainsRune("=+-@−", []rune(bare)[0])) {
		return cell
	}
	if _, err := strconv.ParseFloat(cell, 64); err == nil {
		return cell
	}
	return "'" + cell
}

func readings(s log.Session) [][]string {
	var lines [][]string
	for _, row := range s.Compression {
		who := strconv.Itoa(row.Cylinder)
		if row.Rotor > 0 {
			who = strconv.Itoa(row.Rotor) + "/" + strconv.Itoa(row.Face)
		}
		for i, p := range row.Pulls {
			lines = append(
				lines,
				[]string{who, row.Mode, strconv.Itoa(i + 1), units.Figure(p.Value), string(p.Unit), "", "", "", "", note(p.Struck, p.Note)},
			)
		}
	}
	attempts := map[int]int{}
	for _, row := range s.Leakdown {
		attempts[row.Number()]++
		var where, level []string
		for _, p := range row.Paths {
			place := p.Where
			if p.Cylinder > 0 {
				place += " " + strconv.Itoa(p.Cylinder)
			}
			where, level = append(where, place), append(level, strconv.Itoa(p.Level))
		}
		if row.Paths != nil && len(row.Paths) == 0 {
			where = []string{"none"}
		}
		lines = append(lines, []string{strconv.Itoa(row.Number()), "leakdown", strconv.Itoa(attempts[row.Number()]), "", string(row.Unit),
			units.Figure(
				row.Supply,
			), units.Figure(row.Held), strings.Join(where, ";"), strings.Join(level, ";"), note(row.Struck, row.Note)})
	}
	for _, o := range s.Observations {
		who, value := "", ""
		if n := o.Number(); n > 0 {
			who = strconv.Itoa(n)
		}
		if o.Value != nil {
			value = units.Figure(*o.Value)
		}
		lines = append(
			lines,
			[]string{who, o.What, "", value, o.Unit, "", "", "", "", note(o.Struck, strings.TrimSpace(o.Finding+" "+o.Note))},
		)
	}
	return lines
}

func note(struck, words string) string {
	if struck == "" {
		return words
	}
	return strings.TrimSpace(say.Text("logfile.struck", "struck", struck, "words", words))
}
