// Package demo makes the history of a made-up workshop: Tarn Hollow Engine Works, on a lake, in 2031–2033.
package demo

import (
	"fmt"
	"hash/fnv"
	"math"
	"math/rand/v2"
	"strings"
	"time"

	"braxel/internal/core/log"
	"braxel/internal/core/rotor"
	"braxel/internal/core/units"
)

// Shop is the workshop's name.
const Shop = "Tarn Hollow Engine Works"

// Clock is the workshop's own: a day in May 2033, and on from there as the real one goes.
func Clock() func() time.Time {
	begun, day := time.Now(), time.Date(2033, time.May, 14, 9, 0, 0, 0, time.Local)
	return func() time.Time { return day.Add(time.Since(begun)) }
}

// story is an engine with what was done to it; the readings are drawn from it with the scatter of real gauges, the
// same each time.
type story struct {
	engine  log.Engine
	gauge   log.Tester
	kit     log.Tester
	builds  []log.Build
	events  []log.Event
	notes   []log.Note
	healthy map[int]cylinder // what each cylinder reads when it is right
	visits  []visit
}

// cylinder is a true state: compression in the gauge's unit, leak in percent.
type cylinder struct{ compression, leak float64 }

// visit is one test: what moved all (in percent of compression), and what was wrong with single cylinders by then.
type visit struct {
	date, stage, temp string
	meter             float64
	baseline          bool
	all               float64
	wrong             map[int]fault
	wet               []int
	oilCC             float64
	gauge             *log.Tester
	noLeakdown        bool
	id                string // s1, s2, … where there is none
	touched           []int
	place             string
	note              string
	seen              []log.Observation
}

// fault is what a cylinder has lost, in percent of compression, the leak it has gained in points, where that air is
// heard, and what part of the loss oil brings back.
type fault struct {
	lost, leak float64
	heard      []log.Path
	oil        float64
}

// Logs returns the workshop's engines, each with its history.
func Logs() []log.Log {
	var all []log.Log
	for _, s := range []story{heron(), bittern(), dunlin(), curlew(), gannet(), wren(), kestrel(), osprey(), plover()} {
		all = append(all, s.log())
	}
	return all
}

func (s story) log() log.Log {
	seed := fnv.New64a()
	_, _ = seed.Write([]byte(s.engine.Name))
	draw := rand.New(rand.NewPCG(seed.Sum64(), 7))
	s.engine.ID = strings.ToLower(s.engine.Name)
	l := log.Log{
		Format:  log.Format,
		Version: log.Version,
		Engine:  s.engine,
		Testers: []log.Tester{s.gauge},
		Builds:  s.builds,
		Events:  s.events,
		Notes:   s.notes,
	}
	if s.kit.ID != "" {
		l.Testers = append(l.Testers, s.kit)
	}
	numbered := 0
	for _, v := range s.visits {
		draw := draw
		if v.id == "" {
			numbered++
			v.id = fmt.Sprintf("s%d", numbered)
		} else { // one that came in later moves no other's readings
			draw = rand.New(rand.NewPCG(seed.Sum64(), uint64(len(l.Sessions))+8))
		}
		one := log.Session{
			ID: v.id, Date: v.date, Stage: v.stage, Meter: &v.meter, Baseline: v.baseline, Touched: v.touched, Place: v.place,
			Operator: "Ansa", Note: v.note, Observations: v.seen,
			Conditions: log.Conditions{
				EngineTemp: v.temp,
				AltitudeM:  s.engine.AltitudeM,
				Throttle:   "open",
				PlugsOut:   "all",
				Charger:    true,
				Cranking:   log.Cranking{Rule: "plateau"},
			},
		}
		one.Build = l.BuildOf(one)
		gauge := s.gauge
		if v.gauge != nil {
			gauge = *v.gauge
			if _, ok := l.Tester(gauge.ID); !ok {
				l.Testers = append(l.Testers, gauge)
			}
		}
		for _, c := range s.engine.Cylinders() {
			one.Compression = append(one.Compression, s.rows(draw, c, v, gauge)...)
		}
		for _, c := range v.wet {
			one.Compression = append(one.Compression, s.pulls(draw, c, log.Wet, v, gauge))
		}
		if s.kit.ID != "" && !v.noLeakdown {
			for _, c := range order(s.engine) {
				one.Leakdown = append(one.Leakdown, s.leakdown(draw, c, v))
			}
		}
		l.Sessions = append(l.Sessions, one)
	}
	return l
}

