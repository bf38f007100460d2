package belief_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/belief"
)

func logs(psi ...float64) []float64 {
	var all []float64
	for _, v := range psi {
		all = append(all, math.Log(v*6.894757))
	}
	return all
}

func row(psi ...float64) []belief.Part {
	sds := make([]float64, len(psi))
	for i := range sds {
		sds[i] = 0.009
	}
	return belief.Row(logs(psi...), sds)
}

func likeliest(parts []belief.Part) belief.Part {
	return slices.MaxFunc(parts, func(a, b belief.Part) int {
		if a.Weight < b.Weight {
			return -1
		}
		return 1
	})
}

func TestPullsThatAgreeAreOneAndThoseThatDoNotAreNotAveraged(t *testing.T) {
	agree := likeliest(row(170, 171))
	assert.True(t, agree.Whole)
	assert.Greater(t, agree.Weight, 0.95)
	assert.InDelta(t, 170.5, math.Exp(agree.Mean)/6.894757, 0.1)
	assert.InDelta(t, 0.009/math.Sqrt2, agree.SD, 1e-9, "two say it by the root of two more surely")

	for _, p := range row(22, 226) {
		psi := math.Exp(p.Mean) / 6.894757
		assert.True(t, math.Abs(psi-22) < 1 || math.Abs(psi-226) < 1, "%g is neither", psi)
	}
	lost := likeliest(row(170, 17, 171))
	assert.False(t, lost.Whole)
	assert.InDelta(t, 170.5, math.Exp(lost.Mean)/6.894757, 0.1, "a digit was lost")
	assert.Greater(t, lost.Weight, 0.9)
	assert.Empty(t, belief.Row(nil, nil))
	sum := 0.0
	for _, p := range row(150, 171, 128) {
		sum += p.Weight
	}
	assert.InDelta(t, 1, sum, 1e-9)
	assert.Len(t, row(1, 2, 3, 4, 5, 6, 170), len(row(3, 4, 5, 6, 170)), "the last five count")
}

// visit is one of n cylinders, psi and leak percent each; NaN is not read.
func visit(psi, leaks []float64) *belief.Visit {
	n := max(len(psi), len(leaks))
	v := &belief.Visit{Rows: make([][]belief.Part, n), Pulls: make([]int, n), Leaks: make([][]belief.LeakRow, n), Scatter: 0.006,
		Marks: [...]belief.Mark{{Points: 55, LostPct: 60}, {Points: 10, LostPct: 10}, {Points: 2, LostPct: 3}}}
	for i, p := range psi {
		if !math.IsNaN(p) {
			v.Rows[i], v.Pulls[i] = row(p, p), 2
			v.Order = append(v.Order, i)
		}
	}
	for i, l := range leaks {
		if !math.IsNaN(l) {
			v.Leaks[i] = []belief.LeakRow{{Pct: l, Step: 0.3, Listened: true, Heard: [5]int{1}}}
		}
	}
	return v
}

func engine(n int) *belief.Believed {
	var pairs [][2]int
	for i := 1; i < n; i++ {
		pairs = append(pairs, [2]int{i - 1, i})
	}
	return belief.New(belief.Engine{Ratio: 10, CC: 500, RPM: 220}, n, pairs, belief.Expect{Level: math.Log(180 * 6.894757), SD: 0.25, Faulty: 0.02})
}

// after returns what the last of the visits makes of each cylinder.
func after(n int, visits ...*belief.Visit) ([]belief.Told, []belief.Hypothesis) {
	b := engine(n)
	var told []belief.Told
	var accounts []belief.Hypothesis
	for i, v := range visits {
		v.Teaches = i == 0
		told, accounts = b.Next(v)
	}
	return told, accounts
}

func weightOf(all []belief.Hypothesis, kind belief.Kind) float64 {
	sum := 0.0
	for _, h := range all {
		if h.Kind == kind {
			sum += h.Weight
		}
	}
	return sum
}

var (
	sound6 = []float64{180, 182, 179, 181, 180, 178}
	leaks6 = []float64{3, 4, 3, 3, 4, 3}
)

func TestASoundEngineIsBelievedToBe(t *testing.T) {
	told, _ := after(6, visit(sound6, leaks6), visit(sound6, leaks6))
	for i := range told {
		assert.Greater(t, told[i].Sound, 0.98)
	}
}

func TestOneThatFellIsTheOnlyOneBlamed(t *testing.T) {
	fell := slices.Clone(sound6)
	fell[2] *= 0.88
	told, _ := after(6, visit(sound6, leaks6), visit(fell, leaks6))
	assert.Greater(t, told[2].Short, 0.9, "it leaks no more")
	assert.InDelta(t, -12, 100*math.Expm1(told[2].Change), 1.5)
	for i := range told {
		if i != 2 {
			assert.Greater(t, told[i].Sound, 0.95)
		}
	}
}

