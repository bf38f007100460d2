package server

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"math"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-json-experiment/json"
	"github.com/gofiber/fiber/v3"

	"braxel/internal/core/gas"
	"braxel/internal/core/gauge"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/trace"
	"braxel/internal/core/units"
	"braxel/internal/gauges"
	"braxel/internal/plain"
)

// GaugeNow is what the gauges do at this moment, in the unit that was asked for.
type GaugeNow struct {
	gauges.Now
	Unit    units.Unit `json:"unit"`
	Say     string     `json:"say"`
	Needle  float64    `json:"needle" doc:"What the dial shows"`
	Reading float64    `json:"reading" doc:"The reading so far, as the dial is read"`
	Supply  float64    `json:"supply,omitzero"`
	LeakPct *float64   `json:"leak_pct,omitempty"`
	Seconds []float64  `json:"t,omitempty" doc:"Times of the new points, in seconds since cranking began"`
	Points  []float64  `json:"p,omitempty" doc:"What the dial showed at those times"`
	Pulling int        `json:"of,omitzero" doc:"The reading the points belong to"`
}

func (h *handlers) gaugeRoutes(app routes, api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "gauge", Method: http.MethodGet, Path: "/api/gauge"}, h.gaugeNow)
	huma.Register(api, huma.Operation{
		OperationID: "follow-gauge", Method: http.MethodPut, Path: "/api/gauge", DefaultStatus: http.StatusNoContent,
	}, h.followGauge)
	huma.Register(api, huma.Operation{
		OperationID: "answer-gauge", Method: http.MethodPost, Path: "/api/gauge/answer", DefaultStatus: http.StatusNoContent,
	}, h.answerGauge)
	huma.Register(api, huma.Operation{OperationID: "take-pull", Method: http.MethodPost, Path: "/api/gauge/take"}, h.takePull)
	app.get("/api/gauge/live", h.live)
}

type gaugeIn struct {
	Unit units.Unit `query:"unit" default:"psi"`
	Air  bool       `query:"air" doc:"Leak-down testers instead of compression gauges"`
}

func (h *handlers) gaugeNow(_ context.Context, in *gaugeIn) (*answer[GaugeNow], error) {
	return &answer[GaugeNow]{frameOf(h.gauges, in.Air, in.Unit, nil)}, nil
}

func (h *handlers) followGauge(_ context.Context, in *struct {
	Body struct {
		ID int `json:"id"`
	}
}) (*struct{}, error) {
	if !h.gauges.Follow(in.Body.ID) {
		return nil, huma.Error404NotFound(say.Text("server.gauge-not-connected-any-more"))
	}
	return nil, nil
}

// answerGauge lets a gauge in that asks, or sends it away.
func (h *handlers) answerGauge(_ context.Context, in *struct {
	Body struct {
		ID  int  `json:"id"`
		Yes bool `json:"yes"`
	}
}) (*struct{}, error) {
	if !h.gauges.Answer(in.Body.ID, in.Body.Yes) {
		return nil, huma.Error404NotFound(say.Text("server.gauge-not-asking-any-more"))
	}
	return nil, nil
}

// frameOf is one frame of what a room hears.
func frameOf(r *gauges.Room, air bool, u units.Unit, seen *gauges.Seen) GaugeNow {
	now, seconds, kpa := r.Now(air, seen)
	out := GaugeNow{Now: now, Unit: u, Seconds: seconds, Pulling: now.Pull}
	view := gauge.View{Phase: now.Phase, Reading: now.Reading, Supply: now.Supply, Beats: now.Beats}
	out.Say = view.Say(u)
	if air {
		out.Say = view.SayAir(u)
		if now.Supply > 0 {
			pct := gas.LeakPct(units.Pressure(now.Supply), units.Pressure(now.KPa))
			out.LeakPct = &pct
		}
	}
	switch {
	case now.Phase == "":
		out.Say = ""
	case now.Silent:
		out.Say = say.Text("server.gauge-silent-check-lead")
	}
	in := func(kpa float64) float64 { return math.Round(10*units.Pressure(kpa).In(u)) / 10 }
	out.Needle, out.Supply = in(now.KPa), in(now.Supply)
	out.Reading = units.Pressure(max(now.Reading, 0)).Shown(u).Value
	for _, p := range kpa {
		out.Points = append(out.Points, in(p))
	}
	return out
}

// frame is how often a screen is drawn anew.
const frame = time.Second / 30

