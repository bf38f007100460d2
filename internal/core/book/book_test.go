package book_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// clock gives each entry of a test its own second.
var clock = time.Date(2033, 4, 2, 9, 0, 0, 0, time.UTC)

func entry(id, kind, body string) book.Entry {
	clock = clock.Add(time.Second)
	return book.Entry{ID: id, At: clock.Format(book.Clock), By: "Ansa, phone", Engine: "heron", Kind: kind, Body: jsontext.Value(body)}
}

const four = `{"name":"Heron","kind":"four-stroke","layout":{"banks":[[1,2,3,4]]},"firing_order":[1,3,4,2]}`

// shop is a bench that entries are handed to, as the store does it.
type shop struct {
	t            *testing.T
	book, tester *book.Book
}

func begin(t *testing.T) *shop {
	s := &shop{t, book.Of("heron"), book.Of("")}
	s.tester.Add(book.Entry{ID: "g1", At: clock.Format(book.Clock), Kind: book.Tester, Body: jsontext.Value(`{"id":"g1","name":"Long hose","kind":"compression","resolution":{"value":2,"unit":"psi"}}`)})
	s.tell("e1", book.Engine, four)
	s.tell("t1", book.Test, `{"id":"s1","date":"2033-04-02"}`)
	return s
}

// tell hands an entry in that has to be kept.
func (s *shop) tell(id, kind, body string) book.Answer {
	s.t.Helper()
	a := s.try(entry(id, kind, body))
	require.Equal(s.t, book.IsKept, a.Result, "%s: %s %s", id, a.Field, a.Why)
	return a
}

func (s *shop) try(e book.Entry) book.Answer {
	if f := book.CheckEnvelope(e); len(f) > 0 {
		return book.Refuse(e.ID, f)
	}
	a := book.Admit(s.book, s.tester, e)
	if a.Result == book.IsKept {
		e.Doubt = a.Doubt
		s.book.Add(e)
	}
	return a
}

func (s *shop) log() log.Log { return s.book.Log(s.tester) }

func psi(test string, cylinder int, value float64) string {
	return fmt.Sprintf(`{"test":%q,"cylinder":%d,"mode":"dry","tester":"g1","value":%g,"unit":"psi"}`, test, cylinder, value)
}

func TestPullsStandInTheRowOfTheirCylinderUntilTheGaugeChanges(t *testing.T) {
	s := begin(t)
	for i, c := range []int{1, 1, 3, 1} {
		s.tell(fmt.Sprint("p", i), book.Pull, psi("s1", c, float64(170+i)))
	}
	s.tell("p9", book.Pull, `{"test":"s1","cylinder":1,"mode":"dry","value":168,"unit":"psi"}`)
	rows := s.log().Sessions[0].Compression
	require.Len(t, rows, 3)
	assert.Equal(t, []float64{170, 171, 173}, []float64{rows[0].Pulls[0].Value, rows[0].Pulls[1].Value, rows[0].Pulls[2].Value})
	assert.Equal(t, 3, rows[1].Cylinder)
	assert.Equal(t, "p9", rows[2].Pulls[0].Key)
}

func TestTheSameEntryIsKeptOnceAndAnotherOfItsIDIsRefused(t *testing.T) {
	s := begin(t)
	e := entry("samesame1", book.Pull, psi("s1", 1, 150))
	assert.Equal(t, book.IsKept, s.try(e).Result)
	again := e
	again.At = clock.Add(time.Hour).Format(book.Clock)
	assert.Equal(t, book.IsAlready, s.try(again).Result, "sent twice, whenever")
	other := entry("samesame1", book.Pull, psi("s1", 3, 99))
	a := s.try(other)
	assert.Equal(t, book.IsRefused, a.Result)
	assert.Equal(t, "/id", a.Field)
	assert.Len(t, s.log().Sessions[0].Compression, 1)
}

