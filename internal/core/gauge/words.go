package gauge

import (
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Say says where a pull stands, in the unit of the dial.
func (v View) Say(u units.Unit) string {
	reading := figure(v.Reading, u)
	switch v.Phase {
	case Rising:
		if v.Beats == 0 {
			return say.Text("gauge.rising")
		}
		return say.Text("gauge.compression", "beats", v.Beats, "reading", reading)
	case Settled:
		return say.Text("gauge.that-is-it", "reading", reading)
	case Stopped:
		return say.Text("gauge.stopped-at-while-still-rising", "reading", reading)
	case Taken:
		return say.Text("gauge.vent-gauge-then-next-one")
	}
	return say.Text("gauge.gauge-open-screw-crank")
}

// SayAir says where a leak-down stands.
func (v View) SayAir(u units.Unit) string {
	switch v.Phase {
	case Rising:
		return say.Text("gauge.air-going-wait-until-settles")
	case Settled:
		return say.Text("gauge.held",
			"figure", figure(v.Reading, u),
			"figure2", figure(v.Supply, u),
		)
	case Taken:
		return say.Text("gauge.let-air-off-then-next")
	}
	return say.Text("gauge.no-air-tester-yet")
}

// figure writes a pressure as the dial of a gauge in that unit shows it.
func figure(kpa float64, u units.Unit) string {
	decimals := 1
	if u == units.PSI || u == units.KPa {
		decimals = 0
	}
	return say.Rounded(units.Pressure(kpa).In(u), decimals)
}
