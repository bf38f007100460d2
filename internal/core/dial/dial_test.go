package dial

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/trace"
)

// marked marks figures on a dial about a point: from is where the first stands, sweep how far to the last, degrees.
func marked(from, sweep, radius float64, figures ...float64) Marks {
	m := Marks{Centre: [2]float64{200, 180}, Unit: "psi"}
	span := figures[len(figures)-1] - figures[0]
	for _, v := range figures {
		sin, cos := math.Sincos((from + sweep*(v-figures[0])/span) * math.Pi / 180)
		m.Points = append(m.Points, Mark{At: [2]float64{200 + radius*cos, 180 + radius*sin}, Value: v})
	}
	return m
}

// A scale is what its marks make it, whichever way it runs, wherever it begins, and whatever figure it begins with.
func TestMarksMakeAScale(t *testing.T) {
	for _, sweep := range []float64{270, 180, 300, -270, -180} {
		for _, from := range []float64{135, -150, 10, 90} {
			for _, figures := range [][]float64{{0, 100, 300}, {20, 60, 260}, {-1, 5, 15}} {
				m := marked(from, sweep, 80, figures...)
				got, err := m.read(400, 360)
				require.NoError(t, err, "%v %v %v", from, sweep, figures)
				assert.InDelta(t, sweep/(figures[2]-figures[0]), got.slope, 1e-6)
				s := scale{from: got.from, slope: got.slope}
				for i, p := range m.Points {
					angle := math.Atan2(p.At[1]-180, p.At[0]-200) * 180 / math.Pi
					if i < 2 {
						assert.InDelta(t, p.Value, s.value(angle), 1e-6)
					}
				}
			}
		}
	}
}

// Marks that can't be on a dial are refused, each for its reason.
func TestMarksThatAreNoDialAreRefused(t *testing.T) {
	good := marked(135, 270, 80, 0, 100, 300)
	for what, change := range map[string]struct {
		by   func(*Marks)
		says error
	}{
		"one":      {func(m *Marks) { m.Points = m.Points[:1] }, ErrMarkCount},
		"near":     {func(m *Marks) { m.Points[1].At = [2]float64{203, 181} }, ErrMarkNear},
		"far":      {func(m *Marks) { m.Points[1].At = [2]float64{200, 359} }, ErrMarkFar},
		"outside":  {func(m *Marks) { m.Points[1].At = [2]float64{900, 20} }, ErrMarkOut},
		"no place": {func(m *Marks) { m.Points[1].At = [2]float64{math.NaN(), 20} }, ErrMarkUneven},
		"twice":    {func(m *Marks) { m.Points[1] = m.Points[0] }, ErrMarkSame},
		"uneven":   {func(m *Marks) { m.Points[1].Value = 280 }, ErrMarkUneven},
	} {
		m := Marks{good.Centre, append([]Mark(nil), good.Points...), good.Unit}
		change.by(&m)
		_, err := m.read(400, 360)
		assert.ErrorIs(t, err, change.says, what)
	}
}

// A slant is put on and taken off without a trace.
func TestASlantIsTakenOffAgain(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 29))
	for range 200 {
		g := ring{a: 1, flat: 0.6 + 0.4*r.Float64(), lean: 7 * r.Float64()}
		x, y := r.NormFloat64(), r.NormFloat64()
		u, v := g.stretch(g.squeeze(x, y))
		assert.InDelta(t, x, u, 1e-9)
		assert.InDelta(t, y, v, 1e-9)
	}
}

// stairs are sights of a gauge that climbs by beats half a second apart, stands, and is let off.
func stairs(from float64, levels ...float64) (s []Sight) {
	vent := from + 0.5*float64(len(levels)) + 1
	for t := from - 0.6; t < vent+0.6; t += 1.0 / 60 {
		v := 0.0
		for k, level := range levels {
			v += (level - v) / (1 + math.Exp(-(t-from-0.5*float64(k))/0.008))
		}
		if t > vent {
			v *= math.Exp(-(t - vent) / 0.05)
		}
		s = append(s, Sight{Seconds: t, Value: v, Sure: 1})
	}
	return s
}

// What is held is where the needle stood before it was let off, also with another pull begun behind it, and with pictures out of order.
func TestWhatIsHeldIsTheHighestStand(t *testing.T) {
	m := marked(135, 270, 80, 0, 100, 300)
	one := stairs(1, 80, 120, 140, 150, 155, 157)
	two := append(append([]Sight(nil), one...), stairs(7, 40, 60)[:50]...)
	shuffled := append([]Sight(nil), one...)
	rand.New(rand.NewPCG(2, 3)).Shuffle(len(shuffled), func(i, j int) { shuffled[i], shuffled[j] = shuffled[j], shuffled[i] })
	for what, sights := range map[string][]Sight{"one": one, "two": two, "shuffled": shuffled} {
		found, err := Find(sights, m, 0.5, trace.Known{}, "")
		require.NoError(t, err, what)
		require.NotNil(t, found.Held, what)
		assert.InDelta(t, 157, *found.Held, 0.5, what)
		require.NotNil(t, found.RPM, what)
		assert.InDelta(t, 240, *found.RPM, 7, what)
	}
	blind := append([]Sight(nil), one...)
	for i := range blind {
		blind[i].Sure = 0.2
	}
	_, err := Find(blind, m, 0.5, trace.Known{}, "")
	assert.ErrorIs(t, err, ErrUnsure)
}

