package server

import (
	"context"
	"slices"
	"sync"

	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/units"
	"braxel/internal/store"
)

// pool keeps how well the shop's testers repeat, over all engines that each measured. Every pull of the shop is read once;
// then an engine's part is reckoned anew whenever it changes.
type pool struct {
	store *store.Store
	mu    sync.Mutex
	of    map[string]map[string]reading.Spread // by engine and tester, kPa
	total map[string]reading.Spread            // by tester
}

// all returns every tester's spread.
func (p *pool) all(ctx context.Context) (map[string]reading.Spread, error) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.of == nil {
		if err := p.read(ctx); err != nil {
			return nil, err
		}
	}
	if p.total == nil {
		p.total = map[string]reading.Spread{}
		for _, parts := range p.of {
			for tester, s := range parts {
				p.total[tester] = p.total[tester].Plus(s)
			}
		}
	}
	return p.total, nil
}

func (p *pool) read(ctx context.Context) error {
	spreads, err := p.store.Spreads(ctx)
	if err != nil {
		return err
	}
	p.of = map[string]map[string]reading.Spread{}
	for _, s := range spreads {
		if p.of[s.Engine] == nil {
			p.of[s.Engine] = map[string]reading.Spread{}
		}
		unit := float64(units.Reading{Value: 1, Unit: s.Unit}.Pressure())
		part := reading.Spread{Pulls: s.Pulls, Squares: s.Squares * unit * unit, Free: float64(s.Free)}
		p.of[s.Engine][s.Tester] = p.of[s.Engine][s.Tester].Plus(part)
	}
	return nil
}

// changed takes an engine's log in, as it stands now.
func (p *pool) changed(l log.Log) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.of != nil {
		p.of[l.Engine.ID], p.total = reading.Spreads(l), nil
	}
}

// log returns an engine's log with what all engines say of its testers, and the revision it was read at.
func (h *handlers) log(ctx context.Context, engine string) (log.Log, int, error) {
	l, revision, err := h.store.Log(ctx, engine)
	if err != nil {
		return l, revision, err
	}
	l.Testers, err = h.repeating(ctx, l.Testers)
	return l, revision, err
}

// repeating returns the testers with their repeatability.
func (h *handlers) repeating(ctx context.Context, testers []log.Tester) ([]log.Tester, error) {
	all, err := h.pool.all(ctx)
	testers = slices.Clone(testers)
	for i, t := range testers {
		testers[i].RepeatKPa, _ = all[t.ID].Repeatability()
	}
	return testers, err
}
