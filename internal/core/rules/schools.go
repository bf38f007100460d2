package rules

import (
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// School is one rule of evenness that a builder may hold to.
type School struct {
	ID    string
	Words string
	Pct   float64        // spread allowed, % of the highest; 0 where the rule is a fixed spread
	Fixed units.Pressure // spread allowed, kPa
	For   func(log.Engine) bool
}

func diesel(e log.Engine) bool  { return e.Fuel == "diesel" }
func ignited(e log.Engine) bool { return e.Fuel != "diesel" }
func raced(e log.Engine) bool   { return e.Raced() }
func street(e log.Engine) bool  { return !e.Raced() }

// Schools are the rules of evenness in use, the default first. Source: the trade's schools.
var Schools = []School{
	{ID: "10", Words: say.Text("rules.lowest-within-10-highest"), Pct: 10},
	{ID: "5", Words: say.Text("rules.lowest-within-5-highest-fresh"), Pct: 5, For: raced},
	{ID: "15", Words: say.Text("rules.lowest-within-15-highest"), Pct: 15},
	{ID: "25", Words: say.Text("rules.lowest-within-25-highest-old"), Pct: 25, For: street},
	{ID: "7psi", Words: say.Text("rules.no-more-than-7-psi"), Fixed: psi(7), For: ignited},
	{ID: "10psi", Words: say.Text("rules.no-more-than-10-psi"), Fixed: psi(10), For: ignited},
	{ID: "50psi", Words: say.Text("rules.no-more-than-50-psi"), Fixed: psi(50), For: diesel},
}

// LeakSchool is one rule of how much a cylinder may leak, in percent of the supply.
type LeakSchool struct {
	ID, Words string
	Most      float64
	For       func(log.Engine) bool
}

// LeakSchools are the rules of leak-down in use. Source: the trade's schools.
var LeakSchools = []LeakSchool{
	{"leak-10", say.Text("rules.leak-10-street"), 10, street},
	{"leak-15", say.Text("rules.leak-15-street-watched"), 15, street},
	{"leak-5", say.Text("rules.leak-5-fresh-race-engine"), 5, raced},
	{"leak-8", say.Text("rules.leak-8-race-engine"), 8, raced},
}
