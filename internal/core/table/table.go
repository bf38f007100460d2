// Package table reads anybody's spreadsheet: a grid of text in which somebody kept compression and leak-down readings. It guesses
// what stands where, says what it took each column for, which rows it cannot take and why, and what it has to ask. A person may
// correct the guess. It never works a formula out, and takes nothing in silence.
package table

import (
	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

// Row is a row of a sheet and its number, from 1, as a spreadsheet counts it: blank rows too.
type Row struct {
	N     int      `json:"n"`
	Cells []string `json:"cells"`
}

// Sheet is a grid of text.
type Sheet struct {
	Name       string // of the file, without its ending: what an engine is called that has no name in it
	Semicolons bool   // cells are parted by semicolons, as where commas are decimal signs
	Rows       []Row
}

// Picks are a person's corrections of the guess; each left empty leaves the guess as it is.
type Picks struct {
	Columns []Column   `json:"columns,omitempty" maxItems:"400" doc:"By index; the rest are guessed"`
	Dates   Order      `json:"dates,omitzero" enum:"dmy,mdy"`
	Date    string     `json:"date,omitzero" format:"date" doc:"The date, for a sheet without one"`
	Unit    units.Unit `json:"unit,omitzero"`
	Engine  string     `json:"engine,omitzero" maxLength:"120" doc:"What the engine is called"`
	Turned  *bool      `json:"turned,omitempty" doc:"Tests stand in columns"`
	Decimal string     `json:"decimal,omitzero" enum:".,comma"`

	// Into is the engine on record that the tests are of.
	Into *log.Engine `json:"-"`
}

// Refused is a row, or where Column is named one cell, that cannot be taken. The rest of a row is good unless it is refused whole.
type Refused struct {
	Row    int    `json:"row"`
	Column string `json:"column,omitzero"`
	Text   string `json:"text,omitzero"`
	Why    string `json:"why"`
}

// Ignored is a row that holds no reading.
type Ignored struct {
	Row int    `json:"row"`
	Why string `json:"why"`
}

// What a person may be asked.
const (
	AskDates  = "dates"
	AskDate   = "date"
	AskUnit   = "unit"
	AskEngine = "engine"
)

// Asked is something that the sheet does not say. What Must be answered holds the import up; otherwise Took is taken.
type Asked struct {
	What    string   `json:"what" enum:"dates,date,unit,engine"`
	Words   string   `json:"words"`
	Row     int      `json:"row,omitzero"`
	Text    string   `json:"text,omitzero"`
	Took    string   `json:"took,omitzero"`
	Choices []string `json:"choices,omitempty"`
	Must    bool     `json:"must,omitzero"`
}

// Doubt is something that was read so, and that a careful person would look at again.
type Doubt struct {
	Row    int    `json:"row,omitzero"`
	Column string `json:"column,omitzero"`
	Text   string `json:"text,omitzero"`
	Words  string `json:"words"`
}

// Result is what a sheet comes to.
type Result struct {
	Logs    []log.Log `json:"logs"`
	Refused []Refused `json:"refused"`
	Asked   []Asked   `json:"asked"`
	Doubts  []Doubt   `json:"doubts"`
	Ignored []Ignored `json:"ignored"`
	Guess   Guess     `json:"guess"`
}

// Must returns what has to be answered before anything of the sheet can come in, nil where nothing has.
func (r Result) Must() *Asked {
	for i, a := range r.Asked {
		if a.Must {
			return &r.Asked[i]
		}
	}
	return nil
}

// Guess is how the sheet was read.
type Guess struct {
	Engine  string     `json:"engine,omitzero"`
	Headers []int      `json:"headers" doc:"The rows of headings, as a spreadsheet counts them"`
	Turned  bool       `json:"turned,omitzero"`
	Decimal string     `json:"decimal" enum:".,comma"`
	Dates   Order      `json:"dates,omitzero" enum:"dmy,mdy,iso,named month,serial,undecidable"`
	Unit    units.Unit `json:"unit,omitzero"`
	Columns []Column   `json:"columns"`
}

// mostTold is how many refused rows and doubts are named.
const mostTold = 1000
