package server

import (
	"context"
	"errors"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-json-experiment/json"
	"github.com/gofiber/fiber/v3"

	"braxel/internal/core/dial"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/films"
	"braxel/internal/plain"
	"braxel/internal/store"
)

// markedFace is a dial as somebody marked it: kept for the gauge's next film.
type markedFace struct {
	Marks   dial.Marks `json:"marks"`
	Picture []byte     `json:"picture"` // JPEG, cut to the dial
}

const (
	mostFace  = 400_000 // bytes of its picture: what a browser sends has a tenth
	mostGauge = 250     // letters of a gauge's name, with which of its dials
)

// FilmFace is where the marks of a gauge's dial are in a picture.
type FilmFace struct {
	Known  bool       `json:"known" doc:"It was marked before"`
	Centre [2]float64 `json:"centre" doc:"The needle's axis, in dots of the picture"`
	Points []FilmMark `json:"points,omitempty" doc:"Missing where the dial was not found"`
	Unit   string     `json:"unit,omitzero"`
}

// FilmMark is a mark of the scale.
type FilmMark struct {
	At    [2]float64 `json:"at"`
	Value float64    `json:"value"`
}

// findFace looks for the dial of a gauge in a picture, near a tap on its middle where there is one.
func (h *handlers) findFace(x fiber.Ctx) error {
	in, done, err := h.readForm(x)
	if err != nil {
		return err
	}
	defer done()
	var tap *[2]float64
	if text := in.fields["tap"]; text != "" && json.Unmarshal([]byte(text), &tap) != nil {
		return fiber.NewError(http.StatusUnprocessableEntity, say.Text("server.cant-read", "field", "tap"))
	}
	out := FilmFace{}
	face, err := h.faceOf(in.fields["gauge"])
	if errors.Is(err, store.ErrUnknown) {
		return sendJSON(x, out)
	}
	if err != nil {
		return err
	}
	out.Known = true
	_, picture, err := firstOf(in)
	if err != nil {
		return sendJSON(x, out)
	}
	marks, err := face.In(picture, tap)
	if err != nil {
		return sendJSON(x, out)
	}
	out.Centre, out.Unit = marks.Centre, marks.Unit
	for _, m := range marks.Points {
		out.Points = append(out.Points, FilmMark{m.At, m.Value})
	}
	return sendJSON(x, out)
}

// faceOf returns the face of a gauge; one that can't be read is as good as none.
func (h *handlers) faceOf(gauge string) (dial.Face, error) {
	text, err := h.store.Face(gauge)
	if err != nil {
		return dial.Face{}, err
	}
	var kept markedFace
	if json.Unmarshal(text, &kept) != nil {
		return dial.Face{}, store.ErrUnknown
	}
	picture, err := films.Gray(kept.Picture, mostDots)
	if err != nil {
		return dial.Face{}, store.ErrUnknown
	}
	return dial.Face{Picture: picture, Marks: kept.Marks}, nil
}

// remember keeps the face that a film was marked on, once its needle was read by the marks. The reel is locked.
func (h *handlers) remember(r *reel) {
	if r.face == nil {
		return
	}
	if text, err := json.Marshal(r.face); err == nil {
		_ = h.store.PutFace(r.gauge, text) // a full disk is said by what has to be kept
	}
	r.face = nil
}

// pointIn is a place that somebody laid the needle's line through.
type pointIn struct {
	Body struct {
		ID      string     `json:"id" maxLength:"60"`
		Seconds float64    `json:"t" doc:"Of the picture"`
		At      [2]float64 `json:"at" doc:"In dots of the picture"`
		Unit    units.Unit `json:"unit"`
	}
}

// FilmPoint is what a needle says that points there.
type FilmPoint struct {
	Value float64 `json:"value"`
}

// filmPoint says what a needle reads that points through a place of a picture.
func (h *handlers) filmPoint(_ context.Context, in *pointIn) (*answer[FilmPoint], error) {
	one, err := h.reels.of(in.Body.ID)
	if err != nil {
		return nil, err
	}
	if !in.Body.Unit.Valid() {
		return nil, huma.Error422UnprocessableEntity(say.Text("server.unit-must", "listed", units.Listed()))
	}
	one.mu.Lock()
	defer one.mu.Unlock()
	value, ok := one.film.Pointed(in.Body.Seconds, in.Body.At)
	if !ok {
		return nil, huma.Error409Conflict(plain.Words(dial.ErrNoNeedle))
	}
	kpa := one.pressure(value)
	return &answer[FilmPoint]{FilmPoint{units.Pressure(max(float64(kpa), 0)).Shown(in.Body.Unit).Value}}, nil
}
