package log_test

import (
	"fmt"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

func v8() log.Engine {
	return log.Engine{Name: "Siskin", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 3, 5, 7}, {2, 4, 6, 8}}},
		FiringOrder: []int{1, 8, 4, 3, 6, 5, 7, 2}, FiringIntervals: []float64{90, 90, 90, 90, 90, 90, 90, 90}}
}

func pointers(f log.Faults) []string {
	var at []string
	for _, one := range f {
		at = append(at, one.At)
	}
	return at
}

func TestAnEnginesFaultsAreNamedByField(t *testing.T) {
	require.Empty(t, v8().Check())
	for name, c := range map[string]struct {
		spoil func(*log.Engine)
		at    []string
	}{
		"no name":                      {func(e *log.Engine) { e.Name = "  " }, []string{"/name"}},
		"a number used twice":          {func(e *log.Engine) { e.Layout.Banks[1][3] = 1 }, []string{"/layout/banks/1/3"}},
		"a number beyond any engine":   {func(e *log.Engine) { e.Layout.Banks[0][0] = 65 }, []string{"/layout/banks/0/0"}},
		"an empty bank":                {func(e *log.Engine) { e.Layout.Banks[1] = nil }, []string{"/layout/banks/1"}},
		"no cylinder at all":           {func(e *log.Engine) { e.Layout.Banks = nil }, []string{"/layout/banks"}},
		"an order that repeats":        {func(e *log.Engine) { e.FiringOrder[7] = 1 }, []string{"/firing_order"}},
		"an order that is short":       {func(e *log.Engine) { e.FiringOrder = e.FiringOrder[:7] }, []string{"/firing_order", "/firing_intervals_deg"}},
		"intervals beyond a cycle":     {func(e *log.Engine) { e.FiringIntervals[2] = 800 }, []string{"/firing_intervals_deg/2", "/firing_intervals_deg"}},
		"intervals that do not add up": {func(e *log.Engine) { e.FiringIntervals[2] = 60 }, []string{"/firing_intervals_deg"}},
		"a rod within the crank":       {func(e *log.Engine) { e.StrokeMM, e.RodMM = 90, 45 }, []string{"/rod_mm"}},
		"a rotary without rotors":      {func(e *log.Engine) { e.Kind, e.Layout.Banks = log.Rotary, nil }, []string{"/layout/rotors"}},
		"a rotary with banks":          {func(e *log.Engine) { e.Kind, e.Layout.Rotors = log.Rotary, 2 }, []string{"/layout/banks"}},
		"a piston engine with rotors":  {func(e *log.Engine) { e.Layout.Rotors = 2 }, []string{"/layout/rotors"}},
		"more typed than it has":       {func(e *log.Engine) { e.Typed = manyTyped(21) }, []string{"/typed"}},
		"typed at length":              {func(e *log.Engine) { e.Typed = log.Typed{"bore_mm": strings.Repeat("3", 41)} }, []string{"/typed/bore_mm"}},
		"a firing order without end":   {func(e *log.Engine) { e.FiringOrder = make([]int, 65) }, []string{"/firing_order", "/firing_order", "/firing_intervals_deg"}},
		"a name for no cylinder":       {func(e *log.Engine) { e.Layout.Names = map[string]string{"9": "rear"} }, []string{"/layout/names/9"}},
	} {
		e := v8()
		c.spoil(&e)
		assert.Equal(t, c.at, pointers(e.Check()), name)
	}
}

func TestATwoStrokesCycleIsOneTurn(t *testing.T) {
	e := v8()
	e.Kind = log.TwoStroke
	assert.Equal(t, []string{"/firing_intervals_deg"}, pointers(e.Check()), "720° are two turns")
	e.FiringIntervals = []float64{45, 45, 45, 45, 45, 45, 45, 45}
	assert.Empty(t, e.Check())
}

