package dial

import (
	"image"
	"math"
	"slices"

	"braxel/internal/core/say"
)

// Film reads pictures of a dial, one after the other.
type Film struct {
	Marks   Marks
	Rolling bool // it has no end: the oldest pictures are forgotten

	taps   tapped
	win    window
	bounds image.Rectangle
	hold   *steady
	rim    ring
	clear  float64 // how clearly it is seen, 0 to 1
	cx, cy float64 // the tap on the axis
	ax, ay float64 // where the needle's axis is taken to be
	roll   *unroll

	all   []polar
	times []float64
	fits  []float64
	poses []pose
	gone  int // pictures that were forgotten

	sum    plane // of pictures laid over the first, for its ticks
	count  float64
	stride int

	hand   *hand
	learnt int // of how many pictures
	scaled scale
	round  ring     // as the ticks have it
	path   []seenAt // of all pictures, once they were read
}

// What a film may be.
const (
	Most      = 3600 // pictures: a minute at 60 a second
	meanOf    = 40   // pictures, at least, of which the mean is made
	leastFits = 0.35 // of the dots of a picture, for it to lie over the first
)

// Errors of films.
var (
	ErrPart     = say.Error("dial.only-part-of-dial-in-picture")
	ErrNoNeedle = say.Error("dial.no-needle-seen")
	ErrSize     = say.Error("dial.picture-other-size")
	ErrEmpty    = say.Error("dial.no-pictures")
	ErrLong     = say.Error("dial.film-too-long", "most", Most)
)

// Begin takes the first picture with its marks.
func Begin(first *image.Gray, m Marks) (*Film, error) {
	b := first.Bounds()
	taps, err := m.read(b.Dx(), b.Dy())
	if err != nil {
		return nil, err
	}
	f := &Film{Marks: m, taps: taps, bounds: b}
	f.win = windowOf(m.Centre[0], m.Centre[1], taps.radius, b)
	if f.win.w/f.win.by < 40 || f.win.h/f.win.by < 40 {
		return nil, ErrPart
	}
	p := f.win.of(first)
	f.cx, f.cy = f.win.in(m.Centre[0], m.Centre[1])
	radius := taps.radius / float64(f.win.by)
	if f.partly(p, radius) {
		return nil, ErrPart
	}
	f.hold = newSteady(p, f.cx, f.cy, radius)
	f.rim, f.clear = findRim(p, f.cx, f.cy, radius)
	f.ax, f.ay = f.rim.axis(f.cx, f.cy, f.clear)
	axis := f.rim
	axis.x, axis.y = f.ax, f.ay
	f.roll = newUnroll(axis, f.cx, f.cy, p)
	f.sum, f.stride = newPlane(p.w, p.h), 3
	return f, nil
}

// partly reports whether so much of the dial is outside the picture that its needle can't be followed.
func (f *Film) partly(p plane, radius float64) bool {
	const n = 72
	gone := 0
	for i := range n {
		angle := 2 * math.Pi / n * float64(i)
		if !p.has(f.cx+0.6*radius*math.Cos(angle), f.cy+0.6*radius*math.Sin(angle)) {
			gone++
		}
	}
	return gone > n/5
}

// Add takes the next picture, the first one too.
func (f *Film) Add(seconds float64, g *image.Gray) error {
	if g.Bounds() != f.bounds {
		return ErrSize
	}
	if len(f.all) >= Most {
		if !f.Rolling {
			return ErrLong
		}
		f.forget(Most / 2)
	}
	p := f.win.of(g)
	at, fits := f.hold.lay(p)
	f.all = append(f.all, f.roll.of(p, at))
	f.times, f.fits, f.poses = append(f.times, seconds), append(f.fits, fits), append(f.poses, at)
	// The mean takes pictures from all of the film, fewer as it gets longer.
	if f.count >= 2*meanOf {
		f.stride, f.count = 2*f.stride, meanOf
		for i := range f.sum.v {
			f.sum.v[i] /= 2
		}
	}
	if (len(f.all)-1)%f.stride == 0 && fits > leastFits {
		f.average(p, at)
	}
	return nil
}

// forget leaves out the first pictures.
func (f *Film) forget(n int) {
	f.all, f.times = slices.Delete(f.all, 0, n), slices.Delete(f.times, 0, n)
	f.fits, f.poses = slices.Delete(f.fits, 0, n), slices.Delete(f.poses, 0, n)
	f.gone += n
}

