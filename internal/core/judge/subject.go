package judge

import (
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// subject is the engine that is judged, with the rules that it is judged by: what does not change from visit to visit.
type subject struct {
	log      log.Log
	engine   log.Engine
	order    []int // its cylinders, as the layout has them
	shop     rules.Shop
	limit    rules.Limit
	own      log.Limits              // the maker's or the builder's, where any is given
	table    rules.CauseTable        // with the workshop's own chances
	usual    map[rules.Class]float64 // how common each class of cause is, by the built-in table
	racing   bool                    // it is opened before it breaks
	rotary   bool
	oneAlone bool // a piston engine of one cylinder
}

func subjectOf(l log.Log, shop rules.Shop) *subject {
	e := l.Engine
	usual := map[rules.Class]float64{}
	for _, c := range rules.Causes().For(e.Kind).Causes {
		usual[c.Class] += c.Prior
	}
	own := log.Limits{}
	if e.Limits != nil {
		own = *e.Limits
	}
	return &subject{
		own:   own,
		usual: usual,
		log:   l, engine: e, order: e.Cylinders(), shop: shop, limit: shop.LimitOf(e), table: shop.CausesFor(e.Kind),
		racing: e.Raced(), rotary: e.Kind == log.Rotary, oneAlone: len(e.Cylinders()) == 1 && e.Kind != log.Rotary,
	}
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
