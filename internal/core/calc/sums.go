package calc

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"braxel/internal/core/gas"
	"braxel/internal/core/layout"
	"braxel/internal/core/reading"
	"braxel/internal/core/rotor"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

var sums = []Sum{
	sum("ambient", say.Text("calc.air-pressure-at-altitude"), Ambient),
	sum("sea-level", say.Text("calc.reading-brought-sea-level"), SeaLevel),
	sum("evenness", say.Text("calc.how-even-set-readings"), Evenness),
	sum("leak", say.Text("calc.leak-hole-matches-what-reference"), Leak),
	sum("two-testers", say.Text("calc.what-another-tester-would-show"), TwoTesters),
	sum("cranking", say.Text("calc.pressure-cranking-should-make-as"), Cranking),
	sum("ratio", say.Text("calc.compression-ratio-makes-reading-as"), Ratio),
	sum("oil-gain", say.Text("calc.what-oil-adds-wet-reading"), OilGain),
	sum("piston-push", say.Text("calc.how-hard-leak-down-air"), PistonPush),
	sum("tdc-plan", say.Text("calc.where-turn-crank-for-each"), TDCPlan),
	sum("stroke", say.Text("calc.stroke-from-two-marks-rod"), Stroke),
	sum("rotor", say.Text("calc.rotors-speed-three-faces"), Rotor),
	sum("repeatability", say.Text("calc.how-well-gauge-repeats"), Repeatability),
}

// Bounds that every sum shares: no cranked engine, tester or height goes beyond them.
const (
	maxKPa   = 10000.0
	minAir   = 40.0
	maxAir   = 110.0
	maxMM    = 2000.0
	minLimit = 1e-6
)

func first(errs ...error) error { return cmp.Or(errs...) }

// AmbientIn is an altitude.
type AmbientIn struct {
	AltitudeM float64 `json:"altitude_m"`
}

// AmbientOut is the standard atmosphere there, absolute.
type AmbientOut struct {
	AmbientKPa float64 `json:"ambient_kpa"`
}

// Ambient is gas.Ambient.
func Ambient(in AmbientIn) (AmbientOut, error) {
	return AmbientOut{float64(gas.Ambient(in.AltitudeM))}, between("altitude_m", in.AltitudeM, -450, 11000)
}

// SeaLevelIn is a gauge reading and the air it was made in.
type SeaLevelIn struct {
	GaugeKPa   float64 `json:"gauge_kpa"`
	AmbientKPa float64 `json:"ambient_kpa"`
}

// SeaLevelOut is the same engine's reading at sea level.
type SeaLevelOut struct {
	SeaLevelKPa float64 `json:"sea_level_kpa"`
}

// SeaLevel is gas.ToSeaLevel.
func SeaLevel(in SeaLevelIn) (SeaLevelOut, error) {
	if err := first(between("gauge_kpa", in.GaugeKPa, 0, maxKPa), between("ambient_kpa", in.AmbientKPa, minAir, maxAir)); err != nil {
		return SeaLevelOut{}, err
	}
	return SeaLevelOut{float64(gas.ToSeaLevel(units.Pressure(in.GaugeKPa), units.Pressure(in.AmbientKPa)))}, nil
}

// EvennessIn is a set of readings.
type EvennessIn struct {
	Readings []float64 `json:"readings_kpa"`
}

// Evenness is reading.Even.
func Evenness(in EvennessIn) (reading.Evenness, error) {
	if len(in.Readings) == 0 {
		return reading.Evenness{}, say.Error("calc.readings-kpa-add-at-least")
	}
	for i, v := range in.Readings {
		if err := between(fmt.Sprintf("readings_kpa.%d", i), v, 0, maxKPa); err != nil {
			return reading.Evenness{}, err
		}
	}
	return reading.Even(in.Readings), nil
}

// LeakIn is what a leak-down tester shows. An orifice of 1.0 mm is assumed where none is given.
type LeakIn struct {
	SupplyKPa  float64 `json:"supply_kpa"`
	HeldKPa    float64 `json:"held_kpa"`
	OrificeMM  float64 `json:"orifice_mm,omitempty"`
	AmbientKPa float64 `json:"ambient_kpa,omitempty"`
}

// LeakOut is the leak on that tester, its hole, and the leak on the reference tester.
type LeakOut struct {
	LeakPct          float64 `json:"leak_pct"`
	HoleMM           float64 `json:"hole_mm"`
	ReferenceLeakPct float64 `json:"reference_leak_pct"`
}

