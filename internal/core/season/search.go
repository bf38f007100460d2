package season

import (
	"cmp"
	"encoding/binary"
	"fmt"
	"slices"

	"braxel/internal/core/ahead"
)

// Searched says how far a search went.
type Searched struct {
	Kept    int  `json:"kept" doc:"How many plans were kept side by side at each start"`
	Looked  int  `json:"looked" doc:"How many starts were tried"`
	Stopped bool `json:"stopped,omitzero" doc:"It was stopped before its end"`
}

// node is one way through the season so far.
type node struct {
	course
	from *node
	last step
}

// How wide the search is: as many ways are kept side by side as can be looked at in some seconds.
const (
	triesMost = 1_500_000
	keptLeast = 8
	keptMost  = 3000
	// rivals is how many engines are tried in a car at each event, where more fit: the one in it, and those that cost least.
	rivals = 10
	// How many single changes are tried: fewer where each plan is long to weigh.
	changesMost, changesWork = 4000, 600_000
)

// Search looks for the plan that costs least: a beam search over the starts in the order of their events (which engine, and what
// work before it), then single changes to the best as long as one saves something. What is pinned, past or at home stays. It is
// told how far it has come, a share, and ends when note says false. No library that is kept up searches over such chances, which
// aren't linear in what is planned. It isn't exhaustive: a way that costs much early and saves it late can fall out of those that
// are kept.
func (s *Shop) Search(note func(done float64) bool) (Plan, Searched) {
	fixed := s.fixed()
	starts := max(1, len(s.meets)*len(s.Season.Cars))
	tries := min(len(s.Engines), rivals) * len(works)
	kept := min(max(triesMost/(starts*max(tries, 1)), keptLeast), keptMost)
	search := &searching{shop: s, fixed: fixed, set: s.index(fixed), taken: s.takenBy(fixed), kept: kept, note: note}
	best := search.beam(starts)
	plan := search.planOf(best)
	plan = search.improve(plan)
	return plan, Searched{Kept: kept, Looked: search.looked, Stopped: search.stopped}
}

var works = [...]ahead.Work{"", ahead.Test, ahead.Freshen}

type searching struct {
	shop    *Shop
	fixed   Plan
	set     indexed
	taken   map[at]bool // an engine is pinned elsewhere
	kept    int
	looked  int
	stopped bool
	note    func(float64) bool
}

// fixed returns what of the typed plan may not be changed: what is pinned, at home, or has begun.
func (s *Shop) fixed() Plan {
	var p Plan
	for _, x := range s.Season.Starts {
		k, there := s.place[x.Meeting]
		if there && (s.day[k] <= 0 || x.Ran != nil || x.Pinned || x.Engine == "") {
			p.Starts = append(p.Starts, x)
		}
	}
	for _, j := range s.Season.Jobs {
		k, there := s.place[j.Before]
		if there && (s.day[k] <= 0 || j.Pinned || j.Done != "") {
			p.Jobs = append(p.Jobs, j)
		}
	}
	return p
}

// goOn reports whether the search goes on.
func (x *searching) goOn(done float64) bool {
	if !x.stopped && x.note != nil && !x.note(done) {
		x.stopped = true
	}
	return !x.stopped
}

func (x *searching) beam(starts int) *node {
	s := x.shop
	all := []*node{{course: s.begin(), last: step{engine: -1, car: -1}}}
	done := 0
	for k := range s.meets {
		for n := range s.Season.Cars {
			done++
			if !x.goOn(0.8*float64(done)/float64(starts)) && len(all) > 1 {
				all = all[:1]
			}
			if st, starts, set := x.settled(k, n); set {
				for i := range all {
					if starts {
						all[i] = all[i].by(s, st)
					}
				}
				continue
			}
			all = x.spread(all, k, n)
		}
		for _, one := range all {
			s.idle(&one.course, x.set, k)
			s.closeGap(&one.course, k)
		}
	}
	return slices.MinFunc(all, func(a, b *node) int { return cmp.Compare(a.total(), b.total()) })
}

// settled returns what a car does at an event where that isn't open.
func (x *searching) settled(k, n int) (st step, starts, set bool) {
	s := x.shop
	st, starts = s.stepOf(x.set, k, n)
	start, planned := x.set.cars[at{n, k}]
	return st, starts, s.past(s.meets[k]) || !goes(s.meets[k], s.Season.Cars[n].ID) || planned && start.Engine == ""
}

