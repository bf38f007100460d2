package e2e

import (
	"fmt"
	"math"
	"strings"
)

// recorded is a recorder's file of so many samples, 500 a second, of a pressure in bar.
func recorded(channel string, samples int, bar func(t float64) float64) string {
	var b strings.Builder
	fmt.Fprintf(&b, "# Channel 1: %s\nTime [s];Pressure [bar]\n", channel)
	for i := range samples {
		t := float64(i) / 500
		fmt.Fprintf(&b, "%.4f;%.4f\n", t, bar(t))
	}
	return b.String()
}

// steadyPulses is a recording of ten compressions of 1000 kPa at 240 1/min, two turns apart.
var steadyPulses = recorded("plug hole", 3000, func(t float64) (bar float64) {
	for n := range 10 {
		d := (t - 0.7 - 0.5*float64(n)) / 0.022
		bar += 10 * math.Exp(-d*d)
	}
	return bar
})

// heldUp is a recording behind a check valve: eight compressions at 218 1/min, each of which brings the reading two thirds of the way
// to 1290 kPa.
var heldUp = recorded("cylinder 1", 2600, func(t float64) float64 {
	bar := 0.004 * math.Sin(t*850)
	for n := range 8 {
		rise := 1 / (1 + math.Exp(-(t-0.8-0.55*float64(n))/0.008))
		bar += 12.9 * 0.667 * math.Pow(0.333, float64(n)) * rise
	}
	return bar
})
