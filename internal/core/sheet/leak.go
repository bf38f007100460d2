package sheet

import (
	"cmp"
	"math"
	"slices"
	"strconv"

	"braxel/internal/core/gas"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/core/wheel"
)

// Attempt is one leak-down of a cylinder with what it comes to.
type Attempt struct {
	log.Leakdown
	LeakPct      float64  `json:"leak_pct"`
	HoleMM       *float64 `json:"hole_mm,omitempty"`
	ReferencePct *float64 `json:"reference_leak_pct,omitempty" doc:"What a 1 mm orifice at 100 psi and sea level would show"`
	Heard        string   `json:"heard" doc:"Where it is, in words"`
	Assumed      bool     `json:"assumed,omitzero" doc:"The tester's orifice is not known; 1 mm was assumed"`
}

// LeakCell is one cylinder of the leak-down test.
type LeakCell struct {
	Cylinder int       `json:"cylinder"`
	Name     string    `json:"name,omitzero" doc:"The owner's own name for it"`
	Place    string    `json:"place"`
	Say      string    `json:"say" doc:"How the crank is turned to it"`
	Turn     float64   `json:"turn_deg,omitzero" doc:"How far, from the cylinder before it in firing order"`
	Beside   []int     `json:"beside" doc:"Its neighbours across the head gasket"`
	Attempts []Attempt `json:"attempts"`
	LeakPct  *float64  `json:"leak_pct,omitempty" doc:"The last attempt that counts"`
	Again    string    `json:"again,omitzero" doc:"Why it should be repeated"`
	Baseline *float64  `json:"baseline_pct,omitempty"`
	Last     *float64  `json:"last_pct,omitempty"`
}

// Reckon returns what an attempt comes to.
func Reckon(l log.Log, s log.Session, row log.Leakdown) Attempt {
	tester, _ := l.Tester(row.Tester)
	a := Attempt{Leakdown: row, Heard: Heard(l.Engine.Kind, row.Paths), Assumed: tester.OrificeMM == 0}
	supply, held := row.SupplyReading().Pressure(), row.HeldReading().Pressure()
	a.LeakPct = gas.LeakPct(supply, held)
	if hole, err := gas.Hole(supply, held, gas.AmbientOf(l.Engine, s.Conditions), cmp.Or(tester.OrificeMM, gas.OrificeMM)); err == nil &&
		!math.IsInf(hole, 0) {
		reference := gas.ReferenceLeakPct(hole)
		a.HoleMM, a.ReferencePct = &hole, &reference
	}
	return a
}

// leakCells returns the leak-down's cells in firing order, or in bank order where none is known.
func leakCells(l log.Log, s log.Session, p rules.Protocol, shown units.Choice, base, last []log.Session) []LeakCell {
	order := l.Engine.Cylinders()
	says, turns := map[int]string{}, map[int]float64{}
	if w, err := wheel.Of(l.Engine, shown); err == nil {
		order = order[:0:0]
		for i, step := range w.Steps {
			order = append(order, step.Cylinder)
			says[step.Cylinder], turns[step.Cylinder] = w.Says[i], step.Turn
		}
	}
	before, prior := leaks(base), leaks(last)
	cells := make([]LeakCell, len(order))
	for i, c := range order {
		cell := LeakCell{
			Cylinder: c,
			Name:     l.Engine.Layout.Names[strconv.Itoa(c)],
			Place:    layout.Place(l.Engine.Layout, c),
			Beside:   append([]int{}, layout.Neighbours(l.Engine.Layout, c)...),
			Attempts: []Attempt{},
			Say:      says[c],
			Turn:     turns[c],
			Baseline: before[c],
			Last:     prior[c],
		}
		if cell.Say == "" {
			cell.Say = say.Text("sheet.bring", "called", l.Engine.Called(c), "atTop", wheel.AtTop(l.Engine))
		}
		for _, row := range s.Leakdown {
			if row.Cylinder == c {
				cell.Attempts = append(cell.Attempts, Reckon(l, s, row))
			}
		}
		cell.settle(p, wheel.TurnThrough(l.Engine))
		cells[i] = cell
	}
	return cells
}

