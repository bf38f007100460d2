package rules

import (
	"math"
	"slices"

	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Duty is what an engine is for.
type Duty struct {
	ID     string
	Called string // as it stands in a sentence
}

// Duties are all of them, the one of an engine that nobody gave one first.
var Duties = []Duty{
	{"street", say.Text("rules.street-engine")},
	{"motorcycle", say.Text("rules.motorcycle")},
	{"work", say.Text("rules.working-engine")},
	{"marine", say.Text("rules.boats-engine")},
	{"track-day", say.Text("rules.track-day-engine")},
	{"circuit", say.Text("rules.circuit-engine")},
	{"rally", say.Text("rules.rally-engine")},
	{"drag", say.Text("rules.drag-engine")},
	{"pulling", say.Text("rules.pulling-engine")}, {"kart", say.Text("rules.karts-engine")},
}

// DutyOf returns the duty of an engine.
func DutyOf(e log.Engine) Duty {
	if i := slices.IndexFunc(Duties, func(d Duty) bool { return d.ID == e.Duty }); i >= 0 {
		return Duties[i]
	}
	return Duties[0]
}

// Interval is how long engines of one duty are left between tests: by their meter, and in months however little they run; 0 where the
// meter has no such figure.
type Interval struct {
	Duty   string         `json:"id" enum:"street,track-day,circuit,drag,rally,pulling,marine,motorcycle,kart,work" doc:"The duty"`
	Hours  float64        `json:"hours,omitzero" minimum:"0" maximum:"100000"`
	Km     float64        `json:"km,omitzero" minimum:"0" maximum:"10000000"`
	Events float64        `json:"events,omitzero" minimum:"0" maximum:"100000" doc:"Runs or events"`
	Months int            `json:"months" minimum:"1" maximum:"120"`
	Rest   jsontext.Value `json:",embed" hidden:"true"`
}

// Intervals are the built-in intervals by duty. Source: the trade's habits.
var Intervals = []Interval{
	{Duty: "street", Hours: 300, Km: 15000, Months: 12},
	{Duty: "motorcycle", Hours: 100, Km: 6000, Months: 12},
	{Duty: "work", Hours: 250, Km: 20000, Months: 12},
	{Duty: "marine", Hours: 50, Events: 6, Months: 6},
	{Duty: "track-day", Hours: 20, Km: 2000, Events: 5, Months: 12},
	{Duty: "circuit", Hours: 10, Km: 1200, Events: 2, Months: 6},
	{Duty: "rally", Hours: 15, Km: 1500, Events: 2, Months: 6},
	{Duty: "drag", Hours: 3, Events: 10, Months: 6},
	{Duty: "pulling", Hours: 5, Events: 8, Months: 6},
	{Duty: "kart", Hours: 4, Events: 3, Months: 6},
}

// When an engine is tested again.
const (
	// AfterFirstRun is how long a fresh build is left before it is tested again: its first running. [months; trade]
	AfterFirstRun = 1
	// WatchedSooner is how many times sooner a watched engine is tested again, where its pace is not known. [–; trade]
	WatchedSooner = 3
)

// By returns the interval's figure for a meter's unit, 0 where it has none; a road in miles is rounded to a hundred.
func (i Interval) By(unit string) float64 {
	switch unit {
	case "h":
		return i.Hours
	case "km":
		return i.Km
	case "mi":
		return math.Round(i.Km/units.KmPerMile/100) * 100
	case "runs", "events":
		return i.Events
	}
	return 0
}
