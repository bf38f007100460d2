// Package diary says what is due on an engine, why and when: from its last test, its duty, what happened to it since, and what was put
// off.
package diary

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/story"
)

// Kind is what is to be done.
type Kind string

// Finish: a test was begun. Mend: what is found is to be opened. Retest: a reading is not to be believed. After: something happened that
// asks for a test. Test: it is its time. First: it was never tested. Plan: the season's plan has it.
const (
	Finish Kind = "finish"
	Mend   Kind = "mend"
	Retest Kind = "retest"
	After  Kind = "after"
	Test   Kind = "test"
	First  Kind = "first"
	Plan   Kind = "plan"
)

// Item is one thing that is due. Its ID is made of what it comes from, and stays while that is edited.
type Item struct {
	ID        string   `json:"id"`
	Engine    string   `json:"engine"`
	Name      string   `json:"name"`
	Owner     string   `json:"owner,omitzero"`
	Kind      Kind     `json:"kind" enum:"finish,mend,retest,after,test,first,plan"`
	What      string   `json:"what" doc:"What to do, in a few words"`
	Why       string   `json:"why"`
	Since     string   `json:"since,omitzero" format:"date"`
	By        string   `json:"by,omitzero" format:"date" doc:"The day it is due; left out if only the meter decides"`
	Meter     *float64 `json:"meter,omitempty" doc:"The meter reading at which it is due"`
	Unit      string   `json:"unit,omitzero"`
	Reached   bool     `json:"reached,omitzero" doc:"The meter has reached it"`
	PutOff    string   `json:"put_off,omitzero" format:"date" doc:"Until when it was postponed"`
	PutOffWhy string   `json:"put_off_why,omitzero"`
	PutOffKey string   `json:"put_off_key,omitzero"`
	Test      string   `json:"test,omitzero" doc:"The test that it comes from"`
}

// Standing is where something due stands on a day.
type Standing string

// Overdue: its day has passed, or its meter. Now: today. Soon: within a month. Later: after that, or when the meter tells. Off: put off.
const (
	Overdue Standing = "overdue"
	Now     Standing = "now"
	Soon    Standing = "soon"
	Later   Standing = "later"
	Off     Standing = "put off"
)

// On says where an item stands on a day, and soonEnds is the last day that counts as soon.
func (i Item) On(day, soonEnds string) Standing {
	switch {
	case i.PutOff > day:
		return Off
	case i.Reached, i.By != "" && i.By < day:
		return Overdue
	case i.By == day:
		return Now
	case i.By != "" && i.By <= soonEnds:
		return Soon
	}
	return Later
}

// Of returns what is due on an engine, the most pressing first. l is what stands of its log. One that was sold or put away has nothing
// due.
func Of(l log.Log, verdict judge.Verdict) []Item {
	items := []Item{}
	if l.Engine.Archived || l.Engine.Stands == "sold" {
		return items
	}
	d := entries{log: l, repairs: story.Repairs(l), items: items}
	last, tested := verdict.Latest()
	for _, s := range l.Sessions {
		if s.Open {
			d.add(Item{
				Kind: Finish, Test: s.ID, Since: s.Date, By: s.Date,
				What: say.Text("diary.finish-test"), Why: say.Text("diary.started-not-finished"),
			}, s.ID)
		}
	}
	if !tested {
		if len(d.items) == 0 {
			d.add(Item{Kind: First, What: say.Text("diary.test"), Why: say.Text("diary.never-tested-yet-first-test")}, "")
		}
		return d.done()
	}
	d.after()
	d.last(last)
	return d.done()
}

// entries is a diary in the making.
type entries struct {
	log     log.Log
	repairs []story.Repair
	items   []Item
}

func (d *entries) add(i Item, anchor string) {
	e := d.log.Engine
	i.Engine, i.Name, i.Owner, i.Unit = e.ID, e.Name, e.Owner, e.MeterUnit
	i.ID = string(i.Kind)
	if anchor != "" {
		i.ID += "." + anchor
	}
	i.Reached = i.Meter != nil && reached(d.log, *i.Meter)
	d.items = append(d.items, i)
}

