package season_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/season"
)

func TestEventsAreReadAsPeopleWriteThem(t *testing.T) {
	for line, want := range map[string]struct {
		name, date, until string
		hours, km, runs   float64
	}{
		"Quarry Hill; 12 Jun 2033; 4 h":                {"Quarry Hill", "2033-06-12", "", 4, 0, 0},
		"12.6.2033\tQuarry Hill\t4,5 hours":            {"Quarry Hill", "2033-06-12", "", 4.5, 0, 0},
		"Tarn Cup, 18 Jun 2033 to 19 Jun 2033, 8 runs": {"Tarn Cup", "2033-06-18", "2033-06-19", 0, 0, 8},
		"2033-07-16  2033-07-17  Long Pass  300 km":    {"Long Pass", "2033-07-16", "2033-07-17", 0, 300, 0},
		"Last Climb; 10 September; 3h":                 {"Last Climb", "2033-09-10", "", 3, 0, 0},
		"Spring Sprint; 2 Apr; 10 miles":               {"Spring Sprint", "2034-04-02", "", 0, 16.09344, 0},
	} {
		out := season.ReadLines(line, "", "2033-05-14")
		require.Empty(t, out.Refused, line)
		require.Len(t, out.Meetings, 1, line)
		m := out.Meetings[0]
		assert.Equal(t, want.name, m.Name, line)
		assert.Equal(t, want.date, m.Date, line)
		assert.Equal(t, want.until, m.Until, line)
		assert.InDeltaSlice(t, []float64{want.hours, want.km, want.runs}, []float64{m.Hours, m.Km, m.Runs}, 1e-9, line)
	}
}

func TestWhatCantBeReadIsSaidByItsLine(t *testing.T) {
	text := "Quarry Hill; 12 Jun 2033; 4 h\n\nno day; 4 h\n31 Jun 2033; Nowhere\nX; 2 May 2033; 1 May 2033\nY; 2 May 2033; -4 h"
	out := season.ReadLines(text, "", "2033-05-14")
	require.Len(t, out.Meetings, 1)
	lines := map[int]string{}
	for _, r := range out.Refused {
		lines[r.Line] = r.Why
	}
	assert.Contains(t, lines[3], "No day found")
	assert.Contains(t, lines, 4)
	assert.Contains(t, lines, 5)
	assert.Contains(t, lines[6], "less than nothing")
}

func TestADateThatCanBeReadTwoWaysIsAsked(t *testing.T) {
	out := season.ReadLines("Quarry Hill; 5/6/2033; 4 h", "", "2033-05-14")
	assert.Equal(t, "5/6/2033", out.Asked)
	assert.Empty(t, out.Meetings)
	assert.Equal(t, "2033-06-05", season.ReadLines("Quarry Hill; 5/6/2033; 4 h", "dmy", "2033-05-14").Meetings[0].Date)
	assert.Equal(t, "2033-05-06", season.ReadLines("Quarry Hill; 5/6/2033; 4 h", "mdy", "2033-05-14").Meetings[0].Date)
}

func FuzzAPastedListBreaksNothing(f *testing.F) {
	f.Add("Quarry Hill; 12 Jun 2033; 4 h\n5/6/2033")
	f.Fuzz(func(t *testing.T, text string) {
		out := season.ReadLines(text, "dmy", "2033-05-14")
		for _, m := range out.Meetings {
			assert.Empty(t, m.Check())
			assert.GreaterOrEqual(t, m.Hours, 0.0)
		}
		assert.LessOrEqual(t, len(out.Meetings)+len(out.Refused), strings.Count(text, "\n")+strings.Count(text, "\r")+1)
	})
}
