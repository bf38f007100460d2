package server

import (
	"bytes"
	"context"
	"fmt"
	"log/slog"
	"slices"
	"time"

	"github.com/go-json-experiment/json"

	"braxel/internal/core/book"
	"braxel/internal/core/inspect"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// tellsOfFound reports whether an entry may change what was found when engines were opened.
func tellsOfFound(e book.Entry) bool {
	switch e.Kind {
	case book.Look, book.Whole:
		return bytes.Contains(e.Body, []byte(`"`+log.Found+`"`))
	case book.Strike, book.Unstrike, book.Move:
		return true
	}
	return false
}

// learn counts what was found when engines were opened, and makes it the workshop's own rates of causes, as entries of its book: shown with
// the other rules, told in its history, and left alone once somebody has set one by hand.
func (h *handlers) learn(ctx context.Context, from book.Entry) error {
	engines, err := h.store.Opened(ctx)
	if err != nil {
		return err
	}
	if !slices.Contains(engines, from.Engine) {
		return nil // something of an engine that nobody opened was struck
	}
	var all []rules.Opened
	for _, engine := range engines {
		l, _, err := h.read(ctx, engine)
		if err != nil {
			return err
		}
		all = append(all, inspect.Found(l)...)
	}
	shop := h.store.Rules()
	values := shop.Values()
	learned := rules.Learned(all)
	var entries []book.Entry
	for _, c := range rules.Causes().Causes {
		id, value := "causes."+c.Cause, c.Prior
		if v, ok := learned[c.Cause]; ok {
			value = v
		}
		i := slices.IndexFunc(shop.Own, func(o rules.Own) bool { return o.ID == id })
		if value == values[id] || (i >= 0 && shop.Own[i].Counted == 0) {
			continue
		}
		n := 0
		for _, o := range all {
			if o.Cause == c.Cause {
				n++
			}
		}
		own := rules.Own{ID: id, Value: value, Counted: len(all), Why: say.Text("server.found-so-often", "times", n, "n", len(all))}
		body, err := json.Marshal(own)
		if err != nil {
			return err
		}
		entries = append(entries, book.Entry{
			ID: fmt.Sprintf("%.40s-%s", from.ID, c.Cause), At: h.now().UTC().Format(time.RFC3339Nano), By: from.By, Kind: book.Rule, Body: body,
		})
	}
	if len(entries) == 0 {
		return nil
	}
	return h.put(ctx, entries)
}

// learnFrom learns from entries that were just saved, where they tell of what was found. What was saved is saved whether this works or not.
func (h *handlers) learnFrom(ctx context.Context, kept []book.Entry) bool {
	i := slices.IndexFunc(kept, tellsOfFound)
	if i < 0 {
		return false
	}
	if err := h.learn(ctx, kept[i]); err != nil {
		slog.Error(say.Text("server.cant-learn"), "error", err)
		return false
	}
	return true
}
