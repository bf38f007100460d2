package practice

import (
	"strings"
	"testing"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/bench"
	"braxel/internal/core/book"
	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

var noon = time.Date(2031, 5, 3, 12, 0, 0, 0, time.UTC)

// Whoever does what Braxel asks for comes to the truth, whatever scatter the engine has. An engine that must not be run is never called
// steady at the end.
func TestEveryLessonCanBeSolvedByWhatBraxelAsksFor(t *testing.T) {
	c := Load()
	require.Len(t, c.Lessons, 12)
	for _, l := range c.Lessons {
		right := 0
		for seed := uint64(1); seed <= 5; seed++ {
			steps, minutes := c.shortest(c.New("x", "s1", l, seed, noon))
			last := steps[len(steps)-1]
			for i := len(steps) - 1; i > 0 && !last.Told; i-- {
				last = steps[i]
			}
			assert.Less(t, minutes, 120.0, l.ID)
			if !runs(l) {
				assert.NotEqual(t, judge.Steady, last.State, "%s, seed %d: %s", l.ID, seed, last.Says)
			}
			if last.SurePct > 50 {
				right++
			} else {
				t.Logf("%s, seed %d: %.0f %% after %s: %s", l.ID, seed, last.SurePct, last.Did, last.Says)
			}
		}
		assert.GreaterOrEqual(t, right, 4, l.ID)
	}
}

func TestWhatIsDoneToAnEngineTellsTheTruthAndNoMore(t *testing.T) {
	c := Load()
	for _, x := range []struct {
		lesson string
		act    Act
		says   string
		finds  string
	}{
		{"burnt", Act{What: "borescope", Cylinder: 3}, "A valve of 3 has a pale, burnt edge.", "burnt valve"},
		{"burnt", Act{What: "borescope", Cylinder: 2}, "2 is clean inside.", "clean"},
		{"rings", Act{What: "borescope", Cylinder: 2}, "The wall of 2 is scored from top to bottom.", "scored wall"},
		{"rod", Act{What: "piston-height", Cylinder: 2}, "2 stops short of the others by 1.5 mm.", "stops short"},
		{"rod", Act{What: "piston-height", Cylinder: 1}, "1 comes up as far as the others.", "as the others"},
		{"shut", Act{What: "throttle"}, "The throttle was shut. It is wide open now.", ""},
		{"plain", Act{What: "throttle"}, "The throttle is wide open.", ""},
		{"water", Act{What: "coolant"}, "Bubbles come up in the neck while it cranks.", "bubbles when cranked"},
		{"plain", Act{What: "cam-marks"}, "The marks line up.", "cam marks in line"},
		{"plain", Act{What: "listen", Cylinder: 1, Where: "exhaust"}, "At the tailpipe: nothing, no air is on.", ""},
	} {
		l, _ := c.Lesson(x.lesson)
		k, a, look, err := c.Do(c.New("x", "s1", l, 1, noon), x.act, false, noon)
		require.NoError(t, err)
		assert.Equal(t, x.says, a.Says)
		assert.Equal(t, c.Minutes[x.act.What], a.Minutes)
		assert.Equal(t, []Act{a}, k.Acts)
		if x.finds == "" {
			assert.Nil(t, look)
		} else {
			assert.Equal(t, x.finds, look.Finding)
		}
	}
	l, _ := c.Lesson("plain")
	for want, a := range map[string]Act{
		`what: “pull” is not something you can do to an engine`: {What: "pull"}, "cylinder: the engine has no 9": {What: "oil", Cylinder: 9},
		`what: “” is not something you can do to an engine`: {},
	} {
		_, _, _, err := c.Do(c.New("x", "s1", l, 1, noon), a, false, noon)
		assert.EqualError(t, err, want)
	}
}

func TestAirIsHeardWhereItComesOut(t *testing.T) {
	c := Load()
	l, _ := c.Lesson("burnt")
	k := c.New("x", "s1", l, 1, noon)
	k.State = c.Bench(k).TurnTo(k.State, log.Place{Cylinder: 3}, 0)
	for where, want := range map[string]int{"exhaust": 3, "intake": 0, "crankcase": 1, "coolant": 0, "neighbour": 0} {
		_, a, _, err := c.Do(k, Act{What: "listen", Cylinder: 3, Where: where}, true, noon)
		require.NoError(t, err)
		assert.Equal(t, want, a.Level, where)
		assert.NotContains(t, a.Says, "no air")
	}
}

func TestADrawnEngineHidesWhatItIsAskedTo(t *testing.T) {
	c := Load()
	seen := map[string]int{}
	for seed := range uint64(300) {
		l, err := c.Drawn("six", "", seed)
		require.NoError(t, err)
		seen[mainFault(l).Kind]++
		assert.NoError(t, Course{Engines: c.Engines, Lessons: []Lesson{l}}.Check())
		_ = c.New("x", "s1", l, seed, noon)
	}
	assert.Greater(t, len(seen), 10)
	assert.Greater(t, seen[bench.Healthy], 10)
	l, err := c.Drawn("four", bench.BentRod, 5)
	require.NoError(t, err)
	assert.Equal(t, bench.BentRod, mainFault(l).Kind)
	_, err = c.Drawn("four", "gremlin", 5)
	assert.ErrorContains(t, err, "fault")
	_, err = c.Drawn("boat", "", 5)
	assert.ErrorContains(t, err, "engine")
}

// Everything that can be wrong can be decided for, and has its words.
func TestEveryFaultHasItsChoice(t *testing.T) {
	for _, l := range Load().Lessons {
		kind := mainFault(l).Kind
		assert.NotEqual(t, kind, wordsOf(log.FourStroke, kind))
		assert.True(t, strings.HasSuffix(truthWords(l, log.FourStroke), "."))
	}
}

// How many cylinders a choice is in is what is then asked for.
func TestAChoiceSaysInHowManyCylindersItIs(t *testing.T) {
	of := map[string]int{}
	for _, c := range Choices(log.FourStroke) {
		of[c.Kind] = c.Of
	}
	for kind, want := range map[string]int{
		bench.Healthy: 0, bench.EvenWear: 0, bench.CamTiming: 0, bench.ThrottleShut: 0, bench.ExhaustValve: 1, bench.OffTDC: 1, bench.GasketBeside: 2,
	} {
		assert.Equal(t, want, of[kind], kind)
	}
}

// typed is an entry of the sheet, some minutes after noon.
func typed(t *testing.T, minute int, kind string, body any) book.Entry {
	t.Helper()
	text, err := json.Marshal(body)
	require.NoError(t, err)
	at := stamp(noon.Add(time.Duration(minute) * time.Minute))
	return book.Entry{ID: kind + at[14:16], At: at, Engine: "x", Kind: kind, Body: jsontext.Value(text)}
}

func TestADebriefSaysWhatEachTestTold(t *testing.T) {
	c := Load()
	l, _ := c.Lesson("burnt")
	k := c.New("x", "s1", l, 1, noon)
	k, _, _, err := c.Do(k, Act{What: "throttle"}, false, noon.Add(90*time.Second))
	require.NoError(t, err)
	type body = map[string]any
	entries := []book.Entry{
		typed(t, 0, book.Engine, c.Spec(l, 1).Engine),
		typed(t, 1, book.Test, body{"id": "s1", "date": "2031-05-03", "open": true, "stage": "as-found"}),
	}
	minute := 2
	for cylinder, psi := range []float64{184, 183, 158, 183} {
		for range 2 {
			entries = append(entries, typed(t, minute, book.Pull, body{"test": "s1", "cylinder": cylinder + 1, "mode": "dry", "value": psi, "unit": "psi"}))
			minute++
		}
	}
	entries = append(entries, typed(t, minute, book.Leakdown,
		body{"test": "s1", "cylinder": 3, "supply": 100, "held": 74, "unit": "psi", "paths": []body{{"where": "exhaust", "level": 3}}}))
	k.Decision = &Decision{Kind: "exhaust_valve", Cylinders: []int{3}, Run: true}
	d := c.Debrief(k, book.Replay("", nil), entries)
	assert.Equal(t, "Cylinder 3: exhaust valve, 24 points of leak.", d.Truth)
	assert.True(t, d.Kind && d.Where)
	assert.False(t, d.Run || d.Runs)
	assert.Equal(t, say.Text("course.risk-exhaust-valve"), d.Risked)
	assert.Equal(t, "Cylinder 3: exhaust valve; run it.", d.Decided)
	require.Len(t, d.Steps, 6, "the throttle, four cylinders, a leak-down")
	assert.Equal(t, "The throttle is wide open.", d.Steps[0].Did)
	assert.InDelta(t, 0.5+8+3, d.Minutes, 1e-9)
	last := d.Steps[5]
	assert.Equal(t, "Leak-down of 3: 26 %.", last.Did)
	assert.Greater(t, last.SurePct, 90.0)
	sum := 0.0
	for _, s := range d.Steps {
		sum += s.TellPct
	}
	assert.InDelta(t, last.SurePct, sum, 1e-6, "what each told adds up to how sure one is")
	k.Decision = &Decision{Kind: bench.Healthy, Run: false}
	d = c.Debrief(k, book.Replay("", nil), entries)
	assert.True(t, d.Run)
	assert.False(t, d.Kind)
	assert.False(t, d.Where, "its place was not named")
}

func TestOpeningASoundEngineIsForNothing(t *testing.T) {
	c := Load()
	l, _ := c.Lesson("gauge")
	k := c.New("x", "s1", l, 1, noon)
	k.Decision = &Decision{Kind: bench.EvenWear}
	d := c.Debrief(k, book.Replay("", nil), nil)
	assert.Equal(t, say.Text("course.for-nothing"), d.Risked)
	assert.False(t, d.Run || d.Kind)
	assert.True(t, d.Runs)
	_, _, _, err := c.Do(k, Act{What: "oil", Cylinder: 1}, false, noon)
	assert.ErrorContains(t, err, "decided")
}
