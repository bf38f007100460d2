package compare

import (
	"math"
	"slices"
	"time"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
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
	r := Result{Purpose: p.purpose(), From: p.from.ID, To: p.to.ID, Notes: []string{}, Cylinders: []Cylinder{}, Answer: Untold}
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
	if i > 0 && p.from.Stage != "after-repair" && p.sameWay(p.log.Sessions[i-1], p.from) {
		p.earlier = of(p.log.Sessions[i-1])
	}
	if j+1 < len(p.log.Sessions) && p.log.Sessions[j+1].Stage != "after-repair" && p.sameWay(p.to, p.log.Sessions[j+1]) {
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

// repaired reports whether a test after a repair lies between the two, the later included.
func (p *pair) repaired() bool {
	from, to := p.log.At(p.from.ID), p.log.At(p.to.ID)
	return slices.ContainsFunc(p.log.Sessions[from+1:to+1], func(s log.Session) bool { return s.Stage == "after-repair" })
}

// changes weighs each cylinder, and what all did together.
func (p *pair) changes(r *Result) {
	var both []int
	for _, c := range p.log.Engine.Cylinders() {
		if p.a[c].SE > 0 && p.b[c].SE > 0 {
			both = append(both, c)
		}
	}
	moved := make([]shift, len(both))
	for i, c := range both {
		moved[i] = shift{p.b[c].Log - p.a[c].Log, math.Hypot(p.a[c].SE, p.b[c].SE)}
	}
	prior := expected(p.unlike)
	concern := p.before.InConcern()
	for _, c := range p.log.Engine.Cylinders() {
		out := Cylinder{Cylinder: c, Called: p.log.Engine.Called(c), Move: Untold, Chance: 1}
		looks := 1.0 // how many were looked at to find this one
		if !slices.Contains(concern, c) {
			looks = float64(max(1, len(p.log.Engine.Cylinders())))
		}
		if i := slices.Index(both, c); i >= 0 {
			common, se := prior.common(slices.Delete(slices.Clone(moved), i, i+1))
			out.Compression = p.compression(c, moved[i].by-common, math.Hypot(moved[i].se, se), looks)
		}
		out.Leak = p.leak(c, looks)
		out.join()
		if out.Compression != nil || out.Leak != nil {
			r.Cylinders = append(r.Cylinders, out)
		}
	}
	if len(both) > 1 {
		common, se := prior.common(moved)
		t := weigh(percent(common), 100*se, 0, 1)
		t.Chance = chanceOf(t.By-percent(prior.mean), math.Hypot(100*prior.sd, 100*se))
		if t.Chance < rules.Sure {
			t.Move = better(t.By > 0)
		}
		r.Together = &t
	}
}

func better(is bool) Move {
	if is {
		return Better
	}
	return Worse
}

// compression weighs by how much a cylinder changed beyond what all did, a logarithm.
func (p *pair) compression(c int, by, se, looks float64) *Moved {
	a, b := p.a[c], p.b[c]
	slip := failed(a, p.earlier[c].SE > 0 && p.earlier[c].Log < a.Log+2*a.SE)
	if by < 0 {
		slip = failed(b, p.later[c].SE > 0 && p.later[c].Log < b.Log+2*b.SE)
	}
	m := weigh(percent(by), 100*se, slip, looks)
	m.settle(by > 0)
	return &m
}

// leak weighs by how many points a cylinder leaks more or less, as the reference tester shows it.
func (p *pair) leak(c int, looks float64) *Moved {
	a, b := p.a[c], p.b[c]
	if a.LeakSE == 0 || b.LeakSE == 0 {
		return nil
	}
	share, sd := 0.0, 0.0
	for _, u := range p.unlike {
		share += u.Leak
		sd = math.Hypot(sd, u.LeakSD)
	}
	// The earlier leak is brought to the way the later was tested: a cold engine's leaks are larger by a share.
	then := a.Leak * (1 + share)
	se := math.Hypot(math.Hypot(a.LeakSE*(1+share), b.LeakSE), sd*then)
	by := b.Leak - then
	slip := lifted(a, -by, p.earlier[c].LeakSE > 0 && p.earlier[c].Leak > a.Leak-2*a.LeakSE)
	if by > 0 {
		slip = lifted(b, by, p.later[c].LeakSE > 0 && p.later[c].Leak > b.Leak-2*b.LeakSE)
	}
	m := weigh(by, se, slip, looks)
	m.settle(by < 0)
	return &m
}

// weigh makes a change of what was found, its standard error and the chance that testing went wrong so. looks is among how many
// cylinders it was looked for: scatter has so many chances to make one, while a slip is this cylinder's own.
func weigh(by, se, slip, looks float64) Moved {
	return Moved{By: by, SE: se, Low: by - z95*se, High: by + z95*se, Move: Untold, Chance: min(1, looks*chanceOf(by, se)+slip)}
}

// settle says which way a change went, if it can be told.
func (m *Moved) settle(isBetter bool) {
	switch {
	case m.Chance < rules.Sure:
		m.Move = better(isBetter)
	case math.Max(math.Abs(m.Low), math.Abs(m.High)) <= rules.Matters:
		m.Move = Same
	}
}

// join says what became of the cylinder as a whole. Compression and leak are measured apart from each other: two that point one way
// are surer together (Fisher 1925), and one that is sure by itself is enough (Bonferroni, of two); two that are each sure and point
// apart leave it untold.
func (c *Cylinder) join() {
	comp, leak := c.Compression, c.Leak
	switch {
	case comp == nil && leak == nil:
	case leak == nil:
		c.Move, c.Chance = comp.Move, comp.Chance
	case comp == nil:
		c.Move, c.Chance = leak.Move, leak.Chance
	case (comp.By > 0) == (leak.By < 0):
		k := math.Max(comp.Chance*leak.Chance, math.SmallestNonzeroFloat64)
		c.Chance = min(1, k*(1-math.Log(k)), 2*min(comp.Chance, leak.Chance))
		c.Move = Untold
		switch {
		case c.Chance < rules.Sure:
			c.Move = better(comp.By > 0)
		case comp.Move == Same && leak.Move == Same:
			c.Move = Same
		}
	case comp.Chance < rules.Sure && leak.Chance < rules.Sure:
		c.Chance = 1
	case comp.Chance < rules.Sure:
		c.Move, c.Chance = comp.Move, comp.Chance
	case leak.Chance < rules.Sure:
		c.Move, c.Chance = leak.Move, leak.Chance
	case comp.Move == Same && leak.Move == Same:
		c.Move, c.Chance = Same, math.Min(comp.Chance, leak.Chance)
	}
}

func percent(logRatio float64) float64 { return 100 * math.Expm1(logRatio) }
