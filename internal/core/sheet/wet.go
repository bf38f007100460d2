package sheet

import (
	"slices"
	"strconv"

	"gonum.org/v1/gonum/stat"

	"braxel/internal/core/gas"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// WetCell is one cylinder of the wet test: what it gained, what oil takes of that by its own room, and what the others
// gained.
type WetCell struct {
	Cell
	Asked       bool     `json:"asked" doc:"The dry readings or the protocol call for it"`
	GainPct     *float64 `json:"gain_pct,omitempty"`
	OilPct      *float64 `json:"oil_pct,omitempty" doc:"The most that the oil's own volume can add"`
	SiblingsPct *float64 `json:"siblings_pct,omitempty" doc:"Median gain of the other cylinders"`
	Says        string   `json:"says,omitzero"`
}

// noRise is the gain in psi that builders call none.
var noRise = units.Reading{Value: rules.NoRisePSI, Unit: units.PSI}.Pressure()

// wetCells returns the wet test's cells in bank order.
func wetCells(l log.Log, s log.Session, p rules.Protocol, unit units.Unit, dry []Cell) []WetCell {
	plain := cellsOf(l, s, log.Wet, p.Pulls, unit, nil, nil)
	asked := askWet(dry, p)
	cells := make([]WetCell, len(plain))
	for i, c := range plain {
		cells[i] = WetCell{Cell: c, Asked: slices.Contains(asked, c.Cylinder)}
		if c.Reading != nil && dry[i].Reading != nil && dry[i].Reading.Value > 0 {
			gain := 100 * (float64(c.Reading.Pressure()/dry[i].Reading.Pressure()) - 1)
			cells[i].GainPct = &gain
			cells[i].OilPct = oilShare(l.Engine, s, c.Cylinder)
		}
	}
	_, highest := best(dry)
	for i := range cells {
		cells[i].judgeWet(cells, dry[i], highest, l.Engine.Kind == log.TwoStroke)
	}
	return cells
}

// askWet returns the cylinders that are to be tested wet: the low ones and, to compare with, the best one; all of them
// where the protocol has it so, none of a diesel's.
func askWet(dry []Cell, p rules.Protocol) []int {
	var all, low []int
	for _, c := range dry {
		all = append(all, c.Cylinder)
	}
	sound, highest := best(dry)
	switch p.Wet {
	case rules.Always:
		return all
	case rules.Never:
		return nil
	}
	for _, c := range dry {
		if isLow(c, highest) {
			low = append(low, c.Cylinder)
		}
	}
	if len(low) > 0 && !slices.Contains(low, sound) {
		low = append(low, sound)
	}
	return low
}

// best returns the cylinder that reads highest, and what it reads.
func best(dry []Cell) (cylinder int, highest float64) {
	for _, c := range dry {
		if c.Settled && c.Reading.Value > highest {
			cylinder, highest = c.Cylinder, c.Reading.Value
		}
	}
	return cylinder, highest
}

// isLow says whether a cylinder stands a tenth below the highest, or 7 % below its own baseline.
func isLow(c Cell, highest float64) bool {
	return c.Settled && (c.Reading.Value < (1-rules.WetLow)*highest || (c.Baseline != nil && c.Reading.Value < (1-rules.WetLowOwn)*c.Baseline.Value))
}

// oilShare returns the oil's own share of the gain in percent, or nil where the engine's figures are not known.
func oilShare(e log.Engine, s log.Session, cylinder int) *float64 {
	oil := 0.0
	for _, row := range s.Compression {
		if row.Mode == log.Wet && row.Cylinder == cylinder && row.OilCC > 0 {
			oil = row.OilCC
		}
	}
	share, known := gas.OilShare(e, oil)
	if !known {
		return nil
	}
	return &share
}

// judgeWet says what the gain means, beside what the others gained: by the rule that the judge goes by.
func (c *WetCell) judgeWet(all []WetCell, dry Cell, highest float64, twoStroke bool) {
	if c.GainPct == nil {
		return
	}
	var others []float64
	for _, o := range all {
		if o.Cylinder != c.Cylinder && o.GainPct != nil {
			others = append(others, *o.GainPct)
		}
	}
	if len(others) > 0 {
		slices.Sort(others)
		middle := stat.Quantile(0.5, stat.Empirical, others, nil)
		c.SiblingsPct = &middle
	}
	room := 0.0
	if c.OilPct != nil {
		room = *c.OilPct
	}
	wet := reading.WetOf(*c.GainPct, room, others)
	switch {
	case wet.Seals:
		c.Says = say.Text("sheet.points-beyond-what-oil-alone", "gain", wet.Gain-wet.Room)
	case !isLow(dry, highest):
		c.Says = say.Text("sheet.measure-what-oil-does-good")
	case c.Reading.Pressure()-dry.Reading.Pressure() > noRise:
		c.Says = say.Text("sheet.no-more-than-oil-alone")
	case twoStroke:
		c.Says = say.Text("sheet.no-rise-gasket-head-or")
	default:
		c.Says = say.Text("sheet.no-rise-valves-gasket-or")
	}
}

// cellsOf returns the cells of a mode in bank order.
func cellsOf(l log.Log, s log.Session, mode string, rule rules.PullRule, unit units.Unit, base, last []log.Session) []Cell {
	before, prior := average(l, base, rule), average(l, last, rule)
	var cells []Cell
	for _, c := range l.Engine.Cylinders() {
		cell := Cell{
			Cylinder: c,
			Name:     l.Engine.Layout.Names[strconv.Itoa(c)],
			Place:    layout.Place(l.Engine.Layout, c),
			Pulls:    []log.Pull{},
		}
		var row log.Compression
		for _, r := range s.Compression {
			if r.Mode == mode && r.Cylinder == c {
				cell.Pulls = append(cell.Pulls, r.Pulls...)
				row = r
			}
		}
		tester, _ := l.Tester(row.Tester)
		r := reading.Of(row.Pulls, rule, reading.DivisionOf(tester))
		cell.Settled = r.Settled
		if r.Pulls > 0 {
			cell.Reading = shown(r.Pressure, unit)
		}
		if p, ok := before[c]; ok {
			cell.Baseline = shown(p, unit)
		}
		if p, ok := prior[c]; ok {
			cell.Last = shown(p, unit)
		}
		cells = append(cells, cell)
	}
	return cells
}
