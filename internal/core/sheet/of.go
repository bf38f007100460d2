package sheet

import (
	"cmp"
	"slices"

	"braxel/internal/core/judge"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/prepare"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
	"braxel/internal/core/story"
	"braxel/internal/core/units"
	"braxel/internal/core/wheel"
)

// Sheet is a test as it stands: what was read, what it says so far, and what to do next.
type Sheet struct {
	Revision  int                 `json:"revision" doc:"Rises with every change to the engine; of two answers the higher counts"`
	Name      string              `json:"name"`
	About     string              `json:"about"`
	Engine    log.Engine          `json:"engine"`
	Builds    []log.Build         `json:"builds"`
	LastMeter *float64            `json:"last_meter,omitempty" doc:"What the meter read at the test before"`
	Session   log.Session         `json:"session" doc:"Its head and observations; the readings are in the cells"`
	Protocol  rules.Protocol      `json:"protocol"`
	Steps     []SheetStep         `json:"steps" doc:"The steps of this test, in order"`
	Enough    int                 `json:"enough" doc:"How many readings per cylinder the protocol asks for if they agree"`
	Unit      units.Unit          `json:"unit" doc:"The unit last typed; what to expect next"`
	LeakUnit  units.Unit          `json:"leak_unit"`
	Before    []prepare.Task      `json:"before" doc:"The list before the test"`
	Crank     Crank               `json:"crank"`
	Cells     []Cell              `json:"cells"`
	Rotors    []RotorCell         `json:"rotors,omitempty" doc:"Of a rotary, in place of cells"`
	Prompt    Prompt              `json:"prompt"`
	Last      string              `json:"last,omitzero" doc:"Key of the last dry reading that counts, for undoing it"`
	Wet       []WetCell           `json:"wet"`
	WetPrompt Prompt              `json:"wet_prompt"`
	WetLast   string              `json:"wet_last,omitzero"`
	Leak      []LeakCell          `json:"leak"`
	LeakAsked bool                `json:"leak_asked" doc:"The protocol or the readings ask for a leak-down"`
	LeakNext  Prompt              `json:"leak_prompt"`
	Wheel     *wheel.Wheel        `json:"wheel,omitempty"`
	After     []prepare.Task      `json:"after" doc:"The put-back list"`
	Unread    []int               `json:"unread" doc:"Cylinders without a figure, once there is one for any"`
	Warnings  []string            `json:"warnings"`
	Others    []Other             `json:"others" doc:"Readings made with a tester other than the one named for the test"`
	Kept      int                 `json:"kept" doc:"Readings entered, including struck ones"`
	Verdict   judge.Session       `json:"verdict"`
	Evenness  []reading.Judgement `json:"evenness"`
}

// Judging judges a log: judge.Log, or a memory's that goes on from where it was.
type Judging func(log.Log, rules.Shop) judge.Verdict

// Of returns the sheet of a session as it stands. own are the workshop's own protocols; the log's testers are all that
// may be chosen.
func Of(l log.Log, session string, shop rules.Shop) (Sheet, error) {
	return OfBy(l, session, shop, judge.Log)
}

