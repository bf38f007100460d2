// Package gas does the sums on air: what the atmosphere, an orifice and a cranked cylinder make of pressure.
package gas

import (
	"math"

	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

// SeaLevel is the standard atmosphere at sea level, absolute (ISO 2533).
const SeaLevel units.Pressure = 101.325

// Ambient returns the absolute pressure of the standard atmosphere at an altitude in metres (ISO 2533, troposphere).
func Ambient(altitude float64) units.Pressure {
	return SeaLevel * units.Pressure(math.Pow(1-0.0065*altitude/288.15, 5.25588))
}

// ToSeaLevel returns what the gauge would read at sea level: an engine makes a pressure ratio, so a gauge reading goes
// with the ambient pressure.
func ToSeaLevel(gauge, ambient units.Pressure) units.Pressure { return gauge * SeaLevel / ambient }

// AmbientOf returns the ambient pressure of a session: the station's own, else from its altitude, else from the
// engine's, else sea level.
func AmbientOf(e log.Engine, c log.Conditions) units.Pressure {
	switch {
	case c.AmbientKPa > 0:
		return units.Pressure(c.AmbientKPa)
	case c.AltitudeM != nil:
		return Ambient(*c.AltitudeM)
	case e.AltitudeM != nil:
		return Ambient(*e.AltitudeM)
	}
	return SeaLevel
}
