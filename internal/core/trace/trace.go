// Package trace reads the film of a cranking engine: the pressure in a plug hole, with or without a check valve, or the
// starter's current. It says how fast the crank turned, which compressions there were and what each made, or why that cannot be
// told.
package trace

import (
	"cmp"

	"braxel/internal/core/units"
)

// Measured is what was recorded.
type Measured string

// What a recording is of.
const (
	Pressure Measured = "pressure"
	Current  Measured = "starter current"
)

// Known is what is known of a recording beforehand: the engine, and where the recorder was put.
type Known struct {
	File        string   `json:"file,omitzero"`
	Engine      string   `json:"engine,omitzero" enum:"four-stroke,two-stroke,rotary"`
	Fuel        string   `json:"fuel,omitzero"`
	Measured    Measured `json:"measured,omitzero" enum:"pressure,starter current"`
	AltitudeM   float64  `json:"altitude_m,omitzero"`
	Cylinders   int      `json:"cylinders,omitzero"`
	FiringOrder []int    `json:"firing_order,omitzero"`
	Plugs       string   `json:"plugs,omitzero" enum:"all in,all out,one out"`
	Cylinder    int      `json:"cylinder,omitzero"`
	Rotors      int      `json:"rotors,omitzero"`
	Rotor       int      `json:"rotor,omitzero"`
	// Unit is that in which what was read is said; kPa where none is given.
	Unit units.Unit `json:"unit,omitzero"`
}

// written writes a pressure in kPa in the unit asked for.
func (k Known) written(kpa float64) string {
	return units.Pressure(kpa).Written(cmp.Or(k.Unit, units.KPa))
}

// Turns returns how many turns of the crank, or of a rotary's output shaft, lie between two compressions of one cylinder, or
// face.
func (k Known) Turns() float64 {
	if k.Engine == "two-stroke" || k.Engine == "rotary" {
		return 1
	}
	return 2
}

// Form is the shape that the recording has.
type Form string

// The forms that are told apart.
const (
	Pulses    Form = "pulses"
	Staircase Form = "staircase"
	Humps     Form = "current"
)

// Beat is one compression that was found. Value is a gauge pressure in kPa (on a staircase the level after the step), or a
// current in A. Whole is false for one that the starter did not make alone: while it spun up, or while the crank ran out.
type Beat struct {
	Seconds float64 `json:"seconds"`
	Value   float64 `json:"value"`
	RPM     float64 `json:"rpm,omitzero"`
	Face    int     `json:"face,omitzero"`
	Whole   bool    `json:"whole"`
	Number  int     `json:"cylinder,omitzero"`
}

// Answer is what a recording says. Pressures are gauge kPa. A figure that the recording does not hold is null or left out, and
// Why says so in a sentence.
type Answer struct {
	File         string             `json:"file"`
	Readable     bool               `json:"readable"`
	Form         Form               `json:"form,omitzero"`
	RPM          float64            `json:"rpm,omitzero"`
	Pulses       int                `json:"pulses,omitzero"`
	PeakKPa      *float64           `json:"peak_kpa,omitempty"`
	PlateauBeats *int               `json:"plateau_beats,omitempty"`
	FacesKPa     []float64          `json:"faces_kpa,omitempty"`
	RelativePct  map[string]float64 `json:"relative_pct,omitempty"`
	Why          string             `json:"why"`
	Clipped      bool               `json:"clipped,omitzero"`
	FirstShare   float64            `json:"first_share,omitzero" doc:"The first compression's level as a share of the held one"`
	SpeedFellPct float64            `json:"speed_fell_pct,omitzero" doc:"By how much the cranking slowed down from start to end"`
	Beats        []Beat             `json:"beats,omitempty"`
}

// Recording is a file that was read: the times in s and the values as gauge kPa or A, in order of time.
type Recording struct {
	Measured Measured
	Seconds  []float64
	Values   []float64
	Marks    []float64 // s, where a marked cylinder stood at the dead centre of its compression
	Marked   int       // the marked cylinder; 0 where none is named
	Top      float64   // the end of the range, where the head tells it
	HasTop   bool
	Unit     string // as it stands in the file
	Absolute bool
	Needle   bool // read from the dial of a gauge, whose pin is its zero
	Lost     int  // rows and cells without a figure
	Lines    int
}
