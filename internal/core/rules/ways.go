package rules

import "braxel/internal/core/say"

// Way is one thing in which two tests may be unlike, and what that does to all readings of an engine: as it usually is, until the
// engine's own tests have told.
type Way struct {
	ID     string             `json:"id"`
	Level  map[string]float64 `json:"level"`   // what compression reads that way, beside the usual way: a logarithm
	SD     float64            `json:"sd"`      // how far engines and gauges differ in that
	Leak   map[string]float64 `json:"leak"`    // by what share the area of a leak is larger that way
	LeakSD float64            `json:"leak_sd"` // how far engines differ in that
	// Finding is what it is among the findings by which causes are weighed.
	Finding string `json:"finding"`
	Why     string `json:"why"`
	Source  string `json:"source"`
}

// ColdReads is what a cold engine reads beside a hot one: 7 % less. [log; trade]
const ColdReads = -0.07

// Ways are the ways in which two tests may be unlike.
var Ways = []Way{
	{
		ID: "plugs", SD: 0.04, Finding: "way-changed", Source: "practice",
		Why: say.Text("rules.gas-lost-through-burnt-gasket"),
	},
	{
		ID: "temp", Finding: "way-changed", Source: "trade",
		Level: map[string]float64{"warm": -0.03, "cold": ColdReads}, SD: 0.04,
		Leak: map[string]float64{"warm": 0.1, "cold": ColdLeaks}, LeakSD: 0.12,
		Why: say.Text("rules.cold-rings-bores-dont-fit"),
	},
	{
		ID: "throttle", Level: map[string]float64{"closed": -0.22}, SD: 0.08, Finding: "way-changed", Source: "trade",
		Why: say.Text("rules.closed-doesnt-fill-cylinder-can"),
	},
	{ID: "gauge", SD: 0.06, Finding: "gauge-changed", Source: "trade", Why: say.Text("rules.cheap-gauges-differ-10-more")},
	{
		ID: "position", LeakSD: 0.3, Finding: "way-changed", Source: "practice",
		Why: say.Text("rules.at-bottom-bore-least-worn"),
	},
}

// WayNamed returns the way of that name.
func WayNamed(id string) Way {
	for _, w := range Ways {
		if w.ID == id {
			return w
		}
	}
	return Way{}
}

// What is made of a cold engine that is seen for the first time.
const (
	// ColdLeaks is by what share the area of a leak is larger in a cold engine: a third. [share; trade]
	ColdLeaks = 1.0 / 3
	// ColdLeaksSD is how far engines differ in that where nothing is known of the engine. [log; trade]
	ColdLeaksSD = 0.35
	// ColdForgiven is what a limit forgives a cold engine's compression: the usual 7 %, and as much again as engines differ. [factor; trade]
	ColdForgiven = 0.85
	// ColdLeakForgiven is what a limit forgives a cold engine's leak: that third, and half as much again as engines differ. [factor; trade]
	ColdLeakForgiven = 1 + 1.5*ColdLeaks
	// ColdApart is how far a cold cylinder may stand below the others without a word. [%; trade]
	ColdApart = 8.0
	// ColdLeaksMore is how much more than usual it may leak without a word. [points; trade]
	ColdLeaksMore = 12.0
	// ColdBoth is the part of each that counts where both stand off, which bear each other out. [share; judgement]
	ColdBoth = 0.4
	// ColdWorst is what rings of a cold engine may leak that are fine when it is hot, where the others leak much, too. [%; trade]
	ColdWorst = 60.0
	// ColdAlone is the same of one cylinder by itself. [%; trade]
	ColdAlone = 40.0
	// ColdLeakLoses is how far its compression may stand below the others with such a leak. [%; trade]
	ColdLeakLoses = 25.0
	// ColdLoses is the same where nobody did a leak-down. [%; trade]
	ColdLoses = 15.0
)