// live answers with server-sent events: a frame whenever something moved.
func (h *handlers) live(x fiber.Ctx) error {
	u := units.Unit(strings.Clone(x.Query("unit")))
	if !u.Valid() {
		return fiber.NewError(http.StatusUnprocessableEntity, say.Text("server.unit-must", "listed", units.Listed()))
	}
	air := x.Query("air") == "true"
	x.Set("Content-Type", "text/event-stream")
	x.Set("Cache-Control", "no-cache")
	out := h.door.Out(whoOf(x.Context()).device.ID)
	return x.SendStreamWriter(func(w *bufio.Writer) {
		ticker, end := time.NewTicker(frame), time.NewTimer(streamFor)
		defer ticker.Stop()
		defer end.Stop()
		seen := &gauges.Seen{}
		last, quiet := "", time.Now()
		for {
			one := frameOf(h.gauges, air, u, seen)
			text, err := json.Marshal(one)
			if err != nil {
				return
			}
			if line := string(text); line != last || time.Since(quiet) > heartbeat {
				last, quiet = line, time.Now()
				if _, err := fmt.Fprintf(w, "retry: 300\ndata: %s\n\n", text); err != nil {
					return
				}
				if err := w.Flush(); err != nil {
					return
				}
			}
			select {
			case <-ticker.C:
			case <-end.C:
				return
			case <-out:
				return
			case <-h.hub.closed:
				return
			}
		}
	})
}

// takeIn is which pull is taken, and of what.
type takeIn struct {
	Body struct {
		Engine string     `json:"engine" maxLength:"120"`
		Number int        `json:"number" minimum:"1" maximum:"64" doc:"The cylinder or rotor"`
		Unit   units.Unit `json:"unit"`
		Pull   int        `json:"pull,omitzero" doc:"Only that reading; 0 for whichever the gauge shows"`
		Air    bool       `json:"air,omitzero"`
	}
}

// TakenPull is what a gauge gave: a recording with its pulls, or supply and held pressure.
type TakenPull struct {
	TraceRead
	Supply float64 `json:"supply,omitzero"`
	Held   float64 `json:"held,omitzero"`
}

// takePull gives a pull that the gauge shows to the sheet that asks first; it is kept when the sheet hands it in.
func (h *handlers) takePull(ctx context.Context, in *takeIn) (*answer[TakenPull], error) {
	l, _, err := h.store.Log(ctx, in.Body.Engine)
	if err != nil {
		return nil, refuse(err)
	}
	place := l.Engine.Place(in.Body.Number)
	if !l.Engine.Has(place) {
		return nil, huma.Error422UnprocessableEntity(say.Text("server.number-engine-has-no-such",
			"noun", l.Engine.Nouns(1),
		))
	}
	took, err := h.gauges.Take(in.Body.Air, in.Body.Pull)
	if errors.Is(err, gauges.ErrNoGauge) || errors.Is(err, gauges.ErrNoPull) {
		return nil, huma.Error409Conflict(plain.Words(err))
	}
	if err != nil {
		return nil, err
	}
	if in.Body.Air {
		return &answer[TakenPull]{TakenPull{
			Supply: units.Pressure(took.View.Supply).Shown(in.Body.Unit).Value,
			Held:   units.Pressure(max(took.View.Reading, 0)).Shown(in.Body.Unit).Value,
		}}, nil
	}
	read, err := readTaken(took, l.Engine, in.Body.Number, in.Body.Unit)
	if took.Head.Name == cameraName {
		sd := h.reels.cameraSD(in.Body.Unit)
		for i := range read.Pulls {
			read.Pulls[i].CameraSD = sd
		}
	}
	return &answer[TakenPull]{TakenPull{TraceRead: read}}, err
}

// readTaken reads a pull as a recording. Its reading is what the needle was said to have come to.
func readTaken(took gauges.Taking, e log.Engine, number int, u units.Unit) (TraceRead, error) {
	r := trace.Recording{Measured: trace.Pressure}
	for _, s := range took.Samples {
		r.Seconds, r.Values = append(r.Seconds, s.Seconds), append(r.Values, s.KPa)
	}
	k := knownOf(e, number, trace.Pressure)
	k.File, k.Unit = took.Head.Name, u
	var out TraceRead
	a := trace.Answer{File: k.File, RPM: took.View.RPM, Pulses: took.View.Beats}
	if len(r.Values) > 20 {
		if read := trace.Read(r, k); read.Readable {
			a = read
		} else {
			a.Why = read.Why
		}
		var err error
		if out.Trace, out.Points, err = keptOf(r, a); err != nil {
			return out, err
		}
	}
	place := e.Place(number)
	if place.Rotor == 0 {
		reading := took.View.Reading
		a.PeakKPa = &reading
		if a.PlateauBeats == nil {
			a.PlateauBeats = &took.View.Beats
		}
	}
	out.Pulls = pullsOf(a, place, u)
	return out, nil
}
