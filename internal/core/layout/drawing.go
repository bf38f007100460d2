package layout

import "braxel/internal/core/log"

// Drawing is the bore plan: an engine from above, its front at the left, in units of which a bore is 100 wide. The screen's plan.ts
// draws the same; a file of both holds them together.
type Drawing struct {
	Width  float64   `json:"width"`
	Height float64   `json:"height"`
	Bores  []BoreAt  `json:"bores"`
	Blocks []BlockAt `json:"blocks"`
	Axis   float64   `json:"axis"`  // of the crank between two banks, from above; 0 with one bank
	Front  float64   `json:"front"` // where the word stands
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
)

// Draw lays out the bore plan of a layout; of a rotary, its rotors in a row.
func Draw(l log.Layout) Drawing {
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
