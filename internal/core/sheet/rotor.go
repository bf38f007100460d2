package sheet

import (
	"fmt"

	"braxel/internal/core/gas"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rotor"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// RotorCell is one rotor of the test as it stands.
type RotorCell struct {
	Rotor     int        `json:"rotor"`
	Name      string     `json:"name,omitzero" doc:"The owner's own name for it"`
	Place     string     `json:"place"`
	Faces     []FaceCell `json:"faces" doc:"Its three faces"`
	RPM       float64    `json:"rpm,omitzero" doc:"Cranking speed, of the output shaft"`
	Factor    float64    `json:"factor,omitzero" doc:"The factor that brings its faces to 250 rpm"`
	Estimated bool       `json:"estimated,omitzero" doc:"No maker's table is entered: the factor is Braxel's own estimate"`
	ApartPct  *float64   `json:"apart_pct,omitempty" doc:"How far the lowest face is below the highest, in percent of the highest"`
	Says      string     `json:"says,omitzero"`
	Settled   bool       `json:"settled"`
}

// FaceCell is one face: its pulls, what it reads, and that at 250 1/min and sea level, as makers give it.
type FaceCell struct {
	Face     int            `json:"face"`
	Pulls    []log.Pull     `json:"pulls"`
	Reading  *units.Reading `json:"reading,omitempty" doc:"In the sheet's unit"`
	Nominal  *units.Reading `json:"nominal,omitempty" doc:"At 250 rpm and sea level"`
	Below    bool           `json:"below,omitzero" doc:"Below the minimum in the engine's limits"`
	Baseline *units.Reading `json:"baseline,omitempty" doc:"The mean of the rotor's faces at the baseline, since faces can't be told apart between tests"`
}

// rotorCells returns a rotary's cells in order from the front.
func rotorCells(l log.Log, s log.Session, p rules.Protocol, unit units.Unit, base []log.Session) []RotorCell {
	ambient := gas.AmbientOf(l.Engine, s.Conditions)
	right := average(l, base, p.Pulls)
	var all []RotorCell
	for _, r := range l.Engine.Cylinders() {
		c := RotorCell{Rotor: r, Name: l.Engine.Layout.Names[fmt.Sprint(r)], Place: layout.Place(l.Engine.Layout, r)}
		var levels []float64
		for face := 1; face <= 3; face++ {
			f := FaceCell{Face: face, Pulls: []log.Pull{}}
			if v, ok := right[r]; ok {
				f.Baseline = shown(v, unit)
			}
			for _, row := range s.Compression {
				if row.Rotor != r || row.Face != face || row.Mode != log.Dry {
					continue
				}
				f.Pulls = append(f.Pulls, row.Pulls...)
				tester, _ := l.Tester(row.Tester)
				read := reading.Of(row.Pulls, p.Pulls, reading.DivisionOf(tester))
				if read.Pulls == 0 {
					continue
				}
				level := read.Pressure - units.Pressure(tester.OffsetKPa)
				factor, estimated := rotor.AtNominal(l.Engine, s, row)
				nominal := gas.ToSeaLevel(level*units.Pressure(factor), ambient)
				f.Reading, f.Nominal = shown(read.Pressure, unit), shown(nominal, unit)
				if limits := l.Engine.Limits; limits != nil && limits.Minimum != nil {
					f.Below = nominal < limits.Minimum.Pressure()
				}
				c.Factor, c.Estimated, c.RPM = factor, estimated, rotor.SpeedOf(s, row)
				levels = append(levels, float64(read.Pressure))
			}
			c.Faces = append(c.Faces, f)
		}
		c.Settled = len(levels) >= 3
		if len(levels) > 1 {
			apart, _ := rotor.Apart(levels)
			c.ApartPct = &apart
		}
		if c.Settled {
			c.Says = c.say(l.Engine, levels)
		}
		all = append(all, c)
	}
	return all
}

// say says of a rotor's three faces, of levels in kPa, what a builder would see first.
func (c RotorCell) say(e log.Engine, levels []float64) string {
	low, below := c.Faces[0], 0
	for _, f := range c.Faces {
		if f.Reading.Pressure() < low.Reading.Pressure() {
			low = f
		}
		if f.Below {
			below++
		}
	}
	least := ""
	if e.Limits != nil && e.Limits.Minimum != nil {
		least = say.Text("sheet.s-minimum", "by", e.Limits.By(), "minimum", e.Limits.Minimum)
	}
	apart, off := rotor.Apart(levels)
	switch {
	case rotor.Silent(levels):
		return say.Text("sheet.next-nothing-any-face-gauge")
	case off:
		return say.Text("sheet.face-below-highest-rotor-apex", "face", low.Face, "apart", apart)
	case below == 3:
		return say.Text("sheet.even-below-worn-all-round", "least", least)
	case below > 0:
		return say.Text("sheet.faces-below", "n", below, "least", least)
	}
	return say.Text("sheet.even")
}

// nextRotor says which rotor is read next.
func nextRotor(all []RotorCell) Prompt {
	for _, c := range all {
		if c.Settled {
			continue
		}
		return Prompt{Cylinder: c.Rotor, Say: say.Text("sheet.next-rotor", "rotor", c.Rotor, "place", c.Place)}
	}
	return Prompt{Say: say.Text("sheet.all-rotors-read")}
}
