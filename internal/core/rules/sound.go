package rules

import (
	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// What a sound engine reads.
const (
	// SoundLeak is what the rings of a sound, hot cylinder let by: 2 to 6 are met. [%; trade]
	SoundLeak = 3.5
	// SoundLeakSD is how far engines differ in that, of the leak's area. [log; trade]
	SoundLeakSD = 0.55
	// LeakLeast is a leak that every cylinder has: less is not told from it. [%; judgement]
	LeakLeast = 0.4
	// SoundLeakMost is the most that rings alone let by, however cold: beyond it a cylinder is hardly sound. [%; trade]
	SoundLeakMost = 40.0
	// SoundLeakRoom is how far that may be off. [points; judgement]
	SoundLeakRoom = 10.0

	// Siblings is how far sound cylinders of one engine differ in compression. [log; trade]
	Siblings = 0.022
	// SiblingsCold is the same of a cold engine: rings and bores do not fit yet. [log; trade]
	SiblingsCold = 0.05
	// SiblingsLeak is how far the leaks of sound siblings differ, of their area. [log; trade]
	SiblingsLeak = 0.33
	// SiblingsLeakCold is the same of a cold engine. [log; trade]
	SiblingsLeakCold = 0.75

	// LevelByMaker is how well the maker's figure tells what an engine makes. [log; trade]
	LevelByMaker = 0.06
	// LevelByGeometry is how well bore, stroke, ratio and intake closing tell it. [log; physics]
	LevelByGeometry = 0.13

	// Beds is how many visits it takes until rings and seats are bedded. [visits; practice]
	Beds = 3
	// Drift is how far a sound cylinder drifts by itself from visit to visit. [log; judgement]
	Drift = 0.001
	// DriftBedding is the same while it beds in. [log; judgement]
	DriftBedding = 0.004
	// DriftLeak is how far the area of its leak drifts. [log; judgement]
	DriftLeak = 0.03
	// DriftLeakBedding is the same while it beds in. [log; judgement]
	DriftLeakBedding = 0.15
	// DriftAll is how far all cylinders drift together: even wear. [log; judgement]
	DriftAll = 0.006
	// DriftLeakAll is the same of their leaks' area. [log; judgement]
	DriftLeakAll = 0.05
	// CreepMost is how far one cylinder may creep from its baseline before it is no drift. [log; judgement]
	CreepMost = 0.03
	// CreepLeakMost is the same of its leak's area. [log; judgement]
	CreepLeakMost = 0.3
	// FiresPSI is the reading below which a petrol engine does not fire reliably: 90 to 100. [psi; trade]
	FiresPSI = 95.0
	// FiresWithinPSI is how far below and above that makers and builders put it. [psi; trade]
	FiresWithinPSI = 5.0
)

// What is assumed of an engine's crank and cam where nobody gave them.
const (
	// RodStrokes is the length of its rods. [strokes; trade]
	RodStrokes = 1.65
	// ClosesABDC is where its intake closes, after bottom dead centre. [°; trade]
	ClosesABDC = 55.0
)

// Cylinder is what the physics need to know of a cylinder and of what cranks it.
type Cylinder struct {
	Kind           string // what it is of, in words
	Ratio, CC, RPM float64
	LevelKPa       float64 // what it makes at sea level, gauge kPa
	LevelSD        float64 // how far that is off, a logarithm
}

// What is assumed of a cylinder whose figures nobody gave, by kind. Compression ratio, cm³, rpm with the plugs out; source: trade.
var (
	Ordinary   = Cylinder{say.Text("rules.petrol-four-stroke"), 10, 500, 220, 1200, 0.25}
	Diesel     = Cylinder{say.Text("rules.diesel"), 17, 900, 200, 2600, 0.3}
	TwoStroke  = Cylinder{say.Text("rules.two-stroke"), 9, 125, 300, 850, 0.4}
	Motorcycle = Cylinder{say.Text("rules.motorcycle-or-kart"), 11, 250, 250, 1200, 0.25}
	Rotor      = Cylinder{say.Text("rules.rotary"), 10, 500, 220, 750, 0.25}
)

// Cylinders are these, for the page of rules.
var Cylinders = []Cylinder{Ordinary, Motorcycle, TwoStroke, Diesel, Rotor}

// CylinderFor returns what is assumed of an engine's cylinders where nobody gave their figures.
func CylinderFor(e log.Engine) Cylinder {
	switch {
	case e.Fuel == "diesel":
		return Diesel
	case e.Kind == log.TwoStroke:
		return TwoStroke
	case e.Kind == log.Rotary:
		return Rotor
	case e.Duty == "motorcycle" || e.Duty == "kart":
		return Motorcycle
	}
	return Ordinary
}