// A needle that swings over and comes back makes no compression more, however it rings.
func TestRingingIsNoCompression(t *testing.T) {
	m := marked(135, 270, 80, 0, 100, 300)
	for _, ring := range []struct{ hz, dies float64 }{{3.5, 0.12}, {5, 0.08}, {8, 0.05}} {
		sights := stairs(1, 80, 120, 140, 150, 155)
		for i, s := range sights {
			for k, rise := range []float64{80, 40, 20, 10, 5} {
				if since := s.Seconds - 1 - 0.5*float64(k); since > 0 {
					sights[i].Value += 0.25 * rise * math.Exp(-since/ring.dies) * math.Sin(2*math.Pi*ring.hz*since)
				}
			}
		}
		found, err := Find(sights, m, 0.5, trace.Known{}, Valve)
		require.NoError(t, err)
		require.NotNil(t, found.Beats)
		assert.InDelta(t, 5, *found.Beats, 1, "%v", ring)
		assert.InDelta(t, 240, *found.RPM, 7, "%v", ring)
	}
}

// Pulses whose tops fall between the pictures of a slow camera have their tops all the same, from all turns together.
func TestTopsBetweenPicturesAreFound(t *testing.T) {
	m := marked(135, 270, 80, 0, 100, 300)
	faces := []float64{110, 84, 102}
	for _, fps := range []float64{24, 29.97, 59.94} {
		var sights []Sight
		const begin, gap, pulses = 0.7, 0.2437, 13
		for k := range int(4.2 * fps) {
			at, v := float64(k)/fps, 0.0
			for i := range pulses {
				d := (at - begin - gap*float64(i)) / (0.2 * gap)
				v += faces[i%3] * math.Exp(-d*d)
			}
			sights = append(sights, Sight{Seconds: at, Value: v, Sure: 1})
		}
		found, err := Find(sights, m, 0.5, trace.Known{}, Bare)
		require.NoError(t, err)
		require.Len(t, found.Faces, 3, "%g a second", fps)
		turned := 0
		for i, v := range found.Faces {
			if math.Abs(v-110) < math.Abs(found.Faces[turned]-110) {
				turned = i
			}
		}
		for i, want := range faces {
			assert.InEpsilon(t, want, found.Faces[(turned+i)%3], 0.03, "%g a second", fps)
		}
	}
}

// A needle that was out of sight where it stood highest has no reading, unless it was seen to stand there before.
func TestANeedleHiddenAtItsTopHasNoReading(t *testing.T) {
	m := marked(135, 270, 80, 0, 100, 300)
	whole := stairs(1, 80, 120, 140, 150, 155)
	hide := func(from, to float64) Found {
		sights := append([]Sight(nil), whole...)
		for i := range sights {
			if sights[i].Seconds > from && sights[i].Seconds < to {
				sights[i].Sure = 0.05
			}
		}
		found, err := Find(sights, m, 0.5, trace.Known{}, Valve)
		require.NoError(t, err)
		return found
	}
	lost := hide(2.4, 9)
	assert.True(t, lost.Hidden)
	assert.Nil(t, lost.Held)
	assert.Nil(t, lost.Peak)
	seen := hide(1.3, 1.9)
	assert.False(t, seen.Hidden)
	assert.InDelta(t, 155, *seen.Held, 1)
}

// A place of the first picture is found in another and back again, however that one lies.
func TestAPlaceIsFoundInAnotherPictureAndBack(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 29))
	for range 200 {
		p := pose{
			dx: 20 * r.NormFloat64(), dy: 20 * r.NormFloat64(), grow: 0.1 * r.NormFloat64(), turn: 0.2 * r.NormFloat64(),
			wide: 0.05 * r.NormFloat64(), lean: 0.05 * r.NormFloat64(),
		}
		x, y := 50*r.NormFloat64(), 50*r.NormFloat64()
		px, py := p.to(120, 90, x, y)
		u, v := p.from(120, 90, px, py)
		assert.InDelta(t, x, u, 1e-6)
		assert.InDelta(t, y, v, 1e-6)
	}
}

// A figure far beyond what was tapped of a scale, of which no tick was seen, isn't trusted.
func TestAScaleIsTrustedAsFarAsItIsKnown(t *testing.T) {
	s := scale{low: 20, top: 120}
	assert.True(t, s.known(-5))
	assert.True(t, s.known(180))
	assert.False(t, s.known(181))
}

// A film without an end forgets its oldest pictures, and goes on counting.
func TestAFilmWithoutAnEndForgetsItsBeginning(t *testing.T) {
	f := &Film{}
	for i := range 10 {
		f.all, f.times = append(f.all, polar{uint8(i)}), append(f.times, float64(i))
		f.fits, f.poses = append(f.fits, 1), append(f.poses, pose{dx: float64(i)})
	}
	f.forget(4)
	assert.Equal(t, 10, f.Pictures())
	assert.Equal(t, polar{4}, f.all[0])
	assert.Equal(t, []float64{4, 5, 6, 7, 8, 9}, f.times)
	assert.Equal(t, 9.0, f.poses[5].dx)
	assert.Len(t, f.fits, 6)
}

// How slow a film is shown is told by the speed of cranking. An engine that cranks fast isn't taken for a slow film, unless its own
// speed is known.
func TestSlowMotionIsToldByTheSpeedOfCranking(t *testing.T) {
	for _, c := range []struct {
		slower, rpm float64
		own         bool
		want        float64
	}{
		{1, 200, false, 1}, {4, 200, false, 4}, {8, 230, true, 8}, {2, 240, true, 2}, {0.4, 200, false, 1}, {1, 120, true, 1},
	} {
		f := &Film{Marks: marked(135, 270, 80, 0, 100, 300), scaled: scale{slope: 0.9}}
		sights := stairs(1, 80, 120, 140, 150, 155)
		for i := range sights {
			sights[i].Seconds *= c.slower
		}
		_, by, err := f.slowed(sights, trace.Known{}, Valve, 0, c.rpm, c.own)
		require.NoError(t, err)
		assert.Equal(t, c.want, by, "%+v", c)
	}
}
