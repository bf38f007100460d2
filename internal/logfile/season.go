package logfile

import (
	"fmt"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/ahead"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/season"
)

// seasonFile is a shop with a season ahead, as it is written.
type seasonFile struct {
	Format  string           `json:"format"`
	Version int              `json:"version"`
	Logs    []jsontext.Value `json:"logs"`
	Events  []season.Event   `json:"events"`
	Plans   []season.Run     `json:"plans"`
	Rest    jsontext.Value   `json:",embed"`
}

// ReadSeason reads a shop with a season ahead. One that can't be is refused with its faults, by pointer.
func ReadSeason(text []byte) (season.Ahead, error) {
	if err := measure(text); err != nil {
		return season.Ahead{}, err
	}
	var file seasonFile
	if err := json.Unmarshal(text, &file); err != nil {
		return season.Ahead{}, unreadable(err)
	}
	if file.Format != "braxel-season" || file.Version != 1 {
		return season.Ahead{}, log.Faults{log.At("/format", "logfile.not-a-season")}
	}
	out := season.Ahead{Events: file.Events, Plans: file.Plans}
	var found log.Faults
	for i, one := range file.Logs {
		l, _, err := Read(one)
		if err != nil {
			found.Also(log.Of(fmt.Sprintf("/logs/%d", i), err))
		}
		out.Logs = append(out.Logs, l)
	}
	found.Also(out.Check()...)
	if len(found) > 0 {
		return season.Ahead{}, found[:min(len(found), most)]
	}
	return out, nil
}

// ReadCalendar reads the events of an iCalendar file (RFC 5545) as those of a season: their names and days. How long engines run there it
// doesn't say.
func ReadCalendar(text string) (season.Read, error) {
	cal, err := ics.ParseCalendar(strings.NewReader(text))
	if err != nil {
		return season.Read{}, say.Error("logfile.not-a-calendar")
	}
	var all []ahead.Meeting
	for _, e := range cal.Events() {
		m := ahead.Meeting{}
		if p := e.GetProperty(ics.ComponentPropertySummary); p != nil {
			m.Name = cutTo(strings.TrimSpace(plain(p.Value)), 120)
		}
		whole := false
		if p := e.GetProperty(ics.ComponentPropertyDtStart); p != nil {
			m.Date, whole = dayIn(p.Value)
		}
		if p := e.GetProperty(ics.ComponentPropertyDtEnd); p != nil {
			m.Until, _ = dayIn(p.Value)
			if whole { // a whole day ends where the next begins
				m.Until = before(m.Until)
			}
		}
		if m.Until <= m.Date {
			m.Until = ""
		}
		all = append(all, m)
	}
	return season.Dated(all), nil
}

// dayIn returns the day of a calendar's time, and whether it is a whole day.
func dayIn(value string) (day string, whole bool) {
	const letters = len("20330612")
	if len(value) < letters {
		return "", false
	}
	t, err := time.Parse("20060102", value[:letters])
	if err != nil {
		return "", false
	}
	return t.Format(time.DateOnly), len(value) == letters
}

func before(day string) string {
	t, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return ""
	}
	return t.AddDate(0, 0, -1).Format(time.DateOnly)
}

func cutTo(text string, most int) string {
	runes := []rune(text)
	return string(runes[:min(len(runes), most)])
}
