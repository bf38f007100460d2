package bench_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/bench"
	"braxel/internal/core/gas"
	"braxel/internal/core/log"
	"braxel/internal/core/trace"
	"braxel/internal/core/units"
)

func four() log.Engine {
	closes := 55.0
	return log.Engine{
		Name: "Siskin", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}}, FiringOrder: []int{1, 3, 4, 2},
		BoreMM: 86, StrokeMM: 86, RodMM: 140, Ratio: 10, IntakeCloses: &closes,
	}
}

func kart() log.Engine {
	closes := 85.0
	return log.Engine{Name: "Linnet", Kind: log.TwoStroke, Layout: log.Layout{Banks: [][]int{{1}}}, BoreMM: 54, StrokeMM: 54, RodMM: 100, Ratio: 12, IntakeCloses: &closes}
}

func rotary() bench.Spec {
	return bench.Spec{Engine: log.Engine{Name: "Dipper", Kind: log.Rotary, Layout: log.Layout{Rotors: 2}, Ratio: 9}, FaceCC: 650, Alike: true}
}

// highest cranks an engine for some seconds and returns the highest that the gauge showed, the mean speed of the second half, and
// what became of the engine.
func highest(e *bench.Engine, s bench.State, do bench.Do, seconds float64) (kpa, rpm float64, after bench.State) {
	do.Crank = true
	n, begun := 0.0, s.Seconds
	after = e.Run(s, do, seconds, func(s bench.State) {
		kpa = max(kpa, e.Shows(s, *do.Gauge))
		if s.Seconds > begun+seconds/2 {
			rpm, n = rpm+s.RPM(), n+1
		}
	})
	return kpa, rpm / n, after
}

// peak is what a bare gauge shows of a cylinder at most.
func peak(s bench.Spec, cylinder int) float64 {
	e := bench.New(s)
	kpa, _, _ := highest(e, e.Begin(false), bench.Do{Gauge: &bench.Gauge{}, At: e.Place(cylinder)}, 4)
	return kpa
}

func TestNoLeakGivesThePolytropicPeak(t *testing.T) {
	// A valve that is all but shut holds a little back at the end, and more of it where the crank turns fast.
	for held, engine := range map[float64]log.Engine{0.025: four(), 0.06: kart()} {
		for _, n := range []float64{1, 1.2, 1.25, 1.3} {
			for _, ratio := range []float64{8, 10, 13} {
				engine.Ratio = ratio
				c, _ := gas.Likely(engine)
				want, err := c.Cranking(gas.SeaLevel, n, 0, 0)
				require.NoError(t, err)
				assert.InEpsilon(t, float64(want), peak(bench.Spec{Engine: engine, Exponent: n, Alike: true}, 1), held)
			}
		}
	}
}

// A rotary's chamber is clearance + swept·(1 − cos ⅔θ)/2.
func TestARotorWithoutLeaksGivesThePolytropicPeak(t *testing.T) {
	s := rotary()
	s.Exponent = 1.25
	clearance := s.FaceCC / (s.Engine.Ratio - 1)
	shut := clearance + s.FaceCC/2*(1-math.Cos((270-50)*2./3*math.Pi/180))
	want := 101.325 * (math.Pow(shut/clearance, 1.25) - 1)
	assert.InEpsilon(t, want, peak(s, 2), 0.03)
}

func TestThinAirMakesTheSameRatio(t *testing.T) {
	low, high := bench.Spec{Engine: four(), Alike: true}, bench.Spec{Engine: four(), Alike: true, AltitudeM: 1600}
	assert.InEpsilon(t, float64(gas.Ambient(1600)/gas.SeaLevel), peak(high, 1)/peak(low, 1), 0.005)
}

