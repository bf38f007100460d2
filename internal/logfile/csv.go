package logfile

import (
	"encoding/csv"
	"io"
	"strconv"
	"strings"

	"braxel/internal/core/log"
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

// WriteCSV writes the log's readings as tidy CSV, one row a reading (RFC 4180). Struck ones are there with the reason
// in the note; air heard in several places is joined with semicolons.
func WriteCSV(w io.Writer, l log.Log) error {
	out := csv.NewWriter(w)
	out.UseCRLF = true
	if err := out.Write(header); err != nil {
		return err
	}
	for _, s := range l.Sessions {
		meter := ""
		if s.Meter != nil {
			meter = units.Figure(*s.Meter)
		}
		head := []string{l.Engine.Name, s.ID, s.Date, meter, s.Stage, s.Conditions.EngineTemp}
		for _, line := range readings(s) {
			if err := out.Write(append(head[:len(head):len(head)], line...)); err != nil {
				return err
			}
		}
	}
	out.Flush()
	return out.Error()
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
	return strings.TrimSpace("struck: " + struck + " " + words)
}