// Leak is gas.LeakPct, gas.Hole and gas.ReferenceLeakPct.
func Leak(in LeakIn) (LeakOut, error) {
	in.OrificeMM, in.AmbientKPa = cmp.Or(in.OrificeMM, gas.OrificeMM), cmp.Or(in.AmbientKPa, float64(gas.SeaLevel))
	if err := first(between("supply_kpa", in.SupplyKPa, minLimit, maxKPa), between("held_kpa", in.HeldKPa, 0, maxKPa),
		between("orifice_mm", in.OrificeMM, 0.05, 20), between("ambient_kpa", in.AmbientKPa, minAir, maxAir)); err != nil {
		return LeakOut{}, err
	}
	supply, held := units.Pressure(in.SupplyKPa), units.Pressure(in.HeldKPa)
	hole, err := gas.Hole(supply, held, units.Pressure(in.AmbientKPa), in.OrificeMM)
	if err != nil {
		return LeakOut{}, inKPa(err)
	}
	return LeakOut{gas.LeakPct(supply, held), hole, gas.ReferenceLeakPct(hole)}, nil
}

// inKPa gives a refusal of the core the name of this package's field.
func inKPa(err error) error {
	words := err.Error()
	for _, field := range []string{"supply", "held"} {
		if rest, ok := strings.CutPrefix(words, field+":"); ok {
			return errors.New(field + "_kpa:" + rest)
		}
	}
	return err
}

// TwoTestersIn is what one tester shows, and another tester to read the same leak with.
type TwoTestersIn struct {
	LeakIn
	OtherSupplyKPa  float64 `json:"other_supply_kpa"`
	OtherOrificeMM  float64 `json:"other_orifice_mm"`
	OtherAmbientKPa float64 `json:"other_ambient_kpa,omitempty"`
}

// TwoTestersOut is what the other tester would show.
type TwoTestersOut struct {
	LeakPct      float64 `json:"leak_pct"`
	HoleMM       float64 `json:"hole_mm"`
	OtherHeldKPa float64 `json:"other_held_kpa"`
	OtherLeakPct float64 `json:"other_leak_pct"`
}

// TwoTesters is gas.Hole on one tester and gas.Held on the other.
func TwoTesters(in TwoTestersIn) (TwoTestersOut, error) {
	one, err := Leak(in.LeakIn)
	in.OtherAmbientKPa = cmp.Or(in.OtherAmbientKPa, in.AmbientKPa, float64(gas.SeaLevel))
	if err := first(err, between("other_supply_kpa", in.OtherSupplyKPa, minLimit, maxKPa),
		between("other_orifice_mm", in.OtherOrificeMM, 0.05, 20), between("other_ambient_kpa", in.OtherAmbientKPa, minAir, maxAir)); err != nil {
		return TwoTestersOut{}, err
	}
	supply := units.Pressure(in.OtherSupplyKPa)
	held := gas.Held(one.HoleMM, supply, units.Pressure(in.OtherAmbientKPa), in.OtherOrificeMM)
	return TwoTestersOut{one.LeakPct, one.HoleMM, float64(held), gas.LeakPct(supply, held)}, nil
}

// Geometry is a cylinder's bore, stroke and rod.
type Geometry struct {
	BoreMM   float64 `json:"bore_mm"`
	StrokeMM float64 `json:"stroke_mm"`
	RodMM    float64 `json:"rod_mm"`
}

func (g Geometry) check() error {
	return first(between("bore_mm", g.BoreMM, 1, maxMM), between("stroke_mm", g.StrokeMM, 1, maxMM), between("rod_mm", g.RodMM, 1, 2*maxMM))
}

func (g Geometry) cylinder(ratio, closes float64) gas.Cylinder {
	return gas.Cylinder{Bore: g.BoreMM, Stroke: g.StrokeMM, Rod: g.RodMM, Ratio: ratio, IntakeCloses: closes}
}

// CrankingIn is a cylinder, the air, and the tester's dead volume ahead of its check valve.
type CrankingIn struct {
	Geometry
	Ratio        float64 `json:"compression_ratio"`
	IntakeCloses float64 `json:"intake_closes_abdc_deg"`
	AmbientKPa   float64 `json:"ambient_kpa,omitempty"`
	DeadVolumeCC float64 `json:"dead_volume_cc,omitempty"`
	OilCC        float64 `json:"oil_cc,omitempty"`
}

