package logfile

import (
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/diary"
)

// read reads a calendar by another library than the one that wrote it.
func read(t *testing.T, text string) map[string]ical.Event {
	t.Helper()
	cal, err := ical.NewDecoder(strings.NewReader(text)).Decode()
	require.NoError(t, err)
	all := map[string]ical.Event{}
	for _, e := range cal.Events() {
		uid, err := e.Props.Text(ical.PropUID)
		require.NoError(t, err)
		all[uid] = e
	}
	return all
}

func TestAnotherLibraryReadsTheCalendar(t *testing.T) {
	meter := 45.0
	items := []diary.Item{
		{ID: "test.s9", Engine: "heron-1", Name: "Heron; “the four”, 2.2", What: "test it", Why: "a circuit engine,\nafter 10 h; or 6 months \\ years", By: "2033-05-01", Meter: &meter, Unit: "h"},
		{ID: "mend.s3", Engine: "heron-1", Name: "Heron", What: "see to it", Why: strings.Repeat("Cylinder 3 läuft — ", 20), By: "2033-04-01", PutOff: "2033-06-01", PutOffWhy: "parts, late"},
		{ID: "test.s2", Engine: "wren", Name: "Wren", What: "test it", Why: "a kart", By: "2033-03-01"},
		{ID: "first", Engine: "dunlin", Name: "Dunlin", What: "test it", Why: "never tested"},
	}
	text := Calendar("Tarn Hollow", items, time.Date(2033, 4, 1, 12, 0, 0, 0, time.UTC))
	for _, line := range strings.Split(text, "\r\n") {
		assert.LessOrEqual(t, len(line), 75, "a line has 75 octets at most")
		assert.NotContains(t, line, "\n")
	}
	all := read(t, text)
	require.Len(t, all, 3, "what has no day is no event of a calendar")
	one := all["heron-1.test.s9@braxel"]
	start, err := one.DateTimeStart(time.UTC)
	require.NoError(t, err)
	assert.Equal(t, "2033-05-01", start.Format(time.DateOnly))
	assert.Equal(t, "DATE", string(one.Props.Get(ical.PropDateTimeStart).ValueType()))
	summary, err := one.Props.Text(ical.PropSummary)
	require.NoError(t, err)
	assert.Equal(t, "Heron; “the four”, 2.2: test it", summary)
	description, err := one.Props.Text(ical.PropDescription)
	require.NoError(t, err)
	assert.Equal(t, "a circuit engine,\nafter 10 h; or 6 months \\ years\nDue at 45 h.", description)
	start, err = all["heron-1.mend.s3@braxel"].Props.DateTime(ical.PropDateTimeStart, time.UTC)
	require.NoError(t, err)
	assert.Equal(t, "2033-06-01", start.Format(time.DateOnly), "on the day to which it was put off")
	description, err = all["heron-1.mend.s3@braxel"].Props.Text(ical.PropDescription)
	require.NoError(t, err)
	assert.Contains(t, description, "Postponed: parts, late")
	late := all["wren.test.s2@braxel"]
	start, err = late.Props.DateTime(ical.PropDateTimeStart, time.UTC)
	require.NoError(t, err)
	assert.Equal(t, "2033-04-01", start.Format(time.DateOnly), "overdue: it stands on today")
	summary, err = late.Props.Text(ical.PropSummary)
	require.NoError(t, err)
	assert.Equal(t, "Wren: test it, overdue since 1 Mar 2033", summary)
	require.Len(t, late.Children, 1)
	assert.Equal(t, "VALARM", late.Children[0].Name, "it calls in the morning")
}

// FuzzCalendar: whatever somebody names his engines, another library reads what is written, and the words are as they were.
func FuzzCalendar(f *testing.F) {
	f.Add("Heron", "why not", "2033-05-01")
	f.Add("a\r\nBEGIN:VEVENT", "x;y,z\\n\x00", "2033-05-01")
	f.Fuzz(func(t *testing.T, name, why, by string) {
		text := Calendar("shop", []diary.Item{{ID: "test.s1", Engine: "e", Name: name, What: "test it", Why: why, By: by}}, time.Unix(0, 0))
		if len(read(t, text)) > 1 {
			t.Fatal("one item became several")
		}
	})
}
