package hindsight

import (
	"strings"

	"braxel/internal/core/judge"
	"braxel/internal/core/rules"
)

// Case is one build of an engine about which something else would have been said.
type Case struct {
	Engine string `json:"engine"`
	Name   string `json:"name"`
	Date   string `json:"date,omitzero" doc:"Of the test at which it would have been said"`
	Tests  int    `json:"tests,omitzero" doc:"How many tests sooner or later"`
	Words  string `json:"words,omitzero"`
}

// Result is what one rule would have changed.
type Result struct {
	Sentence string `json:"sentence"`
	Engines  int    `json:"engines" doc:"Looked at"`
	Tests    int    `json:"tests"`
	Sooner   []Case `json:"sooner" doc:"Said sooner of an engine of which it was said later"`
	Later    []Case `json:"later"`
	More     []Case `json:"more" doc:"Said of an engine that it was never said of before"`
	Never    []Case `json:"never" doc:"Would never have been said of an engine, and was"`
	Other    []Case `json:"other" doc:"Another cause first"`
	Opened   int    `json:"opened,omitzero" doc:"Faults that were opened, so that it is known what was wrong"`
	Right    int    `json:"right,omitzero" doc:"Of those, how many are named rightly"`
	Would    int    `json:"would,omitzero" doc:"And how many would be"`
}

// levelOf is the state that a limit is of.
func levelOf(s rules.Setting) judge.State {
	if strings.HasSuffix(s.ID, "_act") {
		return judge.Act
	}
	return judge.Watch
}
