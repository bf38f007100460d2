package server

import (
	"context"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"braxel/internal/core/calc"
	"braxel/internal/core/log"
	"braxel/internal/core/wheel"
)

func (h *handlers) sumRoutes(api huma.API) {
	sum(api, "ambient", calc.Ambient)
	sum(api, "sea-level", calc.SeaLevel)
	sum(api, "evenness", calc.Evenness)
	sum(api, "leak", calc.Leak)
	sum(api, "two-testers", calc.TwoTesters)
	sum(api, "cranking", calc.Cranking)
	sum(api, "ratio", calc.Ratio)
	sum(api, "oil-gain", calc.OilGain)
	sum(api, "piston-push", calc.PistonPush)
	sum(api, "tdc-plan", calc.TDCPlan)
	sum(api, "stroke", calc.Stroke)
	sum(api, "rotor", calc.Rotor)
	sum(api, "repeatability", calc.Repeatability)
	huma.Register(api, huma.Operation{OperationID: "wheel", Method: http.MethodGet, Path: "/api/engines/{engine}/wheel"}, h.wheel)
	huma.Register(api, huma.Operation{OperationID: "add-note", Method: http.MethodPost, Path: "/api/engines/{engine}/notes"}, h.addNote)
}

// sum offers one of the core's sums. What the core refuses is a fault of the field that it names.
func sum[In, Out any](api huma.API, name string, do func(In) (Out, error)) {
	huma.Register(api, huma.Operation{OperationID: "sum-" + name, Method: http.MethodPost, Path: "/api/sums/" + name}, func(_ context.Context, in *struct{ Body In }) (*answer[Out], error) {
		out, err := do(in.Body)
		if err != nil {
			field, what, _ := strings.Cut(err.Error(), ": ")
			return nil, refuse(log.Faults{{At: "/" + field, What: what}})
		}
		return &answer[Out]{out}, nil
	})
}

func (h *handlers) wheel(ctx context.Context, in *EngineIn) (*answer[wheel.Wheel], error) {
	l, _, err := h.log(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	w, err := wheel.Of(l.Engine)
	if err != nil {
		return nil, huma.Error422UnprocessableEntity(err.Error())
	}
	return &answer[wheel.Wheel]{w}, nil
}

// addNote keeps a line in the engine's notebook, under today's date.
func (h *handlers) addNote(ctx context.Context, in *struct {
	EngineIn
	Body struct {
		Text string `json:"text" minLength:"1" maxLength:"1000"`
	}
}) (*answer[log.Engine], error) {
	l, _, err := h.log(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	const room = 10000
	e := l.Engine
	e.Note = strings.TrimSpace(e.Note + "\n" + h.now().Format("2006-01-02") + " " + in.Body.Text)
	if len(e.Note) > room {
		return nil, refuse(log.Faults{{At: "/text", What: "the notebook of this engine is full"}})
	}
	return &answer[log.Engine]{e}, refuse(h.store.SetEngine(ctx, e))
}
