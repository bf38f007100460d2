// Package log is Braxel's one vocabulary: an engine and all its history, as the open log format writes it. The same
// structs are stored, served, exported and judged.
package log

import "braxel/internal/core/units"

// Format and Version head every log.
const (
	Format  = "braxel-log"
	Version = 1
)

// Log is one engine and all that was measured on it, sessions in time order.
type Log struct {
	Format   string    `json:"format"`
	Version  int       `json:"version"`
	Engine   Engine    `json:"engine"`
	Testers  []Tester  `json:"testers,omitempty"`
	Builds   []Build   `json:"builds,omitempty"`
	Events   []Event   `json:"events,omitempty"`
	Sessions []Session `json:"sessions"`
}

// Kinds of engine.
const (
	FourStroke = "four-stroke"
	TwoStroke  = "two-stroke"
	Rotary     = "rotary"
)

// Engine is what does not change from test to test. A zero figure is one that nobody has given.
type Engine struct {
	ID              string    `json:"id,omitempty" maxLength:"120"`
	Name            string    `json:"name" minLength:"1" maxLength:"120"`
	Owner           string    `json:"owner,omitempty" maxLength:"120"`
	Note            string    `json:"note,omitempty" maxLength:"10000"`
	Kind            string    `json:"kind" enum:"four-stroke,two-stroke,rotary"`
	Layout          Layout    `json:"layout"`
	FiringOrder     []int     `json:"firing_order,omitempty" maxItems:"64"`
	FiringIntervals []float64 `json:"firing_intervals_deg,omitempty" maxItems:"64"`
	Rotation        string    `json:"rotation,omitempty" enum:"clockwise,anticlockwise"`
	BoreMM          float64   `json:"bore_mm,omitempty" minimum:"20" maximum:"400"`
	StrokeMM        float64   `json:"stroke_mm,omitempty" minimum:"15" maximum:"600"`
	RodMM           float64   `json:"rod_mm,omitempty" minimum:"25" maximum:"1500"`
	Ratio           float64   `json:"compression_ratio,omitempty" minimum:"4" maximum:"30"`
	IntakeCloses    *float64  `json:"intake_closes_abdc_deg,omitempty" minimum:"0" maximum:"120"`
	Fuel            string    `json:"fuel,omitempty" enum:"petrol,diesel,ethanol,methanol,gas,other"`
	Induction       string    `json:"induction,omitempty" enum:"natural,turbo,supercharged"`
	RingPack        string    `json:"ring_pack,omitempty" enum:"conventional,gapless,gas-ported,wide-gap"`
	RingGapMM       *float64  `json:"ring_gap_mm,omitempty" minimum:"0" maximum:"5"`
	Fuelling        string    `json:"fuelling,omitempty" enum:"injection,carburettor"`
	Protocol        string    `json:"protocol,omitempty" maxLength:"60" doc:"How it is tested, by the protocol's id"`
	Duty            string    `json:"duty,omitempty" enum:"street,track-day,circuit,drag,rally,pulling,marine,motorcycle,kart,work"`
	MeterUnit       string    `json:"meter_unit,omitempty" enum:"h,km,mi,runs,events"`
	AltitudeM       *float64  `json:"altitude_m,omitempty" minimum:"-450" maximum:"6000"`
	Limits          *Limits   `json:"limits,omitempty"`
}

// Layout says which cylinders stand beside which. Each bank is numbered from the end far from the output (the front)
// to the rear. A rotary has Rotors and no banks.
type Layout struct {
	Banks    [][]int `json:"banks,omitempty" maxItems:"4"`
	AngleDeg float64 `json:"bank_angle_deg,omitempty" minimum:"0" maximum:"180"`
	Rotors   int     `json:"rotors,omitempty" minimum:"1" maximum:"6"`
}

// Limits are the maker's or the builder's own figures for this engine.
type Limits struct {
	Source           string         `json:"source,omitempty" maxLength:"200"`
	Nominal          *units.Reading `json:"compression_nominal,omitempty"`
	Minimum          *units.Reading `json:"compression_minimum,omitempty"`
	SpreadMaximum    *units.Reading `json:"spread_maximum,omitempty"`
	SpreadMaximumPct float64        `json:"spread_maximum_pct,omitempty" exclusiveMinimum:"0" maximum:"100"`
	LeakMaximumPct   float64        `json:"leak_maximum_pct,omitempty" exclusiveMinimum:"0" maximum:"100"`
	AtRPM            float64        `json:"at_rpm,omitempty"`
}

