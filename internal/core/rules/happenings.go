package rules

import (
	"regexp"

	"braxel/internal/core/log"
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
		"ran-hot", "it ran hot, or lost water",
		regexp.MustCompile(`(?i)overheat|ran hot|hot day|lost water|lost coolant|boiled|steam`), 0,
		"test it before it is loaded again", "heat warps heads and burns gaskets between neighbours",
	},
	{
		"over-revved", "it was over-revved",
		regexp.MustCompile(`(?i)over.?rev|missed shift|missed gear|valve float|bounced`), 0,
		"leak it down before the next run", "valves may have met pistons, and a bent one leaks",
	},
	{
		"took-water", "it took water in",
		regexp.MustCompile(`(?i)took water|took .* water in|swallowed water|hydro.?lock|drowned`), 0,
		"test it before it is started again", "water does not give way: a rod may be bent, which loses compression without a leak",
	},
	{
		"lost-oil", "it ran without oil",
		regexp.MustCompile(`(?i)lost oil|oil pressure|ran dry|out of oil`), 0,
		"test it before it is loaded again", "bores and bearings ran without oil",
	},
	{
		"hit", "it was hit, or dropped",
		regexp.MustCompile(`(?i)crash|rolled|dropped|accident`), 0,
		"test it before it is started again", "what it took cannot be seen from outside",
	},
	{
		"first-run", "its first run",
		regexp.MustCompile(`(?i)first run|first start|first running|run in\b`), 7,
		"test it hot", "rings and seats have bedded now: its hot baseline is due",
	},
	{Kind: "other", Words: "nothing: no test is due for it", Told: regexp.MustCompile(`$^`)},
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
