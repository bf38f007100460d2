// Package gauge hears an electronic gauge: the lines that it sends, and what they come to while they come: a pull that rises beat by
// beat, the reading when the next beat adds nothing, supply and held pressure as they settle.
package gauge

import (
	"bytes"
	"math"
	"strconv"
	"strings"
	"unicode/utf8"

	"braxel/internal/core/say"
)

// Kind is what a gauge is.
type Kind string

// A gauge with a check valve holds what it read; a bare one shows every pulse; a leak-down tester sends supply and held pressure.
const (
	Valve    Kind = "valve"
	Bare     Kind = "bare"
	LeakDown Kind = "leak-down"
)

// Head is what a gauge says of itself before its first figure.
type Head struct {
	Name     string
	Kind     Kind
	Passcode string
}

// Sample is one line: the gauge's own time in s, gauge pressure in kPa; of a leak-down tester what is held, and the supply.
type Sample struct {
	Seconds, KPa, Supply float64
}

// First is the line that a gauge begins with.
const First = "# braxel-gauge 1"

// What a gauge may send: lines of so many bytes, so many of them a second, pressures that a gauge has.
const (
	mostLine = 120
	mostHead = 20
	mostName = 60
	MostRate = 4000 // lines a second, by the clock here
	mostKPa  = 20000.0
	leastKPa = -110.0
	mostBad  = 25 // lines that are none, one after the other
	// mostUnheard are some seconds of a quick gauge.
	mostUnheard = 20000
	mostStuck   = 3 * MostRate // lines of one time: some seconds of the quickest gauge
	mostMillis  = 1e10
)

// What a gauge is cut off for. Each is a sentence for the screen.
var (
	ErrFirst   = say.Error("gauge.not-gauge-first-line-must", "first", First)
	ErrGarbage = say.Error("gauge.gauge-sends-something-isnt-reading")
	ErrLong    = say.Error("gauge.gauge-sends-line-without-end")
	ErrClock   = say.Error("gauge.gauges-clock-isnt-running-every")
	// ErrGreeting answers what calls over a network and doesn't begin as a gauge does there, such as a web page.
	ErrGreeting = say.Error("gauge.caller-not-gauge-over-network", "first", First)
)

// Reader makes samples of bytes as they come.
type Reader struct {
	// Nonce is the word that a gauge on a network repeats behind its first line. A page in a browser, which can make that browser call any
	// port of its machine, gets to see no answer and can't know it. On a serial line there is none.
	Nonce string

	head   Head
	begun  bool
	heads  int
	ready  bool // the columns were named
	rest   []byte
	last   float64
	any    bool
	stuck  int // lines in a row that had the same time
	inARow int
	Bad    int // lines that were left out
}

// Head returns what the gauge says of itself; ok is false until it has said all of it.
func (r *Reader) Head() (h Head, ok bool) { return r.head, r.ready }

// Take reads some bytes. An error ends the gauge.
func (r *Reader) Take(text []byte) ([]Sample, error) {
	r.rest = append(r.rest, text...)
	var out []Sample
	for {
		end := bytes.IndexByte(r.rest, '\n')
		if end < 0 {
			break
		}
		line := strings.TrimRight(string(r.rest[:end]), "\r")
		r.rest = r.rest[end+1:]
		s, ok, err := r.line(line)
		if err != nil {
			return out, err
		}
		if ok {
			out = append(out, s)
		}
	}
	if len(r.rest) > mostLine {
		if r.Nonce != "" && !r.begun {
			return out, ErrGreeting
		}
		return out, ErrLong
	}
	r.rest = bytes.Clone(r.rest)
	return out, nil
}

