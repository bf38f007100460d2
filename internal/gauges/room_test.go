package gauges_test

import (
	"context"
	"fmt"
	"io"
	"net"
	"strings"
	"testing"
	"time"

	"github.com/creack/pty"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/gauge"
	"braxel/internal/gauges"
)

const wait = 10 * time.Second

func head(name string, kind gauge.Kind) string {
	return fmt.Sprintf("%s\n# name: %s\n# kind: %s\nt_ms,kPa\n", gauge.First, name, kind)
}

// plug puts a gauge into a room, and returns the gauge's end of the lead and why it was left.
func plug(t *testing.T, r *gauges.Room, let func(string) error) (net.Conn, <-chan error) {
	t.Helper()
	mine, theirs := net.Pipe()
	ended := make(chan error, 1)
	go func() { ended <- r.Listen(theirs, "a lead", gauges.Lead{Let: let}) }()
	t.Cleanup(func() { _ = mine.Close() })
	return mine, ended
}

// say writes what a gauge sends, and reads what it is told meanwhile, so that nobody waits for the other.
func say(t *testing.T, conn net.Conn, text string) {
	t.Helper()
	go func() { _, _ = io.Copy(io.Discard, conn) }()
	_, err := io.WriteString(conn, text)
	require.NoError(t, err)
}

// pull is a staircase as lines: so many beats, half a second apart, each adding a third of what was left, up to some kPa; then it stands.
func pull(from int, kpa float64, beats int, standsMS int) string {
	var out strings.Builder
	level, ms := 0.0, from
	line := func(v float64) {
		_, _ = fmt.Fprintf(&out, "%d,%.1f\n", ms, v)
		ms += 4
	}
	for range 50 {
		line(0)
	}
	for range beats {
		before := level
		level += (kpa - level) * 0.75
		for i := range 125 {
			line(before + (level-before)*min(1, float64(i)/12))
		}
	}
	for range standsMS / 4 {
		line(level)
	}
	return out.String()
}

// greeting reads the word that Braxel sends a gauge on a network, and returns the line that repeats it.
func greeting(t *testing.T, conn net.Conn) string {
	t.Helper()
	var line []byte
	one := make([]byte, 1)
	for len(line) == 0 || line[len(line)-1] != '\n' {
		_, err := io.ReadFull(conn, one)
		require.NoError(t, err)
		line = append(line, one[0])
	}
	hello, word, _ := strings.Cut(strings.TrimSpace(string(line)), " ")
	require.Equal(t, "hello", hello)
	require.NotEmpty(t, word)
	return gauge.First + " " + word
}

func phase(r *gauges.Room) gauge.Phase {
	now, _, _ := r.Now(false, nil)
	return now.Phase
}

func TestAPullIsTakenOnceAndItsCurveIsWhole(t *testing.T) {
	r := gauges.New()
	conn, _ := plug(t, r, nil)
	say(t, conn, head("fender gauge", gauge.Valve)+pull(0, 1200, 7, 1500))
	require.Eventually(t, func() bool { return phase(r) == gauge.Settled }, wait, time.Millisecond)
	seen := &gauges.Seen{}
	now, seconds, kpa := r.Now(false, seen)
	assert.InDelta(t, 1200, now.Reading, 3)
	assert.InDelta(t, 240, now.RPM, 5, "four-stroke: two turns a beat")
	assert.Len(t, kpa, len(seconds))
	assert.InDelta(t, 1200, kpa[len(kpa)-1], 3)
	_, more, _ := r.Now(false, seen)
	assert.Empty(t, more, "each point is told once")
	_, err := r.Take(false, now.Pull+1)
	assert.ErrorIs(t, err, gauges.ErrNoPull, "another pull than the one that was seen")
	took, err := r.Take(false, now.Pull)
	require.NoError(t, err)
	assert.Equal(t, "fender gauge", took.Head.Name)
	assert.Greater(t, len(took.Samples), 1000)
	_, err = r.Take(false, 0)
	assert.ErrorIs(t, err, gauges.ErrNoPull, "nobody gets it twice")
	_, err = r.Take(true, 0)
	assert.ErrorIs(t, err, gauges.ErrNoGauge, "it is no leak-down tester")
}

func TestAGaugeThatIsUnpluggedInMidPullLeavesNothing(t *testing.T) {
	r := gauges.New()
	conn, ended := plug(t, r, nil)
	say(t, conn, head("fender gauge", gauge.Valve)+pull(0, 1200, 2, 0))
	require.Eventually(t, func() bool { return phase(r) == gauge.Rising }, wait, time.Millisecond)
	require.NoError(t, conn.Close())
	<-ended
	now, _, _ := r.Now(false, nil)
	assert.Empty(t, now.Gauges)
	assert.Equal(t, "fender gauge was unplugged in the middle of a reading, so nothing was kept. Plug it in and crank again, or type what the dial shows.", now.Fault)
	_, err := r.Take(false, 0)
	assert.ErrorIs(t, err, gauges.ErrNoGauge)
	// Plugged in anew while the needle still stands up there: that is no pull, and the fault is gone.
	again, _ := plug(t, r, nil)
	say(t, again, head("fender gauge", gauge.Valve)+"0,900\n4,900\n8,900\n")
	require.Eventually(t, func() bool { return phase(r) == gauge.Taken }, wait, time.Millisecond)
	now, _, _ = r.Now(false, nil)
	assert.Empty(t, now.Fault)
	_, err = r.Take(false, 0)
	assert.ErrorIs(t, err, gauges.ErrNoPull)
}

