// Package compare lays tests beside each other: what changed in each cylinder from one to the other, with its doubt, whether a
// repair helped for sure, what a season cost, and which of several candidates is the best.
package compare

import (
	"slices"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/story"
	"braxel/internal/core/twice"
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

// Cylinder is what became of one cylinder; what was not measured at both tests is left out.
type Cylinder struct {
	Cylinder    int          `json:"cylinder"`
	Called      string       `json:"called"`
	Compression *twice.Moved `json:"compression,omitempty" doc:"Percent, beyond what all cylinders did together"`
	Leak        *twice.Moved `json:"leak,omitempty" doc:"Change of leak in points, as the reference tester would show it"`
	Move        twice.Move   `json:"move" enum:"better,worse,same,untold"`
	Chance      float64      `json:"chance"`
}

// Result is what two tests of one engine say of each other.
type Result struct {
	Purpose   Purpose      `json:"purpose" enum:"repair,season,builds,gauges,change"`
	From      string       `json:"from" doc:"The earlier test's id"`
	To        string       `json:"to"`
	Title     string       `json:"title"`
	Sentence  string       `json:"sentence"`
	Notes     []string     `json:"notes" doc:"How similarly the two tests were made, and how sure the sentence is"`
	Advice    string       `json:"advice,omitzero" doc:"What would settle it if these two can't"`
	Between   string       `json:"between,omitzero" doc:"What happened between the two"`
	Together  *twice.Moved `json:"together,omitempty" doc:"What all cylinders did together; includes battery, weather and gauge"`
	Answer    twice.Move   `json:"answer" enum:"better,worse,same,untold"`
	Cylinders []Cylinder   `json:"cylinders"`
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
	return asks && e.Kind != log.Repair
}
