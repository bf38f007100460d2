package server

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"maps"
	"net/http"
	"reflect"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/gofiber/fiber/v3"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/sheet"
	"braxel/internal/core/units"
	"braxel/internal/plain"
)

// EntriesOut is what became of the entries that were handed in, in their order, and the sheet that the sender has open.
type EntriesOut struct {
	Answers []book.Answer `json:"answers"`
	Sheet   *sheet.Sheet  `json:"sheet,omitempty"`
}

// SheetAt names the sheet that a sender has open.
type SheetAt struct {
	Engine string `json:"engine"`
	Test   string `json:"test"`
}

// mostEntries is as many as may be handed in at once; an outbox sends the rest after them.
const mostEntries = 500

// entryRoute is the one way to change anything over the API. It stands beside huma, which would refuse all for one, and is
// described to it.
func (h *handlers) entryRoute(app routes, api huma.API) {
	const path = "/api/entries"
	app.post(path, h.postEntries)
	registry := api.OpenAPI().Components.Schemas
	type entriesIn struct {
		Entries []anEntry `json:"entries"`
		Sheet   *SheetAt  `json:"sheet,omitempty"`
	}
	api.OpenAPI().AddOperation(&huma.Operation{
		OperationID: "post-entries", Method: http.MethodPost, Path: path,
		RequestBody: &huma.RequestBody{Required: true, Content: asJSON(registry, reflect.TypeFor[entriesIn](), "EntriesIn")},
		Responses:   answering(registry, reflect.TypeFor[EntriesOut](), "EntriesOut"),
	})
}

// asJSON describes content of a Go type to the API.
func asJSON(registry huma.Registry, of reflect.Type, name string) map[string]*huma.MediaType {
	return map[string]*huma.MediaType{"application/json": {Schema: registry.Schema(of, true, name)}}
}

// answering describes what a route beside huma answers: a Go type, or a problem.
func answering(registry huma.Registry, of reflect.Type, name string) map[string]*huma.Response {
	problem := registry.Schema(reflect.TypeFor[huma.ErrorModel](), true, "ErrorModel")
	return map[string]*huma.Response{
		"200":     {Description: "OK", Content: asJSON(registry, of, name)},
		"default": {Description: "Error", Content: map[string]*huma.MediaType{"application/problem+json": {Schema: problem}}},
	}
}

// anEntry describes an entry to the API: one shape for each kind, with the body that it has.
type anEntry struct{}

// Schema describes it.
func (anEntry) Schema(r huma.Registry) *huma.Schema {
	one := &huma.Schema{Discriminator: &huma.Discriminator{PropertyName: "kind", Mapping: map[string]string{}}}
	for _, kind := range slices.Sorted(maps.Keys(book.Bodies)) {
		envelope := huma.SchemaFromType(r, reflect.TypeFor[book.Entry]())
		shape := *envelope
		shape.Properties = maps.Clone(envelope.Properties)
		delete(shape.Properties, "doubt")
		shape.Properties["kind"] = &huma.Schema{Type: "string", Enum: []any{kind}}
		shape.Properties["body"] = bodySchema(r, kind)
		shape.Properties["was"] = &huma.Schema{Type: "object", AdditionalProperties: true}
		name := strings.ReplaceAll(kind, "-", "_") + "_entry"
		r.Map()[name] = &shape
		ref := "#/components/schemas/" + name
		one.OneOf = append(one.OneOf, &huma.Schema{Ref: ref})
		one.Discriminator.Mapping[kind] = ref
	}
	return one
}

// changing are the kinds whose body holds the changed fields alone, null for one that is cleared.
var changing = []string{
	book.Engine, book.Build, book.Test, book.Tester, book.Protocol, book.Plan, book.Rule,
	book.Meeting, book.Car, book.Start, book.Job, book.Terms,
}

func bodySchema(r huma.Registry, kind string) *huma.Schema {
	ref := r.Schema(reflect.TypeOf(book.Bodies[kind]), true, kind)
	if !slices.Contains(changing, kind) {
		return ref
	}
	patch := *r.SchemaFromRef(ref.Ref)
	patch.Required = nil
	patch.Properties = maps.Clone(patch.Properties)
	for name, p := range patch.Properties {
		if p.Ref == "" {
			field := *p
			field.Nullable = true
			patch.Properties[name] = &field
		}
	}
	return &patch
}

