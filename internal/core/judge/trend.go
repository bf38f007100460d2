package judge

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// point is how far a cylinder had gone at one reading of the meter: points of leak and percent of compression, each with
// its standard error; 0 where it was not read.
type point struct {
	at, leak, leakSE, loss, lossSE float64
	date                           string
	listened                       bool // somebody listened where its air came out
}

// points are how far the cylinders had gone, visit by visit.
type points [][]gone

// gone is how far one cylinder had gone at a visit.
type gone struct {
	cylinder int
	point
}

// of returns the points of one cylinder, in order.
func (all points) of(cylinder int) []point {
	var out []point
	for _, visit := range all {
		for _, one := range visit {
			if one.cylinder == cylinder {
				out = append(out, one.point)
			}
		}
	}
	return out
}

// lastOf returns how far one cylinder had gone at the last visit, false where it was not read then.
func (all points) lastOf(cylinder int) (point, bool) {
	if len(all) > 0 {
		for _, one := range all[len(all)-1] {
			if one.cylinder == cylinder {
				return one.point, true
			}
		}
	}
	return point{}, false
}

// noted returns how far each cylinder has gone with one visit more, for its pace and its trend. The baseline's own error is left out: it
// shifts all points alike.
func noted(before points, out Session, s log.Session, now map[int]figure, d change) points {
	visit := make([]gone, 0, len(out.Cylinders))
	for _, c := range out.Cylinders {
		p := point{at: math.NaN(), date: s.Date, listened: now[c.Cylinder].paths != nil}
		if s.Meter != nil {
			p.at = *s.Meter
		}
		if c.LeakChange != nil {
			p.leak, p.leakSE = *c.LeakChange, math.Hypot(now[c.Cylinder].leakSE, rules.LeakVisit*d.of(c.Cylinder).Expected)
		}
		if c.ChangePct != nil {
			p.loss, p.lossSE = -*c.ChangePct, 100*now[c.Cylinder].se
		}
		visit = append(visit, gone{c.Cylinder, p})
	}
	return add(before, visit)
}

// pace says whether a loss came at once or little by little, from its sizes test by test, where three tests can tell.
func pace(sizes []float64) []string {
	n := len(sizes)
	if n < rules.PaceFew {
		return nil
	}
	now, step, begun := sizes[n-1], 0.0, 0
	for i, size := range sizes {
		if i > 0 {
			step = math.Max(step, size-sizes[i-1])
		}
		if size > rules.PaceBegun*now {
			begun++
		}
	}
	switch {
	case step >= rules.PaceSudden*now:
		return []string{"sudden"}
	case begun >= rules.PaceFew && step <= rules.PaceGradual*now:
		return []string{"gradual"}
	}
	return nil
}

// paceOf is the pace of a cylinder, in points of leak and percent of compression together.
func paceOf(points []point) []string {
	var sizes []float64
	for _, p := range points[max(0, len(points)-rules.PaceTests):] {
		sizes = append(sizes, math.Max(0, p.leak)+math.Max(0, p.loss))
	}
	if len(sizes) == 0 || sizes[len(sizes)-1] < rules.PaceSmall {
		return nil
	}
	return pace(sizes)
}

// z90 bounds a normal quantity's middle nine tenths.
const z90 = 1.645

// trend is a line through how far a cylinder had gone since the trouble began, weighted by what the tests can tell.
type trend struct {
	now, since         float64 // the meter at the last test, and at the first of the trend
	at, level, levelSE float64 // the line's own middle
	slope, slopeSE     float64
}

// trendOf fits a trend; it is false where there are not enough tests, or no pace that could be told from none.
func trendOf(p []point, size func(point) (float64, float64)) (trend, bool) {
	var x, y, w []float64
	for i := len(p) - 1; i >= 0; i-- {
		v, se := size(p[i])
		if se == 0 || math.IsNaN(p[i].at) || (len(x) > 0 && p[i].at >= x[len(x)-1]) {
			continue
		}
		x, y, w = append(x, p[i].at), append(y, v), append(w, 1/(se*se))
		if v < rules.TrendBegun*se {
			break // it had not begun before
		}
	}
	if len(x) < rules.TrendFew {
		return trend{}, false
	}
	a, b := stat.LinearRegression(x, y, w, false)
	mean, weight, spread := stat.Mean(x, w), 0.0, 0.0
	for i := range x {
		weight += w[i]
		spread += w[i] * (x[i] - mean) * (x[i] - mean)
	}
	t := trend{x[0], x[len(x)-1], mean, a + b*mean, 1 / math.Sqrt(weight), b, 1 / math.Sqrt(spread)}
	return t, b > z90*t.slopeSE
}

// line returns the trend at a reading of the meter, z standard errors above it.
func (t trend) line(at, z float64) float64 {
	return t.level + t.slope*(at-t.at) + z*math.Hypot(t.levelSE, t.slopeSE*(at-t.at))
}

// crossing returns the interval (90 %) of the meter in which a cylinder meets the limit; late is infinite where it may
// never. It is false where there are not enough tests to tell.
func crossing(p []point, size func(point) (float64, float64), limit float64) (early, late float64, ok bool) {
	t, ok := trendOf(p, size)
	if !ok {
		return 0, 0, false
	}
	return meets(t.line, t.now, z90, limit), meets(t.line, t.now, -z90, limit), true
}

// meets returns where the line with its doubt first reaches the limit, from now on; infinity where it does not within a
// hundred times its history.
func meets(line func(at, z float64) float64, now, z, limit float64) float64 {
	if line(now, z) >= limit {
		return now
	}
	step := 1.0
	for ; line(now+step, z) < limit; step *= 2 {
		if step > 1e6 {
			return math.Inf(1)
		}
	}
	low, high := now, now+step
	for range 50 {
		if middle := (low + high) / 2; line(middle, z) < limit {
			low = middle
		} else {
			high = middle
		}
	}
	return high
}

// add returns a list with one more; what is appended here is not seen by who goes on from the same past.
func add[T any](all []T, one T) []T { return append(slices.Clip(all), one) }