func TestADoubtedPullIsKeptAndCountsForNothingUntilItIsConfirmedOrAgreedWith(t *testing.T) {
	pulls := func(s *shop) []log.Pull { return s.log().Sessions[0].Compression[0].Pulls }
	s := begin(t)
	s.tell("p1", book.Pull, psi("s1", 1, 170))
	assert.Contains(t, s.tell("p2", book.Pull, psi("s1", 1, 85)).Doubt, "As read?")
	assert.False(t, pulls(s)[1].Counts())
	s.tell("r1", book.AsRead, `{"entry":"p2"}`)
	assert.True(t, pulls(s)[1].Counts())

	s = begin(t)
	s.tell("p1", book.Pull, psi("s1", 1, 170))
	s.tell("p2", book.Pull, psi("s1", 1, 85))
	s.tell("p3", book.Pull, psi("s1", 1, 86))
	assert.True(t, pulls(s)[1].Counts(), "two agree within the gauge's division")
	assert.True(t, pulls(s)[2].Counts())
}

func TestAnythingCanBeStruckAndTakenBack(t *testing.T) {
	s := begin(t)
	s.tell("p1", book.Pull, psi("s1", 1, 170))
	s.tell("l1", book.Leakdown, `{"test":"s1","cylinder":1,"supply":100,"pct":3,"unit":"psi"}`)
	s.tell("o1", book.Look, `{"test":"s1","what":"plug","cylinder":2,"finding":"oily"}`)
	s.tell("v1", book.Event, `{"date":"2033-04-01","what":"missed a shift"}`)
	s.tell("n1", book.Note, `{"date":"2033-04-01","text":"new coil"}`)
	s.tell("b1", book.Build, `{"id":"b1","date":"2033-03-01","what":"new rings"}`)
	s.tell("k1", book.Tick, `{"test":"s1","line":"chocks","done":true}`)
	s.tell("h1", book.Test, `{"id":"s1","note":"rainy"}`)
	s.tell("e2", book.Engine, `{"bore_mm":87}`)
	whole := s.log()
	for _, id := range []string{"p1", "l1", "o1", "v1", "n1", "b1", "k1", "h1", "e2", "t1"} {
		s.tell("x"+id, book.Strike, fmt.Sprintf(`{"entry":%q,"why":"mistyped"}`, id))
	}
	l := s.log()
	one := l.Sessions[0]
	for what, why := range map[string]string{"pull": one.Compression[0].Pulls[0].Struck, "leak-down": one.Leakdown[0].Struck, "look": one.Observations[0].Struck,
		"event": l.Events[0].Struck, "note": l.Notes[0].Struck, "build": l.Builds[0].Struck, "test": one.Struck} {
		assert.Equal(t, "mistyped", why, what)
	}
	assert.Empty(t, one.Ticks)
	assert.Empty(t, one.Note)
	assert.Zero(t, l.Engine.BoreMM)
	standing := l.Standing()
	assert.Empty(t, standing.Sessions)
	assert.Empty(t, standing.Builds)
	assert.Empty(t, l.Check(), "what is struck is still a sound log")
	for _, id := range []string{"p1", "l1", "o1", "v1", "n1", "b1", "k1", "h1", "e2"} {
		s.tell("u"+id, book.Unstrike, fmt.Sprintf(`{"entry":%q}`, id))
	}
	s.tell("uu", book.Strike, `{"entry":"xt1","why":"the strike was the mistake"}`)
	assert.Equal(t, whole, s.log())
}

func TestAReadingIsMovedToTheCylinderAndTheTestThatItWasOf(t *testing.T) {
	s := begin(t)
	s.tell("t2", book.Test, `{"id":"s2","date":"2033-04-03"}`)
	s.tell("p1", book.Pull, psi("s1", 1, 170))
	s.tell("p2", book.Pull, psi("s1", 2, 171))
	s.tell("m1", book.Move, `{"entry":"p2","cylinder":1}`)
	s.tell("m2", book.Move, `{"entry":"p1","cylinder":4,"to_test":"s2"}`)
	l := s.log()
	require.Len(t, l.Sessions[0].Compression, 1)
	assert.Equal(t, 1, l.Sessions[0].Compression[0].Cylinder)
	assert.Equal(t, "p2", l.Sessions[0].Compression[0].Pulls[0].Key)
	require.Len(t, l.Sessions[1].Compression, 1)
	assert.Equal(t, 4, l.Sessions[1].Compression[0].Cylinder)
	assert.Equal(t, "/cylinder", s.try(entry("m3", book.Move, `{"entry":"p2","cylinder":9}`)).Field)
}

