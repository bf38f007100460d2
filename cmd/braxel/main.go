// Command braxel is the logbook that understands engines: the server, and the same sums and judgement on the command
// line.
package main

import (
	"errors"
	"fmt"
	"os"
	"strings"

	"github.com/spf13/cobra"
)

// errUsage marks a wrong call of the program, exit 2; every other error is a refusal with its reason, exit 1.
var errUsage = errors.New("wrong usage")

func main() {
	root := newRoot()
	err := root.Execute()
	if err == nil {
		return
	}
	fmt.Fprintln(os.Stderr, strings.TrimPrefix(err.Error(), errUsage.Error()+": "))
	if errors.Is(err, errUsage) || strings.HasPrefix(err.Error(), "unknown command") {
		os.Exit(2)
	}
	os.Exit(1)
}

func newRoot() *cobra.Command {
	root := &cobra.Command{
		Use:           "braxel",
		Short:         "A logbook that understands engines",
		SilenceErrors: true,
		SilenceUsage:  true,
	}
	root.CompletionOptions.HiddenDefaultCmd = true
	root.SetFlagErrorFunc(func(_ *cobra.Command, err error) error { return fmt.Errorf("%w: %w", errUsage, err) })
	root.AddCommand(
		serveCommand(),
		demoCommand(),
		openapiCommand(),
		calcCommand(),
		judgeCommand(),
		importCommand(),
		exportCommand(),
		backupCommand(),
		restoreCommand(),
		checkCommand(),
		paperCommand(),
		verifyCommand(),
		syncCommand(),
	)
	return root
}

// args makes a wrong number of arguments a usage error.
func args(check cobra.PositionalArgs) cobra.PositionalArgs {
	return func(c *cobra.Command, given []string) error {
		if err := check(c, given); err != nil {
			return fmt.Errorf("%w: %w\n%s", errUsage, err, c.UseLine())
		}
		return nil
	}
}
