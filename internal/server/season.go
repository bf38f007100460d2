package server

import (
	"cmp"
	"context"
	"net/http"
	"runtime"
	"slices"
	"strings"
	"sync"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gofiber/fiber/v3"
	"golang.org/x/sync/errgroup"

	"braxel/internal/core/ahead"
	"braxel/internal/core/diary"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/season"
	"braxel/internal/core/written"
	"braxel/internal/logfile"
	"braxel/internal/papers"
	"braxel/internal/plain"
)

// SeasonPage is the season as it stands, and the engines that could be in it.
type SeasonPage struct {
	season.Board
	Offered []SeasonEngine `json:"offered" doc:"All engines of the rack, to choose from"`
	Pending int            `json:"pending,omitzero" doc:"How many engines are still being weighed; ask again soon"`
}

// SeasonEngine is an engine that could run.
type SeasonEngine struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Unit string `json:"unit,omitzero"`
}

// SeasonSearch is how far a search has come, and the plan that it found.
type SeasonSearch struct {
	Running bool          `json:"running"`
	Done    float64       `json:"done" minimum:"0" maximum:"1"`
	Offer   *season.Offer `json:"offer,omitempty"`
	Stale   bool          `json:"stale,omitzero" doc:"Something has changed since it was searched for"`
}

// SeasonLine is what an engine's page says of its season.
type SeasonLine struct {
	Words string `json:"words,omitzero" doc:"How much running it is good for, and what its next event takes"`
}

// seasons is what is known of the engines of a season, and the search for a plan.
type seasons struct {
	mu     sync.Mutex
	known  map[string]knownEngine
	search SeasonSearch
	stamp  int
	stop   bool
}

// knownEngine is an engine with the revision that it was made of.
type knownEngine struct {
	revision int
	season.Engine
	told []season.Told
	with string // the starts that what was told is of
}

func (h *handlers) seasonRoutes(app routes, api huma.API) {
	const search = "/api/season/search"
	huma.Register(api, huma.Operation{OperationID: "season", Method: http.MethodGet, Path: "/api/season"}, h.season)
	huma.Register(api, huma.Operation{OperationID: "season-search", Method: http.MethodGet, Path: search}, h.seasonFound)
	huma.Register(api, huma.Operation{
		OperationID: "begin-season-search", Method: http.MethodPost, Path: search, DefaultStatus: http.StatusNoContent,
	}, h.searchSeason)
	huma.Register(api, huma.Operation{
		OperationID: "stop-season-search", Method: http.MethodDelete, Path: search, DefaultStatus: http.StatusNoContent,
	}, h.stopSeason)
	huma.Register(api, huma.Operation{
		OperationID: "engine-season", Method: http.MethodGet, Path: "/api/engines/{engine}/season",
	}, h.seasonLine)
	huma.Register(api, huma.Operation{OperationID: "season-others", Method: http.MethodGet, Path: "/api/season/others"}, h.seasonOthers)
	huma.Register(api, huma.Operation{OperationID: "read-season", Method: http.MethodPost, Path: "/api/season/read"}, h.readSeason)
	app.get("/api/season.pdf", h.seasonPaper)
}

func (h *handlers) season(ctx context.Context, _ *struct{}) (*answer[SeasonPage], error) {
	pending, err := h.weighBehind(ctx)
	if err != nil {
		return nil, refuse(err)
	}
	s, told, err := h.seasonNow(ctx, pending > 0)
	if err != nil {
		return nil, refuse(err)
	}
	page := SeasonPage{Board: s.Board(), Offered: []SeasonEngine{}, Pending: pending}
	page.Record = season.Kept(told)
	if pending > 0 { // of engines that aren't known yet nothing is missing
		page.Problems, page.Words = []season.Problem{}, ""
	}
	rack, err := h.racked(ctx)
	if err != nil {
		return nil, err
	}
	involved := season.Involved(s.Season)
	for _, e := range rack.Engines {
		page.Offered = append(page.Offered, SeasonEngine{e.ID, e.Name, e.MeterUnit})
		if e.Pending && slices.Contains(involved, e.ID) {
			page.Pending++
		}
	}
	slices.SortFunc(page.Offered, func(a, b SeasonEngine) int { return cmp.Compare(a.Name, b.Name) })
	return &answer[SeasonPage]{page}, nil
}

// weighedAtOnce is how many engines are weighed while one waits for the season: a second's work. More are weighed behind it.
const weighedAtOnce = 24

// weighBehind returns how many engines of the season are still to be weighed, where they are too many to wait for, and has that begun.
func (h *handlers) weighBehind(ctx context.Context) (pending int, err error) {
	typed, _ := h.store.Season()
	for _, id := range season.Involved(typed) {
		if h.store.Has(id) && !h.weighed(ctx, id) {
			pending++
		}
	}
	if pending <= weighedAtOnce {
		return 0, nil
	}
	h.weighing.begin(func(ctx context.Context) error {
		_, _, err := h.seasonNow(ctx, false)
		return err
	})
	return pending, nil
}