func TestReadingsOfAWholeTestAreStruckAndMovedByTheirKey(t *testing.T) {
	s := begin(t)
	s.tell("w", book.Whole, `{"id":"old","date":"1998-05-01","compression":[{"cylinder":1,"mode":"dry","pulls":[{"value":150,"unit":"psi","key":"a"},{"value":151,"unit":"psi","key":"b"}]},{"cylinder":2,"mode":"dry","pulls":[]}]}`)
	s.tell("x", book.Strike, `{"test":"old","entry":"a","why":"throttle shut"}`)
	s.tell("m", book.Move, `{"test":"old","entry":"b","cylinder":2}`)
	rows := s.log().Sessions[0].Compression
	require.Len(t, rows, 2)
	assert.Equal(t, "throttle shut", rows[0].Pulls[0].Struck)
	assert.Equal(t, "b", rows[1].Pulls[0].Key)
}

func TestTwoWhoChangeOneFieldUnseenAreBothKeptAndSaid(t *testing.T) {
	s := begin(t)
	change := func(id, body, was string) {
		e := entry(id, book.Engine, body)
		e.Was = jsontext.Value(was)
		require.Equal(t, book.IsKept, s.try(e).Result)
	}
	change("c1", `{"bore_mm":87}`, `{"bore_mm":null}`)
	change("c2", `{"bore_mm":88}`, `{"bore_mm":87}`)
	assert.Empty(t, s.book.Clashes(), "seen and changed")
	change("c3", `{"bore_mm":89,"stroke_mm":90}`, `{"bore_mm":87}`)
	require.Len(t, s.book.Clashes()[""], 1)
	assert.Regexp(t, "bore mm was changed by two.*88 .*then 89", s.book.Clashes()[""][0].Words)
	assert.InDelta(t, 89, s.log().Engine.BoreMM, 0, "the later stands")
	change("c4", `{"bore_mm":88.5}`, `{"bore_mm":89}`)
	assert.Empty(t, s.book.Clashes(), "settled by who saw it")
}

func TestNullClearsAFieldAndNothingElse(t *testing.T) {
	s := begin(t)
	s.tell("h1", book.Test, `{"id":"s1","meter":12,"note":"wet","conditions":{"engine_temp":"hot","battery_v":12.6}}`)
	s.tell("h2", book.Test, `{"id":"s1","meter":null,"conditions":{"battery_v":null}}`)
	one := s.log().Sessions[0]
	assert.Nil(t, one.Meter)
	assert.Zero(t, one.Conditions.BatteryV)
	assert.Equal(t, "hot", one.Conditions.EngineTemp)
	assert.Equal(t, "wet", one.Note)
}

func TestAnEngineIsNotChangedUnderItsReadingsUnasked(t *testing.T) {
	s := begin(t)
	s.tell("p1", book.Pull, psi("s1", 4, 170))
	three := `{"layout":{"banks":[[1,2,3]]},"firing_order":[1,3,2]}`
	for _, body := range []string{three, `{"kind":"rotary","layout":{"banks":null,"rotors":2},"firing_order":null}`} {
		a := s.try(entry("c1", book.Engine, body))
		assert.Equal(t, book.IsRefused, a.Result)
		assert.True(t, a.Ask)
		assert.Contains(t, a.Why, "1 reading in one test")
	}
	sure := entry("c2", book.Engine, three)
	sure.Sure = true
	require.Equal(t, book.IsKept, s.try(sure).Result)
	l := s.log()
	assert.Equal(t, "the engine has no cylinder 4", l.Sessions[0].Compression[0].Pulls[0].Struck, "still in sight")
	assert.Empty(t, l.Check(), "its own export is not refused")
	s.tell("c3", book.Engine, `{"layout":{"banks":[[1,2,3,4]]},"firing_order":[1,3,4,2]}`)
	assert.Empty(t, s.log().Sessions[0].Compression[0].Pulls[0].Struck)
}