// last adds what the last test asks for: to mend, to repeat, or the next one in its time.
func (d *entries) last(last judge.Session) {
	at := d.log.At(last.ID)
	if at < 0 || last.Partial {
		return
	}
	s := d.log.Sessions[at]
	if s.Open {
		return // it is finished first
	}
	item := Item{Test: s.ID, Since: s.Date, By: s.Date}
	switch due, unread := last.Due, called(d.log.Engine, last.Unread); {
	case len(unread) > 0 && last.State == judge.Steady:
		item.Kind, item.What = Retest, say.Text("diary.test-rest")
		item.Why = say.Text("diary.not-read-yet-so-nothing", "unread", strings.Join(unread, ", "))
	case last.State == judge.Retest:
		item.Kind, item.What, item.Why = Retest, say.Text("diary.retest"), last.Sentence
	case last.State.Severity() >= judge.Act.Severity() && d.repairedSince(at):
		return // the test that answers it is asked for
	case last.State.Severity() >= judge.Act.Severity():
		item.Kind, item.What, item.Why = Mend, say.Text("diary.repair"), last.Sentence
	case due == nil && last.Next != nil:
		item.Kind, item.What, item.Why = Retest, say.Text("diary.look-further"), last.Next.Words
	case due == nil:
		return
	default:
		item.Kind, item.What, item.Why, item.By, item.Meter = Test, say.Text("diary.test"), due.Why, due.ByDate, due.ByMeter
	}
	d.add(item, s.ID)
}

// repairedSince reports whether something was put right after a session.
func (d *entries) repairedSince(at int) bool {
	return slices.ContainsFunc(d.repairs, func(r story.Repair) bool { return r.Said && r.Before > at })
}

// called returns cylinders as they are called.
func called(e log.Engine, cylinders []int) []string {
	var names []string
	for _, c := range cylinders {
		names = append(names, e.Called(c))
	}
	return names
}

// after adds what happened since the last test and asks for one.
func (d *entries) after() {
	for _, e := range d.log.Events {
		r, asks := story.AsksForTest(e)
		if !asks || e.Date == "" || d.testedSince(e) {
			continue
		}
		d.add(Item{Kind: After, What: r.Asks, Why: fmt.Sprintf("%s: %s", e.What, r.Why), Since: e.Date, By: later(e.Date, r.Days)}, e.Key)
	}
}

// testedSince reports whether a finished test lies after an event: a later day, or the same day with no lesser meter; of a repair, one that
// is later than the test that showed what to repair.
func (d *entries) testedSince(e log.Event) bool {
	if e.Kind == log.Repair {
		i := slices.IndexFunc(d.repairs, func(r story.Repair) bool { return r.Said && r.Key == e.Key })
		return i >= 0 && slices.ContainsFunc(d.log.Sessions[d.repairs[i].Before:], finished)
	}
	return slices.ContainsFunc(d.log.Sessions, func(s log.Session) bool {
		switch {
		case !finished(s):
			return false
		case s.Meter != nil && e.Meter != nil && *s.Meter != *e.Meter:
			return *s.Meter > *e.Meter && s.Date >= e.Date
		}
		return s.Date >= e.Date
	})
}

func finished(s log.Session) bool { return !s.Open && len(s.Compression)+len(s.Leakdown) > 0 }

// reached reports whether an engine's meter has come to a reading, by all that is noted of this build.
func reached(l log.Log, meter float64) bool {
	build := ""
	if n := len(l.Sessions); n > 0 {
		build = l.BuildOf(l.Sessions[n-1])
	}
	for _, s := range l.Sessions {
		if s.Meter != nil && l.BuildOf(s) == build && *s.Meter >= meter {
			return true
		}
	}
	last := ""
	if n := len(l.Sessions); n > 0 {
		last = l.Sessions[n-1].Date
	}
	return slices.ContainsFunc(l.Events, func(e log.Event) bool { return e.Meter != nil && *e.Meter >= meter && e.Date >= last })
}

// order is how pressing each kind is.
var order = []Kind{Finish, Mend, Retest, After, Test, First}

// done lays what was put off over the items, and orders them.
func (d *entries) done() []Item {
	for i := range d.items {
		for _, p := range d.log.PutOff {
			// Of several the last that was written counts.
			if p.Item == d.items[i].ID {
				d.items[i].PutOff, d.items[i].PutOffWhy, d.items[i].PutOffKey = p.Until, p.Why, p.Key
			}
		}
	}
	slices.SortStableFunc(d.items, func(a, b Item) int {
		return cmp.Compare(slices.Index(order, a.Kind), slices.Index(order, b.Kind))
	})
	return d.items
}
