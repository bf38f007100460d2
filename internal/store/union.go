package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"
	"maps"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"braxel/internal/core/book"
	"braxel/internal/core/say"
)

// each gives every entry of the file to do, one at a time.
func (s *Store) each(ctx context.Context, do func(book.Entry)) error {
	rows, err := s.read.QueryContext(ctx, "SELECT "+columns+" FROM entry ORDER BY n")
	if err != nil {
		return err
	}
	defer func() { _ = rows.Close() }()
	for rows.Next() {
		e, err := scanEntry(rows)
		if err != nil {
			return err
		}
		do(e)
	}
	return rows.Err()
}

// Digests returns, for each engine and for the workshop (""), what its entries come to in a few letters, in whatever order they
// came: two files whose digests of an engine agree hold the same of it.
func (s *Store) Digests(ctx context.Context) (map[string]string, error) {
	sums := map[string][sha256.Size]byte{}
	err := s.each(ctx, func(e book.Entry) {
		sum, one := sums[e.Engine], sha256.Sum256([]byte(e.ID+" "+book.Digest(e)))
		for i := range sum {
			sum[i] ^= one[i]
		}
		sums[e.Engine] = sum
	})
	all := make(map[string]string, len(sums))
	for engine, sum := range sums {
		all[engine] = hex.EncodeToString(sum[:])
	}
	return all, err
}

// DigestsOf returns the entries of an engine by id, each with its digest.
func (s *Store) DigestsOf(ctx context.Context, engine string) (map[string]string, error) {
	entries, err := s.entriesOf(ctx, engine)
	all := make(map[string]string, len(entries))
	for _, e := range entries {
		all[e.ID] = book.Digest(e)
	}
	return all, err
}

// mostAsked is how many ids are asked for at once: as many as a query takes with ease.
const mostAsked = 500

// Entries returns entries by their ids; those that are not here are left out.
func (s *Store) Entries(ctx context.Context, ids []string) ([]book.Entry, error) {
	return entriesByID(ctx, s.read, ids)
}

type queryer interface {
	QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error)
}

func entriesByID(ctx context.Context, db queryer, ids []string) ([]book.Entry, error) {
	var all []book.Entry
	for some := range slices.Chunk(ids, mostAsked) {
		args := make([]any, len(some))
		for i, id := range some {
			args[i] = id
		}
		marks := strings.TrimSuffix(strings.Repeat("?,", len(some)), ",")
		more, err := collect(scanEntry)(db.QueryContext(ctx, "SELECT "+columns+" FROM entry WHERE id IN ("+marks+")", args...))
		if err != nil {
			return nil, err
		}
		all = append(all, more...)
	}
	return all, nil
}

// Union takes in entries of another file, in one transaction, and returns how many were not here and the engines that they are of.
// Entries of one id that say different things are both kept, as book.Merge has it: whoever takes the other's in, both hold the same.
// Nothing is asked and nothing judged: what has no place here stands in the record. What is no entry at all is left out and named; it
// holds up none of the others.
func (s *Store) Union(ctx context.Context, theirs []book.Entry) (added int, engines, refused []string, err error) {
	var good []book.Entry
	for _, e := range theirs {
		if f := book.CheckEnvelope(e); len(f) > 0 {
			refused = append(refused, strings.ToValidUTF8(say.Text("store.entry-2",
				"id", e.ID,
				"at", f[0].At,
				"what", f[0].What,
			), "?"))
			continue
		}
		good = append(good, e)
	}
	added, engines, err = s.union(ctx, good)
	return added, engines, refused, err
}

func (s *Store) union(ctx context.Context, theirs []book.Entry) (added int, engines []string, err error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if err := s.present(); err != nil {
		return 0, nil, err
	}
	tx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return 0, nil, err
	}
	defer func() { _ = tx.Rollback() }()
	touched, err := unite(ctx, tx, theirs, &added)
	if err != nil || len(touched) == 0 {
		return added, nil, err
	}
	if err := tx.Commit(); err != nil {
		return 0, nil, err
	}
	for engine := range touched {
		s.shelf.Remove(engine)
	}
	if touched[""] {
		s.shelf.Purge()
	}
	return added, slices.Sorted(maps.Keys(touched)), errors.Join(s.begin(ctx), s.markLast(ctx))
}

// unite writes what is not here of theirs, and what stands otherwise in the union. An entry that loses its id to another comes in
// under one made of what it says.
func unite(ctx context.Context, tx *sql.Tx, theirs []book.Entry, added *int) (map[string]bool, error) {
	touched := map[string]bool{}
	now := time.Now()
	ids := make([]string, len(theirs))
	for i, e := range theirs {
		ids[i] = e.ID
	}
	ours, err := entriesByID(ctx, tx, ids)
	if err != nil {
		return nil, err
	}
	union := book.Merge(ours, theirs)
	for _, e := range union {
		ids = append(ids, e.ID)
	}
	if ours, err = entriesByID(ctx, tx, slices.Compact(slices.Sorted(slices.Values(ids)))); err != nil {
		return nil, err
	}
	have := map[string]book.Entry{}
	for _, e := range ours {
		have[e.ID] = e
	}
	for _, e := range union {
		mine, there := have[e.ID]
		if there && book.Digest(mine) == book.Digest(e) {
			continue
		}
		if there {
			if _, err := tx.ExecContext(ctx, "DELETE FROM entry WHERE id = ?", e.ID); err != nil {
				return nil, err
			}
			touched[mine.Engine] = true
		} else {
			*added++
		}
		if _, err := insert(ctx, tx, e, now); err != nil {
			return nil, err
		}
		touched[e.Engine] = true
	}
	return touched, nil
}

// Pictures returns the names of all pictures.
func (s *Store) Pictures() ([]string, error) {
	names, err := photosIn(filepath.Join(s.Dir, "photos"))
	for i, n := range names {
		names[i] = strings.TrimSuffix(n, ".jpg")
	}
	return names, err
}
