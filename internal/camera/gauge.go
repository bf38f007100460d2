// Package camera is a stand-in for a phone that films the dial of a gauge: it draws the dial, its needle as it swings, and what a lens, a
// hand and the light in a workshop make of them. It shares nothing with the reader of films, so that each tests the other.
package camera

import (
	"image"
	"image/color"
	"image/draw"
	"math"
	"strconv"

	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"
	"golang.org/x/image/vector"
)

// Scale is one scale of a dial: figures at every Major, long ticks there, short ones at every Minor.
type Scale struct {
	From, To     float64
	Major, Minor float64
	Unit         string
}

// Gauge is a dial with a needle. Angles are in degrees, clockwise from the right, as a picture has them.
type Gauge struct {
	Scale
	Start, Sweep float64 // where the scale begins, and how far it goes: below 0 the other way round
	Second       *Scale  // on a circle inside the first, from the same beginning to the same end
	Face, Ink    color.RGBA
	Needle, Hub  color.RGBA
	Thick        float64 // of the needle at its hub, in radii of the dial
	Taper        float64 // what is left of it at its tip, 0 to 1
	Reach, Tail  float64 // of the needle to both sides of its axis, in radii
	HubSize      float64
	Lift         float64 // of the needle above the face, in radii
	Name         string
	Band         bool // a red arc on the last third
	Pin          bool // a stop that the needle rests on
	TellTale     float64
	Digital      bool // a display instead of a needle
}

// Angle returns where a figure of the first scale stands, degrees.
func (g Gauge) Angle(value float64) float64 {
	return g.Start + g.Sweep*(value-g.From)/(g.To-g.From)
}

// The drawing of a face has half as many dots as this to its radius, and shows this many radii to each side.
const (
	faceSize = 1400
	faceSpan = 1.35
)

// Where things stand on the face, in radii: the ends of ticks, the middle of figures, the rim of the face and of the case.
const (
	tickEnd    = 0.90
	longTick   = 0.76
	shortTick  = 0.83
	figuresAt  = 0.62
	secondEnd  = 0.50
	secondTick = 0.45
	secondAt   = 0.36
	rimAt      = 1.0
	caseAt     = 1.16
)

// pen draws on the face, in radii of the dial.
type pen struct {
	on   *image.RGBA
	with *vector.Rasterizer
}

func (p pen) dot(x, y float64) (float32, float32) {
	k := faceSize / 2 / faceSpan
	return float32(faceSize/2 + x*k), float32(faceSize/2 + y*k)
}

func (p pen) fill(c color.RGBA, points ...[2]float64) {
	var box image.Rectangle
	for i, q := range points {
		x, y := p.dot(q[0], q[1])
		one := image.Rect(int(x)-1, int(y)-1, int(x)+2, int(y)+2)
		if box = box.Union(one); i == 0 {
			box = one
		}
	}
	p.with.Reset(box.Dx(), box.Dy())
	for i, q := range points {
		x, y := p.dot(q[0], q[1])
		x, y = x-float32(box.Min.X), y-float32(box.Min.Y)
		if i == 0 {
			p.with.MoveTo(x, y)
		} else {
			p.with.LineTo(x, y)
		}
	}
	p.with.ClosePath()
	p.with.Draw(p.on, box, image.NewUniform(c), image.Point{})
}

// disc fills a circle.
func (p pen) disc(c color.RGBA, x, y, r float64) {
	var all [][2]float64
	for i := range 96 {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / 96)
		all = append(all, [2]float64{x + r*cos, y + r*sin})
	}
	p.fill(c, all...)
}

// ray fills a stroke along a radius.
func (p pen) ray(c color.RGBA, degrees, from, to, width float64) {
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	x, y := -sin*width/2, cos*width/2
	p.fill(c,
		[2]float64{from*cos + x, from*sin + y}, [2]float64{to*cos + x, to*sin + y},
		[2]float64{to*cos - x, to*sin - y}, [2]float64{from*cos - x, from*sin - y})
}

// arc fills a part of a ring.
func (p pen) arc(c color.RGBA, from, to, inner, outer float64) {
	var all [][2]float64
	for i := range 61 {
		sin, cos := math.Sincos((from + (to-from)*float64(i)/60) * math.Pi / 180)
		all = append(all, [2]float64{outer * cos, outer * sin})
	}
	for i := 60; i >= 0; i-- {
		sin, cos := math.Sincos((from + (to-from)*float64(i)/60) * math.Pi / 180)
		all = append(all, [2]float64{inner * cos, inner * sin})
	}
	p.fill(c, all...)
}