// CrankingOut is the band of gauge pressures.
type CrankingOut struct {
	Low  float64 `json:"low_kpa"`
	Mid  float64 `json:"mid_kpa"`
	High float64 `json:"high_kpa"`
}

// Cranking is gas.Cylinder.Cranking at the three exponents.
func Cranking(in CrankingIn) (CrankingOut, error) {
	in.AmbientKPa = cmp.Or(in.AmbientKPa, float64(gas.SeaLevel))
	c := in.cylinder(in.Ratio, in.IntakeCloses)
	if err := first(in.check(), between("compression_ratio", in.Ratio, -maxKPa, 60), between("ambient_kpa", in.AmbientKPa, minAir, maxAir),
		between("dead_volume_cc", in.DeadVolumeCC, 0, 1000), between("oil_cc", in.OilCC, 0, 1000), c.Check()); err != nil {
		return CrankingOut{}, err
	}
	band, err := bandOf(func(n float64) (float64, error) {
		p, err := c.Cranking(units.Pressure(in.AmbientKPa), n, in.DeadVolumeCC, in.OilCC)
		return float64(p), err
	})
	return CrankingOut{band[0], band[1], band[2]}, err
}

// bandOf does a sum at the three exponents, low, mid, high.
func bandOf(do func(n float64) (float64, error)) (band [3]float64, err error) {
	for i, n := range []float64{gas.ExponentLow, gas.ExponentMid, gas.ExponentHigh} {
		if band[i], err = do(n); err != nil {
			return [3]float64{}, err
		}
	}
	return band, nil
}

// RatioIn is a cylinder and what its gauge reads.
type RatioIn struct {
	Geometry
	GaugeKPa     float64 `json:"gauge_kpa"`
	IntakeCloses float64 `json:"intake_closes_abdc_deg"`
	AmbientKPa   float64 `json:"ambient_kpa,omitempty"`
	DeadVolumeCC float64 `json:"dead_volume_cc,omitempty"`
}

// RatioOut is the band of compression ratios; the high exponent gives the low one.
type RatioOut struct {
	Low  float64 `json:"low_ratio"`
	Mid  float64 `json:"mid_ratio"`
	High float64 `json:"high_ratio"`
}

// Ratio is gas.Cylinder.RatioFor at the three exponents.
func Ratio(in RatioIn) (RatioOut, error) {
	in.AmbientKPa = cmp.Or(in.AmbientKPa, float64(gas.SeaLevel))
	if err := first(in.check(), between("gauge_kpa", in.GaugeKPa, 1, maxKPa), between("ambient_kpa", in.AmbientKPa, minAir, maxAir),
		between("dead_volume_cc", in.DeadVolumeCC, 0, 1000)); err != nil {
		return RatioOut{}, err
	}
	c := in.cylinder(0, in.IntakeCloses)
	band, err := bandOf(func(n float64) (float64, error) {
		return c.RatioFor(units.Pressure(in.GaugeKPa), units.Pressure(in.AmbientKPa), n, in.DeadVolumeCC)
	})
	return RatioOut{band[2], band[1], band[0]}, err
}

// OilGainIn is a cylinder and the oil put into it.
type OilGainIn struct {
	Geometry
	Ratio        float64 `json:"compression_ratio"`
	IntakeCloses float64 `json:"intake_closes_abdc_deg"`
	OilCC        float64 `json:"oil_cc"`
}

// OilGainOut is the oil's own share of a wet gain, an upper bound.
type OilGainOut struct {
	GainPct float64 `json:"gain_pct"`
}

// OilGain is gas.Cylinder.OilGainPct.
func OilGain(in OilGainIn) (OilGainOut, error) {
	if err := first(in.check(), between("compression_ratio", in.Ratio, -maxKPa, 60), between("oil_cc", in.OilCC, 0, 1000)); err != nil {
		return OilGainOut{}, err
	}
	gain, err := in.cylinder(in.Ratio, in.IntakeCloses).OilGainPct(in.OilCC)
	return OilGainOut{gain}, err
}

