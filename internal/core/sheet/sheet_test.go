package sheet_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/sheet"
	"braxel/internal/core/units"
)

func v6() log.Log {
	return log.Log{
		Engine:   log.Engine{Name: "Curlew", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3}, {4, 5, 6}}}},
		Sessions: []log.Session{{ID: "s1", Date: "2031-02-14", Open: true}},
	}
}

var typed int

// take types one pull in psi and returns the doubt about it.
func take(t *testing.T, l *log.Log, cylinder int, psi float64) string {
	t.Helper()
	typed++
	p := log.Pull{Reading: units.Reading{Value: psi, Unit: units.PSI}, Key: fmt.Sprint("key", typed), At: fmt.Sprintf("2031-02-14T10:%02d:00Z", typed%60)}
	row := log.Compression{Place: log.Place{Cylinder: cylinder}, Mode: log.Dry, Pulls: []log.Pull{p}}
	doubt := sheet.Doubts(*l, "s1", row, rules.Shop{})
	rows := &l.Sessions[0].Compression
	for i := range *rows {
		if (*rows)[i].Cylinder == cylinder {
			(*rows)[i].Pulls = append((*rows)[i].Pulls, p)
			return doubt
		}
	}
	*rows = append(*rows, row)
	return doubt
}

func says(t *testing.T, l log.Log) string {
	t.Helper()
	s, err := sheet.Of(l, "s1", rules.Shop{})
	require.NoError(t, err)
	return s.Prompt.Say
}

func TestTheSheetLeadsFromCylinderToCylinder(t *testing.T) {
	typed = 0
	l := v6()
	assert.Equal(t, "Next: 1, bank 1, front", says(t, l))
	take(t, &l, 1, 150)
	assert.Equal(t, "1 again: two must agree", says(t, l))
	take(t, &l, 1, 165)
	assert.Equal(t, "1 again: the last two don't agree", says(t, l))
	take(t, &l, 1, 164)
	assert.Equal(t, "Next: 2, same bank, second from front", says(t, l))
	for _, c := range []int{2, 2, 3, 3} {
		take(t, &l, c, 160)
	}
	assert.Equal(t, "Next: 4, bank 2, front", says(t, l))
	for _, c := range []int{5, 5} {
		take(t, &l, c, 160)
	}
	assert.Equal(t, "Next: 6, same bank, rear", says(t, l))
	for _, c := range []int{6, 6, 4, 4} {
		take(t, &l, c, 160)
	}
	assert.Equal(t, "All cylinders read.", says(t, l))
}

func TestGoingBackToACylinderKeepsItsTurn(t *testing.T) {
	typed = 0
	l := v6()
	for _, c := range []int{1, 1, 2, 2} {
		take(t, &l, c, 160)
	}
	take(t, &l, 1, 140)
	assert.Equal(t, "1 again: the last two don't agree", says(t, l), "what was typed last leads, wherever its row stands")
}

func TestAnUnlikelyReadingIsDoubted(t *testing.T) {
	l := v6()
	assert.Empty(t, take(t, &l, 1, 160))
	assert.Contains(t, take(t, &l, 1, 16), "The last reading on 1 was 160 psi")
	l = v6()
	take(t, &l, 2, 158)
	take(t, &l, 3, 158)
	assert.Contains(t, take(t, &l, 4, 15), "The others are near 158 psi")
	assert.Empty(t, take(t, &l, 5, 150))
}

func TestATestThatIsNotThereIsSaidToBeUnknown(t *testing.T) {
	_, err := sheet.Of(v6(), "s9", rules.Shop{})
	assert.ErrorIs(t, err, sheet.ErrUnknown)
}

func TestANewTestIsFilledFromTheLast(t *testing.T) {
	l := v6()
	l.Sessions[0].Conditions = log.Conditions{EngineTemp: "cold", PlugsOut: "one", BatteryV: 12.6}
	l.Sessions[0].Baseline = true
	next := sheet.Begin(l, "2031-01-01", rules.Shop{})
	assert.Equal(t, "2031-02-14", next.Date, "never before the test that it follows")
	assert.Equal(t, "cold", next.Conditions.EngineTemp)
	assert.Equal(t, "one", next.Conditions.PlugsOut)
	assert.Zero(t, next.Conditions.BatteryV, "a voltage is of its day")
	assert.False(t, next.Baseline)
	l.Sessions[0].Stage = "pre-install"
	assert.Equal(t, "after-running", sheet.Begin(l, "2031-03-01", rules.Shop{}).Stage, "an engine is installed once")
	l.Sessions[0].Stage = "between-runs"
	assert.Equal(t, "between-runs", sheet.Begin(l, "2031-03-01", rules.Shop{}).Stage)
	l.Builds = []log.Build{{ID: "b1", Date: "2031-01-01"}, {ID: "b2", Date: "2031-02-20"}}
	assert.True(t, sheet.Begin(l, "2031-03-01", rules.Shop{}).Baseline, "a new build begins a new baseline")
}
