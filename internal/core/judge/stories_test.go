package judge_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/golden"
)

// after is what happened between the first two tests of a situation.
func after(kind, what string) log.Event {
	meter := 7.0
	return log.Event{Date: "2031-01-25", Meter: &meter, Kind: kind, What: what}
}

func seen(what, finding string, cylinder int) []log.Observation {
	return []log.Observation{{What: what, Place: log.Place{Cylinder: cylinder}, Finding: finding}}
}

func build(s *log.Session) { s.Stage = "pre-install" }

var sixLow = []float64{180, 181, 158, 180, 182, 180}

func twoStroke(n int) log.Engine {
	return with(inline(n), func(e *log.Engine) { e.Kind, e.Duty = log.TwoStroke, "kart" })
}

// stories are situations with what happened before them.
var stories = []struct {
	situation
	happened []log.Event
}{
	{situation{"ran hot, neighbours low", inline(4), []test{rightDry, {psi: []float64{180, 152, 150, 180}}}}, []log.Event{after("ran-hot", "boiled over in the queue")}},
	{situation{"ran hot, one low, nobody listened", inline(4), []test{right, {psi: []float64{180, 182, 150, 180}, leak: []float64{3, 4, 30, 4}}}}, []log.Event{after("", "lost all its water through a split hose")}},
	{situation{"ran hot, nothing shows", inline(4), []test{right, right}}, []log.Event{after("ran-hot", "needle in the red for a minute")}},
	{situation{"it did not overheat", inline(6), []test{six, {psi: sixLow}}}, []log.Event{after("other", "long hot day, but it did not overheat")}},
	{situation{"missed a shift, one low by compression alone", inline(6), []test{six, {psi: sixLow}}}, []log.Event{after("over-revved", "missed third")}},
	{situation{"missed a shift, neighbours low, each leaks at its exhaust", inline(4), []test{right, {psi: []float64{180, 140, 138, 180}, leak: []float64{3, 40, 45, 4}, heard: map[int][]log.Path{2: at(log.Exhaust, 3), 3: at(log.Exhaust, 3)}}}}, []log.Event{after("", "buzzed it, tell-tale at 9200")}},
	{situation{"took water, one down 8 %, holds air", inline(6), []test{six, {psi: []float64{180, 181, 165, 180, 182, 180}, leak: []float64{3, 3, 4, 3, 4, 3}}}}, []log.Event{after("took-water", "stopped dead in the ford")}},
	{situation{"took water, one down 6 %, nothing else done", inline(6), []test{six, {psi: []float64{180, 181, 168, 180, 182, 180}}}}, []log.Event{after("", "hydraulic lock, the starter stopped")}},
	{situation{"took water, one down 8 %, piston height as the others", inline(6), []test{six, {psi: []float64{180, 181, 165, 180, 182, 180}, leak: []float64{3, 3, 4, 3, 4, 3}, seen: seen("stroke-marks", "as the others", 3)}}}, []log.Event{after("took-water", "stopped dead in the ford")}},
	{situation{"piston short, seen at the test before", inline(6), []test{six, {psi: []float64{180, 181, 165, 180, 182, 180}, leak: []float64{3, 3, 4, 3, 4, 3}, seen: seen("stroke-marks", "stops short", 3)}, {psi: []float64{180, 181, 166, 180, 182, 180}}}}, nil},
	{situation{"knocked, one low, oil helps little", inline(4), []test{rightDry, {psi: []float64{180, 182, 135, 180}, wet: map[int]float64{3: 148, 1: 194}}}}, []log.Event{after("ran-lean", "detonated on bad fuel")}},
	{situation{"ran without oil, one low, no leak", inline(4), []test{right, {psi: []float64{180, 182, 155, 180}, leak: right.leak}}}, []log.Event{after("lost-oil", "oil light on in the long corner")}},
	{situation{"ran without oil, under a wrong kind", inline(4), []test{right, {psi: []float64{180, 182, 155, 180}, leak: []float64{3, 4, 20, 4}}}}, []log.Event{after("hit", "sump plug fell out, no oil left")}},
	{situation{"stood all winter, one low", inline(4), []test{right, {psi: []float64{180, 182, 140, 180}, leak: []float64{3, 4, 40, 4}, heard: map[int][]log.Path{3: at(log.Intake, 3)}}}}, []log.Event{after("stood", "not run since autumn")}},
	{situation{"dust, all leak more", inline(4), []test{right, {psi: []float64{165, 167, 163, 165}, leak: []float64{10, 11, 10, 12}}, {psi: []float64{158, 160, 155, 157}, leak: []float64{14, 15, 14, 16}}}}, []log.Event{after("took-dirt", "ran a stage without the air filter")}},
	{situation{"cam belt renewed, all down a sixth", inline(4), []test{right, {psi: []float64{150, 152, 149, 150}, leak: right.leak}}}, []log.Event{after("", "new cam belt and tensioner")}},
	{situation{"cam chain renewed, one bank a seventh low", with(inline(6), func(e *log.Engine) { e.Layout.Banks = [][]int{{1, 2, 3}, {4, 5, 6}} }), []test{six, {psi: []float64{180, 181, 179, 154, 156, 154}}}}, []log.Event{after("", "front cover off, chain and guides renewed")}},
	{situation{"one bank a seventh low, nothing happened", with(inline(6), func(e *log.Engine) { e.Layout.Banks = [][]int{{1, 2, 3}, {4, 5, 6}} }), []test{six, {psi: []float64{180, 181, 179, 154, 156, 154}}}}, nil},
	{situation{"cam belt renewed, all down 4 %", inline(4), []test{right, {psi: []float64{172, 174, 170, 172}, leak: right.leak}}}, []log.Event{after("cam-drive", "belt changed")}},
	{situation{"a kart engine ran lean", twoStroke(1), []test{{psi: []float64{150}, leak: []float64{6}}, {psi: []float64{110}, leak: []float64{30}}}}, []log.Event{after("", "main jet half blocked, plug came out white")}},
	{situation{"a two-stroke twin, both down a fifth", twoStroke(2), []test{{psi: []float64{150, 152}}, {psi: []float64{120, 121}}}}, nil},
	{situation{"a fresh build, one leaks at its exhaust after the first run", with(inline(4), racing), []test{{psi: right.psi, leak: []float64{5, 6, 5, 6}, with: build}, {psi: []float64{182, 184, 172, 182}, leak: []float64{3, 4, 16, 4}, heard: map[int][]log.Path{3: at(log.Exhaust, 2)}}}}, []log.Event{after("first-run", "first start, twenty minutes")}},
	{situation{"neighbours a third down, tested last", inline(6), []test{six, {psi: []float64{180, 181, 179, 180, 119, 118}}}}, nil},
	{situation{"all below the maker's minimum", limited(log.Limits{Minimum: inPSI(150)}), []test{psi(132, 130, 133, 131)}}, nil},
	{situation{"one suspect leaked down cold, a quarter at the filler", inline(4), []test{{again: map[int]float64{3: 25}, with: cold}}}, nil},
}

