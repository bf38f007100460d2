package book

import (
	"cmp"
	"strings"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/ahead"
	"braxel/internal/core/log"
	"braxel/internal/core/rotor"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// PullBody is one pull of a test. Key is the name that it came in with, where it was named before.
type PullBody struct {
	Test string `json:"test" minLength:"1" maxLength:"120"`
	log.Place
	Mode     string     `json:"mode" enum:"dry,wet"`
	Tester   string     `json:"tester,omitzero" maxLength:"120"`
	OilCC    float64    `json:"oil_cc,omitzero" minimum:"0" maximum:"50"`
	Value    *float64   `json:"value,omitempty" nullable:"false" minimum:"0" maximum:"10000" doc:"May be left out if flicker is given"`
	Unit     units.Unit `json:"unit"`
	Beats    int        `json:"beats,omitzero" minimum:"0" maximum:"1000"`
	RPM      float64    `json:"rpm,omitzero" minimum:"0" maximum:"20000"`
	Seconds  float64    `json:"seconds,omitzero" minimum:"0" maximum:"600" doc:"How long the starter ran"`
	BatteryV float64    `json:"battery_v,omitzero" minimum:"0" maximum:"60"`
	CameraSD float64    `json:"camera_sd,omitzero" minimum:"0" maximum:"1000" doc:"For a figure that was read from a film of the dial: one standard deviation of it, in its unit"`
	Note     string     `json:"note,omitzero" maxLength:"1000"`
	Key      string     `json:"key,omitzero" maxLength:"120"`

	Flicker *log.Flicker   `json:"flicker,omitempty"`
	Rest    jsontext.Value `json:",embed" hidden:"true"`
}

// reading returns what the body says was read: its value, or what a flicker makes.
func (b PullBody) reading() (float64, log.Faults) {
	switch {
	case b.Flicker != nil:
		if f := b.Flicker.Check("/flicker"); len(f) > 0 {
			return 0, f
		}
		if b.Value == nil {
			return b.Flicker.Reading(), nil
		}
	case b.Value == nil:
		return 0, log.Faults{log.At("/value", "book.type-what-gauge-read")}
	}
	return *b.Value, nil
}

// rpm returns the speed that a rotor was cranked at: as given, else by its pulses.
func (b PullBody) rpm() float64 {
	if b.RPM == 0 && b.Rotor > 0 && b.Beats > 0 && b.Seconds > 0 {
		return rotor.RPM(b.Beats, b.Seconds)
	}
	return b.RPM
}

// LeakBody is one leak-down attempt of a test: what was held, or the percent that the dial shows.
type LeakBody struct {
	Test string `json:"test" minLength:"1" maxLength:"120"`
	log.Place
	Tester   string     `json:"tester,omitzero" maxLength:"120"`
	Supply   float64    `json:"supply" exclusiveMinimum:"0" maximum:"3000"`
	Held     *float64   `json:"held,omitempty" minimum:"0" maximum:"3000"`
	Pct      *float64   `json:"pct,omitempty" minimum:"0" maximum:"100"`
	Unit     units.Unit `json:"unit"`
	Position string     `json:"position,omitzero" enum:"tdc,bdc,swept"`
	CameraSD float64    `json:"camera_sd,omitzero" minimum:"0" maximum:"1000" doc:"For a figure that was read from a film of the dial: one standard deviation of it, in its unit"`
	Note     string     `json:"note,omitzero" maxLength:"1000"`
	Paths    []log.Path `json:"paths,omitzero" maxItems:"12" doc:"Left out if nobody listened; empty if nothing was heard"`
	Key      string     `json:"key,omitzero" maxLength:"120"`

	Rest jsontext.Value `json:",embed" hidden:"true"`
}

// Row returns the attempt as the log writes it: a percent is turned into what was held.
func (b LeakBody) Row() log.Leakdown {
	row := log.Leakdown{
		Place:    b.Place,
		Tester:   b.Tester,
		Supply:   b.Supply,
		Unit:     b.Unit,
		Position: b.Position,
		CameraSD: b.CameraSD,
		Note:     b.Note,
		Paths:    b.Paths,
		Key:      b.Key,
		Rest:     b.Rest,
	}
	switch {
	case b.Held != nil:
		row.Held = *b.Held
	case b.Pct != nil:
		row.Held = HeldFrom(b.Supply, *b.Pct)
	}
	return row
}

// HeldFrom returns what a tester that shows percent held, in the unit of its supply.
func HeldFrom(supply, pct float64) float64 { return supply * (1 - pct/100) }

// LookBody is something seen or measured at a test. A photo's picture has the name of its entry.
type LookBody struct {
	Test string `json:"test" minLength:"1" maxLength:"120"`
	log.Observation
}

// PhotoBody is what is said of a picture taken at a test; with no test, of one of the engine: a plate, a number, the whole of it.
type PhotoBody struct {
	Test string `json:"test,omitzero" maxLength:"120"`
	log.Place
	Note string `json:"note,omitzero" maxLength:"1000"`

	Rest jsontext.Value `json:",embed" hidden:"true"`
}

// TickBody sets or clears a line of the lists before and after a test.
type TickBody struct {
	Test string `json:"test" minLength:"1" maxLength:"120"`
	Line string `json:"line" minLength:"1" maxLength:"60"`
	Done bool   `json:"done"`

	Rest jsontext.Value `json:",embed" hidden:"true"`
}

// MarkBody strikes, un-strikes, confirms or moves something: an entry by its id, or a reading by its test and key. A reading is
// moved to the place, the test or the tester that it was of.
type MarkBody struct {
	Entry string `json:"entry" minLength:"1" maxLength:"120"`
	Test  string `json:"test,omitzero" maxLength:"120" doc:"For a reading that was imported with a whole test; entry is then its key"`
	Why   string `json:"why,omitzero" maxLength:"200"`
	log.Place
	ToTest string `json:"to_test,omitzero" maxLength:"120"`
	Tester string `json:"tester,omitzero" maxLength:"120"`

	Rest jsontext.Value `json:",embed" hidden:"true"`
}

// Bodies holds an empty body of each kind, for describing them.
var Bodies = map[string]any{
	Engine: log.Engine{}, Build: log.Build{}, Event: log.Event{}, Note: log.Note{}, Test: log.Session{}, Whole: log.Session{},
	Pull: PullBody{}, Leakdown: LeakBody{}, Look: LookBody{}, Photo: PhotoBody{}, Tick: TickBody{},
	Strike: MarkBody{}, Unstrike: MarkBody{}, Move: MarkBody{}, AsRead: MarkBody{},
	Tester: log.Tester{}, Protocol: rules.Protocol{}, Plan: rules.Interval{}, Rule: rules.Own{}, Units: units.Choice{}, Columns: rules.SheetColumns{},
	PutOff: log.PutOff{}, Meeting: ahead.Meeting{}, Car: ahead.Car{},
	Start: ahead.Start{}, Job: ahead.Job{}, Terms: ahead.Terms{},
}

// ofEngine returns the note that a picture without a test is, and whether the entry is one.
func ofEngine(e *Entry) (log.Note, bool) {
	if e.Kind != Photo { // every reading is asked
		return log.Note{}, false
	}
	body, f := read[PhotoBody](e)
	if body.Test != "" || len(f) > 0 {
		return log.Note{}, false
	}
	day := ""
	if at, err := time.Parse(time.RFC3339Nano, e.At); err == nil {
		day = at.Format(time.DateOnly)
	}
	return log.Note{Date: day, Text: cmp.Or(strings.TrimSpace(body.Note), say.Text("book.picture")), Photo: true, Rest: body.Rest}, true
}

// read decodes a body and holds it against what its fields may hold.
func read[T any](e *Entry) (T, log.Faults) {
	var body T
	if err := json.Unmarshal(e.Body, &body); err != nil {
		return body, log.Faults{DecodeFault(err)}
	}
	return body, log.CheckFields("", body)
}
