package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"runtime/debug"
	"slices"
	"strings"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/spf13/cobra"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/table"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
	"braxel/internal/inout"
	"braxel/internal/logfile"
	"braxel/internal/plain"
	"braxel/internal/store"
)

// taking holds the flags of an import.
type taking struct {
	data, engine, dates, date, unit string
	answers                         []string
	dry, asJSON                     bool
}

// softLimit is the memory above which it is collected more often: of a sheet, all is held at once.
const softLimit = 280 << 20

// told is what an import comes to, as --json prints it.
type told struct {
	Logs    []log.Log        `json:"logs"`
	Refused []refusedRow     `json:"refused"`
	Asked   []table.Asked    `json:"asked"`
	Doubts  []table.Doubt    `json:"doubts"`
	Ignored []table.Ignored  `json:"ignored"`
	Would   []store.Imported `json:"would" doc:"Of logs: what would come in, and what is otherwise here"`
	Unknown []string         `json:"unknown" doc:"Keys that Braxel does not know; they are kept"`
}

// refusedRow is a row of a sheet, or a place in a log, that cannot be taken.
type refusedRow struct {
	File   string `json:"file"`
	Sheet  string `json:"sheet,omitzero"`
	Row    int    `json:"row,omitzero"`
	Column string `json:"column,omitzero"`
	Log    int    `json:"log,omitzero"`
	Engine string `json:"engine,omitzero"`
	At     string `json:"at,omitzero"`
	Text   string `json:"text,omitzero"`
	Why    string `json:"why"`
}

func importCommand() *cobra.Command {
	t := &taking{}
	c := &cobra.Command{
		Use:   "import FILE...",
		Short: say.Text("command.import-logs-json-jsonl-zip"),
		Args:  args(cobra.MinimumNArgs(1)),
		RunE:  func(c *cobra.Command, files []string) error { return t.run(c, files) },
	}
	dataFlag(c, &t.data)
	c.Flags().BoolVar(&t.dry, "dry-run", false, say.Text("command.say-what-would-imported-change"))
	c.Flags().BoolVar(&t.asJSON, "json", false, say.Text("command.with-dry-run-answer-as"))
	c.Flags().StringVar(&t.engine, "engine", "", say.Text("command.for-sheet-engine-belongs-or"))
	c.Flags().StringVar(&t.dates, "dates", "", say.Text("command.for-sheet-dmy-or-mdy"))
	c.Flags().StringVar(&t.date, "date", "", say.Text("command.for-sheet-without-date-when"))
	c.Flags().StringArrayVar(&t.answers, "answer", nil, say.Text("command.for-sheet-answer"))
	c.Flags().StringVar(&t.unit, "unit", "", say.Text("command.for-sheet-without-unit-psi"))
	return c
}

func (t *taking) run(c *cobra.Command, files []string) error {
	if t.asJSON && !t.dry {
		return usageError{say.Error("command.json-needs-dry-run")}
	}
	if t.dates != "" && t.dates != string(written.DayFirst) && t.dates != string(written.MonthFirst) {
		return usageError{say.Error("command.dates-must-dmy-or-mdy")}
	}
	if t.unit != "" && !units.Unit(t.unit).Valid() {
		return usageError{say.Error("command.unit-must-psi-bar-kpa")}
	}
	if _, err := time.Parse(time.DateOnly, t.date); t.date != "" && err != nil {
		return usageError{say.Error("command.date-must-day-such-as")}
	}
	// Much is read once and let go: with so little kept, collecting it less often costs some tens of megabytes and saves a fifth.
	const seldom = 300
	debug.SetGCPercent(seldom)
	debug.SetMemoryLimit(softLimit)
	s, err := t.open(files)
	if err != nil {
		return err
	}
	out := told{[]log.Log{}, []refusedRow{}, []table.Asked{}, []table.Doubt{}, []table.Ignored{}, []store.Imported{}, []string{}}
	var refused []error
	for _, file := range files {
		refused = append(refused, t.file(c, s, file, &out))
	}
	if s != nil {
		refused = append(refused, s.Close())
	}
	if t.asJSON {
		refused = append(refused, json.MarshalWrite(c.OutOrStdout(), out, json.Deterministic(true), jsontext.WithIndent(" ")))
	}
	return errors.Join(refused...)
}

// open opens the data file. A dry run makes none, and one of sheets alone needs none.
func (t *taking) open(files []string) (*store.Store, error) {
	if !t.dry {
		return store.Open(t.data)
	}
	if !slices.ContainsFunc(files, func(f string) bool { return !isSheet(f) }) && t.engine == "" {
		return nil, nil
	}
	if _, err := os.Stat(filepath.Join(t.data, store.File)); errors.Is(err, os.ErrNotExist) {
		return nil, nil
	}
	return store.Open(t.data)
}

