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
	"runtime"
	"strings"
	"syscall"
	"time"

	"github.com/go-json-experiment/json"

	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/plain"

	"github.com/adrg/xdg"
	"github.com/gofiber/fiber/v3"
	"github.com/pkg/browser"
	"github.com/spf13/cobra"
	"rsc.io/qr"

	"braxel/internal/demo"
	"braxel/internal/gauges"
	"braxel/internal/server"
	"braxel/internal/store"
	"braxel/web"
)

// defaultPort is where Braxel answers.
const defaultPort = 8314

// listen holds the flags of a server.
type listen struct {
	now              func() time.Time // the demo's own clock
	data, bind, shop string
	port             int
	names            []string
	lan, fresh       bool
	cert, key        string
	copies, still    bool
	opens            bool // a browser
	ports            []string
	speed, calls     int    // of the ports; where gauges call, 0 for nowhere
	proxy            bool   // a proxy on this machine passes requests on
	failed           string // why a copy could not be put back
}

func (f *listen) flags(c *cobra.Command) {
	c.Flags().BoolVar(&f.lan, "lan", false, say.Text("command.let-phones-shops-network-connect"))
	c.Flags().BoolVar(&f.fresh, "new-passcode", false, say.Text("command.make-new-passcode-devices-already"))
	c.Flags().StringVar(&f.cert, "tls-cert", "", say.Text("command.certificate-pem-with-braxel-uses"))
	c.Flags().StringVar(&f.key, "tls-key", "", say.Text("command.key-pem"))
	c.Flags().StringVar(&f.bind, "bind", "", say.Text("command.address-listen-default-127-0"))
	c.Flags().IntVar(&f.port, "port", defaultPort, say.Text("command.port-listen-0-for-any"))
	c.Flags().StringSliceVar(&f.ports, "gauge", nil, say.Text("command.serial-ports-with-electronic-gauges"))
	c.Flags().IntVar(&f.speed, "gauge-speed", gauges.Speed, say.Text("command.their-speed-bits-per-second"))
	c.Flags().IntVar(&f.calls, "gauge-port", 0, say.Text("command.tcp-port-for-gauges-they"))
	c.Flags().BoolVar(&f.proxy, "proxy", false, say.Text("command.proxy-machine-forwards-requests-ask"))
	c.Flags().BoolVar(&f.still, "no-browser", false, say.Text("command.dont-open-browser-even-at"))
	c.Flags().StringSliceVar(&f.names, "name", nil, say.Text("command.host-names-answers-besides-localhost"))
}

func dataFlag(c *cobra.Command, to *string) {
	c.Flags().StringVar(to, "data", filepath.Join(xdg.DataHome, "braxel"), say.Text("command.data-directory"))
}

func serveCommand() *cobra.Command {
	f := &listen{copies: true}
	c := &cobra.Command{
		Use:   "serve",
		Short: say.Text("command.start-braxel-your-own-data"),
		Args:  args(cobra.NoArgs),
		RunE:  func(c *cobra.Command, _ []string) error { return f.run(c.Context()) },
	}
	f.flags(c)
	dataFlag(c, &f.data)
	c.Flags().StringVar(&f.shop, "shop", "", say.Text("command.shops-name-shown-every-page"))
	return c
}

func demoCommand() *cobra.Command {
	f := &listen{shop: demo.Shop, now: demo.Clock()}
	c := &cobra.Command{
		Use:   "demo",
		Short: say.Text("command.start-braxel-fresh-demo-data"),
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
			for _, l := range append(demo.Logs(), demo.SeasonLogs()...) {
				if _, err := s.Import(c.Context(), l, time.Now()); err != nil {
					return err
				}
			}
			if _, err := s.Append(c.Context(), demo.Season(), time.Now()); err != nil {
				return err
			}
			_, err = f.serve(c.Context(), s)
			return err
		},
	}
	f.flags(c)
	return c
}

// run serves a data directory until it is told to stop. A copy that is put back from the screen is put back in between.
func (f *listen) run(ctx context.Context) error {
	_, err := os.Stat(filepath.Join(f.data, store.File))
	f.opens = f.opens || errors.Is(err, os.ErrNotExist) && !f.still
	for {
		back, err := f.once(ctx)
		if err != nil || back == "" {
			return err
		}
		f.opens = false
		aside, err := store.Restore(ctx, f.data, back)
		if err != nil { // what was there is there still: it goes on, and says so
			f.failed = plain.Words(err)
			fmt.Fprintln(os.Stderr, f.failed)
			continue
		}
		f.failed = ""
		fmt.Println(say.Text("command.restored-from-what-was-there-2", "back", back, "aside", aside))
	}
}

