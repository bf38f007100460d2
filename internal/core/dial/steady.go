package dial

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"
)

// steady lays each picture over the first one, whatever the hand did and however the light changed: moved, turned, nearer or farther,
// brighter or darker. By least squares on the grey of the dots that have the steepest edges, about as B. D. Lucas and T. Kanade
// described it (An iterative image registration technique, 1981), with the light as in S. Baker and I. Matthews, Lucas-Kanade 20 years
// on (2004), and with little weight for dots that do not fit, where the needle or a hand is.
type steady struct {
	cx, cy float64
	radius float64
	first  plane
	dots   []dot
	coarse []dot
	now    pose
}

// dot is a dot of the first picture, with what its grey changes by for each part of a pose.
type dot struct {
	x, y float64 // from the centre
	v    float64
	by   [poseParts]float64
}

// pose says how a picture lies over the first: moved by dx and dy dots, turned by turn rad, larger by grow, and its grey times gain plus
// offset is the first one's. One that is seen from another side is longer one way than the other, by wide and, at 45° to it, by lean.
type pose struct{ dx, dy, grow, turn, gain, offset, wide, lean float64 }

const (
	poseParts = 8
	handParts = 6 // of them change while a hand holds the camera
)

// to returns where a point of the first picture, seen from the centre, is in the other.
func (p pose) to(cx, cy, x, y float64) (float64, float64) {
	return cx + p.dx + (1+p.grow+p.wide)*x + (p.lean-p.turn)*y, cy + p.dy + (p.lean+p.turn)*x + (1+p.grow-p.wide)*y
}

// from returns which point of the first picture, seen from the centre, is at a place of the other.
func (p pose) from(cx, cy, x, y float64) (float64, float64) {
	x, y = x-cx-p.dx, y-cy-p.dy
	a, b := 1+p.grow+p.wide, p.lean-p.turn
	c, d := p.lean+p.turn, 1+p.grow-p.wide
	det := a*d - b*c
	return (d*x - b*y) / det, (a*y - c*x) / det
}

const (
	mostDots  = 2600 // more does not lie better
	fewDots   = 60   // fewer cannot say how it lies
	lieRounds = 12
	lieDone   = 0.01 // dots
)

// newSteady takes the first picture. Radius is where the marks stand; the needle's own place counts for less, as edges farther out do
// not move with it.
func newSteady(first plane, cx, cy, radius float64) *steady {
	s := &steady{cx: cx, cy: cy, radius: radius, first: first, now: pose{gain: 1}}
	s.dots = dotsOf(first.smooth(1), cx, cy, radius)
	s.coarse = dotsOf(first.smooth(3), cx, cy, radius)
	return s
}

func dotsOf(p plane, cx, cy, radius float64) []dot {
	type steep struct {
		x, y   int
		dx, dy float64
	}
	var all []steep
	for y := 2; y < p.h-2; y++ {
		for x := 2; x < p.w-2; x++ {
			far := math.Hypot(float64(x)-cx, float64(y)-cy) / radius
			if far < 0.5 || far > 1.9 {
				continue
			}
			k := y*p.w + x
			all = append(all, steep{x, y, float64(p.v[k+1]-p.v[k-1]) / 2, float64(p.v[k+p.w]-p.v[k-p.w]) / 2})
		}
	}
	slices.SortFunc(all, func(a, b steep) int {
		return cmp.Compare(b.dx*b.dx+b.dy*b.dy, a.dx*a.dx+a.dy*a.dy)
	})
	// Every other of the steepest: enough, and from all of the dial.
	var out []dot
	for i := 0; i < len(all) && len(out) < mostDots; i += 1 + len(all)/(4*mostDots) {
		a := all[i]
		x, y := float64(a.x)-cx, float64(a.y)-cy
		v := float64(p.v[a.y*p.w+a.x])
		out = append(out, dot{x, y, v, [poseParts]float64{
			a.dx, a.dy, a.dx*x + a.dy*y, a.dy*x - a.dx*y, v, 1, a.dx*x - a.dy*y, a.dx*y + a.dy*x,
		}})
	}
	return out
}

// lay returns how a picture lies over the first, and what share of the dots fit; it begins where the one before lay.
func (s *steady) lay(p plane) (pose, float64) {
	if len(s.dots) < fewDots {
		return pose{gain: 1}, 1
	}
	fine := p.smooth(1)
	best, fits := s.descend(s.dots, fine, s.now, handParts)
	if fits < 0.6 { // it moved far, or is lost: by what is seen from afar, from where the last one lay and from where the first did
		blurred := p.smooth(3)
		for _, from := range []pose{s.now, {gain: s.now.gain, offset: s.now.offset}} {
			again, _ := s.descend(s.coarse, blurred, from, handParts)
			if again, ok := s.descend(s.dots, fine, again, handParts); ok > fits {
				best, fits = again, ok
			}
		}
	}
	if fits > 0.4 {
		s.now = best
	}
	return best, fits
}

// descend betters as many parts of a pose as are free.
func (s *steady) descend(dots []dot, p plane, at pose, free int) (pose, float64) {
	rest := make([]float64, len(dots))
	some := make([]float64, 0, len(dots)/5+1)
	fits := 0.0
	for round := range lieRounds {
		some = some[:0]
		for i, d := range dots {
			x, y := at.to(s.cx, s.cy, d.x, d.y)
			rest[i] = d.v - at.gain*p.at(x, y) - at.offset
			if i%5 == 0 {
				some = append(some, math.Abs(rest[i]))
			}
		}
		spread := 1.4826*middle(some) + 0.3
		h, g := make([]float64, free*free), make([]float64, free)
		inside := 0.0
		for i, d := range dots {
			e := rest[i] / (4.7 * spread)
			if e*e >= 1 {
				continue
			}
			w := (1 - e*e) * (1 - e*e)
			inside++
			for a := range free {
				g[a] += w * d.by[a] * rest[i]
				for b := a; b < free; b++ {
					h[free*a+b] += w * d.by[a] * d.by[b]
				}
			}
		}
		fits = inside / float64(len(dots)) * min(1, 25/spread)
		// A hand's zoom and turn are small: they are held back a little, so that a few dots can't run away with them.
		h[2*free+2] *= 1 + 1e-4
		for a := range free {
			k := a*free + a
			h[k] += 1e-9*h[k] + 1e-12
		}
		var step mat.VecDense
		var chol mat.Cholesky
		if !chol.Factorize(mat.NewSymDense(free, h)) || chol.SolveVecTo(&step, mat.NewVecDense(free, g)) != nil {
			return at, 0
		}
		at.dx, at.dy = at.dx+step.AtVec(0), at.dy+step.AtVec(1)
		at.grow, at.turn = at.grow+step.AtVec(2), at.turn+step.AtVec(3)
		at.gain, at.offset = at.gain+step.AtVec(4)*at.gain, at.offset+step.AtVec(5)
		if free == poseParts {
			at.wide, at.lean = at.wide+step.AtVec(6), at.lean+step.AtVec(7)
		}
		if at.gain < 0.02 || at.gain > 50 || math.Abs(at.grow) > 0.5 || math.IsNaN(at.dx) {
			return pose{gain: 1}, 0
		}
		if round > 1 && math.Abs(step.AtVec(0))+math.Abs(step.AtVec(1)) < lieDone {
			break
		}
	}
	return at, fits
}
