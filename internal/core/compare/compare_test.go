package compare

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/twice"
	"braxel/internal/core/units"
)

// shop draws two tests of an engine by a model of its own: readings scatter evenly, not normally, all move by a battery that was
// charged or not and sinks as it is used, the gauge is read to its division, leaks are written to whole psi.
type shop struct {
	*rand.Rand
	division float64
	pulls    int
	leak     bool
}

func (d shop) session(id, date, stage string, truth []float64, leaks []float64) log.Session {
	s := log.Session{ID: id, Date: date, Stage: stage, Baseline: id == "a", Conditions: log.Conditions{EngineTemp: "hot", Throttle: "open"}}
	battery := 1 + 0.04*(d.Float64()-0.5)
	for i, v := range truth {
		own := 1 + 0.02*(d.Float64()-0.5) // even from -1 to 1 %: a standard deviation of 0.58 %
		row := log.Compression{Place: log.Place{Cylinder: i + 1}, Mode: log.Dry, Tester: "g"}
		for range d.pulls {
			pull := v * battery * own * (1 + 0.024*(d.Float64()-0.5))
			row.Pulls = append(row.Pulls, log.Pull{Reading: units.Reading{Value: math.Round(pull/d.division) * d.division, Unit: units.PSI}})
		}
		battery -= 0.001
		s.Compression = append(s.Compression, row)
		if d.leak {
			held := math.Round(100 - leaks[i]*(1+0.2*(d.Float64()-0.5)) - 1.5*(d.Float64()-0.5))
			s.Leakdown = append(s.Leakdown, log.Leakdown{
				Place: log.Place{Cylinder: i + 1}, Tester: "k", Supply: 100, Held: held, Unit: units.PSI, Position: "tdc",
				Paths: []log.Path{{Where: log.Crankcase, Level: 1}},
			})
		}
	}
	return s
}

func engine(cylinders int) log.Log {
	var bank []int
	for c := range cylinders {
		bank = append(bank, c+1)
	}
	return log.Log{
		Engine: log.Engine{Name: "Siskin", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{bank}}, Fuel: "petrol"},
		Testers: []log.Tester{
			{ID: "g", Name: "Gauge", Kind: log.CompressionTester, Resolution: &units.Reading{Value: 2, Unit: units.PSI}},
			{ID: "k", Kind: log.LeakdownTester, Resolution: &units.Reading{Value: 1, Unit: units.PSI}, OrificeMM: 1},
		},
	}
}

func even(n int, v float64) []float64 {
	all := make([]float64, n)
	for i := range all {
		all[i] = v
	}
	return all
}

func (d shop) pairOf(t *testing.T, n int, stage string, from, to, leakFrom, leakTo []float64) Result {
	t.Helper()
	l := engine(n)
	l.Testers[0].Resolution.Value = d.division
	l.Sessions = []log.Session{d.session("a", "2026-01-01", "", from, leakFrom), d.session("b", "2026-03-01", stage, to, leakTo)}
	r, err := Tests(l, judge.Log(l, rules.Shop{}), "b", "a", rules.Shop{})
	require.NoError(t, err)
	return r
}

// Where nothing changed hardly anything is told for sure, whatever the engine and however coarse the gauge; and the bars hold the
// truth, which is none, nineteen times in twenty.
func TestNothingChangedIsHardlyEverToldAsAChange(t *testing.T) {
	for _, n := range []int{2, 4, 8} {
		for _, division := range []float64{1, 5} {
			t.Run(fmt.Sprint(n, " by ", division), func(t *testing.T) {
				d := shop{rand.New(rand.NewPCG(3, uint64(n))), division, 2, true}
				claims, held, bars := 0, 0, 0
				const pairs = 150
				for range pairs {
					r := d.pairOf(t, n, "", even(n, 170), even(n, 170), even(n, 4), even(n, 4))
					for _, c := range r.Cylinders {
						if c.Move == twice.Better || c.Move == twice.Worse {
							claims++
						}
						bars++
						if c.Compression.Low <= 0 && c.Compression.High >= 0 {
							held++
						}
					}
				}
				assert.LessOrEqual(t, claims, pairs*2/100, "of %d pairs", pairs)
				assert.Greater(t, float64(held)/float64(bars), 0.93)
			})
		}
	}
}

