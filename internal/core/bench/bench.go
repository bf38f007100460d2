// Package bench is an engine on the stand: it is cranked by a starter on a battery, its chambers are squeezed and leak, a gauge is
// screwed into it, air is put on it. State and time go in, state comes out. Its flows and volumes are those of gas; its faults, its
// starter and its scatter are its own, so that the judge can be held against it.
package bench

import (
	"math"
	"math/rand/v2"
	"slices"

	"braxel/internal/core/gas"
	"braxel/internal/core/log"
)

// Spec is an engine as it stands there. Its log.Engine needs bore, stroke and ratio; a rotary its chamber's volume.
type Spec struct {
	Engine    log.Engine `json:"engine"`
	FaceCC    float64    `json:"face_cc,omitzero"` // of a rotary: what one face sweeps
	Seed      uint64     `json:"seed"`
	RingsPct  float64    `json:"rings_pct"` // what a sound chamber leaks hot, by the reference tester
	Faults    []Fault    `json:"faults,omitempty"`
	Exponent  float64    `json:"exponent,omitzero"` // of the hot engine's compression; usual where 0
	AltitudeM float64    `json:"altitude_m,omitzero"`
	Weak      bool       `json:"weak,omitzero"`      // the battery
	CarbonCC  float64    `json:"carbon_cc,omitzero"` // grown on each piston: room that is gone
	Alike     bool       `json:"alike,omitzero"`     // chambers without scatter, for sums that can be done by hand
}

// Engine is a Spec made ready to be cranked. It does not change.
type Engine struct {
	Spec
	shape    *shape
	chambers []chamber
	ambient  float64 // Pa
	litres   float64
	starter  starter
	hot      float64 // exponent of the hot engine
}

// chamber is a cylinder, or one face of a rotor. Areas are in m².
type chamber struct {
	place                                  log.Place
	tdc                                    float64 // degrees of the crank at which it is at the dead centre of its compression
	rings, intake, exhaust, coolant, dirty float64
	toIntake                               bool // the dirt lies on the intake's seat
	beside                                 []passage
	extra                                  float64 // m³ of chamber beyond the usual
	lift                                   float64 // share of the intake's usual opening
}

// passage is a way from one chamber to another.
type passage struct {
	to   int
	area float64
}

// The air that is drawn in.
const (
	airR  = 287.0 // J/(kg·K)
	airT  = 300.0 // K, by the time it is inside
	deg   = math.Pi / 180
	pascs = 1000.0 // Pa in a kPa
)

// What a sound engine's compression is polytropic by, hot and cold: walls that are cold take a twentieth of the reading, as the trade
// finds.
const (
	hotExponent  = 1.28
	coldExponent = 0.98 // times the hot one
	coldRings    = 1.35 // times the hot leak
)

// How sound chambers of one engine differ: in the area that their rings leak through (a tenth of it makes a fifth of a small leak), and in
// the room above the piston, by deck, gasket and valves.
const (
	ringsDiffer = 0.12
	roomDiffers = 0.012
)

// New makes an engine ready. Its chambers differ as those of a sound engine do, drawn from the seed.
func New(s Spec) *Engine {
	draw := rand.New(rand.NewPCG(s.Seed, 4))
	e := &Engine{Spec: s, ambient: pascs * float64(gas.Ambient(s.AltitudeM)), hot: s.Exponent}
	if e.hot == 0 {
		e.hot = hotExponent
	}
	e.shape = shapeOf(s)
	e.place()
	swept := e.shape.swept()
	e.litres = 1000 * swept * float64(len(e.chambers))
	for i := range e.chambers {
		c := &e.chambers[i]
		c.rings, c.lift, c.extra = hole(s.RingsPct), 1, -s.CarbonCC*1e-6
		if !s.Alike {
			c.rings *= math.Exp(ringsDiffer * draw.NormFloat64())
			c.extra += e.shape.clearance() * roomDiffers * draw.NormFloat64()
		}
	}
	for _, f := range s.Faults {
		e.suffer(f)
	}
	e.starter = starterFor(e.litres, float64(e.shape.cycle)/360, s.Engine.Fuel == "diesel")
	return e
}

// hole returns the area in m² of a leak that the reference tester shows as so many percent.
func hole(pct float64) float64 { return gas.HoleM2(gas.Area(pct)) }

// pctOf is the inverse of hole.
func pctOf(area float64) float64 { return gas.Pct(area / gas.HoleM2(1)) }

// place puts the chambers in their order round the crank.
func (e *Engine) place() {
	cycle := float64(e.shape.cycle)
	if e.Spec.Engine.Kind == log.Rotary {
		n := e.Spec.Engine.Layout.Rotors
		for r := 1; r <= n; r++ {
			for face := 1; face <= 3; face++ {
				at := math.Mod(float64(face-1)*360+float64(r-1)*360/float64(n), cycle)
				e.chambers = append(e.chambers, chamber{place: log.Place{Rotor: r, Face: face}, tdc: at})
			}
		}
		return
	}
	order := e.Order()
	at := map[int]float64{}
	turned := 0.0
	for i, c := range order {
		at[c] = math.Mod(turned, cycle)
		step := cycle / float64(len(order))
		if len(e.Spec.Engine.FiringIntervals) == len(order) {
			step = e.Spec.Engine.FiringIntervals[i]
		}
		turned += step
	}
	for _, c := range e.Spec.Engine.Cylinders() {
		e.chambers = append(e.chambers, chamber{place: log.Place{Cylinder: c}, tdc: at[c]})
	}
}

// Order returns the cylinders as they fire.
func (e *Engine) Order() []int {
	if len(e.Spec.Engine.FiringOrder) > 0 {
		return e.Spec.Engine.FiringOrder
	}
	return e.Spec.Engine.Cylinders()
}

// at returns the chamber of a place, of a rotor its first face; -1 where there is none.
func (e *Engine) at(p log.Place) int {
	return slices.IndexFunc(e.chambers, func(c chamber) bool {
		return c.place.Number() == p.Number() && (p.Face == 0 || c.place.Face == p.Face)
	})
}

// Place names a cylinder, or a rotor, of the engine.
func (e *Engine) Place(number int) log.Place { return e.Spec.Engine.Place(number) }
