package strips

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

func psi(v float64) units.Reading { return units.Reading{Value: v, Unit: units.PSI} }

// visit is a test of a four in psi and percent, pulled twice.
func visit(id, date string, meter float64, pulls [4]float64, leaks [4]float64) log.Session {
	s := log.Session{ID: id, Date: date, Meter: &meter, Build: "b1", Conditions: log.Conditions{EngineTemp: "hot", Throttle: "open"}}
	for i := range pulls {
		place := log.Place{Cylinder: i + 1}
		pull := log.Pull{Reading: psi(pulls[i])}
		s.Compression = append(s.Compression, log.Compression{Place: place, Mode: log.Dry, Tester: "g", Pulls: []log.Pull{pull, pull}})
		s.Leakdown = append(s.Leakdown, log.Leakdown{
			Place: place, Tester: "k", Supply: 100, Held: 100 - leaks[i], Unit: units.PSI, Position: "tdc",
			Paths: []log.Path{{Where: log.Crankcase, Level: 1}},
		})
	}
	return s
}

func siskin() log.Log {
	l := log.Log{
		Engine: log.Engine{
			Name: "Siskin", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}, Names: map[string]string{"3": "rear"}},
			MeterUnit: "h", Fuel: "petrol",
		},
		Testers: []log.Tester{
			{ID: "g", Name: "Gauge", Kind: log.CompressionTester}, {ID: "h", Name: "Other", Kind: log.CompressionTester},
			{ID: "k", Kind: log.LeakdownTester, OrificeMM: 1},
		},
		Builds: []log.Build{{ID: "b1", Date: "2026-01-01", What: "new rings"}},
		Events: []log.Event{{Date: "2026-05-05", What: "missed shift"}},
		Sessions: []log.Session{
			visit("s1", "2026-02-01", 2, [4]float64{180, 181, 179, 180}, [4]float64{3, 3, 3, 3}),
			visit("s2", "2026-04-01", 9, [4]float64{180, 181, 179, 180}, [4]float64{3, 3, 3, 3}),
			visit("s3", "2026-06-01", 15, [4]float64{180, 181, 160, 180}, [4]float64{3, 3, 15, 3}),
		},
	}
	l.Sessions[0].Baseline = true
	l.Sessions[2].Leakdown[2].Paths = append(l.Sessions[2].Leakdown[2].Paths, log.Path{Where: log.Exhaust, Level: 2})
	return l
}

func of(l log.Log) Strips {
	return Of(l, judge.Log(l.Standing(), rules.Shop{}), units.PSI, rules.Shop{})
}

// Each point says what the judge said, and of the leak what the sheet's own sum gives: 100 psi in and 85 held is 15 %.
func TestPointsSayWhatWasJudgedAndMeasured(t *testing.T) {
	l := siskin()
	s, v := of(l), judge.Log(l, rules.Shop{})
	require.Len(t, s.Strips, 4)
	third := s.Strips[2]
	assert.Equal(t, "3 (rear)", third.Called)
	require.Len(t, third.Points, 3)
	last := third.Points[2]
	assert.Equal(t, *v.Sessions[2].Of(3).ChangePct, *last.Change)
	assert.InDelta(t, 100*(160.0/179-1), *last.Change, 1.5, "the others stood")
	assert.True(t, last.Outside)
	assert.Equal(t, v.Sessions[2].Of(3).State, last.State)
	assert.Equal(t, "160 psi", last.Reading)
	assert.InDelta(t, 15, *last.Leak, 0.4)
	assert.Equal(t, log.Exhaust, last.Heard)
	assert.False(t, s.Strips[0].Points[2].Outside)
	assert.Empty(t, s.Strips[0].Points[2].Heard, "a faint breath at the filler is every engine's")
	assert.True(t, third.Points[0].Baseline)
	assert.InDelta(t, 0, *third.Points[0].Change, 0)
	require.Len(t, s.All.Points, 3)
	assert.InDelta(t, 0, *s.All.Points[2].Change, 1.5)
	assert.True(t, s.ByMeter)
	assert.InDelta(t, 2*2.0, third.Band, 3, "twice the doubt of one reading")
}

