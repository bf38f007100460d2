package judge

import (
	"fmt"
	"math"
	"slices"
	"time"

	"gonum.org/v1/gonum/stat"

	"braxel/internal/core/belief"
	"braxel/internal/core/log"
	"braxel/internal/core/plan"
)

// Due is when to test again: by the meter and by the date, whichever comes first. Where a cylinder is on its way to a
// limit, it is the early end of the interval in which it will meet it, and Late the other end.
type Due struct {
	ByMeter  *float64 `json:"by_meter,omitempty"`
	Late     *float64 `json:"late_meter,omitempty"`
	ByDate   string   `json:"by_date,omitzero" format:"date"`
	LateDate string   `json:"late_date,omitzero" format:"date"`
	Why      string   `json:"why"`
}

// due says when to test again: by the trend of a cylinder that is on its way to a limit, else by the engine's duty.
// Where something is to be mended or repeated first, there is no date.
func (h *history) due(out *Session, s log.Session, d change, bad []int) {
	first := d.first
	if out.State.Severity() > Watch.Severity() || out.State == Retest || (first && out.State == Watch) {
		return
	}
	if s.Stage == "pre-install" && out.State == Steady {
		out.Due = &Due{ByDate: addMonths(s.Date, 1), Why: "a fresh build is tested again after its first running"}
		return
	}
	by, months, who := plan.For(h.log.Engine)
	due := Due{Why: fmt.Sprintf("%s is tested again after %s, or %d months", who, h.meter(by), months)}
	if by == 0 {
		due.Why = fmt.Sprintf("%s is tested again after %d months", who, months)
	}
	if out.State == Watch {
		by, months = by/3, max(1, months/3)
		due.Why = "not enough tests yet to tell how fast it goes: look again at a third of the usual time"
	}
	if s.Meter != nil && by > 0 {
		due.ByMeter = of(*s.Meter + by)
	}
	due.ByDate = addMonths(s.Date, months)
	for _, c := range bad {
		if h.project(out.Of(c), s, &due) {
			break
		}
	}
	if due.ByMeter != nil && due.ByDate != "" {
		due.ByDate = min(due.ByDate, h.dateAt(s, *due.ByMeter))
	}
	out.Due = &due
}

// project puts the interval in which a cylinder meets its limit into due, where its tests can tell.
func (h *history) project(c Cylinder, s log.Session, due *Due) bool {
	if s.Meter == nil {
		return false
	}
	limit := limitsOf(h.log.Engine)
	p := h.points[c.Cylinder]
	at, what := limit.leakAct, "leaks %.0f points more"
	size := func(q point) (float64, float64) { return q.leak, q.leakSE }
	if c.LeakChange == nil {
		at, what, size = limit.lossAct, "has lost %.0f %%", func(q point) (float64, float64) { return q.loss, q.lossSE }
	}
	early, late, ok := crossing(p, size, at)
	if !ok || late <= *s.Meter {
		return false
	}
	due.ByMeter, due.Why = &early, fmt.Sprintf("at this pace cylinder %s "+what+" %s", h.called(c.Cylinder), at, h.between(early, late))
	switch {
	case early <= *s.Meter:
		// Within the measuring it is there already: that is no interval to wait for.
		early = *s.Meter
		due.Why = fmt.Sprintf("cylinder %s may have reached its limit already, within what can be told: "+
			"test it before it is loaded again", h.called(c.Cylinder))
	case !math.IsInf(late, 1):
		due.Late = &late
		if due.LateDate = h.dateAt(s, late); due.LateDate == never {
			due.LateDate = ""
		}
	}
	return true
}

func (h *history) between(early, late float64) string {
	if math.IsInf(late, 1) {
		return fmt.Sprintf("from %s on", h.meter(early))
	}
	return fmt.Sprintf("between %.0f and %s", early, h.meter(late))
}

