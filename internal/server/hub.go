package server

import (
	"bufio"
	"fmt"
	"maps"
	"slices"
	"sync"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/gofiber/fiber/v3"
)

// hub tells the browsers that look on which engines changed; each then asks for what it shows anew. One stream serves all
// tabs of a browser.
type hub struct {
	mu      sync.Mutex
	waiting map[*listener]bool
	closed  chan struct{}
}

// listener is one browser, and the engines that changed since it was told last.
type listener struct {
	changed map[string]bool
	wake    chan struct{}
}

func newHub() *hub { return &hub{waiting: map[*listener]bool{}, closed: make(chan struct{})} }

func (h *hub) join() *listener {
	h.mu.Lock()
	defer h.mu.Unlock()
	l := &listener{map[string]bool{}, make(chan struct{}, 1)}
	h.waiting[l] = true
	return l
}

func (h *hub) leave(l *listener) {
	h.mu.Lock()
	defer h.mu.Unlock()
	delete(h.waiting, l)
}

// close ends every stream, so that stopping need not wait for them.
func (h *hub) close() error {
	h.mu.Lock()
	defer h.mu.Unlock()
	select {
	case <-h.closed:
	default:
		close(h.closed)
	}
	return nil
}

// tell never waits: a browser that has not taken the last news yet will see both at once.
func (h *hub) tell(engine string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for l := range h.waiting {
		l.changed[engine] = true
		select {
		case l.wake <- struct{}{}:
		default:
		}
	}
}

// news returns the engines that changed since it was asked last; "" is the workshop.
func (h *hub) news(l *listener) []string {
	h.mu.Lock()
	defer h.mu.Unlock()
	all := slices.Sorted(maps.Keys(l.changed))
	clear(l.changed)
	return all
}

// A stream ends before the server's own time limit on writing; the browser then comes back by itself.
const (
	heartbeat = 10 * time.Second
	streamFor = 50 * time.Second
)

// stream answers with server-sent events: the engines that changed.
func (h *hub) stream(x fiber.Ctx) error {
	x.Set("Content-Type", "text/event-stream")
	x.Set("Cache-Control", "no-cache")
	return x.SendStreamWriter(func(w *bufio.Writer) {
		l := h.join()
		defer h.leave(l)
		beat, end := time.NewTicker(heartbeat), time.NewTimer(streamFor)
		defer beat.Stop()
		defer end.Stop()
		line := "retry: 300\n: open\n\n"
		for {
			if _, err := w.WriteString(line); err != nil {
				return
			}
			if err := w.Flush(); err != nil {
				return
			}
			select {
			case <-l.wake:
				// A number of its own, so that the browser tells this news from the last.
				text, err := json.Marshal(map[string]any{"n": time.Now().UnixNano(), "engines": h.news(l)})
				if err != nil {
					return
				}
				line = fmt.Sprintf("data: %s\n\n", text)
			case <-beat.C:
				line = ": still here\n\n"
			case <-end.C:
				return
			case <-h.closed:
				return
			}
		}
	})
}
