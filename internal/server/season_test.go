package server_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/core/diary"
	"braxel/internal/core/season"
	"braxel/internal/server"
)

// raced is a workshop with one tested circuit engine, a car and two events.
func raced(t *testing.T) *fiber.App {
	a := app(t)
	kept(t, a, book.Engine, `{"name":"Siskin","kind":"four-stroke","layout":{"banks":[[1,2,3,4]]},"duty":"circuit","meter_unit":"h"}`)
	finished(t, a, "2031-01-10", 180, 182, 178, 180)
	kept(t, a, book.Meeting, `{"id":"m1","name":"Quarry Hill","date":"2031-03-01","hours":3}`)
	kept(t, a, book.Meeting, `{"id":"m2","name":"Long Pass","date":"2031-04-01","until":"2031-04-02","hours":2,"times":2}`)
	kept(t, a, book.Car, `{"id":"c1","name":"hill-climb car","engines":["siskin"],"sits":"siskin"}`)
	return a
}

func seasonOf(t *testing.T, a *fiber.App) server.SeasonPage {
	t.Helper()
	return get[server.SeasonPage](t, a, "/api/season")
}

func TestASeasonIsTypedAndMoved(t *testing.T) {
	a := raced(t)
	page := seasonOf(t, a)
	assert.Equal(t, 2, page.Price.Empty, "nobody runs yet")
	assert.Contains(t, page.Words, "2 starts have no engine yet")
	kept(t, a, book.Start, `{"id":"m1.c1","meeting":"m1","car":"c1","engine":"siskin"}`)
	kept(t, a, book.Start, `{"id":"m2.c1","meeting":"m2","car":"c1","engine":"siskin"}`)
	page = seasonOf(t, a)
	require.Len(t, page.Engines, 1)
	cells := page.Engines[0].Cells
	assert.Equal(t, 3.0, cells[0].Running)
	assert.Equal(t, 4.0, cells[1].Running, "it counts double")
	assert.Greater(t, cells[0].Chance, cells[1].Chance, "more running is never safer")
	assert.False(t, page.Engines[0].Known, "from one test nobody knows")
	kept(t, a, book.Start, `{"id":"m1.c1","meeting":"m1","car":"c1","off":true}`)
	assert.Empty(t, seasonOf(t, a).Engines[0].Cells[0].Car, "it was taken off")
	assert.Greater(t, seasonOf(t, a).Engines[0].Cells[1].Chance, cells[1].Chance, "so the next one costs less")
	kept(t, a, book.Meeting, `{"id":"m1","off":true}`)
	assert.Len(t, seasonOf(t, a).Meetings, 1)
}

func TestWhatIsPlannedStandsInTheDiaryAndTheCalendar(t *testing.T) {
	a := raced(t)
	kept(t, a, book.Start, `{"id":"m1.c1","meeting":"m1","car":"c1","engine":"siskin"}`)
	kept(t, a, book.Job, `{"id":"j1","engine":"siskin","work":"freshen","before":"m1"}`)
	page := get[server.DiaryPage](t, a, "/api/diary")
	found := false
	for _, i := range page.Items {
		if i.Kind == diary.Plan {
			found = true
			assert.Equal(t, "2031-02-25", i.By, "26 h are four days' work")
			assert.Contains(t, i.Why, "Quarry Hill")
		}
	}
	assert.True(t, found)
	_, _, text := ask(t, a, "GET", "/api/diary.ics", "")
	assert.Equal(t, "2031-02-25", uids(t, text)["siskin.plan.j1@braxel"])
	kept(t, a, book.Job, `{"id":"j1","engine":"siskin","work":"freshen","before":"m1","off":true}`)
	_, _, text = ask(t, a, "GET", "/api/diary.ics", "")
	assert.NotContains(t, uids(t, text), "siskin.plan.j1@braxel")
}