// average adds a picture, laid over the first, to the mean of them.
func (f *Film) average(p plane, at pose) {
	f.count++
	for y := range p.h {
		for x := range p.w {
			px, py := at.to(f.cx, f.cy, float64(x)-f.cx, float64(y)-f.cy)
			f.sum.v[y*p.w+x] += float32(at.gain*p.at(px, py) + at.offset)
		}
	}
}

// Read says what the needle showed in each picture.
func (f *Film) Read() ([]Sight, error) {
	if len(f.all) == 0 {
		return nil, ErrEmpty
	}
	if len(f.path) != len(f.all) {
		f.hand = nil
		if err := f.learn(); err != nil {
			return nil, err
		}
		f.path = f.follow(f.hand, f.some(len(f.all)))
	}
	return f.sights(f.path, 0), nil
}

// learn learns the needle and lays the scale, from all pictures so far.
func (f *Film) learn() error {
	where, dark, seen := f.first()
	if seen < leastSeen(len(f.all)) {
		return ErrNoNeedle
	}
	h := &hand{dark: dark, guess: axisGuess, allowed: f.allowed()}
	if f.clear > clearRim {
		h.guess = clearGuess
	}
	h.face = bare(f.all, where)
	if !h.learn(f.all, where, true) {
		return ErrNoNeedle
	}
	// Once more, with what the first look at some of the pictures found.
	some := f.some(learnOf)
	where = where[:0]
	var polars []polar
	for i, s := range f.follow(h, some) {
		at := math.NaN()
		if s.share > 0.6 && s.sweep <= 14 {
			at = s.at
		}
		where, polars = append(where, at), append(polars, f.all[some[i]])
	}
	h.face = bare(polars, where)
	if !h.learn(polars, where, true) {
		return ErrNoNeedle
	}
	// While somebody looks on, a scale that lies well about the same axis is not laid anew.
	const moved = 0.012 // radii
	lies := f.hand != nil && f.scaled.doubt <= tickDoubt && math.Hypot(h.ex-f.hand.ex, h.ey-f.hand.ey) < moved
	f.hand, f.learnt = h, len(f.all)
	if !lies {
		f.scaled, f.round = f.lay(h)
	}
	return nil
}

// Glance says what the needle shows in the pictures from one on, while more come. What it looks like is learnt anew each time there are
// twice as many.
func (f *Film) Glance(from int) ([]Sight, error) {
	from -= f.gone
	if len(f.all) >= max(leastLearnt, 2*f.learnt) && len(f.all) <= mostLearnt || f.hand == nil && len(f.all) >= leastLearnt {
		if err := f.learn(); err != nil && f.hand == nil {
			return nil, err
		}
	}
	if f.hand == nil || from >= len(f.all) {
		return nil, nil
	}
	var of []int
	for i := max(from, 0); i < len(f.all); i++ {
		of = append(of, i)
	}
	return f.sights(f.follow(f.hand, of), of[0]), nil
}

// leastLearnt and mostLearnt are of how many pictures a needle is learnt while it is looked at.
const (
	leastLearnt = 5
	mostLearnt  = 400
)

// Doubt returns what a figure may be off by for the scale and the taps, one standard deviation, in the unit of the marks.
func (f *Film) Doubt() float64 {
	if f.scaled.slope == 0 {
		return 0
	}
	return math.Hypot(f.scaled.doubt, readingDoubt) / math.Abs(f.scaled.slope)
}

// readingDoubt is what a needle that stands is read to, degrees: found on films whose truth is known.
const readingDoubt = 0.35

// Pictures returns how many there are so far.
func (f *Film) Pictures() int { return f.gone + len(f.all) }

// learnOf is of how many pictures the needle's form is learnt.
const learnOf = 300

// some returns so many of the pictures at most, from all of the film.
func (f *Film) some(most int) []int {
	var out []int
	step := max(1, (len(f.all)+most-1)/most)
	for i := 0; i < len(f.all); i += step {
		out = append(out, i)
	}
	return out
}

// first finds the needle by its form alone, in all pictures; that it is dark or bright is told by some.
func (f *Film) first() (where []float64, dark bool, seen int) {
	allowed := f.allowed()
	best := -1.0
	for _, ink := range []bool{true, false} {
		total := 0.0
		for _, i := range f.some(40) {
			_, v := lineIn(f.all[i], ink, allowed)
			total += v
		}
		if total > best {
			best, dark = total, ink
		}
	}
	for _, p := range f.all {
		at, v := lineIn(p, dark, allowed)
		if v > 0 {
			seen++
		}
		where = append(where, at)
	}
	return where, dark, seen
}

