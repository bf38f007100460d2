package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"braxel/internal/core/log"
	"braxel/internal/core/seal"
	"braxel/internal/inout"
	"braxel/internal/papers"
	"braxel/internal/store"
)

func paperCommand() *cobra.Command {
	var engine, test, size, to, shop string
	kinds := make([]string, len(papers.Kinds))
	for i, k := range papers.Kinds {
		kinds[i] = string(k)
	}
	c := &cobra.Command{
		Use:   "paper " + strings.Join(kinds, "|"),
		Short: "Print a paper of an engine as PDF",
		Args:  args(cobra.ExactArgs(1)),
	}
	c.Flags().StringVar(&engine, "engine", "", "the engine's id or name")
	c.Flags().StringVar(&test, "test", "", "the test that it is of, by its id; else the baseline, or the last")
	c.Flags().StringVar(&size, "size", "", "a4 or letter; of a tag 62x29, 62x100, 89x36 or 102x51 mm")
	c.Flags().StringVarP(&to, "out", "o", "", "the file to write; standard output where none is named")
	c.Flags().StringVar(&shop, "shop", "", "the workshop's name")
	withStore(c, store.OpenExisting, func(ctx context.Context, s *store.Store, kind []string) error {
		id, err := oneOf(ctx, s, engine)
		if err != nil {
			return err
		}
		text, err := inout.Paper(ctx, s, papers.Kind(kind[0]), id, test, size, shop)
		if err != nil {
			return err
		}
		if to == "" {
			_, err = c.OutOrStdout().Write(text)
			return err
		}
		return os.WriteFile(to, text, 0o600)
	})
	return c
}

// errDiffers is what verify ends with where a log does not say what a paper says.
var errDiffers = errors.New("the log does not say what the paper says")

func verifyCommand() *cobra.Command {
	const least = 2
	return &cobra.Command{
		Use:   "verify PAPER-CODE FILE",
		Short: "Say whether a log still says what a paper says: by its eight words, its fingerprint or its QR code",
		Args:  args(cobra.MinimumNArgs(least)),
		RunE: func(c *cobra.Command, given []string) error {
			code, file := strings.Join(given[:len(given)-1], " "), given[len(given)-1]
			var logs []log.Log
			if refused := readLogs(c, file, func(one oneLog) error {
				logs = append(logs, one.log.Standing())
				return nil
			}); len(logs) == 0 && len(refused) > 0 {
				return joined(refused)
			}
			found, err := seal.Verify(code, logs)
			if err != nil {
				return err
			}
			if !found.Same {
				return fmt.Errorf("%w: %s", errDiffers, found.Words)
			}
			_, err = fmt.Fprintln(c.OutOrStdout(), found.Words)
			return err
		},
	}
}
