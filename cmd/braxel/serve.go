package main

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"os"
	"os/signal"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"github.com/adrg/xdg"
	"github.com/gofiber/fiber/v3"
	"github.com/spf13/cobra"
	"rsc.io/qr"

	"braxel/internal/demo"
	"braxel/internal/server"
	"braxel/internal/store"
	"braxel/web"
)

// listen holds the flags of a server.
type listen struct {
	now              func() time.Time // the demo's own clock
	data, bind, shop string
	port             int
	names            []string
	lan, fresh       bool
	cert, key        string
}

func (f *listen) flags(c *cobra.Command) {
	c.Flags().BoolVar(&f.lan, "lan", false, "let phones on the shop's network in, by a passcode")
	c.Flags().BoolVar(&f.fresh, "new-passcode", false, "draw a new passcode; devices that are in stay in")
	c.Flags().StringVar(&f.cert, "tls-cert", "", "certificate, PEM; with it Braxel answers by https")
	c.Flags().StringVar(&f.key, "tls-key", "", "its key, PEM")
	c.Flags().StringVar(&f.bind, "bind", "", "address to listen on; 127.0.0.1, or 0.0.0.0 with --lan, where none is given")
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
	f := &listen{shop: demo.Shop, now: demo.Clock()}
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

// clock returns what tells the day: the machine's own, but for the demo's.
func (f *listen) clock() func() time.Time {
	if f.now != nil {
		return f.now
	}
	return time.Now
}

// serve answers until it is told to stop, and prints its address once it can be reached.
func (f *listen) serve(ctx context.Context, s *store.Store) error {
	slog.SetDefault(slog.New(slog.NewTextHandler(os.Stderr, nil)))
	door, err := f.door(ctx, s)
	if err != nil {
		return err
	}
	socket, scheme, err := f.listen()
	if err != nil {
		return err
	}
	_, port, err := net.SplitHostPort(socket.Addr().String())
	if err != nil {
		return err
	}
	ways := func() []string { return server.Ways(scheme, port) }
	app, err := server.New(server.Config{
		Store: s, Files: web.Files(), Hosts: f.names, Shop: f.shop, Now: f.clock(), Door: door, Ways: ways, Secure: f.cert != "",
	})
	if err != nil {
		return err
	}
	ctx, stop := signal.NotifyContext(ctx, os.Interrupt, syscall.SIGTERM)
	defer stop()
	ended := make(chan error, 1)
	go func() { ended <- app.Listener(socket, fiber.ListenConfig{DisableStartupMessage: true}) }()
	if door == nil {
		fmt.Printf("Braxel is at %s://%s\n", scheme, socket.Addr())
	} else {
		fmt.Printf("Braxel is at %s://localhost:%s\n", scheme, port)
		if err := sayWays(os.Stdout, ways(), door.Passcode()); err != nil {
			return err
		}
	}
	select {
	case err := <-ended:
		return err
	case <-ctx.Done():
		const grace = 900 * time.Millisecond
		return errors.Join(app.ShutdownWithTimeout(grace), <-ended)
	}
}

// door returns the door of what is bound beyond this machine: there is none without a passcode.
func (f *listen) door(ctx context.Context, s *store.Store) (*server.Door, error) {
	if f.bind == "" {
		f.bind = "127.0.0.1"
		if f.lan {
			f.bind = "0.0.0.0"
		}
	}
	if ip := net.ParseIP(f.bind); !f.lan && (f.bind == "localhost" || ip.IsLoopback()) {
		if f.fresh {
			return nil, errors.New("nobody but this machine reaches Braxel here: a new passcode is drawn with --lan")
		}
		return nil, nil
	}
	hash, err := s.Passcode(ctx)
	if err != nil {
		return nil, err
	}
	if hash == nil && !f.lan {
		return nil, fmt.Errorf("others can reach %s, and no passcode was ever set: start Braxel with --lan, which draws one", f.bind)
	}
	return server.NewDoor(ctx, s, time.Now, f.fresh)
}

// listen opens the socket, by TLS where a certificate is given.
func (f *listen) listen() (net.Listener, string, error) {
	socket, err := net.Listen("tcp", net.JoinHostPort(f.bind, fmt.Sprint(f.port)))
	if err != nil {
		return nil, "", fmt.Errorf("cannot listen there: %w", err)
	}
	if f.cert == "" && f.key == "" {
		return socket, "http", nil
	}
	pair, err := tls.LoadX509KeyPair(f.cert, f.key)
	if err != nil {
		return nil, "", errors.Join(fmt.Errorf("a certificate and its key are wanted, --tls-cert and --tls-key: %w", err), socket.Close())
	}
	return tls.NewListener(socket, &tls.Config{Certificates: []tls.Certificate{pair}, MinVersion: tls.VersionTLS12}), "https", nil
}

// sayWays tells how a phone comes in: by its camera, or by typing.
func sayWays(w io.Writer, ways []string, passcode string) error {
	if len(ways) == 0 {
		_, err := fmt.Fprintln(w, "This machine is in no network that a phone could be in.")
		return err
	}
	code, err := server.QR(ways[0], passcode)
	if err != nil {
		return err
	}
	said := "The passcode is the one that was drawn before; Devices, or --new-passcode, draws a new one."
	if passcode != "" {
		said = "Passcode: " + passcode[:len(passcode)/2] + " " + passcode[len(passcode)/2:]
	}
	_, err = fmt.Fprintf(w, "\n%s\nPhones on this network: %s\n%s\n", blocks(code), strings.Join(ways, "  "), said)
	return err
}

// quiet is the margin that a code needs around it, in squares.
const quiet = 2

// blocks draws a code for a terminal, two squares in each sign: light on dark, as most terminals are, with its margin light.
func blocks(code *qr.Code) string {
	light := func(x, y int) bool { return x < 0 || y < 0 || x >= code.Size || y >= code.Size || !code.Black(x, y) }
	var out strings.Builder
	for y := -quiet; y < code.Size+quiet; y += 2 {
		for x := -quiet; x < code.Size+quiet; x++ {
			sign := map[[2]bool]string{{true, true}: "█", {true, false}: "▀", {false, true}: "▄", {false, false}: " "}
			out.WriteString(sign[[2]bool{light(x, y), light(x, y+1)}])
		}
		out.WriteByte('\n')
	}
	return out.String()
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
