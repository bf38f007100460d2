package judge_test

import (
	"encoding/json"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// found is an engine as it came, cylinder 3 bad at the exhaust, and tested again.
func found(psi, leak float64) situation {
	exhaust := map[int][]log.Path{3: at(log.Exhaust, 3)}
	first := test{psi: []float64{172, 174, 150, 173}, leak: []float64{4, 3, 20, 4}, heard: exhaust, with: func(s *log.Session) { s.Stage = "as-found" }}
	then := test{psi: []float64{173, 174, psi, 172}, leak: []float64{4, 3, leak, 4}, heard: exhaust}
	if leak < 8 {
		then.heard = nil
	}
	return situation{"found bad, and mended", inline(4), []test{first, then}}
}

func lastOf(l log.Log) judge.Session {
	v := judge.Log(l, rules.Shop{})
	return v.Sessions[len(v.Sessions)-1]
}

// However it is told that cylinder 3 was mended, the next test opens with what came of it.
func TestTheTestAfterARepairSaysWhetherItWorked(t *testing.T) {
	valveJob := log.Event{Date: "2031-01-20", Kind: log.Repair, Work: "valve-job", What: "Head off, valve job", Cylinders: []int{3}, After: "s1"}
	for name, tell := range map[string]func(*log.Log){
		"a repair":               func(l *log.Log) { l.Events = []log.Event{valveJob} },
		"a repair, of all":       func(l *log.Log) { e := valveJob; e.Cylinders = nil; l.Events = []log.Event{e} },
		"its kind and words":     func(l *log.Log) { e := valveJob; e.Work, e.After = "", ""; l.Events = []log.Event{e} },
		"words, in an event":     func(l *log.Log) { l.Events = []log.Event{{Date: "2031-01-20", What: "Head off, valve job"}} },
		"words, in a note":       func(l *log.Log) { l.Notes = []log.Note{{Date: "2031-01-20", Text: "head off, valve job on cyl. 3"}} },
		"on the day of the test": func(l *log.Log) { e := valveJob; e.Date = l.Sessions[1].Date; l.Events = []log.Event{e} },
		"all on one day": func(l *log.Log) {
			e := valveJob
			e.Date, l.Sessions[1].Date = l.Sessions[0].Date, l.Sessions[0].Date
			l.Events = []log.Event{e}
		},
		"the stage, and words": func(l *log.Log) {
			l.Sessions[1].Stage = "after-repair"
			l.Events = []log.Event{{Date: "2031-01-20", What: "valve job"}}
		},
		"a new build, and words": func(l *log.Log) {
			l.Builds = []log.Build{{ID: "b1"}, {ID: "b2", Date: "2031-01-20", What: "valve job"}}
			l.Sessions[0].Build, l.Sessions[1].Build, l.Sessions[1].Baseline = "b1", "b2", true
			l.Events = []log.Event{{Date: "2031-01-20", What: "valve job, cylinder 3"}}
		},
	} {
		l := found(173, 4).log()
		tell(&l)
		last := lastOf(l)
		require.NotNil(t, last.Repaired, name)
		assert.Equal(t, judge.Surely, last.Repaired.Worked, name)
		assert.Equal(t, "valve-job", last.Repaired.Work, name)
		assert.Equal(t, []int{3}, last.Repaired.Cylinders, name)
		assert.Equal(t, judge.Steady, last.State, name)
		assert.Contains(t, last.Sentence, "Cylinder 3 came up from 150 to 173 psi, its leak down from 20 to 4 %. The valve job surely worked.", name)
		assert.Equal(t, "Cylinder 3: the valve job worked", last.Headline, name)
	}
}

// What is only planned answers nothing, and a test before it neither.
func TestWhatIsStillToBeDoneMendsNothing(t *testing.T) {
	for name, l := range map[string]log.Log{
		"planned":     found(173, 4).log(log.Event{Date: "2031-01-20", What: "valve job planned for the winter"}),
		"quoted":      found(173, 4).log(log.Event{Date: "2031-01-20", What: "quoted for a valve job"}),
		"struck":      found(173, 4).log(log.Event{Date: "2031-01-20", Kind: log.Repair, What: "valve job", Struck: "wrong engine"}),
		"later":       found(173, 4).log(log.Event{Date: "2031-03-20", Kind: log.Repair, What: "valve job"}),
		"before both": found(173, 4).log(log.Event{Date: "2030-12-20", Kind: log.Repair, What: "valve job"}),
	} {
		assert.Nil(t, lastOf(l).Repaired, name)
	}
}

func TestARepairThatDidNotCureIsSaidToBeNone(t *testing.T) {
	repair := log.Event{Date: "2031-01-20", Kind: log.Repair, Work: "valve-job", What: "valve job", Cylinders: []int{3}}
	same := lastOf(found(150, 20).log(repair))
	assert.Equal(t, judge.NotAtAll, same.Repaired.Worked)
	assert.Contains(t, same.Sentence, "The valve job didn't cure it.")
	assert.GreaterOrEqual(t, same.State.Severity(), judge.Act.Severity())
	half := lastOf(found(164, 14).log(repair))
	assert.Equal(t, judge.Partly, half.Repaired.Worked)
	assert.Contains(t, half.Sentence, "The valve job helped, but Cylinder 3 still needs a look.")
	elsewhere := repair
	elsewhere.Cylinders = []int{1}
	wrong := lastOf(found(150, 20).log(elsewhere))
	assert.GreaterOrEqual(t, wrong.State.Severity(), judge.Act.Severity())
	assert.NotContains(t, wrong.Sentence, "worked", "cylinder 3 wasn't touched")
}

// Words that nobody called a repair begin no baseline anew but that of cylinders that were bad, or that they name: the others are judged as
// if nothing had been written.
func TestWordsOfARepairHideNothingElse(t *testing.T) {
	random := rand.New(rand.NewPCG(27, 1))
	for range 200 {
		psi, leak := 172-60*random.Float64(), 4+30*random.Float64()*random.Float64()
		s := situation{"one falls", inline(4), []test{
			{psi: []float64{172, 174, 171, 173}, leak: []float64{4, 3, 4, 4}}, {psi: []float64{173, 174, psi, 172}, leak: []float64{4, 3, leak, 4}},
		}}
		plain := lastOf(s.log())
		words := lastOf(s.log(log.Event{Date: "2031-01-20", What: "valve job"}))
		named := lastOf(s.log(log.Event{Date: "2031-01-20", What: "valve job, cylinder 2"}))
		assert.Equal(t, asText(t, plain), asText(t, words))
		if plain.Of(3).State.Severity() >= judge.Act.Severity() { // with one cylinder less to compare with it is a little less sure
			assert.GreaterOrEqual(t, named.Of(3).State.Severity(), judge.Watch.Severity(), "%.0f psi, %.0f %%", psi, leak)
		}
	}
}

func asText(t *testing.T, s judge.Session) string {
	t.Helper()
	text, err := json.Marshal(s)
	require.NoError(t, err)
	return string(text)
}

// A worse reading after a repair never has it work better.
func TestAWorseReadingNeverHasARepairWorkBetter(t *testing.T) {
	order := map[judge.Worked]int{judge.Surely: 4, judge.Probably: 3, judge.Unclear: 2, judge.Partly: 2, judge.NotAtAll: 1}
	repair := log.Event{Date: "2031-01-20", Kind: log.Repair, Work: "rings", What: "rings", Cylinders: []int{3}}
	for _, leak := range []float64{4, 8, 14, 20} {
		before := 5
		for psi := 176.0; psi > 120; psi -= 4 {
			r := lastOf(found(psi, leak).log(repair)).Repaired
			require.NotNil(t, r)
			assert.LessOrEqual(t, order[r.Worked], before, "%v psi, %v %%", psi, leak)
			before = order[r.Worked]
		}
	}
}
