package main

import (
	"context"
	"fmt"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/seal"
	"braxel/internal/inout"
	"braxel/internal/papers"
	"braxel/internal/store"
)

func paperCommand() *cobra.Command {
	var engine, test, size, to, shop, address string
	var noNumbers, contact bool
	kinds := make([]string, len(papers.Kinds))
	for i, k := range papers.Kinds {
		kinds[i] = string(k)
	}
	c := &cobra.Command{
		Use:   say.Text("command.paper", "kinds", strings.Join(kinds, "|")),
		Short: say.Text("command.print-paper-engine-as-pdf"),
		Args:  args(cobra.ExactArgs(1)),
	}
	c.Flags().StringVar(&engine, "engine", "", say.Text("command.engines-id-or-name"))
	c.Flags().StringVar(&test, "test", "", say.Text("command.test-about-id-otherwise-baseline"))
	c.Flags().StringVar(&size, "size", "", say.Text("command.a4-or-letter-for-tag"))
	c.Flags().StringVarP(&to, "out", "o", "", say.Text("command.file-write-standard-output-if"))
	c.Flags().StringVar(&shop, "shop", "", say.Text("command.shops-name"))
	c.Flags().StringVar(&address, "address", "", say.Text("command.address-of-the-engines-page"))
	c.Flags().BoolVar(&noNumbers, "no-numbers", false, say.Text("command.leave-out-the-engines-numbers"))
	c.Flags().BoolVar(&contact, "contact", false, say.Text("command.with-the-owners-phone"))
	withStore(c, store.OpenExisting, func(ctx context.Context, s *store.Store, kind []string) error {
		id, err := oneOf(ctx, s, engine)
		if err != nil {
			return err
		}
		text, err := inout.Paper(ctx, s, id, papers.Input{
			Rules: s.Rules(),
			Kind:  papers.Kind(kind[0]), Test: test, Size: size, Shop: shop, Address: address,
			Shows: papers.Shows{NoNumbers: noNumbers, Contact: contact},
		})
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
var errDiffers = say.Error("command.log-doesnt-match-paper")

func verifyCommand() *cobra.Command {
	const least = 2
	return &cobra.Command{
		Use:   "verify PAPER-CODE FILE",
		Short: say.Text("command.check-whether-log-still-matches"),
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
