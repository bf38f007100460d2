package server

import (
	"context"
	"errors"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"braxel/internal/core/judge"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/sheet"
	"braxel/internal/core/units"
	"braxel/internal/store"
)

type handlers struct {
	store *store.Store
	now   func() time.Time
	shop  string
	hub   *hub
	pool  *pool
	heads sync.Mutex // a test's head is read, changed and written by one at a time
}

// Bore is one cylinder on the bore plan, its figures as they are to be shown.
type Bore struct {
	Cylinder  int         `json:"cylinder"`
	Place     string      `json:"place"`
	State     judge.State `json:"state" enum:"steady,retest,watch,act,stop"`
	Reading   string      `json:"reading,omitempty"`
	Unit      units.Unit  `json:"unit,omitempty" enum:"psi,kPa,bar,kgf/cm2"`
	ChangePct *float64    `json:"change_pct,omitempty"`
	LeakPct   *float64    `json:"leak_pct,omitempty"`
	Why       []string    `json:"why"`
}

// Test is the head of one session on the timeline, with its judgement.
type Test struct {
	log.Session
	Testers []string      `json:"testers" doc:"Names of the testers used"`
	Verdict judge.Session `json:"verdict"`
}

// EnginePage is one engine's truth.
type EnginePage struct {
	Engine   log.Engine          `json:"engine"`
	About    string              `json:"about"`
	State    judge.State         `json:"state" enum:"steady,retest,watch,act,stop"`
	Sentence string              `json:"sentence"`
	Decision string              `json:"decision,omitempty" doc:"Run it or not"`
	Beside   string              `json:"beside,omitempty" doc:"Why Braxel differs from the trade's rules, where it does"`
	Unit     units.Unit          `json:"unit" enum:"psi,kPa,bar,kgf/cm2"`
	Bores    []Bore              `json:"bores"`
	Builds   []log.Build         `json:"builds"`
	Events   []log.Event         `json:"events"`
	Tests    []Test              `json:"tests" doc:"In time order, without their readings"`
	Causes   []judge.Cause       `json:"causes" doc:"What may be wrong by the last test, most probable first"`
	Next     *judge.Next         `json:"next,omitempty"`
	Due      *judge.Due          `json:"due,omitempty"`
	Caveats  []string            `json:"caveats"`
	Gaskets  [][]int             `json:"gaskets" doc:"Pairs between which the gasket is suspected"`
	Open     string              `json:"open,omitempty" doc:"The test that is not finished"`
	Evenness []reading.Judgement `json:"evenness" doc:"What each school says of the last test"`
}

// EngineIn names the engine in the path.
type EngineIn struct {
	ID string `path:"engine" maxLength:"120"`
}

func (h *handlers) engineRoutes(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "engine", Method: http.MethodGet, Path: "/api/engines/{engine}"}, h.engine)
	huma.Register(api, huma.Operation{OperationID: "add-engine", Method: http.MethodPost, Path: "/api/engines", DefaultStatus: http.StatusCreated}, h.addEngine)
	huma.Register(api, huma.Operation{OperationID: "set-engine", Method: http.MethodPut, Path: "/api/engines/{engine}"}, h.setEngine)
	huma.Register(api, huma.Operation{OperationID: "add-build", Method: http.MethodPost, Path: "/api/engines/{engine}/builds", DefaultStatus: http.StatusCreated}, h.addBuild)
	huma.Register(api, huma.Operation{OperationID: "add-event", Method: http.MethodPost, Path: "/api/engines/{engine}/events", DefaultStatus: http.StatusCreated}, h.addEvent)
	huma.Register(api, huma.Operation{OperationID: "add-session", Method: http.MethodPost, Path: "/api/engines/{engine}/sessions", DefaultStatus: http.StatusCreated}, h.addSession)
}