func (n *node) total() float64 { return n.price.Cost + n.price.Hours }

// by returns the way with one step more.
func (n *node) by(s *Shop, st step) *node {
	c := n.course
	c.engines, c.free, c.sits = slices.Clone(c.engines), slices.Clone(c.free), slices.Clone(c.sits)
	s.take(&c, st)
	return &node{course: c, from: n, last: st}
}

// option is a step that a way may take, with what it then costs.
type option struct {
	from *node
	step step
	cost float64
}

// spread tries every engine and work in a car at an event on every way, and keeps those that cost least.
func (x *searching) spread(all []*node, k, n int) []*node {
	var options []option
	for _, from := range all {
		here := x.options(from, k, n)
		slices.SortFunc(here, func(a, b option) int { return cmp.Compare(a.cost, b.cost) })
		options = append(options, here[:min(len(here), rivals*len(works))]...)
	}
	slices.SortStableFunc(options, func(a, b option) int { return cmp.Compare(a.cost, b.cost) })
	var out []*node
	seen := map[string]bool{}
	for _, o := range options {
		if len(out) >= x.kept {
			break
		}
		next := o.from.by(x.shop, o.step)
		if key := next.key(); !seen[key] {
			seen[key] = true
			out = append(out, next)
		}
	}
	return out
}

// key tells ways apart by where they stand: of two that stand alike the cheaper is kept.
func (n *node) key() string {
	const finely = 1000 // of running and of a chance, what is told apart
	b := make([]byte, 0, 12*len(n.engines))
	for i, e := range n.engines {
		flags := int64(0)
		if e.fresh {
			flags = 1
		}
		b = binary.AppendVarint(b, flags)
		b = binary.AppendVarint(b, int64(e.blind))
		b = binary.AppendVarint(b, int64(finely*e.ran))
		b = binary.AppendVarint(b, int64(finely*e.found))
		b = binary.AppendVarint(b, int64(n.free[i]))
	}
	for _, in := range n.sits {
		b = binary.AppendVarint(b, int64(in))
	}
	return string(binary.AppendVarint(b, int64(n.price.Freshen)))
}

// options returns what a car may do at an event on one way. Where many engines fit, the one that sits in it and those that would be
// soundest are tried.
func (x *searching) options(from *node, k, n int) []option {
	s := x.shop
	out := []option{x.priced(from, step{meeting: k, car: n, engine: -1})}
	for _, i := range x.engines(from, k, n) {
		e, set := s.Engines[i], x.set.work[at{i, k}]
		for _, w := range works {
			if heavier(set, w) || w != "" && w != set && !s.room(from.free[i], k, w) {
				continue
			}
			if e.Repair != "" && from.engines[i].mend && w != ahead.Freshen && set == "" {
				continue
			}
			out = append(out, x.priced(from, step{meeting: k, car: n, engine: i, work: w}))
		}
	}
	return out
}

// engines returns the engines that are tried in a car at an event.
func (x *searching) engines(from *node, k, n int) []int {
	s := x.shop
	if start, planned := x.set.cars[at{n, k}]; planned {
		if i, ok := s.number[start.Engine]; ok {
			return []int{i}
		}
	}
	type rival struct {
		engine int
		risk   float64
	}
	var all []rival
	for _, i := range s.fit[n] {
		if from.free[i] >= s.day[k] || x.taken[at{i, k}] {
			continue // it runs elsewhere
		}
		risk := 1 - s.Engines[i].inside(from.engines[i])
		if from.sits[n] == i {
			risk = -1
		}
		all = append(all, rival{i, risk})
	}
	slices.SortFunc(all, func(a, b rival) int { return cmp.Compare(a.risk, b.risk) })
	out := make([]int, 0, rivals)
	for _, r := range all[:min(len(all), rivals)] {
		out = append(out, r.engine)
	}
	return out
}

// takenBy returns the events at which each engine is pinned to run, or to one that shares a day with it.
func (s *Shop) takenBy(p Plan) map[at]bool {
	out := map[at]bool{}
	for _, f := range p.Starts {
		i, known := s.number[f.Engine]
		here, there := s.place[f.Meeting]
		if !known || !there || !f.Pinned {
			continue
		}
		for k, m := range s.meets {
			if overlap(s.meets[here], m) {
				out[at{i, k}] = true
			}
		}
	}
	return out
}

