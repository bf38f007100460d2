package book_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

// A test that was of another engine is moved there whole, readings, photos and struck ones, and back by undoing what the move entered; on an
// engine that it doesn't fit nothing happens.
func TestATestIsMovedToTheEngineThatItWasOf(t *testing.T) {
	four := `{"name":%q,"kind":"four-stroke","layout":{"banks":[[1,2,3,4]]}}`
	n := 0
	enter := func(b *book.Book, shop *book.Book, engine, kind, body string) {
		t.Helper()
		n++
		e := book.Entry{ID: fmt.Sprintf("e%03d", n), At: fmt.Sprintf("2033-05-01T10:00:%02d.000Z", n), Engine: engine, Kind: kind, Body: []byte(body)}
		answer := book.Admit(b, shop, e)
		require.Equal(t, book.IsKept, answer.Result, "%s %v", body, answer)
		b.Add(e)
	}
	shop, a, b, twin := book.Of(""), book.Of("heron"), book.Of("finch"), book.Of("kestrel")
	enter(shop, shop, "", book.Tester, `{"id":"g","name":"Shop gauge","kind":"compression"}`)
	enter(a, shop, "heron", book.Engine, fmt.Sprintf(four, "Heron"))
	enter(b, shop, "finch", book.Engine, fmt.Sprintf(four, "Finch"))
	enter(twin, shop, "kestrel", book.Engine, `{"name":"Kestrel","kind":"four-stroke","layout":{"banks":[[1],[2]]}}`)
	enter(a, shop, "heron", book.Test, `{"id":"s1","date":"2033-05-01","stage":"service","conditions":{"engine_temp":"hot"}}`)
	for c := 1; c <= 4; c++ {
		enter(a, shop, "heron", book.Pull, fmt.Sprintf(`{"test":"s1","cylinder":%d,"mode":"dry","tester":"g","value":%d,"unit":"psi"}`, c, 170+c))
	}
	enter(a, shop, "heron", book.Strike, `{"entry":"e007","why":"throttle closed"}`)
	was := a.Log(shop)
	require.Len(t, was.Sessions, 1)

	_, faults := book.Moved(was, "s1", a.Behind()["test s1"], twin.Log(shop), "", shop.Testers())
	require.Len(t, faults, 1)
	assert.Contains(t, faults[0].What, "Kestrel")

	steps, faults := book.Moved(was, "s1", a.Behind()["test s1"], b.Log(shop), "", shop.Testers())
	require.Empty(t, faults)
	for _, s := range steps {
		body, err := json.Marshal(s.Body)
		require.NoError(t, err)
		enter(map[string]*book.Book{"heron": a, "finch": b}[s.Engine], shop, s.Engine, s.Kind, string(body))
	}
	assert.Empty(t, a.Log(shop).Standing().Sessions, "it is gone from where it was not made")
	there := b.Log(shop).Sessions
	require.Len(t, there, 1)
	assert.Equal(t, readings(was.Sessions[0]), readings(there[0]))
	assert.Contains(t, a.Words(*entryOf(a, "strike", "moved to Finch"), units.Choice{}), "test of 1 May 2033, service, hot")

	// Undoing strikes what the move entered: the test stands again where it stood, and nowhere else.
	for _, s := range steps {
		in := map[string]*book.Book{"heron": a, "finch": b}[s.Engine]
		enter(in, shop, s.Engine, book.Strike, fmt.Sprintf(`{"entry":%q,"why":"undone"}`, entryOf(in, s.Kind, "").ID))
	}
	assert.Empty(t, b.Log(shop).Standing().Sessions)
	assert.Equal(t, readings(was.Sessions[0]), readings(a.Log(shop).Standing().Sessions[0]))
}

// readings are those of a session by their keys, with what was struck of them.
func readings(s log.Session) map[string]string {
	all := map[string]string{}
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			all[p.Key] = fmt.Sprint(row.Place, row.Mode, p.Reading.String(), p.Struck)
		}
	}
	return all
}

// entryOf returns the last entry of a kind whose body says something.
func entryOf(b *book.Book, kind, says string) *book.Entry {
	var found *book.Entry
	for _, e := range b.Entries() {
		if e.Kind == kind && strings.Contains(string(e.Body), says) {
			found = &e
		}
	}
	return found
}
