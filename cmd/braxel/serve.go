package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"os/signal"
	"path/filepath"
	"syscall"
	"time"

	"github.com/adrg/xdg"
	"github.com/gofiber/fiber/v3"
	"github.com/spf13/cobra"

	"braxel/internal/demo"
	"braxel/internal/server"
	"braxel/internal/store"
	"braxel/web"
)

// listen holds the flags of a server.
type listen struct {
	data, bind, shop string
	port             int
	names            []string
}

func (f *listen) flags(c *cobra.Command) {
	c.Flags().StringVar(&f.bind, "bind", "127.0.0.1", "address to listen on; 0.0.0.0 lets phones on the shop's network in")
	c.Flags().IntVar(&f.port, "port", 8314, "port to listen on, 0 for any free one")
	c.Flags().StringSliceVar(&f.names, "name", nil, "host names by which it may be called, beside localhost and bare addresses")
}

func dataFlag(c *cobra.Command, to *string) {
	c.Flags().StringVar(to, "data", filepath.Join(xdg.DataHome, "braxel"), "data directory")
}

func serveCommand() *cobra.Command {
	f := &listen{}
	c := &cobra.Command{
		Use:   "serve",
		Short: "Start Braxel on your own data",
		Args:  args(cobra.NoArgs),
		RunE: func(c *cobra.Command, _ []string) error {
			s, err := store.Open(f.data)
			if err != nil {
				return err
			}
			defer func() { _ = s.Close() }()
			return f.serve(c.Context(), s)
		},
	}
	f.flags(c)
	dataFlag(c, &f.data)
	c.Flags().StringVar(&f.shop, "shop", "", "the workshop's name, shown at the head of every page")
	return c
}

func demoCommand() *cobra.Command {
	f := &listen{shop: demo.Shop}
	c := &cobra.Command{
		Use:   "demo",
		Short: "Start Braxel on fresh demo data",
		Args:  args(cobra.NoArgs),
		RunE: func(c *cobra.Command, _ []string) error {
			dir, err := os.MkdirTemp("", "braxel-demo-")
			if err != nil {
				return err
			}
			defer func() { _ = os.RemoveAll(dir) }()
			s, err := store.Open(dir)
			if err != nil {
				return err
			}
			defer func() { _ = s.Close() }()
			for _, l := range demo.Logs() {
				if _, err := s.Import(c.Context(), l, time.Now()); err != nil {
					return err
				}
			}
			return f.serve(c.Context(), s)
		},
	}
	f.flags(c)
	return c
}

// serve answers until it is told to stop, and prints its address once it can be reached.
func (f *listen) serve(ctx context.Context, s *store.Store) error {
	slog.SetDefault(slog.New(slog.NewTextHandler(os.Stderr, nil)))
	app, err := server.New(server.Config{Store: s, Files: web.Files(), Hosts: f.names, Shop: f.shop, Now: time.Now})
	if err != nil {
		return err
	}
	socket, err := net.Listen("tcp", net.JoinHostPort(f.bind, fmt.Sprint(f.port)))
	if err != nil {
		return fmt.Errorf("cannot listen there: %w", err)
	}
	ctx, stop := signal.NotifyContext(ctx, os.Interrupt, syscall.SIGTERM)
	defer stop()
	ended := make(chan error, 1)
	go func() { ended <- app.Listener(socket, fiber.ListenConfig{DisableStartupMessage: true}) }()
	fmt.Printf("Braxel is at http://%s\n", socket.Addr())
	select {
	case err := <-ended:
		return err
	case <-ctx.Done():
		const grace = 900 * time.Millisecond
		return errors.Join(app.ShutdownWithTimeout(grace), <-ended)
	}
}

func openapiCommand() *cobra.Command {
	return &cobra.Command{
		Use:    "openapi",
		Short:  "Print the API's description",
		Hidden: true,
		Args:   args(cobra.NoArgs),
		RunE: func(c *cobra.Command, _ []string) error {
			text, err := server.OpenAPI()
			if err != nil {
				return err
			}
			_, err = c.OutOrStdout().Write(append(text, '\n'))
			return err
		},
	}
}
