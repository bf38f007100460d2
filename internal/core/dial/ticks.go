package dial

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// A finger is a few dots beside what it means, which on a small dial is more than a tick. So the ticks themselves say where the scale
// is: the even scale near the taps of which most figures have a tick, the long ones there where the figures are, and none before its
// beginning. Then each tick is measured, and the scale is laid through them by least squares, with what the dial's slant and its middle
// may still be off.

// scale says what a direction of the dial means: value = (angle - from) / slope, in degrees of the dial made round, after the second
// turn of the slant was taken off.
type scale struct {
	from, slope float64
	k1, k2      float64 // degrees
	doubt       float64 // degrees, one standard deviation
	low, top    float64 // figures between which it was tapped or its ticks were seen
}

// value returns what the needle says that points along an angle of the dial, degrees.
func (s scale) value(angle float64) float64 {
	sin, cos := math.Sincos(2 * angle * math.Pi / 180)
	d := wrap(angle - s.k1*sin - s.k2*cos - s.from)
	// The scale begins at the first mark: what stands a little before it is below it, not a turn on.
	if sense := math.Copysign(1, s.slope); sense*d < -deadTurn {
		d += sense * 360
	}
	return d / s.slope
}

// known reports whether a figure is not so far beyond what was tapped or seen of the scale that a small slip there is a large one here.
func (s scale) known(value float64) bool { return value <= s.low+beyond*(s.top-s.low) }

// beyond is how far a scale is trusted, of what is known of it.
const beyond = 1.6

// deadTurn is how far before the beginning of its scale a needle may rest, degrees: on a pin, or bent.
const deadTurn = 25.0

const (
	tickColumns = 1440 // a quarter of a degree each
	tickRows    = 40
	perDegree   = tickColumns / 360.0
)

// belt is the part of the dial where its ticks are, unrolled: for each column what stands out against what is beside it, row by row.
type belt [][]float64

// beltOf unrolls the ring of ticks about an axis. Rows go from inside the marks to the rim.
func beltOf(p plane, r ring, ax, ay, from, to float64) belt {
	b := make(belt, tickRows)
	for row := range tickRows {
		far := from + (to-from)*(float64(row)+0.5)/tickRows
		line := make([]float64, tickColumns)
		for i := range line {
			x, y := r.about(ax, ay, 2*math.Pi*float64(i)/tickColumns, far)
			line[i] = p.at(x, y)
		}
		b[row] = line
	}
	return b
}

// about returns the point along an angle of the dial from an axis that is a share of the way to the rim.
func (r ring) about(ax, ay, angle, far float64) (float64, float64) {
	dx, dy := r.squeeze(math.Cos(angle), math.Sin(angle))
	// On the rim the dial's own radius, from its middle, is a.
	ox, oy := r.stretch(ax-r.x, ay-r.y)
	ux, uy := math.Cos(angle), math.Sin(angle)
	b := ox*ux + oy*uy
	c := ox*ox + oy*oy - r.a*r.a
	t := -b + math.Sqrt(max(b*b-c, 0))
	return ax + far*t*dx, ay + far*t*dy
}

// stand returns how much each place of the belt is darker (or brighter) than both its sides, clipped, the rows added up.
func (b belt) stand(dark bool, half, gap int) []float64 {
	sum := make([]float64, tickColumns)
	for _, line := range b {
		sums := make([]float64, 3*tickColumns+1)
		for i := range 3 * tickColumns {
			sums[i+1] = sums[i] + line[i%tickColumns]
		}
		one := make([]float64, tickColumns)
		for i := range one {
			one[i] = standsOut(sums, i+tickColumns, half, gap, dark)
		}
		most := max(share(one, 0.97), 1)
		for i, v := range one {
			sum[i] += min(max(v, -most), most) / most / float64(len(b))
		}
	}
	return sum
}

// comb is what stands out in a belt, by column.
type comb []float64

func (t comb) at(angle float64) float64 { return valueAt(t, angle*perDegree) }

// spans are the parts into which the figures of a scale are usually divided.
var spans = []float64{1, 2, 3, 4, 5, 6, 8, 9, 10, 12, 15, 16, 18, 20, 24, 25, 30, 36, 40, 45, 50, 60, 75, 80, 90, 100}

