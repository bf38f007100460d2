package server

import (
	"bytes"
	"context"
	"crypto/tls"
	"io"
	"mime/multipart"
	"net/http"
	"net/url"
	"strings"
	"time"

	"braxel/internal/plain"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gofiber/fiber/v3"
)

// adapter binds huma to Fiber 3; huma's own adapter knows Fiber 2 only. Strings are cloned where they may outlive the
// request, since Fiber uses its buffers again.
type adapter struct{ routes routes }

func (a adapter) Handle(op *huma.Operation, handler func(huma.Context)) {
	path := strings.NewReplacer("{", ":", "}", "").Replace(op.Path)
	t := terms{most: int(op.MaxBodyBytes)}
	_, t.open = op.Metadata[openKey]
	a.routes.add(op.Method, path, t, func(c fiber.Ctx) error {
		handler(&call{op: op, c: c})
		return nil
	})
}

// openKey marks an operation that answers devices that aren't let in.
const openKey = "open"

// ServeHTTP is what huma's test helper would call; the real server never does.
func (a adapter) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	app, ok := a.routes.router.(*fiber.App)
	if !ok {
		http.NotFound(w, r)
		return
	}
	answer, err := app.Test(r)
	if err != nil {
		http.Error(w, plain.Words(err), http.StatusInternalServerError)
		return
	}
	defer func() { _ = answer.Body.Close() }()
	for name, values := range answer.Header {
		w.Header()[name] = values
	}
	w.WriteHeader(answer.StatusCode)
	_, _ = io.Copy(w, answer.Body)
}

// call is one request as huma sees it.
type call struct {
	op     *huma.Operation
	c      fiber.Ctx
	status int
}

var _ huma.Context = (*call)(nil)

func (x *call) Operation() *huma.Operation      { return x.op }
func (x *call) Matched() string                 { return x.c.Route().Path }
func (x *call) Context() context.Context        { return x.c.Context() }
func (x *call) Method() string                  { return x.c.Method() }
func (x *call) Host() string                    { return x.c.Host() }
func (x *call) RemoteAddr() string              { return x.c.IP() }
func (x *call) Param(name string) string        { return strings.Clone(unescape(x.c.Params(name))) }
func (x *call) Query(name string) string        { return strings.Clone(x.c.Query(name)) }
func (x *call) Header(name string) string       { return strings.Clone(x.c.Get(name)) }
func (x *call) BodyReader() io.Reader           { return bytes.NewReader(x.c.Request().Body()) }
func (x *call) SetReadDeadline(time.Time) error { return nil } // the server's own time limits hold
func (x *call) Status() int                     { return x.status }
func (x *call) AppendHeader(name, value string) { x.c.Append(name, value) }
func (x *call) SetHeader(name, value string)    { x.c.Set(name, value) }
func (x *call) BodyWriter() io.Writer           { return x.c.Response().BodyWriter() }
func (x *call) TLS() *tls.ConnectionState       { return nil }
func (x *call) Version() huma.ProtoVersion      { return huma.ProtoVersion{Proto: "HTTP/1.1"} }

func (x *call) GetMultipartForm() (*multipart.Form, error) { return x.c.MultipartForm() }

func (x *call) URL() url.URL {
	u, err := url.Parse(strings.Clone(x.c.OriginalURL()))
	if err != nil {
		return url.URL{}
	}
	return *u
}

func (x *call) EachHeader(visit func(name, value string)) {
	for name, value := range x.c.Request().Header.All() {
		visit(string(name), string(value))
	}
}

func (x *call) SetStatus(code int) {
	x.status = code
	x.c.Status(code)
}

func unescape(s string) string {
	plain, err := url.PathUnescape(s)
	if err != nil {
		return s
	}
	return plain
}
