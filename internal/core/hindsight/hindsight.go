// Package hindsight says what a rule would have changed on tests that are past, so that a workshop sees what it does before it is set.
package hindsight

import (
	"fmt"
	"math"
	"strings"

	"braxel/internal/core/inspect"
	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Concerns reports whether a setting has to do with an engine: a limit or an interval with those of its duty.
func Concerns(s rules.Setting, e log.Engine) bool {
	return s.Group == "causes" || strings.Contains(s.ID, "."+rules.DutyOf(e).ID+".")
}

// One is an engine's log with what is said of it now, and what would be said.
type One struct {
	Log        log.Log
	Now, Would judge.Verdict
}

// Of returns what a setting, at another value, would have changed on these engines.
func Of(s rules.Setting, value float64, engines []One, shown units.Choice) Result {
	r := Result{Engines: len(engines), Sooner: []Case{}, Later: []Case{}, More: []Case{}, Never: []Case{}, Other: []Case{}}
	for _, e := range engines {
		r.Tests += len(e.Log.Sessions)
		switch s.Group {
		case "limits":
			r.said(e, levelOf(s))
		case "intervals":
			r.due(e)
		default:
			r.causes(e)
		}
	}
	r.Sentence = r.words(s, value, shown)
	return r
}

// spell is a time between one assembly or repair and the next: what is found in it begins anew. now and would are the tests of it at which a
// state was first said, and would have been; none where it was not.
type spell struct{ now, would *log.Session }

// said takes in at which test of each spell a state, or a graver one, was first said, and at which it would have been.
func (r *Result) said(e One, level judge.State) {
	spells, order, repairs := map[string]*spell{}, []string{}, 0
	at := map[*log.Session]int{}
	for i := range e.Log.Sessions {
		s := &e.Log.Sessions[i]
		at[s] = i
		if s.Stage == log.AfterRepair {
			repairs++
		}
		id := fmt.Sprint(e.Log.BuildOf(*s), " ", repairs)
		if spells[id] == nil {
			spells[id] = &spell{}
			order = append(order, id)
		}
		one := spells[id]
		if one.now == nil && e.Now.Sessions[i].State.Severity() >= level.Severity() {
			one.now = s
		}
		if one.would == nil && e.Would.Sessions[i].State.Severity() >= level.Severity() {
			one.would = s
		}
	}
	for _, id := range order {
		one := spells[id]
		c := Case{Engine: e.Log.Engine.ID, Name: e.Log.Engine.Name}
		switch {
		case one.now == one.would:
		case one.now == nil:
			c.Date = one.would.Date
			r.More = append(r.More, c)
		case one.would == nil:
			c.Date = one.now.Date
			r.Never = append(r.Never, c)
		default:
			c.Date, c.Tests = one.would.Date, at[one.would]-at[one.now]
			if c.Tests < 0 {
				c.Tests = -c.Tests
				r.Sooner = append(r.Sooner, c)
			} else {
				r.Later = append(r.Later, c)
			}
		}
	}
}

// due takes in whether the next test of an engine would be due on another day, or at another reading of its meter.
func (r *Result) due(e One) {
	now, ok := e.Now.Latest()
	would, _ := e.Would.Latest()
	if !ok || now.Due == nil || would.Due == nil {
		return
	}
	c := Case{Engine: e.Log.Engine.ID, Name: e.Log.Engine.Name, Date: would.Due.ByDate}
	meter := func(d *judge.Due) float64 {
		if d.ByMeter == nil {
			return math.Inf(1)
		}
		return *d.ByMeter
	}
	switch {
	case would.Due.ByDate < now.Due.ByDate || meter(would.Due) < meter(now.Due):
		r.Sooner = append(r.Sooner, c)
	case would.Due.ByDate > now.Due.ByDate || meter(would.Due) > meter(now.Due):
		r.Later = append(r.Later, c)
	}
}

// causes takes in where another cause would have come first, and how often what was found when it was opened is named rightly.
func (r *Result) causes(e One) {
	for i, s := range e.Log.Sessions {
		now, would := e.Now.Sessions[i], e.Would.Sessions[i]
		if len(now.Faults) == 0 || len(would.Faults) == 0 || len(now.Causes) == 0 || len(would.Causes) == 0 {
			continue
		}
		if a, b := now.Causes[0], would.Causes[0]; a.Cause != b.Cause {
			r.Other = append(r.Other, Case{
				Engine: e.Log.Engine.ID, Name: e.Log.Engine.Name, Date: s.Date,
				Words: say.Text("hindsight.not", "words", b.Words, "words2", a.Words),
			})
		}
	}
	would := inspect.Pairs(e.Log, e.Would)
	for i, p := range inspect.Pairs(e.Log, e.Now) {
		r.Opened++
		if p.Right {
			r.Right++
		}
		if would[i].Right {
			r.Would++
		}
	}
}
