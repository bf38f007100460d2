package dial

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/optimize"
)

// ring is a circle of the dial as the picture has it: an ellipse of half-axes a and a times flat, the shorter one turned by lean rad.
type ring struct {
	x, y, a, flat, lean float64
}

// at returns the point of the ring that is at an angle of the dial (rad), as far out as out of its radii. The angle is 0 to the right
// where the dial is seen from in front.
func (r ring) at(angle, out float64) (float64, float64) {
	x, y := r.squeeze(math.Cos(angle), math.Sin(angle))
	return r.x + r.a*out*x, r.y + r.a*out*y
}

// squeeze makes a direction of the dial one of the picture.
func (r ring) squeeze(x, y float64) (float64, float64) {
	sin, cos := math.Sincos(r.lean)
	along := (x*cos + y*sin) * (1 - r.flat)
	return x - along*cos, y - along*sin
}

// stretch makes a direction of the picture one of the dial.
func (r ring) stretch(x, y float64) (float64, float64) {
	sin, cos := math.Sincos(r.lean)
	along := (x*cos + y*sin) * (1/r.flat - 1)
	return x + along*cos, y + along*sin
}

// Where the rim of a dial is looked for, in radii of the marks, and how flat it may look: from 45° aside.
const (
	rimFrom  = 0.95
	rimTo    = 2.05
	flattest = 0.70
	rimRays  = 120
	lensAway = 6.0 // radii: about as far as a phone is held
	rimTries = 12
)

// findRim finds the edge of the dial's face, or of its case, about the taps, and how clear it is: the ellipse along which the picture changes most. Every
// circle of a dial that is seen from aside looks as flat, so any does.
func findRim(p plane, cx, cy, radius float64) (ring, float64) {
	soft := p.smooth(1)
	// By how much the grey changes outwards, by direction and distance from the tap: what is looked for lies along it.
	steps := int((rimTo - rimFrom) * radius / 0.5)
	slope := func(x, y, nx, ny float64) float64 {
		if !p.has(x+2*nx, y+2*ny) {
			return 0
		}
		return soft.at(x+1.5*nx, y+1.5*ny) - soft.at(x-1.5*nx, y-1.5*ny)
	}
	var size []float64
	for j := range rimRays {
		sin, cos := math.Sincos(2 * math.Pi * float64(j) / rimRays)
		for k := 0; k < steps; k += 3 {
			r := rimFrom*radius + 0.5*float64(k)
			size = append(size, math.Abs(slope(cx+r*cos, cy+r*sin, cos, sin)))
		}
	}
	slices.Sort(size)
	most := size[len(size)*93/100] + 1
	edge := func(r ring, sign float64) float64 {
		sum := 0.0
		for j := range rimRays {
			angle := 2 * math.Pi * float64(j) / rimRays
			x, y := r.at(angle, 1)
			nx, ny := r.stretch(math.Cos(angle), math.Sin(angle))
			n := math.Hypot(nx, ny)
			sum += min(max(sign*slope(x, y, nx/n, ny/n), -most), most)
		}
		return sum / rimRays / most
	}
	type start struct {
		r    ring
		sign float64
		v    float64
	}
	var all []start
	for a := rimFrom * radius; a < rimTo*radius; a += 1.5 {
		for _, flat := range []float64{1, 0.94, 0.86, 0.78} {
			for lean := range 6 {
				if flat == 1 && lean > 0 {
					break
				}
				// From near by, the half that is nearer looks larger, so that its middle is beside the axis.
				sin, cos := math.Sincos(math.Pi / 6 * float64(lean))
				aside := math.Sqrt(1-flat*flat) * a / lensAway
				for _, d := range []float64{0, aside, -aside} {
					r := ring{cx + d*cos, cy + d*sin, a, flat, math.Pi / 6 * float64(lean)}
					for _, sign := range []float64{1, -1} {
						all = append(all, start{r, sign, edge(r, sign)})
					}
					if flat == 1 {
						break
					}
				}
			}
		}
	}
	slices.SortFunc(all, func(a, b start) int { return cmp.Compare(b.v, a.v) })
	best, value := ring{cx, cy, radius * 1.2, 1, 0}, 0.0
	for _, s := range all[:min(rimTries, len(all))] {
		one, v := climb(s.r, cx, cy, radius, func(r ring) float64 { return edge(r, s.sign) })
		if v > value {
			best, value = one, v
		}
	}
	return best, value
}

// axis returns where the needle's axis is: between a tap on it and the middle of the rim. Across the slant that is the dial's own; along
// it perspective moves it, as far as a lens is likely to be away. Of a rim that isn't seen clearly the slant isn't known.
func (r ring) axis(x, y, clear float64) (float64, float64) {
	const tap, rim = 0.03, 0.012 // radii that they are off by
	dx, dy := r.x-x, r.y-y
	if clear < leastRim || math.Hypot(dx, dy) > 0.2*r.a {
		return x, y
	}
	if clear < clearRim {
		return x + dx/2, y + dy/2
	}
	sin, cos := math.Sincos(r.lean)
	part := func(sd float64) float64 { return tap * tap / (tap*tap + sd*sd) }
	along := (dx*cos + dy*sin) * part(rim+math.Sqrt(1-r.flat*r.flat)/lensAway)
	across := (dy*cos - dx*sin) * part(rim)
	return x + along*cos - across*sin, y + along*sin + across*cos
}

// How far off the axis may be then, radii, one standard deviation.
const (
	axisGuess  = 0.04
	clearGuess = 0.03
)

// How much of an edge there must be along a rim, of the steepest that the picture has: for it to count at all, and to leave no doubt.
const (
	leastRim = 0.35
	clearRim = 0.85
)

// climb betters a ring. Flat and lean go as the two parts of a double angle, which know no seam.
func climb(r ring, cx, cy, radius float64, edge func(ring) float64) (ring, float64) {
	unit := radius / 10
	ringOf := func(x []float64) ring {
		bend := math.Hypot(x[3], x[4]) / 10
		return ring{cx + x[0]*unit, cy + x[1]*unit, x[2] * unit, max(1-bend, 0.5), math.Atan2(x[4], x[3]) / 2}
	}
	cost := func(x []float64) float64 {
		one := ringOf(x)
		if one.a < 0.8*radius || one.flat < flattest {
			return 1
		}
		off := math.Hypot(x[0], x[1])
		return -edge(one) + 0.004*off*off
	}
	sin, cos := math.Sincos(2 * r.lean)
	x := []float64{(r.x - cx) / unit, (r.y - cy) / unit, r.a / unit, 10 * (1 - r.flat) * cos, 10 * (1 - r.flat) * sin}
	got, err := optimize.Minimize(optimize.Problem{Func: cost}, x,
		&optimize.Settings{FuncEvaluations: 260}, &optimize.NelderMead{SimplexSize: 0.4})
	if got == nil || err != nil && got.X == nil {
		return r, 0
	}
	return ringOf(got.X), -got.F
}
