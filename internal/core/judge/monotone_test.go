package judge_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// sweep is how a suspect is tested, everything but how bad it is.
type sweep struct {
	duty   string
	first  bool
	temp   string
	where  string // of the air, "" for nobody listened
	alone  bool   // the suspect alone is leaked down
	again  bool   // and repeated
	cranks bool
}

func (w sweep) String() string {
	return fmt.Sprintf("%s, %s, first %v, air %q, alone %v, again %v, cranked %v", w.duty, w.temp, w.first, w.where, w.alone, w.again, w.cranks)
}

// state judges a suspect, cylinder 2 of four, that leaks so much and has lost so many percent of its compression.
func (w sweep) state(leak, lost float64) judge.State {
	sound := test{psi: []float64{180, 182, 178, 180}, leak: []float64{3, 4, 3, 4}}
	bad := test{}
	if w.cranks {
		bad.psi = []float64{180, 182 * (1 - lost/100), 178, 180}
	}
	if leak > 0 {
		bad.leak, bad.heard = []float64{3, leak, 3, 4}, map[int][]log.Path{}
		if w.again {
			bad.again = map[int]float64{2: leak}
		}
		if w.where != "" && w.where != log.Crankcase {
			bad.heard[2] = at(w.where, 2)
		}
	}
	bad.with = func(s *log.Session) {
		s.Conditions.EngineTemp = w.temp
		var kept []log.Leakdown
		for _, row := range s.Leakdown {
			if w.where == "" {
				row.Paths = nil
			} else {
				row.Paths[0].Level = 2 // how loudly the filler breathes is held the same
			}
			if !w.alone || row.Cylinder == 2 {
				kept = append(kept, row)
			}
		}
		s.Leakdown = kept
	}
	tests := []test{sound, sound, bad}
	if w.first {
		tests = []test{bad}
	}
	l := situation{engine: with(inline(4), func(e *log.Engine) { e.Duty = w.duty }), tests: tests}.log()
	if w.first {
		l.Sessions[0].Baseline = false
	}
	v := judge.Log(l, rules.Shop{})
	return v.Sessions[len(v.Sessions)-1].Of(2).State
}

// everyWay calls f with every way of testing.
func everyWay(f func(w sweep)) {
	two := []bool{false, true}
	for _, duty := range []string{"street", "circuit", "marine"} {
		for _, first := range two {
			for _, temp := range []string{"hot", "cold"} {
				for _, where := range []string{"", log.Crankcase, log.Intake, log.Exhaust, log.Coolant, log.Neighbour} {
					for _, alone := range two {
						for _, again := range two {
							for _, cranks := range two {
								f(sweep{duty, first, temp, where, alone, again, cranks})
							}
						}
					}
				}
			}
		}
	}
}

// step is how finely the sweeps go, points or percent; BRAXEL_SWEEP=1 goes through all of it in some minutes.
func step() float64 {
	if v, err := strconv.ParseFloat(os.Getenv("BRAXEL_SWEEP"), 64); err == nil && v > 0 {
		return v
	}
	return 8
}

// notMilder goes from one figure on to 92, and holds the states against the order, retest left out: it stands outside of it.
func notMilder(t *testing.T, what fmt.Stringer, from float64, state func(at float64) judge.State) {
	t.Helper()
	worst, before := judge.Steady, from
	for at := from; at <= 92; at += step() {
		s := state(at)
		if s == judge.Retest {
			continue
		}
		if s.Severity() < worst.Severity() {
			assert.Fail(t, "milder for being worse", "%s: %s at %g, %s at %g", what, worst, before, s, at)
			return
		}
		worst, before = s, at
	}
}

func TestMoreLeakIsNeverJudgedMilder(t *testing.T) {
	everyWay(func(w sweep) {
		for _, lost := range []float64{0, 10} {
			if !w.cranks && lost > 0 {
				continue
			}
			notMilder(t, w, 4, func(leak float64) judge.State { return w.state(leak, lost) })
		}
	})
}

func TestLessCompressionIsNeverJudgedMilder(t *testing.T) {
	everyWay(func(w sweep) {
		if !w.cranks || (w.where != "" && w.where != log.Exhaust) {
			return
		}
		for _, leak := range []float64{0, 4, 12, 30} {
			notMilder(t, w, 0, func(lost float64) judge.State { return w.state(leak, lost) })
		}
	})
}

func TestTheFloors(t *testing.T) {
	everyWay(func(w sweep) {
		repeated := w
		repeated.again = true
		hot := w.temp == "hot"
		if hot {
			assert.GreaterOrEqual(t, repeated.state(31, 0).Severity(), judge.Act.Severity(), "a repeated 30 %% is acted upon: %s", repeated)
		}
		if hot && !w.first && w.duty != "street" {
			assert.GreaterOrEqual(t, repeated.state(13, 0).Severity(), judge.Act.Severity(), "13 %% where it had 4, before a race: %s", repeated)
		}
		if w.cranks && !w.first {
			assert.GreaterOrEqual(t, w.state(0, 11).Severity(), judge.Watch.Severity(), "a tenth lost: %s", w)
		}
		if w.cranks {
			assert.Equal(t, judge.Stop, w.state(0, 76), "three quarters lost: %s", w)
		}
		if w.where == log.Coolant {
			assert.NotEqual(t, judge.Steady, w.state(8, 0), "bubbles: %s", w)
		}
	})
}

