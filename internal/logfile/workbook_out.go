package logfile

import (
	"cmp"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/xuri/excelize/v2"

	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Workbook writes readings as an .xlsx with a sheet for each engine: a row a cylinder, units in the headings, days and figures as such,
// the headings frozen. What is crossed out is crossed out there too.
type Workbook struct {
	file  *excelize.File
	names map[string]bool
	style struct{ head, day, struck int }
}

// NewWorkbook begins one.
func NewWorkbook() (*Workbook, error) {
	w := &Workbook{file: excelize.NewFile(), names: map[string]bool{}}
	day := "yyyy-mm-dd"
	for _, one := range []struct {
		to *int
		is excelize.Style
	}{
		{&w.style.head, excelize.Style{Font: &excelize.Font{Bold: true}}},
		{&w.style.day, excelize.Style{CustomNumFmt: &day}},
		{&w.style.struck, excelize.Style{Font: &excelize.Font{Strike: true}}},
	} {
		id, err := w.file.NewStyle(&one.is)
		if err != nil {
			return nil, err
		}
		*one.to = id
	}
	return w, nil
}

// Add writes the sheet of an engine.
func (w *Workbook) Add(l log.Log) error {
	name := w.nameFor(l.Engine.Name)
	if _, err := w.file.NewSheet(name); err != nil {
		return err
	}
	out, err := w.file.NewStreamWriter(name)
	if err != nil {
		return err
	}
	columns := columnsOf(l)
	const narrow, wide = 12, 28
	if err := out.SetColWidth(1, len(columns), narrow); err != nil {
		return err
	}
	for _, at := range []int{1, len(columns)} { // its name, and notes
		if err := out.SetColWidth(at, at, wide); err != nil {
			return err
		}
	}
	if err := out.SetPanes(&excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2", ActivePane: "bottomLeft"}); err != nil {
		return err
	}
	head := make([]any, len(columns))
	for i, c := range columns {
		head[i] = excelize.Cell{StyleID: w.style.head, Value: c.heading}
	}
	if err := out.SetRow("A1", head); err != nil {
		return err
	}
	n := 1
	for _, s := range l.Sessions {
		for _, row := range rowsOf(s) {
			n++
			cells := make([]any, len(columns))
			for i, c := range columns {
				cells[i] = w.cell(c.cell(l, s, row))
			}
			if err := out.SetRow(fmt.Sprintf("A%d", n), cells); err != nil {
				return err
			}
		}
	}
	return out.Flush()
}

// Write writes the workbook out. One without an engine says so.
func (w *Workbook) Write(to io.Writer) error {
	if len(w.names) > 0 {
		if err := w.file.DeleteSheet("Sheet1"); err != nil {
			return err
		}
	} else if err := w.file.SetCellValue("Sheet1", "A1", say.Text("logfile.no-engine")); err != nil {
		return err
	}
	_, err := w.file.WriteTo(to)
	return err
}

// Close lets go of what was kept of it on disk.
func (w *Workbook) Close() error { return w.file.Close() }

// nameFor makes a name that a sheet may have, and no other has.
func (w *Workbook) nameFor(engine string) string {
	const most = 28 // 31 may be, and a number may come behind
	plain := strings.Map(func(c rune) rune {
		if strings.ContainsRune(`[]:*?/\'`, c) || c < ' ' {
			return ' '
		}
		return c
	}, engine)
	letters := []rune(strings.TrimSpace(plain))
	plain = cmp.Or(strings.TrimSpace(string(letters[:min(len(letters), most)])), heading("engine"))
	name := plain
	for n := 2; w.names[strings.ToLower(name)] || strings.EqualFold(name, "Sheet1"); n++ {
		name = fmt.Sprintf("%s %d", plain, n)
	}
	w.names[strings.ToLower(name)] = true
	return name
}

// written is what a cell holds.
type written struct {
	value  any
	struck bool
}

func (w *Workbook) cell(c written) any {
	switch v := c.value.(type) {
	case nil:
		return nil
	case time.Time:
		return excelize.Cell{StyleID: w.style.day, Value: v}
	case string:
		if v == "" {
			return nil
		}
		return Inert(v)
	}
	if c.struck {
		return excelize.Cell{StyleID: w.style.struck, Value: c.value}
	}
	return c.value
}

// row is what a test says of one cylinder: its pulls by kind, and one leak-down. A second leak-down has a row of its own.
type row struct {
	place log.Place
	pulls map[string][]log.Pull
	leak  *log.Leakdown
}

func rowsOf(s log.Session) []row {
	var all []row
	at := func(p log.Place) *row {
		for i := range all {
			if all[i].place == p && all[i].leak == nil {
				return &all[i]
			}
		}
		all = append(all, row{place: p, pulls: map[string][]log.Pull{}})
		return &all[len(all)-1]
	}
	for _, c := range s.Compression {
		r := at(c.Place)
		r.pulls[c.Mode] = append(r.pulls[c.Mode], c.Pulls...)
	}
	for i := range s.Leakdown {
		at(s.Leakdown[i].Place).leak = &s.Leakdown[i]
	}
	slices.SortStableFunc(all, func(a, b row) int { return cmp.Compare(a.place.Number(), b.place.Number()) })
	return all
}

// column is a heading with what stands below it.
type column struct {
	heading string
	cell    func(l log.Log, s log.Session, r row) written
}

// heading is a column's: in words that the reader of sheets knows again.
func heading(of string, values ...any) string { return say.Text("logfile.sheet-"+of, values...) }

func text(of func(l log.Log, s log.Session, r row) string) func(log.Log, log.Session, row) written {
	return func(l log.Log, s log.Session, r row) written { return written{value: of(l, s, r)} }
}

// columnsOf are the columns that the readings of an engine need: one for each pull of a kind in each unit that is written.
func columnsOf(l log.Log) []column {
	all := []column{
		{heading("engine"), text(func(l log.Log, _ log.Session, _ row) string { return l.Engine.Name })},
		{heading("date"), func(_ log.Log, s log.Session, _ row) written {
			day, err := time.Parse(time.DateOnly, s.Date)
			if err != nil {
				return written{value: s.Date}
			}
			return written{value: day}
		}},
		{heading(cmp.Or(l.Engine.MeterUnit, "h")), func(_ log.Log, s log.Session, _ row) written {
			if s.Meter == nil {
				return written{}
			}
			return written{value: *s.Meter}
		}},
		{heading("occasion"), text(func(_ log.Log, s log.Session, _ row) string { return s.Occasion() })},
		{heading("state"), text(func(_ log.Log, s log.Session, _ row) string { return s.Conditions.EngineTemp })},
		{heading("cylinder"), func(l log.Log, _ log.Session, r row) written { return written{value: calledOf(l, r.place)} }},
	}
	for _, mode := range []string{log.Dry, log.Wet} {
		all = append(all, pullColumns(l, mode)...)
	}
	return append(append(all, leakColumns(l)...), column{heading("note"), text(noteOf)})
}

// calledOf is what a cylinder is called: its number as a figure, its name as it is.
func calledOf(l log.Log, p log.Place) any {
	if p.Rotor > 0 {
		return fmt.Sprintf("%d/%d", p.Rotor, p.Face)
	}
	if own := l.Engine.Layout.Names[strconv.Itoa(p.Cylinder)]; own != "" {
		return own
	}
	return p.Cylinder
}

func pullColumns(l log.Log, mode string) []column {
	most := map[units.Unit]int{}
	for _, s := range l.Sessions {
		for _, r := range rowsOf(s) {
			for i, p := range r.pulls[mode] {
				most[p.Unit] = max(most[p.Unit], i+1)
			}
		}
	}
	var all []column
	for _, u := range units.All {
		for i := range most[u.Unit] {
			called := heading(mode, "n", i+1, "unit", u.Unit)
			all = append(all, column{called, func(_ log.Log, _ log.Session, r row) written {
				if i >= len(r.pulls[mode]) || r.pulls[mode][i].Unit != u.Unit {
					return written{}
				}
				return written{r.pulls[mode][i].Value, r.pulls[mode][i].Struck != ""}
			}})
		}
	}
	return all
}

func leakColumns(l log.Log) []column {
	used := map[units.Unit]bool{}
	for _, s := range l.Sessions {
		for _, r := range s.Leakdown {
			used[r.Unit] = true
		}
	}
	var all []column
	for _, u := range units.All {
		if !used[u.Unit] {
			continue
		}
		figure := func(of func(*log.Leakdown) float64) func(log.Log, log.Session, row) written {
			return func(_ log.Log, _ log.Session, r row) written {
				if r.leak == nil || r.leak.Unit != u.Unit {
					return written{}
				}
				return written{of(r.leak), r.leak.Struck != ""}
			}
		}
		all = append(all,
			column{heading("supply", "unit", u.Unit), figure(func(r *log.Leakdown) float64 { return r.Supply })},
			column{heading("held", "unit", u.Unit), figure(func(r *log.Leakdown) float64 { return r.Held })},
		)
	}
	if len(used) == 0 {
		return nil
	}
	return append(all,
		column{heading("leak"), func(_ log.Log, _ log.Session, r row) written {
			if r.leak == nil {
				return written{}
			}
			const tenths = 10
			lost := float64(gas.LeakPct(r.leak.SupplyReading().Pressure(), r.leak.HeldReading().Pressure()))
			return written{value: float64(int(lost*tenths+0.5)) / tenths}
		}},
		column{heading("heard"), text(func(_ log.Log, _ log.Session, r row) string {
			if r.leak == nil {
				return ""
			}
			if r.leak.Paths != nil && len(r.leak.Paths) == 0 {
				return "none"
			}
			var where []string
			for _, p := range r.leak.Paths {
				where = append(where, p.Where)
			}
			return strings.Join(where, "; ")
		})},
	)
}

// noteOf is what was noted of a cylinder's readings.
func noteOf(_ log.Log, _ log.Session, r row) string {
	var all []string
	for _, mode := range []string{log.Dry, log.Wet} {
		for _, p := range r.pulls[mode] {
			all = append(all, remarkOn(p.Struck, p.Note))
		}
	}
	if r.leak != nil {
		all = append(all, remarkOn(r.leak.Struck, r.leak.Note))
	}
	return strings.Join(slices.DeleteFunc(all, func(s string) bool { return s == "" }), "; ")
}

// remarkOn is what was noted of one reading. That it doesn't count is seen; here stands why.
func remarkOn(struck, words string) string {
	if struck == "" {
		return words
	}
	return strings.TrimSpace(say.Text("logfile.crossed-out", "why", struck, "words", words))
}
