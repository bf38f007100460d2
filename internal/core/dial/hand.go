package dial

import (
	"math"

	"gonum.org/v1/gonum/floats"
)

// hand is what is known of a needle once it was seen: its form, and where its axis is.
type hand struct {
	dark    bool
	face    []float64 // the bare face, rows × columns
	guess   float64   // radii that the axis that was begun with may be off, one standard deviation
	allowed []bool    // columns on which it may be
	weight  []float64 // of each row: how much it says
	depth   []float64 // of each row: how much the needle stands out there, greys
	ex, ey  float64   // of its axis from the polar's middle, in radii of the rim
	forms   []form
	full    float64 // what a needle in full view comes to
}

// form is the needle as it looks when it sweeps over so many columns while the lens is open, its squares together 1.
type form struct {
	sweep int
	v     []float64 // from -reach to reach
	full  float64   // what the needle in full view comes to with it
	half  float64   // columns to each side that it covers
}

const (
	reach      = 50 // columns to each side
	standStill = 2.0
)

var sweeps = []int{0, 7, 14, 26, 44, 66} // columns

// seenAt is where the needle is in a picture.
type seenAt struct {
	at    float64 // column, NaN where it is not seen
	share float64 // of a needle in full view
	other float64 // the share of the next best place
	plain float64 // share of its length that is seen plainly, each part where all of them point
	sweep int
}

// stands returns by how much a picture differs from the bare face where a needle would.
func (h *hand) stands(p polar) []float64 {
	d := make([]float64, rows*columns)
	for i := range d {
		d[i] = h.face[i] - float64(p[i])
		if !h.dark {
			d[i] = -d[i]
		}
	}
	return d
}

// off returns by how many columns the needle is beside its direction at a row, since its axis is not the middle.
func (h *hand) off(col float64, row int) float64 {
	sin, cos := math.Sincos(2 * math.Pi * col / columns)
	return (h.ey*cos - h.ex*sin) / out(row) * columns / (2 * math.Pi)
}

// profile sums what stands out along each direction.
func (h *hand) profile(d []float64) []float64 {
	p := make([]float64, columns)
	sin, cos := make([]float64, columns), make([]float64, columns)
	for i := range columns {
		sin[i], cos[i] = math.Sincos(2 * math.Pi * float64(i) / columns)
	}
	for row := range rows {
		w := h.weight[row]
		if w == 0 {
			continue
		}
		k := columns / (2 * math.Pi) / out(row)
		one := make([]float64, columns)
		for i, v := range d[row*columns : (row+1)*columns] {
			// What is in front of the needle hides it there; it is no needle less.
			one[i] = min(max(v/h.depth[row], -0.35), 1.4)
		}
		for i := range columns {
			at := float64(i) + (h.ey*cos[i]-h.ex*sin[i])*k + columns
			j := int(at)
			f := at - float64(j)
			p[i] += w * (one[j%columns]*(1-f) + one[(j+1)%columns]*f)
		}
	}
	// Light that changed over all of the face is no needle.
	floats.AddConst(-middle(p), p)
	return p
}

// learn makes the form of the needle out of pictures in which it stands, the middle one of them at each place: a hand before some of them
// does not count. False says that it stands in none.
func (h *hand) learn(all []polar, where []float64, again bool) bool {
	still := standing(where)
	if len(still) == 0 {
		return false
	}
	step := max(1, len(still)/60)
	var lines []axisSight
	var stood [][]float64
	for n := 0; n < len(still); n += step {
		d := h.stands(all[still[n]])
		if l := sightOf(d, where[still[n]]); !math.IsNaN(l.angle) {
			stood, lines = append(stood, d), append(lines, l)
		}
	}
	if len(lines) == 0 {
		return false
	}
	h.ex, h.ey = axisOf(lines, h.guess)
	at := make([]float64, len(lines))
	for n, l := range lines {
		at[n] = h.direction(l)
	}
	depth, back := h.depthAt(stood, at, 0), h.depthAt(stood, at, columns/2)
	if again && length(back) > length(depth)+2 { // it was the tail
		turned := make([]float64, len(where))
		for i, w := range where {
			turned[i] = w + columns/2
		}
		return h.learn(all, turned, false)
	}
	h.weigh(depth)
	h.form(stood, at)
	return true
}

