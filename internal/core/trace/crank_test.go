package trace_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/trace"
)

func near(x, lo, hi, rel, floor float64) bool {
	return x >= lo-max(rel*math.Abs(lo), floor) && x <= hi+max(rel*math.Abs(hi), floor)
}

// wrong says what a film was read wrongly in: the speed and the peak are asked within 2 %, faces within 3 %, the cylinders of a
// starter's current within 3 points.
func (f film) wrong(a trace.Answer) (all []string) {
	say := func(ok bool, words string, args ...any) {
		if !ok {
			all = append(all, fmt.Sprintf(words, args...))
		}
	}
	say(a.Readable == f.readable, "readable %v: %s", a.Readable, a.Why)
	if !f.readable || !a.Readable {
		return all
	}
	say(near(a.RPM, f.rpm[0], f.rpm[1], 0.02, 0), "rpm %.1f of %.1f", a.RPM, f.rpm)
	// Of a staircase the later steps hardly show.
	few, many := len(f.times)-2, len(f.times)+1
	say(a.Form == trace.Staircase || a.Pulses >= few && a.Pulses <= many, "%d pulses of %d", a.Pulses, len(f.times))
	switch {
	case a.Form == trace.Humps:
	case f.cutOff:
		say(a.PeakKPa == nil, "a peak though it is cut off")
	case a.PeakKPa == nil:
		say(false, "no peak: %s", a.Why)
	default:
		say(near(*a.PeakKPa, f.peak, f.peak, 0.02, 5), "peak %.1f of %.1f", *a.PeakKPa, f.peak)
	}
	if f.kind == "rotary" && !f.cutOff {
		say(f.sameFaces(a.FacesKPa), "faces %.0f of %.0f", a.FacesKPa, f.faces)
	}
	for c, pct := range f.relative {
		say(near(a.RelativePct[c], pct, pct, 0, 3), "cylinder %s %.1f %% of %.1f", c, a.RelativePct[c], pct)
	}
	return all
}

// sameFaces reports whether three faces are those of the film, from any of them on.
func (f film) sameFaces(faces []float64) bool {
	for shift := range faces {
		fits := len(faces) == 3
		for i := range faces {
			fits = fits && near(faces[(i+shift)%3], f.faces[i], f.faces[i], 0.03, 8)
		}
		if fits {
			return true
		}
	}
	return false
}

func read(f film) trace.Answer {
	r, err := trace.Parse(f.text, f.known)
	if err != nil {
		return trace.Answer{Why: err.Error()}
	}
	return trace.Read(r, f.known)
}

// Of films of engines that are stepped through time, with leaks, hum, drift, lost rows and every form of file, nearly all are read
// right. A starter's current of an engine whose geometry nobody knows gives the cylinders within three points four times in five.
func TestFilmsOfMadeEnginesAreReadRight(t *testing.T) {
	const films = 16
	for kind, wrong := range map[string]int{"pulses": 1, "staircase": 3, "two-stroke": 1, "diesel": 1, "dead": 1, "rotary": 2, "current": 4} {
		var failed []string
		for seed := range uint64(films) {
			f := made(kind, seed)
			if w := f.wrong(read(f)); w != nil {
				failed = append(failed, fmt.Sprint(kind, " ", seed, f.traps, w))
			}
		}
		assert.LessOrEqual(t, len(failed), wrong, strings.Join(failed, "\n"))
	}
}

// What is added to every sample, how fast the clock runs from which hour, and the unit change nothing that is told.
func TestAnOffsetAndAnotherClockChangeNothing(t *testing.T) {
	for _, kind := range []string{"pulses", "two-stroke", "dead"} {
		f := made(kind, 3)
		r, err := trace.Parse(f.text, f.known)
		require.NoError(t, err)
		want := trace.Read(r, f.known)
		require.True(t, want.Readable)
		r.Needle = false
		for i := range r.Values {
			r.Values[i] += 37.5
			r.Seconds[i] += 40000
		}
		got := trace.Read(r, f.known)
		assert.InEpsilon(t, want.RPM, got.RPM, 1e-3, kind)
		assert.Equal(t, want.Pulses, got.Pulses, kind)
		assert.InDelta(t, *want.PeakKPa, *got.PeakKPa, 1, kind)
	}
}

