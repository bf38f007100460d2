package bench

import "math"

// starter is a motor on the ring gear, its battery and what it turns: constants of the engine's size.
type starter struct {
	torque   float64 // N·m at the crank an ampere, and V a rad/s
	winding  float64 // Ω, cold
	inertia  float64 // kg·m²
	friction float64 // N·m, hot
}

// A starter suits its engine: one of two litres draws 600 A at rest and turns it at about 250 1/min. Friction is a mean pressure of
// 75 kPa over the swept volume, twice that in cold oil.
const (
	usualTorque  = 0.50
	usualWinding = 0.014
	usualInertia = 0.16
	frictionKPa  = 75.0
	coldFriction = 2.0
	dieselTorque = 1.25
)

func starterFor(litres, turns float64, diesel bool) starter {
	size := math.Pow(litres/2, 0.35)
	if diesel {
		size *= dieselTorque
	}
	return starter{
		torque: usualTorque * size, winding: usualWinding / size, inertia: usualInertia * litres / 2,
		friction: frictionKPa * litres / (2 * math.Pi * turns),
	}
}

// Battery is what a battery has left and how it is strained.
type Battery struct {
	Charge   float64 `json:"charge"`   // of 1
	Strained float64 `json:"strained"` // V that it gives less for having just been drawn on
	Heat     float64 `json:"heat"`     // K of the starter's winding above the air
}

// Its capacity in ampere seconds, of a weak one, and what it stands at.
const (
	capacity     = 45 * 3600.0
	weakCapacity = 1.3 * 3600.0
	emptyVolts   = 11.5
	fullVolts    = 12.8
	innerOhm     = 0.007
	spent        = 9.0   // how much more inner resistance one that is empty has
	heatCapacity = 900.0 // J/K of the winding
	coolsIn      = 240.0 // s
	recovers     = 12.0  // s
)

// Volts returns what it stands at while nothing is drawn.
func (b Battery) Volts() float64 { return emptyVolts + (fullVolts-emptyVolts)*b.Charge - b.Strained }

// turn returns the torque of the starter at the crank's speed in rad/s, and what it draws.
func (m starter) turn(b Battery, omega float64) (torque, amps float64) {
	scale := m.winding / usualWinding // a larger engine has a larger battery
	inner := innerOhm * scale * (1 + spent*(1-b.Charge)*(1-b.Charge))
	amps = max(0, (b.Volts()-m.torque*omega)/(inner+m.winding*(1+0.0039*b.Heat)))
	return m.torque * amps, amps
}

// draw strains the battery by what the starter takes for a while, or lets it come back.
func (m starter) draw(b Battery, amps, dt float64, weak bool) Battery {
	all := capacity
	if weak {
		all = weakCapacity
	}
	scale := m.winding / usualWinding
	b.Charge = max(0, b.Charge-amps*scale*dt/all)
	b.Strained += (0.0022*amps*scale*(1+2*(1-b.Charge)) - b.Strained) * dt / recovers
	b.Heat += amps*amps*m.winding*dt/heatCapacity/m.size() - b.Heat*dt/coolsIn
	return b
}

func (m starter) size() float64 { return usualWinding / m.winding }