func TestAReadingThatIsConfirmedIsNotMilder(t *testing.T) {
	everyWay(func(w sweep) {
		if w.again {
			return
		}
		confirmed := w
		confirmed.again = true
		for _, leak := range []float64{8, 14, 20, 31, 50, 80} {
			once, twice := w.state(leak, 0), confirmed.state(leak, 0)
			if once != judge.Retest && twice != judge.Retest {
				assert.GreaterOrEqual(t, twice.Severity(), once.Severity(), "%g %%: %s", leak, w)
			}
			if once == judge.Retest {
				assert.NotEqual(t, judge.Steady, twice, "%g %% asked for a repeat, and it stayed: %s", leak, w)
			}
		}
	})
}

// What happened, and what went wrong with the testing, is in the sweep, too: with it a worse reading is no milder either.
func TestWhateverHappenedMoreIsNeverJudgedMilder(t *testing.T) {
	whenever := []log.Event{{}}
	for _, h := range rules.Happened().Happenings {
		whenever = append(whenever, log.Event{Date: "2031-01-25", Kind: h.Kind, What: "as it says"})
	}
	shapes := map[string][]float64{"none": {1, 1, 1, 1}, "sags": {1, 0.97, 0.94, 0.91}, "opened after the first": {0.82, 1, 1, 1}, "closed from the third": {1, 1, 0.8, 0.8}}
	for _, e := range whenever {
		for shape, times := range shapes {
			for _, duty := range []string{"street", "circuit"} {
				for _, cylinder := range []int{1, 2, 4} {
					state := func(leak, lost float64) judge.State {
						psi := []float64{180, 182, 178, 180}
						for i := range psi {
							psi[i] *= times[i]
						}
						psi[cylinder-1] *= 1 - lost/100
						bad := test{psi: psi}
						if leak > 0 {
							bad.leak = []float64{3, 4, 3, 4}
							bad.leak[cylinder-1] = leak
						}
						engine := with(inline(4), func(e *log.Engine) { e.Duty = duty })
						v := judge.Log(situation{engine: engine, tests: []test{right, bad}}.log(e), rules.Shop{})
						return v.Sessions[1].Of(cylinder).State
					}
					what := named(fmt.Sprintf("%s, %s, %s, cylinder %d", e.Kind, shape, duty, cylinder))
					notMilder(t, what+", less compression", 0, func(lost float64) judge.State { return state(0, lost) })
					notMilder(t, what+", leaked down, less compression", 0, func(lost float64) judge.State { return state(12, lost) })
					notMilder(t, what+", more leak", 4, func(leak float64) judge.State { return state(leak, 5) })
				}
			}
		}
	}
}

type named string

func (n named) String() string { return string(n) }

// Whatever went wrong with the testing besides, a cylinder that is beyond what stops an engine is never left at ease, and nor is one that
// stands a quarter below what it was while others do not.
func TestNoMishapLeavesASevereLossAtEase(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 14))
	for range 600 {
		n := []int{1, 2, 3, 4, 6, 8}[r.IntN(6)]
		engine := with(inline(n), func(e *log.Engine) {
			e.Duty = []string{"street", "circuit", "kart"}[r.IntN(3)]
			if n <= 2 && r.IntN(2) == 0 {
				e.Kind = log.TwoStroke
			}
		})
		sound, psi := test{}, make([]float64, n)
		for i := range psi {
			v := 180 * (1 + 0.01*r.NormFloat64())
			sound.psi = append(sound.psi, v)
			psi[i] = v * (1 + 0.006*r.NormFloat64())
		}
		bad := map[int]float64{}
		from, few := r.IntN(n), 1+r.IntN(max(1, n/2))
		lost := 0.25 + 0.7*r.Float64()
		for i := from; i < min(n, from+few); i++ {
			bad[i+1] = lost
			psi[i] *= 1 - lost
		}
		shape := r.IntN(4)
		for i := range psi {
			switch shape {
			case 1:
				psi[i] *= 1 - 0.15*float64(i)/float64(n)
			case 2:
				psi[i] *= 0.9
			case 3:
				if i >= n/2 {
					psi[i] *= 0.88
				}
			}
		}
		now := test{psi: psi, with: func(s *log.Session) {
			if r.IntN(2) == 0 {
				for i := range s.Compression {
					for k := range s.Compression[i].Pulls {
						s.Compression[i].Pulls[k].BatteryV = 12.6 - 0.3*float64(i)
					}
				}
			}
		}}
		v := judge.Log(situation{engine: engine, tests: []test{sound, sound, now}}.log(), rules.Shop{}).Sessions[2]
		for c, lost := range bad {
			if lost >= 0.6 || len(bad) < n {
				assert.NotEqual(t, judge.Steady, v.Of(c).State, "cylinder %d of %d %s lost %.0f %%, from %d so many %d, shape %d: %s", c, n, engine.Kind, 100*lost, from+1, len(bad), shape, v.Sentence)
			}
		}
		assert.NotContains(t, v.Decision, "Run it.", "%.0f %% of %d of %d", 100*lost, len(bad), n)
	}
}
