package book

import (
	"bytes"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// EngineID returns the id by which a log's engine is kept: its own, else one made of its name, its figures and its first test,
// so that the same log is the same engine whenever it comes in.
func EngineID(l log.Log) string {
	if l.Engine.ID != "" {
		return l.Engine.ID
	}
	first := ""
	if len(l.Sessions) > 0 {
		first = string(raw(l.Sessions[0]))
	}
	const enough = 8
	return Slug(l.Engine.Name, "engine") + "-" + NameOf("engine", string(raw(l.Engine)), first)[:enough]
}

var notInSlug = regexp.MustCompile(`[^a-z0-9]+`)

// Slug makes a name plain enough for an address: lower-case letters and digits of the Latin alphabet, hyphens between.
func Slug(name, otherwise string) string {
	const most = 40
	slug := notInSlug.ReplaceAllString(strings.ToLower(name), "-")
	slug = strings.Trim(slug[:min(len(slug), most)], "-")
	if slug == "" {
		return otherwise
	}
	return slug
}

// importer turns a log into the entries that a book lacks of it.
type importer struct {
	engine  string
	b, shop *Book
	entries []Entry
	differs []Differing
}

// FromLog returns the entries that a book and the shop's lack of a log, and what the log has otherwise than they. The log has
// been checked, or comes from an older file: what no engine could have is then broken up into single entries, so that the
// rest of it stands. The same log gives the same entries, in whatever file: their ids are made of what they say, and they stand
// before all that was typed. A tester that has a name, is used, and whose id is free becomes the shop's; any other is the
// engine's own.
func FromLog(l log.Log, b, shop *Book) ([]Entry, []Differing) {
	im := &importer{engine: EngineID(l), b: b, shop: shop}
	have := b.Log(shop)
	im.takeEngine(l, have)
	im.takeTesters(l, have)
	for i, one := range l.Builds {
		im.take(Build, one.ID, one, find(have.Builds, func(h log.Build) bool { return h.ID == one.ID }), fmt.Sprintf("/builds/%d", i))
	}
	takeAll(im, Event, l.Events, have.Events, "/events", func(v *log.Event) *string { return &v.Key })
	takeAll(im, Note, l.Notes, have.Notes, "/notes", func(v *log.Note) *string { return &v.Key })
	takeAll(im, PutOff, l.PutOff, have.PutOff, "/put_off", func(v *log.PutOff) *string { return &v.Key })
	for i, s := range l.Sessions {
		s = WithKeys(s)
		if len(log.CheckFields("", s))+len(s.Check(l.Engine, "")) > 0 {
			im.breakUp(s)
			continue
		}
		im.take(Whole, s.ID, s, find(have.Sessions, func(h log.Session) bool { return h.ID == s.ID }), fmt.Sprintf("/sessions/%d", i))
	}
	return im.entries, im.differs
}

// takeAll takes in what happened. One that has no key is given one made of what it says and where it stands.
func takeAll[T any](im *importer, kind string, all, have []T, at string, key func(*T) *string) {
	for i := range all {
		if k := key(&all[i]); *k == "" {
			*k = NameOf(kind, im.engine, fmt.Sprint(i), string(raw(all[i])))
		}
		there := find(have, func(h T) bool { return *key(&h) == *key(&all[i]) })
		im.take(kind, "", all[i], there, fmt.Sprintf("%s/%d", at, i))
	}
}

// take adds an entry for what the book has not, and says where it has it otherwise.
func (im *importer) take(kind, id string, v, have any, at string) {
	if have != nil {
		if !bytes.Equal(raw(v), raw(have)) {
			im.differ(at, v, have, kind == Build || kind == Whole, say.Text("book.here-already-says-something-else",
				"inLog", inLog[kind],
				"id", id,
			))
		}
		return
	}
	im.add(kind, im.engine, raw(v))
}

// inLog is what each kind is called where a log is told of.
var inLog = map[string]string{
	Build:  say.Text("book.build"),
	Event:  say.Text("book.event"),
	Note:   say.Text("book.note"),
	PutOff: say.Text("book.something-postponed"),
	Whole:  say.Text("book.test"),
}

// differ notes what the log has otherwise than the book.
func (im *importer) differ(at string, there, here any, choice bool, what string) {
	im.differs = append(im.differs, Differing{at, strings.TrimSpace(what), sides(raw(here), raw(there)), choice})
}

func (im *importer) add(kind, engine string, body []byte) {
	im.entries = append(im.entries, Entry{
		ID: NameOf(kind, engine, string(body)), At: time.UnixMilli(int64(len(im.entries))).UTC().Format(Clock),
		By: "import", Engine: engine, Kind: kind, Body: body,
	})
}

func (im *importer) takeEngine(l, have log.Log) {
	e := l.Engine
	e.ID = im.engine
	if !im.b.Begun() {
		e.ID = ""
		if len(e.Check()) > 0 {
			im.breakUpEngine(e)
		} else {
			im.add(Engine, im.engine, raw(e))
		}
		if len(l.Rest) > 0 {
			im.add(Kept, im.engine, compact(l.Rest))
		}
		return
	}
	if !bytes.Equal(raw(e), raw(have.Engine)) {
		im.differ("/engine", e, have.Engine, true, say.Text("book.engine-here-already-with-other", "engine", im.engine))
	}
}

func (im *importer) takeTesters(l, have log.Log) {
	shops := map[string]log.Tester{}
	for _, t := range im.shop.Testers() {
		shops[t.ID] = t
	}
	used := testersUsed(l)
	for i, t := range l.Testers {
		shop, taken := shops[t.ID]
		mine := find(have.Testers, func(h log.Tester) bool { return h.ID == t.ID })
		switch {
		case mine != nil || taken && bytes.Equal(raw(t), raw(shop)):
			if mine != nil && !bytes.Equal(raw(t), raw(mine)) {
				im.differ(fmt.Sprintf("/testers/%d", i), t, mine, true, say.Text("book.tester-here-already-with-other", "id", t.ID))
			}
		case t.Name != "" && used[t.ID] && !taken:
			im.add(Tester, "", raw(t))
		default:
			im.add(Tester, im.engine, raw(t))
		}
	}
}

// breakUpEngine enters an engine that no check would pass as one that passes, and then each of its fields by itself.
func (im *importer) breakUpEngine(e log.Engine) {
	sound := log.Engine{Name: e.Name, Kind: e.Kind, Layout: e.Layout}
	if len(sound.Check()) > 0 {
		sound = log.Engine{Name: im.engine, Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1}}}}
	}
	im.add(Engine, im.engine, raw(sound))
	im.eachField(Engine, raw(e), nil)
}

