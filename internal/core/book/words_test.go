package book_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/book"
	"braxel/internal/core/units"
)

func TestAThingIsToldByItsNameAndItsFieldsWithTheirUnits(t *testing.T) {
	for body, want := range map[string]string{
		`{"id":"two-dial-kit","kind":"leakdown","name":"Two-dial kit","orifice_mm":1,"resolution":{"value":1,"unit":"psi"}}`: "Two-dial kit: leak-down tester, orifice 1 mm, division 1 psi",
		`{"id":"t1","kind":"compression","offset_kpa":-3,"dead_volume_cc":4}`:                                                "hose 4 cm³, id t1, compression gauge, reads too high by -3 kPa",
		`{"name":"Long hose"}`: "Long hose",
	} {
		b := book.Replay("", nil)
		assert.Equal(t, want, b.Words(book.Entry{Kind: book.Tester, Body: []byte(body)}, units.Choice{}))
	}
}

// A figure that was typed in another unit is told as it was typed.
func TestTheHistoryTellsFiguresAsTheyWereTyped(t *testing.T) {
	for body, want := range map[string]string{
		`{"name":"Finch","bore_mm":82.55,"typed":{"bore_mm":"3.25 in"}}`: "Finch: bore 3.25 in",
		`{"stroke_mm":90}`:                          "stroke 90 mm",
		`{"stroke_mm":90,"typed":{"stroke_mm":""}}`: "stroke 90 mm",
	} {
		assert.Equal(t, want, book.Replay("", nil).Words(book.Entry{Kind: book.Engine, Body: []byte(body)}, units.Choice{}))
	}
	body := `{"id":"t1","conditions":{"ambient_c":29.44444,"ambient_kpa":101.3,"typed":{"ambient_c":"85 °F"}}}`
	begun := book.Replay("finch", []book.Entry{
		{ID: "e", At: "2031-01-01T08:00:00.000Z", Engine: "finch", Kind: book.Engine, Body: []byte(`{"name":"Finch"}`)},
		{ID: "t", At: "2031-01-02T08:00:00.000Z", Engine: "finch", Kind: book.Test, Body: []byte(`{"id":"t1","date":"2031-01-02","open":true}`)},
	})
	words := begun.Words(book.Entry{ID: "c", Kind: book.Test, Body: []byte(body)}, units.Choice{Dates: "month-day"})
	assert.Contains(t, words, "Jan 2, 2031")
	assert.Contains(t, words, "air 85 °F")
	assert.Contains(t, words, "air pressure 101.3 kPa")
}