// direction returns where a needle points whose line was seen, in columns: the line's place at its middle, by the axis that all lines have.
func (h *hand) direction(l axisSight) float64 {
	const middleOut = 2.6 // the mean of 1/out where a line is looked at
	sin, cos := math.Sincos(l.angle)
	return (l.angle + (l.beside-(h.ey*cos-h.ex*sin))*middleOut) * columns / (2 * math.Pi)
}

// depthAt returns how much stands out at each row of where the needles are, so many columns on: the middle one of all.
func (h *hand) depthAt(stood [][]float64, at []float64, on float64) []float64 {
	deep := make([]float64, rows)
	for row := range rows {
		one := make([]float64, len(stood))
		for n, d := range stood {
			one[n] = valueAt(d[row*columns:(row+1)*columns], at[n]+on+h.off(at[n]+on, row))
		}
		deep[row] = middle(one)
	}
	return deep
}

// weigh says how much each row counts: those that the needle covers, beyond where a tail may reach more.
func (h *hand) weigh(depth []float64) {
	h.depth, h.weight = depth, make([]float64, rows)
	most := max(share(depth[rowAt(hubEnd):rowAt(bodyEnd)+1], 0.6), 1e-9)
	for row := rowAt(hubEnd); row < rows; row++ {
		if depth[row] > 0.2*most {
			h.weight[row] = min(2*depth[row]/most, 1)
		}
		if row > rowAt(tailEnd) {
			h.weight[row] *= 1.5
		}
	}
	floats.Scale(1/max(floats.Sum(h.weight), 1e-9), h.weight)
}

// form makes the form of the needle of pictures in which it stands.
func (h *hand) form(stood [][]float64, at []float64) {
	profiles := make([][]float64, len(stood))
	for n, d := range stood {
		profiles[n] = h.profile(d)
	}
	mean := make([]float64, 2*reach+1)
	for k := range mean {
		one := make([]float64, len(profiles))
		for n, p := range profiles {
			one[n] = valueAt(p, at[n]+float64(k-reach))
		}
		mean[k] = middle(one)
	}
	// A needle looks alike from both sides; what it does not cover does not belong to it.
	high := mean[reach]
	for k := range reach + 1 {
		v := (mean[reach-k] + mean[reach+k]) / 2
		if v < 0.04*high || k > 0 && mean[reach+k-1] == 0 {
			v = 0
		}
		mean[reach-k], mean[reach+k] = v, v
	}
	floats.Scale(1/max(floats.Norm(mean, 2), 1e-9), mean)
	h.forms = nil
	for _, sweep := range sweeps {
		v := swept(mean, sweep)
		n := max(floats.Norm(v, 2), 1e-9)
		floats.Scale(1/n, v)
		half := 0.0
		for k, one := range v {
			if one > 0.1*v[reach] {
				half = max(half, math.Abs(float64(k-reach)))
			}
		}
		h.forms = append(h.forms, form{sweep, v, n, half})
	}
	fulls := make([]float64, len(profiles))
	for n, p := range profiles {
		fulls[n] = h.match(p, 0, at[n])
	}
	h.full = max(share(fulls, 0.6), 1e-9)
}

// length returns how many rows a needle stands out on, of what stands out beside its hub.
func length(depth []float64) int {
	most := floats.Max(depth[rowAt(hubEnd):])
	n := 0
	for _, d := range depth[rowAt(hubEnd):] {
		if d > 0.3*most {
			n++
		}
	}
	return n
}

// swept is a form as it looks after a sweep of so many columns: as much of it, over a wider place.
func swept(v []float64, sweep int) []float64 {
	to := make([]float64, len(v))
	half := sweep / 2
	for i := range v {
		for j := max(0, i-half); j <= min(len(v)-1, i+half); j++ {
			to[i] += v[j] / float64(2*half+1)
		}
	}
	return to
}

