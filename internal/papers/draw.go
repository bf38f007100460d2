package papers

import (
	"math"

	"rsc.io/qr"

	"braxel/internal/core/judge"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/seal"
	"braxel/internal/core/strips"
	"braxel/internal/core/wheel"
)

// planHeight is how high a bore plan is that is to be no wider than w and no higher than h.
func planHeight(e log.Engine, w, h float64) float64 {
	d := layout.Draw(e.Layout)
	return d.Height * math.Min(w/d.Width, h/d.Height)
}

// borePlan draws the engine from above within a box, with a line of text in each bore and one under it.
func (p *page) borePlan(e log.Engine, x, y, w, h float64, inside, under func(int) string) {
	d := layout.Draw(e.Layout)
	scale := math.Min(w/d.Width, h/d.Height)
	at := func(v, from float64) float64 { return from + v*scale }
	p.SetLineWidth(0.25)
	for _, b := range d.Blocks {
		p.Rect(at(b.X0, x), at(b.Y0, y), (b.X1-b.X0)*scale, (b.Y1-b.Y0)*scale, "D")
	}
	if d.Axis > 0 {
		p.SetDashPattern([]float64{1.5, 1.2}, 0)
		p.Line(at(30, x), at(d.Axis, y), at(d.Width-10, x), at(d.Axis, y))
		p.SetDashPattern(nil, 0)
	}
	if d.Front > 0 {
		p.write(at(0, x), at(d.Front, y), words, math.Max(6.5, 17*scale*points*0.8), say.Text("layout.front"))
	}
	if d.Hub > 0 {
		p.Circle(at(d.Width/2, x), at(d.Height/2, y), d.Hub*scale, "D")
	}
	const radius = 46.0
	for _, b := range d.Bores {
		bx, by := at(b.X, x), at(b.Y, y)
		p.SetLineWidth(0.35)
		p.Circle(bx, by, radius*scale, "D")
		p.middle(bx, by-radius*scale*0.42, words, 20*scale*points*0.9, e.Called(b.Cylinder))
		if text := inside(b.Cylinder); text != "" {
			size := p.fit(figures, 34*scale*points*0.9, 1.8*radius*scale, text)
			p.middle(bx, by+radius*scale*0.22, figures, size, text)
		}
		if text := under(b.Cylinder); text != "" {
			p.middle(bx, by+radius*scale*0.68, words, 17*scale*points*0.9, text)
		}
	}
}

// crankWheel draws the pulley with the marks to paint, within a square.
func (p *page) crankWheel(w wheel.Wheel, x, y, side float64) {
	cx, cy, r := x+side/2, y+side/2, side*0.33
	p.SetLineWidth(0.35)
	p.Circle(cx, cy, r, "D")
	p.Circle(cx, cy, r*0.18, "D")
	way := 1.0
	if w.Rotation == "clockwise" {
		way = -1 // as the pulley turns clockwise, the next mark comes from the left
	}
	for _, m := range w.Marks {
		a := (way*m.Deg - 90) * math.Pi / 180
		p.SetLineWidth(0.9)
		p.Line(cx+r*0.82*math.Cos(a), cy+r*0.82*math.Sin(a), cx+r*math.Cos(a), cy+r*math.Sin(a))
		p.middle(cx+r*1.28*math.Cos(a), cy+r*1.28*math.Sin(a)+1.4, figures, 9, log.Join(m.Cylinders, ", "))
	}
	p.middle(cx, cy+r*0.55, words, 7.5, say.Text("papers.turns", "rotation", say.Maybe("wheel.rotation-"+w.Rotation)))
}

// punches draws a state as a machinist marks parts: none to three dots, an empty ring for a retest; then the word.
func (p *page) punches(x, y float64, s judge.State, size float64) {
	const gap = 2.3
	dots := map[judge.State]int{judge.Watch: 1, judge.Act: 2, judge.Stop: 3}[s]
	p.SetFillColor(0, 0, 0)
	for i := range dots {
		p.Circle(x+1+float64(i)*gap, y-size/points*0.35, 0.8, "F")
	}
	from := x + float64(dots)*gap
	if s == judge.Retest {
		p.SetLineWidth(0.3)
		p.Circle(x+1, y-size/points*0.35, 0.8, "D")
		from += gap
	}
	if from > x {
		from += 0.8
	}
	p.write(from, y, heavy, size, string(s))
}