func TestBadEntriesAreRefusedByField(t *testing.T) {
	type bad struct{ kind, body, field string }
	for name, c := range map[string]bad{
		"beyond any gauge":             {book.Pull, psi("s1", 1, 1510), "/value"},
		"no reading":                   {book.Pull, `{"test":"s1","cylinder":1,"mode":"dry","unit":"psi"}`, "/value"},
		"a mode that is none":          {book.Pull, `{"test":"s1","cylinder":1,"mode":"moist","value":150,"unit":"psi"}`, "/mode"},
		"a unit that is none":          {book.Pull, `{"test":"s1","cylinder":1,"mode":"dry","value":150,"unit":"stone"}`, "/unit"},
		"no such cylinder":             {book.Pull, psi("s1", 9, 150), "/cylinder"},
		"no such test":                 {book.Pull, psi("s9", 1, 150), "/test"},
		"no such tester":               {book.Pull, `{"test":"s1","cylinder":1,"mode":"dry","value":150,"unit":"psi","tester":"g9"}`, "/tester"},
		"a rotor of a piston engine":   {book.Pull, `{"test":"s1","rotor":1,"face":2,"mode":"dry","value":90,"unit":"psi"}`, "/cylinder"},
		"words for a figure":           {book.Pull, `{"test":"s1","cylinder":1,"mode":"dry","value":"much","unit":"psi"}`, "/value"},
		"more than any number":         {book.Pull, `{"test":"s1","cylinder":1,"mode":"dry","value":1e999,"unit":"psi"}`, "/value"},
		"a key twice":                  {book.Tick, `{"test":"s1","test":"s1","line":"a","done":true}`, "/test"},
		"invalid UTF-8":                {book.Note, "{\"text\":\"\xff\"}", "/text"},
		"held above supply":            {book.Leakdown, `{"test":"s1","cylinder":1,"supply":90,"held":95,"unit":"psi"}`, "/held"},
		"nothing held":                 {book.Leakdown, `{"test":"s1","cylinder":1,"supply":90,"unit":"psi"}`, "/held"},
		"a neighbour that is none":     {book.Leakdown, `{"test":"s1","cylinder":1,"supply":90,"held":80,"unit":"psi","paths":[{"where":"neighbour","cylinder":9}]}`, "/paths/0/cylinder"},
		"looked at no cylinder":        {book.Look, `{"test":"s1","what":"plug","cylinder":9,"finding":"tan"}`, "/cylinder"},
		"looked at cylinder 99999":     {book.Look, `{"test":"s1","what":"plug","cylinder":99999}`, "/cylinder"},
		"looked at nothing":            {book.Look, `{"test":"s1","what":"horoscope"}`, "/what"},
		"a date that is none":          {book.Test, `{"id":"s2","date":"garbage"}`, "/date"},
		"the year nought":              {book.Test, `{"id":"s2","date":"0000-01-01"}`, "/date"},
		"no date":                      {book.Test, `{"id":"s2"}`, "/date"},
		"a meter beyond reason":        {book.Test, `{"id":"s1","meter":1e308}`, "/meter"},
		"a meter below nothing":        {book.Test, `{"id":"s1","meter":-1e308}`, "/meter"},
		"a battery beyond reason":      {book.Test, `{"id":"s1","conditions":{"battery_v":1e308}}`, "/conditions/battery_v"},
		"readings in a head":           {book.Test, `{"id":"s1","compression":[{"cylinder":1,"mode":"dry","pulls":[]}]}`, "/compression"},
		"a build that is none":         {book.Test, `{"id":"s1","build":"b9"}`, "/build"},
		"a whole test that is there":   {book.Whole, `{"id":"s1","date":"2033-04-02"}`, "/id"},
		"a whole test of unnamed":      {book.Whole, `{"id":"s2","date":"2033-04-02","leakdown":[{"cylinder":1,"supply":100,"held":97,"unit":"psi"}]}`, "/leakdown/0/key"},
		"a whole test, no figure":      {book.Whole, `{"id":"s2","date":"2033-04-02","compression":[{"cylinder":1,"mode":"dry","pulls":[{"value":null,"unit":"psi","key":"a"}]}]}`, "/compression/0/pulls/0/value"},
		"a whole test of no cylinder":  {book.Whole, `{"id":"s2","date":"2033-04-02","leakdown":[{"cylinder":9,"supply":100,"held":97,"unit":"psi","key":"l"}]}`, "/leakdown/0/cylinder"},
		"an engine of steam":           {book.Engine, `{"kind":"steam"}`, "/kind"},
		"a bore below nothing":         {book.Engine, `{"bore_mm":-5}`, "/bore_mm"},
		"a name without end":           {book.Engine, fmt.Sprintf(`{"name":"%0200d"}`, 1), "/name"},
		"no name":                      {book.Engine, `{"name":" "}`, "/name"},
		"banks and rotors":             {book.Engine, `{"layout":{"rotors":2}}`, "/layout/rotors"},
		"rotors without end":           {book.Engine, `{"layout":{"rotors":3000000}}`, "/layout/rotors"},
		"a strike without a reason":    {book.Strike, `{"entry":"t1","why":" "}`, "/why"},
		"a strike of nothing":          {book.Strike, `{"entry":"nobody","why":"wrong"}`, "/entry"},
		"an event of nothing":          {book.Event, `{"date":"2033-04-02","what":""}`, "/what"},
		"an event at no meter":         {book.Event, `{"what":"x","meter":-1e308}`, "/meter"},
		"a note without words":         {book.Note, `{"text":""}`, "/text"},
		"a build without a name of it": {book.Build, `{"what":"rings"}`, "/id"},
		"a tick of nothing":            {book.Tick, `{"test":"s1","line":"","done":true}`, "/line"},
		"a kind that is none":          {"haiku", `{}`, "/kind"},
		"a body that is none":          {book.Note, `[]`, ""},
	} {
		t.Run(name, func(t *testing.T) {
			s := begin(t)
			before := s.log()
			a := s.try(entry("bad", c.kind, c.body))
			assert.Equal(t, book.IsRefused, a.Result)
			assert.Equal(t, c.field, a.Field)
			assert.NotEmpty(t, a.Why)
			require.NotEmpty(t, a.Faults)
			for _, one := range a.Faults {
				assert.Contains(t, say.Texts(), one.ID, "a refusal says which it is, whatever the language")
			}
			assert.Equal(t, before, s.log())
		})
	}
}

