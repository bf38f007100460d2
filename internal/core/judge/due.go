package judge

import (
	"math"
	"slices"
	"time"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// due says when to test again: by the trend of a cylinder that is on its way to a limit, else by the engine's duty.
// Where something is to be mended or repeated first, there is no date.
func due(on *subject, known past, out *Session, s log.Session, d change, bad []int) {
	first := d.first
	if out.State.Severity() > Watch.Severity() || out.State == Retest || (first && out.State == Watch) {
		return
	}
	if s.Stage == "pre-install" && out.State == Steady {
		out.Due = &Due{ByDate: addMonths(s.Date, rules.AfterFirstRun), Why: say.Text("judge.due-after-first-run")}
		return
	}
	by, months, who := on.shop.TestedEvery(on.engine)
	due := Due{Why: say.Text("judge.due-by-meter-or-date",
		"who", who,
		"meter", meter(on.engine, by),
		"months", months,
	)}
	if by == 0 {
		due.Why = say.Text("judge.due-by-date", "who", who, "months", months)
	}
	if out.State == Watch {
		by, months = by/rules.WatchedSooner, max(1, months/rules.WatchedSooner)
		due.Why = say.Text("judge.due-sooner")
	}
	if s.Meter != nil && by > 0 {
		due.ByMeter = of(*s.Meter + by)
	}
	due.ByDate = addMonths(s.Date, months)
	for _, c := range bad {
		if project(on, known, out.Of(c), s, &due) {
			break
		}
	}
	if due.ByMeter != nil && due.ByDate != "" {
		due.ByDate = min(due.ByDate, dateAt(known.visits, s, *due.ByMeter))
	}
	out.Due = &due
}

// project puts the interval in which a cylinder meets its limit into due, where its tests can tell.
func project(on *subject, known past, c Cylinder, s log.Session, due *Due) bool {
	if s.Meter == nil {
		return false
	}
	p := known.points.of(c.Cylinder)
	at, what := on.limit.LeakAct, "judge.on-its-way-leak"
	size := func(q point) (float64, float64) { return q.leak, q.leakSE }
	if c.LeakChange == nil {
		at, what, size = on.limit.LossAct, "judge.on-its-way-loss", func(q point) (float64, float64) { return q.loss, q.lossSE }
	}
	early, late, ok := crossing(p, size, at)
	if !ok || late <= *s.Meter {
		return false
	}
	due.ByMeter = &early
	due.Why = say.Text(what, "cylinder", on.called(c.Cylinder), "limit", at, "between", between(on.engine, early, late))
	switch {
	case early <= *s.Meter:
		// Within the measuring it is there already: that is no interval to wait for.
		early = *s.Meter
		due.Why = say.Text("judge.may-be-there", "called", on.called(c.Cylinder))
	case !math.IsInf(late, 1):
		due.Late = &late
		if due.LateDate = dateAt(known.visits, s, late); due.LateDate == never {
			due.LateDate = ""
		}
	}
	return true
}

func between(e log.Engine, early, late float64) string {
	if math.IsInf(late, 1) {
		return say.Text("judge.from-on", "meter", meter(e, early))
	}
	return say.Text("judge.between-and", "early", early, "meter", meter(e, late))
}

// meter writes a figure of the engine's meter.
func meter(e log.Engine, v float64) string {
	unit := e.MeterUnit
	if unit == "" {
		unit = say.Text("judge.on-the-meter")
	}
	return say.Rounded(v, 0) + " " + unit
}

// fans gives each cylinder that is losing compression, test by test, its fan.
func fans(known past, out *Session, bad []int) {
	for i := range out.Cylinders {
		c := &out.Cylinders[i]
		if !slices.Contains(bad, c.Cylinder) || c.ChangePct == nil {
			continue
		}
		t, ok := trendOf(known.points.of(c.Cylinder), func(q point) (float64, float64) { return q.loss, q.lossSE })
		if !ok || len(known.visits) == 0 || t.now < known.visits[len(known.visits)-1].meter {
			continue
		}
		ahead := t.now + (t.now - t.since)
		c.Fan = &Fan{t.now, -t.line(t.now, 0), ahead, -t.line(ahead, z90), -t.line(ahead, -z90)}
	}
}

// dateAt returns the date at which the meter will stand at a figure, at the pace of the last tests; far off where it does
// not run.
func dateAt(all []visit, s log.Session, meter float64) string {
	const last = 6
	v := all[max(0, len(all)-last):]
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
