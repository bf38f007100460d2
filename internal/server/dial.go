package server

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"image"
	"io"
	"net/http"
	"reflect"
	"strconv"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-json-experiment/json"
	"github.com/gofiber/fiber/v3"

	"braxel/internal/core/dial"
	"braxel/internal/core/reading"
	"braxel/internal/core/say"
	"braxel/internal/core/trace"
	"braxel/internal/core/units"
	"braxel/internal/films"
	"braxel/internal/gauges"
	"braxel/internal/plain"
)

// What the filming of dials may take: each film holds some 25 kB a picture.
const (
	mostReels    = 2
	mostPictures = 400             // sent at once
	mostDots     = 1_500_000       // of a picture: what a browser sends has a sixth
	reelFor      = 2 * time.Minute // without a picture, after which a film is forgotten
	liveFor      = 15 * time.Second
)

// reels are the films that are sent, picture by picture.
type reels struct {
	mu  sync.Mutex
	all map[string]*reel
}

// reel is one of them.
type reel struct {
	mu   sync.Mutex
	film *dial.Film
	unit units.Unit     // of the marks
	live bool           // it is looked at while it is filmed
	room io.WriteCloser // the gauge room's end, of one that the room hears
	said int            // how many pictures were
	stay time.Duration  // for as long after a picture
	over *time.Timer    // forgets it

	gauge string      // whose dial it is
	face  *markedFace // as it was marked by hand, to be kept once the needle was read
}

// FilmBegun is a film that is begun, or why it can't be.
type FilmBegun struct {
	ID      string `json:"id,omitzero"`
	Refused string `json:"refused,omitzero"`
}

// FilmSight is what the needle showed in a picture.
type FilmSight struct {
	Seconds float64    `json:"t"`
	Value   float64    `json:"value" doc:"In the unit of the marks"`
	Sure    float64    `json:"sure" minimum:"0" maximum:"1"`
	From    [2]float64 `json:"from" doc:"Where the needle's axis is in the picture"`
	To      [2]float64 `json:"to" doc:"Where it points"`
}

// FilmSeen is what was seen in the pictures that were sent.
type FilmSeen struct {
	Pictures int         `json:"pictures" doc:"So far"`
	Refused  string      `json:"refused,omitzero"`
	Sights   []FilmSight `json:"sights,omitempty" doc:"Of a live camera"`
	Unit     units.Unit  `json:"unit" doc:"Of what was seen"`
	CameraSD float64     `json:"camera_sd,omitzero" doc:"The standard deviation of a reading, in that unit"`
}

// FilmFound is what a film comes to.
type FilmFound struct {
	TraceRead
	Kind     dial.Kind   `json:"kind,omitzero" enum:"still,valve,bare,leak-down"`
	Value    *float64    `json:"value,omitempty" doc:"The reading, in the unit that was asked for"`
	CameraSD float64     `json:"camera_sd,omitzero" doc:"Its standard deviation"`
	Top      float64     `json:"top" doc:"The time of the picture to keep, in seconds"`
	Sights   []FilmSight `json:"sights,omitempty"`
	Hides    string      `json:"hides,omitzero" doc:"What the gauge's own movement hides"`
	Slower   float64     `json:"slower" doc:"How many times slower the film shows it than it was"`
	Slowed   string      `json:"slowed,omitzero" doc:"Why it is taken to be so slow"`
}

func (h *handlers) dialRoutes(app routes, api huma.API) {
	formRoute(app, api, "begin-film", "/api/dial", h.beginFilm, reflect.TypeFor[FilmBegun](), "marks", "live", "gauge")
	formRoute(app, api, "find-face", "/api/dial/face", h.findFace, reflect.TypeFor[FilmFace](), "gauge", "tap")
	formRoute(app, api, "film-pictures", "/api/dial/pictures", h.filmPictures, reflect.TypeFor[FilmSeen](), "id", "times", "unit")
	huma.Register(api, huma.Operation{OperationID: "read-film", Method: http.MethodPost, Path: "/api/dial/read"}, h.readFilm)
	huma.Register(api, huma.Operation{OperationID: "film-point", Method: http.MethodPost, Path: "/api/dial/point"}, h.filmPoint)
	huma.Register(api, huma.Operation{
		OperationID: "end-film", Method: http.MethodPost, Path: "/api/dial/end", DefaultStatus: http.StatusNoContent,
	}, h.endFilm)
}

