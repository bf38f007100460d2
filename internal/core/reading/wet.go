package reading

import (
	"slices"

	"gonum.org/v1/gonum/stat"

	"braxel/internal/core/rules"
)

// Wet is what oil did to the reading of one cylinder.
type Wet struct {
	Gain  float64 // percent
	Room  float64 // of that, what oil does by itself: its own room in the chamber, or what the siblings gained, whichever is more
	Seals bool    // it gained so much more than that that oil sealed something: rings or bore
}

// WetOf returns what oil did to a cylinder that gained so many percent, where the oil's own room makes up to so many (0 where the chamber is
// not known), and its siblings gained these. It is a builder's rule: oil seals rings for a moment, not valves or gaskets; and it takes up
// room, so that every cylinder gains a bit.
func WetOf(gain, room float64, siblings []float64) Wet {
	if room == 0 {
		room = rules.OilUsual
	}
	own := min(room, rules.OilMost)
	if len(siblings) > 0 {
		sorted := slices.Sorted(slices.Values(siblings))
		own = max(own, stat.Quantile(0.5, stat.Empirical, sorted, nil))
	}
	return Wet{gain, own, gain > own+rules.OilSeals}
}
