package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"braxel/internal/store"
)

func backupCommand() *cobra.Command {
	var data string
	c := &cobra.Command{
		Use:   "backup FILE",
		Short: "Write a safe copy of the data and the photos, also while in use: FILE.zip one archive, FILE.db the data file with photos beside it",
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
		Short: "Put a copy back; what was there before is kept aside",
		Args:  args(cobra.MaximumNArgs(1)),
		RunE: func(c *cobra.Command, from []string) error {
			switch {
			case latest && len(from) == 0:
				best, ok := store.NewestGood(c.Context(), store.PlacesOf(data)...)
				if !ok {
					return fmt.Errorf("there is no good copy in %s", strings.Join(store.PlacesOf(data), " or "))
				}
				from = []string{best.File()}
			case latest || len(from) == 0:
				return fmt.Errorf("%w: name a copy, or say --latest", errUsage)
			}
			aside, err := store.Restore(c.Context(), data, from[0])
			if err != nil {
				return err
			}
			if aside == "" {
				_, err = fmt.Fprintf(c.OutOrStdout(), "restored from %s\n", from[0])
				return err
			}
			_, err = fmt.Fprintf(c.OutOrStdout(), "restored from %s; what was there before is in %s\n", from[0], filepath.Base(aside))
			return err
		},
	}
	dataFlag(c, &data)
	c.Flags().BoolVar(&latest, "latest", false, "the newest good copy of those that are made daily")
	return c
}

func checkCommand() *cobra.Command {
	c := &cobra.Command{Use: "check", Short: "Report whether the data file is sound", Args: args(cobra.NoArgs)}
	withStore(c, store.OpenExisting, func(ctx context.Context, s *store.Store, _ []string) error {
		faults, err := s.Check(ctx)
		if err != nil {
			return err
		}
		if len(faults) > 0 {
			return errors.New("not all of it is sound:\n" + strings.Join(faults, "\n"))
		}
		info, err := os.Stat(filepath.Join(s.Dir, store.File))
		if err != nil {
			return err
		}
		fmt.Fprintf(c.OutOrStdout(), "sound, %d kB\n", info.Size()/1024)
		return nil
	})
	return c
}
