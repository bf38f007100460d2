package gas

import (
	"math"
	"sync"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// The table of what a bleeding cylinder holds: logarithms, by ratio and by the logarithm of the hole's area, for the usual
// volume and speed; another volume or speed is a hole as much larger or smaller.
const (
	heldFrom, heldTo, heldStep = -5.0, 5.5, 0.125
)

var (
	heldRatios = [...]float64{7, 9, 11, 14, 18, 23}
	heldTable  = sync.OnceValue(func() (t [len(heldRatios)][]float64) {
		for i, r := range heldRatios {
			for a := heldFrom; a <= heldTo; a += heldStep {
				h := Bleeding{Ratio: r, CC: rules.Ordinary.CC, RPM: rules.Ordinary.RPM, Exponent: ExponentMid}.Held(math.Exp(a))
				t[i] = append(t[i], math.Log(max(h, 0.01)))
			}
		}
		return t
	})
)

// LogHeld returns the logarithm of the share of its gauge pressure that a cylinder with a hole of that area holds when it is cranked, as
// Held does with the usual exponent, from a table.
func (b Bleeding) LogHeld(area float64) float64 {
	if area <= 0 {
		return 0
	}
	t := heldTable()
	i := 0
	for i < len(heldRatios)-2 && heldRatios[i+1] < b.Ratio {
		i++
	}
	f := min(max((b.Ratio-heldRatios[i])/(heldRatios[i+1]-heldRatios[i]), 0), 1)
	at := (math.Log(area*rules.Ordinary.CC*rules.Ordinary.RPM/(b.CC*b.RPM)) - heldFrom) / heldStep
	n := len(t[0])
	switch {
	case at <= 0:
		return (1-f)*t[i][0] + f*t[i+1][0]
	case at >= float64(n-1):
		return (1-f)*t[i][n-1] + f*t[i+1][n-1]
	}
	k := int(at)
	g := at - float64(k)
	return (1-f)*((1-g)*t[i][k]+g*t[i][k+1]) + f*((1-g)*t[i+1][k]+g*t[i+1][k+1])
}

// BleedingOf returns what the physics of a bleeding cylinder need of an engine; what nobody gave is as usual for its kind.
func BleedingOf(e log.Engine) Bleeding {
	usual := rules.CylinderFor(e)
	out := Bleeding{Ratio: usual.Ratio, CC: usual.CC, RPM: usual.RPM, Exponent: ExponentMid}
	if e.Ratio > 1 {
		out.Ratio = e.Ratio
	}
	if e.BoreMM > 0 && e.StrokeMM > 0 {
		out.CC = math.Pi / 4 * e.BoreMM * e.BoreMM * e.StrokeMM / 1000
	}
	return out
}
