package story

import (
	"regexp"
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// Repair is something that was put right on an engine between two of its tests.
type Repair struct {
	Work      rules.Work
	What      string // as it was written
	Key       string // of the event
	Date      string
	Meter     *float64
	Cylinders []int // that were worked on; nil where nobody said which
	Said      bool  // somebody called it a repair; else its words alone say so
	Before    int   // the first session after it, an index of the log's; as many as there are where none is
}

// Repairs returns what was put right on an engine, in order: by events that are called repairs, and by what events and notes say was done.
// What is only needed, planned or quoted is none.
func Repairs(l log.Log) []Repair {
	var all []Repair
	add := func(r Repair, after string) {
		if len(r.Cylinders) == 0 {
			r.Cylinders = cylindersIn(r.What, l.Engine)
		}
		r.Before = firstAfter(l, r.Date, after)
		all = append(all, r)
	}
	for _, e := range l.Events {
		if e.Struck != "" || e.Date == "" {
			continue
		}
		told := worked(e.What)
		if e.Kind == log.Repair {
			if e.Work != "" {
				told = e.Work
			}
			add(Repair{
				Work: rules.Repairs().Of(told), What: e.What, Key: e.Key, Date: e.Date, Meter: e.Meter, Cylinders: e.Cylinders, Said: true,
			}, e.After)
		} else if told != "" {
			add(Repair{Work: rules.Repairs().Of(told), What: e.What, Date: e.Date, Meter: e.Meter}, "")
		}
	}
	for _, n := range l.Notes {
		if told := worked(n.Text); told != "" && n.Struck == "" && n.Date != "" {
			add(Repair{Work: rules.Repairs().Of(told), What: n.Text, Date: n.Date}, "")
		}
	}
	slices.SortStableFunc(all, func(a, b Repair) int { return strings.Compare(a.Date, b.Date) })
	return all
}

// Touched returns the cylinders that were worked on after one session of a log and before the end of another, by their indices: what a test
// says of itself, else what is written of the repairs between. What only words say counts for the cylinders that they name.
func Touched(l log.Log, repairs []Repair, after, until int) []int {
	var all []int
	touch := func(cylinders []int) {
		for _, c := range cylinders {
			if !slices.Contains(all, c) {
				all = append(all, c)
			}
		}
	}
	for i := after + 1; i <= until; i++ {
		s, told := l.Sessions[i], false
		touch(s.Touched)
		for _, r := range repairs {
			if r.Before != i || len(s.Touched) > 0 {
				continue
			}
			touch(r.Cylinders)
			told = told || len(r.Cylinders) > 0
			if r.Said && len(r.Cylinders) == 0 {
				touch(l.Engine.Cylinders())
			}
		}
		if s.Stage == log.AfterRepair && len(s.Touched) == 0 && !told {
			touch(l.Engine.Cylinders())
		}
	}
	return all
}

// firstAfter returns the first session after a repair of a day: of that day or later, since an engine is tested once it is together; and
// later than the test that showed what to repair, where that is known.
func firstAfter(l log.Log, date, after string) int {
	from := 0
	if after != "" {
		from = l.At(after) + 1
	}
	for i := from; i < len(l.Sessions); i++ {
		if l.Sessions[i].Date >= date {
			return i
		}
	}
	return len(l.Sessions)
}

// numbered is how people name cylinders in a text: cylinder 3, cyl. 3 and 4, no 5, #2.
var numbered = regexp.MustCompile(`(?i)(?:\bcylinders?|\bcyls?\b\.?|\bno\.?|\bnumbers?|#)\s*(\d+(?:\s*(?:,|and|&|\+|/)\s*\d+)*)`)

var digits = regexp.MustCompile(`\d+`)

// cylindersIn returns the cylinders of an engine that a text names.
func cylindersIn(text string, e log.Engine) []int {
	var all []int
	for _, found := range numbered.FindAllStringSubmatch(text, -1) {
		for _, figure := range digits.FindAllString(found[1], -1) {
			n, err := strconv.Atoi(figure)
			if err == nil && slices.Contains(e.Cylinders(), n) && !slices.Contains(all, n) {
				all = append(all, n)
			}
		}
	}
	return all
}
