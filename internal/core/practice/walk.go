package practice

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strconv"

	"braxel/internal/core/bench"
	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// walk is somebody who does what Braxel says, on an engine of the same case.
type walk struct {
	c       Course
	k       Case
	e       *bench.Engine
	s       bench.State
	l       log.Log
	one     *log.Session
	way     bench.Way
	gauge   bench.Gauge
	draw    *rand.Rand
	truth   bench.Fault
	minutes float64
	before  float64
	steps   []Step
	sought  map[int]bool
}

// enough is how sure of the truth one is to be at the end of the shortest way, and mostSteps as many as it may have.
const (
	enough    = 0.85
	mostSteps = 8
)

// shortest is the way that a careful hand goes: throttle and battery first, all cylinders dry, then what Braxel asks for, until it is sure
// of the truth or asks for nothing more.
func (c Course) shortest(k Case) ([]Step, float64) {
	fresh := k
	fresh.Acts, fresh.True, fresh.Sought = nil, false, nil
	e := c.Bench(fresh)
	w := &walk{
		c: c, k: fresh, e: e, s: e.Begin(k.Lesson.Cold), way: bench.Usual, draw: rand.New(rand.NewPCG(k.Seed, 31)), truth: mainFault(k.Lesson),
		sought: map[int]bool{}, l: log.Log{Engine: e.Spec.Engine, Testers: []log.Tester{bench.Usual.Gauge, bench.Usual.Kit, trueGauge}},
	}
	w.gauge = bench.Shop
	w.gauge.Scale = e.Scale()
	w.act("throttle", 0)
	if w.s.Battery.Volts() < least {
		w.act("charger", 0)
	}
	w.dry(say.Text("practice.all-cylinders-dry"))
	for range mostSteps {
		now := w.verdict()
		if w.before >= enough && now.State != judge.Steady {
			break
		}
		next := now.Next
		if next == nil || w.before >= enough {
			// Nothing is called sound that was not leaked down once, whatever it reads.
			rest := w.notBlown()
			if len(rest) == 0 {
				break
			}
			next = &judge.Next{Test: "leakdown", Cylinders: rest}
		}
		if !w.next(*next) {
			break
		}
	}
	return w.steps, w.minutes
}

// notBlown are the cylinders that have no leak-down yet, as they fire.
func (w *walk) notBlown() []int {
	return slices.DeleteFunc(slices.Clone(w.e.Order()), func(c int) bool {
		return slices.ContainsFunc(w.one.Leakdown, func(r log.Leakdown) bool { return r.Cylinder == c })
	})
}

// least is what a battery is to stand at before the starter is used, V.
const least = 12.4

// trueGauge is the second one.
var trueGauge = func() log.Tester {
	t := bench.Usual.Gauge
	t.ID, t.Name = "second-gauge", "second gauge"
	return t
}()

func (w *walk) verdict() judge.Session {
	all := judge.Log(w.l, rules.Shop{}).Sessions
	return all[len(all)-1]
}

func (w *walk) note(did string, judged bool) {
	step := Step{Minutes: w.minutes, Did: did, SurePct: 100 * w.before}
	if judged {
		now := w.verdict()
		chance := sure(now, w.truth)
		step = toldBy(w.minutes, did, now, chance, w.before)
		w.before = chance
	}
	w.steps = append(w.steps, step)
}

func (w *walk) act(what string, cylinder int) {
	out, err := act(w.c, w.k.Lesson, w.e, w.s, false, Act{What: what, Cylinder: cylinder})
	if err != nil {
		return
	}
	w.s = out.State
	w.minutes += out.Act.Minutes
	if out.Look != nil {
		w.one.Observations = append(w.one.Observations, *out.Look)
	}
	w.note(out.Act.Says, out.Look != nil)
}

// dry begins a test, and reads all cylinders.
func (w *walk) dry(did string) {
	n := len(w.l.Sessions) + 1
	way := w.way
	way.Leakdown = false
	one, after := w.e.Visit(w.s, way, w.k.Seed+uint64(n))
	one.ID, one.Date, one.Stage = fmt.Sprint("s", n), fmt.Sprintf("2031-05-%02d", n), "as-found"
	w.s = after
	w.l.Sessions = append(w.l.Sessions, one)
	w.one = &w.l.Sessions[n-1]
	w.minutes += float64(2*len(one.Compression)) * w.c.Minutes["pull"]
	w.note(did, true)
}

