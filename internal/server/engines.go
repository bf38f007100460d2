package server

import (
	"context"
	"maps"
	"net/http"
	"slices"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gofiber/fiber/v3"

	"braxel/internal/core/book"
	"braxel/internal/core/compare"
	"braxel/internal/core/diary"
	"braxel/internal/core/inspect"
	"braxel/internal/core/judge"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/sheet"
	"braxel/internal/core/strips"
	"braxel/internal/core/units"
	"braxel/internal/gauges"
	"braxel/internal/logfile"
	"braxel/internal/store"
)

type handlers struct {
	store  *store.Store
	now    func() time.Time
	shop   string
	hub    *hub
	pool   *pool
	judged memories

	lastRack rackMade
	anew     *behind

	door   *Door
	ways   func() []string
	secure bool

	gauges   *gauges.Room
	reels    *reels
	practice *practising
	restart  func(from string)
	copying  *copying
	restored string // why a copy could not be put back
	jobs     jobs
	seasons  seasons
	weighing *behind
}

// Bore is one cylinder on the bore plan, its figures as they are to be shown.
type Bore struct {
	Cylinder  int         `json:"cylinder"`
	Name      string      `json:"name,omitzero" doc:"The owner's own name for it"`
	Place     string      `json:"place"`
	State     judge.State `json:"state" enum:"steady,retest,watch,act,stop"`
	Reading   string      `json:"reading,omitzero"`
	Faces     []string    `json:"faces,omitempty" doc:"A rotor's faces, as read"`
	Unit      units.Unit  `json:"unit,omitzero"`
	ChangePct *float64    `json:"change_pct,omitempty"`
	LeakPct   *float64    `json:"leak_pct,omitempty"`
	Why       []string    `json:"why"`
}

// Test is the head of one session on the timeline, with its judgement.
type Test struct {
	log.Session
	Testers []string      `json:"testers" doc:"Names of the testers used"`
	Photos  []string      `json:"photos" doc:"Keys of its pictures"`
	Verdict judge.Session `json:"verdict"`
}

// CheckedLine is an inspection in a line.
type CheckedLine struct {
	Session string `json:"session"`
	Date    string `json:"date"`
	Heading string `json:"heading"`
}

// EnginePage is one engine's truth.
type EnginePage struct {
	Engine   log.Engine          `json:"engine"`
	About    string              `json:"about"`
	State    judge.State         `json:"state,omitzero" enum:"steady,retest,watch,act,stop" doc:"None while there is no verdict"`
	Headline string              `json:"headline" doc:"The one thing that matters, in 60 letters at most"`
	Sentence string              `json:"sentence"`
	Decision string              `json:"decision,omitzero" doc:"Whether to run it, and what to do"`
	Beside   string              `json:"beside,omitzero" doc:"Why Braxel disagrees with the trade's rules, if it does"`
	Unit     units.Unit          `json:"unit"`
	Bores    []Bore              `json:"bores"`
	Builds   []log.Build         `json:"builds"`
	Events   []log.Event         `json:"events"`
	Notes    []log.Note          `json:"notes"`
	Tests    []Test              `json:"tests" doc:"In time order, without their readings"`
	Causes   []judge.Cause       `json:"causes" doc:"Possible causes by the last test, most probable first"`
	Next     *judge.Next         `json:"next,omitempty"`
	Diary    []DiaryItem         `json:"diary" doc:"What is due on it"`
	Strips   strips.Strips       `json:"strips"`
	Offers   []compare.Offer     `json:"offers" doc:"Comparisons that its tests allow"`
	Latest   *judge.Session      `json:"latest,omitempty" doc:"The full verdict of the last test"`
	Caveats  []string            `json:"caveats"`
	Gaskets  [][]int             `json:"gaskets" doc:"Pairs of cylinders with a suspect head gasket between them"`
	Open     string              `json:"open,omitzero" doc:"The unfinished test"`
	Evenness []reading.Judgement `json:"evenness" doc:"The last test by each evenness rule"`
	Found    []inspect.Pair      `json:"found" doc:"What was found on opening, with what had been said before"`
	Checked  *CheckedLine        `json:"checked,omitempty" doc:"Its last inspection"`
	Begin    log.Session         `json:"begin" doc:"The head of the next test, filled in from the last"`
	Clashes  []string            `json:"clashes" doc:"Fields that two people changed without seeing each other's change"`
	Unplaced int                 `json:"unplaced" doc:"How many entries are shown only in the history"`
	Struck   string              `json:"struck,omitzero" doc:"Why the engine was deleted"`
	Behind   map[string]string   `json:"behind" doc:"The entries behind builds, events and notes, by kind and key; engine is the one that created it"`
}

// EngineIn names the engine in the path.
type EngineIn struct {
	ID string `path:"engine" maxLength:"120"`
}

func (h *handlers) engineRoutes(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "engine", Method: http.MethodGet, Path: "/api/engines/{engine}"}, h.engine)
	huma.Register(api, huma.Operation{OperationID: "record", Method: http.MethodGet, Path: "/api/engines/{engine}/record"}, h.record)
	huma.Register(api, huma.Operation{OperationID: "shop-record", Method: http.MethodGet, Path: "/api/record"}, h.shopRecord)
}

