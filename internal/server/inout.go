package server

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-json-experiment/json"
	"github.com/gofiber/fiber/v3"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/seal"
	"braxel/internal/core/table"
	"braxel/internal/inout"
	"braxel/internal/logfile"
	"braxel/internal/papers"
	"braxel/internal/plain"
	"braxel/internal/store"
)

// ImportPage is what a file would bring in.
type ImportPage struct {
	File  string     `json:"file"`
	Fault string     `json:"fault,omitzero" doc:"Why it can't be read at all"`
	Sheet *SheetRead `json:"sheet,omitempty" doc:"If it is a spreadsheet"`
	Logs  []LogRead  `json:"logs" doc:"If it is a file of logs"`
}

// SheetRead is a spreadsheet as it was read.
type SheetRead struct {
	logfile.Saved
	Sheets  []SheetShown     `json:"sheets" doc:"One, or those of a workbook"`
	Means   []table.Means    `json:"means" doc:"What a column can mean"`
	Engines []table.Matched  `json:"engines" doc:"Its engines, and those here that they were taken for"`
	Refused []table.Refused  `json:"refused"`
	Asked   []table.Asked    `json:"asked"`
	Doubts  []table.Doubt    `json:"doubts"`
	Ignored []table.Ignored  `json:"ignored"`
	Tests   []SheetTest      `json:"tests"`
	Would   []store.Imported `json:"would"`
}

// SheetShown is one sheet: how it was read, and how it begins.
type SheetShown struct {
	Guess table.Guess `json:"guess"`
	Rows  []table.Row `json:"rows" doc:"Its first rows, unchanged"`
	All   int         `json:"all" doc:"How many rows it has"`
}

// SheetTest is a test of the sheet, as it would stand on record.
type SheetTest struct {
	Engine string `json:"engine"`
	Date   string `json:"date,omitzero"`
	Words  string `json:"words"`
}

// LogRead is one log of a file.
type LogRead struct {
	N       int             `json:"n"`
	Name    string          `json:"name"`
	Refused log.Faults      `json:"refused"`
	Unknown []string        `json:"unknown" doc:"Keys that Braxel doesn't know; they are kept"`
	Odd     log.Faults      `json:"odd"`
	Would   *store.Imported `json:"would,omitempty" doc:"The result, or what it would be"`
}

// mostImported is as long as a file may be that is handed in on a screen; what is longer comes in by command. Of it, only a spreadsheet or
// a recording is held in memory, which may be as long as mostSheet.
const (
	mostImported = 128 << 20
	mostSheet    = 64 << 20
)

// rowsShown is how many rows of a sheet are shown with the guess.
const rowsShown = 12

func (h *handlers) inoutRoutes(app routes, api huma.API) {
	registry := api.OpenAPI().Components.Schemas
	page := reflect.TypeFor[ImportPage]()
	look := func(x fiber.Ctx) error { return h.importFile(x, false) }
	take := func(x fiber.Ctx) error { return h.importFile(x, true) }
	formRoute(app, api, "read-import", "/api/import/read", look, page, "picks", "theirs", "job")
	formRoute(app, api, "take-import", "/api/import/take", take, page, "picks", "theirs", "job")
	huma.Register(api, huma.Operation{OperationID: "import-progress", Method: http.MethodGet, Path: "/api/import/progress"}, h.importProgress)
	registry.Schema(reflect.TypeFor[table.Picks](), true, "Picks")
	huma.Register(api, huma.Operation{OperationID: "corrected-sheets", Method: http.MethodGet, Path: "/api/import/corrected"}, h.corrected)
	huma.Register(api, huma.Operation{OperationID: "verify", Method: http.MethodPost, Path: "/api/verify"}, h.verify)
	app.get("/api/export", h.export)
	app.get("/api/engines/:engine/papers/:paper", h.paperOf)
}

