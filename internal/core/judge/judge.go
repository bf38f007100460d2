package judge

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/wear"
)

// Log judges every session of a log, each from itself and those before it, against the baseline of its build.
func Log(l log.Log) Verdict {
	v := Verdict{Format: "braxel-verdict", Version: 1, Engine: l.Engine.Name, Sessions: []Session{}}
	base := map[string]*baseline{}
	for _, s := range l.Sessions {
		b := base[l.BuildOf(s)]
		if b == nil {
			b = &baseline{}
			base[l.BuildOf(s)] = b
		}
		now := figures(l, s)
		own := s.Baseline || (b.empty() && len(now) > 0)
		said := judge(l, s, now, b, own)
		said.Caveats = caveats(s, b.sessions, l)
		v.Sessions = append(v.Sessions, said)
		if own {
			b.add(now)
			b.sessions = append(b.sessions, s)
		}
	}
	return v
}

// baseline is what each cylinder of a build reads when it is right: the mean of the sessions that define it.
type baseline struct {
	sum, n, variance map[int]float64
	sessions         []log.Session
}

func (b *baseline) empty() bool { return len(b.n) == 0 }

func (b *baseline) add(now map[int]figure) {
	if b.n == nil {
		b.sum, b.n, b.variance = map[int]float64{}, map[int]float64{}, map[int]float64{}
	}
	for c, f := range now {
		b.sum[c] += f.log
		b.n[c]++
		b.variance[c] += f.se * f.se
	}
}

// at returns the baseline of cylinder c as a logarithm with its standard error.
func (b *baseline) at(c int) (level, se float64, ok bool) {
	n := b.n[c]
	if n == 0 {
		return 0, 0, false
	}
	return b.sum[c] / n, math.Sqrt(b.variance[c]) / n, true
}

func judge(l log.Log, s log.Session, now map[int]figure, b *baseline, defines bool) Session {
	out := Session{ID: s.ID, State: Steady, Cylinders: []Cylinder{}}
	var order []int
	var delta, se []float64
	for _, c := range l.Engine.Cylinders() {
		f, ok := now[c]
		if !ok {
			continue
		}
		kpa := float64(f.gauge)
		out.Cylinders = append(out.Cylinders, Cylinder{Cylinder: c, State: Steady, Why: []string{}, Compression: &kpa})
		if level, baseSE, ok := b.at(c); ok {
			order, delta, se = append(order, c), append(delta, f.log-level), append(se, math.Hypot(f.se, baseSE))
		}
	}
	switch {
	case len(out.Cylinders) == 0:
		out.Sentence = "No reading yet."
	case len(order) == 0:
		out.Sentence = first(out)
	default:
		compare(&out, order, wear.Separate(delta, se, wear.Compression))
		if defines {
			out.Sentence = "Recorded into this build's baseline. " + out.Sentence
		}
	}
	return out
}

// first says what the first test of a build tells: how even it is.
func first(s Session) string {
	e := reading.Even(s.Pressures())
	lowest := slices.MinFunc(s.Cylinders, func(a, b Cylinder) int { return int(math.Copysign(1, *a.Compression-*b.Compression)) })
	if len(s.Cylinders) == 1 {
		return "Recorded as this build's baseline."
	}
	return fmt.Sprintf("Recorded as this build's baseline. The lowest, %d, stands %.1f %% below the highest.", lowest.Cylinder, e.SpreadPctOfHighest)
}

// A cylinder has changed when the chance of it is above sure; what to do about it follows from how much it lost.
const (
	sure    = 0.95
	watchAt = 4.0
	actAt   = 10.0
	stopAt  = 60.0
)

func compare(out *Session, order []int, shift wear.Shift) {
	common, commonSE := percent(shift.Common), 100*shift.CommonSE
	out.CommonPct, out.CommonSEPct = &common, &commonSE
	var down []string
	for i, c := range order {
		cyl := &out.Cylinders[slices.IndexFunc(out.Cylinders, func(x Cylinder) bool { return x.Cylinder == c })]
		change, se, chance := percent(shift.Own[i]), 100*shift.SE[i], shift.Chance[i]
		cyl.ChangePct, cyl.ChangeSEPct, cyl.Chance = &change, &se, &chance
		if chance < sure || change > -watchAt {
			continue
		}
		cyl.State = lossState(-change)
		cyl.Why = append(cyl.Why, fmt.Sprintf("compression down %.1f %% since baseline, beyond what the others did", -change))
		out.State = Worse(out.State, cyl.State)
		down = append(down, fmt.Sprintf("%d is down %.0f %%", c, -change))
	}
	out.Sentence = sentence(down, len(order), common, commonSE)
}

func lossState(loss float64) State {
	switch {
	case loss >= stopAt:
		return Stop
	case loss >= actAt:
		return Act
	}
	return Watch
}

func percent(logRatio float64) float64 { return 100 * (math.Exp(logRatio) - 1) }

func sentence(down []string, n int, common, commonSE float64) string {
	together := ""
	if math.Abs(common) > max(3*commonSE, 4) {
		together = fmt.Sprintf("All moved together, %s %.0f %%: look to battery, throttle, heat and gauge before the engine. ", direction(common), math.Abs(common))
	}
	switch {
	case len(down) == 0 && together != "":
		return together + "No cylinder stands out."
	case len(down) == 0:
		return "Nothing has moved since the baseline beyond what the gauge can tell."
	case len(down) == n:
		return together + "Cylinder " + strings.Join(down, ", ") + " since the baseline."
	case together != "":
		return together + "Beyond that cylinder " + strings.Join(down, ", ") + "."
	}
	return "Cylinder " + strings.Join(down, ", ") + " since the baseline; the others have not moved."
}

func direction(pct float64) string {
	if pct < 0 {
		return "down"
	}
	return "up"
}