// A cylinder that came back by a tenth is told in nearly every pair, and only that one.
func TestARealRepairIsTold(t *testing.T) {
	d := shop{rand.New(rand.NewPCG(5, 1)), 2, 2, true}
	before, after := even(4, 186), even(4, 186)
	leaksBefore, leaksAfter := even(4, 3), even(4, 3)
	before[2], leaksBefore[2] = 169, 14
	told, others := 0, 0
	const pairs = 150
	for range pairs {
		r := d.pairOf(t, 4, "after-repair", before, after, leaksBefore, leaksAfter)
		assert.Equal(t, Repair, r.Purpose)
		if r.Answer == twice.Better {
			told++
			assert.Contains(t, r.Sentence, "It surely helped. Cylinder 3 came up")
		}
		for _, c := range r.Cylinders {
			if c.Cylinder != 3 && (c.Move == twice.Better || c.Move == twice.Worse) {
				others++
			}
		}
	}
	assert.Greater(t, told, pairs*97/100)
	assert.LessOrEqual(t, others, pairs*3/100)
}

// A change inside the noise of a coarse gauge and single pulls is not told, and what would tell it is said.
func TestAChangeInsideTheNoiseCannotBeTold(t *testing.T) {
	d := shop{rand.New(rand.NewPCG(7, 1)), 5, 1, false}
	before, after := even(4, 170), even(4, 170)
	before[1] = 166
	untold := 0
	const pairs = 100
	for range pairs {
		r := d.pairOf(t, 4, "after-repair", before, after, nil, nil)
		if r.Answer == twice.Untold {
			untold++
			assert.Contains(t, r.Sentence, "Can't tell yet whether it helped")
			assert.Contains(t, r.Advice, "5 psi")
			assert.Contains(t, r.Advice, "repeating each reading until two agree")
		}
	}
	assert.Greater(t, untold, pairs*97/100)
}

// A single pull is never enough for "for sure", however far the reading moved: one pull in seventy fails.
func TestASinglePullIsNeverSure(t *testing.T) {
	d := shop{rand.New(rand.NewPCG(9, 1)), 1, 1, false}
	before := even(4, 180)
	before[0] = 90
	r := d.pairOf(t, 4, "after-repair", before, even(4, 180), nil, nil)
	assert.Equal(t, twice.Untold, r.Answer)
	d.pulls = 2
	r = d.pairOf(t, 4, "after-repair", before, even(4, 180), nil, nil)
	assert.Equal(t, twice.Better, r.Answer)
}

// What all did together is no cylinder's: a battery that was flat at one of the tests changes the sum and nothing else.
func TestWhatAllDidTogetherIsTakenOff(t *testing.T) {
	d := shop{rand.New(rand.NewPCG(11, 1)), 1, 2, true}
	r := d.pairOf(t, 6, "", even(6, 180), even(6, 160), even(6, 4), even(6, 4))
	require.NotNil(t, r.Together)
	assert.InDelta(t, 100*(160.0/180-1), r.Together.By, 2)
	for _, c := range r.Cylinders {
		assert.InDelta(t, 0, c.Compression.By, 3)
		assert.NotEqual(t, twice.Worse, c.Move)
	}
}

