package server

import (
	"bufio"
	"fmt"
	"strings"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"
)

// hub tells the browsers that have a sheet open that it changed; each then asks for it anew.
type hub struct {
	mu      sync.Mutex
	waiting map[string]map[chan struct{}]bool
}

func newHub() *hub { return &hub{waiting: map[string]map[chan struct{}]bool{}} }

func (h *hub) join(sheet string) chan struct{} {
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.waiting[sheet] == nil {
		h.waiting[sheet] = map[chan struct{}]bool{}
	}
	c := make(chan struct{}, 1)
	h.waiting[sheet][c] = true
	return c
}

func (h *hub) leave(sheet string, c chan struct{}) {
	h.mu.Lock()
	defer h.mu.Unlock()
	delete(h.waiting[sheet], c)
	if len(h.waiting[sheet]) == 0 {
		delete(h.waiting, sheet)
	}
}

// tell never waits: a browser that has not taken the last news yet will see both at once.
func (h *hub) tell(sheet string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for c := range h.waiting[sheet] {
		select {
		case c <- struct{}{}:
		default:
		}
	}
}

// A stream ends before the server's own time limit on writing; the browser then comes back by itself.
const (
	heartbeat = 10 * time.Second
	streamFor = 50 * time.Second
)

// stream answers with server-sent events, one for each change of the sheet.
func (h *hub) stream(x fiber.Ctx) error {
	sheet := strings.Clone(unescape(x.Params("engine")) + "/" + unescape(x.Params("session")))
	x.Set("Content-Type", "text/event-stream")
	x.Set("Cache-Control", "no-cache")
	return x.SendStreamWriter(func(w *bufio.Writer) {
		news := h.join(sheet)
		defer h.leave(sheet, news)
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
			case <-news:
				// A number of its own, so that the browser tells this news from the last.
				line = fmt.Sprintf("data: %d\n\n", time.Now().UnixNano())
			case <-beat.C:
				line = ": still here\n\n"
			case <-end.C:
				return
			}
		}
	})
}
