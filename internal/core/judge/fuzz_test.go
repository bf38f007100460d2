package judge_test

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"regexp"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

// random draws a valid log: any layout, testers good and bad, tests with anything missing, readings from nothing to too
// much.
func random(seed uint64) log.Log {
	r := rand.New(rand.NewPCG(seed, seed>>7))
	l := log.Log{Format: log.Format, Version: 1, Engine: log.Engine{Name: "Any", Kind: log.FourStroke, MeterUnit: "h"}}
	switch r.IntN(5) {
	case 0:
		l.Engine.Kind, l.Engine.Layout.Rotors = log.Rotary, 1+r.IntN(3)
	case 1:
		l.Engine.Layout.Banks = [][]int{{1}}
	default:
		n := 1
		for range 1 + r.IntN(2) {
			var bank []int
			for range 1 + r.IntN(6) {
				bank = append(bank, n)
				n++
			}
			l.Engine.Layout.Banks = append(l.Engine.Layout.Banks, bank)
		}
	}
	if r.IntN(3) == 0 {
		l.Engine.Limits = &log.Limits{Minimum: &units.Reading{Value: r.Float64() * 200, Unit: units.PSI}, LeakMaximumPct: r.Float64() * 30, SpreadMaximumPct: r.Float64() * 20}
	}
	if r.IntN(3) == 0 {
		closes := 120 * r.Float64()
		l.Engine.BoreMM, l.Engine.StrokeMM, l.Engine.RodMM, l.Engine.Ratio, l.Engine.IntakeCloses = 86, 86, 145, 4+26*r.Float64(), &closes
	}
	l.Engine.Duty = []string{"", "street", "drag", "marine"}[r.IntN(4)]
	for i := range r.IntN(3) {
		l.Testers = append(l.Testers, log.Tester{ID: fmt.Sprint("g", i), Kind: log.CompressionTester, Resolution: &units.Reading{Value: r.Float64() * 20, Unit: units.PSI}, OffsetKPa: r.Float64()*1000 - 500, DeadVolumeCC: r.Float64() * 100, OrificeMM: r.Float64() * 3})
	}
	for i := range r.IntN(9) {
		s := log.Session{ID: fmt.Sprint("s", i), Date: fmt.Sprintf("2031-01-%02d", i+1), Baseline: r.IntN(4) == 0}
		if r.IntN(2) == 0 {
			m := r.Float64() * 100
			s.Meter = &m
		}
		s.Conditions = log.Conditions{EngineTemp: []string{"", "hot", "cold"}[r.IntN(3)], AmbientKPa: []float64{0, 40, 101, 110}[r.IntN(4)],
			Throttle: []string{"", "open", "closed"}[r.IntN(3)], PlugsOut: []string{"", "all", "one"}[r.IntN(3)]}
		s.Stage = []string{"", "pre-install", "service"}[r.IntN(3)]
		if r.IntN(4) == 0 {
			s.Observations = []log.Observation{{What: "borescope", Place: log.Place{Cylinder: 1}, Finding: "burnt valve"}, {What: "coolant", Finding: "bubbles when cranked"}}
		}
		for _, c := range l.Engine.Cylinders() {
			fill(r, &s, c, l.Engine.Kind == log.Rotary)
		}
		l.Sessions = append(l.Sessions, s)
	}
	return l
}

func fill(r *rand.Rand, s *log.Session, c int, rotary bool) {
	row := log.Compression{Place: log.Place{Cylinder: c}, Mode: []string{log.Dry, log.Dry, log.Wet}[r.IntN(3)], Tester: fmt.Sprint("g", r.IntN(3))}
	if rotary {
		row.Cylinder, row.Rotor, row.Face = 0, c, 1+r.IntN(3)
	}
	for range r.IntN(4) {
		p := log.Pull{Reading: units.Reading{Value: []float64{0, 1, 150, 165, 870, r.Float64() * 400}[r.IntN(6)], Unit: units.PSI}}
		if r.IntN(6) == 0 {
			p.Struck = "struck"
		}
		row.Pulls = append(row.Pulls, p)
	}
	s.Compression = append(s.Compression, row)
	for range r.IntN(3) {
		supply := 0.5 + r.Float64()*250
		leak := log.Leakdown{Place: log.Place{Cylinder: c}, Supply: supply, Held: supply * []float64{0, 1, r.Float64()}[r.IntN(3)], Unit: units.PSI, Tester: fmt.Sprint("g", r.IntN(3))}
		if r.IntN(2) == 0 {
			leak.Paths = []log.Path{{Where: []string{log.Crankcase, log.Exhaust, log.Coolant, log.Neighbour, log.PlugHole}[r.IntN(5)], Level: r.IntN(4), Cylinder: 1}}
		}
		s.Leakdown = append(s.Leakdown, leak)
	}
}

