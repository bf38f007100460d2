package camera

import (
	"bytes"
	"image/jpeg"
	"io"
	"math"
	"sync"
)

// Reel writes the film as JPEG pictures one after the other, and returns how many bytes.
func (f *Film) Reel(w io.Writer) error {
	f.Open()
	for i := range f.Frames {
		one, err := f.jpeg(i)
		if err != nil {
			return err
		}
		if _, err := w.Write(one); err != nil {
			return err
		}
	}
	return nil
}

// jpeg takes picture i as the camera gives it.
func (f *Film) jpeg(i int) ([]byte, error) {
	quality := f.Quality
	if quality == 0 {
		quality = 85
	}
	var out bytes.Buffer
	err := jpeg.Encode(&out, f.Picture(i), &jpeg.Options{Quality: quality})
	return out.Bytes(), err
}

// Mark is a tap on a point of the dial.
type Mark struct {
	At    [2]float64 `json:"at"`
	Value float64    `json:"value"`
}

// Marks are the taps on the first picture.
type Marks struct {
	Centre [2]float64 `json:"centre"`
	Points []Mark     `json:"points"`
	Unit   string     `json:"unit"`
}

// Follow has the needle follow figures of the scale.
func (f *Film) Follow(values func(t float64) float64) {
	f.Needle = func(s float64) float64 { return f.Angle(values(s)) }
}

// Standing is the stand-in's camera: a gauge as most have one, filmed by a hand, of a pull that holds at a level, in its unit, and is let
// off again. Its film can be shown over and over.
func Standing(level float64) *Film {
	const beats, start, seconds = 6, 0.8, 6.0
	f := &Film{
		Gauge: Gauge{
			Scale: Scale{0, 300, 50, 10, "psi"}, Start: 135, Sweep: 270, Face: gray(236), Ink: gray(24), Needle: gray(20), Hub: gray(60),
			Thick: 0.05, Taper: 0.4, Reach: 0.78, Tail: 0.2, HubSize: 0.08, Lift: 0.02, Name: "ORBETT",
		},
		Shot: Shot{
			Width: 640, Height: 480, FPS: 30, Size: 170, Near: 6, Tilt: 12, TiltAxis: 40, Roll: 4, Exposure: 0.3, Noise: 2, Light: 0.9,
			Shake: 1.5, Quality: 85, Seed: 5,
		},
		Frames: int(seconds * 30),
	}
	const vent = seconds - 0.9
	pressure := Stairs(start, level/(1-math.Pow(0.5, beats)), 0.5, 240, beats, vent)
	f.Follow(Movement{Hz: 6, Damping: 0.7}.Swing(seconds, pressure, 0))
	f.hold()
	return f
}

// Live is the stand-in's camera before a gauge that is on an engine now.
type Live struct {
	mu   sync.Mutex
	film *Film
}

// NewLive puts a phone's camera before a gauge as most have one.
func NewLive() *Live {
	f := Standing(0)
	f.Width, f.Height, f.Size = 480, 360, 0.75*f.Size
	f.Open()
	return &Live{film: f}
}

// Picture takes a picture, as JPEG, of a needle that shows a figure of the scale; the hand is where it is after so many seconds.
func (l *Live) Picture(value, seconds float64) ([]byte, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.film.Follow(func(float64) float64 { return min(max(value, 0), l.film.To) })
	return l.film.jpeg(int(seconds * l.film.FPS))
}

// Taps are exact marks on the first picture: the axis, and some figures.
func (f *Film) Taps(figures ...float64) Marks {
	x, y := f.At(0, 0, 0)
	m := Marks{Centre: [2]float64{x, y}, Unit: f.Unit}
	for _, v := range figures {
		sin, cos := math.Sincos(f.Angle(v) * math.Pi / 180)
		px, py := f.At(0.83*cos, 0.83*sin, 0)
		m.Points = append(m.Points, Mark{At: [2]float64{px, py}, Value: v})
	}
	return m
}
