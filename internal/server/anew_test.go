package server_test

import (
	"context"
	"fmt"
	"net/http"
	"testing"
	"testing/fstest"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/units"
	"braxel/internal/server"
	"braxel/internal/store"
)

// fleet is a shop of many engines, each a twin tested three times; the second cylinder of every tenth is dead at the last.
func fleet(t *testing.T, engines int) (*store.Store, *fiber.App) {
	t.Helper()
	s, err := store.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	for n := range engines {
		l := log.Log{Format: log.Format, Version: 1, Engine: log.Engine{
			ID: fmt.Sprintf("twin-%03d", n), Name: fmt.Sprintf("Twin %d", n), Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2}}},
		}}
		for i, date := range []string{"2031-01-01", "2031-02-01", "2031-03-01"} {
			visit := log.Session{ID: fmt.Sprint("s", i+1), Date: date, Baseline: i == 0}
			for c := 1; c <= 2; c++ {
				psi := 170.0
				if n%10 == 0 && i == 2 && c == 2 {
					psi = 20
				}
				p := log.Pull{Reading: units.Reading{Value: psi, Unit: units.PSI}}
				visit.Compression = append(visit.Compression, log.Compression{Place: log.Place{Cylinder: c}, Mode: log.Dry, Pulls: []log.Pull{p, p}})
			}
			l.Sessions = append(l.Sessions, visit)
		}
		_, err := s.Import(context.Background(), l, time.Date(2031, 4, 1, 0, 0, 0, 0, time.UTC))
		require.NoError(t, err)
	}
	a, err := server.New(server.Config{Store: s, Files: fstest.MapFS{}, Now: time.Now})
	require.NoError(t, err)
	return s, a
}

func rackOf(t testing.TB, a *fiber.App) (r server.Rack) {
	t.Helper()
	status, _, body := ask(t, a, http.MethodGet, "/api/rack", "")
	require.Equal(t, 200, status, body)
	require.NoError(t, json.Unmarshal([]byte(body), &r))
	return r
}

func TestARackOfManyIsShownWhileItIsJudged(t *testing.T) {
	const engines = 120
	s, a := fleet(t, engines)
	first := rackOf(t, a)
	require.Len(t, first.Engines, engines, "each has its place from the first")
	for _, e := range first.Engines {
		assert.NotEqual(t, e.ID, e.Name, "and its name")
		assert.Equal(t, e.Sentence == "", e.Pending, "nothing is said of one that was not judged, and what is said was judged")
	}
	whole := func() bool { return rackOf(t, a).Pending == 0 }
	require.Eventually(t, whole, time.Minute, 20*time.Millisecond)
	done := rackOf(t, a)
	for i, e := range done.Engines {
		assert.False(t, e.Pending)
		assert.Equal(t, i < engines/10, e.State == "stop", "the dead ones stand first: %d is %s", i, e.State)
	}

	// An earlier edition's judge said otherwise of all: that is shown, and marked, until this one has spoken.
	made, err := s.Rack(context.Background(), 1)
	require.NoError(t, err)
	for i := range made {
		made[i].Judge, made[i].Rack = 1, []byte(fmt.Sprintf(`{"id":%q,"name":"Twin","state":"steady","sentence":"All was well.","bores":[]}`, made[i].Engine))
	}
	require.NoError(t, s.KeepMade(context.Background(), made))
	again, err := server.New(server.Config{Store: s, Files: fstest.MapFS{}, Now: time.Now})
	require.NoError(t, err)
	before := rackOf(t, again)
	require.Len(t, before.Engines, engines)
	marked := 0
	for _, e := range before.Engines {
		assert.Equal(t, e.Sentence == "All was well.", e.Pending)
		if e.Pending {
			marked++
		}
	}
	assert.Equal(t, before.Pending, marked)
	require.Eventually(t, func() bool { return rackOf(t, again).Pending == 0 }, time.Minute, 20*time.Millisecond)
	assert.Equal(t, done, rackOf(t, again))
}

func TestStoppingWhileManyAreJudgedLosesNothing(t *testing.T) {
	s, a := fleet(t, 120)
	rackOf(t, a)
	require.NoError(t, a.Shutdown())
	made, err := s.Rack(context.Background(), 1)
	require.NoError(t, err)
	assert.Len(t, made, 120)
	again, err := server.New(server.Config{Store: s, Files: fstest.MapFS{}, Now: time.Now})
	require.NoError(t, err)
	require.Eventually(t, func() bool { return rackOf(t, again).Pending == 0 }, time.Minute, 20*time.Millisecond, "it goes on where it was")
}

func TestAFewAreJudgedWhileOneWaits(t *testing.T) {
	_, a := fleet(t, 20)
	r := rackOf(t, a)
	assert.Zero(t, r.Pending)
	assert.Equal(t, "stop", string(r.Engines[0].State))
}
