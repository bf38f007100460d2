package server

import (
	"bytes"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"regexp"
	"strings"

	"braxel/internal/core/say"

	"github.com/gofiber/fiber/v3"
)

// files serves the built front end from memory. What the build compressed is sent so; hashed assets are kept by the
// browser for ever, everything else is asked for each time.
type files struct {
	plain, zipped map[string][]byte
}

func newFiles(from fs.FS) (*files, error) {
	f := &files{map[string][]byte{}, map[string][]byte{}}
	err := fs.WalkDir(from, ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		body, err := fs.ReadFile(from, name)
		if err != nil {
			return err
		}
		if bare, ok := strings.CutSuffix(name, ".gz"); ok {
			f.zipped[bare] = body
		} else {
			f.plain[name] = body
		}
		return nil
	})
	return f, err
}

var notBuilt = []byte("<!doctype html><title>Braxel</title><p>The front end has not been built: run make build.</p>")

// aside finds addresses that mean the API, however they are written: no page is there.
var aside = regexp.MustCompile(`(?i)^/*(practice/+)?(api|calendar)(/|$)`)

// serve answers with a file, or with index.html for the paths that the front end routes itself.
func (f *files) serve(x fiber.Ctx) error {
	if aside.MatchString(path.Clean("/"+unescape(x.Path()))) || aside.MatchString(x.Path()) {
		if !whoOf(x.Context()).in {
			return fiber.NewError(http.StatusUnauthorized, say.Text("server.device-isnt-let-yet-type"))
		}
		return nothingHere(x)
	}
	name := strings.Clone(strings.TrimPrefix(path.Clean(x.Path()), "/"))
	body, ok := f.plain[name]
	if !ok {
		if path.Ext(name) != "" {
			return fiber.NewError(http.StatusNotFound, say.Text("server.there-nothing-at-address"))
		}
		name = "index.html"
		if body, ok = f.plain[name]; !ok {
			body = notBuilt
		}
	}
	x.Set("Content-Type", contentType(name))
	x.Set("Vary", "Accept-Encoding")
	if strings.HasPrefix(name, "assets/") {
		x.Set("Cache-Control", "public, max-age=31536000, immutable")
	} else {
		x.Set("Cache-Control", "no-cache")
	}
	if zipped, ok := f.zipped[name]; ok && bytes.Contains(x.Request().Header.Peek("Accept-Encoding"), []byte("gzip")) {
		x.Set("Content-Encoding", "gzip")
		body = zipped
	}
	return x.Send(body)
}

func contentType(name string) string {
	if path.Ext(name) == ".webmanifest" {
		return "application/manifest+json"
	}
	if t := mime.TypeByExtension(path.Ext(name)); t != "" {
		return t
	}
	return "application/octet-stream"
}