func TestABatteryThatSagsBlamesNobody(t *testing.T) {
	for _, volts := range []float64{0, 1.2} {
		sag := slices.Clone(sound6)
		for k := range sag {
			sag[k] *= 1 - 0.03*float64(k)
		}
		v := visit(sag, leaks6)
		v.VoltsFell = volts
		told, accounts := after(6, visit(sound6, leaks6), v)
		assert.Greater(t, weightOf(accounts, belief.Sag), 0.8)
		for i := range told {
			assert.Greater(t, told[i].Sound, 0.9, "cylinder %d", i)
		}
	}
}

func TestAThrottleOpenedHalfWayBlamesNobody(t *testing.T) {
	step := slices.Clone(sound6)
	for k := range 3 {
		step[k] *= 0.8
	}
	told, accounts := after(6, visit(sound6, nil), visit(step, nil))
	assert.Greater(t, weightOf(accounts, belief.Step), 0.9)
	for i := range told {
		assert.Greater(t, told[i].Sound, 0.9)
	}
}

func TestABankThatFellAsOneIsNoCylindersFault(t *testing.T) {
	psi := []float64{180, 181, 179, 180, 182, 180, 181, 179}
	fell := slices.Clone(psi)
	for _, c := range []int{4, 5, 6, 7} {
		fell[c] *= 0.92
	}
	bank, order := visit(fell, nil), []int{0, 4, 1, 5, 2, 6, 3, 7}
	bank.SecondBank, bank.Order = []int{4, 5, 6, 7}, order
	_, accounts := after(8, visit(psi, nil), bank)
	assert.Greater(t, weightOf(accounts, belief.Bank), 0.5)
}

func TestHeldVoltsMakeASagUnlikely(t *testing.T) {
	sag := slices.Clone(sound6)
	for k := range sag {
		sag[k] *= 1 - 0.008*float64(k)
	}
	unknown, held := visit(sag, nil), visit(sag, nil)
	held.VoltsHeld = true
	_, a := after(6, visit(sound6, nil), unknown)
	_, b := after(6, visit(sound6, nil), held)
	assert.Less(t, weightOf(b, belief.Sag), weightOf(a, belief.Sag))
}

func TestTwoNeighboursThatLeakAlikeAreAGasket(t *testing.T) {
	psi, leaks := slices.Clone(sound6), slices.Clone(leaks6)
	for _, c := range []int{2, 3} {
		psi[c] *= 0.85
		leaks[c] = 25
	}
	told, _ := after(6, visit(sound6, leaks6), visit(psi, leaks))
	assert.Equal(t, 3, told[2].Pair)
	assert.Greater(t, told[2].PairChance, 0.5)
	assert.InDelta(t, told[2].PairChance, told[3].PairChance, 1e-9)
	apart := slices.Clone(sound6)
	apart[0], apart[5] = apart[0]*0.85, apart[5]*0.85
	told, _ = after(6, visit(sound6, leaks6), visit(apart, leaks6))
	assert.Less(t, told[0].PairChance, 0.05, "those that do not stand side by side share none")
}

func TestAGasketBesideTwoSaysNothingOfTheRest(t *testing.T) {
	psi, leaks := slices.Clone(sound6), slices.Clone(leaks6)
	for _, c := range []int{0, 1} {
		psi[c] *= 0.85
		leaks[c] = 25
	}
	none := make([]float64, 6)
	for i := range none {
		none[i] = math.NaN()
	}
	told, _ := after(6, visit(sound6, leaks6), visit(psi, leaks), visit(none, []float64{25, 25, 4, 4, 5, 4}))
	for c := 2; c < 6; c++ {
		assert.Greater(t, told[c].Sound, 0.9, "cylinder %d", c)
	}
}

func TestALeakThatCompressionDeniesIsDirtUntilItStays(t *testing.T) {
	once := slices.Clone(leaks6)
	once[1] = 20
	dirty := visit(sound6, once)
	told, _ := after(6, visit(sound6, leaks6), dirty)
	assert.Greater(t, told[1].Innocent, 0.4)
	assert.Greater(t, told[1].Sound, 0.5)

	lower := slices.Clone(sound6)
	lower[1] *= 0.97
	again := visit(lower, once)
	again.Leaks[1] = append(again.Leaks[1], again.Leaks[1][0])
	told, _ = after(6, visit(sound6, leaks6), again)
	assert.Greater(t, told[1].Leaking, 0.5, "it was repeated, and stayed")

	seal := visit(sound6, once)
	seal.Leaks[1][0].Seal = true
	told, _ = after(6, visit(sound6, leaks6), seal)
	assert.Greater(t, told[1].Innocent, 0.9, "it hissed at the plug hole")

	cleared := visit(sound6, once)
	cleared.Leaks[1] = append(cleared.Leaks[1], belief.LeakRow{Pct: 4, Step: 0.3})
	told, _ = after(6, visit(sound6, leaks6), cleared)
	assert.Greater(t, told[1].Sound, 0.95)
}

