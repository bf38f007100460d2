package trace

import (
	"math"
	"slices"
	"strconv"

	"gonum.org/v1/gonum/floats"
	"gonum.org/v1/gonum/mat"

	"braxel/internal/core/gas"
	"braxel/internal/core/say"
)

// readCurrent reads the starter's current of a whole engine: it rises once for each compression, the later cylinders in firing
// order after the one whose dead centre is marked.
func readCurrent(a *Answer, r Recording, s signal, k Known) {
	a.Form = Humps
	n := k.Cylinders
	if n == 0 {
		a.Why = say.Text("trace.how-many-cylinders-engine-has")
		return
	}
	s.upright()
	s.smooth = s.bell(0.004)
	c, ok := s.cranked()
	if !ok {
		a.Why = say.Text("trace.starter-isnt-running-recording-current")
		return
	}
	crank, ok := s.turning(c, r.Marks, k, usualMotor)
	if !ok {
		a.Why = say.Text("trace.current-doesnt-rise-fall-with")
		return
	}
	a.RPM = crank.rpm(c)
	beats := crank.beats(s, c, k, r.Marked)
	a.Pulses = len(beats)
	if a.Pulses < 2 {
		a.Why = say.Text("trace.fewer-than-two-compressions-recording")
		return
	}
	a.Readable, a.Beats = true, beats
	a.SpeedFellPct = fell(a.Beats)
	a.Why = say.Text("trace.compressions-at-rpm", "pulses", a.Pulses, "rpm", a.RPM)
	first := slices.Index(k.FiringOrder, r.Marked)
	if len(r.Marks) == 0 || first < 0 {
		a.Why += say.Text("trace.no-cylinder-marked-so-they")
		return
	}
	if n < 2 {
		return
	}
	relative, ok := s.shares(c, r.Marks, k)
	if !ok {
		a.Why += say.Text("trace.too-few-whole-turns-compare")
		return
	}
	a.RelativePct = map[string]float64{}
	low, lowest := 0, math.Inf(1)
	for i, pct := range relative {
		cylinder := k.FiringOrder[(first+i)%n]
		a.RelativePct[strconv.Itoa(cylinder)] = math.Round(10*pct) / 10
		if pct < lowest {
			low, lowest = cylinder, pct
		}
	}
	a.Why += say.Text("trace.lowest-cylinder-at-highest", "low", low, "lowest", lowest)
}

// upright turns a recording over whose clamp was on the wrong way round, and takes off what the clamp shows at no current.
func (s *signal) upright() {
	if low, high := slices.Min(s.v), slices.Max(s.v); math.Abs(low) > math.Abs(high) {
		floats.Scale(-1, s.v)
	}
	// What is shown at rest: the lowest level that is kept for a while.
	smooth := s.bell(0.01)
	level := quantile(smooth, 0.02)
	if first := median(s.v[:max(3, min(len(s.v), int(0.05/s.step)))]); first < quantile(smooth, 0.3) {
		level = first
	}
	if level < 0.4*median(s.v) {
		floats.AddConst(-level, s.v)
	}
}

// cranking is the stretches, from and to a sample, in which the starter ran.
type cranking [][2]int

// cranked finds when the starter ran: taken over several compressions, the current stands above a quarter of what it mostly is while
// it does. Between two compressions alone it may all but cease.
func (s signal) cranked() (cranking, bool) {
	wide, fine := s.bell(0.06), s.bell(0.006)
	high := quantile(wide, 0.8)
	if high < 6*s.noise || high < 5 {
		return nil, false
	}
	near := int(0.15 / s.step)
	var all cranking
	from := -1
	for i, v := range wide {
		on := v > 0.25*high
		if on && from < 0 {
			from = i
		}
		if (on && i < len(wide)-1) || from < 0 {
			continue
		}
		a, b := max(0, from-near), min(len(fine)-1, i+near)
		for a < b && fine[a] < 0.3*high {
			a++
		}
		for b > a && fine[b] < 0.3*high {
			b--
		}
		if float64(b-a)*s.step > 0.25 {
			all = append(all, [2]int{a, b})
		}
		from = -1
	}
	return all, len(all) > 0
}

