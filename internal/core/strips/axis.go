package strips

import (
	"slices"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// rising reports whether every visit has a meter, and none runs backwards.
func rising(all []Visit) bool {
	for i, v := range all {
		if v.Meter == nil || (i > 0 && *v.Meter < *all[i-1].Meter) {
			return false
		}
	}
	return len(all) > 1 && *all[0].Meter < *all[len(all)-1].Meter
}

// marks notes what happened between the tests: events, builds, repairs, other gauges, the turn of a season.
func (d *drawing) marks() {
	for _, e := range d.log.Events {
		if e.Struck == "" && (e.Date != "" || e.Meter != nil) {
			d.out.Marks = append(d.out.Marks, Mark{Kind: "event", Words: e.What, Date: e.Date, Meter: e.Meter})
		}
	}
	gauge := ""
	for i, s := range d.log.Sessions {
		if s.Struck != "" {
			continue
		}
		v := d.out.Visits[i]
		if i > 0 && v.Build != d.out.Visits[i-1].Build {
			d.out.Marks = append(d.out.Marks, Mark{Kind: "build", Words: d.built(v.Build), Before: i})
		}
		if i > 0 && year(v) != year(d.out.Visits[i-1]) {
			d.out.Marks = append(d.out.Marks, Mark{Kind: "season", Words: year(v), Before: i})
		}
		if i > 0 && s.Stage == log.AfterRepair {
			d.out.Marks = append(d.out.Marks, Mark{Kind: "repair", Words: say.Text("strips.repair"), Before: i})
		}
		now := judge.GaugeOf(d.log, s)
		if gauge != "" && now != "" && now != gauge {
			d.out.Marks = append(d.out.Marks, Mark{Kind: "gauge", Words: say.Text("strips.different-gauge"), Before: i})
		}
		if now != "" {
			gauge = now
		}
	}
}

// year returns the year of a visit, which is its season; "" where its date is none.
func year(v Visit) string {
	if len(v.Date) < 4 {
		return ""
	}
	return v.Date[:4]
}

// built says what a build was.
func (d *drawing) built(id string) string {
	for _, b := range d.log.Builds {
		if b.ID == id && b.What != "" {
			return b.What
		}
	}
	return say.Text("strips.new-build")
}

// spans gathers visits by season, which is a year, and by build, where there are several.
func (d *drawing) spans() {
	var builds, seasons []Span
	put := func(all *[]Span, kind, id, name string, i int) {
		at := slices.IndexFunc(*all, func(s Span) bool { return s.ID == id })
		if at < 0 {
			*all = append(*all, Span{kind, id, name, i, i})
			return
		}
		(*all)[at].From, (*all)[at].To = min((*all)[at].From, i), max((*all)[at].To, i)
	}
	for i, v := range d.out.Visits {
		if v.Build != "" {
			put(&builds, "build", v.Build, d.built(v.Build), i)
		}
		if y := year(v); y != "" {
			put(&seasons, "season", y, y, i)
		}
	}
	for _, all := range [][]Span{seasons, builds} {
		if len(all) > 1 {
			d.out.Spans = append(d.out.Spans, all...)
		}
	}
}
