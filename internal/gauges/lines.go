package gauges

import (
	"context"
	"errors"
	"net"
	"time"

	"braxel/internal/core/say"

	"go.bug.st/serial"
)

// Speed of a serial line, bits a second, unless another is asked for: 500 lines of ten signs each second go through.
const Speed = 115200

// again is how long to wait before a port that is not there is tried anew.
const again = time.Second

// Serial hears a gauge on a serial port for as long as ctx lasts: whenever it is plugged in.
func (r *Room) Serial(ctx context.Context, path string, speed int) {
	for ctx.Err() == nil {
		port, err := serial.Open(path, &serial.Mode{BaudRate: speed})
		if err == nil {
			stop := context.AfterFunc(ctx, func() { _ = port.Close() })
			_ = r.Listen(ended{port}, path, Lead{})
			stop()
		}
		select {
		case <-ctx.Done():
		case <-time.After(again):
		}
	}
}

// ended is a port whose reads of nothing mean that it is gone.
type ended struct{ serial.Port }

func (p ended) Read(b []byte) (int, error) {
	n, err := p.Port.Read(b)
	if n == 0 && err == nil {
		return 0, errUnplugged
	}
	return n, err
}

// errUnplugged is what a port says whose other end is gone.
var errUnplugged = say.Error("gauges.port-gone")

// mostCalls may be under way at once, with those that have not said what they are.
const mostCalls = 4 * mostHeard

// TCP hears the gauges that call, until ctx ends. Let says whether one's passcode is right, by the address that it calls from; where it
// is nil, everyone is heard.
func (r *Room) TCP(ctx context.Context, l net.Listener, let func(from, passcode string) error) error {
	stop := context.AfterFunc(ctx, func() { _ = l.Close() })
	defer stop()
	calls := make(chan struct{}, mostCalls)
	for {
		conn, err := l.Accept()
		if ctx.Err() != nil || errors.Is(err, net.ErrClosed) {
			return nil
		}
		if err != nil { // no descriptor is left for it: those that are in go on
			select {
			case <-ctx.Done():
			case <-time.After(again):
			}
			continue
		}
		select {
		case calls <- struct{}{}:
		default: // nobody has so many
			_ = conn.Close()
			continue
		}
		from, _, err := net.SplitHostPort(conn.RemoteAddr().String())
		if err != nil {
			from = conn.RemoteAddr().String()
		}
		closes := context.AfterFunc(ctx, func() { _ = conn.Close() })
		go func() {
			defer func() { closes(); <-calls }()
			lead := Lead{Network: true}
			if let != nil {
				lead.Let = func(passcode string) error { return let(from, passcode) }
			}
			_ = r.Listen(conn, from, lead) // why it ended is said in the room
		}()
	}
}