// crank is where the crankshaft stood at each sample, in compressions from a marked dead centre: whole numbers are dead centres.
type crank struct {
	phase []float64
	n     int // compressions a cycle
	turns float64
	step  float64
}

// centres returns at how many s from the first sample each dead centre of a run was passed, and the phase of the first.
func (c crank) centres(run [2]int) (seconds []float64, first float64) {
	first = math.Ceil(c.phase[run[0]])
	for p := first; p <= c.phase[run[1]]; p++ {
		seconds = append(seconds, c.when(p, run))
	}
	return seconds, first
}

// rpm returns the mean speed while the starter drove, its first pull and pauses left out.
func (c crank) rpm(run cranking) float64 {
	var beats []Beat
	for _, r := range run {
		seconds, _ := c.centres(r)
		for _, t := range seconds {
			beats = append(beats, Beat{Seconds: t})
		}
	}
	if len(beats) < 2 {
		return 0
	}
	return speed(beats, median(gaps(beats)), c.turns/float64(c.n))
}

// when returns at how many s from the first sample a phase was passed within a run.
func (c crank) when(phase float64, run [2]int) float64 {
	i, _ := slices.BinarySearch(c.phase[run[0]:run[1]+1], phase)
	i += run[0]
	if i == run[0] || i > run[1] {
		return float64(i) * c.step
	}
	a, b := c.phase[i-1], c.phase[i]
	return (float64(i-1) + (phase-a)/(b-a)) * c.step
}

// beats lists the compressions.
func (c crank) beats(s signal, run cranking, k Known, marked int) []Beat {
	var all []Beat
	order := slices.Index(k.FiringOrder, marked)
	for _, r := range run {
		seconds, first := c.centres(r)
		for i, t := range seconds {
			b := Beat{Seconds: s.from + t, Value: s.v[min(int(t/s.step), len(s.v)-1)], Whole: true}
			if i > 0 {
				b.RPM = 60 * c.turns / float64(c.n) / (t - seconds[i-1])
			}
			if order >= 0 {
				b.Number = k.FiringOrder[((order+int(first)+i)%c.n+c.n)%c.n]
			}
			all = append(all, b)
		}
	}
	return all
}

// turning follows the crank. A starter's speed falls straight with its current, from what it would run at freely to nothing at
// what it draws when it is held; so the current itself says how the crank turned between two marks.
func (s signal) turning(run cranking, marks []float64, k Known, m motor) (crank, bool) {
	c := crank{phase: make([]float64, len(s.v)), n: k.Cylinders, turns: k.Turns(), step: s.step}
	smooth := s.smooth
	held := m.stall * slices.Max(smooth)
	// speed in units of the free one, and its integral in s.
	way := make([]float64, len(s.v))
	early := int(math.Round(m.coil / s.step))
	inRun := func(i int) bool {
		for _, r := range run {
			if i >= r[0] && i <= r[1] {
				return true
			}
		}
		return false
	}
	for i := 1; i < len(way); i++ {
		way[i] = way[i-1]
		if inRun(i) {
			way[i] += s.step * max(0, 1-smooth[min(i+early, len(smooth)-1)]/held)
		}
	}
	var at []int
	for _, m := range marks {
		if i := s.index(m); inRun(i) || inRun(max(0, i-int(0.05/s.step))) {
			at = append(at, i)
		}
	}
	per := 0.0 // way of one compression
	if len(at) >= 2 {
		var cycles []float64
		for i := 1; i < len(at); i++ {
			cycles = append(cycles, way[at[i]]-way[at[i-1]])
		}
		per = median(cycles) / float64(c.n)
	} else {
		var ok bool
		if per, ok = s.rate(way, run, c.n, c.turns); !ok {
			return c, false
		}
	}
	if !(per > 0) {
		return c, false
	}
	c.lay(way, at, per)
	if len(at) == 0 {
		c.align(smooth, run)
	}
	rpm := c.rpm(run)
	return c, rpm > slowest && rpm < quickest
}

