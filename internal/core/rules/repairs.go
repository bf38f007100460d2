package rules

import (
	_ "embed"
	"slices"
	"sync"

	"braxel/internal/core/say"
	"braxel/internal/core/shipped"
)

//go:embed repairs.json
var repairsText []byte

// Work is one kind of repair: how it is offered, and what it puts right.
type Work struct {
	Work  string   `json:"work"`
	Words string   `json:"words" doc:"Valve job"`
	The   string   `json:"the" doc:"As it stands in a sentence: the valve job"`
	Cures []string `json:"cures" doc:"The causes that it puts right"`
	Kinds []string `json:"kinds" doc:"The kinds of engine that have it"`
}

// Written is a kind of repair with how people write that it was done.
type Written struct {
	Work
	Told  []string `json:"told"`
	NotOf []string `json:"not_of"` // words beside it that make it another thing: a valve cover, a camera
}

// RepairTable is what is repaired on engines, and the words that say it has yet to be done.
type RepairTable struct {
	About       string    `json:"about"`
	NotYet      []string  `json:"not_yet"`
	NotYetAfter []string  `json:"not_yet_after"`
	Repairs     []Written `json:"repairs"`
}

// OtherWork is a repair that the table does not know.
const OtherWork = "other"

// Repairs returns the built-in table, checked. Source: practice.
var Repairs = sync.OnceValue(func() RepairTable { return shipped.Table[RepairTable](repairsText) })

// Word gives the rows their words, each from the catalogue under its own name.
func (t *RepairTable) Word() {
	for i := range t.Repairs {
		w := &t.Repairs[i]
		w.Words, w.The = say.Maybe("repairs."+w.Work.Work), say.Maybe("repairs."+w.Work.Work+"-the")
	}
}

// Check reports the first thing wrong with the table: a row without words, or one that cures what nobody knows.
func (t RepairTable) Check() error {
	for _, w := range t.Repairs {
		if w.Words == "" || w.The == "" {
			return say.Error("rules.row-no-words", "name", w.Work.Work)
		}
		for _, name := range w.Cures {
			if !slices.ContainsFunc(Causes().Causes, func(c Cause) bool { return c.Cause == name }) {
				return say.Error("rules.row-unknown-cause", "name", w.Work.Work, "cause", name)
			}
		}
	}
	return nil
}

// Of returns a repair; of one that is not in the table, or that nobody named, what is said of any.
func (t RepairTable) Of(work string) Work {
	if i := slices.IndexFunc(t.Repairs, func(w Written) bool { return w.Work.Work == work }); i >= 0 {
		return t.Repairs[i].Work
	}
	return Work{Work: OtherWork, Words: say.Text("repairs.other"), The: say.Text("repairs.other-the"), Cures: []string{}, Kinds: []string{}}
}

// Works returns the repairs as they are offered, the one that is none of them last.
func Works() []Work {
	var all []Work
	for _, w := range Repairs().Repairs {
		all = append(all, w.Work)
	}
	return append(all, Repairs().Of(OtherWork))
}
