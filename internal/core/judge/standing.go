package judge

import (
	"fmt"

	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/units"
)

// fires is the reading below which a petrol engine does not fire reliably, and leakMuch the leak that no school calls
// sound, whatever the baseline.
var fires = units.Reading{Value: 95, Unit: units.PSI}.Pressure()

const leakMuch = 20.0

// facesApart is the percentage of the highest face by which one face of a rotor may stand lower.
const facesApart = 15.0

// standing holds the readings against what is fixed: the maker's or the builder's own limits, which come first, and
// what any builder calls bad. A cold engine reads low and leaks more; it is not held to limits of a hot one.
func (h *history) standing(out *Session, s log.Session, now map[int]figure) {
	if s.Conditions.EngineTemp == "cold" {
		return
	}
	own := log.Limits{}
	if h.log.Engine.Limits != nil {
		own = *h.log.Engine.Limits
	}
	by := own.By()
	even := reading.Even(out.Pressures())
	for i := range out.Cylinders {
		c := &out.Cylinders[i]
		f := now[c.Cylinder]
		if f.se > 0 {
			// Limits are of sea level: at a height the reading is forgiven what the air takes.
			level := max(f.gauge, gas.ToSeaLevel(f.gauge, gas.AmbientOf(h.log.Engine, s.Conditions)))
			lowest := float64(f.gauge) <= even.Lowest
			switch {
			case own.Minimum != nil && level < own.Minimum.Pressure():
				h.raise(c, Act, fmt.Sprintf("reads below the least by %s, %s", by, own.Minimum))
			case own.SpreadMaximumPct > 0 && lowest && even.SpreadPctOfHighest > own.SpreadMaximumPct:
				h.raise(c, Watch, fmt.Sprintf("stands %.1f %% below the highest; %s allows %g %%", even.SpreadPctOfHighest, by, own.SpreadMaximumPct))
			case own.SpreadMaximum != nil && lowest && even.Spread > float64(own.SpreadMaximum.Pressure()):
				h.raise(c, Watch, fmt.Sprintf("stands %s below the highest; %s allows %s", reading.Show(units.Pressure(even.Spread), own.SpreadMaximum.Unit), by, own.SpreadMaximum))
			case own.Minimum == nil && c.State != Stop && h.sparks() && level < fires:
				h.raise(c, Act, "reads less than the 90 to 100 psi that a petrol engine needs to fire well")
			}
		}
		if low := reading.Even(f.faces); len(f.faces) > 1 && low.SpreadPctOfHighest > facesApart {
			c.State = Worse(c.State, Act)
			c.Why = append(c.Why, fmt.Sprintf("has one face %.0f %% below the highest of its rotor: apex seal or corner", low.SpreadPctOfHighest))
		}
		if f.leakSE > 0 && c.State != Retest {
			switch {
			case own.LeakMaximumPct > 0 && f.shown > own.LeakMaximumPct:
				h.raise(c, Act, fmt.Sprintf("leaks %.1f %%; %s allows %g %%", f.shown, by, own.LeakMaximumPct))
			case own.LeakMaximumPct == 0 && f.shown >= leakMuch:
				h.raise(c, Watch, fmt.Sprintf("leaks %.0f %%, which is much by any school", f.shown))
			}
		}
	}
}

// raise makes a cylinder's state at least as severe as given; outside a race, what must be acted upon is watched first.
func (h *history) raise(c *Cylinder, to State, why string) {
	if to == Act && limitsOf(h.log.Engine, false) != race {
		to = Watch
	}
	c.State = Worse(c.State, to)
	c.Why = append(c.Why, why)
}

// sparks reports whether the engine is a four-stroke that a spark must light.
func (h *history) sparks() bool {
	return h.log.Engine.Kind == log.FourStroke && (h.log.Engine.Fuel == "" || h.log.Engine.Fuel == "petrol")
}
