package layout

import (
	"math"

	"braxel/internal/core/log"
)

// Drawing is the bore plan: an engine from above, its front at the left, in units of which a bore is 100 wide. The screen's plan.ts
// draws the same; a file of both holds them together.
type Drawing struct {
	Width  float64   `json:"width"`
	Height float64   `json:"height"`
	Bores  []BoreAt  `json:"bores"`
	Blocks []BlockAt `json:"blocks"`
	Axis   float64   `json:"axis"`  // of the crank between two banks, from above; 0 with one bank
	Front  float64   `json:"front"` // where the word stands; 0 where the engine is seen from its front
	Hub    float64   `json:"hub"`   // radius of a radial's case, in the middle of the drawing; 0 of any other
}

// BoreAt is the middle of a bore.
type BoreAt struct {
	Cylinder int     `json:"cylinder"`
	X        float64 `json:"x"`
	Y        float64 `json:"y"`
}

// BlockAt is the outline of a bank.
type BlockAt struct {
	X0 float64 `json:"x0"`
	Y0 float64 `json:"y0"`
	X1 float64 `json:"x1"`
	Y1 float64 `json:"y1"`
}

// The drawing's measures: bores stand a little further apart than they are wide, the right bank of a vee half a journal back.
const (
	pitch   = 121.0
	left    = 112.0
	top     = 66.0
	rowGap  = 168.0
	stagger = 18.0
	// roundLeast is the least radius on which a radial's bores stand: their numbers and leaks stand inside.
	roundLeast = 150.0
	// caseGap is how far a radial's case stays from the middle of its bores.
	caseGap = 60.0
)

// Draw lays out the bore plan of a layout; of a rotary, its rotors in a row.
func Draw(l log.Layout) Drawing {
	if l.Radial && len(l.Banks) == 1 {
		return drawRound(l.Banks[0])
	}
	rows := l.Banks
	if len(rows) == 0 {
		row := make([]int, l.Rotors)
		for i := range row {
			row[i] = i + 1
		}
		rows = [][]int{row}
	}
	back, longest := 0.0, 1
	if len(rows) == 2 && len(rows[0]) > 0 {
		back = stagger
	}
	for _, row := range rows {
		longest = max(longest, len(row))
	}
	d := Drawing{Width: left + float64(longest-1)*pitch + 80 + back, Height: 2*top + float64(len(rows)-1)*rowGap}
	for r, row := range rows {
		y := top + float64(r)*rowGap
		for i, c := range row {
			d.Bores = append(d.Bores, BoreAt{c, left + float64(i)*pitch + float64(r)*back, y})
		}
		d.Blocks = append(d.Blocks, BlockAt{left - 76, y - 56, left + float64(longest-1)*pitch + 70 + back, y + 56})
	}
	if len(rows) > 1 {
		d.Axis = d.Height / 2
	}
	d.Front = d.Height/2 + 4
	return d
}

// drawRound lays out a radial as it is seen from its front: the first cylinder at the top, the others clockwise.
func drawRound(row []int) Drawing {
	n := float64(len(row))
	radius := max(pitch/(2*math.Sin(math.Pi/n)), roundLeast)
	side := tenth(2 * (radius + top))
	d := Drawing{Width: side, Height: side, Hub: tenth(radius - caseGap), Blocks: []BlockAt{}}
	for i, c := range row {
		turn := 2 * math.Pi * float64(i) / n
		d.Bores = append(d.Bores, BoreAt{c, tenth(side/2 + radius*math.Sin(turn)), tenth(side/2 - radius*math.Cos(turn))})
	}
	return d
}

// tenth rounds to what two drawings of one layout are alike by.
func tenth(v float64) float64 { return math.Round(v*10) / 10 }
