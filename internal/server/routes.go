package server

import (
	"bytes"
	"context"
	"errors"
	"io"
	"net/http"
	"strings"
	"time"

	"braxel/internal/core/say"

	"github.com/gofiber/fiber/v3"
	"golang.org/x/sync/semaphore"
)

// routes is the one way to hang a handler on the application. Whatever is hung here is behind the door and takes no more than its
// limit, unless its terms say otherwise. The router has found the route before either is asked, so how the address is written
// (in capitals, with doubled or encoded slashes) makes no difference.
type routes struct {
	router  fiber.Router
	outside *semaphore.Weighted // requests with a body that are read before anybody is let in
	beside  func(set func(name, value string))
}

// What every answer says beside itself.
const (
	seenHeader    = "Braxel-Seen"    // the time of the latest entry that was told of: what a device enters from then on comes after it
	dayHeader     = "Braxel-Day"     // the day here
	troubleHeader = "Braxel-Trouble" // why nothing can be kept
)

// terms are what a route grants.
type terms struct {
	open   bool // answers devices that aren't let in
	most   int  // bytes of a request; usualBody where 0
	stream bool // the handler reads the body itself, bit by bit
}

// Limits of what is sent. A test with all its readings is a few hundred kilobytes.
const (
	usualBody   = 8 << 20
	outsideBody = 4 << 10 // from a device that isn't let in: a passcode and a name
	outsideMost = 8       // such requests read at the same time
)

// How long Braxel waits for the next bytes of a request or of an answer under way, however long the whole takes.
const (
	nextBytes   = 20 * time.Second
	outsideWait = 5 * time.Second // for all that a device sends which isn't let in
)

func newRoutes(router fiber.Router) routes {
	return routes{router: router, outside: semaphore.NewWeighted(outsideMost)}
}

// under returns the same below a prefix.
func (r routes) under(prefix string) routes {
	r.router = r.router.Group(prefix)
	return r
}

// add hangs a handler.
func (r routes) add(method, path string, t terms, h fiber.Handler) {
	if t.most == 0 {
		t.most = usualBody
	}
	r.router.Add([]string{method}, path, func(x fiber.Ctx) error {
		w := whoOf(x.Context())
		if !w.in && !t.open {
			return fiber.NewError(http.StatusUnauthorized, say.Text("server.device-isnt-let-yet-type"))
		}
		if !w.in {
			return r.fromOutside(x, h)
		}
		if length := x.Request().Header.ContentLength(); length > t.most {
			return tooLong(t.most)
		}
		if r.beside != nil {
			defer func() { r.beside(x.Set) }()
		}
		if t.stream {
			return h(x)
		}
		body, err := io.ReadAll(io.LimitReader(bodyOf(x), int64(t.most)+1))
		if err != nil {
			return fiber.NewError(http.StatusBadRequest, say.Text("server.request-was-cut-off"))
		}
		if len(body) > t.most {
			return tooLong(t.most)
		}
		x.Request().SetBodyRaw(body)
		return h(x)
	})
}

// all hangs a handler for every method.
func (r routes) all(path string, t terms, h fiber.Handler) {
	for _, method := range fiber.DefaultMethods {
		r.add(method, path, t, h)
	}
}

func (r routes) get(path string, h fiber.Handler)  { r.add(http.MethodGet, path, terms{}, h) }
func (r routes) post(path string, h fiber.Handler) { r.add(http.MethodPost, path, terms{}, h) }

func tooLong(most int) error {
	size := say.Text("server.mb", "most", most>>20)
	if most < 1<<20 {
		size = say.Text("server.kb", "most", most>>10)
	}
	return fiber.NewError(http.StatusRequestEntityTooLarge, say.Text("server.too-large-at-most-can", "size", size))
}

// What is read of a request that is refused: whoever still sends when the connection ends never sees why.
const (
	passedIn      = 32 << 20 // of one who is in
	passedOutside = 64 << 10
)

// fromOutside answers an open route: little is read, and of few at a time.
func (r routes) fromOutside(x fiber.Ctx, h fiber.Handler) error {
	ctx, stop := context.WithTimeout(x.Context(), outsideWait)
	defer stop()
	if r.outside.Acquire(ctx, 1) != nil {
		return fiber.NewError(http.StatusServiceUnavailable, say.Text("server.too-many-devices-asking-at"))
	}
	defer r.outside.Release(1)
	_ = x.RequestCtx().Conn().SetReadDeadline(time.Now().Add(outsideWait))
	body, err := io.ReadAll(io.LimitReader(stream(x), outsideBody+1))
	if err != nil || len(body) > outsideBody {
		return tooLong(outsideBody)
	}
	x.Request().SetBodyRaw(body)
	return h(x)
}

// whole reads what is left of a request that was refused, within bounds, and throws it away. What is left beyond that is no next request:
// the connection ends.
func whole(x fiber.Ctx) error {
	err := x.Next()
	if x.Request().BodyStream() == nil || x.Request().Header.ContentLength() == 0 {
		return err
	}
	body, most := bodyOf(x), int64(passedIn)
	if !whoOf(x.Context()).in {
		_ = x.RequestCtx().Conn().SetReadDeadline(time.Now().Add(outsideWait))
		body, most = stream(x), passedOutside
	}
	if n, left := io.CopyN(io.Discard, body, most); n == most || !errors.Is(left, io.EOF) {
		x.Response().Header.SetConnectionClose()
	}
	return err
}

// stream returns what is left of a request's body.
func stream(x fiber.Ctx) io.Reader {
	if s := x.Request().BodyStream(); s != nil {
		return s
	}
	return bytes.NewReader(x.Request().Body())
}

// bodyOf returns a request's body as it comes: as long as bytes come, it is waited for.
func bodyOf(x fiber.Ctx) io.Reader { return &patient{x, stream(x)} }

type patient struct {
	x    fiber.Ctx
	from io.Reader
}

func (p *patient) Read(b []byte) (int, error) {
	_ = p.x.RequestCtx().Conn().SetReadDeadline(time.Now().Add(nextBytes))
	return p.from.Read(b)
}

// form reads a form that was handed in, part by part: fields as text, its one file to take, which reads as much of it as it wants.
func form(x fiber.Ctx, take func(name string, file io.Reader) error) (fields map[string]string, err error) {
	parts, err := multipartOf(x)
	if err != nil {
		return nil, fiber.NewError(http.StatusUnprocessableEntity, say.Text("server.file-pick-file"))
	}
	fields = map[string]string{}
	for {
		part, err := parts.NextPart()
		if errors.Is(err, io.EOF) {
			return fields, nil
		}
		if err != nil {
			return nil, fiber.NewError(http.StatusBadRequest, say.Text("server.file-didnt-arrive-whole-try"))
		}
		if part.FileName() != "" {
			if err := take(strings.Clone(part.FileName()), part); err != nil {
				return nil, err
			}
			continue
		}
		text, err := io.ReadAll(io.LimitReader(part, usualBody))
		if err != nil {
			return nil, fiber.NewError(http.StatusBadRequest, say.Text("server.form-didnt-arrive-whole-try"))
		}
		fields[part.FormName()] = string(text)
	}
}
