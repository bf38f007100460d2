package wear

import (
	"math"

	"braxel/internal/core/gas"
	"braxel/internal/core/rules"
)

// fault is one way in which a cylinder may have gone wrong: when it began, and how it went on.
type fault struct {
	began  float64 // running since the build
	shape  shape
	size   float64 // of a step the area, of a line its area in a life, of a doubling the lives it takes, of a shortfall its logarithm
	chance float64
}

type shape int

const (
	step shape = iota
	line
	double
	short
)

// kinds returns the ways in which faults go on, each with its chance; they sum to 1. Their beginnings are left open.
func (on *engine) kinds() []fault {
	s := rules.FaultShapes
	base := gas.Area(rules.SoundLeak)
	var all []fault
	for _, x := range s.StepPoints {
		all = append(all, fault{shape: step, size: gas.Area(rules.SoundLeak+x.Of) - base, chance: s.Step * x.Chance})
	}
	for _, x := range s.LineLives {
		all = append(all, fault{shape: line, size: on.grown / x.Of, chance: s.Line * x.Chance})
	}
	for _, x := range s.DoubleLives {
		all = append(all, fault{shape: double, size: x.Of, chance: s.Double * x.Chance})
	}
	for _, x := range s.ShortPct {
		all = append(all, fault{shape: short, size: -math.Log1p(-x.Of / 100), chance: s.Short * x.Chance})
	}
	return all
}

// doubleFrom is the area of a doubling fault when it begins, as a share of what takes a cylinder to its limit. [share; judgement]
const doubleFrom = 0.15

// area returns what a fault adds to the leaking area at a time, running since the build.
func (on *engine) area(f fault, at float64) float64 {
	lives := (at - f.began) / on.lasts
	switch {
	case lives < 0 || f.shape == short:
		return 0
	case f.shape == step:
		return f.size
	case f.shape == line:
		return f.size * lives
	}
	return doubleFrom * on.grown * math.Exp2(min(lives/f.size, 12))
}

// lost returns what a fault takes of compression without a leak, a logarithm.
func (f fault) lost(at float64) float64 {
	if f.shape == short && at >= f.began {
		return f.size
	}
	return 0
}

// begun returns the faults that may have begun on one cylinder since its baseline.
func (on *engine) begun(h history, c int) []fault {
	kinds := on.kinds()
	rate := rules.FaultsALife / float64(len(on.order)) / on.lasts
	var all []fault
	for v := h.since[c]; v+1 < len(h.visits); v++ {
		from, to := h.visits[v].at, h.visits[v+1].at
		if to <= from {
			to = from + 1e-6*on.lasts
		}
		left := 1.0
		if v+2 < len(h.visits) { // a test since then may have found it
			left = rules.FaultsLeft
		}
		for _, share := range [...]float64{0.25, 0.75} {
			for _, f := range kinds {
				f.began = from + share*(to-from)
				f.chance *= left * rate * (to - from) / 2
				all = append(all, f)
			}
		}
	}
	return all
}

// comes returns the chance that no fault which begins after so much running has taken an engine past its limits, by running ahead: faults
// begin at a steady rate, and each takes a while from its beginning to the limit.
func (on *engine) comes(b bounds) []float64 {
	base := math.Exp(on.sound)
	limit := b.of(base, 0)
	out := make([]float64, len(on.ahead))
	kinds := on.kinds()
	for i, x := range on.ahead {
		through := 0.0
		for _, f := range kinds {
			takes := 0.0
			switch f.shape {
			case step:
				if base+f.size < limit {
					continue
				}
			case short:
				if -math.Expm1(-f.size) < on.loss {
					continue
				}
			case line:
				takes = (limit - base) / f.size * on.lasts
			case double:
				takes = max(0, math.Log2((limit-base)/(doubleFrom*on.grown))) * f.size * on.lasts
			}
			through += f.chance * max(0, x-takes)
		}
		out[i] = math.Exp(-rules.FaultsALife / on.lasts * through)
	}
	return out
}

// heardLog returns the logarithm of how much likelier what was heard at a cylinder's leak-downs is with a leak that adds so much area by
// visit than without one: wherever the leak may be.
func (h history) heardLog(c int, own float64, extra, worn []float64) float64 {
	at := rules.WhereOften
	for v, x := range h.visits {
		r := x.read[c]
		if !r.listened {
			continue
		}
		points := gas.Pct(own+extra[v]) - gas.Pct(own+worn[v])
		if points < 0.1 {
			continue
		}
		likely := rules.Heard * -math.Expm1(-points/rules.HeardFrom)
		for p := range at {
			wrong := rules.HeardFalseOther
			switch rules.Place(p) {
			case rules.Rings: // every engine breathes there
				continue
			case rules.Intake, rules.Exhaust:
				wrong = rules.HeardFalseValve
			}
			if r.heard[p] {
				at[p] *= max(likely, wrong) / wrong
			} else {
				at[p] *= 1 - likely
			}
		}
	}
	sum := 0.0
	for _, chance := range at {
		sum += chance
	}
	return math.Log(sum)
}
