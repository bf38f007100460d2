package book_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/book"
)

func TestAThingIsToldByItsNameAndItsFieldsWithTheirUnits(t *testing.T) {
	for body, want := range map[string]string{
		`{"id":"two-dial-kit","kind":"leakdown","name":"Two-dial kit","orifice_mm":1,"resolution":{"value":1,"unit":"psi"}}`: "Two-dial kit: leak-down tester, orifice 1 mm, division 1 psi",
		`{"id":"t1","kind":"compression","offset_kpa":-3,"dead_volume_cc":4}`:                                                "hose 4 cm³, id t1, compression gauge, reads too high by -3 kPa",
		`{"name":"Long hose"}`: "Long hose",
	} {
		b := book.Replay("", nil)
		assert.Equal(t, want, b.Words(book.Entry{Kind: book.Tester, Body: []byte(body)}))
	}
}
