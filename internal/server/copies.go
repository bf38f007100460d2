package server

import (
	"cmp"
	"context"
	"fmt"
	"log/slog"
	"net/http"
	"path/filepath"
	"slices"
	"sync/atomic"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gofiber/fiber/v3"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/plain"
	"braxel/internal/store"
)

// CopiesPage is where the data is, and what copies of it there are.
type CopiesPage struct {
	Data    string       `json:"data" doc:"The data directory"`
	Places  []string     `json:"places" doc:"Where backups go: beside the data, and in a second place if one is set"`
	Copies  []store.Kept `json:"copies" doc:"Newest first"`
	Missing string       `json:"missing,omitzero" doc:"What the data file is known to have lost"`
	Failed  string       `json:"failed,omitzero" doc:"Why the last backup failed"`
	Local   bool         `json:"local" doc:"The request comes from the machine itself"`
	Restore bool         `json:"restore" doc:"A backup can be restored from here"`
}

// copying makes the copy of each day.
type copying struct {
	store *store.Store
	stop  chan struct{}
	said  atomic.Value // why the last one could not be made; "" where it could
}

// copyEvery is how often it is looked whether the day's copy is there, firstCopy how soon after the start.
const (
	copyEvery = time.Minute
	firstCopy = 20 * time.Second
)

// begin makes a copy a day for as long as Braxel runs: the first soon after it is started, in the background.
func (c *copying) begin(now func() time.Time) {
	go func() {
		select { // what waits for its first answer goes before
		case <-c.stop:
			return
		case <-time.After(firstCopy):
		}
		for {
			c.said.Store(c.make(now()))
			select {
			case <-c.stop:
				return
			case <-time.After(copyEvery):
			}
		}
	}()
}

func (c *copying) make(now time.Time) string {
	if len(c.store.Engines()) == 0 {
		return "" // nothing that could be lost
	}
	said := ""
	for _, place := range store.PlacesOf(c.store.Dir) {
		if store.HasCopyOf(place, now) {
			continue
		}
		if _, err := c.store.KeepCopy(context.Background(), place, now, false); err != nil {
			slog.Error(say.Text("server.daily-backup-was-not-made"), "place", place, "error", err)
			said = plain.Words(err)
		}
	}
	return said
}

func (c *copying) failed() string {
	said, _ := c.said.Load().(string)
	return said
}

func (h *handlers) copyRoutes(app routes, api huma.API) {
	const path = "/api/copies"
	none := func(id, path string) huma.Operation {
		return huma.Operation{OperationID: id, Method: http.MethodPost, Path: path, DefaultStatus: http.StatusNoContent}
	}
	huma.Register(api, huma.Operation{OperationID: "copies", Method: http.MethodGet, Path: path}, h.copies)
	huma.Register(api, none("make-copy", path), h.makeCopy)
	huma.Register(api, huma.Operation{OperationID: "inside", Method: http.MethodGet, Path: path + "/inside"}, h.inside)
	huma.Register(api, none("restore", path+"/restore"), h.restoreCopy)
	huma.Register(api, none("second-place", path+"/place"), h.secondPlace)
	huma.Register(api, huma.Operation{OperationID: "check", Method: http.MethodPost, Path: "/api/check"}, h.check)
	app.get(path+"/download", h.downloadCopy)
}

func (h *handlers) copies(ctx context.Context, _ *struct{}) (*answer[CopiesPage], error) {
	page := CopiesPage{
		Data: h.store.Dir, Places: store.PlacesOf(h.store.Dir), Copies: []store.Kept{}, Missing: h.store.Missing(ctx), Local: whoOf(ctx).local,
		Restore: h.restart != nil && whoOf(ctx).local, Failed: cmp.Or(h.restoredWords(), h.copying.failed()),
	}
	for _, place := range page.Places {
		some, err := store.Copies(ctx, place)
		if err != nil {
			page.Failed = plain.Words(err)
		}
		page.Copies = append(page.Copies, some...)
	}
	slices.SortStableFunc(page.Copies, store.Newer)
	return &answer[CopiesPage]{page}, nil
}