// A chamber that stands full of air and loses it through a fixed hole: while the flow is choked,
// p = p0·(1 + (n−1)/2·k·t)^(−2n/(n−1)), k = A·ψ·√(R·T0)/V.
func TestAFixedHoleDecaysAsTheNozzleDoes(t *testing.T) {
	const pct, n = 10.0, 1.25
	s := bench.Spec{Engine: four(), RingsPct: pct, Exponent: n, Alike: true}
	e := bench.New(s)
	at := e.Place(1)
	now := e.TurnTo(e.Begin(false), at, 0)
	hold := bench.Air{SupplyKPa: 700, OrificeMM: 3, Hold: true}
	now = e.Run(now, bench.Do{At: at, Air: &hold}, 4, nil)
	p0, t0 := now.Chambers[0].P, now.Chambers[0].T()
	shut := hold
	shut.OrificeMM = 0
	area := gas.Area(pct) * math.Pi / 4 * 1e-6
	k := area * gas.Flow(0) * math.Sqrt(287*t0) / now.Chambers[0].V
	begun := now.Seconds
	e.Run(now, bench.Do{At: at, Air: &shut}, 0.2, func(s bench.State) {
		want := p0 * math.Pow(1+(n-1)/2*k*(s.Seconds-begun), -2*n/(n-1))
		if want > 2.2*101325 {
			assert.InEpsilon(t, want, s.Chambers[0].P, 0.01)
		}
	})
}

// What the reference tester shows of a hole is what the hole was made from; at another pressure, what the nozzles' balance says.
func TestLeakDownShowsTheHole(t *testing.T) {
	for _, pct := range []float64{2, 5, 10, 20, 40, 80} {
		for _, psi := range []float64{50, 100} {
			e := bench.New(bench.Spec{Engine: four(), RingsPct: pct, Alike: true})
			at := e.Place(3)
			supply := units.Reading{Value: psi, Unit: units.PSI}.Pressure()
			s := e.Run(e.TurnTo(e.Begin(false), at, 0), bench.Do{At: at, Air: &bench.Air{SupplyKPa: float64(supply), OrificeMM: 1, Hold: true}}, 6, nil)
			want := gas.Held(math.Sqrt(gas.Area(pct)), supply, gas.SeaLevel, 1)
			assert.InDelta(t, float64(want), (s.Hose-101325)/1000, 0.01*float64(supply), "%g %g", pct, psi)
		}
	}
}

func TestACrankOffItsDeadCentreIsSpunByTheAir(t *testing.T) {
	e := bench.New(bench.Spec{Engine: four(), RingsPct: 3, Alike: true})
	at := e.Place(1)
	air := bench.Air{SupplyKPa: 690, OrificeMM: 1}
	stays := e.Run(e.TurnTo(e.Begin(false), at, 0.5), bench.Do{At: at, Air: &air}, 3, nil)
	spun := e.Run(e.TurnTo(e.Begin(false), at, 25), bench.Do{At: at, Air: &air}, 3, nil)
	assert.Less(t, stays.Deg, 3.0)
	assert.Greater(t, spun.Deg, 100.0)
	assert.Less(t, spun.Hose, stays.Hose/2, "its exhaust has opened")
}

// With n = 1 and a gauge that takes its share at once, the k-th beat leaves p = p∞·(1 − qᵏ) with q = Vh/(Vh + Vc): what the hose
// holds joins what the chamber does at the dead centre.
func TestThePlateauComesAfterTheBeatsThatTheHoseAsksFor(t *testing.T) {
	for _, hose := range []float64{6, 20, 60} {
		s := bench.Spec{Engine: four(), Exponent: 1, Alike: true}
		e := bench.New(s)
		c, _ := gas.Likely(s.Engine)
		q := hose / (hose + c.Chamber())
		want := math.Log(0.02) / math.Log(q)
		do := bench.Do{Gauge: &bench.Gauge{Valve: true, HoseCC: hose}, At: e.Place(1)}
		most, _, _ := highest(e, e.Begin(false), do, 14)
		beats, before := 0, 0.0
		do.Crank = true
		e.Run(e.Begin(false), do, 14, func(s bench.State) {
			d := math.Mod(s.Deg+360, 720)
			if d < before && e.Shows(s, *do.Gauge) < 0.98*most { // half a cycle away from the dead centre
				beats++
			}
			before = d
		})
		t.Logf("hose %.0f cm³: %d beats to the plateau, %.1f by the closed form", hose, beats, want)
		assert.InDelta(t, want, float64(beats), 1.5+0.25*want)
	}
}