// By says whose the limits are.
func (l Limits) By() string {
	if l.Source == "" {
		return "the maker"
	}
	return l.Source
}

// Kinds of tester.
const (
	CompressionTester = "compression"
	LeakdownTester    = "leakdown"
	RotaryTester      = "rotary"
)

// Tester is a gauge or a leak-down kit.
type Tester struct {
	ID           string         `json:"id" maxLength:"120"`
	Name         string         `json:"name,omitempty" maxLength:"120"`
	Kind         string         `json:"kind" enum:"compression,leakdown,rotary"`
	Resolution   *units.Reading `json:"resolution,omitempty"`
	Range        *units.Reading `json:"range,omitempty"`
	OffsetKPa    float64        `json:"offset_kpa,omitempty" minimum:"-500" maximum:"500"`
	DeadVolumeCC float64        `json:"dead_volume_cc,omitempty" minimum:"0" maximum:"100"`
	OrificeMM    float64        `json:"orifice_mm,omitempty" exclusiveMinimum:"0" maximum:"5"`
	RepeatKPa    float64        `json:"repeat_kpa,omitempty" minimum:"0" doc:"Standard deviation of a pull, over all engines that it measured"`
}

// Build is one assembly of the engine; each begins a new baseline.
type Build struct {
	ID   string `json:"id" maxLength:"120"`
	Date string `json:"date,omitempty" format:"date"`
	What string `json:"what,omitempty" maxLength:"200"`
}

// Event is something that happened between tests.
type Event struct {
	Date  string   `json:"date,omitempty" format:"date"`
	Meter *float64 `json:"meter,omitempty"`
	What  string   `json:"what" maxLength:"500"`
}

// Session is one visit to the engine. Baseline marks those that say what this build reads when it is right.
type Session struct {
	ID           string        `json:"id" maxLength:"120"`
	Date         string        `json:"date" format:"date"`
	Build        string        `json:"build,omitempty" maxLength:"120"`
	Stage        string        `json:"stage,omitempty" enum:"as-found,pre-install,after-running,dyno,pre-season,service,between-runs,post-season,after-incident,after-repair"`
	Meter        *float64      `json:"meter,omitempty" minimum:"0"`
	Baseline     bool          `json:"baseline,omitempty"`
	Operator     string        `json:"operator,omitempty" maxLength:"120"`
	Note         string        `json:"note,omitempty" maxLength:"10000"`
	Open         bool          `json:"open,omitempty" doc:"Begun here and not finished yet"`
	Place        string        `json:"place,omitempty" enum:"car,stand,dyno" doc:"Where the engine is"`
	Protocol     string        `json:"protocol,omitempty" maxLength:"60" doc:"How it was tested, by the protocol's id"`
	Gauge        string        `json:"gauge,omitempty" maxLength:"120" doc:"The compression tester chosen for this test"`
	Kit          string        `json:"kit,omitempty" maxLength:"120" doc:"The leak-down tester chosen for this test"`
	Ticks        []string      `json:"ticks,omitempty" doc:"What has been done of the lists before and after the test"`
	Conditions   Conditions    `json:"conditions,omitzero"`
	Compression  []Compression `json:"compression,omitempty"`
	Leakdown     []Leakdown    `json:"leakdown,omitempty"`
	Observations []Observation `json:"observations,omitempty"`
}

// Conditions are what makes two tests comparable or not.
type Conditions struct {
	EngineTemp string   `json:"engine_temp,omitempty" enum:"hot,warm,cold"`
	OilC       *float64 `json:"oil_temp_c,omitempty"`
	AmbientC   *float64 `json:"ambient_c,omitempty"`
	AmbientKPa float64  `json:"ambient_kpa,omitempty" minimum:"40" maximum:"110"`
	AltitudeM  *float64 `json:"altitude_m,omitempty" minimum:"-450" maximum:"6000"`
	Throttle   string   `json:"throttle,omitempty" enum:"open,closed,none"`
	PlugsOut   string   `json:"plugs_out,omitempty" enum:"all,one"`
	BatteryV   float64  `json:"battery_v,omitempty"`
	Charger    bool     `json:"charger,omitempty"`
	Cranking   Cranking `json:"cranking,omitzero"`
}

// Cranking says when the cranking of one pull was stopped.
type Cranking struct {
	Rule    string  `json:"rule,omitempty" enum:"plateau,count,time"`
	Count   int     `json:"count,omitempty" minimum:"1" maximum:"60"`
	Seconds float64 `json:"seconds,omitempty" exclusiveMinimum:"0" maximum:"60"`
	RPM     float64 `json:"rpm,omitempty"`
}

