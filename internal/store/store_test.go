package store_test

import (
	"context"
	"database/sql"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/units"
	"braxel/internal/store"
)

var ctx = context.Background()

func open(t *testing.T) *store.Store {
	t.Helper()
	s, err := store.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return s
}

func four() log.Engine {
	return log.Engine{Name: "Heron", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}}, FiringOrder: []int{1, 3, 4, 2}}
}

func pull(cylinder int, psi float64, key string) log.Compression {
	return log.Compression{Place: log.Place{Cylinder: cylinder}, Mode: log.Dry, Tester: "g", Pulls: []log.Pull{{Reading: units.Reading{Value: psi, Unit: units.PSI}, Key: key}}}
}

func TestPullsComeBackAsTheyWereTyped(t *testing.T) {
	s := open(t)
	e, err := s.AddEngine(ctx, four())
	require.NoError(t, err)
	one, err := s.AddSession(ctx, e.ID, log.Session{Date: "2031-02-14"})
	require.NoError(t, err)
	for i, p := range []log.Compression{pull(1, 188, "a"), pull(1, 186, "b"), pull(3, 185.5, "c"), pull(1, 187, "d")} {
		require.NoError(t, s.AddPull(ctx, e.ID, one.ID, p), i)
	}
	require.NoError(t, s.AddPull(ctx, e.ID, one.ID, pull(1, 188, "a")), "sent twice")
	require.NoError(t, s.Strike(ctx, e.ID, one.ID, "pulls", "b", "throttle shut"))
	require.NoError(t, s.Strike(ctx, e.ID, one.ID, "pulls", "b", "another reason"))

	l, revision, err := s.Log(ctx, e.ID)
	require.NoError(t, err)
	rows := l.Sessions[0].Compression
	require.Len(t, rows, 2, "a cylinder's pulls stand in one row")
	assert.Equal(t, []float64{188, 186, 187}, []float64{rows[0].Pulls[0].Value, rows[0].Pulls[1].Value, rows[0].Pulls[2].Value})
	assert.Equal(t, "throttle shut", rows[0].Pulls[1].Struck, "the first reason stands")
	assert.Equal(t, 185.5, rows[1].Pulls[0].Value)
	assert.Greater(t, revision, 1)
}

func TestAnotherGaugeBeginsANewRow(t *testing.T) {
	s := open(t)
	e, _ := s.AddEngine(ctx, four())
	one, _ := s.AddSession(ctx, e.ID, log.Session{Date: "2031-02-14"})
	other := pull(1, 180, "b")
	other.Tester = "h"
	for _, p := range []log.Compression{pull(1, 188, "a"), other, pull(1, 188, "c")} {
		require.NoError(t, s.AddPull(ctx, e.ID, one.ID, p))
	}
	l, _, err := s.Log(ctx, e.ID)
	require.NoError(t, err)
	assert.Len(t, l.Sessions[0].Compression, 3)
}

func TestListenedAndHeardNothingIsNotTheSameAsNotListened(t *testing.T) {
	s := open(t)
	e, _ := s.AddEngine(ctx, four())
	one, _ := s.AddSession(ctx, e.ID, log.Session{Date: "2031-02-14"})
	require.NoError(t, s.AddLeakdown(ctx, e.ID, one.ID, log.Leakdown{Place: log.Place{Cylinder: 1}, Supply: 100, Held: 97, Unit: units.PSI, Paths: []log.Path{}, Key: "a"}))
	require.NoError(t, s.AddLeakdown(ctx, e.ID, one.ID, log.Leakdown{Place: log.Place{Cylinder: 2}, Supply: 100, Held: 97, Unit: units.PSI, Key: "b"}))
	l, _, err := s.Log(ctx, e.ID)
	require.NoError(t, err)
	assert.NotNil(t, l.Sessions[0].Leakdown[0].Paths)
	assert.Nil(t, l.Sessions[0].Leakdown[1].Paths)
}

func TestUnknownThingsAreSaidToBeUnknown(t *testing.T) {
	s := open(t)
	e, _ := s.AddEngine(ctx, four())
	_, _, err := s.Log(ctx, "nobody")
	assert.ErrorIs(t, err, store.ErrUnknown)
	assert.ErrorIs(t, s.AddPull(ctx, e.ID, "s9", pull(1, 1, "a")), store.ErrUnknown)
	one, _ := s.AddSession(ctx, e.ID, log.Session{Date: "2031-02-14"})
	assert.ErrorIs(t, s.Strike(ctx, e.ID, one.ID, "pulls", "zz", "why"), store.ErrUnknown)
	assert.ErrorIs(t, s.SetTester(ctx, log.Tester{ID: "nobody"}), store.ErrUnknown)
}

func TestTwoEnginesOfOneNameHaveTheirOwnIDs(t *testing.T) {
	s := open(t)
	a, _ := s.AddEngine(ctx, four())
	b, _ := s.AddEngine(ctx, four())
	assert.Equal(t, []string{"heron", "heron-2"}, []string{a.ID, b.ID})
}

