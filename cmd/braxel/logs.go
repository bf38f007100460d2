package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/spf13/cobra"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/logfile"
	"braxel/internal/store"
)

// readLogs reads every log of a file, "-" for standard input, and gives each to do. One that is refused harms no other: all
// refusals are returned together.
func readLogs(c *cobra.Command, file string, do func(log.Log) error) error {
	text, err := readAll(c, file)
	if err != nil {
		return err
	}
	logs, err := logfile.Logs(text)
	if err != nil {
		return fmt.Errorf("%s: %w", file, err)
	}
	var refused []error
	for i, one := range logs {
		l, strangers, err := logfile.Read(one)
		if err == nil {
			for _, at := range strangers {
				fmt.Fprintf(c.ErrOrStderr(), "%s, log %d: %s is not a key of this format; kept as it is\n", file, i+1, at)
			}
			err = do(l)
		}
		if err != nil {
			refused = append(refused, fmt.Errorf("%s, log %d is refused:\n%w", file, i+1, err))
		}
	}
	return errors.Join(refused...)
}

func readAll(c *cobra.Command, file string) ([]byte, error) {
	if file == "-" {
		return io.ReadAll(c.InOrStdin())
	}
	return os.ReadFile(file)
}

func judgeCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "judge FILE",
		Short: "Print a verdict for each log of a file (- for standard input)",
		Args:  args(cobra.ExactArgs(1)),
		RunE: func(c *cobra.Command, files []string) error {
			out := bufio.NewWriter(c.OutOrStdout())
			err := readLogs(c, files[0], func(l log.Log) error {
				if err := json.MarshalWrite(out, judge.Log(l.Standing())); err != nil {
					return err
				}
				return out.WriteByte('\n')
			})
			return errors.Join(err, out.Flush())
		},
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

func importCommand() *cobra.Command {
	c := &cobra.Command{
		Use:   "import FILE...",
		Short: "Bring logs, or another data file's book, into the data file; nothing that is there is replaced",
		Args:  args(cobra.MinimumNArgs(1)),
	}
	c.Flags().Bool("dry-run", false, "say what would come in, and leave the data file as it is")
	withStore(c, store.Open, func(ctx context.Context, s *store.Store, files []string) error {
		var refused []error
		for _, file := range files {
			if filepath.Ext(file) == ".db" {
				added, err := s.Merge(ctx, file)
				refused = append(refused, err)
				if err == nil {
					fmt.Fprintf(c.OutOrStdout(), "%s: %d entries that were not here\n", file, added)
				}
				continue
			}
			refused = append(refused, readLogs(c, file, func(l log.Log) error { return importOne(ctx, c, s, l) }))
		}
		return errors.Join(refused...)
	})
	return c
}

func importOne(ctx context.Context, c *cobra.Command, s *store.Store, l log.Log) error {
	done, err := s.Import(ctx, l, time.Now())
	if err != nil {
		return err
	}
	for _, d := range done.Differs {
		fmt.Fprintf(c.ErrOrStderr(), "%s: %s: %s\n", done.Engine, d.At, d.What)
	}
	if done.New == 0 {
		fmt.Fprintf(c.OutOrStdout(), "%s: all of it is here already\n", done.Engine)
		return nil
	}
	fmt.Fprintf(c.OutOrStdout(), "%s: %d tests\n", done.Engine, len(l.Sessions))
	return nil
}

func exportCommand() *cobra.Command {
	var engine string
	var asCSV bool
	c := &cobra.Command{
		Use:   "export",
		Short: "Print every engine's log as JSON, one a line, or its readings as CSV",
		Args:  args(cobra.NoArgs),
	}
	c.Flags().StringVar(&engine, "engine", "", "only the engine of this id or name, as indented JSON")
	c.Flags().BoolVar(&asCSV, "csv", false, "readings as CSV")
	withStore(c, store.OpenExisting, func(ctx context.Context, s *store.Store, _ []string) error {
		ids := s.Engines()
		if engine != "" {
			id, err := oneOf(ctx, s, engine)
			if err != nil {
				return err
			}
			ids = []string{id}
		}
		out := bufio.NewWriter(c.OutOrStdout())
		var failed []error
		for _, id := range ids {
			l, _, err := s.Log(ctx, id)
			if err == nil {
				err = write(out, l, engine != "", asCSV)
			}
			failed = append(failed, err)
		}
		return errors.Join(errors.Join(failed...), out.Flush())
	})
	return c
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
		return "", fmt.Errorf("%d engines are called %q", len(named), called)
	}
	return named[0], nil
}

func write(out io.Writer, l log.Log, alone, asCSV bool) error {
	if asCSV {
		return logfile.WriteCSV(out, l)
	}
	as := logfile.Line
	if alone {
		as = logfile.Write
	}
	text, err := as(l)
	if err != nil {
		return err
	}
	_, err = out.Write(text)
	return err
}
