package server

import (
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/inout"
	"braxel/internal/plain"
)

// syncRoutes let another machine of the shop lay its book beside this one: what each lacks, it is handed. They are behind the
// passcode as all else is.
func (h *handlers) syncRoutes(api huma.API) {
	get := func(id, path string) huma.Operation {
		return huma.Operation{OperationID: id, Method: http.MethodGet, Path: path}
	}
	post := func(id, path string) huma.Operation {
		return huma.Operation{OperationID: id, Method: http.MethodPost, Path: path, MaxBodyBytes: usualBody, SkipValidateBody: true}
	}
	huma.Register(api, get("sync-digests", inout.DigestsPath), h.digests)
	huma.Register(api, get("sync-digests-of", inout.DigestsOfPath), h.digestsOf)
	huma.Register(api, post("sync-give", inout.GivePath), h.give)
	huma.Register(api, post("sync-take", inout.TakePath), h.take)
	huma.Register(api, get("sync-pictures", inout.PicturesPath), h.pictures)
	huma.Register(api, post("sync", "/api/sync"), h.sync)
}

func (h *handlers) digests(ctx context.Context, _ *struct{}) (*answer[map[string]string], error) {
	all, err := h.store.Digests(ctx)
	return &answer[map[string]string]{all}, err
}

func (h *handlers) digestsOf(ctx context.Context, in *struct {
	Engine string `query:"engine" maxLength:"120"`
}) (*answer[map[string]string], error) {
	all, err := h.store.DigestsOf(ctx, in.Engine)
	return &answer[map[string]string]{all}, err
}

func (h *handlers) give(ctx context.Context, in *struct {
	Body inout.Asking
}) (*answer[[]book.Entry], error) {
	if len(in.Body.IDs) > inout.MostHanded {
		return nil, huma.Error422UnprocessableEntity(say.Text("server.too-many-at-once"))
	}
	all, err := h.store.Entries(ctx, in.Body.IDs)
	return &answer[[]book.Entry]{all}, err
}

func (h *handlers) take(ctx context.Context, in *struct {
	Body inout.Handing
}) (*answer[inout.Taken], error) {
	added, engines, refused, err := h.store.Union(ctx, in.Body.Entries)
	if err != nil {
		return nil, err
	}
	h.tellAll(engines)
	return &answer[inout.Taken]{inout.Taken{Added: added, Refused: refused}}, nil
}

func (h *handlers) pictures(context.Context, *struct{}) (*answer[[]string], error) {
	all, err := h.store.Pictures()
	return &answer[[]string]{append([]string{}, all...)}, err
}

func (h *handlers) tellAll(engines []string) {
	for _, engine := range engines {
		h.hub.tell(engine)
	}
}

// syncFor is how long one exchange goes on before it says how far it came; the screen then goes on with it.
const syncFor = 25 * time.Second

func (h *handlers) sync(ctx context.Context, in *struct {
	Body struct {
		Address  string `json:"address" minLength:"1" maxLength:"200" doc:"The other machine's address, such as http://192.168.1.20:8314"`
		Passcode string `json:"passcode,omitzero" maxLength:"40"`
	}
}) (*answer[inout.Synced], error) {
	base, err := inout.Address(in.Body.Address)
	if err != nil {
		return nil, refuse(log.Faults{{At: "/address", What: plain.Words(err)}})
	}
	if !whoOf(ctx).local && h.store.PairedWith(base) == "" {
		// Else a phone could have this machine call whatever it likes.
		return nil, huma.Error403Forbidden(say.Text("server.first-time-bring-machines-together"))
	}
	ctx, stop := context.WithTimeout(ctx, syncFor)
	defer stop()
	done, err := inout.Sync(ctx, h.store, in.Body.Address, in.Body.Passcode)
	h.tellAll(done.Engines)
	if err != nil && ctx.Err() == nil {
		return nil, huma.Error422UnprocessableEntity(plain.Words(err))
	}
	done.More = ctx.Err() != nil
	return &answer[inout.Synced]{done}, nil
}