// lay sets the phase from the way: at a mark a whole number of cycles, between two marks in proportion.
func (c crank) lay(way []float64, at []int, per float64) {
	n := float64(c.n)
	if len(at) == 0 {
		for i := range way {
			c.phase[i] = way[i] / per
		}
		return
	}
	begins := make([]float64, len(at)) // phase at each mark
	for i := 1; i < len(at); i++ {
		cycles := max(1, math.Round((way[at[i]]-way[at[i-1]])/(per*n)))
		begins[i] = begins[i-1] + cycles*n
	}
	for i := range way {
		j, _ := slices.BinarySearch(at, i+1)
		j--
		switch {
		case j < 0:
			c.phase[i] = (way[i] - way[at[0]]) / per
		case j == len(at)-1:
			c.phase[i] = begins[j] + (way[i]-way[at[j]])/per
		default:
			c.phase[i] = begins[j] + (begins[j+1]-begins[j])*(way[i]-way[at[j]])/(way[at[j+1]]-way[at[j]])
		}
	}
}

// rate finds the way of one compression where no cylinder is marked: the shortest period that the current repeats itself by.
func (s signal) rate(way []float64, run cranking, n int, turns float64) (float64, bool) {
	longest := slices.MaxFunc(run, func(a, b [2]int) int { return a[1] - a[0] - b[1] + b[0] })
	from := longest[0] + (longest[1]-longest[0])/5
	part := s.v[from : longest[1]+1]
	part = minus(part, running(part, max(3, int(0.35/s.step))))
	score := func(lag int) float64 {
		var ab, aa, bb float64
		for i := lag; i < len(part); i++ {
			ab, aa, bb = ab+part[i]*part[i-lag], aa+part[i]*part[i], bb+part[i-lag]*part[i-lag]
		}
		return ab / math.Sqrt(aa*bb+1e-12)
	}
	gap := func(rpm float64) int { return int(60 * turns / float64(n) / rpm / s.step) }
	best, bestLag := 0.0, 0
	for lag := max(2, gap(500)); lag <= gap(80) && lag < len(part)/2; lag++ {
		if v := score(lag); v > best+0.1 || v > best && lag < bestLag*5/4 {
			best, bestLag = v, lag
		}
	}
	if best < 0.35 {
		return 0, false
	}
	seconds := float64(bestLag) * s.step
	return (way[longest[1]] - way[from]) / (float64(longest[1]-from) * s.step) * seconds, true
}

// align shifts the phase so that the rises of current come a little before its whole numbers.
func (c crank) align(smooth []float64, run cranking) {
	var sin, cos float64
	for _, r := range run {
		for i := r[0] + (r[1]-r[0])/5; i <= r[1]; i++ {
			a, b := math.Sincos(2 * math.Pi * c.phase[i])
			sin, cos = sin+smooth[i]*a, cos+smooth[i]*b
		}
	}
	shift := math.Atan2(sin, cos) / (2 * math.Pi)
	floats.AddConst(-shift, c.phase)
}

// What the cylinders of an engine whose figures are not known are taken for: most that are tested so are like it, and only the
// shape of the torque goes by it, which they share.
var usualCylinder = gas.Bleeding{Ratio: 10, CC: 450, Exponent: 1.23}

// shapes are the torques of a cylinder that holds so much of a sound one's pressure.
type shapes struct {
	share  []float64
	torque [][]float64
}

// bled returns the shapes at a speed, from a sound cylinder to one that holds a tenth.
func bled(rpm float64) shapes {
	b := usualCylinder
	b.RPM = rpm
	var s shapes
	sound := 0.0
	for area := 0.0; area < 60; area = 1.25*area + 0.02 {
		torque, peak := b.Torque(area)
		if area == 0 {
			sound = peak
		}
		s.share, s.torque = append(s.share, peak/sound), append(s.torque, torque)
		if peak < 0.05*sound {
			break
		}
	}
	return s
}

