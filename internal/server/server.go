// Package server offers the store and the core to the browser: routes, the shapes of requests and answers, static
// files. It does no sums and no SQL.
package server

import (
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"net/url"
	"reflect"
	"slices"
	"strings"
	"sync/atomic"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-json-experiment/json"
	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/recover"

	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/gauges"
	"braxel/internal/store"
)

// Config is what a server is given.
type Config struct {
	Store *store.Store
	Files fs.FS            // the built front end
	Hosts []string         // names, beside localhost and bare addresses, by which it may be called
	Shop  string           // the workshop's name
	Now   func() time.Time // the clock that dates a new test

	Door   *Door           // where devices of the network are let in; nil where only this machine can reach it
	Ways   func() []string // the addresses by which they reach it
	Secure bool            // by https

	Gauges *gauges.Room // where electronic gauges are heard; an empty one where nil

	Practice  *store.Store  // of the engines that are practised on; nil where nobody practises
	practises bool          // this is that part
	asking    *atomic.Int64 // how many requests are being answered

	Copies  bool              // a copy a day is made
	Failed  string            // why a copy could not be put back, when that was tried last
	Restart func(from string) // ends the server, has that copy put back, and starts it again; nil where nobody would
}

// New returns the application, ready to listen.
func New(c Config) (*fiber.App, error) {
	app := fiber.New(fiber.Config{
		AppName: "Braxel",
		// A body is read by its route, when it is known who sends it and how long it may be: none waits in memory before.
		StreamRequestBody:            true,
		DisablePreParseMultipartForm: true,
		BodyLimit:                    mostImported,
		ReadTimeout:                  30 * time.Second,
		WriteTimeout:                 60 * time.Second,
		IdleTimeout:                  120 * time.Second,
		ErrorHandler:                 problem,
	})
	app.Use(recover.New(recover.Config{EnableStackTrace: true, StackTraceHandler: func(x fiber.Ctx, e any) {
		slog.Error("panic", "path", x.Path(), "what", e)
	}}))
	var asking atomic.Int64
	app.Use(func(x fiber.Ctx) error {
		asking.Add(1)
		defer asking.Add(-1)
		return x.Next()
	})
	c.asking = &asking
	app.Use(whole)
	app.Use(c.Door.tell)
	app.Use(guard(c.Hosts))
	app.Use(withChoice)
	r := newRoutes(app)
	register(r, app.Hooks(), c)
	r.all("/api/*", terms{}, nothingHere)
	if c.Practice != nil {
		// The same program on engines of its own: nothing of practice meets the workshop.
		register(r.under("/practice"), app.Hooks(), Config{
			Store: c.Practice, Shop: "Practice", Now: time.Now, Door: c.Door, Ways: c.Ways, Secure: c.Secure, practises: true, asking: &asking,
		})
		r.all("/practice/api/*", terms{}, nothingHere)
	}
	files, err := newFiles(c.Files)
	if err != nil {
		return nil, err
	}
	// The pages hold nothing of the shop: they show where to type the passcode.
	r.add(http.MethodGet, "/*", terms{open: true}, files.serve)
	r.all("/*", terms{}, nothingHere)
	return app, nil
}

// nothingHere answers for what no route takes: 405 where another method would be taken, else 404.
func nothingHere(x fiber.Ctx) error {
	var allowed []string
	for _, r := range x.App().GetRoutes(true) {
		if !strings.HasSuffix(r.Path, "/*") && r.Method != http.MethodHead && fiber.RoutePatternMatch(x.Path(), r.Path) {
			allowed = append(allowed, r.Method)
		}
	}
	if len(allowed) == 0 {
		return fiber.NewError(http.StatusNotFound, say.Text("server.there-nothing-at-address-2"))
	}
	x.Set("Allow", strings.Join(allowed, ", "))
	return fiber.NewError(http.StatusMethodNotAllowed, say.Text("server.address-doesnt-take", "method", x.Method()))
}

// goJSON reads and writes JSON strictly: no key twice, no letter case forgiven, no number that none can hold.
var goJSON = huma.Format{
	Marshal:   func(w io.Writer, v any) error { return json.MarshalWrite(w, v) },
	Unmarshal: func(text []byte, v any) error { return json.Unmarshal(text, v) },
}

