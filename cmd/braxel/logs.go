package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"slices"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/spf13/cobra"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/inout"
	"braxel/internal/logfile"
	"braxel/internal/store"
)

// oneLog is a log of a file and where it stood.
type oneLog struct {
	n         int
	log       log.Log
	strangers []string
	picture   logfile.Pictures // nil where the file has none
}

// refusal is a log that cannot come in, or a file that cannot be read, and why.
type refusal struct {
	file, engine string
	n            int // of the log, 0 of the file
	err          error
}

func (r refusal) Unwrap() error { return r.err }

func (r refusal) Error() string {
	switch {
	case r.n == 0:
		var about *fs.PathError
		if errors.As(r.err, &about) { // it names the file itself
			return r.err.Error()
		}
		return r.file + ": " + r.err.Error()
	case r.engine == "":
		return say.Text("command.log-refused", "file", r.file, "n", r.n, "err", r.err)
	}
	return say.Text("command.log-refused-2", "file", r.file, "n", r.n, "engine", r.engine, "err", r.err)
}

// readLogs reads every log of a file, "-" for standard input, and gives each to do. One that is refused harms no other: all
// refusals are returned together.
func readLogs(c *cobra.Command, file string, do func(oneLog) error) []refusal {
	var refused []refusal
	each := func(n int, text jsontext.Value, picture logfile.Pictures) error {
		l, strangers, err := logfile.Read(text)
		if err == nil {
			err = do(oneLog{n, l, strangers, picture})
		}
		if err != nil {
			refused = append(refused, refusal{file, l.Engine.Name, n, err})
		}
		return nil
	}
	if err := eachLog(c, file, each); err != nil {
		refused = append(refused, refusal{file: file, err: err})
	}
	return refused
}

func joined(all []refusal) error {
	errs := make([]error, len(all))
	for i, r := range all {
		errs[i] = r
	}
	return errors.Join(errs...)
}

// eachLog gives each text of a file to do: of JSON, of JSON lines, or of an archive with pictures.
func eachLog(c *cobra.Command, file string, do func(int, jsontext.Value, logfile.Pictures) error) error {
	plain := func(n int, text jsontext.Value) error { return do(n, text, nil) }
	if file == "-" {
		return logfile.Logs(c.InOrStdin(), plain)
	}
	in, err := os.Open(file)
	if err != nil {
		return err
	}
	defer func() { _ = in.Close() }()
	info, err := in.Stat()
	if err != nil {
		return err
	}
	return logfile.Each(in, info.Size(), do)
}

func judgeCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "judge FILE",
		Short: say.Text("command.print-verdict-for-each-log"),
		Args:  args(cobra.ExactArgs(1)),
		RunE: func(c *cobra.Command, files []string) error {
			out := bufio.NewWriter(c.OutOrStdout())
			refused := readLogs(c, files[0], func(one oneLog) error {
				sayStrangers(c, files[0], one)
				if err := json.MarshalWrite(out, judge.Log(one.log.Standing(), rules.Shop{})); err != nil {
					return err
				}
				return out.WriteByte('\n')
			})
			return errors.Join(joined(refused), out.Flush())
		},
	}
}

// sayStrangers names what is odd in a log: keys that Braxel does not know, testers that are not listed, rows that hold nothing.
func sayStrangers(c *cobra.Command, file string, one oneLog) {
	const most = 100
	for _, at := range one.strangers[:min(len(one.strangers), most)] {
		fmt.Fprintln(c.ErrOrStderr(), say.Text("command.log-not-key-format-kept", "file", file, "n", one.n, "at", at))
	}
	for _, odd := range one.log.Odd() {
		fmt.Fprintln(c.ErrOrStderr(), say.Text("command.log-kept-as",
			"file", file,
			"n", one.n,
			"at", odd.At,
			"what", odd.What,
		))
	}
	if more := len(one.strangers) - most; more > 0 {
		fmt.Fprintln(c.ErrOrStderr(), say.Text("command.log-more", "file", file, "n", one.n, "more", more))
	}
}

// withStore runs do on the data file in the directory that --data names, opened by open.
func withStore(c *cobra.Command, open func(string) (*store.Store, error), do func(context.Context, *store.Store, []string) error) {
	var data string
	dataFlag(c, &data)
	c.RunE = func(c *cobra.Command, given []string) error {
		s, err := open(data)
		if err != nil {
			return err
		}
		return errors.Join(do(c.Context(), s, given), s.Close())
	}
}

func exportCommand() *cobra.Command {
	var engines []string
	var asCSV bool
	var archive, workbook string
	c := &cobra.Command{
		Use:   "export",
		Short: say.Text("command.export-engines-logs-as-json"),
		Args:  args(cobra.NoArgs),
	}
	c.Flags().StringArrayVar(&engines, "engine", nil, say.Text("command.only-engine-with-id-or"))
	c.Flags().BoolVar(&asCSV, "csv", false, say.Text("command.readings-as-csv"))
	c.Flags().StringVar(&archive, "zip", "", say.Text("command.write-logs-photos-file"))
	c.Flags().StringVar(&workbook, "xlsx", "", say.Text("command.write-readings-workbook"))
	withStore(c, store.OpenExisting, func(ctx context.Context, s *store.Store, _ []string) (err error) {
		ids := s.Engines()
		if len(engines) > 0 {
			ids = nil
		}
		for _, called := range engines {
			id, err := oneOf(ctx, s, called)
			if err != nil {
				return err
			}
			ids = append(ids, id)
		}
		if archive != "" {
			return writeWhole(archive, func(to io.Writer) error { return inout.Archive(ctx, s, ids, to) })
		}
		if workbook != "" {
			return writeWhole(workbook, func(to io.Writer) error { return inout.WriteWorkbook(ctx, s, ids, to) })
		}
		out := bufio.NewWriter(c.OutOrStdout())
		form := inout.Lines
		switch {
		case asCSV:
			form = inout.CSV
		case len(engines) == 1:
			form = inout.Indented
		}
		return errors.Join(inout.WriteLogs(ctx, s, ids, out, form), out.Flush())
	})
	return c
}

// writeWhole writes a file that is there whole or not at all.
func writeWhole(to string, write func(io.Writer) error) error {
	if _, err := os.Stat(to); err == nil {
		return say.Error("command.there-already", "to", to)
	}
	part, err := os.OpenFile(to+".part", os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return err
	}
	err = write(part)
	if err = errors.Join(err, part.Sync(), part.Close()); err != nil {
		return errors.Join(err, os.Remove(part.Name()))
	}
	return os.Rename(part.Name(), to)
}

// oneOf returns the id of the engine that is called so: its id, or its name where no other has it.
func oneOf(ctx context.Context, s *store.Store, called string) (string, error) {
	ids := s.Engines()
	if slices.Contains(ids, called) {
		return called, nil
	}
	var named []string
	for _, id := range ids {
		if l, _, err := s.Log(ctx, id); err == nil && strings.EqualFold(l.Engine.Name, called) {
			named = append(named, id)
		}
	}
	if len(named) != 1 {
		return "", say.Error("command.engines-called", "n", len(named), "called", called)
	}
	return named[0], nil
}
