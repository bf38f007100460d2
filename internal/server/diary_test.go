package server_test

import (
	"fmt"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-ical"
	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/core/compare"
	"braxel/internal/core/diary"
	"braxel/internal/core/twice"
	"braxel/internal/server"
)

// uids reads a calendar and returns the day of each item by its UID.
func uids(t *testing.T, text string) map[string]string {
	t.Helper()
	cal, err := ical.NewDecoder(strings.NewReader(text)).Decode()
	require.NoError(t, err)
	all := map[string]string{}
	for _, e := range cal.Events() {
		uid, err := e.Props.Text(ical.PropUID)
		require.NoError(t, err)
		day, err := e.DateTimeStart(time.UTC)
		require.NoError(t, err)
		all[uid] = day.Format(time.DateOnly)
	}
	return all
}

func begunFour(t *testing.T) *fiber.App {
	a := app(t)
	kept(t, a, book.Engine, four)
	return a
}

// finished enters a whole test of the four and finishes it.
func finished(t *testing.T, a *fiber.App, date string, psi ...float64) {
	t.Helper()
	id := typedOn(t, a, "siskin", date, psi...)
	kept(t, a, book.Test, fmt.Sprintf(`{"id":%q,"open":null}`, id))
}

// What is due is subscribed to under a secret address; it keeps its UID while its test is edited, and goes when it is tested.
func TestTheDiaryIsSubscribedToUnderASecretAddress(t *testing.T) {
	a := begunFour(t)
	finished(t, a, "2031-02-14", 180, 182, 178, 180)
	page := get[server.DiaryPage](t, a, "/api/diary")
	assert.Empty(t, page.Calendar)
	status, _, _ := ask(t, a, "GET", "/calendar/.ics", "")
	assert.Equal(t, 404, status, "where no address was made, none answers")
	renew := func() string {
		status, _, body := ask(t, a, "POST", "/api/calendar-key", "")
		require.Equal(t, 204, status, body)
		return get[server.DiaryPage](t, a, "/api/diary").Calendar
	}
	first := renew()
	require.Regexp(t, `^/calendar/[A-Z2-7]{26}\.ics$`, first)
	status, header, text := ask(t, a, "GET", first, "")
	require.Equal(t, 200, status)
	assert.Contains(t, header.Get("Content-Type"), "text/calendar")
	before := uids(t, text)
	require.Len(t, before, 1)
	status, _, download := ask(t, a, "GET", "/api/diary.ics", "")
	require.Equal(t, 200, status)
	assert.Equal(t, before, uids(t, download))

	kept(t, a, book.Test, `{"id":"s1","date":"2031-02-10","note":"four days before"}`)
	_, _, text = ask(t, a, "GET", first, "")
	after := uids(t, text)
	for uid, day := range before {
		require.Contains(t, after, uid, "the same item")
		assert.NotEqual(t, day, after[uid], "on another day")
	}

	second := renew()
	assert.NotEqual(t, first, second)
	status, _, _ = ask(t, a, "GET", first, "")
	assert.Equal(t, 404, status, "the old address answers nobody")

	finished(t, a, "2031-02-14", 180, 182, 178, 180)
	_, _, text = ask(t, a, "GET", second, "")
	for uid := range before {
		assert.NotContains(t, uids(t, text), uid, "done by testing")
	}
}

func TestPutOffWithAReasonAndTakenBack(t *testing.T) {
	a := begunFour(t)
	finished(t, a, "2031-02-14", 180, 182, 178, 180)
	item := get[server.DiaryPage](t, a, "/api/diary").Items[0]
	assert.Equal(t, "test.s1", item.ID)
	answer, _ := tell(t, a, book.PutOff, `{"item":"test.s1","until":"2032-01-01","why":""}`)
	assert.Equal(t, book.IsRefused, answer.Result)
	assert.Equal(t, "/why", answer.Field)
	kept(t, a, book.PutOff, `{"item":"test.s1","until":"2032-01-01","why":"in the shed"}`, "off-1")
	item = get[server.DiaryPage](t, a, "/api/diary").Items[0]
	assert.Equal(t, diary.Off, item.Standing)
	assert.Equal(t, "in the shed", item.PutOffWhy)
	assert.Equal(t, "off-1", item.PutOffKey)
	kept(t, a, book.Strike, `{"entry":"off-1","why":"it runs again"}`)
	assert.NotEqual(t, diary.Off, get[server.DiaryPage](t, a, "/api/diary").Items[0].Standing)
}

