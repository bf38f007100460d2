package sheet

import (
	"slices"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// warnings says what is wrong with a test while it can still be mended: a sagging battery, leaks without a place.
func warnings(e log.Engine, s log.Session, leak []LeakCell) []string {
	var all []string
	var volts []float64
	if s.Conditions.BatteryV > 0 {
		volts = append(volts, s.Conditions.BatteryV)
	}
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			if p.BatteryV > 0 && p.Counts() {
				volts = append(volts, p.BatteryV)
			}
		}
	}
	if s.Conditions.BatteryEnd > 0 {
		volts = append(volts, s.Conditions.BatteryEnd)
	}
	if n := len(volts); n > 1 && volts[0]-volts[n-1] >= rules.BatterySag {
		all = append(
			all,
			say.Text("sheet.battery-fell-from-v-so", "volts", volts[0], "volts2", volts[n-1]),
		)
	} else if n > 0 && slices.Min(volts) < rules.BatteryLow {
		all = append(all, say.Text("sheet.battery-was-at-v-slow", "min", slices.Min(volts)))
	}
	if s.Conditions.Throttle == "closed" && e.Fuel != "diesel" {
		all = append(all, say.Text("sheet.throttle-noted-as-closed-can"))
	}
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			if p.Struck == "" && p.Doubt != "" {
				all = append(
					all,
					say.Text("sheet.read-doesnt-count-until-confirmed", "place", row.Place, "reading", p.Reading),
				)
			}
		}
	}
	for _, r := range reading.Rises(s) {
		if words := r.Words(); words != "" {
			all = append(all, words)
		}
	}
	for _, o := range s.Observations {
		if o.Trace != nil && o.Struck == "" && o.Trace.SpeedFellPct >= rules.CrankSlowed {
			all = append(all, say.Text("sheet.recording-cranking-slowed-charge-battery",
				"file", o.Trace.File,
				"speedFellPct", o.Trace.SpeedFellPct,
			))
		}
	}
	return append(all, deafTo(leak)...)
}

// deafTo names the cylinders of which nobody said where the air goes.
func deafTo(leak []LeakCell) []string {
	var deaf []int
	for _, c := range leak {
		for _, a := range c.Attempts {
			if a.Struck == "" && a.Paths == nil && !slices.Contains(deaf, c.Cylinder) {
				deaf = append(deaf, c.Cylinder)
			}
		}
	}
	if len(deaf) > 0 {
		return []string{say.Text("sheet.nobody-listened-at-without-place", "deaf", log.Join(deaf, ", "))}
	}
	return nil
}

// hoseWords says how much of a small chamber's reading the hose takes.
func hoseWords(e log.Engine, s log.Session, t log.Tester) []string {
	pct := judge.HoseTakes(e, s, t)
	if pct < rules.HoseTells {
		return nil
	}
	return []string{say.Text("sheet.cm-hose-cost-reading-chamber",
		"figure", say.Number(t.DeadVolumeCC),
		"name", t.Name,
		"pct", pct,
	)}
}