// formRoute adds a route that takes a form with a file and fields of text, and describes it: huma does not take one.
func formRoute(app routes, api huma.API, id, path string, to fiber.Handler, answers reflect.Type, fields ...string) {
	app.add(http.MethodPost, path, terms{most: mostImported, stream: true}, to)
	properties := map[string]*huma.Schema{"file": {Type: "string", Format: "binary"}}
	for _, f := range fields {
		properties[f] = &huma.Schema{Type: "string"}
	}
	form := &huma.MediaType{Schema: &huma.Schema{Type: "object", Properties: properties}}
	api.OpenAPI().AddOperation(&huma.Operation{
		OperationID: id, Method: http.MethodPost, Path: path,
		RequestBody: &huma.RequestBody{Required: true, Content: map[string]*huma.MediaType{"multipart/form-data": form}},
		Responses:   answering(api.OpenAPI().Components.Schemas, answers, answers.Name()),
	})
}

// handed is what a form holds: its file on disk, its fields.
type handed struct {
	name   string
	file   *os.File
	size   int64
	fields map[string]string
	picks  table.Picks
	theirs map[string][]string // of each log, by its number, what is taken as it has it
}

// readForm takes in a form with a file. Done throws the file away.
func (h *handlers) readForm(x fiber.Ctx) (in handed, done func(), err error) {
	dir, remove, err := h.scratch()
	if err != nil {
		return in, nil, err
	}
	throwAway := func() {
		if in.file != nil {
			_ = in.file.Close()
		}
		remove()
	}
	defer func() {
		if err != nil {
			throwAway()
		}
	}()
	bad := func(what string) error { return fiber.NewError(http.StatusUnprocessableEntity, what) }
	in.fields, err = form(x, func(name string, from io.Reader) error {
		if in.file != nil {
			return bad(say.Text("server.file-one-file-at-time"))
		}
		in.name = filepath.Base(name)
		path, err := keepSent(dir, from, mostImported)
		if err == nil {
			in.file, err = os.Open(path)
		}
		if err != nil {
			return err
		}
		info, err := in.file.Stat()
		in.size = info.Size()
		return err
	})
	if err != nil {
		return in, nil, err
	}
	if in.file == nil {
		return in, nil, bad(say.Text("server.file-pick-file"))
	}
	for field, to := range map[string]any{"picks": &in.picks, "theirs": &in.theirs} {
		if text := in.fields[field]; text != "" && json.Unmarshal([]byte(text), to) != nil {
			return in, nil, bad(say.Text("server.cant-read", "field", field))
		}
	}
	if faults := log.CheckFields("/picks", in.picks); len(faults) > 0 {
		return in, nil, bad(faults.Error())
	}
	return in, throwAway, nil
}

// text reads the whole file: of what is no file of logs.
func (in handed) text() ([]byte, error) {
	if in.size > mostSheet {
		return nil, say.Error("server.file-has-mb-at-most", "size", in.size>>20, "mostSheet", mostSheet>>20)
	}
	return io.ReadAll(io.NewSectionReader(in.file, 0, in.size))
}

// importFile reads a file that was handed in, and takes it in where that is wanted.
func (h *handlers) importFile(x fiber.Ctx, take bool) error {
	in, done, err := h.readForm(x)
	if err != nil {
		return err
	}
	defer done()
	page := ImportPage{File: in.name, Logs: []LogRead{}}
	if !isWorkbook(in.name) && (logfile.IsArchive(in.file) || isLog(in.name, in.file)) {
		job := h.jobs.begin(in.fields["job"])
		defer job.end()
		counted := job.reading(in.file, in.size)
		taking := inout.Taking{Now: h.now, Dry: !take, Theirs: func(n int) []string { return in.theirs[fmt.Sprint(n)] }}
		err = inout.EachLog(x.Context(), h.store, counted, in.size, taking, func(one inout.ReadLog) {
			page.Logs = append(page.Logs, logRead(one))
			job.count(one.N)
		})
	} else {
		page.Sheet, err = h.importSheet(x.Context(), in, take)
	}
	if err != nil {
		page.Fault = plain.Words(err)
	}
	if take {
		h.tellAll(append(h.store.Engines(), ""))
	}
	return x.JSON(page)
}

// isWorkbook tells a workbook from an archive of logs, which is packed in the same way.
func isWorkbook(name string) bool {
	return slices.Contains([]string{".xlsx", ".xlsm", ".ods", ".xls"}, strings.ToLower(filepath.Ext(name)))
}

