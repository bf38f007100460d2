package store

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"braxel/internal/core/say"
)

// The tally is a line beside the data file that names its last entry, written after each. It is never ahead of the file but when
// the file has lost something: when its log of writes was taken away, or an older file put in its place. What it then says is kept
// as missing until the entries are there again, or a copy is put back.

func tallyOf(dir string) string   { return filepath.Join(dir, "braxel.tally") }
func missingOf(dir string) string { return filepath.Join(dir, "braxel.missing") }

// tallied is how long the line is: a number and an id, with room.
const tallied = 100

// mark names the last entry in the tally.
func (s *Store) mark(n int, id string) error {
	if s.tally == nil {
		f, err := os.OpenFile(tallyOf(s.Dir), os.O_CREATE|os.O_WRONLY, 0o600)
		if err != nil {
			return say.Error("store.tally", "err", err)
		}
		s.tally = f
	}
	_, err := s.tally.WriteAt([]byte(fmt.Sprintf("%-*s\n", tallied-1, fmt.Sprintf("%d %s", n, id))), 0)
	return err
}

// markLast names the file's last entry in the tally.
func (s *Store) markLast(ctx context.Context) error {
	var n int
	var id string
	if err := s.write.QueryRowContext(ctx, "SELECT n, id FROM entry ORDER BY n DESC LIMIT 1").Scan(&n, &id); err != nil {
		return nil // there is none
	}
	return s.mark(n, id)
}

func readTally(file string) (n int, id string) {
	text, err := os.ReadFile(file)
	if err != nil || len(text) != tallied {
		return 0, ""
	}
	if _, err := fmt.Sscanf(string(text), "%d %s", &n, &id); err != nil {
		return 0, ""
	}
	return n, id
}

// counted holds the file against its tally when it is opened.
func (s *Store) counted(ctx context.Context) error {
	_, id := readTally(tallyOf(s.Dir))
	if id == "" || s.holds(ctx, id) {
		return nil
	}
	if _, earlier := readTally(missingOf(s.Dir)); earlier != "" && !s.holds(ctx, earlier) {
		return os.Remove(tallyOf(s.Dir))
	}
	return os.Rename(tallyOf(s.Dir), missingOf(s.Dir))
}

func (s *Store) holds(ctx context.Context, id string) bool {
	var one int
	return s.read.QueryRowContext(ctx, "SELECT 1 FROM entry WHERE id = ?", id).Scan(&one) == nil
}

// Missing says what the file is known to have lost; "" where nothing is.
func (s *Store) Missing(ctx context.Context) string {
	n, id := readTally(missingOf(s.Dir))
	if id == "" {
		return ""
	}
	if s.holds(ctx, id) { // it came back, from a copy or from another machine
		_ = os.Remove(missingOf(s.Dir))
		return ""
	}
	return strings.TrimSpace(say.Text("store.entries-missing-number-was-disk", "n", n, "id", id, "file", File))
}
