package server

import (
	"context"
	"errors"
	"math"
	"net/http"
	"reflect"
	"strconv"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-json-experiment/json"
	"github.com/gofiber/fiber/v3"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/trace"
	"braxel/internal/core/units"
	"braxel/internal/logfile"
	"braxel/internal/plain"
)

// TraceRead is what a recording says, before it is kept.
type TraceRead struct {
	Refused string      `json:"refused,omitzero" doc:"Why it can't be read"`
	Line    int         `json:"line,omitzero" doc:"On which of its lines"`
	Trace   *log.Trace  `json:"trace,omitempty"`
	Points  []float64   `json:"points,omitempty" doc:"Its curve, kPa or A, one every trace.seconds"`
	Pulls   []TracePull `json:"pulls,omitempty" doc:"The reading it becomes on the sheet"`
}

// TracePull is a reading that a recording makes, in the sheet's unit.
type TracePull struct {
	log.Place
	Value    float64    `json:"value"`
	Unit     units.Unit `json:"unit"`
	Beats    int        `json:"beats,omitzero"`
	RPM      float64    `json:"rpm"`
	CameraSD float64    `json:"camera_sd,omitzero"`
}

func (h *handlers) traceRoutes(app routes, api huma.API) {
	formRoute(app, api, "read-trace", "/api/import/trace", h.readTrace, reflect.TypeFor[TraceRead](), "engine", "number", "measured", "unit")
	huma.Register(api, huma.Operation{OperationID: "trace-curve", Method: http.MethodPost, Path: "/api/trace/curve"}, h.curveOf)
}

// curveIn is a recording that was kept.
type curveIn struct{ Body log.Trace }

// curveOf gives the points of a recording that was kept.
func (h *handlers) curveOf(_ context.Context, in *curveIn) (*answer[TraceRead], error) {
	points, err := trace.Points(in.Body)
	if err != nil {
		return nil, huma.Error422UnprocessableEntity(plain.Words(err))
	}
	return &answer[TraceRead]{TraceRead{Trace: &in.Body, Points: points}}, nil
}

// readTrace reads a recording of an engine that was handed in, and keeps nothing.
func (h *handlers) readTrace(x fiber.Ctx) error {
	in, done, err := h.readForm(x)
	if err != nil {
		return err
	}
	defer done()
	l, _, err := h.store.Log(x.Context(), in.fields["engine"])
	if isUnknown(err) {
		return fiber.NewError(http.StatusNotFound, say.Text("server.engine-there-no-engine-name"))
	}
	if err != nil {
		return err
	}
	text, err := in.text()
	if err != nil {
		return fiber.NewError(http.StatusRequestEntityTooLarge, plain.Words(err))
	}
	number, err := strconv.Atoi(in.fields["number"])
	if err != nil || !l.Engine.Has(l.Engine.Place(number)) {
		return fiber.NewError(http.StatusUnprocessableEntity, say.Text("server.number-engine-has-no-such",
			"noun", l.Engine.Nouns(1),
		))
	}
	k := knownOf(l.Engine, number, trace.Measured(in.fields["measured"]))
	unit := units.Unit(in.fields["unit"])
	if !unit.Valid() {
		unit = units.PSI
	}
	k.File, k.Unit = in.name, unit
	r, err := logfile.ReadTrace(text, k)
	if err != nil {
		out := TraceRead{Refused: plain.Words(err)}
		if refused := new(trace.Refused); errors.As(err, &refused) {
			out.Refused, out.Line = refused.Words, refused.Line
		}
		return sendJSON(x, out)
	}
	a := trace.Read(r, k)
	if !a.Readable {
		return sendJSON(x, TraceRead{Refused: a.Why})
	}
	kept, points, err := keptOf(r, a)
	if err != nil {
		return err
	}
	return sendJSON(x, TraceRead{Trace: kept, Points: points, Pulls: pullsOf(a, l.Engine.Place(number), unit)})
}

// keptOf is a recording as a test keeps it, and the points of its curve.
func keptOf(r trace.Recording, a trace.Answer) (*log.Trace, []float64, error) {
	kept := trace.Keep(r, a)
	points, err := trace.Points(kept)
	return &kept, points, err
}

// knownOf is what the log knows of an engine before a recording is read.
func knownOf(e log.Engine, number int, measured trace.Measured) trace.Known {
	k := trace.Known{Engine: e.Kind, Fuel: e.Fuel, Measured: measured, FiringOrder: e.FiringOrder}
	if e.AltitudeM != nil {
		k.AltitudeM = *e.AltitudeM
	}
	if e.Kind == log.Rotary {
		k.Rotors, k.Rotor = e.Layout.Rotors, number
		return k
	}
	k.Cylinders, k.Cylinder = len(e.Cylinders()), number
	return k
}

// pullsOf are the readings that a recording makes: of a rotor its three faces, of a cylinder what was held or the highest pulse. A
// starter's current makes none.
func pullsOf(a trace.Answer, place log.Place, unit units.Unit) []TracePull {
	rounded := func(kpa float64) float64 { return units.Pressure(max(kpa, 0)).Shown(unit).Value }
	one := TracePull{Place: place, Unit: unit, RPM: math.Round(a.RPM)}
	if place.Rotor > 0 {
		var all []TracePull
		for i, kpa := range a.FacesKPa {
			one.Face, one.Value, one.Beats = i+1, rounded(kpa), a.Pulses
			all = append(all, one)
		}
		return all
	}
	if a.PeakKPa == nil {
		return nil
	}
	one.Value = rounded(*a.PeakKPa)
	if a.PlateauBeats != nil {
		one.Beats = *a.PlateauBeats
	}
	return []TracePull{one}
}

// sendJSON answers as the rest of the API does: what a log keeps beside its own keys stands among them.
func sendJSON(x fiber.Ctx, out any) error {
	text, err := json.Marshal(out)
	if err != nil {
		return err
	}
	x.Set("Content-Type", "application/json")
	return x.Send(text)
}
