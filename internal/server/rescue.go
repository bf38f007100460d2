package server

import (
	"bytes"
	"html/template"
	"net/http"

	"braxel/internal/core/say"

	"github.com/gofiber/fiber/v3"
)

// Rescue is what stands where Braxel would, when its data file cannot be opened: it says why, and offers the newest good copy. It
// answers this machine alone.
type Rescue struct {
	Why     string
	Failed  string // why the copy could not be put back that was tried last
	Copy    string // the newest good copy, "" where there is none
	Made    string // when it was made
	Hosts   []string
	Restore func() // ends the server and has the copy put back
}

// The texts of the page are said from the catalogue, as everywhere.
var rescuePage = template.Must(template.New("").Funcs(template.FuncMap{"says": say.Text}).Parse(`<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1"><title>{{says "server.rescue-title"}}</title>
<main><h1>{{says "server.rescue-title"}}</h1><p>{{.Why}}</p>
{{if .Failed}}<p>{{says "server.rescue-failed" "why" .Failed}}</p>{{end}}
{{if .Copy}}<p>{{says "server.rescue-newest" "made" .Made}}<br>{{.Copy}}</p>
<form method="post" action="/rescue"><button>{{says "server.rescue-restore"}}</button></form>
<p>{{says "server.rescue-kept-aside"}}</p>
{{else}}<p>{{says "server.rescue-none"}} <code>braxel restore FILE</code></p>{{end}}
</main></html>`))

// New returns the application, ready to listen.
func (r Rescue) New() *fiber.App {
	app := fiber.New(fiber.Config{AppName: "Braxel", ErrorHandler: problem})
	app.Use(guard(r.Hosts))
	app.Use(func(x fiber.Ctx) error {
		if !(&Door{}).isLocal(x) {
			return fiber.NewError(http.StatusServiceUnavailable, say.Text("server.braxel-cant-open-data-look"))
		}
		return x.Next()
	})
	app.Post("/rescue", func(x fiber.Ctx) error {
		if r.Copy == "" {
			return fiber.NewError(http.StatusConflict, say.Text("server.there-no-good-backup-restore"))
		}
		r.Restore()
		x.Set("Content-Type", "text/html; charset=utf-8")
		return x.SendString(`<!doctype html><meta http-equiv="refresh" content="2; url=/"><title>Braxel</title><p>` + say.Text("server.rescue-under-way") + `</p>`)
	})
	app.All("/api/*", func(fiber.Ctx) error {
		return fiber.NewError(http.StatusServiceUnavailable, say.Text("server.braxel-cant-open-data-open"))
	})
	app.Get("/*", func(x fiber.Ctx) error {
		var page bytes.Buffer
		if err := rescuePage.Execute(&page, r); err != nil {
			return err
		}
		x.Set("Content-Type", "text/html; charset=utf-8")
		x.Set("Cache-Control", "no-store")
		return x.Status(http.StatusServiceUnavailable).Send(page.Bytes())
	})
	return app
}
