package server

import (
	"context"
	"encoding/json"
	"net/http"
	"runtime"
	"slices"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/sync/errgroup"

	"braxel/internal/core/judge"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/store"
)

// RackEngine is one engine on the rack.
type RackEngine struct {
	ID        string      `json:"id"`
	Name      string      `json:"name"`
	Owner     string      `json:"owner,omitempty"`
	About     string      `json:"about"`
	Layout    log.Layout  `json:"layout"`
	State     judge.State `json:"state" enum:"steady,retest,watch,act,stop"`
	Sentence  string      `json:"sentence"`
	Tests     int         `json:"tests"`
	LastTest  string      `json:"last_test,omitempty" format:"date"`
	Meter     *float64    `json:"meter,omitempty"`
	MeterUnit string      `json:"meter_unit,omitempty"`
	Due       *judge.Due  `json:"due,omitempty"`
	Bores     []RackBore  `json:"bores"`
}

// RackBore is one cylinder on an engine's small bore plan.
type RackBore struct {
	Cylinder int         `json:"cylinder"`
	State    judge.State `json:"state" enum:"steady,retest,watch,act,stop"`
}

// Rack is every engine, the most urgent first, and the workshop's name.
type Rack struct {
	Shop    string       `json:"shop"`
	Engines []RackEngine `json:"engines"`
}

type answer[T any] struct{ Body T }

func (h *handlers) rackRoutes(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "rack", Method: http.MethodGet, Path: "/api/rack"}, h.rack)
	huma.Register(api, huma.Operation{OperationID: "layouts", Method: http.MethodGet, Path: "/api/layouts"}, h.layouts)
}

func (h *handlers) rack(ctx context.Context, _ *struct{}) (*answer[Rack], error) {
	summaries, err := h.store.Rack(ctx, judge.Edition)
	if err != nil {
		return nil, err
	}
	if err := h.judgeAnew(ctx, summaries); err != nil {
		return nil, err
	}
	rack := Rack{h.shop, make([]RackEngine, len(summaries))}
	for i, s := range summaries {
		if err := json.Unmarshal(s.Body, &rack.Engines[i]); err != nil {
			return nil, err
		}
	}
	slices.SortStableFunc(rack.Engines, func(a, b RackEngine) int { return b.State.Severity() - a.State.Severity() })
	return &answer[Rack]{rack}, nil
}

// judgeAnew fills in the summaries of the engines that changed since they were judged last, and keeps them. After the
// judge itself has changed that is every engine of the shop.
func (h *handlers) judgeAnew(ctx context.Context, summaries []store.Summary) error {
	var stale []int
	for i, s := range summaries {
		if s.Body == nil {
			stale = append(stale, i)
		}
	}
	if len(stale) == 0 {
		return nil
	}
	var each errgroup.Group
	each.SetLimit(runtime.GOMAXPROCS(0))
	for _, i := range stale {
		each.Go(func() error {
			s := &summaries[i]
			l, revision, err := h.log(ctx, s.Engine)
			if err != nil {
				return err
			}
			s.Revision = revision
			s.Body, err = json.Marshal(summarize(l))
			return err
		})
	}
	if err := each.Wait(); err != nil {
		return err
	}
	anew := make([]store.Summary, len(stale))
	for n, i := range stale {
		anew[n] = summaries[i]
	}
	return h.store.KeepSummaries(ctx, judge.Edition, anew)
}

func summarize(l log.Log) RackEngine {
	e := l.Engine
	row := RackEngine{
		ID: e.ID, Name: e.Name, Owner: e.Owner, About: layout.Describe(e), Layout: e.Layout, MeterUnit: e.MeterUnit,
		State: judge.Steady, Sentence: "Not tested yet.", Tests: len(l.Sessions),
	}
	last, ok := judge.Log(l).Latest()
	if ok {
		row.State, row.Sentence, row.Due = last.State, last.Sentence, last.Due
		row.LastTest, row.Meter = l.Sessions[len(l.Sessions)-1].Date, l.Sessions[len(l.Sessions)-1].Meter
	}
	for _, c := range e.Cylinders() {
		row.Bores = append(row.Bores, RackBore{c, last.Of(c).State})
	}
	return row
}

func (h *handlers) layouts(context.Context, *struct{}) (*answer[[]layout.Preset], error) {
	return &answer[[]layout.Preset]{layout.Presets()}, nil
}
