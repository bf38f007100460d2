package server

import (
	"context"
	"log/slog"
	"sync"

	"github.com/go-json-experiment/json"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/say"
	"braxel/internal/store"
)

// pool keeps how well the shop's testers repeat, over all engines that each measured. It is read once from what was
// made of the engines; then an engine's part is reckoned anew whenever it changes.
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

// read takes in what was made of every engine before, and reckons anew where that no longer holds.
func (p *pool) read(ctx context.Context) error {
	made, err := p.store.Rack(ctx, judge.Edition)
	if err != nil {
		return err
	}
	of := map[string]map[string]reading.Spread{}
	for _, m := range made {
		var spreads map[string]reading.Spread
		if len(m.Spreads) == 0 || json.Unmarshal(m.Spreads, &spreads) != nil {
			l, _, err := p.store.Log(ctx, m.Engine)
			if err != nil {
				slog.Error(say.Text("server.engine-cant-read"), "engine", m.Engine, "error", err)
				continue // it spoils its own line on the rack, not the shop
			}
			spreads = reading.Spreads(l.Standing())
		}
		of[m.Engine] = spreads
	}
	p.of = of
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