// lineIn returns where the clearest line of a picture is, and how clear; NaN and 0 where there is none.
func lineIn(p polar, dark bool, allowed []bool) (at, value float64) {
	score := lineness(p, dark, clearOf(p))
	for k := range score {
		if !allowed[k] {
			score[k] = 0
		}
	}
	top := peaks(score, 1, 16)
	if len(top) == 0 || top[0].value < leastLine {
		return math.NaN(), 0
	}
	return top[0].at, top[0].value
}

// leastLine is the share of a radius that has to stand out for a needle.
const leastLine = 0.62

// leastSeen is in how many pictures a needle has to be seen by its form alone.
func leastSeen(pictures int) int { return max(1, pictures/12) }

// allowed are the columns on which the scale may be: not in the middle of the gap between its end and its beginning.
func (f *Film) allowed() []bool {
	out := make([]bool, columns)
	last := 0.0
	for _, p := range f.Marks.Points {
		last = max(last, math.Abs(f.taps.slope)*(p.Value-f.Marks.Points[0].Value))
	}
	low := f.Marks.Points[0].Value
	for i := range out {
		x, y := f.rim.squeeze(math.Cos(2*math.Pi*float64(i)/columns), math.Sin(2*math.Pi*float64(i)/columns))
		along := wrap(math.Atan2(y, x)*180/math.Pi-f.taps.from-f.taps.slope*low) * math.Copysign(1, f.taps.slope)
		if along < -deadTurn {
			along += 360
		}
		out[i] = along < max(last+12, 345-deadTurn)
	}
	return out
}

// follow finds the needle in every picture: the way through the places where it may be that agrees best with the pictures and turns no
// more than it must.
func (f *Film) follow(h *hand, of []int) []seenAt {
	n := len(of)
	all := make([][]candidate, n)
	fine, plain := make([][]float64, n), make([][]float64, n)
	for i, k := range of {
		var d []float64
		all[i], d = h.find(f.all[k])
		for _, c := range all[i] {
			at, seen := h.fine(d, c.at)
			if c.sweep > 7 {
				at, seen = c.at, 0
			}
			fine[i], plain[i] = append(fine[i], at), append(plain[i], seen)
		}
	}
	cost := make([][]float64, n)
	from := make([][]int, n)
	for i := range n {
		cost[i], from[i] = make([]float64, len(all[i])), make([]int, len(all[i]))
		for k, c := range all[i] {
			own := 2 - 1.5*min(c.raw, 1) - 0.5*min(c.share, 1)
			best, which := math.Inf(1), -1
			if i > 0 {
				for j, b := range all[i-1] {
					if v := cost[i-1][j] + 0.2*min(around(b.at, c.at)/90, 1); v < best {
						best, which = v, j
					}
				}
			}
			if which < 0 {
				best = 0
			}
			cost[i][k], from[i][k] = own+best, which
		}
	}
	out := make([]seenAt, n)
	k := -1
	for i := n - 1; i >= 0; i-- {
		out[i] = seenAt{at: math.NaN()}
		if k < 0 || k >= len(all[i]) {
			k = -1
			for j := range cost[i] {
				if k < 0 || cost[i][j] < cost[i][k] {
					k = j
				}
			}
		}
		if k < 0 {
			continue
		}
		c := all[i][k]
		out[i] = seenAt{at: fine[i][k], share: min(c.share, 1.3), sweep: c.sweep, plain: plain[i][k]}
		for j, o := range all[i] {
			if j != k && around(o.at, c.at) > 24+float64(o.sweep+c.sweep)/2 {
				out[i].other = max(out[i].other, o.raw)
			}
		}
		k = from[i][k]
	}
	return out
}

// lay lays the scale of the dial through its ticks. A rim that is not seen clearly may have been taken for flatter than it is, so a rounder
// dial is tried, too: the one whose ticks stand better where figures are is right.
func (f *Film) lay(h *hand) (scale, ring) {
	mean := newPlane(f.sum.w, f.sum.h)
	for i, v := range f.sum.v {
		mean.v[i] = v / float32(max(f.count, 1))
	}
	radius := f.taps.radius / float64(f.win.by)
	slip, slant := max(1.6, 2/radius*180/math.Pi), slantOff
	if f.clear > clearRim {
		slant = slantOfRims
	}
	var best scale
	var of ring
	top := math.Inf(-1)
	for _, c := range f.centres(h) {
		r := f.rim
		r.flat = c.flat
		angles := make([]float64, len(f.Marks.Points))
		for i, p := range f.Marks.Points {
			x, y := f.win.in(p.At[0], p.At[1])
			x, y = r.stretch(x-c.x, y-c.y)
			angles[i] = math.Atan2(y, x) * 180 / math.Pi
		}
		far := radius / r.a
		one, v := layScale(beltOf(mean, r, c.x, c.y, 0.88*far, min(0.985, 1.62*far)), fingersOf(angles, f.Marks.Points, slip, slant))
		if v -= c.less; v > top {
			best, of, top = one, r, v
		}
	}
	return best, of
}

