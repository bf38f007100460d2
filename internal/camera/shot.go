package camera

import (
	"image"
	"image/color"
	"math"
	"math/rand/v2"
	"sync"
)

// Shot is how a dial is filmed.
type Shot struct {
	Width, Height int
	FPS           float64
	Size          float64 // radius of the dial in dots
	Off           [2]float64
	Tilt          float64 // degrees between the dial and the picture
	TiltAxis      float64 // degrees
	Roll          float64 // degrees
	Near          float64 // distance of the lens in radii of the dial
	Exposure      float64 // share of the time between two pictures that the lens is open
	Defocus       float64 // dots
	Noise         float64 // of 255
	Light         float64 // 1 as it should be, 0.2 dark
	Flicker       float64 // share of the light
	Step          float64 // by how much the exposure jumps in mid-film
	Shake         float64 // dots
	Drift         float64 // dots a second
	Glare         float64 // size in radii, 0 for none
	GlareAt       [2]float64
	Cover         float64 // radius of a finger in front, in radii of the dial; its place and time are of the seed
	CoverAll      bool
	Twice         float64 // share of pictures that come twice
	Quality       int     // of the JPEG
	Seed          uint64
}

// Film is a gauge in front of a camera. Needle is the angle of its needle in degrees at a time in s.
type Film struct {
	Gauge
	Shot
	Needle func(seconds float64) float64
	Frames int
	face   *image.RGBA
	rng    *rand.Rand
	wobble [6]float64
}

// Open makes a film ready to be drawn.
func (f *Film) Open() {
	f.hold()
	f.face = f.Gauge.face(gray(40 + 60*f.rng.Float64()))
}

// hold puts the camera into a hand.
func (f *Film) hold() {
	f.rng = rand.New(rand.NewPCG(f.Seed, 29))
	for i := range f.wobble {
		f.wobble[i] = 2 * math.Pi * f.rng.Float64()
	}
}

// hand returns where the camera has moved to, in dots and degrees.
func (f *Film) hand(t float64) (x, y, turn float64) {
	w := f.wobble
	x = f.Shake*(0.7*math.Sin(2*math.Pi*1.3*t+w[0])+0.3*math.Sin(2*math.Pi*4.1*t+w[1])) + f.Drift*t*math.Cos(w[4])
	y = f.Shake*(0.7*math.Sin(2*math.Pi*1.1*t+w[2])+0.3*math.Sin(2*math.Pi*5.3*t+w[3])) + f.Drift*t*math.Sin(w[4])
	return x, y, 0.25 * f.Shake * math.Sin(2*math.Pi*0.8*t+w[5])
}

// At returns where a point of the dial, in radii, is in the picture at a time.
func (f *Film) At(x, y, t float64) (px, py float64) {
	dx, dy, turn := f.hand(t)
	sin, cos := math.Sincos((f.TiltAxis) * math.Pi / 180)
	u, w := x*cos+y*sin, -x*sin+y*cos
	st, ct := math.Sincos(f.Tilt * math.Pi / 180)
	depth := 1 + w*st/f.Near
	u, w = u/depth, w*ct/depth
	x, y = u*cos-w*sin, u*sin+w*cos
	sr, cr := math.Sincos((f.Roll + turn) * math.Pi / 180)
	x, y = x*cr-y*sr, x*sr+y*cr
	return float64(f.Width)/2 + f.Off[0] + dx + x*f.Size, float64(f.Height)/2 + f.Off[1] + dy + y*f.Size
}

// Picture draws picture i.
func (f *Film) Picture(i int) *image.RGBA {
	at := float64(i)
	if f.rng.Float64() < f.Twice {
		at--
	}
	t := at / f.FPS
	// As many parts of the exposure as the needle's way in it needs.
	half := f.Exposure / f.FPS / 2
	way := math.Abs(f.Needle(max(0, t+half))-f.Needle(max(0, t))) + math.Abs(f.Needle(max(0, t-half))-f.Needle(max(0, t)))
	parts := 1 + min(9, int(way))
	sum := make([]float32, 3*f.Width*f.Height)
	var needles []float64
	for k := range parts {
		needles = append(needles, f.Needle(max(0, t+f.Exposure/f.FPS*(float64(k)-float64(parts-1)/2)/float64(parts))))
	}
	f.expose(sum, t, needles)
	blur(sum, f.Width, f.Height, f.Defocus)
	return f.develop(sum, t)
}

// expose adds the light of one picture: the face once, the needle where it was in each part of the exposure.
func (f *Film) expose(sum []float32, t float64, needles []float64) {
	dx, dy, turn := f.hand(t)
	sr, cr := math.Sincos((f.Roll + turn) * math.Pi / 180)
	sa, ca := math.Sincos(f.TiltAxis * math.Pi / 180)
	st, ct := math.Sincos(f.Tilt * math.Pi / 180)
	// Back from a point of the picture to one of a plane that lies above the face by lift.
	back := func(X, Y, lift float64) (x, y float64) {
		w := (Y*(1-lift*ct/f.Near) - lift*st) / (ct - Y*st/f.Near)
		u := X * (1 + (w*st-lift*ct)/f.Near)
		return u*ca - w*sa, u*sa + w*ca
	}
	hands := make([][2]float64, len(needles))
	for k, degrees := range needles {
		s, c := math.Sincos(degrees * math.Pi / 180)
		hands[k] = [2]float64{c, s}
	}
	k := faceSize / 2 / faceSpan
	line := func(py int) {
		for px := range f.Width {
			X := (float64(px) - float64(f.Width)/2 - f.Off[0] - dx) / f.Size
			Y := (float64(py) - float64(f.Height)/2 - f.Off[1] - dy) / f.Size
			X, Y = X*cr+Y*sr, -X*sr+Y*cr
			X, Y = X*ca+Y*sa, -X*sa+Y*ca
			x, y := back(X, Y, 0)
			light := sample(f.face, faceSize/2+x*k, faceSize/2+y*k)
			if x*x+y*y < 1.1 && !f.Digital {
				nx, ny := back(X, Y, f.Lift)
				f.hands(&light, nx, ny, hands, 0.7/f.Size)
			}
			f.front(&light, x, y, t)
			at := 3 * (py*f.Width + px)
			for c := range 3 {
				sum[at+c] += float32(light[c])
			}
		}
	}
	var both sync.WaitGroup
	for part := range 2 {
		both.Go(func() {
			for py := part; py < f.Height; py += 2 {
				line(py)
			}
		})
	}
	both.Wait()
}

