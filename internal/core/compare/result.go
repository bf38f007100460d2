// Package compare lays tests beside each other: what changed in each cylinder from one to the other, with its doubt, whether a
// repair helped for sure, what a season cost, and which of several candidates is the best.
package compare

import (
	"slices"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/story"
)

// Purpose is what two tests are laid beside each other for.
type Purpose string

// Repair: something was mended between them. Season: from its start to its end. Builds: of two assemblies of one engine. Gauges: the
// same engine on two gauges. Change: none of these.
const (
	Repair Purpose = "repair"
	Season Purpose = "season"
	Builds Purpose = "builds"
	Gauges Purpose = "gauges"
	Change Purpose = "change"
)

// Move is what became of one figure from the earlier test to the later.
type Move string

// Better and Worse are for sure; Same is within what would matter, for sure; Untold cannot be told from these two tests.
const (
	Better Move = "better"
	Worse  Move = "worse"
	Same   Move = "same"
	Untold Move = "untold"
)

// Moved is how far one figure went, with its doubt. Low and High hold the truth nineteen times in twenty.
type Moved struct {
	By     float64 `json:"by"`
	SE     float64 `json:"se"`
	Low    float64 `json:"low"`
	High   float64 `json:"high"`
	Move   Move    `json:"move" enum:"better,worse,same,untold"`
	Chance float64 `json:"chance" doc:"The probability that chance or a testing mistake alone makes such a change"`
}

// Cylinder is what became of one cylinder; what was not measured at both tests is left out.
type Cylinder struct {
	Cylinder    int     `json:"cylinder"`
	Called      string  `json:"called"`
	Compression *Moved  `json:"compression,omitempty" doc:"Percent, beyond what all cylinders did together"`
	Leak        *Moved  `json:"leak,omitempty" doc:"Change of leak in points, as the reference tester would show it"`
	Move        Move    `json:"move" enum:"better,worse,same,untold"`
	Chance      float64 `json:"chance"`
}

// Result is what two tests of one engine say of each other.
type Result struct {
	Purpose   Purpose    `json:"purpose" enum:"repair,season,builds,gauges,change"`
	From      string     `json:"from" doc:"The earlier test's id"`
	To        string     `json:"to"`
	Title     string     `json:"title"`
	Sentence  string     `json:"sentence"`
	Notes     []string   `json:"notes" doc:"How similarly the two tests were made, and how sure the sentence is"`
	Advice    string     `json:"advice,omitzero" doc:"What would settle it if these two can't"`
	Between   string     `json:"between,omitzero" doc:"What happened between the two"`
	Together  *Moved     `json:"together,omitempty" doc:"What all cylinders did together; includes battery, weather and gauge"`
	Answer    Move       `json:"answer" enum:"better,worse,same,untold"`
	Cylinders []Cylinder `json:"cylinders"`
}

// pair is two sessions of one engine, and what was read at each.
type pair struct {
	log           log.Log
	from, to      log.Session
	before, after judge.Session
	a, b          map[int]judge.Figure
	earlier       map[int]judge.Figure // the test before the earlier one, which may bear out what that read; likewise the one after the later
	later         map[int]judge.Figure
	unlike        []judge.Unlike
}

func (p *pair) differ(what string) bool {
	return slices.ContainsFunc(p.unlike, func(u judge.Unlike) bool { return u.What == what })
}

// eventsBetween returns what was done after the earlier test, until the later: not what asks for a test itself, as an engine that
// ran hot does.
func (p *pair) eventsBetween() []log.Event {
	var all []log.Event
	for _, e := range p.log.Events {
		if e.Date != "" && e.Date >= p.from.Date && e.Date <= p.to.Date && !asked(e) {
			all = append(all, e)
		}
	}
	return all
}

// asked reports whether an event asks for a test by itself.
func asked(e log.Event) bool {
	_, asks := story.AsksForTest(e)
	return asks
}

// z95 bounds nineteen of twenty of a normal quantity.
const z95 = 1.96
