package trace_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/trace"
)

// film is a recording of a made engine, and what is true of it. The engine is stepped through time, with the mass in each cylinder,
// its leak and the crank's inertia: nothing of it is shared with what reads it.
type film struct {
	known    trace.Known
	kind     string
	text     string
	readable bool
	times    []float64 // of the compressions
	values   []float64 // what the element showed at each
	rpm      [2]float64
	peak     float64
	faces    [3]float64
	relative map[string]float64
	traps    []string
	cutOff   bool
}

type rig struct {
	r          *rand.Rand
	kind       string
	n          int
	turns      float64
	swept      float64 // m³
	ratio      float64
	exponent   float64
	closes     float64 // degrees before the dead centre
	leak       []float64
	inertia    float64
	friction   float64
	amps, stop float64 // stall torque in N·m, and free speed in rad/s
	stall      float64 // A
	ambient    float64
	tested     int
	all        bool // every cylinder compresses
	gauge      float64
	peaks      []float64 // of each cylinder, once the engine turns evenly
}

func (g *rig) volume(deg float64) float64 {
	clear := g.swept / (g.ratio - 1)
	if g.kind == "rotary" {
		return clear + g.swept/2*(1-math.Cos(deg*math.Pi/180*2/3))
	}
	s, c := math.Sincos(deg * math.Pi / 180)
	const rod = 3.3 // cranks
	x := 1 + rod - (c + math.Sqrt(rod*rod-s*s))
	return clear + g.swept*x/2
}

// flow is that through a hole, by the ratio of the pressures; from the critical one down it is as much as can be.
func flow(r float64) float64 {
	r = max(r, 0.528)
	return math.Sqrt(7 * (math.Pow(r, 2/1.4) - math.Pow(r, 2.4/1.4)))
}

// chamber returns the pressure (absolute, in units of the ambient) and the mass after dt, of one at deg.
func (g *rig) chamber(deg, mass, hole, dt float64) (p, left float64) {
	until := 130.0
	if g.kind == "two-stroke" {
		until = 95
	}
	if g.kind == "rotary" {
		until = 190
	}
	v := g.volume(deg)
	whole := g.volume(g.closes)
	if deg < -g.closes || deg > until {
		return 1, 1
	}
	p = math.Pow(mass*whole/v, g.exponent)
	area := math.Pi / 4 * hole * hole * 1e-6
	t := math.Sqrt(max(0.2, p*v/(mass*whole)))
	if p > 1 {
		mass -= area * 290 / whole * p / t * flow(1/p) * dt
	} else {
		mass += area * 290 / whole * flow(p) * dt
	}
	return p, max(mass, 1e-3)
}

// sample is what is true at an instant.
type sample struct{ t, p, amps, phase float64 }

// wrap brings degrees into the half-open turn about nought.
func wrap(deg, period float64) float64 {
	deg = math.Mod(deg, period)
	if deg < -period/2 {
		deg += period
	}
	if deg >= period/2 {
		deg -= period
	}
	return deg
}

// run cranks from t=quiet to stop, with a pause if wanted, and records until end.
func (g *rig) run(on func(t float64) bool, end float64) []sample {
	const dt = 1e-4
	period := 360 * g.turns
	g.peaks = make([]float64, g.n)
	if g.kind == "rotary" {
		period = 1080
	}
	chambers := g.n
	offset := make([]float64, chambers)
	for i := range offset {
		offset[i] = period / float64(chambers) * float64(i)
	}
	mass := make([]float64, chambers)
	theta := -period * (0.25 + 0.5*g.r.Float64())
	for i := range mass { // at rest everything has leaked down to the ambient
		mass[i] = g.volume(wrap(theta-offset[i], period)) / g.volume(g.closes)
	}
	omega, held := 0.0, 1.0
	amps := 0.0
	var out []sample
	for k := 0; float64(k)*dt < end; k++ {
		t := float64(k) * dt
		torque, shown := 0.0, 1.0
		for i := range offset {
			deg := wrap(theta-offset[i], period)
			var p float64
			p, mass[i] = g.chamber(deg, mass[i], g.leak[i], dt)
			if on(t) && t > 2 {
				g.peaks[i] = max(g.peaks[i], p-1)
			}
			if g.all || i == g.tested || g.kind == "rotary" {
				slope := (g.volume(deg+0.5) - g.volume(deg-0.5)) / (math.Pi / 180)
				torque += (p - 1) * g.ambient * 1000 * slope
			}
			if g.kind == "rotary" {
				if math.Abs(deg) <= 180 {
					shown = p
				}
			} else if i == g.tested {
				shown = p
				if g.gauge > 0 && p > held {
					v := g.volume(deg)
					now := (p*v + held*g.gauge) / (v + g.gauge)
					mass[i] *= math.Pow(now/p, 1/g.exponent)
					held, shown = now, now
				}
			}
		}
		want := 0.0
		if on(t) {
			want = g.stall * (1 - omega/g.stop)
		}
		amps += (want - amps) * dt / 0.009
		drive := max(0, amps) / g.stall * g.amps
		drag := g.friction
		if omega < 0.5 {
			drag = min(g.friction, max(0, drive+torque))
		}
		omega += (drive - drag + torque) / g.inertia * dt
		if omega < 0 {
			omega = 0
		}
		if !on(t) {
			omega *= 1 - 6*dt
		}
		theta += omega * dt * 180 / math.Pi
		p := shown
		if g.gauge > 0 {
			p = held
		}
		out = append(out, sample{t, (p - 1) * g.ambient, amps, theta})
	}
	return out
}

