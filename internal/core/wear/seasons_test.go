package wear_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"runtime"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"golang.org/x/sync/errgroup"

	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
	"braxel/internal/core/wear"
)

// truth is an engine whose wear is known. Its law isn't the one that predicts: what passes the rings feeds their wear, and faults begin and
// grow by a logistic curve, or at once.
type truth struct {
	e        log.Engine
	sound    []float64 // percent, by cylinder
	pace     []float64
	rate     float64 // points in a life, before it feeds itself
	feeds    float64 // lives after which the pace has grown by e
	lives    float64
	fault    int // the cylinder
	begins   float64
	takes    float64
	size     float64
	step     bool
	bleeding gas.Bleeding
}

var kinds = []struct {
	duty, unit string
	lasts      float64
	cylinders  int
}{{"circuit", "h", 120, 4}, {"street", "km", 250000, 4}, {"rally", "h", 150, 6}, {"kart", "h", 100, 1}, {"marine", "h", 1500, 8}}

func drawTruth(draw *rand.Rand) truth {
	k := kinds[draw.IntN(len(kinds))]
	closes := 55.0
	t := truth{lives: math.Exp(0.7 * draw.NormFloat64())}
	t.e = log.Engine{
		ID: "e", Name: "e", Kind: log.FourStroke, Duty: k.duty, MeterUnit: k.unit,
		BoreMM: 80 + 15*draw.Float64(), StrokeMM: 75 + 15*draw.Float64(), RodMM: 140,
		Ratio: 9 + 3*draw.Float64(), IntakeCloses: &closes, Fuel: "petrol",
	}
	bank := []int{}
	for c := range k.cylinders {
		bank = append(bank, c+1)
	}
	t.e.Layout = log.Layout{Banks: [][]int{bank}}
	t.bleeding = gas.BleedingOf(t.e)
	mean := math.Exp(math.Log(3.5) + 0.5*draw.NormFloat64())
	points, _ := rules.Shop{}.WornOut(t.e)
	for range bank {
		t.sound = append(t.sound, mean*math.Exp(0.35*draw.NormFloat64()))
		t.pace = append(t.pace, math.Exp(0.25*draw.NormFloat64()))
	}
	t.feeds = 0.8 + draw.Float64()
	t.rate = points / (slices.Max(t.pace) * t.feeds * math.Expm1(1/t.feeds)) // so that the fastest cylinder meets its limit after one life
	t.fault, t.begins, t.takes = draw.IntN(k.cylinders), draw.ExpFloat64()/rules.FaultsALife, 0.02+0.4*draw.Float64()
	t.size, t.step = math.Exp(math.Log(7)+0.8*draw.NormFloat64()), draw.Float64() < 0.3 // small ones are met oftener
	t.begins *= k.lasts
	t.takes *= k.lasts
	return t
}

// leak returns what a cylinder truly leaks after running, percent, bedded in.
func (t truth) leak(c int, running float64) float64 {
	x := running / (rules.LastsOf(t.e) * t.lives)
	points := t.rate * t.pace[c] * t.feeds * math.Expm1(x/t.feeds)
	if c == t.fault && running > t.begins {
		grown := 1.0
		if !t.step {
			grown = 1 / (1 + math.Exp(4-8*(running-t.begins)/t.takes))
		}
		points += t.size * grown
	}
	return min(t.sound[c]+points, 95)
}

// inside reports whether all cylinders are inside the limits after running.
func (t truth) inside(running float64) bool {
	points, pct := rules.Shop{}.WornOut(t.e)
	for c := range t.sound {
		held := t.bleeding.Held(gas.Area(t.leak(c, running))) / t.bleeding.Held(gas.Area(t.sound[c]))
		if t.leak(c, running)-t.sound[c] >= points || 100*(1-held) >= pct {
			return false
		}
	}
	return true
}

// laplace strays like a hand does: mostly little, now and then much.
func laplace(draw *rand.Rand, scale float64) float64 {
	u := draw.Float64() - 0.5
	return -scale * math.Copysign(math.Log(1-2*math.Abs(u)), u)
}

// habit is how a shop tests.
type habit struct {
	name       string
	psi, pct   float64 // what it reads to
	comp, leak bool
	cold       float64 // how often
}

var habits = []habit{
	{"both", 1, 1, true, true, 0.1}, {"coarse", 5, 5, true, true, 0.1},
	{"leak only", 1, 1, false, true, 0.1}, {"compression only", 2, 1, true, false, 0},
}

