package logfile

import (
	"strings"
	"time"
	"unicode"

	ics "github.com/arran4/golang-ical"

	"braxel/internal/core/diary"
	"braxel/internal/core/say"
)

// morning is when a day's items call: eight hours after the day begins.
const morning = "PT8H"

// Calendar writes what is due as an iCalendar (RFC 5545): a whole day each, on the day to which it was put off, else on that on which
// it is due; what is overdue stands on today, since nobody looks for it on a day that has passed. Each calls in the morning. What only the
// meter tells has no day, and is left out. An item keeps its UID while what it comes from is edited.
func Calendar(shop string, items []diary.Item, now time.Time) string {
	cal := ics.NewCalendar()
	cal.SetProductId("-//Braxel//Diary//EN")
	cal.SetMethod(ics.MethodPublish)
	cal.SetXWRCalName(plain(strings.TrimSpace(say.Text("logfile.diary", "shop", shop))))
	cal.SetRefreshInterval("PT6H", ics.WithValue("DURATION"))
	cal.SetXPublishedTTL("PT6H")
	for _, i := range items {
		today := now.Format(time.DateOnly)
		day, err := time.Parse(time.DateOnly, max(i.By, i.PutOff, today))
		if err != nil || i.By == "" {
			continue
		}
		e := cal.AddEvent(i.Engine + "." + i.ID + "@braxel")
		e.SetDtStampTime(now.UTC())
		e.SetAllDayStartAt(day)
		e.SetAllDayEndAt(day.AddDate(0, 0, 1))
		e.SetTimeTransparency(ics.TransparencyTransparent)
		what := i.What
		if max(i.By, i.PutOff) < today {
			what = say.Text("logfile.overdue-since", "what", what, "date", say.Day(i.By))
		}
		e.SetSummary(plain(i.Name + ": " + what))
		e.SetDescription(plain(why(i)))
		e.AddCategory("Braxel")
		alarm := e.AddAlarm()
		alarm.SetAction(ics.ActionDisplay)
		alarm.SetTrigger(morning)
		alarm.SetProperty(ics.ComponentPropertyDescription, plain(i.Name+": "+what))
	}
	return cal.Serialize(ics.WithNewLineWindows)
}

// why says why something is due, and what else tells when.
func why(i diary.Item) string {
	lines := []string{i.Why}
	if i.Meter != nil {
		lines = append(lines, say.Text("logfile.due-at", "meter", *i.Meter, "unit", i.Unit))
	}
	if i.PutOff != "" {
		lines = append(lines, say.Text("logfile.postponed", "putOffWhy", i.PutOffWhy))
	}
	return strings.Join(lines, "\n")
}

// plain leaves out what no line of a calendar may hold: the library that folds them takes every text for valid.
func plain(text string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsControl(r) && r != '\n' {
			return -1
		}
		return r
	}, strings.ToValidUTF8(text, "?"))
}
