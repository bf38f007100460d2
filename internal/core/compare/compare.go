package compare

import (
	"math"
	"slices"
	"time"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/story"
	"braxel/internal/core/twice"
)

// Tests compares two sessions of a log, the earlier first whatever the order they are named in.
func Tests(l log.Log, verdict judge.Verdict, one, other string, shop rules.Shop) (Result, error) {
	i, j := l.At(one), l.At(other)
	switch {
	case i < 0 || j < 0:
		return Result{}, say.Error("compare.has-no-such-test", "name", l.Engine.Name)
	case i == j:
		return Result{}, say.Error("compare.pick-different-test-test-cant")
	}
	i, j = min(i, j), max(i, j)
	p := pair{log: l, from: l.Sessions[i], to: l.Sessions[j], before: verdict.Sessions[i], after: verdict.Sessions[j]}
	p.sides(shop)
	r := Result{Purpose: p.purpose(), From: p.from.ID, To: p.to.ID, Notes: []string{}, Cylinders: []Cylinder{}, Answer: twice.Untold}
	p.changes(&r)
	p.tell(&r)
	return r, nil
}

func (p *pair) sides(shop rules.Shop) {
	of := func(s log.Session) map[int]judge.Figure {
		all := map[int]judge.Figure{}
		for _, f := range judge.Figures(p.log, s, shop) {
			all[f.Cylinder] = f
		}
		return all
	}
	p.a, p.b = of(p.from), of(p.to)
	i, j := p.log.At(p.from.ID), p.log.At(p.to.ID)
	if i > 0 && p.from.Stage != log.AfterRepair && p.sameWay(p.log.Sessions[i-1], p.from) {
		p.earlier = of(p.log.Sessions[i-1])
	}
	if j+1 < len(p.log.Sessions) && p.log.Sessions[j+1].Stage != log.AfterRepair && p.sameWay(p.to, p.log.Sessions[j+1]) {
		p.later = of(p.log.Sessions[j+1])
	}
	p.unlike = judge.UnlikeWays(p.log, p.from, p.to)
}

// sameWay reports whether two tests of one build were made alike.
func (p *pair) sameWay(one, next log.Session) bool {
	return p.log.BuildOf(one) == p.log.BuildOf(next) && len(judge.UnlikeWays(p.log, one, next)) == 0
}

// purpose says what the two are laid beside each other for, by what lies between them.
func (p *pair) purpose() Purpose {
	switch {
	case p.log.BuildOf(p.from) != p.log.BuildOf(p.to):
		return Builds
	case p.repaired():
		return Repair
	case p.differ("gauge") && days(p.from.Date, p.to.Date) <= sameVisit && len(p.eventsBetween()) == 0:
		return Gauges
	case p.to.Stage == "post-season", p.from.Stage == "post-season" && p.to.Stage == "pre-season":
		return Season
	}
	return Change
}

// sameVisit is how many days two tests may lie apart to be one engine on two gauges.
const sameVisit = 2

func days(from, to string) float64 {
	a, _ := time.Parse(time.DateOnly, from)
	b, _ := time.Parse(time.DateOnly, to)
	return b.Sub(a).Hours() / 24
}

// repaired reports whether something was put right between the two.
func (p *pair) repaired() bool {
	return len(story.Touched(p.log, story.Repairs(p.log), p.log.At(p.from.ID), p.log.At(p.to.ID))) > 0
}

// changes weighs each cylinder, and what all did together.
func (p *pair) changes(r *Result) {
	var both []int
	for _, c := range p.log.Engine.Cylinders() {
		if p.a[c].SE > 0 && p.b[c].SE > 0 {
			both = append(both, c)
		}
	}
	moved := make([]twice.Shift, len(both))
	for i, c := range both {
		moved[i] = twice.Shift{By: p.b[c].Log - p.a[c].Log, SE: math.Hypot(p.a[c].SE, p.b[c].SE)}
	}
	prior, share, shareSD := judge.Prior(p.unlike)
	concern := p.before.InConcern()
	for _, c := range p.log.Engine.Cylinders() {
		out := Cylinder{Cylinder: c, Called: p.log.Engine.Called(c)}
		looks := 1.0 // how many were looked at to find this one
		if !slices.Contains(concern, c) {
			looks = float64(max(1, len(p.log.Engine.Cylinders())))
		}
		a, b := p.read(c)
		if i := slices.Index(both, c); i >= 0 {
			common, se := prior.Common(slices.Delete(slices.Clone(moved), i, i+1))
			m := twice.Gain(a, b, common, se, looks)
			out.Compression = &m
		}
		if a.LeakSE > 0 && b.LeakSE > 0 {
			m := twice.Leak(a, b, share, shareSD, looks)
			out.Leak = &m
		}
		out.Move, out.Chance = twice.Join(out.Compression, out.Leak)
		if out.Compression != nil || out.Leak != nil {
			r.Cylinders = append(r.Cylinders, out)
		}
	}
	if len(both) > 1 {
		t := twice.Together(moved, prior)
		r.Together = &t
	}
}

// read returns what was read of a cylinder at either test, with what the tests beside them bear out.
func (p *pair) read(c int) (a, b twice.Read) {
	a, b = p.a[c].Read(), p.b[c].Read()
	earlier, later := p.earlier[c], p.later[c]
	a.BorneOut = earlier.SE > 0 && earlier.Log < p.a[c].Log+2*p.a[c].SE
	a.LeakBorneOut = earlier.LeakSE > 0 && earlier.Leak > p.a[c].Leak-2*p.a[c].LeakSE
	b.BorneOut = later.SE > 0 && later.Log < p.b[c].Log+2*p.b[c].SE
	b.LeakBorneOut = later.LeakSE > 0 && later.Leak > p.b[c].Leak-2*p.b[c].LeakSE
	return a, b
}
