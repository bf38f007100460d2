package judge

import (
	"cmp"
	"maps"
	"math"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rotor"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

// read returns what each cylinder read. A later row of a cylinder replaces an earlier one, and struck ones count for
// nothing. A cylinder that reads nothing is given half a division, so that its ratio stays a number. Of a rotor the lowest
// face counts: which face is which cannot be told from one test to the next.
func read(on *subject, repeats repeats, steps *written, s log.Session) map[int]figure {
	e := on.engine
	ambient := gas.AmbientOf(e, s.Conditions)
	rule := on.shop.TestedBy(on.log, s).Pulls
	found := map[int]figure{}
	type oiled struct {
		pressure units.Pressure
		cc       float64
	}
	wet := map[int]oiled{}
	rows := s.Compression
	if on.rotary { // what was entered together stands in any order: a rotor's faces are told in theirs
		rows = slices.Clone(rows)
		slices.SortStableFunc(rows, func(a, b log.Compression) int { return cmp.Compare(a.Face, b.Face) })
	}
	for _, row := range rows {
		tester, _ := on.log.Tester(row.Tester)
		division := reading.DivisionOf(tester)
		r := reading.Of(row.Pulls, rule, division)
		if r.Pulls == 0 {
			continue
		}
		c := row.Number()
		if row.Mode == log.Wet {
			wet[c] = oiled{r.Pressure, row.OilCC}
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
		f.gauge, f.level = r.Pressure, r.Pressure-units.Pressure(tester.OffsetKPa)
		f.hose = float64(withoutHose(e, tester, ambient))
		f.rpm = rotor.SpeedOf(s, row)
		f.speed, _ = rotor.AtNominal(e, s, row)
		f.parts, f.pulls = meant(row.Pulls, tester, division, repeats.of(row.Tester, tester), units.Pressure(f.hose*f.speed), ambient)
		f.log = math.Log(float64(gas.ToSeaLevel(max(f.level, division/2), ambient)) * f.hose * f.speed)
		f.se = math.Hypot(scatterOf(s), f.parts[0].SD)
		found[c] = f
	}
	for c, w := range wet {
		if f, ok := found[c]; ok && f.gauge > 0 {
			gain := 100 * (float64(w.pressure/f.gauge) - 1)
			f.wetGain, f.oil = &gain, w.cc
			found[c] = f
		}
	}
	readLeaks(on, steps, s, ambient, found)
	for c, f := range found {
		f.cylinder = c
		found[c] = f
	}
	return found
}

// repeats is how the readings of each tester have repeated on this engine so far.
type repeats map[string]reading.Spread

// with returns what is known with one session more.
func (all repeats) with(s log.Session) repeats {
	more := maps.Clone(all)
	if more == nil {
		more = repeats{}
	}
	for id, one := range reading.Spreads(log.Log{Sessions: []log.Session{s}}) {
		more[id] = more[id].Plus(one)
	}
	return more
}

// of returns the standard deviation of a reading with a tester in kPa, from its readings on this engine so far (ISO 5725-2), drawn towards
// what is noted of it, or a usual gauge.
func (all repeats) of(id string, t log.Tester) float64 {
	s, noted := all[id], cmp.Or(t.RepeatKPa, rules.GaugeRepeats)
	return math.Sqrt((s.Squares + rules.GaugeWorth*noted*noted) / (s.Free + rules.GaugeWorth))
}

// meant returns what the pulls of a row may mean, logarithms of kPa at sea level, and how many they are.
func meant(pulls []log.Pull, t log.Tester, division units.Pressure, sd float64, hose, ambient units.Pressure) ([]belief.Part, int) {
	var logs, sds []float64
	for _, p := range pulls {
		if !p.Counts() {
			continue
		}
		level := max(p.Pressure()-units.Pressure(t.OffsetKPa), division/2) * hose
		logs = append(logs, math.Log(float64(gas.ToSeaLevel(level, ambient))))
		repeat := min(max(sd/float64(level), rules.PullSDLeast), rules.PullSDMost)
		read := float64(division) / math.Sqrt(12)
		if p.CameraSD > 0 { // a film is read as finely as its own doubt says
			read = min(float64(units.Reading{Value: p.CameraSD, Unit: p.Unit}.Pressure()), rules.CameraMost*float64(level))
		}
		sds = append(sds, min(math.Hypot(read/float64(level), repeat), rules.PullRoom))
	}
	return belief.Row(logs, sds), len(logs)
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

// HoseTakes returns by how many percent the hose ahead of a tester's check valve lowers what an engine reads on it; 0 where its figures
// or the engine's are not known. It is put back before two gauges are held against each other.
func HoseTakes(e log.Engine, s log.Session, t log.Tester) float64 {
	return 100 * (1 - 1/float64(withoutHose(e, t, gas.AmbientOf(e, s.Conditions))))
}

func scatterOf(s log.Session) float64 {
	if s.Conditions.Cold() {
		return rules.ScatterCold
	}
	return rules.Scatter
}

// leakDivision is what to assume of a leak-down tester's dials whose division nobody gave.
var leakDivision = units.Reading{Value: rules.KitDivisionPSI, Unit: units.PSI}.Pressure()

func readLeaks(on *subject, steps *written, s log.Session, ambient units.Pressure, found map[int]figure) {
	for _, row := range s.Leakdown {
		if row.Struck != "" || !(row.Supply > 0) || row.Held > row.Supply {
			continue
		}
		c := row.Number()
		f := found[c]
		tester, _ := on.log.Tester(row.Tester)
		f.shown = gas.LeakPct(row.SupplyReading().Pressure(), row.HeldReading().Pressure())
		steps.add(f.shown)
		division := leakDivision
		if tester.Resolution != nil && tester.Resolution.Value > 0 {
			division = tester.Resolution.Pressure()
		}
		one := leakRow(row, cmp.Or(tester.OrificeMM, gas.OrificeMM), ambient)
		step := max(100*float64(division/row.SupplyReading().Pressure()), steps.step())
		one.Step = step / math.Sqrt(12)
		if row.CameraSD > 0 {
			one.Step = 100 * min(row.CameraSD/row.Supply, rules.CameraMost)
		}
		f.leakSE = math.Hypot(belief.LeakError(one.Pct, one.Step), rules.LeakWander*one.Pct)
		f.attempts++
		f.paths = row.Paths
		f.rows = append(f.rows, one)
		found[c] = f
	}
}

// leakRow returns a leak-down on the reference tester, with where it was heard. Percentages of unlike testers do not compare,
// holes do; of a tester whose orifice nobody gave, the reference's is assumed.
func leakRow(row log.Leakdown, orifice float64, ambient units.Pressure) belief.LeakRow {
	out := belief.LeakRow{Pct: 99, Listened: row.Paths != nil}
	if hole, err := gas.Hole(row.SupplyReading().Pressure(), row.HeldReading().Pressure(), ambient, orifice); err == nil {
		out.Pct = gas.Pct(hole * hole / (gas.OrificeMM * gas.OrificeMM))
	}
	for _, p := range row.Paths {
		if at, ok := escapes[p.Where]; ok {
			out.Heard[at] = max(out.Heard[at], max(p.Level, 1))
		}
		out.Seal = out.Seal || p.Where == log.PlugHole
	}
	return out
}

var escapes = map[string]belief.Place{
	log.Crankcase: belief.Rings, log.Intake: belief.Intake, log.Exhaust: belief.Exhaust,
	log.Coolant: belief.Coolant, log.Neighbour: belief.Neighbour,
}

// written is the step in which leaks are written down, which is coarser than a dial where somebody rounds to fives or tens.
type written struct{ all, fives, tens int }

func (w *written) add(pct float64) {
	whole := func(step float64) bool { return math.Abs(pct-step*math.Round(pct/step)) < 1e-6 }
	w.all++
	if whole(5) {
		w.fives++
	}
	if whole(10) {
		w.tens++
	}
}

// step returns the step in percent, 0 where none stands out.
func (w *written) step() float64 {
	const enough = 6
	switch {
	case w.all >= enough && w.tens == w.all:
		return 10
	case w.all >= enough && w.fives == w.all:
		return 5
	}
	return 0
}