// register makes the API on app and returns it.
func register(app routes, hooks *fiber.Hooks, c Config) huma.API {
	huma.DefaultArrayNullable = false
	huma.NewErrorWithContext = describe
	huma.ValidateStrictCasing = true
	config := huma.DefaultConfig("Braxel", "1")
	config.OpenAPIPath = "/api/openapi"
	config.Formats = map[string]huma.Format{"application/json": goJSON, "json": goJSON}
	config.DocsPath, config.SchemasPath, config.CreateHooks = "", "", nil
	config.OnAddOperation = append(config.OnAddOperation, summarized)
	config.Components.Schemas = huma.NewMapRegistry("#/components/schemas/", schemaName)
	config.Components.Schemas.RegisterTypeAlias(reflect.TypeFor[units.Unit](), reflect.TypeFor[pressureUnit]())
	if c.Store != nil {
		app.beside = c.beside
	}
	api := huma.NewAPI(config, adapter{app})
	h := &handlers{
		reels: &reels{},
		store: c.Store, now: c.Now, shop: c.Shop,
		hub: newHub(), pool: &pool{store: c.Store}, judged: newMemories(), anew: newBehind(c.asking), weighing: newBehind(c.asking),
		gauges: c.Gauges, door: c.Door, ways: c.Ways, secure: c.Secure, restart: c.Restart,
		copying: &copying{store: c.Store, stop: make(chan struct{})}, restored: c.Failed,
	}
	if h.gauges == nil {
		h.gauges = gauges.New()
	}
	h.gauges.OnChange(h.hub.tellGauges)
	h.practice = newPractising(c, h.gauges)
	if c.Copies {
		h.copying.begin(c.Now)
	}
	h.rackRoutes(api)
	h.engineRoutes(api)
	h.sheetRoutes(api)
	h.sumRoutes(api)
	h.workshopRoutes(api)
	h.seatRoutes(api)
	h.doorRoutes(api)
	h.compareRoutes(api)
	h.traceRoutes(app, api)
	h.dialRoutes(app, api)
	h.gaugeRoutes(app, api)
	h.practiceRoutes(app, api)
	h.entryRoute(app, api)
	h.rulebookRoutes(api)
	if !c.practises {
		// What leads out of the shop or into it, practice has none of: a copy of it would tell what is hidden, a sync would bring its
		// engines to the rack.
		h.deviceRoutes(api)
		h.paperRoutes(api)
		h.diaryRoutes(app, api)
		h.seasonRoutes(app, api)
		h.ruleRoutes(api)
		h.syncRoutes(api)
		h.inoutRoutes(app, api)
		h.copyRoutes(app, api)
	}
	h.photoRoutes(app)
	app.get("/api/changes", h.stream)
	if c.Store != nil {
		go h.watch()
	}
	hooks.OnPreShutdown(h.hub.close)
	hooks.OnPreShutdown(h.anew.close)
	hooks.OnPreShutdown(h.weighing.close)
	hooks.OnPreShutdown(h.practice.close)
	hooks.OnPreShutdown(func() error { close(h.copying.stop); return nil })
	return api
}

// beside says with each answer what time it is here, and whether anything can be kept.
func (c Config) beside(set func(name, value string)) {
	set(seenHeader, c.Store.Latest())
	set(dayHeader, c.Now().Format(time.DateOnly))
	if c.Store.Gone() != "" {
		set(troubleHeader, store.Trouble(store.ErrGone))
	}
}

// schemaName tells the judge's sessions, cylinders and faults from the log's, and what is of paper, of a comparison or of hindsight
// from either.
func schemaName(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	if t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	if strings.HasSuffix(t.PkgPath(), "/judge") && slices.Contains([]string{"Session", "Cylinder", "Fault"}, name) {
		return "Judged" + name
	}
	for _, of := range []string{"Paper", "Compare", "Hindsight", "Strips", "Practice", "Season", "Ahead"} {
		if strings.HasSuffix(t.PkgPath(), "/"+strings.ToLower(of)) {
			return of + strings.TrimPrefix(name, of)
		}
	}
	return name
}

// OpenAPI returns the API's description as JSON, made from the Go types.
func OpenAPI() ([]byte, error) {
	app := fiber.New()
	return register(newRoutes(app), app.Hooks(), Config{}).OpenAPI().MarshalJSON()
}

