package judge

import (
	"math"

	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/units"
)

// figure is a cylinder's dry compression in one session: as read, and the logarithm of it at sea level with its
// standard error.
type figure struct {
	gauge   units.Pressure
	log, se float64
}

// scatter is what two tests of an unchanged cylinder differ by beyond gauge and division: ring position, oil, heat.
const scatter = 0.008

// figures returns each cylinder's dry compression; a later row of a cylinder replaces an earlier one. Cylinders that
// read nothing at all are given half a division, so that their ratio stays a number.
func figures(l log.Log, s log.Session) map[int]figure {
	ambient := gas.AmbientOf(l.Engine, s.Conditions)
	found := map[int]figure{}
	for _, row := range s.Compression {
		if row.Mode != log.Dry {
			continue
		}
		tester, _ := l.Tester(row.Tester)
		division := reading.DivisionOf(tester)
		r := reading.Of(row.Pulls, reading.UntilTwoAgree, division)
		if r.Pulls == 0 {
			continue
		}
		level := max(r.Pressure-units.Pressure(tester.OffsetKPa), division/2)
		rel := float64(division/level) / math.Sqrt(12*float64(min(r.Pulls, 2)))
		found[number(row)] = figure{r.Pressure, math.Log(float64(gas.ToSeaLevel(level, ambient))), math.Hypot(scatter, rel)}
	}
	return found
}

// number returns the cylinder of a row; of a rotor, the rotor.
func number(row log.Compression) int {
	if row.Rotor > 0 {
		return row.Rotor
	}
	return row.Cylinder
}
