package rules

import (
	_ "embed"
	"slices"
	"sync"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/shipped"
)

//go:embed happenings.json
var happeningsText []byte

// Happening is a kind of event: how it is offered, what it asks for, within how many days and why. A kind that asks for nothing has no Asks.
type Happening struct {
	Kind  string `json:"kind"`
	Words string `json:"words"`
	Days  int    `json:"days"`
	Asks  string `json:"asks"`
	Why   string `json:"why"`
}

// Harms is what a kind of event does to engines: how often any harm, and what that is.
type Harms struct {
	Happening
	It        string             `json:"it"`      // as a sentence begins: "It ran hot"
	Harm      float64            `json:"harm"`    // how often it does any
	AtOnce    float64            `json:"at_once"` // the share of harm that shows in full at the next test
	Several   float64            `json:"several"` // how often another cylinder of the engine has it, too
	Grave     bool               `json:"grave"`   // what it does wrecks the engine if it is run: it is ruled out first
	Does      map[string]float64 `json:"does"`    // causes, as shares of the harm
	TwoStroke map[string]float64 `json:"two_stroke"`
	Diesel    map[string]float64 `json:"diesel"`
	Told      []string           `json:"told"` // how people write it
	Note      string             `json:"note"`
}

// To returns what it does to an engine: causes, as shares of the harm.
func (h Harms) To(e log.Engine) map[string]float64 {
	switch {
	case e.Kind == log.TwoStroke && h.TwoStroke != nil:
		return h.TwoStroke
	case diesel(e) && h.Diesel != nil:
		return h.Diesel
	}
	return h.Does
}

// HappeningTable is what happens to engines, and the words that deny it.
type HappeningTable struct {
	About        string   `json:"about"`
	DeniedBefore []string `json:"denied_before"`
	DeniedAfter  []string `json:"denied_after"`
	Happenings   []Harms  `json:"happenings"`
}

// Happened returns the built-in table, checked. Source: practice.
var Happened = sync.OnceValue(func() HappeningTable { return shipped.Table[HappeningTable](happeningsText) })

// Word gives the rows their words, each from the catalogue under its own name.
func (t *HappeningTable) Word() {
	for i := range t.Happenings {
		h := &t.Happenings[i]
		id := "happenings." + h.Kind
		h.Words, h.It, h.Asks, h.Why = say.Maybe(id), say.Maybe(id+"-it"), say.Maybe(id+"-asks"), say.Maybe(id+"-why")
	}
}

// Check reports the first thing wrong with the table: a row without words, a share that is none, a cause that nobody knows.
func (t HappeningTable) Check() error {
	for _, h := range t.Happenings {
		if h.Words == "" || h.It == "" {
			return say.Error("rules.row-no-words", "name", h.Kind)
		}
		for _, does := range []map[string]float64{h.Does, h.TwoStroke, h.Diesel} {
			sum := 0.0
			for name, share := range does {
				known := slices.ContainsFunc(Causes().Causes, func(c Cause) bool { return c.Cause == name })
				if sum += share; !known || !chance(share) || sum > 1+1e-9 {
					return say.Error("rules.with-no-finding-with-chance", "name", name, "p", share)
				}
			}
		}
	}
	return nil
}

// Of returns what is known of a kind of event, false of one that is not in the table.
func (t HappeningTable) Of(kind string) (Harms, bool) {
	i := slices.IndexFunc(t.Happenings, func(h Harms) bool { return h.Kind == kind })
	if i < 0 {
		return Harms{}, false
	}
	return t.Happenings[i], true
}

// Happenings returns the kinds of event as they are offered, the one that asks for nothing last.
func Happenings() []Happening {
	var all []Happening
	for _, h := range Happened().Happenings {
		all = append(all, h.Happening)
	}
	return append(all, Happening{Kind: "other", Words: say.Text("happenings.other")})
}
