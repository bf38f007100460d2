package dial

import (
	"math"

	"braxel/internal/core/trace"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/stat"
)

// A pulse of a rotary lasts a few pictures only, and none of them need show its top. But the pulses come as regularly as the engine
// turns, and each picture falls on another part of one: laid over each other they show a pulse as a quicker camera would, as a lamp that
// flashes shows what turns.
const (
	aboutTop   = 0.25 // of the time between two pulses, to each side of a top, that is laid over each other
	bottom     = 0.1  // of the sights that are about as low as the needle falls
	notSteady  = 0.08 // of its face's usual height that a pulse may differ by
	foldRounds = 20
	foldLeast  = 18   // sights, for seven unknowns
	mostUnseen = 1.12 // of the highest sight on the form, that its top may be
	notRegular = 0.2  // of the time between two pulses that one may come early or late
)

// topsOf returns the tops of a rotor's three faces, each the mean of its turns, in the unit of the sights; nil where the pulses come
// too irregularly or are too few to be laid over each other.
func topsOf(all []Sight, beats []trace.Beat) []float64 {
	var number, when []float64
	steady := steadyTurns(beats)
	for i, b := range beats {
		if steady[i] {
			number, when = append(number, float64(i)), append(when, b.Seconds)
		}
	}
	if len(when) < 4 {
		return nil
	}
	begin, gap := stat.LinearRegression(number, when, nil, false)
	for i, n := range number {
		if math.Abs(when[i]-begin-gap*n) > notRegular*gap {
			return nil
		}
	}
	var of []point
	var values []float64
	for _, s := range all {
		k := int(math.Round((s.Seconds - begin) / gap))
		if k < 0 || k >= len(beats) || !steady[k] {
			continue
		}
		values = append(values, s.Value)
		if x := (s.Seconds-begin)/gap - float64(k); math.Abs(x) < aboutTop {
			of = append(of, point{x, s.Value, beats[k].Face - 1})
		}
	}
	if len(of) < foldLeast {
		return nil
	}
	// The needle falls to about as low after each pulse, however high it was.
	base := share(values, bottom)
	for i := range of {
		of[i].value -= base
	}
	faces := fold(of)
	for i := range faces {
		faces[i] += base
	}
	return faces
}

// steadyTurns reports which pulses are of an engine that turns as fast as it does most of the time: as high as their face usually is.
func steadyTurns(beats []trace.Beat) []bool {
	var heights [4][]float64
	for _, b := range beats {
		if b.Whole {
			heights[b.Face] = append(heights[b.Face], b.Value)
		}
	}
	out := make([]bool, len(beats))
	for i, b := range beats {
		out[i] = b.Whole && b.Face > 0 && math.Abs(b.Value/middle(heights[b.Face])-1) < notSteady
	}
	return out
}

// point is a sight on a pulse: when, seen from its top in times between two, and of which face.
type point struct {
	x, value float64
	face     int
}

// fold lays one form through the pulses of all three faces, each as high as it is: v = height (1 + b x + c x² + d x³ + e x⁴), by least
// squares of heights and form in turn.
func fold(of []point) []float64 {
	var heights [3]float64
	form := make([]float64, 4)
	at := func(x float64) float64 { return 1 + x*(form[0]+x*(form[1]+x*(form[2]+x*form[3]))) }
	for range foldRounds {
		var sum, squares [3]float64
		for _, p := range of {
			g := at(p.x)
			sum[p.face], squares[p.face] = sum[p.face]+p.value*g, squares[p.face]+g*g
		}
		a, y := mat.NewDense(len(of), len(form), nil), mat.NewVecDense(len(of), nil)
		for f := range heights {
			if squares[f] == 0 || sum[f] <= 0 {
				return nil
			}
			heights[f] = sum[f] / squares[f]
		}
		for i, p := range of {
			h, x := heights[p.face], p.x
			a.SetRow(i, []float64{h * x, h * x * x, h * x * x * x, h * x * x * x * x})
			y.SetVec(i, p.value-h)
		}
		var better mat.VecDense
		if better.SolveVec(a, y) != nil {
			return nil
		}
		copy(form, better.RawVector().Data)
	}
	top, seen := 0.0, 0.0
	for x := -aboutTop; x <= aboutTop; x += 0.01 {
		top = max(top, at(x))
	}
	for _, p := range of {
		seen = max(seen, at(p.x))
	}
	if top > mostUnseen*seen { // every turn shows the same part of the pulse, and the top is in none
		return nil
	}
	return []float64{heights[0] * top, heights[1] * top, heights[2] * top}
}
