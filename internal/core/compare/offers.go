package compare

import (
	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/story"
	"braxel/internal/core/units"
)

// Offer is a comparison that an engine's history suggests: what for, and the tests as an address names them.
type Offer struct {
	Title string   `json:"title"`
	Of    []string `json:"of"`
}

// Offers returns the comparisons that a log suggests, the latest first: before and after each repair, what each season cost, the
// builds by their baselines, and the cold baseline beside the hot one. Of the tests that would do it takes those that were made most alike.
func Offers(l log.Log, verdict judge.Verdict, shown units.Choice) []Offer {
	out := []Offer{}
	var measured []log.Session
	for _, s := range l.Sessions {
		if len(s.Compression)+len(s.Leakdown) > 0 && !s.Open && s.Struck == "" {
			measured = append(measured, s)
		}
	}
	pick := func(s log.Session) string { return l.Engine.ID + ":" + s.ID }
	repairs := story.Repairs(l)
	mended := func(i int) bool {
		return len(story.Touched(l, repairs, l.At(measured[i-1].ID), l.At(measured[i].ID))) > 0
	}
	next := len(measured) // the first test after the repair that follows
	for i := len(measured) - 1; i > 0; i-- {
		if !mended(i) {
			continue
		}
		begins := i - 1
		for begins > 0 && !mended(begins) {
			begins--
		}
		from, to := likest(l, latestFirst(measured[begins:i]), measured[i:next])
		title := say.Text("compare.did-repair-help", "it", workBefore(repairs, l.At(measured[i].ID)), "date", shown.Day(measured[i].Date))
		out, next = append(out, Offer{title, []string{pick(from), pick(to)}}), i
	}
	for i := len(measured) - 1; i > 0; i-- {
		if start, ok := seasonStart(l, measured[:i], measured[i]); ok {
			out = append(out, Offer{say.Text("compare.what-season-cost",
				"date", measured[i].Date[:4],
			), []string{pick(start), pick(measured[i])}})
		}
	}
	var builds []string
	for _, b := range l.Builds {
		if BaselineOf(l, verdict, b.ID) >= 0 {
			builds = append(builds, l.Engine.ID+"@"+b.ID)
		}
	}
	if len(builds) > 1 {
		out = append(out, Offer{say.Text("compare.builds-their-baselines", "n", len(builds)), builds})
	}
	if cold, hot, ok := baselines(l, measured); ok {
		out = append(out, Offer{say.Text("compare.cold-baseline-hot-one"), []string{pick(cold), pick(hot)}})
	}
	return out
}

// workBefore names what was done before a session: the valve job.
func workBefore(repairs []story.Repair, at int) string {
	for _, r := range repairs {
		if r.Before == at {
			return r.Work.The
		}
	}
	return rules.Repairs().Of("").The
}

// seasonStart returns the test of the season's beginning that a test after it is held beside: the first that was made like it, else the
// first, of the same build.
func seasonStart(l log.Log, before []log.Session, end log.Session) (log.Session, bool) {
	if end.Stage != "post-season" || len(end.Date) < 4 {
		return log.Session{}, false
	}
	var season []log.Session
	for _, s := range before {
		if len(s.Date) >= 4 && s.Date[:4] == end.Date[:4] && l.BuildOf(s) == l.BuildOf(end) {
			season = append(season, s)
		}
	}
	return StartOf(l, season, end), len(season) > 0
}

// StartOf returns the test of a season that its last is held beside: the first of those that were made most like it.
func StartOf(l log.Log, season []log.Session, end log.Session) log.Session {
	start, _ := likest(l, season, []log.Session{end})
	return start
}

// baselines returns the last cold and the last hot baseline of the last build.
func baselines(l log.Log, measured []log.Session) (cold, hot log.Session, ok bool) {
	if len(measured) == 0 {
		return
	}
	build := l.BuildOf(measured[len(measured)-1])
	for _, s := range measured {
		if !s.Baseline || l.BuildOf(s) != build {
			continue
		}
		switch s.Conditions.EngineTemp {
		case "cold":
			cold = s
		case "hot":
			hot = s
		}
	}
	return cold, hot, cold.ID != "" && hot.ID != ""
}