// axis returns where a needle's axis is in the first picture.
func (f *Film) axis(h *hand) (x, y float64) {
	dx, dy := f.rim.squeeze(h.ex, h.ey)
	return f.ax + f.rim.a*dx, f.ay + f.rim.a*dy
}

// centre is a place about which a scale may lie, on a dial that looks so flat, and by how much its ticks have to stand better.
type centre struct{ x, y, flat, less float64 }

// centres are where the scale may lie: about the axis that the needle shows, which on a dial seen from aside stands beside that of the
// face, and about the face's own; a rim that isn't seen clearly may be rounder than it was taken for.
func (f *Film) centres(h *hand) []centre {
	const apart, rounder = 0.015, 0.3 // radii; points of ticks
	ax, ay := f.axis(h)
	all := []centre{{ax, ay, f.rim.flat, 0}}
	if f.clear > clearRim {
		if math.Hypot(ax-f.ax, ay-f.ay) > apart*f.rim.a {
			all = append(all, centre{f.ax, f.ay, f.rim.flat, 0})
		}
		return all
	}
	for _, flat := range []float64{(1 + f.rim.flat) / 2, 1} {
		if all[len(all)-1].flat < 0.98 {
			all = append(all, centre{ax, ay, flat, rounder})
		}
	}
	return all
}

// sights puts a path, from one picture on, into figures.
func (f *Film) sights(path []seenAt, from int) []Sight {
	out := make([]Sight, 0, len(path))
	ax, ay := f.axis(f.hand)
	ax, ay = ax-f.cx, ay-f.cy
	for i, p := range path {
		if math.IsNaN(p.at) || f.fits[from+i] < leastFits {
			continue
		}
		x, y := f.rim.squeeze(math.Cos(2*math.Pi*p.at/columns), math.Sin(2*math.Pi*p.at/columns))
		u, v := f.round.stretch(x, y)
		one := Sight{
			Seconds: f.times[from+i],
			Value:   f.scaled.value(math.Atan2(v, u) * 180 / math.Pi),
			Sweep:   math.Abs(float64(p.sweep) / 2 * 360 / columns / f.scaled.slope),
			Sure:    sure(p),
		}
		if !f.scaled.known(one.Value) {
			one.Sure = min(one.Sure, glimpsed)
		}
		// The needle in the picture itself, wherever the hand has moved it.
		at := f.poses[from+i]
		one.From = f.inPicture(at, ax, ay)
		one.To = f.inPicture(at, ax+bodyEnd*f.rim.a*x, ay+bodyEnd*f.rim.a*y)
		out = append(out, one)
	}
	return out
}

// Pointed returns what a needle says that points through a place of one of the pictures, in its dots: where somebody laid it. The picture
// is the one at a time, or the nearest to it; false where nothing was learnt of the dial as yet.
func (f *Film) Pointed(seconds float64, at [2]float64) (float64, bool) {
	if f.hand == nil {
		return 0, false
	}
	near := 0
	for i, t := range f.times {
		if math.Abs(t-seconds) < math.Abs(f.times[near]-seconds) {
			near = i
		}
	}
	x, y := f.win.in(at[0], at[1])
	x, y = f.poses[near].from(f.cx, f.cy, x, y)
	ax, ay := f.axis(f.hand)
	u, v := f.round.stretch(x+f.cx-ax, y+f.cy-ay)
	return f.scaled.value(math.Atan2(v, u) * 180 / math.Pi), true
}

// inPicture returns where a point of the first picture, seen from the tap, is in another, in its dots.
func (f *Film) inPicture(at pose, x, y float64) [2]float64 {
	px, py := at.to(f.cx, f.cy, x, y)
	px, py = f.win.out(px, py)
	return [2]float64{px, py}
}

// sure says how sure a place is: by how much of a needle is there. Glare or a hand may hide a part of it, if the rest is seen plainly.
func sure(p seenAt) float64 {
	s := max(min((p.share-0.35)/0.4, 1), min((p.plain-0.35)/0.2, 1), 0)
	s *= min(max((p.share-p.other-0.05)/0.25, 0), 1)
	return math.Round(100*s) / 100
}
