package dial

import (
	"image"
	"math"
)

// plane is a grey picture with room for parts of a grey.
type plane struct {
	w, h int
	v    []float32
}

func newPlane(w, h int) plane { return plane{w, h, make([]float32, w*h)} }

// at returns the grey between the dots about a point, of the nearest dot outside the picture.
func (p plane) at(x, y float64) float64 {
	x, y = min(max(x, 0), float64(p.w)-1.001), min(max(y, 0), float64(p.h)-1.001)
	i, j := int(x), int(y)
	fx, fy := float32(x-float64(i)), float32(y-float64(j))
	k := j*p.w + i
	top := p.v[k] + fx*(p.v[k+1]-p.v[k])
	low := p.v[k+p.w] + fx*(p.v[k+p.w+1]-p.v[k+p.w])
	return float64(top + fy*(low-top))
}

// has reports whether a point is in the picture.
func (p plane) has(x, y float64) bool {
	return x >= 0 && y >= 0 && x <= float64(p.w-1) && y <= float64(p.h-1)
}

// smooth returns the plane as running means of 2 r + 1 dots each way leave it.
func (p plane) smooth(r int) plane {
	across, out := newPlane(p.w, p.h), newPlane(p.w, p.h)
	for y := range p.h {
		running(p.v[y*p.w:], across.v[y*p.w:], p.w, 1, r)
	}
	for x := range p.w {
		running(across.v[x:], out.v[x:], p.h, p.w, r)
	}
	return out
}

// running writes the running means of n values that stand step apart.
func running(from, to []float32, n, step, r int) {
	var sum float32
	count := 0
	for i := -r; i < n; i++ {
		if in := i + r; in < n {
			sum, count = sum+from[in*step], count+1
		}
		if gone := i - r - 1; gone >= 0 {
			sum, count = sum-from[gone*step], count-1
		}
		if i >= 0 {
			to[i*step] = sum / float32(count)
		}
	}
}

// window is the part of a picture that is looked at, shrunk by a whole number.
type window struct {
	x0, y0, w, h int // in dots of the picture
	by           int
}

// windowOf returns the square about a dial of which marks stand at a radius, shrunk so that a film of any size takes the same time: the
// marks stand at some ninety dots.
func windowOf(cx, cy, radius float64, bounds image.Rectangle) window {
	by := max(1, int(math.Round(radius/80)))
	half := 2.1 * radius
	x0, y0 := max(bounds.Min.X, int(cx-half)), max(bounds.Min.Y, int(cy-half))
	x1, y1 := min(bounds.Max.X, int(cx+half)+1), min(bounds.Max.Y, int(cy+half)+1)
	return window{x0, y0, (x1 - x0) / by * by, (y1 - y0) / by * by, by}
}

// of cuts the window out of a picture.
func (w window) of(g *image.Gray) plane {
	out := newPlane(w.w/w.by, w.h/w.by)
	part := 1 / float32(w.by*w.by)
	for y := range out.h {
		for dy := range w.by {
			row := g.Pix[g.PixOffset(w.x0, w.y0+y*w.by+dy):]
			to := out.v[y*out.w : (y+1)*out.w]
			for x := range to {
				var s int
				for dx := range w.by {
					s += int(row[x*w.by+dx])
				}
				to[x] += float32(s) * part
			}
		}
	}
	return out
}

// in turns a point of the picture into one of the window, out the other way.
func (w window) in(x, y float64) (float64, float64) {
	k := float64(w.by)
	return (x-float64(w.x0)+0.5)/k - 0.5, (y-float64(w.y0)+0.5)/k - 0.5
}

func (w window) out(x, y float64) (float64, float64) {
	k := float64(w.by)
	return (x+0.5)*k - 0.5 + float64(w.x0), (y+0.5)*k - 0.5 + float64(w.y0)
}
