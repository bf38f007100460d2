package table

import (
	"cmp"
	"slices"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/written"
)

// Read reads the sheets of one file. What one of them says of the order of its days holds for all: one person wrote them.
func Read(sheets []Sheet, picks Picks) Result {
	all := readEach(sheets, picks)
	if order := decided(all); order != "" && picks.Dates == "" {
		picks.Dates = order
		all = readEach(sheets, picks)
	}
	out := noResult()
	for _, r := range all {
		r.build()
		r.guess()
		r.tests, r.byVisit, r.lines, r.twice = nil, nil, nil, nil // they are in its logs
		out.Guesses = append(out.Guesses, r.out.Guesses...)
		if len(r.out.Logs) == 0 && len(r.out.Refused) == 0 && len(sheets) > 1 {
			out.Ignored = append(out.Ignored, Ignored{Sheet: r.sheet.Title, Why: say.Text("table.sheet-without-readings")})
			continue
		}
		out.Refused = append(out.Refused, r.out.Refused...)
		out.Doubts = append(out.Doubts, r.out.Doubts...)
		out.Ignored = append(out.Ignored, r.out.Ignored...)
		for _, a := range r.out.Asked {
			out.asks(a)
		}
		for _, m := range r.out.Engines {
			if _, there := out.byName[nameKey(m.Name)]; !there {
				out.Engines = append(out.Engines, m)
			}
		}
		for _, l := range r.out.Logs {
			out.joins(l, r.sheet)
		}
	}
	for i := range out.Logs {
		slices.SortStableFunc(out.Logs[i].Sessions, func(a, b log.Session) int { return cmp.Compare(a.Date, b.Date) })
		for j := range out.Logs[i].Sessions {
			out.Logs[i].Sessions[j].ID = idOf(out.Logs[i].Sessions[j])
		}
	}
	return out
}

func readEach(sheets []Sheet, picks Picks) []*reader {
	var all []*reader
	for _, s := range sheets {
		r := &reader{sheet: s, picks: picks}
		r.read()
		r.askHidden()
		all = append(all, r)
	}
	return all
}

// decided returns the order of days that some sheet decides and another leaves open.
func decided(all []*reader) written.Order {
	var found []written.Order
	open := false
	for _, r := range all {
		switch o := r.dates.Order; o {
		case written.DayFirst, written.MonthFirst:
			if !slices.Contains(found, o) {
				found = append(found, o)
			}
		case written.Undecidable:
			open = true
		}
	}
	if open && len(found) == 1 {
		return found[0]
	}
	return ""
}

// askHidden asks whether hidden rows and columns are meant to be read.
func (r *reader) askHidden() {
	if r.picks.Hidden != "" || len(r.sheet.HiddenRows)+len(r.sheet.HiddenColumns) == 0 {
		return
	}
	holds := false
	for _, row := range r.sheet.Rows {
		for i, cell := range row.Cells {
			if (r.sheet.HiddenRows[row.N] || r.sheet.HiddenColumns[i]) && strings.ContainsAny(cell, "0123456789") {
				holds = true
			}
		}
	}
	if !holds {
		return
	}
	r.out.Asked = append(r.out.Asked, Asked{
		What: AskHidden, Sheet: r.sheet.Title, Must: true,
		Words: say.Text("table.ask-hidden", "rows", len(r.sheet.HiddenRows), "columns", len(r.sheet.HiddenColumns)),
		Choices: []Reply{
			{Name: leave, Words: say.Text("table.hidden-leave"), Picks: Picks{Hidden: LeaveHidden}},
			{Name: "take", Words: say.Text("table.hidden-take"), Picks: Picks{Hidden: TakeHidden}},
		},
	})
}

// joins adds the log that a sheet comes to: what another sheet says of the same engine and day, of other cylinders or of another
// kind, is one test.
func (out *Result) joins(l log.Log, s Sheet) {
	key := nameKey(l.Engine.Name)
	at, there := out.byName[key]
	if !there {
		if out.byName == nil {
			out.byName = map[string]int{}
		}
		out.byName[key] = len(out.Logs)
		out.Logs = append(out.Logs, l)
		return
	}
	have := &out.Logs[at]
	if !sameCylinders(have, l) {
		out.Refused = append(out.Refused, Refused{
			Sheet: s.Title, Text: l.Engine.Name, Why: say.Text("table.sheets-disagree", "name", l.Engine.Name),
		})
		return
	}
	if have.Engine.MeterUnit == "" {
		have.Engine.MeterUnit = l.Engine.MeterUnit
	}
	for _, t := range l.Testers {
		if _, there := have.Tester(t.ID); !there {
			have.Testers = append(have.Testers, t)
		}
	}
	have.Notes = append(have.Notes, l.Notes...)
	for _, one := range l.Sessions {
		with := slices.IndexFunc(have.Sessions, func(h log.Session) bool { return h.Date == one.Date && one.Date != "" && apart(h, one) })
		if with < 0 {
			have.Sessions = append(have.Sessions, one)
			continue
		}
		joinTests(&have.Sessions[with], one)
	}
}

// sameCylinders makes the cylinders of two logs agree: one may know of more, but none by another name.
func sameCylinders(a *log.Log, b log.Log) bool {
	for n, name := range b.Engine.Layout.Names {
		if own, there := a.Engine.Layout.Names[n]; there && own != name {
			return false
		}
	}
	if (len(a.Engine.Layout.Names) > 0) != (len(b.Engine.Layout.Names) > 0) {
		return false
	}
	if len(b.Engine.Cylinders()) > len(a.Engine.Cylinders()) {
		a.Engine.Layout = b.Engine.Layout
	}
	return true
}

// apart reports whether two tests of a day hold no reading of one kind of one cylinder both: then they are parts of one.
func apart(a, b log.Session) bool {
	for _, c := range b.Compression {
		if slices.ContainsFunc(a.Compression, func(o log.Compression) bool { return o.Place == c.Place && o.Mode == c.Mode }) {
			return false
		}
	}
	for _, c := range b.Leakdown {
		if slices.ContainsFunc(a.Leakdown, func(o log.Leakdown) bool { return o.Place == c.Place }) {
			return false
		}
	}
	return a.Conditions.EngineTemp == "" || b.Conditions.EngineTemp == "" || a.Conditions.EngineTemp == b.Conditions.EngineTemp
}

func joinTests(a *log.Session, b log.Session) {
	a.Compression, a.Leakdown = append(a.Compression, b.Compression...), append(a.Leakdown, b.Leakdown...)
	a.Note, a.Stage, a.Operator = join(a.Note, b.Note), firstOf(a.Stage, b.Stage), firstOf(a.Operator, b.Operator)
	if a.Meter == nil {
		a.Meter = b.Meter
	}
	a.Conditions.EngineTemp = firstOf(a.Conditions.EngineTemp, b.Conditions.EngineTemp)
}