// eachField enters each field of an object by itself, beside those of base; of an object within it, each of its fields.
func (im *importer) eachField(kind string, object jsontext.Value, base map[string]jsontext.Value) {
	var fields map[string]jsontext.Value
	if json.Unmarshal(object, &fields) != nil {
		return
	}
	for _, field := range slices.Sorted(maps.Keys(fields)) {
		if _, there := base[field]; there {
			continue
		}
		var inner map[string]jsontext.Value
		if fields[field].Kind() != '{' || json.Unmarshal(fields[field], &inner) != nil {
			im.add(kind, im.engine, raw(with(base, field, fields[field])))
			continue
		}
		for _, within := range slices.Sorted(maps.Keys(inner)) {
			im.add(kind, im.engine, raw(with(base, field, raw(map[string]jsontext.Value{within: inner[within]}))))
		}
	}
}

func with(base map[string]jsontext.Value, field string, value jsontext.Value) map[string]jsontext.Value {
	one := map[string]jsontext.Value{field: value}
	maps.Copy(one, base)
	return one
}

// breakUp enters a test that no check would pass as one that passes, and then each field of its head and each of its readings
// by itself: those that are at fault stand in the book alone.
func (im *importer) breakUp(s log.Session) {
	date := s.Date
	if len(log.CheckFields("", log.Session{ID: s.ID, Date: date})) > 0 {
		date = "1900-01-01" // no day that anybody would take for the day of a test
	}
	im.add(Test, im.engine, raw(map[string]string{"id": s.ID, "date": date}))
	head := s
	head.Compression, head.Leakdown, head.Observations, head.Ticks = nil, nil, nil, nil
	im.eachField(Test, raw(head), map[string]jsontext.Value{"id": raw(s.ID)})
	for _, line := range s.Ticks {
		im.add(Tick, im.engine, raw(TickBody{Test: s.ID, Line: line, Done: true}))
	}
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			im.add(
				Pull,
				im.engine,
				raw(
					PullBody{
						Test:     s.ID,
						Place:    row.Place,
						Mode:     row.Mode,
						Tester:   row.Tester,
						OilCC:    row.OilCC,
						Value:    &p.Value,
						Unit:     p.Unit,
						Beats:    p.Beats,
						RPM:      p.RPM,
						Seconds:  p.Seconds,
						BatteryV: p.BatteryV,
						CameraSD: p.CameraSD,
						Note:     p.Note,
						Key:      p.Key,
						Rest:     p.Rest,
					},
				),
			)
			im.strike(s.ID, p.Key, p.Struck)
		}
	}
	for _, row := range s.Leakdown {
		im.add(
			Leakdown,
			im.engine,
			raw(LeakBody{Test: s.ID, Place: row.Place, Tester: row.Tester, Supply: row.Supply, Held: &row.Held, Unit: row.Unit,
				Position: row.Position, Note: row.Note, Paths: row.Paths, CameraSD: row.CameraSD, Key: row.Key, Rest: row.Rest}),
		)
		im.strike(s.ID, row.Key, row.Struck)
	}
	for _, o := range s.Observations {
		im.add(Look, im.engine, raw(LookBody{s.ID, o}))
	}
}