// made returns a film of a kind from a seed.
func made(kind string, seed uint64) film {
	r := rand.New(rand.NewPCG(seed, 7))
	between := func(a, b float64) float64 { return a + (b-a)*r.Float64() }
	f := film{kind: kind, readable: true, relative: map[string]float64{}}
	g := &rig{r: r, kind: kind, turns: 2, n: 1 + r.IntN(8), ratio: between(8.3, 11.5), exponent: between(1.18, 1.25), closes: between(110, 130), ambient: between(84, 102)}
	g.swept = between(250, 620) * 1e-6
	f.known = trace.Known{File: "x.csv", Engine: "four-stroke", Fuel: "petrol", Measured: trace.Pressure, Plugs: "all out"}
	speed, last := between(170, 300), between(2.6, 5)
	switch kind {
	case "two-stroke":
		g.turns, g.n, g.swept, g.closes, speed = 1, 1, between(60, 400)*1e-6, between(85, 100), between(250, 500)
		f.known.Engine = "two-stroke"
	case "rotary":
		g.turns, g.n, g.closes, g.swept = 1, 3, between(190, 220), between(560, 660)*1e-6
		f.known.Engine, f.known.Rotors, f.known.Rotor = "rotary", 2, 1
	case "diesel":
		g.ratio, speed, f.known.Fuel = between(16, 20), between(150, 230), "diesel"
	case "current":
		g.n, g.all, speed = 3+r.IntN(4), true, between(150, 290)
		last = between(3.5, 5)
		f.known.Measured, f.known.Plugs = trace.Current, "all in"
	}
	if kind != "current" && kind != "rotary" {
		g.n = 1
	}
	leaky := func() float64 {
		if r.Float64() < 0.3 {
			return between(0.9, 1.9)
		}
		return between(0.3, 0.8)
	}
	for range g.n {
		switch kind {
		case "rotary":
			g.leak = append(g.leak, between(1.2, 1.9))
		case "dead":
			g.leak = append(g.leak, between(4, 7.5))
		case "two-stroke":
			g.leak = append(g.leak, between(0.2, 0.8))
		default:
			g.leak = append(g.leak, leaky())
		}
	}
	stairs := kind == "staircase" || kind == "diesel" && r.IntN(2) == 0
	if stairs {
		g.gauge = between(6, 20) * 1e-6
	}
	g.inertia = between(0.3, 1.5)
	work := g.swept * 1e5 * 2.5
	g.friction = between(15, 40)
	g.stop = 1.45 * speed * math.Pi / 30
	mean := 0.0
	if g.all {
		mean = work * float64(g.n) * 0.06
	}
	g.amps = (g.friction + mean) / (1 - 1/1.45)
	g.amps = max(g.amps, 1.5*work*3)
	if g.all {
		g.amps = max(g.amps, 4*work)
		g.friction = g.amps*(1-1/1.45) - mean
	}
	if g.all { // heavy enough to get over the first compression
		g.inertia = max(g.inertia, 0.25)
	}
	g.stall = between(280, 600)
	quiet := between(0.3, 1)
	late, early := r.IntN(4) == 0, r.IntN(4) == 0
	pause := r.IntN(6) == 0
	pauseFrom := quiet + between(1.2, 1.8)
	if pause {
		last += 2.2
	}
	on := func(t float64) bool {
		return t > quiet && t < quiet+last && !(pause && t > pauseFrom && t < pauseFrom+1.6)
	}
	end := quiet + last + between(0.4, 0.9)
	all := g.run(on, end)
	f.truth(g, all, stairs)
	if g.all {
		for i, p := range g.peaks {
			f.known.FiringOrder = append(f.known.FiringOrder, i+1)
			f.relative[strconv.Itoa(i+1)] = 100 * p / slices.Max(g.peaks)
		}
		f.known.Cylinders = g.n
	}
	f.record(g, all, on, r, quiet, last, late, early, stairs)
	return f
}