// Pressures that are all twice as high give twice the peak, at the same speed.
func TestTwiceThePressureIsTwiceThePeak(t *testing.T) {
	f := made("staircase", 6)
	r, err := trace.Parse(f.text, f.known)
	require.NoError(t, err)
	one := trace.Read(r, f.known)
	for i := range r.Values {
		r.Values[i] *= 2
	}
	two := trace.Read(r, f.known)
	require.NotNil(t, one.PeakKPa)
	require.NotNil(t, two.PeakKPa)
	assert.InEpsilon(t, 2**one.PeakKPa, *two.PeakKPa, 0.01)
	assert.InEpsilon(t, one.RPM, two.RPM, 0.01)
}

// A recorder that turns the sign, one that slips for a sample, and remarks among the rows change nothing.
func TestASlipOfTheRecorderChangesNothing(t *testing.T) {
	pulse := func(t float64) float64 { return 900 * math.Exp(-math.Pow((math.Mod(t*1.9, 1)-0.5)/0.05, 2)) }
	plain := sheet("Time [s],p [kPa]", 3000, pulse)
	for name, text := range map[string]string{
		"turned":   sheet("Time [s],p [kPa]", 3000, func(t float64) float64 { return -pulse(t) }),
		"a spike":  strings.Replace(plain, "1.400,", "1.400,99999\n1.401,", 1),
		"infinite": strings.Replace(plain, "1.400,", "1.400,1e308\n1.401,", 1),
		"remarks":  strings.ReplaceAll(plain, "\n0.1", "\nlooked away\n0.1"),
	} {
		r, err := trace.Parse(text, trace.Known{Engine: "four-stroke"})
		require.NoError(t, err, name)
		a := trace.Read(r, trace.Known{Engine: "four-stroke"})
		require.True(t, a.Readable, "%s: %s", name, a.Why)
		assert.InEpsilon(t, 228, a.RPM, 2e-3, name)
		assert.InEpsilon(t, 900, *a.PeakKPa, 5e-3, name)
	}
}

// sheet writes a recording of a pressure by time.
func sheet(head string, n int, value func(t float64) float64) string {
	var b strings.Builder
	b.WriteString(head + "\n")
	for i := range n {
		t := float64(i) / 500
		fmt.Fprintf(&b, "%.3f,%.3f\n", t, value(t))
	}
	return b.String()
}

func TestWhatIsNoCrankingIsRefused(t *testing.T) {
	noise := func(i float64) float64 { return math.Mod(i*7919.123, 1) - math.Mod(i*104729.77, 1) }
	for name, value := range map[string]func(float64) float64{
		"noise":             noise,
		"hum":               func(t float64) float64 { return 8*math.Sin(2*math.Pi*50*t) + 0.2*noise(t) },
		"drift":             func(t float64) float64 { return 20*t + noise(t) },
		"the end of range":  func(float64) float64 { return 600 },
		"one hump, by hand": func(t float64) float64 { return 600*math.Exp(-(t-2)*(t-2)/0.1) + noise(t) },
	} {
		r, err := trace.Parse(sheet("Time [s],p [kPa]", 2500, value), trace.Known{Engine: "four-stroke"})
		require.NoError(t, err, name)
		a := trace.Read(r, trace.Known{Engine: "four-stroke"})
		assert.False(t, a.Readable, "%s: %+v", name, a.Why)
		assert.NotEmpty(t, a.Why, name)
	}
	// A flat starter's lead too.
	k := trace.Known{Engine: "four-stroke", Measured: trace.Current, Cylinders: 4, FiringOrder: []int{1, 3, 4, 2}}
	r, err := trace.Parse(sheet("Time [s],I [A]", 2500, noise), k)
	require.NoError(t, err)
	assert.False(t, trace.Read(r, k).Readable)
}

func TestAFileThatIsNoRecordingIsRefusedAtItsLine(t *testing.T) {
	rows := strings.SplitN(sheet("", 400, func(t float64) float64 { return 10 * t }), "\n", 2)[1]
	for _, c := range []struct {
		name, text, why string
		line            int
	}{
		{"nothing", "", "no rows", 0},
		{"words", "a photo\nof a gauge\n", "no rows", 0},
		{"no heading", rows, "no heading", 1},
		{"no unit", "Time [s],Pressure\n" + rows, "unit", 1},
		{"volts of unknown worth", "Time [s],Pressure [V]\n" + rows, "how much a volt stands for", 1},
		{"no clock", "n,p (kPa)\n" + rows, "no time column", 1},
		{"three rows", "Time [s],p [kPa]\n0,1\n0.1,2\n0.2,3\n", "only 3 rows", 2},
		{"a clock that runs back", "Time [s],p [kPa]\n" + rows + rows, "runs backwards", 402},
		{"a clock that stands", "Time [s],p [kPa]\n" + strings.Repeat("1.0,2.0\n", 40), "don't advance", 2},
	} {
		_, err := trace.Parse(c.text, trace.Known{})
		require.Error(t, err, c.name)
		assert.Contains(t, err.Error(), c.why, c.name)
		refused := new(trace.Refused)
		require.ErrorAs(t, err, &refused)
		assert.Equal(t, c.line, refused.Line, c.name)
	}
}

