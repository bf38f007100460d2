package server_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/judge"
	"braxel/internal/server"
)

// typed enters a whole dry test, one pull a cylinder, and returns the session's id.
func typed(t *testing.T, a *fiber.App, engine string, psi ...float64) string {
	t.Helper()
	status, _, body := ask(t, a, "POST", "/api/engines/"+engine+"/sessions", `{}`)
	require.Equal(t, 201, status, body)
	var session struct{ ID string }
	require.NoError(t, json.Unmarshal([]byte(body), &session))
	for c, v := range psi {
		for k := range 2 {
			status, _, body = ask(t, a, "POST", fmt.Sprintf("/api/engines/%s/sessions/%s/pulls", engine, session.ID),
				fmt.Sprintf(`{"key":"%s-%d-%d-key","cylinder":%d,"mode":"dry","value":%g,"unit":"psi","confirmed":true}`, session.ID, c, k, c+1, v))
			require.Equal(t, 201, status, body)
		}
	}
	return session.ID
}

func get[T any](t *testing.T, a *fiber.App, path string) T {
	t.Helper()
	status, _, body := ask(t, a, "GET", path, "")
	require.Equal(t, 200, status, body)
	var out T
	require.NoError(t, json.Unmarshal([]byte(body), &out))
	return out
}

func TestTheRackPutsTheMostUrgentFirst(t *testing.T) {
	a := app(t)
	for _, name := range []string{"Avocet", "Brambling", "Crake"} {
		status, _, body := ask(t, a, "POST", "/api/engines", `{"name":"`+name+`","kind":"four-stroke","layout":{"banks":[[1,2,3,4]]},"duty":"circuit"}`)
		require.Equal(t, 201, status, body)
	}
	typed(t, a, "avocet", 180, 182, 178, 180)
	typed(t, a, "brambling", 180, 182, 178, 180)
	typed(t, a, "brambling", 180, 182, 20, 180)
	var order []string
	rack := get[server.Rack](t, a, "/api/rack")
	for _, e := range rack.Engines {
		order = append(order, e.Name+" "+string(e.State))
	}
	assert.Equal(t, []string{"Brambling stop", "Avocet steady", "Crake steady"}, order)
	assert.Nil(t, rack.Engines[0].Due, "what is to be mended has no date")
	require.NotNil(t, rack.Engines[1].Due)
	assert.Equal(t, "2031-08-14", rack.Engines[1].Due.ByDate, "six months, without a meter")
	assert.Contains(t, rack.Engines[2].Sentence, "Not tested yet")
}

func TestATestThatIsGoingOnLeavesTheEngineAsItWas(t *testing.T) {
	a := app(t)
	_, _, _ = ask(t, a, "POST", "/api/engines", four)
	typed(t, a, "siskin", 180, 182, 178, 180)
	typed(t, a, "siskin", 90)
	page := get[server.EnginePage](t, a, "/api/engines/siskin")
	assert.Equal(t, judge.Steady, page.State)
	assert.Equal(t, "s2", page.Open)
	assert.Equal(t, "Being tested: 1 of 4 read.", page.Tests[1].Verdict.Sentence)
}

func TestAnEngineSaysWhatToDo(t *testing.T) {
	a := app(t)
	_, _, _ = ask(t, a, "POST", "/api/engines", four)
	typed(t, a, "siskin", 180, 182, 178, 180)
	typed(t, a, "siskin", 180, 182, 158, 180)
	page := get[server.EnginePage](t, a, "/api/engines/siskin")
	assert.Contains(t, page.Sentence, "Cylinder 3 is down")
	assert.NotEmpty(t, page.Decision)
	require.NotNil(t, page.Next)
	assert.Equal(t, "leakdown", page.Next.Test)
	assert.Equal(t, "158", page.Bores[2].Reading)
	assert.NotEmpty(t, page.Bores[2].Why)

	status, _, body := ask(t, a, "POST", "/api/engines/siskin/builds", `{"date":"2031-03-01","what":"rings"}`)
	require.Equal(t, 201, status, body)
	status, _, body = ask(t, a, "POST", "/api/engines/siskin/events", `{"date":"2031-02-20","what":"ran hot","meter":12}`)
	require.Equal(t, 201, status, body)
	typed(t, a, "siskin", 190, 191, 189, 190)
	page = get[server.EnginePage](t, a, "/api/engines/siskin")
	assert.Contains(t, page.Sentence, "Recorded as this build's baseline", "a new build is held against nothing older")
	assert.Equal(t, "ran hot", page.Events[0].What)
	status, _, body = ask(t, a, "POST", "/api/engines/siskin/builds", `{"date":"someday","what":"rings"}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "body.date")
}

func TestLimitsAreChangedWithoutLosingTheRest(t *testing.T) {
	a := app(t)
	_, _, _ = ask(t, a, "POST", "/api/engines", four)
	typed(t, a, "siskin", 180, 182, 178, 180)
	status, _, body := ask(t, a, "PUT", "/api/engines/siskin", `{"name":"Siskin","kind":"four-stroke","layout":{"banks":[[1,2,3,4]]},"limits":{"source":"the builder","compression_minimum":{"value":179,"unit":"psi"}}}`)
	require.Equal(t, 200, status, body)
	page := get[server.EnginePage](t, a, "/api/engines/siskin")
	assert.Equal(t, judge.Watch, page.State, "3 reads 178")
	assert.Len(t, page.Tests, 1)
	assert.Equal(t, "Siskin", get[server.Rack](t, a, "/api/rack").Engines[0].Name)
	assert.Equal(t, judge.Watch, get[server.Rack](t, a, "/api/rack").Engines[0].State, "the rack is judged anew")
	status, _, body = ask(t, a, "PUT", "/api/engines/siskin", `{"name":"Siskin","kind":"four-stroke","layout":{"banks":[[1,2,3,3]]}}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "body.layout.banks.0.3")
	status, _, _ = ask(t, a, "PUT", "/api/engines/nobody", four)
	assert.Equal(t, 404, status)
}
