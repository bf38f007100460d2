package season_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/ahead"
	"braxel/internal/core/season"
)

// one is a season of one engine that lasts about 20 h, tested on 1 May, with an event a week.
func one(events int, change func(*ahead.Season, *season.Engine)) season.Board {
	var s ahead.Season
	days := []string{"2033-05-08", "2033-05-15", "2033-05-22", "2033-05-29"}
	s.Cars = []ahead.Car{{ID: "c", Name: "car", Engines: []string{"e"}, Sits: "e"}}
	for k := range events {
		id := string(rune('a' + k))
		s.Meetings = append(s.Meetings, ahead.Meeting{ID: id, Name: "round " + id, Date: days[k], Hours: 5})
		s.Starts = append(s.Starts, ahead.Start{ID: ahead.StartOf(id, "c"), Meeting: id, Car: "c", Engine: "e"})
	}
	e := season.Engine{ID: "e", Name: "Heron", Life: lasting(20), Fresh: lasting(45), Tested: "2033-05-01"}
	if change != nil {
		change(&s, &e)
	}
	return season.New(s, []season.Engine{e}, "2033-05-10").Board()
}

// over averages a chance over running of so much, of which each five hours were foreseen to within 15 %: by many small steps.
func over(life float64, ran, foreseen float64) float64 {
	sd := 0.15 * 5 * math.Sqrt(foreseen/5)
	sum, weight := 0.0, 0.0
	for z := -4.0; z <= 4; z += 0.01 {
		w := math.Exp(-z * z / 2)
		sum += w * lasting(life).Inside(max(0, ran+z*sd))
		weight += w
	}
	return sum / weight
}

func TestEachEventTakesFromWhatIsLeft(t *testing.T) {
	b := one(4, nil)
	cells := b.Engines[0].Cells
	for k, want := range []float64{5, 10, 15, 20} { // hours since the test
		assert.InDelta(t, over(20, want, want), cells[k].Chance, 0.002)
	}
	assert.InDelta(t, lasting(20).Until(0.9)-5, b.Engines[0].GoodFor, 1e-9, "the first event is over")
}

func TestHoursReallyRunReplaceThePlans(t *testing.T) {
	b := one(2, func(s *ahead.Season, _ *season.Engine) { v := 9.0; s.Starts[0].Ran = &v })
	assert.InDelta(t, over(20, 14, 5), b.Engines[0].Cells[1].Chance, 0.002)
}

func TestATestBetweenStartsTheCountAnew(t *testing.T) {
	b := one(3, func(_ *ahead.Season, e *season.Engine) { e.Tested = "2033-05-09" })
	assert.Empty(t, b.Engines[0].Cells[0].Level, "the first event is in the test")
	assert.InDelta(t, over(20, 5, 5), b.Engines[0].Cells[1].Chance, 0.002)
}

func TestATestOnTheDayCountsAsBeforeUnlessItWasAfterRunning(t *testing.T) {
	before := one(2, func(_ *ahead.Season, e *season.Engine) { e.Tested = "2033-05-08" })
	after := one(2, func(_ *ahead.Season, e *season.Engine) { e.Tested, e.After = "2033-05-08", true })
	assert.Greater(t, after.Engines[0].Cells[1].Chance, before.Engines[0].Cells[1].Chance, "of two readings of a day, the careful one")
}

func TestFreshenedItGoesByAnotherLife(t *testing.T) {
	b := one(3, func(s *ahead.Season, _ *season.Engine) {
		s.Jobs = []ahead.Job{{ID: "j", Engine: "e", Work: ahead.Freshen, Before: "c"}}
	})
	assert.InDelta(t, over(45, 5, 5), b.Engines[0].Cells[2].Chance, 0.002)
	require.NotNil(t, b.Next)
	assert.Equal(t, "round b", b.Next.Meeting.Name, "the first is over on the 10th")
}

// A test finds nine in ten of those that are past: of what went on, the chance is S(x)/(S(t)+0.1(1−S(t))).
func TestATestOnTheWayRaisesTheChanceOfWhatRuns(t *testing.T) {
	b := one(4, func(s *ahead.Season, _ *season.Engine) {
		s.Jobs = []ahead.Job{{ID: "j", Engine: "e", Work: ahead.Test, Before: "d"}}
	})
	found := over(20, 15, 15)
	assert.InDelta(t, over(20, 20, 20)/(found+0.1*(1-found)), b.Engines[0].Cells[3].Chance, 0.003)
}

func TestAnEngineThatHasToBeMendedHasNoChance(t *testing.T) {
	b := one(2, func(_ *ahead.Season, e *season.Engine) { e.Repair = "Cylinder 3: exhaust valve" })
	assert.Zero(t, b.Engines[0].Cells[1].Chance)
	assert.Contains(t, b.Engines[0].Sentence, "Repair it before it runs")
	assert.Contains(t, b.Engines[0].Cells[1].Words, "Repair it before it runs")
}

func TestTheSentenceNamesWhatItSeesOut(t *testing.T) {
	r := one(4, nil).Engines[0]
	assert.Equal(t, "Good for 10 h more, 9 times in 10. It sees round b out: 99 in 100. round c: 9 in 10. Freshened before round c, it sees round d out: almost certain.", r.Sentence)
}

func TestOddsAreSaidAsPeopleDo(t *testing.T) {
	for p, want := range map[float64]string{
		1: "almost certain", 0.99: "99 in 100", 0.95: "19 in 20", 0.9: "9 in 10", 0.64: "6 in 10", 0.05: "1 in 20", 0.01: "1 in 100", 0: "next to no chance",
	} {
		assert.Equal(t, want, season.Odds(p))
	}
}

func TestTheRecordCountsWhatHeld(t *testing.T) {
	r := season.Kept([]season.Told{{Said: 0.95, Held: true}, {Said: 0.91, Held: false}, {Said: 0.75, Held: true}, {Said: 0.3}})
	assert.Equal(t, "Of 2 chances of 9 in 10 or more, 1 held.", r.Words)
	assert.Equal(t, []int{2, 1, 1}, []int{r.Bins[0].Of, r.Bins[1].Of, r.Bins[2].Of})
	assert.InDelta(t, 0.93, r.Bins[0].Said, 1e-9)
}
