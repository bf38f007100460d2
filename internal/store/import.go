package store

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"time"

	"github.com/go-json-experiment/json"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
)

// Imported is what came of taking a log in, or would come of it.
type Imported struct {
	Engine  string           `json:"engine"`
	Name    string           `json:"name"`
	Begun   bool             `json:"begun,omitzero" doc:"The engine is new here"`
	New     int              `json:"new" doc:"Entries that are not here"`
	Tests   []string         `json:"tests" doc:"Days of the tests that are not here"`
	Here    int              `json:"here" doc:"Tests that are here already, the same"`
	Differs []book.Differing `json:"differs"`
}

// Import takes a log in, in one transaction: what the book lacks of it is added, nothing is replaced but what theirs names of
// the differences, by where they stand in the log.
func (s *Store) Import(ctx context.Context, l log.Log, now time.Time, theirs ...string) (Imported, error) {
	done, entries, err := s.weigh(ctx, l, theirs)
	if err != nil {
		return Imported{}, err
	}
	answers, err := s.append(ctx, entries, now, true)
	if n := len(answers); err != nil && n > 0 && answers[n-1].Result == book.IsRefused {
		err = pointed(l, entries[n-1], answers[n-1])
	}
	done.New = 0
	for _, a := range answers {
		if a.Result == book.IsKept {
			done.New++
		}
	}
	return done, err
}

// TryImport says what Import would do, and does nothing.
func (s *Store) TryImport(ctx context.Context, l log.Log, now time.Time) (Imported, error) {
	done, entries, err := s.weigh(ctx, l, nil)
	if err != nil {
		return Imported{}, err
	}
	done.New, err = s.try(ctx, l, entries, now)
	return done, err
}

// pointed says where in a log something stands that the book refuses.
func pointed(l log.Log, e book.Entry, a book.Answer) error {
	at := map[string]string{
		book.Engine: "/engine", book.Build: "/builds", book.Event: "/events", book.Note: "/notes", book.Tester: "/testers",
	}[e.Kind]
	if e.Kind == book.Whole {
		var body struct {
			ID string `json:"id"`
		}
		_ = json.Unmarshal(e.Body, &body)
		at = fmt.Sprintf("/sessions/%d", l.At(body.ID))
	}
	return log.Faults{{At: at + a.Field, What: a.Why}}
}

// weigh returns the entries that a log comes to here.
func (s *Store) weigh(ctx context.Context, l log.Log, theirs []string) (Imported, []book.Entry, error) {
	id := book.EngineID(l)
	s.mu.Lock()
	defer s.mu.Unlock()
	b, err := s.bookOf(ctx, id)
	if err != nil {
		return Imported{}, nil, err
	}
	entries, differs := book.FromLog(l, b, s.shop)
	done := Imported{Engine: id, Name: l.Engine.Name, Begun: !b.Begun(), Tests: []string{}, Differs: append([]book.Differing{}, differs...)}
	have := b.Log(s.shop)
	for i, one := range l.Sessions {
		differing := slices.ContainsFunc(differs, func(d book.Differing) bool { return d.At == fmt.Sprintf("/sessions/%d", i) })
		switch {
		case have.At(one.ID) < 0:
			done.Tests = append(done.Tests, one.Date)
		case !differing:
			done.Here++
		}
	}
	if len(theirs) > 0 {
		entries = append(entries, later(book.TakeTheirs(l, b, s.shop, theirs))...)
	}
	return done, entries, nil
}

// later dates what somebody chose now: what a log brings in stands before all that was typed, a choice behind it.
func later(entries []book.Entry) []book.Entry {
	now := time.Now()
	for i := range entries {
		entries[i].At = now.Add(time.Duration(i) * time.Millisecond).UTC().Format(book.Clock)
		entries[i].By = "chosen at an import"
	}
	return entries
}

// try hands entries in and takes all back.
func (s *Store) try(ctx context.Context, l log.Log, entries []book.Entry, now time.Time) (kept int, err error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	tx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return 0, err
	}
	w := writing{tx: tx, now: now, last: map[string]int{}}
	names := maps.Clone(s.names)
	defer func() {
		s.names = names
		err = errors.Join(err, tx.Rollback(), s.forget(w.last))
	}()
	for _, e := range entries {
		answer, err := s.one(ctx, &w, e)
		if err != nil {
			return kept, err
		}
		switch answer.Result {
		case book.IsRefused:
			return kept, pointed(l, e, answer)
		case book.IsKept:
			kept++
		}
	}
	return kept, nil
}
