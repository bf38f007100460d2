package bench

import (
	"math"
	"slices"

	"braxel/internal/core/gas"
	"braxel/internal/core/log"
)

// State is an engine at a moment.
type State struct {
	Seconds  float64   `json:"seconds"`
	Deg      float64   `json:"deg"`   // of the crank in its cycle
	Omega    float64   `json:"omega"` // rad/s
	Chambers []Charge  `json:"chambers"`
	Manifold float64   `json:"manifold"` // Pa absolute, behind the throttle
	Battery  Battery   `json:"battery"`
	Hose     float64   `json:"hose"`   // Pa absolute, behind the gauge's valve
	Needle   float64   `json:"needle"` // Pa absolute, as the gauge's own lag shows it
	Amps     float64   `json:"amps"`
	Supply   float64   `json:"supply"` // Pa absolute, of a leak-down tester
	Oil      []float64 `json:"oil"`    // cm³ in each chamber
	Clean    []bool    `json:"clean"`  // a seat whose dirt was snapped off
	Warmth   float64   `json:"warmth"` // 0 cold, 1 hot
	Shut     bool      `json:"shut"`   // the throttle
	Weak     bool      `json:"weak"`   // the battery
}

// Charge is the gas in a chamber: pressure in Pa absolute, mass in kg, and the volume that it was last seen in, m³.
type Charge struct {
	P, M, V float64
}

// Do is what is done to an engine for a while.
type Do struct {
	Crank   bool      `json:"crank"`
	Gauge   *Gauge    `json:"gauge,omitempty"`
	At      log.Place `json:"at"`            // where the gauge is screwed in
	PlugsIn bool      `json:"plugs_in"`      // all but the gauge's are in
	Air     *Air      `json:"air,omitempty"` // instead of the gauge
}

// Gauge is what is screwed into a plug hole: cm³ ahead of its check valve, and behind it; without a valve it shows the chamber itself. It
// lags by a time, and shows a share of what there is.
type Gauge struct {
	Valve  bool    `json:"valve"`
	DeadCC float64 `json:"dead_cc,omitzero"`
	HoseCC float64 `json:"hose_cc,omitzero"`
	LagS   float64 `json:"lag_s,omitzero"`
	Scale  float64 `json:"scale,omitzero"` // 1 where 0
}

// Shop is a usual gauge: a valve at the end of its hose, a hose as long as an arm.
var Shop = Gauge{Valve: true, DeadCC: 0.8, HoseCC: 9, LagS: 0.012}

// Begin returns the state of an engine at rest, hot unless it is said to be cold.
func (e *Engine) Begin(cold bool) State {
	s := State{
		Chambers: make([]Charge, len(e.chambers)), Oil: make([]float64, len(e.chambers)), Clean: make([]bool, len(e.chambers)),
		Manifold: e.ambient, Hose: e.ambient, Needle: e.ambient, Battery: Battery{Charge: 0.97}, Warmth: 1,
	}
	if cold {
		s.Warmth = 0
	}
	if s.Weak = e.Weak; s.Weak {
		s.Battery.Charge = 0.6
	}
	for _, f := range e.Faults {
		s.Shut = s.Shut || f.Kind == ThrottleShut
	}
	for i := range s.Chambers {
		v, _ := e.shape.at(e.shape.wrap(-e.chambers[i].tdc))
		s.Chambers[i] = Charge{e.ambient, e.ambient * v / (airR * airT), v}
	}
	return s
}

// Step is the time that the crank is moved by at once, in s: less than a degree at any starter's speed.
const Step = 0.0005

// Run does something to an engine for some seconds and returns what came of it. See is called at every step.
func (e *Engine) Run(s State, do Do, seconds float64, see func(State)) State {
	s.Chambers, s.Oil, s.Clean = slices.Clone(s.Chambers), slices.Clone(s.Oil), slices.Clone(s.Clean)
	w := e.work(s, do)
	for range int(math.Round(seconds / Step)) {
		e.step(&s, w)
		if see != nil {
			see(s)
		}
	}
	return s
}

// work is what stays as it is during a Run.
type work struct {
	do            Do
	out           []bool
	gauged        []int // the chambers that the gauge may be on
	exponent      float64
	rings         float64
	friction      float64
	throttle      float64 // m²; 0 for wide open
	plenum        float64 // m³
	gaugeV, deadV float64
}

// What is shut leaves a gap, and the room behind it. A hand's breadth of open plug hole lets all out. A check valve opens at a few kPa
// and is as wide as a tyre's.
const (
	gapPerLitre = 4.6e-6 // m²
	plenumShare = 1.4    // of what the engine sweeps
	cracks      = 4000.0 // Pa
	valveArea   = 3.2e-6 // m²
	fills       = 6000.0 // 1/s, an open intake at full lift
	sticks      = 1.4    // times the friction of a crank that turns
	lostHeat    = 1.12   // times the exponent, of what goes down again
	oilRunsOff  = 25.0   // s of cranking
	oilSeals    = 0.85   // of the rings' leak
	oilForSeal  = 3.0    // cm³
)