// What happened is read through as the situations are.
func TestEachStoryIsSaidAsItWasReadThrough(t *testing.T) {
	var all strings.Builder
	for _, s := range stories {
		s.told(&all, s.happened...)
	}
	golden.Same(t, "stories.txt", all.String())
}

// What happened elsewhere, later, or not at all, is no evidence.
func TestOnlyWhatHappenedBeforeItShowedCounts(t *testing.T) {
	low := situation{"", inline(6), []test{six, {psi: sixLow}}}
	chance := func(cause string, happened ...log.Event) float64 {
		v := judge.Log(low.log(happened...), rules.Shop{})
		for _, c := range v.Sessions[1].Causes {
			if c.Cause == cause {
				return c.Probability
			}
		}
		return 0
	}
	nothing := chance("bent_rod")
	water := log.Event{Date: "2031-01-25", What: "took a gulp of water in the ford"}
	assert.Greater(t, chance("bent_rod", water), 5*nothing)
	late, struck, denied := water, water, water
	late.Date, struck.Struck, denied.What = "2031-03-01", "of another engine", "through the ford, and took no water"
	for _, e := range []log.Event{late, struck, denied} {
		assert.InDelta(t, nothing, chance("bent_rod", e), 1e-12, e.What)
	}
	before := water
	before.Date = "2031-01-05"
	was := chance("bent_rod", before)
	assert.Greater(t, was, nothing, "what happened before the last good test may show late")
	assert.Less(t, was, chance("bent_rod", water))
}
