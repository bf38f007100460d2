package book

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Struck returns why an entry counts for nothing, or "".
func (b *Book) Struck(id string) string { return b.struck(id) }

// TestOf returns the test that an entry is about, or "".
func TestOf(e Entry) string {
	var body struct {
		ID   string `json:"id"`
		Test string `json:"test"`
	}
	if json.Unmarshal(e.Body, &body) != nil {
		return ""
	}
	if e.Kind == Test || e.Kind == Whole {
		return body.ID
	}
	return body.Test
}

// Words says in a line what an entry did, its dates as whoever reads it has them.
func (b *Book) Words(e Entry, shown units.Choice) string {
	switch e.Kind {
	case Pull:
		if body, f := read[PullBody](&e); len(f) == 0 && body.Value != nil {
			return fmt.Sprintf("%s %s: %s", b.called(body.Place), body.Mode, units.Reading{Value: *body.Value, Unit: body.Unit})
		}
	case Leakdown:
		if body, f := read[LeakBody](&e); len(f) == 0 {
			row := body.Row()
			return say.Text("book.leak-down-held",
				"called", b.called(body.Place),
				"supplyReading", row.SupplyReading(),
				"heldReading", row.HeldReading(),
			)
		}
	case Look, Photo:
		if body, f := read[LookBody](&e); len(f) == 0 || e.Kind == Photo {
			words := strings.TrimSpace(strings.Join([]string{body.What, body.Finding, body.Note}, " "))
			if e.Kind == Photo {
				words = strings.TrimSpace(say.Text("book.photo", "note", body.Note))
			}
			if body.Place != (log.Place{}) {
				words = b.called(body.Place) + ": " + words
			}
			return words
		}
	case Tick:
		if body, f := read[TickBody](&e); len(f) == 0 {
			return map[bool]string{true: "ticked ", false: "unticked "}[body.Done] + body.Line
		}
	case Strike, Unstrike, AsRead, Move:
		if body, f := read[MarkBody](&e); len(f) == 0 {
			return b.wordsOfMark(e.Kind, body, shown)
		}
	case Whole:
		if s, f := read[log.Session](&e); len(f) == 0 {
			return say.Text("book.whole-test-rows-compression-leak",
				"date", shown.Day(s.Date),
				"n", len(s.Compression),
				"n2", len(s.Leakdown),
			)
		}
	case Test:
		return b.wordsOfTest(e, shown)
	case Event:
		if v, f := read[log.Event](&e); len(f) == 0 {
			return v.What
		}
	case Rule:
		if v, f := read[rules.Own](&e); len(f) == 0 {
			return wordsOfRule(v)
		}
	case Columns:
		if v, f := read[rules.SheetColumns](&e); len(f) == 0 {
			id := "book.columns-corrected"
			if len(v.Columns) == 0 {
				id = "book.columns-forgotten"
			}
			return say.Text(id, "headings", v.Headings)
		}
	case Meeting, Car, Start, Job:
		if words, ok := b.wordsOfAhead(e, shown); ok {
			return words
		}
	case PutOff:
		if v, f := read[log.PutOff](&e); len(f) == 0 {
			return say.Text("book.postponed-until", "item", v.Item, "until", v.Until, "why", v.Why)
		}
	case Note:
		if v, f := read[log.Note](&e); len(f) == 0 {
			return v.Text
		}
	}
	return fields(e.Body)
}

// wordsOfTest says what an entry of a test's head says: the test as one speaks of it where it begins it, else what it changes.
func (b *Book) wordsOfTest(e Entry, shown units.Choice) string {
	var s log.Session
	var body map[string]jsontext.Value
	if json.Unmarshal(e.Body, &s) != nil || json.Unmarshal(e.Body, &body) != nil {
		return fields(e.Body)
	}
	t := b.tests[s.ID]
	if t == nil || !t.begun() || t.first().ID == e.ID {
		about := ""
		for _, part := range []string{s.Occasion(), s.Conditions.Temp()} {
			if part != "" {
				about += ", " + part
			}
		}
		return say.Text("book.test-begun", "date", shown.Day(s.Date), "about", about)
	}
	delete(body, "id")
	rest, err := json.Marshal(body, json.Deterministic(true))
	if err != nil {
		return fields(e.Body)
	}
	head, _, _ := fold(t.head(), b.struck, func(log.Session) log.Faults { return nil })
	return say.Text("book.test-changed", "date", shown.Day(head.Date), "what", fields(rest))
}