// settle takes the last attempt that counts, and asks for another where a single one is bad: dirt on a seat clears, a
// burnt valve does not.
func (c *LeakCell) settle(p rules.Protocol, through string) {
	kept := 0
	var last Attempt
	for _, a := range c.Attempts {
		if a.Struck == "" {
			kept++
			last = a
		}
	}
	if kept == 0 {
		return
	}
	leak := last.LeakPct
	c.LeakPct = &leak
	own := slices.ContainsFunc(last.Paths, func(p log.Path) bool { return p.Where == log.PlugHole })
	switch {
	case own:
		c.Again = say.Text("sheet.air-at-own-plug-hole")
	case kept > 1:
	case c.Baseline != nil && leak >= *c.Baseline+rules.WorthRepeat:
		c.Again = say.Text("sheet.up-points-baseline-repeat-once", "leak", leak-*c.Baseline, "through", through)
	case c.Baseline == nil && leak >= p.LeakWatch:
		c.Again = say.Text("sheet.high-repeat-once", "through", through)
	}
}

// leaks returns each cylinder's mean leak % over the sessions, the last attempt that counts in each.
func leaks(sessions []log.Session) map[int]*float64 {
	sum, n := map[int]float64{}, map[int]float64{}
	for _, s := range sessions {
		latest := map[int]float64{}
		for _, row := range s.Leakdown {
			if row.Struck == "" {
				latest[row.Cylinder] = gas.LeakPct(row.SupplyReading().Pressure(), row.HeldReading().Pressure())
			}
		}
		for c, v := range latest {
			sum[c] += v
			n[c]++
		}
	}
	mean := map[int]*float64{}
	for c := range sum {
		m := sum[c] / n[c]
		mean[c] = &m
	}
	return mean
}

// nextLeak says which cylinder's leak-down is next, from the one last done onward in firing order.
func nextLeak(e log.Engine, cells []LeakCell, s log.Session) Prompt {
	at := -1
	if n := len(s.Leakdown); n > 0 {
		at = slices.IndexFunc(cells, func(c LeakCell) bool { return c.Cylinder == s.Leakdown[n-1].Cylinder })
	}
	if at >= 0 && (cells[at].Again != "" || cells[at].LeakPct == nil) {
		again := cmp.Or(cells[at].Again, say.Text("sheet.attempt-was-struck"))
		return Prompt{Cylinder: cells[at].Cylinder, Say: say.Text("sheet.again",
			"cylinder", cells[at].Cylinder,
			"again", again,
		), Again: true}
	}
	for i := range cells {
		c := cells[(at+1+i)%len(cells)]
		if c.LeakPct == nil {
			words, turn := c.Say, c.Turn
			// After a gap in the order the turn from the step before does not hold.
			if i > 0 && at >= 0 {
				turn = 0
				words = say.Text("sheet.turn", "cylinder", c.Cylinder, "atTop", wheel.AtTop(e))
			}
			return Prompt{Cylinder: c.Cylinder, Say: words, Turn: turn}
		}
	}
	return Prompt{Say: say.Text("sheet.every-cylinder-has-leak-down")}
}

// leakUnit returns the unit of a test's leak-down: what was typed into it, what its kit shows, the one chosen, the one last typed.
func leakUnit(l log.Log, now log.Session, shown units.Choice) units.Unit {
	if n := len(now.Leakdown); n > 0 {
		return now.Leakdown[n-1].Unit
	}
	if unit := shownBy(l, now.Kit); unit != "" {
		return unit
	}
	if shown.Pressure.Valid() {
		return shown.Pressure
	}
	for _, s := range slices.Backward(l.Sessions) {
		if n := len(s.Leakdown); n > 0 {
			return s.Leakdown[n-1].Unit
		}
	}
	return units.PSI
}
