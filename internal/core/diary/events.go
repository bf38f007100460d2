package diary

import (
	"regexp"
	"time"

	"braxel/internal/core/log"
)

// rule is what a kind of event asks for: within how many days, and why. words tell the kind of an event that nobody gave one. A builder
// may disagree: change the row.
type rule struct {
	kind  string
	words *regexp.Regexp
	days  int
	what  string
	why   string
}

var rules = []rule{
	{
		"ran-hot", regexp.MustCompile(`(?i)overheat|ran hot|hot day|lost water|lost coolant|boiled|steam`), 0, "test it before it is loaded again",
		"heat warps heads and burns gaskets between neighbours",
	},
	{
		"over-revved", regexp.MustCompile(`(?i)over.?rev|missed shift|missed gear|valve float|bounced`), 0, "leak it down before the next run",
		"valves may have met pistons, and a bent one leaks",
	},
	{
		"took-water", regexp.MustCompile(`(?i)took water|took .* water in|swallowed water|hydro.?lock|drowned`), 0, "test it before it is started again",
		"water does not give way: a rod may be bent, which loses compression without a leak",
	},
	{
		"lost-oil", regexp.MustCompile(`(?i)lost oil|oil pressure|ran dry|out of oil`), 0, "test it before it is loaded again",
		"bores and bearings ran without oil",
	},
	{
		"hit", regexp.MustCompile(`(?i)crash|rolled|dropped|accident`), 0, "test it before it is started again",
		"what it took cannot be seen from outside",
	},
	{
		"first-run", regexp.MustCompile(`(?i)first run|first start|first running|run in\b`), 7, "test it hot",
		"rings and seats have bedded now: its hot baseline is due",
	},
}

// ruleOf returns what an event asks for: by the kind that it was given, else by its words.
func ruleOf(e log.Event) (rule, bool) {
	for _, r := range rules {
		if e.Kind == r.kind || (e.Kind == "" && r.words.MatchString(e.What)) {
			return r, true
		}
	}
	return rule{}, false
}

// Asks reports whether an event asks for a test.
func Asks(e log.Event) bool {
	_, asks := ruleOf(e)
	return asks
}

// later returns the date some days on; "" where it is none.
func later(date string, days int) string {
	d, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return ""
	}
	return d.AddDate(0, 0, days).Format(time.DateOnly)
}
