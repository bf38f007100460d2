package book

import (
	"bytes"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/inspect"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/sheet"
	"braxel/internal/core/units"
)

// Results of an entry that was handed in.
const (
	IsKept    = "kept"
	IsAlready = "already"
	IsRefused = "refused"
)

// Answer is what became of an entry. A refused one is named by field, with a sentence; where Ask is set it may be handed in
// again as sure.
type Answer struct {
	ID     string     `json:"id"`
	Result string     `json:"result" enum:"kept,already,refused"`
	Field  string     `json:"field,omitzero" doc:"The field of the body that is refused, as a JSON Pointer"`
	Why    string     `json:"why,omitzero"`
	Faults log.Faults `json:"faults,omitempty" doc:"Every field that is refused"`
	Doubt  string     `json:"doubt,omitzero" doc:"It is saved, but should be checked"`
	Ask    bool       `json:"ask,omitzero" doc:"It is saved if it is sent again as sure"`
}

// Refuse makes an answer of what is wrong with an entry.
func Refuse(id string, faults log.Faults) Answer {
	return Answer{ID: id, Result: IsRefused, Field: faults[0].At, Why: faults[0].What, Faults: faults}
}

// Ask refuses an entry that may be meant all the same: handed in as sure, it is kept.
func Ask(id string, faults log.Faults) Answer {
	answer := Refuse(id, faults)
	answer.Ask = true
	return answer
}

// bodyMost is as large as a typed body may be; a whole test may be larger.
const (
	bodyMost  = 64 << 10
	wholeMost = 4 << 20
)

// CheckEnvelope returns what is wrong with an entry before any book is opened: its name, its time, its kind, its size.
func CheckEnvelope(e Entry) log.Faults {
	var f log.Faults
	bad := func(at, id string, pairs ...any) { f = append(f, log.At(at, id, pairs...)) }
	if !plainID.MatchString(e.ID) {
		bad("/id", "book.entry-id-has-1-64")
	}
	if at, err := time.Parse(time.RFC3339Nano, e.At); err != nil || at.Year() < 1900 || at.Year() >= 2200 {
		bad("/at", "book.needs-date-time-such-as")
	}
	ofShop := e.Kind == Protocol || e.Kind == Plan || e.Kind == Rule || e.Kind == Units || e.Kind == Columns || isAhead(e.Kind)
	workshops := ofShop || e.Kind == Tester || e.Kind == Strike || e.Kind == Unstrike // of what the workshop changed
	switch _, known := Bodies[e.Kind]; {
	case !known && e.Kind != Kept:
		bad("/kind", "book.not-kind-entry", "kind", e.Kind)
	case e.Engine == "" && !workshops:
		bad("/engine", "book.which-engine-for")
	case e.Engine != "" && ofShop:
		bad("/engine", "book.belongs-shop-not-engine", "kind", e.Kind)
	}
	f = append(f, log.CheckFields("", struct {
		By     string `json:"by,omitzero" maxLength:"120"`
		Engine string `json:"engine,omitzero" maxLength:"120" minLength:"1"`
	}{e.By, e.Engine})...)
	most := bodyMost
	if e.Kind == Whole || e.Kind == Kept {
		most = wholeMost
	}
	switch {
	case len(e.Body) > most:
		bad("", "book.too-large-kb-entry-may", "n", len(e.Body)>>10, "most", most>>10)
	case e.Body.Kind() != '{':
		bad("", "book.entry-needs-body-object")
	case depth(e.Body) > deepestOf(e.Kind):
		bad("", "book.objects-lists-nested-more-than", "deepestOf", deepestOf(e.Kind))
	}
	switch {
	case len(e.Was) == 0:
	case e.Was.Kind() != '{':
		bad("/was", "book.earlier-values-must-object")
	case len(e.Was) > bodyMost:
		bad("/was", "book.too-large-kb-at-most", "n", len(e.Was)>>10, "bodyMost", bodyMost>>10)
	case depth(e.Was) > deepestBody:
		bad("/was", "book.objects-lists-nested-more-than-2", "deepestBody", deepestBody)
	}
	return f
}

// How deep objects and lists may stand in each other: in what is typed, a layout's names stand four deep; a log from elsewhere may have keys
// of its own.
const (
	deepestBody  = 12
	deepestWhole = 64
)

func deepestOf(kind string) int {
	if kind == Whole || kind == Kept {
		return deepestWhole
	}
	return deepestBody
}

