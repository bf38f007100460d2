package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"braxel/internal/core/inspect"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
	"braxel/internal/plain"
)

// TesterPage is a tester with how well it repeats, from every pull made with it.
type TesterPage struct {
	log.Tester
	Pulls    int     `json:"pulls"`
	SDKPa    float64 `json:"sd_kpa,omitzero"`
	LimitKPa float64 `json:"limit_kpa,omitzero" doc:"Two readings of one cylinder that differ by more than this are suspicious"`
}

func (h *handlers) workshopRoutes(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "testers", Method: http.MethodGet, Path: "/api/testers"}, h.testers)
	huma.Register(api, huma.Operation{OperationID: "check-gauges", Method: http.MethodPost, Path: "/api/gauge-checks"}, h.checkGauges)
	huma.Register(api, huma.Operation{OperationID: "protocols", Method: http.MethodGet, Path: "/api/protocols"}, h.protocols)
	huma.Register(api, huma.Operation{OperationID: "said-found", Method: http.MethodGet, Path: "/api/said-found"}, h.saidFound)
}

func (h *handlers) testers(ctx context.Context, _ *struct{}) (*answer[[]TesterPage], error) {
	all := h.store.Testers()
	repeats, err := h.pool.all(ctx)
	if err != nil {
		return nil, err
	}
	pages := make([]TesterPage, len(all))
	for i, t := range all {
		pages[i] = TesterPage{Tester: t, Pulls: repeats[t.ID].Pulls}
		pages[i].SDKPa, pages[i].LimitKPa = repeats[t.ID].Repeatability()
	}
	return &answer[[]TesterPage]{pages}, nil
}

func (h *handlers) checkGauges(_ context.Context, in *struct {
	Body struct {
		One   []float64 `json:"one" maxItems:"200" minimum:"-100000" maximum:"100000" doc:"Readings of one gauge, in any unit"`
		Other []float64 `json:"other" maxItems:"200" minimum:"-100000" maximum:"100000" doc:"Readings of the other gauge, at the same pressures, in the same unit"`
	}
}) (*answer[reading.GaugeCheck], error) {
	check, err := reading.CheckGauges(in.Body.One, in.Body.Other)
	if err != nil {
		return nil, refuse(log.Faults{{At: "/other", What: plain.Words(err)}})
	}
	return &answer[reading.GaugeCheck]{check}, nil
}

func (h *handlers) protocols(context.Context, *struct{}) (*answer[[]rules.Protocol], error) {
	return &answer[[]rules.Protocol]{h.store.Rules().AllProtocols()}, nil
}

// SaidFound is how often what was found when an engine was opened was what Braxel had said.
type SaidFound struct {
	Opened int `json:"opened" doc:"How many engines have been opened after a verdict"`
	Right  int `json:"right"`
}

// saidFound counts over all engines of the shop.
func (h *handlers) saidFound(ctx context.Context, _ *struct{}) (*answer[SaidFound], error) {
	engines, err := h.store.Opened(ctx)
	if err != nil {
		return nil, err
	}
	var out SaidFound
	for _, engine := range engines {
		l, shop, err := h.read(ctx, engine)
		if err != nil {
			return nil, err
		}
		for _, p := range inspect.Pairs(l, h.recall(engine, shop.Shown)(l, shop)) {
			out.Opened++
			if p.Right {
				out.Right++
			}
		}
	}
	return &answer[SaidFound]{out}, nil
}