// once opens the data and serves it. Data that cannot be opened is said to be so, where Braxel would stand, with the newest good copy.
func (f *listen) once(ctx context.Context) (back string, err error) {
	s, err := store.Open(f.data)
	if err != nil && (errors.Is(err, store.ErrDamaged) || errors.Is(err, store.ErrEmpty) || errors.Is(err, store.ErrForeign)) {
		return f.rescue(ctx, err)
	}
	if err != nil {
		return "", err
	}
	back, err = f.serve(ctx, s)
	return back, errors.Join(err, s.Close())
}

// rescue stands in for a server whose data cannot be opened.
func (f *listen) rescue(ctx context.Context, why error) (back string, err error) {
	fmt.Fprintln(os.Stderr, plain.Words(why))
	best, ok := store.NewestGood(ctx, store.PlacesOf(f.data)...)
	r := server.Rescue{Why: plain.Words(why), Failed: f.failed, Hosts: f.names}
	if ok {
		r.Copy, r.Made = best.File(), best.Made.Format("2 January 2006, 15:04")
		fmt.Fprintln(os.Stderr, say.Text("command.newest-good-backup-restore-page", "file", best.File()))
	}
	f.bind = "127.0.0.1"
	socket, scheme, err := f.listen()
	if err != nil {
		return "", errors.Join(why, err)
	}
	stop := make(chan string, 1)
	r.Restore = func() {
		select {
		case stop <- best.File():
		default:
		}
	}
	fmt.Println(say.Text("command.braxel-at", "scheme", scheme, "addr", socket.Addr()))
	return f.until(ctx, r.New(), socket, stop)
}

// until answers until it is told to stop, or until a copy is to be put back.
func (f *listen) until(ctx context.Context, app *fiber.App, socket net.Listener, stop <-chan string) (back string, err error) {
	if at, ok := socket.Addr().(*net.TCPAddr); ok {
		f.port = at.Port // the same when it comes back
	}
	ended := make(chan error, 1)
	go func() { ended <- app.Listener(socket, fiber.ListenConfig{DisableStartupMessage: true}) }()
	const grace = 900 * time.Millisecond
	select {
	case err := <-ended:
		return "", err
	case back = <-stop:
		time.Sleep(grace / 3) // so that the answer which asked for it gets there
	case <-ctx.Done():
	}
	return back, errors.Join(app.ShutdownWithTimeout(grace), <-ended)
}

// clock returns what tells the day: the machine's own, but for the demo's.
func (f *listen) clock() func() time.Time {
	if f.now != nil {
		return f.now
	}
	return time.Now
}

// serve answers until it is told to stop, and prints its address once it can be reached. back is a copy that is to be put back.
func (f *listen) serve(ctx context.Context, s *store.Store) (back string, err error) {
	slog.SetDefault(slog.New(slog.NewTextHandler(os.Stderr, nil)))
	door, err := f.door(ctx, s)
	if err != nil {
		return "", err
	}
	socket, scheme, err := f.listen()
	if err != nil {
		return "", err
	}
	_, port, err := net.SplitHostPort(socket.Addr().String())
	if err != nil {
		return "", err
	}
	ways := func() []string { return server.Ways(scheme, port) }
	room, closed, err := f.hear(ctx, door)
	if err != nil {
		return "", err
	}
	defer closed()
	stop := make(chan string, 1)
	practised, err := store.Open(filepath.Join(s.Dir, "practice"))
	if err != nil { // the shop opens all the same
		slog.Error(say.Text("command.practice-isnt-available-data-cant"), "error", err)
	} else {
		defer func() { err = errors.Join(err, practised.Close()) }()
	}
	c := server.Config{
		Store: s, Files: web.Files(), Hosts: f.names, Shop: f.shop, Now: f.clock(), Door: door, Ways: ways, Secure: f.cert != "",
		Gauges: room, Practice: practised, Failed: f.failed,
	}
	if f.copies {
		c.Copies = true
		c.Restart = func(from string) {
			select {
			case stop <- from:
			default:
			}
		}
	}
	app, err := server.New(c)
	if err != nil {
		return "", err
	}
	ctx, done := signal.NotifyContext(ctx, os.Interrupt, syscall.SIGTERM)
	defer done()
	local := fmt.Sprintf("%s://localhost:%s", scheme, port)
	if door == nil {
		fmt.Println(say.Text("command.braxel-at", "scheme", scheme, "addr", socket.Addr()))
	} else {
		fmt.Println(say.Text("command.braxel-at-2", "local", local))
		if err := sayWays(os.Stdout, ways(), door.Passcode()); err != nil {
			return "", err
		}
	}
	if f.opens && hasScreen() {
		_ = browser.OpenURL(local) // who has none reads the address
	}
	return f.until(ctx, app, socket, stop)
}

