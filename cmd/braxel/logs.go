package main

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"slices"

	"github.com/spf13/cobra"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/logfile"
	"braxel/internal/store"
)

// readLogs reads every log of a file, "-" for standard input, and gives each to do.
func readLogs(c *cobra.Command, file string, do func(log.Log, map[string]any) error) error {
	text, err := readAll(c, file)
	if err != nil {
		return err
	}
	logs, err := logfile.Logs(text)
	if err != nil {
		return fmt.Errorf("%s: %w", file, err)
	}
	for i, one := range logs {
		l, unknown, err := logfile.Read(one)
		if err != nil {
			return fmt.Errorf("%s, log %d is refused:\n%w", file, i+1, err)
		}
		for at := range unknown {
			fmt.Fprintf(c.ErrOrStderr(), "%s, log %d: %s is not a key of this format; kept as it is\n", file, i+1, at)
		}
		if err := do(l, unknown); err != nil {
			return err
		}
	}
	return nil
}

func readAll(c *cobra.Command, file string) ([]byte, error) {
	if file == "-" {
		return io.ReadAll(c.InOrStdin())
	}
	return os.ReadFile(file)
}

func judgeCommand() *cobra.Command {
	return &cobra.Command{Use: "judge FILE", Short: "Print a verdict for each log of a file (- for standard input)", Args: args(cobra.ExactArgs(1)), RunE: func(c *cobra.Command, files []string) error {
		out := bufio.NewWriter(c.OutOrStdout())
		lines := json.NewEncoder(out)
		lines.SetEscapeHTML(false)
		err := readLogs(c, files[0], func(l log.Log, _ map[string]any) error { return lines.Encode(judge.Log(l)) })
		return errors.Join(err, out.Flush())
	}}
}

// withStore runs do on the data file in the directory that --data names.
func withStore(c *cobra.Command, do func(context.Context, *store.Store, []string) error) {
	var data string
	dataFlag(c, &data)
	c.RunE = func(c *cobra.Command, given []string) error {
		s, err := store.Open(data)
		if err != nil {
			return err
		}
		return errors.Join(do(c.Context(), s, given), s.Close())
	}
}

func importCommand() *cobra.Command {
	c := &cobra.Command{Use: "import FILE...", Short: "Bring logs into the data file", Args: args(cobra.MinimumNArgs(1))}
	withStore(c, func(ctx context.Context, s *store.Store, files []string) error {
		for _, file := range files {
			if err := readLogs(c, file, func(l log.Log, unknown map[string]any) error {
				id, err := s.Import(ctx, l, unknown)
				if err == nil {
					fmt.Fprintf(c.OutOrStdout(), "%s: %d tests\n", id, len(l.Sessions))
				}
				return err
			}); err != nil {
				return err
			}
		}
		return nil
	})
	return c
}

func exportCommand() *cobra.Command {
	var engine string
	var asCSV bool
	c := &cobra.Command{Use: "export", Short: "Print every engine's log as JSON, one a line, or its readings as CSV", Args: args(cobra.NoArgs)}
	c.Flags().StringVar(&engine, "engine", "", "only the engine of this id, as indented JSON")
	c.Flags().BoolVar(&asCSV, "csv", false, "readings as CSV")
	withStore(c, func(ctx context.Context, s *store.Store, _ []string) error {
		ids := []string{engine}
		if engine == "" {
			rack, err := s.Rack(ctx, judge.Edition)
			if err != nil {
				return err
			}
			ids = slices.Collect(func(yield func(string) bool) {
				for _, one := range rack {
					if !yield(one.Engine) {
						return
					}
				}
			})
		}
		for _, id := range ids {
			if err := exportOne(ctx, c.OutOrStdout(), s, id, engine != "", asCSV); err != nil {
				return err
			}
		}
		return nil
	})
	return c
}

func exportOne(ctx context.Context, out io.Writer, s *store.Store, id string, alone, asCSV bool) error {
	l, unknown, err := s.Whole(ctx, id)
	if err != nil {
		return err
	}
	if asCSV {
		return logfile.WriteCSV(out, l)
	}
	text, err := logfile.Write(l, unknown)
	if err != nil {
		return err
	}
	if alone {
		_, err = out.Write(text)
		return err
	}
	return json.NewEncoder(out).Encode(json.RawMessage(text))
}
