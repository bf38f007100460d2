package log

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/units"
)

// Check returns what is wrong with an engine: fields beyond their limits, numbers used twice, a firing order that is no
// permutation, intervals that do not make up a cycle, a rod that cannot reach. Pointers are relative to the engine.
func (e Engine) Check() Faults {
	f := CheckFields("", e)
	layout := e.checkLayout()
	f = append(f, layout...)
	if len(layout) == 0 {
		f = append(f, e.checkFiring()...)
	}
	if i := e.Identity; i != nil && i.Email != "" && !strings.Contains(strings.Trim(i.Email, "@"), "@") {
		f.add("/identity/email", "log.email-needs-an-at")
	}
	if e.RodMM > 0 && e.StrokeMM > 0 && e.RodMM <= e.StrokeMM/2 {
		f.add("/rod_mm", "log.rod-mm-must-longer-than", "rodMM", e.RodMM, "strokeMM", e.StrokeMM)
	}
	return f
}

// leastRadial is as few cylinders as stand around a crank.
const leastRadial = 3

// mostInBank is as many cylinders as a bank of the log's schema may have.
const mostInBank = 16

func (e Engine) checkLayout() Faults {
	var f Faults
	if e.Kind == Rotary {
		if e.Layout.Rotors < 1 {
			f.add("/layout/rotors", "log.rotary-needs-number-rotors")
		}
		if len(e.Layout.Banks) > 0 {
			f.add("/layout/banks", "log.rotary-has-rotors-not-banks")
		}
		for i := 1; i < len(e.SpeedTable); i++ {
			if e.SpeedTable[i].RPM <= e.SpeedTable[i-1].RPM {
				f.add(fmt.Sprintf("/speed_table/%d/rpm", i), "log.speeds-must-rise-from-row",
					"rpm", e.SpeedTable[i].RPM,
					"rpm2", e.SpeedTable[i-1].RPM)
			}
		}
		return f
	}
	if e.Layout.Rotors != 0 {
		f.add("/layout/rotors", "log.only-rotary-has-rotors")
	}
	if len(e.SpeedTable) > 0 {
		f.add("/speed_table", "log.only-rotary-faces-corrected-one")
	}
	seen := map[int]bool{}
	for b, bank := range e.Layout.Banks {
		if len(bank) == 0 || len(bank) > mostInBank {
			f.add(fmt.Sprintf("/layout/banks/%d", b), "log.bank-has-1-cylinders-not", "mostInBank", mostInBank, "n", len(bank))
		}
		for i, c := range bank {
			at := fmt.Sprintf("/layout/banks/%d/%d", b, i)
			switch {
			case c < 1 || c > 64:
				f.add(at, "log.cylinder-number-must-between-1", "c", c)
			case seen[c]:
				f.add(at, "log.cylinder-number-used-twice", "c", c)
			}
			seen[c] = true
		}
	}
	if e.Layout.Radial && len(f) == 0 && (len(e.Layout.Banks) != 1 || len(seen) < leastRadial) {
		f.add("/layout/banks", "log.radial-has-one-row-at", "leastRadial", leastRadial)
	}
	if m := e.Layout.Master; m != 0 && (!e.Layout.Radial || !seen[m]) {
		f.add("/layout/master_rod", "log.master-rod-must-one-radials")
	}
	if len(seen) == 0 && len(f) == 0 {
		f.add("/layout/banks", "log.engine-needs-at-least-one")
	}
	for _, number := range slices.Sorted(maps.Keys(e.Layout.Names)) {
		if c, err := strconv.Atoi(number); err != nil || !seen[c] {
			f.add("/layout/names/"+number, "log.engine-has-no-cylinder", "short", short(number))
		}
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
			f.add("/firing_order", "log.firing-order-must-name-each", "join", Join(want, ", "))
		}
	}
	if n := len(e.FiringIntervals); n > 0 {
		sum := 0.0
		for i, d := range e.FiringIntervals {
			sum += d
			if d < 0 || d > e.Cycle() {
				f.add(fmt.Sprintf("/firing_intervals_deg/%d", i), "log.must-between-0-2",
					"d", d,
					"cycle", e.Cycle())
			}
		}
		if n != len(e.FiringOrder) {
			f.add("/firing_intervals_deg", "log.intervals-for-cylinders-firing-order", "n", n, "n2", len(e.FiringOrder))
		} else if e.Kind != Rotary && math.Abs(sum-e.Cycle()) > 1 {
			f.add("/firing_intervals_deg", "log.intervals-add-up-not", "sum", sum, "cycle", e.Cycle())
		}
	}
	return f
}

// Check returns what is wrong with a whole log: fields beyond their limits, faults of its engine, readings of cylinders that
// the engine has not, things named twice, sessions out of order, readings beyond any gauge. It names at most a hundred.
func (l Log) Check() Faults {
	f := CheckFields("", l)
	if l.Format != Format || l.Version != Version {
		f.add("/format", "log.not-version", "format", Format, "version", Version)
	}
	for _, one := range l.Engine.Check() {
		f.Also(Fault{"/engine" + one.At, one.ID, one.What})
	}
	for _, i := range twice(l.Testers, func(t Tester) string { return t.ID }) {
		f.add(fmt.Sprintf("/testers/%d/id", i), "log.tester-there-twice", "id", l.Testers[i].ID)
	}
	for _, i := range twice(l.Builds, func(b Build) string { return b.ID }) {
		f.add(fmt.Sprintf("/builds/%d/id", i), "log.build-there-twice", "id", l.Builds[i].ID)
	}
	for _, i := range twice(l.Sessions, func(s Session) string { return s.ID }) {
		f.add(fmt.Sprintf("/sessions/%d/id", i), "log.session-there-twice", "id", l.Sessions[i].ID)
	}
	last := ""
	for i, s := range l.Sessions {
		at := fmt.Sprintf("/sessions/%d", i)
		if s.Date < last {
			f.add(at+"/date", "log.before-session-above", "date", s.Date, "last", last)
		}
		last = s.Date
		f.Also(s.Check(l.Engine, at)...)
		if len(f) > mostFaults {
			return f[:mostFaults]
		}
	}
	return f
}