// hear opens the room in which gauges are heard, and the ways to it.
func (f *listen) hear(ctx context.Context, door *server.Door) (room *gauges.Room, closed func(), err error) {
	ctx, closed = context.WithCancel(ctx)
	room = gauges.New()
	for _, path := range f.ports {
		go room.Serial(ctx, path, f.speed)
	}
	if f.calls == 0 {
		return room, closed, nil
	}
	socket, err := net.Listen("tcp", net.JoinHostPort(f.bind, fmt.Sprint(f.calls)))
	if err != nil {
		closed()
		return nil, nil, say.Error("command.cant-listen-for-gauges-there", "err", err)
	}
	go func() {
		if err := room.TCP(ctx, socket, door.Hears); err != nil {
			slog.Error(say.Text("command.gauges-can-no-longer-connect"), "error", err)
		}
	}()
	return room, closed, nil
}

// hasScreen reports whether there is a screen for a browser to open on.
func hasScreen() bool {
	return runtime.GOOS != "linux" || os.Getenv("DISPLAY") != "" || os.Getenv("WAYLAND_DISPLAY") != ""
}

// door returns the door of what is bound beyond this machine: there is none without a passcode.
func (f *listen) door(ctx context.Context, s *store.Store) (*server.Door, error) {
	if f.bind == "" {
		f.bind = "127.0.0.1"
		if f.lan {
			f.bind = "0.0.0.0"
		}
	}
	if ip := net.ParseIP(f.bind); !f.lan && !f.proxy && (f.bind == "localhost" || ip.IsLoopback()) {
		if f.fresh {
			return nil, say.Error("command.only-machine-can-reach-braxel")
		}
		return nil, nil
	}
	if s.Passcode() == nil && !f.lan && !f.proxy {
		return nil, say.Error("command.others-can-reach-no-passcode", "bind", f.bind)
	}
	door, err := server.NewDoor(s, time.Now, f.fresh)
	if err == nil && f.proxy {
		door.NobodyLocal()
	}
	return door, err
}

// listen opens the socket, by TLS where a certificate is given.
func (f *listen) listen() (net.Listener, string, error) {
	bare, err := net.Listen("tcp", net.JoinHostPort(f.bind, fmt.Sprint(f.port)))
	if err != nil {
		return nil, "", say.Error("command.cant-listen-there", "err", err)
	}
	socket := server.Steady(bare)
	if f.cert == "" && f.key == "" {
		return socket, "http", nil
	}
	pair, err := tls.LoadX509KeyPair(f.cert, f.key)
	if err != nil {
		return nil, "", errors.Join(say.Error("command.both-tls-cert-tls-key", "err", err), socket.Close())
	}
	return tls.NewListener(socket, &tls.Config{Certificates: []tls.Certificate{pair}, MinVersion: tls.VersionTLS12}), "https", nil
}

// sayWays tells how a phone comes in: by its camera, or by typing.
func sayWays(w io.Writer, ways []string, passcode string) error {
	if len(ways) == 0 {
		_, err := fmt.Fprintln(w, say.Text("command.machine-isnt-network-phone-could"))
		return err
	}
	code, err := server.QR(ways[0], passcode)
	if err != nil {
		return err
	}
	said := say.Text("command.passcode-same-as-before-devices")
	if passcode != "" {
		said = say.Text("command.passcode",
			"passcode", passcode[:len(passcode)/2],
			"passcode2", passcode[len(passcode)/2:],
		)
	}
	_, err = fmt.Fprintln(w, say.Text("command.phones-network",
		"blocks", blocks(code),
		"ways", strings.Join(ways, "  "),
		"said", said,
	))
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
	var rulebook bool
	c := &cobra.Command{
		Use:    "openapi",
		Short:  say.Text("command.print-apis-description-or-what"),
		Hidden: true,
		Args:   args(cobra.NoArgs),
		RunE: func(c *cobra.Command, _ []string) error {
			text, err := server.OpenAPI()
			if rulebook {
				text, err = json.Marshal(server.RulebookOf(rules.Shop{}), json.Deterministic(true))
			}
			if err != nil {
				return err
			}
			_, err = c.OutOrStdout().Write(append(text, '\n'))
			return err
		},
	}
	c.Flags().BoolVar(&rulebook, "rulebook", false, say.Text("command.built-rulebook-instead"))
	return c
}