// beginFilm takes the first picture, with its marks.
func (h *handlers) beginFilm(x fiber.Ctx) error {
	in, done, err := h.readForm(x)
	if err != nil {
		return err
	}
	defer done()
	var m dial.Marks
	if json.Unmarshal([]byte(in.fields["marks"]), &m) != nil || !units.Unit(m.Unit).Valid() {
		return fiber.NewError(http.StatusUnprocessableEntity, say.Text("server.cant-read", "field", "marks"))
	}
	text, first, err := firstOf(in)
	if err != nil {
		return sendJSON(x, FilmBegun{Refused: plain.Words(err)})
	}
	film, err := dial.Begin(first, m)
	if err != nil {
		return sendJSON(x, FilmBegun{Refused: plain.Words(err)})
	}
	one := &reel{film: film, unit: units.Unit(m.Unit), stay: reelFor}
	if gauge, named := in.fields["gauge"]; named && len(gauge) <= mostGauge && len(text) <= mostFace {
		one.gauge, one.face = gauge, &markedFace{m, text}
	}
	id := rand.Text()
	kind := in.fields["live"]
	if one.live = kind != ""; one.live {
		one.stay, film.Rolling = liveFor, true
	}
	if kind == string(dial.Valve) || kind == string(dial.Bare) {
		one.room = h.listenTo(kind)
	}
	if !h.reels.put(id, one) {
		one.hush()
		return sendJSON(x, FilmBegun{Refused: say.Text("server.two-films-at-once")})
	}
	return sendJSON(x, FilmBegun{ID: id})
}

// firstOf returns the first picture of what was sent, as it came and as it is read.
func firstOf(in handed) (text []byte, first *image.Gray, err error) {
	if text, err = films.Of(io.NewSectionReader(in.file, 0, in.size)).Next(); err != nil {
		return nil, nil, err
	}
	first, err = films.Gray(text, mostDots)
	return text, first, err
}

// put keeps a film, until nobody has sent to it for a while; false where there are as many as may be.
func (r *reels) put(id string, one *reel) bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	if len(r.all) >= mostReels {
		return false
	}
	if r.all == nil {
		r.all = map[string]*reel{}
	}
	r.all[id] = one
	one.over = time.AfterFunc(one.stay, func() { r.end(id) })
	return true
}

// of returns a film that is being sent.
func (r *reels) of(id string) (*reel, error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	one, ok := r.all[id]
	if !ok {
		return nil, huma.Error404NotFound(say.Text("server.film-no-longer-there"))
	}
	one.over.Reset(one.stay)
	return one, nil
}

func (r *reels) end(id string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	one, ok := r.all[id]
	if !ok {
		return
	}
	one.over.Stop()
	one.hush()
	delete(r.all, id)
}

// hush tells the gauge room that the camera is gone.
func (r *reel) hush() {
	if r.room != nil {
		_ = r.room.Close()
	}
}

// cameraName is what a live camera is called among the gauges.
const cameraName = "camera"

// listenTo makes the camera a gauge that the room hears, like any other.
func (h *handlers) listenTo(kind string) io.WriteCloser {
	out, in := io.Pipe()
	go func() { _ = h.gauges.Listen(speaking{out}, cameraName, gauges.Lead{Chosen: true}) }()
	go func() { // a pipe takes nothing until somebody reads
		_, _ = fmt.Fprintf(in, "# braxel-gauge 1\n# name: %s\n# kind: %s\nt_ms,kPa\n", cameraName, kind)
	}()
	return in
}

