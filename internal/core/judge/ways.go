package judge

import (
	"fmt"
	"math"
	"slices"

	"braxel/internal/core/log"
)

// way is one thing in which two tests may be unlike, with what that usually does to all readings. A builder may
// disagree: change the figures.
type way struct {
	name  string
	of    func(log.Session) string
	level map[string]float64 // logarithm of what compression reads that way, beside the usual way
	sd    float64            // how far engines and gauges differ in that
	leak  map[string]float64 // share by which leaks read higher that way
	leakS float64            // and how far engines differ in that
	// finding is what it is among the findings that causes are weighed by.
	finding string
	words   func(l log.Log, now, then string) string
}

// coldReadsLess is what a cold engine reads beside a hot one, a logarithm.
const coldReadsLess = -0.07

var ways = [...]way{
	// Gas lost through a burnt gasket goes to the neighbour; a battery that turns one piston more turns slower.
	{
		name:    "plugs",
		of:      func(s log.Session) string { return s.Conditions.PlugsOut },
		finding: "way-changed",
		sd:      0.04,
		words: func(_ log.Log, now, then string) string {
			return fmt.Sprintf("The plugs were out %s, in the baseline %s: readings of the two are not alike", plugs[now], plugs[then])
		},
	},
	// Cold rings and bores do not fit, and thick oil slows the starter.
	{
		name:    "temp",
		of:      func(s log.Session) string { return s.Conditions.EngineTemp },
		finding: "way-changed",
		level:   map[string]float64{"warm": -0.03, "cold": coldReadsLess},
		sd:      0.04,
		leak:    map[string]float64{"warm": 0.1, "cold": 0.25},
		leakS:   0.12,
		words: func(_ log.Log, now, then string) string {
			return fmt.Sprintf("The engine was %s, in the baseline %s: a cold one reads lower, and leaks more", now, then)
		},
	},
	// Closed, the cylinder is not filled.
	{
		name:    "throttle",
		of:      func(s log.Session) string { return s.Conditions.Throttle },
		finding: "way-changed",
		level:   map[string]float64{"closed": -0.22},
		sd:      0.08,
		words: func(_ log.Log, now, _ string) string {
			return fmt.Sprintf("The throttle was %s, and was not in the baseline: closed it costs a fifth", now)
		},
	},
	// Cheap gauges differ by 10 % and more.
	{name: "gauge", of: gauge, finding: "gauge-changed", sd: 0.06, words: func(l log.Log, now, then string) string {
		return fmt.Sprintf("Read on %s, the baseline on %s: gauges differ by 10 %% and more", nameOf(l, now), nameOf(l, then))
	}},
	// At the bottom the bore is worn least; swept through TDC the lowest counts.
	{name: "position", of: position, finding: "way-changed", leakS: 0.3, words: func(_ log.Log, now, then string) string {
		return fmt.Sprintf("Leak-down was done %s, in the baseline %s", positions[now], positions[then])
	}},
}

// effect is what one way of testing does to all readings of a build, beside the baseline's way: as it usually is, and
// then as learned from the tests that were made so.
type effect struct {
	mean, sd float64
	tests    int
}

// unlike is a way in which a session differs from every session of the baseline.
type unlike struct {
	way
	now, then string
	*effect
}

// define notes how a session of the baseline was made.
func (h *history) define(s log.Session) {
	for i, w := range ways {
		if made := w.of(s); !slices.Contains(h.ways[i], made) {
			h.ways[i] = append(h.ways[i], made)
		}
	}
}

// unlike returns the ways in which a session differs from every one of the baseline, as far as both are noted.
func (h *history) unlike(s log.Session) []unlike {
	var all []unlike
	for i, w := range ways {
		now, base := w.of(s), h.ways[i]
		if now == "" || len(base) == 0 || slices.Contains(base, "") || slices.Contains(base, now) {
			continue
		}
		then := base[len(base)-1]
		key := fmt.Sprint(i, now)
		if h.effects[key] == nil {
			h.effects[key] = &effect{mean: w.level[now] - w.level[then], sd: w.sd}
		}
		all = append(all, unlike{w, now, then, h.effects[key]})
	}
	return all
}

// expected is what the ways in which a session is unlike the baseline do to all its readings: to compression, as a
// logarithm, and to leaks, as a share.
type expected struct{ mean, sd, leak, leakSD float64 }

func expect(all []unlike) expected {
	var e expected
	for _, u := range all {
		e.mean += u.mean
		e.sd = math.Hypot(e.sd, u.effect.sd)
		e.leak += u.leak[u.now] - u.leak[u.then]
		e.leakSD = math.Hypot(e.leakSD, u.leakS)
	}
	return e
}

// learn takes what a session that was otherwise unmoved says of the ways it was made in: a step of a Kalman filter for
// each, the others' doubt counted as noise.
func learn(all []unlike, common, commonSE float64) {
	e := expect(all)
	surprise, doubt := common-e.mean, e.sd*e.sd+commonSE*commonSE+sessionShift*sessionShift
	for _, u := range all {
		if u.effect.sd == 0 {
			continue
		}
		gain := u.effect.sd * u.effect.sd / doubt
		u.mean += gain * surprise
		u.effect.sd *= math.Sqrt(1 - gain)
		u.tests++
	}
}

// caveats says what makes a session unlike the baseline that it is held against, and how well it is known what that
// does. Figures are still compared where there is nothing better, but never without saying so.
func caveats(l log.Log, s log.Session, all []unlike) []string {
	var lines []string
	if s.Stage == "pre-install" {
		lines = append(
			lines,
			"It has not run since it was built: rings and seats are not bedded, and may leak a little. Test it again after its first running.",
		)
	}
	for _, u := range all {
		words := u.words(l, u.now, u.then)
		switch {
		case u.effect.sd == 0:
			words += "."
		case u.tests == 0:
			words += fmt.Sprintf(". What that does on this engine is not known yet; %s is taken off all readings.", allowance(u.mean))
		default:
			words += fmt.Sprintf(". Here that makes %s, learned from %s, and it is taken off.", allowance(u.mean), count(u.tests))
		}
		lines = append(lines, words)
	}
	return lines
}

func allowance(mean float64) string {
	p := percent(mean)
	if math.Abs(p) < 0.5 {
		return "nothing"
	}
	if p < 0 {
		return fmt.Sprintf("%.0f %% less", -p)
	}
	return fmt.Sprintf("%.0f %% more", p)
}

func count(tests int) string {
	if tests == 1 {
		return "one test"
	}
	return fmt.Sprintf("%d tests", tests)
}

var (
	plugs     = map[string]string{"all": "all together", "one": "one at a time"}
	positions = map[string]string{"tdc": "at TDC", "bdc": "at the bottom", "swept": "swept through TDC"}
)

// gauge returns the id of the compression tester that the session was read on, "" where there were several.
func gauge(s log.Session) string {
	var ids []string
	for _, row := range s.Compression {
		if row.Mode == log.Dry && !slices.Contains(ids, row.Tester) {
			ids = append(ids, row.Tester)
		}
	}
	if len(ids) != 1 {
		return ""
	}
	return ids[0]
}

func position(s log.Session) string {
	if len(s.Leakdown) == 0 {
		return ""
	}
	return s.Leakdown[len(s.Leakdown)-1].Position
}

func nameOf(l log.Log, id string) string {
	if t, ok := l.Tester(id); ok && t.Name != "" {
		return "the " + t.Name
	}
	return "gauge " + id
}
