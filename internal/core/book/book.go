package book

import (
	"cmp"
	"slices"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Book is what the entries of one engine come to, or those of the workshop: its testers and protocols. Entries may be added
// in any order; what is made of them depends on what they are alone.
type Book struct {
	id        string
	entries   map[string]*Entry
	latest    string // the time of the last of them
	engine    changes
	builds    things
	testers   things
	protocols things
	plans     things
	rules     things            // its own values of what a workshop may change
	shown     things            // its choice of units
	columns   things            // what it corrected in spreadsheets
	season    map[string]things // what it has ahead of it, by kind
	tests     map[string]*test
	events    []*Entry
	notes     []*Entry
	putOff    []*Entry
	kept      changes
	marks     map[name][]mark
	items     map[name]*item // by entry, and by test and key
	moved     []name         // names of items that a mark moves to another test
	unplaced  []Unplaced
	folded    *folded            // the engine as it is; nil when something of it has changed
	made      log.Engine         // the engine as it was made last; its tests depend on it
	has       map[log.Place]bool // places of cylinders that it has
}

// Unplaced is an entry that stands in the book and nowhere else, and why.
type Unplaced struct {
	Entry string `json:"entry"`
	Kind  string `json:"kind"`
	Why   string `json:"why"`
	fault log.Fault
}

func unplaced(e Entry, f log.Fault) Unplaced {
	return Unplaced{Entry: e.ID, Kind: e.Kind, Why: f.At + ": " + f.What, fault: f}
}

// things are the entries about each thing that has an id of its own.
type things map[string]changes

func (t things) add(id string, e *Entry) {
	c := t[id]
	c.add(e)
	t[id] = c
}

// sorted returns the ids in the order in which the things were begun.
func (t things) sorted() []string {
	ids := make([]string, 0, len(t))
	for id := range t {
		ids = append(ids, id)
	}
	slices.SortFunc(ids, func(a, b string) int { return cmp.Or(before(t[a][0], t[b][0]), cmp.Compare(a, b)) })
	return ids
}

// Of returns an empty book of an engine; of the workshop where engine is "".
func Of(engine string) *Book {
	return &Book{
		id: engine, entries: map[string]*Entry{}, has: map[log.Place]bool{},
		builds: things{}, testers: things{}, protocols: things{}, plans: things{}, rules: things{}, shown: things{}, columns: things{},
		season: map[string]things{Meeting: {}, Car: {}, Start: {}, Job: {}, Terms: {}},
		tests:  map[string]*test{}, marks: map[name][]mark{}, items: map[name]*item{},
	}
}

// Replay returns the book of an engine's entries.
func Replay(engine string, entries []Entry) *Book {
	b := Of(engine)
	for _, e := range entries {
		b.Add(e)
	}
	return b
}

// Add takes an entry in. It never fails: what has no place is kept as unplaced. An entry that is there already changes
// nothing.
func (b *Book) Add(e Entry) { b.add(e, false) }

// AddAdmitted is Add for an entry that Admit has just let in: what was checked there is not checked again.
func (b *Book) AddAdmitted(e Entry) { b.add(e, true) }

func (b *Book) add(e Entry, admitted bool) {
	if b.entries[e.ID] != nil {
		return
	}
	b.entries[e.ID] = &e
	b.latest = max(b.latest, e.At)
	if faults := b.place(&e, admitted); len(faults) > 0 {
		b.unplaced = append(b.unplaced, unplaced(e, faults[0]))
	}
}

// Entry returns the entry of that id.
func (b *Book) Entry(id string) (Entry, bool) {
	e, ok := b.entries[id]
	if !ok {
		return Entry{}, false
	}
	return *e, true
}

// place puts an entry where it belongs, or says why it has no place by itself.
func (b *Book) place(e *Entry, admitted bool) log.Faults {
	switch e.Kind {
	case Engine:
		b.engine.add(e)
		b.folded = nil
		b.stale()
	case Kept:
		b.kept.add(e)
	case Build:
		return addThing[log.Build](b.builds, e, func(v log.Build) string { return v.ID })
	case Tester:
		b.stale()
		return addThing[log.Tester](b.testers, e, func(v log.Tester) string { return v.ID })
	case Protocol:
		return addThing[rules.Protocol](b.protocols, e, func(v rules.Protocol) string { return v.ID })
	case Plan:
		return addThing[rules.Interval](b.plans, e, func(v rules.Interval) string { return v.Duty })
	case Rule:
		return addThing[rules.Own](b.rules, e, func(v rules.Own) string { return v.ID })
	case Units:
		return addThing[units.Choice](b.shown, e, oneForAll)
	case Columns:
		return addThing[rules.SheetColumns](b.columns, e, func(v rules.SheetColumns) string { return v.ID })
	case Meeting, Car, Start, Job, Terms:
		return b.placeAhead(e)
	case PutOff:
		_, faults := read[log.PutOff](e)
		if len(faults) == 0 {
			b.putOff = append(b.putOff, e)
		}
		return faults
	case Event:
		_, faults := read[log.Event](e)
		if len(faults) == 0 {
			b.events = append(b.events, e)
		}
		return faults
	case Note:
		_, faults := read[log.Note](e)
		if len(faults) == 0 {
			b.notes = append(b.notes, e)
		}
		return faults
	case Test, Whole:
		return b.placeTest(e, admitted)
	case Pull, Leakdown, Look, Photo:
		if _, ok := ofEngine(e); ok {
			b.notes = append(b.notes, e)
			return nil
		}
		return b.placeReading(e)
	case Tick:
		body, faults := read[TickBody](e)
		if len(faults) == 0 {
			t := b.test(body.Test)
			t.ticks.add(e)
			t.dirty = true
		}
		return faults
	case Strike, Unstrike, AsRead, Move:
		return b.placeMark(e)
	default:
		return log.Faults{log.At("/kind", "book.kind-entry-braxel-doesnt-know", "kind", e.Kind)}
	}
	return nil
}

// addThing files a change under the id that it names; what its fields may hold is asked when the changes are folded.
func addThing[T any](all things, e *Entry, id func(T) string) log.Faults {
	var body T
	if err := json.Unmarshal(e.Body, &body); err != nil {
		return log.Faults{DecodeFault(err)}
	}
	if id(body) == "" {
		return log.Faults{log.At("/id", "book.which-one-needs-id")}
	}
	all.add(id(body), e)
	return nil
}

func (b *Book) placeMark(e *Entry) log.Faults {
	body, faults := read[MarkBody](e)
	if len(faults) > 0 {
		return faults
	}
	target := body.target()
	b.marks[target] = append(b.marks[target], mark{e, body})
	b.folded = nil
	if body.ToTest != "" {
		b.moved = append(b.moved, target)
		b.stale()
	}
	// A mark on a reading is seen in its test alone; one on anything else may be seen anywhere.
	if it := b.items[target]; it != nil {
		b.test(it.test).dirty = true
		return nil
	}
	b.stale()
	return nil
}

// ShopChanged says that a tester of the workshop is not what it was.
func (b *Book) ShopChanged() { b.stale() }

// stale says that every test is to be made anew.
func (b *Book) stale() {
	for _, t := range b.tests {
		t.dirty = true
	}
}

// Begun reports whether the engine of this book has been entered.
func (b *Book) Begun() bool { return len(b.engine) > 0 }

// StruckEngine returns why the engine as a whole was struck, or "".
func (b *Book) StruckEngine() string {
	if len(b.engine) == 0 {
		return ""
	}
	return b.struck(b.engine[0].ID)
}

// folded is what the changes of the engine come to.
type folded struct {
	engine  log.Engine
	clashes []Clash
	apart   []Unplaced
}

// foldEngine folds the changes of the engine, once until something of it changes: every reading asks which cylinders there are. What it
// returns is not to be changed.
func (b *Book) foldEngine() (log.Engine, []Clash, []Unplaced) {
	if b.folded == nil {
		e, clashes, apart := fold(b.engine, b.struck, func(e log.Engine) log.Faults { return e.Check() })
		e.ID = b.id
		b.folded = &folded{e, clashes, apart}
	}
	return b.folded.engine, b.folded.clashes, b.folded.apart
}

// Name returns what the engine is called.
func (b *Book) Name() string {
	e, _, _ := b.foldEngine()
	return e.Name
}

// Testers returns the testers of this book by id.
func (b *Book) Testers() []log.Tester {
	return foldAll[log.Tester](b.testers, b.struck)
}

// oneForAll is the name under which what a workshop has but once is filed.
func oneForAll(units.Choice) string { return Units }

// choice returns the units that the workshop chose. Unlike a thing that was begun, it stays when its first change is struck.
func (b *Book) choice() units.Choice {
	stands := slices.DeleteFunc(slices.Clone(b.shown[Units]), func(e *Entry) bool { return b.struck(e.ID) != "" })
	chosen, _, _ := fold(stands, b.struck, byFields[units.Choice])
	return chosen
}

// Sheets returns what was corrected in spreadsheets, and not taken back.
func (b *Book) Sheets() []rules.SheetColumns {
	return slices.DeleteFunc(foldAll[rules.SheetColumns](b.columns, b.struck), func(c rules.SheetColumns) bool { return len(c.Columns) == 0 })
}

// Rules returns what the workshop has of its own in the place of the built-in rules.
func (b *Book) Rules() rules.Shop {
	return rules.Shop{
		Protocols: foldAll[rules.Protocol](b.protocols, b.struck),
		Intervals: foldAll[rules.Interval](b.plans, b.struck),
		Own:       foldAll[rules.Own](b.rules, b.struck),
		Shown:     b.choice(),
	}
}

// foldAll returns every thing that was not struck whole, in the order of their ids.
func foldAll[T any](all things, struck func(string) string) []T {
	ids := all.sorted()
	slices.Sort(ids)
	out := make([]T, 0, len(ids))
	for _, id := range ids {
		if struck(all[id][0].ID) != "" {
			continue
		}
		v, _, apart := fold(all[id], struck, func(v T) log.Faults { return log.CheckFields("", v) })
		if len(apart) == len(all[id]) {
			continue
		}
		out = append(out, v)
	}
	return out
}

// Log returns the engine and its history as the entries tell it, with what was struck, marked. Others may read what is
// returned: the book does not change it again. The testers are those of this book, and of the shop those that are used.
func (b *Book) Log(shop *Book) log.Log {
	l := log.Log{Format: log.Format, Version: log.Version, Sessions: []log.Session{}}
	b.made, _, _ = b.foldEngine()
	l.Engine = b.made
	clear(b.has)
	for _, c := range b.made.Cylinders() {
		b.has[b.made.Place(c)] = b.made.Kind != log.Rotary
	}
	for _, e := range b.kept {
		_ = json.Unmarshal(e.Body, &l.Rest)
	}
	l.Builds = b.foldBuilds()
	l.Events = happened(b, b.events, func(e *Entry, v *log.Event) {
		v.Key, v.Struck = cmp.Or(v.Key, e.ID), cmp.Or(v.Struck, b.struck(e.ID))
	})
	slices.SortStableFunc(l.Events, func(a, b log.Event) int { return cmp.Compare(a.Date, b.Date) })
	l.Notes = happened(b, b.notes, func(e *Entry, v *log.Note) {
		if picture, ok := ofEngine(e); ok {
			*v = picture
		}
		v.Key, v.Struck = cmp.Or(v.Key, e.ID), cmp.Or(v.Struck, b.struck(e.ID))
	})
	l.PutOff = happened(b, b.putOff, func(e *Entry, v *log.PutOff) {
		v.Key, v.Struck = cmp.Or(v.Key, e.ID), cmp.Or(v.Struck, b.struck(e.ID))
	})
	l.Testers = b.Testers()
	division := divisions(l.Testers, shop)
	for _, t := range b.inOrder() {
		if !t.begun() {
			continue
		}
		if t.dirty {
			b.build(t, division)
		}
		if t.stands {
			l.Sessions = append(l.Sessions, t.made)
		}
	}
	slices.SortStableFunc(l.Sessions, func(a, b log.Session) int { return cmp.Compare(a.Date, b.Date) })
	l.Testers = withShops(l, shop)
	return l
}

func (b *Book) foldBuilds() []log.Build {
	var all []log.Build
	for _, id := range b.builds.sorted() {
		v, _, apart := fold(b.builds[id], b.struck, func(v log.Build) log.Faults { return log.CheckFields("", v) })
		if len(apart) == len(b.builds[id]) {
			continue
		}
		v.Struck = cmp.Or(b.struck(b.builds[id][0].ID), v.Struck)
		all = append(all, v)
	}
	return all
}

// happened returns the bodies of entries in their order, each finished by finish; of two with one key the first stands.
func happened[T any](b *Book, entries []*Entry, finish func(*Entry, *T)) []T {
	slices.SortFunc(entries, before)
	var all []T
	seen := map[string]bool{}
	for _, e := range entries {
		key := keyOf(e)
		if seen[key] {
			continue
		}
		seen[key] = true
		v, _ := read[T](e)
		finish(e, &v)
		all = append(all, v)
	}
	return all
}

// keyOf returns the name of what happened: the one that it came in with, else its entry's.
func keyOf(e *Entry) string {
	var body struct {
		Key string `json:"key"`
	}
	_ = json.Unmarshal(e.Body, &body)
	return cmp.Or(body.Key, e.ID)
}

// Behind returns the entries behind the builds, tests, events, notes and put-offs of the log, by kind and key, and the one that began the
// engine by its kind: what strikes them.
func (b *Book) Behind() map[string]string {
	behind := map[string]string{}
	if len(b.engine) > 0 {
		behind[Engine] = b.engine[0].ID
	}
	for kind, entries := range map[string][]*Entry{Event: b.events, Note: b.notes, PutOff: b.putOff} {
		for _, e := range entries {
			name := kind + " " + keyOf(e)
			if behind[name] == "" {
				behind[name] = e.ID
			}
		}
	}
	for id, all := range b.builds {
		if len(all) > 0 {
			behind[Build+" "+id] = all[0].ID
		}
	}
	for id, t := range b.tests {
		if t.begun() {
			behind[Test+" "+id] = t.first().ID
		}
	}
	return behind
}

// testersUsed returns the ids of the testers that a log's tests name.
func testersUsed(l log.Log) map[string]bool {
	used := map[string]bool{}
	for _, s := range l.Sessions {
		used[s.Gauge], used[s.Kit] = true, true
		for _, row := range s.Compression {
			used[row.Tester] = true
		}
		for _, row := range s.Leakdown {
			used[row.Tester] = true
		}
	}
	return used
}

// withShops returns the log's testers with those of the shop that it uses, by id.
func withShops(l log.Log, shop *Book) []log.Tester {
	if shop == nil {
		return l.Testers
	}
	used := testersUsed(l)
	for _, t := range l.Testers {
		used[t.ID] = false // its own stand before the shop's
	}
	all := l.Testers
	for _, t := range shop.Testers() {
		if used[t.ID] {
			all = append(all, t)
		}
	}
	slices.SortFunc(all, func(a, b log.Tester) int { return cmp.Compare(a.ID, b.ID) })
	return all
}

// Unplaced returns the entries that stand nowhere but in the book.
func (b *Book) Unplaced() []Unplaced {
	all := slices.Clone(b.unplaced)
	_, _, apart := b.foldEngine()
	all = append(all, apart...)
	for _, t := range b.inOrder() {
		if !t.begun() {
			for _, it := range t.items {
				all = append(all, Unplaced{Entry: it.entry.ID, Kind: it.entry.Kind, Why: say.Text("book.test-test-was-never-started", "id", t.id)})
			}
			continue
		}
		all = append(all, t.unplaced...)
	}
	for target, marks := range b.marks {
		if _, there := b.entries[target.key]; (!there || target.test != "") && b.items[target] == nil {
			for _, m := range marks {
				all = append(all, Unplaced{Entry: m.ID, Kind: m.Kind, Why: say.Text("book.entry-there-no-entry", "entry", m.body.Entry)})
			}
		}
	}
	if !b.Begun() && b.id != "" {
		all = append(all, Unplaced{Entry: "", Kind: Engine, Why: say.Text("book.engine-itself-was-never-added")})
	}
	slices.SortFunc(all, func(a, b Unplaced) int { return cmp.Or(cmp.Compare(a.Entry, b.Entry), cmp.Compare(a.Why, b.Why)) })
	return all
}

// Clashes returns the fields of the engine and its tests that two changed without sight of each other, by the test's id; ""
// is the engine itself.
func (b *Book) Clashes() map[string][]Clash {
	all := map[string][]Clash{}
	if _, clashes, _ := b.foldEngine(); len(clashes) > 0 {
		all[""] = clashes
	}
	for id, t := range b.tests {
		if len(t.clashes) > 0 {
			all[id] = t.clashes
		}
	}
	return all
}

// Entries returns all entries in their order.
func (b *Book) Entries() []Entry {
	all := make([]Entry, 0, len(b.entries))
	for _, e := range b.entries {
		all = append(all, *e)
	}
	slices.SortFunc(all, func(a, b Entry) int { return before(&a, &b) })
	return all
}

// raw returns v as JSON.
func raw(v any) jsontext.Value {
	text, err := json.Marshal(v, json.Deterministic(true))
	if err != nil {
		return jsontext.Value("{}")
	}
	return text
}
