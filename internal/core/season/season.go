// Package season looks ahead over a season: which engine runs where, whether it lasts, and what has to be done before when.
package season

import (
	"fmt"
	"slices"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/wear"
)

// Event is one meeting of a season.
type Event struct {
	ID      string  `json:"id" minLength:"1" maxLength:"120"`
	Name    string  `json:"name,omitzero" maxLength:"120"`
	Date    string  `json:"date" format:"date"`
	Running float64 `json:"running" minimum:"0" maximum:"1000000" doc:"How long an engine runs there, in its own meter"`
}

// Run is that an engine runs at an event.
type Run struct {
	Engine string `json:"engine" minLength:"1" maxLength:"120" doc:"Its name, or its id"`
	Event  string `json:"event" minLength:"1" maxLength:"120"`
}

// Ahead is a shop with a season ahead: the logs of its engines, the events and which engine runs where.
type Ahead struct {
	Logs   []log.Log
	Events []Event
	Plans  []Run
}

// Chance is how likely an engine is still inside its limits at the end of an event.
type Chance struct {
	Engine string  `json:"engine"`
	Event  string  `json:"event"`
	Inside float64 `json:"inside"`
	Known  bool    `json:"known" doc:"False where its tests say too little to do better than the general rate"`
}

// Check returns what is wrong with a shop's plans, by field.
func (a Ahead) Check() log.Faults {
	var f log.Faults
	events := map[string]bool{}
	for i, e := range a.Events {
		at := fmt.Sprintf("/events/%d", i)
		f.Also(log.CheckFields(at, e)...)
		if events[e.ID] {
			f = append(f, log.At(at+"/id", "season.id-twice", "id", e.ID))
		}
		events[e.ID] = true
	}
	planned := map[Run]bool{}
	for i, p := range a.Plans {
		at := fmt.Sprintf("/plans/%d", i)
		if a.engine(p.Engine) < 0 {
			f = append(f, log.At(at+"/engine", "season.no-such-engine", "name", p.Engine))
		}
		if !events[p.Event] {
			f = append(f, log.At(at+"/event", "season.no-such-event", "name", p.Event))
		}
		if planned[p] {
			f = append(f, log.At(at, "season.planned-twice", "engine", p.Engine, "event", p.Event))
		}
		planned[p] = true
	}
	return f
}

// engine returns the index of the log of an engine by its name, or by its id; -1 where there is none.
func (a Ahead) engine(name string) int {
	if i := slices.IndexFunc(a.Logs, func(l log.Log) bool { return l.Engine.Name == name }); i >= 0 {
		return i
	}
	return slices.IndexFunc(a.Logs, func(l log.Log) bool { return l.Engine.ID == name && name != "" })
}

// Chances returns the chance of each plan, in the order in which they stand. Each engine runs its events by date.
func (a Ahead) Chances(shop rules.Shop) []Chance {
	dates := map[string]Event{}
	place := map[string]int{}
	events := slices.Clone(a.Events)
	slices.SortStableFunc(events, func(a, b Event) int { return strings.Compare(a.Date, b.Date) })
	for i, e := range events {
		dates[e.ID], place[e.ID] = e, i
	}
	lives := make([]*wear.Life, len(a.Logs))
	out := make([]Chance, len(a.Plans))
	for i, p := range a.Plans {
		k := a.engine(p.Engine)
		if lives[k] == nil {
			life := wear.Of(a.Logs[k], shop)
			lives[k] = &life
		}
		ran := 0.0
		for _, q := range a.Plans {
			if a.engine(q.Engine) == k && place[q.Event] <= place[p.Event] {
				ran += dates[q.Event].Running
			}
		}
		out[i] = Chance{Engine: p.Engine, Event: p.Event, Inside: lives[k].Inside(ran), Known: lives[k].Known}
	}
	return out
}
