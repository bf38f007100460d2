package server_test

import (
	"archive/zip"
	"bytes"
	"image"
	"image/jpeg"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/server"
)

const sheetPath = "/api/engines/siskin/sessions/s1"

// begun is a server with a four and a test that has been begun.
func begun(t testing.TB) *fiber.App {
	t.Helper()
	a := app(t)
	kept(t, a, book.Engine, four)
	kept(t, a, book.Test, `{"id":"s1","date":"2031-02-14"}`)
	return a
}

func TestALeakDownIsTypedAsHeldOrAsPercent(t *testing.T) {
	a := begun(t)
	status, _, body := ask(t, a, "POST", sheetPath+"/preview", `{"test":"s1","cylinder":1,"supply":82,"held":77,"unit":"psi"}`)
	assert.Equal(t, 200, status, body)
	assert.Contains(t, body, `"leak_pct":6.09`)
	text := kept(t, a, book.Leakdown, `{"test":"s1","cylinder":1,"supply":80,"pct":5,"unit":"psi","position":"tdc","paths":[]}`)
	assert.Contains(t, text, `"held":76`)
	assert.Contains(t, text, "nothing heard")
}

func TestTheListsFitWhereTheEngineIsAndArePutBackInReverse(t *testing.T) {
	a := begun(t)
	assert.Contains(t, kept(t, a, book.Test, `{"id":"s1","place":"stand"}`), "tied down on its stand")
	kept(t, a, book.Tick, `{"test":"s1","line":"ignition","done":true}`)
	kept(t, a, book.Tick, `{"test":"s1","line":"plugs","done":true}`)
	text := kept(t, a, book.Look, `{"test":"s1","what":"plug","cylinder":2,"finding":"oily"}`)
	plugs, ignition := strings.Index(text, "back:plugs"), strings.Index(text, "back:ignition")
	assert.True(t, plugs > 0 && ignition > plugs)
	assert.Contains(t, text, "New plugs in (2 were bad")
	text = kept(t, a, book.Tick, `{"test":"s1","line":"plugs","done":false}`)
	assert.Greater(t, strings.Index(text, "back:plugs"), strings.Index(text, `"unsaid":true`), "it is asked about, after those that were ticked")
}

func TestAPhotoIsKeptOnceAndOnlyIfItIsOne(t *testing.T) {
	a := begun(t)
	picture := func(side int) string {
		var out bytes.Buffer
		require.NoError(t, jpeg.Encode(&out, image.NewGray(image.Rect(0, 0, side, side)), nil))
		return out.String()
	}
	put := func(id, body string) int {
		status, _, _ := ask(t, a, "PUT", "/api/photos/"+id, body, func(r *http.Request) { r.Header.Set("Content-Type", "image/jpeg") })
		return status
	}
	assert.Equal(t, 201, put("p1", picture(8)))
	assert.Equal(t, 201, put("p1", picture(8)))
	assert.Equal(t, 409, put("p1", picture(9)), "another picture of that name")
	for name, body := range map[string]string{"no picture": "no picture", "three bytes of one": "\xff\xd8\xff", "half of one": picture(64)[:200], "a very large one": picture(4001)} {
		assert.Equal(t, 422, put("p2", body), name)
	}
	assert.Equal(t, 422, put("..%2f..%2fbraxel", picture(8)))
	text := kept(t, a, book.Photo, `{"test":"s1","cylinder":2,"note":"port"}`, "p1")
	assert.Equal(t, 1, strings.Count(text, `"finding":"photo"`))
	status, header, body := ask(t, a, "GET", sheetPath+"/photos/p1", "")
	assert.Equal(t, 200, status)
	assert.Equal(t, "image/jpeg", header.Get("Content-Type"))
	assert.Equal(t, picture(8), body)
	status, _, _ = ask(t, a, "GET", sheetPath+"/photos/p2", "")
	assert.Equal(t, 404, status)
}

