package server

import (
	"cmp"
	"context"
	"log/slog"
	"net/http"
	"slices"
	"strings"
	"sync"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-json-experiment/json"

	"braxel/internal/core/compare"
	"braxel/internal/core/diary"
	"braxel/internal/core/judge"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/store"
)

// RackEngine is one engine on the rack.
type RackEngine struct {
	ID        string          `json:"id"`
	Name      string          `json:"name"`
	Owner     string          `json:"owner,omitzero"`
	About     string          `json:"about"`
	Called    string          `json:"called,omitzero" doc:"What it is, without its size"`
	CC        float64         `json:"displacement_cc,omitzero"`
	Layout    log.Layout      `json:"layout"`
	State     judge.State     `json:"state,omitzero" enum:"steady,retest,watch,act,stop" doc:"None while there is no verdict"`
	Headline  string          `json:"headline" doc:"The one thing that matters, in 60 letters at most"`
	Sentence  string          `json:"sentence"`
	Tests     int             `json:"tests"`
	LastTest  string          `json:"last_test,omitzero" format:"date"`
	Meter     *float64        `json:"meter,omitempty"`
	MeterUnit string          `json:"meter_unit,omitzero"`
	Place     string          `json:"place,omitzero" enum:"car,stand,sold"`
	Duty      string          `json:"duty,omitzero"`
	Words     string          `json:"words,omitzero" doc:"More words to search by: notes, builds, cylinders' names"`
	Offers    []compare.Offer `json:"offers" doc:"Comparisons that its tests suggest, the latest first, two at most"`
	Diary     []DiaryItem     `json:"diary" doc:"What is due on it, the most pressing first"`
	Bores     []RackBore      `json:"bores" doc:"Cylinders that aren't steady"`
	Away      bool            `json:"away,omitzero" doc:"Archived or deleted: not on the rack"`
	Pending   bool            `json:"pending,omitzero" doc:"It is being judged again; the verdict shown is the earlier one"`
}

// mostOffers is how many comparisons an engine offers on the page that compares.
const mostOffers = 2

// RackBore is one cylinder on an engine's small bore plan.
type RackBore struct {
	Cylinder int         `json:"cylinder"`
	State    judge.State `json:"state" enum:"steady,retest,watch,act,stop"`
}

// Rack is every engine, the most urgent first, and the workshop's name.
type Rack struct {
	Shop    string       `json:"shop"`
	Engines []RackEngine `json:"engines"`
	Away    []RackEngine `json:"away" doc:"Archived or deleted"`
	Pending int          `json:"pending,omitzero" doc:"How many engines are being judged again; ask again soon"`
}

type answer[T any] struct{ Body T }

func (h *handlers) rackRoutes(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "rack", Method: http.MethodGet, Path: "/api/rack"}, h.rack)
	huma.Register(api, huma.Operation{OperationID: "layouts", Method: http.MethodGet, Path: "/api/layouts"}, h.layouts)
}

// rackMade is the rack as it was last answered, and the store's stamp and the day that it holds for: what is due goes by the day.
type rackMade struct {
	mu    sync.Mutex
	stamp int
	day   string
	rack  *Rack
}

func (h *handlers) rack(ctx context.Context, _ *struct{}) (*answer[Rack], error) {
	rack, err := h.racked(ctx)
	if err != nil {
		return nil, err
	}
	if shown := h.rules(ctx).Shown; shown.Volume != h.store.Rules().Shown.Volume {
		return &answer[Rack]{sized(*rack, shown)}, nil
	}
	return &answer[Rack]{*rack}, nil
}

// sized says the engines' sizes as whoever asks has them; the rest of a rack is made once for all.
func sized(rack Rack, shown units.Choice) Rack {
	for _, all := range []*[]RackEngine{&rack.Engines, &rack.Away} {
		*all = slices.Clone(*all)
		for i, e := range *all {
			if e.Called != "" {
				(*all)[i].About = layout.Sized(e.CC, e.Called, shown)
			}
		}
	}
	return rack
}

// racked returns the rack as it stands now. It is not to be changed.
func (h *handlers) racked(ctx context.Context) (*Rack, error) {
	h.lastRack.mu.Lock()
	defer h.lastRack.mu.Unlock()
	stamp := h.store.Stamp()
	day, _ := h.today()
	if h.lastRack.rack != nil && h.lastRack.stamp == stamp && h.lastRack.day == day {
		return h.lastRack.rack, nil
	}
	rack, whole, err := h.makeRack(ctx)
	if err != nil {
		return nil, err
	}
	h.lastRack.stamp, h.lastRack.day, h.lastRack.rack = stamp, day, nil
	if whole {
		h.lastRack.rack = &rack
	}
	return &rack, nil
}

