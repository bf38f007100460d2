package rules

import (
	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// PullRule is how many readings of a row make the one that counts.
type PullRule string

// The three schools. UntilTwoAgree is the default.
const (
	UntilTwoAgree PullRule = "agree"
	Three         PullRule = "three"
	One           PullRule = "one"
)

// When says whether a stage of the test is done.
type When string

// A stage is done never, where the dry readings ask for it, or at every test.
const (
	Never  When = "never"
	Asked  When = "asked"
	Always When = "always"
)

// Protocol is one way of testing. It decides what the sheet asks for, and by which school a test is read.
type Protocol struct {
	ID        string         `json:"id" minLength:"1" maxLength:"60"`
	Name      string         `json:"name" minLength:"1" maxLength:"80"`
	Cranking  log.Cranking   `json:"cranking"`
	Pulls     PullRule       `json:"pulls" enum:"agree,three,one"`
	PlugsOut  string         `json:"plugs_out" enum:"all,one"`
	Temp      string         `json:"temp" enum:"hot,warm,cold"`
	Evenness  string         `json:"evenness" maxLength:"20" doc:"The id of the evenness rule"`
	Wet       When           `json:"wet" enum:"never,asked,always"`
	Leakdown  When           `json:"leakdown" enum:"never,asked,always"`
	LeakWatch float64        `json:"leak_watch_pct" minimum:"0" maximum:"100"`
	LeakAct   float64        `json:"leak_act_pct" minimum:"0" maximum:"100"`
	Rest      jsontext.Value `json:",embed" hidden:"true"`
}

// Check returns what a protocol cannot be kept with, by field.
func (p Protocol) Check() log.Faults {
	f := log.CheckFields("", p)
	if p.LeakAct > 0 && p.LeakWatch > p.LeakAct {
		f = append(f, log.At("/leak_watch_pct", "rules.watch-leak-from-act-from", "leakWatch", p.LeakWatch, "leakAct", p.LeakAct))
	}
	return f
}

// When cranking is stopped: when the needle stops rising, or after so many beats. Source: trade.
var (
	plateau    = log.Cranking{Rule: "plateau"}
	sixBeats   = log.Cranking{Rule: "count", Count: 6}
	eightBeats = log.Cranking{Rule: "count", Count: 8}
)

// Protocols are the ways of testing that come with Braxel; a workshop may change each to its own. Source: the trade's schools.
var Protocols = []Protocol{
	// The everyday test: leak-down where compression asks for it.
	{
		ID: "street", Name: say.Text("rules.street-engine-2"), Cranking: plateau, Pulls: UntilTwoAgree, PlugsOut: "all", Temp: "hot",
		Evenness: "10", Wet: Asked, Leakdown: Asked, LeakWatch: 10, LeakAct: 15,
	},
	// Every test every time, and tight limits: the engine is opened before it breaks.
	{
		ID: "race", Name: say.Text("rules.race-engine"), Cranking: plateau, Pulls: UntilTwoAgree, PlugsOut: "all", Temp: "hot",
		Evenness: "5", Wet: Asked, Leakdown: Always, LeakWatch: 5, LeakAct: 8,
	},
	// Strong cranking, a maker's fixed spread, and no oil without care.
	{
		ID: "diesel", Name: say.Text("rules.protocol-diesel"), Cranking: sixBeats, Pulls: UntilTwoAgree, PlugsOut: "all", Temp: "hot",
		Evenness: "50psi", Wet: Never, Leakdown: Asked, LeakWatch: 15, LeakAct: 20,
	},
	// Cold, on a stand, before money: all three tests, with an old engine's limits.
	{
		ID: "stand", Name: say.Text("rules.used-engine-stand"), Cranking: plateau, Pulls: Three, PlugsOut: "all", Temp: "cold",
		Evenness: "15", Wet: Always, Leakdown: Always, LeakWatch: 15, LeakAct: 20,
	},
	// In a hurry, against the last run.
	{
		ID: "between-runs", Name: say.Text("rules.between-runs"), Cranking: sixBeats, Pulls: One, PlugsOut: "all", Temp: "hot",
		Evenness: "10", Wet: Never, Leakdown: Always, LeakWatch: 5, LeakAct: 8,
	},
	// So that gas passing a burnt gasket is not lost through the neighbour's open hole.
	{
		ID: "one-plug", Name: say.Text("rules.one-plug-out-at-time"), Cranking: eightBeats, Pulls: UntilTwoAgree, PlugsOut: "one", Temp: "hot",
		Evenness: "10", Wet: Asked, Leakdown: Asked, LeakWatch: 10, LeakAct: 15,
	},
}

// ProtocolFor returns the id of the protocol that fits an engine which has none of its own yet.
func ProtocolFor(e log.Engine) string {
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
