// Package table reads anybody's spreadsheet: grids of text in which somebody kept compression and leak-down readings. It makes
// several complete readings of a sheet (views), weighs what each implies (weigh), takes the best where it is clearly the best, and
// otherwise asks the one question that decides. It says what it took each column for and which rows it cannot take and why. A
// person may correct it. It never works a formula out, and takes nothing whose meaning is not sure without asking.
package table

import (
	"slices"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
)

// Row is a row of a sheet and its number, from 1, as a spreadsheet counts it: blank rows too.
type Row struct {
	N     int      `json:"n"`
	Cells []string `json:"cells"`
}

// CellAt is a cell of a sheet: its row, from 1, and its column, from 0.
type CellAt struct {
	Row    int `json:"row" minimum:"1"`
	Column int `json:"column" minimum:"0" maximum:"400"`
}

// Rewritten is what a person writes into a cell that was refused.
type Rewritten struct {
	CellAt
	Sheet int    `json:"sheet,omitzero" minimum:"0"`
	Text  string `json:"text,omitzero" maxLength:"200"`
}

// Sheet is a grid of text: one file, or one sheet of a workbook.
type Sheet struct {
	Name          string // what an engine is called that has no name in it: the file's, without its ending
	Title         string // of a sheet in a workbook of several
	N             int    // which of them it is, from 0
	Semicolons    bool   // cells are parted by semicolons, as where commas are decimal signs
	Typed         bool   // from a workbook: days are written as the log does, numbers with a point
	Rows          []Row
	Remarks       map[CellAt]string // on cells
	Worked        map[CellAt]string // formulas whose last value stands in the cell
	HiddenRows    map[int]bool
	HiddenColumns map[int]bool
}

// TakeHidden is the pick that takes hidden rows and columns like all others; LeaveHidden leaves them out.
const TakeHidden, LeaveHidden = "take", "leave"

// Picks are a person's corrections of the guess; each left empty leaves the guess as it is.
type Picks struct {
	Columns []Column          `json:"columns,omitempty" maxItems:"4000" doc:"By sheet and index; the rest are guessed"`
	Cells   []Rewritten       `json:"cells,omitempty" maxItems:"1000" doc:"Cells that were refused, as they should be"`
	Dates   written.Order     `json:"dates,omitzero" enum:"dmy,mdy"`
	Date    string            `json:"date,omitzero" format:"date" doc:"The date, for a sheet without one"`
	Unit    units.Unit        `json:"unit,omitzero"`
	Engine  string            `json:"engine,omitzero" maxLength:"120" doc:"What the engine is called"`
	Engines map[string]string `json:"engines,omitempty" doc:"Of each engine by its name in the sheet: the one here, or new"`
	Turned  *bool             `json:"turned,omitempty" doc:"Tests stand in columns"`
	Head    int               `json:"head,omitzero" minimum:"0" doc:"The row, or on its side the column, of the headings"`
	Decimal string            `json:"decimal,omitzero" enum:".,comma"`
	Kind    string            `json:"kind,omitzero" enum:"dry,leak" doc:"What figures are that say neither"`
	Leak    LeakAs            `json:"leak,omitzero" enum:"lost,left,held,dropped" doc:"What the figures of leaks are"`
	Supply  string            `json:"supply,omitzero" maxLength:"20" doc:"What the leak-down tester was supplied with: 80 psi"`
	Second  string            `json:"second,omitzero" enum:"dry,wet" doc:"What the second figure of a cell is"`
	Ranges  string            `json:"ranges,omitzero" enum:"both,leave" doc:"Whether both ends of a range are taken"`
	Remarks string            `json:"remarks,omitzero" enum:"count,strike" doc:"Whether readings count that a remark makes doubtful"`
	Far     string            `json:"far,omitzero" enum:"take,leave" doc:"Whether readings far from all others are taken"`
	Hidden  string            `json:"hidden,omitzero" enum:"take,leave" doc:"Whether hidden rows and columns are taken"`

	// Into is the engine on record that the tests are of.
	Into *log.Engine `json:"-"`
	// Remembered is what was corrected in sheets with the same headings.
	Remembered []rules.SheetColumns `json:"-"`
	// Known are the engines on record: those of the sheet are matched to them.
	Known []Known `json:"-"`
}

// NewEngine is the pick that makes a new engine of one of a sheet.
const NewEngine = "new"

// Refused is a row, or where Column is named one cell, that cannot be taken. The rest of a row is good unless it is refused whole.
type Refused struct {
	Sheet  string `json:"sheet,omitzero"`
	Row    int    `json:"row"`
	Column string `json:"column,omitzero"`
	Text   string `json:"text,omitzero"`
	Why    string `json:"why"`

	N    int     `json:"n,omitzero" doc:"Which sheet, from 0"`
	Cell *CellAt `json:"cell,omitempty" doc:"The cell in which it can be mended"`
}