// makeRack makes the rack of what is kept; whole is false where an engine could not be read or is still being judged, so that it is
// made again.
func (h *handlers) makeRack(ctx context.Context) (rack Rack, whole bool, err error) {
	made, err := h.store.Rack(ctx, judge.Edition)
	if err != nil {
		return rack, false, err
	}
	var names map[string]string
	if stale := staleOf(made); len(stale) <= atOnce {
		err = h.makeAnew(ctx, stale, func() {})
	} else {
		h.anew.begin(h.makeAllAnew)
		names = h.store.Names()
	}
	if err != nil {
		return rack, false, err
	}
	whole = true
	day, soonEnds := h.today()
	rack = Rack{Shop: h.shop, Engines: []RackEngine{}, Away: []RackEngine{}}
	for _, m := range made {
		var one RackEngine
		switch {
		case m.Rack == nil:
			one = RackEngine{
				ID: m.Engine, Name: cmp.Or(names[m.Engine], m.Engine), State: judge.Retest, Bores: []RackBore{}, Diary: []DiaryItem{},
				Offers: []compare.Offer{},
			}
		case json.Unmarshal(m.Rack, &one) != nil:
			one = spoiled(m.Engine)
		}
		if one.Pending = !m.Holds; one.Pending {
			rack.Pending++
		}
		for i := range one.Diary {
			one.Diary[i].Standing = one.Diary[i].On(day, soonEnds)
		}
		whole = whole && m.Holds && m.Spreads != nil
		if one.Away {
			rack.Away = append(rack.Away, one)
		} else {
			rack.Engines = append(rack.Engines, one)
		}
	}
	slices.SortStableFunc(rack.Engines, func(a, b RackEngine) int { return b.State.Severity() - a.State.Severity() })
	return rack, whole, nil
}

// makeOne makes what the rack shows of an engine. One that cannot be read or judged spoils its own line, and is not kept so.
func (h *handlers) makeOne(ctx context.Context, m *store.Made) (err error) {
	m.Holds = true
	spoil := func(why any) {
		slog.Error(say.Text("server.engine-cant-judged"), "engine", m.Engine, "why", why)
		m.Spreads = nil
		m.Rack, err = json.Marshal(spoiled(m.Engine))
	}
	defer func() {
		if why := recover(); why != nil {
			spoil(why)
		}
	}()
	v, unread := h.store.View(ctx, m.Engine)
	if unread != nil {
		spoil(unread)
		return err
	}
	l := v.Log.Standing()
	shop := h.store.Rules()
	row := summarize(l, h.recall(m.Engine, shop.Shown)(l, shop), shop.Shown)
	row.Away = v.Struck != "" || l.Engine.Archived
	if l.Engine.Name == "" {
		row = spoiled(m.Engine)
	}
	if m.Spreads, err = json.Marshal(reading.Spreads(l)); err != nil {
		return err
	}
	m.Rack, err = json.Marshal(row)
	return err
}

// spoiled is the line of an engine that cannot be read.
func spoiled(id string) RackEngine {
	return RackEngine{
		ID:       id,
		Name:     id,
		State:    judge.Retest,
		Headline: say.Text("server.cant-be-read"),
		Sentence: say.Text("server.engine-cant-read-others-fine"),
		Bores:    []RackBore{},
		Offers:   []compare.Offer{},
		Diary:    []DiaryItem{},
	}
}

func summarize(l log.Log, verdict judge.Verdict, shown units.Choice) RackEngine {
	e := l.Engine
	row := RackEngine{
		ID: e.ID, Name: e.Name, Owner: e.Owner, About: layout.Describe(e, shown), Called: layout.Called(e), CC: layout.Size(e),
		Layout: e.Layout, MeterUnit: e.MeterUnit,
		Headline: say.Text("server.not-tested"), Sentence: say.Text("server.not-tested-yet"), Tests: len(l.Sessions),
	}
	last, ok := verdict.Latest()
	if ok {
		row.State, row.Headline, row.Sentence = last.Mark, last.Headline, last.Sentence
		row.LastTest, row.Meter = l.Sessions[len(l.Sessions)-1].Date, l.Sessions[len(l.Sessions)-1].Meter
	}
	row.Place, row.Duty, row.Words = e.Stands, e.Duty, wordsOf(l)
	row.Diary = []DiaryItem{}
	for _, i := range diary.Of(l, verdict) {
		row.Diary = append(row.Diary, DiaryItem{Item: i})
	}
	offers := compare.Offers(l, verdict, shown)
	row.Offers = offers[:min(len(offers), mostOffers)]
	row.Bores = []RackBore{}
	for _, c := range e.Cylinders() {
		if state := last.Of(c).State; state != judge.Steady {
			row.Bores = append(row.Bores, RackBore{c, state})
		}
	}
	return row
}

// wordsOf gathers what an engine is found by beside its name and its owner.
func wordsOf(l log.Log) string {
	const enough = 600
	words := []string{l.Engine.Note}
	for _, n := range l.Engine.Identity.Numbers() {
		words = append(words, n[1])
	}
	if i := l.Engine.Identity; i != nil {
		words = append(words, i.Builder, i.Phone, i.Email)
		for _, o := range i.Owners {
			words = append(words, o.Name)
		}
	}
	for _, name := range l.Engine.Layout.Names {
		words = append(words, name)
	}
	slices.Sort(words)
	for _, b := range l.Builds {
		words = append(words, b.What)
	}
	for _, n := range slices.Backward(l.Notes) {
		words = append(words, n.Text)
	}
	runes := []rune(strings.TrimSpace(strings.Join(words, " ")))
	return string(runes[:min(len(runes), enough)])
}

func (h *handlers) layouts(context.Context, *struct{}) (*answer[[]layout.Preset], error) {
	return &answer[[]layout.Preset]{layout.Presets()}, nil
}