func TestThePlanIsSearchedForBehindTheAnswer(t *testing.T) {
	a := raced(t)
	status, _, body := ask(t, a, "POST", "/api/season/search", "")
	require.Equal(t, 204, status, body)
	var found server.SeasonSearch
	require.Eventually(t, func() bool {
		found = get[server.SeasonSearch](t, a, "/api/season/search")
		return !found.Running
	}, 30*time.Second, 10*time.Millisecond)
	require.NotNil(t, found.Offer)
	assert.Len(t, found.Offer.Starts, 2)
	assert.Zero(t, found.Offer.Price.Empty)
	assert.False(t, found.Stale)
	kept(t, a, book.Meeting, `{"id":"m1","hours":4}`)
	assert.True(t, get[server.SeasonSearch](t, a, "/api/season/search").Stale, "an event has changed since")
	status, _, _ = ask(t, a, "DELETE", "/api/season/search", "")
	assert.Equal(t, 204, status)
	assert.Nil(t, get[server.SeasonSearch](t, a, "/api/season/search").Offer)
}

func TestBadSeasonsAreRefusedByTheirField(t *testing.T) {
	a := raced(t)
	for body, field := range map[string]string{
		`{"id":"x","name":"X","date":"2031-02-30"}`:                      "/date",
		`{"id":"x","name":"X"}`:                                          "/date",
		`{"id":"x","name":"","date":"2031-03-01"}`:                       "/name",
		`{"id":"x","name":"X","date":"2031-03-01","hours":-2}`:           "/hours",
		`{"id":"x","name":"X","date":"2031-03-01","until":"2031-02-01"}`: "/until",
		`{"id":"x","name":"X","date":"2031-03-01","until":"2031-06-01"}`: "/until",
		`{"id":"x","name":"X","date":"2031-03-01","HOURS":2}`:            "/HOURS",
		`{"id":"x","name":"X","date":"2031-03-01","hours":1e999}`:        "/hours",
		`{"id":"x","name":"X","date":"2031-03-01","hours":"three"}`:      "/hours",
	} {
		answer, _ := tell(t, a, book.Meeting, body)
		assert.Equal(t, book.IsRefused, answer.Result, body)
		assert.Equal(t, field, answer.Field, body)
	}
	answer, _ := tell(t, a, book.Start, `{"id":"m1.c1","meeting":"m1","car":"c1","engine":"siskin","ran":-1}`)
	assert.Equal(t, "/ran", answer.Field)
	answer, _ = tell(t, a, book.Terms, `{"chance":0.9}`)
	assert.Equal(t, "/chance", answer.Field)
}

func TestWhatNoPlanCanMeetIsSaid(t *testing.T) {
	a := raced(t)
	kept(t, a, book.Meeting, `{"id":"m3","name":"Lakeside","date":"2031-03-01"}`)
	kept(t, a, book.Start, `{"id":"m1.c1","meeting":"m1","car":"c1","engine":"siskin"}`)
	kept(t, a, book.Start, `{"id":"m3.c1","meeting":"m3","car":"c1","engine":"siskin"}`)
	kept(t, a, book.Start, `{"id":"m2.c1","meeting":"m2","car":"c1","engine":"gone"}`)
	var all []string
	for _, p := range seasonOf(t, a).Problems {
		all = append(all, p.Words)
	}
	said := strings.Join(all, "\n")
	assert.Contains(t, said, "Siskin can't be in two places")
	assert.Contains(t, said, "hill-climb car can't go to both")
	assert.Contains(t, said, "How long do engines run at Lakeside?")
	assert.Contains(t, said, "An engine planned for Long Pass isn't here any more.")
}

func TestSeasonEntriesLeaveTheJudgeAlone(t *testing.T) {
	a := raced(t)
	before := get[server.Rack](t, a, "/api/rack")
	kept(t, a, book.Meeting, `{"id":"m4","name":"One more","date":"2031-05-01"}`)
	assert.Zero(t, get[server.Rack](t, a, "/api/rack").Pending)
	assert.Equal(t, before.Engines[0].Headline, get[server.Rack](t, a, "/api/rack").Engines[0].Headline)
}

