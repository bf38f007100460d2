package store_test

import (
	"fmt"
	"math/rand/v2"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/units"
	"braxel/internal/store"
)

// anyChange does one of the things that a shop does to an engine.
func anyChange(t *testing.T, s *store.Store, r *rand.Rand, engine string, n int) {
	t.Helper()
	session := fmt.Sprint("s", 1+r.IntN(4))
	key := fmt.Sprint("key", n)
	var err error
	switch r.IntN(12) {
	case 0:
		err = s.SetSession(ctx, engine, log.Session{ID: session, Date: fmt.Sprintf("2031-02-%02d", 1+r.IntN(28)), Note: key})
	case 1:
		_, err = s.AddBuild(ctx, engine, log.Build{Date: "2031-03-01", What: key})
	case 2:
		err = s.AddEvent(ctx, engine, log.Event{Date: "2031-03-01", What: key})
	case 3:
		err = s.AddLeakdown(ctx, engine, session, log.Leakdown{Cylinder: 1, Tester: "kit", Supply: 100, Held: 97, Unit: units.PSI, Key: key})
	case 4:
		err = s.AddObservation(ctx, engine, session, log.Observation{What: "plug", Cylinder: 2, Note: key, Key: key})
	case 5:
		err = s.Tick(ctx, engine, session, fmt.Sprint("line", r.IntN(3)), r.IntN(2) == 0)
	case 6:
		_ = s.Strike(ctx, engine, session, "pulls", fmt.Sprint("key", r.IntN(n+1)), "slipped")
	case 7:
		err = s.SetTester(ctx, log.Tester{ID: "g", Name: key, Kind: log.CompressionTester})
	default:
		p := pull(1+r.IntN(4), 150+r.Float64()*30, key)
		p.Tester = []string{"g", "h"}[r.IntN(2)]
		err = s.AddPull(ctx, engine, session, p)
	}
	require.NoError(t, err)
}

func busy(t *testing.T) (*store.Store, string) {
	t.Helper()
	s := open(t)
	for _, name := range []string{"g", "h", "kit"} {
		_, err := s.AddTester(ctx, log.Tester{Name: name, Kind: log.CompressionTester})
		require.NoError(t, err)
	}
	e, err := s.AddEngine(ctx, four())
	require.NoError(t, err)
	for range 4 {
		_, err := s.AddSession(ctx, e.ID, log.Session{Date: "2031-02-14"})
		require.NoError(t, err)
	}
	return s, e.ID
}

func TestWhatIsRememberedIsWhatIsOnDisk(t *testing.T) {
	s, engine := busy(t)
	r := rand.New(rand.NewPCG(5, 8))
	for n := range 300 {
		anyChange(t, s, r, engine, n)
		if r.IntN(3) == 0 {
			continue // several changes between two looks
		}
		remembered, _, err := s.Log(ctx, engine)
		require.NoError(t, err)
		onDisk, _, err := s.Whole(ctx, engine)
		require.NoError(t, err)
		require.Equal(t, onDisk, remembered, "after change %d", n)
	}
}

func TestManyAtOnceSeeTheLastChangeInTheEnd(t *testing.T) {
	s, engine := busy(t)
	var all sync.WaitGroup
	for worker := range 4 {
		all.Go(func() {
			r := rand.New(rand.NewPCG(uint64(worker), 1))
			last := 0
			for n := range 40 {
				anyChange(t, s, r, engine, 1000*worker+n)
				_, revision, err := s.Log(ctx, engine)
				assert.NoError(t, err)
				assert.GreaterOrEqual(t, revision, last, "nobody is shown an older log than before")
				last = revision
			}
		})
	}
	all.Wait()
	remembered, _, err := s.Log(ctx, engine)
	require.NoError(t, err)
	onDisk, _, err := s.Whole(ctx, engine)
	require.NoError(t, err)
	assert.Equal(t, onDisk, remembered)
}
