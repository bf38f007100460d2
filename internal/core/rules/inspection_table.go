package rules

import (
	_ "embed"
	"slices"
	"strconv"
	"strings"
	"sync"

	"braxel/internal/core/say"
	"braxel/internal/core/shipped"
)

//go:embed inspection.json
var inspectionText []byte

// Inspection is what is looked at, in the buyer's order.
type Inspection struct {
	About string `json:"about"`
	Items []Item `json:"items"`
}

// Item is one line of the list: answered by one of its answers, by a figure, or by a step of the run sheet.
type Item struct {
	Item     string   `json:"item"`
	Section  string   `json:"section"` // in the file its name; then its words
	Words    string   `json:"words"`
	Caution  string   `json:"caution"`
	Answers  []Answer `json:"answers"`
	Unit     string   `json:"unit"`
	Least    float64  `json:"least"`
	Most     float64  `json:"most"`
	Bands    []Band   `json:"bands"`
	Step     string   `json:"step"`     // of the run sheet
	After    int      `json:"after"`    // its place in the list after a failure, before opening; 0: not on it
	Optional string   `json:"optional"` // kinds of engine that have none of it
	Only     string   `json:"only"`     // after: not on the buyer's list
	Needed   bool     `json:"needed"`   // nobody buys without it
}

// Answer is one that an item may have; a weight of 0 is as it should be.
type Answer struct {
	Answer string `json:"answer"`
	Flag
}

// Band is what a figure up to Upto says; the last has none, it is all above.
type Band struct {
	Upto float64 `json:"upto"`
	Flag
}

// Flag is what a finding weighs: 1 worth a word, 2 worth money, 3 a big repair, 4 leave it.
type Flag struct {
	ID     string `json:"-"` // of its texts in the catalogue
	Weight int    `json:"weight"`
	Says   string `json:"says"`
	Work   string `json:"work"`
	Ask    string `json:"ask"`
	Note   string `json:"note"`
}

// Inspected returns the built-in list, checked.
var Inspected = sync.OnceValue(func() Inspection { return shipped.Table[Inspection](inspectionText) })

// Word gives the lines their words from the catalogue, each under the name of its line and answer.
func (t *Inspection) Word() {
	for i := range t.Items {
		it := &t.Items[i]
		id := "inspection." + it.Item
		it.Section = say.Maybe("inspection.section-" + it.Section)
		it.Words, it.Caution = say.Maybe(id), say.Maybe(id+"-caution")
		for j := range it.Answers {
			it.Answers[j].word(id + "-" + strings.ReplaceAll(strings.ReplaceAll(it.Answers[j].Answer, ",", ""), " ", "-"))
		}
		for j := range it.Bands {
			it.Bands[j].word(id + "-band-" + strconv.Itoa(j+1))
		}
	}
}

func (f *Flag) word(id string) {
	f.ID = id
	f.Says, f.Work, f.Ask, f.Note = say.Maybe(id+"-says"), say.Maybe(id+"-work"), say.Maybe(id+"-ask"), say.Maybe(id+"-note")
}

// Check reports the first thing wrong with a table: two lines of one name, a line that nothing answers, a weight that is none, a
// flag without words or without a note.
func (t Inspection) Check() error {
	seen := map[string]bool{}
	for _, it := range t.Items {
		if seen[it.Item] {
			return say.Error("rules.stands-there-twice", "item", it.Item)
		}
		seen[it.Item] = true
		if it.Section == "" || it.Words == "" {
			return say.Error("rules.row-no-words", "name", it.Item)
		}
		if len(it.Answers) == 0 && it.Unit == "" && it.Step == "" {
			return say.Error("rules.nothing-answers", "item", it.Item)
		}
		for _, f := range it.flags() {
			if f.Weight < 0 || f.Weight > 4 || f.Weight > 0 && (f.Says == "" || f.Note == "") {
				return say.Error("rules.flag-weight-says-note",
					"item", it.Item,
					"weight", f.Weight,
					"says", f.Says,
					"note", f.Note,
				)
			}
		}
		upto := 0.0
		for i, b := range it.Bands {
			if last := i == len(it.Bands)-1; last != (b.Upto == 0) || !last && b.Upto <= upto {
				return say.Error("rules.band-ends-at", "item", it.Item, "i", i+1, "upto", b.Upto)
			}
			upto = b.Upto
		}
	}
	return nil
}

func (it Item) flags() []Flag {
	var all []Flag
	for _, a := range it.Answers {
		all = append(all, a.Flag)
	}
	for _, b := range it.Bands {
		all = append(all, b.Flag)
	}
	return all
}

// Of returns the flag of a figure.
func (it Item) Of(value float64) Flag {
	for _, b := range it.Bands {
		if b.Upto == 0 || value <= b.Upto {
			return b.Flag
		}
	}
	return Flag{}
}

// Named returns the item of that name.
func (t Inspection) Named(item string) (Item, bool) {
	i := slices.IndexFunc(t.Items, func(it Item) bool { return it.Item == item })
	if i < 0 {
		return Item{}, false
	}
	return t.Items[i], true
}

// For returns the items that an engine of a kind has, in the buyer's order, or after a failure in that of the look before opening.
func (t Inspection) For(kind string, after bool) []Item {
	var all []Item
	for _, it := range t.Items {
		if !slices.Contains(strings.Fields(it.Optional), kind) && (after && it.After > 0 || !after && it.Only == "") {
			all = append(all, it)
		}
	}
	if after {
		slices.SortStableFunc(all, func(a, b Item) int { return a.After - b.After })
	}
	return all
}