func (e *Engine) work(s State, do Do) work {
	w := work{do: do, out: make([]bool, len(e.chambers))}
	for i, c := range e.chambers {
		at := c.place.Number() == do.At.Number() && (do.Gauge != nil || do.Air != nil)
		if at {
			w.gauged = append(w.gauged, i)
		}
		// One of a rotary's two plugs a rotor stays in.
		w.out[i] = !at && !do.PlugsIn
	}
	w.exponent = e.hot
	if e.Exponent == 0 {
		w.exponent *= coldExponent + (1-coldExponent)*s.Warmth
	}
	w.rings = coldRings + (1-coldRings)*s.Warmth
	w.friction = e.starter.friction * (coldFriction + (1-coldFriction)*s.Warmth)
	if s.Shut {
		w.throttle = gapPerLitre * e.litres
	}
	w.plenum = plenumShare * e.litres / 1000
	if do.Gauge != nil {
		w.deadV = do.Gauge.DeadCC * 1e-6
		w.gaugeV = do.Gauge.HoseCC * 1e-6
	}
	return w
}

// step moves an engine on by one Step.
func (e *Engine) step(s *State, w work) {
	s.Seconds += Step
	s.Deg = e.shape.wrap(s.Deg + s.Omega*Step/deg)
	torque := 0.0
	for i := range e.chambers {
		torque += e.chamberStep(s, w, i)
	}
	e.breathe(s, w)
	e.gaugeStep(s, w)
	e.feed(s, w)
	pull := 0.0
	s.Amps = 0
	if w.do.Crank {
		pull, s.Amps = e.starter.turn(s.Battery, s.Omega)
	}
	s.Battery = e.starter.draw(s.Battery, s.Amps, Step, s.Weak)
	net := pull + torque
	if w.do.Air != nil && w.do.Air.Hold {
		s.Omega = 0
		return
	}
	// Friction holds a crank that stands, and slows one that turns.
	if math.Abs(s.Omega) < 0.02 && math.Abs(net) <= w.friction*sticks {
		s.Omega = 0
		return
	}
	s.Omega += (net - math.Copysign(w.friction, s.Omega)) / e.starter.inertia * Step
}

// chamberStep squeezes a chamber, lets it breathe and leak, and returns its torque on the crank in N·m.
func (e *Engine) chamberStep(s *State, w work, i int) float64 {
	c, g := &e.chambers[i], &s.Chambers[i]
	d := e.shape.wrap(s.Deg - c.tdc)
	v, sweep := e.shape.at(d)
	v += c.extra - s.Oil[i]*1e-6
	if w.out[i] {
		*g = Charge{e.ambient, e.ambient * v / (airR * airT), v}
		return 0
	}
	if slices.Contains(w.gauged, i) {
		v += w.deadV
	}
	v = max(v, e.shape.clearance()/20) // what is fuller of oil than that is locked
	n := w.exponent
	squeezed := n
	if d < 180 && v > g.V { // the heat that went into the walls about the dead centre does not come back
		squeezed *= lostHeat
	}
	g.P *= power(g.V/v, squeezed)
	g.V = v
	cycle := float64(e.shape.cycle)
	if lift := e.shape.intake.lift(d, cycle) * c.lift; lift > 0 {
		e.open(g, n, s.Manifold, lift, func(m float64) { s.Manifold -= m * airR * airT / w.plenum })
	}
	if lift := e.shape.exhaust.lift(d, cycle); lift > 0 && e.Spec.Engine.Kind != log.TwoStroke {
		e.open(g, n, e.ambient, lift, nil)
	}
	film := min(s.Oil[i]/oilForSeal, 1)
	leak(g, n, c.rings*w.rings*(1-oilSeals*film), e.ambient)
	leak(g, n, c.coolant, e.ambient)
	toIntake, toExhaust := c.intake, c.exhaust
	if !s.Clean[i] {
		if c.toIntake {
			toIntake += c.dirty
		} else {
			toExhaust += c.dirty
		}
	}
	leak(g, n, toExhaust, e.ambient)
	if toIntake > 0 {
		leak(g, n, toIntake, s.Manifold)
	}
	for _, way := range c.beside {
		switch {
		case w.out[way.to]:
			leak(g, n, way.area, e.ambient)
		case way.to > i: // once for both
			between(g, &s.Chambers[way.to], n, way.area)
		}
	}
	if s.Oil[i] > 0 && s.Omega > 1 {
		s.Oil[i] *= 1 - Step/oilRunsOff
	}
	return (g.P - e.ambient) * sweep
}

