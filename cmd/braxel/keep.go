package main

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"braxel/internal/core/say"
	"braxel/internal/store"
)

func backupCommand() *cobra.Command {
	var data string
	c := &cobra.Command{
		Use:   "backup FILE",
		Short: say.Text("command.write-backup-data-photos-also"),
		Args:  args(cobra.ExactArgs(1)),
		RunE: func(c *cobra.Command, to []string) error {
			return store.Copy(c.Context(), data, to[0])
		},
	}
	dataFlag(c, &data)
	return c
}

func restoreCommand() *cobra.Command {
	var data string
	var latest bool
	c := &cobra.Command{
		Use:   "restore [FILE]",
		Short: say.Text("command.restore-backup-what-was-there"),
		Args:  args(cobra.MaximumNArgs(1)),
		RunE: func(c *cobra.Command, from []string) error {
			switch {
			case latest && len(from) == 0:
				best, ok := store.NewestGood(c.Context(), store.PlacesOf(data)...)
				if !ok {
					return say.Error("command.there-no-good-backup", "placesOf", say.Or(store.PlacesOf(data)))
				}
				from = []string{best.File()}
			case latest || len(from) == 0:
				return usageError{say.Error("command.name-backup-or-say-latest")}
			}
			aside, err := store.Restore(c.Context(), data, from[0])
			if err != nil {
				return err
			}
			if aside == "" {
				_, err = fmt.Fprintln(c.OutOrStdout(), say.Text("command.restored-from", "from", from[0]))
				return err
			}
			_, err = fmt.Fprintln(c.OutOrStdout(), say.Text("command.restored-from-what-was-there",
				"from", from[0],
				"aside", filepath.Base(aside),
			))
			return err
		},
	}
	dataFlag(c, &data)
	c.Flags().BoolVar(&latest, "latest", false, say.Text("command.newest-good-one-daily-backups"))
	return c
}

func checkCommand() *cobra.Command {
	c := &cobra.Command{Use: "check", Short: say.Text("command.check-whether-data-file-sound"), Args: args(cobra.NoArgs)}
	withStore(c, store.OpenExisting, func(ctx context.Context, s *store.Store, _ []string) error {
		faults, err := s.Check(ctx)
		if err != nil {
			return err
		}
		if len(faults) > 0 {
			return say.Error("command.not-all-sound", "faults", strings.Join(faults, "\n"))
		}
		info, err := os.Stat(filepath.Join(s.Dir, store.File))
		if err != nil {
			return err
		}
		fmt.Fprintln(c.OutOrStdout(), say.Text("command.sound-kb", "size", info.Size()/1024))
		return nil
	})
	return c
}
