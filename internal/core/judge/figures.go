package judge

import (
	"cmp"
	"math"
	"slices"

	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/units"
)

// figure is what a cylinder read in one session. Log and se are the logarithm of its dry compression at sea level and
// the standard error of that; se 0 means that it was not cranked. Leak and leakSE are in percent on the baseline's
// tester; leakSE 0 means that there was no leak-down.
type figure struct {
	gauge    units.Pressure
	log, se  float64
	tester   string
	leak     float64
	shown    float64 // leak % as the tester showed it
	leakSE   float64
	attempts int
	paths    []log.Path
	wetGain  *float64  // percent
	faces    []float64 // of a rotor, kPa
}

// scatter is what two tests of an unchanged cylinder differ by beyond gauge and division: ring position, oil, heat; a
// cold engine differs more.
const (
	scatter     = 0.008
	coldScatter = 0.014
)

// leakScatter is the same for leak-down, in points, and as a share of the leak.
const (
	leakScatter = 0.6
	leakShare   = 0.12
)

// figures returns what each cylinder read. A later row of a cylinder replaces an earlier one, and struck ones count for
// nothing. A cylinder that reads nothing is given half a division, so that its ratio stays a number. Of a rotor the lowest
// face counts: which face is which cannot be told from one test to the next.
func figures(l log.Log, s log.Session, orifice float64, spread map[string]float64) map[int]figure {
	ambient := gas.AmbientOf(l.Engine, s.Conditions)
	found := map[int]figure{}
	wet := map[int]units.Pressure{}
	for _, row := range s.Compression {
		tester, _ := l.Tester(row.Tester)
		division := reading.DivisionOf(tester)
		r := reading.Of(row.Pulls, reading.UntilTwoAgree, division)
		if r.Pulls == 0 {
			continue
		}
		c := number(row)
		if row.Mode == log.Wet {
			wet[c] = r.Pressure
			continue
		}
		f := found[c]
		if row.Face > 0 {
			f.faces = append(f.faces, float64(r.Pressure))
			found[c] = f
			if r.Pressure > units.Pressure(slices.Min(f.faces)) {
				continue
			}
		}
		level := max(r.Pressure-units.Pressure(tester.OffsetKPa), division/2) * withoutHose(l.Engine, tester, ambient)
		n := math.Min(float64(r.Pulls), 2)
		sd, ok := spread[row.Tester]
		if !ok {
			sd = usual
		}
		rel := math.Hypot(float64(division/level)/math.Sqrt(12*n), sd/float64(level)/math.Sqrt(n))
		f.gauge, f.tester = r.Pressure, row.Tester
		f.log, f.se = math.Log(float64(gas.ToSeaLevel(level, ambient))), math.Hypot(scatterOf(s), math.Min(rel, 0.5))
		found[c] = f
	}
	for c, p := range wet {
		if f, ok := found[c]; ok && f.gauge > 0 {
			gain := 100 * (float64(p/f.gauge) - 1)
			f.wetGain = &gain
			found[c] = f
		}
	}
	leakFigures(l, s, orifice, ambient, found)
	return found
}

// geometry returns the cylinder of an engine, false where not all of its figures are known.
func geometry(e log.Engine) (gas.Cylinder, bool) {
	if e.BoreMM == 0 || e.StrokeMM == 0 || e.RodMM == 0 || e.Ratio == 0 || e.IntakeCloses == nil {
		return gas.Cylinder{}, false
	}
	return gas.Cylinder{Bore: e.BoreMM, Stroke: e.StrokeMM, Rod: e.RodMM, Ratio: e.Ratio, IntakeCloses: *e.IntakeCloses}, true
}

// withoutHose returns what a reading is to be multiplied by to take off what the tester's hose ahead of the check valve
// costs; 1 where the engine's or the hose's figures are not known. It tells two gauges apart, not two cylinders.
func withoutHose(e log.Engine, t log.Tester, ambient units.Pressure) units.Pressure {
	c, known := geometry(e)
	if t.DeadVolumeCC == 0 || !known {
		return 1
	}
	bare, err := c.Cranking(ambient, gas.ExponentMid, 0, 0)
	if err != nil {
		return 1
	}
	hosed, err := c.Cranking(ambient, gas.ExponentMid, t.DeadVolumeCC, 0)
	if err != nil || !(hosed > 0) {
		return 1
	}
	return bare / hosed
}

func scatterOf(s log.Session) float64 {
	if s.Conditions.EngineTemp == "cold" {
		return coldScatter
	}
	return scatter
}

func leakFigures(l log.Log, s log.Session, orifice float64, ambient units.Pressure, found map[int]figure) {
	for _, row := range s.Leakdown {
		if row.Struck != "" || !(row.Supply > 0) || row.Held > row.Supply {
			continue
		}
		f := found[row.Cylinder]
		tester, _ := l.Tester(row.Tester)
		f.shown = gas.LeakPct(row.SupplyReading().Pressure(), row.HeldReading().Pressure())
		f.leak = onTester(row, f.shown, cmp.Or(tester.OrificeMM, gas.OrificeMM), orifice, ambient)
		division := 1.0
		if tester.Resolution != nil && tester.Resolution.Value > 0 {
			division = tester.Resolution.Pressure().In(row.Unit)
		}
		f.leakSE = math.Hypot(math.Hypot(leakScatter, leakShare*f.leak), 100*division*math.Sqrt2/math.Sqrt(12)/row.Supply)
		f.attempts++
		f.paths = row.Paths
		found[row.Cylinder] = f
	}
}

// onTester brings a leak % to what a tester with the baseline's orifice shows, where the two differ: percentages of
// unlike testers do not compare, holes do.
func onTester(row log.Leakdown, pct, orifice, baseline float64, ambient units.Pressure) float64 {
	if baseline == 0 || orifice == baseline {
		return pct
	}
	hole, err := gas.Hole(row.SupplyReading().Pressure(), row.HeldReading().Pressure(), ambient, orifice)
	if err != nil {
		return pct
	}
	return gas.LeakPct(gas.ReferenceSupply, gas.Held(hole, gas.ReferenceSupply, gas.SeaLevel, baseline))
}

// number returns the cylinder of a row; of a rotor, the rotor.
func number(row log.Compression) int {
	if row.Rotor > 0 {
		return row.Rotor
	}
	return row.Cylinder
}

// spreads returns each tester's repeatability in kPa from all pulls of the log made with it (ISO 5725-2), drawn towards
// what it did on all engines where that is known, else towards a usual gauge.
func spreads(l log.Log) map[string]float64 {
	const few, many = 8.0, 40.0 // the numbers of pairs that a usual gauge and the shop's pulls are worth
	out := map[string]float64{}
	for id, s := range reading.Spreads(l) {
		sd, worth := usual, few
		if t, ok := l.Tester(id); ok && t.RepeatKPa > 0 {
			sd, worth = t.RepeatKPa, many
		}
		out[id] = math.Min(math.Sqrt((s.Squares+worth*sd*sd)/(s.Free+worth)), 60)
	}
	return out
}

// usual is the standard deviation of a pull with a gauge of which nothing is known, kPa.
const usual = 10.0