// isLog tells a file of logs from a sheet: by its name, or because it begins as JSON does.
func isLog(name string, file io.ReaderAt) bool {
	switch strings.ToLower(filepath.Ext(name)) {
	case ".json", ".jsonl", ".ndjson":
		return true
	case ".csv", ".tsv", ".txt":
		return false
	}
	head := make([]byte, 64)
	n, _ := file.ReadAt(head, 0)
	return bytes.HasPrefix(bytes.TrimSpace(bytes.TrimPrefix(head[:n], []byte(logfile.ByteOrderMark))), []byte("{"))
}

// logRead says what became of a log, or would.
func logRead(r inout.ReadLog) LogRead {
	one := LogRead{N: r.N, Name: r.Log.Engine.Name, Refused: log.Faults{}, Unknown: []string{}, Odd: log.Faults{}}
	if r.Err != nil {
		one.Refused = faultsOf(r.Err)
		return one
	}
	const most = 100
	one.Unknown = append(one.Unknown, r.Unknown[:min(len(r.Unknown), most)]...)
	one.Odd, one.Would = append(one.Odd, r.Log.Odd()...), &r.Done
	return one
}

func faultsOf(err error) log.Faults {
	if faults, ok := err.(log.Faults); ok {
		return faults
	}
	return log.Faults{{What: plain.Words(err)}}
}

// corrected answers with what was corrected in earlier sheets, and is read so since.
func (h *handlers) corrected(context.Context, *struct{}) (*answer[[]rules.SheetColumns], error) {
	return &answer[[]rules.SheetColumns]{append([]rules.SheetColumns{}, h.store.Sheets()...)}, nil
}

func (h *handlers) importSheet(ctx context.Context, in handed, take bool) (*SheetRead, error) {
	text, err := in.text()
	if err != nil {
		return nil, err
	}
	sheets, saved, err := logfile.ReadSheets(in.name, text)
	if err != nil {
		return nil, err
	}
	for _, id := range in.picks.Engines {
		if id != table.NewEngine && !h.store.Has(id) {
			return nil, say.Error("server.engine-should-go-not-here", "err", id)
		}
	}
	inout.Here(ctx, h.store, &in.picks)
	got := table.Read(sheets, in.picks)
	out := &SheetRead{
		Saved: saved, Sheets: []SheetShown{}, Means: table.AllMeans, Engines: got.Engines, Refused: got.Refused, Asked: got.Asked,
		Doubts:  got.Doubts,
		Ignored: got.Ignored, Tests: []SheetTest{}, Would: []store.Imported{},
	}
	for i, g := range got.Guesses {
		shown := SheetShown{Guess: g, Rows: []table.Row{}, All: len(sheets[i].Rows)}
		for _, row := range sheets[i].Rows[:min(len(sheets[i].Rows), rowsShown)] {
			shown.Rows = append(shown.Rows, table.Row{N: row.N, Cells: append([]string{}, row.Cells...)})
		}
		out.Sheets = append(out.Sheets, shown)
	}
	for _, l := range got.Logs {
		for _, s := range l.Sessions {
			out.Tests = append(out.Tests, SheetTest{l.Engine.Name, s.Date, book.ReadingsInWords(l.Engine, s)})
		}
	}
	if got.Must() != nil {
		return out, nil // nothing of it comes in by half
	}
	for _, l := range got.Logs {
		var done store.Imported
		if take {
			done, err = h.store.Import(ctx, l, h.now())
		} else {
			done, err = h.store.TryImport(ctx, l, h.now())
		}
		if err != nil {
			return out, err
		}
		out.Would = append(out.Would, done)
	}
	return out, nil
}

// verify holds a paper against the logs on record.
func (h *handlers) verify(ctx context.Context, in *struct {
	Body struct {
		Code string `json:"code" minLength:"1" maxLength:"2000" doc:"The eight words, the fingerprint, or what the QR code says"`
	}
}) (*answer[seal.Finding], error) {
	var logs []log.Log
	for _, id := range h.store.Engines() {
		if l, _, err := h.store.Log(ctx, id); err == nil {
			logs = append(logs, l.Standing())
		}
	}
	found, err := seal.Verify(in.Body.Code, logs)
	if err != nil {
		return nil, refuse(log.Faults{{At: "/code", What: plain.Words(err)}})
	}
	return &answer[seal.Finding]{found}, nil
}

