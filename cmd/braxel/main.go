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

	"github.com/adrg/xdg"
	"github.com/spf13/cobra"
	"github.com/spf13/pflag"

	"braxel/internal/core/say"
	"braxel/internal/gauges"
	"braxel/internal/plain"
)

// version is set when a program to take away is built.
var version = say.Text("command.not-released")

// usageError is a wrong call of the program, exit 2; every other error is a refusal with its reason, exit 1.
type usageError struct{ error }

func main() {
	root := newRoot()
	err := root.Execute()
	if err == nil {
		return
	}
	fmt.Fprintln(os.Stderr, plain.Words(err))
	var usage usageError
	if errors.As(err, &usage) {
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
	root.Args, root.RunE = args(cobra.NoArgs), func(c *cobra.Command, _ []string) error {
		alone.data = filepath.Join(xdg.DataHome, "braxel")
		alone.opens = true
		return alone.run(c.Context())
	}
	root.CompletionOptions.HiddenDefaultCmd = true
	root.SetFlagErrorFunc(func(_ *cobra.Command, err error) error { return usageError{flags(err)} })
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
		dialCommand(),
		seasonCommand(),
		cameraCommand(),
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
		switch err := check(c, given); {
		case err == nil:
			return nil
		case !c.HasParent() && len(given) > 0:
			return usageError{say.Error("command.unknown-command", "name", given[0])}
		}
		return usageError{say.Error("command.use-it-like-this", "line", c.UseLine())}
	}
}

// flags says plainly what is wrong with a flag.
func flags(err error) error {
	var unknown *pflag.NotExistError
	var without *pflag.ValueRequiredError
	var invalid *pflag.InvalidValueError
	switch {
	case errors.As(err, &unknown):
		return say.Error("command.unknown-flag", "name", dashed(unknown.GetSpecifiedName()))
	case errors.As(err, &without):
		return say.Error("command.flag-needs-value", "name", dashed(without.GetSpecifiedName()))
	case errors.As(err, &invalid):
		f := invalid.GetFlag()
		return say.Error("command.flag-not-so", "name", dashed(f.Name), "kind", kindOf(f.Value.Type()), "given", invalid.GetValue())
	}
	return err
}

// kindOf says what kind of value a flag takes.
func kindOf(name string) string {
	switch name {
	case "int", "uint64":
		return say.Text("command.a-whole-number")
	case "float64":
		return say.Text("command.a-number")
	case "bool":
		return say.Text("command.true-or-false")
	}
	return say.Text("command.a-text")
}

// dashed writes the name of a flag as it is typed.
func dashed(name string) string {
	if len(name) == 1 {
		return "-" + name
	}
	return "--" + name
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
