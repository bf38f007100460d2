package main

import (
	"context"
	"fmt"
	"io"
	"net"
	"os/signal"
	"strconv"
	"strings"
	"syscall"

	"github.com/creack/pty"
	"github.com/spf13/cobra"

	"braxel/internal/core/bench"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/standin"
)

// benchFlags are what a simulated engine is asked for.
type benchFlags struct {
	cylinders             int
	kind                  string
	faults                []string
	tcp, passcode         string
	terminal, kit         bool
	alone, bare, cold, in bool
	seed                  uint64
}

func benchCommand() *cobra.Command {
	f := &benchFlags{}
	c := &cobra.Command{
		Use:     "bench",
		Short:   say.Text("command.run-simulated-engine-with-gauge"),
		Long:    say.Text("command.start-braxel-with-gauge-port"),
		Example: "  braxel serve --gauge-port 8315\n  braxel bench --tcp localhost:8315 --fault exhaust_valve:3:12",
		Args:    args(cobra.NoArgs),
		RunE: func(c *cobra.Command, _ []string) error {
			ctx, done := signal.NotifyContext(c.Context(), syscall.SIGINT, syscall.SIGTERM)
			defer done()
			return f.run(ctx, c.OutOrStdout())
		},
	}
	c.Flags().StringVar(&f.tcp, "tcp", "", say.Text("command.where-braxel-listens-for-gauges"))
	c.Flags().StringVar(&f.passcode, "passcode", "", say.Text("command.shops-passcode-if-braxel-runs"))
	c.Flags().BoolVar(&f.terminal, "pty", false, say.Text("command.speak-pseudo-terminal-instead-print"))
	c.Flags().StringVar(&f.kind, "kind", log.FourStroke, say.Text("command.four-stroke-two-stroke-karts"))
	c.Flags().IntVar(&f.cylinders, "cylinders", 4, say.Text("command.line-1-8"))
	c.Flags().StringSliceVar(&f.faults, "fault", nil, say.Text("command.fault-kind-cylinder-size-such"))
	c.Flags().BoolVar(&f.kit, "kit", false, say.Text("command.with-leak-down-tester-beside"))
	c.Flags().BoolVar(&f.alone, "alone", false, say.Text("command.crank-itself-whenever-sheet-waits"))
	c.Flags().BoolVar(&f.bare, "bare", false, say.Text("command.gauge-has-no-check-valve"))
	c.Flags().BoolVar(&f.cold, "cold", false, say.Text("command.engine-cold"))
	c.Flags().BoolVar(&f.in, "plugs-in", false, say.Text("command.other-plugs-stay"))
	c.Flags().Uint64Var(&f.seed, "seed", 1, say.Text("command.draw-another-engine-kind"))
	return c
}

func (f *benchFlags) run(ctx context.Context, out io.Writer) error {
	if f.terminal == (f.tcp != "") {
		return usageError{say.Error("command.where-should-connect-use-tcp")}
	}
	e, err := f.engine()
	if err != nil {
		return usageError{err}
	}
	stand := standin.New(e, e.Begin(f.cold), standin.Options{
		Gauge: bench.Shop, Bare: f.bare, Alone: f.alone, PlugsIn: f.in, Network: f.tcp != "", Passcode: f.passcode, Seed: f.seed,
	})
	if f.terminal {
		mine, theirs, err := pty.Open()
		if err != nil {
			return err
		}
		defer func() { _, _ = mine.Close(), theirs.Close() }()
		if _, err := fmt.Fprintln(out, say.Text("command.gauge-at", "name", theirs.Name())); err != nil {
			return err
		}
		stand.Run(ctx, mine, nil)
		return nil
	}
	press, err := net.Dial("tcp", f.tcp)
	if err != nil {
		return err
	}
	defer func() { _ = press.Close() }()
	var air io.ReadWriter
	if f.kit {
		second, err := net.Dial("tcp", f.tcp)
		if err != nil {
			return err
		}
		defer func() { _ = second.Close() }()
		air = second
	}
	if _, err := fmt.Fprintln(out, say.Text("command.engine-stand-gauge-talks", "tcp", f.tcp)); err != nil {
		return err
	}
	stand.Run(ctx, press, air)
	if ctx.Err() == nil {
		return say.Error("command.braxel-has-closed-connection-gauge")
	}
	return nil
}

// engine is a usual petrol engine of so many cylinders in line, half a litre each.
func (f *benchFlags) engine() (*bench.Engine, error) {
	if f.cylinders < 1 || f.cylinders > 8 {
		return nil, say.Error("command.cylinders-must-between-1-8")
	}
	e := log.Engine{Name: "bench", Kind: f.kind, BoreMM: 86, StrokeMM: 86, Ratio: 9.8}
	spec := bench.Spec{RingsPct: 3, Seed: f.seed}
	switch f.kind {
	case log.FourStroke:
	case log.TwoStroke:
		f.cylinders, e.BoreMM, e.StrokeMM, e.Ratio = 1, 54, 54, 11
	case log.Rotary:
		e.Layout.Rotors, e.Ratio = 2, 9.4
		spec.FaceCC, spec.RingsPct = 654, 12
	default:
		return nil, say.Error("command.kind-must-four-stroke-two", "kind", f.kind)
	}
	for _, p := range layout.Presets() {
		row := p.Group == "inline" || p.Group == "single"
		if f.kind != log.Rotary && row && len(p.Layout.Banks[0]) == f.cylinders {
			e.Layout, e.FiringOrder, e.FiringIntervals = p.Layout, p.Firings[0].Order, p.Firings[0].Intervals
		}
	}
	spec.Engine = e
	for _, text := range f.faults {
		fault, err := readFault(text)
		if err != nil {
			return nil, err
		}
		if fault.Cylinder > 0 && !e.Has(e.Place(fault.Cylinder)) {
			return nil, say.Error("command.fault-engine-has-no", "text", text, "cylinder", fault.Cylinder)
		}
		spec.Faults = append(spec.Faults, fault)
	}
	return bench.New(spec), nil
}

func readFault(text string) (bench.Fault, error) {
	parts := strings.Split(text, ":")
	f := bench.Fault{Kind: parts[0], Size: 10}
	if !bench.Known(f.Kind) {
		return f, say.Error("command.fault-not-one",
			"kind", f.Kind,
			"kinds", strings.Join(bench.Kinds(), ", "),
		)
	}
	for i, to := range []func(float64){
		func(v float64) { f.Cylinder = int(v) }, func(v float64) { f.Size = v }, func(v float64) { f.Neighbour, f.Face = int(v), int(v) },
	} {
		if len(parts) <= i+1 {
			break
		}
		v, err := strconv.ParseFloat(parts[i+1], 64)
		if err != nil || v < 0 {
			return f, say.Error("command.fault-must-kind-cylinder-size", "text", text)
		}
		to(v)
	}
	return f, nil
}
