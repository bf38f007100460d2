package server

import (
	"context"
	"net/url"

	"github.com/go-json-experiment/json"
	"github.com/gofiber/fiber/v3"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

// shownCookie is where a browser keeps the units that whoever uses it chose for himself: so papers and exports, which are plain links,
// have them too.
const shownCookie = "braxel-units"

type shownKey struct{}

// withChoice hands on the units that a browser asks for. What can't be read is no choice: nothing hangs on it but how things look.
func withChoice(x fiber.Ctx) error {
	if text, err := url.QueryUnescape(x.Cookies(shownCookie)); err == nil && text != "" {
		var own units.Choice
		if json.Unmarshal([]byte(text), &own) == nil && len(log.CheckFields("", own)) == 0 {
			own.Rest = nil
			x.SetContext(context.WithValue(x.Context(), shownKey{}, own))
		}
	}
	return x.Next()
}

// rules returns the rules of the workshop, with things shown as whoever asks has them.
func (h *handlers) rules(ctx context.Context) rules.Shop {
	shop := h.store.Rules()
	own, _ := ctx.Value(shownKey{}).(units.Choice)
	shop.Shown = own.Over(shop.Shown)
	return shop
}
