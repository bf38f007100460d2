package server

import (
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"braxel/internal/core/log"
	"braxel/internal/core/sheet"
	"braxel/internal/core/units"
)

// SessionIn names the engine and the test in the path.
type SessionIn struct {
	EngineIn
	Session string `path:"session" maxLength:"120"`
}

type sheetOut = answer[sheet.Sheet]

func (h *handlers) sheetRoutes(api huma.API) {
	const path = "/api/engines/{engine}/sessions/{session}"
	huma.Register(api, huma.Operation{OperationID: "sheet", Method: http.MethodGet, Path: path + "/sheet"}, h.sheet)
	huma.Register(api, huma.Operation{OperationID: "set-session", Method: http.MethodPut, Path: path}, h.setSession)
	huma.Register(api, huma.Operation{OperationID: "add-pull", Method: http.MethodPost, Path: path + "/pulls", DefaultStatus: http.StatusCreated}, h.addPull)
	huma.Register(api, huma.Operation{OperationID: "strike", Method: http.MethodPost, Path: path + "/{kind}/{key}/strike"}, h.strike)
}

func (h *handlers) sheet(ctx context.Context, in *SessionIn) (*sheetOut, error) {
	l, _, err := h.store.Log(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	s, err := sheet.Of(l, in.Session)
	return &sheetOut{s}, refuse(err)
}

// PullIn is one pull as it is typed. Confirmed says that a doubted figure is as read.
type PullIn struct {
	Key       string     `json:"key" minLength:"8" maxLength:"64" doc:"Made in the browser; a pull sent twice is kept once"`
	Cylinder  int        `json:"cylinder,omitempty"`
	Rotor     int        `json:"rotor,omitempty"`
	Face      int        `json:"face,omitempty"`
	Mode      string     `json:"mode" enum:"dry,wet"`
	Tester    string     `json:"tester,omitempty" maxLength:"120"`
	OilCC     float64    `json:"oil_cc,omitempty" minimum:"0" maximum:"50"`
	Value     float64    `json:"value"`
	Unit      units.Unit `json:"unit" enum:"psi,kPa,bar,kgf/cm2"`
	Beats     int        `json:"beats,omitempty" minimum:"0" maximum:"1000"`
	RPM       float64    `json:"rpm,omitempty" minimum:"0" maximum:"2000"`
	BatteryV  float64    `json:"battery_v,omitempty" minimum:"0" maximum:"40"`
	Confirmed bool       `json:"confirmed,omitempty"`
}

func (p PullIn) row(at time.Time) log.Compression {
	return log.Compression{
		Cylinder: p.Cylinder, Rotor: p.Rotor, Face: p.Face, Mode: p.Mode, Tester: p.Tester, OilCC: p.OilCC,
		Pulls: []log.Pull{{Reading: units.Reading{Value: p.Value, Unit: p.Unit}, Beats: p.Beats, RPM: p.RPM, BatteryV: p.BatteryV, Key: p.Key, At: at.UTC().Format(time.RFC3339Nano)}},
	}
}

// addPull answers only when the pull is on disk.
func (h *handlers) addPull(ctx context.Context, in *struct {
	SessionIn
	Body PullIn
}) (*sheetOut, error) {
	l, _, err := h.store.Log(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	row := in.Body.row(h.now())
	doubt, err := sheet.Take(&l, in.Session, row)
	if err != nil {
		return nil, refuse(err)
	}
	if doubt != "" && !in.Body.Confirmed {
		return nil, huma.Error409Conflict(doubt)
	}
	if err := h.store.AddPull(ctx, in.ID, in.Session, row); err != nil {
		return nil, refuse(err)
	}
	s, err := sheet.Of(l, in.Session)
	return &sheetOut{s}, refuse(err)
}

func (h *handlers) strike(ctx context.Context, in *struct {
	SessionIn
	Kind string `path:"kind" enum:"pulls,leakdown"`
	Key  string `path:"key" maxLength:"64"`
	Body struct {
		Why string `json:"why" minLength:"1" maxLength:"200"`
	}
}) (*sheetOut, error) {
	if err := h.store.Strike(ctx, in.ID, in.Session, in.Kind, in.Key, in.Body.Why); err != nil {
		return nil, refuse(err)
	}
	return h.sheet(ctx, &in.SessionIn)
}

// SessionHead is what stands at the head of a test and may be changed while it is made.
type SessionHead struct {
	Date       string         `json:"date" format:"date"`
	Build      string         `json:"build,omitempty" maxLength:"120"`
	Stage      string         `json:"stage,omitempty" enum:"as-found,pre-install,after-running,dyno,pre-season,service,between-runs,post-season,after-incident,after-repair"`
	Meter      *float64       `json:"meter,omitempty" minimum:"0"`
	Baseline   bool           `json:"baseline,omitempty"`
	Operator   string         `json:"operator,omitempty" maxLength:"120"`
	Note       string         `json:"note,omitempty" maxLength:"10000"`
	Open       bool           `json:"open,omitempty"`
	Conditions log.Conditions `json:"conditions,omitzero"`
}

func (h *handlers) setSession(ctx context.Context, in *struct {
	SessionIn
	Body SessionHead
}) (*sheetOut, error) {
	b := in.Body
	one := log.Session{ID: in.Session, Date: b.Date, Build: b.Build, Stage: b.Stage, Meter: b.Meter, Baseline: b.Baseline, Operator: b.Operator, Note: b.Note, Open: b.Open, Conditions: b.Conditions}
	if err := h.store.SetSession(ctx, in.ID, one); err != nil {
		return nil, refuse(err)
	}
	return h.sheet(ctx, &in.SessionIn)
}
