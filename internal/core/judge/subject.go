package judge

import (
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/story"
)

// subject is the engine that is judged, with the rules that it is judged by: what does not change from visit to visit.
type subject struct {
	log      log.Log
	engine   log.Engine
	order    []int // its cylinders, as the layout has them
	shop     rules.Shop
	limit    rules.Limit
	own      log.Limits       // the maker's or the builder's, where any is given
	table    rules.CauseTable // with the workshop's own chances
	story    []story.Part     // what happened to it, in order
	repairs  []story.Repair   // what was put right on it, in order
	racing   bool             // it is opened before it breaks
	rotary   bool
	oneAlone bool // a piston engine of one cylinder
}

func subjectOf(l log.Log, shop rules.Shop) *subject {
	e := l.Engine
	own := log.Limits{}
	if e.Limits != nil {
		own = *e.Limits
	}
	table := shop.CausesFor(e.Kind)
	if len(e.Cylinders()) == 1 {
		for i, x := range table.Tests {
			if x.Test == rules.WetTest {
				table.Tests[i].Words = say.Text("judge.wet-alone")
			}
		}
	}
	return &subject{
		own: own, story: story.Read(l), repairs: story.Repairs(l),
		log: l, engine: e, order: e.Cylinders(), shop: shop, limit: shop.LimitOf(e), table: table,
		racing: e.Raced(), rotary: e.Kind == log.Rotary, oneAlone: len(e.Cylinders()) == 1 && e.Kind != log.Rotary,
	}
}

// gap is by how much a leak of this engine is forgiven for the ring gaps that it was built with, as a factor.
func (on *subject) gap() float64 {
	_, gap := rules.SoundLeakOf(on.engine)
	return max(1, gap)
}

// called names a cylinder as its owner does.
func (on *subject) called(cylinder int) string { return on.engine.Called(cylinder) }

// names writes cylinders as one says them: 3; 5 and 7; 1, 2 and 4.
func (on *subject) names(all []int) string {
	var each []string
	for _, c := range all {
		each = append(each, on.called(c))
	}
	return say.And(each)
}
