package gauge_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/bench"
	"braxel/internal/core/gauge"
	"braxel/internal/core/log"
)

const head = gauge.First + "\n# name: fender gauge\n# kind: valve\nt_ms,kPa\n"

func TestAGaugeIsReadHoweverItsBytesAreCut(t *testing.T) {
	text := head + "0,0.5\r\n2, 1.5\n# a remark\n4,900\n"
	for size := 1; size < len(text); size++ {
		r := &gauge.Reader{}
		var all []gauge.Sample
		for at := 0; at < len(text); at += size {
			some, err := r.Take([]byte(text[at:min(at+size, len(text))]))
			require.NoError(t, err)
			all = append(all, some...)
		}
		h, ok := r.Head()
		require.True(t, ok)
		assert.Equal(t, gauge.Head{Name: "fender gauge", Kind: gauge.Valve}, h)
		assert.Equal(t, []gauge.Sample{{Seconds: 0, KPa: 0.5}, {Seconds: 0.002, KPa: 1.5}, {Seconds: 0.004, KPa: 900}}, all)
	}
}

// One that is asked what it is, or was started anew, says its head again and counts its time from there.
func TestAGaugeMayBeginAnew(t *testing.T) {
	r := &gauge.Reader{}
	all, err := r.Take([]byte("3,4\n" + head + "900,5\n" + head + "2,7\n"))
	require.NoError(t, err)
	assert.Equal(t, []gauge.Sample{{Seconds: 0.9, KPa: 5}, {Seconds: 0.002, KPa: 7}}, all)
}

func TestALeakDownTesterSendsSupplyAndHeld(t *testing.T) {
	r := &gauge.Reader{}
	all, err := r.Take([]byte(gauge.First + "\nt_ms, supply_kPa, held_kPa\n10,690,650\n"))
	require.NoError(t, err)
	h, _ := r.Head()
	assert.Equal(t, gauge.LeakDown, h.Kind)
	assert.Equal(t, []gauge.Sample{{Seconds: 0.01, Supply: 690, KPa: 650}}, all)
}

func TestWhatIsNoGaugeIsSaidToBeNone(t *testing.T) {
	for name, c := range map[string]struct {
		text string
		want string
	}{
		"another device": {strings.Repeat("$GPGGA,1,2,3\n", 20001), gauge.ErrFirst.Error()},
		"garbage":        {head + strings.Repeat("\xff\xfe,,\n", 40), gauge.ErrGarbage.Error()},
		"no line ends":   {head + strings.Repeat("9", 5000), gauge.ErrLong.Error()},
		"columns":        {gauge.First + "\ntime,psi\n", `columns: the gauge says "time,psi"; it must be t_ms,kPa or t_ms,supply_kPa,held_kPa`},
		"kind":           {gauge.First + "\n# kind: thermometer\nt_ms,kPa\n", `kind: the gauge says "thermometer"; with the columns t_ms,kPa it must be valve or bare`},
		"endless head":   {gauge.First + "\n" + strings.Repeat("# a: b\n", 100), gauge.ErrGarbage.Error()},
	} {
		_, err := (&gauge.Reader{}).Take([]byte(c.text))
		require.Error(t, err, name)
		assert.Equal(t, c.want, err.Error(), name)
	}
}

func TestABadLineIsLeftOut(t *testing.T) {
	r := &gauge.Reader{}
	all, err := r.Take([]byte(head + "1,2\nnan,5\n2,inf\n3,1e9\n2,\n,\n4,7,9\n0.5,3\n5,6\n"))
	require.NoError(t, err)
	assert.Equal(t, []gauge.Sample{{Seconds: 0.001, KPa: 2}, {Seconds: 0.005, KPa: 6}}, all)
	assert.Equal(t, 7, r.Bad)
}

func FuzzTake(f *testing.F) {
	f.Add([]byte(head+"0,1\n5,900.5\n"), 3)
	f.Add([]byte(gauge.First+"\n# kind: leak-down\nt_ms,supply_kPa,held_kPa\n1,690,600\n"), 7)
	f.Fuzz(func(t *testing.T, text []byte, size int) {
		r, whole := &gauge.Reader{}, &gauge.Reader{}
		w := &gauge.Watch{Kind: gauge.Valve, Turns: 2}
		size = 1 + min(max(size, 0), 1000)
		var cut []gauge.Sample
		for at := 0; at < len(text); at += size {
			some, err := r.Take(text[at:min(at+size, len(text))])
			cut = append(cut, some...)
			if err != nil {
				break
			}
		}
		all, err := whole.Take(text)
		if err == nil {
			assert.Equal(t, all, cut)
		}
		before := math.Inf(-1)
		for _, s := range cut {
			assert.False(t, math.IsNaN(s.KPa) || math.IsInf(s.KPa, 0))
			w.Take(s)
			v := w.View()
			assert.False(t, math.IsNaN(v.Reading) || math.IsNaN(v.RPM))
			_ = before
		}
	})
}