// download answers with an engine and all its history, in the open format.
func (h *handlers) download(x fiber.Ctx) error {
	l, _, err := h.store.Log(x.Context(), unescape(x.Params("engine")))
	if err != nil {
		return fiber.NewError(http.StatusNotFound, say.Text("server.there-no-engine-name"))
	}
	text, err := logfile.Write(l)
	if err != nil {
		return err
	}
	x.Set("Content-Type", "application/json; charset=utf-8")
	x.Set("Content-Disposition", `attachment; filename="`+book.Slug(l.Engine.Name, "engine")+`.json"`)
	return x.Send(text)
}

func (h *handlers) engine(ctx context.Context, in *EngineIn) (*answer[EnginePage], error) {
	v, err := h.store.View(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	l, shop := v.Log.Standing(), h.rules(ctx)
	verdict := h.memory(in.ID, shop.Shown)(l, shop)
	p := page(l, verdict, shop)
	day, soonEnds := h.today()
	for _, i := range diary.Of(l, verdict) {
		p.Diary = append(p.Diary, DiaryItem{i, i.On(day, soonEnds)})
	}
	p.Strips = strips.Of(v.Log, verdict, p.Unit, shop)
	p.Offers = compare.Offers(l, verdict, shop.Shown)
	p.Begin = sheet.Begin(l, day, shop)
	p.Struck, p.Unplaced, p.Behind = v.Struck, len(v.Unplaced), v.Behind
	// What was struck is shown where it stood, so that it can be counted again there.
	p.Builds, p.Events, p.Notes = v.Log.Builds, v.Log.Events, v.Log.Notes
	for _, id := range slices.Sorted(maps.Keys(v.Clashes)) {
		for _, c := range v.Clashes[id] {
			words := c.Words
			if id != "" {
				words = say.Text("server.test", "id", id, "words", words)
			}
			p.Clashes = append(p.Clashes, words)
		}
	}
	return &answer[EnginePage]{p}, nil
}

func page(l log.Log, verdict judge.Verdict, shop rules.Shop) EnginePage {
	p := EnginePage{
		Engine: l.Engine, About: layout.Describe(l.Engine, shop.Shown),
		Headline: say.Text("server.not-tested"), Sentence: say.Text("server.not-tested-yet-first-test"),
		Unit: sheet.Unit(l, shop.Shown), Open: sheet.Open(l), Builds: l.Builds, Events: l.Events, Notes: l.Notes,
		Clashes: []string{}, Tests: []Test{}, Causes: []judge.Cause{}, Caveats: []string{}, Gaskets: [][]int{},
		Evenness: []reading.Judgement{}, Diary: []DiaryItem{},
	}
	for i, s := range l.Sessions {
		names, photos := testerNames(l, s), photosOf(s)
		s.Compression, s.Leakdown, s.Observations = nil, nil, nil
		p.Tests = append(p.Tests, Test{s, names, photos, verdict.Sessions[i].Brief()})
	}
	p.Found = inspect.Pairs(l, verdict)
	if at, r, ok := inspect.Latest(l, verdict, shop.Shown); ok {
		p.Checked = &CheckedLine{l.Sessions[at].ID, l.Sessions[at].Date, r.Heading}
	}
	last, ok := verdict.Latest()
	if ok {
		p.State, p.Headline, p.Sentence, p.Decision, p.Beside = last.Mark, last.Headline, last.Sentence, last.Decision, last.Beside
		p.Latest = &last
		p.Next, p.Gaskets = last.Next, last.Gaskets()
		p.Caveats = append(p.Caveats, last.Caveats...)
		if last.Causes[0].Cause != "healthy" {
			p.Causes = last.Causes
		}
		way := shop.TestedBy(l, l.Sessions[l.At(last.ID)])
		p.Evenness = append(p.Evenness, reading.BySchools(l.Engine, last.Pressures(), way.Evenness, p.Unit)...)
		p.Evenness = append(p.Evenness, reading.LeaksBySchools(l.Engine, last.Leaks(), way)...)
	}
	for _, c := range l.Engine.Cylinders() {
		p.Bores = append(p.Bores, bore(l, last, c, p.Unit))
	}
	return p
}

func bore(l log.Log, last judge.Session, cylinder int, unit units.Unit) Bore {
	c := last.Of(cylinder)
	b := Bore{
		Cylinder:  cylinder,
		Name:      l.Engine.Layout.Names[strconv.Itoa(cylinder)],
		Place:     layout.Place(l.Engine.Layout, cylinder),
		State:     c.State,
		Unit:      unit,
		ChangePct: c.ChangePct,
		LeakPct:   c.Leak,
		Why:       c.Why,
	}
	for _, f := range c.Faces {
		b.Faces = append(b.Faces, units.Pressure(f).Digits(unit))
	}
	if c.Compression != nil {
		b.Reading = units.Pressure(*c.Compression).Digits(unit)
	}
	return b
}

// photosOf returns the keys of a session's pictures.
func photosOf(s log.Session) []string {
	keys := []string{}
	for _, o := range s.Observations {
		if o.Finding == "photo" && o.Key != "" {
			keys = append(keys, o.Key)
		}
	}
	return keys
}

func testerNames(l log.Log, s log.Session) []string {
	names, seen := []string{}, map[string]bool{"": true}
	for _, row := range s.Compression {
		if t, ok := l.Tester(row.Tester); ok && !seen[t.ID] {
			seen[t.ID] = true
			names = append(names, t.Name)
		}
	}
	return names
}