// power returns x to the n, for an x near 1.
func power(x, n float64) float64 {
	if h := x - 1; h > -0.05 && h < 0.05 {
		return 1 + n*h*(1+(n-1)*h/2*(1+(n-2)*h/3*(1+(n-3)*h/4)))
	}
	return math.Pow(x, n)
}

// open lets a chamber and a port come together, and tells what went in.
func (e *Engine) open(g *Charge, n, port, lift float64, took func(mass float64)) {
	to := (port - g.P) * (1 - math.Exp(-fills*lift*Step))
	t := airT
	if to < 0 {
		t = g.T()
	}
	mass := to * g.V / (n * airR * t)
	g.P += to
	g.M += mass
	if took != nil {
		took(mass)
	}
}

// T returns the temperature of a charge, K.
func (g Charge) T() float64 { return g.P * g.V / (g.M * airR) }

// leak lets a chamber lose through a hole to where the pressure is other, or draw in: isentropic nozzle flow (ISO 6358).
func leak(g *Charge, n, area, other float64) {
	if area == 0 {
		return
	}
	var mass, t float64
	switch {
	case g.P > other:
		t = g.T()
		mass = -area * g.P / math.Sqrt(airR*t) * gas.Flow(other/g.P) * Step
	case g.P < other:
		t = airT
		mass = area * other / math.Sqrt(airR*t) * gas.Flow(g.P/other) * Step
	default:
		return
	}
	take(g, n, mass, t, other)
}

// take adds to a chamber what came in at a temperature, or takes what went out; it never overshoots what it came from.
func take(g *Charge, n, mass, t, other float64) (taken float64) {
	step := n * airR * t * mass / g.V
	if far := other - g.P; math.Abs(step) > math.Abs(far)/2 {
		mass *= far / 2 / step
		step = far / 2
	}
	g.P += step
	g.M = max(g.M+mass, 1e-9)
	return mass
}

// between lets the one of two chambers that has more lose to the other.
func between(a, b *Charge, n, area float64) {
	if a.P < b.P {
		a, b = b, a
	}
	if a.P <= b.P {
		return
	}
	t := a.T()
	mass := area * a.P / math.Sqrt(airR*t) * gas.Flow(b.P/a.P) * Step
	mass = -take(a, n, -mass, t, b.P)
	b.P += n * airR * t * mass / b.V
	b.M += mass
}

// breathe lets the room behind the throttle fill.
func (e *Engine) breathe(s *State, w work) {
	if w.throttle == 0 {
		s.Manifold = e.ambient
		return
	}
	if s.Manifold >= e.ambient {
		s.Manifold = e.ambient
		return
	}
	mass := w.throttle * e.ambient / math.Sqrt(airR*airT) * gas.Flow(s.Manifold/e.ambient) * Step
	s.Manifold = min(e.ambient, s.Manifold+mass*airR*airT/w.plenum)
}

// gaugeStep lets the gauge take its part of the chamber that it is on.
func (e *Engine) gaugeStep(s *State, w work) {
	g := w.do.Gauge
	if g == nil || len(w.gauged) == 0 {
		return
	}
	on := w.gauged[0]
	for _, i := range w.gauged { // of a rotor, the face that comes past the plug
		if d := e.shape.wrap(s.Deg - e.chambers[i].tdc); d < 180 || d >= float64(e.shape.cycle)-180 {
			on = i
		}
	}
	c := &s.Chambers[on]
	shows := c.P
	if g.Valve {
		if c.P > s.Hose+cracks {
			t := c.T()
			mass := valveArea * c.P / math.Sqrt(airR*t) * gas.Flow(s.Hose/c.P) * Step
			mass = -take(c, w.exponent, -mass, t, s.Hose)
			s.Hose += mass * airR * airT / w.gaugeV
		}
		shows = s.Hose
	}
	if g.LagS > 0 {
		s.Needle += (shows - s.Needle) * min(1, Step/g.LagS)
	} else {
		s.Needle = shows
	}
}

// Shows returns what a gauge shows, gauge kPa.
func (e *Engine) Shows(s State, g Gauge) float64 {
	scale := g.Scale
	if scale == 0 {
		scale = 1
	}
	return scale * (s.Needle - e.ambient) / pascs
}

// Vent lets the gauge off, and what the chamber still holds with it.
func (e *Engine) Vent(s State) State {
	s.Hose, s.Needle = e.ambient, e.ambient
	s.Chambers = slices.Clone(s.Chambers)
	for i, c := range s.Chambers {
		s.Chambers[i] = Charge{e.ambient, e.ambient * c.V / (airR * airT), c.V}
	}
	return s
}

// RPM returns the speed of the crank in 1/min.
func (s State) RPM() float64 { return s.Omega * 30 / math.Pi }