// stand is an engine with a gauge on it, followed by a Watch as its lines would be: so many a second, with noise and a zero of its own.
type stand struct {
	e        *bench.Engine
	s        bench.State
	g        bench.Gauge
	w        *gauge.Watch
	perS     int
	noise    float64
	zero     float64
	draw     *rand.Rand
	settled  float64 // s when it was said to be there
	happened []gauge.Phase
}

func newStand(engine log.Engine, faults []bench.Fault, g bench.Gauge, kind gauge.Kind, perS int, noise float64) *stand {
	turns := 2.0
	if engine.Kind == log.TwoStroke {
		turns = 1
	}
	e := bench.New(bench.Spec{Engine: engine, RingsPct: 3, Alike: true, Faults: faults})
	return &stand{e: e, s: e.Begin(false), g: g, w: &gauge.Watch{Kind: kind, Turns: turns}, perS: perS, noise: noise, draw: rand.New(rand.NewPCG(1, 2))}
}

func (b *stand) run(do bench.Do, seconds float64) {
	do.Gauge = &b.g
	every := max(1, int(math.Round(1/bench.Step/float64(b.perS))))
	i := 0
	b.s = b.e.Run(b.s, do, seconds, func(s bench.State) {
		if i++; i%every != 0 {
			return
		}
		kpa := b.zero + b.e.Shows(s, b.g) + b.noise*b.draw.NormFloat64()
		b.w.Take(gauge.Sample{Seconds: s.Seconds, KPa: math.Round(kpa*4) / 4})
		phase := b.w.View().Phase
		if n := len(b.happened); n == 0 || b.happened[n-1] != phase {
			b.happened = append(b.happened, phase)
			if phase == gauge.Settled {
				b.settled = s.Seconds
			}
		}
	})
}

func four() log.Engine {
	return log.Engine{Name: "Siskin", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}}, FiringOrder: []int{1, 3, 4, 2}, BoreMM: 86, StrokeMM: 86, Ratio: 10}
}

// The needle says "that is it" at the level at which the gauge still stands after cranking on, soon after its last beat that adds
// anything, whatever the leak, the hose and the recorder.
func TestItSettlesWhereTheGaugeStays(t *testing.T) {
	kart := log.Engine{Name: "Linnet", Kind: log.TwoStroke, Layout: log.Layout{Banks: [][]int{{1}}}, BoreMM: 54, StrokeMM: 54, Ratio: 12}
	for _, engine := range []log.Engine{four(), kart} {
		for _, leak := range []float64{0, 20, 70} {
			for _, hose := range []float64{4, 9, 20} {
				for _, perS := range []int{100, 250, 1000} {
					for _, noise := range []float64{0, 1.5} {
						for _, in := range []bool{false, true} {
							name := fmt.Sprint(engine.Kind, " leak ", leak, " hose ", hose, " rate ", perS, " noise ", noise, " plugs in ", in)
							g := bench.Gauge{Valve: true, DeadCC: 0.8, HoseCC: hose, LagS: 0.012}
							b := newStand(engine, []bench.Fault{{Kind: bench.ExhaustValve, Cylinder: 1, Size: leak}}, g, gauge.Valve, perS, noise)
							b.zero = 4
							b.run(bench.Do{}, 0.6)
							b.run(bench.Do{Crank: true, At: b.e.Place(1), PlugsIn: in}, 8)
							require.NotZero(t, b.settled, "%s: %v %+v", name, b.happened, b.w.View())
							stays := b.e.Shows(b.s, b.g)
							v := b.w.View()
							assert.InDelta(t, stays, v.Reading, 4+0.015*stays, name)
							assert.Less(t, b.settled, 5.5, name)
						}
					}
				}
			}
		}
	}
}

