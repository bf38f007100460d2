// Package standin is the bench in real time: an engine that is cranked when the sheet says so, with a gauge and a leak-down tester that
// speak as real ones do.
package standin

import (
	"bufio"
	"context"
	"fmt"
	"io"
	"maps"
	"math/rand/v2"
	"strconv"
	"strings"
	"sync"
	"time"

	"braxel/internal/core/bench"
	"braxel/internal/core/gauge"
	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

// Stand is an engine on the stand and the hands beside it.
type Stand struct {
	mu     sync.Mutex
	engine *bench.Engine
	state  bench.State
	do     bench.Do
	gauge  bench.Gauge
	kind   gauge.Kind
	draw   *rand.Rand
	ran    float64 // s that the starter ran in all

	// Alone: nobody has to press anything; it is cranked when the sheet waits for a cylinder whose turn it is.
	alone    bool
	plugs    bool // the others stay in
	wanted   log.Place
	begin    time.Time // when it will crank, or put air on, by itself; zero for never
	vent     time.Time // when the gauge is let off
	shut     time.Time // when the starter is let go
	then     time.Time // when it cranks after the gauge was let off, and for how long
	most     time.Duration
	missed   func(cylinder int) float64
	sought   map[int]bool // cylinders whose dead centre was found anew
	passcode string
	network  bool
}

// Options say how a Stand behaves.
type Options struct {
	Gauge    bench.Gauge
	Bare     bool
	Alone    bool
	PlugsIn  bool
	Network  bool // it calls by TCP, and says nothing before it was asked
	Passcode string
	Seed     uint64
	Missed   func(cylinder int) float64 // degrees by which a dead centre is missed; nil for never
	Sought   map[int]bool               // cylinders of which it is not
}

// How quick the hands are that do what the sheet says.
const (
	screwsIn = 700 * time.Millisecond
	letsOff  = 500 * time.Millisecond
	standsBy = 500 * time.Millisecond // open, so that whoever reads the gauge sees that it was let off
	rate     = 250                    // lines a second
	tick     = 8 * time.Millisecond
)

// New puts an engine in a state on the stand.
func New(e *bench.Engine, s bench.State, o Options) *Stand {
	if o.Sought == nil {
		o.Sought = map[int]bool{}
	}
	one := &Stand{
		sought: maps.Clone(o.Sought),
		engine: e, state: s, gauge: o.Gauge, kind: gauge.Valve, alone: o.Alone, plugs: o.PlugsIn, missed: o.Missed, passcode: o.Passcode, network: o.Network,
		draw: rand.New(rand.NewPCG(o.Seed, 3)),
	}
	if o.Bare {
		one.kind, one.gauge.Valve = gauge.Bare, false
	}
	return one
}

// State returns the engine as it stands, and how long the starter has run in all.
func (s *Stand) State() (bench.State, float64) {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.state, s.ran
}

// Change does something to the engine between two pulls.
func (s *Stand) Change(change func(bench.State) bench.State) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.state = change(s.state)
}

// Airing returns the cylinder that has air on it, 0 for none.
func (s *Stand) Airing() int {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.do.Air == nil {
		return 0
	}
	return s.do.At.Cylinder
}

// Seek finds the dead centre of a cylinder anew; air that was on it is off.
func (s *Stand) Seek(cylinder int) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.sought[cylinder] = true
	if s.do.Air != nil && s.do.At.Cylinder == cylinder {
		s.blow(s.do.At)
	}
}

// Swap screws another gauge on.
func (s *Stand) Swap(g bench.Gauge) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.gauge = g
	s.state = s.engine.Vent(s.state)
}

