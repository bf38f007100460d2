package logfile_test

import (
	"bytes"
	"encoding/csv"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/logfile"
)

func example(t testing.TB) []byte {
	text, err := os.ReadFile("testdata/heron.json")
	require.NoError(t, err)
	return text
}

func TestALogComesBackAsItWas(t *testing.T) {
	l, unknown, err := logfile.Read(example(t))
	require.NoError(t, err)
	assert.Empty(t, unknown)
	text, err := logfile.Write(l, unknown)
	require.NoError(t, err)
	assert.JSONEq(t, string(example(t)), string(text))
}

func TestKeysFromElsewhereAreKeptAndNamed(t *testing.T) {
	odd := strings.Replace(string(example(t)), `"stage": "pre-install"`, `"stage": "pre-install", "humidity": 55, "lift": {"bay": 2}`, 1)
	l, unknown, err := logfile.Read([]byte(odd))
	require.NoError(t, err)
	assert.Len(t, unknown, 2)
	assert.Contains(t, unknown, "/sessions/0/humidity")
	text, err := logfile.Write(l, unknown)
	require.NoError(t, err)
	assert.JSONEq(t, odd, string(text))
}

func TestEveryFaultIsNamedByItsPointer(t *testing.T) {
	broken := strings.NewReplacer(`"kind": "four-stroke"`, `"kind": "steam"`, `"meter": 0`, `"meter": -1`, `"held": 97`, `"held": "much"`).Replace(string(example(t)))
	_, _, err := logfile.Read([]byte(broken))
	var faults log.Faults
	require.ErrorAs(t, err, &faults)
	at := []string{}
	for _, f := range faults {
		at = append(at, f.At)
	}
	assert.ElementsMatch(t, []string{"/engine/kind", "/sessions/0/meter", "/sessions/0/leakdown/0/held"}, at)
}

func TestWhatTheSchemaCannotSeeIsRefusedToo(t *testing.T) {
	for name, c := range map[string]struct{ old, new, at string }{
		"cylinder twice":       {`[[1, 2, 3, 4]]`, `[[1, 2, 3, 3]]`, "/engine/layout/banks/0/3"},
		"no permutation":       {`"firing_order": [1, 3, 4, 2]`, `"firing_order": [1, 3, 4, 4]`, "/engine/firing_order"},
		"unknown cylinder":     {`{"cylinder": 1, "mode": "dry"`, `{"cylinder": 9, "mode": "dry"`, "/sessions/0/compression/0/cylinder"},
		"beyond any gauge":     {`"value": 190`, `"value": 1900`, "/sessions/0/compression/3/pulls/0/value"},
		"held above supply":    {`"supply": 96, "held": 92`, `"supply": 90, "held": 92`, "/sessions/0/leakdown/1/held"},
		"rod within the crank": {`"rod_mm": 149.0`, `"rod_mm": 40`, "/engine/rod_mm"},
	} {
		_, _, err := logfile.Read([]byte(strings.Replace(string(example(t)), c.old, c.new, 1)))
		assert.ErrorContains(t, err, c.at, name)
	}
}

func TestFaultsOfBothKindsAreListedTogether(t *testing.T) {
	broken := strings.NewReplacer(`"kind": "four-stroke"`, `"kind": "steam"`, `"firing_order": [1, 3, 4, 2]`, `"firing_order": [1, 3, 4, 4]`).Replace(string(example(t)))
	_, _, err := logfile.Read([]byte(broken))
	assert.ErrorContains(t, err, "/engine/kind")
	assert.ErrorContains(t, err, "/engine/firing_order")
}

func TestCSVHasOneRowAReading(t *testing.T) {
	l, _, err := logfile.Read(example(t))
	require.NoError(t, err)
	var out bytes.Buffer
	require.NoError(t, logfile.WriteCSV(&out, l))
	rows, err := csv.NewReader(&out).ReadAll()
	require.NoError(t, err)
	assert.Len(t, rows, 1+9+2+1)
	assert.Equal(t, []string{"Heron", "s1", "2031-02-14", "0", "pre-install", "cold", "3", "dry", "1", "176", "psi", "", "", "", "", "struck: throttle not held open"}, rows[5])
	assert.Equal(t, "crankcase;exhaust", rows[11][13])
}

func FuzzRead(f *testing.F) {
	f.Add(example(f))
	f.Add([]byte(`{"format":"braxel-log","version":1,"engine":{"name":"x","kind":"rotary","layout":{"rotors":2}},"sessions":[]}`))
	f.Add([]byte(`{"sessions":[{}]}`))
	f.Fuzz(func(t *testing.T, text []byte) {
		l, unknown, err := logfile.Read(text)
		if err != nil {
			return
		}
		again, err := logfile.Write(l, unknown)
		require.NoError(t, err)
		_, _, err = logfile.Read(again)
		require.NoError(t, err, "what was read can be written and read again")
	})
}