func (h *handlers) engine(ctx context.Context, in *EngineIn) (*answer[EnginePage], error) {
	l, _, err := h.log(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	return &answer[EnginePage]{page(l)}, nil
}

func page(l log.Log) EnginePage {
	p := EnginePage{
		Engine: l.Engine, About: layout.Describe(l.Engine), State: judge.Steady, Sentence: "Not tested yet. The first test of a build becomes its baseline.",
		Unit: sheet.Unit(l), Builds: l.Builds, Events: l.Events, Tests: []Test{}, Causes: []judge.Cause{}, Caveats: []string{}, Gaskets: [][]int{}, Evenness: []reading.Judgement{}, Open: sheet.Open(l),
	}
	verdict := judge.Log(l)
	for i, s := range l.Sessions {
		names := testerNames(l, s)
		s.Compression, s.Leakdown, s.Observations = nil, nil, nil
		p.Tests = append(p.Tests, Test{s, names, verdict.Sessions[i]})
	}
	last, ok := verdict.Latest()
	if ok {
		p.State, p.Sentence, p.Decision, p.Beside = last.State, last.Sentence, last.Decision, last.Beside
		p.Next, p.Due, p.Gaskets = last.Next, last.Due, last.Gaskets()
		p.Caveats = append(p.Caveats, last.Caveats...)
		if last.Causes[0].Cause != "healthy" {
			p.Causes = last.Causes
		}
		p.Evenness = append(reading.BySchools(last.Pressures(), l.Engine.Limits, p.Unit), reading.LeaksBySchools(last.Leaks(), l.Engine.Limits)...)
	}
	for _, c := range l.Engine.Cylinders() {
		p.Bores = append(p.Bores, bore(l, last, c, p.Unit))
	}
	return p
}

func bore(l log.Log, last judge.Session, cylinder int, unit units.Unit) Bore {
	c := last.Of(cylinder)
	b := Bore{Cylinder: cylinder, Place: layout.Place(l.Engine.Layout, cylinder), State: c.State, Unit: unit, ChangePct: c.ChangePct, LeakPct: c.Leak, Why: c.Why}
	if c.Compression != nil {
		b.Reading = strings.TrimSuffix(reading.Show(units.Pressure(*c.Compression), unit), " "+string(unit))
	}
	return b
}

func testerNames(l log.Log, s log.Session) []string {
	names, seen := []string{}, map[string]bool{"": true}
	for _, row := range s.Compression {
		if t, ok := l.Tester(row.Tester); ok && !seen[t.ID] {
			seen[t.ID] = true
			names = append(names, t.Name)
		}
	}
	return names
}

func (h *handlers) addEngine(ctx context.Context, in *struct{ Body log.Engine }) (*answer[log.Engine], error) {
	if faults := in.Body.Check(); len(faults) > 0 {
		return nil, refuse(faults)
	}
	e, err := h.store.AddEngine(ctx, in.Body)
	return &answer[log.Engine]{e}, refuse(err)
}

func (h *handlers) setEngine(ctx context.Context, in *struct {
	EngineIn
	Body log.Engine
}) (*answer[log.Engine], error) {
	in.Body.ID = in.ID
	if faults := in.Body.Check(); len(faults) > 0 {
		return nil, refuse(faults)
	}
	return &answer[log.Engine]{in.Body}, refuse(h.store.SetEngine(ctx, in.Body))
}

func (h *handlers) addBuild(ctx context.Context, in *struct {
	EngineIn
	Body struct {
		Date string `json:"date" format:"date"`
		What string `json:"what" minLength:"1" maxLength:"200"`
	}
}) (*answer[log.Build], error) {
	b, err := h.store.AddBuild(ctx, in.ID, log.Build{Date: in.Body.Date, What: in.Body.What})
	return &answer[log.Build]{b}, refuse(err)
}

func (h *handlers) addEvent(ctx context.Context, in *struct {
	EngineIn
	Body log.Event
}) (*answer[log.Event], error) {
	return &answer[log.Event]{in.Body}, refuse(h.store.AddEvent(ctx, in.ID, in.Body))
}

// addSession begins a test. What the browser leaves open is taken from the last test.
func (h *handlers) addSession(ctx context.Context, in *struct {
	EngineIn
	Body struct {
		Meter *float64 `json:"meter,omitempty" minimum:"0"`
	}
}) (*answer[log.Session], error) {
	l, _, own, err := h.read(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	s := sheet.Begin(l, h.now().Format(time.DateOnly), own)
	s.Meter = in.Body.Meter
	s, err = h.store.AddSession(ctx, in.ID, s)
	return &answer[log.Session]{s}, refuse(err)
}

// refuse makes an answer of an error: 404 for what is not there, 422 with each field named for faults of the job.
func refuse(err error) error {
	var faults log.Faults
	switch {
	case err == nil:
		return nil
	case errors.Is(err, store.ErrUnknown), errors.Is(err, sheet.ErrUnknown):
		return huma.Error404NotFound(err.Error())
	case errors.As(err, &faults):
		details := make([]error, len(faults))
		for i, f := range faults {
			details[i] = &huma.ErrorDetail{Location: "body" + strings.ReplaceAll(f.At, "/", "."), Message: f.What}
		}
		return huma.Error422UnprocessableEntity("some of this cannot be kept as it is", details...)
	}
	return err
}