func isSheet(file string) bool {
	return slices.Contains([]string{".csv", ".tsv", ".tab", ".txt", ".xlsx", ".xlsm", ".ods", ".xls"}, strings.ToLower(filepath.Ext(file)))
}

func (t *taking) file(c *cobra.Command, s *store.Store, file string, out *told) error {
	switch {
	case isSheet(file):
		return t.sheet(c, s, file, out)
	case filepath.Ext(file) == ".db":
		if t.dry {
			return say.Error("command.data-file-has-no-dry", "file", file)
		}
		added, err := s.Merge(c.Context(), file)
		if err == nil {
			fmt.Fprintln(c.OutOrStdout(), say.Text("command.new-entries", "file", file, "n", added))
		}
		return err
	}
	refused := t.logs(c, s, file, out)
	for _, r := range refused {
		out.Refused = append(out.Refused, rowsOf(r)...)
	}
	if t.asJSON {
		return nil // said there
	}
	return joined(refused)
}

// logs takes the logs of a file in, or says what would come of them. Only what is asked for as JSON is remembered of each.
func (t *taking) logs(c *cobra.Command, s *store.Store, file string, out *told) []refusal {
	if s == nil || file == "-" {
		return readLogs(c, file, func(one oneLog) error {
			if t.asJSON {
				out.Unknown, out.Logs = append(out.Unknown, one.strangers...), append(out.Logs, one.log)
			} else {
				sayStrangers(c, file, one)
			}
			return t.log(c, s, one.log, one.picture, out)
		})
	}
	in, err := os.Open(file)
	if err != nil {
		return []refusal{{file: file, err: err}}
	}
	defer func() { _ = in.Close() }()
	info, err := in.Stat()
	if err != nil {
		return []refusal{{file: file, err: err}}
	}
	var refused []refusal
	shown := newBar(c.ErrOrStderr(), info.Size(), "engines")
	err = inout.EachLog(c.Context(), s, shown.reading(in), info.Size(), inout.Taking{Now: time.Now, Dry: t.dry}, func(one inout.ReadLog) {
		shown.at(one.N)
		switch {
		case one.Err != nil:
			refused = append(refused, refusal{file, one.Log.Engine.Name, one.N, one.Err})
		case t.asJSON:
			out.Unknown, out.Logs, out.Would = append(out.Unknown, one.Unknown...), append(out.Logs, one.Log), append(out.Would, one.Done)
		default:
			shown.end()
			sayStrangers(c, file, oneLog{n: one.N, log: one.Log, strangers: one.Unknown})
			if err := report(c.OutOrStdout(), c.ErrOrStderr(), one.Done, t.dry); err != nil {
				refused = append(refused, refusal{file, one.Log.Engine.Name, one.N, err})
			}
		}
	})
	shown.end()
	if err != nil {
		refused = append(refused, refusal{file: file, err: err})
	}
	return refused
}

// rowsOf names each fault of a refused log.
func rowsOf(r refusal) []refusedRow {
	var faults log.Faults
	if !errors.As(r.err, &faults) {
		return []refusedRow{{File: r.file, Log: r.n, Engine: r.engine, Why: plain.Words(r.err)}}
	}
	all := make([]refusedRow, len(faults))
	for i, f := range faults {
		all[i] = refusedRow{File: r.file, Log: r.n, Engine: r.engine, At: f.At, Why: f.What}
	}
	return all
}

// log takes one log in, or says what would come of it.
func (t *taking) log(c *cobra.Command, s *store.Store, l log.Log, picture logfile.Pictures, out *told) error {
	var done store.Imported
	var err error
	switch {
	case t.dry && s == nil:
		if !t.asJSON {
			fmt.Fprintln(c.OutOrStdout(), say.Text("command.tests-would-imported",
				"engineID", book.EngineID(l),
				"n", len(l.Sessions),
			))
		}
		return nil
	case t.dry:
		done, err = s.TryImport(c.Context(), l, time.Now())
	default:
		done, err = s.Import(c.Context(), l, time.Now())
		if err == nil && picture != nil {
			err = inout.TakePictures(s, done.Engine, l, picture)
		}
	}
	if err != nil {
		return err
	}
	if t.asJSON {
		out.Would = append(out.Would, done)
		return nil
	}
	return report(c.OutOrStdout(), c.ErrOrStderr(), done, t.dry)
}

// say tells what came of a log, or would.
func report(out, beside io.Writer, done store.Imported, dry bool) error {
	for _, d := range done.Differs {
		fmt.Fprintln(beside, say.Text("command.left-as-here", "engine", done.Engine, "at", d.At, "what", d.What))
		for _, side := range d.Sides {
			fmt.Fprintln(beside, say.Text("command.here-there",
				"at", side.At,
				"orNothing", orNothing(side.Here),
				"orNothing2", orNothing(side.There),
			))
		}
	}
	would := ""
	if dry {
		would = say.Text("command.would-imported")
	}
	if done.New == 0 {
		_, err := fmt.Fprintln(out, say.Text("command.all-here-already", "engine", done.Engine))
		return err
	}
	_, err := fmt.Fprintln(out, say.Text("command.tests", "engine", done.Engine, "n", len(done.Tests), "would", would))
	return err
}

