package main

import (
	"context"
	"fmt"

	"github.com/spf13/cobra"

	"braxel/internal/core/say"
	"braxel/internal/inout"
	"braxel/internal/store"
)

func syncCommand() *cobra.Command {
	var passcode string
	c := &cobra.Command{
		Use:   "sync ADDRESS",
		Short: say.Text("command.exchange-with-another-machines-braxel"),
		Args:  args(cobra.ExactArgs(1)),
	}
	c.Flags().StringVar(&passcode, "passcode", "", say.Text("command.other-machines-passcode"))
	withStore(c, store.Open, func(ctx context.Context, s *store.Store, to []string) error {
		done, err := inout.Sync(ctx, s, to[0], passcode)
		fmt.Fprintln(c.OutOrStdout(), say.Text("command.entries-came-went-photos",
			"got", done.Got,
			"gave", done.Gave,
			"pictures", done.Pictures,
		))
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