const (
	finest    = 2.2  // degrees between two ticks that can be told apart
	shiftMost = 11.0 // degrees that taps may be off altogether
	growMost  = 0.08
)

// fingers are the taps, in degrees of the dial made round, and by how many degrees a finger is beside what it means.
type fingers struct {
	angles    []float64
	points    []Mark
	slip      float64
	low, high float64 // the least and the greatest figure
	slant     float64 // degrees that the rim may be wrong about the slant, one standard deviation
	step      float64 // the greatest one that all figures are multiples of
}

func fingersOf(angles []float64, points []Mark, slip, slant float64) fingers {
	f := fingers{angles, points, slip, math.Inf(1), math.Inf(-1), slant, stepOf(points)}
	for _, p := range points {
		f.low, f.high = min(f.low, p.Value), max(f.high, p.Value)
	}
	return f
}

// layScale finds the scale near the taps.
func layScale(b belt, f fingers) (scale, float64) {
	from, slope, _ := even(f.angles, f.points)
	start := scale{from: from, slope: slope, doubt: f.slip / math.Sqrt(float64(len(f.points))), low: f.low, top: f.high}
	// Where on the way to the rim the ticks are, and whether they are dark or bright, is not known: every band is tried.
	best, top := start, math.Inf(-1)
	var lines []comb
	for _, ink := range []bool{true, false} {
		for from := 0; from+bandRows <= tickRows; from += bandRows / 2 {
			line := comb(b[from:from+bandRows].stand(ink, 1, 6))
			lines = append(lines, line)
			if s, v := search(line.wide(4), start, f, coarsely); v > top {
				best, top = s, v
			}
		}
	}
	// Of the bands the one in which most of the scale's divisions have their tick.
	var line comb
	most := 0
	for _, one := range lines {
		if _, v := finestOf(one.wide(3), best, f); v > most {
			line, most = one, v
		}
	}
	if line == nil {
		return start, top
	}
	best, top = search(line.wide(1), best, f, finely)
	return refine(line, best, f), top
}

// wide returns the comb with its ticks so many columns wider to each side: what a coarse search can't miss.
func (t comb) wide(by int) comb {
	out := make(comb, len(t))
	for i := range t {
		for k := i - by; k <= i+by; k++ {
			out[i] = max(out[i], t[(k+tickColumns)%tickColumns])
		}
	}
	return out
}

// bandRows are how many rows of the belt are looked at together.
const bandRows = 10

// grid is how far and how finely scales are tried: by degrees of a shift, and by parts of the slope.
type grid struct{ shift, step, grow, part float64 }

var (
	coarsely = grid{shiftMost, 0.5, growMost, 0.008}
	finely   = grid{1, 0.125, 0.012, 0.002}
)

// stepOf returns the greatest step that all figures are multiples of.
func stepOf(points []Mark) float64 {
	g := 0.0
	for _, p := range points[1:] {
		a, b := math.Abs(p.Value-points[0].Value), g
		for b > 1e-6*a && b > 1e-9 {
			a, b = b, math.Mod(a+1e-9*a, b)
			if b < 1e-4*a {
				b = 0
			}
		}
		g = a
	}
	return g
}

// search tries the scales near the taps and returns the best, and how good it is.
func search(line comb, s scale, f fingers, g grid) (scale, float64) {
	best, top := s, math.Inf(-1)
	strong := max(share(line, 0.985), 0.05)
	for grow := -g.grow; grow <= g.grow+1e-9; grow += g.part {
		for shift := -g.shift; shift <= g.shift; shift += g.step {
			one := s
			one.slope = s.slope * (1 + grow)
			// Turned about the middle of the taps, so that both can be tried on their own.
			mid := (f.low + f.high) / 2
			one.from = s.from + s.slope*mid + shift - one.slope*mid
			v := 0.0
			for i, p := range f.points {
				d := wrap(f.angles[i]-one.from-one.slope*p.Value) / f.slip
				v -= math.Log(1+d*d/3) * 0.8
			}
			v += 12 * teeth(line, one, f, strong)
			if v > top {
				best, top = one, v
			}
		}
	}
	return best, top
}