// at returns the torque at degrees from the dead centre of a cylinder that holds that share.
func (s shapes) at(share float64) []float64 {
	i := 0
	for i < len(s.share)-2 && s.share[i+1] > share {
		i++
	}
	w := min(max((s.share[i]-share)/(s.share[i]-s.share[i+1]), 0), 1)
	more := max(share, 1) // a cylinder above the sound one has a higher ratio
	out := make([]float64, len(s.torque[i]))
	for d := range out {
		out[d] = more * ((1-w)*s.torque[i][d] + w*s.torque[i+1][d])
	}
	return out
}

// motor is how the current follows the torque: stall is what the starter draws when it is held, in units of its first pull, which
// the crank has already begun to yield to; wheel is the time in s in which the flywheel gives and takes, coil the shorter one of the
// starter's coils and of the clamp.
type motor struct{ stall, wheel, coil float64 }

// usualMotor is where the search begins.
var usualMotor = motor{stall: 1.4, wheel: 0.15, coil: 0.012}

// within keeps a motor to what starters are.
func (m motor) within() motor {
	return motor{min(max(m.stall, 1), 3), min(max(m.wheel, 0.03), 1), min(max(m.coil, 0.002), 0.04)}
}

// shares returns each cylinder's pressure in percent of the highest, from the marked one in firing order. The current follows the
// torque of all cylinders together, through the flywheel and the coils; how, is found by trying, one figure of the motor at a time.
func (s signal) shares(run cranking, marks []float64, k Known) ([]float64, bool) {
	var shape shapes
	try := func(m motor) ([]float64, float64) {
		c, ok := s.turning(run, marks, k, m)
		if !ok {
			return nil, math.Inf(1)
		}
		if shape.torque == nil {
			shape = bled(c.rpm(run))
		}
		rows := c.rows(s, run)
		if len(rows) < 12*c.n {
			return nil, math.Inf(1)
		}
		return c.fit(s, run, rows, shape, m)
	}
	best := usualMotor
	held, left := try(best)
	for _, finer := range []float64{1.5, 1.22, 1.1} {
		for range 4 {
			before := left
			more, less := finer, 1/finer
			for _, by := range []motor{
				{1, more, 1}, {1, less, 1}, {1, 1, more}, {1, 1, less}, {more, 1, 1}, {less, 1, 1}, {1, less, more}, {1, more, less},
			} {
				m := motor{best.stall * by.stall, best.wheel * by.wheel, best.coil * by.coil}.within()
				if h, l := try(m); l < left {
					best, held, left = m, h, l
				}
			}
			if left >= before {
				break
			}
		}
	}
	if held == nil {
		return nil, false
	}
	top := slices.Max(held)
	out := make([]float64, len(held))
	for i, v := range held {
		out[i] = 100 * v / top
	}
	return out, true
}

// mostRows is about as many samples as are compared by: more of a long recording tell no more.
const mostRows = 2000

// rows returns the samples that the cylinders are compared by: from each run those after the starter's first pull.
func (c crank) rows(s signal, run cranking) []int {
	var rows []int
	count := 0
	for _, r := range run {
		count += r[1] - r[0]
	}
	stride := 1 + count/mostRows
	for _, r := range run {
		for i := r[0] + int(0.12/s.step); i < r[1]-int(0.01/s.step); i += stride {
			if !s.lost[i] && c.phase[i] > c.phase[r[0]]+1 {
				rows = append(rows, i)
			}
		}
	}
	return rows
}

// What is believed of a cylinder's share before it is measured: about that of a good engine, but anything may be. It settles only
// what the current leaves open, above all how much all of them bleed alike.
const (
	likelyShare  = 0.93
	shareUnknown = 0.25
)

