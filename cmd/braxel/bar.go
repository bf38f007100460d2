package main

import (
	"fmt"
	"io"
	"os"
	"strings"
	"sync/atomic"
	"time"

	"braxel/internal/core/say"
)

// bar shows on a terminal how far a file has been dealt with, and how long the rest will take. Elsewhere it shows nothing.
type bar struct {
	to     io.Writer
	shown  bool
	size   int64
	done   atomic.Int64
	begun  time.Time
	last   time.Time
	counts string
}

// barWidth is its length in signs, barEvery how often it is drawn.
const (
	barWidth = 30
	barEvery = 200 * time.Millisecond
)

func newBar(to io.Writer, size int64, counts string) *bar {
	file, isFile := to.(*os.File)
	b := &bar{to: to, size: max(size, 1), begun: time.Now(), counts: counts}
	if isFile {
		info, err := file.Stat()
		b.shown = err == nil && info.Mode()&os.ModeCharDevice != 0
	}
	return b
}

// reading counts what is read of a file.
func (b *bar) reading(file io.ReaderAt) io.ReaderAt { return &readBy{file, b} }

type readBy struct {
	io.ReaderAt
	bar *bar
}

func (r *readBy) ReadAt(p []byte, off int64) (int, error) {
	n, err := r.ReaderAt.ReadAt(p, off)
	if to := off + int64(n); to > r.bar.done.Load() {
		r.bar.done.Store(to)
	}
	return n, err
}

// at draws the bar, with how many are done.
func (b *bar) at(n int) {
	if now := time.Now(); b.shown && now.Sub(b.last) > barEvery {
		b.last = now
		share := min(1, float64(b.done.Load())/float64(b.size))
		full := int(share * barWidth)
		left := time.Duration(0)
		if share > 0 {
			left = time.Duration(float64(now.Sub(b.begun)) * (1 - share) / share).Round(time.Second)
		}
		_, _ = fmt.Fprint(b.to, say.Text("command.left",
			"value", strings.Repeat("#", full),
			"value2", strings.Repeat(".", barWidth-full),
			"share", 100*share,
			"n", n,
			"counts", b.counts,
			"left", left,
		))
	}
}

// end takes the bar off the line.
func (b *bar) end() {
	if b.shown && !b.last.IsZero() {
		_, _ = fmt.Fprintf(b.to, "\r%s\r", strings.Repeat(" ", barWidth+60))
	}
}