func TestWhatIsNoGaugeIsCutOffAndSaid(t *testing.T) {
	for name, c := range map[string]struct{ text, want string }{
		"garbage": {head("g", gauge.Valve) + strings.Repeat("\x00\xff;;\n", 60), "The gauge sends something that isn't a reading: check its lead and its speed, then plug it in again."},
		"a flood": {head("g", gauge.Valve) + strings.Repeat("1,5\n", gauge.MostRate+2000), "The gauge sends more than 4000 lines a second: set it to a few hundred."},
		"no end":  {head("g", gauge.Valve) + strings.Repeat("7", 9000), "The gauge sends a line without end: plug it in again."},
	} {
		t.Run(name, func(t *testing.T) {
			r := gauges.New()
			conn, ended := plug(t, r, nil)
			told := make(chan string, 1)
			go func() {
				all, _ := io.ReadAll(conn)
				told <- string(all)
			}()
			_, _ = io.WriteString(conn, c.text) // it is cut off in the middle of it
			require.Error(t, <-ended)
			now, _, _ := r.Now(false, nil)
			assert.Equal(t, c.want, now.Fault)
			assert.Empty(t, now.Gauges)
			assert.Contains(t, <-told, "# "+c.want, "whoever built it is told, too")
		})
	}
}

func TestTwoGaugesAtOnce(t *testing.T) {
	r := gauges.New()
	one, _ := plug(t, r, nil)
	say(t, one, head("first", gauge.Valve)+"0,1\n")
	require.Eventually(t, func() bool { return phase(r) == gauge.Open }, wait, time.Millisecond)
	two, _ := plug(t, r, nil)
	say(t, two, head("second", gauge.Valve)+pull(0, 1000, 3, 0))
	kit, _ := plug(t, r, nil)
	say(t, kit, gauge.First+"\nt_ms,supply_kPa,held_kPa\n0,0,0\n")
	all := func() gauges.Now { now, _, _ := r.Now(false, nil); return now }
	require.Eventually(t, func() bool { return len(all().Gauges) == 3 }, wait, time.Millisecond)
	assert.Equal(t, gauge.Open, all().Phase, "the first is heard; the other's pull is nobody's")
	assert.Equal(t, []bool{true, false, true}, []bool{all().Gauges[0].Followed, all().Gauges[1].Followed, all().Gauges[2].Followed}, "a leak-down tester is of another sort")
	require.True(t, r.Follow(all().Gauges[1].ID))
	assert.Equal(t, "second", all().Gauges[0].Name)
	assert.Equal(t, gauge.Rising, all().Phase)
	assert.False(t, r.Follow(99))
}

func TestThePasscodeIsAskedFor(t *testing.T) {
	r := gauges.New()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	ctx, stop := context.WithCancel(t.Context())
	done := make(chan error, 1)
	go func() {
		done <- r.TCP(ctx, l, func(_, passcode string) error {
			if passcode != "1234 5678" {
				return fmt.Errorf("that is not the passcode")
			}
			return nil
		})
	}()
	for passcode, in := range map[string]bool{"": false, "8765": false, "1234 5678": true} {
		conn, err := net.Dial("tcp", l.Addr().String())
		require.NoError(t, err)
		t.Cleanup(func() { _ = conn.Close() })
		_, err = io.WriteString(conn, greeting(t, conn)+"\n# passcode: "+passcode+"\nt_ms,kPa\n0,1\n")
		require.NoError(t, err)
		if in {
			require.Eventually(t, func() bool { return phase(r) == gauge.Open }, wait, time.Millisecond)
			continue
		}
		require.NoError(t, conn.SetReadDeadline(time.Now().Add(wait)))
		text, _ := io.ReadAll(conn) // a reset in place of an end tells no less
		assert.Contains(t, string(text), "That is not the passcode")
	}
	stop()
	assert.NoError(t, <-done)
	require.Eventually(t, func() bool { return phase(r) == "" }, wait, time.Millisecond, "stopped, it hears nobody")
}