// write writes upright, about a middle.
func (p pen) write(c color.RGBA, text string, x, y, size float64) {
	k := faceSize / 2 / faceSpan
	parsed, err := opentype.Parse(goregular.TTF)
	if err != nil {
		return // the face that is shipped with the package can be read
	}
	face, err := opentype.NewFace(parsed, &opentype.FaceOptions{Size: size * k, DPI: 72})
	if err != nil {
		return
	}
	defer face.Close()
	d := font.Drawer{Dst: p.on, Src: image.NewUniform(c), Face: face}
	px, py := p.dot(x, y)
	wide := d.MeasureString(text)
	d.Dot = fixed.Point26_6{X: fixed.Int26_6(px*64) - wide/2, Y: fixed.Int26_6((float64(py) + 0.36*size*k) * 64)}
	d.DrawString(text)
}

// face draws the dial without its needle.
func (g Gauge) face(behind color.RGBA) *image.RGBA {
	on := image.NewRGBA(image.Rect(0, 0, faceSize, faceSize))
	draw.Draw(on, on.Bounds(), image.NewUniform(behind), image.Point{}, draw.Src)
	p := pen{on, vector.NewRasterizer(faceSize, faceSize)}
	p.disc(shade(behind, 0.5), 0.02, 0.03, caseAt+0.03)
	for i := range 72 { // a case of bright metal
		p.arc(gray(120+90*math.Abs(math.Sin(float64(i)*0.35))), float64(5*i), float64(5*i+6), rimAt, caseAt)
	}
	p.disc(g.Face, 0, 0, rimAt)
	if g.Digital {
		p.fill(color.RGBA{40, 52, 40, 255}, [2]float64{-0.7, -0.3}, [2]float64{0.7, -0.3}, [2]float64{0.7, 0.3}, [2]float64{-0.7, 0.3})
		p.write(color.RGBA{150, 230, 150, 255}, "128.4", 0, 0, 0.42)
		return on
	}
	if g.Band {
		p.arc(color.RGBA{190, 40, 40, 255}, g.Angle(g.From+0.7*(g.To-g.From)), g.Angle(g.To), 0.86, 0.90)
	}
	p.scale(g, g.Scale, g.Ink, shortTick, longTick, tickEnd, figuresAt, 0.15)
	if g.Second != nil {
		p.scale(g, *g.Second, color.RGBA{170, 50, 50, 255}, secondTick+0.02, secondTick, secondEnd, secondAt, 0.09)
	}
	middle := (g.Start + g.Sweep/2) * math.Pi / 180
	p.write(g.Ink, g.Name, 0.34*math.Cos(middle), 0.34*math.Sin(middle), 0.11)
	p.write(g.Ink, g.Unit, -0.42*math.Cos(middle), -0.42*math.Sin(middle), 0.12)
	if g.Pin {
		sin, cos := math.Sincos((g.Start - math.Copysign(6, g.Sweep)) * math.Pi / 180)
		p.disc(shade(g.Face, 0.5), 0.7*cos, 0.7*sin, 0.025)
	}
	if g.TellTale > 0 {
		p.ray(color.RGBA{210, 60, 50, 255}, g.Angle(g.TellTale), 0, 0.84, 0.02)
	}
	return on
}

func (p pen) scale(g Gauge, s Scale, ink color.RGBA, short, long, end, figures, size float64) {
	angle := func(v float64) float64 { return g.Start + g.Sweep*(v-s.From)/(s.To-s.From) }
	n := int(math.Round((s.To - s.From) / s.Minor))
	for i := range n + 1 {
		v := s.From + float64(i)*s.Minor
		from, width := short, 0.010
		if r := math.Mod(v-s.From+1e-9, s.Major); r < 1e-6 {
			from, width = long, 0.020
			sin, cos := math.Sincos(angle(v) * math.Pi / 180)
			p.write(ink, strconv.FormatFloat(v, 'g', 5, 64), figures*cos, figures*sin, size)
		}
		p.ray(ink, angle(v), from, end, width)
	}
}

func gray(v float64) color.RGBA {
	b := uint8(min(max(v, 0), 255))
	return color.RGBA{b, b, b, 255}
}

func shade(c color.RGBA, by float64) color.RGBA {
	return color.RGBA{uint8(float64(c.R) * by), uint8(float64(c.G) * by), uint8(float64(c.B) * by), 255}
}
