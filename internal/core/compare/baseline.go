package compare

import (
	"slices"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/story"
)

// BaselineOf returns the index of the session that says how a build reads when it is right: its last hot baseline, else its last baseline,
// else its first test; -1 where it has none. A test that found something to act upon is never it, whatever it was called, nor one from
// before a repair.
func BaselineOf(l log.Log, verdict judge.Verdict, build string) int {
	repairs := story.Repairs(l)
	first, baseline, hot, last := -1, -1, -1, -1
	for i, s := range l.Sessions {
		if l.BuildOf(s) != build || len(s.Compression)+len(s.Leakdown) == 0 {
			continue
		}
		mended := last >= 0 && len(story.Touched(l, repairs, last, i)) > 0
		last = i
		if mended {
			first, baseline, hot = -1, -1, -1
		}
		if verdict.Sessions[i].State.Severity() >= judge.Act.Severity() {
			continue
		}
		if first < 0 {
			first = i
		}
		if s.Baseline || mended {
			baseline = i
			if s.Conditions.EngineTemp == "hot" {
				hot = i
			}
		}
	}
	switch {
	case hot >= 0:
		return hot
	case baseline >= 0:
		return baseline
	}
	return first
}

// likest returns the pair of an earlier and a later test that were made most alike; of pairs that are equally so the first, in the order
// in which the tests are given.
func likest(l log.Log, earlier, later []log.Session) (from, to log.Session) {
	least := -1
	for _, b := range later {
		for _, a := range earlier {
			if n := len(judge.UnlikeWays(l, a, b)) + unmatched(a, b); least < 0 || n < least {
				least, from, to = n, a, b
			}
		}
	}
	return from, to
}

// unmatched counts what was measured at only one of two tests.
func unmatched(a, b log.Session) int {
	n := 0
	for _, apart := range []bool{
		(len(a.Compression) > 0) != (len(b.Compression) > 0),
		(len(a.Leakdown) > 0) != (len(b.Leakdown) > 0),
	} {
		if apart {
			n++
		}
	}
	return n
}

// latestFirst returns tests, which stand in the order of a log, the latest first, also of one day.
func latestFirst(all []log.Session) []log.Session {
	all = slices.Clone(all)
	slices.Reverse(all)
	return all
}
