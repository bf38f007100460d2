package gauge

import (
	"fmt"
	"strconv"

	"braxel/internal/core/units"
)

// Say says where a pull stands, in the unit of the dial.
func (v View) Say(u units.Unit) string {
	reading := figure(v.Reading, u)
	switch v.Phase {
	case Rising:
		if v.Beats == 0 {
			return "It rises."
		}
		return fmt.Sprintf("Beat %d: %s.", v.Beats, reading)
	case Settled:
		return fmt.Sprintf("That is it: %s.", reading)
	case Stopped:
		return fmt.Sprintf("It stopped at %s while it still rose: crank on, or keep it by hand.", reading)
	case Taken:
		return "Vent the gauge; then the next."
	}
	return "The gauge is open: screw it in, and crank."
}

// SayAir says where a leak-down stands.
func (v View) SayAir(u units.Unit) string {
	switch v.Phase {
	case Rising:
		return "Air goes in: wait until it stands."
	case Settled:
		return fmt.Sprintf("That is it: %s of %s held.", figure(v.Reading, u), figure(v.Supply, u))
	case Taken:
		return "Let the air off; then the next."
	}
	return "No air on the tester yet."
}

// figure writes a pressure as the dial of a gauge in that unit shows it.
func figure(kpa float64, u units.Unit) string {
	decimals := 1
	if u == units.PSI || u == units.KPa {
		decimals = 0
	}
	return strconv.FormatFloat(units.Pressure(kpa).In(u), 'f', decimals, 64)
}