// weighed reports whether an engine is known as it stands now.
func (h *handlers) weighed(ctx context.Context, id string) bool {
	v, err := h.store.View(ctx, id)
	h.seasons.mu.Lock()
	defer h.seasons.mu.Unlock()
	have, known := h.seasons.known[id]
	return err == nil && known && have.revision == v.Revision
}

// seasonNow returns the season with its engines, and what was said of events that are past; with known alone, only those engines that have
// been weighed.
func (h *handlers) seasonNow(ctx context.Context, known bool) (*season.Shop, []season.Told, error) {
	typed, _ := h.store.Season()
	day, _ := h.today()
	rack, err := h.racked(ctx)
	if err != nil {
		return nil, nil, err
	}
	engines, told, err := h.seasonEngines(ctx, typed, rack, known)
	if err != nil {
		return nil, nil, err
	}
	return season.New(typed, engines, day), told, nil
}

// seasonEngines returns the engines that a season speaks of. Each is weighed once for what is known of it.
func (h *handlers) seasonEngines(
	ctx context.Context, typed ahead.Season, rack *Rack, known bool,
) ([]season.Engine, []season.Told, error) {
	var ids []string
	for _, id := range season.Involved(typed) {
		if h.store.Has(id) && (!known || h.weighed(ctx, id)) {
			ids = append(ids, id)
		}
	}
	rows := map[string]RackEngine{}
	for _, e := range rack.Engines {
		rows[e.ID] = e
	}
	all := make([]knownEngine, len(ids))
	var each errgroup.Group
	each.SetLimit(runtime.GOMAXPROCS(0))
	for i, id := range ids {
		each.Go(func() (err error) {
			all[i], err = h.seasonEngine(ctx, id, typed)
			return err
		})
	}
	if err := each.Wait(); err != nil {
		return nil, nil, err
	}
	engines := []season.Engine{}
	var told []season.Told
	for i, id := range ids {
		row, there := rows[id]
		e := row.judged(all[i].Engine)
		e.Away = !there || row.Place == "sold"
		engines = append(engines, e)
		told = append(told, all[i].told...)
	}
	slices.SortStableFunc(engines, func(a, b season.Engine) int { return cmp.Compare(a.Name, b.Name) })
	return engines, told, nil
}

// judged returns an engine of a season with what its last test and its diary say of it.
func (e RackEngine) judged(one season.Engine) season.Engine {
	if _, mend := e.due(diary.Mend); mend {
		one.Repair = say.Sentence(e.Headline)
	}
	if since, asks := e.due(diary.After); asks {
		one.Happened = say.Sentence(since.Why)
	}
	if e.Pending {
		one.Unsettled = say.Text("season.being-judged")
	}
	for _, kind := range []diary.Kind{diary.Finish, diary.Retest} {
		if open, asks := e.due(kind); asks && one.Unsettled == "" {
			one.Unsettled = cmp.Or(say.Maybe("season.open-"+string(kind)), say.Sentence(open.Why))
		}
	}
	return one
}

// due returns what is due on an engine of one kind, false where nothing is.
func (e RackEngine) due(kind diary.Kind) (DiaryItem, bool) {
	i := slices.IndexFunc(e.Diary, func(i DiaryItem) bool { return i.Kind == kind })
	if i < 0 {
		return DiaryItem{}, false
	}
	return e.Diary[i], true
}

func (h *handlers) seasonEngine(ctx context.Context, id string, typed ahead.Season) (knownEngine, error) {
	v, err := h.store.View(ctx, id)
	if err != nil {
		return knownEngine{}, err
	}
	with := season.StartsOf(typed, id)
	h.seasons.mu.Lock()
	have, known := h.seasons.known[id]
	h.seasons.mu.Unlock()
	shop := h.store.Rules()
	if !known || have.revision != v.Revision {
		have = knownEngine{revision: v.Revision, Engine: season.EngineOf(v.Log, shop)}
	}
	if have.with != with {
		have.told, have.with = season.TellingOf(v.Log, shop, typed), with
	}
	h.seasons.mu.Lock()
	defer h.seasons.mu.Unlock()
	if h.seasons.known == nil {
		h.seasons.known = map[string]knownEngine{}
	}
	h.seasons.known[id] = have
	return have, nil
}

// seasonLine says of an engine how much running it is good for, and what its next event takes. It is an answer of its own, since
// weighing an engine takes longer than its page may.
func (h *handlers) seasonLine(ctx context.Context, in *EngineIn) (*answer[SeasonLine], error) {
	if !h.store.Has(in.ID) {
		return nil, huma.Error404NotFound(say.Text("server.there-no-engine-name"))
	}
	typed, _ := h.store.Season()
	if slices.Contains(season.Involved(typed), in.ID) {
		s, _, err := h.seasonNow(ctx, false)
		if err != nil {
			return nil, refuse(err)
		}
		return &answer[SeasonLine]{SeasonLine{s.Board().Line(in.ID)}}, nil
	}
	one, err := h.seasonEngine(ctx, in.ID, typed)
	if err != nil {
		return nil, refuse(err)
	}
	rack, err := h.racked(ctx)
	if err != nil {
		return nil, err
	}
	for _, e := range rack.Engines {
		if e.ID == in.ID {
			one.Engine = e.judged(one.Engine)
		}
	}
	return &answer[SeasonLine]{SeasonLine{season.LineOf(one.Engine)}}, nil
}