// match returns what a form comes to at a place of a profile.
func (h *hand) match(p []float64, form int, at float64) float64 {
	sum := 0.0
	for k, w := range h.forms[form].v {
		if w != 0 {
			sum += w * valueAt(p, at+float64(k-reach))
		}
	}
	return sum
}

// standing returns the pictures in which the needle stands: where it was in the one before and after, too.
func standing(where []float64) []int {
	var still, any []int
	for i, at := range where {
		if math.IsNaN(at) {
			continue
		}
		any = append(any, i)
		before, after := where[max(0, i-1)], where[min(len(where)-1, i+1)]
		if around(at, before) < standStill && around(at, after) < standStill {
			still = append(still, i)
		}
	}
	if len(still) == 0 {
		return any
	}
	return still
}

// valueAt returns what a row that goes round has between its columns.
func valueAt(v []float64, at float64) float64 {
	n := len(v)
	at -= float64(n) * math.Floor(at/float64(n))
	j := int(at) % n
	f := at - math.Floor(at)
	return v[j]*(1-f) + v[(j+1)%n]*f
}

// axisSight is the needle as a line: its direction, and by how much the line passes beside the middle, both in rad at a radius of 1.
type axisSight struct{ angle, beside float64 }

// sightOf lays a line through the needle of a picture: first through its outer part, where an axis that is off matters little, then
// through all of it, each row looked at where the line so far says.
func sightOf(d []float64, at float64) axisSight {
	const k = 2 * math.Pi / columns
	line := axisSight{angle: at * k}
	for _, from := range []float64{0.42, 0.30, hubEnd} {
		var a, b, c, ya, yb float64 // of least squares for angle + beside / out
		for row := rowAt(from) + 1; row <= rowAt(bodyEnd); row++ {
			f := 1 / out(row)
			want := (line.angle + line.beside*f) / k
			m, s := centroid(d[row*columns:(row+1)*columns], want, min(22, int(0.09*f/k)))
			if s == 0 {
				continue
			}
			m += line.beside * f / k
			a, b, c = a+1, b+f, c+f*f
			ya, yb = ya+m, yb+m*f
		}
		// Its own place is known better than what a line of a few rows says beside it.
		c += 0.5
		det := a*c - b*b
		if a < 4 || det < 1e-6*a*c {
			return axisSight{math.NaN(), 0}
		}
		line.angle, line.beside = at*k+(c*ya-b*yb)/det*k, (a*yb-b*ya)/det*k
		at = line.angle / k
	}
	return line
}

// centroid returns by how many columns the middle of what stands out is beside a column, and how much stands out.
func centroid(one []float64, at float64, half int) (off, sum float64) {
	for range 2 {
		moment, weight := 0.0, 0.0
		high := 0.0
		for k := -half; k <= half; k++ {
			high = max(high, valueAt(one, at+off+float64(k)))
		}
		for k := -half; k <= half; k++ {
			if v := valueAt(one, at+off+float64(k)) - 0.35*high; v > 0 {
				moment, weight = moment+v*float64(k), weight+v
			}
		}
		if weight <= 0 || high < 8 {
			return 0, 0
		}
		off += moment / weight
		sum = weight
	}
	return off, sum
}

// axisOf finds the axis by the lines of needles that pointed everywhere: those of one direction count as one, and the guess of it, which
// is off by so many radii, holds it where no needle says more.
func axisOf(lines []axisSight, guess float64) (ex, ey float64) {
	const sight = 0.008 // radii: what a line says of the axis
	bins := map[int][]float64{}
	angles := map[int]float64{}
	for _, l := range lines {
		k := int(l.angle / (2 * math.Pi) * 60)
		bins[k], angles[k] = append(bins[k], l.beside), l.angle
	}
	a, b, c := 1/(guess*guess), 0.0, 1/(guess*guess)
	var yx, yy float64
	for k, all := range bins {
		sin, cos := math.Sincos(angles[k])
		w := 1 / (sight * sight)
		m := middle(all)
		if math.Abs(m) > 0.12 {
			continue
		}
		a, b, c = a+w*sin*sin, b-w*sin*cos, c+w*cos*cos
		yx, yy = yx-w*sin*m, yy+w*cos*m
	}
	det := a*c - b*b
	return (c*yx - b*yy) / det, (a*yy - b*yx) / det
}