// depth is how many objects and lists stand in each other. It takes one walk over the text, however it is nested.
func depth(v jsontext.Value) int {
	deepest, now, quoted := 0, 0, false
	for i := 0; i < len(v); i++ {
		switch c := v[i]; {
		case quoted && c == '\\':
			i++
		case c == '"':
			quoted = !quoted
		case quoted:
		case c == '{' || c == '[':
			now++
			deepest = max(deepest, now)
		case c == '}' || c == ']':
			now--
		}
	}
	return deepest
}

// Strict returns the keys of an entry's body that mean nothing here: what is typed in Braxel has none.
func Strict(e Entry) log.Faults {
	empty, known := Bodies[e.Kind]
	if !known {
		return nil
	}
	body := reflect.New(reflect.TypeOf(empty))
	if err := json.Unmarshal(e.Body, body.Interface()); err != nil {
		return log.Faults{DecodeFault(err)}
	}
	var f log.Faults
	for _, at := range log.Strangers(body.Interface()) {
		f = append(f, log.At(at, "book.there-no-such-field"))
	}
	return f[:min(len(f), 20)]
}

// Admit says whether an entry may be written into a book, that of its engine or the workshop's: a refusal with every fault,
// or an answer that it is kept or there already, and whether it is doubted. It changes nothing. The envelope has been checked.
func Admit(b, shop *Book, e Entry) Answer {
	if have, there := b.entries[e.ID]; there {
		if Same(*have, e) {
			return Answer{ID: e.ID, Result: IsAlready, Doubt: have.Doubt}
		}
		return Refuse(e.ID, log.Faults{log.At("/id", "book.another-entry-has-id-so")})
	}
	if !b.Begun() && e.Kind != Engine && e.Engine != "" {
		return Refuse(e.ID, log.Faults{log.At("/engine", "book.there-no-engine", "engine", e.Engine)})
	}
	switch e.Kind {
	case Engine:
		return b.admitEngine(e)
	case Build:
		return verdictOn(e, admitThing(b.builds, b, e, func(v log.Build) string { return v.ID }, byFields[log.Build]))
	case Tester:
		return verdictOn(e, admitTester(b, e))
	case Protocol:
		return verdictOn(e, admitThing(b.protocols, b, e, func(v rules.Protocol) string { return v.ID }, rules.Protocol.Check))
	case Plan:
		return verdictOn(e, admitThing(b.plans, b, e, func(v rules.Interval) string { return v.Duty }, byFields[rules.Interval]))
	case Rule:
		return verdictOn(e, admitThing(b.rules, b, e, func(v rules.Own) string { return v.ID }, b.Rules().CheckOwn))
	case Units:
		return verdictOn(e, admitThing(b.shown, b, e, oneForAll, byFields[units.Choice]))
	case Columns:
		return verdictOn(e, admitThing(b.columns, b, e, func(v rules.SheetColumns) string { return v.ID }, byFields[rules.SheetColumns]))
	case Meeting, Car, Start, Job, Terms:
		return verdictOn(e, b.admitAhead(e))
	case PutOff:
		_, f := read[log.PutOff](&e)
		return verdictOn(e, f)
	case Event:
		return verdictOn(e, b.admitEvent(&e))
	case Note:
		_, f := read[log.Note](&e)
		return verdictOn(e, f)
	case Kept:
		return verdictOn(e, nil)
	case Test:
		return verdictOn(e, b.admitTest(shop, e))
	case Whole:
		return verdictOn(e, b.admitWhole(e))
	case Pull, Leakdown, Look, Photo:
		if _, ok := ofEngine(&e); ok {
			return verdictOn(e, nil)
		}
		return b.admitReading(shop, e)
	case Tick:
		return verdictOn(e, b.admitTick(e))
	}
	return verdictOn(e, b.admitMark(shop, e))
}

// mostTicks is as many lines as a test's lists may have.
const mostTicks = 200

func (b *Book) admitTick(e Entry) log.Faults {
	body, f := read[TickBody](&e)
	if f = append(f, b.mustStand(body.Test)...); len(f) > 0 {
		return f
	}
	if ticks := b.ticks(b.tests[body.Test], nil); body.Done && len(ticks) >= mostTicks {
		return log.Faults{log.At("/line", "book.no-list-has-many-lines")}
	}
	return nil
}