// A test that was struck is drawn where it would stand, faint, and moves no other point.
func TestAStruckTestIsDrawnFaintWhereItWouldStand(t *testing.T) {
	whole, struck := siskin(), siskin()
	slip := visit("s2b", "2026-05-01", 12, [4]float64{171, 172, 153, 171}, [4]float64{3, 3, 20, 3}) // all 5 % lower, and 3 by 10 more
	slip.Struck = "gauge leaked"
	struck.Sessions = append(struck.Sessions[:2:2], slip, struck.Sessions[2])
	a, b := of(whole), of(struck)
	require.Len(t, b.Visits, 4)
	assert.Equal(t, "gauge leaked", b.Visits[2].Struck)
	point := b.Strips[2].Points[2]
	assert.True(t, point.Faint)
	assert.InDelta(t, 100*(153/179.0/0.95-1), *point.Change, 1)
	assert.InDelta(t, 0, *b.Strips[0].Points[2].Change, 1)
	assert.InDelta(t, 20, *point.Leak, 0.5)
	for i, strip := range a.Strips {
		assert.Equal(t, *strip.Points[2].Change, *b.Strips[i].Points[3].Change)
		assert.False(t, b.Strips[i].Points[3].Faint)
	}
	assert.Len(t, b.All.Points, 3, "what counts for nothing says nothing of all")
}

// A cylinder whose pulls were all struck is drawn faint; one with a good pull beside a struck one is not.
func TestStruckReadingsAreFaint(t *testing.T) {
	l := siskin()
	l.Sessions[1].Compression[1].Pulls[0].Struck, l.Sessions[1].Compression[1].Pulls[1].Struck = "slipped", "slipped"
	l.Sessions[1].Leakdown[1].Struck = "slipped"
	l.Sessions[1].Compression[0].Pulls[0].Struck = "slipped"
	s := of(l)
	assert.True(t, s.Strips[1].Points[1].Faint)
	assert.False(t, s.Strips[0].Points[1].Faint)
}

// A leak that went on a repeat stands with its first attempt behind it.
func TestALeakThatWentOnARepeat(t *testing.T) {
	l := siskin()
	again := l.Sessions[1].Leakdown[3]
	l.Sessions[1].Leakdown[3].Held = 80
	l.Sessions[1].Leakdown = append(l.Sessions[1].Leakdown, again)
	p := of(l).Strips[3].Points[1]
	assert.InDelta(t, 3, *p.Leak, 0.3)
	assert.InDelta(t, 20, *p.First, 0.5)
}

func TestMarksAndSpans(t *testing.T) {
	l := siskin()
	l.Builds = append(l.Builds, log.Build{ID: "b2", Date: "2027-01-01", What: "bored"})
	after := visit("s4", "2027-02-01", 1, [4]float64{190, 190, 190, 190}, [4]float64{2, 2, 2, 2})
	after.Build = "b2"
	for i := range after.Compression {
		after.Compression[i].Tester = "h"
	}
	l.Sessions = append(l.Sessions, after)
	s := of(l)
	var words []string
	for _, m := range s.Marks {
		words = append(words, m.Kind+" "+m.Words)
	}
	assert.Equal(t, []string{"event missed shift", "build bored", "season 2027", "gauge different gauge"}, words)
	assert.Equal(t, 3, s.Marks[1].Before)
	var spans []string
	for _, one := range s.Spans {
		spans = append(spans, one.Kind+" "+one.Name)
	}
	assert.Equal(t, []string{"season 2026", "season 2027", "build new rings", "build bored"}, spans)
	assert.Equal(t, 2, s.Spans[0].To)
	assert.False(t, s.ByMeter, "the meter began anew")
	assert.True(t, s.Strips[0].Points[3].Baseline, "a build is held against itself")
}

// Two hundred tests of eight are laid without a hole or a figure that is none.
func TestAsManyTestsAsThereAre(t *testing.T) {
	l := siskin()
	for i := range 200 {
		pulls := [4]float64{180, 181, 179 - float64(i%7), 180}
		l.Sessions = append(l.Sessions, visit("t"+string(rune('a'+i%26))+string(rune('a'+i/26)), "2027-01-01", 20+float64(i), pulls, [4]float64{3, 3, 4, 3}))
	}
	s := of(l)
	for _, strip := range s.Strips {
		require.Len(t, strip.Points, 203)
		for _, p := range strip.Points {
			assert.False(t, math.IsNaN(*p.Change) || math.IsInf(*p.Change, 0))
		}
	}
}

func TestAnEngineThatWasNeverTested(t *testing.T) {
	l := siskin()
	l.Sessions = nil
	s := of(l)
	assert.Empty(t, s.Visits)
	assert.Len(t, s.Strips, 4)
	assert.False(t, s.ByMeter)
}
