package server_test

import (
	"context"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"github.com/go-json-experiment/json/jsontext"
	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/server"
	"braxel/internal/store"
)

// history types an eight with 40 tests of four pulls a cylinder, reading by reading.
func history(n int) []book.Entry {
	engine := fmt.Sprint("engine-", n)
	at := time.Date(2031, 1, 1, 9, 0, 0, 0, time.UTC)
	var all []book.Entry
	put := func(id, kind, body string) {
		at = at.Add(time.Second)
		all = append(all, book.Entry{ID: fmt.Sprintf("%s-%s-0123456", engine, id), At: at.Format(book.Clock), By: "Ansa, phone", Engine: engine, Kind: kind, Sure: true, Body: jsontext.Value(body)})
	}
	put("e", book.Engine, fmt.Sprintf(`{"name":"Engine %d","kind":"four-stroke","layout":{"banks":[[1,3,5,7],[2,4,6,8]]},"meter_unit":"h"}`, n))
	for i := range 40 {
		test := fmt.Sprint("s", i+1)
		put(test, book.Test, fmt.Sprintf(`{"id":%q,"date":%q,"meter":%d,"baseline":%t,"open":%t}`, test, time.Date(2031, 1, 1+20*i, 0, 0, 0, 0, time.UTC).Format(time.DateOnly), 3*i+3, i < 2, i == 39))
		for c := 1; c <= 8; c++ {
			for k := range 4 {
				put(fmt.Sprintf("%s-%d-%d", test, c, k), book.Pull, fmt.Sprintf(`{"test":%q,"cylinder":%d,"mode":"dry","tester":"shop","value":%d,"unit":"psi"}`, test, c, 168+(i*7+c*5+k*3+n)%6))
			}
		}
	}
	return all
}

// big is the server of the budgets: 500 engines, 20 000 tests, 640 000 readings in the file. It is made once.
var big = sync.OnceValue(func() *fiber.App {
	dir, err := tempDir()
	if err != nil {
		panic(err)
	}
	s, err := store.Open(dir)
	if err != nil {
		panic(err)
	}
	gauge := book.Entry{ID: "shop-gauge", At: "2030-01-01T00:00:00.000Z", Kind: book.Tester, Body: jsontext.Value(`{"id":"shop","name":"Shop gauge","kind":"compression","resolution":{"value":2,"unit":"psi"}}`)}
	if _, err := s.Append(context.Background(), []book.Entry{gauge}, time.Now()); err != nil {
		panic(err)
	}
	for n := range 500 {
		answers, err := s.Append(context.Background(), history(n), time.Now().AddDate(20, 0, 0))
		if err != nil || answers[len(answers)-1].Result != book.IsKept {
			panic(fmt.Sprint(err, answers[len(answers)-1]))
		}
	}
	size, err := os.Stat(filepath.Join(dir, store.File))
	if err != nil {
		panic(err)
	}
	fmt.Printf("file of 640000 readings: %d MB\n", size.Size()>>20)
	a, err := server.New(server.Config{Store: s, Files: fstest.MapFS{}, Now: time.Now})
	if err != nil {
		panic(err)
	}
	return a
})

// p95 runs do for each turn of the benchmark, before it what is not measured, and reports the 95th percentile in
// milliseconds.
func p95(b *testing.B, before, do func(n int)) {
	var took []time.Duration
	n := 0
	for b.Loop() {
		before(n)
		start := time.Now()
		do(n)
		took = append(took, time.Since(start))
		n++
	}
	slices.Sort(took)
	b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms")
}