// Carbon and oil take room alike, and the reading rises by what the sum says of it.
func TestWhatTakesRoomRaisesTheReading(t *testing.T) {
	c, _ := gas.Likely(four())
	for _, cc := range []float64{2, 5, 10} {
		clean := peak(bench.Spec{Engine: four(), Exponent: gas.ExponentMid, Alike: true}, 1)
		grown := peak(bench.Spec{Engine: four(), Exponent: gas.ExponentMid, Alike: true, CarbonCC: cc}, 1)
		want, err := c.OilGainPct(cc)
		require.NoError(t, err)
		assert.InDelta(t, want, 100*(grown/clean-1), 0.5+0.05*want)
	}
}

// A hand that oils and oils does not break the engine: the reading stays one that a gauge has.
func TestMuchOilLocksNothing(t *testing.T) {
	e := bench.New(bench.Spec{Engine: four(), RingsPct: 3, Alike: true})
	s := e.Begin(false)
	dry, _, _ := highest(e, s, bench.Do{Gauge: &bench.Gauge{}, At: e.Place(1)}, 3)
	for range 30 {
		s = e.PutOil(s, e.Place(1), 5)
	}
	wet, rpm, _ := highest(e, s, bench.Do{Gauge: &bench.Gauge{}, At: e.Place(1)}, 3)
	assert.Greater(t, wet, dry)
	assert.Less(t, wet, 3*dry)
	assert.Greater(t, rpm, 100.0)
}

// worse are faults in rising size: the cylinder's reading never rises with them, and its siblings' stay.
func TestAWorseFaultNeverReadsHigher(t *testing.T) {
	for _, kind := range []string{bench.RingsBore, bench.IntakeValve, bench.ExhaustValve, bench.GasketBeside, bench.GasketWater, bench.BentRod, bench.CamTiming, bench.SeatDirt} {
		before := math.Inf(1)
		for _, size := range []float64{0, 0.7, 2, 5, 12, 25, 60} {
			if kind == bench.BentRod && size > 5 {
				continue
			}
			f := bench.Fault{Kind: kind, Cylinder: 2, Neighbour: 3, Size: size}
			s := bench.Spec{Engine: four(), RingsPct: 3, Alike: true, Faults: []bench.Fault{f}}
			now := peak(s, 2)
			assert.LessOrEqual(t, now, before*1.002, "%s %g", kind, size)
			before = now
		}
	}
}

// filmOf is what a recorder writes down of a cranking, at 500 samples a second.
func filmOf(s bench.Spec, g bench.Gauge, number int, seconds float64) (r trace.Recording, e *bench.Engine, rpm float64) {
	e = bench.New(s)
	do := bench.Do{Gauge: &g, At: e.Place(number)}
	if s.Engine.Kind == log.Rotary {
		do.PlugsIn = true
	}
	r.Measured = trace.Pressure
	i, before := 0, 0.0
	var beats []float64
	turns := map[string]float64{log.TwoStroke: 1, log.Rotary: 1}[s.Engine.Kind]
	if turns == 0 {
		turns = 2
	}
	see := func(now bench.State) {
		if i++; i%4 == 0 {
			r.Seconds, r.Values = append(r.Seconds, now.Seconds), append(r.Values, e.Shows(now, g))
		}
		turned := math.Mod(now.Deg, 360*turns)
		if turned < before { // cylinder 1, or one of its rotor's faces, is at its dead centre
			beats = append(beats, now.Seconds)
		}
		before = turned
	}
	still := e.Run(e.Begin(false), do, 0.3, see)
	do.Crank = true
	e.Run(still, do, seconds, see)
	beats = beats[1:] // the first turn is one of spinning up
	return r, e, 60 * turns * float64(len(beats)-1) / (beats[len(beats)-1] - beats[0])
}

func known(e log.Engine) trace.Known {
	k := trace.Known{Engine: e.Kind, Measured: trace.Pressure, Cylinders: len(e.Cylinders()), Cylinder: 1}
	if e.Kind == log.Rotary {
		k.Cylinders, k.Rotors, k.Rotor = 0, e.Layout.Rotors, 1
	}
	return k
}

