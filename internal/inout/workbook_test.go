package inout_test

import (
	"bytes"
	"context"
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/table"
	"braxel/internal/demo"
	"braxel/internal/inout"
	"braxel/internal/logfile"
	"braxel/internal/store"
)

// counted lists the readings of a log as anybody would write them down: by day, kind and cylinder.
func counted(l log.Log) []string {
	var all []string
	for _, s := range l.Sessions {
		for _, c := range s.Compression {
			for _, p := range c.Pulls {
				all = append(all, fmt.Sprintf("%s %s %d %g %s %v", s.Date, c.Mode, c.Cylinder, p.Value, p.Unit, p.Struck != ""))
			}
		}
		for _, k := range s.Leakdown {
			all = append(all, fmt.Sprintf("%s leak %d %g of %g %s", s.Date, k.Cylinder, k.Held, k.Supply, k.Unit))
		}
	}
	slices.Sort(all)
	return all
}

// A workbook that was written is read again without a question, and says what the book says: of every engine of the demo but those
// whose rotors no sheet has a word for.
func TestAWorkbookIsReadAgainWithoutAQuestion(t *testing.T) {
	s, err := store.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	ctx := context.Background()
	for _, l := range demo.Logs() {
		_, err := s.Import(ctx, l, time.Date(2033, 5, 1, 0, 0, 0, 0, time.UTC))
		require.NoError(t, err)
	}
	read := 0
	for _, id := range s.Engines() {
		l, _, err := s.Log(ctx, id)
		require.NoError(t, err)
		if l.Engine.Kind == log.Rotary || len(counted(l)) == 0 {
			continue
		}
		var out bytes.Buffer
		require.NoError(t, inout.WriteWorkbook(ctx, s, []string{id}, &out))
		sheets, _, err := logfile.ReadSheets("out.xlsx", out.Bytes())
		require.NoError(t, err)
		var picks table.Picks
		inout.Here(ctx, s, &picks)
		got := table.Read(sheets, picks)
		assert.Empty(t, got.Asked, "%s", l.Engine.Name)
		assert.Empty(t, got.Refused, "%s", l.Engine.Name)
		if assert.Len(t, got.Logs, 1, l.Engine.Name) {
			assert.Equal(t, id, got.Logs[0].Engine.ID, "it is known again")
			assert.Equal(t, counted(l), counted(got.Logs[0]), l.Engine.Name)
		}
		read++
	}
	assert.Greater(t, read, 5)
}