// PistonPushIn is a cylinder with air in it and the crank off TDC, a bar on its bolt.
type PistonPushIn struct {
	Geometry
	SupplyKPa float64 `json:"supply_kpa"`
	Deg       float64 `json:"deg_from_tdc"`
	HandleMM  float64 `json:"handle_mm"`
}

// PistonPushOut is the force on the piston, the torque on the crank, the force at the bar's end.
type PistonPushOut struct {
	ForceN   float64 `json:"force_n"`
	TorqueNm float64 `json:"torque_nm"`
	HandleN  float64 `json:"handle_n"`
}

// PistonPush is gas.Cylinder.Push.
func PistonPush(in PistonPushIn) (PistonPushOut, error) {
	c := in.cylinder(2, 0)
	if err := first(in.check(), c.Check(), between("supply_kpa", in.SupplyKPa, 0, maxKPa),
		between("deg_from_tdc", in.Deg, -180, 180), between("handle_mm", in.HandleMM, 1, 5000)); err != nil {
		return PistonPushOut{}, err
	}
	force, torque, bar := c.Push(units.Pressure(in.SupplyKPa), in.Deg, in.HandleMM)
	return PistonPushOut{force, torque, bar}, nil
}

// TDCPlanIn is a firing order with its intervals; none means even over four strokes, or over one turn in a two-stroke.
type TDCPlanIn struct {
	FiringOrder []int     `json:"firing_order"`
	Intervals   []float64 `json:"intervals_deg,omitempty"`
	TwoStroke   bool      `json:"two_stroke,omitempty"`
}

// TDCPlanOut is the stops of the crank.
type TDCPlanOut struct {
	Steps []TDCStep `json:"steps"`
}

// TDCStep is one stop: the turn from the one before, the mark on the pulley, the place in the cycle.
type TDCStep struct {
	Cylinder int     `json:"cylinder"`
	Turn     float64 `json:"turn_deg"`
	Crank    float64 `json:"crank_deg"`
	Cycle    float64 `json:"cycle_deg"`
}

// TDCPlan is layout.Plan. Intervals that add up to one turn are a two-stroke's.
func TDCPlan(in TDCPlanIn) (TDCPlanOut, error) {
	cycle, sum := 720.0, 0.0
	for i, d := range in.Intervals {
		if err := between(fmt.Sprintf("intervals_deg.%d", i), d, 0, 720); err != nil {
			return TDCPlanOut{}, err
		}
		sum += d
	}
	if in.TwoStroke || math.Abs(sum-360) <= 1 {
		cycle = 360
	}
	steps, err := layout.Plan(in.FiringOrder, in.Intervals, cycle)
	out := TDCPlanOut{Steps: make([]TDCStep, len(steps))}
	for i, s := range steps {
		out.Steps[i] = TDCStep{s.Cylinder, s.Turn, s.Crank, s.Cycle}
	}
	return out, err
}

// StrokeIn is the distance between two marks on a rod and the angle of the plug hole to the bore.
type StrokeIn struct {
	DistanceMM float64 `json:"distance_mm"`
	PlugAngle  float64 `json:"plug_angle_deg"`
	BoreMM     float64 `json:"bore_mm"`
	Cylinders  int     `json:"cylinders"`
}

// StrokeOut is the stroke and what the engine displaces with it.
type StrokeOut struct {
	StrokeMM       float64 `json:"stroke_mm"`
	DisplacementCC float64 `json:"displacement_cc"`
}

// Stroke is gas.StrokeFrom and layout.Displacement.
func Stroke(in StrokeIn) (StrokeOut, error) {
	if err := first(between("distance_mm", in.DistanceMM, minLimit, maxMM), between("plug_angle_deg", in.PlugAngle, 0, 80),
		between("bore_mm", in.BoreMM, 1, maxMM), between("cylinders", float64(in.Cylinders), 1, 64)); err != nil {
		return StrokeOut{}, err
	}
	stroke := gas.StrokeFrom(in.DistanceMM, in.PlugAngle)
	return StrokeOut{stroke, layout.Displacement(in.BoreMM, stroke, in.Cylinders)}, nil
}

// RotorIn is a film of the gauge: pulses counted over a time, the held peak, three pulses in a row. With the ambient
// pressure the faces are also brought to 250 rpm and sea level, by the maker's table where it is given.
type RotorIn struct {
	Pulses     int        `json:"pulses"`
	Seconds    float64    `json:"seconds"`
	HeldPeak   float64    `json:"held_peak_kpa"`
	FacePulses []float64  `json:"face_pulses_kpa"`
	AmbientKPa float64    `json:"ambient_kpa,omitempty"`
	Table      []rotor.At `json:"table,omitempty"`
}

