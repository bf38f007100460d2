package sheet_test

import (
	"math"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/sheet"
)

// What the hose takes of a kart's chamber, by the plain law p = (V0/V)ⁿ: 12 cm³ more on both sides of the squeeze.
func TestTheHoseOfASmallChamberIsTold(t *testing.T) {
	closes := 60.0
	l := log.Log{Engine: log.Engine{Name: "Siskin", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1}}}, BoreMM: 52, StrokeMM: 58, RodMM: 100,
		Ratio: 10, IntakeCloses: &closes}, Testers: []log.Tester{{ID: "g", Name: "Long-hose gauge", Kind: log.CompressionTester, DeadVolumeCC: 12}},
		Sessions: []log.Session{{ID: "s1", Date: "2031-01-10", Gauge: "g", Open: true}}}
	s, err := sheet.Of(l, "s1", rules.Shop{})
	require.NoError(t, err)
	said := strings.Join(s.Warnings, " ")
	m := regexp.MustCompile(`12 cm³ in the hose of Long-hose gauge cost (\d+) %`).FindStringSubmatch(said)
	require.NotNil(t, m, said)
	got, _ := strconv.ParseFloat(m[1], 64)

	area, r, rod := math.Pi/4*5.2*5.2, 2.9, 10.0
	a := (180 - closes) * math.Pi / 180
	down := r + rod - (r*math.Cos(a) + math.Sqrt(rod*rod-r*r*math.Sin(a)*math.Sin(a)))
	chamber := area * 5.8 / 9
	bare := math.Pow((chamber+area*down)/chamber, 1.25) - 1
	hosed := math.Pow((chamber+12+area*down)/(chamber+12), 1.25) - 1
	assert.InDelta(t, 100*(1-hosed/bare), got, 0.6)

	l.Engine.BoreMM, l.Engine.StrokeMM, l.Engine.RodMM, l.Testers[0].DeadVolumeCC = 100, 100, 160, 1
	s, err = sheet.Of(l, "s1", rules.Shop{})
	require.NoError(t, err)
	assert.NotContains(t, strings.Join(s.Warnings, " "), "hose", "a big chamber hardly feels it")
}
