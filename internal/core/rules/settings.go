package rules

import (
	"slices"
	"strings"

	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// Setting is one rule that a workshop may make its own: what builders differ about.
type Setting struct {
	ID      string  `json:"id"`
	Group   string  `json:"group" enum:"limits,intervals,causes"`
	Of      string  `json:"of" doc:"The duty, or the cause, in words"`
	Words   string  `json:"words"`
	Unit    string  `json:"unit"`
	Minimum float64 `json:"minimum"`
	Maximum float64 `json:"maximum"`
	BuiltIn float64 `json:"built_in"`
	Why     string  `json:"why,omitzero"`
	Source  string  `json:"source"`
}

// Own is a workshop's own value of a setting, with its reason.
type Own struct {
	ID    string  `json:"id" minLength:"1" maxLength:"80" doc:"The setting"`
	Value float64 `json:"value" minimum:"0" maximum:"10000000"`
	Why   string  `json:"why,omitzero" maxLength:"500" doc:"Why the workshop differs"`
	// Counted is how many findings it was counted from; 0 is one that somebody set.
	Counted int            `json:"counted,omitzero" minimum:"0" maximum:"10000000" doc:"How many engines that were opened it was counted from; 0 if somebody set it"`
	Rest    jsontext.Value `json:",embed" hidden:"true"`
}

// What a workshop may take the share of a cause to be. Source: judgement.
const (
	// CauseLeast is the least. [share; judgement]
	CauseLeast = 0.001
	// CauseMost is the most. [share; judgement]
	CauseMost = 0.5
)

// Check returns what is wrong with it, by field.
func (o Own) Check() log.Faults {
	f := log.CheckFields("", o)
	s, ok := SettingOf(o.ID)
	switch {
	case !ok:
		f = append(f, log.At("/id", "rules.there-no-rule-can-changed", "id", o.ID))
	case !(o.Value >= s.Minimum && o.Value <= s.Maximum):
		f = append(f, log.At("/value", "rules.must-between",
			"minimum", s.Minimum,
			"maximum", s.Maximum,
			"unit", s.Unit))
	case s.Unit == "months" && o.Value != float64(int(o.Value)):
		f = append(f, log.At("/value", "rules.must-whole-number-months"))
	}
	return f
}

// field is one figure of the limits or the interval of a duty: where it stands, and what it may be.
type field[T any] struct {
	id, words, unit  string
	minimum, maximum float64
	why, source      string
	of               func(*T) *float64
}

// What is watched is looked at again, and what is acted upon is opened: neither may be put so far off that a cylinder which should stop an
// engine is left at ease. Source of the ranges: the trade's schools, and half as much again.
var limitFields = []field[Limit]{
	{
		"leak_watch", say.Text("rules.watch-leak-from"), say.Text("rules.points-up"), 1, 5,
		say.Text("rules.trade-watches-from-3-points"),
		"trade", func(l *Limit) *float64 { return &l.LeakWatch },
	},
	{
		"leak_act", say.Text("rules.act-leak-from"), say.Text("rules.points-up"), 3, 20, say.Text("rules.5-points-over-own-baseline"),
		"trade", func(l *Limit) *float64 { return &l.LeakAct },
	},
	{
		"loss_watch", say.Text("rules.watch-lost-compression-from"), "%", 2, 8, say.Text("rules.less-normal-between-two-visits"),
		"trade", func(l *Limit) *float64 { return &l.LossWatch },
	},
	{
		"loss_act", say.Text("rules.act-lost-compression-from"), "%", 4, 20, say.Text("rules.8-for-racing-10-street"),
		"trade", func(l *Limit) *float64 { return &l.LossAct },
	},
}

// interval is an Interval with its months as a figure like the others.
type interval struct{ hours, km, events, months float64 }

var intervalFields = []field[interval]{
	{
		"hours", say.Text("rules.retest-after"), "h", 0, 100_000, say.Text("rules.0-not-hours"), "trade",
		func(i *interval) *float64 { return &i.hours },
	},
	{
		"km", say.Text("rules.retest-after"), "km", 0, 10_000_000, say.Text("rules.0-not-road"), "trade",
		func(i *interval) *float64 { return &i.km },
	},
	{
		"events", say.Text("rules.retest-after"), say.Text("rules.runs-or-events"), 0, 100_000, say.Text("rules.0-not-runs"), "trade",
		func(i *interval) *float64 { return &i.events },
	},
	{
		"months", say.Text("rules.any-case-after"), "months", 1, 120, say.Text("rules.engine-stands-tested-too"), "trade",
		func(i *interval) *float64 { return &i.months },
	},
}

func asFigures(i Interval) interval { return interval{i.Hours, i.Km, i.Events, float64(i.Months)} }

// Settings are all rules that a workshop may make its own: limits and intervals by duty, and the chances of causes.
func Settings() []Setting {
	var all []Setting
	for _, d := range Duties {
		of := strings.ReplaceAll(d.ID, "-", " ")
		limit, every := builtInLimit(d.ID), asFigures(builtInInterval(d.ID))
		for _, f := range limitFields {
			all = append(all, Setting{"limits." + d.ID + "." + f.id, "limits", of, f.words, f.unit, f.minimum, f.maximum, *f.of(&limit), f.why, f.source})
		}
		for _, f := range intervalFields {
			all = append(all, Setting{"intervals." + d.ID + "." + f.id, "intervals", of, f.words, f.unit, f.minimum, f.maximum, *f.of(&every), f.why, f.source})
		}
	}
	for _, c := range Causes().Causes {
		if c.Class != Nothing {
			all = append(all, Setting{
				"causes." + c.Cause, "causes", c.Words, say.Text("rules.how-common"), "of 1", CauseLeast, CauseMost, c.Prior, c.Note, "trade",
			})
		}
	}
	return all
}

// SettingOf returns the setting of that id.
func SettingOf(id string) (Setting, bool) {
	all := Settings()
	i := slices.IndexFunc(all, func(s Setting) bool { return s.ID == id })
	if i < 0 {
		return Setting{}, false
	}
	return all[i], true
}

func builtInLimit(duty string) Limit {
	return Limits[slices.IndexFunc(Limits, func(l Limit) bool { return l.Duty == duty })]
}

func builtInInterval(duty string) Interval {
	return Intervals[slices.IndexFunc(Intervals, func(i Interval) bool { return i.Duty == duty })]
}