func (b *Book) wordsOfMark(kind string, body MarkBody, shown units.Choice) string {
	what := body.Entry
	if of, there := b.entries[body.Entry]; there && body.Test == "" {
		what = b.Words(*of, shown)
	} else if it := b.items[body.target()]; it != nil && it.pull != nil {
		what = fmt.Sprintf("%s %s: %s", b.called(it.pull.Place), it.pull.Mode, it.pull.Pulls[0].Reading)
	}
	switch kind {
	case Strike:
		return say.Text("book.struck", "why", body.Why, "what", what)
	case Unstrike:
		return say.Text("book.restored", "what", what)
	case AsRead:
		return say.Text("book.confirmed-as-read", "what", what)
	}
	if body.Tester != "" {
		return say.Text("book.read-with", "tester", body.Tester, "what", what)
	}
	return say.Text("book.moved", "called", b.called(body.Place), "what", what)
}

// called names a place as this engine's owner does.
func (b *Book) called(p log.Place) string {
	if p.Cylinder == 0 {
		return p.String()
	}
	e, _, _ := b.foldEngine()
	return say.Text("book.cylinder", "called", e.Called(p.Cylinder))
}

// fields lists what a body says, field by field: "Two-dial kit: leak-down tester, orifice 1 mm, division 1 psi".
func fields(body jsontext.Value) string {
	all := map[string][]byte{}
	leaves("", body, all)
	text := func(at string) string { return strings.Trim(string(all[at]), `"`) }
	name := text("/name")
	if name != "" {
		delete(all, "/name")
		delete(all, "/id") // a name tells more
	}
	var words []string
	for _, at := range slices.Sorted(keysOf(all)) {
		if strings.Contains(at, "/typed/") {
			continue // it is said for the figure that it is of
		}
		value, field := text(at), strings.TrimSuffix(at, "/value")
		if unit := strings.TrimSuffix(at, "/unit"); unit != at && all[unit+"/value"] != nil {
			continue // it is said with its value
		}
		if field != at && all[field+"/unit"] != nil {
			value += " " + text(field+"/unit")
		}
		whole := strings.Trim(field, "/")
		field, unit := log.CutUnit(whole)
		value += unit
		before, last := at[:strings.LastIndex(at, "/")], at[strings.LastIndex(at, "/"):]
		if typed := text(before + "/typed" + last); typed != "" {
			value = typed
		}
		said := say.Maybe("book.value-" + field + "-" + value)
		words = append(words, cmp.Or(said, cmp.Or(say.Maybe("book.field-"+dashed(whole)), fieldCalled(field))+" "+value))
	}
	const enough = 300
	line := strings.Join(words, ", ")
	if name != "" {
		line = strings.TrimSuffix(name+": "+line, ": ")
	}
	if runes := []rune(line); len(runes) > enough {
		line = string(runes[:enough]) + "…"
	}
	return line
}

// fieldCalled says what a field is called by those who fill it in.
func fieldCalled(field string) string {
	if words := say.Maybe("book.field-" + dashed(field)); words != "" {
		return words
	}
	return strings.NewReplacer("/", " ", "_", " ").Replace(field)
}

// ReadingsInWords lists what a test read, cylinder by cylinder, as one would read it out.
func ReadingsInWords(e log.Engine, s log.Session) string {
	var parts []string
	for _, mode := range []string{log.Dry, log.Wet} {
		var all []string
		for _, row := range s.Compression {
			if row.Mode != mode {
				continue
			}
			var pulls []string
			for _, p := range row.Pulls {
				text := p.String()
				if p.Struck != "" {
					text = "(" + text + ")"
				}
				pulls = append(pulls, text)
			}
			all = append(all, e.Called(row.Number())+": "+strings.Join(pulls, " / "))
		}
		if len(all) > 0 {
			parts = append(parts, mode+" "+strings.Join(all, ", "))
		}
	}
	var leaks []string
	for _, row := range s.Leakdown {
		text := e.Called(row.Number()) + ": "
		if row.Supply > 0 {
			text += say.Digits(gas.LeakPct(row.SupplyReading().Pressure(), row.HeldReading().Pressure()), 3) + " %"
		}
		for _, path := range row.Paths {
			text += " " + path.Where
		}
		leaks = append(leaks, text)
	}
	if len(leaks) > 0 {
		parts = append(parts, say.Text("book.leak", "leaks", strings.Join(leaks, ", ")))
	}
	return strings.Join(parts, "; ")
}

// wordsOfRule says in a line what a workshop made of a rule.
func wordsOfRule(v rules.Own) string {
	s, ok := rules.SettingOf(v.ID)
	if !ok {
		return v.ID + ": " + say.Number(v.Value)
	}
	words := s.Of + ": " + s.Words + " " + say.Number(v.Value) + " " + s.Unit
	if v.Why != "" {
		words += say.Text("book.because", "why", v.Why)
	}
	return words
}

// dashed writes a field's name as the ids of texts are written.
func dashed(field string) string { return strings.NewReplacer("/", "-", "_", "-").Replace(field) }
