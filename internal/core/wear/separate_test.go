package wear_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/wear"
)

func changes(pct ...float64) []float64 {
	d := make([]float64, len(pct))
	for i, p := range pct {
		d[i] = math.Log(1 + p/100)
	}
	return d
}

func TestOneCylinderIsToldFromAll(t *testing.T) {
	for name, c := range map[string]struct {
		pct    []float64
		common float64
		moved  []int
	}{
		"nothing moved":                        {[]float64{0.4, -0.6, 0.2, -0.3}, 0, nil},
		"one lost 9 %":                         {[]float64{0.3, -0.4, -9, 0.2}, 0, []int{2}},
		"all lost 9 %":                         {[]float64{-9.2, -8.8, -9.1, -8.7}, -9, nil},
		"all lost 9 % and one 9 more":          {[]float64{-9, -17.2, -9.3, -8.8}, -9, []int{1}},
		"two of four lost 14 %":                {[]float64{0.2, -14, -14.3, -0.1}, 0, []int{1, 2}},
		"of two, the one that lost":            {[]float64{-0.3, -12}, 0, []int{1}},
		"a gain beside a dead one is no fault": {[]float64{1.5, -95, 0.2, 0}, 0.5, []int{1}},
	} {
		se := make([]float64, len(c.pct))
		for i := range se {
			se[i] = 0.012
		}
		s := wear.Separate(changes(c.pct...), se, wear.Compression)
		assert.InDelta(t, c.common/100, s.Common, 0.012, name)
		var moved []int
		for i, p := range s.Chance {
			if p > 0.9 {
				moved = append(moved, i)
			}
		}
		assert.Equal(t, c.moved, moved, "%s: %v", name, s.Chance)
	}
}

func FuzzSeparateStaysANumber(f *testing.F) {
	f.Add(0.0, -0.1, 3.0, 0.01)
	f.Fuzz(func(t *testing.T, a, b, c, se float64) {
		for _, v := range []float64{a, b, c, se} {
			if math.IsNaN(v) || math.Abs(v) > 20 {
				return
			}
		}
		s := wear.Separate([]float64{a, b, c}, []float64{math.Abs(se) + 0.001, 0.01, 0.02}, wear.Compression)
		for i := range s.Own {
			assert.False(t, math.IsNaN(s.Own[i]) || math.IsInf(s.Own[i], 0))
			assert.True(t, s.Chance[i] >= 0 && s.Chance[i] <= 1, "%v", s.Chance[i])
		}
	})
}
