// Package plan holds how long an engine is left between tests.
package plan

import (
	"cmp"
	"math"
	"slices"

	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/log"
)

// Rule is how long engines of one duty are left between tests: by their meter, and in months however little they run; 0 where the
// meter has no such figure.
type Rule struct {
	ID     string         `json:"id" enum:"street,track-day,circuit,drag,rally,pulling,marine,motorcycle,kart,work" doc:"The duty"`
	Hours  float64        `json:"hours,omitzero" minimum:"0" maximum:"100000"`
	Km     float64        `json:"km,omitzero" minimum:"0" maximum:"10000000"`
	Events float64        `json:"events,omitzero" minimum:"0" maximum:"100000" doc:"Runs or events"`
	Months int            `json:"months" minimum:"1" maximum:"120"`
	Rest   jsontext.Value `json:",embed" hidden:"true"`
}

// BuiltIn are the rules that come with Braxel, by the trade's habits; a workshop may change each to its own, and an engine may have its
// own.
var BuiltIn = []Rule{
	{"street", 300, 15000, 0, 12, nil},
	{"motorcycle", 100, 6000, 0, 12, nil},
	{"work", 250, 20000, 0, 12, nil},
	{"marine", 50, 0, 6, 6, nil},
	{"track-day", 20, 2000, 5, 12, nil},
	{"circuit", 10, 1200, 2, 6, nil},
	{"rally", 15, 1500, 2, 6, nil},
	{"drag", 3, 0, 10, 6, nil},
	{"pulling", 5, 0, 8, 6, nil},
	{"kart", 4, 0, 3, 6, nil},
}

var called = map[string]string{
	"street": "a street engine", "motorcycle": "a motorcycle", "work": "a working engine", "marine": "a boat's engine",
	"track-day": "an engine for track days", "circuit": "a circuit engine", "rally": "a rally engine", "drag": "a drag engine",
	"pulling": "a pulling engine", "kart": "a kart's engine",
}

// All returns every rule, a workshop's own in the place of the built-in one of its duty.
func All(own []Rule) []Rule {
	all := make([]Rule, len(BuiltIn))
	for i, r := range BuiltIn {
		all[i] = Of(r.ID, own)
	}
	return all
}

// Of returns the rule of a duty, the workshop's own before the built-in one; the street's where the duty has none.
func Of(duty string, own []Rule) Rule {
	duty = cmp.Or(duty, street)
	for _, rules := range [][]Rule{own, BuiltIn} {
		if i := slices.IndexFunc(rules, func(r Rule) bool { return r.ID == duty }); i >= 0 {
			return rules[i]
		}
	}
	return Of(street, own)
}

// street is the duty of an engine that nobody gave one.
const street = "street"

// by returns the rule's figure for a meter's unit, 0 where it has none.
func (r Rule) by(unit string) float64 {
	switch unit {
	case "h":
		return r.Hours
	case "km":
		return r.Km
	case "mi":
		const kmPerMile = 1.609344
		return math.Round(r.Km/kmPerMile/100) * 100
	case "runs", "events":
		return r.Events
	}
	return 0
}

// Applied returns the log with the workshop's rule as its engine's own, where the engine has none and the workshop has one for its
// duty.
func Applied(l log.Log, own []Rule) log.Log {
	i := slices.IndexFunc(own, func(r Rule) bool { return r.ID == cmp.Or(l.Engine.Duty, street) })
	if l.Engine.Plan != nil || i < 0 {
		return l
	}
	l.Engine.Plan = &log.Plan{Every: own[i].by(l.Engine.MeterUnit), Months: own[i].Months}
	return l
}

// For returns how long an engine is left between tests, in its own meter's unit, 0 where it is not known by that, and in months; and
// whose rule that is: "a circuit engine", "by its plan it".
func For(e log.Engine) (every float64, months int, who string) {
	r := Of(e.Duty, nil)
	every, months, who = r.by(e.MeterUnit), r.Months, called[r.ID]
	if p := e.Plan; p != nil {
		every, who = p.Every, "by its plan it"
		if p.Months > 0 {
			months = p.Months
		}
	}
	return every, months, who
}