// fit returns the share of a sound cylinder's pressure that each holds, at one pair of lags, and the root mean square of what is
// left unexplained: least squares of the current as a level, a drift, the tail of each run's first pull, and one gain for the
// torque of all, whose shape goes by their shares, changed step by step. None, and no end of what is left, where it cannot be fitted.
func (c crank) fit(s signal, run cranking, rows []int, shape shapes, lag motor) (held []float64, left float64) {
	held = make([]float64, c.n)
	for i := range held {
		held[i] = likelyShare
	}
	gain := 0.0
	fixed := 3 + len(run) // gain, level, drift, tails
	columns := fixed + c.n
	design, y := mat.NewDense(len(rows), columns, nil), mat.NewVecDense(len(rows), nil)
	middle := s.at(len(s.v) / 2)
	for r, i := range rows {
		y.SetVec(r, s.v[i])
		design.Set(r, 1, 1)
		design.Set(r, 2, s.at(i)-middle)
		for m, one := range run {
			if i >= one[0] && i <= one[1] {
				design.Set(r, 3+m, math.Exp(-float64(i-one[0])*s.step/lag.wheel))
			}
		}
	}
	const small = 0.02 // of a share, for the difference
	for range 7 {
		for r := range rows {
			design.Set(r, 0, 0)
		}
		for j := range c.n {
			now, less := c.through(run, shape.at(held[j]), j, lag), c.through(run, shape.at(held[j]-small), j, lag)
			for r, i := range rows {
				design.Set(r, 0, design.At(r, 0)+now[i])
				design.Set(r, fixed+j, gain*(now[i]-less[i])/small)
			}
		}
		x, rest := least(design, y, held, fixed, left)
		if x == nil || x[0] <= 0 {
			return nil, math.Inf(1)
		}
		left = rest
		if gain == 0 {
			gain = x[0]
			continue
		}
		gain = x[0]
		for j := range held {
			held[j] = min(max(held[j]+min(max(x[fixed+j], -0.15), 0.15), 0.06), 1.3)
		}
	}
	return held, left
}

// least solves the step of fit, with what is believed of the shares before as rows of their own, and returns the root mean square
// of what is left. doubt is that of the step before, 0 in the first.
func least(design *mat.Dense, y *mat.VecDense, held []float64, fixed int, doubt float64) ([]float64, float64) {
	rows, columns := design.Dims()
	var gram mat.SymDense
	gram.SymOuterK(1, design.T())
	var right, x, rest mat.VecDense
	right.MulVec(design.T(), y)
	// Neighbouring samples err alike, through the same compression: some tens of them count as one.
	const alike = 30
	weight := alike * doubt * doubt / shareUnknown / shareUnknown
	for j := range columns {
		gram.SetSym(j, j, gram.At(j, j)*(1+1e-9)+1e-9)
		if j >= fixed {
			gram.SetSym(j, j, gram.At(j, j)+weight)
			right.SetVec(j, right.AtVec(j)+weight*(likelyShare-held[j-fixed]))
		}
	}
	var chol mat.Cholesky
	if !chol.Factorize(&gram) {
		return nil, 0
	}
	if err := chol.SolveVecTo(&x, &right); err != nil {
		return nil, 0
	}
	rest.MulVec(design, &x)
	rest.SubVec(y, &rest)
	return x.RawVector().Data, mat.Norm(&rest, 2) / math.Sqrt(float64(rows))
}

// through returns the torque of the j-th cylinder after the marked one at each sample of the runs, as the flywheel passes it on.
func (c crank) through(run cranking, torque []float64, j int, lag motor) []float64 {
	out := make([]float64, len(c.phase))
	degrees := 360 * c.turns
	wheel, coil := math.Exp(-c.step/lag.wheel), math.Exp(-c.step/lag.coil)
	for _, r := range run {
		v, w := 0.0, 0.0
		for i := r[0]; i <= r[1]; i++ {
			deg := math.Mod((c.phase[i]-float64(j))*degrees/float64(c.n), degrees)
			if deg < -degrees/2 {
				deg += degrees
			}
			if deg >= degrees/2 {
				deg -= degrees
			}
			now := 0.0
			if d := deg + 180; d >= 0 && d < 360 {
				k := int(d)
				now = torque[k] + (d-float64(k))*(torque[k+1]-torque[k])
			}
			v = wheel*v + (1-wheel)*now
			w = coil*w + (1-coil)*v
			out[i] = w
		}
	}
	return out
}