func orNothing(text string) string {
	if text == "" {
		return "nothing"
	}
	return text
}

// sheet takes a spreadsheet in. What it has to ask holds it up: nothing of it comes in by half.
func (t *taking) sheet(c *cobra.Command, s *store.Store, file string, out *told) error {
	text, err := readSome(file)
	if err != nil {
		return err
	}
	sheets, saved, err := logfile.ReadSheets(file, text)
	if err != nil {
		return fmt.Errorf("%s: %w", file, err)
	}
	picks := table.Picks{Dates: written.Order(t.dates), Date: t.date, Unit: units.Unit(t.unit), Engine: t.engine}
	if err := t.into(c.Context(), s, &picks); err != nil {
		return err
	}
	if s != nil {
		inout.Here(c.Context(), s, &picks)
	}
	got, err := t.answered(sheets, picks)
	if err != nil {
		return err
	}
	out.Logs, out.Asked = append(out.Logs, got.Logs...), append(out.Asked, got.Asked...)
	out.Doubts, out.Ignored = append(out.Doubts, got.Doubts...), append(out.Ignored, got.Ignored...)
	for _, r := range got.Refused {
		out.Refused = append(out.Refused, refusedRow{File: file, Sheet: r.Sheet, Row: r.Row, Column: r.Column, Text: r.Text, Why: r.Why})
	}
	if t.asJSON {
		return nil
	}
	sayGuess(c.OutOrStdout(), file, saved, got)
	if must := got.Must(); must != nil {
		if t.dry {
			return nil
		}
		return say.Error("command.nothing-was-imported-say-with", "file", file, "words", must.Words, "what", must.What)
	}
	var failed []error
	for _, l := range got.Logs {
		failed = append(failed, t.log(c, s, l, nil, out))
	}
	return errors.Join(failed...)
}

// answered reads sheets, and takes in the answers that were given with the command.
func (t *taking) answered(sheets []table.Sheet, picks table.Picks) (table.Result, error) {
	got := table.Read(sheets, picks)
	for range len(t.answers) {
		for _, a := range got.Asked {
			for _, one := range t.answers {
				what, name, found := strings.Cut(one, "=")
				if !found {
					return got, say.Error("command.answer-such-as")
				}
				if what != a.What {
					continue
				}
				if !picks.Answer(a, name) {
					return got, say.Error("command.not-an-answer", "answer", one, "words", a.Words)
				}
			}
		}
		got = table.Read(sheets, picks)
	}
	return got, nil
}

// into finds the engine on record that a sheet is said to be of.
func (t *taking) into(ctx context.Context, s *store.Store, picks *table.Picks) error {
	if t.engine == "" || s == nil {
		return nil
	}
	id, err := oneOf(ctx, s, t.engine)
	if err != nil {
		return nil // what a new engine is called
	}
	l, _, err := s.Log(ctx, id)
	if err != nil {
		return err
	}
	picks.Into = &l.Engine
	return nil
}

func readSome(file string) ([]byte, error) {
	in, err := os.Open(file)
	if err != nil {
		return nil, err
	}
	defer func() { _ = in.Close() }()
	return io.ReadAll(io.LimitReader(in, logfile.MostSheet+1))
}

// sayGuess tells how a sheet was read, what is refused and what is asked.
func sayGuess(w io.Writer, file string, saved logfile.Saved, got table.Result) {
	tests := 0
	for _, l := range got.Logs {
		tests += len(l.Sessions)
	}
	fmt.Fprintln(w, say.Text("command.tests-engines-cells-separated",
		"file", file,
		"tests", tests,
		"n", len(got.Logs),
		"encoding", saved.Encoding,
		"delimiter", saved.Delimiter,
	))
	for _, g := range got.Guesses {
		if g.Sheet != "" {
			fmt.Fprintln(w, say.Text("command.sheet", "sheet", g.Sheet))
		}
		for _, c := range g.Columns {
			fmt.Fprintln(w, say.Text("command.is",
				"header", c.Header,
				"means", c.Means,
				"kind", c.Kind,
				"cylinder", c.Cylinder,
			))
		}
	}
	for _, r := range got.Refused {
		fmt.Fprintln(w, say.Text("command.row-refused", "row", r.Row, "column", r.Column, "why", r.Why))
	}
	for _, d := range got.Doubts {
		fmt.Fprintln(w, say.Text("command.row", "row", d.Row, "column", d.Column, "words", d.Words))
	}
	for _, a := range got.Asked {
		fmt.Fprintln(w, say.Text("command.question", "words", a.Words))
		for _, c := range a.Choices {
			fmt.Fprintln(w, say.Text("command.answer", "what", a.What, "name", c.Name, "words", c.Words))
		}
	}
}
