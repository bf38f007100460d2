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

func leak(c int, supply, held float64, key string, paths []log.Path) log.Leakdown {
	return log.Leakdown{Place: log.Place{Cylinder: c}, Supply: supply, Held: held, Unit: units.PSI, Position: "tdc", Key: key, Paths: paths}
}

func TestALeakOf82And77Is6Point1Percent(t *testing.T) {
	l := v6()
	a := sheet.Reckon(l, l.Sessions[0], leak(1, 82, 77, "a", nil))
	assert.InDelta(t, 6.1, a.LeakPct, 0.01)
	require.NotNil(t, a.ReferencePct)
	assert.InDelta(t, 5.9, *a.ReferencePct, 0.15, "at 100 psi the same hole shows a little less")
	assert.True(t, a.Assumed, "nobody gave the orifice")
	assert.Equal(t, "not listened", a.Heard)
	assert.Equal(t, "nothing heard", sheet.Reckon(l, l.Sessions[0], leak(1, 82, 77, "a", []log.Path{})).Heard)
}

func TestLeakDownGoesInFiringOrderAndAsksForARepeat(t *testing.T) {
	l := v6()
	l.Engine.FiringOrder = []int{1, 4, 2, 5, 3, 6}
	step := func() sheet.Prompt {
		s, err := sheet.Of(l, "s1", rules.Shop{})
		require.NoError(t, err)
		return s.LeakNext
	}
	assert.Equal(t, 1, step().Cylinder)
	l.Sessions[0].Leakdown = append(l.Sessions[0].Leakdown, leak(1, 100, 96, "a", []log.Path{}))
	assert.Equal(t, "Turn 120° clockwise to 4. Both its valves are shut; 3 is on overlap.", step().Say)
	l.Sessions[0].Leakdown = append(l.Sessions[0].Leakdown, leak(4, 100, 80, "b", []log.Path{{Where: log.Exhaust, Level: 2}}))
	assert.True(t, step().Again, "dirt on a seat clears, a burnt valve does not")
	l.Sessions[0].Leakdown = append(l.Sessions[0].Leakdown, leak(4, 100, 96, "c", []log.Path{}))
	assert.Equal(t, 2, step().Cylinder)
	l.Sessions[0].Leakdown = append(l.Sessions[0].Leakdown, leak(2, 100, 94, "d", []log.Path{{Where: log.PlugHole, Level: 3}}))
	assert.Contains(t, step().Say, "tester's seal")
}

func wet(c int, psi float64) log.Compression {
	p := log.Pull{Reading: units.Reading{Value: psi, Unit: units.PSI}}
	return log.Compression{Place: log.Place{Cylinder: c}, Mode: log.Wet, OilCC: 5, Pulls: []log.Pull{p, p}}
}

func TestOilIsToldFromRings(t *testing.T) {
	closes := 60.0
	for name, c := range map[string]struct {
		three float64
		says  string
	}{
		"rings":  {160, "rings or bore"},
		"valves": {125, "no more than its own room"},
	} {
		l := v6()
		l.Engine.BoreMM, l.Engine.StrokeMM, l.Engine.RodMM, l.Engine.Ratio, l.Engine.IntakeCloses = 86, 86, 145, 10, &closes
		for i, psi := range []float64{170, 171, 120, 170, 169, 170} {
			take(t, &l, i+1, psi)
			take(t, &l, i+1, psi)
		}
		s, _ := sheet.Of(l, "s1", rules.Shop{})
		assert.Equal(t, []bool{false, true, true, false, false, false}, []bool{s.Wet[0].Asked, s.Wet[1].Asked, s.Wet[2].Asked, s.Wet[3].Asked, s.Wet[4].Asked, s.Wet[5].Asked}, "the low one, and the best to compare with")
		l.Sessions[0].Compression = append(l.Sessions[0].Compression, wet(3, c.three), wet(2, 179))
		s, _ = sheet.Of(l, "s1", rules.Shop{})
		assert.Contains(t, s.Wet[2].Says, c.says, name)
		assert.Contains(t, s.Wet[1].Says, "good cylinder", name)
	}
}