// find looks for the needle in a picture.
func (h *hand) find(p polar) ([]candidate, []float64) {
	d := h.stands(p)
	profile := h.profile(d)
	best := make([]float64, columns)
	which := make([]int, columns)
	for f, one := range h.forms {
		// The form is smooth: every other column of it will do.
		for at := range columns {
			if !h.allowed[at] {
				continue
			}
			sum := 0.0
			for k := 0; k < len(one.v); k += 2 {
				sum += one.v[k] * profile[(at+k-reach+columns)%columns]
			}
			if sum *= 2; sum*(1-0.03*float64(f)) > best[at] {
				best[at], which[at] = sum, f
			}
		}
	}
	var out []candidate
	for _, q := range peaks(best, 4, 16) {
		f := which[int(math.Round(q.at))%columns]
		alone := h.alone(profile, q.at, f)
		// More than a needle that sweeps so far can hide is something else before the dial.
		if over := q.value/h.full/h.forms[f].full - mostShare; over > 0 {
			alone *= max(1-3*over, 0)
		}
		out = append(out, candidate{
			at: q.at, sweep: h.forms[f].sweep, share: alone * q.value / h.full / h.forms[f].full, raw: alone * q.value / h.full,
		})
	}
	return out, d
}

// alone says how much of what stands out at a place is there only and not beside it, 0 to 1: a hand's edge, or a hand, is no needle.
func (h *hand) alone(profile []float64, at float64, f int) float64 {
	const gap, wide = 5.0, 18.0 // columns
	half := h.forms[f].half
	mean := func(from, to float64) float64 {
		sum, n := 0.0, 0.0
		for a := from; a <= to; a++ {
			sum, n = sum+valueAt(profile, at+a), n+1
		}
		return sum / n
	}
	here := mean(-half/2, half/2)
	if here <= 0 {
		return 0
	}
	beside := max(mean(half+gap, half+gap+wide), mean(-half-gap-wide, -half-gap))
	return min(max((0.9-beside/here)/0.5, 0), 1)
}

// mostShare is how much of a needle in full view another picture of it may come to.
const mostShare = 1.2

// candidate is a place where the needle may be.
type candidate struct {
	at    float64
	sweep int
	share float64 // of a needle in full view that sweeps as much
	raw   float64 // of a needle in full view that stands
}

// fine returns where a needle that stands is, from the middle of what stands out at each row: the middle one of those; and the share of
// its length that is seen plainly there.
func (h *hand) fine(d []float64, at float64) (fine, plain float64) {
	type sight struct{ at, weight, part float64 }
	var all []sight
	var places []float64
	whole := 0.0
	for row, weight := range h.weight {
		if weight == 0 {
			continue
		}
		whole += weight
		beside := h.off(at, row)
		half := min(22, int(0.10/out(row)*columns/(2*math.Pi)))
		one := d[row*columns : (row+1)*columns]
		if m, s := centroid(one, at+beside, half); s > 0 {
			all = append(all, sight{m, weight, valueAt(one, at+beside+m) / max(h.depth[row], 1)})
			places = append(places, m)
		}
	}
	m := middle(places)
	sum, n := 0.0, 0.0
	for _, one := range all {
		if math.Abs(one.at-m) > 3 {
			continue
		}
		sum, n = sum+one.at, n+1
		if one.part > plainly {
			plain += one.weight / whole
		}
	}
	if len(all) < 6 || n < 0.5*float64(len(all)) || math.Abs(sum/n) > 8 {
		return at, 0
	}
	return at + sum/n, plain
}

// plainly is the share of how much a needle in full view stands out, from which on a part of it is seen plainly.
const plainly = 0.5