func verdictOn(e Entry, f log.Faults) Answer {
	if len(f) > 0 {
		return Refuse(e.ID, f)
	}
	return Answer{ID: e.ID, Result: IsKept}
}

// Arrived returns an entry as it is kept when it arrives at now: its time in the book's form, and in its place.
//
// A device whose clock runs ahead is set to now, or behind the last entry where the clock here was set back: then that is later.
// A device whose clock is slow can't have changed what wasn't there, or what it names as seen: its entry comes after that.
func (b *Book) Arrived(e Entry, now time.Time) Entry {
	e = withClock(e)
	if here := now.UTC().Format(Clock); e.At > max(here, b.latest) {
		if here <= b.latest {
			here = justAfter(b.latest)
		}
		e = e.at(here)
	}
	if e.At > b.latest {
		return e
	}
	if seen := b.seenBy(&e); seen != nil && before(seen, &e) >= 0 {
		e = e.at(justAfter(seen.At))
	}
	return e
}

// Latest returns the time of the last entry in the book, "" where there is none.
func (b *Book) Latest() string { return b.latest }

// seenBy returns the latest entry of which this one shows that whoever typed it knew it: the beginning of what it changes, the last
// change to a field that it says it saw, the entry that it is about. It is nil where it shows none.
func (b *Book) seenBy(e *Entry) *Entry {
	switch e.Kind {
	case Strike, Unstrike, AsRead, Move:
		var body MarkBody
		if json.Unmarshal(e.Body, &body) != nil {
			return nil
		}
		return b.entries[body.Entry]
	}
	changes := b.changesOf(e)
	if len(changes) == 0 {
		return nil
	}
	seen := changes[0]
	was := map[string][]byte{}
	leaves("", e.Was, was)
	for _, earlier := range changes {
		set := map[string][]byte{}
		leaves("", earlier.Body, set)
		for field, value := range set {
			if bytes.Equal(was[field], value) && before(seen, earlier) < 0 {
				seen = earlier
			}
		}
	}
	return seen
}

// changesOf returns the changes so far of the thing that an entry changes.
func (b *Book) changesOf(e *Entry) changes {
	var named struct {
		ID string `json:"id"`
	}
	_ = json.Unmarshal(e.Body, &named)
	switch e.Kind {
	case Engine:
		return b.engine
	case Build:
		return b.builds[named.ID]
	case Tester:
		return b.testers[named.ID]
	case Protocol:
		return b.protocols[named.ID]
	case Plan:
		return b.plans[named.ID]
	case Rule:
		return b.rules[named.ID]
	case Units:
		return b.shown[oneForAll(units.Choice{})]
	case Columns:
		return b.columns[named.ID]
	case Meeting, Car, Start, Job:
		return b.season[e.Kind][named.ID]
	case Terms:
		return b.season[Terms][Terms]
	case Test:
		if t := b.tests[named.ID]; t != nil && t.begun() {
			return t.head()
		}
	}
	return nil
}

// with returns the changes with one more.
func (c changes) with(e *Entry) changes {
	more := slices.Clone(c)
	more.add(e)
	return more
}

// apart returns what a fold found wrong with one of its entries.
func apart(e Entry, all []Unplaced) log.Faults {
	var f log.Faults
	for _, one := range all {
		if one.Entry == e.ID {
			f = append(f, one.fault)
		}
	}
	return f
}

func (b *Book) admitEngine(e Entry) Answer {
	var alone log.Engine
	if err := json.Unmarshal(e.Body, &alone); err != nil {
		return Refuse(e.ID, log.Faults{DecodeFault(err)})
	}
	if alone.ID != "" && alone.ID != e.Engine {
		return Refuse(e.ID, log.Faults{log.At("/id", "book.engines-id-never-changes")})
	}
	now, _, out := fold(b.engine.with(&e), b.struck, func(v log.Engine) log.Faults { return v.Check() })
	if f := apart(e, out); len(f) > 0 {
		// Every fault of the engine as it would be, not only the first.
		before, _, _ := fold(b.engine, b.struck, func(e log.Engine) log.Faults { return e.Check() })
		_ = json.Unmarshal(e.Body, &before)
		if all := before.Check(); len(all) > 0 {
			f = all
		}
		return Refuse(e.ID, f)
	}
	if lost := b.orphans(now); len(lost) > 0 && !e.Sure {
		return Ask(e.ID, lost)
	}
	return Answer{ID: e.ID, Result: IsKept}
}