// FuzzJudge: no panic, nothing that JSON cannot write, and no contradiction, on any valid log.
func FuzzJudge(f *testing.F) {
	for seed := range uint64(40) {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, seed uint64) {
		v := judge.Log(random(seed), rules.Shop{})
		_, err := json.Marshal(v)
		require.NoError(t, err, "JSON knows no NaN and no infinity")
		for _, s := range v.Sessions {
			saysItPlainly(t, s)
			sum, worst := 0.0, judge.Steady
			for _, c := range s.Causes {
				sum += c.Probability
			}
			for _, c := range s.Cylinders {
				worst = judge.Worse(worst, c.State)
				assert.True(t, c.State == judge.Steady || len(c.Why) > 0, "a state comes with its reasons")
			}
			if len(s.Causes) > 0 {
				assert.InDelta(t, 1, sum, 1e-9)
			}
			assert.GreaterOrEqual(t, s.State.Severity(), worst.Severity())
			if s.State.Severity() >= judge.Watch.Severity() {
				require.NotEmpty(t, s.Causes)
				assert.NotEqual(t, "healthy", s.Causes[0].Cause)
			}
			assert.Equal(t, len(s.Cylinders) > 0, s.Decision != "", "a test that was read says whether to run it")
			for _, f := range s.Faults {
				sum := 0.0
				for _, c := range f.Causes {
					sum += c.Probability
				}
				assert.InDelta(t, 1, sum, 1e-9)
			}
			if s.State == judge.Steady && len(s.Causes) > 0 {
				assert.Empty(t, s.Causes[0].Cylinders, "nobody is accused and at ease")
			}
			if !s.Partial {
				assert.Subset(t, figuresOf(s), numbers.FindAllString(s.Sentence+s.Headline, -1), s.Sentence+s.Headline)
			}
		}
		sameOtherwise(t, seed, v)
	})
}

var numbers = regexp.MustCompile(`\d+(\.\d+)?`)

// figuresOf returns every figure that a session's facts state, as words write them.
func figuresOf(s judge.Session) []string {
	facts := slices.Clone(s.Facts)
	for _, c := range s.Cylinders {
		facts = append(facts, c.Facts...)
	}
	all := []string{"90", "100", fmt.Sprint(len(s.Faults) - 1)} // what a petrol engine needs to fire; how many faults more
	if len(s.Unread) > 0 {
		all = append(all, fmt.Sprint(len(s.Cylinders)), fmt.Sprint(len(s.Cylinders)+len(s.Unread)))
	}
	if s.Repaired != nil {
		for _, e := range s.Repaired.Each {
			all = append(all, fmt.Sprint(e.Cylinder))
			for _, p := range []*float64{e.Was, e.Now} {
				if p != nil {
					all = append(all, units.Pressure(*p).Digits(units.PSI))
				}
			}
			for _, p := range []*float64{e.LeakWas, e.LeakNow} {
				if p != nil {
					all = append(all, fmt.Sprintf("%.0f", *p))
				}
			}
		}
	}
	for _, f := range facts {
		v := math.Abs(f.Value)
		all = append(all, fmt.Sprintf("%.0f", v), fmt.Sprintf("%.1f", v), fmt.Sprintf("%.0f", 100*v))
		for _, c := range f.Cylinders {
			all = append(all, fmt.Sprint(c))
		}
		all = append(all, numbers.FindAllString(f.Reads+" "+f.Figure, -1)...)
	}
	for _, f := range s.Faults {
		for _, c := range f.Cylinders {
			all = append(all, fmt.Sprint(c))
		}
	}
	return all
}

// sameOtherwise: what comes later, the order of testers, and the units that figures are in change nothing that is said.
func sameOtherwise(t *testing.T, seed uint64, v judge.Verdict) {
	t.Helper()
	l := random(seed)
	if n := len(l.Sessions); n > 1 {
		l.Sessions = l.Sessions[:n-1]
		assert.Equal(t, v.Sessions[:n-1], judge.Log(l, rules.Shop{}).Sessions)
	}
	l = random(seed)
	slices.Reverse(l.Testers)
	for i := range l.Sessions {
		for k := range l.Sessions[i].Compression {
			for j, p := range l.Sessions[i].Compression[k].Pulls {
				l.Sessions[i].Compression[k].Pulls[j].Reading = units.Reading{Value: p.Pressure().In(units.Bar), Unit: units.Bar}
			}
		}
		for k := range l.Sessions[i].Leakdown {
			row := &l.Sessions[i].Leakdown[k]
			supply, held := row.SupplyReading().Pressure(), row.HeldReading().Pressure()
			row.Supply, row.Held, row.Unit = float64(supply), float64(held), units.KPa
		}
	}
	for i, s := range judge.Log(l, rules.Shop{}).Sessions {
		assert.Equal(t, v.Sessions[i].State, s.State, "in bar and kPa")
		assert.Equal(t, v.Sessions[i].Decision, s.Decision)
	}
}
