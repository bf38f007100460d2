package inout

import (
	"context"

	"braxel/internal/core/judge"
	"braxel/internal/core/reading"
	"braxel/internal/papers"
	"braxel/internal/store"
)

// Paper prints a paper of an engine in the store; in says which, of which test, how large, by which rules and what it shows, the rest is
// added here.
func Paper(ctx context.Context, s *store.Store, engine string, in papers.Input) ([]byte, error) {
	l, _, err := s.Log(ctx, engine)
	if err != nil {
		return nil, err
	}
	standing := l.Standing()
	in.Picture = func(test, key string) []byte {
		picture, err := s.PhotoOf(engine, test, key)
		if err != nil {
			return nil // a paper without one picture is better than no paper
		}
		return picture
	}
	in.Log, in.Verdict, in.Spreads = standing, judge.Log(standing, in.Rules), reading.Spreads(standing)
	return papers.Make(in)
}