const policy = "default-src 'self'; img-src 'self' blob: data:; media-src 'self' blob:; style-src 'self'; script-src 'self'; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"

// guard refuses requests that a foreign page may have made: a Host that is no address of this machine and no name it
// was told (DNS rebinding), an Origin other than our own.
func guard(hosts []string) fiber.Handler {
	return func(x fiber.Ctx) error {
		x.Set("Content-Security-Policy", policy)
		x.Set("X-Content-Type-Options", "nosniff")
		x.Set("Referrer-Policy", "same-origin")
		if x.Get("Content-Encoding") != "" {
			// A little that unpacks to a lot would be unpacked before its size is known.
			return fiber.NewError(http.StatusUnsupportedMediaType, say.Text("server.compressed-requests-arent-accepted"))
		}
		host := x.Host()
		if !ours(host, hosts) {
			return fiber.NewError(
				http.StatusForbidden,
				say.Text("server.braxel-doesnt-answer-name-start", "host", host),
			)
		}
		if origin := x.Get("Origin"); origin != "" {
			from, err := url.Parse(origin)
			if err != nil || from.Host != host {
				return fiber.NewError(http.StatusForbidden, say.Text("server.requests-from-other-sites-refused"))
			}
		}
		return x.Next()
	}
}

func ours(host string, names []string) bool {
	name := host
	if h, _, err := net.SplitHostPort(host); err == nil {
		name = h
	}
	name = strings.Trim(name, "[]")
	if name == "localhost" || net.ParseIP(name) != nil {
		return true
	}
	for _, n := range names {
		if strings.EqualFold(name, n) {
			return true
		}
	}
	return false
}

// summarized says in a line what an operation is for.
func summarized(_ *huma.OpenAPI, op *huma.Operation) {
	if op.Summary == "" {
		op.Summary = say.Text("server.op-" + op.OperationID)
	}
}

// mostDetails is how many faults of a request are named.
const mostDetails = 50

// checkFailed is what the checker of requests says of one as a whole.
const checkFailed = "validation failed"

// describe makes problem+json of an error; what went wrong inside is logged, not shown, and what was sent is not sent back.
func describe(_ huma.Context, status int, message string, errs ...error) huma.StatusError {
	if status >= http.StatusInternalServerError {
		slog.Error(say.Text("server.request-failed"), "what", message, "errors", errors.Join(errs...))
		if said := store.Trouble(errors.Join(errs...)); said != "" {
			return huma.NewError(http.StatusServiceUnavailable, said)
		}
		message, errs = say.Text("server.something-went-wrong-braxel-what"), nil
	}
	if status == http.StatusUnprocessableEntity && message == checkFailed {
		message = say.Text("server.some-fields-are-wrong")
	}
	errs = errs[:min(len(errs), mostDetails)]
	for i, err := range errs {
		var detail *huma.ErrorDetail
		if errors.As(err, &detail) {
			said := &huma.ErrorDetail{Message: detail.Message, Location: fmt.Sprintf("%.200s", detail.Location)}
			if bounds, ok := detail.Value.(Bounds); ok {
				said.Value = bounds
			}
			errs[i] = said
		}
	}
	return huma.NewError(status, message, errs...)
}

// problem answers, as problem+json, for what huma never sees: unknown paths, oversized bodies, refused hosts.
func problem(x fiber.Ctx, err error) error {
	status, message := http.StatusInternalServerError, say.Text("server.something-went-wrong-braxel-what")
	var known *fiber.Error
	if errors.As(err, &known) {
		status, message = known.Code, known.Message
	} else {
		slog.Error(say.Text("server.request-failed"), "path", x.Path(), "error", err)
		if said := store.Trouble(err); said != "" {
			status, message = http.StatusServiceUnavailable, said
		}
	}
	return x.Status(status).
		JSON(huma.ErrorModel{Status: status, Title: http.StatusText(status), Detail: message}, "application/problem+json")
}

// pressureUnit describes a unit of pressure: one of those that there are.
type pressureUnit string

// Schema is what huma asks of a type that describes itself.
func (pressureUnit) Schema(huma.Registry) *huma.Schema {
	one := &huma.Schema{Type: "string"}
	for _, u := range units.Names() {
		one.Enum = append(one.Enum, u)
	}
	return one
}