// logOf tests an engine at some readings of its meter.
func (t truth) logOf(draw *rand.Rand, h habit, at []float64) log.Log {
	l := log.Log{
		Engine: t.e, Builds: []log.Build{{ID: "b", Date: "2030-01-01"}},
		Testers: []log.Tester{
			{ID: "g", Kind: log.CompressionTester, Resolution: &units.Reading{Value: h.psi, Unit: units.PSI}},
			{ID: "k", Kind: log.LeakdownTester, OrificeMM: 1},
		},
	}
	for i, running := range at {
		s := log.Session{ID: fmt.Sprint(i), Date: fmt.Sprintf("203%d-0%d-01", 1+i/9, 1+i%9), Build: "b", Meter: &at[i], Baseline: i == 0}
		s.Conditions.EngineTemp = "hot"
		cold := draw.Float64() < h.cold
		visit, leaks := 0.02*draw.NormFloat64(), math.Exp(0.1*draw.NormFloat64())
		if cold {
			s.Conditions.EngineTemp = "cold"
			visit, leaks = visit-0.07+0.03*draw.NormFloat64(), leaks*1.33*math.Exp(0.15*draw.NormFloat64())
		}
		bedding := math.Exp(-running / (0.01 * rules.LastsOf(t.e)))
		for c := range t.sound {
			area := gas.Area(t.leak(c, running)) * leaks * math.Exp(laplace(draw, 0.07)) * (1 + 0.5*bedding*draw.Float64())
			if h.comp {
				p := 170 * (1 + 0.02*math.Sin(float64(c*7))) * t.bleeding.Held(gas.Area(t.leak(c, running))) * math.Exp(visit)
				row := log.Compression{Place: log.Place{Cylinder: c + 1}, Mode: log.Dry, Tester: "g"}
				for range 2 {
					row.Pulls = append(row.Pulls, log.Pull{Reading: units.Reading{
						Value: h.psi * math.Round(p*(1+laplace(draw, 0.006))/h.psi), Unit: units.PSI,
					}})
				}
				s.Compression = append(s.Compression, row)
			}
			if h.leak {
				pct := h.pct * math.Round(min(99, max(0, gas.Pct(area)+laplace(draw, 0.4)))/h.pct)
				s.Leakdown = append(s.Leakdown, log.Leakdown{
					Place: log.Place{Cylinder: c + 1}, Tester: "k", Supply: 100, Held: 100 - pct, Unit: units.PSI, Position: "tdc",
				})
			}
		}
		l.Sessions = append(l.Sessions, s)
	}
	return l
}

// foretold is one chance that was given, what the two simple ways say, and what came.
type foretold struct {
	said, hours, line float64
	held              bool
	of                []string // the groups that it is counted in
}

// drawTests draws an engine and when it was tested: by the shop's calendar, whatever the engine's own life. One that an earlier test would
// have found past its limits was rebuilt then, and isn't among them.
func drawTests(draw *rand.Rand) (truth, []float64) {
	for {
		t := drawTruth(draw)
		now := rules.LastsOf(t.e) * (0.05 + 0.75*draw.Float64())
		at := []float64{0}
		for k, tests := 1, 1+draw.IntN(6); k <= tests; k++ {
			at = append(at, now*float64(k)/float64(tests))
		}
		if t.inside(at[len(at)-2]) {
			return t, at
		}
	}
}

// seasons draws seasons and tells the chances of each at three points. By hours alone an engine is inside as often as others were so long
// after a rebuild (hours is filled in later); by a straight line through the mean leak it is inside until that meets the limit.
func seasons(n int, seed uint64) []foretold {
	all := make([][]foretold, n)
	var each errgroup.Group
	each.SetLimit(runtime.GOMAXPROCS(0))
	for i := range n {
		each.Go(func() error {
			draw := rand.New(rand.NewPCG(seed, uint64(i)))
			h := habits[draw.IntN(len(habits))]
			t, at := drawTests(draw)
			lasts, now := rules.LastsOf(t.e), at[len(at)-1]
			l := t.logOf(draw, h, at)
			life := wear.Of(l, rules.Shop{})
			groups := []string{"all", h.name, "nearly even"}
			if t.feeds < 1.2 { // its pace grows to more than twice in a life
				groups[2] = "accelerating"
			}
			if len(at) == 2 {
				groups = append(groups, "two tests")
			}
			for _, ahead := range []float64{0.03, 0.1, 0.25} {
				x := ahead * lasts
				all[i] = append(all[i], foretold{
					said: life.Inside(x), line: lineOf(l, x), hours: (now + x) / lasts, held: t.inside(now + x), of: groups,
				})
			}
			return nil
		})
	}
	_ = each.Wait()
	var out []foretold
	for _, one := range all {
		out = append(out, one...)
	}
	byHours(out)
	return out
}

