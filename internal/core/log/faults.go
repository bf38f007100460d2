package log

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"braxel/internal/core/units"
)

// Fault is one thing wrong with what was given: where, as a JSON Pointer, and what, as a sentence.
type Fault struct {
	At   string `json:"at"`
	What string `json:"what"`
}

// Faults is every fault found, as one error.
type Faults []Fault

func (f Faults) Error() string {
	lines := make([]string, len(f))
	for i, one := range f {
		lines[i] = one.At + ": " + one.What
	}
	return strings.Join(lines, "\n")
}

// Err returns f as an error, nil where there is no fault.
func (f Faults) Err() error {
	if len(f) == 0 {
		return nil
	}
	return f
}

func (f *Faults) add(at, what string, args ...any) {
	*f = append(*f, Fault{at, fmt.Sprintf(what, args...)})
}

// Check returns what the schema cannot see of an engine: numbers used twice, a firing order that is no permutation,
// intervals that do not make up a cycle, a rod that cannot reach. Pointers are relative to the engine.
func (e Engine) Check() Faults {
	var f Faults
	if strings.TrimSpace(e.Name) == "" {
		f.add("/name", "the engine needs a name")
	}
	f = append(f, e.checkLayout()...)
	if len(f) == 0 {
		f = append(f, e.checkFiring()...)
	}
	if e.RodMM > 0 && e.StrokeMM > 0 && e.RodMM <= e.StrokeMM/2 {
		f.add("/rod_mm", "a rod of %g mm is no longer than half the stroke of %g mm", e.RodMM, e.StrokeMM)
	}
	return f
}

func (e Engine) checkLayout() Faults {
	var f Faults
	if e.Kind == Rotary {
		if e.Layout.Rotors < 1 {
			f.add("/layout/rotors", "a rotary needs its number of rotors")
		}
		return f
	}
	seen := map[int]bool{}
	for b, bank := range e.Layout.Banks {
		if len(bank) == 0 {
			f.add(fmt.Sprintf("/layout/banks/%d", b), "the bank has no cylinder")
		}
		for i, c := range bank {
			at := fmt.Sprintf("/layout/banks/%d/%d", b, i)
			switch {
			case c < 1 || c > 64:
				f.add(at, "cylinder number %d is not between 1 and 64", c)
			case seen[c]:
				f.add(at, "cylinder number %d is used twice", c)
			}
			seen[c] = true
		}
	}
	if len(seen) == 0 && len(f) == 0 {
		f.add("/layout/banks", "the engine needs at least one cylinder")
	}
	return f
}

// Cycle returns the crank degrees from one compression TDC of a cylinder to its next: 720 in a four-stroke, 360 in a
// two-stroke.
func (e Engine) Cycle() float64 {
	if e.Kind == TwoStroke {
		return 360
	}
	return 720
}

func (e Engine) checkFiring() Faults {
	var f Faults
	if len(e.FiringOrder) > 0 && e.Kind != Rotary {
		want, got := slices.Sorted(slices.Values(e.Cylinders())), slices.Sorted(slices.Values(e.FiringOrder))
		if !slices.Equal(want, got) {
			f.add("/firing_order", "the firing order must name each cylinder once (%s)", Join(want, ", "))
		}
	}
	if n := len(e.FiringIntervals); n > 0 {
		sum := 0.0
		for i, d := range e.FiringIntervals {
			sum += d
			if d < 0 || d > e.Cycle() {
				f.add(fmt.Sprintf("/firing_intervals_deg/%d", i), "%g° is not between 0° and %g°", d, e.Cycle())
			}
		}
		if n != len(e.FiringOrder) {
			f.add("/firing_intervals_deg", "%d intervals for %d cylinders in the firing order", n, len(e.FiringOrder))
		} else if e.Kind != Rotary && math.Abs(sum-e.Cycle()) > 1 {
			f.add("/firing_intervals_deg", "the intervals add up to %g°, not %g°", sum, e.Cycle())
		}
	}
	return f
}

