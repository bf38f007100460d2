package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"braxel/internal/core/calc"
	"braxel/internal/core/say"
)

func calcCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "calc [NAME]",
		Short: say.Text("command.do-sum-input-as-json"),
		Args:  args(cobra.MaximumNArgs(1)),
		RunE: func(c *cobra.Command, names []string) error {
			if len(names) == 0 {
				return listSums(c.OutOrStdout())
			}
			text, err := io.ReadAll(c.InOrStdin())
			if err != nil {
				return err
			}
			out, err := calc.Run(names[0], text)
			if errors.Is(err, calc.ErrUnknown) {
				return usageError{err}
			}
			if err != nil {
				return err
			}
			return json.NewEncoder(c.OutOrStdout()).Encode(out)
		},
	}
}

func listSums(w io.Writer) error {
	table := tabwriter.NewWriter(w, 0, 0, 2, ' ', 0)
	for _, s := range calc.All() {
		fmt.Fprintf(table, "%s\t%s\t%s\n", s.Name, s.Words, strings.Join(s.Fields, " "))
	}
	return table.Flush()
}