// OfBy is Of, judged as given.
func OfBy(l log.Log, session string, shop rules.Shop, judging Judging) (Sheet, error) {
	at, err := find(l, session)
	if err != nil {
		return Sheet{}, err
	}
	s, p := l.Sessions[at], shop.TestedBy(l, l.Sessions[at])
	unit := unitOf(l, s, shop.Shown)
	base, last := compareWith(l, at)
	out := Sheet{
		Name: l.Engine.Name, About: layout.Describe(l.Engine, shop.Shown), Engine: l.Engine, Builds: append([]log.Build{}, l.Builds...),
		Session: s, Protocol: p, Steps: StepsOf(l.Engine.Kind), Enough: Enough(p.Pulls),
		Unit: unit, LeakUnit: leakUnit(l, s, shop.Shown), Before: prepare.Before(l.Engine, s.Place, s.Conditions.EngineTemp),
		Crank: CrankOf(l.Engine, s),
		Cells: cellsOf(l, s, log.Dry, p.Pulls, unit, base, last), Leak: leakCells(l, s, p, shop.Shown, base, last),
		Evenness: []reading.Judgement{},
	}
	for _, before := range l.Sessions[:at] {
		if before.Meter != nil {
			out.LastMeter = before.Meter
		}
	}
	if out.Session.Gauge == "" {
		out.Session.Gauge = lastTester(l, at)
	}
	if out.Session.Kit == "" {
		out.Session.Kit = lastKit(l, at)
	}
	cranked, key := lastPull(s, log.Dry)
	out.Last, out.Prompt = key, Next(l.Engine.Layout, out.Cells, cranked, p.Pulls)
	if l.Engine.Kind == log.Rotary {
		out.Rotors = rotorCells(l, s, p, unit, base)
		out.Prompt = nextRotor(out.Rotors)
	}
	out.Wet = wetCells(l, s, p, unit, out.Cells)
	cranked, key = lastPull(s, log.Wet)
	out.WetLast, out.WetPrompt = key, Next(l.Engine.Layout, asked(out.Wet), cranked, p.Pulls)
	out.LeakNext = nextLeak(l.Engine, out.Leak, s)
	if w, err := wheel.Of(l.Engine, shop.Shown); err == nil {
		out.Wheel = &w
	}
	out.Unread = unread(out)
	out.After = prepare.After(out.Before, s.Ticks, prepare.BadPlugs(s))
	out.Warnings = append([]string{}, warnings(l.Engine, s, out.Leak)...)
	if t, ok := l.Tester(out.Session.Gauge); ok {
		out.Warnings = append(out.Warnings, hoseWords(l.Engine, s, t)...)
	}
	for _, row := range s.Compression {
		out.Kept += len(row.Pulls)
	}
	out.Kept += len(s.Leakdown)
	out.Others = others(l, s)
	l.Sessions = l.Sessions[:at+1]
	out.Verdict = judging(l, shop).Sessions[at]
	out.LeakAsked = p.Leakdown == rules.Always ||
		(p.Leakdown == rules.Asked && (out.Verdict.State != judge.Steady || slices.ContainsFunc(out.Wet, func(c WetCell) bool { return c.Asked })))
	if readings := out.Verdict.Pressures(); len(readings) > 1 {
		out.Evenness = reading.BySchools(l.Engine, readings, p.Evenness, unit)
	}
	out.Evenness = append(out.Evenness, reading.LeaksBySchools(l.Engine, out.Verdict.Leaks(), p)...)
	out.Session.Compression, out.Session.Leakdown = nil, nil
	return out, nil
}

// unread returns the cylinders that were neither cranked nor leaked down, none where the test has no figure yet.
func unread(s Sheet) []int {
	leaked := map[int]bool{}
	for _, c := range s.Leak {
		leaked[c.Cylinder] = slices.ContainsFunc(c.Attempts, func(a Attempt) bool { return a.Struck == "" })
	}
	all := []int{}
	for _, r := range s.Rotors {
		if !r.Settled {
			all = append(all, r.Rotor)
		}
	}
	for _, c := range s.Cells {
		if s.Rotors == nil && c.Reading == nil && !leaked[c.Cylinder] {
			all = append(all, c.Cylinder)
		}
	}
	if len(all) == len(s.Cells) {
		return []int{}
	}
	return all
}

// asked returns the cells of the wet test that are wanted, and those that were pulled all the same.
func asked(wet []WetCell) []Cell {
	var cells []Cell
	for _, c := range wet {
		if c.Asked || len(c.Pulls) > 0 {
			cells = append(cells, c.Cell)
		}
	}
	return cells
}

// lastPull returns the cylinder and key of the pull that was typed last and counts: by its time where it has one, else
// by its place on the sheet.
func lastPull(s log.Session, mode string) (cylinder int, key string) {
	at := ""
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			if row.Mode == mode && p.Counts() && p.At >= at {
				cylinder, key, at = row.Cylinder, p.Key, p.At
			}
		}
	}
	return cylinder, key
}

func lastTester(l log.Log, at int) string {
	for i := at; i >= 0; i-- {
		rows := l.Sessions[i].Compression
		if len(rows) > 0 {
			return rows[len(rows)-1].Tester
		}
	}
	return ""
}

func lastKit(l log.Log, at int) string {
	for _, s := range slices.Backward(l.Sessions[:at+1]) {
		if n := len(s.Leakdown); n > 0 {
			return s.Leakdown[n-1].Tester
		}
	}
	return ""
}

// Unit returns the unit for this engine's pressures: the one chosen, else the one last typed; psi where there is none.
func Unit(l log.Log, shown units.Choice) units.Unit {
	if shown.Pressure.Valid() {
		return shown.Pressure
	}
	for i := len(l.Sessions) - 1; i >= 0; i-- {
		rows := l.Sessions[i].Compression
		for j := len(rows) - 1; j >= 0; j-- {
			if n := len(rows[j].Pulls); n > 0 {
				return rows[j].Pulls[n-1].Unit
			}
		}
	}
	if limits := l.Engine.Limits; limits != nil && limits.Minimum != nil {
		return limits.Minimum.Unit
	}
	return units.PSI
}

