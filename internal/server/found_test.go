package server_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
)

// An inspection's answers are held against its list, and what was found is counted for the shop.
func TestAnInspectionIsAnsweredAndWhatWasFoundIsCounted(t *testing.T) {
	a := app(t)
	kept(t, a, "engine", `{"name":"Siskin","kind":"four-stroke","layout":{"banks":[[1,2,3,4]]},"bore_mm":86}`)
	kept(t, a, "test", `{"id":"t1","date":"2026-01-02","open":true}`)
	kept(t, a, "look", `{"test":"t1","what":"other","item":"oil","finding":"glitter"}`)
	for body, at := range map[string]string{
		`{"test":"t1","what":"other","item":"end-play","value":3}`:                       "/value",
		`{"test":"t1","what":"other","item":"stroke","value":250}`:                       "/value",
		`{"test":"t1","what":"other","item":"oil","finding":"fizzy"}`:                    "/finding",
		`{"test":"t1","what":"other","item":"seat belts","finding":"worn"}`:              "/item",
		`{"test":"t1","what":"other","item":"trace","trace":{"form":"a film of a cat"}}`: "",
	} {
		answer, _ := tell(t, a, "look", body)
		assert.Equal(t, "refused", string(answer.Result), body)
		if at != "" {
			assert.Equal(t, at, answer.Field, body)
		}
	}
	status, _, text := ask(t, a, http.MethodGet, "/api/engines/siskin/sessions/t1/inspection", "")
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, text, `"advice":"leave"`)

	_, _, text = ask(t, a, http.MethodGet, "/api/rulebook", "")
	assert.Contains(t, text, "exhaust valve")
	assert.Contains(t, text, "apex, corner and side seals", "of a rotary, too")
	_, _, text = ask(t, a, http.MethodGet, "/api/said-found", "")
	assert.Contains(t, text, `"opened":0`)
	kept(t, a, "look", `{"test":"t1","what":"other","item":"found","finding":"exhaust valve","cylinder":3}`)
	_, _, text = ask(t, a, http.MethodGet, "/api/said-found", "")
	assert.Contains(t, text, `"opened":1`)
	assert.Contains(t, text, `"right":0`, "nothing had been said")
}
