package season

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"braxel/internal/core/ahead"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/wear"
)

// Involved returns the ids of the engines that a season speaks of.
func Involved(s ahead.Season) []string {
	var all []string
	add := func(id string) {
		if id != "" && !slices.Contains(all, id) {
			all = append(all, id)
		}
	}
	for _, c := range s.Cars {
		add(c.Sits)
		for _, e := range c.Engines {
			add(e)
		}
	}
	for _, x := range s.Starts {
		add(x.Engine)
	}
	slices.Sort(all)
	return all
}

// afterRunning are the occasions of tests that are made when the day's running is done.
var afterRunning = []string{"after-running", "post-season", "after-incident", "between-runs"}

// EngineOf returns an engine as a season sees it, by its log.
func EngineOf(l log.Log, shop rules.Shop) Engine {
	e := Engine{ID: l.Engine.ID, Name: l.Engine.Name, Life: wear.Of(l, shop), Fresh: wear.Fresh(l, shop)}
	e.Limit, e.LimitBy = FreshenedAfter(l.Engine)
	for _, b := range l.Standing().Builds {
		e.Built = max(e.Built, b.Date)
	}
	for _, s := range l.Standing().Sessions {
		if !s.Open && len(s.Compression)+len(s.Leakdown) > 0 {
			e.Tested, e.After = s.Date, slices.Contains(afterRunning, s.Stage)
		}
	}
	return e
}

// FreshenedAfter returns the running from a rebuild after which an engine's builder or maker wants it freshened, 0 for none, and who does.
func FreshenedAfter(e log.Engine) (running float64, by string) {
	if e.Limits == nil {
		return 0, ""
	}
	return e.Limits.FreshenAfter, e.Limits.By()
}

// StartsOf names what of a season bears on what was said of an engine's past.
func StartsOf(s ahead.Season, engine string) string {
	var b strings.Builder
	for _, x := range s.Starts {
		if x.Engine != engine {
			continue
		}
		fmt.Fprint(&b, x.ID, " ", x.Broke)
		if i := slices.IndexFunc(s.Meetings, func(m ahead.Meeting) bool { return m.ID == x.Meeting }); i >= 0 {
			m := s.Meetings[i]
			fmt.Fprint(&b, " ", m.Date, " ", m.Last(), " ", m.Hours, " ", m.Km, " ", m.Runs, " ", m.Times)
		}
		b.WriteString(";")
	}
	return b.String()
}

// TellingOf returns what was said of an engine before each event that was followed by a test of the same build, and what that test
// found; where it broke at the event that is known without a test. It is made again from the log as it was before the event, with
// the running that was foreseen.
func TellingOf(l log.Log, shop rules.Shop, s ahead.Season) []Told {
	l = l.Standing()
	type run struct {
		meeting ahead.Meeting
		running float64
		known   bool
		broke   bool
	}
	var runs []run
	for _, m := range s.Meetings {
		for _, x := range s.Starts {
			if x.Meeting == m.ID && x.Engine == l.Engine.ID {
				running, known := m.Running(l.Engine.MeterUnit)
				runs = append(runs, run{m, running, known, x.Broke})
			}
		}
	}
	slices.SortFunc(runs, func(a, b run) int { return cmp.Compare(a.meeting.Date, b.meeting.Date) })
	var out []Told
	for i, from := range l.Sessions {
		to := log.Session{Date: "9999-12-31", Open: true} // no test yet
		if i+1 < len(l.Sessions) {
			to = l.Sessions[i+1]
		}
		answers := !to.Open && l.BuildOf(from) == l.BuildOf(to)
		ran := 0.0
		var before, after *wear.Life
		for _, r := range runs {
			if r.meeting.Date <= from.Date || r.meeting.Last() > to.Date {
				continue
			}
			if !r.known {
				break // from here on nothing could be said
			}
			ran += r.running
			if !answers && !r.broke {
				continue
			}
			if before == nil {
				b := wear.Of(upTo(l, i+1), shop)
				before = &b
			}
			one := Told{Engine: l.Engine.Name, Meeting: r.meeting.Name, Said: before.Inside(ran), Test: to.Date}
			if r.broke { // no test is needed to know
				one.Test, one.Broke = r.meeting.Last(), true
				out = append(out, one)
				break
			}
			if after == nil {
				a := wear.Of(upTo(l, i+2), shop)
				after = &a
			}
			one.Held = after.Inside(0) >= rules.Likely
			out = append(out, one)
		}
	}
	return out
}

// upTo returns a log as it was after so many tests.
func upTo(l log.Log, sessions int) log.Log {
	l.Sessions = l.Sessions[:sessions]
	last := l.Sessions[sessions-1].Date
	l.Builds = slices.DeleteFunc(slices.Clone(l.Builds), func(b log.Build) bool { return b.Date > last })
	l.Events = slices.DeleteFunc(slices.Clone(l.Events), func(e log.Event) bool { return e.Date > last })
	return l
}

// LineOf says of an engine that is in no season how much it is good for; "" where nobody can tell.
func LineOf(e Engine) string {
	if !e.Life.Known || e.Happened != "" || e.Repair != "" || e.Unsettled != "" {
		return ""
	}
	return goodFor(e.goodFor(e.begin()), e.Life.Unit)
}
