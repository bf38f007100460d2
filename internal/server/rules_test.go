package server_test

import (
	"fmt"
	"net/url"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/core/hindsight"
	"braxel/internal/core/judge"
	"braxel/internal/server"
)

func ruleLine(t *testing.T, a *fiber.App, id string) server.RuleLine {
	t.Helper()
	for _, l := range get[[]server.RuleLine](t, a, "/api/rules") {
		if l.ID == id {
			return l
		}
	}
	require.Fail(t, "no rule "+id)
	return server.RuleLine{}
}

// An interval of the workshop's moves what is due on every engine of that duty, at once, on the rack too; older entries count as well, and
// newer ones stand above them.
func TestAnIntervalOfTheWorkshopsMovesWhatIsDue(t *testing.T) {
	a := begunFour(t)
	finished(t, a, "2031-02-14", 180, 182, 178, 180)
	due := func() string { return get[server.Rack](t, a, "/api/rack").Engines[0].Diary[0].By }
	assert.Equal(t, "2032-02-14", due())
	answer, _ := tell(t, a, book.Plan, `{"id":"street","months":0}`)
	assert.Equal(t, book.IsRefused, answer.Result)
	kept(t, a, book.Plan, `{"id":"street","hours":20,"months":2}`)
	assert.Equal(t, "2031-04-14", due())
	assert.True(t, ruleLine(t, a, "intervals.street.months").Own)
	kept(t, a, book.Rule, `{"id":"intervals.street.months","value":3,"why":"they stand outside"}`)
	assert.Equal(t, "2031-05-14", due())
	line := ruleLine(t, a, "intervals.street.months")
	assert.Equal(t, 3.0, line.Value)
	assert.Equal(t, "they stand outside", line.OurWhy)
	assert.False(t, ruleLine(t, a, "intervals.circuit.months").Own)
}

func TestWhatIsNoRuleIsRefusedAtItsField(t *testing.T) {
	a := begunFour(t)
	for body, at := range map[string]string{
		`{"id":"limits.street.mood","value":3}`:        "/id",
		`{"id":"limits.street.leak_act","value":55}`:   "/value",
		`{"id":"limits.street.leak_act","value":0}`:    "/value",
		`{"id":"intervals.kart.months","value":2.5}`:   "/value",
		`{"id":"causes.healthy","value":0.9}`:          "/id",
		`{"id":"limits.street.stop_leak","value":100}`: "/id",
	} {
		answer, _ := tell(t, a, book.Rule, body)
		assert.Equal(t, book.IsRefused, answer.Result, body)
		assert.Equal(t, at, answer.Field, body)
	}
}

// Cylinder 3 loses 5 %, which a street engine is not opened for; with 4 % it is.
func TestALimitOfTheWorkshopsIsJudgedBy(t *testing.T) {
	a := begunFour(t)
	finished(t, a, "2031-02-14", 180, 182, 178, 180)
	finished(t, a, "2031-03-14", 180, 182, 166, 180)
	last := func() judge.State {
		return get[server.Rack](t, a, "/api/rack").Engines[0].State
	}
	before := last()
	assert.Equal(t, judge.Watch, before)
	ask := func(value float64) hindsight.Result {
		q := url.Values{"id": {"limits.street.loss_act"}, "value": {fmt.Sprint(value)}}
		return get[hindsight.Result](t, a, "/api/hindsight?"+q.Encode())
	}
	would := ask(5)
	require.Len(t, would.More, 1)
	assert.Contains(t, would.Sentence, "was never acted on, and would have been")
	assert.Contains(t, ask(10).Sentence, "nothing would have come out differently")
	assert.Equal(t, before, last(), "asking changes nothing")
	kept(t, a, book.Rule, `{"id":"limits.street.loss_act","value":5,"why":"they are loaded hard"}`)
	assert.Equal(t, judge.Act, last())
}

// What is found when engines are opened makes the workshop's rates, until somebody sets one by hand; taken back, it counts no more.
func TestWhatIsFoundMakesTheWorkshopsRates(t *testing.T) {
	a := begunFour(t)
	test := typedOn(t, a, "siskin", "2031-02-14", 180, 182, 178, 180)
	kept(t, a, book.Look, `{"test":"`+test+`","what":"other","item":"found","cylinder":3,"finding":"bent rod"}`, "look-1")
	line := ruleLine(t, a, "causes.bent_rod")
	assert.InDelta(t, 0.02*(40*0.02/0.96+1)/(41*0.02/0.96), line.Value, 1e-3)
	assert.Equal(t, 1, line.Counted)
	assert.Equal(t, "Found 1 of 1 time here", line.OurWhy)
	assert.Less(t, ruleLine(t, a, "causes.exhaust_valve").Value, 0.26)

	kept(t, a, book.Rule, `{"id":"causes.exhaust_valve","value":0.3,"why":"they run hard","counted":0}`)
	kept(t, a, book.Strike, `{"entry":"look-1","why":"of another engine"}`)
	assert.InDelta(t, 0.02, ruleLine(t, a, "causes.bent_rod").Value, 1e-9)
	assert.InDelta(t, 0.3, ruleLine(t, a, "causes.exhaust_valve").Value, 1e-9, "what somebody set is left alone")
}