// RotorOut is the speed and the three faces as read, and, where the ambient pressure was given, at 250 rpm and sea
// level; Estimated says that no maker's table stands behind those.
type RotorOut struct {
	RPM       float64   `json:"rpm"`
	Faces     []float64 `json:"faces_kpa"`
	Nominal   []float64 `json:"faces_at_250_kpa,omitempty"`
	Estimated bool      `json:"estimated,omitempty"`
}

// Rotor is rotor.RPM, rotor.Faces and rotor.Factor.
func Rotor(in RotorIn) (RotorOut, error) {
	if err := first(between("pulses", float64(in.Pulses), 1, 100000), between("seconds", in.Seconds, 0.01, 3600), between("held_peak_kpa", in.HeldPeak, 0, maxKPa)); err != nil {
		return RotorOut{}, err
	}
	if len(in.FacePulses) != 3 {
		return RotorOut{}, say.Error("calc.face-pulses-kpa-rotor-has", "n", len(in.FacePulses))
	}
	var pulses [3]units.Pressure
	for i, p := range in.FacePulses {
		if err := between(fmt.Sprintf("face_pulses_kpa.%d", i), p, 0, in.HeldPeak); err != nil {
			return RotorOut{}, err
		}
		pulses[i] = units.Pressure(p)
	}
	out := RotorOut{RPM: rotor.RPM(in.Pulses, in.Seconds)}
	faces := rotor.Faces(units.Pressure(in.HeldPeak), pulses)
	for _, f := range faces {
		out.Faces = append(out.Faces, float64(f))
	}
	if in.AmbientKPa == 0 {
		return out, nil
	}
	if err := between("ambient_kpa", in.AmbientKPa, minAir, maxAir); err != nil {
		return RotorOut{}, err
	}
	for i, row := range in.Table {
		if !(row.RPM > 0 && row.Factor > 0) || (i > 0 && row.RPM <= in.Table[i-1].RPM) {
			return RotorOut{}, say.Error("calc.table-speeds-must-rise-factors", "i", i)
		}
	}
	factor, estimated := rotor.Factor(out.RPM, in.Table)
	out.Estimated = estimated
	for _, f := range faces {
		out.Nominal = append(out.Nominal, factor*float64(gas.ToSeaLevel(f, units.Pressure(in.AmbientKPa))))
	}
	return out, nil
}

// RepeatabilityIn is the pulls of each cylinder made with one gauge.
type RepeatabilityIn struct {
	Groups [][]float64 `json:"groups_kpa"`
}

// RepeatabilityOut is the pooled standard deviation and the limit between two pulls.
type RepeatabilityOut struct {
	SDKPa    float64 `json:"sd_kpa"`
	LimitKPa float64 `json:"repeatability_limit_kpa"`
}

// Repeatability is reading.Repeatability.
func Repeatability(in RepeatabilityIn) (RepeatabilityOut, error) {
	most := 0
	for i, g := range in.Groups {
		most = max(most, len(g))
		for j, v := range g {
			if err := between(fmt.Sprintf("groups_kpa.%d.%d", i, j), v, 0, maxKPa); err != nil {
				return RepeatabilityOut{}, err
			}
		}
	}
	if most < 2 {
		return RepeatabilityOut{}, say.Error("calc.groups-kpa-at-least-one")
	}
	sd, limit := reading.Repeatability(in.Groups)
	return RepeatabilityOut{sd, limit}, nil
}

// ErrUnknown is what Run answers for a name that is no sum.
var ErrUnknown = say.Error("calc.there-no-such-sum")

// All returns the sums in the order in which they are listed.
func All() []Sum { return sums }

// Words says in a line what a sum tells; "" of a name that is none.
func Words(name string) string {
	for _, s := range sums {
		if s.Name == name {
			return s.Words
		}
	}
	return ""
}

// Run does the named sum on the text of a JSON object. Errors name the field.
func Run(name string, text []byte) (any, error) {
	i := slices.IndexFunc(sums, func(s Sum) bool { return s.Name == name })
	if i < 0 {
		return nil, fmt.Errorf("%s: %w", name, ErrUnknown)
	}
	return sums[i].run(text)
}