// Modes of a compression test.
const (
	Dry = "dry"
	Wet = "wet"
)

// Compression is one row of the sheet: the pulls of a cylinder, or of one face of a rotor, with one tester.
type Compression struct {
	Cylinder int     `json:"cylinder,omitempty" minimum:"1"`
	Rotor    int     `json:"rotor,omitempty" minimum:"1"`
	Face     int     `json:"face,omitempty" minimum:"1" maximum:"3"`
	Mode     string  `json:"mode" enum:"dry,wet"`
	Tester   string  `json:"tester,omitempty"`
	OilCC    float64 `json:"oil_cc,omitempty" minimum:"0" maximum:"50"`
	Pulls    []Pull  `json:"pulls"`
}

// Pull is one cranking. Key names it where it was typed, so that a pull sent twice is kept once. Struck holds the
// reason why it counts for nothing; it stays on record.
type Pull struct {
	units.Reading
	Beats    int     `json:"beats,omitempty"`
	RPM      float64 `json:"rpm,omitempty"`
	BatteryV float64 `json:"battery_v,omitempty"`
	Struck   string  `json:"struck,omitempty" maxLength:"200"`
	Note     string  `json:"note,omitempty" maxLength:"1000"`
	Key      string  `json:"key,omitempty" maxLength:"64"`
	At       string  `json:"at,omitempty" format:"date-time" doc:"When it was typed"`
}

// Leakdown is one attempt on one cylinder. Paths is nil where nobody listened, empty where somebody did and heard
// nothing.
type Leakdown struct {
	Cylinder int        `json:"cylinder" minimum:"1"`
	Tester   string     `json:"tester,omitempty"`
	Supply   float64    `json:"supply" exclusiveMinimum:"0"`
	Held     float64    `json:"held" minimum:"0"`
	Unit     units.Unit `json:"unit" enum:"psi,kPa,bar,kgf/cm2"`
	Position string     `json:"position,omitempty" enum:"tdc,bdc,swept"`
	Struck   string     `json:"struck,omitempty" maxLength:"200"`
	Note     string     `json:"note,omitempty" maxLength:"1000"`
	Paths    []Path     `json:"paths,omitzero"`
	Key      string     `json:"key,omitempty" maxLength:"64"`
}

// Places where escaping air is heard.
const (
	Crankcase = "crankcase"
	Intake    = "intake"
	Exhaust   = "exhaust"
	Coolant   = "coolant"
	Neighbour = "neighbour"
	PlugHole  = "plug_hole"
)

// Path is one place where air was heard: level 1 faint, 2 clear, 3 strong. Cylinder is the neighbour's number.
type Path struct {
	Where    string `json:"where" enum:"crankcase,intake,exhaust,coolant,neighbour,plug_hole"`
	Level    int    `json:"level,omitempty" minimum:"1" maximum:"3"`
	Cylinder int    `json:"cylinder,omitempty"`
}

// Observation is anything else seen or measured on the same visit.
type Observation struct {
	What     string   `json:"what" enum:"plug,coil,borescope,oil-pressure,end-play,lash,stroke-marks,oil,coolant,ports,other"`
	Cylinder int      `json:"cylinder,omitempty" minimum:"1"`
	Finding  string   `json:"finding,omitempty" maxLength:"200"`
	Value    *float64 `json:"value,omitempty"`
	Unit     string   `json:"unit,omitempty" maxLength:"20"`
	Note     string   `json:"note,omitempty" maxLength:"1000"`
	Key      string   `json:"key,omitempty" maxLength:"64"`
}

// Cylinders returns the engine's cylinder numbers bank by bank, front to rear; for a rotary, its rotors from 1.
func (e Engine) Cylinders() []int {
	var all []int
	for _, bank := range e.Layout.Banks {
		all = append(all, bank...)
	}
	for r := 1; r <= e.Layout.Rotors; r++ {
		all = append(all, r)
	}
	return all
}

// Tester returns the log's tester of that id.
func (l Log) Tester(id string) (Tester, bool) {
	for _, t := range l.Testers {
		if t.ID == id {
			return t, true
		}
	}
	return Tester{}, false
}

// BuildOf returns the build that a session belongs to: the one it names, else the last that was begun by its date; "" for
// a session from before the first. A first build without a date was always there.
func (l Log) BuildOf(s Session) string {
	build := s.Build
	for i, b := range l.Builds {
		if s.Build == "" && b.Date <= s.Date && (b.Date != "" || i == 0) {
			build = b.ID
		}
	}
	return build
}
