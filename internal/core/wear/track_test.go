package wear_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/wear"
)

func seen(compressionPct, leak float64) wear.Evidence {
	return wear.Evidence{Compression: math.Log(1 + compressionPct/100), CompressionSE: 0.012, Leak: leak, LeakSE: 1.1}
}

func TestACylinderThatDoesNotMoveIsNotAccused(t *testing.T) {
	b := wear.Healthy
	for _, e := range []wear.Evidence{seen(0.5, 0.4), seen(-1.2, 1.1), seen(-0.4, -0.8), seen(1, 0.2), seen(-1.6, 1.4)} {
		b = b.Next(e)
		assert.Less(t, b.Changed(), 0.2)
	}
}

func TestALeakThatTakesCompressionWithItIsAFault(t *testing.T) {
	b := wear.Healthy.Next(seen(-5.5, 6))
	assert.Greater(t, b.Leaking, 0.95)
	assert.InDelta(t, 6, b.LeakPts, 1)
}

func TestALeakThatJumpsAloneIsDirtUntilItStays(t *testing.T) {
	b := wear.Healthy.Next(seen(0.2, 18))
	assert.Greater(t, b.Dirt, 0.9, "compression would have moved")
	again := seen(-0.3, 5)
	again.Repeated = true
	b = wear.Healthy.Next(again).Next(again).Next(again)
	assert.Greater(t, b.Leaking, 0.8, "early trouble: repeated, and there again at the next tests")
}

func TestCompressionLostWithoutALeakIsAShortStroke(t *testing.T) {
	b := wear.Healthy.Next(seen(-11, 0.3))
	assert.Greater(t, b.Short, 0.9)
	assert.InDelta(t, 11, b.LossPct, 1)
}

func TestEvidenceGathersOverTests(t *testing.T) {
	one := wear.Healthy.Next(seen(-2.6, 2.8))
	two := one.Next(seen(-2.8, 3))
	assert.Greater(t, two.Changed(), one.Changed())
	assert.Greater(t, two.Changed(), 0.9)
}

func TestWhereItIsHeardTellsAnEarlyLeak(t *testing.T) {
	at := func(p wear.Place) wear.Belief {
		e := seen(-1.8, 2.6)
		e.Heard = p
		return wear.Healthy.Next(e)
	}
	assert.Greater(t, at(wear.AtGasket).Leaking, 0.8, "no sound cylinder blows into the coolant")
	assert.Greater(t, at(wear.AtValve).Leaking, at(wear.Unheard).Leaking)
	assert.Less(t, at(wear.AtFiller).Leaking, at(wear.Unheard).Leaking)
}

func FuzzBeliefsAreChances(f *testing.F) {
	f.Add(-0.1, 0.01, 5.0, 1.0, true)
	f.Add(0.0, 0.0, 0.0, 0.0, false)
	f.Fuzz(func(t *testing.T, c, cse, l, lse float64, again bool) {
		for _, v := range []float64{c, cse, l, lse} {
			if math.IsNaN(v) || math.Abs(v) > 1e4 {
				return
			}
		}
		b := wear.Healthy.Next(wear.Evidence{Compression: c, CompressionSE: math.Abs(cse), Leak: l, LeakSE: math.Abs(lse), Repeated: again})
		assert.InDelta(t, 1, b.Sound+b.Leaking+b.Short, 1e-9)
		for _, v := range []float64{b.Sound, b.Leaking, b.Short, b.Dirt, b.LeakPts, b.LossPct} {
			assert.False(t, math.IsNaN(v) || math.IsInf(v, 0) || v < 0, "%+v", b)
		}
	})
}
