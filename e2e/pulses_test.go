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

// heldUp is a recording behind a check valve: eight compressions at 218 1/min, each of which brings the reading two thirds of the way
// to 1290 kPa.
var heldUp = func() string {
	var b strings.Builder
	b.WriteString("# Channel 1: cylinder 1\nTime [s];Pressure [bar]\n")
	for i := range 2600 {
		t := float64(i) / 500
		level := 0.0
		for n := range 8 {
			rise := 1 / (1 + math.Exp(-(t-0.8-0.55*float64(n))/0.008))
			level += 12.9 * 0.667 * math.Pow(0.333, float64(n)) * rise
		}
		fmt.Fprintf(&b, "%.4f;%.4f\n", t, level+0.004*math.Sin(float64(i)*1.7))
	}
	return b.String()
}()