// speaking is a lead by which nothing can be told to the other end.
type speaking struct{ *io.PipeReader }

func (speaking) Write(b []byte) (int, error) { return len(b), nil }

// filmPictures takes some pictures more, and says what was seen in them where it is looked at live.
func (h *handlers) filmPictures(x fiber.Ctx) error {
	in, done, err := h.readForm(x)
	if err != nil {
		return err
	}
	defer done()
	one, err := h.reels.of(in.fields["id"])
	if err != nil {
		return refuseFiber(err)
	}
	var times []float64
	if json.Unmarshal([]byte(in.fields["times"]), &times) != nil || len(times) == 0 || len(times) > mostPictures {
		return fiber.NewError(http.StatusUnprocessableEntity, say.Text("server.cant-read", "field", "times"))
	}
	one.mu.Lock()
	defer one.mu.Unlock()
	out := FilmSeen{Unit: units.Unit(in.fields["unit"])}
	if !out.Unit.Valid() {
		out.Unit = one.unit
	}
	pictures := films.Of(io.NewSectionReader(in.file, 0, in.size))
	for _, t := range times {
		if err = one.add(pictures, t); err != nil {
			out.Refused = plain.Words(err)
			break
		}
	}
	out.Pictures = one.film.Pictures()
	if one.live {
		out.Sights = one.glance(out.Unit)
		if len(out.Sights) > 0 {
			out.CameraSD = one.sd(out.Unit)
			h.remember(one)
		}
	}
	return sendJSON(x, out)
}

// add takes the next picture; one that is broken is left out.
func (r *reel) add(pictures *films.Reel, seconds float64) error {
	text, err := pictures.Next()
	if err != nil {
		return err
	}
	g, err := films.Gray(text, mostDots)
	if errors.Is(err, films.ErrPicture) {
		return nil
	}
	if err != nil {
		return err
	}
	return r.film.Add(seconds, g)
}

// glance says what was seen in the pictures that came, to whoever looks and to the gauge room.
func (r *reel) glance(u units.Unit) []FilmSight {
	sights, err := r.film.Glance(r.said)
	if err != nil {
		return nil
	}
	if len(sights) > 0 || r.film.Pictures() > r.said+60 {
		r.said = r.film.Pictures()
	}
	for i, s := range sights {
		kpa := r.pressure(s.Value)
		sights[i].Value = kpa.In(u)
		if r.room != nil && s.Sure >= dial.Believed {
			_, _ = fmt.Fprintf(r.room, "%d,%.2f\n", int(1000*s.Seconds), float64(kpa))
		}
	}
	return sightsOf(sights)
}

// pressure returns what a figure of the dial is.
func (r *reel) pressure(v float64) units.Pressure {
	return units.Reading{Value: v, Unit: r.unit}.Pressure()
}

// sd returns what a figure may be off by, in a unit. The reel is locked.
func (r *reel) sd(u units.Unit) float64 {
	return round3(r.pressure(r.film.Doubt()).In(u))
}

func sightsOf(all []dial.Sight) []FilmSight {
	out := make([]FilmSight, 0, len(all))
	for _, s := range all {
		out = append(out, FilmSight{s.Seconds, s.Value, s.Sure, s.From, s.To})
	}
	return out
}

// filmIn is which film is read, and of what it is.
type filmIn struct {
	Body struct {
		ID     string     `json:"id" maxLength:"60"`
		Engine string     `json:"engine" maxLength:"120"`
		Number int        `json:"number" minimum:"1" maximum:"64" doc:"The cylinder or rotor"`
		Unit   units.Unit `json:"unit"`
		Kind   dial.Kind  `json:"kind,omitzero" enum:"valve,bare,leak-down" doc:"Found from the film if left out"`
		Slower float64    `json:"slower,omitzero" minimum:"0" maximum:"100" doc:"How many times slower the film shows it than it was; found from the speed of cranking if left out"`
		Name   string     `json:"name,omitzero" maxLength:"200" doc:"What the film is called"`
	}
}

