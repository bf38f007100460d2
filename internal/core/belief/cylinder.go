package belief

import (
	"math"
	"sync"

	"braxel/internal/core/rules"
)

// reading is a row as it is weighed: its deviation from what is expected of the cylinder when it is sound.
type reading struct {
	dev     float64 // of the likeliest part
	parts   []Part
	best    int         // the index of that
	shifts  []int       // by part, how far it stands from that, in steps of the grid
	kernels [][]float64 // by part, how it scatters
	fail    float64
	sd      float64
	expects [devs]float64
	own     float64 // its own deviation, by the others' offset, and the variance of that
	ownVar  float64
}

// reading makes of a row what is weighed: how far it stands from what the cylinder reads when it is sound, and the density of
// that deviation by all that is believed of the cylinder, its leak-down included.
func (b *Believed) reading(i int, v *Visit, x *leakEvidence, densities kernels, r *reading) {
	c := &b.Cylinders[i]
	*r = reading{parts: v.Rows[i], fail: fails(v.Pulls[i]), shifts: r.shifts[:0], kernels: r.kernels[:0]}
	for k, p := range r.parts {
		if p.Weight > r.parts[r.best].Weight {
			r.best = k
		}
	}
	likeliest := r.parts[r.best]
	r.dev = likeliest.Mean - b.level - c.dev
	sdOf := func(p Part) float64 { return math.Sqrt(p.SD*p.SD + v.Scatter*v.Scatter + c.devVar) }
	r.sd = sdOf(likeliest)
	for _, p := range r.parts {
		r.shifts = append(r.shifts, stepsOf(p.Mean-likeliest.Mean))
		r.kernels = append(r.kernels, densities.of(sdOf(p)))
	}
	whole := c.Sound * x.sound
	for k, w := range c.leak {
		whole += w * x.leak[k]
	}
	for _, w := range c.short {
		whole += w * x.sound
	}
	var steps [devs + 1]float64
	add(&steps, bin{devZero, devZero}, c.Sound*x.sound)
	for k, w := range c.leak {
		if w *= x.leak[k]; w > tiny*whole {
			for i, at := range x.table.loss[k] {
				add(&steps, at, w*b.holes.share(x.measured, i))
			}
		}
	}
	for k, w := range c.short {
		if w *= x.sound; w > tiny*whole {
			add(&steps, lostDev[k], w)
		}
	}
	sum := 0.0
	for at := range devs {
		sum += steps[at]
		w := sum / whole
		if w <= tiny {
			continue
		}
		for k, p := range r.parts {
			to := onGrid(at - r.shifts[k])
			if at < devSmooth { // the sizes lie wider apart there than readings scatter
				r.expects[to] += w * p.Weight / devStep
			} else {
				spread(&r.expects, to, w*p.Weight, r.kernels[k])
			}
		}
	}
	for at, w := range oddOf(v.Pulls[i]) {
		r.expects[at] += w
	}
}

// never is the density of a reading that nothing known accounts for: small, and not nothing, so that belief can return.
const never = 1e-7

// oddOf is the density of a reading of so many pulls by nothing but a failed row or a gain, by the index of its deviation.
func oddOf(pulls int) *[devs]float64 { return &odds()[min(pulls, 3)] }

var odds = sync.OnceValue(func() *[4][devs]float64 {
	var all [4][devs]float64
	for n := range all {
		o := &all[n]
		fail := fails(n)
		for at := range o {
			z := float64(at-devZero) * devStep
			switch {
			case z < rules.PullsAgree:
				o[at] = fail*rules.FailsBelow/rules.FailsReach + never
			case z < rules.GainsTo:
				o[at] = rules.Gains/rules.GainsTo + fail*rules.FailsOver + never
			default:
				o[at] = fail*rules.FailsOver + never
			}
		}
	}
	return &all
})

// posterior is what a visit makes of a cylinder before its neighbours are looked at; weights, not chances, whose sum is whole.
type posterior struct {
	sound, failed float64
	leak          [sizes]float64
	short         [shortages]float64
	whole         float64
	emits         [sizes]float64 // of a leak of each size: its figure and its compression, places left out
	paired        float64        // the chance that it leaks into a neighbour
	pairPoints    float64
	pairs         [sizes]float64 // the same by size
	neighbour     int            // the likeliest, -1 for none
	neighbourBy   float64
}

// posterior weighs what a visit says of a cylinder with what was believed of it; own is its deviation by what the others tell.
func (b *Believed) posterior(i int, v *Visit, x *leakEvidence, r *reading, own [][devs]float64, p *posterior) {
	c := &b.Cylinders[i]
	*p = posterior{neighbour: -1}
	var density [devs]float64
	wrong, read := 0.0, len(r.parts) > 0
	low, high := devs, -1 // where the density is more than nothing
	if read {
		r.own, r.ownVar = moments(&own[i])
		odd := oddOf(v.Pulls[i])
		for z, w := range own[i] {
			if w < tiny {
				continue
			}
			for k, q := range r.parts {
				at := onGrid(z + r.shifts[k])
				spread(&density, at, w*q.Weight, r.kernels[k])
				low, high = min(low, at-len(r.kernels[k])), max(high, at+len(r.kernels[k]))
			}
			p.failed += w * odd[z]
		}
		wrong = r.fail * rules.FailsOver
	}
	var up [devs + 1]float64 // its sums, from low to high
	low, high = max(low, 0), min(high, devs-1)
	for i := low; i <= high; i++ {
		up[i+1] = up[i] + density[i]
	}
	at := func(in bin) float64 {
		switch from, to := max(in.from, low), min(in.to, high); {
		case !read:
			return 1
		case from > to:
			return never
		default:
			return (up[to+1]-up[from])/float64(in.to-in.from+1) + never
		}
	}
	p.failed *= c.Sound * x.sound
	p.sound = c.Sound*x.sound*at(bin{devZero, devZero}) + p.failed
	p.whole = p.sound
	for k, w := range c.leak {
		e := 0.0
		for i, dev := range x.table.loss[k] {
			e += b.holes.share(x.measured, i) * at(dev)
		}
		e += wrong
		p.emits[k] = x.figure[k] * x.place[Neighbour][k] * e
		p.leak[k] = w * x.leak[k] * e
		p.whole += p.leak[k]
	}
	for k, w := range c.short {
		p.short[k] = w * x.sound * (at(lostDev[k]) + wrong)
		p.whole += p.short[k]
	}
}