// teeth returns how well a scale's figures and their parts stand on ticks: for each division the middle of what is there; with nothing
// before the beginning.
func teeth(line comb, s scale, f fingers, strong float64) float64 {
	low, high, step := f.low, f.high, f.step
	figures, parted := 0.0, 0.0
	// What any place would have by chance.
	base := 0.0
	for a := s.from + s.slope*low; math.Abs(a-s.from-s.slope*low) < math.Abs(s.slope*(high-low)); a += math.Copysign(2.7, s.slope) {
		base += min(max(line.at(a)/strong, 0), 1) * 2.7 / math.Abs(s.slope*(high-low))
	}
	for _, parts := range spans {
		h := step / parts
		if math.Abs(h*s.slope) < finest {
			break
		}
		one, k := 0.0, 0.0
		for v := low; v <= high+1e-6*step; v += h {
			one, k = one+min(max(line.at(s.from+s.slope*v)/strong, -0.3), 1), k+1
		}
		if one /= k; parts == 1 {
			figures = one
		}
		before := 0.0
		if math.Abs(h*s.slope) < 20 {
			before = min(max(line.at(s.from+s.slope*(low-h))/strong, 0), 1)
		}
		// A division that the scale has not has few ticks, and says nothing.
		parted = max(parted, (one-base-0.15*before)*(1-1/math.Sqrt(k)))
	}
	return 0.4*figures + parted
}

// tickSight is a tick that was measured: what it means, and where it is, degrees.
type tickSight struct{ value, angle float64 }

// refine measures each tick and lays the scale through them.
func refine(line comb, s scale, f fingers) scale {
	h, _ := finestOf(line.wide(3), s, f)
	if h == 0 {
		h = f.step
	}
	all := measured(line, s, f, h)
	if len(all) < 2 {
		return s
	}
	return through(all, s, f)
}

// measured measures the ticks of a division, from the beginning of the scale on for as long as there are some.
func measured(line comb, s scale, f fingers, h float64) (all []tickSight) {
	window := min(0.42*math.Abs(h*s.slope), 3.0)
	strong := share(line, 0.985)
	top := f.high
	for v := f.low; v <= top+1e-6*f.step; v += h {
		at, much := tick(line, s.from+s.slope*v, window)
		if much < 0.25*strong {
			continue
		}
		all = append(all, tickSight{v, at})
		if v > top-1.5*h && math.Abs(s.slope)*(top+h-f.low) < mostTurn-10 {
			if _, next := tick(line, s.from+s.slope*(top+h), window); next > 0.35*strong {
				top += h
			}
		}
	}
	return all
}

// laid is a scale with what its ticks say besides: by how much their middle is beside the axis, degrees to both sides, which turns no
// needle.
type laid struct {
	scale
	x, y float64
}

// parts are what an angle is made of for a figure, each times its part of laid: the beginning, the whole of the scale, a middle that is
// off to both sides, and the two parts of the second turn that a slant leaves.
func (f fingers) parts(value, angle float64) [unknowns]float64 {
	sin, cos := math.Sincos(angle * math.Pi / 180)
	sin2, cos2 := math.Sincos(2 * angle * math.Pi / 180)
	return [unknowns]float64{1, (value - f.low) / (f.high - f.low), -sin, cos, sin2, cos2}
}

const (
	unknowns  = 6
	tickDoubt = 0.25 // degrees that a tick is measured to
	rounds    = 6
)

// How far the middle and the slant may be off, degrees, one standard deviation: a rim that is seen clearly says more of the slant.
const (
	middleOff   = 1.4
	slantOff    = 1.2
	slantOfRims = 0.4
)

func (l laid) at(parts [unknowns]float64, value float64) float64 {
	return l.from + l.slope*value + l.x*parts[2] + l.y*parts[3] + l.k1*parts[4] + l.k2*parts[5]
}

