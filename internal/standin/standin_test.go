package standin_test

import (
	"bufio"
	"context"
	"net"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/bench"
	"braxel/internal/core/gauge"
	"braxel/internal/core/log"
	"braxel/internal/core/trace"
	"braxel/internal/logfile"
	"braxel/internal/standin"
)

func engine() *bench.Engine {
	e := log.Engine{Name: "Siskin", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}}, FiringOrder: []int{1, 3, 4, 2}, BoreMM: 86, StrokeMM: 86, Ratio: 10}
	return bench.New(bench.Spec{Engine: e, RingsPct: 3, Alike: true})
}

// lead is the other end of a stand-in's gauge: what it sends, and whether it is a pull.
type lead struct {
	net.Conn
	reader gauge.Reader
	watch  *gauge.Watch
}

func connect(t *testing.T, o standin.Options) (*standin.Stand, *lead) {
	t.Helper()
	e := engine()
	s := standin.New(e, e.Begin(false), o)
	mine, theirs := net.Pipe()
	ctx, stop := context.WithCancel(t.Context())
	done := make(chan struct{})
	go func() { defer close(done); s.Run(ctx, theirs, nil) }()
	t.Cleanup(func() { stop(); _ = mine.Close(); <-done })
	return s, &lead{Conn: mine, watch: &gauge.Watch{Kind: gauge.Valve, Turns: 2}}
}

// until reads what comes until a phase is there.
func (l *lead) until(t *testing.T, want gauge.Phase) gauge.View {
	t.Helper()
	require.NoError(t, l.SetReadDeadline(time.Now().Add(20*time.Second)))
	buffer := make([]byte, 4096)
	for l.watch.View().Phase != want {
		n, err := l.Read(buffer)
		require.NoError(t, err, l.watch.View())
		samples, err := l.reader.Take(buffer[:n])
		require.NoError(t, err)
		for _, s := range samples {
			l.watch.Take(s)
		}
	}
	return l.watch.View()
}

func (l *lead) say(t *testing.T, line string) {
	t.Helper()
	_, err := l.Write([]byte(line + "\n"))
	require.NoError(t, err)
}

func TestItCranksWhenTheSheetSaysSo(t *testing.T) {
	s, l := connect(t, standin.Options{Gauge: bench.Shop})
	l.until(t, gauge.Open)
	l.say(t, "seat crank 2")
	v := l.until(t, gauge.Settled)
	assert.InDelta(t, 1290, v.Reading, 120)
	l.watch.Taken()
	l.say(t, "kept")
	l.until(t, gauge.Open)
	_, ran := s.State()
	assert.Greater(t, ran, 1.0)
	// What it does not know it lets be.
	for _, line := range []string{"", "seat", "seat crank", "seat crank 9", "dance 3", "seat crank two"} {
		s.Say(line)
	}
	l.until(t, gauge.Open)
}

// Cranked again within a moment of its reading being kept, the gauge is let off first, and the next pull is read.
func TestItIsCrankedAgainAtOnce(t *testing.T) {
	_, l := connect(t, standin.Options{Gauge: bench.Shop})
	l.until(t, gauge.Open)
	l.say(t, "seat crank 2")
	for n, next := range []string{"2", "2", "3"} {
		assert.Equal(t, n+1, l.until(t, gauge.Settled).Pull)
		l.watch.Taken()
		l.say(t, "kept")
		l.say(t, "seat crank "+next)
	}
	assert.Equal(t, 4, l.until(t, gauge.Settled).Pull)
}

func TestAloneItGoesFromCylinderToCylinder(t *testing.T) {
	_, l := connect(t, standin.Options{Gauge: bench.Shop, Alone: true})
	l.until(t, gauge.Open)
	for _, cylinder := range []string{"1", "1", "3"} {
		l.say(t, "seat wait "+cylinder)
		l.until(t, gauge.Settled)
		l.watch.Taken()
		l.say(t, "kept")
		l.until(t, gauge.Open)
	}
	l.say(t, "seat done 0")
}

func TestItSaysWhatItIsWhenItIsAsked(t *testing.T) {
	_, l := connect(t, standin.Options{Gauge: bench.Shop, Passcode: "12345678"})
	lines := bufio.NewScanner(l)
	heads := 0
	require.NoError(t, l.SetReadDeadline(time.Now().Add(20*time.Second)))
	for heads < 2 && lines.Scan() {
		if lines.Text() == gauge.First {
			heads++
			if heads == 1 {
				go func() { _, _ = l.Write([]byte("hello\n")) }()
			}
		}
		if strings.HasPrefix(lines.Text(), "# passcode") {
			assert.Equal(t, "# passcode: 12345678", lines.Text())
		}
	}
	assert.Equal(t, 2, heads)
}

// What a gauge sends, kept as a file, is a recording like any other.
func TestWhatItSendsIsReadAsAFile(t *testing.T) {
	s, l := connect(t, standin.Options{Gauge: bench.Shop})
	s.Say("seat crank 1 6")
	require.NoError(t, l.SetReadDeadline(time.Now().Add(20*time.Second)))
	var file []byte
	buffer := make([]byte, 4096)
	for len(file) < 12000 { // some five seconds
		n, err := l.Read(buffer)
		require.NoError(t, err)
		file = append(file, buffer[:n]...)
	}
	file = file[:strings.LastIndex(string(file), "\n")]
	known := trace.Known{Engine: log.FourStroke, Measured: trace.Pressure, Cylinders: 4, Cylinder: 1}
	r, err := logfile.ReadTrace(file, known)
	require.NoError(t, err)
	a := trace.Read(r, known)
	require.True(t, a.Readable, a.Why)
	assert.Equal(t, trace.Staircase, a.Form)
	assert.InDelta(t, 1290, *a.PeakKPa, 120)
	assert.InDelta(t, 240, a.RPM, 40)
}
