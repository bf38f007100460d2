// Command braxel is the logbook that understands engines: the server, and the same sums and judgement on the command
// line.
package main

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"runtime/debug"
	"strings"

	"github.com/adrg/xdg"
	"github.com/spf13/cobra"

	"braxel/internal/core/say"
	"braxel/internal/gauges"
)

// version is set when a program to take away is built.
var version = say.Text("command.not-released")

// errUsage marks a wrong call of the program, exit 2; every other error is a refusal with its reason, exit 1.
var errUsage = say.Error("command.wrong-usage")

func main() {
	root := newRoot()
	err := root.Execute()
	if err == nil {
		return
	}
	fmt.Fprintln(os.Stderr, strings.TrimPrefix(err.Error(), errUsage.Error()+": "))
	if errors.Is(err, errUsage) || strings.HasPrefix(err.Error(), say.Text("command.unknown-command")) {
		os.Exit(2)
	}
	os.Exit(1)
}

func newRoot() *cobra.Command {
	root := &cobra.Command{
		Use:           "braxel",
		Short:         say.Text("command.logbook-understands-engines"),
		SilenceErrors: true,
		SilenceUsage:  true,
	}
	// Without a word, as when its icon is pressed, it starts, and opens the browser.
	alone := &listen{copies: true, port: defaultPort, speed: gauges.Speed}
	root.Args, root.RunE = cobra.NoArgs, func(c *cobra.Command, _ []string) error {
		alone.data = filepath.Join(xdg.DataHome, "braxel")
		alone.opens = true
		return alone.run(c.Context())
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
		traceCommand(),
		benchCommand(),
		verifyCommand(),
		syncCommand(),
		versionCommand(),
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

func versionCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "version",
		Short: say.Text("command.print-version"),
		Args:  args(cobra.NoArgs),
		RunE: func(c *cobra.Command, _ []string) error {
			built := ""
			if info, ok := debug.ReadBuildInfo(); ok {
				built = ", " + info.GoVersion
			}
			_, err := fmt.Fprintln(c.OutOrStdout(), say.Text("command.braxel",
				"version", version,
				"goos", runtime.GOOS,
				"goarch", runtime.GOARCH,
				"built", built,
			))
			return err
		},
	}
}