func (r *Reader) line(line string) (s Sample, ok bool, err error) {
	switch {
	case !r.begun && r.Nonce != "" && line != r.first():
		return s, false, ErrGreeting
	case !r.begun && r.Nonce == "":
		// Figures are what one hears first of a gauge that was speaking already: it says its head again when it is asked, or by itself.
		if strings.TrimSpace(line) != First {
			if r.heads++; r.heads > mostUnheard {
				return s, false, ErrFirst
			}
			return s, false, nil
		}
		r.begun, r.heads = true, 0
		return s, false, nil
	case line == r.first(): // it begins, or was started anew
		*r = Reader{Nonce: r.Nonce, begun: true, Bad: r.Bad, rest: r.rest}
		return s, false, nil
	case !r.ready:
		return s, false, r.heading(line)
	}
	s, ok = r.figures(line)
	if r.stuck > mostStuck {
		return s, false, ErrClock
	}
	if ok {
		r.inARow = 0
		return s, true, nil
	}
	r.Bad++
	if r.inARow++; r.inARow > mostBad {
		return s, false, ErrGarbage
	}
	return s, false, nil
}

// first returns the line that this gauge has to begin with.
func (r *Reader) first() string {
	if r.Nonce == "" {
		return First
	}
	return First + " " + r.Nonce
}

// heading reads a line of the head: "# name: value", or the one that names the columns and ends it.
func (r *Reader) heading(line string) error {
	if r.heads++; r.heads > mostHead || len(line) > mostLine {
		return ErrGarbage
	}
	if name, value, ok := strings.Cut(strings.TrimPrefix(line, "#"), ":"); ok && strings.HasPrefix(line, "#") {
		value = strings.TrimSpace(value)
		switch strings.ToLower(strings.TrimSpace(name)) {
		case "name":
			r.head.Name = printable(value)
		case "kind":
			r.head.Kind = Kind(value)
		case "passcode":
			r.head.Passcode = value
		}
		return nil
	}
	switch strings.ReplaceAll(strings.ToLower(line), " ", "") {
	case "t_ms,kpa":
		if r.head.Kind == "" {
			r.head.Kind = Valve
		}
		if r.head.Kind != Valve && r.head.Kind != Bare {
			return say.Error("gauge.kind-gauge-says-with-columns", "printable", printable(string(r.head.Kind)))
		}
	case "t_ms,supply_kpa,held_kpa":
		r.head.Kind = LeakDown
	default:
		if strings.HasPrefix(line, "#") || strings.TrimSpace(line) == "" {
			return nil
		}
		return say.Error("gauge.columns-gauge-says-must-t", "printable", printable(line))
	}
	if r.head.Name == "" {
		r.head.Name = "gauge"
	}
	r.ready = true
	return nil
}

// figures reads a line of figures. Times go forward.
func (r *Reader) figures(line string) (s Sample, ok bool) {
	if len(line) > mostLine {
		return s, false
	}
	fields := strings.Split(line, ",")
	want := 2
	if r.head.Kind == LeakDown {
		want = 3
	}
	if len(fields) != want {
		return s, false
	}
	var v [3]float64
	for i, f := range fields {
		x, err := strconv.ParseFloat(strings.TrimSpace(f), 64)
		if err != nil || math.IsNaN(x) || math.IsInf(x, 0) {
			return s, false
		}
		v[i] = x
	}
	if v[0] < 0 || v[0] > mostMillis || r.any && v[0] < r.last {
		return s, false
	}
	for _, p := range v[1:want] {
		if p < leastKPa || p > mostKPa {
			return s, false
		}
	}
	r.stuck++
	if v[0] > r.last {
		r.stuck = 0
	}
	r.last, r.any = v[0], true
	s = Sample{Seconds: v[0] / 1000, KPa: v[1]}
	if want == 3 {
		s.Supply, s.KPa = v[1], v[2]
	}
	return s, true
}

// printable leaves of a text what a screen can show, and not too much of it.
func printable(text string) string {
	if !utf8.ValidString(text) {
		return "?"
	}
	text = strings.Map(func(c rune) rune {
		if c < ' ' || c == 0x7f {
			return -1
		}
		return c
	}, text)
	if n := []rune(text); len(n) > mostName {
		text = string(n[:mostName])
	}
	return text
}
