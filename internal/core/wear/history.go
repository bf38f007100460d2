package wear

import (
	"math"
	"slices"
	"time"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/story"
)

// reading is what one test read of one cylinder, brought to where two tests compare. A standard error of 0: it was not measured.
type reading struct {
	level, levelSE float64 // the logarithm of dry compression at sea level, kPa
	leak, leakSE   float64 // percent on the reference tester, and points
	again          bool    // the leak-down was repeated
	listened       bool
	heard          [rules.Places]bool // where air came out
}

// visit is one test of the present build.
type visit struct {
	at          float64 // running since the build
	fresh       float64 // how much is left of what rings do before they have bedded in: 1 before they have run
	read        []reading
	shift       float64 // what the way of testing does to compression beside the first visit, a logarithm
	shiftSD     float64
	leakShift   float64 // what it does to the area of leaks beside a hot engine, a logarithm
	leakShiftSD float64
}

// history is what is known of the present build.
type history struct {
	visits []visit
	since  []int   // by cylinder: the visit that is its baseline
	now    float64 // running since the build, at the last visit
}

// historyOf reads the tests of an engine's present build. A build that was begun after the last test has none.
func historyOf(l log.Log, shop rules.Shop, lasts float64) history {
	l = l.Standing()
	cylinders := l.Engine.Cylinders()
	h := history{since: make([]int, len(cylinders))}
	first, begun, known := presentBuild(l)
	if first < 0 {
		return h
	}
	repairs := story.Repairs(l)
	reader := judge.NewReader(l, shop)
	meters := metersOf(l, first)
	if !known {
		begun = meters[0]
	}
	var base log.Session
	last := -1
	for i, s := range l.Sessions {
		figures := reader.Next(s)
		if i < first || len(figures) == 0 || s.Open {
			continue
		}
		if last < 0 {
			base = s
			base.Conditions.EngineTemp = "hot"
		} else {
			for _, c := range story.Touched(l, repairs, last, i) {
				if k := slices.Index(cylinders, c); k >= 0 {
					h.since[k] = len(h.visits)
				}
			}
		}
		last = i
		h.visits = append(h.visits, visitOf(l, base, s, cylinders, figures, max(meters[i-first]-begun, 0), lasts))
	}
	h.thin()
	if n := len(h.visits); n > 0 {
		h.now = h.visits[n-1].at
	}
	return h
}

// thin leaves out tests of the middle where there are many: the first ones are the baseline, the last ones say how it goes on.
func (h *history) thin() {
	n := len(h.visits)
	if n <= rules.TestsMost {
		return
	}
	var kept []visit
	for v, x := range h.visits {
		if v < rules.TestsFirst || v >= n-(rules.TestsMost-rules.TestsFirst) || slices.Contains(h.since, v) {
			for k, since := range h.since {
				if since == v {
					h.since[k] = len(kept)
				}
			}
			kept = append(kept, x)
		}
	}
	h.visits = kept
}

func visitOf(l log.Log, base, s log.Session, cylinders []int, figures []judge.Figure, at, lasts float64) visit {
	prior, share, sd := judge.Prior(judge.UnlikeWays(l, base, s))
	v := visit{
		at: at, fresh: math.Exp(-at / (rules.BedsIn * lasts)), read: make([]reading, len(cylinders)),
		shift: prior.Mean, shiftSD: math.Hypot(rules.VisitSD, math.Sqrt(max(prior.SD*prior.SD-2*rules.VisitSD*rules.VisitSD, 0))),
		leakShift: math.Log1p(share), leakShiftSD: math.Hypot(rules.LeakVisit, sd),
	}
	if s.Conditions.Cold() {
		v.leakShiftSD = math.Hypot(v.leakShiftSD, rules.ColdVaries)
	}
	if s.Conditions.EngineTemp == "" {
		v.shift, v.shiftSD = v.shift+rules.TempUnsaid, math.Hypot(v.shiftSD, rules.TempUnsaidSD)
		v.leakShift, v.leakShiftSD = v.leakShift+rules.TempUnsaidLeak, math.Hypot(v.leakShiftSD, rules.TempUnsaidLeakSD)
	}
	for _, f := range figures {
		k := slices.Index(cylinders, f.Cylinder)
		if k < 0 {
			continue
		}
		r := reading{level: f.Log, levelSE: f.SE, leak: f.Leak, leakSE: f.LeakSE, again: f.Attempts > 1, listened: f.Paths != nil}
		for _, p := range f.Paths {
			if place, ok := places[p.Where]; ok {
				r.heard[place] = true
			}
		}
		v.read[k] = r
	}
	return v
}

// places are where a leak comes out, as a log has them.
var places = map[string]rules.Place{
	log.Crankcase: rules.Rings, log.Intake: rules.Intake, log.Exhaust: rules.Exhaust,
	log.Coolant: rules.Coolant, log.Neighbour: rules.Neighbour,
}

// presentBuild returns the index of the first session of the build that stands now, -1 where it has none yet, and what the meter showed
// when it was built; known is false where nobody can tell. An engine that was never rebuilt counts from nought.
func presentBuild(l log.Log) (first int, begun float64, known bool) {
	n := len(l.Sessions)
	built := ""
	for _, b := range l.Builds {
		if b.Date >= built {
			built = b.Date
		}
	}
	build := ""
	if n > 0 {
		build = l.BuildOf(l.Sessions[n-1])
	}
	if n > 0 && built > l.Sessions[n-1].Date {
		n = 0
	}
	for _, b := range l.Builds {
		if b.ID == build && n > 0 {
			built = b.Date
		}
	}
	for _, e := range l.Events {
		if built != "" && e.Date == built && e.Meter != nil {
			begun, known = *e.Meter, true
		}
	}
	if n == 0 {
		return -1, begun, known
	}
	first = slices.IndexFunc(l.Sessions, func(s log.Session) bool { return l.BuildOf(s) == build })
	return first, begun, known || first == 0
}

// metersOf returns what the meter showed at each session from the first on; where nobody wrote it, by the days between its neighbours.
func metersOf(l log.Log, first int) []float64 {
	days := func(s log.Session) float64 {
		t, err := time.Parse(time.DateOnly, s.Date)
		if err != nil {
			return 0
		}
		return float64(t.Unix()) / (24 * 60 * 60)
	}
	ss := l.Sessions[first:]
	out := make([]float64, len(ss))
	for i, s := range ss {
		before, after := -1, -1
		for j := range ss {
			if ss[j].Meter == nil {
				continue
			}
			if j <= i {
				before = j
			} else if after < 0 {
				after = j
			}
		}
		switch {
		case before == i:
			out[i] = *s.Meter
		case before < 0 && after < 0:
		case before < 0:
			out[i] = *ss[after].Meter
		case after < 0:
			out[i] = *ss[before].Meter
		default:
			a, b := days(ss[before]), days(ss[after])
			share := 0.5
			if b > a {
				share = (days(s) - a) / (b - a)
			}
			out[i] = *ss[before].Meter + share*(*ss[after].Meter-*ss[before].Meter)
		}
		if i > 0 {
			out[i] = max(out[i], out[i-1])
		}
	}
	return out
}
