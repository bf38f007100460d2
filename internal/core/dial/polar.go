package dial

import "math"

// A polar is the dial unrolled: a row for each of so many distances from the axis, a column for each half degree of the dial, which is
// made round first. In it a needle stands upright, wherever it points.
const (
	columns = 720
	rows    = 34
	rowFrom = 0.13 // in radii of the rim
	rowTo   = 0.90
)

// out returns how far out a row is, in radii of the rim.
func out(row int) float64 { return rowFrom + (rowTo-rowFrom)*(float64(row)+0.5)/rows }

// rowAt returns the row that is so far out.
func rowAt(far float64) int {
	return min(max(int((far-rowFrom)/(rowTo-rowFrom)*rows), 0), rows-1)
}

type polar []uint8 // rows × columns

// unroll makes a polar of a picture that lies over the first as a pose says; its greys are those of the first picture times a gain and
// plus an offset.
type unroll struct {
	at           [rows * columns][2]float32 // of the first picture, from the centre that poses turn about
	cx, cy       float64
	gain, offset float64
}

// newUnroll makes the places once. The ring's centre is the axis here.
func newUnroll(r ring, cx, cy float64, first plane) *unroll {
	u := &unroll{cx: cx, cy: cy}
	var greys []float64
	for row := range rows {
		for col := range columns {
			x, y := r.at(2*math.Pi*float64(col)/columns, out(row))
			u.at[row*columns+col] = [2]float32{float32(x - cx), float32(y - cy)}
			if col%4 == 0 {
				greys = append(greys, first.at(x, y))
			}
		}
	}
	low, high := share(greys, 0.02), share(greys, 0.96)
	// What is on the face fills the steps that a byte has.
	u.gain = 190 / max(high-low, 4)
	u.offset = 30 - u.gain*low
	return u
}

func (u *unroll) of(p plane, at pose) polar {
	out := make(polar, rows*columns)
	gain, offset := u.gain*at.gain, u.gain*at.offset+u.offset
	for i, d := range u.at {
		x, y := at.to(u.cx, u.cy, float64(d[0]), float64(d[1]))
		out[i] = uint8(min(max(gain*p.at(x, y)+offset, 0), 255))
	}
	return out
}
