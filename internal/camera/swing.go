package camera

import "math"

// Movement is the needle's own: how fast it swings, and how soon it comes to rest.
type Movement struct {
	Hz      float64
	Damping float64 // of the critical
}

// Swing returns where a needle stands that follows a pressure, both in figures of the scale, as a swing that is damped: a table made in
// steps of 0.5 ms, read between them.
func (m Movement) Swing(seconds float64, pressure func(t float64) float64, least float64) func(t float64) float64 {
	const step = 0.0005
	w := 2 * math.Pi * m.Hz
	n := int(seconds/step) + 2
	all := make([]float64, n)
	x, v := pressure(0), 0.0
	for i := range n {
		a := w*w*(pressure(float64(i)*step)-x) - 2*m.Damping*w*v
		v += a * step
		if x += v * step; x < least {
			x, v = least, 0
		}
		all[i] = x
	}
	return func(t float64) float64 {
		k := min(max(t/step, 0), float64(n-2))
		i := int(k)
		return all[i] + (k-float64(i))*(all[i+1]-all[i])
	}
}

// Stairs is the pressure behind a check valve: each compression lifts it towards the last level, by the same share of what is left.
func Stairs(start, level, first, rpm float64, beats int, vent float64) func(t float64) float64 {
	gap := 120 / rpm
	return func(t float64) float64 {
		if t > vent {
			return level * math.Exp(-(t-vent)/0.06)
		}
		p := 0.0
		for k := range beats {
			share := min(max((t-start-float64(k)*gap)/0.035, 0), 1)
			share = share * share * (3 - 2*share)
			p += (level*(1-math.Pow(1-first, float64(k+1))) - level*(1-math.Pow(1-first, float64(k)))) * share
		}
		return p
	}
}

// Flickers is the pressure of a rotor in a bare gauge: a pulse a turn, the three faces in turn.
func Flickers(start float64, faces [3]float64, rpm float64, pulses int) func(t float64) float64 {
	gap := 60 / rpm
	return func(t float64) float64 {
		p := 0.0
		for k := range pulses {
			d := (t - start - float64(k)*gap) / (0.17 * gap)
			p += faces[k%3] * math.Exp(-d*d)
		}
		return p
	}
}

// Settles is what is held in a cylinder once air is on it.
func Settles(start, held float64) func(t float64) float64 {
	return func(t float64) float64 {
		if t < start {
			return 0
		}
		return held * (1 - math.Exp(-(t-start)/0.35))
	}
}
