package server

import (
	lru "github.com/hashicorp/golang-lru/v2"

	"braxel/internal/core/judge"
	"braxel/internal/core/sheet"
)

// memories keeps what was judged of the engines in use, so that a reading costs one step of its engine's judging.
type memories struct {
	of *lru.Cache[string, *judge.Memory]
}

// remembered is as many engines as a shop has on its benches at once; one that is forgotten is judged from its first test.
const remembered = 64

func newMemories() memories {
	kept, err := lru.New[string, *judge.Memory](remembered)
	if err != nil {
		panic(err) // there is no cache of that size
	}
	return memories{kept}
}

// memory returns what judges an engine's logs.
func (h *handlers) memory(engine string) sheet.Judging {
	fresh := &judge.Memory{}
	if kept, there, _ := h.judged.of.PeekOrAdd(engine, fresh); there {
		h.judged.of.Get(engine)
		fresh = kept
	}
	return fresh.Log
}

// recall returns the same for an engine in use, and what judges from the first test for any other, so that a rack of thousands does not
// push out those on the benches.
func (h *handlers) recall(engine string) sheet.Judging {
	if kept, there := h.judged.of.Peek(engine); there {
		return kept.Log
	}
	return judge.Log
}
