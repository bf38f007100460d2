package camera

import (
	"fmt"
	"image/color"
	"math"
	"math/rand/v2"
	"slices"
)

// truth is what was so in a film.
type truth struct {
	Kind     string // compression, rotary, leakdown, still, refuse
	Why      string // of what can't be read
	Unit     string
	From, To float64
	Values   []float64 // what the needle showed in each picture
	Smear    []float64 // half of what it swept
	Rest     []int     // pictures in which it stands
	Held     float64
	Peak     float64
	Beats    int
	RPM      float64
	Faces    []float64
	Hard     []string
}

// scales that gauges have.
var scales = []Scale{
	{0, 100, 20, 2, "psi"}, {0, 160, 20, 5, "psi"}, {0, 200, 20, 5, "psi"}, {0, 300, 50, 10, "psi"}, {0, 300, 30, 5, "psi"},
	{0, 600, 100, 20, "psi"}, {0, 1000, 200, 50, "psi"}, {0, 10, 1, 0.2, "bar"}, {0, 20, 5, 1, "bar"}, {0, 25, 5, 0.5, "bar"},
	{0, 40, 5, 1, "bar"}, {0, 2500, 500, 100, "kPa"}, {0, 30, 5, 1, "kgf/cm2"}, {20, 300, 40, 10, "psi"}, {0, 4, 0.5, 0.1, "bar"},
}

var faces = []struct {
	name              string
	face, ink, needle color.RGBA
}{
	{"white face", gray(238), gray(20), gray(15)},
	{"white face", gray(230), gray(25), gray(30)},
	{"yellowed face", color.RGBA{215, 196, 150, 255}, gray(30), gray(20)},
	{"black face", gray(22), gray(230), color.RGBA{235, 170, 30, 255}},
	{"black face", gray(28), gray(225), gray(240)},
	{"red needle", gray(235), gray(25), color.RGBA{190, 30, 25, 255}},
}