func BenchmarkAnswers(b *testing.B) {
	a := big()
	runtime.GC()
	get := func(path string) func(int) {
		return func(n int) {
			status, _, body := ask(b, a, http.MethodGet, fmt.Sprintf(path, n%500), "")
			require.Equal(b, 200, status, body)
		}
	}
	rack := get("/api/rack?%d")
	rack(0) // every engine is judged once
	nothing := func(int) {}
	b.Run("rack", func(b *testing.B) { p95(b, nothing, rack) })
	b.Run("diary", func(b *testing.B) { p95(b, nothing, get("/api/diary?%d")) })
	b.Run("compare", func(b *testing.B) { p95(b, nothing, get("/api/compare?of=engine-%d:s3&of=engine-7:s30")) })
	b.Run("engine", func(b *testing.B) { p95(b, nothing, get("/api/engines/engine-%d")) })
	b.Run("sheet", func(b *testing.B) { p95(b, nothing, get("/api/engines/engine-%d/sessions/s40/sheet")) })
	// A test is typed into one engine's open sheet, 32 readings, and then another's.
	open := get("/api/engines/engine-%d/sessions/s40/sheet")
	opened := func(n int) {
		if n%32 == 0 {
			open(n / 32)
		}
	}
	b.Run("reading", func(b *testing.B) {
		p95(b, opened, func(n int) {
			engine := fmt.Sprint("engine-", n/32%500)
			status, _, body := ask(b, a, http.MethodPost, "/api/entries", fmt.Sprintf(`{"entries":[{"id":"typed-%d-%d","at":%q,"engine":%q,"kind":"pull","sure":true,"body":{"test":"s40","cylinder":%d,"mode":"dry","tester":"shop","value":171,"unit":"psi"}}],"sheet":{"engine":%q,"test":"s40"}}`,
				time.Now().UnixNano(), n, time.Now().Format(time.RFC3339), engine, n%8+1, engine))
			require.Equal(b, 200, status, body)
			require.Contains(b, body, `"result":"kept"`)
		})
	})
}

// fleetOf returns a data directory of so many engines with three tests each.
func fleetOf(b *testing.B, engines int) string {
	b.Helper()
	dir, err := tempDir()
	require.NoError(b, err)
	b.Cleanup(func() { _ = os.RemoveAll(dir) })
	s, err := store.Open(dir)
	require.NoError(b, err)
	defer func() { require.NoError(b, s.Close()) }()
	gauge := book.Entry{ID: "shop-gauge", At: "2030-01-01T00:00:00.000Z", Kind: book.Tester, Body: jsontext.Value(`{"id":"shop","name":"Shop gauge","kind":"compression"}`)}
	_, err = s.Append(b.Context(), []book.Entry{gauge}, time.Now())
	require.NoError(b, err)
	for n := range engines {
		short := history(n)[:1+3*33]
		answers, err := s.Append(b.Context(), short, time.Now().AddDate(20, 0, 0))
		require.NoError(b, err)
		require.Equal(b, book.IsKept, answers[len(answers)-1].Result)
	}
	return dir
}

// BenchmarkGrowth tells what ten times as many engines cost: nothing may grow faster than its work.
func BenchmarkGrowth(b *testing.B) {
	for _, engines := range []int{500, 5000} {
		b.Run(fmt.Sprint(engines), func(b *testing.B) {
			dir := fleetOf(b, engines)
			ms := func(name string, do func()) {
				start := time.Now()
				do()
				b.ReportMetric(float64(time.Since(start).Microseconds())/1000, name+"-ms")
			}
			var s *store.Store
			ms("start", func() {
				var err error
				s, err = store.Open(dir)
				require.NoError(b, err)
			})
			a, err := server.New(server.Config{Store: s, Files: fstest.MapFS{}, Now: time.Now})
			require.NoError(b, err)
			get := func(path string) func() {
				return func() {
					status, _, body := ask(b, a, http.MethodGet, path, "")
					require.Equal(b, 200, status, body)
				}
			}
			ms("all-judged", func() {
				for get("/api/rack")(); rackOf(b, a).Pending > 0; {
					time.Sleep(10 * time.Millisecond)
				}
			})
			ms("rack", get("/api/rack"))
			ms("diary", get("/api/diary"))
			ms("calendar", get("/api/diary.ics"))
			ms("rack-after-a-reading", func() {
				status, _, body := ask(b, a, http.MethodPost, "/api/entries", `{"entries":[{"id":"one-more","at":"2031-06-01T00:00:00Z","engine":"engine-7","kind":"pull","sure":true,"body":{"test":"s3","cylinder":1,"mode":"dry","tester":"shop","value":171,"unit":"psi"}}]}`)
				require.Equal(b, 200, status, body)
				get("/api/rack")()
			})
			ms("one-engine", get("/api/engines/engine-9"))
			var m runtime.MemStats
			runtime.GC()
			runtime.ReadMemStats(&m)
			b.ReportMetric(float64(m.HeapAlloc)/1e6, "heap-MB")
			b.ReportMetric(0, "ns/op")
			require.NoError(b, a.Shutdown())
			require.NoError(b, s.Close())
		})
	}
}
