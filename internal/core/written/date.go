package written

import (
	"regexp"
	"strconv"
	"strings"
	"sync"
	"time"

	"braxel/internal/core/say"
)

// Order is the order of day and month in dates that are figures alone.
type Order string

// Orders of a file's dates.
const (
	DayFirst    Order = "dmy"
	MonthFirst  Order = "mdy"
	ISO         Order = "iso"
	Named       Order = "named month"
	Serial      Order = "serial"
	Undecidable Order = "undecidable"
)

var (
	isoDate     = regexp.MustCompile(`^(\d{4})[-/. ](\d{1,2})[-/. ](\d{1,2})$`)
	compactDate = regexp.MustCompile(`^(19|20|21)(\d{2})(\d{2})(\d{2})$`)
	threeParts  = regexp.MustCompile(`^(\d{1,2}) ?([-/.]) ?(\d{1,2}) ?([-/.]) ?(\d{4}|'?\d{2})$`)
	dayMonth    = regexp.MustCompile(`^(?:[a-z]{2,14}[,.]? )?(\d{1,2})(?:st|nd|rd|th|er)?[-./ ]*(?:of |de )?([a-z]{3,14})[-., /']*(?:de )?(\d{4}|\d{2})$`)
	monthDay    = regexp.MustCompile(`^(?:[a-z]{2,14}[,.]? )?([a-z]{3,14})[-./ ]*(\d{1,2})(?:st|nd|rd|th)?[-., /']+(\d{4}|\d{2})$`)
	monthOnly   = regexp.MustCompile(`^([a-z]{3,14})[-., /']*(\d{4})$`)
	clock       = regexp.MustCompile(`[ t]\d{1,2}:\d{2}(?::\d{2}(?:\.\d+)?)?(?: ?[ap]m)?z?$`)
	serialDate  = regexp.MustCompile(`^\d{5}(?:\.\d+)?$`)
)

// Days since 1899-12-30, as spreadsheets count them, that are days on which an engine may have been tested: 1954 to 2118.
const firstSerial, lastSerial = 20000, 80000

// dated is a date as it was written: the ways in which it can be read.
type dated struct {
	order Order  // in which it is written; dmy or mdy where it is one of both
	dmy   string // read day first, "" where that is no day
	mdy   string
	sure  bool // only one of both can be, or both are one day
	none  bool // it looks like a date, and is no day of any year
}

func day(y, m, d int) string {
	t := time.Date(y, time.Month(m), d, 0, 0, 0, 0, time.UTC)
	if t.Year() != y || int(t.Month()) != m || t.Day() != d || y < 1900 || y > 2199 {
		return ""
	}
	return t.Format(time.DateOnly)
}

// year reads a year of two or four figures.
func year(text string) int {
	text = strings.TrimPrefix(text, "'")
	y, _ := strconv.Atoi(text)
	if len(text) > 2 {
		return y
	}
	const century, turn = 2000, 70
	if y >= turn {
		return y + century - 100
	}
	return y + century
}

func monthOf(word string) int {
	for _, n := range []int{4, 3} {
		if len(word) >= n {
			if m := known().months[word[:n]]; m > 0 {
				return m
			}
		}
	}
	return 0
}

// readDate reads a text as a date; ok reports whether it looks like one. Each day stands in a sheet many times, so what a text
// says is remembered for a while.
func readDate(text string) (d dated, ok bool) {
	const longest = 40
	if len(text) > longest || !strings.ContainsAny(text, "0123456789") {
		return dated{}, false
	}
	seenDays.Lock()
	defer seenDays.Unlock()
	one, known := seenDays.known[text]
	if !known {
		one.dated, one.ok = parseDate(text)
		const most = 5000
		if len(seenDays.known) >= most {
			clear(seenDays.known)
		}
		seenDays.known[strings.Clone(text)] = one
	}
	return one.dated, one.ok
}

var seenDays = struct {
	sync.Mutex
	known map[string]seenDay
}{known: map[string]seenDay{}}

type seenDay struct {
	dated
	ok bool
}

