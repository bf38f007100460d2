package log

import "github.com/go-json-experiment/json/jsontext"

// Trace is a recording of the cranking engine as it is kept with a test: what was read in it, and its curve. Pressures are gauge
// kPa, currents A.
type Trace struct {
	File         string             `json:"file,omitzero" maxLength:"200"`
	Form         string             `json:"form" enum:"pulses,staircase,current"`
	RPM          float64            `json:"rpm" minimum:"0" maximum:"20000" doc:"Mean speed while cranking, of the crank or the output shaft"`
	Pulses       int                `json:"pulses" minimum:"0" maximum:"100000"`
	PeakKPa      *float64           `json:"peak_kpa,omitempty" minimum:"-200" maximum:"20000"`
	PlateauBeats *int               `json:"plateau_beats,omitempty" minimum:"0" maximum:"10000"`
	FacesKPa     []float64          `json:"faces_kpa,omitempty" maxItems:"3"`
	RelativePct  map[string]float64 `json:"relative_pct,omitempty" maxProperties:"64"`
	FirstShare   float64            `json:"first_share,omitzero" minimum:"0" maximum:"2" doc:"The first compression's level as a share of the held one"`
	SpeedFellPct float64            `json:"speed_fell_pct,omitzero" minimum:"0" maximum:"100"`
	Why          string             `json:"why" maxLength:"1000"`
	Beats        []Beat             `json:"beats,omitempty" maxItems:"4000"`
	Seconds      float64            `json:"seconds" minimum:"0" maximum:"86400" doc:"From one point of the curve to the next"`
	Scale        float64            `json:"scale" doc:"Size of one step of the curve, in kPa or A"`
	Curve        []byte             `json:"curve" maxLength:"200000" doc:"Deflated (RFC 1951) differences of the points, two bytes each, the low one first"`
	Rest         jsontext.Value     `json:",embed" hidden:"true"`
}

// Beat is one compression that was found in a recording, its time from the recording's first sample. Whole is false for one that the
// starter did not make alone: while it spun up, or while the crank ran out.
type Beat struct {
	Seconds  float64 `json:"seconds" minimum:"0" maximum:"86400"`
	Value    float64 `json:"value" minimum:"-20000" maximum:"20000"`
	RPM      float64 `json:"rpm,omitzero" minimum:"0" maximum:"20000"`
	Face     int     `json:"face,omitzero" minimum:"0" maximum:"3"`
	Cylinder int     `json:"cylinder,omitzero" minimum:"0" maximum:"64"`
	Whole    bool    `json:"whole"`
}
