package trace

import (
	"math"

	"braxel/internal/core/say"
)

// readFaces tells a rotor's three faces apart: every third pulse is of one. A pause may have passed any number of them, so what
// comes after it is laid where its faces agree best with those before.
func readFaces(a *Answer, usual float64, k Known) {
	var runs [][]int // of beats, without a pause
	for i := range a.Beats {
		if i == 0 || a.Beats[i].Seconds-a.Beats[i-1].Seconds > slack*usual {
			runs = append(runs, nil)
		}
		runs[len(runs)-1] = append(runs[len(runs)-1], i)
	}
	longest := 0
	for i, run := range runs {
		if len(run) > len(runs[longest]) {
			longest = i
		}
	}
	if len(runs[longest]) < 3 {
		return
	}
	var faces [3][]float64
	take := func(run []int, shift int) {
		for j, i := range run {
			face := (j + shift) % 3
			a.Beats[i].Face = face + 1
			if a.Beats[i].Whole {
				faces[face] = append(faces[face], a.Beats[i].Value)
			}
		}
	}
	take(runs[longest], 0)
	for n, run := range runs {
		if n == longest || len(run) < 3 {
			continue
		}
		best, shift := math.Inf(1), 0
		for s := range 3 {
			apart := 0.0
			for j, i := range run {
				if d := a.Beats[i].Value - median(faces[(j+s)%3]); a.Beats[i].Whole {
					apart += d * d
				}
			}
			if apart < best {
				best, shift = apart, s
			}
		}
		take(run, shift)
	}
	for _, f := range faces {
		if len(f) == 0 {
			a.FacesKPa = nil
			return
		}
		a.FacesKPa = append(a.FacesKPa, median(f))
	}
	a.Why += say.Text("trace.faces-turn-kpa",
		"facesKPa", k.written(a.FacesKPa[0]),
		"facesKPa2", k.written(a.FacesKPa[1]),
		"facesKPa3", k.written(a.FacesKPa[2]),
	)
}