func TestAnUnlikeTestIsNotComparedWithoutSayingSo(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*log.Session)
		says   string
	}{
		"plugs": {func(s *log.Session) { s.Conditions.PlugsOut = "one" }, "one at a time"},
		"cold":  {func(s *log.Session) { s.Conditions.EngineTemp = "cold" }, "The engine was cold; for the baseline hot"},
		"gauge": {func(s *log.Session) { s.Compression[0].Tester = "other" }, "Read on gauge other"},
	} {
		l := v6()
		l.Sessions = append(l.Sessions, log.Session{ID: "s2", Date: "2031-05-01"})
		for i := range l.Sessions {
			p := log.Pull{Reading: units.Reading{Value: 160, Unit: units.PSI}}
			l.Sessions[i].Conditions = log.Conditions{PlugsOut: "all", EngineTemp: "hot"}
			l.Sessions[i].Compression = []log.Compression{{Place: log.Place{Cylinder: 1}, Mode: log.Dry, Tester: "g", Pulls: []log.Pull{p, p}}}
		}
		s, err := sheet.Of(l, "s2", rules.Shop{})
		require.NoError(t, err)
		require.Len(t, s.Verdict.Caveats, 1, name)
		assert.Equal(t, "Not tested: 2, 3, 4, 5 and 6. Nothing is said of them.", s.Verdict.Caveats[0])
		assert.Equal(t, []int{2, 3, 4, 5, 6}, s.Unread)
		c.change(&l.Sessions[1])
		s, err = sheet.Of(l, "s2", rules.Shop{})
		require.NoError(t, err)
		require.Len(t, s.Verdict.Caveats, 2, name)
		assert.Contains(t, s.Verdict.Caveats[0], c.says, name)
	}
}

func TestASaggingBatteryIsSaid(t *testing.T) {
	l := v6()
	for i, v := range []float64{12.7, 12.4, 11.9} {
		p := log.Pull{Reading: units.Reading{Value: 160, Unit: units.PSI}, BatteryV: v}
		l.Sessions[0].Compression = append(l.Sessions[0].Compression, log.Compression{Place: log.Place{Cylinder: i + 1}, Mode: log.Dry, Pulls: []log.Pull{p}})
	}
	s, _ := sheet.Of(l, "s1", rules.Shop{})
	assert.Contains(t, s.Warnings[0], "fell from 12.7 to 11.9 V")
}

func TestAFigureIsTypedInItsTestersOwnUnit(t *testing.T) {
	l := v6()
	l.Testers = []log.Tester{
		{ID: "bar", Kind: "compression", Resolution: &units.Reading{Value: 0.1, Unit: units.Bar}},
		{ID: "kit", Kind: "leakdown", Range: &units.Reading{Value: 700, Unit: units.KPa}},
	}
	l.Sessions = append(l.Sessions, log.Session{ID: "s2", Date: "2031-05-01", Gauge: "bar", Kit: "kit"})
	s, err := sheet.Of(l, "s2", rules.Shop{})
	require.NoError(t, err)
	assert.Equal(t, units.Bar, s.Unit)
	assert.Equal(t, units.KPa, s.LeakUnit)
	p := log.Pull{Reading: units.Reading{Value: 170, Unit: units.PSI}}
	l.Sessions[1].Compression = []log.Compression{{Place: log.Place{Cylinder: 1}, Mode: log.Dry, Tester: "bar", Pulls: []log.Pull{p}}}
	l.Sessions[1].Leakdown = []log.Leakdown{{Place: log.Place{Cylinder: 2}, Supply: 7, Held: 6.5, Unit: units.Bar}}
	s, err = sheet.Of(l, "s2", rules.Shop{})
	require.NoError(t, err)
	assert.Equal(t, units.PSI, s.Unit, "what was typed into this test comes first")
	assert.Equal(t, units.Bar, s.LeakUnit)
	assert.Equal(t, []int{3, 4, 5, 6}, s.Unread, "2 was leaked down")
}
