package bench

import (
	"slices"

	"braxel/internal/core/log"
)

// Kinds of fault, by the causes' names.
const (
	Healthy      = "healthy"
	RingsBore    = "rings_bore"
	Piston       = "piston_damage"
	IntakeValve  = "intake_valve"
	ExhaustValve = "exhaust_valve"
	SeatDirt     = "seat_dirt"
	GasketBeside = "gasket_neighbour"
	GasketWater  = "gasket_coolant"
	CamTiming    = "cam_timing"
	CamLobe      = "cam_lobe"
	BentRod      = "bent_rod"
	EvenWear     = "even_wear"
	NotBedded    = "not_bedded"
	ApexSeal     = "apex_seal"
)

// Mistakes of testing.
const (
	ThrottleShut = "throttle_shut"
	BatteryFlat  = "battery_flat"
	GaugeOff     = "gauge_off"
	OffTDC       = "off_tdc"
)

// Fault is what is wrong with an engine, or with its testing. Size is points of leak on the reference tester, of a cam or a missed dead
// centre degrees, of a bent rod mm, of a worn lobe the share of its opening that is gone, of a gauge the share that it reads
// low.
type Fault struct {
	Kind      string  `json:"kind"`
	Cylinder  int     `json:"cylinder,omitzero"` // of a rotary the rotor
	Neighbour int     `json:"neighbour,omitzero"`
	Face      int     `json:"face,omitzero"`
	Size      float64 `json:"size"`
}

// Mistake reports whether the fault is the testing's and not the engine's.
func (f Fault) Mistake() bool {
	return slices.Contains([]string{ThrottleShut, BatteryFlat, GaugeOff, OffTDC}, f.Kind)
}

// suffer gives an engine a fault.
func (e *Engine) suffer(f Fault) {
	area := hole(e.RingsPct+f.Size) - hole(e.RingsPct) // so that its leak rises by that many points
	one := e.at(log.Place{Cylinder: f.Cylinder, Face: f.Face})
	all := func(do func(*chamber)) {
		for i := range e.chambers {
			do(&e.chambers[i])
		}
	}
	switch f.Kind {
	case EvenWear:
		all(func(c *chamber) { c.rings += area })
		return
	case NotBedded:
		all(func(c *chamber) { c.rings += area; c.exhaust += area / 6; c.intake += area / 8 })
		return
	case CamTiming:
		e.shape.intake.to += f.Size
		e.shape.intake.from += f.Size
		e.shape.exhaust.to += f.Size
		e.shape.exhaust.from += f.Size
		return
	case BatteryFlat:
		e.Weak = true
		return
	}
	if one < 0 {
		return
	}
	c := &e.chambers[one]
	switch f.Kind {
	case RingsBore, Piston:
		for i := range e.chambers { // of a rotor, all three faces
			if e.chambers[i].place.Number() == f.Cylinder {
				e.chambers[i].rings += area
			}
		}
	case IntakeValve:
		c.intake += area
	case ExhaustValve:
		c.exhaust += area
	case SeatDirt:
		c.dirty += area
		c.toIntake = f.Neighbour == 1
	case GasketWater:
		c.coolant += area
	case GasketBeside:
		e.join(one, e.at(log.Place{Cylinder: f.Neighbour}), area)
	case ApexSeal: // a seal stands between two faces
		next := e.at(log.Place{Rotor: f.Cylinder, Face: f.Face%3 + 1})
		e.join(one, next, area)
	case BentRod:
		area := 2 * e.shape.sweep[90*fine] / e.Spec.Engine.StrokeMM * 1000 // m²: at 90° the piston moves by its throw
		c.extra += area * f.Size / 1000
	case CamLobe:
		c.lift *= 1 - f.Size
	}
}

func (e *Engine) join(a, b int, area float64) {
	if a < 0 || b < 0 || a == b {
		return
	}
	e.chambers[a].beside = append(e.chambers[a].beside, passage{b, area})
	e.chambers[b].beside = append(e.chambers[b].beside, passage{a, area})
}

// Kinds returns the kinds of fault that there are.
func Kinds() []string {
	return []string{
		RingsBore, Piston, IntakeValve, ExhaustValve, SeatDirt, GasketBeside, GasketWater, CamTiming, CamLobe, BentRod, EvenWear,
		NotBedded, ApexSeal,
		ThrottleShut, BatteryFlat, GaugeOff, OffTDC,
	}
}

// Known reports whether there is such a kind of fault.
func Known(kind string) bool { return slices.Contains(Kinds(), kind) }
