package server

import (
	"context"
	"log/slog"
	"runtime"
	"sync"
	"sync/atomic"
	"time"

	"golang.org/x/sync/errgroup"

	"braxel/internal/core/judge"
	"braxel/internal/core/say"
	"braxel/internal/store"
)

// atOnce is as many engines as are judged while one waits for the rack: a few tenths of a second. More are judged behind it, so many at
// a time, and the rack shows them as they come.
const atOnce = 32

// behind is work that goes on when the answer is given, one piece of it at a time. It ends with the server.
type behind struct {
	asking *atomic.Int64 // requests that are being answered: they come first
	mu     sync.Mutex
	busy   bool
	life   context.Context
	end    context.CancelFunc
	ending sync.WaitGroup
}

func newBehind(asking *atomic.Int64) *behind {
	b := &behind{asking: asking}
	b.life, b.end = context.WithCancel(context.Background())
	return b
}

// begin has work done, unless it is being done already, or the server ends.
func (b *behind) begin(work func(context.Context) error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	if b.busy || b.life.Err() != nil {
		return
	}
	b.busy = true
	b.ending.Go(func() {
		if err := work(b.life); err != nil && b.life.Err() == nil {
			slog.Error(say.Text("server.engines-could-not-judged-again"), "error", err)
		}
		b.mu.Lock()
		defer b.mu.Unlock()
		b.busy = false
	})
}

// close lets the work end before what it needs is taken away.
func (b *behind) close() error {
	b.end()
	b.ending.Wait()
	return nil
}

// staleOf returns those of which the rack shows what no longer holds. After the judge itself has changed, or a gauge, that is
// every engine of the shop.
func staleOf(made []store.Made) []*store.Made {
	var stale []*store.Made
	for i := range made {
		if !made[i].Holds {
			stale = append(stale, &made[i])
		}
	}
	return stale
}

// makeAllAnew makes all that no longer holds, some at a time, and looks again for what changed meanwhile. What cannot be read is tried
// once.
func (h *handlers) makeAllAnew(ctx context.Context) error {
	tried := map[string]int{}
	for {
		made, err := h.store.Rack(ctx, judge.Edition)
		if err != nil {
			return err
		}
		var stale []*store.Made
		for _, m := range staleOf(made) {
			if last, was := tried[m.Engine]; !was || last != m.Revision {
				tried[m.Engine] = m.Revision
				stale = append(stale, m)
			}
		}
		if len(stale) == 0 {
			return nil
		}
		for len(stale) > 0 {
			some := stale[:min(atOnce, len(stale))]
			stale = stale[len(some):]
			if err := h.makeAnew(ctx, some, h.anew.giveWay); err != nil {
				return err
			}
		}
	}
}

// giveWay waits while somebody is being answered, but not for ever.
func (b *behind) giveWay() {
	const most, step = 200 * time.Millisecond, 2 * time.Millisecond
	for waited := time.Duration(0); b.asking.Load() > 0 && waited < most; waited += step {
		time.Sleep(step)
	}
}

// makeAnew fills in what the rack shows of engines, and keeps it. Before is called before each.
func (h *handlers) makeAnew(ctx context.Context, stale []*store.Made, before func()) error {
	if len(stale) == 0 {
		return nil
	}
	var each errgroup.Group
	each.SetLimit(runtime.GOMAXPROCS(0))
	for _, m := range stale {
		each.Go(func() error {
			if ctx.Err() != nil {
				return ctx.Err()
			}
			before()
			return h.makeOne(ctx, m)
		})
	}
	if err := each.Wait(); err != nil {
		return err
	}
	var anew []store.Made
	for _, m := range stale {
		if m.Spreads != nil {
			anew = append(anew, *m)
		}
	}
	if err := h.store.KeepMade(ctx, anew); err != nil { // the disk is full, or held: it is shown all the same, and made again
		slog.Error(say.Text("server.rack-could-not-saved"), "error", err)
	}
	return nil
}
