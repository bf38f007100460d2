package server

import (
	"cmp"
	"context"
	"fmt"
	"net/http"
	"slices"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"braxel/internal/core/trace"
)

// Seat is what the sheet of a test wants of the helper at the key or the bar, now. It is passed on and kept nowhere.
type Seat struct {
	Engine   string  `json:"engine,omitzero" maxLength:"120"`
	Test     string  `json:"test,omitzero" maxLength:"120"`
	Name     string  `json:"name" maxLength:"120" doc:"The engine's name"`
	Do       string  `json:"do" enum:"wait,crank,stop,turn,hold,done"`
	Cylinder int     `json:"cylinder,omitzero" minimum:"0" maximum:"64"`
	Line     string  `json:"line,omitzero" maxLength:"300" doc:"The line below the main word"`
	Foot     string  `json:"foot,omitzero" maxLength:"200"`
	Seconds  float64 `json:"seconds,omitzero" minimum:"0" maximum:"600" doc:"Seconds to crank; the screen then says stop by itself"`
	Most     float64 `json:"most_s,omitzero" minimum:"0" maximum:"600" doc:"The longest it may crank, in seconds"`
	Rest     float64 `json:"rest_s,omitzero" minimum:"0" maximum:"3600" doc:"How long the starter should rest"`
	Turn     float64 `json:"turn_deg,omitzero" minimum:"0" maximum:"1440"`
	Rotation string  `json:"rotation,omitzero" enum:"clockwise,anticlockwise"`
	Ran      float64 `json:"ran_s,omitzero" minimum:"0" maximum:"600" doc:"How long this had been so when it was told, in seconds"`
	ForMS    int64   `json:"for_ms" doc:"How long this has been so, in ms"`
}

// seats holds what each engine's sheet wants, the latest.
type seats struct {
	mu  sync.Mutex
	all map[string]seat
}

type seat struct {
	Seat
	since time.Time
}

// seatFor is how long a sheet that says nothing more is still shown, and mostSeats as many as are.
const (
	seatFor   = 4 * time.Hour
	mostSeats = 50
)

func (s *seats) tell(one Seat, now time.Time) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for engine, old := range s.all {
		if now.Sub(old.since) > seatFor || len(s.all) > mostSeats {
			delete(s.all, engine)
		}
	}
	s.all[one.Engine] = seat{one, now}
}

// now returns the seats of those engines, of all where none is named, each with how long it has been so; the latest first.
func (s *seats) now(engines []string, now time.Time) []Seat {
	s.mu.Lock()
	defer s.mu.Unlock()
	var some []seat
	for engine, one := range s.all {
		if engines == nil || slices.Contains(engines, engine) {
			some = append(some, one)
		}
	}
	slices.SortFunc(some, func(a, b seat) int { return cmp.Or(b.since.Compare(a.since), cmp.Compare(a.Engine, b.Engine)) })
	all := make([]Seat, len(some))
	for i, one := range some {
		all[i] = one.Seat
		all[i].ForMS = now.Sub(one.since).Milliseconds() + int64(one.Ran*1000)
	}
	return all
}

func (h *handlers) seatRoutes(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "seats", Method: http.MethodGet, Path: "/api/seats"}, h.listSeats)
	huma.Register(api, huma.Operation{
		OperationID: "tell-seat", Method: http.MethodPut, Path: "/api/engines/{engine}/sessions/{session}/seat",
		DefaultStatus: http.StatusNoContent,
	}, h.tellSeat)
}

func (h *handlers) listSeats(context.Context, *struct{}) (*answer[[]Seat], error) {
	return &answer[[]Seat]{h.hub.seats.now(nil, time.Now())}, nil
}

func (h *handlers) tellSeat(ctx context.Context, in *struct {
	SessionIn
	Body Seat
}) (*struct{}, error) {
	in.Body.Engine, in.Body.Test = in.ID, in.Session
	h.hub.seats.tell(in.Body, time.Now())
	h.hub.tellSeat(in.ID)
	if err := h.practice.sit(ctx, in.ID); err != nil {
		return nil, err
	}
	h.gauges.Tell(seatLine(in.Body), h.turnsOf(ctx, in.ID))
	return nil, nil
}

// seatLine says the same to a gauge: docs/gauge.md.
func seatLine(s Seat) string {
	line := fmt.Sprintf("seat %s %d", s.Do, s.Cylinder)
	if s.Do == "crank" && s.Seconds > 0 {
		line += fmt.Sprintf(" %g", s.Seconds)
	}
	return line
}

// turnsOf returns how many turns of the crank lie between two compressions of a cylinder of an engine.
func (h *handlers) turnsOf(ctx context.Context, engine string) float64 {
	l, _, err := h.store.Log(ctx, engine)
	if err != nil { // the sheet of one that is not here yet
		return trace.Known{}.Turns()
	}
	return trace.Known{Engine: l.Engine.Kind}.Turns()
}
