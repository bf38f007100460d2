package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/season"
	"braxel/internal/logfile"
	"braxel/internal/plain"
)

// seasonAnswer is what a shop's plans come to, on standard output.
type seasonAnswer struct {
	Chances []season.Chance `json:"chances"`
}

func seasonCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "season SHOP...",
		Short: say.Text("command.chances-of-a-season"),
		Args:  args(cobra.MinimumNArgs(1)),
		RunE: func(c *cobra.Command, files []string) error {
			out := json.NewEncoder(c.OutOrStdout())
			var failed []error
			for _, file := range files {
				text, err := os.ReadFile(file)
				if err != nil {
					return err
				}
				ahead, err := logfile.ReadSeason(text)
				if err != nil {
					failed = append(failed, fmt.Errorf("%s: %s", file, plain.Words(err)))
					continue
				}
				if err := out.Encode(seasonAnswer{ahead.Chances(rules.Shop{})}); err != nil {
					return err
				}
			}
			return errors.Join(failed...)
		},
	}
}