func compared(t *testing.T, a *fiber.App, picks ...string) server.ComparePage {
	t.Helper()
	q := url.Values{"of": picks}
	return get[server.ComparePage](t, a, "/api/compare?"+q.Encode())
}

func TestTestsAndEnginesAreComparedByTheirAddress(t *testing.T) {
	a := begunFour(t)
	finished(t, a, "2031-02-14", 180, 182, 178, 180)
	finished(t, a, "2031-05-01", 180, 182, 140, 180)
	kept(t, a, book.Test, `{"id":"s3","date":"2031-06-01","stage":"after-repair"}`)
	for c, v := range []int{181, 183, 179, 180} {
		for k := range 2 {
			status, _, body := ask(t, a, "POST", "/api/entries", fmt.Sprintf(
				`{"entries":[{"id":"r-%d-%d","at":"2031-06-01T09:00:00Z","engine":"siskin","kind":"pull","body":{"test":"s3","cylinder":%d,"mode":"dry","value":%d,"unit":"psi"}}]}`,
				c, k, c+1, v))
			require.Equal(t, 200, status, body)
		}
	}
	page := compared(t, a, "siskin:s3", "siskin:s2")
	require.NotNil(t, page.Result)
	assert.Equal(t, compare.Repair, page.Result.Purpose)
	assert.Equal(t, twice.Better, page.Result.Answer)
	assert.Regexp(t, `^It surely helped\. Cylinder 3 came up 2[5-9]\.\d %\.$`, page.Sentence)
	require.Len(t, page.Columns, 2)
	assert.Equal(t, "siskin:s2", page.Columns[0].Pick, "the earlier first")
	assert.Equal(t, "140", page.Columns[0].Bores[2].Reading)

	page = compared(t, a, "siskin")
	assert.Nil(t, page.Result)
	assert.Contains(t, page.Sentence, "Pick a second test")

	serin := `{"entries":[{"id":"serin-1","at":"2031-02-14T08:00:00Z","engine":"serin","kind":"engine","body":` + strings.Replace(four, "Siskin", "Serin", 1) + `}]}`
	status, _, body := ask(t, a, "POST", "/api/entries", serin)
	require.Equal(t, 200, status, body)
	page = compared(t, a, "siskin", "serin")
	require.Len(t, page.Rank, 2)
	assert.Equal(t, "Siskin", page.Rank[0].Name)
	assert.Contains(t, page.Sentence, "Only Siskin has been tested")

	for _, none := range []string{"", "?of="} {
		status, _, body := ask(t, a, "GET", "/api/compare"+none, "")
		assert.Equal(t, 422, status, body)
		assert.Contains(t, body, "pick what to compare")
	}
	page = compared(t, a, "siskin:s2", "siskin:s2", "siskin:s3")
	assert.Len(t, page.Columns, 2, "the same twice is once")
	for _, bad := range []string{"nobody", "siskin:s9", "siskin@b9"} {
		status, _, body := ask(t, a, "GET", "/api/compare?of="+url.QueryEscape(bad), "")
		assert.Contains(t, []int{404, 422}, status, "%s: %s", bad, body)
	}
}

func TestAnEngineIsDownloadedAsItsLog(t *testing.T) {
	a := begunFour(t)
	status, header, body := ask(t, a, "GET", "/api/engines/siskin/log.json", "")
	require.Equal(t, 200, status)
	assert.Contains(t, header.Get("Content-Disposition"), "siskin.json")
	assert.Contains(t, body, `"format": "braxel-log"`)
	status, _, _ = ask(t, a, "GET", "/api/engines/nobody/log.json", "")
	assert.Equal(t, 404, status)
}

// What others named may hold the signs that part an engine from its test.
func TestAPickNamesWhatThereIs(t *testing.T) {
	a := app(t)
	entry := `{"entries":[{"id":"odd-1","at":"2031-02-14T08:00:00Z","engine":"odd:one@two","kind":"engine","body":` + four + `},
		{"id":"odd-2","at":"2031-02-14T08:00:01Z","engine":"odd:one@two","kind":"test","body":{"id":"a:b@c, d","date":"2031-02-14"}}]}`
	status, _, body := ask(t, a, "POST", "/api/entries", entry)
	require.Equal(t, 200, status, body)
	require.NotContains(t, body, "refused")
	page := compared(t, a, "odd:one@two:a:b@c, d")
	assert.Equal(t, "a:b@c, d", page.Columns[0].Test)
	page = compared(t, a, "odd:one@two")
	assert.Equal(t, "odd:one@two", page.Columns[0].Engine)
}
