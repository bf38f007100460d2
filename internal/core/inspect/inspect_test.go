package inspect_test

import (
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/inspect"
	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

// candidate is a four whose one test has answers, and, where psi are given, a dry compression.
func candidate(psi []float64, answers ...log.Observation) log.Log {
	l := log.Log{Engine: log.Engine{Name: "Siskin", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}}, BoreMM: 86, StrokeMM: 86},
		Sessions: []log.Session{{ID: "s1", Date: "2031-01-10", Stage: "as-found", Observations: answers}}}
	for i, v := range psi {
		p := log.Pull{Reading: units.Reading{Value: v, Unit: units.PSI}}
		l.Sessions[0].Compression = append(l.Sessions[0].Compression, log.Compression{Place: log.Place{Cylinder: i + 1}, Mode: log.Dry, Pulls: []log.Pull{p, p}})
	}
	return l
}

func said(item, finding string) log.Observation {
	return log.Observation{What: "other", Item: item, Finding: finding}
}

func measured(item string, v float64) log.Observation {
	return log.Observation{What: "other", Item: item, Value: &v}
}

func report(l log.Log) inspect.Report {
	v := judge.Log(l, rules.Shop{})
	return inspect.Of(l, l.Sessions[0], v.Sessions[0], false, units.Choice{})
}

var even = []float64{180, 182, 179, 181}

// sound are answers that are as they should be, to every line.
func sound() []log.Observation {
	var all []log.Observation
	for _, it := range rules.Inspected().Items {
		switch {
		case it.Step != "":
			all = append(all, said(it.Item, ""))
		case len(it.Answers) > 0:
			all = append(all, said(it.Item, it.Answers[0].Answer))
		}
	}
	return append(all, measured("end-play", 0.12), measured("stroke", 86), measured("claimed-cc", 1998), measured("claimed-meter", 120000),
		measured("oil-cold", 75), measured("oil-idle", 18), measured("oil-hot", 42))
}

func TestAWholeInspectionEndsInAdvice(t *testing.T) {
	with := func(more ...log.Observation) []log.Observation { return append(sound(), more...) }
	for _, c := range []struct {
		name, advice, says string
		log                log.Log
	}{
		{"nothing", "open", "Nothing has been looked at", candidate(nil)},
		{"sound", "buy", "Buy it", candidate(even, sound()...)},
		{"weeps", "buy", "Buy it", candidate(even, with(said("outside", "weeps"))...)},
		{"one plug oily", "cheaper", "cheaper: one plug is oily", candidate(even, with(said("plugs", "one oily"))...)},
		{"glitter", "leave", "its oil glitters with metal", candidate(even, with(said("oil", "glitter"))...)},
		{"numbers", "leave", "its numbers are ground off", candidate(even, with(said("numbers", "ground off"))...)},
		{"end play", "leave", "1.2 mm of end play, several times the limit", candidate(even, with(measured("end-play", 1.2))...)},
		{"little oil pressure", "cheaper", "5 psi hot at idle", candidate(even, with(measured("oil-idle", 5))...)},
		{"a cylinder dead", "leave", "the test says “Cylinder 3: down 83 %", candidate([]float64{180, 182, 20, 181}, sound()...)},
		{"many small things", "leave", "Leave it", candidate(even, with(said("oil", "milky"), said("coolant", "oil on it"), said("ports", "wet with coolant"))...)},
		{"a small crank", "cheaper", "its stroke measures 79 mm; 86 mm is claimed", candidate(even, with(measured("stroke", 79))...)},
		{"the last answer stands", "buy", "Buy it", candidate(even, append([]log.Observation{said("oil", "glitter")}, sound()...)...)},
		{"compression could not be taken", "cheaper", "only as an unknown", candidate(nil, sound()...)},
	} {
		r := report(c.log)
		assert.Equal(t, c.advice, r.Advice, "%s: %s", c.name, r.Heading)
		assert.Contains(t, r.Heading, c.says, c.name)
	}
}

