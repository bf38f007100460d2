package server

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"math/rand/v2"
	"net"
	"net/http"
	"slices"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/bench"
	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/practice"
	"braxel/internal/core/say"
	"braxel/internal/gauges"
	"braxel/internal/plain"
	"braxel/internal/standin"
	"braxel/internal/store"
)

// practising is where engines are practised on: the course, the cases, and the one that is on the stand now. A nil one, of the workshop's
// own part, has none.
type practising struct {
	course practice.Course
	store  *store.Store
	room   *gauges.Room

	mu    sync.Mutex
	cases map[string]practice.Case
	stand *onStand
}

// onStand is the engine whose gauge speaks, until somebody tests another, or nobody does for a while.
type onStand struct {
	engine string
	stand  *standin.Stand
	cancel context.CancelFunc
	seen   time.Time
}

// benchName is what the engine's gauges are plugged into, and who it is that does what the engine does.
const benchName = "the bench"

// leftFor is how long an engine stays on the stand when no sheet says anything.
const leftFor = 20 * time.Minute

func newPractising(c Config, room *gauges.Room) *practising {
	if !c.practises {
		return nil
	}
	return &practising{store: c.Store, room: room}
}

// load reads the cases, once. The practising is locked.
func (p *practising) load(ctx context.Context) error {
	if p.cases != nil {
		return nil
	}
	all, err := p.store.Practice(ctx)
	if err != nil {
		return err
	}
	cases := map[string]practice.Case{}
	for engine, body := range all {
		var k practice.Case
		if err := json.Unmarshal(body, &k); err != nil {
			return say.Error("server.practice", "engine", engine, "err", err)
		}
		cases[engine] = k
	}
	p.cases, p.course = cases, practice.Load()
	return nil
}

// keep writes a case down. The practising is locked.
func (p *practising) keep(ctx context.Context, k practice.Case) error {
	body, err := json.Marshal(k)
	if err != nil {
		return err
	}
	p.cases[k.ID] = k
	return p.store.KeepPractice(ctx, k.ID, body)
}

