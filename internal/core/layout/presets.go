package layout

import (
	"fmt"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// Preset is a usual arrangement of cylinders, for choosing when an engine is entered.
type Preset struct {
	Name    string     `json:"name"`
	Group   string     `json:"group" doc:"inline, vee, flat, single, radial"`
	Layout  log.Layout `json:"layout"`
	Firings []Firing   `json:"firings" doc:"The usual firing orders, commonest first"`
}

// Firing is a firing order with its intervals; none means even.
type Firing struct {
	Order     []int     `json:"order"`
	Intervals []float64 `json:"intervals_deg,omitempty"`
}

func even(order ...int) Firing { return Firing{Order: order} }

func uneven(intervals []float64, order ...int) Firing { return Firing{order, intervals} }

// inlineFirings holds the usual orders of a row of cylinders, by their number.
var inlineFirings = map[int][]Firing{
	1: {even(1)},
	2: {even(1, 2), uneven([]float64{180, 540}, 1, 2), uneven([]float64{270, 450}, 1, 2)},
	3: {even(1, 3, 2), even(1, 2, 3)},
	4: {even(1, 3, 4, 2), even(1, 2, 4, 3)},
	5: {even(1, 2, 4, 5, 3)},
	6: {even(1, 5, 3, 6, 2, 4), even(1, 4, 2, 6, 3, 5)},
	7: {even(1, 3, 5, 7, 2, 4, 6)},
	8: {even(1, 6, 2, 5, 8, 3, 7, 4), even(1, 3, 2, 5, 8, 6, 7, 4)},
}

// twoBanks holds the engines with two banks: angle, and the orders for numbers that alternate from bank to bank (odd
// numbers in the first) and for numbers that run down one bank and then the other.
var twoBanks = []struct {
	group                 string
	cylinders             int
	angle                 float64
	alternating, bankwise []Firing
}{
	{
		"vee",
		2,
		90,
		nil,
		[]Firing{uneven([]float64{270, 450}, 1, 2), uneven([]float64{315, 405}, 1, 2), uneven([]float64{300, 420}, 1, 2), even(1, 2)},
	},
	{"vee", 4, 90, []Firing{even(1, 2, 3, 4)}, []Firing{even(1, 3, 2, 4), even(1, 3, 4, 2)}},
	{"vee", 6, 60, []Firing{even(1, 2, 3, 4, 5, 6), even(1, 6, 5, 4, 3, 2)}, []Firing{even(1, 4, 2, 5, 3, 6), even(1, 4, 3, 6, 2, 5)}},
	{
		"vee",
		8,
		90,
		[]Firing{even(1, 8, 4, 3, 6, 5, 7, 2), even(1, 8, 7, 2, 6, 5, 4, 3), even(1, 2, 7, 8, 4, 5, 6, 3)},
		[]Firing{even(1, 5, 4, 2, 6, 3, 7, 8), even(1, 3, 7, 2, 6, 5, 4, 8), even(1, 5, 4, 8, 6, 3, 7, 2)},
	},
	{"vee", 10, 90, []Firing{even(1, 10, 9, 4, 3, 6, 5, 8, 7, 2)}, []Firing{even(1, 6, 5, 10, 2, 7, 3, 8, 4, 9)}},
	{"vee", 12, 60, []Firing{even(1, 12, 9, 4, 5, 8, 11, 2, 3, 10, 7, 6)}, []Firing{even(1, 12, 5, 8, 3, 10, 6, 7, 2, 11, 4, 9)}},
	{"flat", 2, 180, nil, []Firing{even(1, 2)}},
	{"flat", 4, 180, []Firing{even(1, 3, 2, 4), even(1, 4, 3, 2)}, []Firing{even(1, 4, 2, 3), even(1, 3, 2, 4)}},
	{"flat", 6, 180, []Firing{even(1, 6, 3, 2, 5, 4), even(1, 4, 5, 2, 3, 6)}, []Firing{even(1, 6, 2, 4, 3, 5)}},
}

// radials are the usual radials: of an odd number every other one fires, twice around.
var radials = map[int][]Firing{5: {even(1, 3, 5, 2, 4)}, 7: {even(1, 3, 5, 7, 2, 4, 6)}, 9: {even(1, 3, 5, 7, 9, 2, 4, 6, 8)}}

// Presets returns the arrangements to choose from: inline 1–8, vee 2–12, flat 2–6, each numbering of its own, and radials.
func Presets() []Preset {
	var all []Preset
	for n := 1; n <= 8; n++ {
		name, group := say.Text("layout.inline", "n", n), "inline"
		if n == 1 {
			name, group = say.Text("layout.single"), "single"
		}
		all = append(all, Preset{name, group, log.Layout{Banks: [][]int{run(1, n, 1)}}, inlineFirings[n]})
	}
	for _, b := range twoBanks {
		name := map[string]string{"vee": "V", "flat": "Flat "}[b.group] + fmt.Sprint(b.cylinders)
		half := b.cylinders / 2
		if b.alternating != nil {
			banks := [][]int{run(1, half, 2), run(2, half, 2)}
			all = append(all, Preset{say.Text("layout.odd-even-banks",
				"name", name,
			), b.group, log.Layout{Banks: banks, AngleDeg: b.angle}, b.alternating})
			name += say.Text("layout.bank-bank")
		}
		banks := [][]int{run(1, half, 1), run(half+1, half, 1)}
		all = append(all, Preset{name, b.group, log.Layout{Banks: banks, AngleDeg: b.angle}, b.bankwise})
	}
	for _, n := range []int{5, 7, 9} {
		all = append(all, Preset{say.Text("layout.radial-2",
			"n", n,
		), "radial", log.Layout{Banks: [][]int{run(1, n, 1)}, Radial: true}, radials[n]})
	}
	return all
}

// run returns n numbers from first, each by step above the one before.
func run(first, n, step int) []int {
	numbers := make([]int, n)
	for i := range numbers {
		numbers[i] = first + i*step
	}
	return numbers
}
