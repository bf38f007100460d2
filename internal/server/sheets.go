package server

import (
	"context"
	"encoding/json"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"braxel/internal/core/log"
	"braxel/internal/core/protocol"
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
	post := func(id, at string) huma.Operation {
		return huma.Operation{OperationID: id, Method: http.MethodPost, Path: path + at, DefaultStatus: http.StatusCreated}
	}
	huma.Register(api, huma.Operation{OperationID: "sheet", Method: http.MethodGet, Path: path + "/sheet"}, h.sheet)
	huma.Register(api, huma.Operation{OperationID: "set-session", Method: http.MethodPatch, Path: path}, h.setSession)
	huma.Register(api, post("add-pull", "/pulls"), h.addPull)
	huma.Register(api, post("add-leakdown", "/leakdown"), h.addLeakdown)
	huma.Register(api, huma.Operation{OperationID: "preview-leakdown", Method: http.MethodPost, Path: path + "/preview"}, h.previewLeakdown)
	huma.Register(api, post("add-observation", "/observations"), h.addObservation)
	huma.Register(api, huma.Operation{OperationID: "tick", Method: http.MethodPost, Path: path + "/ticks"}, h.tick)
	huma.Register(api, huma.Operation{OperationID: "strike", Method: http.MethodPost, Path: path + "/{kind}/{key}/strike"}, h.strike)
}

// read returns an engine's log with every tester of the shop, its revision, and the shop's own protocols.
func (h *handlers) read(ctx context.Context, engine string) (log.Log, int, []protocol.Protocol, error) {
	l, revision, err := h.store.Log(ctx, engine)
	if err != nil {
		return l, 0, nil, err
	}
	testers, err := h.store.Testers(ctx)
	if err != nil {
		return l, 0, nil, err
	}
	if l.Testers, err = h.repeating(ctx, testers); err != nil {
		return l, 0, nil, err
	}
	own, err := h.store.Protocols(ctx)
	return l, revision, own, err
}