// export answers with the logs of engines: all of them, or those that are named.
func (h *handlers) export(x fiber.Ctx) error {
	ids := h.store.Engines()
	if named := x.Request().URI().QueryArgs().PeekMulti("engine"); len(named) > 0 {
		ids = nil
		for _, one := range named {
			if !h.store.Has(string(one)) {
				return fiber.NewError(http.StatusNotFound, say.Text("server.there-no-engine", "one", string(one)))
			}
			ids = append(ids, string(one))
		}
	}
	as := strings.Clone(x.Query("as", "jsonl"))
	kind := map[string]string{"jsonl": "application/jsonl", "csv": "text/csv; charset=utf-8", "zip": "application/zip", "xlsx": sheetType}[as]
	if kind == "" {
		return fiber.NewError(http.StatusUnprocessableEntity, say.Text("server.as-must-jsonl-csv-or"))
	}
	dir, done, err := h.scratch()
	if err != nil {
		return err
	}
	file := filepath.Join(dir, "export")
	if err := h.writeExport(x.Context(), ids, as, file); err != nil {
		done()
		return err
	}
	return sendFile(x, file, kind, fmt.Sprintf("braxel-%s.%s", h.now().Format("2006-01-02"), as), done)
}

const sheetType = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"

// writeExport writes engines' logs to a file. An engine that can't be read leaves the others: the archive names it, and a check does.
func (h *handlers) writeExport(ctx context.Context, ids []string, as, to string) (err error) {
	out, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, out.Close()) }()
	switch as {
	case "zip":
		err = inout.Archive(ctx, h.store, ids, out)
	case "xlsx":
		err = inout.WriteWorkbook(ctx, h.store, ids, out)
	case "csv":
		err = inout.WriteLogs(ctx, h.store, ids, out, inout.CSV)
	default:
		err = inout.WriteLogs(ctx, h.store, ids, out, inout.Lines)
	}
	if unread := new(inout.Unread); errors.As(err, &unread) {
		slog.Error(say.Text("server.some-engines-cant-read-not"), "error", err)
		return nil
	}
	return err
}

// addressOf is where the shop's network finds an engine's page: by an address of this machine that others reach, else as it was asked.
func (h *handlers) addressOf(x fiber.Ctx, id string) string {
	base := x.BaseURL()
	if h.door != nil {
		if ways := h.ways(); len(ways) > 0 {
			base = ways[0]
		}
	}
	return base + "/engines/" + url.PathEscape(id)
}

// paperOf answers with a paper of an engine, to be shown in the browser or printed.
func (h *handlers) paperOf(x fiber.Ctx) error {
	kind := papers.Kind(strings.TrimSuffix(x.Params("paper"), ".pdf"))
	if !slices.Contains(papers.Kinds, kind) {
		return fiber.NewError(http.StatusNotFound, say.Text("server.there-no-such-paper"))
	}
	id := unescape(x.Params("engine"))
	text, err := inout.Paper(x.Context(), h.store, id, papers.Input{
		Rules: h.rules(x.Context()),
		Kind:  kind, Test: x.Query("test"), Size: x.Query("size"), Shop: h.shop, Address: h.addressOf(x, id),
		Shows: papers.Shows{NoNumbers: x.Query("numbers") == "no", Contact: x.Query("contact") == "yes"},
	})
	if isUnknown(err) {
		return fiber.NewError(http.StatusNotFound, say.Text("server.there-no-engine-name"))
	}
	if err != nil {
		return fiber.NewError(http.StatusUnprocessableEntity, plain.Words(err))
	}
	x.Set("Content-Type", "application/pdf")
	x.Set("Content-Disposition", fmt.Sprintf(`inline; filename="%s-%s.pdf"`, book.Slug(id, "engine"), kind))
	return x.Send(text)
}