// What is read in the bench's own films is what happened on the bench.
func TestItsFilmsAreReadAsTheyWere(t *testing.T) {
	apex := rotary()
	apex.RingsPct, apex.Faults = 12, []bench.Fault{{Kind: bench.ApexSeal, Cylinder: 1, Face: 2, Size: 60}}
	diesel := four()
	diesel.Fuel, diesel.Ratio = "diesel", 18
	for name, c := range map[string]struct {
		spec  bench.Spec
		gauge bench.Gauge
	}{
		"pulses":     {bench.Spec{Engine: four(), RingsPct: 3}, bench.Gauge{DeadCC: 1}},
		"a leak":     {bench.Spec{Engine: four(), RingsPct: 3, Faults: []bench.Fault{{Kind: bench.ExhaustValve, Cylinder: 1, Size: 30}}}, bench.Gauge{DeadCC: 1}},
		"staircase":  {bench.Spec{Engine: four(), RingsPct: 3}, bench.Shop},
		"two-stroke": {bench.Spec{Engine: kart(), RingsPct: 4}, bench.Gauge{DeadCC: 1}},
		"diesel":     {bench.Spec{Engine: diesel, RingsPct: 3}, bench.Shop},
		"rotary":     {apex, bench.Gauge{}},
	} {
		t.Run(name, func(t *testing.T) {
			r, _, rpm := filmOf(c.spec, c.gauge, 1, 5)
			a := trace.Read(r, known(c.spec.Engine))
			require.True(t, a.Readable, a.Why)
			t.Log(fmt.Sprint(a.Why, " ", rpm, a.FacesKPa))
			assert.InEpsilon(t, rpm, a.RPM, 0.04, "a staircase is slow while the starter spins up")
			most := 0.0
			for _, v := range r.Values {
				most = max(most, v)
			}
			require.NotNil(t, a.PeakKPa)
			assert.InEpsilon(t, most, *a.PeakKPa, 0.02)
		})
	}
}

func TestWhatIsSeenChangesNothing(t *testing.T) {
	e := bench.New(bench.Spec{Engine: four(), RingsPct: 3, Seed: 5})
	do := bench.Do{Crank: true, Gauge: &bench.Shop, At: e.Place(1)}
	begun := e.Begin(false)
	again := e.Begin(false)
	one := e.Run(begun, do, 1.5, nil)
	two := e.Run(e.Run(begun, do, 0.5, func(bench.State) {}), do, 1, nil)
	assert.InDelta(t, one.Needle, two.Needle, 1e-6)
	assert.Equal(t, again, begun, "a state that was handed in stays as it was")
}

func TestTheStarterSagsAndRests(t *testing.T) {
	e := bench.New(bench.Spec{Engine: four(), RingsPct: 3, Faults: []bench.Fault{{Kind: bench.BatteryFlat}}})
	do := bench.Do{Gauge: &bench.Shop, At: e.Place(1)}
	s := e.Begin(false)
	before := s.Battery.Volts()
	_, quick, s := highest(e, s, do, 5)
	tired := s.Battery.Volts()
	_, slow, s := highest(e, e.Vent(s), do, 5)
	assert.Less(t, slow, quick)
	rested := e.Rest(s, 300).Battery
	assert.Less(t, tired, before)
	assert.Greater(t, rested.Volts(), s.Battery.Volts())
	assert.Less(t, rested.Heat, s.Battery.Heat)
}

// An hour of cranking in less than a tenth of that is what the screen needs: see the benchmark's x-real.
func BenchmarkAnHourOfCranking(b *testing.B) {
	e := bench.New(bench.Spec{Engine: four(), RingsPct: 3})
	do := bench.Do{Crank: true, Gauge: &bench.Shop, At: e.Place(1), PlugsIn: true}
	s := e.Begin(false)
	for b.Loop() {
		s = e.Run(s, do, 6, nil)
	}
	b.ReportMetric(6*float64(b.N)/b.Elapsed().Seconds(), "x-real")
}