// meter writes a figure of the engine's meter.
func (h *history) meter(v float64) string {
	unit := h.log.Engine.MeterUnit
	if unit == "" {
		unit = "on the meter"
	}
	return fmt.Sprintf("%.0f %s", v, unit)
}

// point is how far a cylinder had gone at one reading of the meter: points of leak and percent of compression, each with
// its standard error; 0 where it was not read.
type point struct{ at, leak, leakSE, loss, lossSE float64 }

// note keeps how far each cylinder has gone, for its pace and its trend. The baseline's own error is left out: it shifts
// all points alike.
func (h *history) note(out *Session, s log.Session, now map[int]figure, d change) {
	if s.Meter != nil {
		h.visits = append(h.visits, visit{*s.Meter, s.Date})
	}
	for _, c := range out.Cylinders {
		p := point{at: math.NaN()}
		if s.Meter != nil {
			p.at = *s.Meter
		}
		if c.LeakChange != nil {
			p.leak, p.leakSE = *c.LeakChange, math.Hypot(now[c.Cylinder].leakSE, belief.LeakVisit*d.of(c.Cylinder).Expected)
		}
		if c.ChangePct != nil {
			p.loss, p.lossSE = -*c.ChangePct, 100*now[c.Cylinder].se
		}
		h.points[c.Cylinder] = append(h.points[c.Cylinder], p)
	}
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
		if v < 1.5*se {
			break // it had not begun before
		}
	}
	const few = 3
	if len(x) < few {
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

// Fan is where a cylinder's compression is going: its change in percent now, and between which two it will be (90 %) when
// the meter has gone as far again as since the trouble began.
type Fan struct {
	Meter  float64 `json:"meter"`
	Change float64 `json:"change_pct"`
	Ahead  float64 `json:"ahead_meter"`
	Low    float64 `json:"low_pct"`
	High   float64 `json:"high_pct"`
}

// fans gives each cylinder that is losing compression, test by test, its fan.
func (h *history) fans(out *Session, bad []int) {
	for i := range out.Cylinders {
		c := &out.Cylinders[i]
		if !slices.Contains(bad, c.Cylinder) || c.ChangePct == nil {
			continue
		}
		t, ok := trendOf(h.points[c.Cylinder], func(q point) (float64, float64) { return q.loss, q.lossSE })
		if !ok || len(h.visits) == 0 || t.now < h.visits[len(h.visits)-1].meter {
			continue
		}
		ahead := t.now + (t.now - t.since)
		c.Fan = &Fan{t.now, -t.line(t.now, 0), ahead, -t.line(ahead, z90), -t.line(ahead, -z90)}
	}
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

// visit is a test's place in time.
type visit struct {
	meter float64
	date  string
}

// dateAt returns the date at which the meter will stand at a figure, at the pace of the last tests; far off where it does
// not run.
func (h *history) dateAt(s log.Session, meter float64) string {
	const last = 6
	v := h.visits[max(0, len(h.visits)-last):]
	first, now := v[0], v[len(v)-1]
	days := daysBetween(first.date, now.date)
	if days <= 0 || now.meter <= first.meter {
		return never
	}
	from, err := time.Parse(time.DateOnly, s.Date)
	ahead := (meter - now.meter) * days / (now.meter - first.meter)
	const tooFar = 365 * 100
	if err != nil || ahead > tooFar {
		return never
	}
	return from.AddDate(0, 0, int(math.Max(0, ahead))).Format(time.DateOnly)
}

// never is later than any date.
const never = "9999-12-31"

func daysBetween(from, to string) float64 {
	a, errA := time.Parse(time.DateOnly, from)
	b, errB := time.Parse(time.DateOnly, to)
	if errA != nil || errB != nil {
		return 0
	}
	return b.Sub(a).Hours() / 24
}

func addMonths(date string, months int) string {
	d, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return ""
	}
	return d.AddDate(0, months, 0).Format(time.DateOnly)
}

func of(v float64) *float64 { return &v }