// A serial gauge is heard whenever it is there; what the sheet wants is told to it.
func TestASerialGaugeMayBePluggedInLater(t *testing.T) {
	mine, theirs, err := pty.Open()
	require.NoError(t, err)
	r := gauges.New()
	changed := make(chan struct{}, 100)
	r.OnChange(func() { changed <- struct{}{} })
	ctx, stop := context.WithCancel(t.Context())
	ended := make(chan struct{})
	go func() { defer close(ended); r.Serial(ctx, theirs.Name(), gauges.Speed) }()
	r.Tell("seat wait 3", 2)
	told := make(chan string, 1)
	go func() {
		text := ""
		buffer := make([]byte, 200)
		for !strings.Contains(text, "seat wait 3") {
			n, err := mine.Read(buffer)
			if err != nil {
				break
			}
			text += string(buffer[:n])
			if strings.Contains(text, "hello") {
				_, _ = io.WriteString(mine, head("serial gauge", gauge.Bare)+"0,3\n5,3\n")
			}
		}
		told <- text
	}()
	select {
	case <-changed:
	case <-time.After(wait):
		t.Fatal("it was not heard")
	}
	now, _, _ := r.Now(false, nil)
	require.Len(t, now.Gauges, 1)
	assert.Equal(t, gauges.Gauge{ID: 1, Name: "serial gauge", Kind: "bare", From: theirs.Name(), Followed: true}, now.Gauges[0])
	assert.Contains(t, <-told, "seat wait 3", "what was wanted before it came")
	require.NoError(t, mine.Close())
	require.NoError(t, theirs.Close())
	require.Eventually(t, func() bool { now, _, _ := r.Now(false, nil); return len(now.Gauges) == 0 }, wait, time.Millisecond)
	stop()
	<-ended
}

// What a web page can make a browser send to a port of its machine is cut off at its first line, whatever stands behind it.
func TestNothingButAGaugeIsHeardOverANetwork(t *testing.T) {
	figures := "\n# name: page\nt_ms,kPa\n" + pull(0, 1200, 7, 1500)
	for name, text := range map[string]string{
		"a form":                    "POST / HTTP/1.1\r\nHost: localhost:8315\r\nContent-Type: text/plain\r\nContent-Length: 9000\r\n\r\n" + gauge.First + figures,
		"the old greeting":          gauge.First + figures,
		"a word that was not given": gauge.First + " AAAABBBBCCCCDDDDEEEEFFFFGG" + figures,
		"a socket":                  "GET / HTTP/1.1\r\nUpgrade: websocket\r\n\r\n",
		"no end":                    strings.Repeat("x", 5000),
		"its first bytes cut":       "\n" + gauge.First + figures,
	} {
		t.Run(name, func(t *testing.T) {
			r := gauges.New()
			mine, theirs := net.Pipe()
			ended := make(chan error, 1)
			go func() { ended <- r.Listen(theirs, "127.0.0.1", gauges.Lead{Network: true}) }()
			go func() { _, _ = io.Copy(io.Discard, mine) }()
			n, _ := io.WriteString(mine, text)
			assert.LessOrEqual(t, n, 4096, "it is cut off at once")
			require.ErrorIs(t, <-ended, gauge.ErrGreeting)
			now, _, _ := r.Now(false, nil)
			assert.Empty(t, now.Gauges)
			assert.Empty(t, now.Phase)
		})
	}
}

// On this machine a gauge may leave the passcode out: somebody lets it in on the screen, once.
func TestAGaugeOfThisMachineIsLetInOnTheScreenOnce(t *testing.T) {
	r := gauges.New()
	let := func(string) error { return gauges.ErrAsk }
	begin := func() (net.Conn, <-chan error) {
		mine, theirs := net.Pipe()
		ended := make(chan error, 1)
		go func() { ended <- r.Listen(theirs, "127.0.0.1", gauges.Lead{Network: true, Let: let}) }()
		first := greeting(t, mine)
		go func() { _, _ = io.Copy(io.Discard, mine) }()
		go func() { _, _ = io.WriteString(mine, first+"\n# name: shed gauge\nt_ms,kPa\n0,1\n4,1\n") }()
		return mine, ended
	}
	asks := func() gauges.Now { now, _, _ := r.Now(false, nil); return now }
	_, ended := begin()
	require.Eventually(t, func() bool { return len(asks().Asking) == 1 }, wait, time.Millisecond)
	assert.Empty(t, asks().Gauges, "nothing of it counts before")
	assert.Equal(t, "shed gauge", asks().Asking[0].Name)
	require.True(t, r.Answer(asks().Asking[0].ID, false))
	require.Error(t, <-ended)
	assert.Contains(t, asks().Fault, "not let in")
	conn, _ := begin()
	require.Eventually(t, func() bool { return len(asks().Asking) == 1 }, wait, time.Millisecond)
	require.True(t, r.Answer(asks().Asking[0].ID, true))
	require.Eventually(t, func() bool { return phase(r) == gauge.Open }, wait, time.Millisecond)
	require.NoError(t, conn.Close())
	require.Eventually(t, func() bool { return len(asks().Gauges) == 0 }, wait, time.Millisecond)
	_, _ = begin()
	require.Eventually(t, func() bool { return phase(r) == gauge.Open }, wait, time.Millisecond, "plugged in again, it is known")
	assert.False(t, r.Answer(99, true))
}