// Run moves the engine as the clock goes, until ctx ends, and lets gauge and tester speak; either may be nil.
func (s *Stand) Run(ctx context.Context, press, air io.ReadWriter) {
	asked, airAsked := make(chan string, 4), make(chan string, 4)
	if press != nil {
		go s.listen(press, asked)
	}
	if air != nil {
		go s.listen(air, airAsked)
	}
	heard, airHeard := false, false
	if !s.network {
		asked <- ""
		airAsked <- ""
	}
	ticker := time.NewTicker(tick)
	defer ticker.Stop()
	done := time.Now()
	for {
		select {
		case <-ctx.Done():
			return
		case word := <-asked:
			if press == nil {
				continue
			}
			_, _ = fmt.Fprintf(press, "%s\n# name: bench gauge\n# kind: %s\n%st_ms,kPa\n", greeting(word), s.kind, s.let())
			heard = true
			continue
		case word := <-airAsked:
			if air == nil {
				continue
			}
			_, _ = fmt.Fprintf(air, "%s\n# name: bench leak-down kit\n# kind: %s\n%st_ms,supply_kPa,held_kPa\n", greeting(word), gauge.LeakDown, s.let())
			airHeard = true
			continue
		case <-ticker.C:
		}
		// A machine that was busy is caught up with, but for a nap.
		now := time.Now()
		seconds := min(now.Sub(done).Seconds(), 0.25)
		done = now
		pressed, aired := s.pass(now, seconds)
		if heard && pressed != "" {
			if _, err := io.WriteString(press, pressed); err != nil {
				return
			}
		}
		if airHeard && aired != "" {
			if _, err := io.WriteString(air, aired); err != nil {
				return
			}
		}
	}
}

// pass lets some seconds go by, and returns what gauge and tester say of them.
func (s *Stand) pass(now time.Time, seconds float64) (pressed, aired string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.hands(now)
	var p, a strings.Builder
	write := func(at bench.State) {
		kpa, supply, held := 0.0, 0.0, 0.0
		if s.do.Air == nil {
			kpa = s.engine.Shows(at, s.gauge)
		} else {
			supply, held = s.engine.Air(at)
		}
		noise := s.draw.NormFloat64
		_, _ = fmt.Fprintf(&p, "%.0f,%.1f\n", 1000*at.Seconds, kpa+0.4*noise())
		_, _ = fmt.Fprintf(&a, "%.0f,%.1f,%.1f\n", 1000*at.Seconds, supply+0.3*noise(), held+0.3*noise())
	}
	if !s.do.Crank && s.do.Air == nil && s.state.Omega == 0 { // nothing moves but the clock
		s.state.Seconds += seconds
		write(s.state)
		return p.String(), a.String()
	}
	every, i := int(1/bench.Step/rate), 0
	s.state = s.engine.Run(s.state, s.do, seconds, func(at bench.State) {
		if i++; i%every == 0 {
			write(at)
		}
	})
	if s.do.Crank {
		s.ran += seconds
	}
	return p.String(), a.String()
}

// hands do what is due.
func (s *Stand) hands(now time.Time) {
	if !s.shut.IsZero() && now.After(s.shut) {
		s.do.Crank, s.shut = false, time.Time{}
	}
	if !s.vent.IsZero() && now.After(s.vent) {
		s.vent = time.Time{}
		s.do = bench.Do{}
		s.state = s.engine.Vent(s.state)
		if s.alone && s.wanted.Number() > 0 {
			s.begin = now.Add(screwsIn)
		}
	}
	if !s.then.IsZero() && now.After(s.then) {
		s.then = time.Time{}
		s.crank(s.wanted, now, s.most)
	}
	if !s.begin.IsZero() && s.vent.IsZero() && now.After(s.begin) {
		s.begin = time.Time{}
		s.crank(s.wanted, now, mostAlone)
	}
}

// mostAlone is how long it cranks by itself.
const mostAlone = 8 * time.Second

