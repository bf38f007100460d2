package judge

import (
	"maps"
	"math"
	"slices"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/twice"
)

// way is one thing in which two tests may be unlike: its rule, how a session was made in that way, and what is said where two differ.
type way struct {
	rules.Way
	of    func(log.Session) string
	words func(l log.Log, now, then string) string
}

var ways = [...]way{
	{
		rules.WayNamed("plugs"), func(s log.Session) string { return s.Conditions.PlugsOut },
		func(_ log.Log, now, then string) string {
			return say.Text("judge.way-plugs", "now", plugs[now], "then", plugs[then])
		},
	},
	{
		rules.WayNamed("temp"), func(s log.Session) string { return s.Conditions.EngineTemp },
		func(_ log.Log, now, then string) string {
			return say.Text("judge.way-temp", "now", now, "then", then)
		},
	},
	{
		rules.WayNamed("throttle"), func(s log.Session) string { return s.Conditions.Throttle },
		func(_ log.Log, now, _ string) string {
			return say.Text("judge.way-throttle", "now", now)
		},
	},
	{rules.WayNamed("gauge"), gauge, func(l log.Log, now, then string) string {
		return say.Text("judge.way-gauge", "now", nameOf(l, now), "then", nameOf(l, then))
	}},
	{rules.WayNamed("position"), position, func(_ log.Log, now, then string) string {
		return say.Text("judge.way-position", "now", positions[now], "then", positions[then])
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
	effect    effect
}

// key names what is learned of it.
func (u unlike) key() string { return u.ID + " " + u.now }

// waysMade is how the sessions of a baseline were made, way by way.
type waysMade [len(ways)][]string

// with returns it with one session more.
func (made waysMade) with(s log.Session) waysMade {
	for i, w := range ways {
		if now := w.of(s); !slices.Contains(made[i], now) {
			made[i] = append(slices.Clip(made[i]), now)
		}
	}
	return made
}

// unlikeIn returns the ways in which a session differs from every one of the baseline, as far as both are noted; learned is what has been
// learned of them.
func unlikeIn(s log.Session, base waysMade, learned map[string]effect) []unlike {
	var all []unlike
	for i, w := range ways {
		now, made := w.of(s), base[i]
		if now == "" || len(made) == 0 || slices.Contains(made, "") || slices.Contains(made, now) {
			continue
		}
		then := made[len(made)-1]
		u := unlike{w, now, then, effect{mean: w.Level[now] - w.Level[then], sd: w.SD}}
		if known, ok := learned[u.key()]; ok {
			u.effect = known
		}
		all = append(all, u)
	}
	return all
}

// expected is what the ways in which a session is unlike the baseline do to all its readings: to compression, as a
// logarithm, and to leaks, as a share.
type expected struct{ mean, sd, leak, leakSD float64 }

func expect(all []unlike) expected {
	var e expected
	for _, u := range all {
		e.mean += u.effect.mean
		e.sd = math.Hypot(e.sd, u.effect.sd)
		e.leak += u.Leak[u.now] - u.Leak[u.then]
		e.leakSD = math.Hypot(e.leakSD, u.LeakSD)
	}
	return e
}

// learn returns what is known of the ways of testing after a session that was otherwise unmoved: a step of a Kalman filter for each, the
// others' doubt counted as noise.
func learn(learned map[string]effect, all []unlike, common, commonSE float64) map[string]effect {
	e := expect(all)
	surprise, doubt := common-e.mean, e.sd*e.sd+commonSE*commonSE+rules.VisitSD*rules.VisitSD
	more := maps.Clone(learned)
	if more == nil {
		more = map[string]effect{}
	}
	for _, u := range all {
		if known := u.effect; known.sd != 0 {
			gain := known.sd * known.sd / doubt
			more[u.key()] = effect{known.mean + gain*surprise, known.sd * math.Sqrt(1-gain), known.tests + 1}
		}
	}
	return more
}

var (
	plugs     = map[string]string{"all": say.Text("judge.all-together"), "one": say.Text("judge.one-at-a-time")}
	positions = map[string]string{
		"tdc":   say.Text("judge.at-tdc"),
		"bdc":   say.Text("judge.at-the-bottom"),
		"swept": say.Text("judge.swept-through-tdc"),
	}
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
		return say.Text("judge.gauge-named", "name", t.Name)
	}
	return say.Text("judge.gauge-by-id", "id", id)
}

// Unlike is one way in which two visits were made differently, with what that usually does.
type Unlike struct {
	What      string  // plugs, temp, throttle, gauge, position
	Then, Now string  // as the log has them; of a gauge what it is called
	Mean, SD  float64 // what it does to compression, a logarithm, and how far engines and gauges differ in that
	Leak      float64 // the share by which leaks read higher
	LeakSD    float64
}

// UnlikeWays returns the ways in which the session now was made unlike the session then, as far as both are noted.
func UnlikeWays(l log.Log, then, now log.Session) []Unlike {
	var all []Unlike
	for _, w := range ways {
		a, b := w.of(then), w.of(now)
		if a == "" || b == "" || a == b {
			continue
		}
		u := Unlike{What: w.ID, Then: a, Now: b, Mean: w.Level[b] - w.Level[a], SD: w.SD, Leak: w.Leak[b] - w.Leak[a], LeakSD: w.LeakSD}
		if w.ID == "gauge" {
			u.Then, u.Now = nameOf(l, a), nameOf(l, b)
		}
		all = append(all, u)
	}
	return all
}

// Prior returns what two sessions made so differ by before they are read: in compression, and as a share of leaks with its doubt.
func Prior(ways []Unlike) (compression twice.Prior, share, sd float64) {
	compression = twice.Alike()
	for _, u := range ways {
		compression = compression.With(u.Mean, u.SD)
		share += u.Leak
		sd = math.Hypot(sd, u.LeakSD)
	}
	return compression, share, sd
}

// GaugeOf returns the name of the compression tester that a session was read on; "" where there were several, or none is noted.
func GaugeOf(l log.Log, s log.Session) string {
	id := gauge(s)
	if id == "" {
		return ""
	}
	return nameOf(l, id)
}