func order(e log.Engine) []int {
	if len(e.FiringOrder) > 0 {
		return e.FiringOrder
	}
	return e.Cylinders()
}

// rows draws the dry pulls of a cylinder; of a rotor those of its three faces.
func (s story) rows(draw *rand.Rand, c int, v visit, gauge log.Tester) []log.Compression {
	if s.engine.Kind != log.Rotary {
		return []log.Compression{s.pulls(draw, c, log.Dry, v, gauge)}
	}
	var all []log.Compression
	for face := 1; face <= 3; face++ {
		row := s.pulls(draw, c, log.Dry, v, gauge)
		row.Place = log.Place{Rotor: c, Face: face}
		row.Pulls = row.Pulls[:1]
		all = append(all, row)
	}
	film(all, 19+draw.IntN(4))
	return all
}

// film writes beside three faces the needle's film that they were read from: its pulses in five seconds, and flickers that lag.
func film(faces []log.Compression, pulses int) {
	const seconds, lag = 5.0, 40.0 // kPa
	held := 0.0
	for _, row := range faces {
		held = max(held, row.Pulls[0].Value)
	}
	for i := range faces {
		p := &faces[i].Pulls[0]
		p.Beats, p.Seconds, p.RPM = pulses, seconds, rotor.RPM(pulses, seconds)
		p.Flicker = &log.Flicker{Pulse: p.Value - lag, Highest: held - lag, Held: held}
	}
}

// pulls draws what the gauge shows: pulls until two agree, read to its division.
func (s story) pulls(draw *rand.Rand, c int, mode string, v visit, gauge log.Tester) log.Compression {
	right, f := s.healthy[c], v.wrong[c]
	lost := f.lost
	if mode == log.Wet {
		lost *= 1 - f.oil
	}
	level := right.compression * (1 + v.all/100) * (1 - lost/100) * (1 + 0.005*draw.NormFloat64())
	row := log.Compression{Place: log.Place{Cylinder: c}, Mode: mode, Tester: gauge.ID}
	if mode == log.Wet {
		row.OilCC = v.oilCC
		level *= 1.045
	}
	step := gauge.Resolution.Value
	before := math.Inf(1)
	for range 4 {
		value := math.Round(level*(1+0.006*draw.NormFloat64())/step) * step
		value = math.Round(value*100) / 100
		row.Pulls = append(row.Pulls, log.Pull{Reading: units.Reading{Value: value, Unit: gauge.Resolution.Unit}})
		if math.Abs(value-before) <= math.Max(step, 0.02*value)+1e-9 {
			break
		}
		before = value
	}
	return row
}

func (s story) leakdown(draw *rand.Rand, c int, v visit) log.Leakdown {
	right, f := s.healthy[c], v.wrong[c]
	supply := math.Round(100 - 3*draw.Float64())
	leak := max(0.5, right.leak+f.leak+0.4*draw.NormFloat64())
	if v.temp == "cold" {
		leak *= 1.3
	}
	row := log.Leakdown{
		Place:    log.Place{Cylinder: c},
		Tester:   s.kit.ID,
		Supply:   supply,
		Held:     math.Round(supply * (1 - leak/100)),
		Unit:     units.PSI,
		Position: "tdc",
		Paths:    []log.Path{{Where: log.Crankcase, Level: 1}},
	}
	row.Paths = append(row.Paths, f.heard...)
	return row
}

func psi(v float64) *units.Reading { return &units.Reading{Value: v, Unit: units.PSI} }

func of[T any](v T) *T { return &v }

// The shop's testers.
var (
	longHose    = log.Tester{ID: "long-hose", Name: "Long-hose gauge", Kind: log.CompressionTester, Resolution: psi(2), Range: psi(300)}
	shortHose   = log.Tester{ID: "short-hose", Name: "Short-hose gauge", Kind: log.CompressionTester, Resolution: psi(2), Range: psi(300)}
	dieselGauge = log.Tester{ID: "diesel-gauge", Name: "Diesel gauge", Kind: log.CompressionTester, Resolution: psi(5), Range: psi(1000)}
	faceTester  = log.Tester{
		ID: "face-tester", Name: "Rotary tester", Kind: log.RotaryTester, Resolution: &units.Reading{Value: 5, Unit: units.KPa},
	}
	twoDial = log.Tester{ID: "two-dial-kit", Name: "Two-dial kit", Kind: log.LeakdownTester, Resolution: psi(1), OrificeMM: 1}
)
