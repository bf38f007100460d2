package sheet

import (
	"errors"
	"fmt"
	"slices"

	"braxel/internal/core/judge"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/units"
)

// ErrUnknown is what Of and Take answer for a test that the log has not.
var ErrUnknown = errors.New("no such test")

// Sheet is a test as it stands: what was read, what it says so far, and what to do next.
type Sheet struct {
	Name      string              `json:"name"`
	About     string              `json:"about"`
	Layout    log.Layout          `json:"layout"`
	MeterUnit string              `json:"meter_unit,omitempty"`
	Session   log.Session         `json:"session"`
	Unit      units.Unit          `json:"unit" enum:"psi,kPa,bar,kgf/cm2" doc:"The unit last typed; what to expect next"`
	Tester    string              `json:"tester,omitempty" doc:"The tester last used"`
	Rule      reading.Rule        `json:"rule" enum:"agree,three,one"`
	Cells     []Cell              `json:"cells"`
	Prompt    Prompt              `json:"prompt"`
	Last      string              `json:"last,omitempty" doc:"Key of the last pull that counts, for taking it back"`
	Kept      int                 `json:"kept" doc:"Readings on record, struck ones among them"`
	Verdict   judge.Session       `json:"verdict"`
	Evenness  []reading.Judgement `json:"evenness"`
}

// Of returns the sheet of a session as it stands.
func Of(l log.Log, session string) (Sheet, error) {
	at, err := find(l, session)
	if err != nil {
		return Sheet{}, err
	}
	s := l.Sessions[at]
	unit := Unit(l)
	out := Sheet{
		Name: l.Engine.Name, About: layout.Describe(l.Engine), Layout: l.Engine.Layout, MeterUnit: l.Engine.MeterUnit, Session: s,
		Unit: unit, Tester: lastTester(l, at), Rule: rule, Cells: cells(l, at), Evenness: []reading.Judgement{},
	}
	cranked, key := lastPull(s)
	out.Last = key
	out.Prompt = Next(l.Engine.Layout, out.Cells, cranked, rule)
	for _, row := range s.Compression {
		out.Kept += len(row.Pulls)
	}
	l.Sessions = l.Sessions[:at+1]
	out.Verdict = judge.Log(l).Sessions[at]
	if readings := out.Verdict.Pressures(); len(readings) > 1 {
		out.Evenness = reading.BySchools(readings, l.Engine.Limits, unit)
	}
	out.Session.Compression, out.Session.Leakdown = nil, nil
	return out, nil
}

// rule is how many pulls make a reading.
const rule = reading.UntilTwoAgree

func find(l log.Log, session string) (int, error) {
	at := slices.IndexFunc(l.Sessions, func(s log.Session) bool { return s.ID == session })
	if at < 0 {
		return 0, fmt.Errorf("test %q of %s: %w", session, l.Engine.Name, ErrUnknown)
	}
	return at, nil
}

func cells(l log.Log, at int) []Cell {
	base, last := compareWith(l, at)
	return DryCells(l, l.Sessions[at], rule, Unit(l), base, last)
}

// compareWith returns the baseline sessions of the session's build, and the one read last before it.
func compareWith(l log.Log, at int) (base, last []log.Session) {
	build := l.BuildOf(l.Sessions[at])
	for _, s := range l.Sessions[:at] {
		if l.BuildOf(s) != build || len(s.Compression) == 0 {
			continue
		}
		if s.Baseline || len(base) == 0 {
			base = append(base, s)
		}
		last = []log.Session{s}
	}
	return base, last
}

// lastPull returns the cylinder and key of the pull that was typed last and counts: by its time where it has one, else
// by its place on the sheet.
func lastPull(s log.Session) (cylinder int, key string) {
	at := ""
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			if p.Struck == "" && p.At >= at {
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

// Unit returns the unit that this engine's pressures were last typed in; psi where there is none.
func Unit(l log.Log) units.Unit {
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

// Open returns the id of the test that was begun and not finished, or "".
func Open(l log.Log) string {
	for i := len(l.Sessions) - 1; i >= 0; i-- {
		if l.Sessions[i].Open {
			return l.Sessions[i].ID
		}
	}
	return ""
}

// Begin returns a new test dated as given, its head filled from the last one. The first test of a build defines its
// baseline.
func Begin(l log.Log, date string) log.Session {
	s := log.Session{Date: date, Open: true, Stage: "service", Conditions: log.Conditions{Throttle: "open", PlugsOut: "all", EngineTemp: "hot", Cranking: log.Cranking{Rule: "plateau"}}}
	if n := len(l.Builds); n > 0 {
		s.Build = l.Builds[n-1].ID
	}
	if n := len(l.Sessions); n > 0 {
		before := l.Sessions[n-1]
		s.Stage, s.Conditions, s.Operator = before.Stage, before.Conditions, before.Operator
		s.Conditions.BatteryV = 0
		s.Date = max(s.Date, before.Date)
	} else {
		s.Stage = "as-found"
	}
	s.Baseline = !slices.ContainsFunc(l.Sessions, func(one log.Session) bool { return l.BuildOf(one) == s.Build && one.Baseline })
	return s
}

// Take puts a pull into the log's session, as the store will, and returns why it should be looked at again, or "". A
// reading that no engine makes, or of a cylinder that this one has not, is refused by field. A pull whose key is there
// already changes nothing.
func Take(l *log.Log, session string, row log.Compression) (doubt string, err error) {
	at, err := find(*l, session)
	if err != nil {
		return "", err
	}
	if err := units.Check(row.Pulls[0].Reading); err != nil {
		return "", log.Faults{{At: "/value", What: fmt.Sprintf("cylinder %d: %v", row.Cylinder, err)}}
	}
	if !slices.Contains(l.Engine.Cylinders(), row.Cylinder) {
		return "", log.Faults{{At: "/cylinder", What: fmt.Sprintf("%s has no cylinder %d", l.Engine.Name, row.Cylinder)}}
	}
	rows := &l.Sessions[at].Compression
	last := -1
	for i, r := range *rows {
		if slices.ContainsFunc(r.Pulls, func(p log.Pull) bool { return p.Key == row.Pulls[0].Key }) {
			return "", nil
		}
		if r.Cylinder == row.Cylinder && r.Mode == row.Mode {
			last = i
		}
	}
	doubt = Doubt(cells(*l, at), row.Cylinder, row.Pulls[0].Reading)
	if last >= 0 && (*rows)[last].Tester == row.Tester && (*rows)[last].OilCC == row.OilCC {
		(*rows)[last].Pulls = append((*rows)[last].Pulls, row.Pulls...)
	} else {
		*rows = append(*rows, row)
	}
	return doubt, nil
}
