// Package log is Braxel's one vocabulary: an engine and all its history, as the open log format writes it. The same
// structs are stored, served, exported and judged.
package log

import (
	"slices"
	"strconv"

	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Format and Version head every log.
const (
	Format  = "braxel-log"
	Version = 1
)

// Log is one engine and all that was measured on it, sessions in time order. Every struct of a log keeps, as Rest, the keys
// that Braxel does not know.
type Log struct {
	Format   string         `json:"format"`
	Version  int            `json:"version"`
	Engine   Engine         `json:"engine"`
	Testers  []Tester       `json:"testers,omitempty"`
	Builds   []Build        `json:"builds,omitempty"`
	Events   []Event        `json:"events,omitempty"`
	Notes    []Note         `json:"notes,omitempty"`
	PutOff   []PutOff       `json:"put_off,omitempty"`
	Sessions []Session      `json:"sessions"`
	Rest     jsontext.Value `json:",embed" hidden:"true"`
}

// Kinds of engine.
const (
	FourStroke = "four-stroke"
	TwoStroke  = "two-stroke"
	Rotary     = "rotary"
)

// Engine is what does not change from test to test. A zero figure is one that nobody has given.
type Engine struct {
	ID              string         `json:"id,omitzero" maxLength:"120"`
	Name            string         `json:"name" minLength:"1" maxLength:"120"`
	Owner           string         `json:"owner,omitzero" maxLength:"120"`
	Note            string         `json:"note,omitzero" maxLength:"10000"`
	Kind            string         `json:"kind" enum:"four-stroke,two-stroke,rotary"`
	Layout          Layout         `json:"layout"`
	FiringOrder     []int          `json:"firing_order,omitempty" maxItems:"64"`
	FiringIntervals []float64      `json:"firing_intervals_deg,omitempty" maxItems:"64"`
	Rotation        string         `json:"rotation,omitzero" enum:"clockwise,anticlockwise"`
	BoreMM          float64        `json:"bore_mm,omitzero" minimum:"20" maximum:"400"`
	StrokeMM        float64        `json:"stroke_mm,omitzero" minimum:"15" maximum:"600"`
	RodMM           float64        `json:"rod_mm,omitzero" minimum:"25" maximum:"1500"`
	Ratio           float64        `json:"compression_ratio,omitzero" minimum:"4" maximum:"30"`
	IntakeCloses    *float64       `json:"intake_closes_abdc_deg,omitempty" minimum:"0" maximum:"120"`
	Fuel            string         `json:"fuel,omitzero" enum:"petrol,diesel,ethanol,methanol,gas,other"`
	Induction       string         `json:"induction,omitzero" enum:"natural,turbo,supercharged"`
	RingPack        string         `json:"ring_pack,omitzero" enum:"conventional,gapless,gas-ported,wide-gap"`
	RingGapMM       *float64       `json:"ring_gap_mm,omitempty" minimum:"0" maximum:"5"`
	Fuelling        string         `json:"fuelling,omitzero" enum:"injection,carburettor"`
	Protocol        string         `json:"protocol,omitzero" maxLength:"60" doc:"The id of its test protocol"`
	Duty            string         `json:"duty,omitzero" enum:"street,track-day,circuit,drag,rally,pulling,marine,motorcycle,kart,work"`
	MeterUnit       string         `json:"meter_unit,omitzero" enum:"h,km,mi,runs,events"`
	AltitudeM       *float64       `json:"altitude_m,omitempty" minimum:"-450" maximum:"6000"`
	Limits          *Limits        `json:"limits,omitempty"`
	SpeedTable      []SpeedFactor  `json:"speed_table,omitempty" maxItems:"40" doc:"For a rotary: the maker's factors to 250 rpm, by rising speed"`
	Plan            *Plan          `json:"plan,omitempty" doc:"Time between tests, if different from its duty's"`
	DisplacementCC  float64        `json:"displacement_cc,omitzero" minimum:"10" maximum:"200000" doc:"Where bore and stroke are not known"`
	Identity        *Identity      `json:"identity,omitempty"`
	Typed           Typed          `json:"typed,omitempty" maxProperties:"20" maxLength:"40" doc:"Figures that were typed in another unit, as they were typed, by field: 3.25 in"`
	Stands          string         `json:"place,omitzero" enum:"car,stand,sold" doc:"Where the engine is"`
	Archived        bool           `json:"archived,omitzero" doc:"Archived: kept, but not on the rack"`
	Rest            jsontext.Value `json:",embed" hidden:"true"`
}

// Typed holds figures as they were typed, by the name of the field that they are of. What stands in that field counts; a text that means
// another figure is of one before it.
type Typed map[string]string

// Identity is which engine it is and whose: the numbers on it, who built it, how its owner is reached, who had it before, and its spec
// sheet.
type Identity struct {
	Serial  string         `json:"serial,omitzero" maxLength:"80"`
	Block   string         `json:"block,omitzero" maxLength:"80"`
	Head    string         `json:"head,omitzero" maxLength:"80"`
	Casting string         `json:"casting,omitzero" maxLength:"80"`
	Chassis string         `json:"chassis,omitzero" maxLength:"80" doc:"The chassis, or the boat"`
	Seal    string         `json:"seal,omitzero" maxLength:"80" doc:"A class's or a seal's number"`
	Builder string         `json:"builder,omitzero" maxLength:"120"`
	Phone   string         `json:"phone,omitzero" maxLength:"40" doc:"The owner's"`
	Email   string         `json:"email,omitzero" maxLength:"120" doc:"The owner's"`
	Spec    []SpecRow      `json:"spec,omitempty" maxItems:"100" doc:"What it was built to, row by row"`
	Owners  []PastOwner    `json:"owners,omitempty" maxItems:"50" doc:"Who had it before, the first first"`
	Rest    jsontext.Value `json:",embed" hidden:"true"`
}

// SpecRow is one line of a spec sheet, as its builder writes it.
type SpecRow struct {
	What  string `json:"what" minLength:"1" maxLength:"80"`
	Value string `json:"value,omitzero" maxLength:"80"`
	Unit  string `json:"unit,omitzero" maxLength:"20"`
}

// PastOwner is who had an engine, and until when, as far as anybody knows.
type PastOwner struct {
	Name  string `json:"name" minLength:"1" maxLength:"120"`
	Until string `json:"until,omitzero" maxLength:"40"`
}

// Numbers are what an engine is known by, in the order in which they are said, each by its name.
func (i *Identity) Numbers() [][2]string {
	if i == nil {
		return nil
	}
	var all [][2]string
	for _, n := range [][2]string{
		{"serial", i.Serial}, {"block", i.Block}, {"head", i.Head}, {"casting", i.Casting}, {"chassis", i.Chassis}, {"seal", i.Seal},
	} {
		if n[1] != "" {
			all = append(all, n)
		}
	}
	return all
}

// Plan is how long an engine is left between tests: by its meter, in its unit, and in months.
type Plan struct {
	Every  float64        `json:"every,omitzero" minimum:"0" maximum:"10000000"`
	Months int            `json:"months,omitzero" minimum:"0" maximum:"120"`
	Rest   jsontext.Value `json:",embed" hidden:"true"`
}

// Layout says which cylinders stand beside which. Each bank is numbered from the end far from the output (the front)
// to the rear. A rotary has Rotors and no banks.
type Layout struct {
	Banks    [][]int `json:"banks,omitempty" maxItems:"4"`
	AngleDeg float64 `json:"bank_angle_deg,omitzero" minimum:"0" maximum:"180"`
	Rotors   int     `json:"rotors,omitzero" minimum:"1" maximum:"6"`
	Radial   bool    `json:"radial,omitzero" doc:"One row of cylinders around the crank, numbered clockwise from the top as seen from the front"`
	Master   int     `json:"master_rod,omitzero" minimum:"1" maximum:"64" doc:"For a radial: the cylinder with the master rod"`
	// Names are the owner's own for single cylinders, by number: 1L, B3, front.
	Names map[string]string `json:"names,omitempty" maxProperties:"64" maxLength:"12"`
	Rest  jsontext.Value    `json:",embed" hidden:"true"`
}

// SpeedFactor is a row of a rotary maker's table: what a reading made at that speed of the output shaft is multiplied by, to be
// held against a figure for 250 1/min.
type SpeedFactor struct {
	RPM    float64 `json:"rpm" minimum:"80" maximum:"600"`
	Factor float64 `json:"factor" minimum:"0.5" maximum:"2"`
}

// Limits are the maker's or the builder's own figures for this engine.
type Limits struct {
	Source           string         `json:"source,omitzero" maxLength:"200"`
	Nominal          *units.Reading `json:"compression_nominal,omitempty"`
	Minimum          *units.Reading `json:"compression_minimum,omitempty"`
	SpreadMaximum    *units.Reading `json:"spread_maximum,omitempty"`
	SpreadMaximumPct float64        `json:"spread_maximum_pct,omitzero" exclusiveMinimum:"0" maximum:"100"`
	LeakMaximumPct   float64        `json:"leak_maximum_pct,omitzero" exclusiveMinimum:"0" maximum:"100"`
	FreshenAfter     float64        `json:"freshen_after,omitzero" exclusiveMinimum:"0" maximum:"10000000" doc:"Running from a rebuild, in the engine's own meter, after which it is freshened whatever it reads"`
	AtRPM            float64        `json:"at_rpm,omitzero" minimum:"0" maximum:"20000" doc:"The cranking speed the compression figures are given for"`
	Rest             jsontext.Value `json:",embed" hidden:"true"`
}

// By says whose the limits are.
func (l Limits) By() string {
	switch l.Source {
	case "":
		return say.Text("log.maker")
	case "maker", "builder":
		return say.Text("log.the", "source", l.Source)
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
	ID           string         `json:"id" minLength:"1" maxLength:"120"`
	Name         string         `json:"name,omitzero" maxLength:"120"`
	Kind         string         `json:"kind" enum:"compression,leakdown,rotary"`
	Resolution   *units.Reading `json:"resolution,omitempty"`
	Range        *units.Reading `json:"range,omitempty"`
	OffsetKPa    float64        `json:"offset_kpa,omitzero" minimum:"-500" maximum:"500"`
	DeadVolumeCC float64        `json:"dead_volume_cc,omitzero" minimum:"0" maximum:"100"`
	OrificeMM    float64        `json:"orifice_mm,omitzero" exclusiveMinimum:"0" maximum:"5"`
	RepeatKPa    float64        `json:"repeat_kpa,omitzero" minimum:"0" maximum:"10000" doc:"Standard deviation of a reading, as found elsewhere; readings on the engine itself count for more"`
	Rest         jsontext.Value `json:",embed" hidden:"true"`
}

// Build is one assembly of the engine; each begins a new baseline.
type Build struct {
	ID     string         `json:"id" minLength:"1" maxLength:"120"`
	Date   string         `json:"date,omitzero" format:"date"`
	What   string         `json:"what,omitzero" maxLength:"200"`
	Struck string         `json:"struck,omitzero" maxLength:"200"`
	Rest   jsontext.Value `json:",embed" hidden:"true"`
}

// Repair is the kind of event that puts something right, and AfterRepair the stage of a test that is made for it.
const (
	Repair      = "repair"
	AfterRepair = "after-repair"
)

// Event is something that happened between tests.
type Event struct {
	Date      string         `json:"date,omitzero" format:"date"`
	Meter     *float64       `json:"meter,omitempty" minimum:"0" maximum:"100000000"`
	What      string         `json:"what" minLength:"1" maxLength:"500"`
	Kind      string         `json:"kind,omitzero" enum:"ran-hot,over-revved,took-water,lost-oil,ran-lean,stood,took-dirt,ran-backwards,cam-drive,hit,first-run,repair,other" doc:"Why it calls for a test"`
	Work      string         `json:"work,omitzero" enum:"valve-job,valve-lash,decoke,head-gasket,head,rings,piston,rod,cam,cam-timing,reeds,crank-seal,apex-seals,rebuild,other" doc:"Of a repair: what was done"`
	Cylinders []int          `json:"cylinders,omitempty" maxItems:"64" doc:"Of a repair: the cylinders worked on; empty means all"`
	After     string         `json:"after,omitzero" maxLength:"120" doc:"Of a repair: the test that showed what to repair"`
	Key       string         `json:"key,omitzero" maxLength:"120"`
	Struck    string         `json:"struck,omitzero" maxLength:"200"`
	Rest      jsontext.Value `json:",embed" hidden:"true"`
}

// Note is a line of the engine's notebook.
type Note struct {
	Date   string         `json:"date,omitzero" format:"date"`
	Text   string         `json:"text" minLength:"1" maxLength:"1000"`
	Photo  bool           `json:"photo,omitzero" doc:"It is a picture of the engine, which has the note's name"`
	Key    string         `json:"key,omitzero" maxLength:"120"`
	Struck string         `json:"struck,omitzero" maxLength:"200"`
	Rest   jsontext.Value `json:",embed" hidden:"true"`
}

// PutOff is that something due was put off, until a day and for a reason. Item names it as the diary does.
type PutOff struct {
	Item   string         `json:"item" minLength:"1" maxLength:"200"`
	Until  string         `json:"until" format:"date"`
	Why    string         `json:"why" minLength:"1" maxLength:"500"`
	Key    string         `json:"key,omitzero" maxLength:"120"`
	Struck string         `json:"struck,omitzero" maxLength:"200"`
	Rest   jsontext.Value `json:",embed" hidden:"true"`
}

// Session is one visit to the engine. Baseline marks those that say what this build reads when it is right.
type Session struct {
	ID           string         `json:"id" minLength:"1" maxLength:"120"`
	Date         string         `json:"date" format:"date"`
	Build        string         `json:"build,omitzero" maxLength:"120"`
	Stage        string         `json:"stage,omitzero" enum:"as-found,pre-install,after-running,dyno,pre-season,service,between-runs,post-season,after-incident,after-repair"`
	Meter        *float64       `json:"meter,omitempty" minimum:"0" maximum:"100000000"`
	Baseline     bool           `json:"baseline,omitzero"`
	Touched      []int          `json:"touched,omitempty" maxItems:"64" doc:"After a repair: the cylinders it touched, whose baseline starts again; empty means all"`
	Operator     string         `json:"operator,omitzero" maxLength:"120"`
	Note         string         `json:"note,omitzero" maxLength:"10000"`
	Agreed       string         `json:"agreed,omitzero" maxLength:"500" doc:"What was agreed with the customer"`
	HoursSpent   float64        `json:"hours_spent,omitzero" minimum:"0" maximum:"1000" doc:"The work that it took"`
	Struck       string         `json:"struck,omitzero" maxLength:"200" doc:"Why the whole test counts for nothing"`
	Open         bool           `json:"open,omitzero" doc:"Not finished yet"`
	Reopened     string         `json:"reopened,omitzero" format:"date" doc:"The day it was reopened after being finished"`
	Place        string         `json:"place,omitzero" enum:"car,stand,dyno" doc:"Where the engine is"`
	Protocol     string         `json:"protocol,omitzero" maxLength:"60" doc:"The id of the protocol it was tested by"`
	Gauge        string         `json:"gauge,omitzero" maxLength:"120" doc:"The compression tester chosen for this test"`
	Kit          string         `json:"kit,omitzero" maxLength:"120" doc:"The leak-down tester chosen for this test"`
	Ticks        []string       `json:"ticks,omitempty" maxItems:"200" maxLength:"60" doc:"The ticked lines of the lists before and after the test"`
	Conditions   Conditions     `json:"conditions,omitzero"`
	Compression  []Compression  `json:"compression,omitempty"`
	Leakdown     []Leakdown     `json:"leakdown,omitempty"`
	Observations []Observation  `json:"observations,omitempty"`
	Rest         jsontext.Value `json:",embed" hidden:"true"`
}

// Conditions are what makes two tests comparable or not.
type Conditions struct {
	EngineTemp string         `json:"engine_temp,omitzero" enum:"hot,warm,cold"`
	OilC       *float64       `json:"oil_temp_c,omitempty" minimum:"-60" maximum:"400"`
	AmbientC   *float64       `json:"ambient_c,omitempty" minimum:"-60" maximum:"80"`
	AmbientKPa float64        `json:"ambient_kpa,omitzero" minimum:"40" maximum:"110"`
	AltitudeM  *float64       `json:"altitude_m,omitempty" minimum:"-450" maximum:"6000"`
	Throttle   string         `json:"throttle,omitzero" enum:"open,closed,none"`
	PlugsOut   string         `json:"plugs_out,omitzero" enum:"all,one"`
	BatteryV   float64        `json:"battery_v,omitzero" minimum:"0" maximum:"60"`
	BatteryEnd float64        `json:"battery_end_v,omitzero" minimum:"0" maximum:"60" doc:"Battery voltage when every cylinder had been read"`
	Charger    bool           `json:"charger,omitzero"`
	Cranking   Cranking       `json:"cranking,omitzero"`
	Typed      Typed          `json:"typed,omitempty" maxProperties:"20" maxLength:"40" doc:"Figures that were typed in another unit, as they were typed, by field: 85 F"`
	Rest       jsontext.Value `json:",embed" hidden:"true"`
}

// Temp returns how warm the engine was, as people say it; "" if nobody said.
func (c Conditions) Temp() string { return say.Maybe("log.temp-" + c.EngineTemp) }

// Occasion returns what a test was made for, as people say it; "" if nobody said.
func (s Session) Occasion() string { return say.Maybe("log.stage-" + s.Stage) }

// Cold reports whether the engine was tested cold.
func (c Conditions) Cold() bool { return c.EngineTemp == "cold" }

// Cranking says when the cranking of one pull was stopped.
type Cranking struct {
	Rule    string         `json:"rule,omitzero" enum:"plateau,count,time"`
	Count   int            `json:"count,omitzero" minimum:"1" maximum:"60"`
	Seconds float64        `json:"seconds,omitzero" exclusiveMinimum:"0" maximum:"60"`
	RPM     float64        `json:"rpm,omitzero" minimum:"0" maximum:"20000"`
	Rest    jsontext.Value `json:",embed" hidden:"true"`
}

// Modes of a compression test.
const (
	Dry = "dry"
	Wet = "wet"
)

// Place is where a reading is taken: a cylinder, or a rotor and one of its faces. The zero place is the engine as a whole.
type Place struct {
	Cylinder int `json:"cylinder,omitzero" minimum:"1" maximum:"64"`
	Rotor    int `json:"rotor,omitzero" minimum:"1" maximum:"6"`
	Face     int `json:"face,omitzero" minimum:"1" maximum:"3"`
}

// Number returns the cylinder's number, of a rotor's face the rotor's.
func (p Place) Number() int { return max(p.Cylinder, p.Rotor) }

// String names the place as one says it: 3, rotor 1 face 2.
func (p Place) String() string {
	switch {
	case p.Face > 0:
		return say.Text("log.rotor-face", "rotor", strconv.Itoa(p.Rotor), "face", strconv.Itoa(p.Face))
	case p.Rotor > 0:
		return say.Text("log.rotor", "rotor", strconv.Itoa(p.Rotor))
	}
	return strconv.Itoa(p.Cylinder)
}

// Compression is one row of the sheet: the pulls of a cylinder, or of one face of a rotor, with one tester.
type Compression struct {
	Place
	Mode   string         `json:"mode" enum:"dry,wet"`
	Tester string         `json:"tester,omitzero" maxLength:"120"`
	OilCC  float64        `json:"oil_cc,omitzero" minimum:"0" maximum:"50"`
	Pulls  []Pull         `json:"pulls"`
	Rest   jsontext.Value `json:",embed" hidden:"true"`
}

// Pull is one cranking. Key is its name: that of its entry in the book, or the one it came in with. Struck holds the reason
// why it counts for nothing; it stays on record. So does one in doubt, until it is confirmed or another agrees with it.
type Pull struct {
	units.Reading
	Beats    int     `json:"beats,omitzero" minimum:"0" maximum:"1000"`
	RPM      float64 `json:"rpm,omitzero" minimum:"0" maximum:"20000"`
	Seconds  float64 `json:"seconds,omitzero" minimum:"0" maximum:"600" doc:"How long the starter ran"`
	BatteryV float64 `json:"battery_v,omitzero" minimum:"0" maximum:"60"`
	Struck   string  `json:"struck,omitzero" maxLength:"200"`
	Note     string  `json:"note,omitzero" maxLength:"1000"`
	Key      string  `json:"key,omitzero" maxLength:"120"`
	Doubt    string  `json:"doubt,omitzero" maxLength:"300" doc:"Why it is doubted"`
	At       string  `json:"at,omitzero" format:"date-time" doc:"When it was typed"`
	CameraSD float64 `json:"camera_sd,omitzero" minimum:"0" maximum:"1000" doc:"For a figure that was read from a film of the dial: one standard deviation of it, in its unit"`
	// Flicker is what a face's reading was made of, where a film of the needle was read.
	Flicker *Flicker `json:"flicker,omitempty"`
}

// Flicker is what a gauge without its valve showed of one face of a rotor, in the pull's unit: how far its own pulse went, the
// highest of the three, and the peak that the same gauge held with its valve in. The needle lags by the same for all three.
type Flicker struct {
	Pulse   float64 `json:"pulse" minimum:"0" maximum:"10000"`
	Highest float64 `json:"highest" minimum:"0" maximum:"10000"`
	Held    float64 `json:"held" minimum:"0" maximum:"10000"`
}

// Reading returns the face's pressure: its pulse, and what the needle lags by.
func (f Flicker) Reading() float64 { return f.Pulse + f.Held - f.Highest }

// Check names what cannot be of one rotor.
func (f Flicker) Check(at string) Faults {
	var faults Faults
	switch {
	case f.Highest > f.Held:
		faults.add(at+"/held", say.Text("log.pulse-above-held-peak-peak", "highest", f.Highest, "held", f.Held))
	case f.Pulse > f.Highest:
		faults.add(at+"/pulse", say.Text("log.pulse-above-highest-three", "pulse", f.Pulse, "highest", f.Highest))
	}
	return faults
}

// Counts reports whether a pull counts: it is neither struck nor in doubt.
func (p Pull) Counts() bool { return p.Struck == "" && p.Doubt == "" }

// Leakdown is one attempt on one cylinder. Paths is nil where nobody listened, empty where somebody did and heard
// nothing.
type Leakdown struct {
	Place
	Tester   string         `json:"tester,omitzero" maxLength:"120"`
	Supply   float64        `json:"supply" exclusiveMinimum:"0"`
	Held     float64        `json:"held" minimum:"0"`
	Unit     units.Unit     `json:"unit"`
	Position string         `json:"position,omitzero" enum:"tdc,bdc,swept"`
	Struck   string         `json:"struck,omitzero" maxLength:"200"`
	CameraSD float64        `json:"camera_sd,omitzero" minimum:"0" maximum:"1000" doc:"For a figure that was read from a film of the dial: one standard deviation of it, in its unit"`
	Note     string         `json:"note,omitzero" maxLength:"1000"`
	Paths    []Path         `json:"paths,omitzero" maxItems:"12"`
	Key      string         `json:"key,omitzero" maxLength:"120"`
	Rest     jsontext.Value `json:",embed" hidden:"true"`
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
	Where    string         `json:"where" enum:"crankcase,intake,exhaust,coolant,neighbour,plug_hole"`
	Level    int            `json:"level,omitzero" minimum:"1" maximum:"3"`
	Cylinder int            `json:"cylinder,omitzero" minimum:"1" maximum:"64"`
	Rest     jsontext.Value `json:",embed" hidden:"true"`
}

// Observation is anything else seen or measured on the same visit.
type Observation struct {
	What string `json:"what" enum:"plug,coil,borescope,oil-pressure,end-play,lash,stroke-marks,oil,coolant,ports,other"`
	Place
	Item    string         `json:"item,omitzero" maxLength:"40" doc:"For other things looked at: the inspection line it answers (without finding and value: could not be checked); found: what was found when the engine was opened"`
	Trace   *Trace         `json:"trace,omitempty" doc:"For a recording: what it shows, and its curve"`
	Finding string         `json:"finding,omitzero" maxLength:"200"`
	Value   *float64       `json:"value,omitempty" minimum:"-1000000000" maximum:"1000000000"`
	Unit    string         `json:"unit,omitzero" maxLength:"20"`
	Note    string         `json:"note,omitzero" maxLength:"1000"`
	Struck  string         `json:"struck,omitzero" maxLength:"200"`
	Key     string         `json:"key,omitzero" maxLength:"120"`
	Rest    jsontext.Value `json:",embed" hidden:"true"`
}

// Inspected reports whether it answers a line of an inspection.
func (o Observation) Inspected() bool { return o.Item != "" && o.Item != Found }

// Found is the item of what was found when the engine was opened, and Photo the finding of a picture.
const (
	Found = "found"
	Photo = "photo"
)

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

// races are the duties in which an engine is opened before it breaks.
var races = []string{"circuit", "drag", "rally", "pulling", "kart", "track-day", "marine"}

// Raced reports whether the engine's duty is one in which it is opened before it breaks.
func (e Engine) Raced() bool { return slices.Contains(races, e.Duty) }

// Tester returns the log's tester of that id.
func (l Log) Tester(id string) (Tester, bool) {
	for _, t := range l.Testers {
		if t.ID == id {
			return t, true
		}
	}
	return Tester{}, false
}

// At returns the index of the log's session of that id, -1 where there is none.
func (l Log) At(id string) int {
	return slices.IndexFunc(l.Sessions, func(s Session) bool { return s.ID == id })
}

// Called returns what a cylinder is called: its number, and the owner's own name where it has one.
func (e Engine) Called(cylinder int) string {
	number := strconv.Itoa(cylinder)
	if name := e.Layout.Names[number]; name != "" {
		return number + " (" + name + ")"
	}
	return number
}

// Noun is what the engine's numbers count.
func (e Engine) Noun() string { return say.Capital(e.Nouns(1)) }

// Nouns is the same as it stands within a sentence, of one or several.
func (e Engine) Nouns(n int) string {
	if e.Kind == Rotary {
		return say.Text("log.rotors", "n", n)
	}
	return say.Text("log.cylinders", "n", n)
}

// Place returns the place of a cylinder's number on this engine; of a rotary's, the rotor.
func (e Engine) Place(number int) Place {
	if e.Kind == Rotary {
		return Place{Rotor: number}
	}
	return Place{Cylinder: number}
}

// Has reports whether the engine has that place.
func (e Engine) Has(p Place) bool {
	if e.Kind == Rotary {
		return p.Cylinder == 0 && p.Rotor >= 1 && p.Rotor <= e.Layout.Rotors && p.Face >= 0 && p.Face <= 3
	}
	return p.Rotor == 0 && p.Face == 0 && slices.Contains(e.Cylinders(), p.Cylinder)
}

// BuildOf returns the build that a session belongs to: the one it names, else the last that was begun by its date; "" for
// a session from before the first. A first build without a date was always there.
func (l Log) BuildOf(s Session) string {
	if s.Build != "" {
		return s.Build
	}
	build, begun := "", ""
	for i, b := range l.Builds {
		if (b.Date == "" && i == 0) || (b.Date != "" && b.Date <= s.Date && b.Date >= begun) {
			build, begun = b.ID, b.Date
		}
	}
	return build
}

// Standing returns the log without what was struck of it whole: builds, events, notes, tests and what was looked at. Struck
// readings stay in their rows, marked.
func (l Log) Standing() Log {
	l.Builds = standing(l.Builds, func(b Build) string { return b.Struck })
	l.Events = standing(l.Events, func(e Event) string { return e.Struck })
	l.Notes = standing(l.Notes, func(n Note) string { return n.Struck })
	l.PutOff = standing(l.PutOff, func(p PutOff) string { return p.Struck })
	l.Sessions = standing(l.Sessions, func(s Session) string { return s.Struck })
	looked := func(o Observation) string { return o.Struck }
	for i, s := range l.Sessions {
		if kept := standing(s.Observations, looked); len(kept) < len(s.Observations) {
			l.Sessions = slices.Clone(l.Sessions)
			l.Sessions[i].Observations = kept
		}
	}
	return l
}

// standing returns all, or a copy without those that why names a reason for.
func standing[T any](all []T, why func(T) string) []T {
	struck := func(one T) bool { return why(one) != "" }
	if !slices.ContainsFunc(all, struck) {
		return all
	}
	return slices.DeleteFunc(slices.Clone(all), struck)
}
