package belief_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"braxel/internal/core/belief"
	"braxel/internal/golden"
)

// story is a history of which every figure of belief is kept, so that whoever changes a figure of the model sees what it does
// to all others. The other tests say what is right; this one says what is changed.
type story struct {
	name   string
	engine func() *belief.Believed
	visits []*belief.Visit
}

func with(v *belief.Visit, change func(v *belief.Visit)) *belief.Visit {
	change(v)
	return v
}

func of(e belief.Engine, n int, x belief.Expect) func() *belief.Believed {
	return func() *belief.Believed {
		var pairs [][2]int
		for i := 1; i < n; i++ {
			pairs = append(pairs, [2]int{i - 1, i})
		}
		return belief.New(e, n, pairs, x)
	}
}

func stories() []story {
	four, nan := []float64{180, 182, 178, 180}, math.NaN()
	leak4 := []float64{3, 4, 3, 4}
	built := belief.Expect{Level: math.Log(1240), SD: 0.25, Faulty: 0.02}
	found := belief.Expect{Level: math.Log(1240), SD: 0.06, Faulty: 0.1, Cold: true}
	petrol := of(belief.Engine{Ratio: 10, CC: 500, RPM: 220}, 4, built)
	taught := func() *belief.Visit { return with(visit(four, leak4), func(v *belief.Visit) { v.Teaches = true }) }
	heard := func(v *belief.Visit, c int, heard [5]int) *belief.Visit {
		v.Leaks[c][0].Heard = heard
		return v
	}
	order := func(v *belief.Visit, order ...int) *belief.Visit {
		v.Order = order
		return v
	}
	return []story{
		{"sound, then one leaks into the exhaust", petrol, []*belief.Visit{taught(),
			heard(visit([]float64{179, 168, 177, 179}, []float64{3, 14, 3, 4}), 1, [5]int{1, 0, 2})}},
		{"a slow leak, three times", petrol, []*belief.Visit{taught(), visit([]float64{178, 181, 176, 179}, []float64{3, 6, 3, 4}),
			visit([]float64{179, 178, 177, 179}, []float64{3, 9, 3.5, 4}), visit([]float64{177, 174, 176, 178}, []float64{4, 12, 4, 4})}},
		{"one falls short and holds air", petrol, []*belief.Visit{taught(), visit([]float64{180, 182, 140, 180}, []float64{3, 4, 3, 4})}},
		{"cranked alone, one dead", petrol, []*belief.Visit{taught(), visit([]float64{180, 25, 178, 181}, nil)}},
		{"leaks alone, bubbles", petrol, []*belief.Visit{taught(),
			heard(visit([]float64{nan, nan, nan, nan}, []float64{3, 4, 12, 4}), 2, [5]int{1, 0, 0, 2})}},
		{"two neighbours alike", petrol, []*belief.Visit{taught(),
			heard(heard(visit([]float64{180, 120, 118, 180}, []float64{3, 35, 34, 4}), 1, [5]int{1, 0, 0, 0, 2}), 2, [5]int{1, 0, 0, 0, 2})}},
		{"a battery that sags", petrol, []*belief.Visit{taught(), with(visit([]float64{178, 174, 164, 160}, leak4), func(v *belief.Visit) { v.VoltsFell = 0.8 })}},
		{"a throttle opened after two, volts held", petrol, []*belief.Visit{taught(), with(visit([]float64{150, 151, 177, 180}, nil), func(v *belief.Visit) { v.VoltsHeld = true })}},
		{"read in another order, by another way, at a raw head", petrol, []*belief.Visit{taught(),
			with(order(visit([]float64{166, 166, 164, 158}, []float64{5, 6, 5, 9}), 3, 1, 0, 2), func(v *belief.Visit) {
				v.Mean, v.SD, v.LeakMean, v.LeakSD, v.Raw = -0.07, 0.04, 0.22, 0.12, true
			})}},
		{"a leak that compression denies, then repeated", petrol, []*belief.Visit{taught(),
			visit([]float64{180, 182, 178, 180}, []float64{3, 4, 22, 4}),
			with(visit([]float64{180, 182, 178, 180}, []float64{3, 4, 22, 4}), func(v *belief.Visit) {
				v.Leaks[2] = append(v.Leaks[2], belief.LeakRow{Pct: 21, Step: 1.5, Listened: true, Heard: [5]int{2}})
			})}},
		{"the tester's own seal, written in fives", petrol, []*belief.Visit{taught(),
			with(visit(four, []float64{5, 5, 30, 5}), func(v *belief.Visit) {
				for i := range v.Leaks {
					v.Leaks[i][0].Step, v.Leaks[i][0].Seal = 1.44, i == 2
				}
			})}},
		{"repaired, and it is there again", petrol, []*belief.Visit{taught(), visit([]float64{180, 150, 178, 180}, []float64{3, 25, 3, 4}),
			with(visit([]float64{181, 181, 178, 180}, leak4), func(v *belief.Visit) { v.Repaired = true }),
			visit([]float64{180, 160, 178, 180}, []float64{3, 20, 3, 4})}},
		{"pulls that disagree, one too low by a digit", petrol, []*belief.Visit{taught(),
			with(visit(four, nil), func(v *belief.Visit) {
				v.Rows[0], v.Pulls[0] = row(180, 150), 2
				v.Rows[3], v.Pulls[3] = row(180, 18, 181), 3
				v.Rows[2], v.Pulls[2] = row(150), 1
			})}},
		{"cold at first sight, uneven, nobody gave the bore", of(belief.Engine{Vague: true}, 4, found), []*belief.Visit{
			with(visit([]float64{165, 150, 168, 120}, []float64{8, 14, 7, 28}), func(v *belief.Visit) { v.Raw, v.LeakMean, v.LeakSD = true, 0.285, 0.35 })}},
		{"a single", of(belief.Engine{Ratio: 10, CC: 500, RPM: 220}, 1, built), []*belief.Visit{
			with(visit([]float64{175}, []float64{4}), func(v *belief.Visit) { v.Teaches = true }), visit([]float64{150}, []float64{12})}},
		{"a diesel twin", of(belief.Engine{Ratio: 18, CC: 900, RPM: 200}, 2, belief.Expect{Level: math.Log(2600), SD: 0.3, Faulty: 0.1}), []*belief.Visit{
			with(visit([]float64{400, 390}, []float64{6, 5}), func(v *belief.Visit) { v.Teaches = true }), visit([]float64{395, 310}, []float64{6, 30})}},
		{"a bank fell", of(belief.Engine{Ratio: 10, CC: 500, RPM: 220}, 6, built), []*belief.Visit{
			with(visit(sound6, nil), func(v *belief.Visit) { v.Teaches = true }),
			with(visit([]float64{180, 170, 179, 168, 180, 166}, nil), func(v *belief.Visit) { v.SecondBank = []int{1, 3, 5} })}},
		{"all lower, test after test", petrol, []*belief.Visit{taught(), visit([]float64{176, 178, 174, 176}, leak4),
			visit([]float64{172, 174, 170, 172}, []float64{4, 5, 4, 5}), visit([]float64{168, 170, 166, 168}, []float64{5, 6, 5, 6})}},
	}
}

