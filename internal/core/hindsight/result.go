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
	Date   string `json:"date,omitzero" doc:"The test at which it would have been said"`
	Tests  int    `json:"tests,omitzero" doc:"How many tests sooner or later"`
	Words  string `json:"words,omitzero"`
}

// Result is what one rule would have changed.
type Result struct {
	Sentence string `json:"sentence"`
	Engines  int    `json:"engines" doc:"How many were looked at"`
	Tests    int    `json:"tests"`
	Sooner   []Case `json:"sooner" doc:"Engines warned of earlier than they were"`
	Later    []Case `json:"later"`
	More     []Case `json:"more" doc:"Engines warned of that never were"`
	Never    []Case `json:"never" doc:"Engines that were warned of and no longer would be"`
	Other    []Case `json:"other" doc:"Engines for which a different cause would come first"`
	Opened   int    `json:"opened,omitzero" doc:"Faults confirmed by opening the engine"`
	Right    int    `json:"right,omitzero" doc:"How many of those are named correctly now"`
	Would    int    `json:"would,omitzero" doc:"How many of those would be named correctly"`
}

// levelOf is the state that a limit is of.
func levelOf(s rules.Setting) judge.State {
	if strings.HasSuffix(s.ID, "_act") {
		return judge.Act
	}
	return judge.Watch
}