// truth finds the compressions in what truly happened.
func (f *film) truth(g *rig, all []sample, stairs bool) {
	step := 360 * g.turns
	if g.kind == "rotary" {
		step = 360
	}
	if g.all {
		step = 720 / float64(g.n)
	}
	for i := 1; i < len(all); i++ {
		if math.Floor(all[i].phase/step) > math.Floor(all[i-1].phase/step) {
			f.times = append(f.times, all[i].t)
			high := all[i].p
			for j := max(0, i-600); j < min(len(all), i+600); j++ {
				if !stairs {
					high = max(high, all[j].p)
				}
			}
			if stairs {
				high = all[min(len(all)-1, i+900)].p
			}
			f.values = append(f.values, high)
		}
	}
}

// record writes what a recorder would have kept, in one of many forms.
func (f *film) record(g *rig, all []sample, on func(float64) bool, r *rand.Rand, quiet, last float64, late, early, stairs bool) {
	between := func(a, b float64) float64 { return a + (b-a)*r.Float64() }
	from, to := 0.0, all[len(all)-1].t
	if late && !stairs {
		from = quiet + between(0.4, 0.9)
		f.traps = append(f.traps, "late")
	}
	if early {
		to = quiet + last - between(0.05, 0.5)
		f.traps = append(f.traps, "early")
	}
	var kept []int
	for i, t := range f.times {
		if t > from+0.02 && t < to-0.02 {
			kept = append(kept, i)
		}
	}
	f.pick(kept, on)
	needle := r.IntN(4) == 0 && g.kind != "current"
	rate := []float64{200, 240, 250, 400, 480, 500, 1000, 2000, 5000}[r.IntN(9)]
	if needle {
		rate = []float64{240, 480}[r.IntN(2)]
		f.traps = append(f.traps, "needle")
	}
	high := 0.0
	for _, v := range f.values {
		high = max(high, v)
	}
	scale := high
	value := func(s sample) float64 { return s.p }
	if g.kind == "current" {
		scale, value = 100, func(s sample) float64 { return s.amps }
	}
	offset, drift, hum, hz := 0.0, 0.0, 0.0, []float64{50, 60}[r.IntN(2)]
	noise := scale * between(0.0005, 0.004)
	if !needle {
		if r.IntN(2) == 0 {
			offset = scale * between(-0.04, 0.04)
		}
		if r.IntN(3) == 0 {
			drift = scale * between(-0.01, 0.01)
		}
		if r.IntN(2) == 0 {
			hum = scale * between(0.003, 0.012)
			f.traps = append(f.traps, "hum")
		}
	}
	flip := 1.0
	if g.kind == "current" && r.IntN(4) == 0 {
		flip = -1
		f.traps = append(f.traps, "flipped")
	}
	top := math.Inf(1)
	if !needle && g.kind != "current" && r.IntN(8) == 0 {
		top = high * between(0.6, 0.9)
		f.cutOff = true
		f.traps = append(f.traps, "cut off")
	}
	lost := r.IntN(3) == 0
	jitter := r.IntN(4) == 0
	var rows [][2]float64
	var marks []bool
	pending := false
	next := from
	shown := value(all[0])
	f.peak = math.Inf(-1)
	best := make([]float64, len(f.times))
	k := 0
	for i, s := range all {
		if needle {
			const lag = 0.011
			shown += (value(s) - shown) * 1e-4 / lag
			if g.kind != "current" {
				shown = max(0, shown)
			}
		} else {
			shown = value(s)
		}
		if g.kind == "current" && i > 0 {
			pending = pending || math.Floor(s.phase/720) > math.Floor(all[i-1].phase/720)
		}
		for k < len(f.times)-1 && s.t > (f.times[k]+f.times[k+1])/2 {
			k++
		}
		if s.t >= from && s.t <= to {
			f.peak = max(f.peak, shown)
			if k < len(best) {
				best[k] = max(best[k], shown)
			}
		}
		if s.t < next-1e-6 || s.t > to {
			continue
		}
		next += 1 / rate
		v := shown + offset + drift*(s.t-from)/(to-from) + noise*r.NormFloat64()*0.5 + hum*math.Sin(2*math.Pi*hz*s.t)
		v = min(v, top)
		if needle {
			grain := scale / 150
			v = max(0, math.Round(v/grain)*grain)
		}
		t := s.t
		if jitter {
			t += between(-0.3, 0.3) / rate
		}
		rows, marks = append(rows, [2]float64{t, flip * v}), append(marks, pending)
		pending = false
	}
	if g.kind == "rotary" {
		f.faceTruth(g, best, on)
	}
	f.text = f.write(r, rows, marks, lost, rate)
}

