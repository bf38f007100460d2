package e2e

import (
	"fmt"
	"math"
	"strings"
)

// steadyPulses is a recording of ten compressions of 1000 kPa at 240 1/min, two turns apart, as a transducer in bar would give it.
var steadyPulses = func() string {
	var b strings.Builder
	b.WriteString("# Channel 1: plug hole\nTime [s];Pressure [bar]\n")
	for i := range 3000 {
		t := float64(i) / 500
		v := 0.0
		for n := range 10 {
			d := (t - 0.7 - 0.5*float64(n)) / 0.022
			v += 10 * math.Exp(-d*d)
		}
		fmt.Fprintf(&b, "%.4f;%.4f\n", t, v)
	}
	return b.String()
}()
