package paper

import (
	"slices"
	"strings"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// Entry is what is to be handed in, by whom the grid was typed: its kind and its body.
type Entry struct {
	Row  string `json:"row" doc:"The first row of its test"`
	Kind string `json:"kind" enum:"whole,test,pull,leakdown,strike,move"`
	Body any    `json:"body"`
}

// entries returns what puts a test on record: the whole of it where it is new, else what is otherwise than it stands there.
func (t *test) entries(l log.Log) []Entry {
	i := l.At(t.name())
	if i < 0 {
		return []Entry{{t.key, book.Whole, book.WithKeys(t.session(l))}}
	}
	have := l.Sessions[i]
	all := t.headChanges(have)
	before := rowsOf(l, have)
	for _, row := range t.rows {
		at := slices.IndexFunc(before, func(b Row) bool { return b.Key == row.Key })
		if at < 0 {
			all = append(all, row.readings(l, have.ID, nil)...)
			continue
		}
		all = append(all, row.changes(l, have, before[at])...)
	}
	return all
}

// headChanges returns what the head of a test on record is changed to.
func (t *test) headChanges(have log.Session) []Entry {
	patch := map[string]any{}
	row := t.rows[0].Row
	anew := func(now string, was func(Was) string) bool { return row.Was == nil || now != was(*row.Was) }
	if t.head.Date != have.Date && anew(row.Date, func(w Was) string { return w.Date }) {
		patch["date"] = t.head.Date
	}
	if !same(t.head.Meter, have.Meter) && anew(row.Meter, func(w Was) string { return w.Meter }) {
		patch["meter"] = t.head.Meter
	}
	if t.head.Note != strings.TrimSpace(have.Note) && anew(row.Note, func(w Was) string { return w.Note }) {
		patch["note"] = orNull(t.head.Note)
	}
	if t.head.Conditions.EngineTemp != have.Conditions.EngineTemp && anew(row.Temp, func(w Was) string { return w.Temp }) {
		patch["conditions"] = map[string]any{"engine_temp": orNull(t.head.Conditions.EngineTemp)}
	}
	if len(patch) == 0 {
		return nil
	}
	patch["id"] = have.ID
	return []Entry{{t.key, book.Test, patch}}
}

func same(a, b *float64) bool { return (a == nil) == (b == nil) && (a == nil || *a == *b) }

func orNull(text string) any {
	if text == "" {
		return nil
	}
	return text
}

// mended is why a reading is struck whose cell was typed anew.
var mended = say.Text("paper.corrected-grid-old-tests")

// changes returns what a row on record is changed to: cells typed otherwise are struck and read anew, the rest moves to the tester
// that the row names now.
func (l line) changes(have log.Log, s log.Session, before Row) []Entry {
	var all []Entry
	anew := map[int]bool{}
	for i, c := range have.Engine.Cylinders() {
		was, now := before.Cells[i], ""
		if i < len(l.Cells) {
			now = strings.TrimSpace(l.Cells[i])
		}
		// What nobody typed over is left as it stands now, whoever has changed it since.
		seen := was
		if l.Was != nil && i < len(l.Was.Cells) {
			seen = l.Was.Cells[i]
		}
		if (now == was || now == seen) && before.Unit == string(l.unit) && before.What == l.what {
			continue
		}
		anew[c] = true
		for _, key := range keysOf(have, s, before, c) {
			all = append(all, Entry{l.Key, book.Strike, book.MarkBody{Entry: key, Test: s.ID, Why: mended}})
		}
	}
	if l.Gauge != before.Gauge && l.tester != "" && (l.Was == nil || l.Gauge != l.Was.Gauge) {
		for _, c := range have.Engine.Cylinders() {
			for _, key := range keysOf(have, s, before, c) {
				if !anew[c] {
					all = append(all, Entry{l.Key, book.Move, book.MarkBody{Entry: key, Test: s.ID, Tester: l.tester}})
				}
			}
		}
	}
	return append(all, l.readings(have, s.ID, anew)...)
}

// keysOf returns the keys of the readings that stand in a cell of a row.
func keysOf(l log.Log, s log.Session, of Row, cylinder int) []string {
	var keys []string
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			here := row.Cylinder == cylinder && row.Mode == of.What && gaugeOf(l, row.Tester) == of.Gauge
			if here && p.Struck == "" && string(p.Unit) == of.Unit {
				keys = append(keys, p.Key)
			}
		}
	}
	for _, row := range s.Leakdown {
		here := row.Cylinder == cylinder && of.What == Leak && gaugeOf(l, row.Tester) == of.Gauge
		if here && row.Struck == "" && string(row.Unit) == of.Unit {
			keys = append(keys, row.Key)
		}
	}
	return keys
}

// readings returns the readings of a row as entries, of those cylinders alone where any are named.
func (l line) readings(have log.Log, test string, of map[int]bool) []Entry {
	var all []Entry
	for _, c := range have.Engine.Cylinders() {
		one, typed := l.cells[c]
		if !typed || (of != nil && !of[c]) {
			continue
		}
		place := have.Engine.Place(c)
		for _, v := range one.pulls {
			body := book.PullBody{Test: test, Place: place, Mode: l.what, Tester: l.tester, Value: &v, Unit: l.unit}
			all = append(all, Entry{l.Key, book.Pull, body})
		}
		for _, k := range one.leaks {
			all = append(all, Entry{l.Key, book.Leakdown, book.LeakBody{
				Test: test, Place: place, Tester: l.tester, Supply: k.supply, Held: &k.held, Unit: k.unit, Paths: k.paths,
			}})
		}
	}
	return all
}
