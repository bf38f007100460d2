package trace_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/trace"
)

// What is kept has the same peak, as long a curve and the same beats, whatever the rate.
func TestAKeptRecordingLosesNoPeak(t *testing.T) {
	for seed := range uint64(8) {
		f := made("pulses", seed)
		r, err := trace.Parse(f.text, f.known)
		require.NoError(t, err)
		a := trace.Read(r, f.known)
		k := trace.Keep(r, a)
		points, err := trace.Points(k)
		require.NoError(t, err)
		assert.LessOrEqual(t, len(points), 3002)
		assert.InDelta(t, r.Seconds[len(r.Seconds)-1]-r.Seconds[0], float64(len(points))*k.Seconds, 0.05)
		high, was := math.Inf(-1), math.Inf(-1)
		for _, v := range points {
			high = max(high, v)
		}
		for _, v := range r.Values {
			was = max(was, v)
		}
		assert.InEpsilon(t, was, high, 0.02)
		assert.Len(t, k.Beats, len(a.Beats))
		assert.Less(t, len(k.Curve), 8000)
	}
}

func TestACurveThatIsNoneIsRefused(t *testing.T) {
	for _, text := range [][]byte{{1, 2, 3}, []byte("nonsense"), {0xff}} {
		_, err := trace.Points(log.Trace{Curve: text, Scale: 1})
		assert.ErrorIs(t, err, trace.ErrCurve)
	}
	points, err := trace.Points(log.Trace{Curve: []byte{3, 0}, Scale: 1}) // deflated nothing
	require.NoError(t, err)
	assert.Empty(t, points)
}
