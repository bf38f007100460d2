package season_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/ahead"
	"braxel/internal/core/season"
	"braxel/internal/core/wear"
)

// lasting is a life that ends after about so many hours: a logistic fall, by which the chances can be worked out on paper.
func lasting(hours float64) wear.Life {
	var x, p []float64
	for h := 0.0; h <= 200; h++ {
		x, p = append(x, h), append(p, 1/(1+math.Exp((h-hours)/2)))
	}
	return wear.Given("h", x, p)
}

// shopOf draws a shop of some engines, cars and events, a fortnight apart.
func shopOf(draw *rand.Rand, engines, cars, events int) *season.Shop {
	var s ahead.Season
	var all []season.Engine
	for i := range engines {
		id := fmt.Sprintf("e%d", i)
		all = append(all, season.Engine{ID: id, Name: id, Life: lasting(8 + 22*draw.Float64()), Fresh: lasting(45), Tested: "2033-04-01"})
	}
	for n := range cars {
		c := ahead.Car{ID: fmt.Sprintf("c%d", n), Name: fmt.Sprintf("car %d", n), Sits: fmt.Sprintf("e%d", n)}
		for i := range engines {
			c.Engines = append(c.Engines, fmt.Sprintf("e%d", i))
		}
		s.Cars = append(s.Cars, c)
	}
	for k := range events {
		date := time.Date(2033, time.May, 1+14*k, 0, 0, 0, 0, time.UTC).Format(time.DateOnly)
		hours := 3 + math.Round(4*draw.Float64())
		s.Meetings = append(s.Meetings, ahead.Meeting{ID: fmt.Sprintf("m%d", k), Name: fmt.Sprintf("round %d", k+1), Date: date, Hours: hours})
	}
	return season.New(s, all, "2033-04-10")
}

// TestAPlanIsAsGoodAsTheBestOfAll tries every plan of small shops: which engine in which car at each event, and what is done to it before.
func TestAPlanIsAsGoodAsTheBestOfAll(t *testing.T) {
	for seed := range uint64(4) {
		s := shopOf(rand.New(rand.NewPCG(seed, 3)), 3, 2, 5)
		found, searched := s.Search(nil)
		got := s.Price(found)
		best := cheapest(s, season.Plan{}, 0, got.Cost)
		assert.LessOrEqual(t, got.Cost, 1.03*best, "seed %d, %d kept", seed, searched.Kept)
	}
}

// cheapest is what the cheapest plan costs, by trying all: each event's starts and work in every way. A way that costs more already
// than one that is known isn't gone on with.
func cheapest(s *season.Shop, p season.Plan, k int, known float64) float64 {
	meets, cars := s.Season.Meetings, s.Season.Cars
	if k == len(meets) {
		return math.Min(known, s.Price(p).Cost)
	}
	works := []ahead.Work{"", ahead.Test, ahead.Freshen}
	for a := range s.Engines {
		for b := range s.Engines {
			if a == b {
				continue
			}
			for _, wa := range works {
				for _, wb := range works {
					q := season.Plan{Starts: append([]ahead.Start{}, p.Starts...), Jobs: append([]ahead.Job{}, p.Jobs...)}
					for n, i := range []int{a, b} {
						q.Starts = append(q.Starts, ahead.Start{
							ID: ahead.StartOf(meets[k].ID, cars[n].ID), Meeting: meets[k].ID, Car: cars[n].ID, Engine: s.Engines[i].ID,
						})
						if w := []ahead.Work{wa, wb}[n]; w != "" {
							q.Jobs = append(q.Jobs, ahead.Job{ID: fmt.Sprint(k, n), Engine: s.Engines[i].ID, Work: w, Before: meets[k].ID})
						}
					}
					// What is to come costs at least nothing: the cars of later events don't go there.
					if sofar := upTo(s, q, k+1); sofar < known {
						known = cheapest(s, q, k+1, known)
					}
				}
			}
		}
	}
	return known
}

// upTo is what a plan costs up to an event.
func upTo(s *season.Shop, p season.Plan, events int) float64 {
	cut := s.Season
	cut.Meetings = cut.Meetings[:events]
	return season.New(cut, s.Engines, s.Today).Price(p).Cost
}

func TestAPlanKeepsTheOwnersChanceWhereItCan(t *testing.T) {
	s := shopOf(rand.New(rand.NewPCG(9, 3)), 4, 2, 6)
	p, _ := s.Search(nil)
	price := s.Price(p)
	assert.Zero(t, price.Unmet)
	assert.Zero(t, price.Empty)
	require.NotEmpty(t, p.Starts)
	taken := s.Season
	taken.Starts, taken.Jobs = p.Starts, p.Jobs
	board := season.New(taken, s.Engines, s.Today).Board()
	for _, r := range board.Engines {
		for _, c := range r.Cells {
			if c.Car != "" {
				assert.Equal(t, "fine", c.Level, "%s at %s: %.3f", r.Name, c.Meeting, c.Chance)
			}
		}
	}
	assert.InDelta(t, price.Cost, board.Price.Cost, 1e-9, "the plan as typed costs what the search said")
}

