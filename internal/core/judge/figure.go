package judge

import (
	"math"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/log"
	"braxel/internal/core/rotor"
	"braxel/internal/core/rules"
	"braxel/internal/core/twice"
	"braxel/internal/core/units"
)

// figure is what a cylinder read in one session. Log and se are the logarithm of its dry compression at sea level and
// the standard error of that; se 0 means that it was not cranked. LeakSE 0 means that there was no leak-down.
type figure struct {
	cylinder int
	gauge    units.Pressure // by the protocol's rule of pulls, as the sheet shows it
	level    units.Pressure // the same, the gauge's known offset taken off
	hose     float64        // what the hose ahead of the check valve takes, as a factor
	rpm      float64        // of the cranking; 0 where nobody took it
	speed    float64        // what brings a rotor's face to 250 1/min, as a factor; 1 of a cylinder
	log, se  float64
	shown    float64 // leak % as the tester showed it
	leakSE   float64
	attempts int // leak-downs
	paths    []log.Path
	wetGain  *float64  // percent
	oil      float64   // cm³ that it was cranked with
	faces    []float64 // of a rotor, kPa

	parts []belief.Part // what its pulls may mean
	pulls int
	rows  []belief.LeakRow
}

// Figure is what one visit read of a cylinder, brought to where two visits can be held beside each other.
type Figure struct {
	Cylinder int
	Gauge    units.Pressure // dry, as the sheet shows it, gauge kPa
	Log, SE  float64        // the logarithm of that at sea level in kPa, and its standard error; SE is 0 where it was not cranked
	Faces    []float64      // of a rotor, gauge kPa
	Pulls    int
	Leak     float64 // the lowest attempt as the reference tester would show it, percent
	LeakSE   float64 // its standard error; 0 where it was not leaked down
	First    float64 // the highest attempt; as Leak where there was one
	Attempts int
	Paths    []log.Path // where air was heard at the last attempt; nil where nobody listened
}

// laid returns a figure as it is held beside another visit's.
func (f figure) laid() Figure {
	out := Figure{Cylinder: f.cylinder, Gauge: f.gauge, Log: f.log, SE: f.se, Faces: f.faces, Pulls: f.pulls, Attempts: f.attempts, Paths: f.paths}
	if len(f.rows) == 0 {
		return out
	}
	low, high := f.rows[0], f.rows[0]
	for _, r := range f.rows {
		if r.Pct < low.Pct {
			low = r
		}
		high.Pct = max(high.Pct, r.Pct)
	}
	out.Leak, out.First = low.Pct, high.Pct
	out.LeakSE = math.Hypot(belief.LeakError(low.Pct, low.Step), rules.LeakWander*low.Pct)
	return out
}

// Read returns what a test read of a cylinder as it is weighed against another test.
func (f Figure) Read() twice.Read {
	return twice.Read{
		Log: f.Log, SE: f.SE, Pulls: f.Pulls, Leak: f.Leak, LeakSE: f.LeakSE, Attempts: f.Attempts, Listened: f.Paths != nil,
		Hissed: slices.ContainsFunc(f.Paths, func(p log.Path) bool { return p.Where == log.PlugHole }),
	}
}

// hisses reports whether air was heard at the tester's own seal.
func (f figure) hisses() bool {
	return slices.ContainsFunc(f.paths, func(p log.Path) bool { return p.Where == log.PlugHole })
}

// cleared reports whether a leak was gone when it was tried again.
func (f figure) cleared() bool {
	if len(f.rows) < 2 {
		return false
	}
	most := 0.0
	for _, r := range f.rows[:len(f.rows)-1] {
		most = max(most, r.Pct)
	}
	return most > f.rows[len(f.rows)-1].Pct+rules.LeakClears
}

// ringsOnly reports whether air was heard nowhere but at the oil filler, or nobody listened.
func ringsOnly(f figure) bool {
	loud, heard := Loudest(f.paths)
	return !heard || loud.Level == 1 && loud.Where != log.Coolant && loud.Where != log.Neighbour
}

// faceOff returns by how many percent the lowest face of a rotor stands below its highest, and whether that is too far.
func faceOff(f figure) (pct float64, off bool) {
	if len(f.faces) < 2 {
		return 0, false
	}
	return rotor.Apart(f.faces)
}

// Loudest returns where air was heard loudest beside the oil filler and the tester's own seal, which tell nothing; false
// where it was heard nowhere else.
func Loudest(paths []log.Path) (loud log.Path, ok bool) {
	for _, p := range paths {
		p.Level = max(p.Level, 1)
		if p.Where != log.Crankcase && p.Where != log.PlugHole && p.Level > loud.Level {
			loud, ok = p, true
		}
	}
	return loud, ok
}

// anyOf reports whether it is so of any cylinder that was read.
func anyOf(now map[int]figure, is func(figure) bool) bool {
	for _, f := range now {
		if is(f) {
			return true
		}
	}
	return false
}
