package wear

import (
	"math"
	"slices"
	"sync"

	"gonum.org/v1/gonum/stat/distuv"

	"braxel/internal/core/gas"
	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// engine is what is known of an engine before its tests.
type engine struct {
	order    []int
	unit     string
	bleeding gas.Bleeding
	lasts    float64 // how long such an engine usually lasts, in its meter's unit
	guessed  bool    // nobody knows that of such a meter
	points   float64 // the limit: points of leak over the baseline
	loss     float64 // the limit: a share of compression
	leakMost float64 // the builder's own limit, percent; 0 where there is none
	sound    float64 // the logarithm of the area that a sound cylinder leaks
	grown    float64 // the area that takes a sound cylinder to its limit
	pace     float64 // how fast a usual cylinder wears beside the one that wears fastest
	vague    bool    // nobody gave the orifice of a leak-down tester
	ahead    []float64
	held     table // by the logarithm of the hole: the logarithm of what the cylinder then holds
}

// table is a curve over a logarithm of area, in equal steps.
type table struct{ of []float64 }

const tableFrom, tableTo, tableStep = -8.0, 5.0, 0.05

func tableOf(f func(area float64) float64) table {
	var t table
	for log := tableFrom; log <= tableTo; log += tableStep {
		t.of = append(t.of, f(math.Exp(log)))
	}
	return t
}

// at returns the curve's value at a logarithm of area, and how steep it is there.
func (t table) at(log float64) (value, slope float64) {
	x := min(max((log-tableFrom)/tableStep, 0), float64(len(t.of))-1.001)
	i := int(x)
	rise := t.of[i+1] - t.of[i]
	return t.of[i] + (x-float64(i))*rise, rise / tableStep
}

// pcts is the leak in percent on the reference tester.
var pcts = sync.OnceValue(func() table { return tableOf(gas.Pct) })

// pctOf returns the leak in percent of a logarithm of area, and how many points it grows by with that.
func pctOf(log float64) (pct, slope float64) {
	pct, slope = pcts().at(log)
	return pct, max(slope, slopeLeast)
}

// slopeLeast keeps a tester that shows hardly anything from being taken for one that tells exactly. [points; judgement]
const slopeLeast = 0.2

const (
	aheadPoints = 72
	aheadLives  = 1.5 // how far is looked ahead
)

func engineOf(l log.Log, shop rules.Shop) *engine {
	e := l.Engine
	on := &engine{order: e.Cylinders(), unit: e.MeterUnit, bleeding: gas.BleedingOf(e), lasts: rules.LastsOf(e)}
	on.held = tableOf(on.bleeding.LogHeld)
	on.vague = slices.ContainsFunc(l.Sessions, func(s log.Session) bool { return !judge.OrificeKnown(l, s) })
	on.points, on.loss = shop.WornOut(e)
	on.loss /= 100
	if e.Limits != nil {
		on.leakMost = e.Limits.LeakMaximumPct
	}
	if on.lasts == 0 {
		on.lasts, on.guessed = guessLasts(l), true
	}
	on.pace = math.Exp(-rules.WearUnlike * mostOf(len(on.order)))
	pct, gap := rules.SoundLeakOf(e)
	area := gas.Area(pct)
	on.sound = math.Log(area * gap)
	on.grown = gas.Area(rules.SoundLeak+on.points) - gas.Area(rules.SoundLeak)
	for i := range aheadPoints {
		x := float64(i) / (aheadPoints - 1)
		on.ahead = append(on.ahead, aheadLives*on.lasts*x*x)
	}
	return on
}

// guessLasts returns a length of life for a meter that nothing is known of: twice what it has shown.
func guessLasts(l log.Log) float64 {
	most := 1.0
	for _, s := range l.Sessions {
		if s.Meter != nil {
			most = max(most, *s.Meter)
		}
	}
	return 2 * most
}

// bounds is how much a cylinder may leak before it is past a limit, by what it leaked as its baseline: a table over that logarithm, for one
// share of the hole that compression shows.
type bounds struct {
	on    *engine
	share float64
	made  map[int]float64
}

const boundStep = 0.05

// of returns the area at which a cylinder meets its limits; short is what it has lost of compression without a leak.
func (b bounds) of(base, short float64) float64 {
	key := int(math.Round(math.Log(base) / boundStep))
	if short == 0 {
		if a, ok := b.made[key]; ok {
			return a
		}
	}
	base = math.Exp(float64(key) * boundStep)
	pct := gas.Pct(base) + b.on.points
	if b.on.leakMost > 0 {
		pct = min(pct, b.on.leakMost)
	}
	most := gas.Area(pct)
	holds := func(area float64) float64 {
		log, _ := b.on.held.at(math.Log(b.share * area))
		return log
	}
	held, limit := holds(base), math.Log1p(-b.on.loss)+short
	if holds(most)-held < limit {
		low, high := base, max(most, base)
		for range 40 {
			if middle := (low + high) / 2; holds(middle)-held < limit {
				high = middle
			} else {
				low = middle
			}
		}
		most = low
	}
	if short == 0 {
		b.made[key] = most
	}
	return most
}

// mostOf returns how far the largest of n normal values stands above their mean, in standard deviations: Blom's approximation (1958).
func mostOf(n int) float64 {
	return distuv.UnitNormal.Quantile((float64(n) - 0.375) / (float64(n) + 0.25))
}
