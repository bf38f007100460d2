package judge

import (
	"slices"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/story"
)

// earlier is what an engine's tests read last, of whatever build.
type earlier struct {
	tested  bool
	at      int // of the log's sessions
	session log.Session
	figures map[int]figure
	bad     []int
}

// mending is what was put right between one test and the next.
type mending struct {
	is      bool
	all     bool  // every cylinder may have been worked on
	touched []int // otherwise
	by      *story.Repair
}

// mendedBefore returns what was put right since the last test. What nobody called a repair, and of which only words say that it was one, is
// of the cylinders that it names, else of those that were bad: a test of the rest is no new baseline by it.
func mendedBefore(on *subject, last earlier, at int) mending {
	s := on.log.Sessions[at]
	m := mending{is: s.Stage == log.AfterRepair, touched: slices.Clone(s.Touched)}
	m.all = m.is && len(s.Touched) == 0
	for i := range on.repairs {
		r := &on.repairs[i]
		if !last.tested || r.Before <= last.at || r.Before > at {
			continue
		}
		touched := r.Cylinders
		if len(touched) == 0 && !r.Said {
			touched = last.bad
		}
		switch {
		case len(touched) == 0 && !r.Said:
			continue
		case len(s.Touched) > 0: // the test itself says what was touched
		case len(touched) == 0:
			m.all = true
		case m.is && m.by == nil:
			m.all, m.touched = false, touched // the stage said that there was a repair, this says of what
		default:
			m.touched = append(m.touched, touched...)
		}
		m.is, m.by = true, r
	}
	return m
}

// of reports whether a cylinder may have been worked on.
func (m mending) of(c int) bool { return m.is && (m.all || slices.Contains(m.touched, c)) }

// work returns what was done.
func (m mending) work() rules.Work {
	if m.by == nil {
		return rules.Repairs().Of("")
	}
	return m.by.Work
}