// sit puts an engine on the stand whose sheet has just said something.
func (p *practising) sit(ctx context.Context, engine string) error {
	if p == nil {
		return nil
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	if err := p.load(ctx); err != nil {
		return err
	}
	if p.stand != nil && (p.stand.engine != engine || time.Since(p.stand.seen) > leftFor) {
		if err := p.takeOff(ctx); err != nil {
			return err
		}
	}
	k, ok := p.cases[engine]
	if !ok || k.Decision != nil {
		return nil
	}
	if p.stand != nil {
		p.stand.seen = time.Now()
		return nil
	}
	e := p.course.Bench(k)
	stand := standin.New(e, k.State, standin.Options{Gauge: p.course.Gauge(k), Seed: k.Seed, Missed: e.Missed, Sought: k.Sought})
	running, cancel := context.WithCancel(context.Background())
	press, hearsPress := net.Pipe()
	air, hearsAir := net.Pipe()
	for _, line := range []net.Conn{hearsPress, hearsAir} {
		go func() { _ = p.room.Listen(line, benchName, gauges.Lead{}) }()
	}
	go func() {
		stand.Run(running, press, air)
		_, _ = press.Close(), air.Close()
	}()
	p.stand = &onStand{engine, stand, cancel, time.Now()}
	return nil
}

// takeOff takes the engine off the stand as it is. The practising is locked.
func (p *practising) takeOff(ctx context.Context) error {
	if p.stand == nil {
		return nil
	}
	p.stand.cancel()
	k := p.cases[p.stand.engine]
	k.State, _ = p.stand.stand.State()
	p.stand = nil
	return p.keep(ctx, k)
}

func (p *practising) close() error {
	if p == nil {
		return nil
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	return p.takeOff(context.Background())
}

// PracticePage is the course, and the engines that somebody has begun with.
type PracticePage struct {
	Lessons []PracticeLesson  `json:"lessons"`
	Engines []string          `json:"engines" doc:"Engines to draw from"`
	Kinds   []practice.Choice `json:"kinds" doc:"Faults that may be hidden"`
	Drawn   []PracticeTry     `json:"drawn" doc:"Engines drawn so far, latest first"`
}

// PracticeLesson is an engine of the course, with the last try and the best.
type PracticeLesson struct {
	ID    string       `json:"id"`
	Name  string       `json:"name"`
	Level int          `json:"level"`
	Says  string       `json:"says"`
	Last  *PracticeTry `json:"last,omitempty"`
	Right bool         `json:"right,omitzero" doc:"It has been judged right at least once"`
}

// PracticeTry is an engine that somebody has begun with.
type PracticeTry struct {
	Engine  string `json:"engine"`
	Test    string `json:"test"`
	Name    string `json:"name"`
	Begun   string `json:"begun"`
	Decided bool   `json:"decided,omitzero"`
	Right   bool   `json:"right,omitzero" doc:"What is wrong, where, and whether it may be run"`
}

// PracticeCase is an engine that is practised on, without what is hidden in it.
type PracticeCase struct {
	PracticeTry
	Says      string             `json:"says"`
	Minutes   float64            `json:"minutes" doc:"Minutes taken so far"`
	Costs     map[string]float64 `json:"costs" doc:"Minutes each action takes"`
	Acts      []practice.Act     `json:"acts"`
	Choices   []practice.Choice  `json:"choices"`
	Cylinders []int              `json:"cylinders"`
	Airing    int                `json:"airing,omitzero" doc:"The cylinder with air on it"`
}

func (h *handlers) practiceRoutes(app routes, api huma.API) {
	app.get("/api/practice-camera", h.practiceCamera)
	const one = "/api/practice/{engine}"
	huma.Register(api, huma.Operation{OperationID: "practice", Method: http.MethodGet, Path: "/api/practice"}, h.practicePage)
	huma.Register(api, huma.Operation{
		OperationID: "begin-practice", Method: http.MethodPost, Path: "/api/practice", DefaultStatus: http.StatusCreated,
	}, h.beginPractice)
	huma.Register(api, huma.Operation{OperationID: "practice-case", Method: http.MethodGet, Path: one}, h.practiceCase)
	huma.Register(api, huma.Operation{OperationID: "practice-do", Method: http.MethodPost, Path: one + "/do"}, h.practiceDo)
	huma.Register(api, huma.Operation{OperationID: "practice-decide", Method: http.MethodPost, Path: one + "/decide"}, h.practiceDecide)
	huma.Register(api, huma.Operation{OperationID: "practice-debrief", Method: http.MethodGet, Path: one + "/debrief"}, h.practiceDebrief)
}

// errNoPractice is what the workshop's own part answers.
var errNoPractice = huma.Error404NotFound(say.Text("server.practice-has-own-address-practice"))

// enter locks the practising, with its cases read.
func (h *handlers) enterPractice(ctx context.Context) (*practising, func(), error) {
	p := h.practice
	if p == nil {
		return nil, nil, errNoPractice
	}
	p.mu.Lock()
	if err := p.load(ctx); err != nil {
		p.mu.Unlock()
		return nil, nil, err
	}
	return p, p.mu.Unlock, nil
}

func tryOf(k practice.Case) PracticeTry {
	t := PracticeTry{Engine: k.ID, Test: k.Test, Name: k.Lesson.Name, Begun: k.Begun, Decided: k.Decision != nil}
	t.Right = t.Decided && k.Right()
	return t
}

func (h *handlers) practicePage(ctx context.Context, _ *struct{}) (*answer[PracticePage], error) {
	p, leave, err := h.enterPractice(ctx)
	if err != nil {
		return nil, err
	}
	defer leave()
	out := PracticePage{
		Engines: slices.Sorted(maps.Keys(p.course.Engines)), Kinds: practice.Choices(log.FourStroke),
		Lessons: []PracticeLesson{}, Drawn: []PracticeTry{},
	}
	all := slices.SortedFunc(maps.Values(p.cases), func(a, b practice.Case) int { return cmp.Compare(a.Begun, b.Begun) })
	for _, l := range p.course.Lessons {
		one := PracticeLesson{ID: l.ID, Name: l.Name, Level: l.Level, Says: l.Says}
		for _, k := range all {
			if k.Lesson.ID == l.ID {
				last := tryOf(k)
				one.Last, one.Right = &last, one.Right || last.Right
			}
		}
		out.Lessons = append(out.Lessons, one)
	}
	for _, k := range slices.Backward(all) {
		if k.Lesson.ID == "drawn" {
			out.Drawn = append(out.Drawn, tryOf(k))
		}
	}
	return &answer[PracticePage]{out}, nil
}

// beginIn is which engine is put on the stand: one of the course, or one that is drawn.
type beginIn struct {
	Body struct {
		Lesson string `json:"lesson,omitzero" maxLength:"40"`
		Engine string `json:"engine,omitzero" maxLength:"40"`
		Hide   string `json:"hide,omitzero" maxLength:"40" doc:"The hidden fault; drawn by Braxel if left out"`
		Seed   uint64 `json:"seed,omitzero" doc:"Seed of the random scatter; 0 for any"`
	}
}

// toBegin are the things that practice's workshop has, and a new engine with its test.
func toBegin(k practice.Case, e log.Engine, cold bool, now time.Time) ([]book.Entry, error) {
	second := bench.Usual.Gauge
	second.ID, second.Name = "second-gauge", "second gauge"
	heat := "hot"
	if cold {
		heat = "cold"
	}
	var all []book.Entry
	for _, one := range []struct {
		engine, kind string
		body         any
	}{
		{"", book.Tester, bench.Usual.Gauge}, {"", book.Tester, bench.Usual.Kit}, {"", book.Tester, second}, {k.ID, book.Engine, e},
		{k.ID, book.Test, testOf(k.Test, heat, now)},
	} {
		text, err := json.Marshal(one.body)
		if err != nil {
			return nil, err
		}
		all = append(all, ofBench(fmt.Sprintf("%s-%d", k.ID, len(all)), one.engine, one.kind, text, now))
	}
	return all, nil
}

// ofBench is an entry that the bench makes.
func ofBench(id, engine, kind string, body []byte, now time.Time) book.Entry {
	return book.Entry{
		ID: id, At: now.UTC().Format(book.Clock), By: benchName, Engine: engine, Kind: kind, Body: jsontext.Value(body), Sure: true,
	}
}

// testOf is the head of a test on the stand.
func testOf(id, heat string, now time.Time) map[string]any {
	return map[string]any{
		"id": id, "date": now.Format(time.DateOnly), "open": true, "stage": "as-found", "baseline": true, "place": "stand",
		"gauge": bench.Usual.Gauge.ID, "kit": bench.Usual.Kit.ID,
		"conditions": log.Conditions{EngineTemp: heat, Throttle: "open", PlugsOut: "all", Cranking: log.Cranking{Rule: "plateau"}},
	}
}

func (h *handlers) beginPractice(ctx context.Context, in *beginIn) (*answer[PracticeTry], error) {
	p, leave, err := h.enterPractice(ctx)
	if err != nil {
		return nil, err
	}
	defer leave()
	seed := in.Body.Seed
	if seed == 0 {
		seed = uint64(rand.Uint32())
	}
	l, ok := p.course.Lesson(in.Body.Lesson)
	if !ok {
		if in.Body.Lesson != "" {
			return nil, huma.Error422UnprocessableEntity(say.Text("server.lesson-there-none-name"))
		}
		if l, err = p.course.Drawn(in.Body.Engine, in.Body.Hide, seed); err != nil {
			return nil, huma.Error422UnprocessableEntity(plain.Words(err))
		}
	}
	now := h.now()
	id := fmt.Sprintf("p%x%x", now.UnixNano(), seed%4096)
	k := p.course.New(id, id+"-1", l, seed, now)
	entries, err := toBegin(k, p.course.Spec(l, seed).Engine, l.Cold, now)
	if err != nil {
		return nil, err
	}
	if err := h.put(ctx, entries); err != nil {
		return nil, err
	}
	if err := p.keep(ctx, k); err != nil {
		return nil, err
	}
	return &answer[PracticeTry]{tryOf(k)}, nil
}

// put writes entries that the program itself makes.
func (h *handlers) put(ctx context.Context, entries []book.Entry) error {
	answers, err := h.store.Append(ctx, entries, h.now())
	if err != nil {
		return err
	}
	for _, a := range answers {
		if a.Result == book.IsRefused {
			return say.Error("server.practice-2", "id", a.ID, "why", a.Why)
		}
	}
	return nil
}

// PracticeIn names an engine that is practised on.
type PracticeIn struct {
	Engine string `path:"engine" maxLength:"120"`
}

// onCase does something with a case, while nobody else does anything with any.
func onCase[T any](ctx context.Context, h *handlers, engine string, do func(*practising, practice.Case) (T, error)) (*answer[T], error) {
	p, leave, err := h.enterPractice(ctx)
	if err != nil {
		return nil, err
	}
	defer leave()
	k, err := p.theCase(engine)
	if err != nil {
		return nil, err
	}
	out, err := do(p, k)
	if err != nil {
		return nil, err
	}
	return &answer[T]{out}, nil
}

// theCase returns a case by its engine.
func (p *practising) theCase(engine string) (practice.Case, error) {
	k, ok := p.cases[engine]
	if !ok {
		return k, huma.Error404NotFound(say.Text("server.engine-not-practice"))
	}
	if stand := p.standing(engine); stand != nil {
		k.State, _ = stand.State()
	}
	return k, nil
}

func (h *handlers) practiceCase(ctx context.Context, in *PracticeIn) (*answer[PracticeCase], error) {
	return onCase(ctx, h, in.Engine, func(p *practising, k practice.Case) (PracticeCase, error) {
		entries, err := h.store.Record(ctx, in.Engine)
		if err != nil {
			return PracticeCase{}, err
		}
		e := p.course.Engines[k.Lesson.Engine]
		out := PracticeCase{
			PracticeTry: tryOf(k), Says: k.Lesson.Says, Minutes: p.course.Took(k, entries), Costs: p.course.Minutes,
			Acts: slices.Concat([]practice.Act{}, k.Acts), Choices: practice.Choices(e.Kind), Cylinders: e.Cylinders(),
		}
		if stand := p.standing(in.Engine); stand != nil {
			out.Airing = stand.Airing()
		}
		return out, nil
	})
}

// standing returns the stand that an engine is on, nil where it is on none.
func (p *practising) standing(engine string) *standin.Stand {
	if p.stand == nil || p.stand.engine != engine {
		return nil
	}
	return p.stand.stand
}

// PracticeDone is what came of something that was done to an engine.
type PracticeDone struct {
	practice.Act
	Look *log.Observation `json:"look,omitempty" doc:"What to write on the sheet"`
	Test string           `json:"test" doc:"The test to continue; a new one if the engine was warmed up"`
}

func (h *handlers) practiceDo(ctx context.Context, in *struct {
	PracticeIn
	Body practice.Act
}) (*answer[PracticeDone], error) {
	return onCase(ctx, h, in.Engine, func(p *practising, k practice.Case) (PracticeDone, error) {
		stand, a, airing := p.standing(in.Engine), in.Body, 0
		if stand != nil {
			airing = stand.Airing()
		}
		if a.What == "listen" && airing > 0 {
			a.Cylinder = airing
		}
		now := h.now()
		k, done, look, err := p.course.Do(k, a, airing > 0, now)
		if err != nil {
			return PracticeDone{}, huma.Error422UnprocessableEntity(plain.Words(err))
		}
		if stand != nil {
			stand.Change(func(bench.State) bench.State { return k.State })
			if a.What == "tdc" {
				stand.Seek(a.Cylinder)
			}
			if a.What == "gauge" {
				stand.Swap(p.course.Gauge(k))
			}
		}
		if err := h.afterDoing(ctx, &k, a, now); err != nil {
			return PracticeDone{}, err
		}
		return PracticeDone{done, look, k.Test}, p.keep(ctx, k)
	})
}

// afterDoing writes on the sheet what changed with the way of testing: an engine that was run warm begins another test.
func (h *handlers) afterDoing(ctx context.Context, k *practice.Case, a practice.Act, now time.Time) error {
	var body map[string]any
	switch a.What {
	case "warm":
		k.Test = fmt.Sprintf("%s-%d", k.ID, len(k.Acts)+1)
		body = testOf(k.Test, "hot", now)
		body["baseline"] = false
	case "gauge":
		body = map[string]any{"id": k.Test, "gauge": "second-gauge"}
	default:
		return nil
	}
	text, err := json.Marshal(body)
	if err != nil {
		return err
	}
	return h.put(ctx, []book.Entry{ofBench(fmt.Sprintf("%s-a%d", k.ID, len(k.Acts)), k.ID, book.Test, text, now)})
}

func (h *handlers) practiceDecide(ctx context.Context, in *struct {
	PracticeIn
	Body practice.Decision
}) (*answer[practice.Debrief], error) {
	return onCase(ctx, h, in.Engine, func(p *practising, k practice.Case) (practice.Debrief, error) {
		if err := p.course.Decide(&k, in.Body, h.now()); err != nil {
			return practice.Debrief{}, huma.Error422UnprocessableEntity(plain.Words(err))
		}
		if p.standing(in.Engine) != nil {
			if err := p.takeOff(ctx); err != nil {
				return practice.Debrief{}, err
			}
		}
		if err := p.keep(ctx, k); err != nil {
			return practice.Debrief{}, err
		}
		return h.debriefOf(ctx, p, k)
	})
}

func (h *handlers) practiceDebrief(ctx context.Context, in *PracticeIn) (*answer[practice.Debrief], error) {
	return onCase(ctx, h, in.Engine, func(p *practising, k practice.Case) (practice.Debrief, error) {
		if k.Decision == nil {
			return practice.Debrief{}, huma.Error409Conflict(say.Text("server.decide-first"))
		}
		return h.debriefOf(ctx, p, k)
	})
}

func (h *handlers) debriefOf(ctx context.Context, p *practising, k practice.Case) (practice.Debrief, error) {
	entries, err := h.store.Record(ctx, k.ID)
	if err != nil {
		return practice.Debrief{}, err
	}
	shop, err := h.store.Record(ctx, "")
	if err != nil {
		return practice.Debrief{}, err
	}
	return p.course.Debrief(k, book.Replay("", shop), entries), nil
}