// priced returns what a step costs, and leaves the way as it was.
func (x *searching) priced(from *node, st step) option {
	x.looked++
	c := &from.course
	price, gap := c.price, c.gap
	if st.engine < 0 {
		x.shop.take(c, st)
		o := option{from, st, from.total()}
		c.price = price
		return o
	}
	i, n := st.engine, st.car
	engine, free, seat, other := c.engines[i], c.free[i], c.sits[n], slices.Index(c.sits, i)
	x.shop.take(c, st)
	o := option{from, st, from.total()}
	c.price, c.gap, c.engines[i], c.free[i] = price, gap, engine, free
	c.sits[n] = seat
	if other >= 0 {
		c.sits[other] = i
	}
	return o
}

// planOf returns the plan that a way is.
func (x *searching) planOf(n *node) Plan {
	s := x.shop
	p := Plan{slices.Clone(x.fixed.Starts), slices.Clone(x.fixed.Jobs)}
	for ; n.from != nil; n = n.from {
		st := n.last
		m, car := s.meets[st.meeting], s.Season.Cars[st.car]
		if st.engine < 0 || s.past(m) {
			continue
		}
		e := s.Engines[st.engine]
		id := ahead.StartOf(m.ID, car.ID)
		if !slices.ContainsFunc(p.Starts, func(x ahead.Start) bool { return x.ID == id }) {
			p.Starts = append(p.Starts, ahead.Start{ID: id, Meeting: m.ID, Car: car.ID, Engine: e.ID})
		}
		if st.work != "" && x.set.work[at{st.engine, st.meeting}] != st.work {
			p.Jobs = append(p.Jobs, s.jobOf(e.ID, st.work, m.ID))
		}
	}
	return p
}

func (s *Shop) jobOf(engine string, w ahead.Work, before string) ahead.Job {
	return ahead.Job{ID: fmt.Sprintf("%s.%s.%s", engine, w, before), Engine: engine, Work: w, Before: before, Planned: s.Today}
}

// improve makes single changes to a plan as long as one saves something: work left out, or done an event earlier, later or otherwise.
func (x *searching) improve(p Plan) Plan {
	s := x.shop
	best := s.Price(p).Cost
	starts := max(1, len(s.meets)*len(s.Season.Cars))
	most := min(changesMost, changesWork/starts)
	tries := 0
	for again := true; again; {
		again = false
		for i := len(p.Jobs) - 1; i >= 0; i-- {
			if i >= len(p.Jobs) || slices.ContainsFunc(x.fixed.Jobs, func(f ahead.Job) bool { return f.ID == p.Jobs[i].ID }) {
				continue
			}
			for _, q := range x.nearby(p, i) {
				if tries++; tries > most || !x.goOn(0.8+0.2*float64(tries)/float64(most)) {
					return p
				}
				if cost := s.Price(q).Cost; cost < best-1e-9 && s.allowed(q) {
					p, best, again = q, cost, true
					break
				}
			}
		}
	}
	return p
}

// nearby returns a plan with one piece of work changed.
func (x *searching) nearby(p Plan, i int) []Plan {
	s := x.shop
	j := p.Jobs[i]
	with := func(more ...ahead.Job) Plan {
		return Plan{p.Starts, append(slices.Delete(slices.Clone(p.Jobs), i, i+1), more...)}
	}
	out := []Plan{with()}
	k := s.place[j.Before]
	for _, w := range works[1:] {
		for _, at := range [...]int{k - 1, k, k + 1} {
			if at >= 0 && at < len(s.meets) && !s.past(s.meets[at]) && (at != k || w != j.Work) {
				out = append(out, with(s.jobOf(j.Engine, w, s.meets[at].ID)))
			}
		}
	}
	return out
}

// allowed reports whether all work of a plan fits between what its engine does.
func (s *Shop) allowed(p Plan) bool {
	last := map[int][]int{} // by engine: the events it runs at
	for _, x := range p.Starts {
		i, known := s.number[x.Engine]
		if k, there := s.place[x.Meeting]; known && there {
			last[i] = append(last[i], k)
		}
	}
	for _, j := range p.Jobs {
		k, there := s.place[j.Before]
		i, known := s.number[j.Engine]
		if !there || !known || j.Pinned || j.Done != "" {
			continue
		}
		free := never
		for _, run := range last[i] {
			if run < k {
				free = max(free, s.ends[run])
			}
		}
		if !s.room(free, k, j.Work) {
			return false
		}
	}
	return true
}
