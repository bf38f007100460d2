// Package layout knows which cylinder stands where, which share a gasket land, and in what order they come to firing.
package layout

import (
	"fmt"
	"math"
	"slices"
	"strconv"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Neighbours returns the cylinders that stand beside c in its own bank, front first. Only these share a piece of head
// gasket with it; a radial's cylinders each have a head of their own.
func Neighbours(l log.Layout, c int) []int {
	if l.Radial {
		return nil
	}
	for _, bank := range l.Banks {
		i := slices.Index(bank, c)
		if i < 0 {
			continue
		}
		var beside []int
		if i > 0 {
			beside = append(beside, bank[i-1])
		}
		if i+1 < len(bank) {
			beside = append(beside, bank[i+1])
		}
		return beside
	}
	return nil
}

// Place says in words where cylinder c stands: "bank 2, third from front".
func Place(l log.Layout, c int) string {
	for b, bank := range l.Banks {
		i := slices.Index(bank, c)
		if i < 0 {
			continue
		}
		if l.Radial {
			return around(l, i, len(bank))
		}
		where := inBank(i, len(bank))
		switch {
		case len(l.Banks) == 1 && where == "":
			return say.Text("layout.only-cylinder")
		case len(l.Banks) == 1:
			return where
		case where == "":
			return say.Text("layout.bank", "b", b+1)
		default:
			return say.Text("layout.bank-2", "b", b+1, "where", where)
		}
	}
	if c >= 1 && c <= l.Rotors {
		return inBank(c-1, l.Rotors)
	}
	return ""
}

// around says where the i-th cylinder of a radial stands: "72° clockwise from the top, master rod".
func around(l log.Layout, i, n int) string {
	where := say.Text("layout.top")
	if i > 0 {
		where = say.Text("layout.clockwise-from-top", "i", 360*float64(i)/float64(n))
	}
	if l.Master != 0 && l.Banks[0][i] == l.Master {
		where += say.Text("layout.master-rod")
	}
	return where
}

func inBank(i, n int) string {
	switch {
	case n == 1:
		return ""
	case i == 0:
		return say.Text("layout.front")
	case i == n-1:
		return say.Text("layout.rear")
	}
	if words := say.Maybe("layout.from-front-" + strconv.Itoa(i+1)); words != "" {
		return words
	}
	return say.Text("layout.th-from-front", "i", i+1)
}

// SameBank reports whether a and b stand in one bank.
func SameBank(l log.Layout, a, b int) bool {
	return slices.ContainsFunc(l.Banks, func(bank []int) bool { return slices.Contains(bank, a) && slices.Contains(bank, b) })
}

var counts = []string{"", "single", "twin", "triple", "four", "five", "six", "seven", "eight"}

// Describe says in a few words what engine it is, its size in the unit chosen: "2.2 l four", "5.4 l V8", "3.0 l flat six", "two-rotor".
func Describe(e log.Engine, shown units.Choice) string { return Sized(Size(e), Called(e), shown) }

// Called says what kind of engine it is, without its size: "V8", "twin, two-stroke".
func Called(e log.Engine) string {
	n := len(e.Cylinders())
	what := say.Text("layout.cylinders", "n", n)
	switch {
	case e.Layout.Rotors > 0:
		return []string{"single-rotor", "two-rotor", "three-rotor", "four-rotor", "five-rotor", "six-rotor"}[min(n, 6)-1]
	case e.Layout.Radial:
		what = say.Text("layout.radial", "n", n)
	case len(e.Layout.Banks) == 2 && e.Layout.AngleDeg == 180 && n < len(counts):
		what = say.Text("layout.flat", "counts", counts[n])
	case len(e.Layout.Banks) == 2 && n == 2:
		what = "V-twin"
	case len(e.Layout.Banks) == 2:
		what = fmt.Sprintf("V%d", n)
	case len(e.Layout.Banks) == 1 && n < len(counts):
		what = counts[n]
	}
	if e.Kind == log.TwoStroke {
		what += say.Text("layout.two-stroke")
	}
	return what
}

// Size returns an engine's displacement in cm³, from bore and stroke where they are known; 0 where nobody said.
func Size(e log.Engine) float64 {
	if n := len(e.Cylinders()); e.BoreMM > 0 && e.StrokeMM > 0 {
		return Displacement(e.BoreMM, e.StrokeMM, n)
	}
	return e.DisplacementCC
}

// Sized puts a displacement before what an engine is called, in the unit chosen; nothing where it is not known.
func Sized(cc float64, called string, shown units.Choice) string {
	if cc <= 0 {
		return called
	}
	return size(cc, shown) + " " + called
}

// size writes a displacement as one speaks of it: in litres, to a tenth, or in whole cubic inches or centimetres; small ones in tenths of a
// cubic inch.
func size(cc float64, shown units.Choice) string {
	switch shown.Volume {
	case "cc", "ci":
		v, unit := shown.In(units.Volume, cc)
		if unit == "ci" && v < 100 {
			return say.Rounded(v, 1) + " " + unit
		}
		return say.Rounded(v, 0) + " " + unit
	}
	return say.Rounded(cc/1000, 1) + " l"
}

// Displacement returns the swept volume in cm³ of n cylinders, bore and stroke in mm: π/4·B²·S·N.
func Displacement(bore, stroke float64, n int) float64 {
	return math.Pi / 4 * bore * bore * stroke * float64(n) / 1000
}
