package store_test

import (
	"encoding/json"
	"fmt"
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
			row := log.Compression{Cylinder: c, Mode: log.Dry}
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

// BenchmarkLog reads an engine with 40 tests, 1280 readings; BenchmarkLogByHand is the same rows with hand-written SQL
// and encoding/json and nothing else.
func BenchmarkLog(b *testing.B) {
	s, err := store.Open(b.TempDir())
	require.NoError(b, err)
	defer func() { _ = s.Close() }()
	id, err := s.Import(ctx, eight(40), nil)
	require.NoError(b, err)
	for b.Loop() {
		l, _, err := s.Log(ctx, id)
		require.NoError(b, err)
		_, err = json.Marshal(l)
		require.NoError(b, err)
	}
}