// Two samples at one time, and stamps a little out of order, are read.
func TestStampsThatJitterAreSorted(t *testing.T) {
	text := "Time [ms];p [bar]\n"
	for i := range 100 {
		j := i ^ 1 // each pair exchanged
		text += fmt.Sprintf("%d;%d,5\n", 10*j, j)
	}
	text += "995;1,0\n995;3,0\n"
	r, err := trace.Parse(text, trace.Known{})
	require.NoError(t, err)
	for i := 1; i < len(r.Seconds); i++ {
		require.LessOrEqual(t, r.Seconds[i-1], r.Seconds[i])
	}
	assert.InDelta(t, 350.0, r.Values[3], 1e-9, "3,5 bar")
}

func TestHeadsOfManyRecorders(t *testing.T) {
	rows := func(by, point string) string {
		var b strings.Builder
		for i := range 60 {
			fmt.Fprintf(&b, "%s%s%s\n", strings.Replace(fmt.Sprintf("%.3f", float64(i)/100), ".", point, 1), by, strings.Replace(fmt.Sprintf("%.2f", float64(i)/20), ".", point, 1))
		}
		return b.String()
	}
	bare := func(n int) string { return strings.Repeat("0.50\n1.50\n", n) }
	for _, c := range []struct {
		text        string
		last, value float64 // the last time in s and its value in kPa
	}{
		{"t (s),p (kPa)\n" + rows(",", "."), 0.59, 2.95},
		{"Zeit/ms;Druck/bar\n" + rows(";", ","), 0.00059, 295},
		{"# Scale: 0.5 V = 0 psi, 4.5 V = 100 psi\nTime [s]\tPressure [V]\n" + rows("\t", "."), 0.59, 25 * 2.45 * 6.894757293168361},
		{"Scale;zero 0,5 V; scale 2,5 bar/V\nTime/s;p/V\n" + rows(";", ","), 0.59, 250 * 2.45},
		{"# sensitivity 80 mV/bar\nTime_s,p_mV\n" + rows(",", "."), 0.59, 2.95 / 80 * 100},
		{"elapsed,channel 1\ns,psig\n" + rows(",", "."), 0.59, 2.95 * 6.894757293168361},
		{"n,time,ch1\n,s,PSI\n" + strings.ReplaceAll("1,"+rows(",", "."), "\n", "\n1,")[:500], 0, 0},
		{"Frames per second: 240\npressure (bar)\n" + bare(30), 59.0 / 240, 150},
		{"Sample interval: 2 ms\np in kPa\n" + bare(30), 0.118, 1.5},
		{"Sample rate, 4 kHz\np [MPa]\n" + bare(30), 59.0 / 4000, 1500},
		{"\"time, s\";\"pressure, bar\"\n" + rows(";", "."), 0.59, 295},
	} {
		r, err := trace.Parse(c.text, trace.Known{})
		require.NoError(t, err, c.text[:60])
		if c.last == 0 {
			assert.NotEmpty(t, r.Values)
			continue
		}
		n := len(r.Values) - 1
		assert.InDelta(t, c.last, r.Seconds[n], 1e-9, c.text[:60])
		assert.InDelta(t, c.value, r.Values[n], 1e-6, c.text[:60])
	}
}

func FuzzParse(f *testing.F) {
	f.Add("Time [s],p [kPa]\n0,1\n0.1,2\n", true)
	f.Add("# Scale: 1 V = 0 bar, 3 V = 12.5 bar\nTime_ms;p_V\n0;1\n", false)
	f.Add(made("dead", 1).text[:3000], false)
	f.Fuzz(func(t *testing.T, text string, current bool) {
		k := trace.Known{Engine: "four-stroke", Cylinders: 4, FiringOrder: []int{1, 3, 4, 2}}
		if current {
			k.Measured = trace.Current
		}
		r, err := trace.Parse(text, k)
		if err != nil {
			return
		}
		a := trace.Read(r, k)
		if a.Readable && !(a.RPM > 0) {
			t.Fatalf("read without a speed: %+v", a)
		}
		if a.Why == "" {
			t.Fatal("no word of why")
		}
	})
}