// unitOf returns the unit of a test's pressures: what was typed into it, what its gauge shows, what the engine's were typed in last; of a test
// that is finished the one chosen.
func unitOf(l log.Log, s log.Session, shown units.Choice) units.Unit {
	if !s.Open && shown.Pressure.Valid() {
		return shown.Pressure
	}
	for _, row := range slices.Backward(s.Compression) {
		if n := len(row.Pulls); n > 0 {
			return row.Pulls[n-1].Unit
		}
	}
	return cmp.Or(shownBy(l, s.Gauge), Unit(l, shown))
}

// Open returns the id of the test that was begun and not finished, or "".
func Open(l log.Log) string {
	for i := len(l.Sessions) - 1; i >= 0; i-- {
		if l.Sessions[i].Open {
			return l.Sessions[i].ID
		}
	}
	return ""
}

// follows are the stages that are not repeated, with the one that usually comes next.
var follows = map[string]string{
	"as-found": "service", "pre-install": "after-running", "after-running": "service",
	"pre-season": "post-season", "post-season": "pre-season", "after-incident": "after-repair", "after-repair": "service",
}

// Begin returns a new test dated as given, its head filled from the last one. The first test of a build defines its
// baseline.
func Begin(l log.Log, date string, shop rules.Shop) log.Session {
	p := shop.ProtocolOf(rules.ProtocolFor(l.Engine))
	s := log.Session{Date: date, Open: true, Stage: "service", Protocol: p.ID, Place: "car",
		Conditions: log.Conditions{
			Throttle:   "open",
			PlugsOut:   p.PlugsOut,
			EngineTemp: p.Temp,
			AltitudeM:  l.Engine.AltitudeM,
			Cranking:   p.Cranking,
		}}
	if n := len(l.Sessions); n > 0 {
		before := l.Sessions[n-1]
		s.Stage, s.Conditions, s.Operator = before.Stage, before.Conditions, before.Operator
		if next, ok := follows[before.Stage]; ok {
			s.Stage = next
		}
		s.Place, s.Gauge, s.Kit = cmp.Or(before.Place, s.Place), before.Gauge, before.Kit
		if before.Protocol != "" && l.Engine.Protocol == "" {
			s.Protocol = before.Protocol
		}
		// The day's own figures are read anew each time.
		c := &s.Conditions
		c.BatteryV, c.AmbientKPa, c.AmbientC, c.OilC = 0, 0, nil, nil
		s.Date = max(s.Date, before.Date)
	} else {
		s.Stage = "as-found"
	}
	if l.Engine.Fuel == "diesel" {
		s.Conditions.Throttle = "none" // it breathes freely
	}
	s.Build = l.BuildOf(s)
	beginBuild(&s, l)
	afterRepair(&s, l)
	return s
}

// afterRepair makes a test that follows a repair the one that answers it.
func afterRepair(s *log.Session, l log.Log) {
	touched, said := []int{}, false
	for _, r := range story.Repairs(l) {
		if r.Before == len(l.Sessions) && r.Said && len(l.Sessions) > 0 {
			said = true
			if len(r.Cylinders) == 0 {
				touched = l.Engine.Cylinders()
			}
			touched = append(touched, r.Cylinders...)
		}
	}
	if !said || s.Stage == "pre-install" {
		return
	}
	s.Stage, s.Baseline = log.AfterRepair, false
	slices.Sort(touched)
	if touched = slices.Compact(touched); len(touched) < len(l.Engine.Cylinders()) {
		s.Touched = touched
	}
}

// beginBuild says whether a test is one of its build's baseline: the first of a build, which has not run since, and the first hot one
// after that.
func beginBuild(s *log.Session, l log.Log) {
	tests, baselines, hot := 0, 0, false
	for _, one := range l.Sessions {
		if l.BuildOf(one) != s.Build {
			continue
		}
		tests++
		if one.Baseline {
			baselines++
			hot = hot || one.Conditions.EngineTemp == "hot"
		}
	}
	if tests == 0 && len(l.Sessions) > 0 {
		s.Stage, s.Conditions.EngineTemp = "pre-install", "cold"
	}
	if s.Stage == "after-running" {
		s.Conditions.EngineTemp = "hot"
	}
	s.Baseline = baselines == 0 || (s.Stage == "after-running" && !hot)
}

// Doubts returns why a pull should be looked at again before it counts, or "". The test is one of the log's, the place one of
// the engine's; a rotor's faces are not doubted.
func Doubts(l log.Log, session string, row log.Compression, shop rules.Shop) string {
	at, err := find(l, session)
	if err != nil || row.Cylinder == 0 {
		return ""
	}
	base, before := compareWith(l, at)
	cells := cellsOf(l, l.Sessions[at], row.Mode, shop.TestedBy(l, l.Sessions[at]).Pulls, Unit(l, shop.Shown), base, before)
	return Doubt(cells, row.Cylinder, row.Pulls[0].Reading)
}