func TestWhatIsTypedHasNoFieldsThatMeanNothing(t *testing.T) {
	for body, at := range map[string]string{
		`{"test":"s1","cylinder":1,"mode":"dry","VALUE":5,"value":150,"unit":"psi"}`:    "/VALUE",
		`{"test":"s1","cylinder":1,"MODE":"moist","mode":"dry","value":1,"unit":"psi"}`: "/MODE",
	} {
		f := book.Strict(entry("p", book.Pull, body))
		require.Len(t, f, 1)
		assert.Equal(t, at, f[0].At)
	}
	assert.Equal(t, "/layout/ROTORS", book.Strict(entry("e", book.Engine, `{"name":"x","layout":{"ROTORS":3000000}}`))[0].At)
	assert.Empty(t, book.Strict(entry("p", book.Pull, psi("s1", 1, 150))))
}

func TestAClockThatRunsAheadIsSetAndBothTimesKept(t *testing.T) {
	now := time.Date(2033, 4, 2, 9, 0, 0, 0, time.UTC)
	e := book.Entry{At: "2033-04-02T12:14:07.312+02:00"}
	assert.Equal(t, "2033-04-02T09:00:00.000Z", book.Of("heron").Arrived(e, now).At)
	assert.Equal(t, "2033-04-02T10:14:07.312Z", book.Of("heron").Arrived(e, now).Clock)
	e.At = "2033-04-02T08:14:07.312Z"
	assert.Equal(t, e.At, book.Of("heron").Arrived(e, now).At, "typed while the server was away, it keeps its time")
	assert.Empty(t, book.Of("heron").Arrived(e, now).Clock)
}

func TestAChangeIsNeverOlderThanWhatItChanges(t *testing.T) {
	s := begin(t)
	for kind, body := range map[string]string{book.Engine: `{"bore_mm":87}`, book.Test: `{"id":"s1","meter":3}`} {
		e := entry("slow"+kind, kind, body)
		e.At = "2033-01-01T00:00:00.000Z"
		refused := book.Admit(s.book, s.tester, e)
		assert.Equal(t, book.IsRefused, refused.Result)
		later := s.book.Arrived(e, time.Date(2033, 4, 2, 9, 0, 0, 0, time.UTC))
		assert.Equal(t, e.At, later.Clock, "its own time is kept")
		require.Equal(t, book.IsKept, s.try(later).Result)
	}
	l := s.log()
	assert.InDelta(t, 87, l.Engine.BoreMM, 0)
	assert.InDelta(t, 3, *l.Sessions[0].Meter, 0)
}

