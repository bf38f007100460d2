package server_test

import (
	"encoding/json"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/core/sheet"
	"braxel/internal/core/units"
	"braxel/internal/server"
)

// having asks as a browser whose user chose units of his own.
func having(choice string) func(*http.Request) {
	return func(r *http.Request) { r.AddCookie(&http.Cookie{Name: "braxel-units", Value: url.QueryEscape(choice)}) }
}

// What the workshop chose holds for all, what one person chose stands above it for him alone, and the log stays as it was typed.
func TestUnitsAreChosenForTheWorkshopAndForOneself(t *testing.T) {
	a := begunFour(t)
	kept(t, a, book.Engine, `{"displacement_cc":5735.472}`)
	finished(t, a, "2031-02-14", 180, 182, 178, 180)
	page := func(change ...func(*http.Request)) (out server.EnginePage) {
		status, _, body := ask(t, a, "GET", "/api/engines/siskin", "", change...)
		require.Equal(t, 200, status, body)
		require.NoError(t, json.Unmarshal([]byte(body), &out))
		return out
	}
	before := page()
	assert.Equal(t, units.PSI, before.Unit)
	assert.Equal(t, "180", before.Bores[0].Reading)

	kept(t, a, book.Units, `{"pressure":"bar","volume":"ci"}`)
	assert.Equal(t, "12.4", page().Bores[0].Reading)
	assert.Equal(t, "350 ci four", page().About)
	assert.Equal(t, units.Bar, get[server.Rulebook](t, a, "/api/rulebook").Shown.Pressure)

	mine := page(having(`{"pressure":"kPa"}`))
	assert.Equal(t, "1241", mine.Bores[0].Reading)
	assert.Equal(t, "350 ci four", mine.About, "the workshop's stands where he chose nothing")
	assert.Equal(t, "12.4", page().Bores[0].Reading, "for him alone")
	rack := func(change ...func(*http.Request)) string {
		status, _, body := ask(t, a, "GET", "/api/rack", "", change...)
		require.Equal(t, 200, status)
		var out server.Rack
		require.NoError(t, json.Unmarshal([]byte(body), &out))
		return out.Engines[0].About
	}
	assert.Equal(t, "350 ci four", rack())
	assert.Equal(t, "5735 cc four", rack(having(`{"volume":"cc"}`)))
	assert.Equal(t, "5.7 l four", rack(having(`{"volume":"l"}`)))
	assert.Equal(t, "350 ci four", rack())

	assert.Equal(t, "pressure bar, volume ci", get[server.Record](t, a, "/api/record").Lines[0].Words)
	_, _, log := ask(t, a, "GET", "/api/engines/siskin/log", "")
	assert.NotContains(t, log, `"bar"`)

	kept(t, a, book.Units, `{"pressure":null}`)
	assert.Equal(t, before.Bores[0].Reading, page().Bores[0].Reading)
	// What the workshop chose is undone from any page, as anything else is; what readings may hang on is not.
	kept(t, a, book.Units, `{"pressure":"kPa"}`, "slip")
	assert.Equal(t, "1241", page().Bores[0].Reading)
	strike := func(entry string) book.Answer {
		status, _, body := ask(t, a, "POST", "/api/entries",
			`{"entries":[{"id":"undo-`+entry+`","at":"2031-02-14T10:00:00Z","kind":"strike","body":{"entry":"`+entry+`","why":"undone"}}]}`)
		require.Equal(t, 200, status, body)
		var out server.EntriesOut
		require.NoError(t, json.Unmarshal([]byte(body), &out))
		return out.Answers[0]
	}
	assert.Equal(t, book.IsKept, strike("slip").Result)
	assert.Equal(t, "180", page().Bores[0].Reading)
	kept(t, a, book.Tester, `{"id":"g","name":"Gauge","kind":"compression"}`, "gauge")
	assert.Equal(t, book.IsRefused, strike("gauge").Result)
	assert.Equal(t, book.IsRefused, strike("nothing").Result)
	answer, _ := tell(t, a, book.Units, `{"pressure":"stone"}`)
	assert.Equal(t, book.IsRefused, answer.Result)
	assert.Equal(t, "/pressure", answer.Faults[0].At)
}

// What was typed into a test is what its sheet goes on in; a test that has nothing yet begins in the unit chosen.
func TestASheetBeginsInTheUnitChosenAndStaysInTheOneTyped(t *testing.T) {
	a := begunFour(t)
	kept(t, a, book.Units, `{"pressure":"bar"}`)
	test := func(id string) sheet.Sheet {
		return get[sheet.Sheet](t, a, "/api/engines/siskin/sessions/"+id+"/sheet")
	}
	kept(t, a, book.Test, `{"id":"t9","date":"2031-02-14","open":true}`)
	assert.Equal(t, units.Bar, test("t9").Unit)
	assert.Equal(t, units.Bar, test("t9").LeakUnit)
	kept(t, a, book.Pull, `{"test":"t9","cylinder":1,"mode":"dry","value":180,"unit":"psi"}`)
	assert.Equal(t, units.PSI, test("t9").Unit)
}

// A cookie that says nothing known changes nothing, on any page.
func TestACookieThatCannotBeReadIsNoChoice(t *testing.T) {
	a := begunFour(t)
	finished(t, a, "2031-02-14", 180, 182, 178, 180)
	_, _, plain := ask(t, a, "GET", "/api/engines/siskin", "")
	for _, choice := range []string{
		``, `{`, `[]`, `null`, `{"pressure":"stone"}`, `{"pressure":7}`, `{"dates":"year"}`, `{"other":{"deep":[1]}}`, strings.Repeat("a", 3000), "%zz\x00",
	} {
		status, _, body := ask(t, a, "GET", "/api/engines/siskin", "", having(choice))
		assert.Equal(t, 200, status)
		assert.JSONEq(t, plain, body, choice)
	}
}