// anyFilm makes a film and its truth from a seed: any gauge, any hand, any light.
func anyFilm(seed uint64) (*Film, truth, Marks) {
	r := rand.New(rand.NewPCG(seed, 1))
	chance := func(p float64) bool { return r.Float64() < p }
	between := func(a, b float64) float64 { return a + (b-a)*r.Float64() }
	f := &Film{}
	var t truth
	hard := func(name string) { t.Hard = append(t.Hard, name) }

	look := faces[r.IntN(len(faces))]
	hard(look.name)
	f.Gauge = Gauge{
		Scale: scales[r.IntN(len(scales))], Start: between(125, 145), Sweep: 270, Face: look.face, Ink: look.ink, Needle: look.needle,
		Hub: gray(60), Thick: between(0.03, 0.09), Taper: between(0.2, 1), Reach: between(0.68, 0.88), Tail: between(0, 0.3),
		HubSize: between(0.06, 0.13), Lift: between(0.01, 0.04), Name: "ORBETT", Band: chance(0.2), Pin: chance(0.2),
	}
	f.Sweep = slices.Clone([]float64{270, 270, 270, 240, 300, 180})[r.IntN(6)]
	f.Start = 90 + (360-f.Sweep)/2 + between(-4, 4)
	if f.Sweep == 180 {
		hard("sweep 180")
	}
	if chance(0.08) {
		f.Start, f.Sweep = 180-f.Start, -f.Sweep
		hard("counterclockwise")
	}
	if chance(0.25) {
		second := Scale{0, 10, 2, 0.5, "bar"}
		f.Second = &second
		hard("two scales")
	}
	if f.Thick < 0.04 {
		hard("thin needle")
	}

	f.Shot = Shot{
		FPS: []float64{24, 30, 30, 30, 60, 120, 240}[r.IntN(7)], Near: between(4, 9), Tilt: between(0, 14), TiltAxis: between(0, 360),
		Roll: between(-8, 8), Exposure: between(0.05, 0.25), Noise: between(1, 5), Light: between(0.75, 1), Seed: seed + 7,
		Quality: 60 + r.IntN(35),
	}
	side := []int{240, 240, 240, 320, 320, 480}[r.IntN(6)]
	if large := rand.New(rand.NewPCG(seed, 2)); large.Float64() < 0.1 {
		side = []int{720, 1080}[large.IntN(2)]
	}
	hard(fmt.Sprint(side, " lines"))
	hard(fmt.Sprint(f.FPS, " fps"))
	f.Width, f.Height = side, side
	f.Size = float64(side) / 2 * between(0.55, 0.8)
	f.Off = [2]float64{between(-0.06, 0.06) * float64(side), between(-0.06, 0.06) * float64(side)}
	if chance(0.2) {
		f.Tilt = between(15, 28)
		hard("tilt 15-28")
	} else if chance(0.12) {
		f.Tilt = between(28, 36)
		hard("tilt 28-36")
	}
	if chance(0.1) {
		f.Roll = between(-170, 170)
		hard("turned far")
	}
	if chance(0.25) {
		f.Shake = between(1, 4) * float64(side) / 240
		hard("hand shake")
	}
	if chance(0.15) {
		f.Drift = between(1, 5) * float64(side) / 240
		hard("drift")
	}
	if chance(0.2) {
		f.Defocus = float64(1 + r.IntN(max(1, side/200)))
		hard("defocus")
	}
	if chance(0.2) {
		f.Light, f.Noise = between(0.15, 0.35), between(4, 9)
		hard("dim")
	}
	if chance(0.12) {
		f.Flicker = between(0.05, 0.2)
		hard("lamp flicker")
	}
	if chance(0.15) {
		f.Step = between(0.1, 0.4)
		hard("exposure step")
	}
	if chance(0.2) {
		f.Exposure = between(0.5, 0.95)
		hard("long exposure")
	}
	if chance(0.2) {
		f.Glare = between(0.1, 0.2)
		a := between(0, 2*math.Pi)
		f.GlareAt = [2]float64{0.5 * math.Cos(a), 0.5 * math.Sin(a)}
		hard("glare")
	}
	if chance(0.12) {
		f.Twice = 0.06
		hard("dropped frames")
	}
	if chance(0.2) {
		f.Quality = 30 + r.IntN(20)
		hard("jpeg under 50")
	}
	if chance(0.08) {
		f.Cover = between(0.3, 0.5)
		hard("finger")
	}
	move := Movement{between(3.5, 9), between(0.45, 0.9)}
	full := f.To - f.From
	share := between(0.3, 0.85)
	least := f.From - 0.004*full
	var pressure func(float64) float64
	seconds, vent := 4.0, math.Inf(1)
	start := between(0.35, 0.7)
	t.Unit, t.From, t.To = f.Unit, f.From, f.To
	switch r.IntN(10) {
	case 0, 1, 2, 3:
		t.Kind, t.Beats, t.RPM = "compression", 4+r.IntN(4), between(150, 300)
		done := start + float64(t.Beats)*120/t.RPM
		if seconds = done + 1; chance(0.5) {
			vent = done + 0.9
			seconds = vent + 0.5
		}
		pressure = Stairs(start, share*full, between(0.4, 0.65), t.RPM, t.Beats, vent)
		t.Held = f.From + share*full*(1-math.Pow(1-0.5, 9)) // set below from the needle
	case 4, 5:
		t.Kind, t.Beats, t.RPM = "rotary", 9+r.IntN(6), between(200, 300)
		seconds = start + float64(t.Beats)*60/t.RPM + 0.4
		a, b, c := between(0.8, 1), between(0.6, 1), between(0.8, 1)
		most := share * full
		pressure = Flickers(start, [3]float64{a * most, b * most, c * most}, t.RPM, t.Beats)
		move.Hz += 3
	case 6, 7:
		t.Kind = "leakdown"
		pressure = Settles(start, share*full)
	case 8:
		t.Kind = "still"
		pressure = func(float64) float64 { return share * full }
	default:
		t.Kind = "refuse"
		pressure = func(float64) float64 { return 0 }
	}
	f.Frames = int(seconds * f.FPS)
	swing := move.Swing(seconds+0.2, func(s float64) float64 { return f.From + pressure(s) }, least)
	f.Gauge.Pin = f.Gauge.Pin && t.Kind != "refuse"
	f.Follow(swing)
	t.look(f, swing, start, vent)
	marks := f.tapped(r, &t)
	if t.Kind == "refuse" {
		f.spoil(r, &t, &marks)
	}
	return f, t, marks
}