// Whatever was found, a worse finding on one line never makes the advice milder.
func TestAWorseFindingIsNeverMilder(t *testing.T) {
	severity := map[string]int{"buy": 0, "cheaper": 1, "leave": 2}
	draw := rand.New(rand.NewPCG(5, 8))
	var items []rules.Item
	for _, it := range rules.Inspected().Items {
		if len(it.Answers) > 1 {
			items = append(items, it)
		}
	}
	for range 400 {
		all := sound()
		for range draw.IntN(4) {
			it := items[draw.IntN(len(items))]
			all = append(all, said(it.Item, it.Answers[draw.IntN(len(it.Answers))].Answer))
		}
		it := items[draw.IntN(len(items))]
		mild, bad := it.Answers[0], it.Answers[0]
		for _, a := range it.Answers {
			if a.Weight > bad.Weight {
				bad = a
			}
		}
		before := report(candidate(even, append(all, said(it.Item, mild.Answer))...))
		after := report(candidate(even, append(all, said(it.Item, bad.Answer))...))
		require.GreaterOrEqual(t, severity[after.Advice], severity[before.Advice], "%s: %s", it.Item, bad.Answer)
	}
}

func TestWhatCouldNotBeCheckedStaysUnknown(t *testing.T) {
	r := report(candidate(even, said("oil", ""), said("numbers", "as claimed")))
	assert.Contains(t, r.Unknown, "oil on the dipstick and in the filler")
	assert.Equal(t, "outside", r.Next)
	assert.Equal(t, 3, r.Done, "oil, numbers, and the dry test")
	assert.Contains(t, r.Ask, "Why is it for sale, and may I hear it start cold?")
}

// 181 psi at sea level, both closings assumed, bracket a ratio of about nine: reckoned from V = V0·(p/p0)^(1/n) by hand.
func TestTheWindowOnTheRatio(t *testing.T) {
	r := report(candidate(even))
	assert.Regexp(t, `ratio of \d+\.\d to \d+\.\d`, r.Window)
	assert.Contains(t, r.Window, "assumed")
	l := candidate(even)
	l.Engine.Kind, l.Engine.Fuel = log.FourStroke, "diesel"
	assert.Empty(t, report(l).Window)
}

func TestMileageAgainstWear(t *testing.T) {
	low := []float64{120, 118, 122, 60}
	r := report(candidate(low, measured("claimed-meter", 40000)))
	assert.True(t, strings.Contains(r.Heading+r.Because[len(r.Because)-1].Says, "40,000 km"))
	for _, f := range report(candidate(low, measured("claimed-meter", 240000))).Because {
		assert.NotEqual(t, "claimed-meter", f.Item)
	}
}

func TestAnswersThatNoEngineHasAreNamed(t *testing.T) {
	e := candidate(nil).Engine
	for _, c := range []struct {
		o  log.Observation
		at string
	}{
		{said("nonsense", "x"), "/item"}, {said("oil", "fizzy"), "/finding"}, {measured("oil", 3), "/value"}, {measured("end-play", 3), "/value"},
		{measured("stroke", 250), "/value"}, {measured("stroke", 20), "/value"}, {measured("end-play", -0.1), "/value"}, {said("dry", "fine"), "/item"},
	} {
		f := inspect.CheckAnswer(e, c.o)
		require.Len(t, f, 1, "%+v", c.o)
		assert.Equal(t, c.at, f[0].At)
	}
	assert.Empty(t, inspect.CheckAnswer(e, measured("stroke", 92)))
	assert.Empty(t, inspect.CheckAnswer(e, said("oil", "")), "it could not be checked")
}

func TestTheListGoesByKindAndByOccasion(t *testing.T) {
	names := func(kind string, after bool) string {
		var all []string
		for _, it := range rules.Inspected().For(kind, after) {
			all = append(all, it.Item)
		}
		return strings.Join(all, " ")
	}
	assert.NotContains(t, names(log.Rotary, false), "lash")
	assert.Contains(t, names(log.FourStroke, false), "lash")
	assert.Equal(t, "outside ports plugs strap porcelain oil iron sump manifold blow-by dyno-blow-by leak-down", names(log.FourStroke, true))
}