// code draws the QR code of a paper in a square.
func (p *page) code(text string, x, y, side float64) error {
	code, err := qr.Encode(text, qr.M)
	if err != nil {
		return say.Error("papers.code-paper", "err", err)
	}
	dot := side / float64(code.Size)
	p.SetFillColor(0, 0, 0)
	for i := range code.Size {
		for k := range code.Size {
			if code.Black(i, k) {
				p.Rect(x+float64(i)*dot, y+float64(k)*dot, dot, dot, "F")
			}
		}
	}
	return nil
}

// fingerprint writes the seal in words, in digits and as a code.
func (p *page) fingerprint(s seal.Paper, covers string) error {
	const side = 30.0
	p.room(side + 16)
	p.heading(say.Text("papers.heading-fingerprint"))
	if err := p.code(s.Code(), margin+p.w-side, p.y+2, side); err != nil {
		return err
	}
	y := p.y + 5.5
	width := p.w - side - 6
	p.write(margin, y, heavy, p.fit(heavy, 12.5, width, s.Seal.Words()), s.Seal.Words())
	hex := s.Seal.Hex()
	for i := 0; i < len(hex); i += 32 {
		y += 4.6
		p.write(margin, y, figures, 8.5, spaced(hex[i:i+32]))
	}
	covers += say.Text("papers.anyone-who-has-log-can")
	for _, line := range p.wrap(words, 8.5, width, covers) {
		y += 4
		p.write(margin, y, words, 8.5, line)
	}
	p.y += side + 3
	return nil
}

func spaced(hex string) string {
	text := ""
	for i := 0; i < len(hex); i += 4 {
		text += hex[i:i+4] + " "
	}
	return text
}

// strip draws one cylinder over the tests of a season: change as a line in its band, leak as stems from the floor.
func (p *page) strip(s strips.Strip, from, to int, height, most, mostLeak float64) {
	const label = 22.0
	p.room(height + 2)
	x0, x1 := margin+label, margin+p.w-2
	y0 := p.y + 1
	mid := y0 + height*0.38
	half := height * 0.36
	at := func(i int) float64 {
		if to == from {
			return (x0 + x1) / 2
		}
		return x0 + 4 + (x1-x0-8)*float64(i-from)/float64(to-from)
	}
	p.write(margin, mid+1, heavy, 9, s.Called)
	p.SetLineWidth(0.1)
	p.Line(x0, y0+height, x1, y0+height)
	band := math.Min(s.Band, most) / most * half
	p.SetFillColor(225, 225, 225)
	p.Rect(x0, mid-band, x1-x0, 2*band, "F")
	p.SetFillColor(0, 0, 0)
	lastX, lastY, any := 0.0, 0.0, false
	for _, pt := range s.Points {
		if pt.Visit < from || pt.Visit > to || pt.Faint {
			continue
		}
		x := at(pt.Visit)
		if pt.Leak != nil {
			p.SetLineWidth(0.8)
			p.Line(x, y0+height, x, y0+height-math.Min(*pt.Leak, mostLeak)/mostLeak*height*0.24)
			p.write(x+0.8, y0+height-0.6, words, 6.5, say.Rounded(*pt.Leak, 0)+" %")
		}
		if pt.Change == nil && !pt.Baseline {
			continue
		}
		change := 0.0
		if pt.Change != nil {
			change = *pt.Change
		}
		y := mid - math.Max(-1, math.Min(1, change/most))*half
		if any {
			p.SetLineWidth(0.3)
			p.Line(lastX, lastY, x, y)
		}
		if pt.Outside {
			p.Circle(x, y, 1, "F")
			p.middle(x, y-1.8, figures, 7, say.Rounded(change, 0)+" %")
		} else {
			p.SetFillColor(255, 255, 255)
			p.SetLineWidth(0.3)
			p.Circle(x, y, 0.8, "FD")
			p.SetFillColor(0, 0, 0)
		}
		lastX, lastY, any = x, y, true
	}
	p.y += height + 2.5
}