func (im *importer) strike(test, key, why string) {
	if why != "" {
		im.add(Strike, im.engine, raw(MarkBody{Test: test, Entry: key, Why: why}))
	}
}

// find returns the first that is, as any, or nil.
func find[T any](all []T, is func(T) bool) any {
	if i := slices.IndexFunc(all, is); i >= 0 {
		return all[i]
	}
	return nil
}

// WithKeys returns the session with every reading named: one that has no key is named by its place on the sheet.
func WithKeys(s log.Session) log.Session {
	s.Compression, s.Leakdown, s.Observations = slices.Clone(s.Compression), slices.Clone(s.Leakdown), slices.Clone(s.Observations)
	taken := map[string]bool{}
	for i := range s.Compression {
		s.Compression[i].Pulls = slices.Clone(s.Compression[i].Pulls)
		for _, p := range s.Compression[i].Pulls {
			taken[p.Key] = true
		}
	}
	for i := range s.Compression {
		for k := range s.Compression[i].Pulls {
			giveName(&s.Compression[i].Pulls[k].Key, fmt.Sprintf("c%d-%d", i+1, k+1), taken)
		}
	}
	clear(taken)
	for _, row := range s.Leakdown {
		taken[row.Key] = true
	}
	for i := range s.Leakdown {
		giveName(&s.Leakdown[i].Key, fmt.Sprintf("l%d", i+1), taken)
	}
	clear(taken)
	for _, o := range s.Observations {
		taken[o.Key] = true
	}
	for i := range s.Observations {
		giveName(&s.Observations[i].Key, fmt.Sprintf("o%d", i+1), taken)
	}
	return s
}

// giveName gives a reading that has no key the one wanted, made other where that is taken.
func giveName(key *string, want string, taken map[string]bool) {
	if *key != "" {
		return
	}
	for taken[want] {
		want += "-"
	}
	taken[want] = true
	*key = want
}
