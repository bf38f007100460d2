package server

import (
	"context"
	"errors"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"braxel/internal/core/calc"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/wheel"
	"braxel/internal/plain"
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
}

// Bounds are those of a figure that was refused, in the sum's own unit: the page says them in the unit that was typed.
type Bounds struct {
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

// sum offers one of the core's sums. What the core refuses is a fault of the field that it names.
func sum[In, Out any](api huma.API, name string, do func(In) (Out, error)) {
	huma.Register(
		api,
		huma.Operation{OperationID: "sum-" + name, Summary: say.Capital(calc.Words(name)), Method: http.MethodPost, Path: "/api/sums/" + name},
		func(_ context.Context, in *struct{ Body In }) (*answer[Out], error) {
			out, err := do(in.Body)
			if err != nil {
				field, what, _ := strings.Cut(plain.Words(err), ": ")
				var beyond *calc.RangeError
				if errors.As(err, &beyond) {
					bounds := Bounds{beyond.Low, beyond.High}
					return nil, huma.Error422UnprocessableEntity(say.Text("server.number-out-range"),
						&huma.ErrorDetail{Location: "body." + field, Message: what, Value: bounds})
				}
				return nil, refuse(log.Faults{{At: "/" + field, What: what}})
			}
			return &answer[Out]{out}, nil
		},
	)
}

func (h *handlers) wheel(ctx context.Context, in *EngineIn) (*answer[wheel.Wheel], error) {
	l, _, err := h.store.Log(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	w, err := wheel.Of(l.Engine, h.rules(ctx).Shown)
	if err != nil {
		return nil, huma.Error422UnprocessableEntity(plain.Words(err))
	}
	return &answer[wheel.Wheel]{w}, nil
}