// Check returns what the schema cannot see of a whole log: faults of its engine, rows of cylinders that the engine has
// not, sessions named twice or out of order, readings beyond any gauge.
func (l Log) Check() Faults {
	var f Faults
	for _, one := range l.Engine.Check() {
		f.add("/engine"+one.At, "%s", one.What)
	}
	cylinders := l.Engine.Cylinders()
	known := func(c int) bool { return slices.Contains(cylinders, c) }
	seen, last := map[string]bool{}, ""
	for i, s := range l.Sessions {
		at := fmt.Sprintf("/sessions/%d", i)
		if seen[s.ID] {
			f.add(at+"/id", "session %q is there twice", s.ID)
		}
		seen[s.ID] = true
		if s.Date < last {
			f.add(at+"/date", "%s is before the session above it (%s)", s.Date, last)
		}
		last = s.Date
		s.check(at, l.Engine.Kind == Rotary, known, &f)
	}
	return f
}

func (s Session) check(at string, rotary bool, known func(int) bool, f *Faults) {
	for j, row := range s.Compression {
		here := fmt.Sprintf("%s/compression/%d", at, j)
		switch {
		case rotary && !known(row.Rotor):
			f.add(here+"/rotor", "the engine has no rotor %d", row.Rotor)
		case rotary && row.Face == 0:
			f.add(here+"/face", "a rotor's reading needs its face, 1 to 3")
		case !rotary && !known(row.Cylinder):
			f.add(here+"/cylinder", "the engine has no cylinder %d", row.Cylinder)
		}
		for k, p := range row.Pulls {
			if err := units.Check(p.Reading); err != nil {
				f.add(fmt.Sprintf("%s/pulls/%d/value", here, k), "%v", err)
			}
		}
	}
	for j, row := range s.Leakdown {
		here := fmt.Sprintf("%s/leakdown/%d", at, j)
		if !known(row.Cylinder) {
			f.add(here+"/cylinder", "the engine has no cylinder %d", row.Cylinder)
		}
		*f = append(*f, row.Check(here)...)
	}
}

// Join writes numbers with sep between them.
func Join(numbers []int, sep string) string {
	return strings.Trim(strings.ReplaceAll(fmt.Sprint(numbers), " ", sep), "[]")
}

// Check returns what is wrong with a leak-down row, its pointers below at.
func (r Leakdown) Check(at string) Faults {
	var f Faults
	switch {
	case !r.Unit.Valid():
		f.add(at+"/unit", "unit %q is not one of psi, kPa, bar, kgf/cm2", r.Unit)
	case !(r.Supply > 0) || r.SupplyReading().Pressure() > maxSupply:
		f.add(at+"/supply", "a supply of %s is not between 0 and %.0f %s", r.SupplyReading(), maxSupply.In(r.Unit), r.Unit)
	case !(r.Held >= 0):
		f.add(at+"/held", "a held pressure of %s is below nothing", r.HeldReading())
	case r.Held > r.Supply:
		f.add(at+"/held", "held %s is above the supply of %s", r.HeldReading(), r.SupplyReading())
	}
	for i, p := range r.Paths {
		if p.Where == Neighbour && p.Cylinder == r.Cylinder {
			f.add(fmt.Sprintf("%s/paths/%d/cylinder", at, i), "cylinder %d is not its own neighbour", p.Cylinder)
		}
	}
	return f
}

// maxSupply is well above any leak-down tester's rating: 20 bar.
const maxSupply units.Pressure = 2000

// SupplyReading and HeldReading are the two dials with their unit.
func (r Leakdown) SupplyReading() units.Reading { return units.Reading{Value: r.Supply, Unit: r.Unit} }

// HeldReading is what the cylinder held.
func (r Leakdown) HeldReading() units.Reading { return units.Reading{Value: r.Held, Unit: r.Unit} }
