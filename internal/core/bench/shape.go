package bench

import (
	"math"

	"braxel/internal/core/gas"
	"braxel/internal/core/log"
)

// shape is a chamber over its cycle, in degrees of the crank from the dead centre of its compression: its volume, how that changes,
// and when it is open.
type shape struct {
	cycle           int
	volume, sweep   []float64 // m³ and m³ a radian, one every 1/fine degree, and the first again
	intake, exhaust span
}

// span is from where to where something is open, in degrees of the cycle; to is beyond from.
type span struct{ from, to float64 }

const fine = 4

// Timing that is not given: the exhaust opens 50° before the lower dead centre, both valves overlap by 20°. Of a two-stroke the ports
// stand open for as long before the lower dead centre as after it; of a rotary, whose chamber takes three turns, the intake closes
// 50° after its largest volume and the exhaust opens 75° before it.
const (
	exhaustOpens = 50.0
	overlap      = 10.0
	portCloses   = 85.0
	rotorCloses  = 50.0
	rotorOpens   = 75.0
	rotorShuts   = 48.0
	rotorDraws   = 32.0
)

// ramp is how many degrees a valve takes to open or shut.
const ramp = 8.0

func shapeOf(s Spec) *shape {
	switch s.Engine.Kind {
	case log.Rotary:
		clearance := s.FaceCC / (s.Engine.Ratio - 1)
		return fill(&shape{cycle: 1080, intake: span{540 + rotorDraws, 810 + rotorCloses}, exhaust: span{270 - rotorOpens, 540 + rotorShuts}},
			func(d float64) float64 { return 1e-6 * (clearance + s.FaceCC/2*(1-math.Cos(2*d*deg/3))) })
	case log.TwoStroke:
		closes := portCloses
		if s.Engine.IntakeCloses != nil {
			closes = *s.Engine.IntakeCloses
		}
		open := span{180 - closes, 180 + closes}
		return fill(&shape{cycle: 360, intake: open, exhaust: open}, cylinder(s))
	}
	c, _ := gas.Likely(s.Engine)
	intake, exhaust := span{360 - overlap, 540 + c.IntakeCloses}, span{180 - exhaustOpens, 360 + overlap}
	return fill(&shape{cycle: 720, intake: intake, exhaust: exhaust}, cylinder(s))
}

// cylinder returns the volume of a cylinder in m³ at degrees from its dead centre.
func cylinder(s Spec) func(d float64) float64 {
	c, _ := gas.Likely(s.Engine)
	return func(d float64) float64 { return c.Volume(d) * 1e-6 }
}

func fill(s *shape, volume func(d float64) float64) *shape {
	for i := 0; i <= s.cycle*fine; i++ {
		d := float64(i) / fine
		s.volume = append(s.volume, volume(d))
		const h = 0.01
		s.sweep = append(s.sweep, (volume(d+h)-volume(d-h))/(2*h*deg))
	}
	return s
}

// at returns volume and sweep at a degree of the cycle.
func (s *shape) at(d float64) (volume, sweep float64) {
	x := d * fine
	i := int(x)
	part := x - float64(i)
	return s.volume[i] + part*(s.volume[i+1]-s.volume[i]), s.sweep[i] + part*(s.sweep[i+1]-s.sweep[i])
}

// wrap brings degrees into the cycle.
func (s *shape) wrap(d float64) float64 {
	cycle := float64(s.cycle)
	d = math.Mod(d, cycle)
	if d < 0 {
		d += cycle
	}
	if d >= cycle {
		d = 0
	}
	return d
}

func (s *shape) clearance() float64 { return s.volume[0] }

// swept returns what a chamber sweeps, in m³.
func (s *shape) swept() float64 {
	most := 0.0
	for _, v := range s.volume {
		most = max(most, v)
	}
	return most - s.clearance()
}

// lift returns how far something is open at a degree of the cycle, from 0 to 1.
func (p span) lift(d, cycle float64) float64 {
	if d < p.from {
		d += cycle
	}
	if d <= p.from || d >= p.to {
		return 0
	}
	return min(1, (d-p.from)/ramp, (p.to-d)/ramp)
}