func parseDate(text string) (d dated, ok bool) {
	t := Fold(text)
	if strings.Contains(t, ":") {
		t = strings.TrimSpace(clock.ReplaceAllString(t, ""))
	}
	num := func(s string) int { n, _ := strconv.Atoi(s); return n }
	one := func(order Order, iso string) (dated, bool) {
		return dated{order: order, dmy: iso, mdy: iso, sure: true, none: iso == ""}, true
	}
	if m := isoDate.FindStringSubmatch(t); m != nil {
		return one(ISO, day(num(m[1]), num(m[2]), num(m[3])))
	}
	if m := compactDate.FindStringSubmatch(t); m != nil {
		if iso := day(num(m[1]+m[2]), num(m[3]), num(m[4])); iso != "" {
			return one(ISO, iso)
		}
		return dated{}, false
	}
	if m := threeParts.FindStringSubmatch(t); m != nil && m[2] == m[4] {
		a, b, y := num(m[1]), num(m[3]), year(m[5])
		if a > 31 { // the year in front
			return one(ISO, day(year(m[1]), b, num(strings.TrimPrefix(m[5], "'"))))
		}
		d := dated{order: DayFirst, dmy: day(y, b, a), mdy: day(y, a, b)}
		d.none = d.dmy == "" && d.mdy == ""
		// With points between, day first is the only custom.
		if m[2] == "." {
			d.mdy, d.none = d.dmy, d.dmy == ""
		}
		d.sure = (d.dmy == "") != (d.mdy == "") || d.dmy == d.mdy
		if d.dmy == "" {
			d.order = MonthFirst
		}
		return d, true
	}
	if m := dayMonth.FindStringSubmatch(t); m != nil {
		if mo := monthOf(m[2]); mo > 0 {
			return one(Named, day(year(m[3]), mo, num(m[1])))
		}
	}
	if m := monthDay.FindStringSubmatch(t); m != nil {
		if mo := monthOf(m[1]); mo > 0 {
			return one(Named, day(year(m[3]), mo, num(m[2])))
		}
	}
	if m := monthOnly.FindStringSubmatch(t); m != nil && monthOf(m[1]) > 0 {
		return dated{order: Named, none: true}, true
	}
	return dated{}, false
}

// IsDay reports whether folded text looks like a day.
func IsDay(t string) bool {
	_, ok := readDate(t)
	return ok
}

// SerialDay reads a spreadsheet's count of days.
func SerialDay(text string) (string, bool) {
	t := strings.TrimSpace(text)
	if !serialDate.MatchString(t) {
		return "", false
	}
	v, err := strconv.ParseFloat(t, 64)
	if err != nil || v < firstSerial || v > lastSerial {
		return "", false
	}
	begin := time.Date(1899, 12, 30, 0, 0, 0, 0, time.UTC)
	return begin.AddDate(0, 0, int(v)).Format(time.DateOnly), true
}

// Dates settles, once for a file, in which order its dates are written.
type Dates struct {
	Order Order
	Text  string // one that cannot be decided
	Row   int
}

// Settle looks at all dates of a file. Those that can be read in one way alone decide for the others.
func (s *Dates) Settle(texts []string, rows []int, picked Order) {
	seen := map[Order]int{}
	dmy, mdy := 0, 0
	for i, text := range texts {
		d, ok := readDate(text)
		if !ok {
			if _, is := SerialDay(text); is {
				seen[Serial]++
			}
			continue
		}
		if d.none {
			continue
		}
		switch {
		case d.order == ISO || d.order == Named:
			seen[d.order]++
		case d.sure && d.dmy != d.mdy && d.dmy != "" || d.sure && strings.Count(text, ".") == 2:
			dmy++
		case d.sure && d.dmy != d.mdy:
			mdy++
		case !d.sure && s.Text == "":
			s.Text, s.Row = text, rows[i]
		}
	}
	switch {
	case picked == DayFirst || picked == MonthFirst:
		s.Order = picked
	case dmy > 0 && mdy > 0 && s.Text != "":
		s.Order = Undecidable // both are written
	case dmy+mdy > 0 && dmy != mdy:
		s.Order = DayFirst
		if mdy > dmy {
			s.Order = MonthFirst
		}
	case s.Text != "":
		s.Order = Undecidable
	default:
		s.Order = most(seen)
	}
}

func most(seen map[Order]int) Order {
	best := Order("")
	for _, o := range []Order{ISO, Named, Serial} {
		if seen[o] > seen[best] {
			best = o
		}
	}
	return best
}

// Read returns the day of a text, by the order of the file's dates: "" without an error where it cannot be decided.
func (s *Dates) Read(text string) (string, error) {
	if iso, ok := SerialDay(text); ok {
		return iso, nil
	}
	d, ok := readDate(text)
	switch {
	case !ok:
		return "", say.Error("written.not-date", "text", text)
	case d.none && monthOnly.MatchString(Fold(text)):
		return "", say.Error("written.doesnt-say-which-day", "text", text)
	case d.none:
		return "", say.Error("written.not-day-calendar", "text", text)
	case d.order == ISO || d.order == Named || d.dmy == d.mdy:
		return d.dmy, nil
	}
	switch s.Order {
	case Undecidable:
		if d.sure {
			return d.dmy + d.mdy, nil // one of both is no day
		}
	case DayFirst:
		if d.dmy == "" {
			return "", say.Error("written.not-day-calendar-with-day", "text", text)
		}
		return d.dmy, nil
	case MonthFirst:
		if d.mdy == "" {
			return "", say.Error("written.not-day-calendar-with-month", "text", text)
		}
		return d.mdy, nil
	}
	return "", nil
}
