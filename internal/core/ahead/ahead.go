// Package ahead is what a workshop has ahead of it, as it is typed: the season's events, the cars and boats, which engine runs in which,
// the work between, and on which terms. It decides nothing.
package ahead

import (
	"time"

	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

// Meeting is one event of a season. How long an engine runs there is given by the meters that engines have.
type Meeting struct {
	ID    string         `json:"id" minLength:"1" maxLength:"120"`
	Name  string         `json:"name" minLength:"1" maxLength:"120"`
	Date  string         `json:"date" format:"date"`
	Until string         `json:"until,omitzero" format:"date" doc:"The last day, if it takes more than one"`
	Sort  string         `json:"sort,omitzero" maxLength:"60" doc:"What sort of event: a hill-climb, a test day"`
	Hours float64        `json:"hours,omitzero" minimum:"0" maximum:"10000" doc:"How long an engine runs there, with practice"`
	Km    float64        `json:"km,omitzero" minimum:"0" maximum:"1000000"`
	Runs  float64        `json:"runs,omitzero" minimum:"0" maximum:"10000"`
	Times float64        `json:"times,omitzero" minimum:"0.1" maximum:"10" doc:"How often its running counts: 2 for double"`
	Cars  []string       `json:"cars,omitempty" maxItems:"100" maxLength:"120" doc:"The cars that go there; none: all"`
	Off   bool           `json:"off,omitzero" doc:"It was called off"`
	Rest  jsontext.Value `json:",embed" hidden:"true"`
}

// Car is what an engine sits in: a car, a boat, a bike.
type Car struct {
	ID      string         `json:"id" minLength:"1" maxLength:"120"`
	Name    string         `json:"name" minLength:"1" maxLength:"120"`
	Engines []string       `json:"engines,omitempty" maxItems:"100" maxLength:"120" doc:"The ids of the engines that fit it"`
	Sits    string         `json:"sits,omitzero" maxLength:"120" doc:"The engine that is in it now, or was before the first event"`
	Off     bool           `json:"off,omitzero" doc:"It was taken out of the season"`
	Rest    jsontext.Value `json:",embed" hidden:"true"`
}

// Start is which engine runs in a car at an event, and afterwards how long it really ran.
type Start struct {
	ID      string         `json:"id" minLength:"1" maxLength:"250" doc:"The event's id, a point, the car's id"`
	Meeting string         `json:"meeting" minLength:"1" maxLength:"120"`
	Car     string         `json:"car" minLength:"1" maxLength:"120"`
	Engine  string         `json:"engine,omitzero" maxLength:"120" doc:"Its id; none: the car stays at home"`
	Pinned  bool           `json:"pinned,omitzero" doc:"The plan may not change it"`
	Ran     *float64       `json:"ran,omitempty" minimum:"0" maximum:"1000000" doc:"How long it really ran, in the engine's own meter"`
	Off     bool           `json:"off,omitzero" doc:"It was taken off the plan"`
	Stopped string         `json:"stopped,omitzero" maxLength:"300" doc:"Why it didn't see the event out"`
	Broke   bool           `json:"broke,omitzero" doc:"The engine was why: it broke, or had to be taken out"`
	Rest    jsontext.Value `json:",embed" hidden:"true"`
}

// Job is work on an engine before an event.
type Job struct {
	ID     string `json:"id" minLength:"1" maxLength:"250"`
	Engine string `json:"engine" minLength:"1" maxLength:"120"`
	Work   Work   `json:"work" enum:"test,freshen,rebuild"`
	Before string `json:"before" minLength:"1" maxLength:"120" doc:"The event that it is done before"`
	Pinned bool   `json:"pinned,omitzero" doc:"The plan may not change it"`
	// A test that is in the engine's log from the day on which it was planned is the one that was planned; so is a new build.
	Planned string         `json:"planned,omitzero" format:"date" doc:"The day on which it was planned"`
	Done    string         `json:"done,omitzero" format:"date" doc:"The day it was done; what is in the engine's log needs none"`
	Off     bool           `json:"off,omitzero" doc:"It was taken off the plan"`
	Rest    jsontext.Value `json:",embed" hidden:"true"`
}

// Work is what is done to an engine between events.
type Work string

// The kinds of work. A freshen-up is rings, bearings, valves ground; a rebuild is all of it. Both begin a new baseline.
const (
	Test    Work = "test"
	Freshen Work = "freshen"
	Rebuild Work = "rebuild"
)

// Terms are what a workshop goes by when it plans; a zero is the built-in figure.
type Terms struct {
	Chance  float64 `json:"chance,omitzero" minimum:"0.001" maximum:"0.5" doc:"The risk that the owner takes at each event"`
	Test    float64 `json:"test_h,omitzero" minimum:"0.1" maximum:"100" doc:"Hours in the shop that a test takes"`
	Freshen float64 `json:"freshen_h,omitzero" minimum:"1" maximum:"1000"`
	Rebuild float64 `json:"rebuild_h,omitzero" minimum:"1" maximum:"1000"`
	Swap    float64 `json:"swap_h,omitzero" minimum:"0.1" maximum:"200" doc:"Hours to take one engine out and put another in"`
	Day     float64 `json:"day_h,omitzero" minimum:"0.5" maximum:"100" doc:"Hours that the shop works in a day; more is nights"`
	Lead    int     `json:"lead_days,omitzero" minimum:"0" maximum:"365" doc:"Days until parts are there"`
	Budget  int     `json:"budget,omitzero" minimum:"0" maximum:"1000" doc:"At most so many freshen-ups and rebuilds; 0 is no limit"`
	Money   float64 `json:"money,omitzero" minimum:"0" maximum:"1e9" doc:"What may be spent from now on, in any money; 0 is no limit"`
	// What parts and machining cost; labour is counted in hours.
	FreshenCosts float64        `json:"freshen_costs,omitzero" minimum:"0" maximum:"1e8"`
	RebuildCosts float64        `json:"rebuild_costs,omitzero" minimum:"0" maximum:"1e8"`
	Rest         jsontext.Value `json:",embed" hidden:"true"`
}

// Season is all of it.
type Season struct {
	Meetings []Meeting `json:"meetings"`
	Cars     []Car     `json:"cars"`
	Starts   []Start   `json:"starts"`
	Jobs     []Job     `json:"jobs"`
	Terms    Terms     `json:"terms"`
}

// Check returns what is wrong with an event, by field.
func (m Meeting) Check() log.Faults {
	f := log.CheckFields("", m)
	if m.Until != "" && m.Until < m.Date {
		f = append(f, log.At("/until", "ahead.ends-before-it-begins"))
	}
	if first, err := time.Parse(time.DateOnly, m.Date); err == nil && m.Until != "" {
		if last, err := time.Parse(time.DateOnly, m.Until); err == nil && last.Sub(first) > mostDays*24*time.Hour {
			f = append(f, log.At("/until", "ahead.takes-too-long", "most", mostDays))
		}
	}
	return f
}

// Check returns what is wrong with a start, by field: a car starts once at an event, so its id says both.
func (s Start) Check() log.Faults {
	f := log.CheckFields("", s)
	if want := StartOf(s.Meeting, s.Car); s.ID != want {
		f = append(f, log.At("/id", "ahead.id-says-both", "want", want))
	}
	return f
}

// mostDays is the longest event that is taken for one.
const mostDays = 31

// Last returns the last day of an event.
func (m Meeting) Last() string { return max(m.Date, m.Until) }

// Running returns how long an engine with a meter of that unit runs at the event, as it counts for wear; false where nobody said.
func (m Meeting) Running(unit string) (float64, bool) {
	by := 0.0
	switch unit {
	case "h":
		by = m.Hours
	case "km":
		by = m.Km
	case "mi":
		by = m.Km / units.KmPerMile
	case "runs":
		by = m.Runs
	case "events":
		by = 1
	}
	if m.Times > 0 {
		by *= m.Times
	}
	return by, by > 0
}

// StartOf is the id of the start of a car at an event.
func StartOf(meeting, car string) string { return meeting + "." + car }