func (s *Stand) crank(at log.Place, now time.Time, most time.Duration) {
	if !s.vent.IsZero() { // its reading was kept a moment ago: it is let off first, or nobody could tell one pull from the next
		s.vent, s.do, s.shut = time.Time{}, bench.Do{}, time.Time{}
		s.state = s.engine.Vent(s.state)
		s.then, s.most = now.Add(standsBy), most
		return
	}
	if s.do.Air != nil || s.do.At != at { // the gauge goes into another hole
		s.state = s.engine.Vent(s.state)
	}
	g := s.gauge
	s.do = bench.Do{Crank: true, Gauge: &g, At: at, PlugsIn: s.plugs || at.Rotor > 0}
	s.shut = now.Add(most)
}

// supply is what the tester is fed with: 100 psi, of a compressor that gives way a little.
var supply = bench.Air{SupplyKPa: float64(units.Reading{Value: 100, Unit: units.PSI}.Pressure()), OrificeMM: 1, SagsKPa: 20, Hold: true}

// blow puts air on a cylinder that was turned to its dead centre, or near it.
func (s *Stand) blow(at log.Place) {
	past := 0.0
	if s.missed != nil && !s.sought[at.Cylinder] {
		past = s.missed(at.Cylinder)
	}
	s.state = s.engine.TurnTo(s.state, at, past)
	on := supply
	on.Hold = past == 0
	s.do = bench.Do{At: at, Air: &on}
	s.shut, s.begin, s.vent, s.then = time.Time{}, time.Time{}, time.Time{}, time.Time{}
}

// greeting is the first line of a gauge that was asked with a word, or with none.
func greeting(word string) string {
	if word == "" {
		return gauge.First
	}
	return gauge.First + " " + word
}

// listen does what the sheet says: the lines of docs/gauge.md. Whoever asks hello is told the head, with the word that was sent along.
func (s *Stand) listen(line io.Reader, asked chan<- string) {
	lines := bufio.NewScanner(line)
	for lines.Scan() {
		hello, word, _ := strings.Cut(lines.Text(), " ")
		if hello != "hello" {
			s.Say(lines.Text())
			continue
		}
		select {
		case asked <- word:
		default:
		}
	}
}

// let is the line of the head by which a shop's network lets a gauge in.
func (s *Stand) let() string {
	if s.passcode == "" {
		return ""
	}
	return "# passcode: " + s.passcode + "\n"
}

// Say does what one line of the sheet says.
func (s *Stand) Say(line string) {
	word := strings.Fields(line)
	if len(word) == 0 {
		return
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	now := time.Now()
	number := 0
	if len(word) > 2 {
		number, _ = strconv.Atoi(word[2])
	}
	at := s.engine.Place(number)
	has := s.engine.Spec.Engine.Has(at)
	switch {
	case word[0] == "kept" && s.do.Air != nil: // air stays on while one listens; the sheet says when it is to be turned on
	case word[0] == "kept":
		s.do.Crank, s.shut = false, time.Time{}
		s.vent = now.Add(letsOff)
	case word[0] != "seat" || len(word) < 2:
	case word[1] == "crank" && has:
		most := mostAlone
		if len(word) > 3 {
			if seconds, err := strconv.ParseFloat(word[3], 64); err == nil && seconds > 0 {
				most = time.Duration(seconds * float64(time.Second))
			}
		}
		s.wanted = at
		s.crank(at, now, most)
	case word[1] == "hold" && has:
		if s.do.Air == nil || s.do.At != at {
			s.blow(at)
		}
	case word[1] == "wait" && s.alone && has:
		another := s.wanted != at
		s.wanted = at
		if s.vent.IsZero() && !s.do.Crank && (another || s.begin.IsZero()) {
			s.begin = now.Add(screwsIn)
		}
	case word[1] == "stop" || word[1] == "wait" || word[1] == "done":
		s.do.Crank, s.shut, s.then = false, time.Time{}, time.Time{}
		if word[1] == "done" {
			s.wanted, s.begin = log.Place{}, time.Time{}
		}
		if word[1] != "stop" && s.do.Air != nil && s.vent.IsZero() {
			s.vent = now
		}
	case word[1] == "turn" && s.do.Air != nil && s.vent.IsZero():
		s.vent = now
	}
}
