package judge

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat"

	"braxel/internal/core/log"
)

// due projects each changed cylinder to the limit of its duty, and says when to test next.
func (h *history) due(out *Session, s log.Session, bad []int) {
	if s.Meter == nil {
		return
	}
	for _, c := range out.Cylinders {
		p := point{at: *s.Meter}
		if c.LeakChange != nil {
			p.leak = math.Max(0, *c.LeakChange)
		}
		if c.ChangePct != nil {
			p.loss = math.Max(0, -*c.ChangePct)
		}
		h.points[c.Cylinder] = append(h.points[c.Cylinder], p)
	}
	limit := dutyOf(h.log.Engine).leakAct
	for _, c := range bad {
		early, late, ok := project(h.points[c], limit)
		if !ok || late <= *s.Meter || out.Of(c).State != Watch {
			continue // the limit is behind it already: there is nothing to wait for
		}
		if out.Due == nil || early < out.Due.ByMeter {
			out.Due = &Due{ByMeter: math.Max(early, *s.Meter), Late: late,
				Why: fmt.Sprintf("at this pace cylinder %d leaks %.0f points more between %.0f and %.0f %s", c, limit, math.Max(early, *s.Meter), late, h.log.Engine.MeterUnit)}
		}
	}
}

// project fits a line through the last leaks of a cylinder that grows worse and returns the interval (90 %) of the meter
// at which it meets the limit; false where there are not enough tests to tell.
func project(p []point, limit float64) (early, late float64, ok bool) {
	const most = 6
	if len(p) > most {
		p = p[len(p)-most:]
	}
	const few = 4
	if len(p) < few {
		return 0, 0, false
	}
	var x, y []float64
	for _, q := range p {
		x, y = append(x, q.at), append(y, q.leak)
	}
	a, b := stat.LinearRegression(x, y, nil, false)
	if !(b > 0) {
		return 0, 0, false
	}
	sum := 0.0
	for i := range x {
		d := y[i] - a - b*x[i]
		sum += d * d
	}
	mean, sd := stat.MeanStdDev(x, nil)
	residual := math.Max(math.Sqrt(sum/float64(len(x)-2)), 0.6)
	const t90 = 2.13 // Student's, four degrees of freedom
	slope := t90 * residual / (sd * math.Sqrt(float64(len(x)-1)))
	level := a + b*mean
	if !(sd > 0) || b <= slope || level >= limit {
		return 0, 0, false
	}
	return mean + (limit-level)/(b+slope), mean + (limit-level)/(b-slope), true
}
