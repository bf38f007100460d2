package dial

import (
	"cmp"
	"image"
	"math"
	"slices"

	"braxel/internal/core/say"

	"gonum.org/v1/gonum/floats"
)

// Face is a dial that was marked before: a picture of it, and the marks on it.
type Face struct {
	Picture *image.Gray
	Marks   Marks
}

// ErrOtherFace says that a dial that was marked before is not seen in a picture.
var ErrOtherFace = say.Error("dial.marked-face-not-seen")

// How a face is looked for: first roughly, in a picture of few dots, by how well it correlates there at all sizes (J. P. Lewis, Fast
// normalized cross-correlation, 1995). The likest places are then laid over it by least squares, as the pictures of a film are, but with
// a slant. Which is the right one is said by what changes along circles about its middle, ticks and figures: a rim is like any other.
const (
	roughDots  = 96 // of the picture's longer side
	fineRadius = 60.0
	leastRough = 8.0 // dots of the marks' radius in the rough picture
	sizeStep   = 1.14
	mostTurned = 60.0 // degrees: nobody holds a phone more aslant
	roughKept  = 30
	fineKept   = 6
	evenOver   = 8.0 // dots of a rough picture: light and contrast are taken to be the same within
	likeFace   = 0.46
	nearTap    = 0.4 // radii that the face's middle may be beside a tap
)

var (
	onRough = circlesOf(30, 0.45, 0.65, 0.85, 1, 1.15)
	onFace  = circlesOf(240, 0.4, 0.45, 0.5, 0.55, 0.6, 0.65, 0.7, 0.75, 0.8, 0.85, 0.9, 0.95, 1, 1.05, 1.1)
)

// In returns the marks of a face in another picture, near a tap on its middle where there is one. Which marks they are stays as it was.
func (f Face) In(g *image.Gray, tap *[2]float64) (Marks, error) {
	known, err := f.look()
	if err != nil {
		return Marks{}, err
	}
	small := wholeOf(g, roughDots)
	var all []lies
	fine := map[int]shrunk{} // by how many dots they have: places are of a few sizes
	for _, p := range known.places(small, tap) {
		dots := int(roughDots * max(1, fineRadius/p.r))
		if _, ok := fine[dots]; !ok {
			fine[dots] = wholeOf(g, dots)
		}
		all = append(all, known.laid(fine[dots], small, p))
	}
	likest := func(a, b lies) int { return cmp.Compare(b.like, a.like) }
	slices.SortFunc(all, likest)
	all = all[:min(len(all), fineKept)]
	for i := range all {
		known.better(&all[i])
	}
	slices.SortFunc(all, likest)
	if len(all) == 0 || all[0].like < likeFace {
		return Marks{}, ErrOtherFace
	}
	out := Marks{Centre: known.out(all[0], f.Marks.Centre), Unit: f.Marks.Unit}
	for _, m := range f.Marks.Points {
		out.Points = append(out.Points, Mark{known.out(all[0], m.At), m.Value})
	}
	if _, err := out.read(g.Bounds().Dx(), g.Bounds().Dy()); err != nil {
		return Marks{}, ErrOtherFace
	}
	return out, nil
}

// knownFace is a face as it is looked for.
type knownFace struct {
	*steady
	win window
	own []float64 // what it has along circles
}

func (f Face) look() (knownFace, error) {
	b := f.Picture.Bounds()
	taps, err := f.Marks.read(b.Dx(), b.Dy())
	if err != nil {
		return knownFace{}, err
	}
	win := windowOf(f.Marks.Centre[0], f.Marks.Centre[1], taps.radius, b)
	win.by = max(1, int(math.Round(taps.radius/fineRadius)))
	win.w, win.h = win.w/win.by*win.by, win.h/win.by*win.by
	face := win.of(f.Picture)
	if face.w < 40 || face.h < 40 {
		return knownFace{}, ErrOtherFace
	}
	cx, cy := win.in(f.Marks.Centre[0], f.Marks.Centre[1])
	k := knownFace{steady: newSteady(face, cx, cy, taps.radius/float64(win.by)), win: win}
	k.own = k.along(face, func(x, y float64) (float64, float64) { return cx + x, cy + y })
	return k, nil
}

