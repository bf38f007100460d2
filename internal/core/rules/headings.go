package rules

import (
	"embed"
	"fmt"
	"strings"
	"sync"

	"braxel/internal/core/say"
	"braxel/internal/core/shipped"
	"braxel/internal/core/units"
)

//go:embed headings/*.json
var headingTexts embed.FS

// Languages are those whose words are known in the headings, titles and remarks of people's sheets. Where two give one word two
// meanings, the earlier counts: most sheets hold some English.
var Languages = []string{"en", "de", "fr", "it", "es", "pt", "nl", "sv", "fi", "pl"}

// Headings are the words of one language by which people keep readings: as they are written, several to a text. What a word stands
// for is the name that the reader of sheets (table) has for it.
type Headings struct {
	Means    map[string]string `json:"means"`  // of a column
	Kinds    map[string]string `json:"kinds"`  // dry, wet, leak
	Temps    map[string]string `json:"temps"`  // hot, warm, cold
	Meters   map[string]string `json:"meters"` // units of what an engine's meter counts
	Places   map[string]string `json:"places"` // where air is heard
	Levels   map[string]string `json:"levels"` // how loud, 1 to 3
	Counts   map[string]string `json:"counts"` // cylinders
	Ordinals map[string]string `json:"ordinals"`
	Totals   string            `json:"totals"` // head a row that sums up others
	Sides    string            `json:"sides"`  // cylinders that are named by where they stand
	Beside   string            `json:"beside"` // stand beside a kind: with oil
	Without  string            `json:"without"`
	Filler   string            `json:"filler"` // of a title, not of an engine's name
	Slip     string            `json:"slip"`   // in a remark that makes a reading doubtful
	Months   string            `json:"months"` // twelve, other beginnings behind a slash
}

// Check reports a table that lacks what every sheet needs.
func (h Headings) Check() error {
	const months = 12
	if n := len(strings.Fields(h.Months)); n != months {
		return say.Error("rules.headings-months", "n", n)
	}
	for _, m := range []string{"date", "cylinder", "reading", "note", "engine"} {
		if h.Means[m] == "" {
			return say.Error("rules.headings-lack", "means", m)
		}
	}
	return nil
}

// SheetColumns is how a person corrected what the columns of a sheet were taken for: later sheets with the same headings are read so.
type SheetColumns struct {
	ID       string        `json:"id" minLength:"1" maxLength:"64" doc:"A name made of the headings"`
	Headings string        `json:"headings,omitzero" maxLength:"2000" doc:"The headings, as they stood"`
	Columns  []SheetColumn `json:"columns,omitempty" maxItems:"400" doc:"What is corrected; none where the correction was taken back"`
}

// SheetColumn is what one column was corrected to.
type SheetColumn struct {
	Index    int        `json:"index" minimum:"0" maximum:"400"`
	Means    string     `json:"means" maxLength:"20"`
	Cylinder string     `json:"cylinder,omitzero" maxLength:"12"`
	Kind     string     `json:"kind,omitzero" enum:"dry,wet,leak"`
	Unit     units.Unit `json:"unit,omitzero"`
	Percent  bool       `json:"percent,omitzero"`
}

// HeadingsIn returns the words of one of the Languages.
func HeadingsIn(language string) Headings { return allHeadings()[language] }

var allHeadings = sync.OnceValue(func() map[string]Headings {
	all := map[string]Headings{}
	for _, l := range Languages {
		text, err := headingTexts.ReadFile(fmt.Sprintf("headings/%s.json", l))
		if err != nil {
			panic(err)
		}
		all[l] = shipped.Table[Headings](text)
	}
	return all
})