func TestAPastedSeasonIsReadLineByLine(t *testing.T) {
	a := app(t)
	status, _, body := ask(t, a, "POST", "/api/season/read", `{"text":"Quarry Hill; 12 Jun 2031; 4 h\nno day at all\n"}`)
	require.Equal(t, 200, status, body)
	assert.Contains(t, body, `"date":"2031-06-12"`)
	assert.Contains(t, body, "No day found")
	status, _, body = ask(t, a, "POST", "/api/season/read", `{"text":"BEGIN:VCALENDAR\nrubbish"}`)
	assert.Equal(t, 422, status, body)
}

func TestTheSeasonIsPrintedOnOnePage(t *testing.T) {
	a := raced(t)
	kept(t, a, book.Start, `{"id":"m1.c1","meeting":"m1","car":"c1","engine":"siskin"}`)
	kept(t, a, book.Job, `{"id":"j1","engine":"siskin","work":"test","before":"m1"}`)
	status, header, pdf := ask(t, a, "GET", "/api/season.pdf", "")
	require.Equal(t, 200, status)
	assert.Equal(t, "application/pdf", header.Get("Content-Type"))
	assert.Equal(t, 1, strings.Count(pdf, "/Type /Page\n"))
}

func TestOthersThatCouldRunAreOffered(t *testing.T) {
	a := raced(t)
	kept(t, a, book.Start, `{"id":"m1.c1","meeting":"m1","car":"c1","engine":"siskin"}`)
	others := get[[]season.Other](t, a, "/api/season/others?meeting=m1&car=c1")
	require.Len(t, others, 4, "nothing, a test, a freshen-up, a rebuild")
	assert.True(t, others[0].Now)
	assert.Equal(t, []float64{0, 2, 26, 62}, []float64{others[0].Hours, others[1].Hours, others[2].Hours, others[3].Hours})
	assert.Empty(t, get[[]season.Other](t, a, "/api/season/others?meeting=nowhere&car=c1"))
}

func TestALargeSeasonIsWeighedBehindTheAnswer(t *testing.T) {
	a := app(t)
	var ids []string
	for n := range 30 {
		id := fmt.Sprintf("e%d", n)
		ids = append(ids, fmt.Sprintf("%q", id))
		status, _, body := ask(t, a, "POST", "/api/entries", fmt.Sprintf(
			`{"entries":[{"id":"n%d","at":"2031-02-14T09:00:00Z","engine":%q,"kind":"engine","body":`+
				`{"name":%q,"kind":"four-stroke","layout":{"banks":[[1]]},"duty":"kart","meter_unit":"h"}}]}`,
			n, id, id))
		require.Equal(t, 200, status, body)
	}
	kept(t, a, book.Meeting, `{"id":"m1","name":"Quarry Hill","date":"2031-03-01","hours":3}`)
	kept(t, a, book.Car, `{"id":"c1","name":"kart","engines":[`+strings.Join(ids, ",")+`]}`)
	first := seasonOf(t, a)
	assert.Positive(t, first.Pending)
	assert.Empty(t, first.Problems, "of engines that aren't known yet nothing is missing")
	require.Eventually(t, func() bool { return seasonOf(t, a).Pending == 0 }, time.Minute, 20*time.Millisecond)
	assert.Len(t, seasonOf(t, a).Engines, 30)
}

func TestAnEnginesPageSaysHowMuchItIsGoodFor(t *testing.T) {
	a := raced(t)
	assert.Empty(t, get[server.SeasonLine](t, a, "/api/engines/siskin/season").Words, "one test tells nothing")
	status, _, _ := ask(t, a, "GET", "/api/engines/nobody/season", "")
	assert.Equal(t, 404, status)
}

func TestWhatHappenedSinceTheLastTestIsSaid(t *testing.T) {
	a := raced(t)
	kept(t, a, book.Start, `{"id":"m1.c1","meeting":"m1","car":"c1","engine":"siskin"}`)
	kept(t, a, book.Event, `{"date":"2031-02-10","what":"boiled over on the climb","kind":"ran-hot"}`)
	page := seasonOf(t, a)
	assert.Contains(t, page.Engines[0].Sentence, "Boiled over on the climb")
	require.Len(t, page.Problems, 1)
	assert.Contains(t, page.Problems[0].Words, "20 in 100 of each chance is taken off for harm that nobody has seen. Boiled over on the climb")
}
