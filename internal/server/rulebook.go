package server

import (
	"context"
	"net/http"
	"slices"

	"github.com/danielgtaylor/huma/v2"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/prepare"
	"braxel/internal/core/rules"
	"braxel/internal/core/sheet"
	"braxel/internal/core/units"
)

// Rulebook is what a browser has to know of the job while the server is away, so that it decides nothing of it by itself.
type Rulebook struct {
	Steps       map[string][]sheet.SheetStep   `json:"steps" doc:"Steps of a test, by kind of engine"`
	Begin       log.Session                    `json:"begin" doc:"The protocol for an engine about which nothing is known"`
	Protocol    rules.Protocol                 `json:"protocol" doc:"The protocol of such an engine"`
	Enough      int                            `json:"enough" doc:"Readings per cylinder"`
	Crank       sheet.Crank                    `json:"crank" doc:"How long the starter may run and must rest"`
	Intervals   []Every                        `json:"intervals"`
	Happenings  []rules.Happening              `json:"happenings" doc:"Events an engine may have, and what each calls for"`
	Works       []rules.Work                   `json:"works" doc:"Repairs that an engine may be given, by the kind of engine that has them; the last is any other"`
	Looks       map[string]map[string][]string `json:"looks" doc:"The usual findings to choose from, by kind of engine and by what was looked at; the first is the good one"`
	Measures    []units.Quantity               `json:"measures" doc:"The units in which figures may be typed, by what they measure; the logs' own first"`
	Shown       units.Choice                   `json:"shown" doc:"The units that the workshop chose"`
	Reliability []judge.Reliable               `json:"reliability" doc:"How often the words for a cause were right on engines whose fault is known"`
}

// Every is how long engines of a duty are left between tests: by each unit of a meter, where it has a figure, and in months.
type Every struct {
	Duty   string             `json:"duty"`
	By     map[string]float64 `json:"by"`
	Months int                `json:"months"`
}

func (h *handlers) rulebookRoutes(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "rulebook", Method: http.MethodGet, Path: "/api/rulebook"}, h.rulebook)
}

func (h *handlers) rulebook(context.Context, *struct{}) (*answer[Rulebook], error) {
	return &answer[Rulebook]{RulebookOf(h.store.Rules())}, nil
}

// RulebookOf returns the rulebook of a workshop; that of none is built into the pages.
func RulebookOf(shop rules.Shop) Rulebook {
	unknown := log.Log{Engine: log.Engine{Kind: log.FourStroke}}
	begin := sheet.Begin(unknown, "", shop)
	begin.Baseline = false // nobody here knows whether it is the first
	out := Rulebook{
		Steps: map[string][]sheet.SheetStep{}, Begin: begin, Protocol: shop.TestedBy(unknown, begin), Crank: sheet.CrankOf(unknown.Engine, begin),
		Intervals: []Every{}, Happenings: rules.Happenings(), Works: rules.Works(), Measures: units.Measures, Shown: shop.Shown,
		Looks: map[string]map[string][]string{}, Reliability: judge.Reliability(),
	}
	out.Enough = sheet.Enough(out.Protocol.Pulls)
	for _, kind := range []string{log.FourStroke, log.TwoStroke, log.Rotary} {
		out.Steps[kind], out.Looks[kind] = sheet.StepsOf(kind), looksOf(kind)
	}
	for _, d := range rules.Duties {
		i := shop.IntervalOf(d.ID)
		one := Every{Duty: d.ID, By: map[string]float64{}, Months: i.Months}
		for _, unit := range []string{"h", "km", "mi", "runs", "events"} {
			if v := i.By(unit); v > 0 {
				one.By[unit] = v
			}
		}
		out.Intervals = append(out.Intervals, one)
	}
	return out
}

// looksOf returns what may be seen on a kind of engine, with what may be found when one is opened.
func looksOf(kind string) map[string][]string {
	all := prepare.WordsFor(kind)
	for _, c := range rules.Causes().For(kind).Causes {
		if c.Scope != "engine" && c.Cause != "seat_dirt" && !slices.Contains(all["found"], c.Words) {
			all["found"] = append(all["found"], c.Words)
		}
	}
	return all
}
