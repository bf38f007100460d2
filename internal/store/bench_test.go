package store_test

import (
	"database/sql"
	"encoding/json"
	"fmt"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/units"
	"braxel/internal/store"
)

// engine returns an eight with the given number of tests, four pulls a cylinder.
func eight(tests int) log.Log {
	l := log.Log{Engine: log.Engine{Name: "Bench", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 3, 5, 7}, {2, 4, 6, 8}}}}}
	for i := range tests {
		s := log.Session{ID: fmt.Sprint("s", i+1), Date: fmt.Sprintf("20%02d-01-01", 31+i/40)}
		for c := 1; c <= 8; c++ {
			row := log.Compression{Place: log.Place{Cylinder: c}, Mode: log.Dry}
			for k := range 4 {
				row.Pulls = append(row.Pulls, log.Pull{Reading: units.Reading{Value: float64(170 + (i*c+k)%3), Unit: units.PSI}})
			}
			s.Compression = append(s.Compression, row)
		}
		l.Sessions = append(l.Sessions, s)
	}
	return l
}

// BenchmarkPull is one reading, on disk.
func BenchmarkPull(b *testing.B) {
	s, err := store.Open(b.TempDir())
	require.NoError(b, err)
	defer func() { _ = s.Close() }()
	id, err := s.Import(ctx, eight(40), nil)
	require.NoError(b, err)
	n := 0
	for b.Loop() {
		n++
		require.NoError(b, s.AddPull(ctx, id, "s40", pull(n%8+1, 171, fmt.Sprint("key", n))))
	}
}

// BenchmarkLog reads an engine with 40 tests, 1280 readings, from disk and writes it as JSON; its twin by hand reads the
// same rows with hand-written SQL and encoding/json and nothing else.
func BenchmarkLog(b *testing.B) {
	dir := b.TempDir()
	s, err := store.Open(dir)
	require.NoError(b, err)
	defer func() { _ = s.Close() }()
	id, err := s.Import(ctx, eight(40), nil)
	require.NoError(b, err)
	b.Run("store", func(b *testing.B) {
		for b.Loop() {
			l, _, err := s.Whole(ctx, id)
			require.NoError(b, err)
			_, err = json.Marshal(l)
			require.NoError(b, err)
		}
	})
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, store.File))
	require.NoError(b, err)
	defer func() { _ = db.Close() }()
	b.Run("by-hand", func(b *testing.B) {
		for b.Loop() {
			_, err := json.Marshal(byHand(b, db, id))
			require.NoError(b, err)
		}
	})
}

func byHand(b *testing.B, db *sql.DB, id string) log.Log {
	b.Helper()
	var l log.Log
	rows, err := db.QueryContext(ctx, `SELECT session.id, date, line, mode, cylinder, tester, value, unit, struck, key, at
		FROM session JOIN pull ON pull.session = session.n WHERE engine = ? ORDER BY session.n, line, pull.n`, id)
	require.NoError(b, err)
	defer func() { _ = rows.Close() }()
	last := -1
	for rows.Next() {
		var one log.Session
		var row log.Compression
		var p log.Pull
		var line int
		if err := rows.Scan(&one.ID, &one.Date, &line, &row.Mode, &row.Cylinder, &row.Tester, &p.Value, &p.Unit, &p.Struck, &p.Key, &p.At); err != nil {
			b.Fatal(err)
		}
		if n := len(l.Sessions); n == 0 || l.Sessions[n-1].ID != one.ID {
			l.Sessions = append(l.Sessions, one)
			last = -1
		}
		s := &l.Sessions[len(l.Sessions)-1]
		if line != last {
			s.Compression = append(s.Compression, row)
			last = line
		}
		r := &s.Compression[len(s.Compression)-1]
		r.Pulls = append(r.Pulls, p)
	}
	require.NoError(b, rows.Err())
	return l
}