func TestALogsFaultsAreAllNamed(t *testing.T) {
	psi := func(v float64) log.Pull { return log.Pull{Reading: units.Reading{Value: v, Unit: units.PSI}} }
	l := log.Log{Format: log.Format, Version: log.Version, Engine: v8(), Sessions: []log.Session{
		{ID: "s1", Date: "2031-02-14", Compression: []log.Compression{{Place: log.Place{Cylinder: 9}, Mode: log.Dry, Pulls: []log.Pull{psi(150), psi(1500)}}}},
		{ID: "s1", Date: "2031-02-13", Leakdown: []log.Leakdown{
			{Place: log.Place{Cylinder: 1}, Supply: 90, Held: 95, Unit: units.PSI},
			{Place: log.Place{Cylinder: 9}, Supply: 500, Held: 95, Unit: units.PSI},
			{Place: log.Place{Cylinder: 2}, Supply: 90, Held: 85, Unit: "stone", Paths: []log.Path{{Where: log.Neighbour, Cylinder: 2}}},
		}},
	}}
	assert.ElementsMatch(t, []string{
		"/sessions/0/compression/0/cylinder", "/sessions/0/compression/0/pulls/1/value",
		"/sessions/1/id", "/sessions/1/date",
		"/sessions/1/leakdown/0/held", "/sessions/1/leakdown/1/cylinder", "/sessions/1/leakdown/1/supply",
		"/sessions/1/leakdown/2/unit", "/sessions/1/leakdown/2/paths/0/cylinder",
	}, pointers(l.Check()))
	err := l.Check().Err()
	require.Error(t, err)
	assert.Contains(t, err.Error(), "session \"s1\" is there twice")
	assert.NoError(t, log.Faults{}.Err())
}

func TestARotorsRowNeedsItsFace(t *testing.T) {
	l := log.Log{Format: log.Format, Version: log.Version, Engine: log.Engine{Name: "Siskin", Kind: log.Rotary, Layout: log.Layout{Rotors: 2}}, Sessions: []log.Session{{ID: "s1", Date: "2031-02-14",
		Compression: []log.Compression{{Place: log.Place{Rotor: 1}, Mode: log.Dry}, {Place: log.Place{Rotor: 3, Face: 1}, Mode: log.Dry}, {Place: log.Place{Rotor: 2, Face: 3}, Mode: log.Dry}}}}}
	assert.Equal(t, []string{"/sessions/0/compression/0/face", "/sessions/0/compression/1/rotor"}, pointers(l.Check()))
	assert.Equal(t, []int{1, 2}, l.Engine.Cylinders())
}

func TestASessionThatNamesNoBuildBelongsToTheOneOfItsDate(t *testing.T) {
	l := log.Log{Builds: []log.Build{{ID: "b1", Date: "2031-01-10"}, {ID: "b2", Date: "2031-06-01"}}}
	for want, s := range map[string]log.Session{
		"b1": {Date: "2031-05-31"}, "b2": {Date: "2031-06-01"}, "": {Date: "2030-12-01"}, "b3": {Date: "2031-07-01", Build: "b3"},
	} {
		assert.Equal(t, want, l.BuildOf(s), s.Date)
	}
	assert.Equal(t, "b1", log.Log{Builds: []log.Build{{ID: "b1"}}}.BuildOf(log.Session{Date: "2031-05-31"}), "a build without a date was always there")
	assert.Empty(t, log.Log{}.BuildOf(log.Session{}))
}

func TestNumbersAreJoinedAsTheyAreSaid(t *testing.T) {
	for want, n := range map[string][]int{"1, 2, 3": {1, 2, 3}, "4": {4}, "": {}} {
		assert.Equal(t, want, log.Join(n, ", "), fmt.Sprint(n))
	}
}

func manyTyped(n int) log.Typed {
	all := log.Typed{}
	for i := range n {
		all[strconv.Itoa(i)] = "3.25 in"
	}
	return all
}