// next does what is asked for; false where that cannot be done here.
func (w *walk) next(n judge.Next) bool {
	at := n.Cylinders
	if len(at) == 0 {
		at = w.e.Order()
	}
	switch n.Test {
	case "leakdown", "repeat-leakdown", "neighbour-plug":
		again := n.Test == "repeat-leakdown"
		for _, c := range at {
			past := w.e.Missed(c)
			if again {
				w.s = w.e.Snap(w.s, w.e.Place(c))
				w.minutes += w.c.Minutes["snap"] + w.c.Minutes["tdc"]
				past = 0
			}
			row, after := w.e.Blow(w.s, w.way, c, past, w.draw)
			w.one.Leakdown, w.s = append(w.one.Leakdown, row), after
			w.minutes += w.c.Minutes["leakdown"]
		}
		did := say.Text("practice.leak-down-where-heard", "listed", listed(at))
		if again {
			did = say.Text("practice.valves-snapped-tdc-found-again", "listed", listed(at))
		}
		w.note(did, true)
	case "wet":
		beside := w.e.Order()
		for _, c := range beside { // and a sound one
			if !slices.Contains(at, c) {
				at = append(slices.Clone(at), c)
				break
			}
		}
		for _, c := range at {
			w.s = w.e.PutOil(w.s, w.e.Place(c), 5)
			row, after := w.e.Press(w.s, w.way, w.gauge, c, 1, w.draw)
			row.Mode, row.OilCC = log.Wet, 5
			w.one.Compression, w.s = append(w.one.Compression, row), after
			w.minutes += w.c.Minutes["oil"] + w.c.Minutes["pull"]
		}
		w.note(say.Text("practice.wet-with-teaspoon-oil", "listed", listed(at)), true)
	case "second-gauge":
		if w.gauge.Scale == 1 {
			return false
		}
		w.gauge.Scale = 1
		w.minutes += w.c.Minutes["gauge"]
		way := w.way
		way.Gauge = trueGauge
		for _, c := range w.e.Order() {
			row, after := w.e.Press(w.s, way, w.gauge, c, 1, w.draw)
			w.one.Compression, w.s = append(w.one.Compression, row), after
			w.minutes += w.c.Minutes["pull"]
		}
		w.note(say.Text("practice.all-cylinders-second-gauge"), true)
	case "pull-again":
		for _, c := range at {
			row, after := w.e.Press(w.s, w.way, w.gauge, c, 2, w.draw)
			i := slices.IndexFunc(w.one.Compression, func(r log.Compression) bool { return r.Place == row.Place && r.Mode == log.Dry })
			if i < 0 {
				return false
			}
			w.one.Compression[i].Pulls = append(w.one.Compression[i].Pulls, row.Pulls...)
			w.s = after
			w.minutes += 2 * w.c.Minutes["pull"]
		}
		w.note(say.Text("practice.gauge-reseated-read-again", "listed", listed(at)), true)
	case "hot-test", "same-way":
		if w.s.Warmth > 0.8 {
			return false
		}
		w.act("warm", 0)
		w.dry(say.Text("practice.all-cylinders-again-hot"))
	case "borescope", "piston-height", "lash", "cam-marks":
		before := len(w.one.Observations)
		for _, c := range at[:min(len(at), 2)] {
			w.act(n.Test, c)
		}
		return len(w.one.Observations) > before && w.once()
	default:
		return false
	}
	return w.once()
}

// once reports whether something was not done before: nobody goes round in a circle.
func (w *walk) once() bool {
	for _, s := range w.steps[:len(w.steps)-1] {
		if s.Did == w.steps[len(w.steps)-1].Did {
			return false
		}
	}
	return true
}

func listed(cylinders []int) string {
	each := make([]string, len(cylinders))
	for i, c := range cylinders {
		each[i] = strconv.Itoa(c)
	}
	return say.And(each)
}
