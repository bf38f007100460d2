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
	"braxel/internal/core/say"
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

// Result is what came of one log of several.
type Result struct {
	Imported
	Err error
}

// Import takes a log in, whole or not at all: what the book lacks of it is added, nothing is replaced but what theirs names of the
// differences, by where they stand in the log.
func (s *Store) Import(ctx context.Context, l log.Log, now time.Time, theirs ...string) (Imported, error) {
	one := s.ImportAll(ctx, []log.Log{l}, now, theirs)[0]
	return one.Imported, one.Err
}

// ImportAll takes several logs in, each whole or not at all, all of them on disk together when it returns: waiting for the disk takes longer
// than the rest. One that is refused harms no other. Theirs names, for each log, which of the differences are taken as it has them.
func (s *Store) ImportAll(ctx context.Context, logs []log.Log, now time.Time, theirs ...[]string) []Result {
	s.mu.Lock()
	defer s.mu.Unlock()
	results := make([]Result, len(logs))
	if err := s.importAll(ctx, logs, now, theirs, results); err != nil {
		for i := range results { // none of them is on disk
			results[i].Err = errors.Join(results[i].Err, err)
		}
	}
	return results
}

func (s *Store) importAll(ctx context.Context, logs []log.Log, now time.Time, theirs [][]string, results []Result) (err error) {
	w, end, err := s.begun(ctx, now, false)
	if err != nil {
		return err
	}
	defer func() { err = end(err) }()
	for i, l := range logs {
		if _, err := w.tx.ExecContext(ctx, "SAVEPOINT one"); err != nil {
			return err
		}
		last := maps.Clone(w.last)
		var chosen []string
		if i < len(theirs) {
			chosen = theirs[i]
		}
		results[i] = s.importOne(ctx, w, l, chosen)
		if results[i].Err != nil {
			if _, err := w.tx.ExecContext(ctx, "ROLLBACK TO one"); err != nil {
				return err
			}
			// What its book has taken in isn't in the file.
			if err := s.forget(map[string]int{book.EngineID(l): 0, "": 0}); err != nil {
				return err
			}
			w.last = last
		}
		if _, err := w.tx.ExecContext(ctx, "RELEASE one"); err != nil {
			return err
		}
	}
	return nil
}

// importOne writes what the book lacks of a log. An error means that none of it is to stand.
func (s *Store) importOne(ctx context.Context, w *writing, l log.Log, theirs []string) (r Result) {
	done, entries, err := s.weigh(ctx, l, theirs)
	if err != nil {
		return Result{Err: err}
	}
	done.New = 0
	for _, e := range entries {
		answer, err := s.one(ctx, w, e)
		if err != nil {
			return Result{Err: err}
		}
		switch answer.Result {
		case book.IsRefused:
			return Result{done, pointed(l, e, answer)}
		case book.IsKept:
			done.New++
		}
	}
	return Result{Imported: done}
}

// TryImport says what Import would do, and does nothing.
func (s *Store) TryImport(ctx context.Context, l log.Log, now time.Time) (Imported, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
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

// weigh returns the entries that a log comes to here. The lock is held.
func (s *Store) weigh(ctx context.Context, l log.Log, theirs []string) (Imported, []book.Entry, error) {
	id := book.EngineID(l)
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
		entries[i].By = say.Text("store.chosen-at-import")
	}
	return entries
}

// try hands entries in and takes all back. The lock is held.
func (s *Store) try(ctx context.Context, l log.Log, entries []book.Entry, now time.Time) (kept int, err error) {
	w, err := s.writing(ctx, now, false)
	if err != nil {
		return 0, err
	}
	names := maps.Clone(s.names)
	defer func() {
		s.names = names
		err = errors.Join(err, w.tx.Rollback(), s.forget(w.last))
	}()
	for _, e := range entries {
		answer, err := s.one(ctx, w, e)
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