func TestWhereAirIsHeardIsWhereItLeaks(t *testing.T) {
	for place := belief.Intake; place <= belief.Coolant; place++ {
		leaks := slices.Clone(leaks6)
		leaks[4] = 18
		v := visit(sound6, leaks)
		v.Leaks[4][0].Heard[place] = 2
		told, _ := after(6, visit(sound6, leaks6), v)
		best := 0
		for p, w := range told[4].Place {
			if w > told[4].Place[best] {
				best = p
			}
		}
		assert.Equal(t, int(place), best)
	}
}

func TestBeliefReturnsWhenReadingsDo(t *testing.T) {
	fell := slices.Clone(sound6)
	fell[0] *= 0.85
	told, _ := after(6, visit(sound6, leaks6), visit(fell, leaks6), visit(fell, leaks6), visit(fell, leaks6), visit(sound6, leaks6), visit(sound6, leaks6))
	assert.Greater(t, told[0].Sound, 0.9)
}

func TestARepairIsBelievedUntilTheFaultIsSeenAgain(t *testing.T) {
	fell := slices.Clone(sound6)
	fell[0] *= 0.85
	fixed := visit(sound6, leaks6)
	fixed.Repaired = true
	told, _ := after(6, visit(sound6, leaks6), visit(fell, leaks6), fixed)
	assert.Greater(t, told[0].Sound, 0.95)
}

func TestThreeBadOfFourDoNotMakeTheGoodOneOdd(t *testing.T) {
	told, _ := after(4, visit([]float64{157, 65, 63, 70}, []float64{5, 80, 89, 78}))
	assert.Greater(t, told[0].Sound, 0.9)
	for i := 1; i < 4; i++ {
		assert.Less(t, told[i].Sound, 0.1)
	}
}

// random is any visit, mad ones included.
func random(r *rand.Rand, n int) *belief.Visit {
	psi, leaks := make([]float64, n), make([]float64, n)
	for i := range n {
		psi[i], leaks[i] = 60+200*r.Float64(), 99*r.Float64()*r.Float64()
		if r.IntN(5) == 0 {
			psi[i] = []float64{1, math.NaN()}[r.IntN(2)]
		}
		if r.IntN(3) == 0 {
			leaks[i] = math.NaN()
		}
	}
	v := visit(psi, leaks)
	for i := range v.Leaks {
		for k := range v.Leaks[i] {
			v.Leaks[i][k].Heard[r.IntN(5)] = r.IntN(4)
			v.Leaks[i][k].Seal = r.IntN(6) == 0
		}
	}
	r.Shuffle(len(v.Order), func(a, b int) { v.Order[a], v.Order[b] = v.Order[b], v.Order[a] })
	v.Repaired, v.VoltsHeld, v.Raw = r.IntN(9) == 0, r.IntN(3) == 0, r.IntN(3) == 0
	v.Mean, v.SD = 0.1*r.NormFloat64(), 0.05*r.Float64()
	return v
}

func TestBeliefsAreChancesWhateverIsRead(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 7))
	for range 300 {
		n := 1 + r.IntN(16)
		b := engine(n)
		for range 1 + r.IntN(5) {
			told, accounts := b.Next(random(r, n))
			for i := range told {
				x := &told[i]
				require.InDelta(t, 1, x.Sound+x.Leaking+x.Short, 1e-6)
				for _, p := range []float64{x.Sound, x.Leaking, x.Short, x.Innocent, x.Failed, x.PairChance, x.Beyond[0], x.Beyond[1]} {
					require.True(t, p >= -1e-9 && p <= 1+1e-4, "%g is no chance", p)
				}
				for _, f := range []float64{x.Points, x.LostPct, x.Change, x.ChangeSE, x.Rise, x.RiseSE, x.Expected} {
					require.False(t, math.IsNaN(f) || math.IsInf(f, 0))
				}
				require.LessOrEqual(t, x.Innocent, x.Sound+1e-9)
			}
			sum := 0.0
			for _, a := range accounts {
				sum += a.Weight
			}
			if len(accounts) > 0 {
				require.InDelta(t, 1, sum, 1e-9)
			}
		}
	}
}

func TestAReadingIsNeverJudgedByItself(t *testing.T) {
	// The offset of a cylinder is what the others tell: its own reading does not move it.
	change := func(third float64) float64 {
		psi := slices.Clone(sound6)
		psi[2] = third
		told, _ := after(6, visit(sound6, nil), visit(psi, nil))
		return told[2].Change - math.Log(third)
	}
	assert.InDelta(t, change(179), change(120), 0.01)
	assert.InDelta(t, change(179), change(60), 0.01)
}
