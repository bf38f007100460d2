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
	seats   seats
}

// listener is one browser, the engines that changed since it was told last, and those whose seat did.
type listener struct {
	changed map[string]bool
	seats   map[string]bool
	gauges  bool
	wake    chan struct{}
}

func newHub() *hub {
	return &hub{waiting: map[*listener]bool{}, closed: make(chan struct{}), seats: seats{all: map[string]seat{}}}
}

func (h *hub) join() *listener {
	h.mu.Lock()
	defer h.mu.Unlock()
	l := &listener{changed: map[string]bool{}, seats: map[string]bool{}, wake: make(chan struct{}, 1)}
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
	h.each(func(l *listener) { l.changed[engine] = true })
}

// tellSeat tells all that look on what an engine's sheet wants of its helper.
func (h *hub) tellSeat(engine string) {
	h.each(func(l *listener) { l.seats[engine] = true })
}

// tellGauges tells all that a gauge came or went.
func (h *hub) tellGauges() {
	h.each(func(l *listener) { l.gauges = true })
}

// each marks something for every browser that looks on, and wakes it.
func (h *hub) each(mark func(*listener)) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for l := range h.waiting {
		mark(l)
		l.stir()
	}
}

func (l *listener) stir() {
	select {
	case l.wake <- struct{}{}:
	default:
	}
}

// lookEvery is how often it is looked whether the data file is still where it was.
const lookEvery = 3 * time.Second

// watch has every screen ask anew when the data file is gone, so that it says so without anybody typing first.
func (h *handlers) watch() {
	ticker := time.NewTicker(lookEvery)
	defer ticker.Stop()
	for {
		select {
		case <-h.hub.closed:
			return
		case <-ticker.C:
		}
		if h.store.Gone() != "" {
			h.hub.tell("")
			return
		}
	}
}

// news is what a browser is told: the engines that changed since it was told last, "" for the workshop; seats that did.
type news struct {
	N       int64    `json:"n"` // its own, so that the browser tells this news from the last
	Engines []string `json:"engines"`
	Seats   []Seat   `json:"seats,omitempty"`
	Gauges  bool     `json:"gauges,omitzero"` // one came or went
}

func (h *hub) news(l *listener) news {
	h.mu.Lock()
	defer h.mu.Unlock()
	now := time.Now()
	all := news{N: now.UnixNano(), Engines: slices.Sorted(maps.Keys(l.changed))}
	if all.Engines == nil {
		all.Engines = []string{}
	}
	if len(l.seats) > 0 {
		all.Seats = h.seats.now(slices.Collect(maps.Keys(l.seats)), now)
	}
	all.Gauges, l.gauges = l.gauges, false
	clear(l.changed)
	clear(l.seats)
	return all
}

// A stream ends before the server's own time limit on writing; the browser then comes back by itself.
const (
	heartbeat = 10 * time.Second
	streamFor = 50 * time.Second
)

// stream answers with server-sent events: the engines that changed.
func (h *handlers) stream(x fiber.Ctx) error {
	x.Set("Content-Type", "text/event-stream")
	x.Set("Cache-Control", "no-cache")
	out := h.door.Out(whoOf(x.Context()).device.ID)
	return x.SendStreamWriter(func(w *bufio.Writer) { h.hub.tellAbout(w, out) })
}

// tellAbout writes what changes to a browser until its time is over, or it is shut out.
func (h *hub) tellAbout(w *bufio.Writer, out <-chan struct{}) {
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
			text, err := json.Marshal(h.news(l))
			if err != nil {
				return
			}
			line = fmt.Sprintf("data: %s\n\n", text)
		case <-beat.C:
			line = ": still here\n\n"
		case <-end.C:
			return
		case <-out:
			return
		case <-h.closed:
			return
		}
	}
}