// look notes what the needle did.
func (t *truth) look(f *Film, swing func(float64) float64, start, vent float64) {
	full := t.To - t.From
	half := f.Exposure / f.FPS / 2
	for i := range f.Frames {
		at := float64(i) / f.FPS
		low, high := math.Inf(1), math.Inf(-1)
		for k := range 7 {
			v := swing(max(0, at+half*float64(k-3)/3))
			low, high = min(low, v), max(high, v)
		}
		t.Values, t.Smear = append(t.Values, (low+high)/2), append(t.Smear, (high-low)/2)
		t.Peak = max(t.Peak, (low+high)/2)
		moves := 0.0
		for k := range 11 {
			moves = max(moves, math.Abs(swing(max(0, at+0.1*float64(k-5)/5))-swing(at)))
		}
		if moves < 0.002*full {
			t.Rest = append(t.Rest, i)
		}
	}
	last := float64(f.Frames-1) / f.FPS
	t.Held = swing(min(last, vent-0.02))
	if t.Kind != "rotary" {
		return
	}
	// The top of each pulse; those of the turns from the second on, of one face, together.
	gap := 60 / t.RPM
	var tops [3][]float64
	for k := 3; k < t.Beats; k++ {
		top := 0.0
		for i := range 60 {
			top = max(top, swing(start+gap*(float64(k)-0.1+0.85*float64(i)/60)))
		}
		tops[k%3] = append(tops[k%3], top)
	}
	t.Faces = make([]float64, 3)
	for k, all := range tops {
		for _, v := range all {
			t.Faces[k] += v / float64(len(all))
		}
	}
}

// tapped are the marks as a finger makes them.
func (f *Film) tapped(r *rand.Rand, t *truth) Marks {
	slip := 1.2 * float64(f.Width) / 240
	if r.Float64() < 0.2 {
		slip *= 2.5
		t.Hard = append(t.Hard, "sloppy taps")
	}
	ring := 0.83
	if r.Float64() < 0.3 {
		ring = figuresAt
		t.Hard = append(t.Hard, "tapped the figures")
	}
	tap := func(x, y float64) [2]float64 {
		px, py := f.At(x, y, 0)
		return [2]float64{px + slip*r.NormFloat64(), py + slip*r.NormFloat64()}
	}
	f.hold()
	m := Marks{Centre: tap(0, 0), Unit: f.Unit}
	n := int(math.Round((f.To - f.From) / f.Major))
	want := 1 + r.IntN(4)
	if f.Sweep < 0 || want < 2 && r.Float64() < 0.7 {
		want = max(2, want)
	}
	picks := map[int]bool{0: true}
	for len(picks) < min(want+1, n+1) {
		picks[1+r.IntN(n)] = true
	}
	if want == 1 { // so that the way round is plain
		picks = map[int]bool{0: true, 1 + r.IntN(max(1, int(0.6*180/math.Abs(f.Sweep)*float64(n)))): true}
	}
	for i := range n + 1 {
		if picks[i] {
			v := f.From + float64(i)*f.Major
			s, c := math.Sincos(f.Angle(v) * math.Pi / 180)
			m.Points = append(m.Points, Mark{At: tap(ring*c, ring*s), Value: v})
		}
	}
	return m
}

// spoil makes a film that can't be read.
func (f *Film) spoil(r *rand.Rand, t *truth, m *Marks) {
	switch r.IntN(5) {
	case 0:
		t.Why, f.CoverAll = "needle covered", true
	case 1:
		t.Why, f.Gauge.Reach, f.Gauge.Tail, f.Gauge.Thick = "needle missing", 0.001, 0, 0.0001
	case 2:
		t.Why, f.Digital = "digital display", true
	case 3:
		t.Why = "half a gauge"
		f.Off[1] -= float64(f.Height) * 0.55
		f.hold()
		px, py := f.At(0, 0, 0)
		points := []Mark{{[2]float64{px - 60, 40}, f.From}, {[2]float64{px + 50, 70}, f.To}}
		*m = Marks{Centre: [2]float64{px, max(0, py)}, Points: points, Unit: f.Unit}
	default:
		t.Why = "marks that are no dial"
		c := m.Centre
		*m = Marks{Centre: c, Points: []Mark{{[2]float64{c[0] + 2, c[1] + 1}, 0}, {[2]float64{c[0] - 3, c[1]}, f.To}}, Unit: f.Unit}
	}
}