// along returns what a picture has along circles of the face.
func (k knownFace) along(p plane, place func(x, y float64) (float64, float64)) []float64 {
	return p.smooth(1).evened(int(k.radius/3)).along(onFace, true, func(x, y float64) (float64, float64) {
		return place(x*k.radius, y*k.radius)
	})
}

// rough is a place where a face may be: its middle, the radius of its marks, and by how much it is turned, rad.
type rough struct{ x, y, r, turn, like float64 }

// isAlso reports whether two places are about the same.
func (p rough) isAlso(q rough) bool {
	return math.Hypot(p.x-q.x, p.y-q.y) < 0.15*p.r && math.Abs(math.Log(p.r/q.r)) < 0.1 && math.Abs(p.turn-q.turn) < math.Pi/12
}

// places returns the places of a picture that are most like the face, the likest first.
func (k knownFace) places(p shrunk, tap *[2]float64) []rough {
	even := p.evened(int(evenOver))
	var all []rough
	for r := leastRough; r < 0.62*float64(max(p.w, p.h)); r *= sizeStep {
		own := k.smaller(r)
		step := max(1, int(r/10))
		for y := 0; y < p.h; y += step {
			for x := 0; x < p.w; x += step {
				at := rough{x: float64(x), y: float64(y), r: r}
				if tap != nil {
					tx, ty := p.win.in(tap[0], tap[1])
					if math.Hypot(at.x-tx, at.y-ty) > nearTap*r {
						continue
					}
				}
				all = likest(all, own, even, at)
			}
		}
	}
	slices.SortFunc(all, func(a, b rough) int { return cmp.Compare(b.like, a.like) })
	var out []rough
	for _, one := range all {
		if len(out) == roughKept {
			break
		}
		if !slices.ContainsFunc(out, one.isAlso) {
			out = append(out, one)
		}
	}
	return out
}

// smaller returns what the face has along circles where its marks are so many dots from its axis.
func (k knownFace) smaller(r float64) []float64 {
	by := k.radius / r
	soft := k.first.smooth(int(by / 2))
	small := newPlane(int(float64(soft.w)/by), int(float64(soft.h)/by))
	for y := range small.h {
		for x := range small.w {
			small.v[y*small.w+x] = float32(soft.at((float64(x)+0.5)*by-0.5, (float64(y)+0.5)*by-0.5))
		}
	}
	cx, cy := (k.cx+0.5)/by-0.5, (k.cy+0.5)/by-0.5
	return small.evened(int(evenOver)).along(onRough, false, func(x, y float64) (float64, float64) { return cx + r*x, cy + r*y })
}

// likest adds a place, turned in the ways in which it is likest a face.
func likest(all []rough, own []float64, p plane, at rough) []rough {
	if at.x < 0.6*at.r || at.y < 0.6*at.r || at.x > float64(p.w)-0.6*at.r || at.y > float64(p.h)-0.6*at.r {
		return all
	}
	there := p.along(onRough, false, func(x, y float64) (float64, float64) { return at.x + at.r*x, at.y + at.r*y })
	n := onRough.n
	most := int(mostTurned / 360 * float64(n))
	likes := make([]float64, n)
	for i := -most; i <= most; i++ {
		turn := (i + n) % n
		for ring := 0; ring < len(own); ring += n {
			a, b := own[ring:ring+n], there[ring:ring+n]
			likes[turn] += floats.Dot(a[:n-turn], b[turn:]) + floats.Dot(a[n-turn:], b[:turn])
		}
	}
	for _, p := range peaks(likes, 2, 2) {
		at.turn, at.like = wrap(360*p.at/float64(n))*math.Pi/180, p.value
		all = append(all, at)
	}
	return all
}

// lies is a picture as it is seen if the face were where it is in its own: it lies over it by a pose.
type lies struct {
	there    plane
	x, y     float64 // of the picture, where the face's axis is
	cos, sin float64 // turned by, and larger
	shrunk   window
	pose     pose
	like     float64
}

// back returns where in the picture, made smaller, a point is that is so far from the face's axis.
func (l lies) back(dx, dy float64) (x, y float64) {
	return l.x + l.cos*dx - l.sin*dy, l.y + l.sin*dx + l.cos*dy
}