// Better for the one way is worse for the other: the later test worse by what the earlier was better.
func TestARepairAndItsUndoingMirrorEachOther(t *testing.T) {
	d := shop{rand.New(rand.NewPCG(13, 1)), 1, 2, true}
	for _, by := range []float64{0.7, 0.85, 0.95, 0.98} {
		low, leaks := even(4, 180), even(4, 4)
		low[3] *= by
		leaks[3] += 100 * (1 - by)
		l := engine(4)
		l.Sessions = []log.Session{d.session("a", "2026-01-01", "", low, leaks), d.session("b", "2026-01-05", "", even(4, 180), even(4, 4))}
		one, err := Tests(l, judge.Log(l, rules.Shop{}), "a", "b", rules.Shop{})
		require.NoError(t, err)
		l.Sessions[0], l.Sessions[1] = l.Sessions[1], l.Sessions[0]
		l.Sessions[0].Date, l.Sessions[1].Date = "2026-01-01", "2026-01-05"
		other, err := Tests(l, judge.Log(l, rules.Shop{}), "a", "b", rules.Shop{})
		require.NoError(t, err)
		assert.Equal(t, "b", other.From)
		assert.InDelta(t, math.Log1p(one.Cylinders[3].Compression.By/100), -math.Log1p(other.Cylinders[3].Compression.By/100), 0.003)
		assert.InDelta(t, one.Cylinders[3].Leak.By, -other.Cylinders[3].Leak.By, 1e-9)
		assert.Equal(t, one.Cylinders[3].Move == twice.Better, other.Cylinders[3].Move == twice.Worse)
	}
}

func TestTwoGaugesOnOneEngine(t *testing.T) {
	d := shop{rand.New(rand.NewPCG(15, 1)), 1, 2, false}
	l := engine(6)
	l.Testers = append(l.Testers, log.Tester{ID: "h", Name: "Other gauge", Kind: log.CompressionTester, Resolution: &units.Reading{Value: 1, Unit: units.PSI}})
	other := d.session("b", "2026-01-01", "", even(6, 158), nil)
	for i := range other.Compression {
		other.Compression[i].Tester = "h"
	}
	l.Sessions = []log.Session{d.session("a", "2026-01-01", "", even(6, 170), nil), other}
	r, err := Tests(l, judge.Log(l, rules.Shop{}), "a", "b", rules.Shop{})
	require.NoError(t, err)
	assert.Equal(t, Gauges, r.Purpose)
	assert.Regexp(t, `^The Other gauge reads [5-9]\.\d % less than the Gauge`, r.Sentence)
}

func TestATestIsNotComparedWithItselfNorWithNone(t *testing.T) {
	d := shop{rand.New(rand.NewPCG(15, 1)), 1, 2, false}
	l := engine(4)
	l.Sessions = []log.Session{d.session("a", "2026-01-01", "", even(4, 170), nil)}
	_, err := Tests(l, judge.Log(l, rules.Shop{}), "a", "a", rules.Shop{})
	assert.ErrorContains(t, err, "can't be compared with itself")
	_, err = Tests(l, judge.Log(l, rules.Shop{}), "a", "x", rules.Shop{})
	assert.ErrorContains(t, err, "no such test")
}

// Of candidates the worse is never ranked before the better, and each says what it lacks.
func TestCandidatesAreRankedByWhatIsKnown(t *testing.T) {
	d := shop{rand.New(rand.NewPCG(17, 1)), 1, 2, true}
	make := func(name string, low, leak float64) One {
		l := engine(4)
		l.Engine.ID, l.Engine.Name = name, name
		truth, leaks := even(4, 170), even(4, 4)
		truth[1] *= low
		leaks[1] += leak
		l.Sessions = []log.Session{d.session("a", "2026-01-01", "as-found", truth, leaks)}
		return One{l, judge.Log(l, rules.Shop{})}
	}
	untested := engine(4)
	untested.Engine.Name = "never"
	all := Rank([]One{{untested, judge.Log(untested, rules.Shop{})}, make("dead", 0.3, 60), make("good", 1, 0), make("tired", 0.88, 12)}, rules.Shop{})
	var names []string
	for _, c := range all {
		names = append(names, c.Name)
	}
	assert.Equal(t, []string{"good", "tired", "dead", "never"}, names)
	assert.Equal(t, []int{1, 2, 3, 0}, []int{all[0].Place, all[1].Place, all[2].Place, all[3].Place})
	assert.Contains(t, all[0].Lacks, "the maker's minimum: without it only evenness can be judged")
	assert.Equal(t, []string{"any test"}, all[3].Lacks)

	cold := make("cold", 1, 0)
	cold.Log.Sessions[0].Conditions.EngineTemp = "cold"
	cold.Log.Sessions[0].Leakdown = cold.Log.Sessions[0].Leakdown[:3]
	lacks := Rank([]One{cold}, rules.Shop{})[0].Lacks
	assert.Contains(t, lacks[0], "a hot test")
	assert.Contains(t, lacks, "a leak-down on 1 of 4")
}

