package server_test

import (
	"context"
	"fmt"
	"net/http"
	"runtime"
	"slices"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/units"
	"braxel/internal/server"
	"braxel/internal/store"
)

// history returns an eight with 40 tests of four pulls a cylinder.
func history(n int) log.Log {
	meter := 0.0
	l := log.Log{Engine: log.Engine{Name: fmt.Sprint("Engine ", n), Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 3, 5, 7}, {2, 4, 6, 8}}}, MeterUnit: "h"},
		Testers: []log.Tester{{ID: "shop", Name: "Shop gauge", Kind: log.CompressionTester, Resolution: &units.Reading{Value: 2, Unit: units.PSI}}}}
	for i := range 40 {
		meter += 3
		at := meter
		s := log.Session{ID: fmt.Sprint("s", i+1), Date: time.Date(2031, 1, 1+20*i, 0, 0, 0, 0, time.UTC).Format(time.DateOnly), Meter: &at, Baseline: i < 2, Open: i == 39}
		for c := 1; c <= 8; c++ {
			row := log.Compression{Place: log.Place{Cylinder: c}, Mode: log.Dry, Tester: "shop"}
			for k := range 4 {
				row.Pulls = append(row.Pulls, log.Pull{Reading: units.Reading{Value: float64(168 + (i*7+c*5+k*3+n)%6), Unit: units.PSI}})
			}
			s.Compression = append(s.Compression, row)
		}
		l.Sessions = append(l.Sessions, s)
	}
	return l
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
	for n := range 500 {
		if _, err := s.Import(context.Background(), history(n), nil); err != nil {
			panic(err)
		}
	}
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
			status, _, body := ask(b, a, http.MethodPost, fmt.Sprintf("/api/engines/engine-%d/sessions/s40/pulls", n/32%500),
				fmt.Sprintf(`{"key":"%d-%d","cylinder":%d,"mode":"dry","tester":"shop","value":171,"unit":"psi","confirmed":true}`, time.Now().UnixNano(), n, n%8+1))
			require.Equal(b, 201, status, body)
		})
	})
}