// laid lays a place over the face, as yet without a slant.
func (k knownFace) laid(fine, small shrunk, p rough) lies {
	l := lies{shrunk: fine.win}
	l.x, l.y = small.win.out(p.x, p.y)
	l.x, l.y = fine.win.in(l.x, l.y)
	grow := p.r * float64(small.win.by) / float64(fine.win.by) / k.radius
	sin, cos := math.Sincos(p.turn)
	l.cos, l.sin = grow*cos, grow*sin
	l.there = newPlane(k.first.w, k.first.h)
	for j := range l.there.h {
		for i := range l.there.w {
			l.there.v[j*l.there.w+i] = float32(fine.at(l.back(float64(i)-k.cx, float64(j)-k.cy)))
		}
	}
	l.pose, _ = k.descend(k.coarse, l.there.smooth(3), pose{gain: 1}, handParts)
	l.like = k.likeness(l)
	return l
}

// better lays it with its slant.
func (k knownFace) better(l *lies) {
	l.pose, _ = k.descend(k.coarse, l.there.smooth(3), l.pose, poseParts)
	l.pose, _ = k.descend(k.dots, l.there.smooth(1), l.pose, poseParts)
	l.like = k.likeness(*l)
}

// likeness returns how well what changes along circles correlates.
func (k knownFace) likeness(l lies) float64 {
	if math.Hypot(l.pose.wide, l.pose.lean) > 0.3 {
		return 0
	}
	return floats.Dot(k.own, k.along(l.there, func(x, y float64) (float64, float64) { return l.pose.to(k.cx, k.cy, x, y) }))
}

// out returns where a point of the face's own picture is in the other.
func (k knownFace) out(l lies, at [2]float64) [2]float64 {
	x, y := k.win.in(at[0], at[1])
	x, y = l.pose.to(k.cx, k.cy, x-k.cx, y-k.cy)
	x, y = l.back(x-k.cx, y-k.cy)
	x, y = l.shrunk.out(x, y)
	return [2]float64{x, y}
}

// shrunk is all of a picture, made smaller.
type shrunk struct {
	plane
	win window
}

// wholeOf returns a picture with about so many dots to its longer side.
func wholeOf(g *image.Gray, dots int) shrunk {
	b := g.Bounds()
	by := max(1, int(math.Round(float64(max(b.Dx(), b.Dy()))/float64(dots))))
	win := window{b.Min.X, b.Min.Y, b.Dx() / by * by, b.Dy() / by * by, by}
	return shrunk{win.of(g), win}
}

// circles are points of a dial on circles about its axis, in radii of its marks: n on each.
type circles struct {
	n  int
	at [][2]float64
}

func circlesOf(n int, radii ...float64) (c circles) {
	c.n = n
	for _, far := range radii {
		for i := range n {
			sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(n))
			c.at = append(c.at, [2]float64{far * cos, far * sin})
		}
	}
	return c
}

// along returns what is along circles, with a mean of 0 and the squares together 1. Of each circle by itself that is what says how the
// dial is turned; of all together also where its rim is. Place tells where in the picture a point is.
func (p plane) along(c circles, each bool, place func(x, y float64) (float64, float64)) []float64 {
	out := make([]float64, len(c.at))
	for i, d := range c.at {
		out[i] = p.at(place(d[0], d[1]))
	}
	part := len(out)
	if each {
		part = c.n
	}
	for from := 0; from < len(out); from += part {
		one := out[from : from+part]
		floats.AddConst(-floats.Sum(one)/float64(part), one)
	}
	floats.Scale(1/max(floats.Norm(out, 2), 1e-9), out)
	return out
}

// evened returns a plane in which light and contrast are the same everywhere.
func (p plane) evened(r int) plane {
	const leastSpread = 20.0 // greys, squared: less is noise
	mean := p.smooth(r)
	out := newPlane(p.w, p.h)
	for i, v := range p.v {
		out.v[i] = (v - mean.v[i]) * (v - mean.v[i])
	}
	spread := out.smooth(r)
	for i, v := range p.v {
		out.v[i] = (v - mean.v[i]) / float32(math.Sqrt(float64(spread.v[i])+leastSpread))
	}
	return out
}