func TestWhatCannotBePlacedIsKeptAndShown(t *testing.T) {
	b := book.Replay("heron", []book.Entry{
		entry("p1", book.Pull, psi("s1", 1, 150)),
		entry("p2", book.Pull, psi("s1", 1, 99999)),
		entry("x1", book.Strike, `{"entry":"nobody","why":"wrong"}`),
		entry("k1", "from-the-future", `{}`),
		entry("j1", book.Note, `{`),
	})
	var of []string
	for _, u := range b.Unplaced() {
		of = append(of, u.Entry)
		assert.NotEmpty(t, u.Why)
	}
	assert.Equal(t, []string{"", "j1", "k1", "p1", "p2", "x1"}, of)
	assert.Len(t, b.Entries(), 5)
	b.Add(entry("e1", book.Engine, four))
	b.Add(entry("t1", book.Test, `{"id":"s1","date":"2033-04-02"}`))
	assert.InDelta(t, 150, b.Log(nil).Sessions[0].Compression[0].Pulls[0].Value, 0, "placed once its test has come")
}

// draw makes what a workshop's devices might do to one engine, each entry meaningful when it was made, and some that are not.
func draw(r *rand.Rand, n int) []book.Entry {
	all := []book.Entry{entry("e1", book.Engine, four), entry("t1", book.Test, `{"id":"s1","date":"2033-04-02"}`), entry("t2", book.Test, `{"id":"s2","date":"2033-04-01"}`)}
	any := func() string { return all[r.IntN(len(all))].ID }
	for i := range n {
		test, c := []string{"s1", "s2"}[r.IntN(2)], 1+r.IntN(5)
		bodies := []struct{ kind, body string }{
			{book.Pull, psi(test, c, float64(80+r.IntN(120)))},
			{book.Pull, psi(test, c, float64(160+r.IntN(5)))},
			{book.Leakdown, fmt.Sprintf(`{"test":%q,"cylinder":%d,"supply":100,"held":%d,"unit":"psi"}`, test, c, r.IntN(101))},
			{book.Look, fmt.Sprintf(`{"test":%q,"what":"plug","cylinder":%d,"finding":"tan"}`, test, c)},
			{book.Tick, fmt.Sprintf(`{"test":%q,"line":"l%d","done":%t}`, test, r.IntN(3), r.IntN(2) == 0)},
			{book.Test, fmt.Sprintf(`{"id":%q,"meter":%d,"note":"n%d"}`, test, r.IntN(20), i)},
			{book.Engine, fmt.Sprintf(`{"bore_mm":%d}`, 80+r.IntN(9))},
			{book.Engine, []string{`{"layout":{"banks":[[1,2,3]]},"firing_order":[1,2,3]}`, `{"layout":{"banks":[[1,2,3,4]]},"firing_order":[1,3,4,2]}`}[r.IntN(2)]},
			{book.Strike, fmt.Sprintf(`{"entry":%q,"why":"w%d"}`, any(), i)},
			{book.Unstrike, fmt.Sprintf(`{"entry":%q}`, any())},
			{book.Move, fmt.Sprintf(`{"entry":%q,"cylinder":%d,"to_test":%q}`, any(), c, test)},
			{book.AsRead, fmt.Sprintf(`{"entry":%q}`, any())},
			{book.Event, fmt.Sprintf(`{"date":"2033-04-0%d","what":"e%d"}`, 1+r.IntN(9), i)},
			{book.Build, fmt.Sprintf(`{"id":"b%d","date":"2033-03-0%d"}`, r.IntN(3), 1+r.IntN(9))},
			{book.Whole, fmt.Sprintf(`{"id":"w%d","date":"2032-01-01","compression":[{"cylinder":%d,"mode":"dry","pulls":[{"value":%d,"unit":"psi","key":"a"}]}]}`, r.IntN(3), c, r.IntN(200))},
		}
		one := bodies[r.IntN(len(bodies))]
		e := entry(fmt.Sprintf("d%d-%d", r.IntN(3), i), one.kind, one.body)
		if r.IntN(6) == 0 {
			e.At = all[r.IntN(len(all))].At // the same moment as another
		}
		if one.kind == book.Pull && r.IntN(3) == 0 {
			e.Doubt = "As read?"
		}
		all = append(all, e)
	}
	return all
}

func text(t *testing.T, v any) string {
	t.Helper()
	out, err := json.Marshal(v, json.Deterministic(true))
	require.NoError(t, err)
	return string(out)
}