// Odd returns what is kept as it is and that somebody may have meant otherwise: testers that the log does not list, rows without
// a pull. It names at most a hundred.
func (l Log) Odd() Faults {
	var f Faults
	tester := func(at, id string) {
		if _, ok := l.Tester(id); id != "" && !ok {
			f.add(at+"/tester", "log.not-tester-log", "short", short(id))
		}
	}
	for i, s := range l.Sessions {
		for k, row := range s.Compression {
			at := fmt.Sprintf("/sessions/%d/compression/%d", i, k)
			tester(at, row.Tester)
			if len(row.Pulls) == 0 {
				f.add(at+"/pulls", "log.row-has-no-reading")
			}
		}
		for k, row := range s.Leakdown {
			tester(fmt.Sprintf("/sessions/%d/leakdown/%d", i, k), row.Tester)
		}
		if len(f) > mostFaults {
			return f[:mostFaults]
		}
	}
	return f
}

// twice returns where a list names something that it has named before.
func twice[T any](all []T, id func(T) string) []int {
	seen := map[string]bool{}
	var again []int
	for i, one := range all {
		if seen[id(one)] {
			again = append(again, i)
		}
		seen[id(one)] = true
	}
	return again
}

// Check returns what is wrong with the readings of a session of that engine, beside what their fields allow; its pointers
// below at. Readings of a cylinder that the engine has not are refused unless they are struck.
func (s Session) Check(e Engine, at string) Faults {
	var f Faults
	for j, row := range s.Compression {
		here := fmt.Sprintf("%s/compression/%d", at, j)
		if slices.ContainsFunc(row.Pulls, Pull.Counts) || len(row.Pulls) == 0 {
			f = append(f, e.CheckPlace(row.Place, here, true)...)
		}
		for k, p := range row.Pulls {
			if err := units.Check(p.Reading); err != nil {
				f.Also(Of(fmt.Sprintf("%s/pulls/%d/value", here, k), err))
			}
		}
	}
	for j, row := range s.Leakdown {
		here := fmt.Sprintf("%s/leakdown/%d", at, j)
		if row.Struck == "" {
			f = append(f, e.CheckPlace(row.Place, here, false)...)
		}
		f = append(f, row.Check(here)...)
	}
	f = append(f, e.CheckTouched(s.Touched, at+"/touched")...)
	for j, o := range s.Observations {
		if o.Struck == "" && o.Place != (Place{}) {
			f = append(f, e.CheckPlace(o.Place, fmt.Sprintf("%s/observations/%d", at, j), false)...)
		}
	}
	return f
}

// CheckTouched names cylinders that a repair cannot have touched.
func (e Engine) CheckTouched(cylinders []int, at string) Faults {
	var f Faults
	for j, c := range cylinders {
		if !slices.Contains(e.Cylinders(), c) {
			f.add(fmt.Sprintf("%s/%d", at, j), "log.has-no-cylinder", "name", e.Name, "c", c)
		}
	}
	return f
}

// CheckPlace names what is wrong with a place on this engine; of a rotary's compression its face is wanted.
func (e Engine) CheckPlace(p Place, at string, face bool) Faults {
	var f Faults
	switch {
	case e.Kind == Rotary && p.Cylinder != 0 && p.Rotor == 0 && !face:
		return e.CheckPlace(Place{Rotor: p.Cylinder}, at, false)
	case e.Kind == Rotary && !e.Has(Place{Rotor: p.Rotor, Cylinder: p.Cylinder}):
		f.add(at+"/rotor", "log.engine-has-no", "value", Place{Rotor: p.Number()})
	case e.Kind == Rotary && face && (p.Face < 1 || p.Face > 3):
		f.add(at+"/face", "log.rotor-reading-needs-face-1")
	case e.Kind != Rotary && !e.Has(p):
		f.add(at+"/cylinder", "log.engine-has-no-cylinder-2", "number", p.Number())
	}
	return f
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
		f.add(at+"/unit", "log.not-unit-pressure-here-use", "unit", r.Unit, "listed", units.Listed())
	case !(r.Supply > 0) || r.SupplyReading().Pressure() > maxSupply:
		f.add(at+"/supply", "log.supply-must-between-0-not",
			"supplyReading", r.SupplyReading(),
			"in", maxSupply.In(r.Unit),
			"unit", r.Unit)
	case !(r.Held >= 0):
		f.add(at+"/held", "log.held-pressure-cant-below-zero", "heldReading", r.HeldReading())
	case r.Held > r.Supply:
		f.add(at+"/held", "log.held-cant-above-supply",
			"heldReading", r.HeldReading(),
			"supplyReading", r.SupplyReading())
	}
	for i, p := range r.Paths {
		if p.Where == Neighbour && p.Cylinder == r.Cylinder {
			f.add(fmt.Sprintf("%s/paths/%d/cylinder", at, i), "log.cylinder-cant-own-neighbour", "cylinder", p.Cylinder)
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
