package rules

import (
	"regexp"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// Happening is a kind of event: how it is offered, and what it asks for, within how many days and why. Told tells the kind of an event that
// nobody gave one. A kind that asks for nothing has no Asks.
type Happening struct {
	Kind  string         `json:"kind"`
	Words string         `json:"words"`
	Told  *regexp.Regexp `json:"-"`
	Days  int            `json:"days"`
	Asks  string         `json:"asks"`
	Why   string         `json:"why"`
}

// Happenings are the kinds of event. Source: practice.
var Happenings = []Happening{
	{
		"ran-hot", say.Text("rules.ran-hot-or-lost-water"),
		regexp.MustCompile(`(?i)overheat|ran hot|hot day|lost water|lost coolant|boiled|steam`), 0,
		say.Text("rules.test-before-you-work-hard"), say.Text("rules.heat-warps-heads-burns-gaskets"),
	},
	{
		"over-revved", say.Text("rules.was-over-revved"),
		regexp.MustCompile(`(?i)over.?rev|missed shift|missed gear|valve float|bounced`), 0,
		say.Text("rules.do-leak-down-before-next"), say.Text("rules.valves-may-have-met-pistons"),
	},
	{
		"took-water", say.Text("rules.took-water"),
		regexp.MustCompile(`(?i)took water|took .* water in|swallowed water|hydro.?lock|drowned`), 0,
		say.Text("rules.test-before-you-start-again"), say.Text("rules.water-doesnt-give-may-have"),
	},
	{
		"lost-oil", say.Text("rules.ran-without-oil"),
		regexp.MustCompile(`(?i)lost oil|oil pressure|ran dry|out of oil`), 0,
		say.Text("rules.test-before-you-work-hard"), say.Text("rules.bores-bearings-ran-without-oil"),
	},
	{
		"hit", say.Text("rules.was-hit-or-dropped"),
		regexp.MustCompile(`(?i)crash|rolled|dropped|accident`), 0,
		say.Text("rules.test-before-you-start-again"), say.Text("rules.what-did-cant-seen-from"),
	},
	{
		"first-run", say.Text("rules.first-run"),
		regexp.MustCompile(`(?i)first run|first start|first running|run in\b`), 7,
		say.Text("rules.test-hot"), say.Text("rules.rings-seats-have-bedded-now"),
	},
	{Kind: "other", Words: say.Text("rules.nothing-no-test-due-for"), Told: regexp.MustCompile(`$^`)},
}

// HappeningOf returns what an event is: by the kind that it was given, else by its words; false where it asks for nothing.
func HappeningOf(e log.Event) (Happening, bool) {
	for _, h := range Happenings {
		if h.Asks != "" && (e.Kind == h.Kind || (e.Kind == "" && h.Told.MatchString(e.What))) {
			return h, true
		}
	}
	return Happening{}, false
}
