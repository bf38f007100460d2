package logfile

import (
	"bufio"
	"bytes"
	"errors"
	"io"

	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// Limits of what is read: many times what an engine that was tested every week for ten years comes to, and little enough that
// no file holds the machine up.
const (
	MostFile   = 128 << 20 // bytes in a file of logs
	mostLog    = 16 << 20  // bytes in one log
	mostValues = 300_000   // values in one log
	mostDeep   = 64        // objects and lists within each other
)

// ByteOrderMark is what some programs write ahead of a text.
const ByteOrderMark = "\xef\xbb\xbf"

// errLarge marks a file or a log beyond these limits.
var errLarge = say.Error("logfile.larger-than-any-log")

// Logs reads the logs of a .json or .jsonl file one after another and gives each to do, numbered from 1. It holds one at a time.
// What do returns ends it; so does a text that is no JSON, since nobody knows where the next log begins.
func Logs(r io.Reader, do func(n int, one jsontext.Value) error) error {
	plain := bufio.NewReader(r)
	if head, _ := plain.Peek(len(ByteOrderMark)); string(head) == ByteOrderMark {
		_, _ = plain.Discard(len(ByteOrderMark))
	}
	in := &limited{from: plain}
	d := jsontext.NewDecoder(in, jsontext.AllowDuplicateNames(true)) // Read refuses them, and says where
	n := 0
	for {
		in.begins = d.InputOffset()
		one, err := d.ReadValue()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return say.Error("logfile.log", "n", n+1, "unreadable", unreadable(err))
		}
		n++
		if err := do(n, one); err != nil {
			return err
		}
	}
	if n == 0 {
		return say.Error("logfile.there-no-log")
	}
	return nil
}

// limited lets through as much as a log may be long from where it begins, and as much as a file may.
type limited struct {
	from   io.Reader
	read   int64
	begins int64
}

func (l *limited) Read(p []byte) (int, error) {
	if l.read > MostFile {
		return 0, say.Error("logfile.file-has-more-than-mb", "problem", errLarge, "most", MostFile>>20)
	}
	if l.read-l.begins > mostLog {
		return 0, say.Error("logfile.has-more-than-mb", "problem", errLarge, "mostLog", mostLog>>20)
	}
	n, err := l.from.Read(p)
	l.read += int64(n)
	return n, err
}

// measure refuses a log that is too large, too deep or of too many values to be worked with, before any of it is made.
func measure(text []byte) error {
	if len(text) > mostLog {
		return say.Error("logfile.has-more-than-mb", "problem", errLarge, "mostLog", mostLog>>20)
	}
	if bytes.Count(text, []byte{','}) < mostValues && bytes.Count(text, []byte{'['})+bytes.Count(text, []byte{'{'}) < mostDeep {
		return nil
	}
	d := jsontext.NewDecoder(bytes.NewReader(text), jsontext.AllowDuplicateNames(true))
	for n := 0; ; n++ {
		if _, err := d.ReadToken(); errors.Is(err, io.EOF) {
			return nil
		} else if err != nil {
			return unreadable(err)
		}
		if n > mostValues {
			return log.Faults{log.At(shortened(d.StackPointer()), "logfile.with-has-more-than-values",
				"mostValues", mostValues)}
		}
		if d.StackDepth() > mostDeep {
			return log.Faults{log.At(shortened(d.StackPointer()), "logfile.objects-lists-nested-more-than",
				"mostDeep", mostDeep)}
		}
	}
}

func shortened(at jsontext.Pointer) string {
	const enough = 120
	if len(at) <= enough {
		return string(at)
	}
	return string(at[:enough]) + "…"
}
