package store_test

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"database/sql"
	"path/filepath"

	fast "github.com/go-json-experiment/json"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/store"
)

// eight types an eight with that many tests of four pulls a cylinder, reading by reading.
func eight(tests int) []book.Entry {
	all := []book.Entry{entry("e1", book.Engine, `{"name":"Bench","kind":"four-stroke","layout":{"banks":[[1,3,5,7],[2,4,6,8]]}}`)}
	at := time.Date(2031, 1, 1, 9, 0, 0, 0, time.UTC)
	for i := range tests {
		test := fmt.Sprint("s", i+1)
		all = append(all, entry("t"+test, book.Test, fmt.Sprintf(`{"id":%q,"date":"20%02d-01-01"}`, test, 31+i/40)))
		for c := 1; c <= 8; c++ {
			for k := range 4 {
				e := entry(fmt.Sprintf("0123456789-%s-%d-%d", test, c, k), book.Pull, psi(test, c, float64(170+(i*c+k)%3)))
				at = at.Add(time.Second)
				e.At = at.Format(book.Clock)
				all = append(all, e)
			}
		}
	}
	return all
}

// BenchmarkAppend is one reading, on disk.
func BenchmarkAppend(b *testing.B) {
	s := open(b)
	told(b, s, eight(40)...)
	n := 0
	for b.Loop() {
		n++
		require.Equal(b, book.IsKept, told(b, s, entry(fmt.Sprint("key", n), book.Pull, psi("s40", n%8+1, 171)))[0].Result)
	}
}

// BenchmarkReplay is an engine of 40 and of 200 tests, 1 280 and 6 400 readings, from its entries in memory.
func BenchmarkReplay(b *testing.B) {
	for _, tests := range []int{40, 200} {
		entries := eight(tests)
		b.Run(fmt.Sprint(tests), func(b *testing.B) {
			for b.Loop() {
				book.Replay("heron", entries).Log(nil)
			}
		})
	}
}

// BenchmarkLog reads an engine with 40 tests, 1 280 readings, from disk and writes it as JSON; its twin by hand reads the same
// rows with hand-written SQL and encoding/json and nothing else.
func BenchmarkLog(b *testing.B) {
	dir := b.TempDir()
	s, err := store.Open(dir)
	require.NoError(b, err)
	told(b, s, eight(40)...)
	require.NoError(b, s.Close())
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, store.File))
	require.NoError(b, err)
	defer func() { _ = db.Close() }()
	b.Run("by-hand", func(b *testing.B) {
		for b.Loop() {
			_, err := json.Marshal(byHand(b, db, "heron"))
			require.NoError(b, err)
		}
	})
	s, err = store.Open(dir)
	require.NoError(b, err)
	defer func() { _ = s.Close() }()
	b.Run("store", func(b *testing.B) {
		for b.Loop() {
			s.Forget()
			l, _, err := s.Log(ctx, "heron")
			require.NoError(b, err)
			_, err = fast.Marshal(l)
			require.NoError(b, err)
		}
	})
}

func byHand(b *testing.B, db *sql.DB, engine string) log.Log {
	b.Helper()
	rows, err := db.QueryContext(ctx, "SELECT id, at, kind, body FROM entry WHERE engine = ? ORDER BY n", engine)
	require.NoError(b, err)
	defer func() { _ = rows.Close() }()
	var l log.Log
	at := map[string]*log.Session{}
	line := map[string]int{}
	var order []*log.Session
	for rows.Next() {
		var id, when, kind string
		var body []byte
		if err := rows.Scan(&id, &when, &kind, &body); err != nil {
			b.Fatal(err)
		}
		switch kind {
		case book.Engine:
			err = json.Unmarshal(body, &l.Engine)
		case book.Test:
			var s log.Session
			err = json.Unmarshal(body, &s)
			at[s.ID] = &s
			order = append(order, &s)
		case book.Pull:
			var p book.PullBody
			err = json.Unmarshal(body, &p)
			s := at[p.Test]
			key := fmt.Sprint(p.Test, p.Cylinder, p.Mode)
			n, ok := line[key]
			if !ok {
				n = len(s.Compression)
				line[key] = n
				s.Compression = append(s.Compression, log.Compression{Place: p.Place, Mode: p.Mode, Tester: p.Tester})
			}
			pull := log.Pull{Key: id, At: when}
			pull.Value, pull.Unit = *p.Value, p.Unit
			s.Compression[n].Pulls = append(s.Compression[n].Pulls, pull)
		}
		if err != nil {
			b.Fatal(err)
		}
	}
	require.NoError(b, rows.Err())
	for _, s := range order {
		l.Sessions = append(l.Sessions, *s)
	}
	return l
}