// byHours replaces the running since the rebuild, in usual lives, by how often engines were inside after so much.
func byHours(all []foretold) {
	var n, held [20]float64
	bin := func(f foretold) int { return min(int(f.hours*8), len(n)-1) }
	for _, f := range all {
		n[bin(f)]++
		if f.held {
			held[bin(f)]++
		}
	}
	for i := range all {
		b := bin(all[i])
		all[i].hours = (held[b] + 0.5) / (n[b] + 1)
	}
}

// lineOf is the chance by a straight line through the worst cylinder's leaks or losses, with a normal error.
func lineOf(l log.Log, ahead float64) float64 {
	points, pct := rules.Shop{}.WornOut(l.Engine)
	p := 1.0
	for c := range l.Engine.Cylinders() {
		for kind := range 2 {
			var xs, ys []float64
			for _, s := range l.Sessions {
				switch {
				case kind == 0 && len(s.Leakdown) > 0:
					xs, ys = append(xs, *s.Meter), append(ys, 100*(1-s.Leakdown[c].Held/s.Leakdown[c].Supply)/points)
				case kind == 1 && len(s.Compression) > 0:
					xs, ys = append(xs, *s.Meter), append(ys, -100*math.Log(s.Compression[c].Pulls[0].Value)/pct)
				}
			}
			n := float64(len(xs))
			if n < 2 {
				continue
			}
			mx, my, sxx, sxy := 0.0, 0.0, 0.0, 0.0
			for i := range xs {
				mx, my = mx+xs[i]/n, my+ys[i]/n
			}
			for i := range xs {
				sxx, sxy = sxx+(xs[i]-mx)*(xs[i]-mx), sxy+(xs[i]-mx)*(ys[i]-my)
			}
			rise := sxy / sxx * (xs[len(xs)-1] + ahead - xs[0])
			p *= 0.5 * math.Erfc((rise-1)/(0.35*math.Sqrt2))
		}
	}
	return p
}

func brier(all []foretold, of func(foretold) float64) float64 {
	sum := 0.0
	for _, f := range all {
		is := 0.0
		if f.held {
			is = 1
		}
		sum += (of(f) - is) * (of(f) - is)
	}
	return sum / float64(len(all))
}

// around returns how many chances lie within reach of one, what was said on average, and how many held.
func around(all []foretold, p, reach float64) (n int, said, held float64) {
	for _, f := range all {
		if math.Abs(f.said-p) <= reach {
			n++
			said += f.said
			if f.held {
				held++
			}
		}
	}
	return n, said / float64(n), held / float64(n)
}

func TestChancesHoldOnSeasonsOfAnotherModel(t *testing.T) {
	all := seasons(240, 5)
	ours := brier(all, func(f foretold) float64 { return f.said })
	assert.Less(t, ours, brier(all, func(f foretold) float64 { return f.hours })-0.03, "sharper than hours since the rebuild")
	assert.Less(t, ours, brier(all, func(f foretold) float64 { return f.line })-0.02, "sharper than a straight line")
	n, said, held := around(all, 0.9, 0.1)
	assert.InDelta(t, said, held, 0.04+2*math.Sqrt(0.09/float64(n)), "%d chances about nine in ten", n)
}

// BenchmarkSeasons tells 2000 seasons and prints how often what was given 50, 80, 90 and 95 % held, by habit, and the Brier scores.
func BenchmarkSeasons(b *testing.B) {
	for b.Loop() {
		all := seasons(2000, 11)
		groups := []string{"all", "accelerating", "nearly even", "two tests"}
		for _, h := range habits {
			groups = append(groups, h.name)
		}
		for _, group := range groups {
			some := slices.DeleteFunc(slices.Clone(all), func(f foretold) bool { return !slices.Contains(f.of, group) })
			line := fmt.Sprintf("%-18s", group)
			for _, p := range []struct{ at, reach float64 }{{0.5, 0.1}, {0.8, 0.05}, {0.9, 0.04}, {0.95, 0.02}} {
				n, said, held := around(some, p.at, p.reach)
				line += fmt.Sprintf("  said %4.1f %%: %4.1f held (n %d)", 100*said, 100*held, n)
			}
			b.Logf("%s  Brier %.3f, by hours %.3f, by a line %.3f", line,
				brier(some, func(f foretold) float64 { return f.said }), brier(some, func(f foretold) float64 { return f.hours }),
				brier(some, func(f foretold) float64 { return f.line }))
		}
	}
}