// hands lays the needle over the light of a point of the face: its share of the exposure.
func (f *Film) hands(light *[3]float64, x, y float64, hands [][2]float64, soft float64) {
	covered := 0.0
	for _, h := range hands {
		along, across := x*h[0]+y*h[1], math.Abs(-x*h[1]+y*h[0])
		if across > f.Thick+soft {
			continue
		}
		half := f.thick(along) / 2
		a := min(max((half-across)/soft+0.5, 0), 1)
		a *= min(max((f.Reach-along)/soft+0.5, 0), 1) * min(max((along+f.Tail)/soft+0.5, 0), 1)
		covered += a / float64(len(hands))
	}
	lay(light, f.Gauge.Needle, covered)
	if x*x+y*y < 0.1 {
		lay(light, f.Hub, min(max((f.HubSize-math.Hypot(x, y))/soft+0.5, 0), 1))
	}
}

// thick returns how wide the needle is at a distance from its axis.
func (g Gauge) thick(along float64) float64 {
	if along < 0 {
		return g.Thick * 1.3
	}
	return g.Thick * (1 - (1-g.Taper)*along/g.Reach)
}

func lay(light *[3]float64, c color.RGBA, share float64) {
	for i, v := range [3]uint8{c.R, c.G, c.B} {
		light[i] += share * (float64(v) - light[i])
	}
}

// front is what is between dial and lens: glare on the glass, a finger.
func (f *Film) front(light *[3]float64, x, y, t float64) {
	if f.Glare > 0 {
		dx, dy := (x-f.GlareAt[0])/f.Glare, (y-f.GlareAt[1])/f.Glare
		if d := math.Sqrt(dx*dx + dy*dy); d < 2 {
			lay(light, color.RGBA{255, 255, 255, 255}, min(1, 1.6*math.Exp(-d*d*d)))
		}
	}
	if f.Cover > 0 || f.CoverAll {
		cx, cy, r := 2-0.9*t*2, 0.6*math.Sin(f.wobble[0])+0.1, f.Cover
		if f.CoverAll {
			cx, cy, r = 0.05, 0, 0.88
		}
		if math.Hypot(x-cx, (y-cy)*0.8) < r {
			lay(light, color.RGBA{150, 100, 80, 255}, 1)
		}
	}
}

func sample(on *image.RGBA, x, y float64) [3]float64 {
	x, y = min(max(x, 0), faceSize-2), min(max(y, 0), faceSize-2)
	i, j := int(x), int(y)
	fx, fy := x-float64(i), y-float64(j)
	var out [3]float64
	at := on.PixOffset(i, j)
	for c := range 3 {
		a, b := float64(on.Pix[at+c]), float64(on.Pix[at+4+c])
		d, e := float64(on.Pix[at+on.Stride+c]), float64(on.Pix[at+on.Stride+4+c])
		out[c] = (a*(1-fx)+b*fx)*(1-fy) + (d*(1-fx)+e*fx)*fy
	}
	return out
}

// blur is a lens out of focus: three running means, which together are nearly a bell.
func blur(sum []float32, w, h int, dots float64) {
	r := int(math.Round(dots))
	if r < 1 {
		return
	}
	line := make([]float32, max(w, h))
	run := func(start, step, n int) {
		for i := range n {
			line[i] = sum[start+i*step]
		}
		for i := range n {
			var s, c float32
			for j := max(0, i-r); j <= min(n-1, i+r); j++ {
				s, c = s+line[j], c+1
			}
			sum[start+i*step] = s / c
		}
	}
	for range 2 {
		for c := range 3 {
			for y := range h {
				run(3*y*w+c, 3, w)
			}
			for x := range w {
				run(3*x+c, 3*w, h)
			}
		}
	}
}

// develop makes a picture of light: brightness, its flicker, noise.
func (f *Film) develop(sum []float32, t float64) *image.RGBA {
	gain := f.Light * (1 + f.Flicker*math.Sin(2*math.Pi*8.7*t))
	if f.Step > 0 && t > float64(f.Frames)/f.FPS/2 {
		gain *= 1 - f.Step
	}
	out := image.NewRGBA(image.Rect(0, 0, f.Width, f.Height))
	for i := range f.Width * f.Height {
		grain := f.Noise * f.rng.NormFloat64()
		for c := range 3 {
			v := float64(sum[3*i+c])*gain + grain + 0.4*f.Noise*f.rng.NormFloat64()
			out.Pix[4*i+c] = uint8(min(max(v, 0), 255))
		}
		out.Pix[4*i+3] = 255
	}
	return out
}
