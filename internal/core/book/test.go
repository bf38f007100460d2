package book

import (
	"cmp"
	"fmt"
	"reflect"
	"slices"

	"github.com/go-json-experiment/json"

	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rotor"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// test is one visit to the engine: what was said of its head, and its readings.
type test struct {
	id     string
	heads  changes           // what was said of its head
	wholes changes           // the first of them stands
	rows   []log.Compression // of the whole test, without their pulls
	items  []*item
	ticks  changes

	dirty    bool
	stands   bool // some entry of its head could be read
	made     log.Session
	clashes  []Clash
	unplaced []Unplaced
}

func (t *test) begun() bool { return len(t.heads)+len(t.wholes) > 0 }

// first returns the entry that began the test.
func (t *test) first() *Entry {
	switch {
	case len(t.heads) == 0:
		return t.wholes[0]
	case len(t.wholes) == 0 || before(t.heads[0], t.wholes[0]) < 0:
		return t.heads[0]
	}
	return t.wholes[0]
}

// head returns the changes that the test's head comes of: the whole test that stands, and what was said of it since.
func (t *test) head() changes {
	if len(t.wholes) == 0 {
		return t.heads
	}
	return t.heads.with(t.wholes[0])
}

// item is one reading, or one thing seen, of a test.
type item struct {
	entry *Entry
	name  string // its key in the log
	test  string
	n     int // its place among the readings of a whole test
	row   int // the row of a whole test that it stands in, or -1

	pull *log.Compression // with that pull alone
	leak *log.Leakdown
	look *log.Observation
}

func (b *Book) test(id string) *test {
	t := b.tests[id]
	if t == nil {
		t = &test{id: id, dirty: true}
		b.tests[id] = t
	}
	return t
}

// inOrder returns the tests in the order in which they were begun.
func (b *Book) inOrder() []*test {
	all := make([]*test, 0, len(b.tests))
	for _, t := range b.tests {
		all = append(all, t)
	}
	slices.SortFunc(all, func(x, y *test) int {
		if !x.begun() || !y.begun() {
			return cmp.Compare(x.id, y.id)
		}
		return cmp.Or(before(x.first(), y.first()), cmp.Compare(x.id, y.id))
	})
	return all
}

// placeTest files a change of a test's head, or a whole test with its readings.
func (b *Book) placeTest(e *Entry, admitted bool) log.Faults {
	var s log.Session
	if err := json.Unmarshal(e.Body, &s); err != nil {
		return log.Faults{DecodeFault(err)}
	}
	if s.ID == "" {
		return log.Faults{log.At("/id", "book.which-test-needs-id")}
	}
	readings := len(s.Compression) + len(s.Leakdown) + len(s.Observations)
	if e.Kind == Test && readings > 0 {
		return log.Faults{log.At("/compression", "book.readings-test-entered-one-one")}
	}
	t := b.test(s.ID)
	t.dirty = true
	if e.Kind == Test {
		t.heads.add(e)
		return nil
	}
	if !admitted {
		if faults := slices.Concat(given(e), log.CheckFields("", s), named(s)); len(faults) > 0 {
			return faults
		}
	}
	t.wholes.add(e)
	if t.wholes[0] == e {
		b.close(t)
		b.open(t, e, s)
	}
	return nil
}

// close takes the readings of a whole test out again: another one stands.
func (b *Book) close(t *test) {
	t.rows = nil
	t.items = slices.DeleteFunc(t.items, func(it *item) bool { return it.entry.Kind == Whole })
	for n, it := range b.items {
		if it.test == t.id && it.entry.Kind == Whole {
			delete(b.items, n)
		}
	}
	for _, it := range t.items {
		if n := (name{t.id, it.name}); b.items[n] == nil {
			b.items[n] = it
		}
	}
}

// given refuses a whole test with a reading that has no figure: left out or null, it would be read as nought.
func given(e *Entry) log.Faults {
	var s struct {
		Compression []struct {
			Pulls []struct {
				Value *float64 `json:"value"`
			} `json:"pulls"`
		} `json:"compression"`
		Leakdown []struct {
			Held *float64 `json:"held"`
		} `json:"leakdown"`
	}
	if err := json.Unmarshal(e.Body, &s); err != nil {
		return log.Faults{DecodeFault(err)}
	}
	var f log.Faults
	for i, row := range s.Compression {
		for k, p := range row.Pulls {
			if p.Value == nil {
				at := fmt.Sprintf("/compression/%d/pulls/%d/value", i, k)
				f = append(f, log.At(at, "book.type-what-gauge-read"))
			}
		}
	}
	for i, row := range s.Leakdown {
		if row.Held == nil {
			f = append(f, log.At(fmt.Sprintf("/leakdown/%d/held", i), "book.type-what-cylinder-held"))
		}
	}
	return f
}

// named refuses a whole test whose readings are not each named once: only what has a name can be struck later.
func named(s log.Session) log.Faults {
	var f log.Faults
	seen := map[string]bool{}
	see := func(family, key, at string) {
		if key == "" || seen[family+key] {
			f = append(f, log.At(at+"/key", "book.key-not-unique-reading", "key", key))
		}
		seen[family+key] = true
	}
	for i, row := range s.Compression {
		for k, p := range row.Pulls {
			see("pull", p.Key, fmt.Sprintf("/compression/%d/pulls/%d", i, k))
		}
	}
	for i, row := range s.Leakdown {
		see("leak", row.Key, fmt.Sprintf("/leakdown/%d", i))
	}
	for i, o := range s.Observations {
		see("look", o.Key, fmt.Sprintf("/observations/%d", i))
	}
	return f
}

// open makes items of the readings of a whole test.
func (b *Book) open(t *test, e *Entry, s log.Session) {
	n := 0
	put := func(it item) {
		it.entry, it.test, it.n = e, t.id, n
		n++
		b.put(t, &it)
	}
	for i, row := range s.Compression {
		bare := row
		bare.Pulls = []log.Pull{}
		t.rows = append(t.rows, bare)
		for _, p := range row.Pulls {
			one := row
			one.Pulls = []log.Pull{p}
			put(item{name: p.Key, row: i, pull: &one})
		}
	}
	for _, row := range s.Leakdown {
		put(item{name: row.Key, row: -1, leak: &row})
	}
	for _, o := range s.Observations {
		put(item{name: o.Key, row: -1, look: &o})
	}
}

// put files an item under its names.
func (b *Book) put(t *test, it *item) {
	t.items = append(t.items, it)
	t.dirty = true
	n := name{t.id, it.name}
	if have := b.items[n]; have == nil || cmp.Or(before(it.entry, have.entry), cmp.Compare(it.n, have.n)) < 0 {
		b.items[n] = it
	}
	if it.entry.Kind != Whole {
		b.items[name{key: it.entry.ID}] = it
	}
}

// placeReading files a reading that was typed.
func (b *Book) placeReading(e *Entry) log.Faults {
	it, faults := itemOf(e)
	if len(faults) == 0 {
		b.put(b.test(it.test), it)
	}
	return faults
}

func itemOf(e *Entry) (*item, log.Faults) {
	it := &item{entry: e, row: -1, name: e.ID}
	switch e.Kind {
	case Pull:
		body, f := read[PullBody](e)
		value, wrong := body.reading()
		f = append(f, wrong...)
		if body.Rotor > 0 {
			f = append(f, rotor.CheckPulses(body.Beats, body.Seconds, "/beats")...)
		}
		if len(f) > 0 {
			return nil, f
		}
		p := log.Pull{
			Reading:  units.Reading{Value: value, Unit: body.Unit, Rest: body.Rest},
			Beats:    body.Beats,
			Flicker:  body.Flicker,
			CameraSD: body.CameraSD,
			RPM:      body.rpm(),
			Seconds:  body.Seconds,
			BatteryV: body.BatteryV,
			Note:     body.Note,
			Key:      cmp.Or(body.Key, e.ID),
			Doubt:    e.Doubt,
			At:       e.At,
		}
		if err := units.Check(p.Reading); err != nil {
			return nil, log.Faults{log.Of("/value", err)}
		}
		it.test, it.name = body.Test, p.Key
		it.pull = &log.Compression{Place: body.Place, Mode: body.Mode, Tester: body.Tester, OilCC: body.OilCC, Pulls: []log.Pull{p}}
	case Leakdown:
		body, f := read[LeakBody](e)
		if body.Held == nil && body.Pct == nil {
			f = append(f, log.At("/held", "book.type-what-cylinder-held"))
		}
		row := body.Row()
		row.Key = cmp.Or(body.Key, e.ID)
		if f = append(f, row.Check("")...); len(f) > 0 {
			return nil, f
		}
		it.test, it.name, it.leak = body.Test, row.Key, &row
	case Look:
		body, f := read[LookBody](e)
		if len(f) > 0 {
			return nil, f
		}
		o := body.Observation
		o.Key = cmp.Or(o.Key, e.ID)
		it.test, it.name, it.look = body.Test, o.Key, &o
	case Photo:
		body, f := read[PhotoBody](e)
		if len(f) > 0 {
			return nil, f
		}
		it.test, it.look = body.Test, &log.Observation{
			What:    "other",
			Place:   body.Place,
			Finding: log.Photo,
			Note:    body.Note,
			Key:     e.ID,
			Rest:    body.Rest,
		}
	}
	return it, nil
}

// stateOf returns what the marks on a reading come to.
func (b *Book) stateOf(it *item) state {
	if it.entry.Kind == Whole {
		return b.state(name{it.test, it.name})
	}
	return b.state(name{it.test, it.name}, name{key: it.entry.ID})
}

// standing returns the items that stand in a test, those moved in among them and those moved away left out, in order.
func (b *Book) standing(t *test) []*item {
	var all []*item
	for _, it := range t.items {
		if to := b.stateOf(it).toTest; to == "" || to == t.id || b.tests[to] == nil || !b.tests[to].begun() {
			all = append(all, it)
		}
	}
	for _, n := range b.moved {
		if it := b.items[n]; it != nil && it.test != t.id && b.stateOf(it).toTest == t.id && !slices.Contains(all, it) {
			all = append(all, it)
		}
	}
	slices.SortStableFunc(all, func(x, y *item) int {
		return cmp.Or(before(x.entry, y.entry), cmp.Compare(x.n, y.n))
	})
	return all
}

// build makes the session of a test anew. division tells the division of a gauge.
func (b *Book) build(t *test, division func(string) units.Pressure) {
	t.dirty, t.unplaced = false, nil
	head := t.head()
	s, clashes, apart := fold(head, b.struck, func(s log.Session) log.Faults {
		s.Compression, s.Leakdown, s.Observations = nil, nil, nil
		return log.CheckFields("", s)
	})
	t.clashes, t.unplaced, t.stands = clashes, apart, len(apart) < len(head)
	s.ID = t.id
	if why := b.struck(head[0].ID); why != "" {
		s.Struck = why
	}
	if len(t.wholes) > 1 {
		for _, e := range t.wholes[1:] {
			t.unplaced = append(t.unplaced, Unplaced{Entry: e.ID, Kind: e.Kind, Why: say.Text("book.id-test-already-there")})
		}
	}
	s.Ticks = b.ticks(t, s.Ticks)
	s.Compression, s.Leakdown, s.Observations = nil, nil, nil
	for _, row := range t.rows {
		row.Pulls = nil
		s.Compression = append(s.Compression, row)
	}
	seen := map[name]*item{}
	for _, it := range b.standing(t) {
		family := it.entry.Kind
		switch {
		case it.pull != nil:
			family = Pull
		case it.leak != nil:
			family = Leakdown
		case it.look != nil:
			family = Look
		}
		n := name{family, it.name}
		if first := seen[n]; first != nil {
			if !alike(first, it) {
				t.unplaced = append(
					t.unplaced,
					Unplaced{Entry: it.entry.ID, Kind: it.entry.Kind, Why: say.Text("book.key-another-reading-named", "name", it.name)},
				)
			}
			continue
		}
		seen[n] = it
		b.enter(&s, it)
	}
	for i := range s.Compression {
		if s.Compression[i].Pulls == nil {
			s.Compression[i].Pulls = []log.Pull{}
		}
		agree(s.Compression[i].Pulls, division(s.Compression[i].Tester))
	}
	t.made = s
}

// alike reports whether two items of one name say the same.
func alike(a, b *item) bool {
	strip := func(it *item) any {
		if it.pull != nil {
			one := *it.pull
			p := one.Pulls[0]
			p.At, p.Doubt, p.Struck = "", "", ""
			one.Pulls = []log.Pull{p}
			return string(raw(one))
		}
		return string(raw([]any{it.leak, it.look}))
	}
	return reflect.DeepEqual(strip(a), strip(b))
}

// enter writes a reading into the session, as its marks have it. One of a place that the engine has not counts for nothing.
func (b *Book) enter(s *log.Session, it *item) {
	marks := b.stateOf(it)
	why := func(place log.Place, struck string, whole bool) string {
		if why := cmp.Or(marks.struck, struck); why != "" || !b.Begun() {
			return why
		}
		if b.has[place] || (whole && place == (log.Place{})) {
			return ""
		}
		if f := b.made.CheckPlace(place, "", it.pull != nil); len(f) > 0 {
			return f[0].What
		}
		return ""
	}
	switch {
	case it.pull != nil:
		row := *it.pull
		p := row.Pulls[0]
		if marks.place != (log.Place{}) {
			row.Place = marks.place
		}
		if marks.tester != "" {
			row.Tester = marks.tester
		}
		if marks.asRead {
			p.Doubt = ""
		}
		p.Struck = why(row.Place, p.Struck, false)
		into := &s.Compression
		at := it.row
		if at < 0 || row.Place != it.pull.Place || row.Tester != it.pull.Tester || it.test != s.ID {
			at = rowFor(*into, row)
		}
		if at < 0 {
			row.Pulls = nil
			*into = append(*into, row)
			at = len(*into) - 1
		}
		(*into)[at].Pulls = append((*into)[at].Pulls, p)
	case it.leak != nil:
		row := *it.leak
		if marks.place != (log.Place{}) {
			row.Place = marks.place
		}
		if marks.tester != "" {
			row.Tester = marks.tester
		}
		row.Struck = why(row.Place, row.Struck, false)
		s.Leakdown = append(s.Leakdown, row)
	case it.look != nil:
		o := *it.look
		if marks.place != (log.Place{}) {
			o.Place = marks.place
		}
		o.Struck = why(o.Place, o.Struck, true)
		s.Observations = append(s.Observations, o)
	}
}

// rowFor returns the row that a typed pull goes into: the last of its place and mode, if tester and oil are the same.
func rowFor(rows []log.Compression, row log.Compression) int {
	for i := len(rows) - 1; i >= 0; i-- {
		if rows[i].Place == row.Place && rows[i].Mode == row.Mode {
			if rows[i].Tester == row.Tester && rows[i].OilCC == row.OilCC {
				return i
			}
			return -1
		}
	}
	return -1
}

// agree takes the doubt from pulls that another of their row agrees with.
func agree(pulls []log.Pull, division units.Pressure) {
	for i := range pulls {
		if pulls[i].Doubt == "" || pulls[i].Struck != "" {
			continue
		}
		for j := range pulls {
			if j != i && pulls[j].Struck == "" && reading.Agree(pulls[i].Pressure(), pulls[j].Pressure(), division) {
				pulls[i].Doubt = ""
				pulls[j].Doubt = ""
			}
		}
	}
}

func (b *Book) ticks(t *test, ticks []string) []string {
	ticks = slices.Clone(ticks)
	for _, e := range t.ticks {
		body, _ := read[TickBody](e)
		if b.struck(e.ID) != "" {
			continue
		}
		at := slices.Index(ticks, body.Line)
		switch {
		case body.Done && at < 0:
			ticks = append(ticks, body.Line)
		case !body.Done && at >= 0:
			ticks = slices.Delete(ticks, at, at+1)
		}
	}
	return ticks
}

// divisions returns what tells a gauge's division, from an engine's own testers and the shop's.
func divisions(own []log.Tester, shop *Book) func(string) units.Pressure {
	byID := map[string]log.Tester{}
	if shop != nil {
		for _, t := range shop.Testers() {
			byID[t.ID] = t
		}
	}
	for _, t := range own {
		byID[t.ID] = t
	}
	return func(id string) units.Pressure { return reading.DivisionOf(byID[id]) }
}