// Ignored is a row that holds no reading.
type Ignored struct {
	Sheet string `json:"sheet,omitzero"`
	Row   int    `json:"row"`
	Why   string `json:"why"`
}

// What a person may be asked.
const (
	AskDates   = "dates"
	AskDate    = "date"
	AskUnit    = "unit"
	AskEngine  = "engine"
	AskEngines = "engines"
	AskTurned  = "turned"
	AskHead    = "head"
	AskKind    = "kind"
	AskLeak    = "leak"
	AskSupply  = "supply"
	AskSecond  = "second"
	AskRanges  = "ranges"
	AskRemarks = "remarks"
	AskFar     = "far"
	AskDecimal = "decimal"
	AskColumns = "columns"
	AskHidden  = "hidden"
)

// Reply is one answer to a question: the corrections that it comes to, and what is read with them.
type Reply struct {
	Name  string   `json:"name"`
	Words string   `json:"words"`
	Picks Picks    `json:"picks"`
	Reads []string `json:"reads,omitempty" doc:"The first readings, read so"`
}

// Asked is something that the sheet does not say. What Must be answered holds the import up; otherwise Took is taken.
type Asked struct {
	What    string  `json:"what" enum:"dates,date,unit,engine,engines,turned,head,kind,leak,supply,second,ranges,remarks,far,decimal,columns,hidden"`
	Words   string  `json:"words"`
	Sheet   string  `json:"sheet,omitzero"`
	Row     int     `json:"row,omitzero"`
	Text    string  `json:"text,omitzero"`
	Took    string  `json:"took,omitzero"`
	Choices []Reply `json:"choices,omitempty"`
	Must    bool    `json:"must,omitzero"`
}

// Doubt is something that was read so, and that a careful person would look at again.
type Doubt struct {
	Sheet  string `json:"sheet,omitzero"`
	Row    int    `json:"row,omitzero"`
	Column string `json:"column,omitzero"`
	Text   string `json:"text,omitzero"`
	Words  string `json:"words"`
}

// Matched is an engine of the sheet, and the one on record that it was taken for.
type Matched struct {
	Name string `json:"name"`
	ID   string `json:"id,omitzero" doc:"Of the engine here; none of a new one"`
	As   string `json:"as,omitzero" doc:"What it is called here"`
}

// Result is what a file comes to.
type Result struct {
	Logs    []log.Log `json:"logs"`
	Refused []Refused `json:"refused"`
	Asked   []Asked   `json:"asked"`
	Doubts  []Doubt   `json:"doubts"`
	Ignored []Ignored `json:"ignored"`
	Engines []Matched `json:"engines"`
	Guesses []Guess   `json:"guesses" doc:"One a sheet"`

	byName map[string]int // logs by the keys of their engines' names
}

func noResult() Result {
	return Result{
		Logs: []log.Log{}, Refused: []Refused{}, Asked: []Asked{}, Doubts: []Doubt{}, Ignored: []Ignored{}, Engines: []Matched{},
		Guesses: []Guess{},
	}
}

// Must returns what has to be answered before anything of the file can come in, nil where nothing has.
func (r Result) Must() *Asked {
	for i, a := range r.Asked {
		if a.Must {
			return &r.Asked[i]
		}
	}
	return nil
}

// asks adds a question: one that has been asked of another sheet is not asked again, since one answer holds for all.
func (r *Result) asks(a Asked) {
	if !slices.ContainsFunc(r.Asked, func(b Asked) bool {
		return a.What == b.What && a.What != AskColumns && a.Text == b.Text || a.What == b.What && a.What == AskDates
	}) {
		r.Asked = append(r.Asked, a)
	}
}

// Guess is how a sheet was read.
type Guess struct {
	Sheet   string        `json:"sheet,omitzero"`
	Engine  string        `json:"engine,omitzero"`
	Headers []int         `json:"headers" doc:"The rows of headings, as a spreadsheet counts them"`
	Turned  bool          `json:"turned,omitzero"`
	Decimal string        `json:"decimal" enum:".,comma"`
	Dates   written.Order `json:"dates,omitzero" enum:"dmy,mdy,iso,named month,serial,undecidable"`
	Unit    units.Unit    `json:"unit,omitzero"`
	Columns []Column      `json:"columns"`
	Key     string        `json:"key" doc:"By which a correction of its columns is remembered"`
	Learned bool          `json:"learned,omitzero" doc:"Columns are read as they were corrected before"`
}

// mostTold is how many refused rows and doubts are named.
const mostTold = 1000