func TestASummaryHoldsUntilTheEngineChanges(t *testing.T) {
	s := open(t)
	e, _ := s.AddEngine(ctx, four())
	require.NoError(t, s.KeepSummaries(ctx, 7, []store.Summary{{Engine: e.ID, Revision: 1, Body: []byte(`{"state":"steady"}`)}}))
	rack, err := s.Rack(ctx, 7)
	require.NoError(t, err)
	assert.JSONEq(t, `{"state":"steady"}`, string(rack[0].Body))
	rack, _ = s.Rack(ctx, 8)
	assert.Nil(t, rack[0].Body, "another judge has not spoken yet")
	_, _ = s.AddSession(ctx, e.ID, log.Session{Date: "2031-02-14"})
	rack, _ = s.Rack(ctx, 7)
	assert.Nil(t, rack[0].Body)
}

func TestASecondProcessIsToldWhoHoldsTheFile(t *testing.T) {
	dir := t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	_, err = store.Open(dir)
	assert.ErrorContains(t, err, "in use by another Braxel (process ")
	require.NoError(t, s.Close())
	again, err := store.Open(dir)
	require.NoError(t, err)
	require.NoError(t, again.Close())
}

func TestANewerFileIsRefusedAndAnOlderOneCopiedAside(t *testing.T) {
	dir := t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	require.NoError(t, s.Close())
	file := filepath.Join(dir, store.File)
	setVersion := func(statement string) {
		db, err := sql.Open("sqlite", file)
		require.NoError(t, err)
		_, err = db.Exec(statement)
		require.NoError(t, err)
		require.NoError(t, db.Close())
	}
	setVersion("INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)")
	_, err = store.Open(dir)
	assert.ErrorContains(t, err, "newer Braxel (schema 9999")
	setVersion("DELETE FROM goose_db_version WHERE version_id = 9999")
	s, err = store.Open(dir)
	require.NoError(t, err)
	require.NoError(t, s.Close())
}

func TestAnOlderFileIsCopiedAsideBeforeItIsBroughtUpToDate(t *testing.T) {
	dir := t.TempDir()
	s, err := store.Open(dir)
	require.NoError(t, err)
	_, err = s.AddEngine(ctx, four())
	require.NoError(t, err)
	require.NoError(t, s.Close())
	db, err := sql.Open("sqlite", filepath.Join(dir, store.File))
	require.NoError(t, err)
	_, err = db.Exec("DROP TABLE protocol; DROP INDEX pull_tester; ALTER TABLE session DROP COLUMN sheet; DELETE FROM goose_db_version WHERE version_id = 2")
	require.NoError(t, err)
	require.NoError(t, db.Close())

	s, err = store.Open(dir)
	require.NoError(t, err)
	defer func() { _ = s.Close() }()
	assert.FileExists(t, filepath.Join(dir, store.File+".schema-1.bak"))
	rack, err := s.Rack(ctx, 1)
	require.NoError(t, err)
	assert.Len(t, rack, 1)
}

func TestABackupIsAWholeCopyOfALiveFile(t *testing.T) {
	s := open(t)
	_, err := s.AddEngine(ctx, four())
	require.NoError(t, err)
	copied := filepath.Join(t.TempDir(), "copy")
	require.NoError(t, os.Mkdir(copied, 0o700))
	require.NoError(t, s.Backup(ctx, filepath.Join(copied, store.File)))
	assert.Error(t, s.Backup(ctx, filepath.Join(copied, store.File)), "a backup never writes over a file")
	faults, err := s.Check(ctx)
	require.NoError(t, err)
	assert.Empty(t, faults)

	other, err := store.Open(copied)
	require.NoError(t, err)
	defer func() { _ = other.Close() }()
	rack, err := other.Rack(ctx, 1)
	require.NoError(t, err)
	assert.Equal(t, "heron", rack[0].Engine)
}

func TestATestersSpreadIsThatOfItsPulls(t *testing.T) {
	s := open(t)
	l := eight(3)
	for i := range l.Sessions {
		for j := range l.Sessions[i].Compression {
			l.Sessions[i].Compression[j].Tester = "g"
		}
	}
	l.Sessions[0].Compression[0].Pulls[0].Struck = "slipped"
	l.Testers = []log.Tester{{ID: "g", Name: "g", Kind: log.CompressionTester}}
	id, err := s.Import(ctx, l, nil)
	require.NoError(t, err)
	spreads, err := s.Spreads(ctx)
	require.NoError(t, err)
	require.Len(t, spreads, 1)
	want := reading.Spreads(l)["g"]
	psi := float64(units.Reading{Value: 1, Unit: units.PSI}.Pressure())
	assert.Equal(t, store.Spread{Engine: id, Tester: "g", Unit: units.PSI, Pulls: want.Pulls, Squares: spreads[0].Squares, Free: int(want.Free)}, spreads[0])
	assert.InDelta(t, want.Squares, spreads[0].Squares*psi*psi, 1e-6*want.Squares)
}
