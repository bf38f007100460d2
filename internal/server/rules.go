package server

import (
	"context"
	"net/http"
	"runtime"
	"slices"
	"sync"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/sync/errgroup"

	"braxel/internal/core/hindsight"
	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// RuleLine is a rule that a workshop may make its own, and what it is here.
type RuleLine struct {
	rules.Setting
	Value   float64 `json:"value"`
	Own     bool    `json:"own,omitzero" doc:"The shop's value differs from the built-in one"`
	Begun   bool    `json:"begun,omitzero" doc:"The shop has set it before, so a change must say what it saw"`
	OurWhy  string  `json:"our_why,omitzero"`
	Counted int     `json:"counted,omitzero" doc:"How many engines that were opened it was counted from; 0 if somebody set it"`
}

func (h *handlers) ruleRoutes(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "rules", Method: http.MethodGet, Path: "/api/rules"}, h.ruleLines)
	huma.Register(api, huma.Operation{OperationID: "hindsight", Method: http.MethodGet, Path: "/api/hindsight"}, h.hindsight)
}

func (h *handlers) ruleLines(ctx context.Context, _ *struct{}) (*answer[[]RuleLine], error) {
	shop := h.rules(ctx)
	values := shop.Values()
	var out []RuleLine
	for _, s := range rules.Settings() {
		line := RuleLine{Setting: s, Value: values[s.ID], Own: values[s.ID] != s.BuiltIn}
		if i := slices.IndexFunc(shop.Own, func(o rules.Own) bool { return o.ID == s.ID }); i >= 0 {
			line.Begun, line.OurWhy, line.Counted = true, shop.Own[i].Why, shop.Own[i].Counted
		}
		out = append(out, line)
	}
	return &answer[[]RuleLine]{out}, nil
}

type hindsightIn struct {
	ID    string  `query:"id" required:"true" maxLength:"80" doc:"The setting"`
	Value float64 `query:"value" required:"true" doc:"The proposed value"`
}

// hindsight judges the past tests of the engines that a rule has to do with once as they are judged now, and once by the other value.
func (h *handlers) hindsight(ctx context.Context, in *hindsightIn) (*answer[hindsight.Result], error) {
	own := rules.Own{ID: in.ID, Value: in.Value}
	shop := h.rules(ctx)
	if faults := shop.CheckOwn(own); len(faults) > 0 {
		return nil, refuse(faults)
	}
	setting, _ := rules.SettingOf(in.ID)
	var mu sync.Mutex
	var all []hindsight.One
	g, ctx := errgroup.WithContext(ctx)
	g.SetLimit(runtime.GOMAXPROCS(0))
	for _, engine := range h.store.Engines() {
		g.Go(func() error {
			l, _, err := h.store.Log(ctx, engine)
			if err != nil {
				return err
			}
			if l = l.Standing(); len(l.Sessions) == 0 || !hindsight.Concerns(setting, l.Engine) {
				return nil
			}
			one, err := inHindsight(l, shop, shop.With(own))
			mu.Lock()
			defer mu.Unlock()
			all = append(all, one)
			return err
		})
	}
	if err := g.Wait(); err != nil {
		return nil, err
	}
	slices.SortFunc(all, func(a, b hindsight.One) int {
		return slices.Compare([]string{a.Log.Engine.Name}, []string{b.Log.Engine.Name})
	})
	return &answer[hindsight.Result]{hindsight.Of(setting, in.Value, all, shop.Shown)}, nil
}

// inHindsight judges a log by both; one that cannot be judged spoils its own, and is said.
func inHindsight(l log.Log, now, would rules.Shop) (one hindsight.One, err error) {
	defer func() {
		if why := recover(); why != nil {
			err = say.Error("server.cant-judged", "name", l.Engine.Name, "why", why)
		}
	}()
	return hindsight.One{Log: l, Now: judge.Log(l, now), Would: judge.Log(l, would)}, nil
}