// A plate is photographed without a test: the picture is a note of the engine, goes out in an archive and comes back in elsewhere.
func TestAPictureOfTheEngineNeedsNoTest(t *testing.T) {
	a := begun(t)
	var picture bytes.Buffer
	require.NoError(t, jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, 8, 8)), nil))
	asJPEG := func(r *http.Request) { r.Header.Set("Content-Type", "image/jpeg") }
	status, _, _ := ask(t, a, "PUT", "/api/photos/plate", picture.String(), asJPEG)
	require.Equal(t, 201, status)
	kept(t, a, book.Photo, `{"note":"maker's plate"}`, "plate")
	kept(t, a, book.Photo, `{}`, "unsaid")
	notes := func(a *fiber.App) []log.Note { return get[server.EnginePage](t, a, "/api/engines/siskin").Notes }
	require.Len(t, notes(a), 2)
	assert.Equal(t, log.Note{Date: "2031-02-14", Text: "maker's plate", Photo: true, Key: "plate"}, notes(a)[0])
	assert.Equal(t, "picture of the engine", notes(a)[1].Text)
	status, header, body := ask(t, a, "GET", "/api/engines/siskin/photos/plate", "")
	assert.Equal(t, 200, status)
	assert.Equal(t, "image/jpeg", header.Get("Content-Type"))
	assert.Equal(t, picture.String(), body)
	status, _, _ = ask(t, a, "GET", "/api/engines/siskin/photos/unsaid", "")
	assert.Equal(t, 404, status)

	_, _, archive := ask(t, a, "GET", "/api/export?as=zip", "")
	z, err := zip.NewReader(strings.NewReader(archive), int64(len(archive)))
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(z.File, func(f *zip.File) bool { return strings.HasPrefix(f.Name, "photos/") }))

	kept(t, a, book.Strike, `{"entry":"plate","why":"not this engine"}`)
	assert.Equal(t, "not this engine", notes(a)[0].Struck)
}

func TestAGaugeRepeatsAsWellAsItsPulls(t *testing.T) {
	a := begun(t)
	kept(t, a, book.Tester, `{"id":"shop-gauge","name":"Shop gauge","kind":"compression","resolution":{"value":2,"unit":"psi"}}`)
	kept(t, a, book.Pull, `{"test":"s1","cylinder":1,"mode":"dry","tester":"shop-gauge","value":150,"unit":"psi"}`)
	kept(t, a, book.Pull, `{"test":"s1","cylinder":1,"mode":"dry","tester":"shop-gauge","value":152,"unit":"psi"}`, "slipped")
	_, _, body := ask(t, a, "GET", "/api/testers", "")
	assert.Contains(t, body, `"pulls":2`)
	assert.Contains(t, body, `"sd_kpa":9.75`, "√2 psi")
	kept(t, a, book.Strike, `{"entry":"slipped","why":"slipped"}`)
	_, _, body = ask(t, a, "GET", "/api/testers", "")
	assert.Contains(t, body, `"pulls":1`, "a struck pull says nothing of the gauge")
	status, _, body := ask(t, a, "POST", "/api/gauge-checks", `{"one":[150,151],"other":[155]}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "pair on the other gauge")
}

func TestAWorkshopsOwnProtocolStandsForTheBuiltInOne(t *testing.T) {
	a := begun(t)
	kept(t, a, book.Protocol, `{"id":"street","name":"Our street test","cranking":{"rule":"count","count":8},"pulls":"three","plugs_out":"all","temp":"hot","evenness":"10","wet":"always","leakdown":"never","leak_watch_pct":8,"leak_act_pct":12}`)
	_, _, body := ask(t, a, "GET", "/api/protocols", "")
	assert.Contains(t, body, "Our street test")
	assert.NotContains(t, body, `"Street engine"`)
	assert.Contains(t, kept(t, a, book.Pull, `{"test":"s1","cylinder":1,"mode":"dry","value":150,"unit":"psi"}`), "1 again: reading 2 of 3", "the protocol decides what the sheet asks for")
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
	kept(t, a, book.Note, `{"date":"2031-02-14","text":"ring gap 0.4"}`)
	assert.Equal(t, "ring gap 0.4", get[server.EnginePage](t, a, "/api/engines/siskin").Notes[0].Text)
}