func TestABareGaugeSettlesAtItsHighestPulse(t *testing.T) {
	for _, perS := range []int{250, 1000} {
		b := newStand(four(), nil, bench.Gauge{DeadCC: 1}, gauge.Bare, perS, 1)
		b.run(bench.Do{}, 0.6)
		most := 0.0
		b.run(bench.Do{Crank: true, At: b.e.Place(1)}, 5)
		for _, s := range b.w.Recording() {
			most = max(most, s.KPa)
		}
		assert.Equal(t, []gauge.Phase{gauge.Open, gauge.Rising, gauge.Settled}, b.happened)
		assert.InEpsilon(t, most, b.w.View().Reading, 0.015)
	}
}

func TestACrankingThatStopsTooSoonIsNoReading(t *testing.T) {
	b := newStand(four(), nil, bench.Shop, gauge.Valve, 250, 0.5)
	b.run(bench.Do{}, 0.5)
	b.run(bench.Do{Crank: true, At: b.e.Place(1)}, 0.85)
	b.run(bench.Do{At: b.e.Place(1)}, 3)
	assert.Equal(t, gauge.Stopped, b.w.View().Phase)
	// Cranked on, it is there.
	b.run(bench.Do{Crank: true, At: b.e.Place(1)}, 5)
	assert.Equal(t, gauge.Settled, b.w.View().Phase)
}

// A cylinder that was kept gives no second pull, and the next begins when the gauge has been vented.
func TestTheNextPullBeginsWhenTheGaugeWasVented(t *testing.T) {
	b := newStand(four(), nil, bench.Shop, gauge.Valve, 250, 0.5)
	b.run(bench.Do{}, 0.5)
	b.run(bench.Do{Crank: true, At: b.e.Place(1)}, 4)
	require.Equal(t, gauge.Settled, b.w.View().Phase)
	b.w.Taken()
	b.run(bench.Do{Crank: true, At: b.e.Place(1)}, 2)
	assert.Equal(t, gauge.Taken, b.w.View().Phase)
	assert.Equal(t, 1, b.w.View().Pull)
	b.run(bench.Do{At: b.e.Place(1)}, 1)
	b.s = b.e.Vent(b.s)
	b.run(bench.Do{At: b.e.Place(1)}, 1)
	assert.Equal(t, gauge.Open, b.w.View().Phase)
	b.run(bench.Do{Crank: true, At: b.e.Place(2)}, 4)
	assert.Equal(t, gauge.Settled, b.w.View().Phase)
	assert.Equal(t, 2, b.w.View().Pull)
}

func TestAGaugeThatWasSilentBeginsAnew(t *testing.T) {
	b := newStand(four(), nil, bench.Shop, gauge.Valve, 250, 0.5)
	b.run(bench.Do{}, 0.5)
	b.run(bench.Do{Crank: true, At: b.e.Place(1)}, 0.7)
	require.Equal(t, gauge.Rising, b.w.View().Phase)
	b.w.Take(gauge.Sample{Seconds: b.s.Seconds + 5})
	assert.Equal(t, gauge.Open, b.w.View().Phase)
	assert.Empty(t, b.w.Recording())
	// What stands on it when it speaks again is no pull: nobody saw it rise.
	b.w.Take(gauge.Sample{Seconds: b.s.Seconds + 9, KPa: 900})
	assert.Equal(t, gauge.Taken, b.w.View().Phase)
}

func TestALeakDownSettles(t *testing.T) {
	e := bench.New(bench.Spec{Engine: four(), RingsPct: 12, Alike: true})
	at := e.Place(1)
	w := &gauge.Watch{Kind: gauge.LeakDown}
	var settled bench.State
	s := e.TurnTo(e.Begin(false), at, 0)
	i := 0
	w.Take(gauge.Sample{})
	e.Run(s, bench.Do{At: at, Air: &bench.Air{SupplyKPa: 690, OrificeMM: 1, SagsKPa: 30, Hold: true}}, 8, func(s bench.State) {
		if i++; i%20 == 0 {
			w.Take(gauge.Sample{Seconds: s.Seconds, Supply: s.Supply/1000 - 101.325, KPa: s.Hose/1000 - 101.325})
			if w.View().Phase == gauge.Settled && settled.Seconds == 0 {
				settled = s
			}
		}
	})
	require.NotZero(t, settled.Seconds)
	v := w.View()
	assert.InDelta(t, 12, 100*(1-v.Reading/v.Supply), 0.6)
	w.Taken()
	w.Take(gauge.Sample{Seconds: 8.1, Supply: 690, KPa: 600})
	assert.Equal(t, gauge.Taken, w.View().Phase)
	w.Take(gauge.Sample{Seconds: 8.2, Supply: 2, KPa: 1})
	assert.Equal(t, gauge.Open, w.View().Phase)
}