func TestReplayOfAnyOrderOfArrivalIsTheSameLog(t *testing.T) {
	for seed := range uint64(60) {
		r := rand.New(rand.NewPCG(seed, 5))
		all := draw(r, 60)
		want := book.Replay("heron", all)
		for range 4 {
			shuffled := slices.Clone(all)
			r.Shuffle(len(shuffled), func(i, j int) { shuffled[i], shuffled[j] = shuffled[j], shuffled[i] })
			// With a look at the log in between, and some that come again.
			b := book.Of("heron")
			for i, e := range append(shuffled, shuffled[:10]...) {
				b.Add(e)
				if i%7 == 0 {
					b.Log(nil)
				}
			}
			require.Equal(t, text(t, want.Log(nil)), text(t, b.Log(nil)), "seed %d", seed)
			require.Equal(t, want.Unplaced(), b.Unplaced(), "seed %d", seed)
			require.Equal(t, text(t, want.Clashes()), text(t, b.Clashes()))
		}
		placed := map[string]bool{}
		for _, e := range want.Entries() {
			placed[e.ID] = true
		}
		for _, e := range all {
			require.True(t, placed[e.ID], "every entry is in the book")
		}
	}
}

func TestMergingIsCommutativeAssociativeAndIdempotent(t *testing.T) {
	for seed := range uint64(40) {
		r := rand.New(rand.NewPCG(seed, 9))
		all := draw(r, 40)
		parts := make([][]book.Entry, 3)
		for _, e := range all {
			for i := range parts {
				if r.IntN(2) == 0 {
					one := e
					if r.IntN(10) == 0 { // one id, other content: an enemy, or a broken clock
						one.Body = jsontext.Value(fmt.Sprintf(`{"text":"of part %d"}`, i))
					}
					if r.IntN(10) == 0 {
						one.At = clock.Format(book.Clock)
					}
					parts[i] = append(parts[i], one)
				}
			}
		}
		a, b, c := parts[0], parts[1], parts[2]
		require.Equal(t, book.Merge(a, b), book.Merge(b, a))
		require.Equal(t, book.Merge(book.Merge(a, b), c), book.Merge(a, book.Merge(b, c)))
		once := book.Merge(a, b)
		require.Equal(t, once, book.Merge(once, once))
		require.Equal(t, once, book.Merge(once, a))
		bodies := map[string]bool{}
		for _, e := range once {
			bodies[e.Kind+string(e.Body)] = true
		}
		for _, e := range slices.Concat(a, b) {
			require.True(t, bodies[e.Kind+string(e.Body)], "nothing that was said is lost")
		}
	}
}

func TestThreeDevicesAtLastSeeTheSameLog(t *testing.T) {
	for seed := range uint64(30) {
		r := rand.New(rand.NewPCG(seed, 3))
		s := begin(t)
		// Each device makes entries, keeps those that it could not send, and sends them later, some twice.
		waiting := make([][]book.Entry, 3)
		admitted := map[string]bool{"e1": true, "t1": true}
		made := 0
		for _, e := range draw(r, 80)[3:] {
			d := r.IntN(3)
			waiting[d] = append(waiting[d], e)
			made++
			if r.IntN(3) > 0 {
				continue // away
			}
			for i, one := range waiting[d] {
				if a := s.try(one); a.Result == book.IsKept {
					admitted[one.ID] = true
				} else if r.IntN(2) == 0 && a.Result == book.IsRefused {
					require.NotEmpty(t, a.Why)
				}
				if i%3 == 0 && admitted[one.ID] {
					require.Equal(t, book.IsAlready, s.try(one).Result, "sent again")
				}
			}
			waiting[d] = nil
		}
		require.Equal(t, len(admitted), len(s.book.Entries()), "each kept once")
		// What the three read back, in whatever order it came to them.
		for range 3 {
			entries := s.book.Entries()
			r.Shuffle(len(entries), func(i, j int) { entries[i], entries[j] = entries[j], entries[i] })
			require.Equal(t, text(t, s.log()), text(t, book.Replay("heron", entries).Log(s.tester)))
		}
		require.Empty(t, s.log().Check(), "what is admitted is a sound log")
		for _, u := range s.book.Unplaced() {
			require.NotContains(t, []string{book.Pull, book.Leakdown, book.Look}, u.Kind, "%v", u)
		}
	}
}
