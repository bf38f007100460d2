package book_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/book"
	"braxel/internal/core/units"
)

// The workshop's choice is changed field by field; a change that is struck leaves the others, the first one too.
func TestTheWorkshopsUnitsAreChangedAndTakenBack(t *testing.T) {
	entries := []book.Entry{
		{ID: "a", At: "2031-01-01T08:00:00.000Z", Kind: book.Units, Body: []byte(`{"pressure":"bar","length":"in"}`)},
		{ID: "b", At: "2031-01-02T08:00:00.000Z", Kind: book.Units, Body: []byte(`{"length":null,"dates":"month-day"}`)},
		{ID: "c", At: "2031-01-03T08:00:00.000Z", Kind: book.Units, Body: []byte(`{"pressure":"stone"}`)},
	}
	shown := func(more ...book.Entry) units.Choice { return book.Replay("", append(entries, more...)).Rules().Shown }
	strike := func(id string) book.Entry {
		return book.Entry{ID: "x" + id, At: "2031-01-04T08:00:00.000Z", Kind: book.Strike, Body: []byte(`{"entry":"` + id + `","why":"undone"}`)}
	}
	assert.Equal(t, units.Choice{Pressure: units.Bar, Dates: "month-day"}, shown(), "what cannot be is passed over")
	assert.Equal(t, units.Choice{Pressure: units.Bar, Length: "in"}, shown(strike("b")))
	assert.Equal(t, units.Choice{Dates: "month-day"}, shown(strike("a")))
	assert.Equal(t, units.Choice{}, shown(strike("a"), strike("b")))

	shop := book.Replay("", entries)
	for _, body := range []string{`{"pressure":"stone"}`, `{"clock":"13"}`, `{"length":7}`} {
		answer := book.Admit(shop, shop, book.Entry{ID: "d", At: "2031-01-05T08:00:00.000Z", Kind: book.Units, Body: []byte(body)})
		assert.Equal(t, book.IsRefused, answer.Result, body)
	}
}