// pick keeps the compressions that were recorded and reckons what is asked of them.
func (f *film) pick(kept []int, on func(float64) bool) {
	var t, v []float64
	for _, i := range kept {
		t, v = append(t, f.times[i]), append(v, f.values[i])
	}
	var gaps []float64
	for i := 1; i < len(t); i++ {
		if on(t[i]) && on(t[i-1]) && on((t[i]+t[i-1])/2) && on(t[i]-0.01) {
			gaps = append(gaps, t[i]-t[i-1])
		}
	}
	f.readable = len(gaps) >= 1
	if f.readable {
		sum := 0.0
		for _, g := range gaps {
			sum += g
		}
		turns := 2.0
		if f.kind == "rotary" || f.kind == "two-stroke" {
			turns = 1
		}
		n := float64(max(1, len(f.known.FiringOrder)))
		mean := 60 * turns * float64(len(gaps)) / sum
		middle := 60 * turns / mid(gaps)
		f.rpm = [2]float64{min(mean, middle) / n, max(mean, middle) / n}
	}
	f.times, f.values = t, v
}

func (f *film) faceTruth(g *rig, best []float64, on func(float64) bool) {
	var by [3][]float64
	for j := range f.times {
		if on(f.times[j]) {
			by[j%3] = append(by[j%3], best[j])
		}
	}
	for i := range by {
		if len(by[i]) > 0 {
			f.faces[i] = mid(by[i])
		}
	}
}

func mid(v []float64) float64 {
	s := append([]float64(nil), v...)
	for i := range s {
		for j := i; j > 0 && s[j] < s[j-1]; j-- {
			s[j], s[j-1] = s[j-1], s[j]
		}
	}
	return s[len(s)/2]
}

// write puts rows down as some recorder would.
func (f *film) write(r *rand.Rand, rows [][2]float64, marks []bool, lost bool, rate float64) string {
	by := []string{",", ";", "\t"}[r.IntN(3)]
	comma := by != "," && r.IntN(2) == 0
	number := func(v float64, digits int) string {
		s := strconv.FormatFloat(v, 'f', digits, 64)
		if comma {
			s = strings.Replace(s, ".", ",", 1)
		}
		return s
	}
	unit, size := "kPa", 1.0
	switch r.IntN(4) {
	case 0:
		unit, size = "bar", 100
	case 1:
		unit, size = "psi", 6.894757
	case 2:
		unit, size = "V", 400
	}
	name := []string{"Pressure", "p", "Druck", "Cylinder pressure"}[r.IntN(4)]
	current := f.known.Measured == trace.Current
	if current {
		name, unit, size = "Current", "A", 1
	}
	var b strings.Builder
	fmt.Fprintf(&b, "# Recorded: 2031-01-27 10:48\n")
	if slices.Contains(f.traps, "needle") {
		fmt.Fprintf(&b, "# Source: needle read from slow motion\n")
	}
	if unit == "V" {
		fmt.Fprintf(&b, "# Scale: 4.000 bar per V, 0 bar at 0.0 V\n")
	}
	ms := r.IntN(2) == 0
	bare := !current && r.IntN(5) == 0
	missing := []string{"NaN", "-", ""}[r.IntN(3)]
	if bare {
		fmt.Fprintf(&b, "# Sample rate: %s Hz\n", strconv.FormatFloat(rate, 'f', -1, 64))
		if missing == "" {
			missing = "NaN"
		}
		b.WriteString(name + " (" + unit + ")\n")
	} else {
		b.WriteString("Time " + map[bool]string{true: "[ms]", false: "[s]"}[ms] + by + name + " [" + unit + "]")
		if current {
			b.WriteString(by + "mark cyl 1")
		}
		b.WriteString("\n")
	}
	gap := 0
	for i, row := range rows {
		if lost && gap == 0 && r.Float64() < 0.004 {
			gap = 1 + r.IntN(6)
		}
		cell := number(row[1]/size, 4)
		if gap > 0 {
			gap--
			if !bare && r.IntN(2) == 0 && !marks[i] {
				continue
			}
			cell = missing
		}
		if bare {
			b.WriteString(cell + "\n")
			continue
		}
		t := row[0]
		if ms {
			t *= 1000
		}
		b.WriteString(number(t, 4) + by + cell)
		if current {
			b.WriteString(by + map[bool]string{true: "1", false: "0"}[marks[i]])
		}
		b.WriteString("\n")
	}
	return b.String()
}
