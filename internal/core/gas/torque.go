package gas

import (
	"math"

	"braxel/internal/core/rules"
)

// opens is where the exhaust valve opens, in degrees after the dead centre of the compression.
const opens = 130.0

// Torque returns what a cranked cylinder asks of the crank at each degree from 180° before the dead centre of its compression to
// 180° after it (361 values): gauge pressure in units of the ambient, times the lever in units of the crank's throw. A hole of the
// given area (in units of the reference orifice) bleeds the charge as in Held, and lets air in again where there is less
// than the ambient. peak is the highest gauge pressure in units of the ambient.
func (b Bleeding) Torque(area float64) (torque []float64, peak float64) {
	c, volume := b.cylinder()
	whole := volume(rules.ClosesABDC - 180)
	speed := HoleM2(area) * gasSpeed / (b.RPM * 2 * math.Pi / 60 * whole)
	torque = make([]float64, 361)
	mass := 1.0
	const finer = 4 // steps a degree
	for i := range 360 * finer {
		deg := float64(i)/finer - 180
		if deg < rules.ClosesABDC-180 || deg > opens {
			continue
		}
		v := volume(deg) / whole
		p := math.Pow(mass/v, b.Exponent)
		if i%finer == 0 {
			torque[i/finer] = (1 - p) * c.lever(deg) / (c.Stroke / 2) // before TDC it holds the crank back
			peak = max(peak, p-1)
		}
		root := math.Sqrt(p * v / mass)
		switch {
		case p > 1:
			mass -= speed * p / root * Flow(1/p) * math.Pi / 180 / finer
		case p < 1:
			mass += speed * Flow(p) * math.Pi / 180 / finer
		}
		mass = max(mass, 1e-3)
	}
	return torque, peak
}