// orphans says which readings would count for nothing were the engine so, or "".
func (b *Book) orphans(e log.Engine) log.Faults {
	if !b.Begun() {
		return nil
	}
	was, _, _ := b.foldEngine()
	readings, tests := map[string]int{}, map[string]bool{}
	n := 0
	for _, it := range b.items {
		var place log.Place
		switch {
		case it.pull != nil:
			place = it.pull.Place
		case it.leak != nil:
			place = it.leak.Place
		default:
			continue
		}
		if marks := b.stateOf(it); marks.place != (log.Place{}) {
			place = marks.place
		} else if marks.struck != "" {
			continue
		}
		face := it.pull != nil
		if len(was.CheckPlace(place, "", face)) == 0 && len(e.CheckPlace(place, "", face)) > 0 && readings[it.test+it.name] == 0 {
			readings[it.test+it.name]++
			tests[it.test] = true
			n++
		}
	}
	if n == 0 {
		return nil
	}
	in := say.Text("book.tests", "n", len(tests))
	return log.Faults{log.At("/layout", "book.readings-cylinders-engine-would-no", "n", n, "tests", in)}
}

// byFields holds a value against what its fields may hold.
func byFields[T any](v T) log.Faults { return log.CheckFields("", v) }

func admitThing[T any](all things, b *Book, e Entry, id func(T) string, check func(T) log.Faults) log.Faults {
	var body T
	if err := json.Unmarshal(e.Body, &body); err != nil {
		return log.Faults{DecodeFault(err)}
	}
	if id(body) == "" {
		return log.Faults{log.At("/id", "book.which-one-needs-id")}
	}
	_, _, out := fold(all[id(body)].with(&e), b.struck, check)
	return apart(e, out)
}

func admitTester(b *Book, e Entry) log.Faults {
	id := func(v log.Tester) string { return v.ID }
	if f := admitThing(b.testers, b, e, id, byFields[log.Tester]); len(f) > 0 {
		return f
	}
	var body log.Tester
	_ = json.Unmarshal(e.Body, &body)
	if e.Engine == "" && body.Name == "" && len(b.testers[body.ID]) == 0 {
		return log.Faults{log.At("/name", "book.tester-needs-name")}
	}
	return nil
}

// mustStand names a test that was never begun, or that is struck.
func (b *Book) mustStand(test string) log.Faults {
	t := b.tests[test]
	if t == nil || !t.begun() {
		return log.Faults{log.At("/test", "book.there-no-test-engine", "test", test)}
	}
	return nil
}

func (b *Book) admitTest(shop *Book, e Entry) log.Faults {
	var s log.Session
	if err := json.Unmarshal(e.Body, &s); err != nil {
		return log.Faults{DecodeFault(err)}
	}
	if len(s.Compression)+len(s.Leakdown)+len(s.Observations)+len(s.Ticks) > 0 {
		return log.Faults{log.At("/compression", "book.readings-ticks-test-entered-one")}
	}
	var head changes
	if t := b.tests[s.ID]; t != nil {
		head = t.head()
	}
	_, _, out := fold(head.with(&e), b.struck, func(s log.Session) log.Faults {
		s.Compression, s.Leakdown, s.Observations = nil, nil, nil
		return log.CheckFields("", s)
	})
	f := apart(e, out)
	if _, there := b.builds[s.Build]; s.Build != "" && !there {
		f = append(f, log.At("/build", "book.there-no-build-engine", "build", s.Build))
	}
	engine, _, _ := b.foldEngine()
	f = append(f, engine.CheckTouched(s.Touched, "/touched")...)
	return append(append(f, b.mustHave(shop, s.Gauge, "/gauge")...), b.mustHave(shop, s.Kit, "/kit")...)
}

// admitEvent checks an event; one that is no repair says nothing of work.
func (b *Book) admitEvent(e *Entry) log.Faults {
	v, f := read[log.Event](e)
	if len(f) > 0 {
		return f
	}
	if v.Kind != log.Repair && (v.Work != "" || len(v.Cylinders) > 0 || v.After != "") {
		return log.Faults{log.At("/kind", "book.only-a-repair")}
	}
	engine, _, _ := b.foldEngine()
	return append(f, engine.CheckTouched(v.Cylinders, "/cylinders")...)
}

