package season_test

import (
	"math"
	"math/rand/v2"
	"slices"
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
func over(life float64, ran, foreseen float64) float64 { return straying(0.15, life, ran, foreseen) }

func straying(share, life, ran, foreseen float64) float64 {
	sd := share * 5 * math.Sqrt(foreseen/5)
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
	strays := math.Sqrt((6*0.15*0.15 + 0.45*0.45) / 7) // 9 h instead of 5 h counts as three times what is usual
	assert.InDelta(t, straying(strays, 20, 14, 5), b.Engines[0].Cells[1].Chance, 0.002)
}

func TestAWorkshopWhoseEventsGoAsForeseenIsToldMore(t *testing.T) {
	at := func(ran ...float64) float64 {
		return one(4, func(s *ahead.Season, e *season.Engine) {
			e.Life = lasting(22)
			for k := range ran {
				s.Starts[k].Ran = &ran[k]
			}
		}).Engines[0].Cells[3].Chance
	}
	assert.InDelta(t, straying(math.Sqrt(6*0.15*0.15/9), 22, 20, 5), at(5, 5, 5), 0.002)
	assert.Greater(t, at(5, 5, 5), at(4, 6, 5), "of running that summed to the same")
}

// What has happened since the last test counts one in five against every start, until a test finds nine in ten of those.
func TestWhatHappenedSinceTheTestCountsUntilItIsTested(t *testing.T) {
	ranHot := func(_ *ahead.Season, e *season.Engine) { e.Happened = "Ran hot: test it." }
	sound, hot := one(3, nil).Engines[0], one(3, ranHot).Engines[0]
	for k := 1; k < 3; k++ {
		assert.InDelta(t, 0.8*sound.Cells[k].Chance, hot.Cells[k].Chance, 1e-9)
	}
	assert.Zero(t, hot.GoodFor)
	assert.Contains(t, hot.Sentence, "A test before round b pays (2 h): if it passes, it sees round b out: 97 in 100 instead of 79 in 100.")
	tested := one(3, func(s *ahead.Season, e *season.Engine) {
		ranHot(s, e)
		s.Jobs = []ahead.Job{{ID: "j", Engine: "e", Work: ahead.Test, Before: "b"}}
	}).Engines[0]
	passes := 0.8 * over(20, 5, 5)
	assert.InDelta(t, 0.8*over(20, 10, 10)/(passes+0.1*(1-passes)), tested.Cells[1].Chance, 0.003)
	assert.Contains(t, tested.Cells[1].Words, "if it passes its test before round b: 18 in 100 that it fails")
}

func TestAPlanTestsAnEngineToWhichSomethingHappened(t *testing.T) {
	s := shopOf(rand.New(rand.NewPCG(3, 3)), 2, 2, 3)
	s.Engines[1].Happened = "Ran hot."
	s = season.New(s.Season, s.Engines, s.Today)
	p, _ := s.Search(nil)
	assert.True(t, slices.ContainsFunc(p.Jobs, func(j ahead.Job) bool { return j.Engine == "e1" && j.Before == "m0" }), "%+v", p.Jobs)
	assert.Zero(t, s.Price(p).Unmet)
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
	assert.Equal(t, "Good for 10 h more, 9 times in 10. It sees round b out: 99 in 100. round c is beyond your chance: 9 in 10. "+
		"Freshened before round c, it sees round d out: almost certain.", r.Sentence)
}

func TestOddsAreSaidAsPeopleDo(t *testing.T) {
	for p, want := range map[float64]string{
		1: "almost certain", 0.99: "99 in 100", 0.95: "19 in 20", 0.9: "9 in 10", 0.64: "6 in 10",
		0.05: "1 in 20", 0.01: "1 in 100", 0: "next to no chance",
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

func TestPlannedWorkIsDatedBackFromItsEvent(t *testing.T) {
	b := one(4, func(s *ahead.Season, _ *season.Engine) {
		s.Terms.Lead = 5
		s.Jobs = []ahead.Job{{ID: "t", Engine: "e", Work: ahead.Test, Before: "b"}, {ID: "f", Engine: "e", Work: ahead.Freshen, Before: "d"}}
	})
	require.Len(t, b.Next.Todo, 1)
	assert.Equal(t, "2033-05-14", b.Next.Todo[0].Begin, "2 h: the day before the 15th")
	assert.Empty(t, b.Next.Todo[0].Order)
	late := one(4, func(s *ahead.Season, _ *season.Engine) {
		s.Terms.Lead = 10
		s.Jobs = []ahead.Job{{ID: "f", Engine: "e", Work: ahead.Freshen, Before: "d"}}
	}).Next.Todo
	require.Len(t, late, 1, "its parts have to be ordered before the next event")
	assert.Equal(t, "2033-05-25", late[0].Begin, "24 h and a test are four days of 8 h, before the 29th")
	assert.Equal(t, "2033-05-15", late[0].Order)
	assert.Equal(t, "Freshen Heron, for round d", late[0].What)
	assert.Contains(t, late[0].When, "Order the parts by 15 May 2033. Begin by 25 May 2033.")
}

// A planned test is done when the log has one from that day on, and a freshen-up when it has a new build; what ran between counts
// against it.
func TestWhatWasPlannedIsDoneWhenTheLogHasIt(t *testing.T) {
	todo := func(w ahead.Work, planned, tested, built string) int {
		return len(one(3, func(s *ahead.Season, e *season.Engine) {
			e.Tested, e.Built = tested, built
			s.Jobs = []ahead.Job{{ID: "j", Engine: "e", Work: w, Before: "b", Planned: planned}}
		}).Next.Todo)
	}
	for _, c := range []struct {
		work                   ahead.Work
		planned, tested, built string
		left                   int
		why                    string
	}{
		{ahead.Test, "2033-05-08", "2033-05-09", "", 0, "tested since"},
		{ahead.Test, "2033-05-10", "2033-05-09", "", 1, "that test was before it was planned"},
		{ahead.Test, "2033-05-01", "2033-05-02", "", 1, "it has run since that test"},
		{ahead.Test, "", "2033-05-09", "", 1, "nobody knows when it was planned"},
		{ahead.Freshen, "2033-05-08", "2033-05-09", "", 1, "a test is no freshen-up"},
		{ahead.Freshen, "2033-05-08", "2033-05-09", "2033-05-09", 0, "a new build is"},
		{ahead.Freshen, "2033-05-09", "2033-05-09", "2033-03-01", 1, "an old build isn't"},
	} {
		assert.Equal(t, c.left, todo(c.work, c.planned, c.tested, c.built), c.why)
	}
}

func TestAFreshenUpThatIsDoneCountsBeforeItsTest(t *testing.T) {
	r := one(2, func(s *ahead.Season, e *season.Engine) {
		e.Built, e.Repair = "2033-02-01", "cylinder 3 leaks"
		s.Jobs = []ahead.Job{{ID: "j", Engine: "e", Work: ahead.Freshen, Before: "b", Done: "2033-05-09"}}
	}).Engines[0]
	assert.InDelta(t, over(45, 5, 5), r.Cells[1].Chance, 0.002)
	assert.Contains(t, r.Sentence, "begin a new build, and test it for its baseline")
	assert.Empty(t, r.Repair, "it was")
}

func TestAnEngineThatBrokeIsMendedBeforeItRunsAgain(t *testing.T) {
	broke := func(after func(*ahead.Season, *season.Engine)) season.EngineRow {
		return one(3, func(s *ahead.Season, e *season.Engine) {
			s.Starts[0].Broke, s.Starts[0].Stopped = true, "lost a rod bearing"
			if after != nil {
				after(s, e)
			}
		}).Engines[0]
	}
	r := broke(nil)
	assert.Equal(t, "far", r.Cells[0].Level)
	assert.Zero(t, r.Cells[1].Chance)
	assert.Equal(t, "Repair it before it runs: it broke at round a. Lost a rod bearing.", r.Sentence)
	mended := broke(func(s *ahead.Season, _ *season.Engine) {
		s.Jobs = []ahead.Job{{ID: "j", Engine: "e", Work: ahead.Rebuild, Before: "b"}}
	})
	assert.InDelta(t, over(45, 5, 5), mended.Cells[1].Chance, 0.002)
	tested := broke(func(_ *ahead.Season, e *season.Engine) { e.Tested = "2033-05-09" })
	assert.Empty(t, tested.Repair, "a test since then says how it is")
	built := broke(func(_ *ahead.Season, e *season.Engine) { e.Built = "2033-05-09" })
	assert.Empty(t, built.Repair, "it was built anew")
}

func TestOfEarlierSeasonsOnlyWhatCountsIsKept(t *testing.T) {
	b := one(2, func(s *ahead.Season, _ *season.Engine) {
		s.Meetings = append(s.Meetings, ahead.Meeting{ID: "old", Name: "last year", Date: "2032-09-01", Hours: 3})
	})
	assert.Equal(t, "last year", b.Meetings[0].Name)
	assert.Equal(t, 1, b.From)
}

func TestHoursThatNobodyEnteredAreAskedFor(t *testing.T) {
	b := one(2, nil)
	assert.Equal(t, "How long did Heron run at round a? Until that is entered, it counts as foreseen.", b.Problems[0].Words)
	assert.Empty(t, one(2, func(s *ahead.Season, _ *season.Engine) { v := 4.0; s.Starts[0].Ran = &v }).Problems)
}

// An event that says nothing in the engine's unit must not count as no running at all.
func TestWhereNobodySaidHowLongNoChanceIsGiven(t *testing.T) {
	kilometres := func(s *ahead.Season, _ *season.Engine) { s.Meetings[1].Hours, s.Meetings[1].Km = 0, 200 }
	r := one(4, kilometres).Engines[0]
	assert.False(t, r.Cells[0].Unknown)
	for k := 1; k < 4; k++ {
		assert.True(t, r.Cells[k].Unknown)
		assert.Empty(t, r.Cells[k].Level)
	}
	assert.Contains(t, r.Cells[3].Words, "Nobody said how long Heron runs at round b")
	freshened := one(4, func(s *ahead.Season, e *season.Engine) {
		kilometres(s, e)
		s.Jobs = []ahead.Job{{ID: "j", Engine: "e", Work: ahead.Freshen, Before: "d"}}
	}).Engines[0]
	assert.InDelta(t, over(45, 5, 5), freshened.Cells[3].Chance, 0.002, "a new count")
}

func TestAPlanDoesntHideBehindAMeterOfAnotherUnit(t *testing.T) {
	s := shopOf(rand.New(rand.NewPCG(6, 3)), 3, 1, 3)
	s.Engines[2].Life.Unit = "km"
	s = season.New(s.Season, s.Engines, s.Today)
	p, _ := s.Search(nil)
	for _, x := range p.Starts {
		assert.NotEqual(t, "e2", x.Engine, "at %s it would run unseen", x.Meeting)
	}
}

func TestWhatNoLongerFitsIsNamed(t *testing.T) {
	for want, change := range map[string]func(*ahead.Season, *season.Engine){
		"Heron is planned for round b, but isn't in the workshop any more.": func(_ *ahead.Season, e *season.Engine) { e.Away = true },
		"Heron is planned in car at round b, but isn't among the engines that fit it.": func(s *ahead.Season, _ *season.Engine) {
			s.Cars[0].Engines, s.Cars[0].Sits = nil, "other"
		},
		"Heron is planned in car at round b, but car doesn't go there.": func(s *ahead.Season, _ *season.Engine) {
			s.Meetings[1].Cars = []string{"other"}
		},
	} {
		var all []string
		for _, p := range one(2, change).Problems {
			all = append(all, p.Words)
		}
		assert.Contains(t, all, want)
	}
	gone := one(3, func(s *ahead.Season, _ *season.Engine) { s.Cars[0].ID = "another" })
	assert.Equal(t, "c", gone.Engines[0].Cells[0].Car, "what it ran counts")
	assert.Empty(t, gone.Engines[0].Cells[1].Car, "but it can't run in a car that isn't there")
}

// What the builder wants stands above any chance: whatever the tests say, it is freshened after so much running.
func TestTheBuildersLimitOfRunningComesFirst(t *testing.T) {
	wants := func(limit float64, change func(*ahead.Season)) season.EngineRow {
		return one(4, func(s *ahead.Season, e *season.Engine) {
			e.Life = lasting(90)
			e.Life.Ran, e.Limit, e.LimitBy = 3, limit, "the builder"
			if change != nil {
				change(s)
			}
		}).Engines[0]
	}
	levels := func(r season.EngineRow) (all []string) {
		for _, c := range r.Cells {
			all = append(all, c.Level)
		}
		return all
	}
	assert.Equal(t, []string{"fine", "fine", "fine", "fine"}, levels(wants(0, nil)))
	r := wants(14, nil) // 3 h at its last test, and 5 h an event: 8, 13, 18, 23
	assert.Equal(t, []string{"fine", "fine", "over", "over"}, levels(r))
	assert.InDelta(t, 14-8, r.GoodFor, 1e-9, "the first event is over")
	assert.Contains(t, r.Cells[2].Words, "The builder wants it freshened after 14 h: it has run 18 h.")
	assert.Contains(t, r.Sentence, "round c takes it beyond 14 h, after which the builder wants it freshened.")
	freshened := wants(14, func(s *ahead.Season) {
		s.Jobs = []ahead.Job{{ID: "j", Engine: "e", Work: ahead.Freshen, Before: "c"}}
	})
	assert.Equal(t, []string{"fine", "fine", "fine", "fine"}, levels(freshened))
}

func TestAPlanKeepsTheBuildersLimit(t *testing.T) {
	s := shopOf(rand.New(rand.NewPCG(8, 3)), 1, 1, 3)
	s.Engines[0].Life, s.Engines[0].Limit, s.Engines[0].LimitBy = lasting(90), 8, "the maker"
	s = season.New(s.Season, s.Engines, s.Today)
	p, _ := s.Search(nil)
	assert.NotEmpty(t, p.Jobs, "else it runs on and on")
	assert.Zero(t, s.Price(p).Unmet)
}