func (h *handlers) sheet(ctx context.Context, in *SessionIn) (*sheetOut, error) {
	l, revision, own, err := h.read(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	s, err := sheet.Of(l, in.Session, own)
	s.Revision = revision
	return &sheetOut{s}, refuse(err)
}

// changed tells everyone who has the sheet open, and answers with it.
func (h *handlers) changed(ctx context.Context, in *SessionIn) (*sheetOut, error) {
	h.hub.tell(in.ID + "/" + in.Session)
	l, _, err := h.store.Log(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	h.pool.changed(l)
	return h.sheet(ctx, in)
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
	l, _, own, err := h.read(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	row := in.Body.row(h.now())
	doubt, err := sheet.Doubts(l, in.Session, row, own)
	if err != nil {
		return nil, refuse(err)
	}
	if doubt != "" && !in.Body.Confirmed {
		return nil, huma.Error409Conflict(doubt)
	}
	if err := h.store.AddPull(ctx, in.ID, in.Session, row); err != nil {
		return nil, refuse(err)
	}
	return h.changed(ctx, &in.SessionIn)
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
	return h.changed(ctx, &in.SessionIn)
}

// LeakdownIn is one leak-down attempt as it is typed: the held pressure, or the percent that the dial shows.
type LeakdownIn struct {
	Key      string     `json:"key,omitempty" maxLength:"64" doc:"Made in the browser; an attempt sent twice is kept once"`
	Cylinder int        `json:"cylinder"`
	Tester   string     `json:"tester,omitempty" maxLength:"120"`
	Supply   float64    `json:"supply"`
	Held     *float64   `json:"held,omitempty"`
	Pct      *float64   `json:"pct,omitempty" minimum:"0" maximum:"100"`
	Unit     units.Unit `json:"unit" enum:"psi,kPa,bar,kgf/cm2"`
	Position string     `json:"position,omitempty" enum:"tdc,bdc,swept"`
	Paths    []log.Path `json:"paths,omitempty" doc:"Left out where nobody listened; empty where nothing was heard"`
	Note     string     `json:"note,omitempty" maxLength:"1000"`
}

func (b LeakdownIn) row() log.Leakdown {
	row := log.Leakdown{Cylinder: b.Cylinder, Tester: b.Tester, Supply: b.Supply, Unit: b.Unit, Position: b.Position, Note: b.Note, Key: b.Key, Paths: b.Paths}
	switch {
	case b.Held != nil:
		row.Held = *b.Held
	case b.Pct != nil:
		row.Held = sheet.HeldFrom(b.Supply, *b.Pct)
	}
	return row
}

func (h *handlers) addLeakdown(ctx context.Context, in *struct {
	SessionIn
	Body LeakdownIn
}) (*sheetOut, error) {
	l, _, _, err := h.read(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	row := in.Body.row()
	if in.Body.Key == "" || (in.Body.Held == nil && in.Body.Pct == nil) {
		return nil, refuse(log.Faults{{At: "/held", What: "what did the cylinder hold?"}})
	}
	if err := sheet.CheckLeak(l, in.Session, row); err != nil {
		return nil, refuse(err)
	}
	if err := h.store.AddLeakdown(ctx, in.ID, in.Session, row); err != nil {
		return nil, refuse(err)
	}
	return h.changed(ctx, &in.SessionIn)
}

// previewLeakdown says what the dials come to before they are kept.
func (h *handlers) previewLeakdown(ctx context.Context, in *struct {
	SessionIn
	Body LeakdownIn
}) (*answer[sheet.Preview], error) {
	l, _, _, err := h.read(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	out, err := sheet.PreviewOf(l, in.Session, in.Body.row())
	return &answer[sheet.Preview]{out}, refuse(err)
}

func (h *handlers) addObservation(ctx context.Context, in *struct {
	SessionIn
	Body log.Observation
}) (*sheetOut, error) {
	if in.Body.Key == "" {
		return nil, refuse(log.Faults{{At: "/key", What: "an entry needs its key"}})
	}
	if err := h.store.AddObservation(ctx, in.ID, in.Session, in.Body); err != nil {
		return nil, refuse(err)
	}
	return h.changed(ctx, &in.SessionIn)
}

func (h *handlers) tick(ctx context.Context, in *struct {
	SessionIn
	Body struct {
		Line string `json:"line" minLength:"1" maxLength:"60"`
		Done bool   `json:"done"`
	}
}) (*sheetOut, error) {
	if err := h.store.Tick(ctx, in.ID, in.Session, in.Body.Line, in.Body.Done); err != nil {
		return nil, refuse(err)
	}
	return h.changed(ctx, &in.SessionIn)
}

// SessionHead is what stands at the head of a test and may be changed while it is made. What is left out stays.
type SessionHead struct {
	Date       *string         `json:"date,omitempty" format:"date"`
	Build      *string         `json:"build,omitempty" maxLength:"120"`
	Stage      *string         `json:"stage,omitempty" enum:"as-found,pre-install,after-running,dyno,pre-season,service,between-runs,post-season,after-incident,after-repair"`
	Meter      *float64        `json:"meter,omitempty" minimum:"0"`
	Baseline   *bool           `json:"baseline,omitempty"`
	Operator   *string         `json:"operator,omitempty" maxLength:"120"`
	Note       *string         `json:"note,omitempty" maxLength:"10000"`
	Open       *bool           `json:"open,omitempty"`
	Place      *string         `json:"place,omitempty" enum:"car,stand,dyno"`
	Protocol   *string         `json:"protocol,omitempty" maxLength:"60"`
	Gauge      *string         `json:"gauge,omitempty" maxLength:"120"`
	Kit        *string         `json:"kit,omitempty" maxLength:"120"`
	Conditions *log.Conditions `json:"conditions,omitempty"`
}

// over writes the fields that were given over the session's own.
func (b SessionHead) over(s *log.Session) {
	put(&s.Date, b.Date)
	put(&s.Build, b.Build)
	put(&s.Stage, b.Stage)
	put(&s.Baseline, b.Baseline)
	put(&s.Operator, b.Operator)
	put(&s.Note, b.Note)
	put(&s.Open, b.Open)
	put(&s.Place, b.Place)
	put(&s.Protocol, b.Protocol)
	put(&s.Gauge, b.Gauge)
	put(&s.Kit, b.Kit)
	if b.Meter != nil {
		s.Meter = b.Meter
	}
}

func put[T any](to, from *T) {
	if from != nil {
		*to = *from
	}
}

// changed returns the conditions with those of the request's body written over them, field by field.
func changed(c log.Conditions, body []byte) (log.Conditions, error) {
	text, err := json.Marshal(c)
	if err != nil {
		return c, err
	}
	var head struct {
		Conditions log.Conditions `json:"conditions"`
	}
	if err := json.Unmarshal(text, &head.Conditions); err != nil {
		return c, err
	}
	err = json.Unmarshal(body, &head)
	return head.Conditions, err
}

// setSession changes what is given of a test's head and conditions; two people may each change their own part.
func (h *handlers) setSession(ctx context.Context, in *struct {
	SessionIn
	Body    SessionHead
	RawBody []byte
}) (*sheetOut, error) {
	h.heads.Lock()
	defer h.heads.Unlock()
	l, _, err := h.log(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	i := slices.IndexFunc(l.Sessions, func(s log.Session) bool { return s.ID == in.Session })
	if i < 0 {
		return nil, refuse(sheet.ErrUnknown)
	}
	one := l.Sessions[i]
	in.Body.over(&one)
	if one.Conditions, err = changed(one.Conditions, in.RawBody); err != nil {
		return nil, err
	}
	if err := h.store.SetSession(ctx, in.ID, one); err != nil {
		return nil, refuse(err)
	}
	return h.changed(ctx, &in.SessionIn)
}
