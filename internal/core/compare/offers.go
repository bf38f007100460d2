package compare

import (
	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// Offer is a comparison that an engine's history suggests: what for, and the tests as an address names them.
type Offer struct {
	Title string   `json:"title"`
	Of    []string `json:"of"`
}

// Offers returns the comparisons that a log suggests, the latest first: before and after each repair, what each season cost, the
// builds by their baselines, and the cold baseline beside the hot one.
func Offers(l log.Log) []Offer {
	out := []Offer{}
	var measured []log.Session
	for _, s := range l.Sessions {
		if len(s.Compression)+len(s.Leakdown) > 0 && !s.Open {
			measured = append(measured, s)
		}
	}
	pick := func(s log.Session) string { return l.Engine.ID + ":" + s.ID }
	for i := len(measured) - 1; i > 0; i-- {
		if s := measured[i]; s.Stage == "after-repair" {
			out = append(out, Offer{say.Text("compare.did-repair-help",
				"date", say.Day(s.Date),
			), []string{pick(measured[i-1]), pick(s)}})
		}
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
		if BaselineOf(l, b.ID) >= 0 {
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

// seasonStart returns the first test of the season that a test after it ends, of the same build.
func seasonStart(l log.Log, before []log.Session, end log.Session) (log.Session, bool) {
	if end.Stage != "post-season" || len(end.Date) < 4 {
		return log.Session{}, false
	}
	for _, s := range before {
		if len(s.Date) >= 4 && s.Date[:4] == end.Date[:4] && l.BuildOf(s) == l.BuildOf(end) {
			return s, true
		}
	}
	return log.Session{}, false
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
