package server

import (
	"context"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"braxel/internal/core/compare"
	"braxel/internal/core/judge"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/sheet"
	"braxel/internal/core/units"
	"braxel/internal/plain"
)

// ComparePage lays tests beside each other.
type ComparePage struct {
	Title    string              `json:"title"`
	Sentence string              `json:"sentence"`
	Columns  []CompareColumn     `json:"columns"`
	Result   *compare.Result     `json:"result,omitempty" doc:"First and last test compared, if both are of one engine"`
	Rank     []compare.Candidate `json:"rank" doc:"The engines in order, where there are several"`
}

// CompareColumn is one test as it is laid beside others.
type CompareColumn struct {
	Pick   string      `json:"pick" doc:"As in the address"`
	Engine string      `json:"engine"`
	Name   string      `json:"name"`
	About  string      `json:"about"`
	Test   string      `json:"test,omitzero"`
	Date   string      `json:"date,omitzero" format:"date"`
	Meter  *float64    `json:"meter,omitempty"`
	Unit   string      `json:"meter_unit,omitzero"`
	Stage  string      `json:"stage,omitzero"`
	Temp   string      `json:"temp,omitzero"`
	Build  string      `json:"build,omitzero" doc:"What kind of build it was"`
	Gauge  string      `json:"gauge,omitzero"`
	State  judge.State `json:"state" enum:"steady,retest,watch,act,stop"`
	Layout log.Layout  `json:"layout"`
	Press  units.Unit  `json:"unit"`
	Bores  []Bore      `json:"bores"`
}

func (h *handlers) compareRoutes(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "compare", Method: http.MethodGet, Path: "/api/compare"}, h.compare)
}

// pick is what an address names: an engine's last test, one test of it, or the baseline of one of its builds.
type pick struct{ engine, test, build string }

// readPick reads "engine", "engine:test" or "engine@build". What others have named may hold those signs itself: the engine is the
// shortest part before one that there is.
func readPick(text string, has func(engine string) bool) pick {
	for i, sign := range text {
		if (sign == ':' || sign == '@') && has(text[:i]) && !has(text) {
			rest := text[i+1:]
			if sign == ':' {
				return pick{engine: text[:i], test: rest}
			}
			return pick{engine: text[:i], build: rest}
		}
	}
	return pick{engine: text}
}

func (h *handlers) compare(ctx context.Context, in *struct {
	Of []string `query:"of,explode" minItems:"1" maxItems:"8" maxLength:"260" doc:"What to compare: engine, engine:test or engine@build"`
}) (*answer[ComparePage], error) {
	if len(in.Of) == 0 || in.Of[0] == "" {
		return nil, refuse(log.Faults{log.At("/of", "server.pick-what-compare-engine-or")})
	}
	shop := h.rules(ctx)
	page := ComparePage{Columns: []CompareColumn{}, Rank: []compare.Candidate{}}
	var engines []string
	logs, verdicts := map[string]log.Log{}, map[string]judge.Verdict{}
	for i, text := range in.Of {
		if slices.Contains(in.Of[:i], text) {
			continue
		}
		p := readPick(text, h.store.Has)
		if _, have := logs[p.engine]; !have {
			l, _, err := h.read(ctx, p.engine)
			if err != nil {
				return nil, refuse(err)
			}
			logs[p.engine], verdicts[p.engine] = l, h.memory(p.engine, shop.Shown)(l, shop)
			engines = append(engines, p.engine)
		}
		column, err := columnOf(logs[p.engine], verdicts[p.engine], p, shop)
		if err != nil {
			return nil, refuse(log.Faults{{At: "/of", What: plain.Words(err)}})
		}
		column.Pick = text
		page.Columns = append(page.Columns, column)
	}
	if len(engines) > 1 {
		var all []compare.One
		for _, id := range engines {
			all = append(all, compare.One{Log: logs[id], Verdict: verdicts[id]})
		}
		page.Rank = compare.Rank(all, shop)
		page.Title, page.Sentence = say.Text("server.engines-side-side"), compare.Best(page.Rank)
		return &answer[ComparePage]{page}, nil
	}
	l := logs[engines[0]]
	slices.SortStableFunc(page.Columns, func(a, b CompareColumn) int { return strings.Compare(a.Date, b.Date) })
	first, last := page.Columns[0], page.Columns[len(page.Columns)-1]
	page.Title = l.Engine.Name
	if first.Test == "" || last.Test == "" || first.Test == last.Test {
		page.Sentence = say.Text("server.pick-second-test-or-another")
		return &answer[ComparePage]{page}, nil
	}
	r, err := compare.Tests(l, verdicts[engines[0]], first.Test, last.Test, shop)
	if err != nil {
		return nil, refuse(log.Faults{{At: "/of", What: plain.Words(err)}})
	}
	page.Title, page.Sentence, page.Result = r.Title, r.Sentence, &r
	return &answer[ComparePage]{page}, nil
}

// columnOf lays one test: the one that is named, the baseline of a build, hot before cold, or the last.
func columnOf(l log.Log, verdict judge.Verdict, p pick, shop rules.Shop) (CompareColumn, error) {
	c := CompareColumn{
		Engine: l.Engine.ID, Name: l.Engine.Name, About: layout.Describe(l.Engine, shop.Shown), Unit: l.Engine.MeterUnit, State: judge.Steady,
		Layout: l.Engine.Layout, Press: sheet.Unit(l, shop.Shown), Bores: []Bore{},
	}
	at := -1
	switch {
	case p.test != "":
		at = l.At(p.test)
		if at < 0 {
			return c, say.Error("server.has-no-test-may-have", "name", l.Engine.Name, "test", p.test)
		}
	case p.build != "":
		if at = compare.BaselineOf(l, verdict, p.build); at < 0 {
			return c, say.Error("server.has-no-test-build", "name", l.Engine.Name, "build", p.build)
		}
	default:
		last, ok := verdict.Latest()
		if !ok {
			return c, nil
		}
		at = l.At(last.ID)
	}
	s, judged := l.Sessions[at], verdict.Sessions[at]
	c.Test, c.Date, c.Meter, c.Stage, c.Temp = s.ID, s.Date, s.Meter, s.Occasion(), s.Conditions.Temp()
	c.State, c.Gauge = judged.State, judge.GaugeOf(l, s)
	for _, b := range l.Builds {
		if b.ID == l.BuildOf(s) {
			c.Build = b.What
		}
	}
	leaks := map[int]*float64{}
	for _, f := range judge.Figures(l, s, shop) {
		if f.LeakSE > 0 {
			leaks[f.Cylinder] = &f.Leak
		}
	}
	for _, n := range l.Engine.Cylinders() {
		b := bore(l, judged, n, c.Press)
		b.LeakPct = leaks[n]
		c.Bores = append(c.Bores, b)
	}
	return c, nil
}
