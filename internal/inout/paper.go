package inout

import (
	"context"

	"braxel/internal/core/judge"
	"braxel/internal/core/reading"
	"braxel/internal/papers"
	"braxel/internal/store"
)

// Paper prints a paper of an engine on record.
func Paper(ctx context.Context, s *store.Store, kind papers.Kind, engine, test, size, shop string) ([]byte, error) {
	l, _, err := s.Log(ctx, engine)
	if err != nil {
		return nil, err
	}
	standing, own := l.Standing(), s.Rules()
	return papers.Make(papers.Input{
		Kind: kind, Log: standing, Verdict: judge.Log(standing, own), Rules: own, Spreads: reading.Spreads(standing),
		Shop: shop, Test: test, Size: size,
	})
}
