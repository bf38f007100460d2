package judge

import (
	"math"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/log"
	"braxel/internal/core/protocol"
	"braxel/internal/core/units"
)

// Figure is what one visit read of a cylinder, brought to where two visits can be held beside each other.
type Figure struct {
	Cylinder int
	Gauge    units.Pressure // dry, as the sheet shows it, gauge kPa
	Log, SE  float64        // the logarithm of that at sea level in kPa, and its standard error; SE is 0 where it was not cranked
	Faces    []float64      // of a rotor, gauge kPa
	Pulls    int
	Leak     float64 // the lowest attempt as the reference tester would show it, percent
	LeakSE   float64 // its standard error; 0 where it was not leaked down
	First    float64 // the highest attempt; as Leak where there was one
	Attempts int
	Paths    []log.Path // where air was heard at the last attempt; nil where nobody listened
}

// Reader reads the sessions of a log one after the other, as the judge does: gauges repeat as they did so far.
type Reader struct{ h *history }

// NewReader returns a reader of a log's sessions, from the first on.
func NewReader(l log.Log, own ...protocol.Protocol) Reader {
	h := newHistory(l)
	h.own = own
	return Reader{h}
}

// Figures returns what one session of a log read of each cylinder, in the layout's order.
func Figures(l log.Log, s log.Session, own ...protocol.Protocol) []Figure {
	r := NewReader(l, own...)
	for _, before := range l.Sessions {
		if before.ID == s.ID {
			break
		}
		r.h.repeated(before)
	}
	return r.Next(s)
}

// Next reads the next session.
func (r Reader) Next(s log.Session) []Figure {
	now := r.h.read(s)
	var all []Figure
	for _, c := range r.h.order {
		if f, read := now[c]; read {
			all = append(all, f.laid())
		}
	}
	return all
}

// laid returns a figure as it is held beside another visit's.
func (f figure) laid() Figure {
	out := Figure{Cylinder: f.cylinder, Gauge: f.gauge, Log: f.log, SE: f.se, Faces: f.faces, Pulls: f.pulls, Attempts: f.attempts, Paths: f.paths}
	if len(f.rows) == 0 {
		return out
	}
	low, high := f.rows[0], f.rows[0]
	for _, r := range f.rows {
		if r.Pct < low.Pct {
			low = r
		}
		high.Pct = max(high.Pct, r.Pct)
	}
	out.Leak, out.First = low.Pct, high.Pct
	out.LeakSE = math.Hypot(belief.LeakError(low.Pct, low.Step), belief.Wander*low.Pct)
	return out
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
		u := Unlike{What: w.name, Then: a, Now: b, Mean: w.level[b] - w.level[a], SD: w.sd, Leak: w.leak[b] - w.leak[a], LeakSD: w.leakS}
		if w.name == "gauge" {
			u.Then, u.Now = nameOf(l, a), nameOf(l, b)
		}
		all = append(all, u)
	}
	return all
}

// GaugeOf returns the name of the compression tester that a session was read on; "" where there were several, or none is noted.
func GaugeOf(l log.Log, s log.Session) string {
	id := gauge(s)
	if id == "" {
		return ""
	}
	return nameOf(l, id)
}

// InConcern returns the cylinders that a session was judged to watch or worse.
func (s Session) InConcern() []int { return slices.Clip(s.atLeast(Watch)) }
