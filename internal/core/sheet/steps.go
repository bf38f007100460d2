package sheet

import (
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// SheetStep is one step of the run sheet, as it is named on an engine of a kind.
type SheetStep struct {
	ID       string `json:"id" enum:"prepare,dry,wet,leak-down,look,findings,put-back"`
	Name     string `json:"name"`
	Practice bool   `json:"practice,omitzero" doc:"It is part of practice, too"`
}

// steps are all of them, in the order of the work. Who practises makes ready and looks at the engine where it takes its minutes, and judges
// by himself.
var steps = []SheetStep{
	{"prepare", say.Text("sheet.step-prepare"), false},
	{"dry", say.Text("sheet.step-dry"), true},
	{"wet", say.Text("sheet.step-wet"), true},
	{"leak-down", say.Text("sheet.step-leak-down"), true},
	{"look", say.Text("sheet.step-look"), false},
	{"findings", say.Text("sheet.step-findings"), false},
	{"put-back", say.Text("sheet.put-back"), false},
}

// StepsOf returns the steps of an engine's test. A rotary is read face by face; oil and a leak-down tell nothing of it that its faces do
// not.
func StepsOf(kind string) []SheetStep {
	var all []SheetStep
	for _, s := range steps {
		if kind == log.Rotary && (s.ID == "wet" || s.ID == "leak-down") {
			continue
		}
		if kind == log.Rotary && s.ID == "dry" {
			s.Name = say.Text("sheet.step-faces")
		}
		all = append(all, s)
	}
	return all
}

// Enough is how many readings of a cylinder a protocol asks for before the next is cranked, as long as they agree.
func Enough(rule rules.PullRule) int {
	return map[rules.PullRule]int{rules.One: 1, rules.UntilTwoAgree: 2, rules.Three: 3}[rule]
}