// through lays a scale through ticks and taps by least squares, those that do not fit counting less (J. W. Tukey's biweight), and what
// is expected of the middle and the slant holding them.
func through(all []tickSight, s scale, f fingers) scale {
	now := laid{scale: s}
	for round := range rounds {
		var a [unknowns * unknowns]float64
		var y [unknowns]float64
		add := func(parts [unknowns]float64, rest, weight float64) {
			for i := range unknowns {
				y[i] += weight * parts[i] * rest
				for j := range unknowns {
					a[i*unknowns+j] += weight * parts[i] * parts[j]
				}
			}
		}
		rests := make([]float64, len(all))
		sizes := make([]float64, len(all))
		for i, t := range all {
			rests[i] = wrap(t.angle - now.at(f.parts(t.value, t.angle), t.value))
			sizes[i] = math.Abs(rests[i])
		}
		spread := max(1.5*middle(sizes), tickDoubt)
		for i, t := range all {
			e := rests[i] / (3 * spread)
			w := max(1-e*e, 0)
			if round == 0 {
				w = 1
			}
			add(f.parts(t.value, t.angle), rests[i], w*w/(spread*spread))
		}
		for i, p := range f.points {
			parts := f.parts(p.Value, f.angles[i])
			rest := wrap(f.angles[i] - now.at(parts, p.Value))
			add(parts, rest, 1/(f.slip*f.slip)/(1+rest*rest/(4*f.slip*f.slip)))
		}
		held := [unknowns]float64{0, 0, now.x, now.y, now.k1, now.k2}
		// What is expected of them; nothing of the beginning and the whole.
		expected := [unknowns]float64{0, 0, middleOff, middleOff, f.slant, f.slant}
		for i, sd := range expected {
			if sd > 0 {
				a[i*unknowns+i] += 1 / (sd * sd)
				y[i] -= held[i] / (sd * sd)
			}
			a[i*unknowns+i] += 1e-9
		}
		var step mat.VecDense
		var chol mat.Cholesky
		if !chol.Factorize(mat.NewSymDense(unknowns, a[:])) || chol.SolveVecTo(&step, mat.NewVecDense(unknowns, y[:])) != nil {
			return s
		}
		grow := step.AtVec(1) / (f.high - f.low)
		now.slope += grow
		now.from += step.AtVec(0) - grow*f.low
		now.x, now.y = now.x+step.AtVec(2), now.y+step.AtVec(3)
		now.k1, now.k2 = now.k1+step.AtVec(4), now.k2+step.AtVec(5)
	}
	now.doubt = max(tickDoubt, 1.2/math.Sqrt(float64(len(all))))
	now.top = max(f.high, all[len(all)-1].value)
	return now.scale
}

// tick returns the middle of what stands out near an angle, and how much stands out.
func tick(line comb, want, window float64) (at, much float64) {
	at = want
	for d := -window; d <= window; d += 0.125 {
		if v := line.at(want + d); v > much {
			at, much = want+d, v
		}
	}
	moment, weight := 0.0, 0.0
	for d := -1.5; d <= 1.5; d += 0.125 {
		if v := line.at(at+d) - 0.4*much; v > 0 {
			moment, weight = moment+d*v, weight+v
		}
	}
	if weight > 0 {
		at += moment / weight
	}
	return at, much
}

// A division is the scale's where nearly all of its places have a tick, which chance would not give them.
const (
	isTick    = 0.28 // of what a clear tick stands out
	haveTicks = 0.72 // of the places
	byChance  = 3.0  // standard deviations
)

// finestOf returns the finest division that the scale has ticks at, and how many; 0 where none is seen.
func finestOf(line comb, s scale, f fingers) (h float64, ticks int) {
	strong := max(share(line, 0.985), 0.05)
	usual := 0.0
	for _, v := range line {
		if v > isTick*strong {
			usual += 1 / float64(len(line))
		}
	}
	for _, parts := range spans {
		one := f.step / parts
		if math.Abs(one*s.slope) < finest {
			break
		}
		hits, k := 0.0, 0.0
		for v := f.low; v <= f.high+1e-6*f.step; v += one {
			if k++; line.at(s.from+s.slope*v) > isTick*strong {
				hits++
			}
		}
		more := (hits - usual*k) / math.Sqrt(max(usual*(1-usual), 0.01)*k)
		if hits >= haveTicks*k && more > byChance {
			h, ticks = one, int(hits)
		}
	}
	return h, ticks
}
