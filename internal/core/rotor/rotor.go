// Package rotor reads a rotary's three faces from one gauge: pulses, the held peak, and the speed they were made at.
package rotor

import (
	"slices"

	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

// RPM returns the cranking speed of the output shaft: one pulse a turn for each rotor.
func RPM(pulses int, seconds float64) float64 { return 60 * float64(pulses) / seconds }

// CheckPulses names a count of pulses that the seconds cannot hold, at the field of the count.
func CheckPulses(pulses int, seconds float64, at string) log.Faults {
	if pulses == 0 || seconds == 0 {
		return nil
	}
	if rpm := RPM(pulses, seconds); rpm < rules.RotorSlowest || rpm > rules.RotorQuickest {
		return log.Faults{log.At(at, "rotor.pulses-s-would-rpm-one",
			"pulses", pulses,
			"seconds", seconds,
			"rpm", rpm)}
	}
	return nil
}

// Faces returns each face's pressure: what its pulse showed, plus what the needle lags by, the held peak less the
// highest pulse.
func Faces(heldPeak units.Pressure, pulses [3]units.Pressure) [3]units.Pressure {
	highest := slices.Max(pulses[:])
	for i, p := range pulses {
		pulses[i] = units.Pressure(log.Flicker{Pulse: float64(p), Highest: float64(highest), Held: float64(heldPeak)}.Reading())
	}
	return pulses
}

// At is a row of a maker's table: the factor that brings a reading at that speed to 250 rpm.
type At = log.SpeedFactor

// Factor returns what to multiply a reading at a speed by, to bring it to 250 rpm: linear between the rows of the
// maker's table (sorted by speed, its ends holding beyond it). Without a table it is an estimate from a leak-limited
// chamber, p ∝ rpm/(rpm + leakSpeed), and estimated is true.
func Factor(rpm float64, table []At) (factor float64, estimated bool) {
	if len(table) == 0 {
		return rules.RotorNominal / (rules.RotorNominal + rules.RotorLeakSpeed) * (rpm + rules.RotorLeakSpeed) / rpm, true
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

// AtNominal returns what brings a row of a rotor's pulls to 250 rpm, by the engine's own table where it has one; estimated is true
// where the core's cranking model says it. A row whose speed nobody took, of its pulls or of the test, is left as it is: 1.
func AtNominal(e log.Engine, s log.Session, row log.Compression) (factor float64, estimated bool) {
	if row.Rotor == 0 {
		return 1, false
	}
	rpm := SpeedOf(s, row)
	if rpm < rules.RotorSlowest || rpm > rules.RotorQuickest {
		return 1, false
	}
	return Factor(rpm, e.SpeedTable)
}

// SpeedOf returns the mean speed in 1/min that a row was cranked at: that of its pulls, else the test's; 0 where nobody took it.
func SpeedOf(s log.Session, row log.Compression) float64 {
	sum, n := 0.0, 0.0
	for _, p := range row.Pulls {
		if p.Counts() && p.RPM > 0 {
			sum, n = sum+p.RPM, n+1
		}
	}
	if n == 0 {
		return s.Conditions.Cranking.RPM
	}
	return sum / n
}

// noSignal is the pressure below which a rotor's faces are not told apart.
var noSignal = units.Reading{Value: rules.RotorSilentPSI, Unit: units.PSI}.Pressure()

// Silent reports whether a rotor makes next to nothing on any face, in kPa.
func Silent(faces []float64) bool { return units.Pressure(slices.Max(faces)) < noSignal }

// Apart returns by how many percent of the highest the lowest face of a rotor stands below it, and whether that is too far. There are
// two faces at least.
func Apart(faces []float64) (pct float64, off bool) {
	pct = reading.Even(faces).SpreadPctOfHighest
	return pct, pct > rules.FacesApart && !Silent(faces)
}