func (h *handlers) seasonFound(context.Context, *struct{}) (*answer[SeasonSearch], error) {
	h.seasons.mu.Lock()
	defer h.seasons.mu.Unlock()
	out := h.seasons.search
	out.Stale = out.Offer != nil && h.seasons.stamp != h.store.Stamp()
	return &answer[SeasonSearch]{out}, nil
}

// searchSeason begins a search behind the answer; one that is under way goes on.
func (h *handlers) searchSeason(ctx context.Context, _ *struct{}) (*struct{}, error) {
	stamp := h.store.Stamp()
	s, _, err := h.seasonNow(ctx, false)
	if err != nil {
		return nil, refuse(err)
	}
	h.seasons.mu.Lock()
	defer h.seasons.mu.Unlock()
	if h.seasons.search.Running {
		return nil, nil
	}
	h.seasons.search, h.seasons.stop, h.seasons.stamp = SeasonSearch{Running: true}, false, stamp
	go func() {
		plan, searched := s.Search(func(done float64) bool {
			h.seasons.mu.Lock()
			defer h.seasons.mu.Unlock()
			h.seasons.search.Done = done
			return !h.seasons.stop
		})
		offer := s.Offer(plan, searched)
		h.seasons.mu.Lock()
		defer h.seasons.mu.Unlock()
		h.seasons.search = SeasonSearch{Done: 1, Offer: &offer}
	}()
	return nil, nil
}

func (h *handlers) stopSeason(context.Context, *struct{}) (*struct{}, error) {
	h.seasons.mu.Lock()
	defer h.seasons.mu.Unlock()
	h.seasons.stop = true
	if !h.seasons.search.Running {
		h.seasons.search = SeasonSearch{}
	}
	return nil, nil
}

func (h *handlers) seasonOthers(ctx context.Context, in *struct {
	Meeting string `query:"meeting" maxLength:"120"`
	Car     string `query:"car" maxLength:"120"`
}) (*answer[[]season.Other], error) {
	s, _, err := h.seasonNow(ctx, false)
	if err != nil {
		return nil, refuse(err)
	}
	return &answer[[]season.Other]{s.Others(in.Meeting, in.Car)}, nil
}

// readSeason says what a pasted list of events, or a calendar, comes to. What is wanted of it is handed in as entries.
func (h *handlers) readSeason(_ context.Context, in *struct {
	Body struct {
		Text  string        `json:"text" minLength:"1" maxLength:"500000"`
		Order written.Order `json:"order,omitzero" enum:"dmy,mdy" doc:"How dates are meant that can be read two ways"`
	}
}) (*answer[season.Read], error) {
	if strings.Contains(in.Body.Text, "BEGIN:VCALENDAR") {
		out, err := logfile.ReadCalendar(in.Body.Text)
		if err != nil {
			return nil, refuse(log.Faults{{At: "/text", What: plain.Words(err)}})
		}
		return &answer[season.Read]{out}, nil
	}
	day, _ := h.today()
	return &answer[season.Read]{season.ReadLines(in.Body.Text, in.Body.Order, day)}, nil
}

// seasonPaper answers with the season's plan on one page.
func (h *handlers) seasonPaper(x fiber.Ctx) error {
	s, told, err := h.seasonNow(x.Context(), false)
	if err != nil {
		return err
	}
	board := s.Board()
	board.Record = season.Kept(told)
	pdf, err := papers.SeasonPlan(board, s.Todo(board), h.shop, h.rules(x.Context()).Shown)
	if err != nil {
		return err
	}
	x.Set("Content-Type", "application/pdf")
	x.Set("Content-Disposition", `inline; filename="`+say.Text("papers.season-plan-file")+`.pdf"`)
	return x.Send(pdf)
}

// plannedWork is what the season's plan has for the diary: tests, freshen-ups, rebuilds and swaps, on the last day to begin them.
// With known alone, only that on engines which have been weighed.
func (h *handlers) plannedWork(ctx context.Context, known bool) ([]DiaryItem, error) {
	if typed, _ := h.store.Season(); len(typed.Meetings) == 0 {
		return nil, nil
	}
	s, _, err := h.seasonNow(ctx, known)
	if err != nil {
		return nil, err
	}
	day, soonEnds := h.today()
	var all []DiaryItem
	board := s.Board()
	for _, t := range s.Todo(board) {
		i := diary.Item{
			ID:     "plan." + cmp.Or(t.Job, "swap."+t.Meeting+"."+t.Engine),
			Engine: t.Engine, Name: t.Name, Kind: diary.Plan, By: t.Begin,
			What: say.Text("season.diary-" + cmp.Or(string(t.Work), "swap")),
			Why:  say.Text("season.diary-why", "name", board.NameOf(t.Meeting), "why", say.Sentences(t.Why, t.When)),
		}
		all = append(all, DiaryItem{i, i.On(day, soonEnds)})
	}
	return all, nil
}
