package book_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
)

// asked returns the fields that are asked about before an entry is kept, on 2 April 2033, in a shop with another engine called Wren.
func (s *shop) asked(kind, body string) []string {
	s.t.Helper()
	e := entry("asked", kind, body)
	require.Equal(s.t, book.IsKept, book.Admit(s.book, s.tester, e).Result, body)
	around := book.Around{
		Shop: s.tester, Now: time.Date(2033, 4, 2, 9, 0, 0, 0, time.UTC),
		Named: func(name string) bool { return book.SameName(name, "Wren") },
	}
	var at []string
	for _, f := range s.book.Questions(e, around) {
		assert.NotEmpty(s.t, f.What)
		at = append(at, f.At)
	}
	return at
}

func TestASlipOfTheHandIsAskedAbout(t *testing.T) {
	s := begin(t)
	s.tell("m1", book.Test, `{"id":"s1","meter":412}`)
	for name, c := range map[string]struct {
		kind, body string
		want       []string
	}{
		"an event that has not happened":  {book.Event, `{"date":"2099-05-11","what":"ran hot"}`, []string{"/date"}},
		"one of today":                    {book.Event, `{"date":"2033-04-02","what":"ran hot"}`, nil},
		"one of tomorrow, further east":   {book.Event, `{"date":"2033-04-03","what":"ran hot"}`, nil},
		"one of the day after":            {book.Event, `{"date":"2033-04-04","what":"ran hot"}`, []string{"/date"}},
		"a note to come":                  {book.Note, `{"date":"2033-05-02","text":"x"}`, []string{"/date"}},
		"a build to come":                 {book.Build, `{"id":"b9","date":"2033-05-02"}`, []string{"/date"}},
		"a test to come":                  {book.Test, `{"id":"s2","date":"2034-01-01"}`, []string{"/date"}},
		"a meter that runs backwards":     {book.Test, `{"id":"s2","date":"2033-04-03","meter":411.5}`, []string{"/meter"}},
		"one that stands still":           {book.Test, `{"id":"s2","date":"2033-04-03","meter":412}`, nil},
		"an older test that read more":    {book.Test, `{"id":"s2","date":"2032-04-03","meter":500}`, []string{"/meter"}},
		"an older test that read less":    {book.Test, `{"id":"s2","date":"2032-04-03","meter":300}`, nil},
		"the same test, mended":           {book.Test, `{"id":"s1","meter":12}`, nil},
		"an event later, with less":       {book.Event, `{"date":"2033-04-03","what":"x","meter":1}`, []string{"/meter"}},
		"a battery of 41 V":               {book.Test, `{"id":"s1","conditions":{"battery_v":41}}`, []string{"/conditions/battery_v"}},
		"one of 1.24 V at the end":        {book.Test, `{"id":"s1","conditions":{"battery_end_v":1.24}}`, []string{"/conditions/battery_end_v"}},
		"one of 12.4 V, one of 25 V":      {book.Test, `{"id":"s1","conditions":{"battery_v":12.4,"battery_end_v":25}}`, nil},
		"a battery of 50 V with a pull":   {book.Pull, `{"test":"s1","cylinder":1,"mode":"dry","value":170,"unit":"psi","battery_v":50}`, []string{"/battery_v"}},
		"an oil pressure beyond any":      {book.Look, `{"test":"s1","what":"oil-pressure","value":99999,"unit":"psi"}`, []string{"/value"}},
		"an oil pressure below nothing":   {book.Look, `{"test":"s1","what":"oil-pressure","value":-40,"unit":"psi"}`, []string{"/value"}},
		"something else below nothing":    {book.Look, `{"test":"s1","what":"other","value":-40}`, nil},
		"a tester of the name of another": {book.Tester, `{"id":"g9","name":"long HOSE ","kind":"compression"}`, []string{"/name"}},
		"the same tester":                 {book.Tester, `{"id":"g1","name":"Long hose","kind":"compression"}`, nil},
		"an engine of another's name":     {book.Engine, `{"name":"wren"}`, []string{"/name"}},
		"an engine of its own name":       {book.Engine, `{"name":"Heron"}`, nil},
	} {
		assert.Equal(t, c.want, s.asked(c.kind, c.body), name)
	}
}

func TestWhereTestsLieInDaysToComeTheNextMayToo(t *testing.T) {
	s := begin(t)
	s.tell("t2", book.Test, `{"id":"s2","date":"2040-04-02"}`)
	assert.Empty(t, s.asked(book.Test, `{"id":"s3","date":"2041-01-01"}`))
	assert.Equal(t, []string{"/date"}, s.asked(book.Test, `{"id":"s3","date":"2042-01-01"}`))
}

func TestAReadingIsMovedToTheGaugeThatItWasMadeWith(t *testing.T) {
	s := begin(t)
	s.tester.Add(book.Entry{ID: "g2", At: clock.Format(book.Clock), Kind: book.Tester, Body: []byte(`{"id":"g2","name":"Short","kind":"compression"}`)})
	s.tell("p1", book.Pull, psi("s1", 1, 170))
	s.tell("p2", book.Pull, psi("s1", 1, 171))
	s.tell("l1", book.Leakdown, `{"test":"s1","cylinder":1,"tester":"g1","supply":100,"held":95,"unit":"psi"}`)
	s.tell("m1", book.Move, `{"entry":"p1","cylinder":3}`)
	s.tell("m2", book.Move, `{"entry":"p1","tester":"g2"}`)
	s.tell("m3", book.Move, `{"entry":"l1","tester":"g2"}`)
	pulls := map[int]log.Compression{}
	for _, row := range s.log().Sessions[0].Compression {
		pulls[row.Cylinder] = row
	}
	assert.Equal(t, "g2", pulls[3].Tester, "moved once to its cylinder, once to its gauge: the one leaves the other")
	assert.InDelta(t, 170, pulls[3].Pulls[0].Value, 0)
	assert.Equal(t, "g1", pulls[1].Tester)
	assert.Len(t, pulls[1].Pulls, 1)
	assert.Equal(t, "g2", s.log().Sessions[0].Leakdown[0].Tester)

	s.tell("x1", book.Strike, `{"entry":"m2","why":"it was the long hose after all"}`)
	for _, row := range s.log().Sessions[0].Compression {
		assert.Equal(t, "g1", row.Tester)
	}
	refused := s.try(entry("m4", book.Move, `{"entry":"p1","tester":"nobody's"}`))
	assert.Equal(t, "/tester", refused.Field)
	refused = s.try(entry("m5", book.Move, `{"entry":"p1"}`))
	assert.Equal(t, book.IsRefused, refused.Result)
}
