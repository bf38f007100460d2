package dial

import (
	"cmp"
	"math"
	"slices"
)

// The needle is found twice. First by its form alone: a line from the axis outwards that stands out against what is beside it along most
// of its length, which no figure and no tick does. What is seen in the other pictures where the needle then is not is the bare face;
// and what a picture has more or less than the bare face is the needle, however blurred, which is found again by the form that it had
// while it stood.

// Parts of the needle, in radii of the rim.
const (
	hubEnd    = 0.20
	tailEnd   = 0.36 // no tail goes farther
	bodyEnd   = 0.62 // every needle does
	beside    = 0.10 // what it is compared with
	halfThick = 0.018
)

// lineness returns for each column how much of a radius stands out: 1 is all of it. Dark says that the needle is darker than the face.
func lineness(p polar, dark bool, clear float64) []float64 {
	score, far := make([]float64, columns), make([]float64, columns)
	from, to, beyond := rowAt(hubEnd), rowAt(bodyEnd), rowAt(tailEnd)
	sums := make([]float64, 3*columns+1)
	for row := from; row <= to; row++ {
		one := p[row*columns : (row+1)*columns]
		for i := range 3 * columns {
			sums[i+1] = sums[i] + float64(one[i%columns])
		}
		perRadian := columns / (2 * math.Pi)
		half := max(1, int(halfThick/out(row)*perRadian))
		gap := max(half+2, int(beside/out(row)*perRadian))
		for i := range columns {
			stands := standsOut(sums, i+columns, half, gap, dark)
			one := min(max(stands/clear, 0), 1)
			if row >= beyond {
				far[i] += one
				one *= 2
			}
			score[i] += one
		}
	}
	// A tail is as good a line, and a short one.
	for i := range score {
		score[i] /= float64(beyond - from + 2*(to-beyond+1))
		if far[i] < 0.5*float64(to-beyond+1) {
			score[i] = 0
		}
	}
	return score
}

// clearOf returns by how much a needle has to stand out in a polar, in its greys.
func clearOf(p polar) float64 {
	var some []float64
	var steps []float64
	for row := rowAt(hubEnd); row <= rowAt(bodyEnd); row += 3 {
		for col := 0; col < columns-3; col += 6 {
			k := row*columns + col
			some = append(some, float64(p[k]))
			steps = append(steps, math.Abs(float64(p[k+3])-float64(p[k])))
		}
	}
	return max(14, 2.2*middle(steps), 0.22*(share(some, 0.97)-share(some, 0.03)))
}

// peak is a place where a score is highest, in columns and parts of them.
type peak struct {
	at    float64
	value float64
}

// peaks returns the highest places of a score, none within apart columns of a higher one.
func peaks(score []float64, most, apart int) []peak {
	n := len(score)
	var all []peak
	for i, v := range score {
		before, after := score[(i+n-1)%n], score[(i+1)%n]
		if v < before || v <= after {
			continue
		}
		at := float64(i)
		if bend := before - 2*v + after; bend < 0 {
			at += 0.5 * (before - after) / bend
		}
		all = append(all, peak{at, v})
	}
	slices.SortFunc(all, func(a, b peak) int { return cmp.Compare(b.value, a.value) })
	var out []peak
	for _, p := range all {
		if len(out) == most {
			break
		}
		if !slices.ContainsFunc(out, func(q peak) bool { return around(p.at, q.at) < float64(apart) }) {
			out = append(out, p)
		}
	}
	return out
}

// around returns how far two columns are apart.
func around(a, b float64) float64 {
	return math.Abs(a - b - columns*math.Round((a-b)/columns))
}

// bare returns the face without its needle: for each place the middle one of the pictures in which the needle was elsewhere. Where it
// never was elsewhere, what is beside stands for it.
func bare(all []polar, where []float64) []float64 {
	const clear = 26.0            // columns: 13°
	const most = 41               // pictures
	leastSeen := min(3, len(all)) // pictures: a still has one
	face, seen := make([]float64, rows*columns), make([]bool, rows*columns)
	for col := range columns {
		var of []int
		for i, at := range where {
			if math.IsNaN(at) || around(float64(col), at) < clear || around(float64(col), at+columns/2) < clear {
				continue
			}
			of = append(of, i)
		}
		if len(of) < leastSeen {
			continue
		}
		step := max(1, len(of)/most)
		greys := make([]int, 0, most+1)
		for row := range rows {
			k := row*columns + col
			greys = greys[:0]
			for j := 0; j < len(of); j += step {
				greys = append(greys, int(all[of[j]][k]))
			}
			slices.Sort(greys)
			face[k], seen[k] = float64(greys[len(greys)/2]), true
		}
	}
	for row := range rows {
		fill(face[row*columns:(row+1)*columns], seen[row*columns:(row+1)*columns])
	}
	return face
}

// fill lays straight lines over the gaps of a row that goes round.
func fill(v []float64, seen []bool) {
	first := slices.Index(seen, true)
	if first < 0 {
		return
	}
	for i := first; i < first+columns; {
		j := i + 1
		for !seen[j%columns] {
			j++
		}
		a, b := v[i%columns], v[j%columns]
		for k := i + 1; k < j; k++ {
			v[k%columns] = a + (b-a)*float64(k-i)/float64(j-i)
		}
		i = j
	}
}
