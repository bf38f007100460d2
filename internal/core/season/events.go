package season

import (
	"regexp"
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/ahead"
	"braxel/internal/core/book"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
)

// Read is what a pasted list of events comes to.
type Read struct {
	Meetings []ahead.Meeting `json:"meetings"`
	Refused  []Refused       `json:"refused" doc:"Lines that can't be read, and why"`
	Asked    string          `json:"asked,omitzero" doc:"A date that can be read day first or month first: choose one"`
}

// Refused is a line that can't be read as an event.
type Refused struct {
	Line int    `json:"line"`
	Text string `json:"text"`
	Why  string `json:"why"`
}

// linesMost is how many events are taken at once.
const linesMost = 1000

// ReadLines reads events as people write them, one a line: name, first day, perhaps last day, how long an engine runs, in any
// order, parted by tabs, semicolons, commas or several spaces. order says how dates are meant that can be read two ways. A day
// without a year is the next one from today on.
func ReadLines(text string, order written.Order, today string) Read {
	out := Read{Meetings: []ahead.Meeting{}, Refused: []Refused{}}
	lines := strings.Split(strings.ReplaceAll(text, "\r", "\n"), "\n")
	var days []string
	var rows []int
	for i, line := range lines {
		for _, part := range parts(line) {
			if written.IsDay(written.Fold(part)) {
				days, rows = append(days, part), append(rows, i)
			}
		}
	}
	var dates written.Dates
	dates.Settle(days, rows, order)
	if dates.Order == written.Undecidable {
		out.Asked = dates.Text
		return out
	}
	for i, line := range lines {
		if strings.TrimSpace(line) == "" {
			continue
		}
		refuse := func(why string) { out.Refused = append(out.Refused, Refused{i + 1, strings.TrimSpace(line), why}) }
		if len(out.Meetings) >= linesMost {
			refuse(say.Text("season.too-many-events", "most", linesMost))
			break
		}
		m, err := readLine(line, &dates, today)
		if err != nil {
			refuse(err.Error())
			continue
		}
		if f := m.Check(); len(f) > 0 {
			refuse(f[0].What)
			continue
		}
		out.Meetings = append(out.Meetings, m)
	}
	return out
}

var (
	parting = regexp.MustCompile(`\t|;|,\s|\s{2,}|\s+[-–—]\s+|\s+to\s+`)
	long    = regexp.MustCompile(`(?i)^(\d+(?:[.,]\d+)?)\s*(h|hrs?|hours?|km|kilomet(?:er|re)s?|mi|miles?|runs?|passes)$`)
	noYear  = regexp.MustCompile(`(?i)^(\d{1,2})(?:st|nd|rd|th|\.)?\s*([a-z]{3,9})\.?$|^([a-z]{3,9})\.?\s+(\d{1,2})(?:st|nd|rd|th)?$`)
)

func parts(line string) []string {
	var all []string
	for _, p := range parting.Split(strings.TrimSpace(line), -1) {
		if p = strings.Trim(p, " ,;"); p != "" {
			all = append(all, p)
		}
	}
	return all
}

func readLine(line string, dates *written.Dates, today string) (ahead.Meeting, error) {
	var m ahead.Meeting
	for _, part := range parts(line) {
		switch day, isDay, err := dayOf(part, dates, today, m.Date); {
		case err != nil:
			return m, err
		case isDay && m.Date == "":
			m.Date = day
			continue
		case isDay && m.Until == "":
			m.Until = day
			continue
		case isDay:
			return m, say.Error("season.line-three-days", "text", part)
		}
		if x := long.FindStringSubmatch(part); x != nil {
			v, err := strconv.ParseFloat(strings.Replace(x[1], ",", ".", 1), 64)
			if err != nil {
				return m, say.Error("season.line-not-a-length", "text", part)
			}
			setRunning(&m, v, strings.ToLower(x[2]))
			continue
		}
		if strings.HasPrefix(part, "-") && long.MatchString(strings.TrimPrefix(part, "-")) {
			return m, say.Error("season.line-negative", "text", part)
		}
		if m.Name == "" {
			m.Name = part
		} else if m.Sort == "" {
			m.Sort = part
		}
	}
	switch {
	case m.Date == "":
		return m, say.Error("season.line-no-day")
	case m.Name == "":
		return m, say.Error("season.line-no-name")
	}
	if m.Until == m.Date {
		m.Until = ""
	}
	m.ID = book.NameOf("meeting", m.Name, m.Date)
	return m, nil
}

func setRunning(m *ahead.Meeting, v float64, unit string) {
	switch {
	case strings.HasPrefix(unit, "h"):
		m.Hours = v
	case strings.HasPrefix(unit, "k"):
		m.Km = v
	case strings.HasPrefix(unit, "m"):
		m.Km = v * units.KmPerMile
	default:
		m.Runs = v
	}
}

// dayOf reads a part as a day. One without a year is the first from today, or from the event's first day, on.
func dayOf(part string, dates *written.Dates, today, first string) (day string, is bool, err error) {
	if written.IsDay(written.Fold(part)) {
		day, err = dates.Read(part)
		return day, true, err
	}
	if !noYear.MatchString(part) {
		return "", false, nil
	}
	from := max(today, first)
	year, err := strconv.Atoi(from[:min(4, len(from))])
	if err != nil {
		return "", false, nil
	}
	for y := year; y <= year+1; y++ {
		text := strings.TrimRight(part, ".") + " " + strconv.Itoa(y)
		if !written.IsDay(written.Fold(text)) {
			return "", false, nil
		}
		if day, err = dates.Read(text); err != nil {
			return "", true, err
		}
		if day >= from {
			return day, true, nil
		}
	}
	return day, true, nil
}

// Dated keeps of events those that a season can have: with a name and a day, each once.
func Dated(all []ahead.Meeting) Read {
	out := Read{Meetings: []ahead.Meeting{}, Refused: []Refused{}}
	for i, m := range all {
		if m.ID == "" {
			m.ID = book.NameOf("meeting", m.Name, m.Date)
		}
		if slices.ContainsFunc(out.Meetings, func(have ahead.Meeting) bool { return have.ID == m.ID }) {
			continue
		}
		if f := m.Check(); len(f) > 0 {
			out.Refused = append(out.Refused, Refused{i + 1, m.Name, f[0].What})
			continue
		}
		if len(out.Meetings) >= linesMost {
			break
		}
		out.Meetings = append(out.Meetings, m)
	}
	return out
}