// An engine's history suggests what may be laid beside what: each repair, each season, its builds, cold beside hot.
func TestOffers(t *testing.T) {
	d := shop{rand.New(rand.NewPCG(19, 1)), 1, 2, false}
	l := engine(2)
	l.Engine.ID = "siskin"
	l.Builds = []log.Build{{ID: "b1", Date: "2025-01-01"}, {ID: "b2", Date: "2026-01-01"}}
	for _, s := range []struct{ id, date, stage, temp string }{
		{"s0", "2025-05-01", "service", "hot"}, {"a", "2026-02-01", "pre-install", "cold"}, {"s2", "2026-03-01", "pre-season", "hot"},
		{"s3", "2026-06-01", "between-runs", "hot"}, {"s4", "2026-06-09", "after-repair", "hot"}, {"s5", "2026-10-01", "post-season", "hot"},
	} {
		one := d.session(s.id, s.date, s.stage, even(2, 170), nil)
		one.Conditions.EngineTemp, one.Baseline = s.temp, s.id == "a" || s.id == "s2"
		l.Sessions = append(l.Sessions, one)
	}
	verdict := judge.Log(l, rules.Shop{})
	assert.Equal(t, []Offer{
		{"Did the repair help? 9 Jun 2026", []string{"siskin:s3", "siskin:s4"}},
		{"What season 2026 cost", []string{"siskin:s2", "siskin:s5"}},
		{"Its 2 builds, by their baselines", []string{"siskin@b1", "siskin@b2"}},
		{"Its cold baseline and its hot one", []string{"siskin:a", "siskin:s2"}},
	}, Offers(l, verdict, units.Choice{}))
	assert.Equal(t, 4, BaselineOf(l, verdict, "b2"), "the first after the repair")
	assert.Equal(t, 0, BaselineOf(l, verdict, "b1"), "without a baseline, the first test")
	assert.Equal(t, -1, BaselineOf(l, verdict, "b9"))
	l.Sessions[4].Open = true
	assert.NotContains(t, fmt.Sprint(Offers(l, verdict, units.Choice{})), "siskin:s4", "what is not finished is not compared")
	l.Sessions[4].Stage = "service"
	assert.Equal(t, 2, BaselineOf(l, verdict, "b2"), "hot before cold")
}

// What a repair mended and what it hurt are both said, and the hurt decides.
func TestARepairThatHurtsAnother(t *testing.T) {
	d := shop{rand.New(rand.NewPCG(23, 1)), 1, 2, true}
	before, after, leaksBefore, leaksAfter := even(4, 180), even(4, 180), even(4, 3), even(4, 3)
	before[2], leaksBefore[2] = 150, 16
	after[0], leaksAfter[0] = 150, 16
	r := d.pairOf(t, 4, "after-repair", before, after, leaksBefore, leaksAfter)
	assert.Equal(t, twice.Worse, r.Answer)
	assert.Regexp(t, `^It partly helped\. Cylinder 3 came up .* Cylinder 1 lost .* That is new\.`, r.Sentence)
}
