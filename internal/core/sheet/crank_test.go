package sheet_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/sheet"
	"braxel/internal/core/units"
)

func four(kind, fuel string, s log.Session) log.Log {
	s.ID, s.Date = "s1", "2031-02-14"
	return log.Log{Engine: log.Engine{
		Name: "Siskin", Kind: kind, Fuel: fuel, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}}, FiringOrder: []int{1, 3, 4, 2},
	}, Sessions: []log.Session{s}}
}

func of(t *testing.T, l log.Log) sheet.Sheet {
	t.Helper()
	got, err := sheet.Of(l, "s1", rules.Shop{})
	require.NoError(t, err)
	return got
}

func TestTheStarterIsRunAsTheTestHasIt(t *testing.T) {
	by := func(c log.Cranking) log.Session {
		return log.Session{Conditions: log.Conditions{Cranking: c, Throttle: "open"}}
	}
	needle := of(t, four(log.FourStroke, "", by(log.Cranking{Rule: "plateau"}))).Crank
	assert.Equal(t, sheet.Crank{About: 5, Most: 10, Rest: 3, Pedal: "pedal to the floor"}, needle)
	timed := of(t, four(log.FourStroke, "", by(log.Cranking{Rule: "time", Seconds: 12}))).Crank
	assert.Equal(t, []float64{12, 12, 12}, []float64{timed.Seconds, timed.About, timed.Most}, "who asks for twelve seconds gets them")
	// Six beats of a cylinder are twelve turns of a four-stroke and six of a two-stroke: at 200 rpm 3.6 and 1.8 s.
	counted := of(t, four(log.FourStroke, "", by(log.Cranking{Rule: "count", Count: 6}))).Crank
	assert.InDelta(t, 3.6, counted.About, 1e-9)
	counted = of(t, four(log.TwoStroke, "", by(log.Cranking{Rule: "count", Count: 6, RPM: 400}))).Crank
	assert.InDelta(t, 0.9, counted.About, 1e-9)

	diesel := four(log.FourStroke, "diesel", by(log.Cranking{}))
	assert.Empty(t, of(t, diesel).Crank.Pedal, "a diesel has no throttle to hold")
	stand := by(log.Cranking{})
	stand.Place = "stand"
	assert.Equal(t, "throttle wide open", of(t, four(log.FourStroke, "", stand)).Crank.Pedal, "nor a stand a pedal")

	ran := by(log.Cranking{})
	ran.Compression = []log.Compression{{Place: log.Place{Cylinder: 1}, Mode: log.Dry, Pulls: []log.Pull{
		{Reading: units.Reading{Value: 170, Unit: units.PSI}, Seconds: 5}, {Reading: units.Reading{Value: 90, Unit: units.PSI}, Seconds: 4, Struck: "x"},
	}}}
	assert.InDelta(t, 9, of(t, four(log.FourStroke, "", ran)).Crank.Ran, 0, "a struck pull has warmed it, too")
}

func TestATwoStrokeHasNoValvesToSpeakOf(t *testing.T) {
	s := log.Session{Leakdown: []log.Leakdown{
		{Place: log.Place{Cylinder: 1}, Supply: 100, Held: 60, Unit: units.PSI},
		{Place: log.Place{Cylinder: 4}, Supply: 100, Held: 98, Unit: units.PSI},
	}}
	for kind, want := range map[string]bool{log.TwoStroke: false, log.FourStroke: true} {
		got := of(t, four(kind, "", s))
		words := got.LeakNext.Say + got.Wheel.Check
		for _, c := range got.Leak {
			words += c.Say + c.Again
		}
		for _, w := range got.Wheel.Says {
			words += w
		}
		if want {
			assert.Contains(t, words, "valves")
		} else {
			assert.NotContains(t, words, "valve")
			assert.NotContains(t, words, "compression stroke")
		}
	}
}

func TestTheFirstPullOfNothingIsDoubted(t *testing.T) {
	pull := func(v float64) log.Compression {
		return log.Compression{Place: log.Place{Cylinder: 1}, Mode: log.Dry, Pulls: []log.Pull{{Reading: units.Reading{Value: v, Unit: units.PSI}}}}
	}
	l := four(log.FourStroke, "", log.Session{})
	assert.Contains(t, sheet.Doubts(l, "s1", pull(0), rules.Shop{}), "didn't move")
	assert.Empty(t, sheet.Doubts(l, "s1", pull(170), rules.Shop{}))
}

func TestReadingsOfAnotherTesterThanTheHeadNamesAreCounted(t *testing.T) {
	row := func(c int, tester, key string) log.Compression {
		return log.Compression{Place: log.Place{Cylinder: c}, Mode: log.Dry, Tester: tester, Pulls: []log.Pull{{Reading: units.Reading{Value: 170, Unit: units.PSI}, Key: key}}}
	}
	s := log.Session{Gauge: "short", Compression: []log.Compression{row(1, "long", "a"), row(2, "short", "b"), row(3, "long", "c"), row(4, "", "d")}}
	l := four(log.FourStroke, "", s)
	l.Testers = []log.Tester{{ID: "long", Name: "Long hose"}, {ID: "short", Name: "Short"}}
	got := of(t, l).Others
	require.Len(t, got, 2)
	assert.Equal(t, sheet.Other{Tester: "long", Name: "Long hose", To: "short", ToName: "Short", Readings: []string{"a", "c"}}, got[0])
	assert.Equal(t, []string{"d"}, got[1].Readings)
	s.Gauge = ""
	assert.Empty(t, of(t, four(log.FourStroke, "", s)).Others, "where no gauge is named, none is another")
}

func TestABatteryThatFellIsSaid(t *testing.T) {
	said := func(start, end float64, fuel string) string {
		all := ""
		s := log.Session{Conditions: log.Conditions{BatteryV: start, BatteryEnd: end, Throttle: "closed"}}
		for _, w := range of(t, four(log.FourStroke, fuel, s)).Warnings {
			all += w
		}
		return all
	}
	assert.Contains(t, said(12.7, 12.1, ""), "fell from 12.7 to 12.1 V")
	assert.Contains(t, said(12.7, 12.1, ""), "repeat the first one")
	assert.NotContains(t, said(12.7, 12.5, ""), "battery")
	assert.Contains(t, said(0, 11.8, ""), "was at 11.8 V")
	assert.NotContains(t, said(12.7, 12.6, "diesel"), "throttle")
}
