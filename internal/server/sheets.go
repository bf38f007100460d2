package server

import (
	"context"
	"errors"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"braxel/internal/core/book"
	"braxel/internal/core/inspect"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/sheet"
	"braxel/internal/store"
)

// SessionIn names the engine and the test in the path.
type SessionIn struct {
	EngineIn
	Session string `path:"session" maxLength:"120"`
}

func (h *handlers) sheetRoutes(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "moving", Method: http.MethodGet, Path: "/api/engines/{engine}/sessions/{session}/moving"}, h.moving)
	const path = "/api/engines/{engine}/sessions/{session}"
	huma.Register(api, huma.Operation{OperationID: "sheet", Method: http.MethodGet, Path: path + "/sheet"}, h.sheet)
	huma.Register(api, huma.Operation{OperationID: "inspection", Method: http.MethodGet, Path: path + "/inspection"}, h.inspection)
	huma.Register(api, huma.Operation{OperationID: "preview-leakdown", Method: http.MethodPost, Path: path + "/preview"}, h.previewLeakdown)
}

// read returns an engine's log as it stands with every tester of the shop, and the shop's own rules.
func (h *handlers) read(ctx context.Context, engine string) (log.Log, rules.Shop, error) {
	l, _, err := h.store.Log(ctx, engine)
	return h.standing(l), h.rules(ctx), err
}

// standing returns a log as it stands with every tester of the shop.
func (h *handlers) standing(l log.Log) log.Log {
	l = l.Standing()
	testers := h.store.Testers()
	for _, t := range l.Testers {
		if _, ok := (log.Log{Testers: testers}).Tester(t.ID); !ok {
			testers = append(testers, t)
		}
	}
	l.Testers = testers
	return l
}

func (h *handlers) sheetOf(ctx context.Context, engine, test string) (sheet.Sheet, error) {
	whole, revision, err := h.store.Log(ctx, engine)
	if err != nil {
		return sheet.Sheet{}, err
	}
	shop := h.rules(ctx)
	s, err := sheet.OfBy(h.standing(whole), test, shop, h.memory(engine, shop.Shown))
	s.Revision = revision
	// What was looked at and struck is shown where it stood, so that it can be counted again there.
	for _, one := range whole.Sessions {
		if one.ID == test {
			s.Session.Observations = one.Observations
		}
	}
	return s, err
}

func (h *handlers) sheet(ctx context.Context, in *SessionIn) (*answer[sheet.Sheet], error) {
	s, err := h.sheetOf(ctx, in.ID, in.Session)
	return &answer[sheet.Sheet]{s}, refuse(err)
}

// Inspection is an inspection with what stands above it.
type Inspection struct {
	Name  string `json:"name"`
	About string `json:"about"`
	Date  string `json:"date"`
	Begun bool   `json:"test_open,omitzero" doc:"The test isn't finished, so lines can be answered"`
	inspect.Report
}

// inspection is the buyer's list of a test, or after a failure the list before opening, with the page that results.
func (h *handlers) inspection(ctx context.Context, in *struct {
	SessionIn
	After bool `query:"after" doc:"The list for after a failure, before opening"`
}) (*answer[Inspection], error) {
	l, shop, err := h.read(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	at := l.At(in.Session)
	if at < 0 {
		return nil, refuse(sheet.ErrUnknown)
	}
	s, verdict := l.Sessions[at], h.memory(in.ID, shop.Shown)(l, shop).Sessions[at]
	return &answer[Inspection]{Inspection{
		Name: l.Engine.Name, About: layout.Describe(l.Engine, shop.Shown), Date: s.Date, Begun: s.Open,
		Report: inspect.Of(l, s, verdict, in.After, shop.Shown),
	}}, nil
}

// previewLeakdown says what the dials come to before they are kept.
func (h *handlers) previewLeakdown(ctx context.Context, in *struct {
	SessionIn
	Body book.LeakBody
}) (*answer[sheet.Preview], error) {
	l, _, err := h.read(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	out, err := sheet.PreviewOf(l, in.Session, in.Body.Row())
	return &answer[sheet.Preview]{out}, refuse(err)
}

func isUnknown(err error) bool {
	return errors.Is(err, store.ErrUnknown) || errors.Is(err, sheet.ErrUnknown)
}

// MovingIn is where a test is to be taken.
type MovingIn struct {
	SessionIn
	To    string `query:"to" doc:"The engine that it is of"`
	Build string `query:"build" doc:"The build; left out, the engine's last"`
}

// Moving are the entries that take a test there, to be handed in together.
type Moving struct {
	Steps []book.MovingStep `json:"steps"`
}

func (h *handlers) moving(ctx context.Context, in *MovingIn) (*answer[Moving], error) {
	from, err := h.store.View(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	to, err := h.store.View(ctx, in.To)
	if err != nil {
		return nil, refuse(err)
	}
	steps, faults := book.Moved(from.Log, in.Session, from.Behind[book.Test+" "+in.Session], to.Log, in.Build, h.store.Testers())
	if len(faults) > 0 {
		return nil, refuse(faults)
	}
	return &answer[Moving]{Moving{steps}}, nil
}
