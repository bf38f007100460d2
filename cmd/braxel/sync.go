package main

import (
	"context"
	"fmt"

	"github.com/spf13/cobra"

	"braxel/internal/inout"
	"braxel/internal/store"
)

func syncCommand() *cobra.Command {
	var passcode string
	c := &cobra.Command{
		Use:   "sync ADDRESS",
		Short: "Exchange with another machine's Braxel the entries and photos that either lacks; it has to be started with --lan",
		Args:  args(cobra.ExactArgs(1)),
	}
	c.Flags().StringVar(&passcode, "passcode", "", "the other machine's passcode")
	withStore(c, store.Open, func(ctx context.Context, s *store.Store, to []string) error {
		done, err := inout.Sync(ctx, s, to[0], passcode)
		fmt.Fprintf(c.OutOrStdout(), "%d entries came, %d went, %d photos\n", done.Got, done.Gave, done.Pictures)
		for _, clash := range done.Clashes {
			fmt.Fprintf(c.OutOrStdout(), "%s: %s\n", clash.Engine, clash.Words)
		}
		for _, m := range done.Missing {
			fmt.Fprintln(c.ErrOrStderr(), m)
		}
		return err
	})
	return c
}