// mustHave names a tester that neither the engine's log nor the workshop lists.
func (b *Book) mustHave(shop *Book, tester, at string) log.Faults {
	if tester == "" || len(b.testers[tester]) > 0 || len(shop.testers[tester]) > 0 {
		return nil
	}
	// One that an older reading of this engine names is known, if by name only.
	for _, it := range b.items {
		if (it.pull != nil && it.pull.Tester == tester) || (it.leak != nil && it.leak.Tester == tester) {
			return nil
		}
	}
	return log.Faults{log.At(at, "book.there-no-tester", "tester", tester)}
}

func (b *Book) admitWhole(e Entry) log.Faults {
	s, f := read[log.Session](&e)
	if f = append(f, given(&e)...); len(f) > 0 {
		return f
	}
	if t := b.tests[s.ID]; t != nil && t.begun() {
		return log.Faults{log.At("/id", "book.there-already-test", "id", s.ID)}
	}
	engine, _, _ := b.foldEngine()
	return append(named(s), s.Check(engine, "")...)
}

func (b *Book) admitReading(shop *Book, e Entry) Answer {
	it, f := itemOf(&e)
	if len(f) > 0 {
		return Refuse(e.ID, f)
	}
	if have := b.items[name{it.test, it.name}]; have != nil && alike(have, it) {
		return Answer{ID: e.ID, Result: IsAlready}
	} else if have != nil {
		return Refuse(e.ID, log.Faults{log.At("/key", "book.another-reading-test-has-name")})
	}
	f = b.mustStand(it.test)
	engine, _, _ := b.foldEngine()
	switch {
	case it.pull != nil:
		f = append(append(f, engine.CheckPlace(it.pull.Place, "", true)...), b.mustHave(shop, it.pull.Tester, "/tester")...)
	case it.leak != nil:
		f = append(append(f, engine.CheckPlace(it.leak.Place, "", false)...), b.mustHave(shop, it.leak.Tester, "/tester")...)
		for i, p := range it.leak.Paths {
			if p.Cylinder != 0 && !slices.Contains(engine.Cylinders(), p.Cylinder) {
				f = append(
					f,
					log.At(fmt.Sprintf("/paths/%d/cylinder", i), "book.engine-has-no-cylinder",
						"cylinder", p.Cylinder),
				)
			}
		}
	case it.look.Inspected():
		f = append(f, inspect.CheckAnswer(engine, *it.look)...)
	case it.look.Place != (log.Place{}):
		f = append(f, engine.CheckPlace(it.look.Place, "", false)...)
	}
	if len(f) > 0 {
		return Refuse(e.ID, f)
	}
	answer := Answer{ID: e.ID, Result: IsKept}
	if it.pull != nil && !e.Sure {
		answer.Doubt = sheet.Doubts(b.Log(shop).Standing(), it.test, *it.pull, shop.Rules())
	}
	return answer
}

// beganTester reports whether an entry is the one that the workshop has a tester by: readings may be of it.
func (b *Book) beganTester(e *Entry) bool {
	all := b.changesOf(e)
	return b.id == "" && e.Kind == Tester && len(all) > 0 && all[0].ID == e.ID
}

func (b *Book) admitMark(shop *Book, e Entry) log.Faults {
	body, f := read[MarkBody](&e)
	if e.Kind == Strike && strings.TrimSpace(body.Why) == "" {
		f = append(f, log.At("/why", "book.say-why-struck"))
	}
	it := b.items[body.target()]
	if _, there := b.entries[body.Entry]; (!there || body.Test != "") && it == nil {
		f = append(f, log.At("/entry", "book.there-no-entry-change", "entry", body.Entry))
	}
	if of := b.entries[body.Entry]; of != nil && e.Kind == Strike && b.beganTester(of) {
		f = append(f, log.At("/entry", "book.tester-not-struck"))
	}
	if e.Kind != Move || len(f) > 0 {
		return f
	}
	if it == nil {
		return log.Faults{log.At("/entry", "book.only-reading-can-moved")}
	}
	if body.Place == (log.Place{}) && body.ToTest == "" && body.Tester == "" {
		return log.Faults{log.At("/cylinder", "book.which-cylinder")}
	}
	if body.ToTest != "" {
		f = b.mustStand(body.ToTest)
	}
	f = append(f, b.mustHave(shop, body.Tester, "/tester")...)
	if body.Place != (log.Place{}) {
		engine, _, _ := b.foldEngine()
		f = append(f, engine.CheckPlace(body.Place, "", it.pull != nil)...)
	}
	return f
}
