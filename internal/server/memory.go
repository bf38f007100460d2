package server

import (
	lru "github.com/hashicorp/golang-lru/v2"

	"braxel/internal/core/judge"
	"braxel/internal/core/sheet"
	"braxel/internal/core/units"
)

// remembering is what one memory is of: an engine, as it is said in somebody's units.
type remembering struct {
	engine   string
	pressure units.Unit
	dates    string
}

func remember(engine string, shown units.Choice) remembering {
	return remembering{engine, shown.Pressure, shown.Dates}
}

// memories keeps what was judged of the engines in use, so that a reading costs one step of its engine's judging.
type memories struct {
	of *lru.Cache[remembering, *judge.Memory]
}

// remembered is as many engines as a shop has on its benches at once; one that is forgotten is judged from its first test.
const remembered = 64

func newMemories() memories {
	kept, err := lru.New[remembering, *judge.Memory](remembered)
	if err != nil {
		panic(err) // there is no cache of that size
	}
	return memories{kept}
}

// memory returns what judges an engine's logs.
func (h *handlers) memory(engine string, shown units.Choice) sheet.Judging {
	of, fresh := remember(engine, shown), &judge.Memory{}
	if kept, there, _ := h.judged.of.PeekOrAdd(of, fresh); there {
		h.judged.of.Get(of)
		fresh = kept
	}
	return fresh.Log
}

// recall returns the same for an engine in use, and what judges from the first test for any other, so that a rack of thousands does not
// push out those on the benches.
func (h *handlers) recall(engine string, shown units.Choice) sheet.Judging {
	if kept, there := h.judged.of.Peek(remember(engine, shown)); there {
		return kept.Log
	}
	return judge.Log
}