func TestEveryFigureOfBeliefIsKept(t *testing.T) {
	var all strings.Builder
	for n, s := range stories() {
		fmt.Fprintf(&all, "%s\n", s.name)
		b := s.engine()
		for i, v := range s.visits {
			told, accounts := b.Next(v)
			if i == 0 && len(s.visits) > 1 && n > 0 { // the baselines are alike
				continue
			}
			fmt.Fprintf(&all, " visit %d: level %.4f;", i+1, b.Level())
			weights := map[belief.Kind]float64{}
			common := 0.0
			for _, a := range accounts {
				weights[a.Kind] += a.Weight
				common += a.Weight * a.Common
			}
			fmt.Fprintf(&all, " alike %.3f sag %.3f step %.3f bank %.3f, all by %.4f\n", weights[belief.Alike], weights[belief.Sag], weights[belief.Step], weights[belief.Bank], common)
			for c, x := range told {
				fmt.Fprintf(&all, "  %d: sound %.4f leaks %.4f short %.4f innocent %.4f failed %.4f; %.2f points %.2f %%; at %.3f; pair %d %.4f;", c+1,
					x.Sound, x.Leaking, x.Short, x.Innocent, x.Failed, x.Points, x.LostPct, x.Place, x.Pair, x.PairChance)
				fmt.Fprintf(&all, " change %.4f ±%.4f rise %.3f ±%.3f of %.3f; order %.4f meant %.4f beyond %.4f %v\n",
					x.Change, x.ChangeSE, x.Rise, x.RiseSE, x.Expected, x.Order, x.Meant, x.Beyond,
					[]bool{x.LeftOut, x.Unsure, x.NewLeak, x.NewReading, x.NoBaseLeak, x.NoBase})
			}
		}
	}
	golden.Same(t, "figures.txt", all.String())
}
