package gauge

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A gauge that pulses on and on, or whose clock stands, takes no more room than a pull has.
func TestWhatAGaugeMakesIsBounded(t *testing.T) {
	w := &Watch{Kind: Bare, Turns: 2}
	for i := range 600_000 {
		kpa := 0.0
		if i%100 < 30 {
			kpa = 800
		}
		w.Take(Sample{Seconds: float64(i) * 0.004, KPa: kpa})
	}
	assert.LessOrEqual(t, len(w.beats), mostBeats)
	assert.LessOrEqual(t, len(w.recording), mostKept)
	for _, kpa := range []float64{0, 900} {
		w = &Watch{Kind: Valve, Turns: 2}
		w.Take(Sample{})
		for range 300_000 {
			w.Take(Sample{Seconds: 1e-3, KPa: kpa})
		}
		assert.LessOrEqual(t, len(w.before), mostAhead+1)
		assert.LessOrEqual(t, len(w.recording), mostKept)
	}
	var r Reader
	_, err := r.Take([]byte(First + "\nt_ms,kPa\n"))
	require.NoError(t, err)
	for range 40 {
		if _, err = r.Take([]byte(strings.Repeat("5,100\n", 1000))); err != nil {
			break
		}
	}
	require.ErrorIs(t, err, ErrClock)
}