func TestWhatIsPinnedStays(t *testing.T) {
	s := shopOf(rand.New(rand.NewPCG(2, 3)), 3, 2, 4)
	in := s.Season
	in.Starts = []ahead.Start{{ID: "m2.c1", Meeting: "m2", Car: "c1", Engine: "e2", Pinned: true}, {ID: "m0.c0", Meeting: "m0", Car: "c0"}}
	in.Jobs = []ahead.Job{{ID: "j", Engine: "e0", Work: ahead.Rebuild, Before: "m1", Pinned: true}}
	p, _ := season.New(in, s.Engines, s.Today).Search(nil)
	assert.Contains(t, p.Starts, in.Starts[0])
	assert.Contains(t, p.Starts, in.Starts[1], "a car that stays at home stays there")
	assert.Contains(t, p.Jobs, in.Jobs[0])
	assert.Zero(t, season.New(in, s.Engines, s.Today).Price(p).Empty)
}

func TestAnEngineThatMustBeMendedDoesntRunBefore(t *testing.T) {
	s := shopOf(rand.New(rand.NewPCG(4, 3)), 2, 2, 2)
	s.Engines[0].Repair = "Cylinder 3 leaks."
	s = season.New(s.Season, s.Engines, s.Today)
	p, _ := s.Search(nil)
	first := ""
	for _, x := range p.Starts {
		if x.Engine == "e0" && (first == "" || x.Meeting < first) {
			first = x.Meeting
		}
	}
	require.NotEmpty(t, first, "two cars, two engines")
	assert.Contains(t, p.Jobs, ahead.Job{ID: "e0.freshen." + first, Engine: "e0", Work: ahead.Freshen, Before: first, Planned: s.Today})
	assert.Zero(t, s.Price(p).Unmet)
	p.Jobs = nil
	assert.NotZero(t, s.Price(p).Unmet, "without that it would be run as it is")
}

func TestAStoppedSearchStillHasAPlan(t *testing.T) {
	s := shopOf(rand.New(rand.NewPCG(5, 3)), 4, 2, 8)
	calls := 0
	p, searched := s.Search(func(float64) bool { calls++; return calls < 5 })
	assert.True(t, searched.Stopped)
	assert.Zero(t, s.Price(p).Empty, "every car has an engine")
}

func TestWhatHasBegunIsntPlannedAnew(t *testing.T) {
	s := shopOf(rand.New(rand.NewPCG(7, 3)), 3, 2, 3)
	in := s.Season
	in.Meetings = append([]ahead.Meeting{{ID: "now", Name: "today", Date: s.Today, Hours: 2}}, in.Meetings...)
	ran := 1.5
	in.Starts = []ahead.Start{{ID: "now.c0", Meeting: "now", Car: "c0", Engine: "e2", Ran: &ran}}
	p, _ := season.New(in, s.Engines, s.Today).Search(nil)
	assert.Contains(t, p.Starts, in.Starts[0])
}

// Every term changes the plan, or what it costs: one that did nothing would be a lie on the screen.
func TestEveryTermChangesSomething(t *testing.T) {
	s := shopOf(rand.New(rand.NewPCG(9, 3)), 3, 2, 9)
	costs := ahead.Terms{FreshenCosts: 900, RebuildCosts: 3000}
	planned := func(change func(*ahead.Terms)) season.Price {
		in := s.Season
		in.Terms = costs
		change(&in.Terms)
		shop := season.New(in, s.Engines, s.Today)
		p, _ := shop.Search(nil)
		return shop.Price(p)
	}
	usual := planned(func(*ahead.Terms) {})
	require.NotZero(t, usual.Freshen)
	assert.InDelta(t, 900*float64(usual.Freshen), usual.Spent, 1e-9)
	for name, change := range map[string]func(*ahead.Terms){
		"chance":  func(t *ahead.Terms) { t.Chance = 0.3 },
		"test":    func(t *ahead.Terms) { t.Test = 9 },
		"freshen": func(t *ahead.Terms) { t.Freshen = 80 },
		"swap":    func(t *ahead.Terms) { t.Swap = 0.1 },
		"day":     func(t *ahead.Terms) { t.Day = 0.6 },
		"lead":    func(t *ahead.Terms) { t.Lead = 120 },
		"money":   func(t *ahead.Terms) { t.Money = 1 },
		"budget":  func(t *ahead.Terms) { t.Budget = 1 },
		"costs":   func(t *ahead.Terms) { t.FreshenCosts = 901 },
	} {
		assert.NotEqual(t, usual, planned(change), name)
	}
	poor := planned(func(t *ahead.Terms) { t.Money = 1000 })
	assert.True(t, poor.Spent <= 1000 || poor.Unmet > 0, "%+v", poor)
}
