// Package rotor reads a rotary's three faces from one gauge: pulses, the held peak, and the speed they were made at.
package rotor

import (
	"slices"

	"braxel/internal/core/units"
)

// RPM returns the cranking speed of the output shaft: one pulse a turn for each rotor.
func RPM(pulses int, seconds float64) float64 { return 60 * float64(pulses) / seconds }

// Faces returns each face's pressure: what its pulse showed, plus what the needle lags by, the held peak less the
// highest pulse.
func Faces(heldPeak units.Pressure, pulses [3]units.Pressure) [3]units.Pressure {
	lag := heldPeak - slices.Max(pulses[:])
	for i := range pulses {
		pulses[i] += lag
	}
	return pulses
}

// At is a row of a maker's table: the factor that brings a reading at that speed to 250 rpm.
type At struct {
	RPM    float64 `json:"rpm"`
	Factor float64 `json:"factor"`
}

// Nominal is the speed that makers give rotary compression at.
const Nominal = 250.0

// leakSpeed is the cranking speed in rpm at which a sound rotor loses half of what it compresses; seals leak for a
// time that goes with 1/speed.
const leakSpeed = 60.0

// Factor returns what to multiply a reading at a speed by, to bring it to 250 rpm: linear between the rows of the
// maker's table (sorted by speed, its ends holding beyond it). Without a table it is an estimate from a leak-limited
// chamber, p ∝ rpm/(rpm + leakSpeed), and estimated is true.
func Factor(rpm float64, table []At) (factor float64, estimated bool) {
	if len(table) == 0 {
		return Nominal / (Nominal + leakSpeed) * (rpm + leakSpeed) / rpm, true
	}
	for i, row := range table {
		if rpm > row.RPM {
			continue
		}
		if i == 0 {
			return row.Factor, false
		}
		before := table[i-1]
		share := (rpm - before.RPM) / (row.RPM - before.RPM)
		return before.Factor + share*(row.Factor-before.Factor), false
	}
	return table[len(table)-1].Factor, false
}
