package sheet

import (
	"slices"

	"braxel/internal/core/log"
	"braxel/internal/core/story"
)

// compareWith returns what a session's readings stand beside: the baseline sessions of its build, and the one read last before it. What a
// cylinder read before it was worked on says nothing of how it reads when it is right: its baseline is the first test after that.
func compareWith(l log.Log, at int) (base, last []log.Session) {
	build, repairs := l.BuildOf(l.Sessions[at]), story.Repairs(l)
	for i, s := range l.Sessions[:at] {
		if l.BuildOf(s) != build || len(s.Compression)+len(s.Leakdown) == 0 {
			continue
		}
		if s.Baseline || len(base) == 0 {
			base = append(base, without(s, story.Touched(l, repairs, i, at)))
		} else if anew := story.Touched(l, repairs, l.At(last[0].ID), i); len(anew) > 0 {
			touched := story.Touched(l, repairs, i, at)
			base = append(base, only(s, func(c int) bool { return slices.Contains(anew, c) && !slices.Contains(touched, c) }))
		}
		last = []log.Session{s}
	}
	return base, last
}

// without returns a session without the readings of some cylinders.
func without(s log.Session, cylinders []int) log.Session {
	if len(cylinders) == 0 {
		return s
	}
	return only(s, func(c int) bool { return !slices.Contains(cylinders, c) })
}

// only returns a session with the readings of some cylinders.
func only(s log.Session, of func(c int) bool) log.Session {
	s.Compression = slices.DeleteFunc(slices.Clone(s.Compression), func(r log.Compression) bool { return !of(r.Number()) })
	s.Leakdown = slices.DeleteFunc(slices.Clone(s.Leakdown), func(r log.Leakdown) bool { return !of(r.Number()) })
	return s
}