// postEntries answers for each entry by itself, when those that are kept are on disk.
func (h *handlers) postEntries(x fiber.Ctx) error {
	var in struct {
		Entries []jsontext.Value `json:"entries"`
		Sheet   *SheetAt         `json:"sheet"`
	}
	if err := json.Unmarshal(x.Request().Body(), &in); err != nil {
		fault := book.DecodeFault(err)
		return fiber.NewError(
			http.StatusBadRequest,
			say.Text("server.entries-cant-read",
				"at", cmp.Or(fault.At, say.Text("server.all")),
				"what", fault.What,
			),
		)
	}
	if len(in.Entries) > mostEntries {
		return fiber.NewError(
			http.StatusUnprocessableEntity,
			say.Text("server.too-many-entries-at-once", "n", len(in.Entries), "mostEntries", mostEntries),
		)
	}
	out := EntriesOut{Answers: make([]book.Answer, len(in.Entries))}
	var entries []book.Entry
	var at []int
	for i, raw := range in.Entries {
		e, faults := typed(raw)
		if len(faults) > 0 {
			out.Answers[i] = book.Refuse(e.ID, faults)
			continue
		}
		entries, at = append(entries, e), append(at, i)
	}
	answers, err := h.store.Append(x.Context(), entries, h.now())
	if err != nil {
		return err
	}
	touched := map[string]bool{}
	var kept []book.Entry
	for i, a := range answers {
		out.Answers[at[i]] = a
		if a.Result == book.IsKept {
			touched[entries[i].Engine] = true
			kept = append(kept, entries[i])
		}
	}
	if h.learnFrom(x.Context(), kept) {
		touched[""] = true
	}
	if err := h.changed(x.Context(), touched); err != nil {
		return err
	}
	if in.Sheet != nil {
		out.Sheet = h.openSheet(x.Context(), *in.Sheet)
	}
	return sendJSON(x, out)
}

// typed reads an entry as a device writes it: what is said of it on arrival, it cannot say itself, and its body has no keys
// that mean nothing.
func typed(raw jsontext.Value) (book.Entry, log.Faults) {
	var e book.Entry
	if err := json.Unmarshal(raw, &e, json.RejectUnknownMembers(true)); err != nil {
		var name struct {
			ID string `json:"id"`
		}
		_ = json.Unmarshal(raw, &name)
		return book.Entry{ID: fmt.Sprintf("%.64s", strings.ToValidUTF8(name.ID, "?"))}, log.Faults{book.DecodeFault(err)}
	}
	e.Doubt = ""
	if faults := book.CheckEnvelope(e); len(faults) > 0 {
		e.ID = fmt.Sprintf("%.64s", e.ID)
		return e, faults
	}
	if e.Kind == book.Kept {
		return e, log.Faults{log.At("/kind", "server.comes-with-imported-logs-cant")}
	}
	return e, book.Strict(e)
}

// changed tells everyone who looks on which engines changed; "" is the workshop.
func (h *handlers) changed(ctx context.Context, engines map[string]bool) error {
	for id := range engines {
		if id != "" {
			l, _, err := h.store.Log(ctx, id)
			if err != nil {
				return err
			}
			h.pool.changed(l.Standing())
		}
		h.hub.tell(id)
	}
	return nil
}

// openSheet returns a sheet, or nothing where there is none of that name.
func (h *handlers) openSheet(ctx context.Context, at SheetAt) *sheet.Sheet {
	s, err := h.sheetOf(ctx, at.Engine, at.Test)
	if err != nil {
		return nil
	}
	return &s
}

// RecordLine is an entry in words.
type RecordLine struct {
	ID     string `json:"id"`
	At     string `json:"at" format:"date-time"`
	Clock  string `json:"clock,omitzero" doc:"What the device's clock said, if it ran ahead"`
	By     string `json:"by,omitzero"`
	Kind   string `json:"kind"`
	Test   string `json:"test,omitzero"`
	Words  string `json:"words"`
	Struck string `json:"struck,omitzero" doc:"Why it counts for nothing"`
	Apart  string `json:"apart,omitzero" doc:"Why it is shown only in the history"`
}

// Record is all that was entered of an engine, the latest first.
type Record struct {
	Name  string       `json:"name"`
	Lines []RecordLine `json:"lines"`
}

func (h *handlers) record(ctx context.Context, in *EngineIn) (*answer[Record], error) {
	v, err := h.store.View(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	entries, err := h.store.Record(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	out := Record{Name: v.Log.Engine.Name, Lines: lines(book.Replay(in.ID, entries), h.rules(ctx).Shown)}
	return &answer[Record]{out}, nil
}

func (h *handlers) shopRecord(ctx context.Context, _ *struct{}) (*answer[Record], error) {
	entries, err := h.store.Record(ctx, "")
	if err != nil {
		return nil, refuse(err)
	}
	return &answer[Record]{Record{Name: h.shop, Lines: lines(book.Replay("", entries), h.rules(ctx).Shown)}}, nil
}

func lines(b *book.Book, shown units.Choice) []RecordLine {
	b.Log(nil)
	apart := map[string]string{}
	for _, u := range b.Unplaced() {
		apart[u.Entry] = strings.TrimPrefix(u.Why, "/")
	}
	all := []RecordLine{}
	for _, e := range slices.Backward(b.Entries()) {
		all = append(all, RecordLine{e.ID, e.At, e.Clock, e.By, e.Kind, book.TestOf(e), b.Words(e, shown), b.Struck(e.ID), apart[e.ID]})
	}
	return all
}

// refuse makes an answer of an error: 404 for what is not there, 422 with each field named for faults of the job.
func refuse(err error) error {
	var faults log.Faults
	switch {
	case err == nil:
		return nil
	case isUnknown(err):
		return huma.Error404NotFound(plain.Words(err))
	case errors.As(err, &faults):
		details := make([]error, len(faults))
		for i, f := range faults {
			details[i] = &huma.ErrorDetail{Location: "body" + strings.ReplaceAll(f.At, "/", "."), Message: f.What}
		}
		return huma.Error422UnprocessableEntity(say.Text("server.some-cant-kept-as"), details...)
	}
	return err
}
