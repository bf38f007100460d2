package demo_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/judge"
	"braxel/internal/core/rules"
	"braxel/internal/demo"
	"braxel/internal/logfile"
)

func TestEachEngineTellsItsStory(t *testing.T) {
	want := map[string]struct {
		state judge.State
		cause string
		at    []int
	}{
		"Heron":   {judge.Act, "exhaust_valve", []int{3}},
		"Bittern": {judge.Act, "gasket_neighbour", []int{5, 7}},
		"Dunlin":  {judge.Steady, "healthy", []int{}},
		"Curlew":  {judge.Steady, "tester", []int{}},
		"Gannet":  {judge.Act, "bent_rod", []int{4}},
		"Wren":    {judge.Act, "rings_bore", []int{1}},
		"Kestrel": {judge.Steady, "healthy", []int{}},
		"Osprey":  {judge.Retest, "rings_bore", []int{4}},
		"Plover":  {judge.Act, "rings_bore", []int{2}},
	}
	for _, l := range demo.Logs() {
		last, ok := judge.Log(l, rules.Shop{}).Latest()
		require.True(t, ok)
		w := want[l.Engine.Name]
		assert.Equal(t, w.state, last.State, "%s: %s", l.Engine.Name, last.Sentence)
		assert.Equal(t, w.cause, last.Causes[0].Cause, l.Engine.Name)
		assert.Equal(t, w.at, last.Causes[0].Cylinders, l.Engine.Name)
	}
}

func TestTheWorkshopIsTheSameEachTimeAndAValidLog(t *testing.T) {
	again := demo.Logs()
	for i, l := range demo.Logs() {
		assert.Equal(t, again[i], l)
		text, err := logfile.Write(l)
		require.NoError(t, err)
		_, unknown, err := logfile.Read(text)
		require.NoError(t, err)
		assert.Empty(t, unknown)
	}
}
