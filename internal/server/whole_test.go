package server_test

import (
	"net/http"
	"strings"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const sheetPath = "/api/engines/siskin/sessions/s1"

// begun is a server with a four and a test that has been begun.
func begun(t *testing.T) *fiber.App {
	t.Helper()
	a := app(t)
	status, _, body := ask(t, a, "POST", "/api/engines", four)
	require.Equal(t, 201, status, body)
	status, _, body = ask(t, a, "POST", "/api/engines/siskin/sessions", "{}")
	require.Equal(t, 201, status, body)
	return a
}

func TestALeakDownIsTypedAsHeldOrAsPercent(t *testing.T) {
	a := begun(t)
	status, _, body := ask(t, a, "POST", sheetPath+"/preview", `{"cylinder":1,"supply":82,"held":77,"unit":"psi"}`)
	assert.Equal(t, 200, status, body)
	assert.Contains(t, body, `"leak_pct":6.09`)
	status, _, body = ask(t, a, "POST", sheetPath+"/leakdown", `{"key":"k1","cylinder":1,"supply":80,"pct":5,"unit":"psi","position":"tdc","paths":[]}`)
	assert.Equal(t, 201, status, body)
	assert.Contains(t, body, `"held":76`)
	assert.Contains(t, body, "listened, nothing")
	for field, in := range map[string]string{
		"body.held":     `{"key":"k2","cylinder":1,"supply":80,"held":90,"unit":"psi"}`,
		"body.cylinder": `{"key":"k2","cylinder":7,"supply":80,"held":70,"unit":"psi"}`,
		"body.supply":   `{"key":"k2","cylinder":1,"supply":0,"held":0,"unit":"psi"}`,
	} {
		status, _, body = ask(t, a, "POST", sheetPath+"/leakdown", in)
		assert.Equal(t, 422, status)
		assert.Contains(t, body, `"location":"`+field+`"`)
	}
}

func TestTheHeadOfATestChangesOnlyWhereItIsTold(t *testing.T) {
	a := begun(t)
	status, _, body := ask(t, a, "PATCH", sheetPath, `{"meter":12.5}`)
	require.Equal(t, 200, status, body)
	status, _, body = ask(t, a, "PATCH", sheetPath, `{"stage":"dyno","place":"stand"}`)
	require.Equal(t, 200, status, body)
	assert.Contains(t, body, `"meter":12.5`)
	assert.Contains(t, body, `"stage":"dyno"`)
	assert.Contains(t, body, "tied down on its stand", "the list fits where the engine is")
	for _, part := range []string{`{"conditions":{"engine_temp":"cold"}}`, `{"conditions":{"altitude_m":420,"battery_v":12.6}}`} {
		status, _, body = ask(t, a, "PATCH", sheetPath, part)
		require.Equal(t, 200, status, body)
	}
	assert.Contains(t, body, `"engine_temp":"cold"`, "each changed its own part")
	assert.Contains(t, body, `"altitude_m":420`)
	status, _, body = ask(t, a, "PATCH", sheetPath, `{"conditions":{"ambient_kpa":4}}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "body.conditions.ambient_kpa")
	status, _, body = ask(t, a, "PATCH", sheetPath, `{"stage":"lunch"}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "body.stage")
}

func TestTicksArePutBackInReverse(t *testing.T) {
	a := begun(t)
	for _, line := range []string{"ignition", "plugs"} {
		status, _, body := ask(t, a, "POST", sheetPath+"/ticks", `{"line":"`+line+`","done":true}`)
		require.Equal(t, 200, status, body)
	}
	status, _, body := ask(t, a, "POST", sheetPath+"/observations", `{"what":"plug","cylinder":2,"finding":"oily","key":"o1"}`)
	require.Equal(t, 201, status, body)
	plugs, ignition := strings.Index(body, "back:plugs"), strings.Index(body, "back:ignition")
	assert.True(t, plugs > 0 && ignition > plugs)
	assert.Contains(t, body, "New plugs in (2 were bad")
	_, _, body = ask(t, a, "POST", sheetPath+"/ticks", `{"line":"plugs","done":false}`)
	assert.NotContains(t, body, "back:plugs")
}

func TestAPhotoIsKeptOnceAndOnlyIfItIsOne(t *testing.T) {
	a := begun(t)
	jpeg := "\xff\xd8\xff\xe0picture"
	put := func(key, body string) int {
		status, _, _ := ask(t, a, "PUT", sheetPath+"/photos/"+key+"?note=port", body, func(r *http.Request) { r.Header.Set("Content-Type", "image/jpeg") })
		return status
	}
	assert.Equal(t, 201, put("p1", jpeg))
	assert.Equal(t, 201, put("p1", jpeg))
	assert.Equal(t, 422, put("p2", "no picture"))
	assert.Equal(t, 404, put("..", jpeg))
	status, header, body := ask(t, a, "GET", sheetPath+"/photos/p1", "")
	assert.Equal(t, 200, status)
	assert.Equal(t, "image/jpeg", header.Get("Content-Type"))
	assert.Equal(t, jpeg, body)
	status, _, _ = ask(t, a, "GET", sheetPath+"/photos/p2", "")
	assert.Equal(t, 404, status)
	_, _, body = ask(t, a, "GET", sheetPath+"/sheet", "")
	assert.Equal(t, 1, strings.Count(body, `"finding":"photo"`))
}

func TestAGaugeRepeatsAsWellAsItsPulls(t *testing.T) {
	a := begun(t)
	status, _, body := ask(t, a, "POST", "/api/testers", `{"id":"","name":"Shop gauge","kind":"compression","resolution":{"value":2,"unit":"psi"}}`)
	require.Equal(t, 201, status, body)
	assert.Contains(t, body, `"id":"shop-gauge"`)
	status, _, body = ask(t, a, "POST", "/api/testers", `{"id":"","kind":"compression"}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "body.name")
	for key, value := range map[string]string{"first-key": "150", "other-key": "152"} {
		status, _, body = ask(t, a, "POST", sheetPath+"/pulls", `{"key":"`+key+`","cylinder":1,"mode":"dry","tester":"shop-gauge","value":`+value+`,"unit":"psi"}`)
		require.Equal(t, 201, status, body)
	}
	_, _, body = ask(t, a, "GET", "/api/testers", "")
	assert.Contains(t, body, `"pulls":2`)
	assert.Contains(t, body, `"sd_kpa":9.75`, "√2 psi")
	status, _, body = ask(t, a, "POST", sheetPath+"/pulls/other-key/strike", `{"why":"slipped"}`)
	require.Equal(t, 200, status, body)
	_, _, body = ask(t, a, "GET", "/api/testers", "")
	assert.Contains(t, body, `"pulls":1`, "a struck pull says nothing of the gauge")
	status, _, body = ask(t, a, "POST", "/api/gauge-checks", `{"one":[150,151],"other":[155]}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "partner")
}

func TestAWorkshopsOwnProtocolStandsForTheBuiltInOne(t *testing.T) {
	a := begun(t)
	status, _, body := ask(t, a, "PUT", "/api/protocols", `{"id":"street","name":"Our street test","cranking":{"rule":"count","count":8},"pulls":"three","plugs_out":"all","temp":"hot","evenness":"10","wet":"always","leakdown":"never","leak_watch_pct":8,"leak_act_pct":12}`)
	require.Equal(t, 200, status, body)
	_, _, body = ask(t, a, "GET", "/api/protocols", "")
	assert.Contains(t, body, "Our street test")
	assert.NotContains(t, body, `"Street engine"`)
	_, _, body = ask(t, a, "POST", sheetPath+"/pulls", `{"key":"first-key","cylinder":1,"mode":"dry","value":150,"unit":"psi"}`)
	assert.Contains(t, body, "1 again: pull 2 of 3", "the protocol decides what the sheet asks for")
}

func TestSumsAreRefusedByFieldAndTheWheelNeedsAnOrder(t *testing.T) {
	a := begun(t)
	status, _, body := ask(t, a, "POST", "/api/sums/leak", `{"supply_kpa":565.4,"held_kpa":530.9}`)
	assert.Equal(t, 200, status)
	assert.Contains(t, body, `"hole_mm":0.69`)
	status, _, body = ask(t, a, "POST", "/api/sums/leak", `{"supply_kpa":500,"held_kpa":530}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, `"location":"body.held_kpa"`)
	status, _, body = ask(t, a, "GET", "/api/engines/siskin/wheel", "")
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "no firing order yet")
	status, _, body = ask(t, a, "POST", "/api/engines/siskin/notes", `{"text":"ring gap 0.4"}`)
	assert.Equal(t, 200, status)
	assert.Contains(t, body, "2031-02-14 ring gap 0.4")
}
