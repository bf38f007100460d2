package camera

import (
	"bytes"
	"image"
	"image/jpeg"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/dial"
	"braxel/internal/films"
)

// pictured is the first picture of a film, as it is sent.
func pictured(t testing.TB, f *Film) *image.Gray {
	var b bytes.Buffer
	f.Open()
	require.NoError(t, jpeg.Encode(&b, f.Picture(0), &jpeg.Options{Quality: 80}))
	g, err := films.Gray(b.Bytes(), films.MostDots)
	require.NoError(t, err)
	return g
}

// shotOf has a gauge filmed once more: from anywhere, in any light, its needle at any figure, nothing before it.
func shotOf(gauge Gauge, seed uint64) *Film {
	r := rand.New(rand.NewPCG(seed, 3))
	f, _, _ := anyFilm(seed)
	f.Gauge = gauge
	f.Cover, f.CoverAll, f.Width, f.Height = 0, false, 480, 360
	f.Roll = 50 * (r.Float64() - 0.5)
	f.Size = 180 * (0.35 + 0.4*r.Float64())
	f.Off = [2]float64{(r.Float64() - 0.5) * 120, (r.Float64() - 0.5) * 40}
	at := gauge.From + r.Float64()*0.8*(gauge.To-gauge.From)
	f.Follow(func(float64) float64 { return at })
	f.hold()
	return f
}

// farthest is how far marks are from where they should be, in radii of the dial.
func farthest(f *Film, got dial.Marks) float64 {
	want := f.Taps(f.From, f.From+2*f.Major, f.To)
	apart := func(a, b [2]float64) float64 { return math.Hypot(a[0]-b[0], a[1]-b[1]) / f.Size }
	most := apart(got.Centre, want.Centre)
	for i, m := range got.Points {
		most = max(most, apart(m.At, want.Points[i].At))
	}
	return most
}

// asKnown tells of a few gauges how often each is known again, and how often one is taken for another.
func asKnown(t testing.TB, seeds []uint64, tapped bool) (known, wrong, taken, of int) {
	var before Gauge
	for _, seed := range seeds {
		f, was, _ := anyFilm(seed)
		if was.Kind == "refuse" {
			continue
		}
		of++
		first, again := shotOf(f.Gauge, seed), shotOf(f.Gauge, seed+1000)
		face := dial.Face{Picture: pictured(t, first), Marks: marksOf(t, first.Taps(f.From, f.From+2*f.Major, f.To))}
		var tap *[2]float64
		if tapped {
			x, y := again.At(0.03, -0.03, 0)
			tap = &[2]float64{x, y}
		}
		if got, err := face.In(pictured(t, again), tap); err == nil {
			off := farthest(again, got)
			if off < 0.1 {
				known++
			} else {
				wrong++
			}
			t.Logf("%d off %.3f, %.0f° and %.0f° %v", seed, off, first.Tilt, again.Tilt, was.Hard)
		}
		if before.Scale != f.Scale && before.Unit != "" {
			if _, err := face.In(pictured(t, shotOf(before, seed+2000)), nil); err == nil {
				taken++
			}
		}
		before = f.Gauge
	}
	t.Logf("known %d, wrong %d, another taken for it %d, of %d", known, wrong, taken, of)
	return known, wrong, taken, of
}

// A gauge that was marked once is known again, from another side and in other light; another one isn't taken for it.
func TestAFaceIsKnownAgain(t *testing.T) {
	t.Parallel()
	known, wrong, taken, of := asKnown(t, []uint64{303, 309, 310, 311, 314, 317, 318, 321, 324, 330}, false)
	assert.Zero(t, wrong)
	assert.Zero(t, taken)
	assert.GreaterOrEqual(t, known*10, 8*of)
	known, wrong, _, of = asKnown(t, []uint64{312, 319, 339}, true)
	assert.Zero(t, wrong)
	assert.Equal(t, of, known, "with a tap on their middles")
}

// What is no dial, or no picture of it, is refused, whatever is in it.
func TestAFaceIsNotSeenWhereThereIsNone(t *testing.T) {
	f := Standing(152)
	face := dial.Face{Picture: pictured(t, f), Marks: marksOf(t, f.Taps(0, 150, 250))}
	r := rand.New(rand.NewPCG(4, 4))
	for _, size := range []image.Rectangle{image.Rect(0, 0, 1, 1), image.Rect(0, 0, 640, 9), image.Rect(0, 0, 300, 200)} {
		noise := image.NewGray(size)
		for i := range noise.Pix {
			noise.Pix[i] = uint8(r.IntN(256))
		}
		_, err := face.In(noise, nil)
		assert.ErrorIs(t, err, dial.ErrOtherFace)
		_, err = face.In(noise, &[2]float64{-1e9, 1e9})
		assert.ErrorIs(t, err, dial.ErrOtherFace)
	}
}

// BenchmarkFace looks for thirty gauges in pictures of them, and says how many were found.
func BenchmarkFace(b *testing.B) {
	if b.N > 1 { // once is enough
		return
	}
	var seeds []uint64
	for seed := range uint64(30) {
		seeds = append(seeds, 400+seed)
	}
	known, wrong, taken, of := asKnown(b, seeds, false)
	b.Logf("of %d gauges %d known again, %d wrong; %d others taken for one", of, known, wrong, taken)
}
