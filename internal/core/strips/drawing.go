package strips

import (
	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

// Strips are an engine's tests, test by test and cylinder by cylinder.
type Strips struct {
	Visits  []Visit `json:"visits" doc:"In time order, including struck ones"`
	All     Strip   `json:"all" doc:"What all cylinders did together"`
	Strips  []Strip `json:"strips" doc:"In the layout's order"`
	Marks   []Mark  `json:"marks"`
	Spans   []Span  `json:"spans" doc:"Builds and seasons that can be shown alone"`
	ByMeter bool    `json:"by_meter,omitzero" doc:"Every test has a meter reading, and they never go backwards"`
}

// Visit is one test's place on the axis.
type Visit struct {
	ID       string      `json:"id"`
	Date     string      `json:"date" format:"date"`
	Meter    *float64    `json:"meter,omitempty"`
	Build    string      `json:"build,omitzero"`
	Stage    string      `json:"stage,omitzero"`
	Temp     string      `json:"temp,omitzero"`
	Baseline bool        `json:"baseline,omitzero"`
	Struck   string      `json:"struck,omitzero"`
	State    judge.State `json:"state" enum:"steady,retest,watch,act,stop"`
}

// Mark is something that happened at one place of the axis: before a visit, or at a date and a meter of its own.
type Mark struct {
	Kind   string   `json:"kind" enum:"build,event,gauge,repair,season"`
	Words  string   `json:"words"`
	Before int      `json:"before,omitzero" doc:"Index of the visit that it comes before"`
	Date   string   `json:"date,omitzero" format:"date"`
	Meter  *float64 `json:"meter,omitempty"`
}

// Span is a build or a season: a run of visits.
type Span struct {
	Kind string `json:"kind" enum:"build,season"`
	ID   string `json:"id"`
	Name string `json:"name"`
	From int    `json:"from"`
	To   int    `json:"to" doc:"Its last visit"`
}

// drawing is strips in the making.
type drawing struct {
	log    log.Log
	unit   units.Unit
	out    *Strips
	judged map[string]judge.Session
	base   map[string]map[int][]float64 // by build and cylinder, the logarithm of what it makes when it is right, as each test tells it
}

// Strip is one cylinder over all tests. Band is how far a change reaches that the measuring alone makes, in percent.
type Strip struct {
	Cylinder int        `json:"cylinder"`
	Called   string     `json:"called"`
	Points   []Point    `json:"points"`
	Band     float64    `json:"band_pct"`
	Fan      *judge.Fan `json:"fan,omitempty"`
}

// Point is what one test says of one cylinder. Change is against the baseline of its build, beyond what all did together.
type Point struct {
	Visit    int         `json:"visit" doc:"Index into visits"`
	Reading  string      `json:"reading,omitzero" doc:"As the sheet shows it"`
	Change   *float64    `json:"change_pct,omitempty"`
	SE       float64     `json:"se_pct,omitzero"`
	Faces    []float64   `json:"faces_pct,omitempty" doc:"For a rotor: how far each face is above the lowest, in percent, added to the change"`
	Outside  bool        `json:"outside,omitzero" doc:"The change is larger than the measurement's scatter"`
	Leak     *float64    `json:"leak_pct,omitempty" doc:"As the reference tester shows it"`
	First    *float64    `json:"first_leak_pct,omitempty" doc:"The worst attempt, where a repeat leaked less"`
	Heard    string      `json:"heard,omitzero" enum:"crankcase,intake,exhaust,coolant,neighbour" doc:"Where telling air was heard"`
	At       int         `json:"heard_at,omitzero" doc:"The neighbour's number"`
	State    judge.State `json:"state" enum:"steady,retest,watch,act,stop"`
	Faint    bool        `json:"faint,omitzero" doc:"Struck, or in doubt until a retest"`
	Baseline bool        `json:"baseline,omitzero" doc:"The first of its build; changes are counted from it"`
}