// restoredWords says why the copy was not put back that was tried last.
func (h *handlers) restoredWords() string {
	if h.restored == "" {
		return ""
	}
	return say.Text("server.backup-was-not-restored-everything", "restored", h.restored)
}

func (h *handlers) makeCopy(ctx context.Context, _ *struct{}) (*struct{}, error) {
	for _, place := range store.PlacesOf(h.store.Dir) {
		if _, err := h.store.KeepCopy(ctx, place, time.Now(), true); err != nil {
			return nil, huma.Error422UnprocessableEntity(plain.Words(err))
		}
	}
	return nil, nil
}

// CopyIn names a copy.
type CopyIn struct {
	Place string `json:"place" query:"place" maxLength:"1000"`
	Name  string `json:"name" query:"name" maxLength:"200"`
}

// copyOf returns the copy that is named: one of those that are there, and no other file.
func (h *handlers) copyOf(ctx context.Context, in CopyIn) (store.Kept, error) {
	if !slices.Contains(store.PlacesOf(h.store.Dir), in.Place) {
		return store.Kept{}, huma.Error404NotFound(say.Text("server.no-backups-kept-there"))
	}
	all, err := store.Copies(ctx, in.Place)
	if err != nil {
		return store.Kept{}, err
	}
	i := slices.IndexFunc(all, func(k store.Kept) bool { return k.Name == in.Name })
	if i < 0 {
		return store.Kept{}, huma.Error404NotFound(say.Text("server.there-no-such-backup"))
	}
	return all[i], nil
}

func (h *handlers) inside(ctx context.Context, in *CopyIn) (*answer[store.Inside], error) {
	one, err := h.copyOf(ctx, *in)
	if err != nil {
		return nil, err
	}
	inside, err := h.store.LookInside(ctx, one.File())
	if err != nil {
		return nil, huma.Error422UnprocessableEntity(plain.Words(err))
	}
	return &answer[store.Inside]{inside}, nil
}

// restoreCopy ends this server; whoever started it puts the copy back and starts it again.
func (h *handlers) restoreCopy(ctx context.Context, in *struct{ Body CopyIn }) (*struct{}, error) {
	if h.restart == nil || !whoOf(ctx).local {
		return nil, huma.Error403Forbidden(say.Text("server.restore-backup-machine-runs-braxel"))
	}
	one, err := h.copyOf(ctx, in.Body)
	if err != nil {
		return nil, err
	}
	if _, err := h.store.LookInside(ctx, one.File()); err != nil {
		return nil, huma.Error422UnprocessableEntity(plain.Words(err))
	}
	h.restart(one.File())
	return nil, nil
}

func (h *handlers) secondPlace(ctx context.Context, in *struct {
	Body struct {
		Place string `json:"place" maxLength:"1000" doc:"A directory on another disk; empty for none"`
	}
}) (*struct{}, error) {
	if !whoOf(ctx).local {
		return nil, huma.Error403Forbidden(say.Text("server.choose-where-backups-go-machine"))
	}
	if err := h.store.SetSecondPlace(in.Body.Place); err != nil {
		return nil, refuse(log.Faults{{At: "/place", What: plain.Words(err)}})
	}
	return nil, nil
}

// Checked is what a check of the whole file found.
type Checked struct {
	Faults []string `json:"faults"`
}

func (h *handlers) check(ctx context.Context, _ *struct{}) (*answer[Checked], error) {
	faults, err := h.store.Check(ctx)
	return &answer[Checked]{Checked{append([]string{}, faults...)}}, err
}

// downloadCopy answers with an archive of the data and the photos, as they are now.
func (h *handlers) downloadCopy(x fiber.Ctx) error {
	dir, done, err := h.scratch()
	if err != nil {
		return err
	}
	name := fmt.Sprintf("braxel-%s.zip", time.Now().Format("2006-01-02"))
	file := filepath.Join(dir, name)
	if err := h.store.Backup(x.Context(), file); err != nil {
		done()
		return err
	}
	return sendFile(x, file, "application/zip", name, done)
}
