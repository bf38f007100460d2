// Package protocol holds the ways of testing that builders keep to. A protocol decides what the sheet asks for.
package protocol

import (
	"fmt"
	"slices"

	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/log"
	"braxel/internal/core/reading"
)

// When says whether a stage of the test is done.
type When string

// A stage is done never, where the dry readings ask for it, or at every test.
const (
	Never  When = "never"
	Asked  When = "asked"
	Always When = "always"
)

// Protocol is one way of testing.
type Protocol struct {
	ID        string       `json:"id" minLength:"1" maxLength:"60"`
	Name      string       `json:"name" minLength:"1" maxLength:"80"`
	Cranking  log.Cranking `json:"cranking"`
	Pulls     reading.Rule `json:"pulls" enum:"agree,three,one"`
	PlugsOut  string       `json:"plugs_out" enum:"all,one"`
	Temp      string       `json:"temp" enum:"hot,warm,cold"`
	Evenness  string       `json:"evenness" maxLength:"20" doc:"The school of evenness, by its id"`
	Wet       When         `json:"wet" enum:"never,asked,always"`
	Leakdown  When         `json:"leakdown" enum:"never,asked,always"`
	LeakWatch float64      `json:"leak_watch_pct" minimum:"0" maximum:"100"`
	LeakAct   float64      `json:"leak_act_pct" minimum:"0" maximum:"100"`

	Rest jsontext.Value `json:",embed" hidden:"true"`
}

// Check returns what a protocol cannot be kept with, by field.
func (p Protocol) Check() log.Faults {
	f := log.CheckFields("", p)
	if p.LeakAct > 0 && p.LeakWatch > p.LeakAct {
		what := fmt.Sprintf("a leak is watched from %g %% and acted upon from %g %%: the first must be the lower", p.LeakWatch, p.LeakAct)
		f = append(f, log.Fault{At: "/leak_watch_pct", What: what})
	}
	return f
}

var plateau = log.Cranking{Rule: "plateau"}

// BuiltIn are the protocols that come with Braxel; a workshop may change each to its own.
var BuiltIn = []Protocol{
	// The everyday test: leak-down where compression asks for it.
	{"street", "Street engine", plateau, reading.UntilTwoAgree, "all", "hot", "10", Asked, Asked, 10, 15, nil},
	// Every test every time, and tight limits: the engine is opened before it breaks.
	{"race", "Race engine", plateau, reading.UntilTwoAgree, "all", "hot", "5", Asked, Always, 5, 8, nil},
	// Strong cranking, a maker's fixed spread, and no oil without care.
	{"diesel", "Diesel", log.Cranking{Rule: "count", Count: 6}, reading.UntilTwoAgree, "all", "hot", "50psi", Never, Asked, 15, 20, nil},
	// Cold, on a stand, before money: all three tests, with an old engine's limits.
	{"stand", "Candidate on a stand", plateau, reading.Three, "all", "cold", "15", Always, Always, 15, 20, nil},
	// In a hurry, against the last run.
	{"between-runs", "Between runs", log.Cranking{Rule: "count", Count: 6}, reading.One, "all", "hot", "10", Never, Always, 5, 8, nil},
	// So that gas passing a burnt gasket is not lost through the neighbour's open hole.
	{
		"one-plug",
		"One plug out at a time",
		log.Cranking{Rule: "count", Count: 8},
		reading.UntilTwoAgree,
		"one",
		"hot",
		"10",
		Asked,
		Asked,
		10,
		15,
		nil,
	},
}

// Of returns the protocol of that id, the workshop's own before the built-in one; the street's where there is none.
func Of(id string, own []Protocol) Protocol {
	for _, all := range [][]Protocol{own, BuiltIn} {
		if i := slices.IndexFunc(all, func(p Protocol) bool { return p.ID == id }); i >= 0 {
			return all[i]
		}
	}
	return BuiltIn[0]
}

// All returns every protocol, a workshop's own in the place of the built-in one of its id.
func All(own []Protocol) []Protocol {
	var all []Protocol
	for _, p := range BuiltIn {
		all = append(all, Of(p.ID, own))
	}
	for _, p := range own {
		if !slices.ContainsFunc(BuiltIn, func(b Protocol) bool { return b.ID == p.ID }) {
			all = append(all, p)
		}
	}
	return all
}

// For returns the id of the protocol that fits an engine which has none of its own yet.
func For(e log.Engine) string {
	switch {
	case e.Protocol != "":
		return e.Protocol
	case e.Fuel == "diesel":
		return "diesel"
	case e.Raced():
		return "race"
	}
	return "street"
}

// Made returns the protocol that a session of a log was made by.
func Made(l log.Log, s log.Session, own []Protocol) Protocol {
	if s.Protocol != "" {
		return Of(s.Protocol, own)
	}
	return Of(For(l.Engine), own)
}