// readFilm says what the film comes to. It stays until it is ended, so that it can be read again as of another gauge.
func (h *handlers) readFilm(ctx context.Context, in *filmIn) (*answer[FilmFound], error) {
	l, _, err := h.store.Log(ctx, in.Body.Engine)
	if err != nil {
		return nil, refuse(err)
	}
	if !l.Engine.Has(l.Engine.Place(in.Body.Number)) || !in.Body.Unit.Valid() {
		return nil, huma.Error422UnprocessableEntity(say.Text("server.number-engine-has-no-such", "noun", l.Engine.Nouns(1)))
	}
	one, err := h.reels.of(in.Body.ID)
	if err != nil {
		return nil, err
	}
	one.mu.Lock()
	defer one.mu.Unlock()
	known := knownOf(l.Engine, in.Body.Number, trace.Pressure)
	known.File, known.Unit = in.Body.Name, in.Body.Unit
	rpm, own := reading.Cranked(l)
	found, slower, err := one.film.Slowed(known, in.Body.Kind, in.Body.Slower, rpm, own)
	if err != nil {
		return &answer[FilmFound]{FilmFound{TraceRead: TraceRead{Refused: plain.Words(err)}}}, nil
	}
	h.remember(one)
	out := FilmFound{Kind: found.Kind, Top: found.Top, Sights: sightsOf(found.Sights), Slower: slower}
	if in.Body.Slower == 0 && slower > 1 {
		out.Slowed = say.Text("server.film-taken-as-slower", "times", slower, "rpm", *found.RPM, "asFilmed", *found.RPM/slower)
	}
	out.CameraSD = one.sd(in.Body.Unit)
	value := found.Held
	if found.Hidden {
		out.Hides = say.Text("server.needle-hidden-at-top")
	} else if value == nil {
		value = found.Peak
		out.Hides = say.Text("server.needle-hides-tops")
	} else {
		out.Top = found.Rest
	}
	if value != nil {
		v := units.Pressure(max(float64(one.pressure(*value)), 0)).Shown(in.Body.Unit).Value
		out.Value = &v
	}
	if found.Answer.Readable {
		if out.Trace, out.Points, err = keptOf(found.Curve, found.Answer); err != nil {
			return nil, err
		}
		a := found.Answer
		if found.Held != nil { // what it came to rest at, not its highest swing
			kpa := float64(one.pressure(*found.Held))
			a.PeakKPa = &kpa
		}
		out.Pulls = pullsOf(a, l.Engine.Place(in.Body.Number), in.Body.Unit)
		for i := range out.Pulls {
			out.Pulls[i].CameraSD = out.CameraSD
		}
	}
	return &answer[FilmFound]{out}, nil
}

// cameraSD returns what a figure of the camera that is looked at live may be off by, in a unit; 0 where none is.
func (r *reels) cameraSD(u units.Unit) float64 {
	r.mu.Lock()
	defer r.mu.Unlock()
	for _, one := range r.all {
		if one.room != nil {
			one.mu.Lock()
			defer one.mu.Unlock()
			return one.sd(u)
		}
	}
	return 0
}

// endFilm forgets a film.
func (h *handlers) endFilm(_ context.Context, in *struct {
	Body struct {
		ID string `json:"id" maxLength:"60"`
	}
}) (*struct{}, error) {
	h.reels.end(in.Body.ID)
	return nil, nil
}

// refuseFiber puts a refusal of the API into one of the router.
func refuseFiber(err error) error {
	var status huma.StatusError
	if errors.As(err, &status) {
		return fiber.NewError(status.GetStatus(), status.Error())
	}
	return err
}

func round3(v float64) float64 {
	out, _ := strconv.ParseFloat(strconv.FormatFloat(v, 'g', 3, 64), 64)
	return out
}
