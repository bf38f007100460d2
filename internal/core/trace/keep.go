package trace

import (
	"bytes"
	"compress/flate"
	"encoding/binary"
	"io"
	"math"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// mostPoints is as many points as a curve is kept with: a screen has no more columns.
const mostPoints = 3000

// Keep returns a recording that was read as a test keeps it: thinned to what a screen can show, deflated.
func Keep(r Recording, a Answer) log.Trace {
	s := even(r, pressureRate)
	v, step := outline(s.v, s.step)
	high := 0.0
	for _, x := range v {
		high = max(high, math.Abs(x))
	}
	out := log.Trace{
		File: a.File, Form: string(a.Form), RPM: a.RPM, Pulses: a.Pulses, PeakKPa: a.PeakKPa, PlateauBeats: a.PlateauBeats,
		FacesKPa: a.FacesKPa, RelativePct: a.RelativePct, FirstShare: a.FirstShare, SpeedFellPct: a.SpeedFellPct, Why: a.Why,
		Seconds: step, Scale: max(high, 1e-9) / 16000,
	}
	for _, b := range a.Beats {
		out.Beats = append(out.Beats, log.Beat{
			Seconds: max(0, b.Seconds-s.from), Value: b.Value, RPM: b.RPM, Face: b.Face, Cylinder: b.Number, Whole: b.Whole,
		})
	}
	out.Curve = deflate(v, out.Scale)
	return out
}

// outline thins a curve by the lowest and the highest of each stretch, in the order in which they come, so that no peak is lost.
func outline(v []float64, step float64) ([]float64, float64) {
	if len(v) <= mostPoints {
		return v, step
	}
	width := 2 * (len(v)/mostPoints + 1)
	var out []float64
	for from := 0; from < len(v); from += width {
		low, high := from, from
		for i := from; i < min(from+width, len(v)); i++ {
			if v[i] < v[low] {
				low = i
			}
			if v[i] > v[high] {
				high = i
			}
		}
		out = append(out, v[min(low, high)], v[max(low, high)])
	}
	return out, step * float64(width) / 2
}

// deflate writes points as differences of whole steps of scale.
func deflate(v []float64, scale float64) []byte {
	var out bytes.Buffer
	w, _ := flate.NewWriter(&out, flate.BestCompression) // fails for no known level
	before := int16(0)
	for _, x := range v {
		now := int16(math.Round(x / scale))
		_ = binary.Write(w, binary.LittleEndian, now-before)
		before = now
	}
	_ = w.Close() // a buffer takes everything
	return out.Bytes()
}

// ErrCurve is what Points answers for a curve that is none.
var ErrCurve = say.Error("trace.recordings-curve-cant-read")

// Points returns the points of a curve that was kept, one every t.Seconds.
func Points(t log.Trace) ([]float64, error) {
	// Two bytes a point, some more than are kept: what unpacks to more is none of ours.
	text, err := io.ReadAll(io.LimitReader(flate.NewReader(bytes.NewReader(t.Curve)), 8*mostPoints))
	if err != nil || len(text)%2 != 0 {
		return nil, ErrCurve
	}
	points := make([]float64, len(text)/2)
	now := int16(0)
	for i := range points {
		now += int16(binary.LittleEndian.Uint16(text[2*i:]))
		points[i] = float64(now) * t.Scale
	}
	return points, nil
}
